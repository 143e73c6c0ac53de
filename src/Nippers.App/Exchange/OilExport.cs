using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Formats;
using Nippers.Formats.Csv;
using Nippers.Formats.Fleet;

namespace Nippers.App.Exchange;

/// <summary>Writes samples and what belongs to them: to a fleet file, or as CSV.</summary>
public sealed class OilExport(NippersDb db)
{
    /// <summary>Writes the sections of a fleet file, machine by machine.</summary>
    internal async Task Run(
        List<Machine> machines,
        FleetWriter writer,
        IReadOnlyDictionary<long, long> defects,
        IReadOnlyDictionary<long, long> visits,
        CancellationToken ct
    )
    {
        var labs = await db.Labs.AsNoTracking().OrderBy(x => x.Name).ToListAsync(ct);
        foreach (var lab in labs)
            await writer.Write(FleetMapping.ToRecord(lab));
        var names = labs.ToDictionary(x => x.Id, x => x.Name);
        string? LabOf(int? id) => id is { } known ? names[known] : null;
        static long? Number(IReadOnlyDictionary<long, long> numbers, long? id) =>
            id is { } known && numbers.TryGetValue(known, out var number) ? number : null;
        foreach (var oil in await db.NewOils.AsNoTracking().OrderBy(x => x.Fluid).ToListAsync(ct))
            await writer.Write(FleetMapping.ToRecord(oil));
        var units = machines.ToDictionary(x => x.Id, x => x.Unit);
        var limits = (await db.OilLimits.AsNoTracking().ToListAsync(ct)).Select(x =>
            FleetMapping.ToRecord(x, x.MachineId is { } id ? units[id] : null)
        );
        foreach (
            var limit in limits
                .OrderBy(x => x.Unit, StringComparer.Ordinal)
                .ThenBy(x => x.Compartment, StringComparer.Ordinal)
                .ThenBy(x => x.Kind, StringComparer.Ordinal)
                .ThenBy(x => x.Measurand, StringComparer.Ordinal)
        )
            await writer.Write(limit);

        var boxes = new Dictionary<long, long>();
        foreach (var box in await db.Consignments.AsNoTracking().OrderBy(x => x.MadeAt).ThenBy(x => x.Id).ToListAsync(ct))
        {
            boxes[box.Id] = boxes.Count + 1;
            await writer.Write(FleetMapping.ToRecord(box, names[box.LabId]));
        }

        var samples = new Dictionary<long, long>();
        foreach (var machine in machines)
        {
            var rows = await db
                .Samples.AsNoTracking()
                .WithVoided()
                .Where(x => x.MachineId == machine.Id)
                .OrderBy(x => x.TakenAt)
                .ThenBy(x => x.Id)
                .ToListAsync(ct);
            var reports = (
                await db
                    .Reports.AsNoTracking()
                    .WithVoided()
                    .Where(x => db.Samples.Any(s => s.Id == x.SampleId && s.MachineId == machine.Id))
                    .ToListAsync(ct)
            ).ToLookup(x => x.SampleId);
            var kept = await db
                .Judgements.AsNoTracking()
                .WithVoided()
                .Where(x => db.Samples.Any(s => s.Id == x.SampleId && s.MachineId == machine.Id))
                .ToDictionaryAsync(x => x.SampleId, x => x.Whole, ct);
            foreach (var row in rows)
            {
                samples[row.Id] = samples.Count + 1;
                await writer.Write(
                    FleetMapping.ToRecord(
                        row,
                        machine.Unit,
                        LabOf,
                        Number(visits, row.VisitId),
                        Number(boxes, row.ConsignmentId),
                        Number(defects, row.DefectId),
                        reports[row.Id],
                        kept.GetValueOrDefault(row.Id)
                    )
                );
            }
        }

        foreach (var bottle in await db.Bottles.AsNoTracking().WithVoided().OrderBy(x => x.Id).ToListAsync(ct))
            await writer.Write(FleetMapping.ToRecord(bottle, units[bottle.MachineId], Number(samples, bottle.SampleId)));
        foreach (var machine in machines)
        {
            foreach (
                var call in await db
                    .WorkRequests.AsNoTracking()
                    .WithVoided()
                    .Where(x => x.MachineId == machine.Id)
                    .OrderBy(x => x.At)
                    .ThenBy(x => x.Id)
                    .ToListAsync(ct)
            )
                await writer.Write(
                    FleetMapping.ToRecord(call, machine.Unit, Number(samples, call.SampleId), Number(defects, call.AfterDefectId))
                );
        }

        foreach (var machine in machines)
        {
            foreach (
                var change in await db
                    .DrainChanges.AsNoTracking()
                    .WithVoided()
                    .Where(x => x.MachineId == machine.Id)
                    .OrderBy(x => x.At)
                    .ThenBy(x => x.Id)
                    .ToListAsync(ct)
            )
                await writer.Write(FleetMapping.ToRecord(change, machine.Unit, Number(samples, change.SampleId)));
        }

        foreach (var machine in machines)
        {
            foreach (
                var test in await db
                    .CoolantTests.AsNoTracking()
                    .WithVoided()
                    .Where(x => x.MachineId == machine.Id)
                    .OrderBy(x => x.At)
                    .ThenBy(x => x.Id)
                    .ToListAsync(ct)
            )
                await writer.Write(FleetMapping.ToRecord(test, machine.Unit));
        }

        foreach (
            var loose in await db.UnmatchedResults.AsNoTracking().WithVoided().OrderBy(x => x.ReceivedAt).ThenBy(x => x.Id).ToListAsync(ct)
        )
            await writer.Write(FleetMapping.ToRecord(loose, LabOf, Number(samples, loose.SampleId)));
    }

    /// <summary>Writes samples with their figures as CSV: of one machine, or of all.</summary>
    public async Task SamplesCsv(TextWriter to, string? unit, CancellationToken ct)
    {
        var rows = db
            .Samples.AsNoTracking()
            .Where(x => (unit == null || x.Machine.Unit == unit))
            .OrderBy(x => x.Machine.Unit)
            .ThenBy(x => x.TakenAt)
            .ThenBy(x => x.Id)
            .Select(x => new
            {
                Sample = x,
                x.Machine.Unit,
                Report = db
                    .Reports.Where(r => r.SampleId == x.Id && r.ReplacedAt == null)
                    .Select(r => new { r.Figures, r.Iso })
                    .FirstOrDefault(),
            })
            .AsAsyncEnumerable();
        await LabResultsCsv.Write(
            to,
            rows.Select(x => new LabResultsRow(
                x.Sample.Bottle,
                x.Unit,
                x.Sample.Compartment,
                Iso.Day(x.Sample.On),
                x.Sample.LifeHours.Value,
                x.Sample.OilHours?.Value,
                x.Sample.AddedLitres.Value,
                Units.Quantities.Gallons(x.Sample.AddedLitres.Value),
                x.Sample.Fluid,
                FleetMapping.Word(x.Sample.State),
                x.Sample.Advised is { } advised ? FleetMapping.Word(advised) : "",
                x.Sample.SignedAs is { } signed ? FleetMapping.Word(signed) : "",
                x.Report is null ? new Dictionary<string, string>() : Oil.OilCase.ReadFigures(x.Report.Figures),
                x.Report?.Iso ?? ""
            )),
            ct
        );
    }
}
