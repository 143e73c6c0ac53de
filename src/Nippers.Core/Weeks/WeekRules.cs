using System.Collections.Immutable;

namespace Nippers.Core.Weeks;

/// <summary>What a plan of weeks may be and what it costs, whoever made it; rules: The plan by weeks.</summary>
public static class WeekRules
{
    /// <summary>A day past due weighs so much more than a day before it.</summary>
    private const double Late = 10;

    /// <summary>Whether a job may be done on a day: parts are there, its window is open, the machine need not work.</summary>
    public static bool IsOpen(WeekJob job, int day) =>
        day >= Math.Max(job.Earliest, job.PartsDay) && (job.Latest is not { } latest || day <= latest) && !job.Blocked.Contains(day);

    /// <summary>Whether a person may do a job.</summary>
    public static bool Can(WeekPerson person, WeekJob job) => job.Skill is not { } skill || person.Skills.Contains(skill);

    /// <summary>Whether a person has the time for a job alone on a day, the way there and back included.</summary>
    public static bool HasTime(WeekCase given, WeekPerson person, WeekJob job, int day) =>
        day >= 0
        && day < person.Minutes.Length
        && person.Minutes[day] > 0
        && job.Minutes + 2 * given.Between(person.Base, job.Site) <= person.Minutes[day];

    /// <summary>What a job costs when it is done on a day, without call-out and road.</summary>
    public static double Done(WeekJob job, int day) =>
        job.Cost * Math.Max(0, job.Due - day) / job.EveryDays
        + Late * job.Cost * Math.Max(0, day - job.Due) / job.EveryDays
        + job.PerDay * day;

    /// <summary>What it costs to leave a job out.</summary>
    public static double Left(WeekCase given, WeekJob job) =>
        given.LeftOut * job.Cost + job.PerDay * given.Days + (job.Announced is null ? 0 : given.Moving);

    /// <summary>What it costs to put a job elsewhere than it was announced.</summary>
    public static double Moved(WeekCase given, WeekJob job, WeekPlace place) => job.Announced is { } was && was != place ? given.Moving : 0;

    /// <summary>Minutes of the shortest tour from a base through sites and back.</summary>
    public static int Tour(WeekCase given, string home, IEnumerable<string> sites)
    {
        var way = Way(given, home, sites);
        return way.Zip(way.Skip(1), given.Between).Sum() + given.Between(way[^1], home);
    }

    /// <summary>The sites of the shortest tour from a base through sites and back, in its order, the base first.</summary>
    public static ImmutableArray<string> Way(WeekCase given, string home, IEnumerable<string> sites)
    {
        var stops = sites.Where(x => x != home).Distinct(StringComparer.Ordinal).ToArray();
        if (stops.Length == 0)
            return [home];

        // The shortest way through each set of stops to its last one, and the one before it.
        var all = 1 << stops.Length;
        var least = new int[all, stops.Length];
        var before = new int[all, stops.Length];
        for (var set = 1; set < all; set++)
        {
            for (var last = 0; last < stops.Length; last++)
            {
                (least[set, last], before[set, last]) = (int.MaxValue, -1);
                if ((set & (1 << last)) == 0)
                    continue;
                var rest = set & ~(1 << last);
                if (rest == 0)
                    least[set, last] = given.Between(home, stops[last]);
                for (var via = 0; rest != 0 && via < stops.Length; via++)
                {
                    if (
                        (rest & (1 << via)) == 0
                        || least[rest, via] + given.Between(stops[via], stops[last]) is var far && far >= least[set, last]
                    )
                        continue;
                    (least[set, last], before[set, last]) = (far, via);
                }
            }
        }

        var way = new List<string>();
        var at = Enumerable.Range(0, stops.Length).MinBy(last => least[all - 1, last] + given.Between(stops[last], home));
        var left = all - 1;
        while (at >= 0)
        {
            way.Add(stops[at]);
            (left, at) = (left & ~(1 << at), before[left, at]);
        }

        way.Reverse();
        return [home, .. way];
    }

    /// <summary>What a plan costs.</summary>
    public static double Cost(WeekCase given, IReadOnlyDictionary<string, WeekPlace> places) => CostOf(given, places).Whole;

    /// <summary>What a plan costs, by what for.</summary>
    public static WeekCost CostOf(WeekCase given, IReadOnlyDictionary<string, WeekPlace> places)
    {
        var jobs = given.Jobs.ToDictionary(x => x.Code, StringComparer.Ordinal);
        var people = given.People.ToDictionary(x => x.Code, StringComparer.Ordinal);
        var road = places
            .GroupBy(x => x.Value)
            .Sum(day =>
            {
                var sites = day.Select(x => jobs[x.Key].Site).Distinct(StringComparer.Ordinal).ToList();
                return given.CallOut * sites.Count + given.PerTravelMinute * Tour(given, people[day.Key.Person].Base, sites);
            });
        var done = given.Jobs.Where(x => places.ContainsKey(x.Code)).ToList();
        return new(
            road,
            done.Sum(x => Done(x, places[x.Code].Day)),
            done.Sum(x => Moved(given, x, places[x.Code])),
            given.Jobs.Where(x => !places.ContainsKey(x.Code)).Sum(x => Left(given, x))
        );
    }

    /// <summary>What a plan breaks, each in a sentence for whoever looks for it; empty for a sound one.</summary>
    public static IReadOnlyList<string> Faults(WeekCase given, IReadOnlyDictionary<string, WeekPlace> places)
    {
        var faults = new List<string>();
        var people = given.People.ToDictionary(x => x.Code, StringComparer.Ordinal);
        var jobs = given.Jobs.ToDictionary(x => x.Code, StringComparer.Ordinal);
        foreach (var (code, place) in places)
        {
            if (!jobs.TryGetValue(code, out var job) || !people.TryGetValue(place.Person, out var person))
            {
                faults.Add($"{code}: nobody knows it, or whom it is with.");
                continue;
            }

            if (place.Day < 0 || place.Day >= given.Days || person.Minutes[place.Day] == 0)
                faults.Add($"{code}: {place.Person} is not there on day {place.Day}.");
            if (!Can(person, job))
                faults.Add($"{code}: {place.Person} may not do it.");
            if (job.Pinned is null && !IsOpen(job, place.Day))
                faults.Add($"{code}: not on day {place.Day}.");
            if (job.After is { } first && !(places.TryGetValue(first, out var before) && before.Day < place.Day))
                faults.Add($"{code}: {first} is not over before.");
        }

        foreach (var job in given.Jobs)
        {
            if (job.After is { } begun && places.ContainsKey(begun) && !places.ContainsKey(job.Code))
                faults.Add($"{job.Code}: {begun} is begun, and it is not done.");
            if (job.Pinned is { } pin && places.GetValueOrDefault(job.Code) != pin)
                faults.Add($"{job.Code}: it is pinned elsewhere.");
            if (job.Together is not { } other)
                continue;
            var (mine, theirs) = (places.GetValueOrDefault(job.Code), places.GetValueOrDefault(other));
            if (mine?.Day != theirs?.Day || (mine is not null && mine.Person == theirs!.Person))
                faults.Add($"{job.Code}: not together with {other}.");
        }

        foreach (var day in places.Where(x => jobs.ContainsKey(x.Key) && people.ContainsKey(x.Value.Person)).GroupBy(x => x.Value))
        {
            var person = people[day.Key.Person];
            var minutes = day.Sum(x => jobs[x.Key].Minutes) + Tour(given, person.Base, day.Select(x => jobs[x.Key].Site));
            if (day.Key.Day >= 0 && day.Key.Day < given.Days && minutes > person.Minutes[day.Key.Day])
                faults.Add($"{day.Key.Person}, day {day.Key.Day}: {minutes} of {person.Minutes[day.Key.Day]} minutes.");
        }

        return faults;
    }

    /// <summary>Why a job that was left out has no day: the first of its own conditions that leaves it none.</summary>
    public static LeftOutWhy Why(WeekCase given, WeekJob job)
    {
        var days = Enumerable.Range(0, given.Days).Where(x => x >= job.PartsDay).ToList();
        if (days.Count == 0)
            return LeftOutWhy.Parts;
        days.RemoveAll(x => !IsOpen(job, x));
        if (days.Count == 0)
            return LeftOutWhy.Window;
        var able = given.People.Where(x => Can(x, job)).ToList();
        if (able.Count == 0)
            return LeftOutWhy.Skill;
        return days.Exists(day => able.Exists(x => HasTime(given, x, job, day))) ? LeftOutWhy.Others : LeftOutWhy.Minutes;
    }

    /// <summary>
    /// What somebody does who has no solver: what is longest past due first, each on the first day and with the first person that takes
    /// it. A plan to begin from, and to hold a better one against.
    /// </summary>
    /// <returns>A sound plan, but for pins that cannot be held.</returns>
    public static ImmutableSortedDictionary<string, WeekPlace> OverdueFirst(WeekCase given)
    {
        var places = ImmutableSortedDictionary.CreateBuilder<string, WeekPlace>(StringComparer.Ordinal);
        var jobs = given.Jobs.ToDictionary(x => x.Code, StringComparer.Ordinal);

        // It is enough that one of two names the other.
        var others = given
            .Jobs.Where(x => x.Together is not null)
            .SelectMany(x => new[] { (x.Code, Other: jobs[x.Together!]), (Code: x.Together!, Other: x) })
            .DistinctBy(x => x.Code)
            .ToDictionary(x => x.Code, x => x.Other, StringComparer.Ordinal);
        var day = new Dictionary<WeekPlace, List<WeekJob>>();
        foreach (var job in given.Jobs.OrderBy(x => x.Pinned is null).ThenBy(x => x.Due).ThenBy(x => x.Code, StringComparer.Ordinal))
        {
            if (places.ContainsKey(job.Code))
                continue;
            var other = others.GetValueOrDefault(job.Code);
            foreach (var place in Places(job))
            {
                if (other is null)
                    Put(job, place);
                else if (Places(other).FirstOrDefault(x => x.Day == place.Day && x.Person != place.Person) is { } theirs)
                {
                    Put(job, place);
                    Put(other, theirs);
                }

                if (places.ContainsKey(job.Code))
                    break;
            }
        }

        // Nothing is begun that is not brought to its end.
        while (given.Jobs.FirstOrDefault(x => x.After is { } first && places.ContainsKey(first) && !places.ContainsKey(x.Code)) is { } half)
            places.Remove(half.After!);
        return places.ToImmutable();

        IEnumerable<WeekPlace> Places(WeekJob job)
        {
            var first = job.After is { } before ? (places.TryGetValue(before, out var over) ? over.Day + 1 : given.Days) : 0;
            return (
                job.Pinned is { } pin
                    ? [pin]
                    : Enumerable
                        .Range(first, Math.Max(0, given.Days - first))
                        .Where(x => IsOpen(job, x))
                        .SelectMany(x => given.People.Select(p => new WeekPlace(p.Code, x)))
            ).Where(x => Fits(job, x));
        }

        bool Fits(WeekJob job, WeekPlace place)
        {
            if (place.Day < 0 || place.Day >= given.Days || given.People.FirstOrDefault(x => x.Code == place.Person) is not { } person)
                return false;
            var there = day.GetValueOrDefault(place) ?? [];
            return Can(person, job)
                && person.Minutes[place.Day] > 0
                && there.Sum(x => x.Minutes) + job.Minutes + Tour(given, person.Base, there.Append(job).Select(x => x.Site))
                    <= person.Minutes[place.Day];
        }

        void Put(WeekJob job, WeekPlace place)
        {
            places[job.Code] = place;
            if (!day.TryGetValue(place, out var there))
                day[place] = there = [];
            there.Add(job);
        }
    }
}
