namespace Nippers.Core.Hours;

/// <summary>An accepted reading in life hours: what the meter showed, plus the offset of replaced meters.</summary>
/// <param name="At">Instant.</param>
/// <param name="Hours">Life hours.</param>
/// <remarks>Rules 1. Readings at one instant sort by hours.</remarks>
public readonly record struct Reading(DateTimeOffset At, MeterHours Hours) : IComparable<Reading>
{
    /// <summary>A reading at an instant.</summary>
    public static Reading Of(DateTimeOffset at, double hours) => new(at, MeterHours.Of(hours));

    /// <summary>The instant in milliseconds since 1970-01-01 UTC: the sums of the rules are made in these.</summary>
    internal long AtMs => At.ToUnixTimeMilliseconds();

    /// <inheritdoc/>
    public int CompareTo(Reading other)
    {
        var byTime = At.CompareTo(other.At);
        return byTime != 0 ? byTime : Hours.CompareTo(other.Hours);
    }

    /// <summary>Whether the left comes earlier.</summary>
    public static bool operator <(Reading left, Reading right) => left.CompareTo(right) < 0;

    /// <summary>Whether the left comes later.</summary>
    public static bool operator >(Reading left, Reading right) => left.CompareTo(right) > 0;

    /// <summary>Whether the left comes earlier or is the same.</summary>
    public static bool operator <=(Reading left, Reading right) => left.CompareTo(right) <= 0;

    /// <summary>Whether the left comes later or is the same.</summary>
    public static bool operator >=(Reading left, Reading right) => left.CompareTo(right) >= 0;
}

/// <summary>Lengths of time in the units the rules are written in.</summary>
public static class Span
{
    /// <summary>Milliseconds in a day.</summary>
    public const long DayMs = 86_400_000;

    /// <summary>Milliseconds in an hour.</summary>
    public const long HourMs = 3_600_000;

    /// <summary>Fractional days in a number of milliseconds.</summary>
    public static double Days(long ms) => ms / (double)DayMs;
}
