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
public sealed record MachineItem(ProgramItem Item, ItemStatus Status, CompletionRow? LastDone);

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

/// <summary>Everything the machine page shows.</summary>
public sealed record MachinePage(
    Machine Machine,
    MachineNow Now,
    MeterHours OffsetHours,
    ImmutableArray<UseInterval> Evidence,
    ImmutableArray<double> BlockMeans,
    IReadOnlyList<MachineItem> Items,
    IReadOnlyList<MachineItem> Daily,
    ImmutableArray<DueGroup> Groups,
    IReadOnlyDictionary<string, string> ItemNames,
    IReadOnlyList<CompartmentView> Compartments,
    IReadOnlyList<ReadingRow> Readings,
    IReadOnlyList<MeterChange> MeterChanges,
    IReadOnlyList<ParkedRow> Parked,
    IReadOnlyList<WorkBatch> Work,
    IReadOnlyList<double> PastWork,
    IReadOnlyList<AuditRow> Audit,
    long NewestCompletion,
    TimeZoneInfo Zone,
    IReadOnlyList<DefectRow> Defects,
    IReadOnlyList<WornPart> Worn,
    WalkRow? LastWalk,
    RunFacts Facts
)
{
    /// <summary>May it run.</summary>
    public RunAnswer Answer => Facts.Answer(Defects.Select(x => x.Clock));

    /// <summary>When somebody walked round it today; null when nobody has.</summary>
    public DateTimeOffset? WalkedAt => LastWalk?.On == Now.Today ? LastWalk.FinishedAt : null;

    /// <summary>What the meter shows for some life hours.</summary>
    public double Shows(double lifeHours) => lifeHours - OffsetHours.Value;
}

/// <summary>Reads the machine page: a bounded number of queries whatever the machine's age.</summary>
public sealed class MachineView(NippersDb db, Standings standings, TimeProvider clock)
{
    private const int Recent = 12;
    private const int RecentReadings = 7;
    private const double TapeBack = 400;

    private sealed record LastDoneId(long Id);

    public async Task<MachinePage?> Run(string unit, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        await standings.RaisePassed(now, ct, db.Machines.Where(x => x.Unit == unit).Select(x => x.Id));
        var facts = await db.FactsOf(unit, now, ct);
        if (facts is null)
            return null;

        var machine = facts.Machine;
        machine.Compartments = await db.MachineCompartments.AsNoTracking().Where(x => x.MachineId == machine.Id).ToListAsync(ct);
        var use = UsePerDay.Estimate(facts.Record, now);
        var at = new MachineNow(use, now, facts.Zone);
        var settings = machine.Program.ForDue();
        var lastRows = (await LastRows(machine.Id, ct)).ToDictionary(x => x.ItemCode, StringComparer.Ordinal);
        var items = facts
            .Items.Select(item => new MachineItem(
                item,
                at.Stand(facts.Due(item), settings.ComingDays),
                lastRows.GetValueOrDefault(item.Code)
            ))
            .ToList();
        var service = items.Where(x => !x.Item.IsDaily).ToList();

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
        var work = await RecentWork(machine.Id, ct);
        var since = new MeterHours((int)((at.Hours - TapeBack) * 10));
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
        var newest = await db.Completions.Where(x => x.MachineId == machine.Id).MaxAsync(x => (long?)x.Id, ct) ?? 0;

        var defects = await db.OpenDefects(machine.Id, ct);
        var worn = (await db.WornParts([machine.Id], ct))[machine.Id].ToList();
        var wear = at.Stand(worn.Select(x => WearPoints.ToPoint(x, facts)).OfType<DuePoint>(), settings.ComingDays);
        var names = items
            .Select(x => (x.Item.Code, x.Item.Name))
            .Concat(worn.Select(x => (Code: WearPoints.Prefix + x.CheckCode, x.Name)))
            .ToDictionary(x => x.Code, x => x.Name, StringComparer.Ordinal);
        var lastWalk = await db
            .Walks.AsNoTracking()
            .Where(x => x.MachineId == machine.Id && x.State == WalkState.Finished && x.Answered > 0)
            .OrderByDescending(x => x.On)
            .ThenByDescending(x => x.Id)
            .FirstOrDefaultAsync(ct);

        return new(
            machine,
            at,
            facts.Offsets.At(now),
            UsePerDay.Evidence(facts.Record, now),
            UsePerDay.BlockMeans(facts.Record, now),
            [.. service.OrderByDescending(x => x.Status.Status).ThenBy(x => x.Status.HoursLeft ?? double.MaxValue)],
            [.. items.Where(x => x.Item.IsDaily)],
            TodayView.Urgency(service.Select(x => x.Status).Concat(wear), use),
            names,
            Compartments(machine, items),
            readings,
            changes,
            parked,
            work,
            [.. past.Select(x => x.Value).Distinct().Order()],
            audit,
            newest,
            facts.Zone,
            defects,
            worn,
            lastWalk,
            await db.RunFactsOf(machine.Id, ct)
        );
    }

    private static List<CompartmentView> Compartments(Machine machine, List<MachineItem> items)
    {
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
    private async Task<List<CompletionRow>> LastRows(int machineId, CancellationToken ct) =>
        await db
            .Completions.FromSql(
                $"""
                SELECT c.* FROM Completions c JOIN (
                    SELECT Id, ROW_NUMBER() OVER (PARTITION BY ItemCode ORDER BY LifeTenths DESC, DoneOn DESC) AS Place
                    FROM Completions WHERE MachineId = {machineId} AND VoidedMs IS NULL) p ON p.Id = c.Id
                WHERE p.Place = 1
                """
            )
            .AsNoTracking()
            .ToListAsync(ct);

    /// <summary>The latest batches of work and baselines, voided ones too. Daily care on its own is left to its list.</summary>
    private async Task<List<WorkBatch>> RecentWork(int machineId, CancellationToken ct)
    {
        var rows = await db
            .Completions.FromSql(
                $"""
                SELECT c.* FROM Completions c JOIN (
                    SELECT x.Batch, MAX(x.EnteredMs) AS Newest FROM Completions x
                    JOIN Machines m ON m.Id = x.MachineId
                    LEFT JOIN ProgramItems i ON i.ProgramId = m.ProgramId AND i.Code = x.ItemCode
                    WHERE x.MachineId = {machineId} AND x.EnteredMs >= (
                        SELECT COALESCE(MIN(EnteredMs), 0)
                        FROM (SELECT EnteredMs FROM Completions WHERE MachineId = {machineId} ORDER BY EnteredMs DESC LIMIT 600))
                      AND NOT COALESCE(i.EveryTenths BETWEEN 1 AND 100, 0)
                    GROUP BY x.Batch ORDER BY Newest DESC LIMIT {Recent}) b ON b.Batch = c.Batch
                """
            )
            .WithVoided()
            .AsNoTracking()
            .ToListAsync(ct);
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
