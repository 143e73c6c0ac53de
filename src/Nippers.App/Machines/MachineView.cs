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
/// <param name="Unconfirmed">Readings that nobody has confirmed.</param>
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
    int Unconfirmed,
    long NewestCompletion,
    TimeZoneInfo Zone
)
{
    /// <summary>What the meter shows for some life hours.</summary>
    public double Shows(double lifeHours) => lifeHours - OffsetHours.Value;
}

/// <summary>Everything the machine page shows.</summary>
public sealed record MachinePage(
    MachineStand Stand,
    ImmutableArray<UseInterval> Evidence,
    ImmutableArray<double> BlockMeans,
    IReadOnlyDictionary<string, CompletionRow> LastDone,
    IReadOnlyList<CompartmentView> Compartments,
    IReadOnlyList<ReadingRow> Readings,
    IReadOnlyList<MeterChange> MeterChanges,
    IReadOnlyList<ParkedRow> Parked,
    IReadOnlyList<WorkBatch> Work,
    IReadOnlyList<double> PastWork,
    IReadOnlyList<AuditRow> Audit,
    IReadOnlyList<DefectRow> Defects,
    WalkRow? LastWalk,
    RunFacts Facts
) : MachineStand(Stand)
{
    /// <summary>May it run.</summary>
    public RunAnswer Answer => Facts.Answer(Defects.Select(x => x.Clock));

    /// <summary>When somebody walked round it today; null when nobody has.</summary>
    public DateTimeOffset? WalkedAt => LastWalk?.On == Now.Today ? LastWalk.FinishedAt : null;
}

/// <summary>What a form that takes a reading says of the meter.</summary>
/// <param name="Site">Name of the machine's site.</param>
/// <param name="Zone">Its zone.</param>
/// <param name="Last">The last reading that counts; null for none.</param>
/// <param name="Wrong">The reading that is to be replaced; null for none.</param>
public sealed record MeterFace(string Site, TimeZoneInfo Zone, ReadingRow? Last, ReadingRow? Wrong);

/// <summary>Reads the machine page: a bounded number of queries whatever the machine's age.</summary>
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

        var stand = await StandOf(facts, newest, now, ct);
        var machine = facts.Machine;
        machine.Compartments = await db.MachineCompartments.AsNoTracking().Where(x => x.MachineId == machine.Id).ToListAsync(ct);
        var readings = await db
            .Readings.AsNoTracking()
            .Where(x => x.MachineId == machine.Id && (x.State == ReadingState.Accepted || x.State == ReadingState.Unconfirmed))
            .OrderByDescending(x => x.At)
            .ThenByDescending(x => x.LifeHours)
            .Take(RecentReadings)
            .ToListAsync(ct);
        var changes = await db
            .MeterChanges.AsNoTracking()
            .WithVoided()
            .Where(x => x.MachineId == machine.Id)
            .OrderByDescending(x => x.At)
            .ToListAsync(ct);
        var parked = await db
            .Parked.AsNoTracking()
            .Where(x => x.MachineId == machine.Id)
            .OrderByDescending(x => x.From)
            .Take(Recent)
            .ToListAsync(ct);
        var since = new MeterHours((int)((stand.Now.Hours - TapeBack) * 10));
        var past = await db
            .Completions.Where(x => x.MachineId == machine.Id && x.Kind == CompletionKind.Work && x.LifeHours >= since)
            .GroupBy(x => x.Batch)
            .Select(g => g.Min(x => x.LifeHours))
            .ToListAsync(ct);
        var audit = await db
            .Audit.AsNoTracking()
            .Where(x => x.MachineId == machine.Id)
            .OrderByDescending(x => x.At)
            .ThenByDescending(x => x.Id)
            .Take(Recent)
            .ToListAsync(ct);
        var lastWalk = await db
            .Walks.AsNoTracking()
            .Where(x => x.MachineId == machine.Id && x.State == WalkState.Finished && x.Answered > 0)
            .OrderByDescending(x => x.On)
            .ThenByDescending(x => x.Id)
            .FirstOrDefaultAsync(ct);

        return new(
            stand,
            UsePerDay.Evidence(facts.Record, now),
            UsePerDay.BlockMeans(facts.Record, now),
            (await LastRows(machine.Id, ct)).ToDictionary(x => x.ItemCode, StringComparer.Ordinal),
            Compartments(stand),
            readings,
            changes,
            parked,
            await RecentWork(machine.Id, ct),
            [.. past.Select(x => x.Value).Distinct().Order()],
            audit,
            await db.OpenDefects(machine.Id, ct),
            lastWalk,
            await db.RunFactsOf(machine.Id, ct)
        );
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
            facts.Unconfirmed,
            newest,
            facts.Zone
        );
    }

    private static List<CompartmentView> Compartments(MachineStand stand)
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
                    var own = machine.Compartments.FirstOrDefault(x => x.Code == compartment.Code);
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
