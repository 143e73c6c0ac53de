using Nippers.App;
using Nippers.Web.Api;

namespace Nippers.Web.Hosting;

/// <summary>
/// Goes once through what people open first, as soon as it serves: code is compiled when it first runs, and the first person of
/// the morning should not be the one who waits for that.
/// </summary>
public sealed class FirstPages(IServiceScopeFactory scopes, WebSettings settings, ILogger<FirstPages> log) : BackgroundService
{
    private readonly TaskCompletionSource _done = new(TaskCreationOptions.RunContinuationsAsynchronously);

    /// <summary>Ends when all of it was gone through.</summary>
    public Task Done => _done.Task;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (settings.WarmUp)
        {
            await Task.Yield();
            await Look(stoppingToken);
        }

        _done.SetResult();
    }

    private async Task Look(CancellationToken stoppingToken)
    {
        foreach (var look in FirstLooks.All.Append((x, _) => x.GetRequiredService<ApiDescription>().Text))
        {
            try
            {
                await using var scope = scopes.CreateAsyncScope();
                await look(scope.ServiceProvider, stoppingToken);
            }
            catch (Exception fault) when (fault is not OperationCanceledException)
            {
                // Nobody waits for it; whoever opens that page is told what is wrong.
                log.LogWarning(fault, "A first look failed");
            }
        }
    }
}
