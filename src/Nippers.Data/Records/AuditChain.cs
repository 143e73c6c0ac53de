using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace Nippers.Data.Records;

/// <summary>
/// Chains the audit: each row holds a print of itself and of the row before it, so that one which is taken out or changed shows.
/// Whoever may write the file can chain it all anew; it holds against a slip and against a hand that meant one row.
/// </summary>
public static class AuditChain
{
    /// <summary>The print of a row.</summary>
    /// <param name="before">Print of the row before it; empty for the first.</param>
    /// <param name="row">The row, with its number.</param>
    /// <returns>SHA-256 in small hex digits.</returns>
    public static string Link(string before, AuditRow row)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        Add(before);
        Number(row.Id);
        Number(row.At.ToUnixTimeMilliseconds());
        Add(row.Who);
        Add(row.What);
        Number(row.MachineId ?? -1);
        Add(row.Subject);
        Add(row.Before);
        Add(row.After);
        return Convert.ToHexStringLower(hash.GetHashAndReset());

        // Each with its length, so that no text can pass for two.
        void Add(string? text)
        {
            var bytes = Encoding.UTF8.GetBytes(text ?? "");
            Number(text is null ? -1 : bytes.Length);
            hash.AppendData(bytes);
        }

        void Number(long value)
        {
            Span<byte> bytes = stackalloc byte[sizeof(long)];
            System.Buffers.Binary.BinaryPrimitives.WriteInt64LittleEndian(bytes, value);
            hash.AppendData(bytes);
        }
    }

    /// <summary>Walks the whole chain.</summary>
    public static async Task<AuditCheck> Check(this NippersDb db, CancellationToken ct)
    {
        // The newest ones leave no row behind them that would miss them; SQLite remembers the highest number it gave. Asked first: what
        // is written meanwhile is no gap.
        var given = await db
            .Database.SqlQuery<long>($"SELECT COALESCE(MAX(seq), 0) AS Value FROM sqlite_sequence WHERE name = 'Audit'")
            .SingleAsync(ct);
        var (rows, last, print) = (0L, 0L, "");
        await foreach (var row in db.Audit.AsNoTracking().OrderBy(x => x.Id).AsAsyncEnumerable().WithCancellation(ct))
        {
            if (row.Id != last + 1 || row.Chain != Link(print, row))
                return new(rows, last + 1);
            (rows, last, print) = (rows + 1, row.Id, row.Chain);
        }

        return new(rows, given > last ? last + 1 : null);
    }

    /// <summary>Chains what is about to be saved.</summary>
    internal sealed class Chaining : SaveChangesInterceptor
    {
        public static readonly Chaining Instance = new();

        public override async ValueTask<InterceptionResult<int>> SavingChangesAsync(
            DbContextEventData eventData,
            InterceptionResult<int> result,
            CancellationToken cancellationToken = default
        )
        {
            if (eventData.Context is not NippersDb db)
                return result;
            var added = db.ChangeTracker.Entries<AuditRow>().Where(x => x.State == EntityState.Added).ToList();
            if (added.Count == 0)
                return result;
            var head = await db
                .Audit.AsNoTracking()
                .OrderByDescending(x => x.Id)
                .Select(x => new { x.Id, x.Chain })
                .FirstOrDefaultAsync(cancellationToken);
            var (last, print) = (head?.Id ?? 0, head?.Chain ?? "");
            foreach (var entry in added)
            {
                // Numbered here: who writes has the only turn, and another who does not is refused by the key.
                entry.Property(x => x.Id).CurrentValue = ++last;
                entry.Property(x => x.Id).IsTemporary = false;
                print = entry.Entity.Chain = Link(print, entry.Entity);
            }

            return result;
        }
    }
}

/// <summary>How the audit stands.</summary>
/// <param name="Rows">Rows that are whole, from the first on.</param>
/// <param name="BrokenAt">Number of the first row that is changed, missing or out of its place; null when all are whole.</param>
public sealed record AuditCheck(long Rows, long? BrokenAt);
