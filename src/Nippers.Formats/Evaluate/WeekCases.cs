using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using Nippers.Core.Weeks;

namespace Nippers.Formats.Evaluate;

/// <summary>Cases of <c>evaluate weeks</c>: who does which job on which day.</summary>
internal static class WeekCases
{
    private const int MostDays = 366;

    // Tours are worked out over all sets of their sites.
    private const int MostSites = 16;
    private const int MostMinutes = 24 * 60;
    private const int FarthestDay = 100_000;
    private const double MostMoney = 1_000_000_000;
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(15);

    public static JsonNode Evaluate(CaseReader given, IWeekSolver solver)
    {
        var read = Read(given);
        WeekPlan plan;
        try
        {
            plan = solver.Solve(read, Longest);
        }
        catch (ImpossibleWeekException impossible)
        {
            return new JsonObject { ["impossible"] = impossible.Message };
        }

        var jobs = new JsonArray();
        foreach (var job in read.Jobs)
        {
            var place = plan.Places.GetValueOrDefault(job.Code);
            var said = new JsonObject
            {
                ["code"] = job.Code,
                ["person"] = place?.Person,
                ["day"] = place?.Day,
            };
            if (place is null)
                said["why"] = JsonNamingPolicy.CamelCase.ConvertName(WeekRules.Why(read, job).ToString());
            jobs.Add(said);
        }

        return new JsonObject
        {
            ["cost"] = Math.Round(plan.Cost, 4),
            ["bound"] = Math.Round(plan.Bound, 4),
            ["jobs"] = jobs,
        };
    }

    /// <summary>Reads a case; what it names and does not have is a fault of the case.</summary>
    internal static WeekCase Read(CaseReader given)
    {
        var days = Needed(given, "days", 1, MostDays);
        var people = given.List("people").Select(x => Person(x, days)).ToImmutableArray();
        var jobs = given.List("jobs").Select(Job).ToImmutableArray();
        Once(given, "people", people.Select(x => x.Code));
        Once(given, "jobs", jobs.Select(x => x.Code));
        var codes = jobs.Select(x => x.Code).ToHashSet(StringComparer.Ordinal);
        foreach (var job in jobs)
        {
            if (job.Together is { } other && (other == job.Code || !codes.Contains(other)))
                throw given.Fault("jobs", $"has {job.Code} together with {other}, which is no other job");
            if (job.Pinned is { } pin && people.All(x => x.Code != pin.Person))
                throw given.Fault("jobs", $"has {job.Code} pinned to {pin.Person}, who is nobody");
        }

        var travel = Travel(given);
        var sites = people
            .Select(x => x.Base)
            .Concat(jobs.Select(x => x.Site))
            .Distinct(StringComparer.Ordinal)
            .Order(StringComparer.Ordinal)
            .ToList();
        if (sites.Count > MostSites)
            throw given.Fault("jobs", $"must not be at more than {MostSites} sites");
        foreach (var (a, b) in sites.SelectMany((a, i) => sites.Skip(i + 1).Select(b => (a, b))))
        {
            if (!travel.ContainsKey(string.CompareOrdinal(a, b) < 0 ? (a, b) : (b, a)))
                throw given.Fault("travel", $"does not say how far it is from {a} to {b}");
        }

        return new()
        {
            Days = days,
            CallOut = given.Number("callOut", 0, MostMoney),
            PerTravelMinute = given.Number("perTravelMinute", 0, MostMoney),
            LeftOut = given.Number("leftOut", 0, MostMoney),
            People = people,
            Jobs = jobs,
            Travel = travel,
        };
    }

    private static WeekPerson Person(CaseReader given, int days)
    {
        var minutes = given.Numbers("minutes", 0, MostMinutes);
        if (minutes.Count != days)
            throw given.Fault("minutes", $"must hold {days} numbers, one for each day");
        if (minutes.Any(x => x != Math.Truncate(x)))
            throw given.Fault("minutes", "must hold whole numbers");
        return new(
            given.Text("code"),
            given.Text("base"),
            [.. minutes.Select(x => (int)x)],
            given.Has("skills") ? [.. given.Texts("skills")] : []
        );
    }

    private static WeekJob Job(CaseReader given)
    {
        var pinned = given.Has("pinned") ? given.Object("pinned") : null;
        var blocked = given.Has("blocked") ? given.Numbers("blocked", -FarthestDay, FarthestDay) : [];
        return new(given.Text("code"), given.Text("site"), Needed(given, "minutes", 0, MostMinutes))
        {
            Skill = given.Has("skill") ? given.Text("skill") : null,
            Earliest = given.Whole("earliest", -FarthestDay, FarthestDay) ?? 0,
            Due = Needed(given, "due", -FarthestDay, FarthestDay),
            Latest = given.Whole("latest", -FarthestDay, FarthestDay),
            Cost = given.Number("cost", 0, MostMoney),
            EveryDays = Needed(given, "everyDays", 1, FarthestDay),
            PerDay = given.Has("perDay") ? given.Number("perDay", 0, MostMoney) : 0,
            PartsDay = given.Whole("partsDay", -FarthestDay, FarthestDay) ?? 0,
            Blocked = [.. blocked.Select(x => (int)x)],
            Together = given.Has("together") ? given.Text("together") : null,
            Pinned = pinned is null ? null : new(pinned.Text("person"), Needed(pinned, "day", -FarthestDay, FarthestDay)),
        };
    }

    private static int Needed(CaseReader given, string field, int from, int to) =>
        given.Whole(field, from, to) ?? throw given.Fault(field, "is missing");

    private static void Once(CaseReader given, string field, IEnumerable<string> codes)
    {
        var seen = new HashSet<string>(StringComparer.Ordinal);
        if (codes.FirstOrDefault(x => !seen.Add(x)) is { } twice)
            throw given.Fault(field, $"has {twice} twice");
    }

    private static ImmutableDictionary<(string, string), int> Travel(CaseReader given)
    {
        var travel = ImmutableDictionary.CreateBuilder<(string, string), int>();
        if (!given.Has("travel"))
            return travel.ToImmutable();
        var table = given.Object("travel");
        foreach (var pair in table.Fields)
        {
            if (pair.Split('|') is not [var a, var b] || string.CompareOrdinal(a, b) >= 0)
                throw given.Fault("travel", $"has {pair}, which is no two sites in alphabetical order");
            travel[(a, b)] = Needed(table, pair, 0, MostMinutes);
        }

        return travel.ToImmutable();
    }
}
