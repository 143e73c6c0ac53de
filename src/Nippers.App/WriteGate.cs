using System.Collections.Concurrent;
using System.Diagnostics;
using Nippers.Data;

namespace Nippers.App;

/// <summary>
/// Lets one change at a time through, in the order in which they came. SQLite allows one writer; left to itself it has the
/// others sleep and try again, and whoever is unlucky sleeps longest.
/// </summary>
/// <param name="patience">Longest wait for one's turn; <see cref="Patience"/> when left out.</param>
public sealed class WriteGate(TimeSpan? patience = null) : IDisposable
{
    private readonly SemaphoreSlim _one = new(1, 1);

    /// <summary>Longest wait for one's turn; then somebody else has it for so long that a person should be told.</summary>
    public static readonly TimeSpan Patience = TimeSpan.FromSeconds(15);

    // How far somebody is who waits for the thread.
    private const int Waits = 0;
    private const int Began = 1;
    private const int GaveUp = 2;

    private readonly WriterThread _writer = new();
    private int _pending;

    /// <summary>Who is told when somebody writes or waits for his turn, and when nobody does any more.</summary>
    public Action<bool>? Writing { get; set; }

    /// <summary>
    /// Does something on the thread of those who write. On a busy server each hand-over of the turn would else wait until one of the
    /// few threads that draw pages is done with its page.
    /// </summary>
    /// <param name="change">What is done; it waits for its turn by itself, and is told since when that is waited for.</param>
    /// <param name="ct">Cancels.</param>
    /// <exception cref="DatabaseBusyException">It could not begin in time.</exception>
    public async Task<T> OnWriter<T>(Func<long, Task<T>> change, CancellationToken ct)
    {
        var asked = Stopwatch.GetTimestamp();
        if (TaskScheduler.Current == _writer)
            return await change(asked);

        using var counted = Count();

        // Whoever waits behind others gives up in time, and what they asked for is then left out when its place comes.
        var state = Waits;
        var gaveUp = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);
        using var late = CancellationTokenSource.CreateLinkedTokenSource(ct);
        late.CancelAfter(patience ?? Patience);
        await using var registered = late.Token.Register(() =>
        {
            if (Interlocked.CompareExchange(ref state, GaveUp, Waits) == Waits)
                gaveUp.SetResult();
        });
        var work = Task.Factory.StartNew(Begin, CancellationToken.None, TaskCreationOptions.DenyChildAttach, _writer).Unwrap();
        await Task.WhenAny(work, gaveUp.Task);
        if (Volatile.Read(ref state) != GaveUp)
            return await work;
        ct.ThrowIfCancellationRequested();
        WriteMeter.Missed.Add(1);
        throw new DatabaseBusyException();

        async Task<T> Begin() => Interlocked.CompareExchange(ref state, Began, Waits) == Waits ? await change(asked) : default!;
    }

    private Counted Count()
    {
        if (Interlocked.Increment(ref _pending) == 1)
            Tell();
        return new(this);
    }

    // Two may tell at once: what is told last is how it then is.
    private void Tell()
    {
        if (Writing is { } told)
        {
            lock (_writer)
                told(Volatile.Read(ref _pending) > 0);
        }
    }

    private readonly struct Counted(WriteGate gate) : IDisposable
    {
        public void Dispose()
        {
            if (Interlocked.Decrement(ref gate._pending) == 0)
                gate.Tell();
        }
    }

    /// <summary>Waits for one's turn.</summary>
    /// <param name="ct">Cancels.</param>
    /// <param name="asked">Since when that is waited for, as <see cref="Stopwatch"/> counts; null: from now.</param>
    /// <exception cref="DatabaseBusyException">It did not come in time.</exception>
    public async Task<IDisposable> Enter(CancellationToken ct, long? asked = null)
    {
        if (await TryEnter(patience ?? Patience, ct, asked) is { } turn)
            return turn;
        WriteMeter.Missed.Add(1);
        throw new DatabaseBusyException();
    }

    /// <summary>Waits for one's turn, but no longer than this; null when it did not come.</summary>
    public async Task<IDisposable?> TryEnter(TimeSpan patience, CancellationToken ct, long? asked = null)
    {
        var since = asked ?? Stopwatch.GetTimestamp();
        if (!await _one.WaitAsync(patience, ct))
            return null;
        WriteMeter.Waited.Record(Stopwatch.GetElapsedTime(since).TotalSeconds);
        return new Turn(_one);
    }

    public void Dispose()
    {
        _writer.Dispose();
        _one.Dispose();
    }

    private sealed class Turn(SemaphoreSlim one) : IDisposable
    {
        private readonly long _began = Stopwatch.GetTimestamp();

        public void Dispose()
        {
            WriteMeter.Lasted.Record(Stopwatch.GetElapsedTime(_began).TotalSeconds);
            one.Release();
        }
    }
}

/// <summary>One thread for all who write, begun with the first of them.</summary>
internal sealed class WriterThread : TaskScheduler, IDisposable
{
    private readonly BlockingCollection<Task> _tasks = [];
    private readonly Lazy<Thread> _thread;

    public WriterThread() =>
        _thread = new(() =>
        {
            var thread = new Thread(Work) { IsBackground = true, Name = "Nippers writer" };
            thread.Start();
            return thread;
        });

    public override int MaximumConcurrencyLevel => 1;

    public void Dispose() => _tasks.CompleteAdding();

    protected override void QueueTask(Task task)
    {
        _ = _thread.Value;
        _tasks.Add(task);
    }

    protected override bool TryExecuteTaskInline(Task task, bool taskWasPreviouslyQueued) =>
        Thread.CurrentThread == _thread.Value && TryExecuteTask(task);

    protected override IEnumerable<Task> GetScheduledTasks() => _tasks;

    private void Work()
    {
        foreach (var task in _tasks.GetConsumingEnumerable())
            TryExecuteTask(task);
    }
}
