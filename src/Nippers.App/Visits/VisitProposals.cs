using System.Collections.Immutable;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Queries;
using Nippers.Data.Visits;

namespace Nippers.App.Visits;

/// <summary>An item that a visit may do.</summary>
/// <param name="Code">Item, wear part (<c>wear:</c>) or defect (<c>defect:</c> and its number).</param>
/// <param name="Name">Its name.</param>
/// <param name="Plan">Its days, costs and windows, as the planner takes it.</param>
/// <param name="Cost">What it costs by itself.</param>
/// <param name="Stand">Its standing; null for a defect.</param>
/// <param name="Care">The crew's between visits; it joins, and sends nobody out.</param>
/// <param name="Carried">Left undone at the last visit.</param>
/// <param name="Sample">A sample is taken, and nothing else.</param>
/// <param name="Joins">It sends nobody out while the machine is parked, and joins a visit that is made for something else.</param>
public sealed record VisitCandidate(
    string Code,
    string Name,
    VisitItem Plan,
    ItemCost Cost,
    ItemStatus? Stand,
    bool Care = false,
    bool Carried = false,
    bool Joins = false,
    bool Sample = false
)
{
    // Something done once has no next turn; far beyond any horizon is as good as never.
    internal const int NeverDays = 100_000;

    /// <summary>It waits for a visit, whenever that is: a defect for the next service.</summary>
    public bool Waits => Plan.DueDay >= NeverDays;
}

/// <summary>An item of a proposed visit.</summary>
/// <param name="Early">Days early; negative late.</param>
/// <param name="CoveredBy">Name of the item that does it; null when it is done for itself.</param>
public sealed record ProposedItem(VisitCandidate Candidate, int Early, string? CoveredBy = null)
{
    /// <summary>Days outside its window: above zero before it, below zero past it; 0 inside, and for what has none.</summary>
    public int Outside =>
        CoveredBy is not null || Candidate.Care || Candidate.Waits ? 0
        : Early > 0 ? Math.Max(0, Early - Candidate.Plan.EarlyDays)
        : Math.Min(0, Early + Candidate.Plan.LateDays);
}

/// <summary>What a visit costs, in money.</summary>
/// <param name="Lab">The laboratory's fee for its bottles.</param>
/// <param name="CallOut">Going to the machine; nothing where it is hauled.</param>
/// <param name="Haulage">Bringing it to the workshop and back; nothing where somebody goes to it.</param>
/// <param name="Downtime">What it costs that it stands meanwhile.</param>
public sealed record VisitMoney(
    double Parts,
    double Fluids,
    double Minutes,
    double Labour,
    double Lab,
    double CallOut,
    double Haulage,
    double Downtime,
    double Waste,
    double Lateness
)
{
    /// <summary>All of it together; lateness weighs in the choice, and nobody pays it.</summary>
    public double Whole => Parts + Fluids + Labour + Lab + CallOut + Haulage + Downtime;
}

/// <summary>What a visit is called.</summary>
internal static class VisitName
{
    // Of so much of its hands at least a visit bears the name of their interval: one filter of a longer one does not name it.
    private const double Share = 1.0 / 3;

    /// <summary>The longest interval that a third of the hands belong to, with all longer ones; null when none has hours.</summary>
    public static double? HoursOf(IEnumerable<(double? Hours, double Minutes)> items)
    {
        var tiers = items.Where(x => x.Hours is not null).OrderByDescending(x => x.Hours).ToList();
        var wanted = tiers.Sum(x => x.Minutes) * Share;
        double sum = 0;
        foreach (var (hours, minutes) in tiers)
        {
            if ((sum += minutes) >= wanted)
                return hours;
        }

        return null;
    }
}

/// <summary>A visit that Nippers proposes.</summary>
public sealed record ProposedVisit(DateOnly On, int Day, IReadOnlyList<ProposedItem> Items, VisitMoney Money)
{
    /// <summary>How many of its items are past their windows.</summary>
    public int PastDue => Items.Count(x => x.Outside < 0 || x.Candidate.Stand is { Status: DueStatus.Overdue });

    /// <summary>The interval by whose work it is named, hours; null when none has hours.</summary>
    public double? NameHours =>
        VisitName.HoursOf(
            Items.Where(x => x.CoveredBy is null && !x.Candidate.Care).Select(x => (IntervalOf(x), x.Candidate.Cost.Minutes))
        );

    private static double? IntervalOf(ProposedItem item) =>
        item.Candidate.Stand?.Point is { Basis: not DueBasis.Wear } point ? point.IntervalHours : null;
}

/// <summary>Proposed visits of a machine over the horizon, beside the naive rule.</summary>
public sealed record VisitProposal(
    ServiceSheet Sheet,
    MachineNow Now,
    IReadOnlyList<VisitCandidate> Candidates,
    IReadOnlyList<ProposedVisit> Visits,
    VisitPlan Plan,
    VisitPlan Naive,
    int Horizon
)
{
    public string Unit => Sheet.Facts.Machine.Unit;
}

/// <summary>Works out which visits to make.</summary>
public sealed class VisitProposals(NippersDb db, WorkshopService shop, PlansKept plans, TimeProvider clock)
{
    /// <summary>What a defect's code begins with among the items of a visit.</summary>
    public const string DefectPrefix = "defect:";

    private const double DaysPerMonth = 30.44;
    private const double Idle = 0.05;

    private static readonly Func<NippersDb, List<int>, IAsyncEnumerable<DefectRow>> OpenDefects = EF.CompileAsyncQuery(
        (NippersDb db, List<int> ids) =>
            db
                .Defects.AsNoTracking()
                .Where(x =>
                    ids.Contains(x.MachineId)
                    && x.State == DefectState.Open
                    && (x.Grade == DefectGrade.NextService || x.Grade == DefectGrade.Limit || x.Grade == DefectGrade.Stop)
                )
                .OrderBy(x => x.Id)
                .AsQueryable()
    );

    /// <summary>Proposals for one machine; null when there is none of that name.</summary>
    public async Task<VisitProposal?> Of(string unit, CancellationToken ct)
    {
        var facts = await db.FactsOf(unit, clock.GetUtcNow(), ct);
        return facts is null ? null : (await Of([facts], ct))[0];
    }

    /// <summary>Proposals for machines, in a number of queries that does not depend on how many.</summary>
    public async Task<List<VisitProposal>> Of(IReadOnlyList<MachineFacts> machines, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        var ids = machines.Select(x => x.Machine.Id).ToList();
        var sheets = await ServiceSheet.Load(db, shop, machines, ct);
        var worn = await db.WornParts(ids, ct);
        var defects = (await OpenDefects(db, ids).ToListAsync(ct)).ToLookup(x => x.MachineId);
        var carried = (await Carried(ids, ct)).ToLookup(x => x.MachineId, x => x.Item);
        return
        [
            .. sheets.Select(x =>
                Propose(
                    x,
                    now,
                    worn[x.Facts.Machine.Id],
                    defects[x.Facts.Machine.Id],
                    carried[x.Facts.Machine.Id].ToHashSet(StringComparer.Ordinal)
                )
            ),
        ];
    }

    private VisitProposal Propose(
        ServiceSheet sheet,
        DateTimeOffset now,
        IEnumerable<WornPart> worn,
        IEnumerable<DefectRow> defects,
        HashSet<string> carried
    )
    {
        var facts = sheet.Facts;
        var use = UsePerDay.Estimate(facts.Record, now);
        var at = new MachineNow(use, now, facts.Zone);
        var settings = facts.Machine.Program.ForDue();
        var horizon = sheet.Shop.Shop.HorizonDays;
        var candidates = new List<VisitCandidate>();
        var parked = use.ParkedAt(now);
        foreach (var item in facts.Items.Where(x => !x.IsDaily))
        {
            var stand = at.Stand(facts.Due(item), settings.ComingDays);
            if (stand.Status == DueStatus.Finished)
                continue;
            var cost = sheet.CostOf(item.Code);
            if (ToPlan(item.Code, stand, cost.Whole, use.HoursPerDay, at.Today) is { } plan)
            {
                candidates.Add(
                    new(
                        item.Code,
                        item.Name,
                        plan,
                        cost,
                        stand,
                        stand.Point.IntervalHours <= sheet.Shop.Shop.CareHours,
                        carried.Contains(item.Code),
                        parked && item.Work == ItemWork.Battery,
                        item.Work == ItemWork.Sample
                    )
                );
            }
        }

        foreach (var part in worn)
        {
            if (WearPoints.ToPoint(part, facts) is not { } point)
                continue;
            var stand = at.Stand(point, settings.ComingDays);
            if (ToPlan(point.ItemCode, stand, 0, use.HoursPerDay, at.Today) is { } plan)
                candidates.Add(new(point.ItemCode, part.Name, plan, sheet.CostOfHands(CardMaking.WearMinutes), stand));
        }

        candidates.AddRange(
            defects.Select(x => ToCandidate(x, at, use.HoursPerDay, horizon, sheet.CostOfHands(JobCardMaker.DefectMinutes)))
        );
        var driving = candidates
            .Where(x => !x.Care && !x.Joins && x.Plan.DueDay <= horizon + x.Plan.EarlyDays && !x.Waits)
            .Select(x => x.Plan)
            .ToList();
        var callOut = sheet.Shop.Shop.CallOutCost.Value;
        var (chosen, naive) = plans.Of(facts.Machine.Id, driving, horizon, callOut);
        var byCode = candidates.ToDictionary(x => x.Code, StringComparer.Ordinal);
        var joined = new HashSet<string>(StringComparer.Ordinal);
        var visits = new List<ProposedVisit>();
        foreach (var (day, visited) in Joined(chosen.Visits, byCode, callOut))
        {
            var items = visited.Select(x => new ProposedItem(byCode[x.Code], x.DueDay - day)).ToList();
            foreach (var care in candidates.Where(x => x.Care || x.Waits || x.Carried || x.Joins))
            {
                // The crew's care and what waits for the next visit join the first one after they have come.
                if (
                    items.Exists(x => x.Candidate.Code == care.Code)
                    || !(care.Care || care.Joins ? care.Plan.DueDay <= day : joined.Add(care.Code))
                )
                    continue;
                items.Add(new(care, care.Plan.DueDay - day));
            }

            visits.Add(ToVisit(sheet, at.Today, day, items));
        }

        return new(sheet, at, candidates, visits, chosen, naive, horizon);
    }

    private const int JoinDays = 7;

    /// <summary>
    /// Visits with those joined that lie within a week of each other, where doing the later one's work before its window throws away
    /// less than going there once more. The window is what the program would like; money decides, and the page says how early it is.
    /// </summary>
    internal static List<(int Day, List<VisitedItem> Items)> Joined(
        IEnumerable<PlannedVisit> visits,
        IReadOnlyDictionary<string, VisitCandidate> byCode,
        double callOut
    )
    {
        var all = new List<(int Day, List<VisitedItem> Items)>();
        foreach (var visit in visits)
        {
            if (
                all.Count > 0
                && all[^1] is var (day, items)
                && visit.Day - day <= JoinDays
                && visit.Items.All(x => !items.Exists(y => y.Code == x.Code))
                && visit.Items.Sum(x => Early(x, day) - x.Waste - x.Lateness) < callOut
            )
                items.AddRange(visit.Items);
            else
                all.Add((visit.Day, [.. visit.Items]));
        }

        return all;

        double Early(VisitedItem item, int day) =>
            byCode[item.Code].Plan is { } plan ? Math.Max(0, item.DueDay - day) * plan.Cost / plan.EveryDays : 0;
    }

    /// <summary>A visit of items on a day, what they cover with it, and what it costs.</summary>
    internal static ProposedVisit ToVisit(ServiceSheet sheet, DateOnly today, int day, List<ProposedItem> items)
    {
        var covers = items
            .SelectMany(x => sheet.CoveredBy(x.Candidate.Code).Select(y => (y.Code, By: x.Candidate.Name)))
            .GroupBy(x => x.Code)
            .ToDictionary(x => x.Key, x => x.First().By, StringComparer.Ordinal);
        IReadOnlyList<ProposedItem> all = [.. items.Select(x => x with { CoveredBy = covers.GetValueOrDefault(x.Candidate.Code) })];
        var own = all.Where(x => x.CoveredBy is null).ToList();
        var access = own.Select(x => sheet.ItemOf(x.Candidate.Code)?.Access ?? "")
            .Where(x => x.Length > 0)
            .Distinct()
            .Sum(code => JobTables.Accesses.FirstOrDefault(x => x.Code == code) is { } rule ? rule.OpenMinutes + rule.ShutMinutes : 0);
        var minutes = own.Sum(x => x.Candidate.Cost.Minutes) + access;
        double Validate(ProposedItem x, int days) => days <= 0 ? 0 : x.Candidate.Plan.Cost * days / x.Candidate.Plan.EveryDays;
        return new(
            today.AddDays(day),
            day,
            all,
            new(
                own.Sum(x => x.Candidate.Cost.Parts),
                own.Sum(x => x.Candidate.Cost.Fluids),
                minutes,
                sheet.Shop.Labour(minutes),
                own.Sum(x => x.Candidate.Cost.Lab),
                sheet.Shop.Shop.CallOutCost.Value,
                0,
                sheet.Shop.Downtime(minutes),
                own.Where(x => !x.Candidate.Care).Sum(x => Validate(x, x.Early)),
                own.Where(x => !x.Candidate.Care).Sum(x => VisitPlanner.LateWeight * Validate(x, -x.Early))
            )
        );
    }

    private static VisitItem? ToPlan(string code, ItemStatus stand, double cost, double hoursPerDay, DateOnly today)
    {
        if (stand.FirstDate is not { } first)
            return null;
        var byCalendar = stand.CalendarDecides || stand.Projected is null && stand.DueHours is null;
        var point = stand.Point;
        var day = stand.NoRecord ? 0 : first.DayNumber - today.DayNumber;
        int Days(double hours) => hoursPerDay < Idle ? 0 : (int)Math.Floor(hours / hoursPerDay + 1e-9);
        var window = byCalendar ? stand.WindowDays : Days(point.WindowHours);
        var late = point.Strict ? 0 : window;
        var byHours = point.IntervalHours is { } every && hoursPerDay >= Idle ? every / hoursPerDay : double.PositiveInfinity;
        var byKm = point.Km is { PerDay: > 0 } km ? km.Interval / km.PerDay : double.PositiveInfinity;
        var again = Math.Min(Math.Min(byHours, byKm), point.IntervalMonths * DaysPerMonth ?? double.PositiveInfinity);
        return new(
            code,
            Math.Max(0, day),
            window,
            Math.Max(0, Math.Min(day, 0) + late),
            double.IsInfinity(again) ? VisitCandidate.NeverDays : Math.Max(1, (int)Math.Round(again)),
            cost,
            point.IntervalBasis
        );
    }

    /// <summary>What repairing a defect is called among items; one without a place by its words alone.</summary>
    internal static string NameOf(string placeName, string words) => placeName.Length > 0 ? $"{placeName}: {words}" : words;

    private static VisitCandidate ToCandidate(DefectRow defect, MachineNow at, double hoursPerDay, int horizon, ItemCost cost)
    {
        // Floored twice: by days, and by hours at the present use. A limit is not for going past.
        var days = new List<int>();
        if (defect.Grade == DefectGrade.Stop)
            days.Add(0);
        if (defect.LimitOn is { } on)
            days.Add(on.DayNumber - at.Today.DayNumber);
        if (defect.LimitHours is { } limit && hoursPerDay >= Idle)
            days.Add((int)Math.Floor((limit.Value - at.Hours) / hoursPerDay));
        var day = days.Count > 0 ? Math.Max(0, days.Min()) : VisitCandidate.NeverDays;
        var early = day < VisitCandidate.NeverDays ? Math.Min(day, horizon) : 0;
        return new(
            DefectPrefix + defect.Id,
            NameOf(defect.PlaceName, defect.Words),
            new(DefectPrefix + defect.Id, day, early, 0, VisitCandidate.NeverDays, 0, IntervalBasis.Fixed),
            cost,
            null
        );
    }

    private sealed record CarriedItem(int MachineId, string Item);

    /// <summary>Items left undone at the last closed visit of a machine, and not done since.</summary>
    private Task<List<CarriedItem>> Carried(List<int> machineIds, CancellationToken ct) =>
        db.Plain(
            $"""
            SELECT DISTINCT v.MachineId, i.ItemCode
            FROM json_each({JsonSerializer.Serialize(machineIds)}) m
                JOIN Visits v ON v.MachineId = m.value AND v.State = {(int)VisitState.Closed}
                JOIN VisitItems i ON i.VisitId = v.Id AND i.State = {(int)VisitItemState.Left}
            WHERE NOT EXISTS (
                    SELECT 1 FROM Completions c WHERE c.MachineId = v.MachineId AND c.ItemCode = i.ItemCode AND c.VoidedMs IS NULL
                        AND (c.LifeTenths > v.LifeTenths OR c.DoneOn > v."On"))
                AND NOT EXISTS (
                    SELECT 1 FROM Visits w JOIN VisitItems j ON j.VisitId = w.Id AND j.ItemCode = i.ItemCode
                    WHERE w.MachineId = v.MachineId AND w.State = {(int)VisitState.Closed} AND w."On" > v."On")
            """,
            x => new CarriedItem(x.GetInt32(0), x.GetString(1)),
            ct
        );
}
