using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Nippers.Core.Hours;

namespace Nippers.Core.Service;

/// <summary>How an item stands. Ordered from calm to pressing, save the first.</summary>
public enum DueStatus
{
    /// <summary>A once item that was done.</summary>
    Finished,

    /// <summary>Nothing to do for the next weeks.</summary>
    [JsonStringEnumMemberName("clear")]
    NotDue,

    /// <summary>Within the coming days.</summary>
    Coming,

    /// <summary>Inside its window, or without a record.</summary>
    Due,

    /// <summary>Past its window.</summary>
    Overdue,
}

/// <summary>An item's standing at an instant, with all it was reached from.</summary>
/// <param name="Point">The due point.</param>
/// <param name="Status">The first standing that holds.</param>
/// <param name="DueHours">Life hours due; hours now when there is no record.</param>
/// <param name="DueOn">Date due; today when there is no record.</param>
/// <param name="Used">Share of the interval gone, 0 and up; null without a record or when finished.</param>
/// <param name="Projected">Early, typical and late date of <paramref name="DueHours"/>.</param>
/// <param name="HoursLeft">Due hours less hours now; negative when past. Null without hours.</param>
/// <param name="DaysLeft">Days to <paramref name="DueOn"/>; null without a date.</param>
/// <param name="KmLeft">Kilometres left, negative when past; null without an odometer or an interval of them.</param>
/// <param name="KmOn">The date on which they are over as it goes now; where that comes before the calendar's it is <paramref
/// name="DueOn"/>.</param>
public sealed record ItemStatus(
    DuePoint Point,
    DueStatus Status,
    double? DueHours,
    DateOnly? DueOn,
    double? Used,
    ProjectedDates? Projected,
    double? HoursLeft,
    int? DaysLeft,
    double? KmLeft = null,
    DateOnly? KmOn = null
)
{
    /// <summary>Whether the odometer, and neither the calendar nor the meter, decides when it comes.</summary>
    public bool KmDecides => KmOn is { } on && CalendarDecides && on == DueOn;

    /// <summary>Days on each side of its date, by what decides the date.</summary>
    public int WindowDays => KmDecides ? Point.Km!.WindowDays : Point.WindowDays;

    /// <summary>Whether it stands so because nothing is known of it.</summary>
    public bool NoRecord => Point.Basis == DueBasis.NoRecord;

    /// <summary>The date by which it falls due, from hours and calendar; null when neither says.</summary>
    public DateOnly? FirstDate =>
        (Projected?.Typical, DueOn) switch
        {
            ({ } byHours, { } byDate) => byHours < byDate ? byHours : byDate,
            var (byHours, byDate) => byHours ?? byDate,
        };

    /// <summary>Whether the calendar, not the meter, decides when it comes.</summary>
    public bool CalendarDecides => DueOn is { } on && !NoRecord && (DueHours is null || Projected is null || on < Projected.Typical);
}

/// <summary>The machine's "now" against which due points are held.</summary>
/// <param name="Use">Use per day and last reading.</param>
/// <param name="Now">The instant.</param>
/// <param name="Zone">The site's zone; UTC when null.</param>
public sealed record MachineNow(UsePerDay Use, DateTimeOffset Now, TimeZoneInfo? Zone = null)
{
    /// <summary>Life hours now, an unrounded estimate.</summary>
    public double Hours { get; } = Use.HoursNow(Now);

    /// <summary>The date where the machine stands.</summary>
    public DateOnly Today { get; } = LocalDay.Of(Now, Zone);

    /// <summary>Holds one due point against now.</summary>
    /// <param name="point">The due point.</param>
    /// <param name="comingDays">Days ahead that count as coming.</param>
    public ItemStatus Stand(DuePoint point, int comingDays = 30)
    {
        if (point.Basis == DueBasis.Finished)
            return new(point, DueStatus.Finished, null, null, null, null, null, null);
        if (point.Basis == DueBasis.NoRecord)
            return new(point, DueStatus.Due, Hours, Today, null, null, 0, 0);

        var projected = point.DueHours is { } target ? Use.Project(target, Now, Zone) : null;
        var hoursLeft = point.DueHours - Hours;
        var daysLeft = point.DueOn?.DayNumber - Today.DayNumber;
        var status = Judge(point, projected, daysLeft, comingDays);
        if (point.Km is not { } km)
            return new(point, status, point.DueHours, point.DueOn, UsedShare(point), projected, hoursLeft, daysLeft);

        var (kmLeft, kmOn) = (km.Left(Now), km.On(Now, Today));
        var byKm = Judge(km, kmLeft, kmOn, point.Strict, comingDays);
        var first = kmOn < point.DueOn || point.DueOn is null ? kmOn : point.DueOn;
        var used = (km.KmAt(Now) - km.Base) / (km.Due - km.Base);
        return new(
            point,
            byKm > status ? byKm : status,
            point.DueHours,
            first,
            UsedShare(point) is { } share ? Math.Max(share, used) : used,
            projected,
            hoursLeft,
            first?.DayNumber - Today.DayNumber,
            kmLeft,
            kmOn
        );
    }

    /// <summary>Holds many due points against now.</summary>
    public ImmutableArray<ItemStatus> Stand(IEnumerable<DuePoint> points, int comingDays = 30) =>
        [.. points.Select(point => Stand(point, comingDays))];

    private DueStatus Judge(KmTrack km, double left, DateOnly? on, bool strict, int comingDays) =>
        left < (strict ? 0 : -km.Window) ? DueStatus.Overdue
        : left <= km.Window ? DueStatus.Due
        : on?.DayNumber <= Today.DayNumber + comingDays ? DueStatus.Coming
        : DueStatus.NotDue;

    private DueStatus Judge(DuePoint point, ProjectedDates? projected, int? daysLeft, int comingDays)
    {
        var late = point.Strict ? 0 : 1;
        if (Hours > point.DueHours + late * point.WindowHours || daysLeft < -late * point.WindowDays)
            return DueStatus.Overdue;
        if (Hours >= point.DueHours - point.WindowHours || daysLeft <= point.WindowDays)
            return DueStatus.Due;
        var byHours = projected is not null && projected.Typical.DayNumber <= Today.DayNumber + comingDays;
        return byHours || daysLeft <= comingDays ? DueStatus.Coming : DueStatus.NotDue;
    }

    private double? UsedShare(DuePoint point)
    {
        double? byHours = point.DueHours is { } due && due > point.BaseHours ? (Hours - point.BaseHours) / (due - point.BaseHours) : null;
        double? byDays =
            point.DueOn is { } on && on > point.BaseOn
                ? (Today.DayNumber - point.BaseOn.DayNumber) / (double)(on.DayNumber - point.BaseOn.DayNumber)
                : null;
        return byHours is { } h && byDays is { } d ? Math.Max(h, d) : byHours ?? byDays;
    }
}

/// <summary>Keeps the last completion of each item: the one with the highest hours, then the latest date.</summary>
public static class LastDone
{
    /// <summary>The last completion per item code.</summary>
    public static Dictionary<string, Completion> Of(IEnumerable<Completion> completions)
    {
        var last = new Dictionary<string, Completion>(StringComparer.Ordinal);
        foreach (var completion in completions)
        {
            if (completion.CountsBefore(last.GetValueOrDefault(completion.ItemCode)))
                last[completion.ItemCode] = completion;
        }

        return last;
    }
}
