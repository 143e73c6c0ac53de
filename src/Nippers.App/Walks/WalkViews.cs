using System.Collections.Immutable;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Statuses;
using Nippers.Core.Defects;
using Nippers.Core.Fluids;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Programs;
using Nippers.Data.Queries;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>A round that is due.</summary>
/// <param name="Part">Which.</param>
/// <param name="Checks">Checks in it.</param>
/// <param name="Minutes">Minutes that it takes as it is meant.</param>
public sealed record WalkOffer(WalkPart Part, int Checks, int Minutes);

/// <summary>What the start of a walk shows.</summary>
public sealed record WalkStart(
    Machine Machine,
    WalkRow? Open,
    RunAnswer Answer,
    IReadOnlyList<DefectRow> Defects,
    MeterHours LastShown,
    DateTimeOffset? LastAt,
    double HoursNow,
    IReadOnlyList<WalkCheck> OnSign,
    IReadOnlyList<WalkOffer> Offers,
    int LookAgain,
    DateOnly? WalkedOn,
    DateOnly Today,
    TimeZoneInfo Zone,
    ParkingRow? Parking = null,
    double Pace = 1,
    double? KmNow = null
);

/// <summary>A walk on paper.</summary>
public sealed record WalkSheet(
    Machine Machine,
    string ListName,
    CheckList List,
    ImmutableArray<WalkStep> Steps,
    IReadOnlyList<DefectRow> Defects,
    DateOnly Today
);

/// <summary>One day of a machine's strip.</summary>
public enum WalkDayState
{
    /// <summary>Nothing was asked: the machine did not work, or it is no working day.</summary>
    Idle,

    Done,
    TooQuick,
    Late,
    Unfinished,
    Missed,
}

/// <summary>A day on a strip of walks.</summary>
public sealed record WalkDay(DateOnly On, WalkDayState State, long? WalkId, int Faults);

/// <summary>A machine on the overview of walks.</summary>
public sealed record WalkLine(
    string Unit,
    MachineKind Kind,
    string Site,
    long? OpenWalk,
    int OpenAnswered,
    int OpenDue,
    IReadOnlyList<WalkDay> Days,
    RunAnswer Answer,
    MeterHours OffsetHours,
    bool WalkedToday,
    string? KindName,
    DateTimeOffset? WalkedAt,
    TimeZoneInfo Zone
);

public sealed record WalksOverview(
    IReadOnlyList<WalkLine> Lines,
    IReadOnlyList<string> Sites,
    string? Site,
    int Page,
    int Pages,
    DateOnly Today
);

/// <summary>One measure over time.</summary>
public sealed record MeasureSeries(WalkCheck Check, IReadOnlyList<MeasureRow> Points);

/// <summary>What a compartment used up.</summary>
public sealed record CompartmentUse(ProgramCompartment Compartment, Consumption Use, IReadOnlyList<TopUpRow> TopUps);

/// <summary>Looking back on a machine's walks.</summary>
public sealed record MachineWalks(
    Machine Machine,
    IReadOnlyList<WalkRow> Walks,
    long? NextBefore,
    IReadOnlyList<WalkDay> Days,
    IReadOnlyList<MeasureSeries> Measures,
    IReadOnlyList<WornPart> Worn,
    IReadOnlyList<CompartmentUse> Use,
    int WaterDrained,
    bool WaterPointsAtSupply,
    IReadOnlyList<Availability> Availability,
    MachineNow Now,
    MeterHours OffsetHours,
    TimeZoneInfo Zone
);

/// <summary>Reads walks for pages.</summary>
public sealed class WalkViews(NippersDb db, Standings standings, TimeProvider clock)
{
    private const int StripDays = 14;
    private const int MachineStripDays = 42;
    private const int PageSize = 30;
    private const int WalksPage = 30;
    private const int MostPoints = 60;
    private const int Months = 6;

    /// <summary>What the start of a walk on a machine shows.</summary>
    public async Task<WalkStart?> Start(string unit, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        await standings.RaisePassed(now, ct, db.Machines.Where(x => x.Unit == unit).Select(x => x.Id));
        var facts = await db.FactsOf(unit, now, ct);
        if (facts is null)
            return null;
        var machine = facts.Machine;
        var use = UsePerDay.Estimate(facts.Record, now);
        var list = (await db.ListOf(machine, ct))?.ToList();
        var defects = await db.OpenDefects(machine.Id, ct);
        var offset = facts.Offsets.At(now);
        var life = MeterHours.Of(Math.Clamp(use.HoursNow(now), 0, MeterHours.Max.Value));
        var last = list is null ? [] : await db.ChecksLastDone(machine.Id, ct);
        var pace = await db.PaceOf(machine.Id, LocalDay.Of(now, facts.Zone), ct);
        var walked = await db
            .Walks.Where(x => x.MachineId == machine.Id && x.State == WalkState.Finished && x.Answered > 0)
            .MaxAsync(x => (DateOnly?)x.On, ct);
        return new(
            machine,
            await db.OpenWalk(machine.Id, WalkRound.Whole, ct) ?? await db.OpenWalk(machine.Id, WalkRound.Second, ct),
            (await db.RunFactsOf(machine.Id, ct)).Answer(defects.Select(x => x.Clock)),
            defects,
            (use.Last.Hours - offset).Clamped,
            use.HasReading ? use.Last.At : null,
            use.HoursNow(now) - offset.Value,
            list is null ? [] : [.. list.Checks.Where(x => x.Cadence == Cadence.OnSign && OptionRule.Holds(x.Needs, machine.OptionWords))],
            list is null
                ? []
                : WalkRules.Offers(
                    list,
                    WalkRoute.Due(list, machine.OptionWords, WalkRound.Whole, last, life, machine.Site.StopsEachWalk),
                    pace
                ),
            (await db.LookAgain(machine.Id, life, ct)).Count,
            walked,
            LocalDay.Of(now, facts.Zone),
            facts.Zone,
            await db.ParkingOf(machine.Id, now, ct),
            pace,
            facts.Odometer is { } odometer ? UsePerDay.Estimate(odometer.Record, now).HoursNow(now) : null
        );
    }

    /// <summary>A machine with what it is walked by, for the card of the evening; null for an unknown unit.</summary>
    public async Task<(Machine Machine, CheckList? List)?> Evening(string unit, CancellationToken ct) =>
        await db.Machines.AsNoTracking().Include(x => x.Site).SingleOrDefaultAsync(x => x.Unit == unit, ct) is { } machine
            ? (machine, (await db.ListOf(machine, ct))?.ToList())
            : null;

    /// <summary>Fittings of a service item that refused grease on the last walks, for a job card.</summary>
    public async Task<IReadOnlyList<GreaseMemory>> GreaseOf(Machine machine, string item, CancellationToken ct)
    {
        var checks = item.Length == 0 ? null : (await db.ListOf(machine, ct))?.ToList().Checks;
        if (checks?.Where(x => x.Kind == CheckKind.Grease && x.Item == item).ToList() is not { Count: > 0 } greased)
            return [];
        var known = await db.GreaseOf([machine.Id], greased, DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime), ct);
        return known.TryGetValue(machine.Id, out var memory) ? [.. greased.SelectMany(x => memory[x.Code])] : [];
    }

    /// <summary>Photos that a walk asked for by chance: their numbers.</summary>
    public Task<List<long>> PhotosOf(long walkId, CancellationToken ct) =>
        db.WalkPhotos.Where(x => x.WalkId == walkId).OrderBy(x => x.Id).Select(x => x.Id).ToListAsync(ct);

    /// <summary>A photo of a walk; null when there is none.</summary>
    public Task<WalkPhoto?> Photo(long walkId, long photoId, CancellationToken ct) =>
        db.WalkPhotos.AsNoTracking().SingleOrDefaultAsync(x => x.Id == photoId && x.WalkId == walkId, ct);

    /// <summary>What a walk on a machine would ask now, for a sheet of paper; null for an unknown unit or one without a list.</summary>
    public async Task<WalkSheet?> Sheet(string unit, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        var facts = await db.FactsOf(unit, now, ct);
        if (facts is null || await db.ListOf(facts.Machine, ct) is not { } version)
            return null;
        var list = version.ToList();
        var life = MeterHours.Of(Math.Clamp(UsePerDay.Estimate(facts.Record, now).HoursNow(now), 0, MeterHours.Max.Value));
        var due = WalkRoute.Due(
            list,
            facts.Machine.OptionWords,
            WalkRound.Whole,
            await db.ChecksLastDone(facts.Machine.Id, ct),
            life,
            facts.Machine.Site.StopsEachWalk
        );
        return new(
            facts.Machine,
            version.List.Name,
            list,
            WalkRoute.Steps(list, due),
            await db.OpenDefects(facts.Machine.Id, ct),
            LocalDay.Of(now, facts.Zone)
        );
    }

    /// <summary>A walk, open or over.</summary>
    public async Task<WalkContext?> Walk(long id, CancellationToken ct)
    {
        await standings.RaisePassed(clock.GetUtcNow(), ct, db.Walks.Where(x => x.Id == id).Select(x => x.MachineId));
        return await WalkContext.Load(db, id, ct);
    }

    /// <summary>The unit of a walk; null when there is none.</summary>
    public Task<string?> UnitOf(long walkId, CancellationToken ct) =>
        db.Walks.Where(x => x.Id == walkId).Select(x => x.Machine.Unit).SingleOrDefaultAsync(ct);

    /// <summary>Machines and their last two weeks of walks.</summary>
    public async Task<WalksOverview> Overview(string? site, int page, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        await standings.RefreshStale(now, ct);
        var machines = db.Statuses.AsNoTracking().Where(x => !x.Machine.Retired && (site == null || x.Machine.Site.Name == site));
        var count = await machines.CountAsync(ct);
        var pages = Math.Max(1, (count + PageSize - 1) / PageSize);
        page = Math.Clamp(page, 1, pages);
        var rows = await machines
            .OrderBy(x => x.Machine.Site.Name)
            .ThenBy(x => x.Machine.Unit)
            .Skip((page - 1) * PageSize)
            .Take(PageSize)
            .Select(x => new
            {
                Row = x,
                x.Machine.Unit,
                x.Machine.Kind,
                x.Machine.Site,
            })
            .ToListAsync(ct);
        var ids = rows.Select(x => x.Row.MachineId).ToList();
        var facts = (await db.FactsOf(ids, now, ct)).ToDictionary(x => x.Machine.Id);
        var since = DateOnly.FromDateTime(now.UtcDateTime).AddDays(-StripDays - 1);
        var walks = (
            await db
                .Walks.AsNoTracking()
                .Where(x => ids.Contains(x.MachineId) && x.On >= since && x.State != WalkState.Voided && x.Round == WalkRound.Whole)
                .ToListAsync(ct)
        ).ToLookup(x => x.MachineId);
        var open = await db
            .Walks.Where(x => ids.Contains(x.MachineId) && x.State == WalkState.Open)
            .Select(x => new
            {
                x.Id,
                x.MachineId,
                x.Due,
                Answered = db.WalkAnswers.Count(a => a.WalkId == x.Id && !a.Code.StartsWith(SaveAnswer.StepPrefix)),
            })
            .ToListAsync(ct);
        var sites = await db.Sites.OrderBy(x => x.Name).Select(x => x.Name).ToListAsync(ct);
        return new(
            [
                .. rows.Select(x =>
                {
                    var mine = facts[x.Row.MachineId];
                    var today = LocalDay.Of(now, mine.Zone);
                    var days = Strip(mine, [.. walks[x.Row.MachineId]], today, StripDays);
                    var going = open.Find(o => o.MachineId == x.Row.MachineId);
                    return new WalkLine(
                        x.Unit,
                        x.Kind,
                        x.Site.Name,
                        going?.Id,
                        going?.Answered ?? 0,
                        going?.Due ?? 0,
                        days,
                        x.Row.Answer,
                        x.Row.OffsetHours,
                        days[^1].State is WalkDayState.Done or WalkDayState.TooQuick or WalkDayState.Late,
                        mine.Machine.WalkList?.Name,
                        x.Row.WalkedOn == today ? x.Row.WalkedAt : null,
                        mine.Zone
                    );
                }),
            ],
            sites,
            site,
            page,
            pages,
            DateOnly.FromDateTime(now.UtcDateTime)
        );
    }

    /// <summary>Everything a machine's walks left behind.</summary>
    public async Task<MachineWalks?> OfMachine(string unit, long? before, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        var facts = await db.FactsOf(unit, now, ct);
        if (facts is null)
            return null;
        var machine = facts.Machine;
        var today = LocalDay.Of(now, facts.Zone);
        var walks = await db
            .Walks.AsNoTracking()
            .Where(x => x.MachineId == machine.Id && (before == null || x.Id < before))
            .OrderByDescending(x => x.On)
            .ThenByDescending(x => x.Id)
            .Take(WalksPage)
            .ToListAsync(ct);
        var since = today.AddDays(-MachineStripDays);
        var strip = await db
            .Walks.AsNoTracking()
            .Where(x => x.MachineId == machine.Id && x.On >= since && x.State != WalkState.Voided && x.Round == WalkRound.Whole)
            .ToListAsync(ct);
        var list = (await db.ListOf(machine, ct))?.ToList();
        var own = await db.ChecksOf(machine.Id, ct);
        var measured = list?.Checks.Where(x => x.Kind is CheckKind.Measure)
            .Select(x => CheckLimits.Apply(x, own.GetValueOrDefault(x.Code)?.ToLimits()))
            .ToList()
            ?? [];
        var points = (await db.MeasuresOf(machine.Id, [.. measured.Select(x => x.Code)], ct)).ToLookup(x => x.CheckCode);
        var bowls = list?.Checks.Where(x => x.Kind == CheckKind.Drain).Select(x => x.Code).ToList() ?? [];
        var water = (await db.MeasuresOf(machine.Id, bowls, ct)).Where(x => x.Value > 0).Select(x => x.On).ToList();
        var at = new MachineNow(UsePerDay.Estimate(facts.Record, now), now, facts.Zone);
        return new(
            machine,
            walks,
            walks.Count == WalksPage ? walks[^1].Id : null,
            Strip(facts, strip, today, MachineStripDays),
            [.. measured.Where(x => points[x.Code].Any()).Select(x => new MeasureSeries(x, [.. points[x.Code].TakeLast(MostPoints)]))],
            [.. (await db.WornParts([machine.Id], ct))[machine.Id]],
            await Use(facts, at, ct),
            FuelWater.Count(water, today),
            FuelWater.PointsAtSupply(water, today),
            await Availabilities(facts, now, ct),
            at,
            facts.Offsets.At(now),
            facts.Zone
        );
    }

    private async Task<List<Availability>> Availabilities(MachineFacts facts, DateTimeOffset now, CancellationToken ct)
    {
        DateTime Local(DateTimeOffset at) => TimeZoneInfo.ConvertTime(at, facts.Zone).DateTime;
        var spans = (await db.Stoppages.AsNoTracking().Where(x => x.MachineId == facts.Machine.Id).ToListAsync(ct))
            .Select(x => (Local(x.From), x.To is { } to ? Local(to) : (DateTime?)null))
            .ToList();
        var today = LocalDay.Of(now, facts.Zone);
        return
        [
            .. Enumerable
                .Range(0, Months)
                .Select(back =>
                    Core.Defects.Availability.Of(
                        today.AddMonths(-back),
                        spans,
                        facts.Machine.PlannedHoursPerDay,
                        facts.Machine.Site.Working,
                        facts.Machine.CommissionedOn,
                        Local(now)
                    )
                )
                .Where(x => x.ScheduledHours > 0),
        ];
    }

    private async Task<List<CompartmentUse>> Use(MachineFacts facts, MachineNow at, CancellationToken ct)
    {
        var machine = facts.Machine;
        var rows = (
            await db.TopUps.AsNoTracking().Where(x => x.MachineId == machine.Id).OrderBy(x => x.LifeHours).ToListAsync(ct)
        ).ToLookup(x => x.Compartment);
        var capacities = await db
            .MachineCompartments.AsNoTracking()
            .Where(x => x.MachineId == machine.Id)
            .ToDictionaryAsync(x => x.Code, x => x.CapacityLitres, ct);
        var from = await db
            .Walks.Where(x => x.MachineId == machine.Id && x.State == WalkState.Finished)
            .MinAsync(x => (MeterHours?)x.LifeHours, ct)
            ?? MeterHours.Zero;
        return
        [
            .. machine
                .Program.Compartments.Where(x => rows[x.Code].Any())
                .Select(compartment =>
                {
                    var changes = machine
                        .Program.Items.Where(x => x.Compartment == compartment.Code && x.ChangesFluid)
                        .Select(x => facts.LastDone.GetValueOrDefault(x.Code)?.Hours ?? MeterHours.Zero)
                        .DefaultIfEmpty()
                        .Max();
                    var tops = rows[compartment.Code].ToList();
                    return new CompartmentUse(
                        compartment,
                        Consumption.Of(
                            [.. tops.Select(x => new TopUp(x.LifeHours, x.Litres.Value))],
                            changes,
                            MeterHours.Least(from, tops[0].LifeHours),
                            at.Hours,
                            capacities.GetValueOrDefault(compartment.Code)?.Value
                        ),
                        tops
                    );
                }),
        ];
    }

    private static List<WalkDay> Strip(MachineFacts facts, List<WalkRow> walks, DateOnly today, int days)
    {
        var byDay = walks
            .GroupBy(x => x.On)
            .ToDictionary(g => g.Key, g => g.OrderByDescending(x => x.State == WalkState.Finished).ThenByDescending(x => x.Id).First());
        var finished = byDay.Where(x => x.Value is { State: WalkState.Finished, Answered: > 0 }).Select(x => x.Key).ToHashSet();
        var missed = StatusKeeper.Missed(facts, finished, today, days).ToHashSet();
        return
        [
            .. Enumerable
                .Range(0, days)
                .Select(back => today.AddDays(back - days + 1))
                .Select(day =>
                {
                    if (!byDay.TryGetValue(day, out var walk))
                        return new WalkDay(day, missed.Contains(day) ? WalkDayState.Missed : WalkDayState.Idle, null, 0);
                    var state =
                        walk is not { State: WalkState.Finished, Answered: > 0 } ? WalkDayState.Unfinished
                        : walk.Late ? WalkDayState.Late
                        : walk.TooQuick ? WalkDayState.TooQuick
                        : WalkDayState.Done;
                    return new WalkDay(day, state, walk.Id, walk.Faults);
                }),
        ];
    }
}
