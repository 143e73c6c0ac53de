using Microsoft.EntityFrameworkCore;
using Nippers.App.Languages;
using Nippers.App.Walks;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Walks;
using Nippers.Formats.Csv;
using Nippers.Formats.Fleet;

namespace Nippers.App.Exchange;

/// <summary>How far a long job is.</summary>
/// <param name="Stage">Section being worked on.</param>
/// <param name="Done">Records done.</param>
public readonly record struct JobProgress(string Stage, long Done);

/// <summary>Writes the whole fleet, machine by machine, in an order that does not depend on the database's ids.</summary>
public sealed class ExportFleet(NippersDb db, OilExport oil)
{
    private const int ReportEvery = 50_000;
    private const int WalksAtOnce = 500;

    /// <summary>
    /// Writes a kind as a fleet file of its own, its newest walk lists and its programs: another Nippers reads it like any other.
    /// </summary>
    public async Task Kind(Stream to, MachineKind kind, CancellationToken ct)
    {
        await using var snapshot = await db.Database.BeginTransactionAsync(ct);
        await using var writer = new FleetWriter(to);
        var programs = await db
            .Programs.AsNoTracking()
            .AsSplitQuery()
            .Include(x => x.Items)
            .Include(x => x.Compartments)
            .Where(x => x.Kind == kind)
            .OrderBy(x => x.Code)
            .ToListAsync(ct);
        foreach (var program in programs)
            await writer.Write(FleetMapping.ToRecord(program));
        var lists = await db
            .WalkListVersions.AsNoTracking()
            .Include(x => x.List)
            .Where(x => x.List.Kind == kind && x.Version == x.List.Version)
            .OrderBy(x => x.List.Code)
            .ToListAsync(ct);
        foreach (var list in lists)
            await writer.Write(FleetMapping.ToRecord(list.List, [list]));
        var texts = PhraseBook.TextsOf(programs).Concat(PhraseBook.TextsOf(lists)).Select(x => x.Text).ToHashSet(StringComparer.Ordinal);
        foreach (var phrase in (await Phrases(ct)).Where(x => texts.Contains(x.Text)))
            await writer.Write(phrase);
    }

    private async Task<IReadOnlyList<FleetPhrase>> Phrases(CancellationToken ct) =>
        [
            .. (await db.Phrases.AsNoTracking().ToListAsync(ct))
                .OrderBy(x => x.Language, StringComparer.Ordinal)
                .ThenBy(x => x.Text, StringComparer.Ordinal)
                .Select(x => new FleetPhrase(x.Language, x.Text, x.Said)),
        ];

    /// <summary>Writes a fleet file; memory does not grow with the fleet.</summary>
    public async Task Run(Stream to, IProgress<JobProgress>? progress, CancellationToken ct)
    {
        await using var snapshot = await db.Database.BeginTransactionAsync(ct);
        await using var writer = new FleetWriter(to);
        var sites = await db.Sites.AsNoTracking().OrderBy(x => x.Name).ToListAsync(ct);
        foreach (var site in sites)
            await writer.Write(FleetMapping.ToRecord(site));

        var shop = await db.Shop.AsNoTracking().SingleOrDefaultAsync(ct);
        if (shop is not null)
            await writer.Write(FleetMapping.ToRecord(shop, await db.Fluids.AsNoTracking().ToListAsync(ct)));
        var programs = await db
            .Programs.AsNoTracking()
            .AsSplitQuery()
            .Include(x => x.Items)
            .Include(x => x.Compartments)
            .OrderBy(x => x.Code)
            .ToListAsync(ct);
        foreach (var program in programs)
            await writer.Write(FleetMapping.ToRecord(program));

        var lists = await db.WalkLists.AsNoTracking().OrderBy(x => x.Code).ToListAsync(ct);
        var versions = await db.WalkListVersions.AsNoTracking().ToDictionaryAsync(x => x.Id, ct);
        foreach (var list in lists)
            await writer.Write(FleetMapping.ToRecord(list, versions.Values.Where(x => x.ListId == list.Id)));
        foreach (var phrase in await Phrases(ct))
            await writer.Write(phrase);
        var parts = await db.Parts.AsNoTracking().OrderBy(x => x.Number).ToListAsync(ct);
        foreach (var part in parts)
            await writer.Write(FleetMapping.ToRecord(part));
        var numbersOfParts = parts.ToDictionary(x => x.Id, x => x.Number);
        foreach (
            var alternate in (await db.PartAlternates.AsNoTracking().ToListAsync(ct))
                .Select(x => FleetMapping.ToRecord(x, numbersOfParts[x.PartId], numbersOfParts[x.OtherId]))
                .OrderBy(x => x.Part, StringComparer.Ordinal)
                .ThenBy(x => x.Other, StringComparer.Ordinal)
        )
            await writer.Write(alternate);
        var positions = (await db.FilterPositions.AsNoTracking().Include(x => x.Part).ToListAsync(ct)).ToLookup(x => x.MachineId);
        var bodies = versions.ToDictionary(x => x.Key, x => x.Value.ToList());
        var listCodes = lists.ToDictionary(x => x.Id, x => x.Code);
        var limits = (await db.MachineChecks.AsNoTracking().ToListAsync(ct)).ToLookup(x => x.MachineId);
        var parkings = (await db.Parkings.AsNoTracking().OrderBy(x => x.At).ToListAsync(ct)).ToLookup(x => x.MachineId);
        var odometers = (
            await db.OdometerReadings.AsNoTracking().WithVoided().OrderBy(x => x.At).ThenBy(x => x.Id).ToListAsync(ct)
        ).ToLookup(x => x.MachineId);
        var codes = (await db.MachineCodes.AsNoTracking().OrderBy(x => x.Code).ToListAsync(ct)).ToLookup(x => x.MachineId);
        var siteNames = sites.ToDictionary(x => x.Id, x => x.Name);
        var programCodes = programs.ToDictionary(x => x.Id, x => x.Code);
        var parked = (await db.Parked.AsNoTracking().ToListAsync(ct)).ToLookup(x => x.MachineId);
        var changes = (await db.MeterChanges.AsNoTracking().WithVoided().ToListAsync(ct)).ToLookup(x => x.MachineId);
        var machines = await db.Machines.AsNoTracking().Include(x => x.Compartments).OrderBy(x => x.Unit).ToListAsync(ct);
        foreach (var machine in machines)
        {
            await writer.Write(
                FleetMapping.ToRecord(
                    machine,
                    siteNames[machine.SiteId],
                    programCodes[machine.ProgramId],
                    parked[machine.Id],
                    changes[machine.Id],
                    machine.WalkListId is { } list ? listCodes[list] : null,
                    [.. limits[machine.Id]],
                    [.. positions[machine.Id]],
                    [.. parkings[machine.Id]],
                    [.. codes[machine.Id]],
                    [.. odometers[machine.Id]]
                )
            );
        }

        long done = 0;
        foreach (var machine in machines)
        {
            var rows = db
                .Readings.AsNoTracking()
                .Where(x => x.MachineId == machine.Id)
                .OrderBy(x => x.At)
                .ThenBy(x => x.LifeHours)
                .ThenBy(x => x.Id)
                .AsAsyncEnumerable();
            await foreach (var row in rows.WithCancellation(ct))
            {
                await writer.Write(FleetMapping.ToRecord(row, machine.Unit));
                if (++done % ReportEvery == 0)
                    progress?.Report(new("readings", done));
            }
        }

        done = 0;
        foreach (var machine in machines)
        {
            var rows = db
                .Completions.AsNoTracking()
                .WithVoided()
                .Where(x => x.MachineId == machine.Id)
                .OrderBy(x => x.EnteredAt)
                .ThenBy(x => x.Id)
                .AsAsyncEnumerable();
            await foreach (var row in rows.WithCancellation(ct))
            {
                await writer.Write(FleetMapping.ToRecord(row, machine.Unit));
                if (++done % ReportEvery == 0)
                    progress?.Report(new("completions", done));
            }
        }

        var numbers = new Dictionary<long, long>();
        foreach (var machine in machines)
            await Walks(machine, writer, numbers, listCodes, versions, bodies, progress, ct);
        foreach (var machine in machines)
        {
            foreach (
                var row in await db
                    .TopUps.AsNoTracking()
                    .WithVoided()
                    .Where(x => x.MachineId == machine.Id)
                    .OrderBy(x => x.At)
                    .ThenBy(x => x.Id)
                    .ToListAsync(ct)
            )
            {
                await writer.Write(FleetMapping.ToRecord(row, machine.Unit, row.WalkId is { } walk ? numbers[walk] : null));
            }
        }

        var defects = new Dictionary<long, long>();
        foreach (var machine in machines)
            await Defects(machine, writer, numbers, defects, ct);
        await FeedCodes(machines, writer, defects, ct);
        await Visits(machines, writer, defects, siteNames, numbersOfParts, ct);
    }

    /// <summary>Visits machine by machine, then what their closing wrote; a visit's number is its place in the file.</summary>
    private async Task Visits(
        List<Machine> machines,
        FleetWriter writer,
        Dictionary<long, long> defects,
        Dictionary<int, string> sites,
        Dictionary<int, string> parts,
        CancellationToken ct
    )
    {
        var numbers = new Dictionary<long, long>();
        long? Number(long? visit) => visit is { } id && numbers.TryGetValue(id, out var number) ? number : null;
        foreach (var machine in machines)
        {
            var rows = await db
                .Visits.AsNoTracking()
                .AsSplitQuery()
                .Where(x => x.MachineId == machine.Id)
                .Include(x => x.Items)
                .OrderBy(x => x.PlannedAt)
                .ThenBy(x => x.Id)
                .ToListAsync(ct);
            foreach (var row in rows)
            {
                numbers[row.Id] = numbers.Count + 1;
                var repaired = await db.VisitDefects.Where(x => x.VisitId == row.Id).Select(x => x.DefectId).ToListAsync(ct);
                var photos = (await db.StepPhotos.AsNoTracking().Where(x => x.VisitId == row.Id).ToListAsync(ct)).ToLookup(x => x.Code);
                var steps = await db.Steps.AsNoTracking().Where(x => x.VisitId == row.Id).ToListAsync(ct);
                var van = await db.VanLines.AsNoTracking().Where(x => x.VisitId == row.Id).OrderBy(x => x.Line).ToListAsync(ct);
                await writer.Write(
                    FleetMapping.ToRecord(
                        row,
                        machine.Unit,
                        repaired.Select(x => defects[x]),
                        steps
                            .OrderBy(x => x.Code, StringComparer.Ordinal)
                            .Select(x =>
                                FleetMapping.ToRecord(
                                    x,
                                    x.DefectId is { } defect && defects.TryGetValue(defect, out var number) ? number : null,
                                    [.. photos[x.Code]]
                                )
                            ),
                        van
                    )
                );
            }
        }

        var units = machines.ToDictionary(x => x.Id, x => x.Unit);
        foreach (var machine in machines)
        {
            foreach (
                var row in await db
                    .FilterLog.AsNoTracking()
                    .WithVoided()
                    .Where(x => x.MachineId == machine.Id)
                    .OrderBy(x => x.EnteredAt)
                    .ThenBy(x => x.Id)
                    .ToListAsync(ct)
            )
                await writer.Write(FleetMapping.ToRecord(row, machine.Unit, Number(row.VisitId)));
        }

        await foreach (
            var row in db.StockMoves.AsNoTracking().OrderBy(x => x.At).ThenBy(x => x.Id).AsAsyncEnumerable().WithCancellation(ct)
        )
            await writer.Write(FleetMapping.ToRecord(row, parts[row.PartId], sites[row.SiteId], Number(row.VisitId)));
        await foreach (
            var row in db
                .Waste.AsNoTracking()
                .WithVoided()
                .OrderBy(x => x.EnteredAt)
                .ThenBy(x => x.Id)
                .AsAsyncEnumerable()
                .WithCancellation(ct)
        )
            await writer.Write(FleetMapping.ToRecord(row, row.MachineId is { } id ? units[id] : null, Number(row.VisitId)));
        foreach (var machine in machines)
        {
            foreach (
                var row in await db
                    .OnBoard.AsNoTracking()
                    .WithVoided()
                    .Where(x => x.MachineId == machine.Id)
                    .OrderBy(x => x.LifeHours)
                    .ThenBy(x => x.Id)
                    .ToListAsync(ct)
            )
                await writer.Write(FleetMapping.ToRecord(row, machine.Unit, Number(row.VisitId)));
        }

        await oil.Run(machines, writer, defects, numbers, ct);
    }

    /// <summary>Walks of one machine, a page at a time; their numbers are their places in the file.</summary>
    private async Task Walks(
        Machine machine,
        FleetWriter writer,
        Dictionary<long, long> numbers,
        Dictionary<int, string> listCodes,
        Dictionary<int, WalkListVersion> versions,
        Dictionary<int, CheckList> bodies,
        IProgress<JobProgress>? progress,
        CancellationToken ct
    )
    {
        for (var skip = 0; ; skip += WalksAtOnce)
        {
            var page = await db
                .Walks.AsNoTracking()
                .Where(x => x.MachineId == machine.Id)
                .OrderBy(x => x.On)
                .ThenBy(x => x.StartedAt)
                .ThenBy(x => x.Id)
                .Skip(skip)
                .Take(WalksAtOnce)
                .ToListAsync(ct);
            var ids = page.Select(x => (long?)x.Id).ToList();
            var measures = (await db.Measures.AsNoTracking().Where(x => ids.Contains(x.WalkId)).ToListAsync(ct)).ToLookup(x =>
                x.WalkId!.Value
            );
            var done = (
                await db
                    .ChecksDone.AsNoTracking()
                    .Where(x => ids.Contains(x.WalkId))
                    .Select(x => new { x.WalkId, x.CheckCode })
                    .ToListAsync(ct)
            ).ToLookup(x => x.WalkId, x => x.CheckCode);
            var open = page.Exists(x => x.State == WalkState.Open)
                ? (await db.WalkAnswers.AsNoTracking().Where(x => ids.Contains(x.WalkId)).ToListAsync(ct)).ToLookup(x => x.WalkId)
                : null;
            var later = (await db.LaterChecks.AsNoTracking().Where(x => ids.Contains(x.WalkId)).ToListAsync(ct)).ToLookup(x => x.WalkId);
            var photos = (await db.WalkPhotos.AsNoTracking().Where(x => ids.Contains(x.WalkId)).ToListAsync(ct)).ToLookup(x => x.WalkId);
            foreach (var row in page)
            {
                numbers[row.Id] = numbers.Count + 1;
                var version = versions[row.VersionId];
                await writer.Write(
                    FleetMapping.ToRecord(
                        row,
                        machine.Unit,
                        listCodes[version.ListId],
                        version.Version,
                        WalkChecks.Codes(row, bodies[row.VersionId]),
                        open is null ? [] : [.. open[row.Id]],
                        [.. measures[row.Id]],
                        [.. done[row.Id]],
                        [.. later[row.Id]],
                        [.. photos[row.Id]]
                    )
                );
                if (numbers.Count % ReportEvery == 0)
                    progress?.Report(new("walks", numbers.Count));
            }

            if (page.Count < WalksAtOnce)
                return;
        }
    }

    private async Task Defects(
        Machine machine,
        FleetWriter writer,
        Dictionary<long, long> walks,
        Dictionary<long, long> numbers,
        CancellationToken ct
    )
    {
        var rows = await db
            .Defects.AsNoTracking()
            .Where(x => x.MachineId == machine.Id)
            .OrderBy(x => x.At)
            .ThenBy(x => x.Id)
            .ToListAsync(ct);
        var events = (
            await db
                .DefectEvents.AsNoTracking()
                .Where(x => db.Defects.Any(d => d.Id == x.DefectId && d.MachineId == machine.Id))
                .ToListAsync(ct)
        ).ToLookup(x => x.DefectId);
        var stoppages = (await db.Stoppages.AsNoTracking().Where(x => x.MachineId == machine.Id).ToListAsync(ct)).ToLookup(x => x.DefectId);
        var withPhotos = (
            await db
                .DefectPhotos.Where(x => db.Defects.Any(d => d.Id == x.DefectId && d.MachineId == machine.Id))
                .Select(x => x.DefectId)
                .Distinct()
                .ToListAsync(ct)
        ).ToHashSet();
        foreach (var row in rows)
        {
            numbers[row.Id] = numbers.Count + 1;
            var photos = withPhotos.Contains(row.Id)
                ? await db.DefectPhotos.AsNoTracking().Include(x => x.Bytes).Where(x => x.DefectId == row.Id).ToListAsync(ct)
                : [];
            await writer.Write(
                FleetMapping.ToRecord(
                    row,
                    machine.Unit,
                    row.WalkId is { } walk ? walks[walk] : null,
                    row.RepeatOf is { } earlier && numbers.TryGetValue(earlier, out var number) ? number : null,
                    events[row.Id],
                    id => walks.TryGetValue(id, out var number) ? number : null,
                    stoppages[row.Id],
                    photos
                )
            );
        }
    }

    /// <summary>Codes of feeds machine by machine; a code's number is its place in the file.</summary>
    private async Task FeedCodes(List<Machine> machines, FleetWriter writer, Dictionary<long, long> defects, CancellationToken ct)
    {
        var all = (await db.FeedCodes.AsNoTracking().OrderBy(x => x.Since).ThenBy(x => x.Id).ToListAsync(ct)).ToLookup(x => x.MachineId);
        var numbers = new Dictionary<long, long>();
        foreach (var machine in machines)
        {
            foreach (var row in all[machine.Id])
            {
                numbers[row.Id] = numbers.Count + 1;
                long? earlier = row.RepeatOf is { } before && numbers.TryGetValue(before, out var number) ? number : null;
                long? defect = row.DefectId is { } id && defects.TryGetValue(id, out var its) ? its : null;
                await writer.Write(FleetMapping.ToRecord(row, machine.Unit, earlier, defect));
            }
        }
    }

    /// <summary>Writes finished walks as CSV: of one machine, or of all.</summary>
    public Task WalksCsv(TextWriter to, string? unit, CancellationToken ct)
    {
        var rows = db
            .Walks.AsNoTracking()
            .Where(x => x.State == WalkState.Finished && (unit == null || x.Machine.Unit == unit))
            .OrderBy(x => x.Machine.Unit)
            .ThenBy(x => x.On)
            .ThenBy(x => x.Id)
            .Select(x => new { x.Machine.Unit, Walk = x })
            .AsAsyncEnumerable();
        return RecordCsv.Write(
            to,
            rows.Select(x => new WalkCsvRow(
                x.Unit,
                Formats.Iso.Day(x.Walk.On),
                Formats.Iso.Instant(x.Walk.StartedAt),
                Instant(x.Walk.FinishedAt),
                x.Walk.FinishedBy ?? "",
                x.Walk.ShownHours.Value,
                FleetMapping.Word(x.Walk.Round),
                x.Walk.Due,
                x.Walk.Answered,
                x.Walk.Faults,
                x.Walk.LeftOut,
                x.Walk.Late,
                x.Walk.RunStatus is { } verdict ? FleetMapping.Word(verdict) : ""
            )),
            ct
        );
    }

    /// <summary>Writes defects as CSV: of one machine, or of all.</summary>
    public Task DefectsCsv(TextWriter to, string? unit, CancellationToken ct)
    {
        var rows = db
            .Defects.AsNoTracking()
            .Where(x => unit == null || x.Machine.Unit == unit)
            .OrderBy(x => x.Machine.Unit)
            .ThenBy(x => x.At)
            .ThenBy(x => x.Id)
            .Select(x => new { x.Machine.Unit, Defect = x })
            .AsAsyncEnumerable();
        return RecordCsv.Write(to, rows.Select(x => Row(x.Unit, x.Defect)), ct);

        static DefectCsvRow Row(string unit, Data.Defects.DefectRow d) =>
            new(
                unit,
                d.Id,
                Formats.Iso.Day(d.On),
                d.PlaceName,
                d.Words,
                FleetMapping.Word(d.Grade),
                FleetMapping.Word(d.State),
                d.By,
                d.LifeHours.Value,
                d.LimitHours?.Value,
                d.LimitOn is { } on ? Formats.Iso.Day(on) : "",
                d.RepeatOf,
                d.RepairedBy ?? "",
                Instant(d.RepairedAt),
                d.RepairWords ?? "",
                d.RepairMinutes,
                d.RepairParts ?? "",
                d.ReturnedBy ?? "",
                Instant(d.ReturnedAt)
            );
    }

    private static string Instant(DateTimeOffset? at) => at is { } then ? Formats.Iso.Instant(then) : "";

    /// <summary>Writes accepted readings as CSV: of one machine, or of all.</summary>
    public Task Readings(TextWriter to, string? unit, CancellationToken ct)
    {
        var rows = db
            .Readings.AsNoTracking()
            .Where(x => x.State == Data.Records.ReadingState.Accepted)
            .Join(
                db.Machines.Where(m => unit == null || m.Unit == unit),
                r => r.MachineId,
                m => m.Id,
                (r, m) =>
                    new
                    {
                        m.Unit,
                        r.At,
                        r.ShownHours,
                    }
            )
            .OrderBy(x => x.Unit)
            .ThenBy(x => x.At)
            .AsAsyncEnumerable();
        return ReadingsCsv.Write(to, rows.Select(x => (x.Unit, x.At, x.ShownHours)));
    }
}
