using System.Collections.Immutable;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Weeks;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Parts;
using Nippers.Data.Visits;
using Nippers.Data.Weeks;

namespace Nippers.App.Weeks;

/// <summary>A job where it stands in a plan.</summary>
/// <param name="Job">The job.</param>
/// <param name="Turn">Which of that person's jobs of that day, from 1; 0 while the plan is not kept.</param>
/// <param name="Moved">It was announced elsewhere.</param>
/// <param name="State">How far its visit is; null for one that is not planned yet.</param>
/// <param name="Visit">The visit; null for one that is not planned yet.</param>
public sealed record WeekBlock(PlanJob Job, int Turn, bool Moved, VisitState? State, long? Visit)
{
    /// <summary>A person put it there.</summary>
    public bool Pinned => Job.Rule.Pinned is not null;
}

/// <summary>A day of somebody.</summary>
/// <param name="On">The date.</param>
/// <param name="Minutes">Minutes for jobs and road, net of the reserve; 0 where they are not there.</param>
/// <param name="Reserve">Minutes that are kept for breakdowns.</param>
/// <param name="Work">Minutes of jobs.</param>
/// <param name="Road">Minutes on the road.</param>
/// <param name="Way">Sites in the order in which they are driven to, the base first.</param>
/// <param name="Blocks">Jobs, in order.</param>
public sealed record WeekDay(
    DateOnly On,
    int Minutes,
    int Reserve,
    int Work,
    int Road,
    IReadOnlyList<string> Way,
    IReadOnlyList<WeekBlock> Blocks
);

/// <summary>Somebody's days.</summary>
public sealed record WeekLine(string UserId, string Name, string Base, IReadOnlyList<WeekDay> Days);

/// <summary>A job that has no day, why, and what would make it fit.</summary>
/// <param name="Fit">Whose day would take it; null where no day of anybody is open to it.</param>
/// <param name="Who">Their name.</param>
/// <param name="Helper">The second one's name where it wants two; empty otherwise.</param>
public sealed record WeekLeft(WeekBlock Block, LeftOutWhy Why, WeekFit? Fit, string Who, string Helper);

/// <summary>What came to pass since a plan was kept.</summary>
/// <param name="Stops">Machines with a stop or a limit found since.</param>
/// <param name="Parts">Parts that jobs waited for, and that came.</param>
/// <param name="Missed">Visits whose day is over and that nobody began.</param>
/// <param name="ByHand">Visits that somebody planned, and that no plan gives to anybody.</param>
public sealed record WeekNews(
    IReadOnlyList<string> Stops,
    IReadOnlyList<string> Parts,
    IReadOnlyList<(string Unit, long Visit)> Missed,
    IReadOnlyList<(string Unit, long Visit, DateOnly On)> ByHand
)
{
    /// <summary>Nothing that asks for another plan.</summary>
    public bool IsEmpty => Stops.Count + Parts.Count + Missed.Count + ByHand.Count == 0;
}

/// <summary>What a plan changes against another.</summary>
/// <param name="Cost">Money that it costs more; below zero for less.</param>
/// <param name="Moved">Jobs that stand elsewhere.</param>
/// <param name="New">Jobs that stand nowhere in the other.</param>
/// <param name="Gone">Jobs that have no day any longer.</param>
public sealed record WeekChange(double Cost, IReadOnlyList<MovedJob> Moved, IReadOnlyList<PlanJob> New, IReadOnlyList<PlanJob> Gone);

/// <summary>A job and where it stood and stands.</summary>
public sealed record MovedJob(PlanJob Job, WeekPlace From, WeekPlace To);

/// <summary>The plan by weeks, as it is shown.</summary>
/// <param name="Plan">The plan; null while there is none.</param>
/// <param name="Version">Its version where it is a planner's own; null where it is the one that was kept.</param>
/// <param name="From">The first day that is shown.</param>
/// <param name="Lines">People.</param>
/// <param name="LeftOut">Jobs without a day, those that press most.</param>
/// <param name="AllLeft">How many have none.</param>
/// <param name="Marks">Short marks of the sites.</param>
/// <param name="AgainstKept">What it changes of what was announced; null for the kept one.</param>
/// <param name="AgainstBefore">What the last change of a planner's own plan changed; null for none.</param>
/// <param name="News">What came to pass since the kept plan.</param>
/// <param name="KeptBy">Who kept it, and when; null while none was.</param>
/// <param name="Sites">All sites.</param>
public sealed record WeeksPage(
    FleetPlan? Plan,
    int? Version,
    DateOnly From,
    IReadOnlyList<WeekLine> Lines,
    IReadOnlyList<WeekLeft> LeftOut,
    int AllLeft,
    IReadOnlyDictionary<string, string> Marks,
    WeekChange? AgainstKept,
    WeekChange? AgainstBefore,
    WeekNews News,
    (string By, DateTimeOffset At)? KeptBy,
    IReadOnlyList<Site> Sites
);

/// <summary>A job with all that is known of it.</summary>
/// <param name="Page">The plan that it stands in.</param>
/// <param name="Block">The job.</param>
/// <param name="Place">Who does it and when; null where it is left out.</param>
/// <param name="Left">Why it is left out; null where it is not.</param>
public sealed record WeekJobPage(WeeksPage Page, WeekBlock Block, WeekPlace? Place, WeekLeft? Left);

/// <summary>Reads plans by weeks for pages.</summary>
public sealed class WeekViews(NippersDb db, PlanWeeks weeks, TimeProvider clock)
{
    /// <summary>Most jobs without a day that are shown at once: of each is reckoned whose day would take it.</summary>
    public const int MostLeft = 40;

    /// <summary>A planner's own plan where there is one, else the one that was kept.</summary>
    /// <param name="userId">Whose own; null for the kept one.</param>
    /// <param name="mostLeft">Most jobs without a day.</param>
    /// <param name="ct">Cancels.</param>
    public Task<WeeksPage> Load(string? userId, int mostLeft, CancellationToken ct) => Shown(userId, new(mostLeft, null), ct);

    // Which of the jobs without a day are looked at: so many, or the one of a code.
    private sealed record LeftLook(int Most, string? Job);

    private async Task<WeeksPage> Shown(string? userId, LeftLook look, CancellationToken ct)
    {
        var kept = await db.KeptPlans.AsNoTracking().SingleOrDefaultAsync(ct);
        var sites = await db.Sites.AsNoTracking().OrderBy(x => x.Name).ToListAsync(ct);
        var today = LocalDay.Of(clock.GetUtcNow(), TimeZoneInfo.FindSystemTimeZoneById(sites.Count > 0 ? sites[0].TimeZone : "UTC"));
        var plan = kept is null ? null : FleetPlan.Read(kept.Body);
        var news = kept is null ? NoNews : await News(kept, plan!, today, ct);
        (string, DateTimeOffset)? by = kept is null ? null : (kept.By, kept.At);
        if (userId is not null && await weeks.Draft(userId, ct) is var (draft, version))
            return ShowDraft(draft, version, today, sites, news, by, look);
        return plan is null
            ? new(null, null, today, [], [], 0, Marks(sites), null, null, news, null, sites)
            : await ShowKept(plan, today, sites, news, by, look, ct);
    }

    /// <summary>One job of what <see cref="Load"/> shows; null when there is none of that code.</summary>
    public async Task<WeekJobPage?> Job(string? userId, string code, CancellationToken ct)
    {
        var page = await Shown(userId, new(1, code), ct);
        foreach (var line in page.Lines)
        {
            foreach (var day in line.Days)
            {
                if (day.Blocks.FirstOrDefault(x => x.Job.Code == code) is { } block)
                    return new(page, block, new(line.UserId, day.On.DayNumber - page.Plan!.From.DayNumber), null);
            }
        }

        return page.LeftOut.FirstOrDefault(x => x.Block.Job.Code == code) is { } left ? new(page, left.Block, null, left) : null;
    }

    private static WeekNews NoNews { get; } = new([], [], [], []);

    private static WeeksPage ShowDraft(
        FleetPlan plan,
        int version,
        DateOnly today,
        IReadOnlyList<Site> sites,
        WeekNews news,
        (string, DateTimeOffset)? by,
        LeftLook look
    )
    {
        var given = plan.ToCase();
        var announced = plan.Announced;
        var blocks = plan.Jobs.ToDictionary(
            x => x.Code,
            x => new WeekBlock(
                x,
                0,
                x.Rule.Announced is { } was && plan.Places.GetValueOrDefault(x.Code) != was,
                x.Pieces[0].Visit is null ? null : VisitState.Planned,
                x.Pieces[0].Visit
            ),
            StringComparer.Ordinal
        );
        var from = plan.From > today ? plan.From : today;
        var (left, all) = LeftOut(plan, given, blocks, look);
        return new(
            plan,
            version,
            from,
            Lines(plan, given, blocks, from),
            left,
            all,
            Marks(sites),
            by is null ? null : Change(plan, WeekRules.Cost(given, announced), announced),
            plan.Before is { } before && plan.CostBefore is { } cost ? Change(plan, cost, before) : null,
            news,
            by,
            sites
        );
    }

    private async Task<WeeksPage> ShowKept(
        FleetPlan plan,
        DateOnly today,
        IReadOnlyList<Site> sites,
        WeekNews news,
        (string, DateTimeOffset)? by,
        LeftLook look,
        CancellationToken ct
    )
    {
        var ids = plan.Jobs.SelectMany(x => x.Pieces).Select(x => x.Visit).OfType<long>().ToHashSet();
        var states = await db
            .Visits.Where(x => ids.Contains(x.Id))
            .Select(x => new { x.Id, x.State })
            .ToDictionaryAsync(x => x.Id, x => x.State, ct);
        var rows = (await db.PlannedJobs.AsNoTracking().Where(x => ids.Contains(x.VisitId)).ToListAsync(ct)).ToDictionary(x =>
            (x.VisitId, x.Part, x.Helps)
        );
        var places = ImmutableSortedDictionary.CreateBuilder<string, WeekPlace>(StringComparer.Ordinal);
        var blocks = new Dictionary<string, WeekBlock>(StringComparer.Ordinal);
        foreach (var job in plan.Jobs)
        {
            var visit = job.Pieces[0].Visit;
            var state = visit is { } id && states.TryGetValue(id, out var known) ? known : (VisitState?)null;
            if (state == VisitState.Voided)
                continue;
            var row = visit is { } its ? rows.GetValueOrDefault((its, job.Part, job.Helps)) : null;
            if (row is not null)
                places[job.Code] = new(row.UserId, row.On.DayNumber - plan.From.DayNumber);
            var pinned = row is { Pinned: true } ? places[job.Code] : null;
            blocks[job.Code] = new(job with { Rule = job.Rule with { Pinned = pinned } }, row?.Turn ?? 0, false, state, visit);
        }

        var now = plan with { Places = places.ToImmutable(), Jobs = [.. plan.Jobs.Where(x => blocks.ContainsKey(x.Code))] };
        var given = now.ToCase();

        // What was done is shown where it was, and is no longer left out where it was done without a plan.
        var (left, all) = LeftOut(now, given, blocks, look);
        return new(
            now,
            null,
            today > plan.From ? today : plan.From,
            Lines(now, given, blocks, today > plan.From ? today : plan.From),
            left,
            all,
            Marks(sites),
            null,
            null,
            news,
            by,
            sites
        );
    }

    private static List<WeekLine> Lines(FleetPlan plan, WeekCase given, Dictionary<string, WeekBlock> blocks, DateOnly from)
    {
        var days = plan.Places.ToLookup(x => x.Value, x => blocks[x.Key]);
        var first = from.DayNumber - plan.From.DayNumber;
        return
        [
            .. plan.People.Select(person => new WeekLine(
                person.Rule.Code,
                person.Name,
                person.Rule.Base,
                [
                    .. Enumerable
                        .Range(first, Math.Max(0, plan.Days - first))
                        .Select(day =>
                        {
                            var there = days[new(person.Rule.Code, day)].ToList();
                            var way = WeekRules.Way(given, person.Rule.Base, there.Select(x => x.Job.Site));
                            return new WeekDay(
                                plan.From.AddDays(day),
                                person.Rule.Minutes[day],
                                person.Reserve[day],
                                there.Sum(x => x.Job.Rule.Minutes),
                                WeekRules.Tour(given, person.Rule.Base, there.Select(x => x.Job.Site)),
                                way,
                                [
                                    .. there
                                        .OrderBy(x => x.Turn)
                                        .ThenBy(x => way.IndexOf(x.Job.Site))
                                        .ThenByDescending(x => x.Job.Stopped)
                                        .ThenByDescending(x => x.Job.Worst)
                                        .ThenBy(x => x.Job.Code, StringComparer.Ordinal),
                                ]
                            );
                        }),
                ]
            )),
        ];
    }

    private static (List<WeekLeft> Shown, int All) LeftOut(
        FleetPlan plan,
        WeekCase given,
        Dictionary<string, WeekBlock> blocks,
        LeftLook look
    )
    {
        var people = plan.People.ToDictionary(x => x.Rule.Code, x => x.Name, StringComparer.Ordinal);
        var fits = new WeekFits(given, plan.Places);
        var all = plan
            .Jobs.Where(x => !plan.Places.ContainsKey(x.Code) && blocks[x.Code].State is not (VisitState.Closed or VisitState.Open))
            // What takes several days or two people and has none is named once.
            .Where(x => !x.Helps && (x.Rule.After is null || plan.Places.ContainsKey(x.Rule.After)))
            .ToList();
        List<WeekLeft> shown =
        [
            .. all.Where(x => look.Job is null || x.Code == look.Job)
                .OrderByDescending(x => x.Stopped)
                .ThenByDescending(x => x.Worst)
                .ThenBy(x => x.Rule.Due)
                .Take(look.Most)
                .Select(Of),
        ];
        return (shown, all.Count);

        WeekLeft Of(PlanJob job)
        {
            var left = new WeekLeft(blocks[job.Code], WeekRules.Why(given, job.Rule), null, "", "");
            if (!job.Two)
                return fits.Of(job.Rule) is { } fit ? left with { Fit = fit, Who = people[fit.Place.Person] } : left;
            var helps = plan.Jobs.First(x => x.Helps && x.First == job.First && x.Part == job.Part);
            return fits.OfTwo(job.Rule, helps.Rule) is var (first, second)
                ? left with
                {
                    Fit = first with { Lacks = Math.Max(first.Lacks, second.Lacks) },
                    Who = people[first.Place.Person],
                    Helper = people[second.Place.Person],
                }
                : left;
        }
    }

    private static WeekChange Change(FleetPlan plan, double cost, ImmutableSortedDictionary<string, WeekPlace> before) =>
        new(
            plan.Cost - cost,
            [
                .. plan
                    .Jobs.Where(x => before.ContainsKey(x.Code) && plan.Places.ContainsKey(x.Code) && before[x.Code] != plan.Places[x.Code])
                    .Select(x => new MovedJob(x, before[x.Code], plan.Places[x.Code])),
            ],
            [.. plan.Jobs.Where(x => !before.ContainsKey(x.Code) && plan.Places.ContainsKey(x.Code))],
            [.. plan.Jobs.Where(x => before.ContainsKey(x.Code) && !plan.Places.ContainsKey(x.Code))]
        );

    private async Task<WeekNews> News(KeptPlan kept, FleetPlan plan, DateOnly today, CancellationToken ct)
    {
        var numbers = plan.Jobs.SelectMany(x => x.Missing).Select(x => x.Number).ToHashSet(StringComparer.Ordinal);
        return new(
            await db
                .Defects.Where(x =>
                    x.At > kept.At && x.State == DefectState.Open && (x.Grade == DefectGrade.Stop || x.Grade == DefectGrade.Limit)
                )
                .Where(x => !db.VisitDefects.Any(v => v.DefectId == x.Id))
                .Select(x => x.Machine.Unit)
                .Distinct()
                .OrderBy(x => x)
                .ToListAsync(ct),
            numbers.Count == 0
                ? []
                : await db
                    .StockMoves.Where(x => x.At > kept.At && x.Kind == StockMoveKind.Receipt)
                    .Join(db.Parts, x => x.PartId, p => p.Id, (_, p) => p.Number)
                    .Where(x => numbers.Contains(x))
                    .Distinct()
                    .OrderBy(x => x)
                    .ToListAsync(ct),
            [
                .. (
                    await db
                        .PlannedJobs.Where(x => x.On < today && x.Visit.State == VisitState.Planned)
                        .Select(x => new { x.Visit.Machine.Unit, x.VisitId })
                        .Distinct()
                        .OrderBy(x => x.Unit)
                        .ToListAsync(ct)
                ).Select(x => (x.Unit, x.VisitId)),
            ],
            [
                .. (
                    await db
                        .Visits.Where(x => x.State == VisitState.Planned && x.PlannedAt > kept.At)
                        .Where(x => !db.PlannedJobs.Any(p => p.VisitId == x.Id))
                        .Select(x => new
                        {
                            x.Machine.Unit,
                            x.Id,
                            x.On,
                        })
                        .OrderBy(x => x.On)
                        .ToListAsync(ct)
                ).Select(x => (x.Unit, x.Id, x.On)),
            ]
        );
    }

    private static IReadOnlyDictionary<string, string> Marks(IEnumerable<Site> sites) => Marks([.. sites.Select(x => x.Name)]);

    /// <summary>The fewest first letters by which each site is told from the others.</summary>
    public static IReadOnlyDictionary<string, string> Marks(IReadOnlyList<string> sites)
    {
        var marks = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var site in sites)
        {
            var words = string.Concat(site.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(x => char.ToUpperInvariant(x[0])));
            var mark = words.Length > 1 ? words[..2] : site[..Math.Min(2, site.Length)].ToUpperInvariant();
            for (var more = 2; marks.ContainsValue(mark); more++)
                mark = mark[..1] + more.ToString(System.Globalization.CultureInfo.InvariantCulture);
            marks[site] = mark;
        }

        marks[FleetJobs.FarSite] = FleetJobs.FarSite;
        return marks;
    }
}
