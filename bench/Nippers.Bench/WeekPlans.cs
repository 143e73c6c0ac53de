using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using Nippers.Core.Weeks;
using Nippers.Weeks;

namespace Nippers.Bench;

/// <summary>Plans of four weeks for made fleets, after 2 s and after 20 s: against the solver's bound, and the overdue first.</summary>
internal static class WeekPlans
{
    private const int Fleets = 20;
    private const int Jobs = 60;
    private const int Days = 28;
    private static readonly string[] Sites = ["bank", "pit", "quarry", "yard"];
    private static readonly TimeSpan[] Times = [TimeSpan.FromSeconds(2), TimeSpan.FromSeconds(20)];

    public static void Run(int fleets = Fleets)
    {
        Console.WriteLine($"weeks: {fleets} made fleets, {Jobs} jobs, 5 people, {Sites.Length} sites, {Days} days");
        Console.WriteLine("| fleet | overdue first | after 2 s | better | at most better | after 20 s | better | at most better | took |");
        Console.WriteLine("| --- | --- | --- | --- | --- | --- | --- | --- | --- |");
        var better = new List<double>();
        var gaps = new List<double>();
        for (var seed = 1; seed <= fleets; seed++)
        {
            var given = Made(seed);
            var plain = WeekRules.OverdueFirst(given);
            var first = WeekRules.Cost(given, plain);
            var cells = new List<string>();
            var watch = Stopwatch.StartNew();
            foreach (var most in Times)
            {
                watch.Restart();
                var plan = new WeekSolver().Solve(given, most);
                if (WeekRules.Faults(given, plain).Concat(WeekRules.Faults(given, plan.Places)).FirstOrDefault() is { } fault)
                    throw new InvalidOperationException(fault);
                cells.AddRange([Money(plan.Cost), Share((first - plan.Cost) / first), Share(plan.Gap)]);
                if (most != Times[^1])
                    continue;
                better.Add((first - plan.Cost) / first);
                gaps.Add(plan.Gap);
            }

            var took = watch.Elapsed.TotalSeconds.ToString("0.0", CultureInfo.InvariantCulture);
            Console.WriteLine($"| {seed} | {Money(first)} | {string.Join(" | ", cells)} | {took} s |");
        }

        better.Sort();
        gaps.Sort();
        Console.WriteLine(
            $"better than the overdue first: {Share(better[0])} to {Share(better[^1])}, median {Share(better[better.Count / 2])}"
        );
        Console.WriteLine($"at most better is possible: {Share(gaps[0])} to {Share(gaps[^1])}, median {Share(gaps[gaps.Count / 2])}");
    }

    private static string Money(double cost) => cost.ToString("#,0", CultureInfo.InvariantCulture);

    private static string Share(double share) => (share * 100).ToString("0.0", CultureInfo.InvariantCulture) + " %";

    /// <summary>Services, repairs to a limit, sample rounds and pairs, as a contractor of some fifty machines has them.</summary>
    internal static WeekCase Made(int seed)
    {
        var chance = new Random(seed);
        var travel = ImmutableDictionary.CreateBuilder<(string, string), int>();

        // Places on a map, so that no shortcut is missing.
        var at = Sites.ToDictionary(x => x, _ => (X: chance.Next(60), Y: chance.Next(60)));
        foreach (var (a, i) in Sites.Select((x, i) => (x, i)))
        {
            foreach (var b in Sites.Skip(i + 1))
                travel[(a, b)] = 8 + (int)Math.Ceiling(Math.Sqrt(Math.Pow(at[a].X - at[b].X, 2) + Math.Pow(at[a].Y - at[b].Y, 2)));
        }

        var people = Enumerable
            .Range(0, 5)
            .Select(i => new WeekPerson(
                $"p{i}",
                Sites[chance.Next(Sites.Length)],
                [
                    .. Enumerable
                        .Range(0, Days)
                        .Select(day =>
                            day % 7 > 4 || chance.Next(20) == 0 ? 0
                            : day % 7 == 4 ? 270
                            : 360
                        ),
                ],
                i < 2 ? ["qualified"] : []
            ));
        var jobs = Enumerable
            .Range(0, Jobs)
            .Select(i =>
            {
                var (every, cost, minutes) = chance.Next(5) switch
                {
                    0 => (14, 60, 30 + 5 * chance.Next(6)),
                    1 => (40, 260, 90 + 15 * chance.Next(5)),
                    2 => (80, 600, 150 + 15 * chance.Next(6)),
                    3 => (160, 1400, 240 + 15 * chance.Next(5)),
                    _ => (30, 300, 45 + 15 * chance.Next(8)),
                };
                var due = chance.Next(-6, Days + 4);
                return new WeekJob($"j{i}", Sites[chance.Next(Sites.Length)], minutes)
                {
                    Due = due,
                    Earliest = Math.Max(0, due - every / 4),
                    Latest = chance.Next(12) == 0 ? Math.Max(3, due + 3) : null,
                    Cost = cost,
                    EveryDays = every,
                    PerDay = chance.Next(15) == 0 ? 300 : 0,
                    PartsDay = chance.Next(6) == 0 ? chance.Next(10) : 0,
                    Skill = chance.Next(8) == 0 ? "qualified" : null,
                    Blocked = [.. Enumerable.Range(0, Days).Where(_ => chance.Next(12) == 0)],
                    Together = i % 20 == 1 ? $"j{i - 1}" : null,
                };
            });
        return new()
        {
            Days = Days,
            CallOut = 120,
            PerTravelMinute = 1.5,
            LeftOut = 20,
            People = [.. people],
            Jobs = [.. jobs],
            Travel = travel.ToImmutable(),
        };
    }
}
