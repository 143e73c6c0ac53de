using System.Net;
using System.Net.Http.Headers;
using System.Net.Sockets;
using System.Text;
using Nippers.App;
using Nippers.App.Oil;
using Nippers.Data.Oil;

namespace Nippers.Web.Hosting;

/// <summary>Talks to a laboratory's interface. A slow one is given up, and one that sends too much is not read to the end.</summary>
public sealed class LabClient(HttpClient http, ISecrets secrets) : ILabClient
{
    /// <summary>Longest wait for an answer.</summary>
    public static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);

    /// <summary>Largest answer that is read, bytes.</summary>
    public const int LargestAnswer = 16 << 20;

    public Task<LabReply> Send(LabRow lab, string order, CancellationToken ct) =>
        Ask(
            lab,
            () =>
                new HttpRequestMessage(HttpMethod.Post, lab.Url + "/lab/v1/orders")
                {
                    Content = new StringContent(order, Encoding.UTF8, "application/json"),
                },
            ct
        );

    public Task<LabReply> Ask(LabRow lab, long cursor, CancellationToken ct) =>
        Ask(
            lab,
            () =>
                new HttpRequestMessage(
                    HttpMethod.Get,
                    $"{lab.Url}/lab/v1/results?after={cursor.ToString(System.Globalization.CultureInfo.InvariantCulture)}"
                ),
            ct
        );

    /// <summary>
    /// The way out: no redirect, for a token goes to the address that a planner typed and nowhere else, and no address inside a
    /// network unless the laboratory stands in one's own. Looked at when it connects, so that a name can't lead elsewhere by then.
    /// </summary>
    public static SocketsHttpHandler Line() =>
        new()
        {
            AllowAutoRedirect = false,
            UseCookies = false,
            UseProxy = false,

            // Each laboratory asks for its own leave: no connection is taken over from another.
            PooledConnectionLifetime = TimeSpan.Zero,
            ConnectCallback = async (context, ct) =>
            {
                var mayBeInside = context.InitialRequestMessage.Options.TryGetValue(OwnNetwork, out var own) && own;
                var found = await Dns.GetHostAddressesAsync(context.DnsEndPoint.Host, ct);
                var fit = found.Where(x => mayBeInside || !LabAddress.IsInside(x)).ToArray();
                if (fit.Length == 0)
                    throw new InsideException();
                var socket = new Socket(SocketType.Stream, ProtocolType.Tcp) { NoDelay = true };
                try
                {
                    await socket.ConnectAsync(fit, context.DnsEndPoint.Port, ct);
                    return new NetworkStream(socket, ownsSocket: true);
                }
                catch
                {
                    socket.Dispose();
                    throw;
                }
            },
        };

    private static readonly HttpRequestOptionsKey<bool> OwnNetwork = new("nippers-own-network");

    private sealed class InsideException : IOException;

    private async Task<LabReply> Ask(LabRow lab, Func<HttpRequestMessage> make, CancellationToken ct)
    {
        try
        {
            using var request = make();
            request.Options.Set(OwnNetwork, lab.OwnNetwork);
            if (lab.Token.Length > 0)
            {
                // Brought here from an installation with other keys: nobody is asked without it.
                if (secrets.Show(lab.Token) is not { } token)
                    return new(null, "labToken");
                request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", token);
            }

            using var response = await http.SendAsync(request, ct);
            if (!response.IsSuccessStatusCode)
                return new(
                    null,
                    response.StatusCode is System.Net.HttpStatusCode.Unauthorized or System.Net.HttpStatusCode.Forbidden
                        ? "labNoEntry"
                        : "labDown"
                );
            return new(await response.Content.ReadAsStringAsync(ct), null);
        }
        catch (OperationCanceledException) when (!ct.IsCancellationRequested)
        {
            return new(null, "labSlow");
        }
        catch (HttpRequestException fault) when (fault.InnerException is InsideException || fault.GetBaseException() is InsideException)
        {
            return new(null, "labInside");
        }
        catch (Exception fault) when (fault is HttpRequestException or UriFormatException or InvalidOperationException)
        {
            return new(null, "labDown");
        }
    }
}

/// <summary>Sends the courier round, and derives the fleet's own limits now and then.</summary>
public sealed class LabWorker(IServiceScopeFactory scopes, WebSettings settings, TimeProvider clock, ILogger<LabWorker> log)
    : BackgroundService
{
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(settings.LabRound, clock);
        do
        {
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                await scope.ServiceProvider.GetRequiredService<FleetLimits>().RefreshStale(stoppingToken);
                var count = await scope.ServiceProvider.GetRequiredService<LabOutbox>().Round(atOnce: false, stoppingToken);
                if (count > 0)
                    log.LogInformation("{Count} results came in", count);
            }
            catch (Exception fault) when (fault is not OperationCanceledException)
            {
                // Whatever it was, what is under way lies in the database; the next round tries again.
                log.LogWarning(fault, "A round to the laboratories failed");
            }
        } while (await timer.WaitForNextTickAsync(stoppingToken));
    }
}
