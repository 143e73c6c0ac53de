using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Records;

namespace Nippers.App.Readings;

/// <summary>Reads readings for programs.</summary>
public sealed class ReadingFeed(NippersDb db)
{
    /// <summary>How many it gives at once.</summary>
    public const int Most = 500;

    /// <summary>Readings of a machine, newest first; null for an unknown unit.</summary>
    /// <param name="unit">The machine.</param>
    /// <param name="before">Only those before this instant; null for the newest.</param>
    /// <param name="ct">Gives up.</param>
    public async Task<IReadOnlyList<ReadingRow>?> Run(string unit, DateTimeOffset? before, CancellationToken ct)
    {
        var id = await db.Machines.Where(x => x.Unit == unit).Select(x => (int?)x.Id).SingleOrDefaultAsync(ct);
        if (id is null)
            return null;
        return await db
            .Readings.AsNoTracking()
            .Where(x => x.MachineId == id && (before == null || x.At < before))
            .OrderByDescending(x => x.At)
            .ThenByDescending(x => x.LifeHours)
            .Take(Most)
            .ToListAsync(ct);
    }

    /// <summary>How a reading that was kept stands.</summary>
    public Task<ReadingState> StateOf(long id, CancellationToken ct) =>
        db.Readings.Where(x => x.Id == id).Select(x => x.State).SingleAsync(ct);
}
