using Nippers.App;
using Nippers.App.Feeds;
using Nippers.App.Oil;
using Nippers.Data.Feeds;

namespace Nippers.Web.Hosting;

/// <summary>Asks feeds. A slow one is given up, and one that sends too much is not read to the end.</summary>
public sealed class FeedClient(HttpClient http, ISecrets secrets) : IFeedLine
{
    public Task<LabReply> Ask(FeedRow feed, string url, CancellationToken ct) =>
        OutsideLine.Ask(
            http,
            secrets,
            () =>
            {
                var request = new HttpRequestMessage(HttpMethod.Get, url);
                request.Headers.Accept.ParseAdd("application/json");
                return request;
            },
            feed.Token,
            feed.OwnNetwork,
            ct
        );
}

/// <summary>Asks feeds as they fall due.</summary>
public sealed class FeedWorker(IServiceScopeFactory scopes, WebSettings settings, TimeProvider clock, ILogger<FeedWorker> log)
    : BackgroundService
{
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(settings.FeedRound, clock);
        do
        {
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                if (await scope.ServiceProvider.GetRequiredService<FeedRound>().Run(false, stoppingToken) is > 0 and var heard)
                    log.LogInformation("Feeds told of {Count} machines", heard);
            }
            catch (Exception fault) when (fault is not OperationCanceledException)
            {
                // Whatever it was, the next round asks again.
                log.LogWarning(fault, "A round to the feeds failed");
            }
        } while (await timer.WaitForNextTickAsync(stoppingToken));
    }
}
