using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Formats.Csv;
using Nippers.Formats.Fleet;

namespace Nippers.App.Exchange;

/// <summary>How far a long job is.</summary>
/// <param name="Stage">Section being worked on.</param>
/// <param name="Done">Records done.</param>
public readonly record struct JobProgress(string Stage, long Done);

/// <summary>Writes the whole fleet, machine by machine, in an order that does not depend on the database's ids.</summary>
public sealed class ExportFleet(NippersDb db)
{
    private const int ReportEvery = 50_000;

    /// <summary>Writes a fleet file; memory does not grow with the fleet.</summary>
    public async Task Run(Stream to, IProgress<JobProgress>? progress, CancellationToken ct)
    {
        await using var snapshot = await db.Database.BeginTransactionAsync(ct);
        await using var writer = new FleetWriter(to);
        var sites = await db.Sites.AsNoTracking().OrderBy(x => x.Name).ToListAsync(ct);
        foreach (var site in sites) await writer.Write(FleetMapping.ToRecord(site));

        var programs = await db.Programs.AsNoTracking().AsSplitQuery().Include(x => x.Items).Include(x => x.Compartments).OrderBy(x => x.Code).ToListAsync(ct);
        foreach (var program in programs) await writer.Write(FleetMapping.ToRecord(program));

        var siteNames = sites.ToDictionary(x => x.Id, x => x.Name);
        var programCodes = programs.ToDictionary(x => x.Id, x => x.Code);
        var parked = (await db.Parked.AsNoTracking().ToListAsync(ct)).ToLookup(x => x.MachineId);
        var changes = (await db.MeterChanges.AsNoTracking().ToListAsync(ct)).ToLookup(x => x.MachineId);
        var machines = await db.Machines.AsNoTracking().Include(x => x.Compartments).OrderBy(x => x.Unit).ToListAsync(ct);
        foreach (var machine in machines)
        {
            await writer.Write(FleetMapping.ToRecord(machine, siteNames[machine.SiteId], programCodes[machine.ProgramId], parked[machine.Id], changes[machine.Id]));
        }

        long done = 0;
        foreach (var machine in machines)
        {
            var rows = db.Readings.AsNoTracking().Where(x => x.MachineId == machine.Id).OrderBy(x => x.AtMs).ThenBy(x => x.LifeTenths).ThenBy(x => x.Id).AsAsyncEnumerable();
            await foreach (var row in rows.WithCancellation(ct))
            {
                await writer.Write(FleetMapping.ToRecord(row, machine.Unit));
                if (++done % ReportEvery == 0) progress?.Report(new("readings", done));
            }
        }

        done = 0;
        foreach (var machine in machines)
        {
            var rows = db.Completions.AsNoTracking().Where(x => x.MachineId == machine.Id).OrderBy(x => x.EnteredMs).ThenBy(x => x.Id).AsAsyncEnumerable();
            await foreach (var row in rows.WithCancellation(ct))
            {
                await writer.Write(FleetMapping.ToRecord(row, machine.Unit));
                if (++done % ReportEvery == 0) progress?.Report(new("completions", done));
            }
        }
    }

    /// <summary>Writes accepted readings as CSV: of one machine, or of all.</summary>
    public Task Readings(TextWriter to, string? unit, CancellationToken ct)
    {
        var rows = db.Readings.AsNoTracking().Where(x => x.State == Data.Records.ReadingState.Accepted)
            .Join(db.Machines.Where(m => unit == null || m.Unit == unit), r => r.MachineId, m => m.Id, (r, m) => new { m.Unit, r.AtMs, r.ShownTenths })
            .OrderBy(x => x.Unit).ThenBy(x => x.AtMs).AsAsyncEnumerable();
        return ReadingsCsv.Write(to, rows.Select(x => (x.Unit, x.AtMs, x.ShownTenths / 10.0)));
    }
}
