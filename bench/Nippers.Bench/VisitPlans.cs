using System.Diagnostics;
using System.Globalization;
using Nippers.App.Programs;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Service;
using Nippers.Tests;

namespace Nippers.Bench;

/// <summary>Proposals for a fleet and the order of job cards, in Core alone, on one core, by the wall clock.</summary>
internal static class VisitPlans
{
    private const int Horizon = 180;
    private const double CallOut = 140;
    private static readonly DateTimeOffset Now = new(2026, 3, 16, 7, 30, 0, TimeSpan.Zero);
    private static readonly int[] Intervals = [50, 100, 250, 250, 250, 500, 500, 1000, 2000];

    public static void Run()
    {
        double? first = null;
        foreach (var machines in new[] { 100, 500, 2500 })
        {
            var fleet = Enumerable.Range(0, machines).Select(Machine).ToList();
            var best = Best(machines > 1000 ? 2 : 4, () => fleet.ForEach(x => VisitPlanner.Propose(Items(x), Horizon, CallOut)));
            first ??= best;
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"visits: {machines} machines x 60 items over {Horizon} days: {best:0} ms, {best / machines:0.00} ms a machine, {best / first:0.00} times 100 machines"
                )
            );
        }

        Sequences();
        Starters();
    }

    /// <summary>Cards of every starter program, tier and set of options, in the order that a page waits for.</summary>
    private static void Starters()
    {
        foreach (var tier in StarterCards.Tiers)
        {
            var cards = StarterPrograms
                .All()
                .SelectMany(x => Enumerable.Range(0, StarterCards.Options.Length).Select(set => StarterCards.Input(x.Code, tier, set)))
                .Select(JobCardMaker.CaseOf)
                .Select(x =>
                {
                    var quick = CardSequencer.Of(x, CardSequencer.Quick);
                    return (
                        x.Steps.Length,
                        Time: Best(3, () => CardSequencer.Of(x, CardSequencer.Quick)),
                        quick.Elapsed,
                        Thorough: CardSequencer.Of(x).Elapsed
                    );
                })
                .ToList();
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"starters' cards of {tier} h: {cards.Count}, {cards.Min(x => x.Length)} to {cards.Max(x => x.Length)} steps: {cards.Select(x => x.Time).Order().ElementAt(cards.Count / 2):0.0} ms at the median, {cards.Max(x => x.Time):0.0} at most; {cards.Sum(x => x.Elapsed)} min elapsed, {cards.Sum(x => x.Thorough)} when searched thoroughly"
                )
            );
        }
    }

    private static void Sequences()
    {
        double? small = null;
        foreach (var steps in new[] { 20, 40, 80 })
        {
            var card = StateCard(steps);
            var best = Best(10, () => CardSequencer.Of(card, CardSequencer.Quick));
            small ??= best;
            var (quick, thorough) = (CardSequencer.Of(card, CardSequencer.Quick), CardSequencer.Of(card));
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"card by state: {steps} steps: {best:0.0} ms, {best / small:0.00} times 20 steps, {quick.Elapsed} min elapsed, {thorough.Elapsed} when searched thoroughly"
                )
            );
        }
    }

    /// <summary>A service in the language of states: drains with plugs and fills, samples, greasing in its posture, brakes.</summary>
    private static CardCase StateCard(int steps)
    {
        var all = new List<CardStep>();
        for (var i = 0; all.Count < steps; i++)
        {
            var (drain, plug) = ($"drain-{i}", $"plug-{i}");
            all.Add(
                new()
                {
                    Code = drain,
                    Hands = 4,
                    Wait = 10 + i % 4 * 5,
                    State = MachineState.Isolated,
                    Heat = i % 2 == 0 ? StepHeat.Warm : null,
                    Access = i % 3 == 0 ? "pan" : null,
                    Drain = new(drain, 8 + i % 5 * 6, i % 2 == 0 ? "tub" : "can", "oil"),
                    Still = true,
                }
            );
            all.Add(Step(plug, 3) with { After = [drain], Shut = drain, Access = i % 3 == 0 ? "pan" : null });
            all.Add(Step($"fill-{i}", 6) with { After = [plug], Fill = drain });
            all.Add(Step($"belt-{i}", 8) with { Access = "hood" });
            all.Add(Step($"sample-{i}", 5) with { State = MachineState.Running, Heat = StepHeat.Warm });
            all.Add(Step($"grease-{i}", 7) with { Posture = i % 2 == 0 ? "grease" : null });
            all.Add(Step($"lamps-{i}", 2) with { State = MachineState.Off });
            all.Add(Step($"brakes-{i}", 4) with { State = MachineState.Moving, After = [$"fill-{i}"] });
        }

        return new()
        {
            Steps = [.. all.Take(steps)],
            Minutes = new(2, 1, 2, 1, 1, 10, 60, 45, 4, 5),
            Accesses = [new("hood", 1, 1, false), new("pan", 6, 8, true)],
            Vessels = [new("tub", 120), new("can", 60)],
            Posture = "parked",
        };

        static CardStep Step(string code, int hands) =>
            new()
            {
                Code = code,
                Hands = hands,
                State = MachineState.Isolated,
            };
    }

    private static double Best(int times, Action work)
    {
        var best = double.MaxValue;
        for (var i = 0; i < times; i++)
        {
            var watch = Stopwatch.StartNew();
            work();
            best = Math.Min(best, watch.Elapsed.TotalMilliseconds);
        }

        return best;
    }

    private static (MachineNow At, DueMachine Machine, ServiceItem[] Items, Dictionary<string, Completion> Last) Machine(int i)
    {
        var use = 3.5 + i % 7;
        var readings = Enumerable
            .Range(0, 91)
            .Select(day => new Reading(Now.AddDays(day - 90).AddHours(-1), MeterHours.Of(4000 + i % 97 * 11 + day * use)));
        var record = new MeterRecord([.. readings], [], use, new(2024, 1, 1), default);
        var items = Enumerable
            .Range(0, 60)
            .Select(n => new ServiceItem(
                $"item-{n}",
                new(Intervals[n % Intervals.Length] * 10),
                n % 4 == 0 ? 12 : null,
                IntervalBasis: n % 11 == 0 ? IntervalBasis.Floating : null
            ))
            .ToArray();
        var last = items
            .Where((_, n) => n % 9 != 0)
            .ToDictionary(
                x => x.Code,
                x => new Completion(x.Code, new(2026, 1, 1 + i % 28), MeterHours.Of(3950 + i % 97 * 11 + i % 5 * 17))
            );
        return (
            new(UsePerDay.Estimate(record, Now), Now),
            new(History.SinceNew, record.CommissionedOn, record.CommissionedHours),
            items,
            last
        );
    }

    /// <summary>What the planner gets of a machine: days and windows from hours and use, as the application makes them.</summary>
    private static List<VisitItem> Items(
        (MachineNow At, DueMachine Machine, ServiceItem[] Items, Dictionary<string, Completion> Last) machine
    )
    {
        var (at, about, items, last) = machine;
        var use = Math.Max(at.Use.HoursPerDay, 0.1);
        return
        [
            .. items.Select(
                (item, n) =>
                {
                    var stand = at.Stand(DuePoint.Of(item, about, last.GetValueOrDefault(item.Code), new()));
                    var window = (int)(stand.Point.WindowHours / use);
                    var day = stand.FirstDate is { } on ? on.DayNumber - at.Today.DayNumber : Horizon * 2;
                    return new VisitItem(
                        item.Code,
                        Math.Max(0, day),
                        window,
                        Math.Max(0, Math.Min(day, 0) + window),
                        Math.Max(1, (int)((stand.Point.IntervalHours ?? 2000) / use)),
                        20 + n * 7 % 400,
                        stand.Point.IntervalBasis
                    );
                }
            ),
        ];
    }
}
