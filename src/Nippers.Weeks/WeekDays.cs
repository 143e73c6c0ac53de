using System.Collections.Immutable;
using Nippers.Core.Weeks;

namespace Nippers.Weeks;

/// <summary>Sites that a person's day goes to, and minutes of the shortest tour through them.</summary>
internal sealed record WeekTour(ImmutableHashSet<string> Sites, int Minutes);

/// <summary>A person's day: what may be done on it, and where it may go.</summary>
/// <param name="Place">Who, and when.</param>
/// <param name="Minutes">How long it is.</param>
/// <param name="Jobs">Jobs that may be done on it, as numbers into the case's.</param>
/// <param name="Tours">Sets of sites that it has time to drive to.</param>
internal sealed record WeekPersonDay(WeekPlace Place, int Minutes, IReadOnlyList<int> Jobs, IReadOnlyList<WeekTour> Tours)
{
    // More sets of sites than these are not offered to a day: nobody drives to all of a dozen sites between morning and evening.
    private const int MostTours = 400;

    /// <summary>Days on which something may be done.</summary>
    public static IReadOnlyList<WeekPersonDay> All(WeekCase given)
    {
        var days = new List<WeekPersonDay>();
        foreach (var person in given.People)
        {
            for (var day = 0; day < given.Days; day++)
            {
                var place = new WeekPlace(person.Code, day);
                List<int> jobs = [.. Enumerable.Range(0, given.Jobs.Length).Where(i => MayBe(given, given.Jobs[i], person, place))];
                if (jobs.Count > 0)
                    days.Add(new(place, person.Minutes[day], jobs, [.. ToursOf(given, person, day, jobs)]));
            }
        }

        return days;
    }

    private static bool MayBe(WeekCase given, WeekJob job, WeekPerson person, WeekPlace place) =>
        job.Pinned is { } pin
            ? pin == place
            : WeekRules.IsOpen(job, place.Day) && WeekRules.Can(person, job) && WeekRules.HasTime(given, person, job, place.Day);

    /// <summary>Sets of sites that a day has time to drive to, the small ones first.</summary>
    private static IEnumerable<WeekTour> ToursOf(WeekCase given, WeekPerson person, int day, List<int> jobs)
    {
        ImmutableArray<string> sites = [.. jobs.Select(x => given.Jobs[x].Site).Distinct(StringComparer.Ordinal)];
        IEnumerable<ImmutableArray<int>> some =
        [
            [],
        ];
        var count = 0;
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
                if (count++ > MostTours)
                    yield break;
                var names = set.Select(x => sites[x]).ToImmutableHashSet(StringComparer.Ordinal);
                var tour = WeekRules.Tour(given, person.Base, names);
                if (tour < person.Minutes[day])
                    yield return new(names, tour);
            }
        }
    }
}
