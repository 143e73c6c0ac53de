using Nippers.App.Parts;
using Nippers.App.Statuses;

namespace Nippers.Web.Hosting;

/// <summary>Derives standing rows, and what the next visits take, anew as they age, so that nobody's page waits for it.</summary>
public sealed class StatusRefresher(IServiceScopeFactory scopes, WebSettings settings, TimeProvider clock, ILogger<StatusRefresher> log)
    : BackgroundService
{
    /// <summary>How often it looks.</summary>
    public static readonly TimeSpan Every = TimeSpan.FromMinutes(10);

    // A round that comes late, or waits behind those who write, is made up for by the next before a row is old.
    private static readonly TimeSpan Ahead = 2 * Every;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Every, clock);
        do
        {
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                var standings = scope.ServiceProvider.GetRequiredService<Standings>();
                var count = await standings.RefreshStale(clock.GetUtcNow(), stoppingToken, Ahead);
                if (count > 0)
                    log.LogInformation("Status of {Count} machines derived anew", count);
                if (settings.WarmUp)
                    await scope.ServiceProvider.GetRequiredService<PartNeeds>().Renew(stoppingToken);
            }
            catch (Exception fault) when (fault is not OperationCanceledException)
            {
                // A busy database now is a fresh try in ten minutes; Today derives what it shows by itself.
                log.LogWarning(fault, "Status rows could not be derived");
            }
        } while (await timer.WaitForNextTickAsync(stoppingToken));
    }
}
