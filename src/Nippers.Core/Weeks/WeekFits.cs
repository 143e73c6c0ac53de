namespace Nippers.Core.Weeks;

/// <summary>
/// Whose day would take a job that a plan leaves out. What stands on each day is gone through once for all the jobs that are asked of.
/// </summary>
/// <param name="given">What was planned.</param>
/// <param name="places">The plan.</param>
public sealed class WeekFits(WeekCase given, IReadOnlyDictionary<string, WeekPlace> places)
{
    private readonly Dictionary<WeekPlace, (int Minutes, List<string> Sites)> _days = Days(given, places);
    private readonly Dictionary<(WeekPlace, string), int> _tours = [];

    /// <summary>Whose day lacks the fewest minutes for a job, the earliest of those that lack as few.</summary>
    /// <param name="job">A job that is not in the plan.</param>
    /// <returns>0 minutes where it fits and only costs more than leaving it out; null where no day of anybody is open to it.</returns>
    public WeekFit? Of(WeekJob job) => OnDays(job, job).MinBy(x => (x.Lacks, x.Place.Day, x.Place.Person));

    /// <summary>On which day two people lack the fewest minutes for a job that wants both, and who they are.</summary>
    /// <param name="job">The first one's, which is not in the plan.</param>
    /// <param name="helps">The second one's of the same day.</param>
    /// <returns>Minutes that whoever has less room lacks; null where no day is open to it on which two are there.</returns>
    public (WeekFit First, WeekFit Second)? OfTwo(WeekJob job, WeekJob helps)
    {
        var second = OnDays(helps, job).ToLookup(x => x.Place.Day);
        return OnDays(job, job)
            .SelectMany(x => second[x.Place.Day].Where(y => y.Place.Person != x.Place.Person).Select(y => (First: x, Second: y)))
            .OrderBy(x => Math.Max(x.First.Lacks, x.Second.Lacks))
            .ThenBy(x => x.First.Lacks + x.Second.Lacks)
            .ThenBy(x => x.First.Place.Day)
            .ThenBy(x => x.First.Place.Person, StringComparer.Ordinal)
            .ThenBy(x => x.Second.Place.Person, StringComparer.Ordinal)
            .Select(x => ((WeekFit, WeekFit)?)x)
            .FirstOrDefault();
    }

    // Whoever may do a job, on the days that are open to another: who helps comes when the first one does.
    private IEnumerable<WeekFit> OnDays(WeekJob job, WeekJob first) =>
        from person in given.People
        where WeekRules.Can(person, job)
        from day in Enumerable.Range(0, given.Days)
        where WeekRules.IsOpen(first, day) && person.Minutes[day] > 0
        select new WeekFit(new(person.Code, day), Math.Max(0, Needs(person, day, job) - person.Minutes[day]));

    private int Needs(WeekPerson person, int day, WeekJob job)
    {
        var place = new WeekPlace(person.Code, day);
        var (minutes, sites) = _days.GetValueOrDefault(place, (0, []));
        if (!_tours.TryGetValue((place, job.Site), out var tour))
            _tours[(place, job.Site)] = tour = WeekRules.Tour(given, person.Base, sites.Append(job.Site));
        return minutes + job.Minutes + tour;
    }

    private static Dictionary<WeekPlace, (int, List<string>)> Days(WeekCase given, IReadOnlyDictionary<string, WeekPlace> places)
    {
        var jobs = given.Jobs.ToDictionary(x => x.Code, StringComparer.Ordinal);
        return places
            .GroupBy(x => x.Value, x => jobs[x.Key])
            .ToDictionary(x => x.Key, x => (x.Sum(y => y.Minutes), x.Select(y => y.Site).ToList()));
    }
}
