namespace Nippers.Web.Hosting;

/// <summary>
/// Lets as many pages be worked out at once as there are places, in the order in which they were asked for. Where more are begun than
/// there are cores, all of them take longer, and the one thread of those who write gets its core last of all: while somebody writes,
/// one place is theirs.
/// </summary>
/// <param name="places">How many pages at once.</param>
/// <param name="clock">The clock.</param>
public sealed class PageGate(int places, TimeProvider clock)
{
    /// <summary>For how long a page keeps its place; what takes longer is a large file, or on its way to a slow phone.</summary>
    public static readonly TimeSpan Longest = TimeSpan.FromMilliseconds(250);

    private readonly Lock _lock = new();
    private readonly Queue<TaskCompletionSource> _waiting = new();
    private int _begun;
    private bool _held;

    /// <summary>Works out a page when a place is free.</summary>
    /// <param name="page">The page.</param>
    /// <param name="ct">Whoever asked for it has gone.</param>
    public async Task Run(Func<Task> page, CancellationToken ct)
    {
        await Enter(ct);
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
                Change(() => _begun--);
        }
    }

    /// <summary>Holds a place for those who write, or gives it back. One page at least is worked out all the same.</summary>
    public void Hold(bool held) => Change(() => _held = held);

    private async Task Enter(CancellationToken ct)
    {
        TaskCompletionSource turn;
        lock (_lock)
        {
            if (_waiting.Count == 0 && IsFree)
            {
                _begun++;
                return;
            }

            turn = new(TaskCreationOptions.RunContinuationsAsynchronously);
            _waiting.Enqueue(turn);
        }

        await using var gone = ct.Register(() => turn.TrySetCanceled(ct));
        await turn.Task;
    }

    private bool IsFree => _begun < Math.Max(1, _held ? places - 1 : places);

    // Whoever has gone meanwhile is passed over.
    private void Change(Action change)
    {
        lock (_lock)
        {
            change();
            while (IsFree && _waiting.TryDequeue(out var next))
            {
                if (next.TrySetResult())
                    _begun++;
            }
        }
    }
}
