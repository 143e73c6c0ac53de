namespace Nippers.Core.Hours;

/// <summary>What a meter can have shown on a past day.</summary>
/// <param name="Least">Life hours it had at least reached.</param>
/// <param name="Most">Life hours it cannot have passed; null when nothing bounds it.</param>
public readonly record struct HoursRange(MeterHours Least, MeterHours? Most)
{
    /// <summary>Whether hours lie in the range, its ends included.</summary>
    public bool Holds(MeterHours hours) => hours >= Least && (Most is not { } most || hours <= most);
}

/// <summary>Bounds the hours of work that is recorded for a day without a reading of its own.</summary>
/// <remarks>Follows the judge of readings (rules 1): never back, never faster than the clock and one hour of grace.</remarks>
public static class HoursOnDay
{
    private const double Grace = 1.0;

    /// <summary>The range for a stretch of time.</summary>
    /// <param name="record">Accepted readings, oldest first, and commissioning.</param>
    /// <param name="from">Start of the day.</param>
    /// <param name="to">End of the day, or now if that is sooner.</param>
    public static HoursRange Range(MeterRecord record, DateTimeOffset from, DateTimeOffset to)
    {
        Reading? before = null,
            latest = null,
            after = null;
        foreach (var reading in record.Readings)
        {
            if (reading.At <= from)
                before = reading;
            if (reading.At <= to)
                latest = reading;
            if (reading.At >= to)
            {
                after = reading;
                break;
            }
        }

        var least = before?.Hours ?? record.CommissionedHours;
        MeterHours? most = after?.Hours;
        if (latest is { } l)
        {
            var byClock = l.Hours.Value + (to - l.At).TotalHours + Grace;
            if (most is null || byClock < most.Value.Value)
                most = MeterHours.Of(Math.Min(byClock, MeterHours.Max.Value));
        }

        return new(least, most);
    }

    /// <summary>
    /// Hours worked in a stretch of time, the time between two readings spread evenly; 0 where no two readings reach over it.
    /// </summary>
    /// <param name="record">Accepted readings, oldest first.</param>
    /// <param name="from">Start of the stretch.</param>
    /// <param name="to">End of the stretch.</param>
    public static double Worked(MeterRecord record, DateTimeOffset from, DateTimeOffset to)
    {
        double worked = 0;
        for (var i = 1; i < record.Readings.Length; i++)
        {
            var (a, b) = (record.Readings[i - 1], record.Readings[i]);
            var shared = Math.Min(to.ToUnixTimeMilliseconds(), b.AtMs) - Math.Max(from.ToUnixTimeMilliseconds(), a.AtMs);
            if (shared > 0)
                worked += (b.Hours.Value - a.Hours.Value) * shared / (b.AtMs - a.AtMs);
        }

        return worked;
    }
}
