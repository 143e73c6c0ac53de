using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App.Defects;
using Nippers.Data;

namespace Nippers.App.Statuses;

/// <summary>
/// Brings standing rows up to date for those who read. What it writes is derived in its own turn and its own transaction, from
/// facts read there: a row that a reader derived beside a writer would overwrite what the writer has just kept.
/// </summary>
public sealed class Standings(IServiceScopeFactory scopes, NippersDb db, DefectClocks clocks, WriteGate gate)
{
    /// <summary>Machines of one turn: others who write wait no longer than for these.</summary>
    private const int Batch = 50;

    /// <summary>How long a reader waits for its turn; then it shows what is there, and the next one tries again.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(3);

    /// <summary>Derives all rows that are missing or old; cheap when there are none.</summary>
    /// <param name="now">Now.</param>
    /// <param name="ct">Cancels.</param>
    /// <param name="ahead">
    /// Rows that will be old so much later are derived too: whoever keeps rows for others does it before one of their pages has to.
    /// </param>
    /// <returns>How many were.</returns>
    public async Task<int> RefreshStale(DateTimeOffset now, CancellationToken ct, TimeSpan ahead = default)
    {
        var stale = await StatusKeeper.Stale(db, now, ahead).ToListAsync(ct);
        return await Refresh([.. stale.Union(await clocks.Passed(now, ct))], now, ct, ahead);
    }

    /// <summary>Raises defects whose limit has passed, so that no page shows a clock that has run out; cheap when there are none.</summary>
    /// <param name="now">Now.</param>
    /// <param name="ct">Cancels.</param>
    /// <param name="among">Machines that the page shows; null for all.</param>
    public async Task RaisePassed(DateTimeOffset now, CancellationToken ct, IQueryable<int>? among = null) =>
        await Refresh(await clocks.Passed(now, ct, among), now, ct);

    /// <summary>Derives every machine's row anew.</summary>
    public async Task<int> Rebuild(DateTimeOffset now, CancellationToken ct)
    {
        var ids = await db.Machines.Select(x => x.Id).ToListAsync(ct);
        foreach (var batch in ids.Chunk(Batch))
            await InTurn(Timeout.InfiniteTimeSpan, keeper => keeper.Refresh(batch, now, ct), ct);
        return ids.Count;
    }

    private async Task<int> Refresh(IReadOnlyCollection<int> machines, DateTimeOffset now, CancellationToken ct, TimeSpan ahead = default)
    {
        var done = 0;
        foreach (var batch in machines.Chunk(Batch))
        {
            try
            {
                if (!await InTurn(Patience, async keeper => done += await keeper.RefreshAged(batch, now, ct, ahead), ct))
                    break;
            }
            catch (Exception fault) when (StorageFaults.Of(fault) is StorageFault.Busy or StorageFault.ReadOnly or StorageFault.Full)
            {
                // Reading goes on where nothing can be written; the page shows what is kept.
                break;
            }
        }

        return done;
    }

    private async Task<bool> InTurn(TimeSpan patience, Func<StatusKeeper, Task> work, CancellationToken ct)
    {
        using var turn = await gate.TryEnter(patience, ct);
        if (turn is null)
            return false;
        await using var scope = scopes.CreateAsyncScope();
        var own = scope.ServiceProvider.GetRequiredService<NippersDb>();
        await using var transaction = await own.Database.BeginTransactionAsync(ct);
        await work(scope.ServiceProvider.GetRequiredService<StatusKeeper>());
        await transaction.CommitAsync(ct);
        return true;
    }
}
