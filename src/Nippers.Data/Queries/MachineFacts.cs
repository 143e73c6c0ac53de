using System.Collections.Immutable;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data.Fleet;
using Nippers.Data.Programs;
using Nippers.Data.Records;

namespace Nippers.Data.Queries;

/// <summary>What verdicts on samples changed of an item's due point.</summary>
/// <param name="Earned">Interval between oil changes that analysis earned; null for none.</param>
/// <param name="Called">Life hours for which it is called; null for none.</param>
public sealed record ItemOrder(MeterHours? Earned, MeterHours? Called);

/// <summary>What the rules need of one machine, loaded.</summary>
public sealed record MachineFacts(
    Machine Machine,
    MeterRecord Record,
    MeterOffsets Offsets,
    IReadOnlyDictionary<string, Completion> LastDone,
    IReadOnlyDictionary<string, ItemOrder> Orders,
    int Unconfirmed
)
{
    /// <summary>The zone of the machine's site.</summary>
    public TimeZoneInfo Zone { get; } = TimeZoneInfo.FindSystemTimeZoneById(Machine.Site.TimeZone);

    /// <summary>Its odometer; null without one.</summary>
    public Odometer? Odometer { get; init; }

    /// <summary>How many of the unconfirmed readings are of its odometer.</summary>
    public int UnconfirmedKm { get; init; }

    /// <summary>The instant that they were loaded for: kilometres are counted on from there.</summary>
    public DateTimeOffset AsOf { get; init; }

    /// <summary>The same with a reading more.</summary>
    public MachineFacts With(Reading reading)
    {
        var at = Record.Readings.Count(x => x.At < reading.At || (x.At == reading.At && x.Hours <= reading.Hours));
        return this with { Record = Record with { Readings = Record.Readings.Insert(at, reading) } };
    }

    /// <summary>The same with work that was just done.</summary>
    public MachineFacts With(IEnumerable<Completion> done) =>
        this with
        {
            LastDone = Core.Service.LastDone.Of(LastDone.Values.Concat(done)),
        };

    /// <summary>When an item of the program is due, with what verdicts on samples changed.</summary>
    public DuePoint Due(ProgramItem item) => Due(item, Machine.Program.ForDue());

    /// <summary>When an item is due under other numbers of the program.</summary>
    public DuePoint Due(ProgramItem item, DueSettings settings)
    {
        var order = Orders.GetValueOrDefault(item.Code);
        var rule = order?.Earned is { } earned ? item.ForDue().Earned(earned) : item.ForDue();
        var point = DuePoint.Of(
            rule,
            Machine.ForDue(),
            LastDone.GetValueOrDefault(item.Code),
            settings,
            Odometer is { } odometer
                ? (every, from, basis) =>
                    KmTrack.Of(
                        every,
                        odometer.At(from is { } day ? LocalDay.StartOf(day.AddDays(1), Zone) : null),
                        basis,
                        settings,
                        odometer,
                        AsOf
                    )
                : null
        );
        return order?.Called is { } called ? point.Called(called, settings) : point;
    }

    /// <summary>Items of the program that belong on this machine and are not switched off.</summary>
    public IEnumerable<ProgramItem> Items => Machine.Program.ItemsOn(Machine.OptionWords);
}

/// <summary>How much of a machine's history is loaded.</summary>
/// <param name="Days">How many days back its readings go.</param>
/// <param name="FillsOver">
/// Only items of a compartment whose interval is longer have their last work, so that nothing may be said to be due; null for all items.
/// </param>
public readonly record struct FactsReach(double Days, MeterHours? FillsOver);

/// <summary>Loads facts of many machines in a number of queries that does not depend on how many.</summary>
public static class MachineFactsQueries
{
    /// <summary>The window of rules 2 and a little, and the last work on every item.</summary>
    private static readonly FactsReach Whole = new(UseSettings.Default.WindowDays + 1, null);

    private sealed record ReadingPoint(int MachineId, long AtMs, int LifeTenths);

    private sealed record DonePoint(int MachineId, string ItemCode, DateOnly DoneOn, int LifeTenths);

    private sealed record OrderPoint(int MachineId, string ItemCode, int Tenths, bool Earned);

    private sealed record UnconfirmedCount(int MachineId, int Count);

    // Every page of a machine asks these: what EF Core makes of a question at each request takes longer than small ones do.
    private static readonly Func<NippersDb, List<int>, IAsyncEnumerable<Machine>> Machines = EF.CompileAsyncQuery(
        (NippersDb db, List<int> ids) =>
            db.Machines.AsNoTracking().Where(x => ids.Contains(x.Id)).Include(x => x.Site).Include(x => x.WalkList)
    );

    private static readonly Func<NippersDb, List<int>, IAsyncEnumerable<ParkedRow>> Parked = EF.CompileAsyncQuery(
        (NippersDb db, List<int> ids) => db.Parked.AsNoTracking().Where(x => ids.Contains(x.MachineId))
    );

    private static readonly Func<NippersDb, List<int>, IAsyncEnumerable<MeterChange>> Swaps = EF.CompileAsyncQuery(
        (NippersDb db, List<int> ids) => db.MeterChanges.AsNoTracking().Where(x => ids.Contains(x.MachineId))
    );

    private static readonly Func<NippersDb, List<int>, IAsyncEnumerable<UnconfirmedCount>> Unconfirmed = EF.CompileAsyncQuery(
        (NippersDb db, List<int> ids) =>
            db
                .Readings.Where(x => ids.Contains(x.MachineId) && x.State == ReadingState.Unconfirmed)
                .GroupBy(x => x.MachineId)
                .Select(g => new UnconfirmedCount(g.Key, g.Count()))
    );

    private static readonly Func<NippersDb, string, CancellationToken, Task<int?>> IdOf = EF.CompileAsyncQuery(
        (NippersDb db, string unit, CancellationToken _) => db.Machines.Where(x => x.Unit == unit).Select(x => (int?)x.Id).SingleOrDefault()
    );

    /// <summary>Facts for judging "now" at an instant.</summary>
    /// <param name="db">The database.</param>
    /// <param name="ids">Machine ids.</param>
    /// <param name="asOf">Now.</param>
    /// <param name="ct">Cancels.</param>
    public static Task<IReadOnlyList<MachineFacts>> FactsOf(
        this NippersDb db,
        IReadOnlyCollection<int> ids,
        DateTimeOffset asOf,
        CancellationToken ct
    ) => db.FactsOf(ids, asOf, Whole, ct);

    /// <summary>The same with less of its history, for what asks for no more.</summary>
    /// <param name="db">The database.</param>
    /// <param name="ids">Machine ids.</param>
    /// <param name="asOf">Now.</param>
    /// <param name="reach">How much of its history.</param>
    /// <param name="ct">Cancels.</param>
    public static async Task<IReadOnlyList<MachineFacts>> FactsOf(
        this NippersDb db,
        IReadOnlyCollection<int> ids,
        DateTimeOffset asOf,
        FactsReach reach,
        CancellationToken ct
    )
    {
        List<int> all = [.. ids];
        var machines = await Machines(db, all).ToListAsync(ct);
        var programs = await db.KeptPrograms(machines.Select(x => x.ProgramId).Distinct().ToList(), ct);
        var parked = (await Parked(db, all).ToListAsync(ct)).ToLookup(x => x.MachineId, x => x.ToSpan());
        var swaps = (await Swaps(db, all).ToListAsync(ct)).ToLookup(
            x => x.MachineId,
            x => new MeterSwap(x.At, x.OldFinalHours, x.NewStartHours)
        );

        var list = JsonSerializer.Serialize(ids);
        var readings = (await db.RecentReadings(list, asOf.AddDays(-reach.Days), ct)).ToLookup(
            x => x.MachineId,
            x => new Reading(DateTimeOffset.FromUnixTimeMilliseconds(x.AtMs), new(x.LifeTenths))
        );
        var done = (await db.LastCompletions(list, reach.FillsOver, ct)).ToLookup(
            x => x.MachineId,
            x => new Completion(x.ItemCode, x.DoneOn, new(x.LifeTenths))
        );
        var orders = (await db.ItemOrders(list, ct)).ToLookup(x => x.MachineId);
        var unconfirmed = await Unconfirmed(db, all).ToDictionaryAsync(x => x.MachineId, x => x.Count, cancellationToken: ct);

        var driven = machines.Where(x => x.CommissionedKm is not null).Select(x => x.Id).ToList();
        var odometers =
            driven.Count == 0
                ? null
                : (
                    await db.OdometerReadings.AsNoTracking().Where(x => driven.Contains(x.MachineId)).OrderBy(x => x.At).ToListAsync(ct)
                ).ToLookup(x => (x.MachineId, x.ToConfirm), x => x.ToReading());
        var facts = new List<MachineFacts>(machines.Count);
        foreach (var machine in machines)
        {
            machine.Program = programs[machine.ProgramId];
            var unconfirmedKm = odometers?[(machine.Id, true)].Count() ?? 0;
            facts.Add(
                new(
                    machine,
                    new MeterRecord(
                        [.. readings[machine.Id]],
                        [.. parked[machine.Id]],
                        machine.PlannedHoursPerDay,
                        machine.CommissionedOn,
                        machine.CommissionedHours
                    ),
                    new MeterOffsets(swaps[machine.Id]),
                    LastDone.Of(done[machine.Id]),
                    ToOrders(orders[machine.Id]),
                    unconfirmed.GetValueOrDefault(machine.Id) + unconfirmedKm
                )
                {
                    AsOf = asOf,
                    UnconfirmedKm = unconfirmedKm,
                    Odometer = machine.CommissionedKm is { } km
                        ? new(
                            new(
                                [.. odometers![(machine.Id, false)]],
                                [.. parked[machine.Id]],
                                machine.PlannedKmPerDay,
                                machine.CommissionedOn,
                                MeterHours.Of(km)
                            )
                        )
                        : null,
                }
            );
        }

        return facts;
    }

    /// <summary>Facts of one machine, its readings chosen around an instant that may lie in the past.</summary>
    public static async Task<MachineFacts?> FactsOf(this NippersDb db, string unit, DateTimeOffset around, CancellationToken ct)
    {
        var id = await IdOf(db, unit, ct);
        return id is { } found ? (await db.FactsOf([found], around, ct)).Single() : null;
    }

    /// <summary>Programs with all that belongs to them, by id.</summary>
    public static async Task<Dictionary<int, ServiceProgram>> ProgramsWithItems(
        this NippersDb db,
        IReadOnlyCollection<int> ids,
        CancellationToken ct
    ) =>
        await db
            .Programs.AsNoTracking()
            .AsSplitQuery()
            .Include(x => x.Items.OrderBy(i => i.Position))
            .Include(x => x.Compartments.OrderBy(c => c.Position))
            .Where(x => ids.Contains(x.Id))
            .ToDictionaryAsync(x => x.Id, ct);

    /// <summary>
    /// Accepted readings since an instant and the one before it. Reaches further back for a machine whose open parked
    /// span began earlier, because the first reading with more hours ends that span.
    /// </summary>
    private static async Task<List<ReadingPoint>> RecentReadings(this NippersDb db, string ids, DateTimeOffset since, CancellationToken ct)
    {
        var sinceMs = since.ToUnixTimeMilliseconds();
        return await db.Plain(
            $"""
            WITH Wanted AS (
                SELECT m.value AS Id,
                       MIN({sinceMs}, COALESCE(
                       (SELECT MIN(p.FromMs) FROM Parked p WHERE p.MachineId = m.value AND p.ToMs IS NULL), {sinceMs})) AS SinceMs
                FROM json_each({ids}) m),
            Start AS (
                SELECT w.Id, COALESCE((
                    SELECT MAX(b.AtMs) FROM Readings b WHERE b.MachineId = w.Id AND b.State = 0 AND b.AtMs <= w.SinceMs), 0) AS FromMs
                FROM Wanted w)
            SELECT r.MachineId, r.AtMs, r.LifeTenths
            FROM Start s JOIN Readings r ON r.MachineId = s.Id AND r.State = 0 AND r.AtMs >= s.FromMs
            ORDER BY r.MachineId, r.AtMs, r.LifeTenths
            """,
            x => new ReadingPoint(x.GetInt32(0), x.GetInt64(1), x.GetInt32(2)),
            ct
        );
    }

    private static Dictionary<string, ItemOrder> ToOrders(IEnumerable<OrderPoint> points) =>
        points
            .GroupBy(x => x.ItemCode)
            .ToDictionary(
                x => x.Key,
                x => new ItemOrder(
                    x.Where(y => y.Earned).Select(y => (MeterHours?)new MeterHours(y.Tenths)).FirstOrDefault(),
                    x.Where(y => !y.Earned).Select(y => (MeterHours?)new MeterHours(y.Tenths)).Min()
                ),
                StringComparer.Ordinal
            );

    /// <summary>WorkRequests that no work has answered yet, and intervals that analysis earned.</summary>
    private static async Task<List<OrderPoint>> ItemOrders(this NippersDb db, string ids, CancellationToken ct) =>
        await db.Plain(
            $"""
            SELECT c.MachineId, c.ItemCode, c.DueTenths AS Tenths, 0 AS Earned
            FROM json_each({ids}) m JOIN WorkRequests c ON c.MachineId = m.value AND c.VoidedMs IS NULL AND c.DueTenths IS NOT NULL
            WHERE NOT EXISTS (SELECT 1 FROM Completions d
                WHERE d.MachineId = c.MachineId AND d.ItemCode = c.ItemCode AND d.VoidedMs IS NULL
                    AND d.EnteredMs > c.AtMs AND d.DoneOn >= c."On")
            UNION ALL
            SELECT k.MachineId, i.Code, k.DrainTenths, 1
            FROM json_each({ids}) m JOIN MachineCompartments k ON k.MachineId = m.value AND k.DrainTenths IS NOT NULL
                JOIN Machines x ON x.Id = k.MachineId
                JOIN ProgramItems i ON i.ProgramId = x.ProgramId AND i.Compartment = k.Code AND i.Work = 'Fluid'
            """,
            x => new OrderPoint(x.GetInt32(0), x.GetString(1), x.GetInt32(2), x.GetBoolean(3)),
            ct
        );

    /// <summary>The last work on each item of the program: one look into the index each, however long the history is.</summary>
    private static async Task<List<DonePoint>> LastCompletions(this NippersDb db, string ids, MeterHours? fillsOver, CancellationToken ct)
    {
        var over = fillsOver?.Tenths ?? -1;
        return await db.Plain(
            $"""
            SELECT c.MachineId, c.ItemCode, c.DoneOn, c.LifeTenths
            FROM json_each({ids}) m JOIN Machines x ON x.Id = m.value JOIN ProgramItems i ON i.ProgramId = x.ProgramId
                JOIN Completions c ON c.Id = (
                    SELECT d.Id FROM Completions d WHERE d.MachineId = x.Id AND d.ItemCode = i.Code AND d.VoidedMs IS NULL
                    ORDER BY d.LifeTenths DESC, d.DoneOn DESC LIMIT 1)
            WHERE {over} < 0 OR (i.EveryTenths > {over} AND i.Compartment <> '')
            """,
            x => new DonePoint(x.GetInt32(0), x.GetString(1), x.GetFieldValue<DateOnly>(2), x.GetInt32(3)),
            ct
        );
    }
}
