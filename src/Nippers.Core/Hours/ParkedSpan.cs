namespace Nippers.Core.Hours;

/// <summary>A time in which the machine stands still by plan.</summary>
/// <param name="From">Start.</param>
/// <param name="To">End, or null while it is open: then the first later reading that shows more hours ends it.</param>
/// <remarks>Rules 2.</remarks>
public readonly record struct ParkedSpan(DateTimeOffset From, DateTimeOffset? To = null)
{
    private long FromMs => From.ToUnixTimeMilliseconds();
    private long? ToMs => To?.ToUnixTimeMilliseconds();

    /// <summary>Whether an instant lies in the span, its end left out.</summary>
    public bool Holds(DateTimeOffset at) => at >= From && (To is not { } to || at < to);

    /// <summary>Milliseconds of this span within a stretch of time.</summary>
    public long Overlap(long fromMs, long toMs) => Math.Max(0, Math.Min(ToMs ?? long.MaxValue, toMs) - Math.Max(FromMs, fromMs));

    /// <summary>
    /// Ends an open span at the first later reading that shows more hours than before the span; a span with an end stays as it
    /// is.
    /// </summary>
    /// <param name="readings">Accepted readings, oldest first.</param>
    /// <param name="before">Hours to take as "before" when no reading stands at or before the start.</param>
    public ParkedSpan Resolve(ReadOnlySpan<Reading> readings, MeterHours before)
    {
        if (To is not null)
            return this;

        var standing = before;
        foreach (var reading in readings)
        {
            if (reading.At <= From)
                standing = reading.Hours;
            else if (reading.Hours > standing)
                return this with { To = reading.At };
        }

        return this;
    }
}
