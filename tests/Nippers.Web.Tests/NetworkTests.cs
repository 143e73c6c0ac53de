using System.Net;
using System.Net.Http.Headers;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using Microsoft.Extensions.Time.Testing;
using Nippers.Tests;
using Nippers.Web.Commands;
using Nippers.Web.Hosting;

namespace Nippers.Web.Tests;

/// <summary>How it is reached: over https, through proxies, with bodies that are too large.</summary>
public sealed class NetworkTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("nippers-network-").FullName;

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    public void Dispose()
    {
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(_folder, recursive: true);
    }

    private async Task<Microsoft.AspNetCore.Builder.WebApplication> Start(Func<WebSettings, WebSettings> with)
    {
        var settings = with(new(Path.Combine(_folder, "fleet.db"), 0, new FakeTimeProvider(DemoApp.Now), Quiet: true) { LocalOnly = true });
        var app = NippersHost.Create(settings);
        await Startup.Prepare(app.Services, settings, Ct);
        await app.StartAsync(Ct);
        return app;
    }

    private static X509Certificate2 Certificate()
    {
        using var key = RSA.Create(2048);
        var request = new CertificateRequest("CN=fleet.example", key, HashAlgorithmName.SHA256, RSASignaturePadding.Pkcs1);
        using var made = request.CreateSelfSigned(DateTimeOffset.UnixEpoch, new DateTimeOffset(2099, 1, 1, 0, 0, 0, TimeSpan.Zero));
        return X509CertificateLoader.LoadPkcs12(made.Export(X509ContentType.Pkcs12), password: null);
    }

    private static async Task<HttpResponseMessage> Ask(Uri address, string path, params (string Name, string Value)[] headers)
    {
        using var handler = new SocketsHttpHandler { AllowAutoRedirect = false };
        handler.SslOptions.RemoteCertificateValidationCallback = (_, certificate, _, _) => certificate?.Subject == "CN=fleet.example";
        using var client = new HttpClient(handler);
        using var request = new HttpRequestMessage(HttpMethod.Get, new Uri(address, path));
        foreach (var (name, value) in headers)
            request.Headers.TryAddWithoutValidation(name, value);
        return await client.SendAsync(request, Ct);
    }

    private static bool IsSecure(HttpResponseMessage answer)
    {
        var cookies = answer.Headers.GetValues("Set-Cookie").ToList();
        Assert.NotEmpty(cookies);
        return cookies.TrueForAll(x => x.Contains("; secure", StringComparison.Ordinal));
    }

    [Fact]
    public async Task With_a_certificate_it_speaks_https_and_tells_browsers_to_keep_to_it()
    {
        using var certificate = Certificate();
        await using var app = await Start(x => x with { Certificate = certificate });
        var address = new Uri(app.Urls.First());
        Assert.Equal("https", address.Scheme);
        var answer = await Ask(address, "/setup", ("Host", "fleet.example"));
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        Assert.Equal("max-age=31536000", answer.Headers.GetValues("Strict-Transport-Security").Single());
        Assert.True(IsSecure(answer));
    }

    [Theory]
    [InlineData("127.0.0.1", true)]
    [InlineData("203.0.113.9", false)]
    [InlineData(null, false)]
    public async Task What_a_proxy_says_is_believed_of_those_that_were_named(string? proxy, bool believed)
    {
        await using var app = await Start(x => x with { Proxies = proxy is null ? [] : [IPAddress.Parse(proxy)] });
        var answer = await Ask(
            new(app.Urls.First()),
            "/setup",
            ("Host", "fleet.example"),
            ("X-Forwarded-Proto", "https"),
            ("X-Forwarded-For", "198.51.100.7")
        );
        Assert.Equal(believed, answer.Headers.Contains("Strict-Transport-Security"));
        Assert.Equal(believed, IsSecure(answer));
    }

    [Fact]
    public async Task Whoever_says_to_come_from_elsewhere_is_counted_all_the_same()
    {
        await using var app = await Start(x => x with { SignInsPerMinute = 3 });
        using var client = new HttpClient(new HttpClientHandler { AllowAutoRedirect = false }) { BaseAddress = new(app.Urls.First()) };
        var last = HttpStatusCode.OK;
        for (var i = 0; i < 4; i++)
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, "/sign-in") { Content = new FormUrlEncodedContent([]) };
            request.Headers.Add("X-Forwarded-For", $"198.51.100.{i}");
            last = (await client.SendAsync(request, Ct)).StatusCode;
        }

        Assert.Equal(HttpStatusCode.TooManyRequests, last);
    }

    [Theory]
    [InlineData("/sign-in", 3)]
    [InlineData("/machines/EX-01/hours", 3)]
    [InlineData("/api/v1/machines/EX-01/readings", 3)]
    [InlineData("/exchange/readings", 40)]
    [InlineData("/phone/entries", 140)]
    public async Task A_body_that_is_larger_than_its_address_takes_is_refused_before_it_comes(string path, int megabytes)
    {
        await using var app = await Start(x => x);
        using var client = new System.Net.Sockets.TcpClient();
        var address = new Uri(app.Urls.First());
        await client.ConnectAsync(address.Host, address.Port, Ct);
        await using var stream = client.GetStream();
        await stream.WriteAsync(
            System.Text.Encoding.ASCII.GetBytes(
                $"POST {path} HTTP/1.1\r\nHost: {address.Authority}\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: {(long)megabytes << 20}\r\n\r\n"
            ),
            Ct
        );

        // Not a byte of it was sent.
        var buffer = new byte[64];
        var read = await stream.ReadAsync(buffer, Ct);
        Assert.StartsWith("HTTP/1.1 413", System.Text.Encoding.ASCII.GetString(buffer, 0, read), StringComparison.Ordinal);
    }

    [Fact]
    public async Task One_that_does_not_say_how_large_it_is_is_refused_when_it_is()
    {
        await using var app = await Start(x => x);
        using var client = new HttpClient { BaseAddress = new(app.Urls.First()) };
        using var request = new HttpRequestMessage(HttpMethod.Post, "/setup") { Content = new Endless() };
        request.Content.Headers.ContentType = new MediaTypeHeaderValue("application/x-www-form-urlencoded");
        request.Headers.TransferEncodingChunked = true;
        HttpStatusCode? status = null;
        try
        {
            status = (await client.SendAsync(request, Ct)).StatusCode;
        }
        catch (HttpRequestException)
        {
            // It was hung up on while it still sent.
        }

        Assert.True(status is null or HttpStatusCode.RequestEntityTooLarge or HttpStatusCode.BadRequest, $"{status}");
    }

    /// <summary>A form of four megabytes that comes without its length.</summary>
    private sealed class Endless : HttpContent
    {
        protected override async Task SerializeToStreamAsync(Stream stream, TransportContext? context)
        {
            await stream.WriteAsync("fullName="u8.ToArray(), Ct);
            var block = new byte[64 * 1024];
            Array.Fill(block, (byte)'a');
            for (var i = 0; i < 64; i++)
                await stream.WriteAsync(block, Ct);
        }

        protected override bool TryComputeLength(out long length)
        {
            length = 0;
            return false;
        }
    }
}
