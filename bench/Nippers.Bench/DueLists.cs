using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using BenchmarkDotNet.Attributes;
using Nippers.Core.Hours;
using Nippers.Core.Service;

namespace Nippers.Bench;

/// <summary>Use per day, due points, standing and projection of a fleet, in Core alone, on one core.</summary>
[MemoryDiagnoser]
public class DueLists
{
    private static readonly DateTimeOffset Now = new(2026, 3, 16, 7, 30, 0, TimeSpan.Zero);
    private static readonly int[] Intervals = [10, 50, 100, 250, 250, 500, 500, 1000, 2000];

    private (MeterRecord Record, ServiceItem[] Items, Dictionary<string, Completion> Last)[] _fleet = [];

    /// <summary>Machines; 60 items and 90 days of readings each.</summary>
    [Params(100, 500, 2500)]
    public int Machines { get; set; }

    [GlobalSetup]
    public void Setup() => _fleet = [.. Enumerable.Range(0, Machines).Select(Machine)];

    [Benchmark]
    public int DueListsAndProjections()
    {
        var overdue = 0;
        var settings = new DueSettings();
        foreach (var (record, items, last) in _fleet)
        {
            var at = new MachineNow(UsePerDay.Estimate(record, Now), Now);
            var machine = new DueMachine(History.SinceNew, record.CommissionedOn, record.CommissionedHours);
            foreach (var item in items)
            {
                if (at.Stand(DuePoint.Of(item, machine, last.GetValueOrDefault(item.Code), settings)).Status == DueStatus.Overdue)
                    overdue++;
            }
        }

        return overdue;
    }

    /// <summary>The same by the wall clock, the best of many, as milliseconds and as ratio to 100 machines.</summary>
    public static void Linear()
    {
        double? first = null;
        foreach (var machines in new[] { 100, 500, 2500 })
        {
            var bench = new DueLists { Machines = machines };
            bench.Setup();
            var best = double.MaxValue;
            for (var i = 0; i < 25; i++)
            {
                var watch = Stopwatch.StartNew();
                bench.DueListsAndProjections();
                best = Math.Min(best, watch.Elapsed.TotalMilliseconds);
            }

            first ??= best;
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"core: {machines,5} machines x 60 items: {best,8:0.00} ms, {best / machines * 1000,6:0.0} us a machine, {best / first:0.00} times 100 machines"
                )
            );
        }
    }

    private static (MeterRecord Record, ServiceItem[] Items, Dictionary<string, Completion> Last) Machine(int i)
    {
        var readings = ImmutableArray.CreateBuilder<Reading>();
        for (var day = 90; day >= 0; day--)
            readings.Add(Reading.Of(Now.AddDays(-day).AddHours(-1), 4000 + i + (90 - day) * 5.5 + day % 3));
        var ordered = readings
            .OrderBy(x => x.At)
            .Select((x, n) => x with { Hours = MeterHours.Of(4000 + i + n * (5 + i % 5 * 0.4)) })
            .ToImmutableArray();
        var items = Enumerable
            .Range(0, 60)
            .Select(n => new ServiceItem($"item-{n}", new(Intervals[n % Intervals.Length] * 10), n % 4 == 0 ? 12 : null))
            .ToArray();
        var last = items
            .Where((_, n) => n % 7 != 0)
            .ToDictionary(x => x.Code, x => new Completion(x.Code, new(2026, 1, 1 + i % 28), new(40_000 + i)));
        return (new(ordered, [], 6, new(2024, 1, 1), default), items, last);
    }
}
