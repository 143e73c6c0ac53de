using System.Net.WebSockets;
using System.Text;
using System.Text.Json.Nodes;
using OpenQA.Selenium.Chrome;

namespace Nippers.Browser.Tests;

/// <summary>
/// A raw connection to the whole browser, for what Selenium's own reaches on the page alone: a cut network must be cut for service
/// workers too.
/// </summary>
public sealed class Cdp : IAsyncDisposable
{
    private readonly ClientWebSocket _socket = new();
    private readonly List<string> _offline = [];
    private int _id;

    public static async Task<Cdp> Connect(ChromeDriver driver, CancellationToken ct)
    {
        var chrome = (IDictionary<string, object>)driver.Capabilities.GetCapability("goog:chromeOptions")!;
        using var http = new HttpClient();
        var version = JsonNode.Parse(await http.GetStringAsync(new Uri($"http://{chrome["debuggerAddress"]}/json/version"), ct))!;
        var cdp = new Cdp();
        await cdp._socket.ConnectAsync(new Uri((string)version["webSocketDebuggerUrl"]!), ct);
        return cdp;
    }

    /// <summary>Cuts the network of every page and service worker, until <see cref="Online"/> or this connection's end.</summary>
    public async Task Offline(CancellationToken ct)
    {
        var targets = (await Send("Target.getTargets", null, null, ct))["targetInfos"]!.AsArray();
        foreach (var target in targets.Where(x => (string)x!["type"]! is "page" or "service_worker"))
        {
            var asked = new JsonObject { ["targetId"] = (string)target!["targetId"]!, ["flatten"] = true };
            var session = (string)(await Send("Target.attachToTarget", asked, null, ct))["sessionId"]!;
            await Send("Network.enable", null, session, ct);
            var cut = new JsonObject
            {
                ["offline"] = true,
                ["latency"] = 0,
                ["downloadThroughput"] = -1,
                ["uploadThroughput"] = -1,
            };
            await Send("Network.emulateNetworkConditions", cut, session, ct);
            _offline.Add(session);
        }
    }

    /// <summary>The network is back.</summary>
    public async Task Online(CancellationToken ct)
    {
        foreach (var session in _offline)
            await Send("Target.detachFromTarget", new() { ["sessionId"] = session }, null, ct);
        _offline.Clear();
    }

    private async Task<JsonNode> Send(string method, JsonObject? args, string? session, CancellationToken ct)
    {
        var id = ++_id;
        var message = new JsonObject
        {
            ["id"] = id,
            ["method"] = method,
            ["params"] = args ?? [],
        };
        if (session is not null)
            message["sessionId"] = session;
        await _socket.SendAsync(Encoding.UTF8.GetBytes(message.ToJsonString()), WebSocketMessageType.Text, true, ct);
        var buffer = new byte[1 << 16];
        while (true)
        {
            using var text = new MemoryStream();
            WebSocketReceiveResult part;
            do
            {
                part = await _socket.ReceiveAsync(buffer, ct);
                text.Write(buffer, 0, part.Count);
            } while (!part.EndOfMessage);

            var reply = JsonNode.Parse(text.ToArray())!;
            if (reply["id"]?.GetValue<int>() != id)
                continue;
            return reply["error"] is { } error
                ? throw new InvalidOperationException($"{method}: {error.ToJsonString()}")
                : reply["result"]!;
        }
    }

    public async ValueTask DisposeAsync()
    {
        try
        {
            await _socket.CloseAsync(WebSocketCloseStatus.NormalClosure, null, CancellationToken.None);
        }
        catch (WebSocketException)
        {
            // The browser went first.
        }

        _socket.Dispose();
    }
}
