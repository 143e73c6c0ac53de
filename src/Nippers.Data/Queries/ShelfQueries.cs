using Microsoft.EntityFrameworkCore;
using Nippers.Data.Parts;

namespace Nippers.Data.Queries;

/// <summary>How shelves are read, and held against the moves that they are the sums of.</summary>
public static class ShelfQueries
{
    /// <summary>What stands of some parts at each site where any was moved.</summary>
    /// <param name="db">The database.</param>
    /// <param name="parts">Numbers of their rows, each once or more often.</param>
    /// <param name="ct">Cancels.</param>
    public static async Task<List<ShelfRow>> ShelvesOf(this NippersDb db, IEnumerable<int> parts, CancellationToken ct)
    {
        return await Shelves(db, [.. parts.Distinct()]).ToListAsync(ct);
    }

    private static readonly Func<NippersDb, List<int>, IAsyncEnumerable<ShelfRow>> Shelves = EF.CompileAsyncQuery(
        (NippersDb db, List<int> ids) => db.Shelves.AsNoTracking().Where(x => ids.Contains(x.PartId))
    );

    /// <summary>How many shelves do not hold what their moves come to: none, unless a hand was at the file.</summary>
    public static Task<int> ShelvesAstray(this NippersDb db, CancellationToken ct) =>
        db
            .Database.SqlQuery<int>(
                $"""
                SELECT COUNT(*) AS "Value" FROM (
                    SELECT 1 FROM (
                        SELECT "PartId", "SiteId", "Quantity" AS "Pieces" FROM "StockMoves"
                        UNION ALL
                        SELECT "PartId", "SiteId", -"Count" FROM "Shelves"
                    ) GROUP BY "PartId", "SiteId" HAVING SUM("Pieces") <> 0
                )
                """
            )
            .SingleAsync(ct);

    /// <summary>Sums all shelves anew from their moves, in one transaction.</summary>
    public static async Task SumShelves(this NippersDb db, CancellationToken ct)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(ct);
        await db.Shelves.ExecuteDeleteAsync(ct);
        await db.Database.ExecuteSqlRawAsync(ShelfTriggers.Summed, ct);
        await transaction.CommitAsync(ct);
    }
}
