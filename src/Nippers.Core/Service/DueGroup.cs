using System.Collections.Immutable;

namespace Nippers.Core.Service;

/// <summary>Items that fall due together: at the same life hours, on the same date, or all without a record.</summary>
/// <param name="Items">Items of the group, in program order.</param>
/// <remarks>Rules 3: a tier is not a list that someone keeps. It is named after the longest interval among its items.</remarks>
public sealed record DueGroup(ImmutableArray<ItemStatus> Items)
{
    /// <summary>The most pressing standing among them.</summary>
    public DueStatus Status { get; } = Items.Max(item => item.Status);

    /// <summary>Life hours due; null when only the calendar says.</summary>
    public double? DueHours => Items[0].DueHours;

    /// <summary>Whether nothing is known of these items.</summary>
    public bool NoRecord => Items[0].NoRecord;

    /// <summary>Hours left, negative when past; null when the calendar decides or nothing is known.</summary>
    public double? HoursLeft => NoRecord ? null : Items[0].HoursLeft;

    /// <summary>Least days left by the calendar; null when no item has a date.</summary>
    public int? DaysLeft => Items.Min(item => item.DaysLeft);

    /// <summary>
    /// Longest interval among them in hours; null when none has hours. A break-in counts as the hours it came after, not
    /// as the interval that follows: the first 50 h service is no 250 h service.
    /// </summary>
    public double? LongestInterval { get; } =
        Items.Max(item => item.Point.Basis == DueBasis.BreakIn ? item.Point.DueHours - item.Point.BaseHours : item.Point.IntervalHours);

    /// <summary>Longest interval among them in kilometres; null when none has any.</summary>
    public double? LongestKm => Items.Max(item => item.Point.Km?.Interval);

    /// <summary>Whether all of them are first services after commissioning, at their break-in hours.</summary>
    public bool IsBreakIn => Items.All(item => item.Point.Basis == DueBasis.BreakIn);

    /// <summary>Widest window, hours.</summary>
    public double WindowHours => Items.Max(item => item.Point.WindowHours);

    /// <summary>Days until it presses, by use per day or by calendar: what groups and machines are sorted by.</summary>
    /// <param name="hoursPerDay">Use per day; an idle machine counts as running half an hour.</param>
    public double Urgency(double hoursPerDay) =>
        NoRecord
            ? 0
            : Items.Min(item => Math.Min(item.HoursLeft / Math.Max(hoursPerDay, 0.5) ?? double.MaxValue, item.DaysLeft ?? double.MaxValue));

    /// <summary>Groups standings: those without a record, those by hours, and those by date alone. Finished ones are left out.</summary>
    public static ImmutableArray<DueGroup> Of(IEnumerable<ItemStatus> items) =>
        [
            .. items
                .Where(item => item.Status != DueStatus.Finished)
                .GroupBy(item =>
                    item.NoRecord ? (0, 0d)
                    : item.DueHours is { } hours ? (1, hours)
                    : (2, item.DueOn?.DayNumber ?? 0)
                )
                .Select(group => new DueGroup([.. group])),
        ];
}

/// <summary>What falls due after the next time, if each next time is kept.</summary>
public static class Repeats
{
    /// <summary>Later due hours of an item after its next, up to some hours.</summary>
    public static IEnumerable<double> Of(DuePoint point, double upTo)
    {
        if (point is not { DueHours: { } due, IntervalHours: { } interval } || point.Basis is DueBasis.Finished or DueBasis.NoRecord)
            yield break;

        // After a break-in on the grid the item joins the multiples.
        var next = point is { IntervalBasis: IntervalBasis.Fixed, Basis: DueBasis.BreakIn }
            ? Math.Floor(due / interval + 0.1 + 1e-9) * interval + interval
            : due + interval;
        for (; next <= upTo; next += interval)
            yield return next;
    }
}
