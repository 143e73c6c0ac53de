using System.Collections.Immutable;
using Nippers.Core.Numbers;

namespace Nippers.Core.Oil;

/// <summary>What the run of values says.</summary>
/// <remarks>Rules 10.</remarks>
public static class Trend
{
    private const int MostInTrend = 6;
    private const int MostBefore = 5;
    private const int Fewest = 3;
    private const double MadToSigma = 1.4826;
    private const double Sigmas = 3;
    private const double LeastStep = 0.25;
    private const double LeastValue = 0.5;

    /// <summary>Slope through points: the median of the slopes of all pairs, which a single wild point does not move.</summary>
    /// <param name="points">Hours and values; pairs at equal hours are left out.</param>
    /// <returns>Rise an hour; null when no pair is left.</returns>
    public static double? Slope(IReadOnlyList<(double Hours, double Value)> points)
    {
        var slopes = new List<double>(points.Count * (points.Count - 1) / 2);
        for (var i = 0; i < points.Count; i++)
        {
            for (var j = i + 1; j < points.Count; j++)
            {
                if (points[j].Hours != points[i].Hours)
                    slopes.Add((points[j].Value - points[i].Value) / (points[j].Hours - points[i].Hours));
            }
        }

        return slopes.Count == 0 ? null : Median.Of(slopes);
    }

    /// <summary>Value above which one stands out of those before it.</summary>
    /// <param name="before">Earlier values, at least one.</param>
    /// <param name="watch">The watch limit: small leaps far below it do not count.</param>
    public static double StepBar(IReadOnlyCollection<double> before, double watch)
    {
        var median = Median.Of(before);
        var mad = Median.Of([.. before.Select(x => Math.Abs(x - median))]);
        return median + Math.Max(Sigmas * MadToSigma * mad, LeastStep * watch);
    }

    internal static ImmutableArray<OilFinding> Findings(
        OilSample sample,
        Measures values,
        LimitSet limits,
        ImmutableArray<int?> grades,
        IReadOnlyList<EarlierSample> earlier,
        SampleDoubts flags
    )
    {
        var found = ImmutableArray.CreateBuilder<OilFinding>();
        var wear = (flags & (SampleDoubts.TooEarly | SampleDoubts.NoOilHours)) == 0;
        foreach (var measurand in Measurands.Followed)
        {
            if (values[measurand] is not { } value || limits[measurand] is not { } limit || (measurand.IsWear() && !wear))
                continue;
            var before = Before(earlier, measurand);
            if (before.Count >= Fewest - 1 && grades[(int)measurand] < 2)
            {
                var slope = Slope([.. before.TakeLast(MostInTrend - 1), (sample.MachineHours, value)]);
                var next = value + slope * sample.IntervalHours;
                if (next >= limit.Act)
                    found.Add(new(FindingKind.Heading, measurand, next.Value, limit.Act, slope!.Value));
            }

            if (before.Count < Fewest)
                continue;
            var bar = StepBar([.. before.TakeLast(MostBefore).Select(x => x.Value)], limit.Watch);
            if (value > bar && value >= LeastValue * limit.Watch)
                found.Add(new(FindingKind.Step, measurand, value, bar, 0));
        }

        return found.ToImmutable();
    }

    private static List<(double Hours, double Value)> Before(IReadOnlyList<EarlierSample> earlier, Measurand measurand)
    {
        // Only the last few count; walking back from the newest spares a long history.
        var before = new List<(double, double)>(MostInTrend);
        for (var i = earlier.Count - 1; i >= 0 && before.Count < MostInTrend; i--)
        {
            if (earlier[i].Values[measurand] is { } value)
                before.Add((earlier[i].MachineHours, value));
        }

        before.Reverse();
        return before;
    }
}
