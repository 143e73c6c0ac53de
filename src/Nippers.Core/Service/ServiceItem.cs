using System.Text.Json.Serialization;
using Nippers.Core.Hours;

namespace Nippers.Core.Service;

/// <summary>How the next due point follows from work done.</summary>
public enum IntervalBasis
{
    /// <summary>Due on fixed multiples of the interval, so that tiers stay nested and fall together.</summary>
    [JsonStringEnumMemberName("grid")]
    Fixed,

    /// <summary>Due a full interval after the work was really done.</summary>
    Floating,
}

/// <summary>How hard the machine's life is.</summary>
public enum Duty
{
    /// <summary>Intervals as the program states them.</summary>
    Normal,

    /// <summary>Items with a duty factor come sooner.</summary>
    Severe,
}

/// <summary>What is known of a machine's past.</summary>
public enum History
{
    /// <summary>Nippers, or its owner, has known it since it was commissioned.</summary>
    SinceNew,

    /// <summary>Bought used without papers: what has no record is taken as not done.</summary>
    Unknown,
}

/// <summary>What severe duty makes of an interval. Only halves and quarters, so that grids stay nested.</summary>
public enum DutyFactor
{
    /// <summary>The interval stays.</summary>
    Whole = 1,

    /// <summary>0.5: twice as often.</summary>
    Half = 2,

    /// <summary>0.25: four times as often.</summary>
    Quarter = 4,
}

/// <summary>One thing done to one place.</summary>
/// <param name="Code">Short name, unique in its program.</param>
/// <param name="EveryHours">Interval in hours, or null when only the calendar counts.</param>
/// <param name="EveryMonths">Interval in months, or null. Whichever comes first.</param>
/// <param name="FirstAtHours">Break-in: hours after commissioning at which it is done the first time.</param>
/// <param name="Once">Break-in only: finished when done.</param>
/// <param name="DutyFactor">What severe duty makes of <paramref name="EveryHours"/>.</param>
/// <param name="Strict">No late window: statutory inspections.</param>
/// <param name="IntervalBasis">Overrides the program's interval basis.</param>
/// <param name="EveryKm">Interval in kilometres of an odometer, or null. Whichever comes first.</param>
/// <remarks>Rules 3.</remarks>
public sealed record ServiceItem(
    string Code,
    MeterHours? EveryHours = null,
    int? EveryMonths = null,
    MeterHours? FirstAtHours = null,
    bool Once = false,
    DutyFactor DutyFactor = DutyFactor.Whole,
    bool Strict = false,
    IntervalBasis? IntervalBasis = null,
    int? EveryKm = null
)
{
    /// <summary>The interval in thousandths of a kilometre under a duty; null without one.</summary>
    public long? KmMilli(Duty duty) => EveryKm is > 0 and var every ? every * 1000L / (duty == Duty.Severe ? (int)DutyFactor : 1) : null;

    /// <summary>The interval in thousandths of an hour, which keeps a quarter of a tenth exact; null without one.</summary>
    public long? IntervalMilli(Duty duty) =>
        EveryHours is { Tenths: > 0 } every ? every.Tenths * 100L / (duty == Duty.Severe ? (int)DutyFactor : 1) : null;

    /// <summary>
    /// The same at an interval that analysis earned. It counts from the last change: a longer interval has no place on the grid
    /// of the shorter ones.
    /// </summary>
    /// <remarks>Rules 10.</remarks>
    public ServiceItem Earned(MeterHours interval) =>
        this with
        {
            EveryHours = interval,
            IntervalBasis = Service.IntervalBasis.Floating,
            DutyFactor = DutyFactor.Whole,
        };

    /// <summary>The interval in hours under a duty; null without one.</summary>
    public double? Interval(Duty duty) => IntervalMilli(duty) / 1000.0;
}

/// <summary>Work done on an item, or a baseline that someone declared for it.</summary>
/// <param name="ItemCode">The item.</param>
/// <param name="On">The date, where the machine stood.</param>
/// <param name="Hours">Life hours at which it was done.</param>
public sealed record Completion(string ItemCode, DateOnly On, MeterHours Hours)
{
    /// <summary>Whether this one counts before another: higher hours, then the later date.</summary>
    public bool CountsBefore(Completion? other) => other is null || Hours > other.Hours || (Hours == other.Hours && On > other.On);
}

/// <summary>The numbers of a program that decide windows and credit.</summary>
/// <param name="IntervalBasis">the program's interval basis.</param>
/// <param name="CreditPercent">Grid: how early, in percent of the interval, work counts as the next multiple; 0 to 50.</param>
/// <param name="WindowPercent">Window on each side, percent of the interval; 0 to 50.</param>
/// <param name="LeastWindowHours">The window is at least this, hours.</param>
/// <param name="ComingDays">An item whose date lies this close is coming, days.</param>
/// <remarks>Rules 3.</remarks>
public sealed record DueSettings(
    IntervalBasis IntervalBasis = IntervalBasis.Fixed,
    int CreditPercent = 10,
    int WindowPercent = 10,
    double LeastWindowHours = 5,
    int ComingDays = 30
);
