using Nippers.App.Backups;
using Nippers.Data;

namespace Nippers.Web.Hosting;

/// <summary>What became of the last round of backups, for the settings page.</summary>
public sealed class BackupNews
{
    /// <summary>The last round failed: the word for why; null when it did not.</summary>
    public string? Fault { get; set; }
}

/// <summary>Makes backups as they fall due. A demo makes none: its story is told anew each time.</summary>
public sealed class BackupKeeper(
    IServiceScopeFactory scopes,
    WebSettings settings,
    BackupNews news,
    TimeProvider clock,
    ILogger<BackupKeeper> log
) : BackgroundService
{
    private static readonly TimeSpan Every = TimeSpan.FromMinutes(1);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (settings.Offered.Count > 0)
            return;
        using var timer = new PeriodicTimer(Every, clock);
        do
        {
            var night = await Try(x => x.Night(stoppingToken));
            var second = await Try(x => x.Second(stoppingToken));
            news.Fault = night ?? second;
        } while (await timer.WaitForNextTickAsync(stoppingToken));
    }

    /// <summary>Tries one of them, so that a second place that is away does not hinder the first.</summary>
    /// <returns>Why it failed; null when it did not.</returns>
    private async Task<string?> Try(Func<Backups, Task<string?>> make)
    {
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            if (await make(scope.ServiceProvider.GetRequiredService<Backups>()) is { } made)
                log.LogInformation("Backup written: {File}", made);
            return null;
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            log.LogWarning(fault, "A backup could not be made");
            return StorageFaults.Of(fault) switch
            {
                StorageFault.Full => "Full",
                _ when fault is InvalidDataException => "Damaged",
                _ => "Folder",
            };
        }
    }
}
