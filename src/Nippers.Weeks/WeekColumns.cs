using System.Collections.Immutable;
using System.Diagnostics;
using Google.OrTools.Sat;
using Nippers.Core.Weeks;
using LinearRow = Google.OrTools.LinearSolver.Constraint;
using LinearShare = Google.OrTools.LinearSolver.Variable;
using LinearSolver = Google.OrTools.LinearSolver.Solver;

namespace Nippers.Weeks;

/// <summary>
/// Plans weeks by columns: a linear program chooses for each person's day among whole days that fit, and days that would make it cheaper
/// are looked for until there are none. Below what it comes to no plan can be, and that is much nearer than with single jobs, where a part
/// of a job may share a part of a road. The days that were found make a good plan too.
/// </summary>
internal sealed class WeekColumns : IDisposable
{
    // The programs whose bound is looked at lie between the best one's prices and the last one's: fewer of them are needed so.
    private const double Towards = 0.6;

    // A day that is cheaper by less than this, in money, is no news; nor is a bound nearer than this share.
    private const double Least = 1e-6;
    private const double Near = 1e-4;

    // So much of the time goes to the bound, and the rest of it to days that make a whole plan.
    private const double BranchShare = 0.6;

    // Less than this is not done in part.
    private const double Half = 0.01;

    // Plans of whole days are compared in hundredths of money.
    private const double Fine = 100;

    private readonly WeekCase _given;
    private readonly IReadOnlyList<WeekPersonDay> _days;
    private readonly LinearSolver _solver = LinearSolver.CreateSolver("GLOP");
    private readonly List<LinearRow> _rows = [];
    private readonly List<bool> _free = [];
    private readonly List<double> _right = [];
    private readonly LinearRow[] _ofDay;

    // In which rows a job stands when it is done on a person's day, and what doing it on a day costs more than leaving it out.
    private readonly List<(int Row, double Times)>[,] _in;
    private readonly double[,] _cost;
    private readonly double _always;

    // The job that another one goes together with; and the pair that it is of, of which nobody does both on one day.
    private readonly int?[] _other;
    private readonly int[] _pairs;

    // For the tables: sites by number, to which of them each tour of a day goes, and the minutes of a step.
    private readonly int[] _siteOf;
    private readonly bool[][][] _goesTo;
    private readonly int _step;
    private readonly List<Column> _columns = [];
    private readonly List<LinearShare> _shares = [];

    // How much of each whole day the last program took.
    private List<double> _taken = [];

    private WeekColumns(WeekCase given, IReadOnlyList<WeekPersonDay> days)
    {
        (_given, _days) = (given, days);
        var jobs = given.Jobs;
        _in = new List<(int, double)>[jobs.Length, days.Count];
        _cost = new double[jobs.Length, given.Days];
        _other = new int?[jobs.Length];
        _pairs = [.. Enumerable.Range(0, jobs.Length)];
        var number = new Dictionary<string, int>(StringComparer.Ordinal);
        for (var i = 0; i < jobs.Length; i++)
        {
            number[jobs[i].Code] = i;
            var left = WeekRules.Left(given, jobs[i]);
            _always += left;
            var row = Row(jobs[i].Pinned is not null ? 1 : double.NegativeInfinity, 1);
            for (var day = 0; day < given.Days; day++)
                _cost[i, day] = WeekRules.Done(jobs[i], day) - left;
            for (var at = 0; at < days.Count; at++)
                _in[i, at] = [];
            Put(i, row, 1, _ => true);
        }

        for (var i = 0; i < jobs.Length; i++)
        {
            if (jobs[i].Together is { } other)
            {
                _other[i] = number[other];
                Together(i, number[other]);
            }

            if (jobs[i].After is { } first)
                After(i, number[first]);
        }

        // Two people are two, and what comes after is on a later day. Who is in two of these is in the first one.
        foreach (var link in new Func<WeekJob, string?>[] { x => x.Together, x => x.After })
        {
            for (var i = 0; i < jobs.Length; i++)
            {
                if (link(jobs[i]) is { } code && number[code] is var other && IsAlone(i) && IsAlone(other))
                    _pairs[i] = other;
            }
        }

        var sites = jobs.Select(x => x.Site).Distinct(StringComparer.Ordinal).ToList();
        _siteOf = [.. jobs.Select(x => sites.IndexOf(x.Site))];
        _goesTo = [.. days.Select(x => x.Tours.Select(tour => sites.Select(tour.Sites.Contains).ToArray()).ToArray())];
        _step = Math.Max(1, jobs.Select(x => x.Minutes).Aggregate(0, CommonStep));
        _ofDay = [.. days.Select(_ => _solver.MakeConstraint(double.NegativeInfinity, 1))];
        _solver.Objective().SetMinimization();
    }

    // A whole day that fits: which one, where it goes, what is done on it, and what that costs.
    private sealed record Column(int Day, WeekTour Tour, List<int> Jobs, double Cost);

    /// <summary>Looks for days.</summary>
    /// <param name="given">What there is to plan.</param>
    /// <param name="days">Its days.</param>
    /// <param name="start">A plan to begin from; null for none.</param>
    /// <param name="most">How long to look.</param>
    /// <param name="ct">Stops looking.</param>
    public static WeekColumns Find(
        WeekCase given,
        IReadOnlyList<WeekPersonDay> days,
        IReadOnlyDictionary<string, WeekPlace>? start,
        TimeSpan most,
        CancellationToken ct
    )
    {
        var watch = Stopwatch.StartNew();
        var columns = new WeekColumns(given, days);
        columns.Begin(start);
        columns.Bound = columns.Branch(
            start is null ? double.PositiveInfinity : WeekRules.Cost(given, start),
            () => watch.Elapsed < most * BranchShare && !ct.IsCancellationRequested,
            () => watch.Elapsed < most && !ct.IsCancellationRequested
        );
        return columns;
    }

    /// <summary>No plan costs less, money; 0 where nothing above it was found in time.</summary>
    public double Bound { get; private set; }

    /// <inheritdoc/>
    public void Dispose() => _solver.Dispose();

    /// <summary>The cheapest plan of the days that were found, in some time; null where they make none.</summary>
    public ImmutableSortedDictionary<string, WeekPlace>? Plan(TimeSpan most, CancellationToken ct)
    {
        var model = new CpModel();

        // Whoever is in two pairs is kept apart in one of them alone.
        var days = _columns.Where(x => !x.Jobs.Exists(job => _other[job] is { } other && x.Jobs.Contains(other))).ToList();
        var chosen = days.ConvertAll(_ => model.NewBoolVar(""));
        var terms = _rows.ConvertAll(_ => new List<(BoolVar Is, long Times)>());
        for (var i = 0; i < days.Count; i++)
        {
            foreach (var (row, times) in RowsOf(days[i]))
                terms[row].Add((chosen[i], (long)times));
        }

        foreach (var day in days.Select((x, i) => (x.Day, i)).GroupBy(x => x.Day))
            model.AddAtMostOne(day.Select(x => chosen[x.i]));
        for (var row = 0; row < terms.Count; row++)
        {
            var sum = LinearExpr.WeightedSum(terms[row].Select(x => x.Is), terms[row].Select(x => x.Times));
            model.AddLinearConstraint(sum, _free[row] ? (long)_right[row] : long.MinValue, (long)_right[row]);
        }

        model.Minimize(LinearExpr.WeightedSum(chosen, days.Select(x => (long)Math.Round(x.Cost * Fine))));
        var solver = WeekSolver.Search(most);
        using var stopped = ct.Register(solver.StopSearch);
        if (solver.Solve(model) is not (CpSolverStatus.Optimal or CpSolverStatus.Feasible))
            return null;
        return days.Where((_, i) => solver.BooleanValue(chosen[i]))
            .SelectMany(x => x.Jobs.Select(job => (_given.Jobs[job].Code, _days[x.Day].Place)))
            .ToImmutableSortedDictionary(x => x.Code, x => x.Place, StringComparer.Ordinal);
    }

    private int Row(double least, double most)
    {
        _rows.Add(_solver.MakeConstraint(least, most));
        _free.Add(least == most);
        _right.Add(most);
        return _rows.Count - 1;
    }

    private bool IsAlone(int job) => _pairs.Count(x => x == _pairs[job]) == 1;

    /// <summary>Counts a job so many times in a row where it is done on some people's days.</summary>
    private void Put(int job, int row, double times, Func<WeekPlace, bool> on)
    {
        for (var at = 0; at < _days.Count; at++)
        {
            if (on(_days[at].Place))
                _in[job, at].Add((row, times));
        }
    }

    private void Together(int job, int other)
    {
        foreach (var day in _days.Where(x => x.Jobs.Contains(job) || x.Jobs.Contains(other)).GroupBy(x => x.Place.Day, x => x.Place))
        {
            var both = Row(0, 0);
            Put(job, both, 1, x => x.Day == day.Key);
            Put(other, both, -1, x => x.Day == day.Key);

            // Whoever does the one has somebody else with them: by halves one alone would be both.
            foreach (var place in day)
            {
                var row = Row(double.NegativeInfinity, 0);
                Put(other, row, 1, x => x == place);
                Put(job, row, -1, x => x.Day == place.Day && x != place);
            }
        }
    }

    private void After(int job, int first)
    {
        for (var day = 0; day <= _given.Days; day++)
        {
            // By a day only what follows on one that was done before it; in the end both are done, or neither.
            var end = day == _given.Days;
            var row = end ? Row(0, 0) : Row(double.NegativeInfinity, 0);
            Put(job, row, 1, x => end || x.Day <= day);
            Put(first, row, -1, x => end || x.Day < day);
        }
    }

    private void Begin(IReadOnlyDictionary<string, WeekPlace>? start)
    {
        // What must be done is done at any price while no day does it.
        var dear = 10 * (_always + _given.CallOut * _days.Count + 1);
        for (var i = 0; i < _given.Jobs.Length; i++)
        {
            var any = _solver.MakeNumVar(0, double.PositiveInfinity, "");
            _rows[i].SetCoefficient(any, 1);
            _solver.Objective().SetCoefficient(any, dear);
        }

        if (start is null)
            return;
        for (var at = 0; at < _days.Count; at++)
        {
            var day = _days[at];
            List<int> jobs = [.. day.Jobs.Where(x => start.GetValueOrDefault(_given.Jobs[x].Code) == day.Place)];
            if (jobs.Count == 0)
                continue;
            var goesTo = jobs.Select(x => _given.Jobs[x].Site).ToHashSet(StringComparer.Ordinal);
            if (day.Tours.FirstOrDefault(x => x.Sites.SetEquals(goesTo)) is { } tour)
                Add(at, tour, jobs);
        }
    }

    private double Road(WeekTour tour) => _given.CallOut * tour.Sites.Count + _given.PerTravelMinute * tour.Minutes;

    private double CostOf(int job, WeekPlace place) => _cost[job, place.Day] + WeekRules.Moved(_given, _given.Jobs[job], place);

    private void Add(int at, WeekTour tour, List<int> jobs)
    {
        var column = new Column(at, tour, jobs, Road(tour) + jobs.Sum(x => CostOf(x, _days[at].Place)));
        _columns.Add(column);
        var share = _solver.MakeNumVar(0, double.PositiveInfinity, "");
        _shares.Add(share);
        _solver.Objective().SetCoefficient(share, column.Cost);
        _ofDay[at].SetCoefficient(share, 1);
        foreach (var (row, times) in RowsOf(column))
            _rows[row].SetCoefficient(share, times);
    }

    private IEnumerable<(int Row, double Times)> RowsOf(Column column) =>
        column.Jobs.SelectMany(x => _in[x, column.Day]).GroupBy(x => x.Row, x => x.Times).Select(x => (x.Key, x.Sum()));

    /// <summary>
    /// The lowest bound of all ways to say of some jobs whether they are done: what may be left out in half weighs most, and is done or
    /// left out in each plan.
    /// </summary>
    /// <param name="cost">What a plan that is known costs: a bound need not be nearer.</param>
    /// <param name="goOn">There is time to say more of jobs.</param>
    /// <param name="until">There is time for anything.</param>
    private double Branch(double cost, Func<bool> goOn, Func<bool> until)
    {
        // What was said of which jobs, and of which it is worth saying more, by its bound.
        var open = new PriorityQueue<(ImmutableDictionary<int, bool> Said, int? Next), double>();
        Look(ImmutableDictionary<int, bool>.Empty, 0, until);
        double bound;
        while (open.TryPeek(out var way, out bound) && goOn() && bound < cost * (1 - Near) && way.Next is { } job)
        {
            open.Dequeue();
            foreach (var done in new[] { true, false })
                Look(way.Said.SetItem(job, done), bound, goOn);
        }

        Dive(open.Peek().Said, until);
        return Math.Min(cost, bound);

        void Look(ImmutableDictionary<int, bool> said, double least, Func<bool> time)
        {
            Say(said);
            var found = Math.Max(least, Below(time));
            open.Enqueue((said, Halved(said)), found);
        }
    }

    /// <summary>
    /// Looks for days that make a whole plan: the day that is taken most is taken wholly, and others are looked for that go with it, until
    /// none is taken in part.
    /// </summary>
    private void Dive(ImmutableDictionary<int, bool> said, Func<bool> goOn)
    {
        Say(said);
        var whole = new HashSet<int>();
        while (goOn())
        {
            Below(goOn);
            var some = Enumerable.Range(0, _taken.Count).Where(x => _taken[x] > Half && !whole.Contains(x)).ToList();
            if (some.Count == 0)
                break;
            var most = some.Max(x => _taken[x]);
            foreach (var at in some.Where(x => _taken[x] >= Math.Min(most, 1 - Half)))
            {
                whole.Add(at);
                _shares[at].SetLb(1);
            }
        }

        foreach (var at in whole)
            _shares[at].SetLb(0);
        Say(ImmutableDictionary<int, bool>.Empty);
    }

    private void Say(ImmutableDictionary<int, bool> said)
    {
        for (var i = 0; i < _given.Jobs.Length; i++)
        {
            if (_given.Jobs[i].Pinned is not null)
                continue;
            var (known, done) = (said.TryGetValue(i, out var it), it);
            _rows[i].SetBounds(known && done ? 1 : double.NegativeInfinity, known && !done ? 0 : 1);
            (_free[i], _right[i]) = (known && done, known && !done ? 0 : 1);
        }
    }

    /// <summary>The job that weighs most among those that are done in part; null where there is none.</summary>
    private int? Halved(ImmutableDictionary<int, bool> said)
    {
        var done = new double[_given.Jobs.Length];
        for (var i = 0; i < _taken.Count; i++)
        {
            foreach (var job in _columns[i].Jobs)
                done[job] += _taken[i];
        }

        return Enumerable
            .Range(0, done.Length)
            .Where(x => !said.ContainsKey(x) && done[x] is > Half and < 1 - Half)
            .Select(x => (int?)x)
            .MaxBy(x => Math.Min(done[x!.Value], 1 - done[x.Value]) * WeekRules.Left(_given, _given.Jobs[x.Value]));
    }

    /// <summary>The bound of what is said, by days that are looked for until there are no cheaper ones.</summary>
    private double Below(Func<bool> goOn)
    {
        var best = double.NegativeInfinity;
        double[]? center = null;
        while (goOn() && _solver.Solve() == LinearSolver.ResultStatus.OPTIMAL)
        {
            var value = _solver.Objective().Value();
            _taken = _shares.ConvertAll(x => x.SolutionValue());
            var last = Prices();
            var ofDay = _ofDay.Select(x => Math.Min(0, x.DualValue())).ToArray();
            var (bound, found) = (double.NegativeInfinity, 0);
            foreach (var share in center is null ? [0] : new[] { Towards, 0 })
            {
                var prices = share > 0 ? [.. last.Select((x, i) => share * center![i] + (1 - share) * x)] : last;
                (bound, found) = Price(prices, last, ofDay, goOn);
                if (bound > best)
                    (best, center) = (bound, prices);
                if (found > 0)
                    break;
            }

            if (found == 0 || value - best <= Near * Math.Abs(value + _always))
                break;
        }

        return Math.Max(0, best + _always);
    }

    private double[] Prices() => [.. _rows.Select((x, i) => _free[i] ? x.DualValue() : Math.Min(0, x.DualValue()))];

    /// <summary>
    /// The cheapest whole day of each person's day by some prices. What they come to is a bound; those that are cheaper by the program's
    /// own prices are added to it.
    /// </summary>
    private (double Bound, int Added) Price(double[] prices, double[] last, double[] ofDay, Func<bool> goOn)
    {
        var bound = prices.Select((x, i) => x * _right[i]).Sum();
        var added = 0;
        for (var at = 0; at < _days.Count; at++)
        {
            if (!goOn())
                return (double.NegativeInfinity, 0);
            var day = _days[at];
            if (Cheapest(at, prices) is not { } found)
                continue;
            bound += found.Cost;
            var own = Road(found.Tour) + found.Jobs.Sum(x => CostOf(x, day.Place) - Paid(x, at, last)) - ofDay[at];
            if (own >= -Least)
                continue;
            Add(at, found.Tour, found.Jobs);
            added++;
        }

        return (bound, added);
    }

    private double Paid(int job, int at, double[] prices)
    {
        var sum = 0.0;
        foreach (var (row, times) in _in[job, at])
            sum += prices[row] * times;
        return sum;
    }

    /// <summary>The whole day that costs least by some prices, by a table of minutes for each tour; null where an empty day does.</summary>
    private (double Cost, WeekTour Tour, List<int> Jobs)? Cheapest(int at, double[] prices)
    {
        var day = _days[at];
        var worth = new List<Offer>();
        foreach (var job in day.Jobs.OrderBy(x => _pairs[x]))
        {
            if (Paid(job, at, prices) - CostOf(job, day.Place) is var more && more > Least)
                worth.Add(new(job, _given.Jobs[job].Minutes / _step, more));
        }

        var (least, best) = (-Least, -1);
        for (var tour = 0; tour < day.Tours.Count; tour++)
        {
            var road = Road(day.Tours[tour]);
            if (road - Most(worth, _goesTo[at][tour]) >= least)
                continue;
            var most = Table(worth, _goesTo[at][tour], (day.Minutes - day.Tours[tour].Minutes) / _step, null);
            if (road - most < least)
                (least, best) = (road - most, tour);
        }

        if (best < 0)
            return null;
        var steps = (day.Minutes - day.Tours[best].Minutes) / _step;
        var takes = new bool[worth.Count, steps + 1];
        Table(worth, _goesTo[at][best], steps, takes);
        var jobs = new List<int>();
        for (var i = worth.Count - 1; i >= 0; i--)
        {
            if (!takes[i, steps])
                continue;
            jobs.Add(worth[i].Job);
            steps -= worth[i].Steps;

            // Of its pair the other one is not taken with it.
            while (i > 0 && _pairs[worth[i - 1].Job] == _pairs[worth[i].Job])
                i--;
        }

        return (least, day.Tours[best], jobs);
    }

    // What a job is worth on a day, by some prices, and how many steps of its table it takes.
    private readonly record struct Offer(int Job, int Steps, double Worth);

    /// <summary>What jobs would be worth if all of them fitted.</summary>
    private double Most(List<Offer> worth, bool[] goesTo)
    {
        var sum = 0.0;
        foreach (var offer in worth)
        {
            if (goesTo[_siteOf[offer.Job]])
                sum += offer.Worth;
        }

        return sum;
    }

    /// <summary>
    /// The most that jobs at some sites are worth within some steps, one of each pair at most; <paramref name="takes"/> keeps which are
    /// taken, the later one of a pair where both could be.
    /// </summary>
    private double Table(List<Offer> worth, bool[] goesTo, int steps, bool[,]? takes)
    {
        // The best before a pair began, and with it.
        var (before, most) = (new double[steps + 1], new double[steps + 1]);
        var pair = -1;
        for (var i = 0; i < worth.Count; i++)
        {
            var (job, needs, more) = worth[i];
            if (_pairs[job] != pair)
            {
                pair = _pairs[job];
                most.CopyTo(before, 0);
            }

            if (!goesTo[_siteOf[job]])
                continue;
            for (var left = steps; left >= needs; left--)
            {
                if (before[left - needs] + more <= most[left])
                    continue;
                most[left] = before[left - needs] + more;
                if (takes is not null)
                    takes[i, left] = true;
            }
        }

        return most[steps];
    }

    private static int CommonStep(int a, int b) => b == 0 ? a : CommonStep(b, a % b);
}
