using System.Collections.Immutable;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Visits;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Core.Weeks;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Queries;
using Nippers.Data.Visits;
using Nippers.Data.Weeks;

namespace Nippers.App.Weeks;

/// <summary>Gathers what a fleet's plan by weeks is made of: jobs, people, roads.</summary>
/// <remarks>Rules: The plan by weeks.</remarks>
public sealed class FleetJobs(NippersDb db, VisitProposals proposals, CrewBook crew, WorkshopService shop, TimeProvider clock)
{
    // Machines that press most are looked at; more than these are more jobs than weeks hold.
    private const int MostMachines = 120;

    // A round takes samples that are wanted within so many days of each other.
    private const int RoundDays = 7;

    // What is left out weighs so many times what it costs.
    private const double LeftOutTimes = 20;

    // A repair comes once: what a day of waiting for it weighs is told by these, for a stop and for a limit.
    private const int StopDays = 7;
    private const int LimitDays = 30;

    // Where no prices are entered, a minute of hands is worth one: otherwise nothing would be worth a visit.
    private const double LeastPerMinute = 1;

    private sealed record Draft(
        PlanJobKind Kind,
        string Site,
        int SiteId,
        PlanPiece Piece,
        VisitProposal Proposal,
        IReadOnlyList<VisitCandidate> Chosen,
        int Minutes,
        int Earliest,
        int Due,
        int? Latest,
        bool Stopped,
        IReadOnlyList<PlannedJob> Planned,
        double Money,
        int Half = 0,
        bool Two = false
    );

    /// <summary>Everything that a plan is made of, with the places that were announced and pinned, and without any of its own.</summary>
    /// <param name="suppose">What is supposed.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<FleetPlan> Gather(WhatIf suppose, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        var settings = await shop.Load(ct);
        var sites = await db.Sites.AsNoTracking().OrderBy(x => x.Name).ToListAsync(ct);
        var from = LocalDay.Of(now, TimeZoneInfo.FindSystemTimeZoneById(sites.Count > 0 ? sites[0].TimeZone : "UTC"));
        var days = settings.Shop.PlanDays;
        var people = (await crew.People(sites, ct)).Where(x => !x.Off && !suppose.Without.Contains(x.UserId)).ToList();
        var (drafts, notLooked, noCard) = await Drafts(now, from, days, people, ct);
        var rounds = Rounds(drafts);
        var roads = Roads(sites, await db.Roads.AsNoTracking().ToListAsync(ct), suppose.FarMinutes);
        var busy = (await db.Busy.AsNoTracking().Where(x => x.To >= from).ToListAsync(ct)).ToLookup(x => x.MachineId);
        var parts = await Missing(drafts, from, settings.Shop.PartsDays, ct);
        var asked = rounds.ConvertAll(x => Skill(Subjects(x)));

        // A card that is open goes on on the days that it was given.
        var going = (
            await db.PlannedJobs.AsNoTracking().Where(x => x.On >= from && x.Visit.State == VisitState.Open).ToListAsync(ct)
        ).ToLookup(x => x.UserId, StringComparer.Ordinal);
        var crewOf = people.Select(x => ToPerson(x, from, days, now, settings.Shop.ReservePercent, asked, going[x.UserId])).ToList();

        var jobs = new List<PlanJob>();
        foreach (var round in rounds)
        {
            var first = round[0];
            var site = first.Piece.Unit == suppose.FarUnit ? FarSite : first.Site;
            var blocked = round
                .SelectMany(x => BlockedDays(busy[x.Proposal.Sheet.Facts.Machine.Id], x.Piece.Unit, suppose, from, days))
                .ToImmutableHashSet();
            var missing = round.SelectMany(x => parts.GetValueOrDefault(x) ?? []).ToList();
            var partsDay = missing.Select(x => x.Comes.DayNumber - from.DayNumber).DefaultIfEmpty(0).Max();
            jobs.AddRange(ToJobs(round, site, blocked, partsDay, missing, from, days, roads, crewOf));
        }

        return new()
        {
            From = from,
            Days = days,
            CallOut = settings.Shop.CallOutCost.Value,
            PerTravelMinute = settings.Shop.RoadPerMinute.Value + settings.Labour(1),
            LeftOut = LeftOutTimes,
            Moving = settings.Shop.MovingCost.Value,
            Currency = settings.Shop.Currency,
            If = suppose,
            People = crewOf,
            Jobs = jobs,
            Roads = roads,
            NotLooked = notLooked,
            NoCard = noCard,
        };
    }

    /// <summary>What a place is called that is only supposed.</summary>
    public const string FarSite = "*";

    private async Task<(List<Draft> Drafts, int NotLooked, IReadOnlyList<string> NoCard)> Drafts(
        DateTimeOffset now,
        DateOnly from,
        int days,
        IReadOnlyList<CrewMember> people,
        CancellationToken ct
    )
    {
        var planned = await db
            .Visits.AsNoTracking()
            .AsSplitQuery()
            .Include(x => x.Items)
            .Where(x => x.State == VisitState.Planned && !x.Machine.Retired)
            .OrderBy(x => x.On)
            .ToListAsync(ct);
        var held = await db.Visits.Where(x => x.State == VisitState.Open).Select(x => x.MachineId).ToListAsync(ct);
        var visitIds = planned.Select(x => x.Id).ToList();
        var visitDefects = (await db.VisitDefects.Where(x => visitIds.Contains(x.VisitId)).ToListAsync(ct)).ToLookup(
            x => x.VisitId,
            x => VisitProposals.DefectPrefix + x.DefectId.ToString(CultureInfo.InvariantCulture)
        );
        var jobs = (
            await db.PlannedJobs.AsNoTracking().Where(x => visitIds.Contains(x.VisitId)).OrderBy(x => x.Part).ToListAsync(ct)
        ).ToLookup(x => x.VisitId);
        var withVisits = planned.Select(x => x.MachineId).ToHashSet();
        var pressing = db
            .Statuses.Where(x => !x.Machine.Retired && !held.Contains(x.MachineId) && !withVisits.Contains(x.MachineId))
            .Where(x =>
                x.Overdue + x.Due + x.Coming + x.NoRecord > 0 || x.OutOfService || x.DefectLimitHours != null || x.DefectLimitOn != null
            );
        var room = Math.Max(0, MostMachines - withVisits.Count);
        var more = await pressing
            .OrderByDescending(x => x.OutOfService)
            .ThenByDescending(x => x.Worst)
            .ThenBy(x => x.Urgency)
            .Take(room)
            .Select(x => x.MachineId)
            .ToListAsync(ct);
        var notLooked = more.Count < room ? 0 : await pressing.CountAsync(ct) - more.Count;
        var all = await proposals.Of(await db.FactsOf([.. withVisits, .. more], now, ct), ct);
        var drafts = new List<Draft>();
        var noCard = new SortedSet<string>(StringComparer.Ordinal);
        foreach (var proposal in all)
        {
            var machine = proposal.Sheet.Facts.Machine;
            var own = planned.Where(x => x.MachineId == machine.Id).ToList();
            foreach (var visit in own)
            {
                var codes = visit.Items.Select(x => x.ItemCode).Concat(visitDefects[visit.Id]).ToList();
                drafts.Add(OfVisit(proposal, visit, codes, [.. jobs[visit.Id]], from));
            }

            if (own.Count > 0)
                continue;
            var before = -1;
            foreach (var visit in proposal.Visits.Where(x => x.Day < days))
            {
                var made = OfProposed(proposal, visit, before, people).ToList();
                drafts.AddRange(made);
                before = visit.Day;

                var inJobs = made.SelectMany(x => x.Chosen).ToHashSet();
                if (PlanVisit.Driving(visit.Items.Select(x => x.Candidate)).Any(x => !inJobs.Contains(x)))
                    noCard.Add(proposal.Unit);
            }
        }

        return (drafts, notLooked, [.. noCard]);
    }

    /// <summary>A visit that is planned: what was left on it is what its items and its day say.</summary>
    private static Draft OfVisit(
        VisitProposal proposal,
        VisitRow visit,
        List<string> codes,
        IReadOnlyList<PlannedJob> planned,
        DateOnly from
    )
    {
        var chosen = proposal.Candidates.Where(x => codes.Contains(x.Code)).ToList();
        var on = visit.On.DayNumber - from.DayNumber;
        return new(
            KindOf(chosen),
            proposal.Sheet.Facts.Machine.Site.Name,
            proposal.Sheet.Facts.Machine.SiteId,
            new(proposal.Unit, visit.Id, visit.Version, codes),
            proposal,
            chosen,
            Math.Max(1, visit.ElapsedMinutes),
            // A day that somebody chose by hand holds: it was said to whoever works the machine.
            planned.Count == 0
            && on > 0
                ? on
                : Math.Min(Earliest(chosen), Math.Max(0, on)),
            planned.Count == 0 ? on : DueDay(chosen, on),
            Latest(chosen),
            IsStopped(proposal, chosen),
            planned,
            visit.PlannedCost.Value - visit.CallOutCost.Value - visit.HaulageCost.Value,
            Two: visit.TwoPeople
        );
    }

    /// <summary>
    /// A visit that is proposed. Where nobody is qualified for all that is in it, what needs a qualified person is a job of its own:
    /// the rest need not wait for that.
    /// </summary>
    private static IEnumerable<Draft> OfProposed(VisitProposal proposal, ProposedVisit visit, int before, IReadOnlyList<CrewMember> people)
    {
        var chosen = visit.Items.Select(x => x.Candidate).ToList();
        var asked = chosen.SelectMany(x => SubjectsOf(proposal, [x.Code])).ToHashSet(StringComparer.Ordinal);
        if (asked.Count == 0 || people.Any(x => asked.IsSubsetOf(x.Subjects.Select(y => y.ToString()))))
            return Parted(proposal, visit, chosen, before);
        var apart = chosen.Where(x => SubjectsOf(proposal, [x.Code]).Any()).ToList();
        return Parted(proposal, visit, [.. chosen.Except(apart)], before).Concat(Parted(proposal, visit, apart, before));
    }

    /// <summary>
    /// A visit whose card would hold more steps than one can, everything being due at once, is several: what presses most first, with
    /// all that joins it, and the rest on a later day.
    /// </summary>
    private static List<Draft> Parted(VisitProposal proposal, ProposedVisit visit, List<VisitCandidate> chosen, int before)
    {
        if (OfChosen(proposal, visit, chosen, before) is { } whole)
            return [whole];
        var (pressing, later) = PlanVisit.Halves(chosen);
        if (later.Count == 0)
            return OfChosen(proposal, visit, [.. PlanVisit.Driving(chosen)], before) is { } alone ? [alone] : [];
        var first = Parted(proposal, visit, pressing, before);
        var rest = Parted(proposal, visit, later, first.Select(x => x.Earliest).Append(before).Max());
        return [.. first, .. rest.Select(x => x with { Half = x.Half + first.Count })];
    }

    private static Draft? OfChosen(VisitProposal proposal, ProposedVisit visit, List<VisitCandidate> chosen, int before)
    {
        // Crew's care alone sends nobody out, and of what no card can be made the machine's own page says why.
        if (!PlanVisit.Driving(chosen).Any() || PlanVisit.Worked(proposal, visit.Day, chosen, default).Value is not { } worked)
            return null;
        return new(
            KindOf(chosen),
            proposal.Sheet.Facts.Machine.Site.Name,
            proposal.Sheet.Facts.Machine.SiteId,
            new(proposal.Unit, null, 0, [.. chosen.Select(x => x.Code)]),
            proposal,
            chosen,
            Math.Max(1, worked.Card.Elapsed),
            // Two visits of a machine that are worth going twice are not on one day.
            Math.Max(before + 1, Math.Min(Earliest(chosen), visit.Day)),
            visit.Day,
            Latest(chosen) is { } latest ? Math.Max(latest, before + 1) : null,
            IsStopped(proposal, chosen),
            [],
            worked.Visit.Money.Whole - worked.Visit.Money.CallOut - worked.Visit.Money.Haulage
        );
    }

    private static bool IsDefect(VisitCandidate candidate) =>
        candidate.Code.StartsWith(VisitProposals.DefectPrefix, StringComparison.Ordinal);

    private static PlanJobKind KindOf(List<VisitCandidate> chosen) =>
        PlanVisit.Driving(chosen).ToList() is { Count: > 0 } driving && driving.TrueForAll(IsDefect) ? PlanJobKind.Repair
        : chosen.Count > 0 && chosen.TrueForAll(x => x.Sample) ? PlanJobKind.Samples
        : PlanJobKind.Visit;

    /// <summary>The first day in the windows of all that is in it; what is strict waits for no window of others.</summary>
    private static int Earliest(List<VisitCandidate> chosen)
    {
        var first = Math.Max(0, PlanVisit.Driving(chosen).Select(x => x.Plan.DueDay - x.Plan.EarlyDays).DefaultIfEmpty(0).Max());
        return Latest(chosen) is { } latest ? Math.Min(first, latest) : first;
    }

    private static int DueDay(List<VisitCandidate> chosen, int otherwise) =>
        PlanVisit.Driving(chosen).Select(x => x.Plan.DueDay).DefaultIfEmpty(otherwise).Min();

    /// <summary>
    /// The last day on which strict work may be done. What is past it already is done as soon as it can be: the machine stands until
    /// then, and that it may not be done at all would help nobody.
    /// </summary>
    private static int? Latest(List<VisitCandidate> chosen)
    {
        var strict = PlanVisit
            .Driving(chosen)
            .Where(x => (x.Stand?.Point.Strict ?? IsDefect(x)) && x.Plan.DueDay > 0)
            .Select(x => x.Plan.DueDay)
            .ToList();
        return strict.Count == 0 ? null : strict.Min();
    }

    private static bool IsStopped(VisitProposal proposal, List<VisitCandidate> chosen) =>
        chosen.Exists(x =>
            IsDefect(x) && x.Plan is { DueDay: 0, EarlyDays: 0 } || x.Stand is { Status: DueStatus.Overdue, Point.Strict: true }
        );

    /// <summary>Jobs that are one: samples of a site that are wanted within a week of each other, or were one round before.</summary>
    private static List<List<Draft>> Rounds(List<Draft> drafts)
    {
        var all = new List<List<Draft>>();
        foreach (var draft in drafts.OrderBy(x => x.Due).ThenBy(x => x.Piece.Unit, StringComparer.Ordinal))
        {
            var round = draft.Planned.Count > 0 ? draft.Planned[0].Round : "";
            var with = all.Find(x =>
                draft.Kind == PlanJobKind.Samples
                && x[0].Kind == PlanJobKind.Samples
                && x[0].SiteId == draft.SiteId
                && (
                    round.Length > 0
                        ? x[0].Planned.Count > 0 && x[0].Planned[0].Round == round
                        : draft.Planned.Count == 0
                            && x[0].Planned.Count == 0
                            && draft.Piece.Visit is null
                            && x[0].Piece.Visit is null
                            && draft.Due - x[0].Due <= RoundDays
                )
            );
            if (with is null)
                all.Add([draft]);
            else
                with.Add(draft);
        }

        return all;
    }

    private static IEnumerable<PlanJob> ToJobs(
        List<Draft> round,
        string site,
        ImmutableHashSet<int> blocked,
        int partsDay,
        List<MissingPart> missing,
        DateOnly from,
        int days,
        IReadOnlyList<PlanRoad> roads,
        List<PlanPerson> people
    )
    {
        var first = round[0];
        var minutes = round.Sum(x => x.Minutes);
        var needs = Subjects(round);
        var room = Room(Skill(needs), site, roads, people);
        var parts = minutes <= room ? 1 : 1 + (minutes - 1) / room;
        var money = Math.Max(round.Sum(x => x.Money), minutes * LeastPerMinute);
        var latest = round.Min(x => x.Latest);

        // Strict work whose parts come too late is done as soon as they are here, and the machine stands until then.
        var stands = latest < partsDay ? from.AddDays(latest.Value) : (DateOnly?)null;
        var stopped = round.Exists(x => x.Stopped);
        var proposal = first.Proposal;
        var perHour = proposal.Sheet.Shop.Shop.DowntimePerHour.Value;
        var code = CodeOf(round);
        var driving = round.SelectMany(x => PlanVisit.Driving(x.Chosen)).ToList();
        var worst = driving
            .Select(x => x.Stand?.Status ?? (x.Plan.DueDay <= 0 ? DueStatus.Overdue : DueStatus.Due))
            .DefaultIfEmpty(DueStatus.NotDue)
            .Max();
        var two = first.Two && round.Count == 1;
        string Part(int part) => part == 1 ? code : string.Create(CultureInfo.InvariantCulture, $"{code}.{part}");
        WeekPlace? PlaceOf(PlannedJob? planned) =>
            planned is null || planned.On < from || planned.On >= from.AddDays(days) || !people.Exists(x => x.Rule.Code == planned.UserId)
                ? null
                : new(planned.UserId, planned.On.DayNumber - from.DayNumber);
        for (var part = 1; part <= parts; part++)
        {
            var planned = first.Planned.FirstOrDefault(x => x.Part == part && !x.Helps);
            var place = PlaceOf(planned);
            var job = new PlanJob(
                new(Part(part), site, parts == 1 ? minutes : (minutes + parts - 1) / parts)
                {
                    Skill = Skill(needs),
                    Earliest = round.Min(x => x.Earliest),
                    Due = round.Min(x => x.Due),
                    Latest = stands is null ? latest : null,
                    Cost = money / parts,
                    EveryDays = EveryDays(driving, money, stopped),
                    PerDay = stopped || stands is not null ? perHour * Math.Max(1, proposal.Now.Use.HoursPerDay) / parts : 0,
                    PartsDay = partsDay,
                    Blocked = stopped ? [] : blocked,
                    After = part == 1 ? null : Part(part - 1),
                    Announced = place,
                    Pinned = planned is { Pinned: true } ? place : null,
                },
                first.Kind,
                site,
                [.. round.Select(x => x.Piece)],
                (int)(NameHours(round) ?? 0),
                round.Sum(x => x.Chosen.Count),
                worst,
                stopped,
                stands,
                part,
                parts,
                missing,
                needs,
                two
            );
            yield return job;
            if (!two)
                continue;

            // Who helps is on the same day, need not be qualified, and weighs nothing by themselves: both come, or neither.
            planned = first.Planned.FirstOrDefault(x => x.Part == part && x.Helps);
            place = PlaceOf(planned);
            yield return job with
            {
                Helps = true,
                Rule = job.Rule with
                {
                    Code = string.Create(CultureInfo.InvariantCulture, $"{code}.{part}b"),
                    Together = job.Code,
                    Skill = null,
                    Cost = 0,
                    PerDay = 0,
                    After = null,
                    Announced = place,
                    Pinned = planned is { Pinned: true } ? place : null,
                },
            };
        }
    }

    /// <summary>Minutes that the longest day of anybody who may do it leaves at a site; boundless where nobody may.</summary>
    private static int Room(string? skill, string site, IReadOnlyList<PlanRoad> roads, List<PlanPerson> people)
    {
        int Far(string home) => home == site ? 0 : roads.First(x => (x.A, x.B) == (home, site) || (x.B, x.A) == (home, site)).Minutes;
        var rooms = people
            .Where(x => skill is null || x.Rule.Skills.Contains(skill))
            .Select(x => x.Rule.Minutes.Max() - 2 * Far(x.Rule.Base))
            .Where(x => x > 0)
            .ToList();
        return rooms.Count == 0 ? int.MaxValue : rooms.Max();
    }

    private static double? NameHours(List<Draft> round) =>
        round.Count > 1
            ? null
            : VisitName.HoursOf(
                round[0]
                    .Chosen.Where(x => !x.Care && x.Stand?.Point is { Basis: not DueBasis.Wear })
                    .Select(x => ((double?)x.Stand!.Point.IntervalHours, x.Cost.Minutes))
            );

    private static string CodeOf(List<Draft> round)
    {
        var first = round[0];
        return first.Piece.Visit is { } id
            ? first.Planned.Count > 0 && first.Planned[0].Round is { Length: > 0 } name
                ? "r" + name
                : string.Create(CultureInfo.InvariantCulture, $"v{id}")
            : round.Count > 1
                ? $"s{first.SiteId}-{first.Piece.Unit}"
                : string.Create(
                    CultureInfo.InvariantCulture,
                    $"p{first.Piece.Unit}-{first.Due}{(Subjects(first).Any() ? "q" : "")}{(first.Half > 0 ? $"-{first.Half + 1}" : "")}"
                );
    }

    /// <summary>How often what is in a job comes: what a day early throws away is the sum of what it throws away of each.</summary>
    private static int EveryDays(List<VisitCandidate> driving, double money, bool stopped)
    {
        var perDay = driving.Where(x => x.Plan.EveryDays < VisitCandidate.NeverDays).Sum(x => x.Plan.Cost / x.Plan.EveryDays);
        if (stopped)
            return StopDays;
        if (driving.Exists(IsDefect))
            return LimitDays;
        return perDay <= 0 ? LimitDays : (int)Math.Clamp(Math.Round(money / perDay), 1, VisitCandidate.NeverDays);
    }

    private static IEnumerable<int> BlockedDays(IEnumerable<BusyRow> busy, string unit, WhatIf suppose, DateOnly from, int days)
    {
        var blocked = busy.SelectMany(x => Enumerable.Range(x.From.DayNumber, x.To.DayNumber - x.From.DayNumber + 1));
        if (suppose.BusyUnit == unit && suppose.BusyUntil is { } until)
            blocked = blocked.Concat(Enumerable.Range(from.DayNumber, Math.Max(0, until.DayNumber - from.DayNumber + 1)));
        return blocked.Select(x => x - from.DayNumber).Where(x => x >= 0 && x < days);
    }

    /// <summary>What whoever does it must be qualified for, by kind of place.</summary>
    private static List<string> Subjects(List<Draft> round) =>
        [.. round.SelectMany(Subjects).Distinct(StringComparer.Ordinal).Order(StringComparer.Ordinal)];

    private static IEnumerable<string> Subjects(Draft draft) =>
        SubjectsOf(draft.Proposal, draft.Chosen.Select(x => x.Code).ToHashSet(StringComparer.Ordinal));

    private static IEnumerable<string> SubjectsOf(VisitProposal proposal, IReadOnlyCollection<string> codes)
    {
        var facts = proposal.Sheet.Facts;
        var kinds = facts.Machine.Program.Compartments.ToDictionary(x => x.Code, x => x.Kind, StringComparer.Ordinal);
        return facts
            .Items.Where(x => x.Qualified && codes.Contains(x.Code) && kinds.ContainsKey(x.Compartment))
            .Select(x => kinds[x.Compartment].ToString());
    }

    // The rule knows one skill for a job: several subjects are one that only who has all of them has.
    private static string? Skill(List<string> subjects) => subjects.Count == 0 ? null : string.Join('+', subjects);

    private static PlanPerson ToPerson(
        CrewMember member,
        DateOnly from,
        int days,
        DateTimeOffset now,
        int reservePercent,
        IEnumerable<string?> asked,
        IEnumerable<PlannedJob> going
    )
    {
        var own = member.Subjects.Select(x => x.ToString()).ToHashSet(StringComparer.Ordinal);
        var whole = Enumerable
            .Range(0, days)
            .Select(day => from.AddDays(day))
            .Select(on => member.Away.Any(x => x.From <= on && on <= x.To) ? 0 : member.Minutes[(int)on.DayOfWeek])
            .ToArray();
        whole[0] = Math.Min(whole[0], LeftToday(member.Site, now));
        var net = whole.Select(x => x * (100 - reservePercent) / 100).ToArray();
        var reserve = whole.Zip(net, (all, left) => all - left).ToImmutableArray();
        foreach (var job in going.Where(x => x.On < from.AddDays(days)))
        {
            var day = job.On.DayNumber - from.DayNumber;
            net[day] = Math.Max(0, net[day] - job.Minutes);
        }

        return new(
            new(member.UserId, member.Site.Name, [.. net], [.. asked.OfType<string>().Where(x => x.Split('+').All(own.Contains))]),
            member.Name,
            reserve
        );
    }

    /// <summary>Minutes until the site's shift is over: nothing is planned for the hours that are gone.</summary>
    private static int LeftToday(Site site, DateTimeOffset now)
    {
        var local = TimeZoneInfo.ConvertTime(now, TimeZoneInfo.FindSystemTimeZoneById(site.TimeZone));
        var minute = (int)local.TimeOfDay.TotalMinutes;
        return site.ShiftTo > site.ShiftFrom ? Math.Max(0, site.ShiftTo - Math.Max(minute, site.ShiftFrom)) : int.MaxValue;
    }

    /// <summary>How far it is between all sites, by the shortest way through others.</summary>
    internal static IReadOnlyList<PlanRoad> Roads(IReadOnlyList<Site> sites, IReadOnlyList<RoadRow> said, int? farMinutes)
    {
        var names = sites.Select(x => x.Name).Concat(farMinutes is null ? [] : [FarSite]).Order(StringComparer.Ordinal).ToList();
        var ids = sites.ToDictionary(x => x.Name, x => x.Id, StringComparer.Ordinal);
        var minutes = new int[names.Count, names.Count];
        var entered = new bool[names.Count, names.Count];
        for (var a = 0; a < names.Count; a++)
        {
            for (var b = 0; b < names.Count; b++)
            {
                var row =
                    a == b || names[a] == FarSite || names[b] == FarSite
                        ? null
                        : said.FirstOrDefault(x =>
                            x.FromId == Math.Min(ids[names[a]], ids[names[b]]) && x.ToId == Math.Max(ids[names[a]], ids[names[b]])
                        );
                entered[a, b] = row is not null || names[a] == FarSite || names[b] == FarSite;
                minutes[a, b] =
                    a == b ? 0
                    : entered[a, b] && row is null ? farMinutes!.Value
                    : row?.Minutes ?? CrewBook.UnsaidRoad;
            }
        }

        for (var via = 0; via < names.Count; via++)
        {
            for (var a = 0; a < names.Count; a++)
            {
                for (var b = 0; b < names.Count; b++)
                    minutes[a, b] = Math.Min(minutes[a, b], minutes[a, via] + minutes[via, b]);
            }
        }

        return
        [
            .. Enumerable
                .Range(0, names.Count)
                .SelectMany(a => Enumerable.Range(a + 1, names.Count - a - 1).Select(b => (a, b)))
                .Select(x => new PlanRoad(names[x.a], names[x.b], minutes[x.a, x.b], entered[x.a, x.b])),
        ];
    }

    /// <summary>
    /// Parts that are not on the shelf when their job would take them. A shelf is shared by day: what is due first takes first, then
    /// what was ordered, by the day on which it comes; the rest waits as long as parts usually do.
    /// </summary>
    private async Task<Dictionary<Draft, List<MissingPart>>> Missing(List<Draft> drafts, DateOnly from, int usualDays, CancellationToken ct)
    {
        var wanted = drafts
            .OrderBy(x => x.Planned.Count > 0 ? x.Planned[0].On : from.AddDays(Math.Max(0, x.Due)))
            .Select(x => (Draft: x, Parts: PartsOf(x)))
            .ToList();
        var ids = wanted.SelectMany(x => x.Parts).Select(x => x.PartId).Distinct().ToList();
        var shelf = (await db.ShelvesOf(ids, ct)).ToDictionary(x => (x.PartId, x.SiteId), x => x.Count);
        var ordered = (await db.PartOrders.AsNoTracking().Where(x => ids.Contains(x.PartId)).OrderBy(x => x.ExpectedOn).ToListAsync(ct))
            .GroupBy(x => (x.PartId, x.SiteId))
            .ToDictionary(x => x.Key, x => new Queue<DateOnly>(x.SelectMany(y => Enumerable.Repeat(y.ExpectedOn, y.Quantity))));
        var missing = new Dictionary<Draft, List<MissingPart>>();
        foreach (var (draft, parts) in wanted)
        {
            foreach (var (partId, number, count) in parts)
            {
                var key = (partId, draft.SiteId);
                var here = Math.Min(count, Math.Max(0, shelf.GetValueOrDefault(key)));
                shelf[key] = shelf.GetValueOrDefault(key) - here;
                var lacks = count - here;
                if (lacks == 0)
                    continue;
                var comes = DateOnly.MinValue;
                var all = true;
                for (var piece = 0; piece < lacks; piece++)
                {
                    var on = ordered.TryGetValue(key, out var queue) && queue.Count > 0 ? queue.Dequeue() : (DateOnly?)null;
                    all &= on is not null;
                    var day = on is { } said && said >= from ? said : from.AddDays(on is null ? usualDays : 0);
                    comes = day > comes ? day : comes;
                }

                if (!missing.TryGetValue(draft, out var list))
                    missing[draft] = list = [];
                list.Add(new(number, lacks, comes, all));
            }
        }

        return missing;
    }

    private static List<(int PartId, string Number, int Count)> PartsOf(Draft draft)
    {
        var covered = draft
            .Chosen.SelectMany(x => draft.Proposal.Sheet.CoveredBy(x.Code))
            .Select(x => x.Code)
            .ToHashSet(StringComparer.Ordinal);
        var codes = draft.Chosen.Select(x => x.Code).Where(x => !covered.Contains(x)).ToHashSet(StringComparer.Ordinal);
        return
        [
            .. draft
                .Proposal.Sheet.Positions.Where(x => x.Part is not null && codes.Contains(x.ItemCode))
                .GroupBy(x => x.PartId!.Value)
                .Select(x => (x.Key, x.First().Part!.Number, x.Count())),
        ];
    }
}
