using System.Net;
using System.Net.Http.Headers;
using System.Net.Sockets;
using Nippers.App;
using Nippers.App.Oil;

namespace Nippers.Web.Hosting;

/// <summary>The way to what stands outside: laboratories and feeds.</summary>
public static class OutsideLine
{
    /// <summary>Longest wait for an answer.</summary>
    public static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);

    /// <summary>Largest answer that is read, bytes.</summary>
    public const int LargestAnswer = 16 << 20;

    /// <summary>
    /// The way out: no redirect, for a token goes to the address that a planner typed and nowhere else, and no address inside a
    /// network unless it stands in one's own. Looked at when it connects, so that a name can't lead elsewhere by then.
    /// </summary>
    public static SocketsHttpHandler Line() =>
        new()
        {
            AllowAutoRedirect = false,
            UseCookies = false,
            UseProxy = false,

            // Each asks for its own leave: no connection is taken over from another.
            PooledConnectionLifetime = TimeSpan.Zero,
            ConnectCallback = async (context, ct) =>
            {
                var mayBeInside = context.InitialRequestMessage.Options.TryGetValue(OwnNetwork, out var own) && own;
                var socket = await Connect(context.DnsEndPoint.Host, context.DnsEndPoint.Port, mayBeInside, ct);
                return new NetworkStream(socket, ownsSocket: true);
            },
        };

    private static readonly HttpRequestOptionsKey<bool> OwnNetwork = new("nippers-own-network");

    /// <summary>All that a name leads to lies inside a network, and it was not said that it may.</summary>
    public sealed class InsideException : IOException;

    /// <summary>Connects, to no address inside a network unless it may be.</summary>
    /// <exception cref="InsideException">There is no other.</exception>
    public static async Task<Socket> Connect(string host, int port, bool ownNetwork, CancellationToken ct)
    {
        var found = await Dns.GetHostAddressesAsync(host, ct);
        var fit = found.Where(x => ownNetwork || !LabAddress.IsInside(x)).ToArray();
        if (fit.Length == 0)
            throw new InsideException();
        var socket = new Socket(SocketType.Stream, ProtocolType.Tcp) { NoDelay = true };
        try
        {
            await socket.ConnectAsync(fit, port, ct);
            return socket;
        }
        catch
        {
            socket.Dispose();
            throw;
        }
    }

    /// <summary>Asks, and says what went wrong by the code of a refusal.</summary>
    /// <param name="http">With this line.</param>
    /// <param name="secrets">Opens the token.</param>
    /// <param name="make">Makes the question.</param>
    /// <param name="hidden">The token, encrypted; empty for none.</param>
    /// <param name="ownNetwork">What is asked stands in the installation's own network.</param>
    /// <param name="ct">Cancels.</param>
    public static async Task<LabReply> Ask(
        HttpClient http,
        ISecrets secrets,
        Func<HttpRequestMessage> make,
        string hidden,
        bool ownNetwork,
        CancellationToken ct
    )
    {
        try
        {
            using var request = make();
            request.Options.Set(OwnNetwork, ownNetwork);
            if (hidden.Length > 0)
            {
                // Brought here from an installation with other keys: nobody is asked without it.
                if (secrets.Show(hidden) is not { } token)
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
