using Nippers.App.Mail;
using Nippers.Web.Hosting;

namespace Nippers.Web.Mail;

/// <summary>Looks what people have to be told, and sends it.</summary>
public sealed class MailWorker(IServiceScopeFactory scopes, WebSettings settings, TimeProvider clock, ILogger<MailWorker> log)
    : BackgroundService
{
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(settings.MailRound, clock);
        do
        {
            await Try<MailRound>(x => x.Run(stoppingToken));

            // What lies there goes, though nothing could be added to it.
            await Try<MailPost>(x => x.Run(false, stoppingToken));
        } while (await timer.WaitForNextTickAsync(stoppingToken));
    }

    private async Task Try<T>(Func<T, Task<int>> run)
        where T : notnull
    {
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            if (await run(scope.ServiceProvider.GetRequiredService<T>()) is > 0 and var count)
                log.LogInformation("{Count} messages by {Step}", count, typeof(T).Name);
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            // Whatever it was, what people have to be told lies in the database; the next round looks again.
            log.LogWarning(fault, "A round of messages failed");
        }
    }
}
