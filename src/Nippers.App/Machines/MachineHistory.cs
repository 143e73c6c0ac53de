using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Records;

namespace Nippers.App.Machines;

/// <summary>A page of a machine's history, newest first.</summary>
public sealed record HistoryPage(
    IReadOnlyList<ReadingRow> Readings,
    long? NextBefore,
    IReadOnlyList<AuditRow> Audit,
    IReadOnlyList<MeterChange> Changes,
    TimeZoneInfo Zone
);

/// <summary>Reads a machine's history page by page.</summary>
public sealed class MachineHistory(NippersDb db)
{
    private const int PageSize = 100;

    public async Task<HistoryPage?> Run(string unit, long? before, CancellationToken ct)
    {
        var machine = await db.Machines.Where(x => x.Unit == unit).Select(x => new { x.Id, x.Site.TimeZone }).SingleOrDefaultAsync(ct);
        if (machine is null)
            return null;
        var readings = await db
            .Readings.AsNoTracking()
            .Where(x => x.MachineId == machine.Id && (before == null || x.AtMs < before))
            .OrderByDescending(x => x.AtMs)
            .ThenByDescending(x => x.LifeTenths)
            .Take(PageSize)
            .ToListAsync(ct);
        var audit = await db
            .Audit.AsNoTracking()
            .Where(x => x.MachineId == machine.Id && (before == null || x.AtMs < before))
            .OrderByDescending(x => x.AtMs)
            .ThenByDescending(x => x.Id)
            .Take(PageSize)
            .ToListAsync(ct);
        var changes = await db
            .MeterChanges.AsNoTracking()
            .Where(x => x.MachineId == machine.Id)
            .OrderByDescending(x => x.AtMs)
            .ToListAsync(ct);
        return new(
            readings,
            readings.Count == PageSize ? readings[^1].AtMs : null,
            audit,
            changes,
            TimeZoneInfo.FindSystemTimeZoneById(machine.TimeZone)
        );
    }
}
