using Nippers.Core.Hours;
using Nippers.Core.Numbers;

namespace Nippers.Core.Fluids;

/// <summary>Fluid added between services.</summary>
/// <param name="Hours">Life hours at which it was added.</param>
/// <param name="Litres">Litres, above zero.</param>
public readonly record struct TopUp(MeterHours Hours, double Litres);

/// <summary>What a compartment uses up.</summary>
/// <param name="SinceHours">Hours since the last change.</param>
/// <param name="Litres">Litres added since.</param>
/// <param name="LitresPer100Hours">Litres in 100 h; null with less than <see cref="LeastHours"/> run.</param>
/// <param name="SumpShare">Share of the sump used in 100 h; null without a capacity.</param>
/// <param name="OwnMedian">Median of the earlier stretches of 100 h, litres; null with fewer than three.</param>
/// <param name="Sign">Why it is flagged.</param>
/// <remarks>Rules 6. Fills and top-ups of a service do not count.</remarks>
public sealed record Consumption(
    double SinceHours,
    double Litres,
    double? LitresPer100Hours,
    double? SumpShare,
    double? OwnMedian,
    ConsumptionSign Sign
)
{
    /// <summary>Too few hours make any top-up look like a flood.</summary>
    public const double LeastHours = 25;

    private const double Stretch = 100;
    private const int FewestStretches = 3;
    private const double MostOfMedian = 2;
    private const double MostOfSump = 0.10;

    /// <summary>Consumption of a compartment at some life hours.</summary>
    /// <param name="topUps">All top-ups, in any order.</param>
    /// <param name="changedAt">Life hours of the last change; where the records begin when never changed.</param>
    /// <param name="recordsFrom">Life hours from which top-ups were recorded at all.</param>
    /// <param name="now">Life hours now.</param>
    /// <param name="sumpLitres">Capacity, litres; null when not entered.</param>
    public static Consumption Of(
        IReadOnlyCollection<TopUp> topUps,
        MeterHours changedAt,
        MeterHours recordsFrom,
        double now,
        double? sumpLitres
    )
    {
        var from = Math.Max(changedAt.Value, recordsFrom.Value);
        var hours = Math.Max(0, now - from);
        var litres = topUps.Where(x => x.Hours.Value >= from && x.Hours.Value <= now).Sum(x => x.Litres);
        double? rate = hours >= LeastHours ? litres / hours * Stretch : null;
        var share = rate / sumpLitres;

        // Whole stretches of 100 h before the last change: what this compartment is used to.
        var earlier = new List<double>();
        for (var end = from; end - Stretch >= recordsFrom.Value; end -= Stretch)
        {
            earlier.Add(topUps.Where(x => x.Hours.Value >= end - Stretch && x.Hours.Value < end).Sum(x => x.Litres));
        }

        double? median = earlier.Count >= FewestStretches ? Median.Of(earlier) : null;
        var flag =
            share > MostOfSump ? ConsumptionSign.TenthOfSump
            : rate > 0 && median > 0 && rate >= MostOfMedian * median ? ConsumptionSign.TwiceOwnMedian
            : ConsumptionSign.None;
        return new(hours, litres, rate, share, median, flag);
    }
}

/// <summary>Why a consumption is flagged.</summary>
public enum ConsumptionSign
{
    /// <summary>It is not.</summary>
    None,

    /// <summary>At least twice what this compartment is used to.</summary>
    TwiceOwnMedian,

    /// <summary>More than a tenth of the sump in 100 h.</summary>
    TenthOfSump,
}

/// <summary>Water that keeps coming back in the fuel bowl.</summary>
/// <remarks>Rules 7: three times in 30 days points at the fuel supply.</remarks>
public static class FuelWater
{
    private const int Days = 30;
    private const int Times = 3;

    /// <summary>How often water was drained in the 30 days that end today.</summary>
    public static int Count(IEnumerable<DateOnly> drained, DateOnly today) =>
        drained.Count(x => x <= today && x.DayNumber > today.DayNumber - Days);

    /// <summary>Whether that points at the fuel supply.</summary>
    public static bool PointsAtSupply(IEnumerable<DateOnly> drained, DateOnly today) => Count(drained, today) >= Times;
}
