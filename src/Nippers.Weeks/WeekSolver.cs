using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using Google.OrTools.Sat;
using Nippers.Core.Weeks;

namespace Nippers.Weeks;

/// <summary>
/// Plans weeks with CP-SAT. Each person's day chooses the set of sites that it goes to, whose tour is worked out beforehand, so that road,
/// call-outs and minutes are sums; each job chooses one place or none.
/// </summary>
public sealed class WeekSolver : IWeekSolver
{
    // The solver counts in whole numbers: ten thousandths of money, coarser where there is so much of it that they would run over.
    private const double Fine = 10_000;
    private const double MostCounted = 1e15;

    // Of the time, at most so much goes to the bound: of fleets of some sixty jobs it takes half a second.
    private const double BoundShare = 0.4;

    // And so much to the plan of the days that were found with it.
    private const double WholeShare = 0.35;

    // Nobody waits long for what is nearly proved: a fleet of some machines is planned while one looks.
    private const double NearEnough = 0.005;
    private static readonly TimeSpan Short = TimeSpan.FromSeconds(1);

    // Kinds of search that help each other, on however many cores there are.
    private const int Workers = 8;
    private const double LeastSeconds = 0.2;

    /// <inheritdoc/>
    public WeekPlan Solve(WeekCase given, TimeSpan most, CancellationToken ct = default)
    {
        var watch = Stopwatch.StartNew();
        Refuse(given);
        var plain = WeekRules.OverdueFirst(given);
        var start = WeekRules.Faults(given, plain).Count == 0 ? WeekSearch.Better(given, plain, ct) : null;
        var days = WeekPersonDay.All(given);
        double bound;
        using (var columns = WeekColumns.Find(given, days, start, most * BoundShare, ct))
        {
            bound = columns.Bound;
            if (columns.Plan(most * WholeShare, ct) is { } whole && IsBetter(whole))
                start = whole;
        }

        var model = new Model(given, days, start);
        var left = most - watch.Elapsed;
        if (start is not null && new WeekPlan(start, WeekRules.Cost(given, start), bound).Gap < NearEnough)
            left = TimeSpan.FromTicks(Math.Min(left.Ticks, Short.Ticks));
        var solver = Search(left);
        using var stopped = ct.Register(solver.StopSearch);
        var status = solver.Solve(model.Built);
        ct.ThrowIfCancellationRequested();
        if (status is not (CpSolverStatus.Optimal or CpSolverStatus.Feasible))
        {
            if (status == CpSolverStatus.Infeasible)
                throw new ImpossibleWeekException("The pins do not fit together.");

            // Nothing was found in time: what it was to begin from stands.
            return start is not null
                ? new(start, WeekRules.Cost(given, start), Math.Min(bound, WeekRules.Cost(given, start)))
                : throw new TimeoutException("No plan was found in time.");
        }

        var places = model.Read(solver);
        var cost = WeekRules.Cost(given, places);
        var below = status == CpSolverStatus.Optimal ? cost : Math.Max(bound, solver.BestObjectiveBound / model.Fine);
        return new(places, cost, Math.Clamp(below, 0, cost));

        bool IsBetter(ImmutableSortedDictionary<string, WeekPlace> places) =>
            WeekRules.Faults(given, places).Count == 0 && (start is null || WeekRules.Cost(given, places) < WeekRules.Cost(given, start));
    }

    /// <summary>A search for some time, on however many cores there are, the same each time it comes to its end.</summary>
    internal static CpSolver Search(TimeSpan most) =>
        new()
        {
            StringParameters = string.Create(
                CultureInfo.InvariantCulture,
                $"max_time_in_seconds:{Math.Max(LeastSeconds, most.TotalSeconds)},num_workers:{Workers},linearization_level:2,random_seed:1"
            ),
        };

    /// <summary>Pins that cannot be, told by their own names.</summary>
    private static void Refuse(WeekCase given)
    {
        var jobs = given.Jobs.ToDictionary(x => x.Code, StringComparer.Ordinal);
        foreach (var job in given.Jobs)
        {
            if (job.Pinned is not { } pin)
                continue;
            if (given.People.FirstOrDefault(x => x.Code == pin.Person) is not { } person)
                throw new ImpossibleWeekException($"{job.Code}: there is no {pin.Person}.");
            if (pin.Day < 0 || pin.Day >= given.Days || person.Minutes[pin.Day] == 0)
                throw new ImpossibleWeekException($"{job.Code}: {pin.Person} is not there on day {pin.Day}.");
            if (!WeekRules.Can(person, job))
                throw new ImpossibleWeekException($"{job.Code}: {pin.Person} is not {job.Skill}.");
            if (job.Together is { } other && jobs[other].Pinned is { } theirs && (theirs.Day != pin.Day || theirs.Person == pin.Person))
                throw new ImpossibleWeekException($"{job.Code}: it is not together with {other}.");
        }

        foreach (var day in given.Jobs.Where(x => x.Pinned is not null).GroupBy(x => x.Pinned!))
        {
            var person = given.People.First(x => x.Code == day.Key.Person);
            var minutes = day.Sum(x => x.Minutes) + WeekRules.Tour(given, person.Base, day.Select(x => x.Site));
            if (minutes > person.Minutes[day.Key.Day])
            {
                var which = string.Join(", ", day.Select(x => x.Code));
                var has = $"the {person.Minutes[day.Key.Day]} of {day.Key.Person} on day {day.Key.Day}";
                throw new ImpossibleWeekException($"{which}: {minutes} minutes are more than {has}.");
            }
        }
    }

    private sealed class Model
    {
        private readonly WeekCase _given;
        private readonly ImmutableSortedDictionary<string, WeekPlace>? _start;
        private readonly Dictionary<string, List<(WeekPlace Place, BoolVar Is)>> _places = new(StringComparer.Ordinal);

        public Model(WeekCase given, IReadOnlyList<WeekPersonDay> days, ImmutableSortedDictionary<string, WeekPlace>? start)
        {
            (_given, _start) = (given, start);
            var costs = new List<(BoolVar Is, long Cost)>();
            double always = 0;
            var dearest = given.Jobs.Sum(x =>
                WeekRules.Left(given, x) + WeekRules.Done(x, given.Days) + WeekRules.Done(x, 0) + given.Moving
            );
            Fine = Math.Min(WeekSolver.Fine, MostCounted / Math.Max(1, dearest + given.CallOut + given.PerTravelMinute));
            var placesOf = days.SelectMany(x => x.Jobs.Select(job => (job, x.Place))).ToLookup(x => x.job, x => x.Place);
            foreach (var (job, i) in given.Jobs.Select((x, i) => (x, i)))
            {
                var places = placesOf[i]
                    .OrderBy(x => x.Day)
                    .Select(x => (Place: x, Is: Built.NewBoolVar($"{job.Code} {x.Person} {x.Day}")))
                    .ToList();
                _places[job.Code] = places;
                if (job.Pinned is null)
                    Built.AddAtMostOne(places.Select(x => x.Is));
                else
                    Built.AddExactlyOne(places.Select(x => x.Is));
                var left = WeekRules.Left(given, job);
                always += left;
                foreach (var (place, chosen) in places)
                {
                    costs.Add((chosen, Whole(WeekRules.Done(job, place.Day) + WeekRules.Moved(given, job, place) - left)));
                    if (start is not null)
                        Built.AddHint(chosen, start.GetValueOrDefault(job.Code) == place);
                }
            }

            Pair();
            Order();
            foreach (var day in days)
                Day(day, costs);
            Built.Minimize(LinearExpr.WeightedSum(costs.Select(x => x.Is), costs.Select(x => x.Cost)) + Whole(always));
        }

        public CpModel Built { get; } = new();

        /// <summary>What one of money is in the numbers that it counts.</summary>
        public double Fine { get; }

        private long Whole(double money) => (long)Math.Round(money * Fine);

        /// <summary>Two jobs on the same day by two people, or neither.</summary>
        private void Pair()
        {
            foreach (var job in _given.Jobs)
            {
                if (job.Together is not { } other)
                    continue;
                for (var day = 0; day < _given.Days; day++)
                    Built.Add(Sum(On(job.Code, day)) == Sum(On(other, day)));
                foreach (var (place, mine) in _places[job.Code])
                {
                    foreach (var (_, theirs) in _places[other].Where(x => x.Place == place))
                        Built.AddAtMostOne([mine, theirs]);
                }
            }
        }

        /// <summary>
        /// A job after another: not by the end of a day unless the other is over by the end of the day before, and both or neither.
        /// </summary>
        private void Order()
        {
            foreach (var job in _given.Jobs)
            {
                if (job.After is not { } first)
                    continue;
                for (var day = 0; day < _given.Days; day++)
                    Built.Add(Sum(By(job.Code, day)) <= Sum(By(first, day - 1)));
                Built.Add(Sum(By(job.Code, _given.Days)) == Sum(By(first, _given.Days)));
            }
        }

        private IEnumerable<BoolVar> On(string job, int day) => _places[job].Where(x => x.Place.Day == day).Select(x => x.Is);

        private IEnumerable<BoolVar> By(string job, int day) => _places[job].Where(x => x.Place.Day <= day).Select(x => x.Is);

        private static LinearExpr Sum(IEnumerable<BoolVar> these) => LinearExpr.Sum(these);

        /// <summary>A person's day: the sites it goes to, and the minutes of the road and of its jobs.</summary>
        private void Day(WeekPersonDay day, List<(BoolVar Is, long Cost)> costs)
        {
            var place = day.Place;
            var here = day.Jobs.Select(x => _given.Jobs[x]).Select(x => (Job: x, _places[x.Code].First(p => p.Place == place).Is)).ToList();
            var tours = day
                .Tours.Select((x, i) => (x.Sites, x.Minutes, Is: Built.NewBoolVar($"{place.Person} {place.Day} goes {i}")))
                .ToList();
            Built.AddAtMostOne(tours.Select(x => x.Is));
            if (_start is not null)
            {
                var goesTo = here.Where(x => _start.GetValueOrDefault(x.Job.Code) == place).Select(x => x.Job.Site).ToHashSet();
                foreach (var tour in tours)
                    Built.AddHint(tour.Is, goesTo.Count > 0 && tour.Sites.SetEquals(goesTo));
            }

            foreach (var site in here.GroupBy(x => x.Job.Site))
            {
                var goes = Sum(tours.Where(x => x.Sites.Contains(site.Key)).Select(x => x.Is));
                foreach (var (_, chosen) in site)
                    Built.Add(chosen <= goes);
            }

            // A day without a tour has no minutes either: so said, half a tour is worth half a day, and the bound is tight.
            Built.Add(
                LinearExpr.WeightedSum(here.Select(x => x.Is), here.Select(x => (long)x.Job.Minutes))
                    <= LinearExpr.WeightedSum(tours.Select(x => x.Is), tours.Select(x => (long)day.Minutes - x.Minutes))
            );
            costs.AddRange(tours.Select(x => (x.Is, Whole(_given.CallOut * x.Sites.Count + _given.PerTravelMinute * x.Minutes))));
        }

        public ImmutableSortedDictionary<string, WeekPlace> Read(CpSolver solver) =>
            _places
                .Select(x => (x.Key, Place: x.Value.FirstOrDefault(p => solver.BooleanValue(p.Is)).Place))
                .Where(x => x.Place is not null)
                .ToImmutableSortedDictionary(x => x.Key, x => x.Place, StringComparer.Ordinal);
    }
}
