using Nippers.Core.Hours;

namespace Nippers.Core.Service;

/// <summary>What a machine's odometer says: readings, and from them kilometres on any day.</summary>
/// <param name="Record">Readings in kilometres, tenths as a meter's; planned kilometres a day; commissioning.</param>
/// <remarks>Judged and projected as a service meter is, by <see cref="MeterLimits.Kilometres"/>. Rules 1 to 3.</remarks>
public sealed record Odometer(MeterRecord Record)
{
    /// <summary>Kilometres at the end of a day: what was read then, else on the line between the readings around it.</summary>
    /// <param name="endOfDay">The end of the day at the site; null for commissioning.</param>
    public double At(DateTimeOffset? endOfDay)
    {
        if (endOfDay is not { } end)
            return Record.CommissionedHours.Value;
        var atMs = end.ToUnixTimeMilliseconds();
        var start = new DateTimeOffset(Record.CommissionedOn.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero);
        var before = new Reading(start, Record.CommissionedHours);
        Reading? after = null;
        foreach (var reading in Record.Readings)
        {
            if (reading.AtMs <= atMs)
            {
                before = reading;
                continue;
            }

            after = reading;
            break;
        }

        if (after is not { } next || next.AtMs <= before.AtMs)
            return before.Hours.Value;
        var share = Math.Clamp((atMs - before.AtMs) / (double)(next.AtMs - before.AtMs), 0, 1);
        return before.Hours.Value + share * (next.Hours.Value - before.Hours.Value);
    }
}

/// <summary>The kilometres of a due point, beside its hours and its months.</summary>
/// <param name="Interval">Every so many kilometres, after duty.</param>
/// <param name="Base">Kilometres it is counted from.</param>
/// <param name="Due">Kilometres at which it is due.</param>
/// <param name="Window">Window before and after <paramref name="Due"/>, kilometres.</param>
/// <param name="Now">Kilometres at <paramref name="At"/>, estimated from the last reading.</param>
/// <param name="At">When that was.</param>
/// <param name="PerDay">Kilometres a calendar day from then on; 0 for a parked machine.</param>
public sealed record KmTrack(double Interval, double Base, double Due, double Window, double Now, DateTimeOffset At, double PerDay)
{
    /// <summary>The window is at least this, kilometres.</summary>
    public const double LeastWindow = 100;

    private const double HundredYears = 36_500;

    /// <summary>Kilometres at an instant.</summary>
    public double KmAt(DateTimeOffset now) => Now + PerDay * Math.Max(0, Span.Days((now - At).Ticks / TimeSpan.TicksPerMillisecond));

    /// <summary>Kilometres left; negative when past.</summary>
    public double Left(DateTimeOffset now) => Due - KmAt(now);

    /// <summary>The date on which <see cref="Due"/> is reached as it goes now; null when it never is.</summary>
    /// <param name="now">Now.</param>
    /// <param name="today">The date at the site.</param>
    public DateOnly? On(DateTimeOffset now, DateOnly today)
    {
        var left = Left(now);
        if (left <= 0)
            return today;
        var days = PerDay > 0 ? left / PerDay : double.PositiveInfinity;
        return days < HundredYears ? today.AddDays((int)Math.Ceiling(days)) : null;
    }

    /// <summary>Days that the window is wide as it goes now.</summary>
    public int WindowDays => PerDay > 0 ? (int)Math.Min(HundredYears, Window / PerDay) : 0;

    /// <summary>The track of an item of which a machine has an odometer.</summary>
    /// <param name="intervalMilli">Thousandths of a kilometre, after duty; above 0.</param>
    /// <param name="baseKm">Kilometres it is counted from.</param>
    /// <param name="basis">How the next follows from the last.</param>
    /// <param name="settings">Credit and window.</param>
    /// <param name="odometer">The odometer.</param>
    /// <param name="now">Now.</param>
    public static KmTrack Of(
        long intervalMilli,
        double baseKm,
        IntervalBasis basis,
        DueSettings settings,
        Odometer odometer,
        DateTimeOffset now
    )
    {
        var use = UsePerDay.Estimate(odometer.Record, now);
        var interval = intervalMilli / 1000.0;
        var due =
            basis == IntervalBasis.Fixed
                ? (Math.Floor(baseKm / interval + settings.CreditPercent / 100.0 + 1e-9) + 1) * interval
                : baseKm + interval;
        return new(
            interval,
            baseKm,
            due,
            Math.Max(LeastWindow, interval * settings.WindowPercent / 100),
            use.HoursNow(now),
            now,
            use.ParkedAt(now) ? 0 : use.HoursPerDay
        );
    }
}
