namespace Nippers.Web.Hosting;

/// <summary>
/// Lets as many pages be worked out at once as there are places, in the order in which they were asked for. Where more are begun than
/// there are cores, all of them take longer, and the one thread of those who write gets its core last of all.
/// </summary>
/// <param name="places">How many pages at once.</param>
/// <param name="clock">The clock.</param>
public sealed class PageGate(int places, TimeProvider clock) : IDisposable
{
    /// <summary>For how long a page keeps its place; what takes longer is a large file, or on its way to a slow phone.</summary>
    public static readonly TimeSpan Longest = TimeSpan.FromMilliseconds(250);

    private readonly SemaphoreSlim _places = new(places, places);

    /// <summary>Works out a page when a place is free.</summary>
    /// <param name="page">The page.</param>
    /// <param name="ct">Whoever asked for it has gone.</param>
    public async Task Run(Func<Task> page, CancellationToken ct)
    {
        await _places.WaitAsync(ct);
        var left = 0;
        await using var late = clock.CreateTimer(_ => Leave(), null, Longest, Timeout.InfiniteTimeSpan);
        try
        {
            await page();
        }
        finally
        {
            Leave();
        }

        void Leave()
        {
            if (Interlocked.Exchange(ref left, 1) == 0)
                _places.Release();
        }
    }

    /// <inheritdoc/>
    public void Dispose() => _places.Dispose();
}
