using Nippers.Core.Hours;

namespace Nippers.Core.Walk;

/// <summary>One measure of a wear part.</summary>
/// <param name="Hours">Life hours.</param>
/// <param name="Value">The measure.</param>
public readonly record struct WearMeasure(MeterHours Hours, double Value);

/// <summary>How worn a part is, and when it reaches its limit.</summary>
/// <remarks>Rules 9: cutting edge, tooth, track shoe, tyre tread.</remarks>
public static class WearPart
{
    /// <summary>Least distance between the first and the last measure for a line, hours.</summary>
    public const double LeastApart = 25;

    /// <summary>Worn share: 0 when new, 1 at the limit, more beyond.</summary>
    /// <returns>Null when new and limit are the same.</returns>
    public static double? Share(double asNew, double measured, double limit) =>
        asNew == limit ? null : (asNew - measured) / (asNew - limit);

    /// <summary>Life hours at which the limit is reached, from a least-squares line.</summary>
    /// <param name="measures">Measures since the part was new, in any order.</param>
    /// <param name="limit">The limit.</param>
    /// <returns>Null with fewer than two measures 25 h apart, or when the line does not lead to the limit.</returns>
    public static double? LimitAt(IReadOnlyCollection<WearMeasure> measures, double limit)
    {
        if (measures.Count < 2 || measures.Max(x => x.Hours.Value) - measures.Min(x => x.Hours.Value) < LeastApart)
            return null;
        var (meanHours, meanValue) = (measures.Average(x => x.Hours.Value), measures.Average(x => x.Value));
        var slope =
            measures.Sum(x => (x.Hours.Value - meanHours) * (x.Value - meanValue))
            / measures.Sum(x => Math.Pow(x.Hours.Value - meanHours, 2));
        if (slope == 0)
            return null;
        var at = meanHours + (limit - meanValue) / slope;

        // A line that leads away from the limit met it before the first measure.
        return at >= measures.Min(x => x.Hours.Value) ? at : null;
    }
}

/// <summary>Days on which a machine worked and nobody walked round it.</summary>
public static class MissedWalks
{
    /// <summary>A day with less than this was moving about the yard, hours.</summary>
    public const double LeastWork = 0.5;

    /// <summary>The missed days, oldest first.</summary>
    /// <param name="days">Days to look at.</param>
    /// <param name="walked">Days with a finished walk.</param>
    /// <param name="workedHours">Hours worked on a day.</param>
    public static IReadOnlyList<DateOnly> Of(
        IEnumerable<DateOnly> days,
        IReadOnlySet<DateOnly> walked,
        Func<DateOnly, double> workedHours
    ) => [.. days.Where(day => !walked.Contains(day) && workedHours(day) >= LeastWork).Order()];
}
