using System.Net;
using Nippers.App;
using Nippers.App.Oil;
using Nippers.Data.Oil;
using Nippers.Web.Hosting;

namespace Nippers.Web.Tests;

/// <summary>What a laboratory's interface may do to us, and what we make of it.</summary>
public sealed class LabClientTests
{
    private static readonly LabRow Lab = new()
    {
        Name = "Sannet",
        Url = "http://lab.invalid",
        Token = "secret",
    };

    // As it is kept where the key is at hand.
    private static readonly ISecrets Plain = new ShownSecrets();

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private sealed class Far(Func<HttpRequestMessage, Task<HttpResponseMessage>> answer) : HttpMessageHandler
    {
        protected override Task<HttpResponseMessage> SendAsync(HttpRequestMessage request, CancellationToken cancellationToken) =>
            answer(request);
    }

    private static async Task<(string? Text, string? Fault)> Ask(
        Func<HttpRequestMessage, Task<HttpResponseMessage>> answer,
        LabRow? lab = null
    )
    {
        using var http = new HttpClient(new Far(answer)) { MaxResponseContentBufferSize = 64 };
        var reply = await new LabClient(http, Plain).Ask(lab ?? Lab, 41, Ct);
        return (reply.Text, reply.Fault);
    }

    [Theory]
    [InlineData(HttpStatusCode.OK, "{}", null)]
    [InlineData(HttpStatusCode.Unauthorized, null, "labNoEntry")]
    [InlineData(HttpStatusCode.Forbidden, null, "labNoEntry")]
    [InlineData(HttpStatusCode.ServiceUnavailable, null, "labDown")]
    [InlineData(HttpStatusCode.NotFound, null, "labDown")]
    [InlineData(HttpStatusCode.Found, null, "labDown")]
    public async Task A_status_is_an_answer_or_a_fault(HttpStatusCode status, string? text, string? fault) =>
        Assert.Equal((text, fault), await Ask(_ => Task.FromResult(new HttpResponseMessage(status) { Content = new StringContent("{}") })));

    [Fact]
    public async Task One_that_is_slow_gone_or_endless_is_a_fault_and_never_thrown()
    {
        Assert.Equal((null, "labSlow"), await Ask(_ => throw new TaskCanceledException("timed out")));
        Assert.Equal((null, "labDown"), await Ask(_ => throw new HttpRequestException("no such host")));
        Assert.Equal(
            (null, "labDown"),
            await Ask(_ => Task.FromResult(new HttpResponseMessage(HttpStatusCode.OK) { Content = new StringContent(new string('x', 65)) }))
        );
        Assert.Equal(
            (null, "labDown"),
            await Ask(_ => throw new InvalidOperationException("no address"), new() { Name = "None", Url = "nowhere" })
        );
    }

    [Fact]
    public async Task A_person_who_stops_the_application_is_not_a_slow_laboratory()
    {
        using var stop = new CancellationTokenSource();
        using var http = new HttpClient(
            new Far(_ =>
            {
                stop.Cancel();
                throw new OperationCanceledException(stop.Token);
            })
        );
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => new LabClient(http, Plain).Ask(Lab, 0, stop.Token));
    }

    [Fact]
    public async Task A_list_goes_with_the_token_and_a_question_with_its_place()
    {
        var seen = new List<string>();
        async Task<HttpResponseMessage> Note(HttpRequestMessage request)
        {
            seen.Add(
                $"{request.Method} {request.RequestUri} {request.Headers.Authorization} {(request.Content is null ? "" : await request.Content.ReadAsStringAsync(Ct))}".TrimEnd()
            );
            return new(HttpStatusCode.OK) { Content = new StringContent("{}") };
        }

        using var http = new HttpClient(new Far(Note));
        await new LabClient(http, Plain).Send(Lab, """{"reference":"NIP-1"}""", Ct);
        await new LabClient(http, Plain).Ask(new() { Name = "Open", Url = "http://open.invalid" }, 7, Ct);
        Assert.Equal(
            [
                """POST http://lab.invalid/lab/v1/orders Bearer secret {"reference":"NIP-1"}""",
                "GET http://open.invalid/lab/v1/results?after=7",
            ],
            seen
        );
    }

    [Fact]
    public async Task Without_its_token_nobody_is_asked()
    {
        var asked = false;
        var reply = await Ask(
            _ =>
            {
                asked = true;
                return Task.FromResult(new HttpResponseMessage(HttpStatusCode.OK));
            },
            new()
            {
                Name = "Sannet",
                Url = "http://lab.invalid",
                Token = "lost",
            }
        );
        Assert.Equal((null, "labToken"), reply);
        Assert.False(asked);
    }

    [Theory]
    [InlineData("127.0.0.1")]
    [InlineData("localhost")]
    [InlineData("[::1]")]
    public async Task An_address_inside_a_network_is_spoken_to_by_leave_alone(string host)
    {
        using var listener = new System.Net.Sockets.TcpListener(IPAddress.IPv6Any, 0);
        listener.Server.DualMode = true;
        listener.Start();
        var url = $"http://{host}:{((IPEndPoint)listener.LocalEndpoint).Port}";
        using var http = new HttpClient(OutsideLine.Line());
        var reply = await new LabClient(http, Plain).Ask(new() { Name = "Near", Url = url }, 0, Ct);
        Assert.Equal((null, "labInside"), (reply.Text, reply.Fault));
        Assert.False(listener.Pending());

        var answering = Answer(listener);
        reply = await new LabClient(http, Plain).Ask(
            new()
            {
                Name = "Near",
                Url = url,
                OwnNetwork = true,
            },
            0,
            Ct
        );
        await answering;
        Assert.Equal(("{}", null), (reply.Text, reply.Fault));
    }

    private static async Task Answer(System.Net.Sockets.TcpListener listener)
    {
        using var client = await listener.AcceptTcpClientAsync(Ct);
        await using var stream = client.GetStream();
        var buffer = new byte[4096];
        Assert.True(await stream.ReadAsync(buffer, Ct) > 0);
        await stream.WriteAsync("HTTP/1.1 200 OK\r\nContent-Length: 2\r\nConnection: close\r\n\r\n{}"u8.ToArray(), Ct);
    }

    [Theory]
    [InlineData("10.1.2.3", true)]
    [InlineData("172.16.0.1", true)]
    [InlineData("172.32.0.1", false)]
    [InlineData("192.168.4.4", true)]
    [InlineData("169.254.169.254", true)]
    [InlineData("100.64.0.1", true)]
    [InlineData("0.0.0.0", true)]
    [InlineData("255.255.255.255", true)]
    [InlineData("198.51.100.7", false)]
    [InlineData("::", true)]
    [InlineData("::ffff:10.0.0.1", true)]
    [InlineData("::7f00:1", true)]
    [InlineData("fe80::1", true)]
    [InlineData("fd12::1", true)]
    [InlineData("64:ff9b::a00:1", true)]
    [InlineData("2002:a00:1::", true)]
    [InlineData("2001:db8::7", false)]
    public void Where_things_listen_that_trust_whoever_reaches_them(string address, bool inside) =>
        Assert.Equal(inside, LabAddress.IsInside(IPAddress.Parse(address)));
}

/// <summary>Secrets as they are kept where the key is at hand; "lost" is one of another key.</summary>
internal sealed class ShownSecrets : ISecrets
{
    public string Hide(string text) => text;

    public string? Show(string hidden) => hidden == "lost" ? null : hidden;
}
