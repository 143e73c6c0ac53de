using System.Collections.Immutable;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Visits;
using Nippers.Core.Hours;
using Nippers.Core.Weeks;
using Nippers.Data;
using Nippers.Data.Queries;
using Nippers.Data.Visits;
using Nippers.Data.Weeks;

namespace Nippers.App.Weeks;

/// <summary>One plan is worked out at a time: two at once would take each other's processors.</summary>
public sealed class PlanDesk(IWeekSolver solver) : IDisposable
{
    private readonly SemaphoreSlim _one = new(1, 1);

    /// <summary>The cheapest plan that is found in time; null when another is being worked out and does not end.</summary>
    /// <exception cref="ImpossibleWeekException">No plan holds the pins.</exception>
    public async Task<WeekPlan?> Solve(WeekCase given, TimeSpan most, CancellationToken ct)
    {
        if (!await _one.WaitAsync(Patience, ct))
            return null;
        try
        {
            return await Task.Run(() => solver.Solve(given, most, ct), ct);
        }
        finally
        {
            _one.Release();
        }
    }

    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(30);

    public void Dispose() => _one.Dispose();
}

/// <summary>Plans weeks: works a plan out, moves a job by hand, keeps it, throws it away.</summary>
/// <remarks>Rules: The plan by weeks.</remarks>
public sealed class PlanWeeks(NippersDb db, UnitOfWork writes, FleetJobs fleet, VisitProposals proposals, PlanDesk desk)
{
    /// <summary>How long a plan is looked for, and how long where somebody asks to look longer.</summary>
    public static readonly TimeSpan Look = TimeSpan.FromSeconds(4);
    public static readonly TimeSpan LookLonger = TimeSpan.FromSeconds(20);

    /// <summary>A plan is the cheapest when no more than this share better is possible: what the solver's own rounding leaves.</summary>
    public const double Proved = 1e-5;

    /// <summary>A planner's plan that was not kept; null when there is none.</summary>
    public async Task<(FleetPlan Plan, int Version)?> Draft(string userId, CancellationToken ct) =>
        await db.DraftPlans.AsNoTracking().SingleOrDefaultAsync(x => x.UserId == userId, ct) is { } row
            ? (FleetPlan.Read(row.Body), row.Version)
            : null;

    /// <summary>Works a plan out anew from what is known now. Pins of a plan before it are held where they can be.</summary>
    /// <param name="userId">The planner's account.</param>
    /// <param name="suppose">What is supposed.</param>
    /// <param name="most">How long to look.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<Outcome<FleetPlan>> Solve(string userId, WhatIf suppose, TimeSpan most, CancellationToken ct)
    {
        var gathered = await fleet.Gather(suppose, ct);
        if (gathered.People.Count == 0)
            return Outcome<FleetPlan>.Refused(Refusals.WeekNobody());
        var pins = (await Draft(userId, ct))
            ?.Plan.Jobs.Where(x => x.Rule.Pinned is not null)
            .ToDictionary(x => x.Code, StringComparer.Ordinal);
        var from = (await Draft(userId, ct))?.Plan.From ?? gathered.From;
        var shift = gathered.From.DayNumber - from.DayNumber;
        if (pins is not null)
        {
            gathered = gathered with
            {
                Jobs =
                [
                    .. gathered.Jobs.Select(x =>
                        pins.GetValueOrDefault(x.Code)?.Rule.Pinned is { } pin
                            ? x with
                            {
                                Rule = x.Rule with { Pinned = pin with { Day = pin.Day - shift } },
                            }
                            : x
                    ),
                ],
            };
        }

        return await Work(userId, LetGo(gathered), most, ct);
    }

    /// <summary>Pins a job of a plan to a person and a day, and works the rest out anew; without a person it is let go.</summary>
    /// <param name="userId">The planner's account.</param>
    /// <param name="version">The version of the plan that they looked at.</param>
    /// <param name="code">The job.</param>
    /// <param name="place">Where; null to let go.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<Outcome<FleetPlan>> Move(string userId, int version, string code, WeekPlace? place, CancellationToken ct)
    {
        if (await Draft(userId, ct) is not var (plan, kept))
            return Outcome<FleetPlan>.Refused(Refusals.WeekNoDraft());
        if (kept != version)
            return Outcome<FleetPlan>.Refused(Refusals.ChangedMeanwhile());
        var job = plan.Jobs.FirstOrDefault(x => x.Code == code);
        if (job is null)
            return Outcome<FleetPlan>.Refused(Refusals.ChangedMeanwhile());
        if (place is not null && Hindrance(plan, job, place) is { } refusal)
            return Outcome<FleetPlan>.Refused(refusal);
        var moved = plan with
        {
            Jobs = [.. plan.Jobs.Select(x => x.Code == code ? x with { Rule = x.Rule with { Pinned = place } } : x)],
            LetGo = [],
        };
        return await Work(userId, moved with { Before = plan.Places, CostBefore = plan.Cost }, Look, ct);
    }

    /// <summary>Throws a planner's plan away; what was kept stays.</summary>
    public Task<Outcome<Nothing>> Discard(string userId, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                await db.DraftPlans.Where(x => x.UserId == userId).ExecuteDeleteAsync(ct);
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Keeps a planner's plan: visits are planned and moved as it says, and who does them is written down.</summary>
    public async Task<Outcome<KeptPlan>> Keep(string userId, int version, Actor actor, CancellationToken ct)
    {
        if (await Draft(userId, ct) is not var (plan, kept))
            return Outcome<KeptPlan>.Refused(Refusals.WeekNoDraft());
        if (kept != version)
            return Outcome<KeptPlan>.Refused(Refusals.ChangedMeanwhile());
        if (!plan.If.IsEmpty)
            return Outcome<KeptPlan>.Refused(Refusals.WeekSupposed());

        // What new visits come to is worked out before the turn: cards of a whole fleet take seconds.
        var units = plan.Jobs.SelectMany(x => x.Pieces).Where(x => x.Visit is null).Select(x => x.Unit).ToHashSet(StringComparer.Ordinal);
        var ids = await db.Machines.Where(x => units.Contains(x.Unit)).Select(x => x.Id).ToListAsync(ct);
        var now = (await proposals.Of(await db.FactsOf(ids, writes.Now, ct), ct)).ToDictionary(x => x.Unit, StringComparer.Ordinal);
        return await writes.Run(() => Keep(userId, plan, now, actor, ct), ct, readBefore: true);
    }

    private async Task<Outcome<KeptPlan>> Keep(
        string userId,
        FleetPlan plan,
        Dictionary<string, VisitProposal> now,
        Actor actor,
        CancellationToken ct
    )
    {
        db.ChangeTracker.Clear();

        // A plan that was looked at yesterday may give somebody a day that is over.
        var zone = await db.Sites.OrderBy(x => x.Name).Select(x => x.TimeZone).FirstOrDefaultAsync(ct) ?? "UTC";
        var gone = LocalDay.Of(writes.Now, TimeZoneInfo.FindSystemTimeZoneById(zone)).DayNumber - plan.From.DayNumber;
        if (plan.Jobs.FirstOrDefault(x => plan.Places.GetValueOrDefault(x.Code)?.Day < gone) is { } late)
            return Outcome<KeptPlan>.Refused(Refusals.WeekStale(late.Pieces[0].Unit));
        var ids = plan.Jobs.SelectMany(x => x.Pieces).Select(x => x.Visit).OfType<long>().ToHashSet();
        var visits = await db.Visits.Include(x => x.Machine).Where(x => ids.Contains(x.Id)).ToDictionaryAsync(x => x.Id, ct);
        var machines = now.Values.Select(x => x.Sheet.Facts.Machine.Id).ToList();
        var taken = await db
            .Visits.Where(x => machines.Contains(x.MachineId) && (x.State == VisitState.Planned || x.State == VisitState.Open))
            .Select(x => x.Machine.Unit)
            .ToListAsync(ct);
        var jobs = await db.PlannedJobs.Where(x => ids.Contains(x.VisitId)).ToListAsync(ct);
        var before = jobs.ToDictionary(x => (x.VisitId, x.Part, x.Helps));
        db.PlannedJobs.RemoveRange(jobs);
        await db.SaveChangesAsync(ct);
        var turns = Turns(plan);
        var made = new Dictionary<(string Job, string Unit), VisitRow>();
        foreach (var job in plan.Jobs.Where(x => x is { Part: 1, Helps: false }))
        {
            foreach (var piece in job.Pieces)
            {
                VisitRow row;
                if (piece.Visit is { } id)
                {
                    if (!visits.TryGetValue(id, out var there) || there.State != VisitState.Planned || there.Version != piece.Version)
                        return Outcome<KeptPlan>.Refused(Refusals.WeekStale(piece.Unit));
                    row = there;
                }
                else if (!plan.Places.ContainsKey(job.Code))
                    continue;
                else if (taken.Contains(piece.Unit))
                    return Outcome<KeptPlan>.Refused(Refusals.WeekStale(piece.Unit));
                else if (await Make(plan, job, piece, now.GetValueOrDefault(piece.Unit), actor, ct) is { } fresh)
                    row = fresh;
                else
                    return Outcome<KeptPlan>.Refused(Refusals.WeekStale(piece.Unit));
                made[(job.Code, piece.Unit)] = row;
                Place(plan, job, row, turns, before, actor);
            }
        }

        // The plan is kept with the visits that came of it.
        plan = plan with
        {
            Before = null,
            CostBefore = null,
            Jobs =
            [
                .. plan.Jobs.Select(x =>
                    x with
                    {
                        Pieces =
                        [
                            .. x.Pieces.Select(y =>
                                made.TryGetValue((x.First, y.Unit), out var row) ? y with { Visit = row.Id, Version = row.Version } : y
                            ),
                        ],
                    }
                ),
            ],
        };

        var keptRow = await db.KeptPlans.SingleOrDefaultAsync(ct);
        keptRow ??= db.KeptPlans.Add(new() { By = "", Body = "" }).Entity;
        (keptRow.From, keptRow.Days, keptRow.At, keptRow.By) = (plan.From, plan.Days, writes.Now, actor.Name);
        (keptRow.Cost, keptRow.Bound, keptRow.Body) = (plan.Cost, plan.Bound, plan.Write());
        keptRow.Version++;
        db.DraftPlans.RemoveRange(await db.DraftPlans.Where(x => x.UserId == userId).ToListAsync(ct));
        writes.Audit(
            actor,
            "weeks.keep",
            "",
            null,
            null,
            new
            {
                plan.From,
                plan.Days,
                jobs = plan.Places.Count,
                leftOut = plan.Jobs.Count - plan.Places.Count,
                cost = Math.Round(plan.Cost, 2),
            }
        );
        return Outcome<KeptPlan>.Of(keptRow);
    }

    /// <summary>A proposed visit as a planned one; null when what was to be done has been done meanwhile.</summary>
    private async Task<VisitRow?> Make(
        FleetPlan plan,
        PlanJob job,
        PlanPiece piece,
        VisitProposal? proposal,
        Actor actor,
        CancellationToken ct
    )
    {
        var chosen = proposal?.Candidates.Where(x => piece.Codes.Contains(x.Code)).ToList() ?? [];
        if (proposal is null || chosen.Count < piece.Codes.Count)
            return null;
        var on = plan.From.AddDays(plan.Places[job.Code].Day);
        var worked = PlanVisit.Worked(proposal, Math.Max(0, on.DayNumber - proposal.Now.Today.DayNumber), chosen, default).Value;
        if (worked is null)
            return null;
        var row = db
            .Visits.Add(
                new()
                {
                    MachineId = proposal.Sheet.Facts.Machine.Id,
                    PlannedBy = actor.Name,
                    PlannedAt = writes.Now,
                }
            )
            .Entity;
        PlanVisit.Fill(row, worked.Visit, worked.Card.Elapsed, worked.Card.OneAfterAnother - worked.Card.Elapsed);
        row.On = on;
        row.Version++;
        await db.SaveChangesAsync(ct);
        PlanVisit.AddItems(db, row, piece.Codes);
        writes.Audit(actor, "visit.plan", PlanVisit.Subject(piece.Unit, row.Id), row.MachineId, null, new { row.On, items = piece.Codes });
        return row;
    }

    private void Place(
        FleetPlan plan,
        PlanJob first,
        VisitRow row,
        Dictionary<string, int> turns,
        Dictionary<(long, int, bool), PlannedJob> before,
        Actor actor
    )
    {
        // What is left out keeps its day and has nobody: the plan's page names it.
        if (!plan.Places.TryGetValue(first.Code, out var begins))
            return;
        var on = plan.From.AddDays(begins.Day);
        if (row.On != on)
        {
            writes.Audit(
                actor,
                "visit.change",
                PlanVisit.Subject(first.Pieces.First(x => x.Visit == row.Id || x.Visit is null).Unit, row.Id),
                row.MachineId,
                new { row.On },
                new { on }
            );
            row.On = on;
            row.Version++;
        }

        foreach (var job in plan.Jobs.Where(x => x.First == first.Code))
        {
            if (!plan.Places.TryGetValue(job.Code, out var place))
                continue;
            var was = before.GetValueOrDefault((row.Id, job.Part, job.Helps));
            var now = new PlannedJob
            {
                VisitId = row.Id,
                Part = job.Part,
                Helps = job.Helps,
                UserId = place.Person,
                On = plan.From.AddDays(place.Day),
                Turn = turns[job.Code],
                Minutes = job.Pieces.Count == 1 ? job.Rule.Minutes : Math.Max(1, row.ElapsedMinutes),
                Pinned = job.Rule.Pinned is not null,
                Round = job.Pieces.Count == 1 ? "" : RoundOf(job),
                Sequence = was?.Sequence ?? 0,
                ChangedAt = was?.ChangedAt ?? writes.Now,
            };
            if (was is not null && (was.UserId, was.On, was.Turn, was.Minutes) != (now.UserId, now.On, now.Turn, now.Minutes))
                (now.Sequence, now.ChangedAt) = (was.Sequence + 1, writes.Now);
            db.PlannedJobs.Add(now);
        }
    }

    private static string RoundOf(PlanJob job) => job.Code[1..];

    /// <summary>In which order a person's day is done: site by site along its shortest way, what stops a machine first at each.</summary>
    private static Dictionary<string, int> Turns(FleetPlan plan)
    {
        var given = plan.ToCase();
        var jobs = plan.Jobs.ToDictionary(x => x.Code, StringComparer.Ordinal);
        var turns = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (var day in plan.Places.GroupBy(x => x.Value, x => jobs[x.Key]))
        {
            var home = plan.People.First(x => x.Rule.Code == day.Key.Person).Rule.Base;
            var way = WeekRules.Way(given, home, day.Select(x => x.Site));
            var turn = 0;
            foreach (
                var job in day.OrderBy(x => way.IndexOf(x.Site))
                    .ThenByDescending(x => x.Stopped)
                    .ThenByDescending(x => x.Worst)
                    .ThenBy(x => x.Code, StringComparer.Ordinal)
            )
                turns[job.Code] = ++turn;
        }

        return turns;
    }

    /// <summary>Why a job can't be pinned somewhere; null when it can.</summary>
    private static Refusal? Hindrance(FleetPlan plan, PlanJob job, WeekPlace place)
    {
        var on = plan.From.AddDays(place.Day);
        if (plan.People.FirstOrDefault(x => x.Rule.Code == place.Person) is not { } person)
            return Refusals.NoSuchPerson("person");
        if (place.Day < 0 || place.Day >= plan.Days || person.Rule.Minutes[place.Day] == 0)
            return Refusals.WeekNotThere(person.Name, on);
        if (!WeekRules.Can(person.Rule, job.Rule))
            return Refusals.WeekNotQualified(person.Name);
        var all = plan.Jobs.Where(x => x.Rule.Pinned == place && x.Code != job.Code).Append(job).ToList();
        var needs = all.Sum(x => x.Rule.Minutes) + WeekRules.Tour(plan.ToCase(), person.Rule.Base, all.Select(x => x.Site));
        return needs > person.Rule.Minutes[place.Day] ? Refusals.WeekNoTime(person.Name, on, needs - person.Rule.Minutes[place.Day]) : null;
    }

    /// <summary>Lets go of pins that can't be held any longer, the later ones of a day first, and names them.</summary>
    private static FleetPlan LetGo(FleetPlan plan)
    {
        var free = plan with { Jobs = [.. plan.Jobs.Select(x => x with { Rule = x.Rule with { Pinned = null } })] };
        var gone = new List<string>();
        foreach (var job in plan.Jobs)
        {
            if (job.Rule.Pinned is not { } pin)
                continue;
            if (Hindrance(free, job, pin) is not null)
                gone.Add(job.Code);
            else
                free = free with
                {
                    Jobs = [.. free.Jobs.Select(x => x.Code == job.Code ? x with { Rule = x.Rule with { Pinned = pin } } : x)],
                };
        }

        return free with
        {
            LetGo = gone,
        };
    }

    private async Task<Outcome<FleetPlan>> Work(string userId, FleetPlan plan, TimeSpan most, CancellationToken ct)
    {
        WeekPlan? found;
        try
        {
            found = await desk.Solve(plan.ToCase(), most, ct);
        }
        catch (ImpossibleWeekException)
        {
            return Outcome<FleetPlan>.Refused(Refusals.WeekPinsClash());
        }
        catch (TimeoutException)
        {
            return Outcome<FleetPlan>.Refused(Refusals.WeekNotFound());
        }

        if (found is null)
            return Outcome<FleetPlan>.Refused(Refusals.WeekBusy());
        plan = plan with { Places = found.Places, Cost = found.Cost, Bound = found.Bound };
        return await writes.Run(
            async () =>
            {
                var row = await db.DraftPlans.SingleOrDefaultAsync(x => x.UserId == userId, ct);
                row ??= db.DraftPlans.Add(new() { UserId = userId, Body = "" }).Entity;
                (row.At, row.Body) = (writes.Now, plan.Write());
                row.Version++;
                return Outcome<FleetPlan>.Of(plan);
            },
            ct
        );
    }
}
