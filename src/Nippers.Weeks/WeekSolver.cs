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

    // Kinds of search that help each other, on however many cores there are.
    private const int Workers = 8;

    // More sets of sites than these are not offered to a day: nobody drives to all of a dozen sites between morning and evening.
    private const int MostSets = 400;

    /// <inheritdoc/>
    public WeekPlan Solve(WeekCase given, TimeSpan most, CancellationToken ct = default)
    {
        var watch = Stopwatch.StartNew();
        Refuse(given);
        var plain = WeekRules.OverdueFirst(given);
        var start = WeekRules.Faults(given, plain).Count == 0 ? WeekSearch.Better(given, plain, ct) : null;
        var model = new Model(given, start);
        var left = Math.Max(1, most.TotalSeconds - watch.Elapsed.TotalSeconds);
        var solver = new CpSolver
        {
            StringParameters = string.Create(
                CultureInfo.InvariantCulture,
                $"max_time_in_seconds:{left},num_workers:{Workers},linearization_level:2,random_seed:1"
            ),
        };
        using var stopped = ct.Register(solver.StopSearch);
        var status = solver.Solve(model.Built);
        ct.ThrowIfCancellationRequested();
        if (status is not (CpSolverStatus.Optimal or CpSolverStatus.Feasible))
        {
            if (status == CpSolverStatus.Infeasible)
                throw new ImpossibleWeekException("The pins do not fit together.");

            // Nothing was found in time: what it was to begin from stands, and nobody knows how much better there is.
            return start is not null
                ? new(start, WeekRules.Cost(given, start), 0)
                : throw new TimeoutException("No plan was found in time.");
        }

        var places = model.Read(solver);
        var cost = WeekRules.Cost(given, places);
        return new(places, cost, Math.Clamp(status == CpSolverStatus.Optimal ? cost : solver.BestObjectiveBound / model.Fine, 0, cost));
    }

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

        public Model(WeekCase given, ImmutableSortedDictionary<string, WeekPlace>? start)
        {
            (_given, _start) = (given, start);
            var costs = new List<(BoolVar Is, long Cost)>();
            double always = 0;
            var dearest = given.Jobs.Sum(x =>
                WeekRules.Left(given, x) + WeekRules.Done(x, given.Days) + WeekRules.Done(x, 0) + given.Moving
            );
            Fine = Math.Min(WeekSolver.Fine, MostCounted / Math.Max(1, dearest + given.CallOut + given.PerTravelMinute));
            foreach (var job in given.Jobs)
            {
                var places = Places(job).Select(x => (Place: x, Is: Built.NewBoolVar($"{job.Code} {x.Person} {x.Day}"))).ToList();
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
            foreach (var person in given.People)
            {
                for (var day = 0; day < given.Days; day++)
                    Day(person, day, costs);
            }

            Built.Minimize(LinearExpr.WeightedSum(costs.Select(x => x.Is), costs.Select(x => x.Cost)) + Whole(always));
        }

        public CpModel Built { get; } = new();

        /// <summary>What one of money is in the numbers that it counts.</summary>
        public double Fine { get; }

        private long Whole(double money) => (long)Math.Round(money * Fine);

        private IEnumerable<WeekPlace> Places(WeekJob job) =>
            job.Pinned is { } pin
                ? [pin]
                : Enumerable
                    .Range(0, _given.Days)
                    .Where(day => WeekRules.IsOpen(job, day))
                    .SelectMany(day =>
                        _given
                            .People.Where(x => WeekRules.Can(x, job) && WeekRules.HasTime(_given, x, job, day))
                            .Select(x => new WeekPlace(x.Code, day))
                    );

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
        private void Day(WeekPerson person, int day, List<(BoolVar Is, long Cost)> costs)
        {
            var place = new WeekPlace(person.Code, day);
            var here = _given
                .Jobs.Select(x => (Job: x, Is: _places[x.Code].FirstOrDefault(p => p.Place == place).Is))
                .Where(x => x.Is is not null)
                .ToList();
            if (here.Count == 0)
                return;
            var sets = Sets(person, day, [.. here.Select(x => x.Job.Site).Distinct(StringComparer.Ordinal)])
                .Select((x, i) => (x.Sites, x.Tour, Is: Built.NewBoolVar($"{person.Code} {day} goes {i}")))
                .ToList();
            Built.AddAtMostOne(sets.Select(x => x.Is));
            if (_start is not null)
            {
                var goesTo = here.Where(x => _start.GetValueOrDefault(x.Job.Code) == place).Select(x => x.Job.Site).ToHashSet();
                foreach (var set in sets)
                    Built.AddHint(set.Is, goesTo.Count > 0 && set.Sites.SetEquals(goesTo));
            }

            foreach (var site in here.GroupBy(x => x.Job.Site))
            {
                var goes = Sum(sets.Where(x => x.Sites.Contains(site.Key)).Select(x => x.Is));
                foreach (var (_, chosen) in site)
                    Built.Add(chosen <= goes);
            }

            // A day without a tour has no minutes either: so said, half a tour is worth half a day, and the bound is tight.
            Built.Add(
                LinearExpr.WeightedSum(here.Select(x => x.Is), here.Select(x => (long)x.Job.Minutes))
                    <= LinearExpr.WeightedSum(sets.Select(x => x.Is), sets.Select(x => (long)person.Minutes[day] - x.Tour))
            );
            costs.AddRange(sets.Select(x => (x.Is, Whole(_given.CallOut * x.Sites.Count + _given.PerTravelMinute * x.Tour))));
        }

        /// <summary>Sets of sites that a day has time to drive to, the small ones first.</summary>
        private IEnumerable<(ImmutableHashSet<string> Sites, int Tour)> Sets(WeekPerson person, int day, ImmutableArray<string> sites)
        {
            IEnumerable<ImmutableArray<int>> some =
            [
                [],
            ];
            var given = 0;
            for (var size = 1; size <= sites.Length; size++)
            {
                some =
                [
                    .. some.SelectMany(x =>
                        Enumerable.Range(x.IsEmpty ? 0 : x[^1] + 1, sites.Length - (x.IsEmpty ? 0 : x[^1] + 1)).Select(x.Add)
                    ),
                ];
                foreach (var set in some)
                {
                    if (given++ > MostSets)
                        yield break;
                    var names = set.Select(x => sites[x]).ToImmutableHashSet(StringComparer.Ordinal);
                    var tour = WeekRules.Tour(_given, person.Base, names);
                    if (tour < person.Minutes[day])
                        yield return (names, tour);
                }
            }
        }

        public ImmutableSortedDictionary<string, WeekPlace> Read(CpSolver solver) =>
            _places
                .Select(x => (x.Key, Place: x.Value.FirstOrDefault(p => solver.BooleanValue(p.Is)).Place))
                .Where(x => x.Place is not null)
                .ToImmutableSortedDictionary(x => x.Key, x => x.Place, StringComparer.Ordinal);
    }
}
