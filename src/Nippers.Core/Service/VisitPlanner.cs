using System.Collections.Immutable;

namespace Nippers.Core.Service;

/// <summary>One thing that a visit may do, in whole days from today.</summary>
/// <param name="Code">Its name.</param>
/// <param name="DueDay">Day on which it falls due, 0 or later; what is past due has day 0.</param>
/// <param name="EarlyDays">It may be done so many days before; 0 or more.</param>
/// <param name="LateDays">It may be done so many days after; 0 or more.</param>
/// <param name="EveryDays">It comes again so many days later, 1 or more.</param>
/// <param name="Cost">What doing it costs: parts, fluids and minutes, in money; 0 or more.</param>
/// <param name="IntervalBasis">Fixed hours: due again a whole interval after the due day; floating: after the day of the visit.</param>
/// <remarks>Rules 4.</remarks>
public sealed record VisitItem(
    string Code,
    int DueDay,
    int EarlyDays,
    int LateDays,
    int EveryDays,
    double Cost,
    IntervalBasis IntervalBasis
);

/// <summary>An item at a visit.</summary>
/// <param name="Code">The item.</param>
/// <param name="DueDay">The day on which it falls due.</param>
/// <param name="Waste">Life thrown away by doing it early, in money.</param>
/// <param name="Lateness">What doing it late weighs, in money.</param>
public sealed record VisitedItem(string Code, int DueDay, double Waste, double Lateness);

/// <summary>A visit of a plan.</summary>
/// <param name="Day">Day from today.</param>
/// <param name="Items">What is done there, in the order in which items were given.</param>
public sealed record PlannedVisit(int Day, ImmutableArray<VisitedItem> Items);

/// <summary>Visits over a horizon, and what they cost beside the work itself.</summary>
/// <param name="Visits">By day; never two on one day.</param>
/// <param name="CallOuts">Going there, in money.</param>
/// <param name="Waste">Life thrown away, in money.</param>
/// <param name="Lateness">Lateness, in money.</param>
public sealed record VisitPlan(ImmutableArray<PlannedVisit> Visits, double CallOuts, double Waste, double Lateness)
{
    /// <summary>All three together.</summary>
    public double Cost => CallOuts + Waste + Lateness;
}

/// <summary>Which visits to make, and what to do at each.</summary>
/// <remarks>
/// Rules 4. Once the days are fixed each item finds its own best visits, whatever the others do; so the search is over days
/// alone: a forward pass over them, then single days removed, added, moved and merged while that saves money. Items that fall
/// due alike are one to the search.
/// </remarks>
public static class VisitPlanner
{
    /// <summary>What a day late weighs against a day early.</summary>
    public const double LateWeight = 10;

    // Effort: how many ways to a day are kept in the forward pass. Few items deserve a wide look, many need a quick one.
    private const int FewKinds = 8;
    private const int WideEffort = 96;
    private const int NarrowBeam = 1;

    // How many of those ways are bettered day by day.
    private const int MostStarts = 4;
    private const double Gain = 1e-9;

    /// <summary>Proposes visits.</summary>
    /// <param name="items">Items with what is due first.</param>
    /// <param name="horizonDays">Last day that is planned, 0 or later.</param>
    /// <param name="callOut">What going there costs, in money.</param>
    public static VisitPlan Propose(IReadOnlyList<VisitItem> items, int horizonDays, double callOut)
    {
        Check(items, horizonDays, callOut);
        var apart = Apart(items);
        var search = new Search(apart, horizonDays, callOut);
        return PlanOf(apart, search.Best(), horizonDays, callOut)!;
    }

    /// <summary>
    /// The plan when going on every day on which anything falls due, and doing then what has come, nothing before its day.
    /// </summary>
    public static VisitPlan Naive(IReadOnlyList<VisitItem> items, int horizonDays, double callOut)
    {
        Check(items, horizonDays, callOut);
        var apart = Apart(items);
        var days = apart.SelectMany(item => NaiveDays(item, horizonDays)).ToHashSet().Order().ToArray();
        return PlanOf([.. apart.Select(item => item with { EarlyDays = 0 })], days, horizonDays, callOut)!;
    }

    /// <summary>
    /// The cheapest use of given days; null when something would come too late. Days on which nothing is to do are left out.
    /// </summary>
    /// <param name="items">Items with what is due first.</param>
    /// <param name="days">Days of visits, rising.</param>
    /// <param name="horizonDays">Last day that is planned.</param>
    /// <param name="callOut">What going there costs.</param>
    public static VisitPlan? PlanOf(IReadOnlyList<VisitItem> items, IReadOnlyList<int> days, int horizonDays, double callOut)
    {
        var at = days as int[] ?? [.. days];
        var done = at.Select(_ => ImmutableArray.CreateBuilder<VisitedItem>()).ToArray();
        double waste = 0,
            late = 0;
        foreach (var item in items)
        {
            var steps = new List<(int Visit, int Due)>();
            if (double.IsPositiveInfinity(new Chain(item, at, horizonDays).Cost(steps)))
                return null;
            foreach (var (visit, due) in steps)
            {
                var visited = new VisitedItem(
                    item.Code,
                    due,
                    Math.Max(0, due - at[visit]) * item.Cost / item.EveryDays,
                    Math.Max(0, at[visit] - due) * item.Cost * LateWeight / item.EveryDays
                );
                waste += visited.Waste;
                late += visited.Lateness;
                done[visit].Add(visited);
            }
        }

        ImmutableArray<PlannedVisit> visits =
        [
            .. at.Select((day, i) => new PlannedVisit(day, done[i].ToImmutable())).Where(x => x.Items.Length > 0),
        ];
        return new(visits, visits.Length * callOut, waste, late);
    }

    private static void Check(IReadOnlyList<VisitItem> items, int horizonDays, double callOut)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(horizonDays);
        ArgumentOutOfRangeException.ThrowIfNegative(callOut);
        foreach (var item in items)
        {
            ArgumentOutOfRangeException.ThrowIfNegative(item.DueDay);
            ArgumentOutOfRangeException.ThrowIfNegative(item.EarlyDays);
            ArgumentOutOfRangeException.ThrowIfNegative(item.LateDays);
            ArgumentOutOfRangeException.ThrowIfLessThan(item.EveryDays, 1);
            ArgumentOutOfRangeException.ThrowIfNegative(item.Cost);
        }
    }

    /// <summary>
    /// Items with windows of neighbouring turns that don't overlap: one visit does one turn of an item, and all who look for days have
    /// to mean the same windows.
    /// </summary>
    private static List<VisitItem> Apart(IReadOnlyList<VisitItem> items) =>
        [.. items.Select(item => item with { LateDays = LateOf(item), EarlyDays = EarlyOf(item) })];

    private static int LateOf(VisitItem item) => Math.Min(item.LateDays, item.EveryDays - 1);

    private static int EarlyOf(VisitItem item) =>
        Math.Min(item.EarlyDays, item.EveryDays - 1 - (item.IntervalBasis == IntervalBasis.Fixed ? LateOf(item) : 0));

    private static IEnumerable<int> NaiveDays(VisitItem item, int horizonDays)
    {
        for (var due = item.DueDay; due + item.LateDays <= horizonDays; due += item.EveryDays)
            yield return due;
    }

    /// <summary>One item's best use of given days.</summary>
    private readonly ref struct Chain
    {
        private const int Most = 512;
        private const int NotDone = -1;
        private readonly VisitItem _item;
        private readonly ReadOnlySpan<int> _days;
        private readonly int _horizon;
        private readonly int _early;
        private readonly int _late;

        public Chain(VisitItem item, ReadOnlySpan<int> days, int horizon)
        {
            _item = item;
            _days = days;
            _horizon = horizon;
            (_late, _early) = (LateOf(item), EarlyOf(item));
        }

        /// <summary>Waste and lateness; infinite when it comes too late.</summary>
        public double Cost(List<(int Visit, int Due)>? steps = null) =>
            _item.IntervalBasis == IntervalBasis.Fixed ? Grid(steps) : Floating(steps);

        private double Rate => _item.Cost / _item.EveryDays;

        private double LateCost(int visit, int due) => (_days[visit] - due) * LateWeight * Rate;

        private bool InTime(int visit, int due) => _days[visit] <= due + _late || due + _late > _horizon;

        /// <summary>On the grid each turn stands for itself: the last visit before, or the first from its day on.</summary>
        private double Grid(List<(int Visit, int Due)>? steps)
        {
            double cost = 0;
            var first = 0;
            for (var due = _item.DueDay; due <= _horizon; due += _item.EveryDays)
            {
                while (first < _days.Length && _days[first] < due)
                    first++;
                var early = first > 0 && _days[first - 1] >= due - _early ? (due - _days[first - 1]) * Rate : double.PositiveInfinity;

                // Leaving it is free when its time ends beyond the horizon and nobody goes there after it fell due.
                var late =
                    first == _days.Length
                        ? due + _late > _horizon
                            ? 0
                            : double.PositiveInfinity
                        : InTime(first, due)
                            ? LateCost(first, due)
                            : double.PositiveInfinity;
                if (early < late - Gain)
                    steps?.Add((first - 1, due));
                else if (first < _days.Length)
                    steps?.Add((first, due));
                cost += Math.Min(early, late);
            }

            return cost;
        }

        /// <summary>Floating: what follows depends on the visit alone, so it is worked out from the last visit back.</summary>
        private double Floating(List<(int Visit, int Due)>? steps)
        {
            Span<double> after = _days.Length <= Most ? stackalloc double[_days.Length] : new double[_days.Length];
            for (var visit = _days.Length - 1; visit >= 0; visit--)
                after[visit] = Cheapest(_days[visit] + _item.EveryDays, visit, after, out _);
            var cost = Cheapest(_item.DueDay, NotDone, after, out var chosen);
            for (var due = _item.DueDay; steps is not null && chosen != NotDone;)
            {
                steps.Add((chosen, due));
                due = _days[chosen] + _item.EveryDays;
                Cheapest(due, chosen, after, out chosen);
            }

            return cost;
        }

        private double Cheapest(int due, int last, ReadOnlySpan<double> after, out int chosen)
        {
            chosen = NotDone;
            var first = last + 1;
            while (first < _days.Length && _days[first] < due)
                first++;
            var best = first == _days.Length && due + _late > _horizon ? 0 : double.PositiveInfinity;
            if (first < _days.Length && InTime(first, due))
                (best, chosen) = (LateCost(first, due) + after[first], first);
            for (var early = first - 1; early > last && _days[early] >= due - _early; early--)
            {
                var cost = (due - _days[early]) * Rate + after[early];
                if (cost < best - Gain)
                    (best, chosen) = (cost, early);
            }

            return best;
        }
    }

    /// <summary>The search over days.</summary>
    private sealed class Search
    {
        private readonly VisitItem[] _kinds;
        private readonly int _horizon;
        private readonly double _callOut;
        private readonly int _beam;

        public Search(IReadOnlyList<VisitItem> items, int horizon, double callOut)
        {
            (_horizon, _callOut) = (horizon, callOut);
            _kinds =
            [
                .. items
                    .Where(x => x.DueDay <= horizon)
                    .GroupBy(x => (x.DueDay, x.EarlyDays, x.LateDays, x.EveryDays, x.IntervalBasis))
                    .Select(x => x.First() with { Cost = x.Sum(item => item.Cost) }),
            ];
            _beam = _kinds.Length <= FewKinds ? WideEffort / Math.Max(1, _kinds.Length) : NarrowBeam;
        }

        public int[] Best()
        {
            var best = Array.Empty<int>();
            var cost = double.PositiveInfinity;
            foreach (var start in Starts())
            {
                var (days, its) = Improve(start);
                if (its < cost - Gain)
                    (best, cost) = (days, its);
            }

            // A quick look at many items may end above going each time; then that is the place to begin.
            return CostOf(EachTime, cost) < cost - Gain ? Improve(EachTime).Days : best;
        }

        private int[] EachTime => [.. _kinds.SelectMany(x => NaiveDays(x, _horizon)).Distinct().Order()];

        private IEnumerable<int[]> Starts()
        {
            foreach (var found in Forward())
                yield return found;
            if (_kinds.Length <= FewKinds)
                yield return EachTime;
        }

        private double CostOf(ReadOnlySpan<int> days, double atMost = double.PositiveInfinity)
        {
            var cost = days.Length * _callOut;
            foreach (var kind in _kinds)
            {
                cost += new Chain(kind, days, _horizon).Cost();
                if (cost >= atMost)
                    return double.PositiveInfinity;
            }

            return cost;
        }

        private (int[] Days, double Cost) Improve(int[] days)
        {
            var cost = CostOf(days);
            for (var better = true; better;)
            {
                better = false;
                foreach (var next in Neighbours(days))
                {
                    var its = CostOf(next, cost);
                    if (its >= cost - Gain)
                        continue;
                    (days, cost, better) = (next.ToArray(), its, true);
                    break;
                }
            }

            return (days, cost);
        }

        /// <summary>Days with one taken out, one moved, two made one, and one more. Each is good until the next is asked for.</summary>
        private IEnumerable<int[]> Neighbours(int[] days)
        {
            for (var i = 0; i < days.Length; i++)
                yield return Without(days, i, 1);
            for (var i = 0; i < days.Length; i++)
            {
                var (from, to) = (i == 0 ? 0 : days[i - 1] + 1, i == days.Length - 1 ? _horizon : days[i + 1] - 1);
                for (var day = from; day <= to; day++)
                {
                    if (day == days[i])
                        continue;
                    var moved = (int[])days.Clone();
                    moved[i] = day;
                    yield return moved;
                }
            }

            for (var i = 0; i + 1 < days.Length; i++)
            {
                for (var day = days[i] + 1; day < days[i + 1]; day++)
                {
                    var merged = Without(days, i, 1);
                    merged[i] = day;
                    yield return merged;
                }
            }

            if (_kinds.Length > FewKinds)
                yield break;
            for (var day = 0; day <= _horizon; day++)
            {
                var at = Array.BinarySearch(days, day);
                if (at < 0)
                    yield return [.. days[..~at], day, .. days[~at..]];
            }
        }

        private static int[] Without(int[] days, int at, int count) => [.. days[..at], .. days[(at + count)..]];

        private sealed record Way(double Cost, int Day, int[] Due, Way? Before);

        /// <summary>Day by day: the cheapest ways to have just been there on a day.</summary>
        private IEnumerable<int[]> Forward()
        {
            var ways = new List<Way>[_horizon + 1];
            for (var day = 0; day <= _horizon; day++)
                ways[day] = [];
            var start = new Way(0, -1, [.. _kinds.Select(x => x.DueDay)], null);
            var ends = new List<Way>();
            Spread(start, ways, ends);
            for (var day = 0; day <= _horizon; day++)
            {
                foreach (var way in ways[day])
                    Spread(way, ways, ends);
            }

            return ends.OrderBy(x => x.Cost).Take(MostStarts).Select(DaysOf);
        }

        private static int[] DaysOf(Way end)
        {
            var days = new List<int>();
            for (var way = end; way is { Day: >= 0 }; way = way.Before)
                days.Add(way.Day);
            days.Reverse();
            return [.. days];
        }

        private void Spread(Way way, List<Way>[] ways, List<Way> ends)
        {
            if (Ends(way) is { } rest)
                ends.Add(way with { Cost = way.Cost + rest });
            var due = new int[_kinds.Length];
            for (var day = way.Day + 1; day <= _horizon; day++)
            {
                if (!Go(way, day, due, out var cost))
                    return;
                var total = way.Cost + _callOut + cost;
                if (double.IsPositiveInfinity(total))
                    continue;
                var here = ways[day];
                if (here.Count == _beam && here[^1].Cost <= total)
                    continue;
                var at = here.FindIndex(x => x.Cost > total);
                here.Insert(at < 0 ? here.Count : at, new(total, day, (int[])due.Clone(), way));
                if (here.Count > _beam)
                    here.RemoveAt(_beam);
            }
        }

        /// <summary>Goes from one visit to the next; false when something would be too late however it was done.</summary>
        private bool Go(Way from, int day, int[] next, out double cost)
        {
            cost = 0;
            for (var i = 0; i < _kinds.Length; i++)
            {
                var (kind, due) = (_kinds[i], from.Due[i]);
                next[i] = due;
                if (due > day)
                    continue;
                var rate = kind.Cost / kind.EveryDays;
                var inTime = day <= due + kind.LateDays || due + kind.LateDays > _horizon;
                var late = inTime ? (day - due) * LateWeight * rate : double.PositiveInfinity;
                if (from.Day >= 0 && from.Day >= due - kind.EarlyDays)
                {
                    var early = (due - from.Day) * rate;
                    var again = (kind.IntervalBasis == IntervalBasis.Fixed ? due : from.Day) + kind.EveryDays;
                    if (early < late && again > day)
                    {
                        cost += early;
                        next[i] = again;
                        continue;
                    }
                }

                if (!inTime)
                    return false;
                cost += late;
                next[i] = (kind.IntervalBasis == IntervalBasis.Fixed ? due : day) + kind.EveryDays;
            }

            return true;
        }

        /// <summary>
        /// What ending here costs: nothing left to do, or left that the last visit can still take; null when it can't end.
        /// </summary>
        private double? Ends(Way way)
        {
            double cost = 0;
            for (var i = 0; i < _kinds.Length; i++)
            {
                var (kind, due) = (_kinds[i], way.Due[i]);
                if (due + kind.LateDays > _horizon)
                    continue;
                if (way.Day < 0 || way.Day < due - kind.EarlyDays)
                    return null;
                if ((kind.IntervalBasis == IntervalBasis.Fixed ? due : way.Day) + kind.EveryDays + kind.LateDays <= _horizon)
                    return null;
                cost += (due - way.Day) * kind.Cost / kind.EveryDays;
            }

            return cost;
        }
    }
}
