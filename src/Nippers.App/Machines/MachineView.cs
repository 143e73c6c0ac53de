using System.Collections.Immutable;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Statuses;
using Nippers.App.Today;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Programs;
using Nippers.Data.Queries;
using Nippers.Data.Records;
using Nippers.Data.Walks;

namespace Nippers.App.Machines;

/// <summary>One item of a machine: what the program asks and how it stands.</summary>
public sealed record MachineItem(ProgramItem Item, ItemStatus Status);

/// <summary>Work recorded in one go.</summary>
public sealed record WorkBatch(
    string Batch,
    CompletionKind Kind,
    DateOnly On,
    MeterHours ShownHours,
    string By,
    string? SaidBy,
    string Note,
    DateTimeOffset EnteredAt,
    IReadOnlyList<CompletionRow> Rows
)
{
    public bool Voided => Rows.All(x => x.VoidedAt is not null);
}

/// <summary>A compartment on this machine.</summary>
public sealed record CompartmentView(
    ProgramCompartment Compartment,
    double? CapacityLitres,
    string Fluid,
    int Items,
    ItemStatus? Next,
    bool Sampled
);

/// <summary>How a machine stands: what it is, and what is due on it; none of its history.</summary>
/// <param name="Machine">The machine with its site and program.</param>
/// <param name="Now">Its hours and its use.</param>
/// <param name="OffsetHours">Life hours less what its meter shows.</param>
/// <param name="Items">Items of service that belong on it.</param>
/// <param name="Daily">Items of daily care.</param>
/// <param name="Groups">What falls due together, worn parts with it, the most urgent first.</param>
/// <param name="ItemNames">Names by code, of worn parts too.</param>
/// <param name="Worn">Its worn parts.</param>
/// <param name="Record">What its hours and its use were derived from.</param>
/// <param name="Unconfirmed">Readings that nobody has confirmed, of the odometer too.</param>
/// <param name="UnconfirmedKm">Those of the odometer.</param>
/// <param name="NewestCompletion">Id of the newest work on it; 0 for none.</param>
/// <param name="Zone">The zone of its site.</param>
public record MachineStand(
    Machine Machine,
    MachineNow Now,
    MeterHours OffsetHours,
    IReadOnlyList<MachineItem> Items,
    IReadOnlyList<MachineItem> Daily,
    ImmutableArray<DueGroup> Groups,
    IReadOnlyDictionary<string, string> ItemNames,
    IReadOnlyList<WornPart> Worn,
    MeterRecord Record,
    int Unconfirmed,
    int UnconfirmedKm,
    long NewestCompletion,
    TimeZoneInfo Zone
)
{
    /// <summary>What the meter shows for some life hours.</summary>
    public double Shows(double lifeHours) => lifeHours - OffsetHours.Value;
}

/// <summary>What the head of the machine page shows, whichever part of it is open.</summary>
/// <param name="Stand">How it stands.</param>
/// <param name="Defects">Its open defects, the gravest first.</param>
/// <param name="Facts">What else decides whether it may run.</param>
public sealed record MachinePage(MachineStand Stand, IReadOnlyList<DefectRow> Defects, RunFacts Facts) : MachineStand(Stand)
{
    /// <summary>May it run.</summary>
    public RunAnswer Answer => Facts.Answer(Defects.Select(x => x.Clock));
}

/// <summary>What the overview shows besides.</summary>
/// <param name="PastWork">Life hours at which work was recorded, as far back as a tape reaches.</param>
/// <param name="LastWalk">The last walk that looked at anything; null for none.</param>
public sealed record MachineOverview(IReadOnlyList<double> PastWork, WalkRow? LastWalk)
{
    /// <summary>When somebody walked round it on a day of its site; null when nobody has.</summary>
    public DateTimeOffset? WalkedAt(DateOnly day) => LastWalk?.On == day ? LastWalk.FinishedAt : null;
}

/// <summary>Readings, and what the use per day comes from.</summary>
/// <param name="Readings">The newest, and whatever waits for somebody to confirm it, the newest first.</param>
/// <param name="Evidence">Spans between readings with their weight.</param>
/// <param name="BlockMeans">Hours per day of each block of days.</param>
public sealed record MachineReadings(
    IReadOnlyList<ReadingRow> Readings,
    ImmutableArray<UseInterval> Evidence,
    ImmutableArray<double> BlockMeans
);

/// <summary>What was done on it, and by whom.</summary>
/// <param name="Work">The latest batches of work.</param>
/// <param name="Audit">The latest entries of its log.</param>
public sealed record MachineLog(IReadOnlyList<WorkBatch> Work, IReadOnlyList<AuditRow> Audit);

/// <summary>What a form that takes a reading says of the meter.</summary>
/// <param name="Site">Name of the machine's site.</param>
/// <param name="Zone">Its zone.</param>
/// <param name="Last">The last reading that counts; null for none.</param>
/// <param name="Wrong">The reading that is to be replaced; null for none.</param>
public sealed record MeterFace(string Site, TimeZoneInfo Zone, ReadingRow? Last, ReadingRow? Wrong);

/// <summary>
/// Reads the machine page, each part when it is opened: a bounded number of queries whatever the machine's age.
/// </summary>
public sealed class MachineView(NippersDb db, Standings standings, TimeProvider clock)
{
    private const int Recent = 12;
    private const int RecentReadings = 7;
    private const double TapeBack = 400;

    public async Task<MachinePage?> Run(string unit, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        await standings.RaisePassed(now, ct, db.Machines.Where(x => x.Unit == unit).Select(x => x.Id));
        var newest = await Newest(unit, ct);
        var facts = await db.FactsOf(unit, now, ct);
        if (facts is null)
            return null;

        return new(
            await StandOf(facts, newest, now, ct),
            await db.OpenDefects(facts.Machine.Id, ct),
            await db.RunFactsOf(facts.Machine.Id, ct)
        );
    }

    /// <summary>What the overview of a machine shows besides.</summary>
    public async Task<MachineOverview> Overview(MachineStand stand, CancellationToken ct)
    {
        var id = stand.Machine.Id;
        var since = new MeterHours((int)((stand.Now.Hours - TapeBack) * 10));
        var past = await db
            .Completions.Where(x => x.MachineId == id && x.Kind == CompletionKind.Work && x.LifeHours >= since)
            .Select(x => x.LifeHours)
            .Distinct()
            .ToListAsync(ct);
        var lastWalk = await db
            .Walks.AsNoTracking()
            .Where(x => x.MachineId == id && x.State == WalkState.Finished && x.Answered > 0)
            .OrderByDescending(x => x.On)
            .ThenByDescending(x => x.Id)
            .FirstOrDefaultAsync(ct);
        return new([.. past.Select(x => x.Value).Order()], lastWalk);
    }

    /// <summary>Who did each item of a machine last, and when, by the item's code.</summary>
    public async Task<IReadOnlyDictionary<string, CompletionRow>> LastDone(MachineStand stand, CancellationToken ct) =>
        (await LastRows(stand.Machine.Id, ct)).ToDictionary(x => x.ItemCode, StringComparer.Ordinal);

    /// <summary>Readings of a machine, and what its use per day comes from.</summary>
    public async Task<MachineReadings> Readings(MachineStand stand, CancellationToken ct)
    {
        var all = db.Readings.AsNoTracking().Where(x => x.MachineId == stand.Machine.Id);
        var newest = await all.Where(x => x.State == ReadingState.Accepted)
            .OrderByDescending(x => x.At)
            .ThenByDescending(x => x.LifeHours)
            .Take(RecentReadings)
            .ToListAsync(ct);

        // However many came after it: what nobody has confirmed is asked about until somebody does.
        var open = stand.Unconfirmed > 0 ? await all.Where(x => x.State == ReadingState.Unconfirmed).ToListAsync(ct) : [];
        return new(
            [.. newest.Concat(open).OrderByDescending(x => x.At).ThenByDescending(x => x.LifeHours)],
            UsePerDay.Evidence(stand.Record, stand.Now.Now),
            UsePerDay.BlockMeans(stand.Record, stand.Now.Now)
        );
    }

    /// <summary>What was done on a machine last, and what was changed.</summary>
    public async Task<MachineLog> Log(MachineStand stand, CancellationToken ct) =>
        new(
            await RecentWork(stand.Machine.Id, ct),
            await db
                .Audit.AsNoTracking()
                .Where(x => x.MachineId == stand.Machine.Id)
                .OrderByDescending(x => x.At)
                .ThenByDescending(x => x.Id)
                .Take(Recent)
                .ToListAsync(ct)
        );

    /// <summary>Compartments of a machine, with what is next on each.</summary>
    public async Task<IReadOnlyList<CompartmentView>> Compartments(MachineStand stand, CancellationToken ct)
    {
        var own = await db.MachineCompartments.AsNoTracking().Where(x => x.MachineId == stand.Machine.Id).ToListAsync(ct);
        return Compartments(stand, own);
    }

    /// <summary>How a machine stands, for forms and programs that need none of its history; null when there is no such unit.</summary>
    public async Task<MachineStand?> Stand(string unit, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        var newest = await Newest(unit, ct);
        return await db.FactsOf(unit, now, ct) is { } facts ? await StandOf(facts, newest, now, ct) : null;
    }

    /// <summary>What a form that takes a reading says of the meter; null when there is no such unit.</summary>
    /// <param name="unit">Which machine.</param>
    /// <param name="replaces">Id of the reading that is to be replaced; null for none. Another machine's is none.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<MeterFace?> Meter(string unit, long? replaces, CancellationToken ct)
    {
        var machine = await db.Machines.AsNoTracking().Include(x => x.Site).SingleOrDefaultAsync(x => x.Unit == unit, ct);
        if (machine is null)
            return null;
        var readings = db.Readings.AsNoTracking().Where(x => x.MachineId == machine.Id);
        var last = await readings
            .Where(x => x.State == ReadingState.Accepted)
            .OrderByDescending(x => x.At)
            .ThenByDescending(x => x.LifeHours)
            .FirstOrDefaultAsync(ct);
        var wrong = replaces is { } id
            ? await readings.SingleOrDefaultAsync(
                x => x.Id == id && (x.State == ReadingState.Accepted || x.State == ReadingState.Unconfirmed),
                ct
            )
            : null;
        return new(machine.Site.Name, TimeZoneInfo.FindSystemTimeZoneById(machine.Site.TimeZone), last, wrong);
    }

    /// <summary>
    /// Id of the newest work on a machine, asked before what is shown of it: work that comes in between is then news to whoever has
    /// seen the page, and not something that they would have seen.
    /// </summary>
    private async Task<long> Newest(string unit, CancellationToken ct) =>
        await db
            .Completions.Where(x => x.MachineId == db.Machines.Where(m => m.Unit == unit).Select(m => m.Id).First())
            .MaxAsync(x => (long?)x.Id, ct)
        ?? 0;

    private async Task<MachineStand> StandOf(MachineFacts facts, long newest, DateTimeOffset now, CancellationToken ct)
    {
        var machine = facts.Machine;
        var use = UsePerDay.Estimate(facts.Record, now);
        var at = new MachineNow(use, now, facts.Zone);
        var settings = machine.Program.ForDue();
        var items = facts.Items.Select(item => new MachineItem(item, at.Stand(facts.Due(item), settings.ComingDays))).ToList();
        var service = items.Where(x => !x.Item.IsDaily).ToList();
        var worn = (await db.WornParts([machine.Id], ct))[machine.Id].ToList();
        var wear = at.Stand(worn.Select(x => WearPoints.ToPoint(x, facts)).OfType<DuePoint>(), settings.ComingDays);
        return new(
            machine,
            at,
            facts.Offsets.At(now),
            [.. service.OrderByDescending(x => x.Status.Status).ThenBy(x => x.Status.HoursLeft ?? double.MaxValue)],
            [.. items.Where(x => x.Item.IsDaily)],
            TodayView.Urgency(service.Select(x => x.Status).Concat(wear), use),
            items
                .Select(x => (x.Item.Code, x.Item.Name))
                .Concat(worn.Select(x => (Code: WearPoints.Prefix + x.CheckCode, x.Name)))
                .ToDictionary(x => x.Code, x => x.Name, StringComparer.Ordinal),
            worn,
            facts.Record,
            facts.Unconfirmed,
            facts.UnconfirmedKm,
            newest,
            facts.Zone
        );
    }

    private static List<CompartmentView> Compartments(MachineStand stand, List<MachineCompartment> known)
    {
        var machine = stand.Machine;
        var items = stand.Items.Concat(stand.Daily).ToList();
        var options = machine.OptionWords;
        return
        [
            .. machine
                .Program.Compartments.Where(x => OptionRule.Holds(x.Needs, options))
                .Select(compartment =>
                {
                    var own = known.Find(x => x.Code == compartment.Code);
                    var here = items.Where(x => x.Item.Compartment == compartment.Code).ToList();
                    var next = here.Where(x => !x.Item.IsDaily && x.Status.Status != DueStatus.Finished)
                        .OrderByDescending(x => x.Status.Status)
                        .ThenBy(x => x.Status.HoursLeft ?? double.MaxValue)
                        .FirstOrDefault();
                    return new CompartmentView(
                        compartment,
                        own?.CapacityLitres?.Value,
                        own?.Fluid ?? "",
                        here.Count,
                        next?.Status,
                        here.Exists(x => x.Item.Work == ItemWork.Sample)
                    );
                }),
        ];
    }

    /// <summary>The row of the last completion per item, for who and when.</summary>
    private async Task<List<CompletionRow>> LastRows(int machineId, CancellationToken ct)
    {
        var ids = await db.Plain(
            $"""
            SELECT c.Id FROM Machines m JOIN ProgramItems i ON i.ProgramId = m.ProgramId
                JOIN Completions c ON c.Id = (
                    SELECT d.Id FROM Completions d WHERE d.MachineId = m.Id AND d.ItemCode = i.Code AND d.VoidedMs IS NULL
                    ORDER BY d.LifeTenths DESC, d.DoneOn DESC LIMIT 1)
            WHERE m.Id = {machineId}
            """,
            x => x.GetInt64(0),
            ct
        );
        return await db.Completions.AsNoTracking().Where(x => ids.Contains(x.Id)).ToListAsync(ct);
    }

    /// <summary>The latest batches of work and baselines, voided ones too. Daily care on its own is left to its list.</summary>
    private async Task<List<WorkBatch>> RecentWork(int machineId, CancellationToken ct)
    {
        var batches = await db.Plain(
            $"""
            SELECT x.Batch, MAX(x.EnteredMs) AS Newest FROM Completions x
                JOIN Machines m ON m.Id = x.MachineId
                LEFT JOIN ProgramItems i ON i.ProgramId = m.ProgramId AND i.Code = x.ItemCode
            WHERE x.MachineId = {machineId} AND x.EnteredMs >= (
                SELECT COALESCE(MIN(EnteredMs), 0)
                FROM (SELECT EnteredMs FROM Completions WHERE MachineId = {machineId} ORDER BY EnteredMs DESC LIMIT 600))
              AND NOT COALESCE(i.EveryTenths BETWEEN 1 AND 100, 0)
            GROUP BY x.Batch ORDER BY Newest DESC LIMIT {Recent}
            """,
            x => x.GetString(0),
            ct
        );
        var rows = await db.Completions.WithVoided().AsNoTracking().Where(x => batches.Contains(x.Batch)).ToListAsync(ct);
        return
        [
            .. rows.GroupBy(x => x.Batch)
                .Select(g => new WorkBatch(
                    g.Key,
                    g.First().Kind,
                    g.First().DoneOn,
                    g.First().ShownHours,
                    g.First().By,
                    g.First().SaidBy,
                    g.First().Note,
                    g.Max(x => x.EnteredAt),
                    [.. g.OrderBy(x => x.Id)]
                ))
                .OrderByDescending(x => x.On)
                .ThenByDescending(x => x.ShownHours)
                .ThenByDescending(x => x.EnteredAt),
        ];
    }
}
