using System.Collections.Immutable;
using System.Numerics;
using Nippers.Core.Weeks;

namespace Nippers.Weeks;

/// <summary>
/// A good plan in a moment, for the solver to begin from: jobs are taken out a few at a time and put back where they cost least. It
/// knows no bound, and the same case gives the same plan.
/// </summary>
internal sealed class WeekSearch
{
    private const int Rounds = 6_000;
    private const int MostOut = 6;

    // Worse plans are taken at first, by this share of what a job costs at most, and none at the end.
    private const double Warmth = 0.02;

    // Tours are kept by the set of their sites: more sites than these have no sets that fit.
    private const int MostSites = 12;

    private readonly WeekCase _given;
    private readonly Random _chance = new(1);
    private readonly string[] _sites;
    private readonly int[] _siteOf;
    private readonly int[] _pair;

    // For what goes with another: 0 on its day, below 0 on a day before it, above 0 on a day after it.
    private readonly int[] _order;
    private readonly bool[] _fixed;

    // A place is a person's day: person * days + day.
    private readonly int[][] _open;
    private readonly int[] _at;
    private readonly int[] _minutes;
    private readonly int[,] _atSite;
    private readonly Dictionary<(string Base, int Set), int> _tours = [];

    private WeekSearch(WeekCase given, ImmutableSortedDictionary<string, WeekPlace> from, string[] sites)
    {
        (_given, _sites) = (given, sites);
        var index = given.Jobs.Select((x, i) => (x.Code, i)).ToDictionary(x => x.Code, x => x.i, StringComparer.Ordinal);
        var people = given.People.Select((x, i) => (x.Code, i)).ToDictionary(x => x.Code, x => x.i, StringComparer.Ordinal);
        _siteOf = [.. given.Jobs.Select(x => Array.IndexOf(sites, x.Site))];
        _pair = [.. given.Jobs.Select(x => x.Together is { } other ? index[other] : -1)];
        foreach (var (job, i) in given.Jobs.Select((x, i) => (x, i)).Where(x => x.x.Together is not null))
            _pair[index[job.Together!]] = i;

        // What a person pinned stays, and so does what takes more days than two.
        _order = new int[given.Jobs.Length];
        var after = given.Jobs.Where(x => x.After is not null).ToLookup(x => x.After!, StringComparer.Ordinal);
        _fixed = [.. given.Jobs.Select(x => x.Pinned is not null)];
        for (var i = 0; i < _fixed.Length; i++)
        {
            var job = given.Jobs[i];
            if (job.After is not { } begins)
                continue;
            var first = index[begins];
            if (
                after[job.Code].Any()
                || given.Jobs[first].After is not null
                || after[begins].Count() > 1
                || _pair[i] >= 0
                || _pair[first] >= 0
            )
                _fixed[i] = _fixed[first] = true;
            else
                (_pair[i], _pair[first], _order[i], _order[first]) = (first, i, 1, -1);
        }

        for (var i = 0; i < _fixed.Length; i++)
            _fixed[i] |= _pair[i] >= 0 && _fixed[_pair[i]];
        _open =
        [
            .. given.Jobs.Select(job =>
                Enumerable
                    .Range(0, given.People.Length * given.Days)
                    .Where(x =>
                        WeekRules.IsOpen(job, x % given.Days)
                        && WeekRules.Can(given.People[x / given.Days], job)
                        && WeekRules.HasTime(given, given.People[x / given.Days], job, x % given.Days)
                    )
                    .ToArray()
            ),
        ];
        _minutes = new int[given.People.Length * given.Days];
        _atSite = new int[_minutes.Length, sites.Length];
        _at = [.. Enumerable.Repeat(-1, given.Jobs.Length)];
        foreach (var (code, place) in from)
            Put(index[code], people[place.Person] * given.Days + place.Day);
    }

    /// <summary>A plan that is no dearer than the one it begins from.</summary>
    /// <param name="given">What there is to plan.</param>
    /// <param name="from">A sound plan.</param>
    /// <param name="ct">Gives up, and gives what there is.</param>
    public static ImmutableSortedDictionary<string, WeekPlace> Better(
        WeekCase given,
        ImmutableSortedDictionary<string, WeekPlace> from,
        CancellationToken ct
    )
    {
        var sites = given.Jobs.Select(x => x.Site).Distinct(StringComparer.Ordinal).Order(StringComparer.Ordinal).ToArray();
        return sites.Length > MostSites || given.Jobs.IsEmpty ? from : new WeekSearch(given, from, sites).Run(ct);
    }

    private ImmutableSortedDictionary<string, WeekPlace> Run(CancellationToken ct)
    {
        var free = Enumerable.Range(0, _at.Length).Where(x => !_fixed[x]).ToArray();
        var cost = Enumerable.Range(0, _at.Length).Sum(Job) + Enumerable.Range(0, _minutes.Length).Sum(x => Road(x, Set(x)));
        var (best, least) = ((int[])_at.Clone(), cost);
        var warm = Warmth * _given.Jobs.Max(x => WeekRules.Left(_given, x)) / Math.Max(1, _given.LeftOut);
        for (var round = 0; round < Rounds && free.Length > 0 && !ct.IsCancellationRequested; round++)
        {
            var before = (int[])_at.Clone();
            var was = cost;
            var left = Out(free, ref cost);
            foreach (var job in left)
                cost += Back(job);
            if (cost > was + warm * -Math.Log(1 - _chance.NextDouble()) * (1 - round / (double)Rounds))
            {
                Restore(before);
                cost = was;
            }
            else if (cost < least - 1e-6)
            {
                (best, least) = ((int[])_at.Clone(), cost);
            }
        }

        Restore(best);
        return Enumerable
            .Range(0, _at.Length)
            .Where(x => _at[x] >= 0)
            .ToImmutableSortedDictionary(
                x => _given.Jobs[x].Code,
                x => new WeekPlace(_given.People[_at[x] / _given.Days].Code, _at[x] % _given.Days),
                StringComparer.Ordinal
            );
    }

    /// <summary>Takes a few jobs out: of one person's day, of days beside it, or of one site and those left out.</summary>
    private List<int> Out(int[] free, ref double cost)
    {
        var seed = free[_chance.Next(free.Length)];
        var many = 1 + _chance.Next(MostOut);
        var near = _chance.Next(3) switch
        {
            0 when _at[seed] >= 0 => free.Where(x => _at[x] == _at[seed]),
            1 when _at[seed] >= 0 => free.Where(x => _at[x] >= 0 && Math.Abs(_at[x] % _given.Days - _at[seed] % _given.Days) <= 1),
            _ => free.Where(x => _siteOf[x] == _siteOf[seed] || _at[x] < 0),
        };
        var which = near.OrderBy(_ => _chance.Next()).Take(many).Append(seed).ToHashSet();
        which.UnionWith(which.Where(x => _pair[x] >= 0).Select(x => _pair[x]).ToList());
        foreach (var job in which.Where(x => _at[x] >= 0))
            cost += Take(job);

        // The heavy ones are put back first as often as not.
        return _chance.Next(2) == 0
            ? [.. which.OrderByDescending(x => WeekRules.Left(_given, _given.Jobs[x])).ThenBy(x => x)]
            : [.. which.OrderBy(_ => _chance.Next())];
    }

    /// <summary>Puts a job, and the one that goes with it, where they cost least; or leaves them out.</summary>
    /// <returns>What that changes in the cost.</returns>
    private double Back(int job)
    {
        if (_at[job] >= 0)
            return 0;
        var pair = _pair[job];

        // On other days each stands for itself: for each day the best of them is enough.
        var rest = pair >= 0 && _order[job] != 0 ? Best(pair, -_order[job]) : [];
        var (least, where, also) = (0.0, -1, -1);
        foreach (var place in _open[job])
        {
            if (Change(job, place) is not { } change)
                continue;
            if (pair < 0)
            {
                if (change < least)
                    (least, where) = (change, place);
                continue;
            }

            if (_order[job] != 0)
            {
                var (far, more) = rest[place % _given.Days];
                if (far >= 0 && change + more < least)
                    (least, where, also) = (change + more, place, far);
                continue;
            }

            foreach (var other in _open[pair])
            {
                if (
                    other % _given.Days == place % _given.Days
                    && other != place
                    && Change(pair, other) is { } more
                    && change + more < least
                )
                    (least, where, also) = (change + more, place, other);
            }
        }

        if (where < 0)
            return 0;
        Put(job, where);
        if (also >= 0)
            Put(pair, also);
        return least;
    }

    /// <summary>For each day, the place where a job costs least on a day after it, or before it; below 0 where there is none.</summary>
    private (int Place, double Change)[] Best(int job, int side)
    {
        var best = Enumerable.Repeat((Place: -1, Change: double.MaxValue), _given.Days).ToArray();
        foreach (var place in _open[job])
        {
            var day = place % _given.Days - side;
            if (day >= 0 && day < best.Length && Change(job, place) is { } change && change < best[day].Change)
                best[day] = (place, change);
        }

        // What is best on the day beside it is best of all days beyond, unless one further on is better.
        for (var i = 1; i < best.Length; i++)
        {
            var (day, beyond) = side > 0 ? (best.Length - 1 - i, best.Length - i) : (i, i - 1);
            if (best[beyond].Change < best[day].Change)
                best[day] = best[beyond];
        }

        return best;
    }

    /// <summary>What it changes to put a job somewhere; null where there is no time.</summary>
    private double? Change(int job, int place)
    {
        var set = Set(place);
        var with = set | (1 << _siteOf[job]);
        var given = _given.Jobs[job];
        var (person, day) = (_given.People[place / _given.Days], place % _given.Days);
        return _minutes[place] + given.Minutes + Tour(person.Base, with) > person.Minutes[day]
            ? null
            : WeekRules.Done(given, day)
                + WeekRules.Moved(_given, given, new(person.Code, day))
                - WeekRules.Left(_given, given)
                + Road(place, with)
                - Road(place, set);
    }

    private double Take(int job)
    {
        var place = _at[job];
        var before = Road(place, Set(place)) + Job(job);
        _at[job] = -1;
        _minutes[place] -= _given.Jobs[job].Minutes;
        _atSite[place, _siteOf[job]]--;
        return Road(place, Set(place)) + Job(job) - before;
    }

    private void Put(int job, int place)
    {
        _at[job] = place;
        _minutes[place] += _given.Jobs[job].Minutes;
        _atSite[place, _siteOf[job]]++;
    }

    private void Restore(int[] at)
    {
        for (var job = 0; job < at.Length; job++)
        {
            if (_at[job] == at[job])
                continue;
            if (_at[job] >= 0)
                Take(job);
        }

        for (var job = 0; job < at.Length; job++)
        {
            if (_at[job] != at[job])
                Put(job, at[job]);
        }
    }

    private double Job(int job)
    {
        var given = _given.Jobs[job];
        if (_at[job] < 0)
            return WeekRules.Left(_given, given);
        var (person, day) = (_given.People[_at[job] / _given.Days], _at[job] % _given.Days);
        return WeekRules.Done(given, day) + WeekRules.Moved(_given, given, new(person.Code, day));
    }

    private int Set(int place)
    {
        var set = 0;
        for (var site = 0; site < _sites.Length; site++)
            set |= _atSite[place, site] > 0 ? 1 << site : 0;
        return set;
    }

    private double Road(int place, int set) =>
        set == 0
            ? 0
            : _given.CallOut * BitOperations.PopCount((uint)set)
                + _given.PerTravelMinute * Tour(_given.People[place / _given.Days].Base, set);

    private int Tour(string home, int set)
    {
        if (!_tours.TryGetValue((home, set), out var minutes))
            _tours[(home, set)] = minutes = WeekRules.Tour(_given, home, _sites.Where((_, i) => (set & (1 << i)) != 0));
        return minutes;
    }
}
