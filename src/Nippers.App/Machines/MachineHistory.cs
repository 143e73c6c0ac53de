using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Records;

namespace Nippers.App.Machines;

/// <summary>A page of a machine's history, newest first.</summary>
public sealed record HistoryPage(
    IReadOnlyList<ReadingRow> Readings,
    DateTimeOffset? NextBefore,
    IReadOnlyList<AuditRow> Audit,
    IReadOnlyList<MeterChange> Changes,
    TimeZoneInfo Zone
);

/// <summary>Reads a machine's history page by page.</summary>
public sealed class MachineHistory(NippersDb db)
{
    private const int PageSize = 100;

    public async Task<HistoryPage?> Run(string unit, DateTimeOffset? before, CancellationToken ct)
    {
        var machine = await db.Machines.Where(x => x.Unit == unit).Select(x => new { x.Id, x.Site.TimeZone }).SingleOrDefaultAsync(ct);
        if (machine is null)
            return null;
        var readings = await db
            .Readings.AsNoTracking()
            .Where(x => x.MachineId == machine.Id && (before == null || x.At < before))
            .OrderByDescending(x => x.At)
            .ThenByDescending(x => x.LifeHours)
            .Take(PageSize)
            .ToListAsync(ct);
        var audit = await db
            .Audit.AsNoTracking()
            .Where(x => x.MachineId == machine.Id && (before == null || x.At < before))
            .OrderByDescending(x => x.At)
            .ThenByDescending(x => x.Id)
            .Take(PageSize)
            .ToListAsync(ct);
        var changes = await db
            .MeterChanges.AsNoTracking()
            .WithVoided()
            .Where(x => x.MachineId == machine.Id)
            .OrderByDescending(x => x.At)
            .ToListAsync(ct);
        return new(
            readings,
            readings.Count == PageSize ? readings[^1].At : null,
            audit,
            changes,
            TimeZoneInfo.FindSystemTimeZoneById(machine.TimeZone)
        );
    }
}
