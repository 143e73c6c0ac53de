using System.Collections.Immutable;
using System.Globalization;

namespace Nippers.Core.Hours;

/// <summary>What the judge says of a new reading. The order is the order of the rules.</summary>
public enum ReadingCode
{
    /// <summary>Accepted.</summary>
    Ok,

    /// <summary>Refused: more than 5 minutes after now.</summary>
    Future,

    /// <summary>Refused: below the reading before it.</summary>
    Backward,

    /// <summary>Refused: more hours than have passed since the reading before it.</summary>
    TooFast,

    /// <summary>Refused: does not fit the reading after it.</summary>
    BeyondNext,

    /// <summary>Ignored: already there.</summary>
    Duplicate,

    /// <summary>Kept unconfirmed until a person confirms it.</summary>
    Check,
}

/// <summary>The judge's answer, with what it was reached from.</summary>
/// <param name="Code">The first rule that hit.</param>
/// <param name="Before">The last accepted reading at or before it, life hours.</param>
/// <param name="After">The first accepted reading after it.</param>
/// <param name="Expected">Life hours expected at that instant; null without an earlier reading.</param>
/// <param name="Tolerance">Hours above expected that pass unasked; null without an earlier reading.</param>
/// <param name="DidYouMean">Up to three corrections, as the meter would show them.</param>
public sealed record Judgement(
    ReadingCode Code,
    Reading? Before,
    Reading? After,
    double? Expected,
    double? Tolerance,
    ImmutableArray<MeterHours> DidYouMean
)
{
    /// <summary>Whether the reading must not be kept.</summary>
    public bool IsRefused => Code is ReadingCode.Future or ReadingCode.Backward or ReadingCode.TooFast or ReadingCode.BeyondNext;
}

/// <summary>What a meter can count, so that an odometer is judged as a service meter is.</summary>
/// <param name="MostPerHour">The most that it counts in an hour, in its own unit; 1 or more.</param>
/// <param name="LeastTolerance">What passes unasked above what is expected, at least, in its own unit.</param>
public sealed record MeterLimits(int MostPerHour, double LeastTolerance)
{
    /// <summary>A service meter: an hour an hour.</summary>
    public static MeterLimits Hours { get; } = new(1, 10);

    /// <summary>An odometer in kilometres: nobody drives more than 100 of them in an hour for long.</summary>
    public static MeterLimits Kilometres { get; } = new(100, 500);
}

/// <summary>Judges a new meter reading against the accepted ones.</summary>
/// <remarks>Rules 1.</remarks>
public static class ReadingJudge
{
    private const long FutureGraceMs = 5 * 60_000;

    // A tenth of an hour and a millisecond meet in whole numbers: 24 h a day is one tenth every 360 000 ms,
    // and the hour of grace is ten of those.
    private const long MsPerTenth = 360_000;
    private const long GraceMs = 10 * MsPerTenth;

    /// <summary>Judges one reading.</summary>
    /// <param name="record">Accepted readings (life hours, oldest first), parked spans and planned use.</param>
    /// <param name="at">When the meter was read.</param>
    /// <param name="shown">What the meter showed.</param>
    /// <param name="now">Now.</param>
    /// <param name="offset">Life hours less meter hours at that instant; may be negative, as a used meter may be
    /// fitted.</param>
    /// <param name="settings">Numbers of the use per day; the rules' own when null.</param>
    /// <param name="limits">What the meter can count; a service meter when null.</param>
    public static Judgement Judge(
        MeterRecord record,
        DateTimeOffset at,
        MeterHours shown,
        DateTimeOffset now,
        MeterHours offset = default,
        UseSettings? settings = null,
        MeterLimits? limits = null
    )
    {
        limits ??= MeterLimits.Hours;
        var atMs = at.ToUnixTimeMilliseconds();
        var (before, after) = Neighbours(record.Readings.AsSpan(), atMs);
        double? expected = null,
            tolerance = null;
        if (before is { } last)
        {
            // Use as of t, from readings up to the one before it.
            var use = UsePerDay.Estimate(record, at, settings);
            var days = Span.Days(atMs - last.AtMs);
            expected = last.Hours.Value + use.HoursPerDay * days;
            tolerance = Math.Max(3 * use.Sigma * Math.Sqrt(days), limits.LeastTolerance);
        }

        var scale = new Scale(atMs, now.ToUnixTimeMilliseconds(), before, after, expected, tolerance, limits.MostPerHour);
        var code = scale.Validate(shown.Tenths + offset.Tenths);
        var offers = code is ReadingCode.Backward or ReadingCode.TooFast or ReadingCode.BeyondNext or ReadingCode.Check
            ? Corrections(shown, offset, scale)
            : [];
        return new(code, before, after, expected, tolerance, offers);
    }

    private static (Reading? Before, Reading? After) Neighbours(ReadOnlySpan<Reading> readings, long atMs)
    {
        var low = 0;
        var high = readings.Length;
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (readings[middle].AtMs <= atMs)
                low = middle + 1;
            else
                high = middle;
        }

        return (low > 0 ? readings[low - 1] : null, low < readings.Length ? readings[low] : null);
    }

    private static ImmutableArray<MeterHours> Corrections(MeterHours shown, MeterHours offset, Scale scale) =>
        [
            .. Slips
                .Of(shown)
                .Where(slip => scale.Validate(slip.Value + offset.Tenths) == ReadingCode.Ok)
                .OrderBy(slip => slip.Kind)
                .ThenBy(slip => scale.Expected is { } expected ? Math.Abs((slip.Value + offset.Tenths) / 10.0 - expected) : 0)
                .ThenBy(slip => slip.Value)
                .DistinctBy(slip => slip.Value)
                .Take(3)
                .Select(slip => new MeterHours(slip.Value)),
        ];

    /// <summary>The rules for one instant, ready to weigh many values.</summary>
    private readonly record struct Scale(
        long AtMs,
        long NowMs,
        Reading? Before,
        Reading? After,
        double? Expected,
        double? Tolerance,
        int MostPerHour
    )
    {
        public ReadingCode Validate(int tenths)
        {
            if (AtMs > NowMs + FutureGraceMs)
                return ReadingCode.Future;
            if (Before is { } before)
            {
                if (tenths < before.Hours.Tenths)
                    return ReadingCode.Backward;
                if (Exceeds(tenths - before.Hours.Tenths, AtMs - before.AtMs))
                    return ReadingCode.TooFast;
            }

            if (After is { } after && (tenths > after.Hours.Tenths || Exceeds(after.Hours.Tenths - tenths, after.AtMs - AtMs)))
                return ReadingCode.BeyondNext;
            if (Before is { } same && same.AtMs == AtMs && same.Hours.Tenths == tenths)
                return ReadingCode.Duplicate;
            return tenths / 10.0 > Expected + Tolerance ? ReadingCode.Check : ReadingCode.Ok;
        }

        private bool Exceeds(long tenths, long ms) => tenths * MsPerTenth > (ms + GraceMs) * MostPerHour;
    }
}

/// <summary>The slips a hand makes when it writes a number of hours.</summary>
internal static class Slips
{
    /// <summary>Kinds, in the order in which they are offered.</summary>
    internal enum Kind
    {
        Swap,
        DecimalSlip,
        Inserted,
        Removed,
        Changed,
    }

    /// <summary>Every value one slip away, in tenths, repeats included. None begins with 0.</summary>
    internal static IEnumerable<(Kind Kind, int Value)> Of(MeterHours shown)
    {
        var digits = shown.Tenths.ToString(CultureInfo.InvariantCulture);
        return Texts(digits, shown.Tenths)
            .Where(text => text.Text.Length > 0 && text.Text[0] != '0' && text.Text != digits)
            .Select(text =>
                (text.Kind, Parsed: int.TryParse(text.Text, NumberStyles.None, CultureInfo.InvariantCulture, out var value) ? value : -1)
            )
            .Where(text => text.Parsed >= 0 && text.Parsed <= MeterHours.Max.Tenths)
            .Select(text => (text.Kind, text.Parsed));
    }

    private static IEnumerable<(Kind Kind, string Text)> Texts(string digits, int tenths)
    {
        for (var i = 0; i + 1 < digits.Length; i++)
        {
            yield return (Kind.Swap, $"{digits[..i]}{digits[i + 1]}{digits[i]}{digits[(i + 2)..]}");
        }

        yield return (Kind.DecimalSlip, digits + "0");
        if (tenths % 10 == 0)
            yield return (Kind.DecimalSlip, digits[..^1]);

        for (var i = 0; i <= digits.Length; i++)
        {
            for (var digit = '0'; digit <= '9'; digit++)
                yield return (Kind.Inserted, digits.Insert(i, digit.ToString()));
        }

        for (var i = 0; i < digits.Length; i++)
            yield return (Kind.Removed, digits.Remove(i, 1));

        for (var i = 0; i < digits.Length; i++)
        {
            for (var digit = '0'; digit <= '9'; digit++)
            {
                if (digit != digits[i])
                    yield return (Kind.Changed, $"{digits[..i]}{digit}{digits[(i + 1)..]}");
            }
        }
    }
}
