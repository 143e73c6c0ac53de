using System.Collections.Immutable;

namespace Nippers.Core.Hours;

/// <summary>What the use per day rests on.</summary>
public enum UseBasis
{
    /// <summary>No interval in the window: the planned use of the machine.</summary>
    Planned,

    /// <summary>Less than a week of readings: the rest of the week is filled with the planned use.</summary>
    Blend,

    /// <summary>Readings alone.</summary>
    Readings,
}

/// <summary>The numbers of rules 2; defaults are the rules' own.</summary>
/// <param name="WindowDays">How far back readings count, days.</param>
/// <param name="HalfLifeDays">After how many days an interval counts half.</param>
/// <param name="FillDays">How many days planned use fills when readings are few.</param>
/// <param name="BlockDays">Length of a block, days: work comes and goes by weeks, which single days do not show.</param>
/// <param name="Blocks">How many blocks are looked at, counted backwards.</param>
/// <param name="LeastBlockDays">A block counts when intervals cover this many of its days.</param>
/// <param name="RegimeShare">Change of the rate expected before any block was seen, as a share of the use per day.</param>
/// <param name="RegimeBlocks">With how many blocks that expectation weighs.</param>
/// <param name="StaleDays">A last reading older than this is stale.</param>
/// <param name="LeastHoursPerDay">Below this use nothing is projected, hours a day.</param>
/// <param name="EstimateAfterHours">Hours after which "hours now" is called an estimate.</param>
public sealed record UseSettings(
    double WindowDays = 180,
    double HalfLifeDays = 60,
    double FillDays = 7,
    double BlockDays = 28,
    int Blocks = 6,
    double LeastBlockDays = 19.6,
    double RegimeShare = 0.2,
    double RegimeBlocks = 2,
    double StaleDays = 14,
    double LeastHoursPerDay = 0.05,
    double EstimateAfterHours = 24
)
{
    /// <summary>The rules' own numbers.</summary>
    public static UseSettings Default { get; } = new();
}

/// <summary>One interval between neighbouring readings, as the use per day validated it.</summary>
/// <param name="From">First reading.</param>
/// <param name="To">Second reading.</param>
/// <param name="Hours">Hours run between them.</param>
/// <param name="Rate">Hours a day over the whole interval.</param>
/// <param name="OverlapDays">Days of it inside the window.</param>
/// <param name="Weight">0 to 1, halving with age.</param>
public readonly record struct UseInterval(
    DateTimeOffset From,
    DateTimeOffset To,
    double Hours,
    double Rate,
    double OverlapDays,
    double Weight
);

/// <summary>Everything the use per day is computed from.</summary>
/// <param name="Readings">Accepted readings in life hours, oldest first.</param>
/// <param name="Parked">Parked spans, in any order.</param>
/// <param name="PlannedHoursPerDay">Planned use, hours a calendar day, 0 to 24.</param>
/// <param name="CommissionedOn">Date of commissioning; its 00:00 UTC stands for the last reading when there is none.</param>
/// <param name="CommissionedHours">Life hours at commissioning.</param>
public sealed record MeterRecord(
    ImmutableArray<Reading> Readings,
    ImmutableArray<ParkedSpan> Parked,
    double PlannedHoursPerDay,
    DateOnly CommissionedOn,
    MeterHours CommissionedHours
);

/// <summary>Early, typical and late date at which some hours are reached.</summary>
/// <param name="Early">One in ten machines is there by this date (p10).</param>
/// <param name="Typical">The middle (p50).</param>
/// <param name="Late">Nine in ten are there by this date (p90); null when it can't be said.</param>
public sealed record ProjectedDates(DateOnly Early, DateOnly Typical, DateOnly? Late);

/// <summary>How many hours a calendar day a machine runs, how much that scatters, and when given hours are reached.</summary>
/// <remarks>Rules 2. Estimates are not rounded.</remarks>
public sealed record UsePerDay
{
    private const double Z = 1.2816;
    private const long SecondMs = 1000;
    private const double HundredYears = 36_500;

    /// <summary>Hours a calendar day, idle days included.</summary>
    public required double HoursPerDay { get; init; }

    /// <summary>Spread of one day, hours.</summary>
    public required double Sigma { get; init; }

    /// <summary>How well the rate of the coming weeks is known, hours a day: days that scatter, and weeks that come and go.</summary>
    public required double RateSigma { get; init; }

    /// <summary>What it rests on.</summary>
    public required UseBasis Basis { get; init; }

    /// <summary>Days of readings inside the window.</summary>
    public required double CoveredDays { get; init; }

    /// <summary>The last accepted reading, or commissioning in its place.</summary>
    public required Reading Last { get; init; }

    /// <summary>Whether a real reading stands behind <see cref="Last"/>.</summary>
    public required bool HasReading { get; init; }

    /// <summary>Whether the last reading is too old to trust.</summary>
    public required bool Stale { get; init; }

    /// <summary>Parked spans with their open ends resolved.</summary>
    public required ImmutableArray<ParkedSpan> Parked { get; init; }

    /// <summary>The instant this was computed for, ms since 1970 UTC.</summary>
    public required long AsOfMs { get; init; }

    /// <summary>The numbers it was computed with.</summary>
    public required UseSettings Settings { get; init; }

    /// <summary>Computes the use per day.</summary>
    /// <param name="record">Readings, parked spans, plan and commissioning.</param>
    /// <param name="asOf">The instant to judge for; later readings are left out.</param>
    /// <param name="settings">Window, half-life and so on; the rules' own when null.</param>
    public static UsePerDay Estimate(MeterRecord record, DateTimeOffset asOf, UseSettings? settings = null)
    {
        settings ??= UseSettings.Default;
        var asOfMs = asOf.ToUnixTimeMilliseconds();
        var readings = UpTo(record.Readings.AsSpan(), asOfMs);
        var parked = Resolve(record, readings);

        double wd = 0,
            wdr = 0,
            w = 0,
            w2d = 0,
            covered = 0;
        var visitor = new IntervalWalk(readings, parked, asOfMs, settings);
        while (visitor.Next(out var x))
        {
            wd += x.Weight * x.OverlapDays;
            wdr += x.Weight * x.OverlapDays * x.Rate;
            w += x.Weight;
            w2d += x.Weight * x.Weight * x.OverlapDays;
            covered += x.OverlapDays;
        }

        var plan = record.PlannedHoursPerDay;
        var k = Math.Max(0, settings.FillDays - covered);
        var u = (wdr + k * plan) / (wd + k);

        double squares = 0;
        var blocks = new BlockSums(asOfMs, settings);
        visitor = new IntervalWalk(readings, parked, asOfMs, settings);
        while (visitor.Next(out var x))
        {
            squares += x.Weight * x.OverlapDays * Square(x.Rate - u);
            blocks.Add(x);
        }

        var variance = (squares + k * Square(0.5 * plan)) / (w + k);
        variance = Math.Max(variance, Square(0.25 * u));
        var n = Square(wd + k) / (w2d + k);
        var regime = Regime(blocks.Means(), u, variance, settings);

        var last = readings.Length > 0 ? readings[^1] : Commissioning(record);
        return new UsePerDay
        {
            HoursPerDay = u,
            Sigma = Math.Sqrt(variance),
            RateSigma = Math.Sqrt(variance / n + regime),
            Basis =
                covered <= 0 ? UseBasis.Planned
                : k > 0 ? UseBasis.Blend
                : UseBasis.Readings,
            CoveredDays = covered,
            Last = last,
            HasReading = readings.Length > 0,
            Stale = Span.Days(asOfMs - last.AtMs) > settings.StaleDays,
            Parked = parked,
            AsOfMs = asOfMs,
            Settings = settings,
        };
    }

    /// <summary>The intervals behind <see cref="Estimate"/>, oldest first, for showing how it was reached.</summary>
    public static ImmutableArray<UseInterval> Evidence(MeterRecord record, DateTimeOffset asOf, UseSettings? settings = null)
    {
        var asOfMs = asOf.ToUnixTimeMilliseconds();
        var readings = UpTo(record.Readings.AsSpan(), asOfMs);
        var found = ImmutableArray.CreateBuilder<UseInterval>();
        var visitor = new IntervalWalk(readings, Resolve(record, readings), asOfMs, settings ?? UseSettings.Default);
        while (visitor.Next(out var x))
            found.Add(x);
        found.Reverse();
        return found.ToImmutable();
    }

    /// <summary>Hours a day in each block of weeks that counts, newest first, for showing how the spread was reached.</summary>
    public static ImmutableArray<double> BlockMeans(MeterRecord record, DateTimeOffset asOf, UseSettings? settings = null)
    {
        settings ??= UseSettings.Default;
        var blocks = new BlockSums(asOf.ToUnixTimeMilliseconds(), settings);
        foreach (var interval in Evidence(record, asOf, settings))
            blocks.Add(interval);
        return blocks.Means();
    }

    /// <summary>Whether the machine is parked at an instant.</summary>
    public bool ParkedAt(DateTimeOffset at)
    {
        foreach (var span in Parked)
        {
            if (span.Holds(at))
                return true;
        }

        return false;
    }

    /// <summary>Life hours now: the last accepted ones plus use since, parked days left out. An estimate, not rounded.</summary>
    public double HoursNow(DateTimeOffset now) =>
        Last.Hours.Value + HoursPerDay * Math.Max(0, Span.Days(now.ToUnixTimeMilliseconds() - Last.AtMs) - ParkedDays(now));

    /// <summary>Life hours to show: those that were read, and the estimate once they are too old to stand for now.</summary>
    public double HoursToShow(DateTimeOffset now) => HasReading && !IsEstimate(now) ? Last.Hours.Value : HoursNow(now);

    /// <summary>Whether <see cref="HoursNow"/> is far enough from a reading to be called an estimate.</summary>
    public bool IsEstimate(DateTimeOffset now) => now.ToUnixTimeMilliseconds() - Last.AtMs > Settings.EstimateAfterHours * Span.HourMs;

    /// <summary>When some life hours are reached.</summary>
    /// <param name="lifeHours">The hours, unrounded.</param>
    /// <param name="now">Now; parked days up to it push dates back.</param>
    /// <param name="zone">The site's zone, which cuts dates; UTC when null.</param>
    /// <returns>Null while parked, below the least use, or when the typical date lies beyond 100 years.</returns>
    public ProjectedDates? Project(double lifeHours, DateTimeOffset now, TimeZoneInfo? zone = null)
    {
        if (ParkedAt(now))
            return null;

        var rest = lifeHours - Last.Hours.Value;
        if (rest <= 0)
        {
            var reached = DateAt(0, zone);
            return new(reached, reached, reached);
        }

        if (HoursPerDay < Settings.LeastHoursPerDay)
            return null;
        var typical = rest / HoursPerDay;
        if (typical > HundredYears)
            return null;

        var z2 = Z * Z;
        var a = HoursPerDay * HoursPerDay - z2 * RateSigma * RateSigma;
        var b = 2 * HoursPerDay * rest + z2 * Sigma * Sigma;
        var root = Math.Sqrt(Math.Max(0, b * b - 4 * a * rest * rest));
        var early = 2 * rest * rest / (b + root);
        double? late = a <= 1e-9 ? null : (b + root) / (2 * a);
        if (late > HundredYears)
            late = null;

        var shift = ParkedDays(now);
        return new(DateAt(early + shift, zone), DateAt(typical + shift, zone), late is { } days ? DateAt(days + shift, zone) : null);
    }

    private double ParkedDays(DateTimeOffset now)
    {
        var nowMs = now.ToUnixTimeMilliseconds();
        long sum = 0;
        foreach (var span in Parked)
            sum += span.Overlap(Last.AtMs, nowMs);
        return Span.Days(sum);
    }

    private DateOnly DateAt(double daysAfterLast, TimeZoneInfo? zone) =>
        LocalDay.Of((long)Math.Round((Last.AtMs + daysAfterLast * Span.DayMs) / SecondMs) * SecondMs, zone);

    /// <summary>
    /// Variance of the rate between blocks of weeks, beyond what single days explain; held to an expectation while blocks are
    /// few.
    /// </summary>
    private static double Regime(ImmutableArray<double> means, double u, double variance, UseSettings settings)
    {
        double between = 0;
        if (means.Length >= 2)
        {
            var middle = means.Average();
            var scatter = means.Sum(x => Square(x - middle));
            between = Math.Max(0, scatter - (means.Length - 1) * variance / settings.BlockDays);
        }

        var expected = settings.RegimeBlocks * Square(settings.RegimeShare * u);
        return (between + expected) / (Math.Max(0, means.Length - 1) + settings.RegimeBlocks);
    }

    private static double Square(double x) => x * x;

    private static Reading Commissioning(MeterRecord record) =>
        new(new DateTimeOffset(record.CommissionedOn.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero), record.CommissionedHours);

    private static ReadOnlySpan<Reading> UpTo(ReadOnlySpan<Reading> readings, long ms)
    {
        var end = readings.Length;
        while (end > 0 && readings[end - 1].AtMs > ms)
            end--;
        return readings[..end];
    }

    private static ImmutableArray<ParkedSpan> Resolve(MeterRecord record, ReadOnlySpan<Reading> readings)
    {
        if (record.Parked.IsDefaultOrEmpty)
            return [];
        var resolved = ImmutableArray.CreateBuilder<ParkedSpan>(record.Parked.Length);
        foreach (var span in record.Parked)
            resolved.Add(span.Resolve(readings, record.CommissionedHours));
        return resolved.MoveToImmutable();
    }

    /// <summary>Hours and days of the intervals, cut to blocks counted backwards from an instant.</summary>
    private readonly ref struct BlockSums(long asOfMs, UseSettings settings)
    {
        private readonly double[] _days = new double[settings.Blocks];
        private readonly double[] _hours = new double[settings.Blocks];
        private readonly long _blockMs = (long)(settings.BlockDays * Span.DayMs);

        public void Add(in UseInterval interval)
        {
            for (var block = 0; block < _days.Length; block++)
            {
                var end = asOfMs - block * _blockMs;
                var cut =
                    Math.Min(interval.To.ToUnixTimeMilliseconds(), end) - Math.Max(interval.From.ToUnixTimeMilliseconds(), end - _blockMs);
                if (cut <= 0)
                    continue;
                _days[block] += Span.Days(cut);
                _hours[block] += Span.Days(cut) * interval.Rate;
            }
        }

        public ImmutableArray<double> Means()
        {
            var means = ImmutableArray.CreateBuilder<double>(_days.Length);
            for (var block = 0; block < _days.Length; block++)
            {
                // Sums of days in binary may miss the border by a hair.
                if (_days[block] >= settings.LeastBlockDays - 1e-9)
                    means.Add(_hours[block] / _days[block]);
            }

            return means.ToImmutable();
        }
    }

    /// <summary>Walks the intervals of the window from the newest back, without building a list.</summary>
    private ref struct IntervalWalk(ReadOnlySpan<Reading> readings, ImmutableArray<ParkedSpan> parked, long asOfMs, UseSettings settings)
    {
        private readonly ReadOnlySpan<Reading> _readings = readings;
        private readonly long _from = asOfMs - (long)(settings.WindowDays * Span.DayMs);
        private int _at = readings.Length - 1;

        public bool Next(out UseInterval interval)
        {
            for (; _at > 0; _at--)
            {
                var (first, second) = (_readings[_at - 1], _readings[_at]);
                if (second.AtMs <= _from)
                    break;
                if (second.AtMs <= first.AtMs || Touches(first.AtMs, second.AtMs))
                    continue;

                var start = Math.Max(first.AtMs, _from);
                var hours = (second.Hours.Tenths - first.Hours.Tenths) / 10.0;
                var age = Span.Days(asOfMs - start) / 2 + Span.Days(asOfMs - second.AtMs) / 2;
                interval = new(
                    first.At,
                    second.At,
                    hours,
                    hours / Span.Days(second.AtMs - first.AtMs),
                    Span.Days(second.AtMs - start),
                    Math.Pow(0.5, age / settings.HalfLifeDays)
                );
                _at--;
                return true;
            }

            interval = default;
            return false;
        }

        private readonly bool Touches(long from, long to)
        {
            foreach (var span in parked)
            {
                if (span.Overlap(from, to) > 0)
                    return true;
            }

            return false;
        }
    }
}

/// <summary>Cuts instants to dates where the machine stands.</summary>
public static class LocalDay
{
    /// <summary>The date of an instant in a zone; UTC when null.</summary>
    public static DateOnly Of(long ms, TimeZoneInfo? zone = null)
    {
        var at = DateTimeOffset.FromUnixTimeMilliseconds(ms);
        return DateOnly.FromDateTime(zone is null ? at.UtcDateTime : TimeZoneInfo.ConvertTime(at, zone).DateTime);
    }

    /// <summary>The date of an instant in a zone; UTC when null.</summary>
    public static DateOnly Of(DateTimeOffset at, TimeZoneInfo? zone = null) => Of(at.ToUnixTimeMilliseconds(), zone);

    /// <summary>The instant at which a date begins in a zone, be it that the clocks skip midnight there.</summary>
    public static DateTimeOffset StartOf(DateOnly date, TimeZoneInfo zone)
    {
        var midnight = date.ToDateTime(TimeOnly.MinValue);
        while (zone.IsInvalidTime(midnight))
            midnight = midnight.AddMinutes(30);
        return new DateTimeOffset(midnight, zone.GetUtcOffset(midnight)).ToUniversalTime();
    }
}
