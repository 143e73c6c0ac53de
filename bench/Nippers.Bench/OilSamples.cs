using System.Diagnostics;
using System.Globalization;
using Nippers.Core.Oil;

namespace Nippers.Bench;

/// <summary>Judging oil samples with their history, in Core alone, on one core, by the wall clock.</summary>
internal static class OilSamples
{
    private const int Earlier = 6;

    public static void Run()
    {
        double? first = null;
        foreach (var count in new[] { 6_000, 30_000, 150_000 })
        {
            var cases = Enumerable.Range(0, count).Select(Case).ToList();
            var best = double.MaxValue;
            var patterns = 0;
            for (var round = 0; round < (count > 50_000 ? 2 : 4); round++)
            {
                var watch = Stopwatch.StartNew();
                patterns = cases.Sum(x => OilJudge.Judge(x.Sample, x.Limits, x.Earlier).Patterns.Length);
                best = Math.Min(best, watch.Elapsed.TotalMilliseconds);
            }

            first ??= best;
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"samples: {count,6} judged with {Earlier} earlier ones each: {best,7:0} ms, {best / count * 1000,5:0.0} us each, {best / first:0.00} times 6000; {patterns} patterns"
                )
            );
        }

        var own = Enumerable.Range(0, 150_000).Select(x => (double)(x * 7919 % 1000)).ToList();
        var timed = Stopwatch.StartNew();
        _ = LimitSet.OwnFleet(own, new(100, 200));
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"samples: own limits of one measurand from 150000 values: {timed.Elapsed.TotalMilliseconds:0} ms"
            )
        );
    }

    /// <summary>A sample with all that can be measured; one in nine has something in it.</summary>
    internal static (OilSample Sample, LimitSet Limits, EarlierSample[] Earlier) Case(int i)
    {
        var kind = (OilKind)(i % 4);
        var limits = LimitSet.Starting(kind);
        double Share(int n) => 0.1 + (i * 31 + n * 17) % 100 / 250.0;
        Measures Values(int n, double times) =>
            Measures.Of(
                limits
                    .All.Where(x => x.Measurand != Measurand.TanRise)
                    .Select((x, k) => KeyValuePair.Create(x.Measurand, x.Limit.Watch * Share(n + k) * times))
            );
        var grade = kind switch
        {
            OilKind.Engine => "SAE 15W-40",
            OilKind.Hydraulic => "ISO VG 46",
            OilKind.Gear => "GEAR 80W-90",
            _ => "SAE 30",
        };
        var fresh = new NewOil(
            kind == OilKind.Hydraulic ? 46 : 14,
            10,
            1,
            4,
            Measures.Of([new(Measurand.Ca, 2400), new(Measurand.Zn, 1200), new(Measurand.P, 1000), new(Measurand.B, 20)])
        );
        return (
            new()
            {
                Kind = kind,
                Grade = ViscosityGrade.Of(grade),
                SumpLitres = 24,
                IntervalHours = LimitSet.ReferenceHours(kind),
                MachineHours = 4000 + i % 1000,
                OilHours = 60 + i % 900,
                AddedLitres = i % 5,
                Results = Values(0, i % 9 == 0 ? 5 : 1)
                    .With(Measurand.Viscosity, fresh.Viscosity * (0.9 + i % 20 / 100.0))
                    .With(Measurand.Tbn, 8)
                    .With(Measurand.Tan, 1.6)
                    .With(Measurand.Ca, 2300)
                    .With(Measurand.Zn, 1150)
                    .With(Measurand.P, 980)
                    .With(Measurand.B, 22),
                Iso = kind == OilKind.Hydraulic ? new(17 + i % 3, 15, 12) : null,
                New = fresh,
            },
            limits,
            [.. Enumerable.Range(1, Earlier).Select(n => new EarlierSample(4000 - (Earlier + 1 - n) * 250, Values(n * 3, 1)))]
        );
    }
}
