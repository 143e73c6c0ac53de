namespace Nippers.Core.Defects;

/// <summary>A site's working time.</summary>
/// <param name="Days">Working days.</param>
/// <param name="From">Start of the shift.</param>
/// <param name="To">End of the shift, after its start.</param>
public sealed record WorkingTime(IReadOnlySet<DayOfWeek> Days, TimeOnly From, TimeOnly To)
{
    /// <summary>Monday to Saturday, seven to five.</summary>
    public static WorkingTime Usual { get; } =
        new(
            new HashSet<DayOfWeek>
            {
                DayOfWeek.Monday,
                DayOfWeek.Tuesday,
                DayOfWeek.Wednesday,
                DayOfWeek.Thursday,
                DayOfWeek.Friday,
                DayOfWeek.Saturday,
            },
            new(7, 0),
            new(17, 0)
        );

    /// <summary>Whether people work on a date.</summary>
    public bool Works(DateOnly date) => Days.Contains(date.DayOfWeek);
}

/// <summary>How much of a month's scheduled hours a machine could have worked.</summary>
/// <param name="Month">First day of the month.</param>
/// <param name="ScheduledHours">Planned hours on the month's working days that have begun.</param>
/// <param name="StoppedHours">Of these, hours in which it was out of service.</param>
/// <remarks>Rules 8: 1 - stopped scheduled hours / scheduled hours.</remarks>
public sealed record Availability(DateOnly Month, double ScheduledHours, double StoppedHours)
{
    /// <summary>0 to 1; null when nothing was scheduled.</summary>
    public double? Share => ScheduledHours > 0 ? 1 - StoppedHours / ScheduledHours : null;

    /// <summary>Availability of one month.</summary>
    /// <param name="month">Any day of the month.</param>
    /// <param name="stopped">Times out of service, local; an open one has no end.</param>
    /// <param name="hoursPerDay">Planned hours a calendar day.</param>
    /// <param name="work">Working time of the site.</param>
    /// <param name="from">First day that counts, for example when the machine came.</param>
    /// <param name="now">Now, local.</param>
    public static Availability Of(
        DateOnly month,
        IReadOnlyCollection<(DateTime From, DateTime? To)> stopped,
        double hoursPerDay,
        WorkingTime work,
        DateOnly from,
        DateTime now
    )
    {
        var first = new DateOnly(month.Year, month.Month, 1);

        // Planned use counts calendar days; on working days it is that much denser.
        var scheduledADay = hoursPerDay * 7 / Math.Max(1, work.Days.Count);
        double scheduled = 0,
            lost = 0;
        for (var day = first; day.Month == first.Month; day = day.AddDays(1))
        {
            if (day < from || !work.Works(day))
                continue;
            var (start, end) = (day.ToDateTime(work.From), day.ToDateTime(work.To));
            if (start >= now)
                break;
            if (end > now)
                end = now;
            var whole = (work.To - work.From).TotalHours;
            scheduled += scheduledADay * (end - start).TotalHours / whole;
            lost += scheduledADay * Covered(start, end, stopped).TotalHours / whole;
        }

        return new(first, scheduled, lost);
    }

    /// <summary>Time between two instants that the spans cover; spans that overlap count once.</summary>
    private static TimeSpan Covered(DateTime start, DateTime end, IReadOnlyCollection<(DateTime From, DateTime? To)> spans)
    {
        var covered = TimeSpan.Zero;
        var at = start;
        foreach (var (from, to) in spans.OrderBy(x => x.From))
        {
            var begins = from > at ? from : at;
            var ends = to is { } t && t < end ? t : end;
            if (ends <= begins)
                continue;
            covered += ends - begins;
            at = ends;
        }

        return covered;
    }
}
