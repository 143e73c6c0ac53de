using System.Text;
using Nippers.App;
using Nippers.App.Oil;
using Nippers.Data.Oil;

namespace Nippers.Web.Hosting;

/// <summary>Talks to a laboratory's interface. A slow one is given up, and one that sends too much is not read to the end.</summary>
public sealed class LabClient(HttpClient http, ISecrets secrets) : ILabClient
{
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

    private Task<LabReply> Ask(LabRow lab, Func<HttpRequestMessage> make, CancellationToken ct) =>
        OutsideLine.Ask(http, secrets, make, lab.Token, lab.OwnNetwork, ct);
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
