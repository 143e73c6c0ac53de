using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Oil;

namespace Nippers.App.Backups;

/// <summary>How the database does.</summary>
/// <param name="Writable">A write could be begun.</param>
/// <param name="WaitingConsignments">Orders to laboratories that could not be handed over yet.</param>
/// <param name="Backups">How backups stand.</param>
public sealed record DatabaseHealth(bool Writable, int WaitingConsignments, BackupState Backups);

/// <summary>Looks how the database does, for a program that watches the installation.</summary>
public sealed class HealthView(NippersDb db, WriteGate gate, Backups backups)
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(2);

    /// <summary>Looks. It writes nothing.</summary>
    public async Task<DatabaseHealth> Look(CancellationToken ct) =>
        new(await IsWritable(ct), await db.Consignments.CountAsync(x => x.State == ConsignmentState.Waiting, ct), await backups.State(ct));

    private async Task<bool> IsWritable(CancellationToken ct)
    {
        using var turn = await gate.TryEnter(Patience, ct);
        if (turn is null)
            return false;
        try
        {
            await using var transaction = await db.Database.BeginTransactionAsync(ct);
            await transaction.RollbackAsync(ct);
            return true;
        }
        catch (Exception fault) when (StorageFaults.Of(fault) is not null)
        {
            return false;
        }
    }
}
