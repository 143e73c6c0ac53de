using System.Collections.Immutable;

namespace Nippers.Core.Oil;

/// <summary>Judges a sample: comparable values, limits, trend and step, patterns, verdict.</summary>
/// <remarks>Rules 10. It advises; a person judges.</remarks>
public static class OilJudge
{
    private const double LeastAge = 0.2;
    private const double LeastShare = 1e-6;
    private const double MostScaling = 2;
    private const double LeastTbn = 2.5;
    private const double ActTbnShare = 0.35;
    private const double WatchTbnShare = 0.5;
    private const double OffNewWatch = 0.10;
    private const double OffNewAct = 0.20;
    private const double AdditiveThere = 200;
    private const double AdditiveAbsent = 50;
    private const double AdditiveOff = 0.40;
    private const int FewestTelling = 2;

    /// <summary>Judges one sample.</summary>
    /// <param name="sample">The sample.</param>
    /// <param name="limits">The limits that count for its compartment.</param>
    /// <param name="earlier">Earlier samples, oldest first.</param>
    public static OilJudgement Judge(OilSample sample, LimitSet limits, IReadOnlyList<EarlierSample> earlier)
    {
        var flags = SampleDoubts.None;
        var (dilution, ageing) = Factors(sample, ref flags);
        var values = Comparable(sample, limits, dilution * ageing, ref flags);
        var grades = new int?[Measurands.Count];
        foreach (var measurand in Measurands.Limited)
        {
            if (values[measurand] is { } value && limits[measurand] is { } limit)
                grades[(int)measurand] = limit.Grade(value);
        }

        if (values[Measurand.Glycol] is { } glycol)
            grades[(int)Measurand.Glycol] = glycol > 0 ? 2 : 0;
        var tbn = Tbn(sample, grades);
        var viscosity = Viscosity(sample, grades, ref flags);
        if (viscosity is not null)
            values = values.With(Measurand.Viscosity, sample.Results[Measurand.Viscosity]);
        if (Cleanliness(sample, limits, grades, ref flags) is { } above)
            values = values.With(Measurand.Iso, above);

        var limitGrades = grades.ToImmutableArray();
        var findings = Trend.Findings(sample, values, limits, limitGrades, earlier, flags);
        foreach (var finding in findings)
            grades[(int)finding.Measurand] = Math.Max(grades[(int)finding.Measurand] ?? 0, 1);
        var patterns = OilPatterns.Of(
            new(sample.Kind, values, limitGrades, limits, viscosity?.Side ?? 0, WrongAdditives(sample.Results, sample.New)),
            findings
        );
        return new()
        {
            Values = values,
            LimitGrades = limitGrades,
            Grades = [.. grades],
            Limits = limits,
            Dilution = dilution,
            Ageing = ageing,
            Doubts = flags,
            Findings = findings,
            Patterns = patterns,
            Assessment = Assess(values, grades, limitGrades, limits, patterns),
            Iso = sample.Iso,
            Tbn = tbn,
            Viscosity = viscosity,
        };
    }

    /// <summary>
    /// Hours until the next sample: steady the interval, watch half of it, act 50 after the repair; null: before it works again.
    /// </summary>
    public static double? NextSampleHours(Assessment verdict, double intervalHours) =>
        verdict switch
        {
            Assessment.Normal => intervalHours,
            Assessment.Watch => intervalHours / 2,
            Assessment.Act => HoursAfterRepair,
            _ => null,
        };

    /// <summary>Hours after the repair at which an oil that was acted on is sampled again.</summary>
    public const double HoursAfterRepair = 50;

    /// <summary>Added oil thins the wear; young oil has little of it yet.</summary>
    private static (double Dilution, double Ageing) Factors(OilSample sample, ref SampleDoubts flags)
    {
        double dilution = 1,
            ageing = 1;
        if (sample.AddedLitres > 0)
        {
            if (sample.SumpLitres is > 0 and var sump)
            {
                var x = sample.AddedLitres / sump;

                // The difference of nearly equal numbers has no digits left for a drop in a sump; its limit has.
                dilution = x < LeastShare ? 1 + x / 2 : x / (1 - Math.Exp(-x));
            }
            else
            {
                flags |= SampleDoubts.NoSump;
            }
        }

        var reference = LimitSet.ReferenceHours(sample.Kind);
        if (sample.OilHours is not { } hours)
            flags |= SampleDoubts.NoOilHours;
        else if (hours < LeastAge * reference)
            flags |= SampleDoubts.TooEarly;
        else if (hours < reference && sample.Kind != OilKind.Hydraulic)
            ageing = Math.Min(MostScaling, reference / hours);
        return (dilution, ageing);
    }

    private static Measures Comparable(OilSample sample, LimitSet limits, double wearFactor, ref SampleDoubts flags)
    {
        var values = new Dictionary<Measurand, double>();
        foreach (var measurand in Measurands.Limited)
        {
            var value = measurand switch
            {
                Measurand.TanRise => sample.Results[Measurand.Tan] - sample.New.Tan,
                Measurand.Oxidation => sample.Results[Measurand.Oxidation] - (sample.New.Oxidation ?? 0),
                _ => sample.Results[measurand],
            };
            if (value is not { } known)
                continue;
            if (sample.Below.Contains(measurand))
            {
                // Not found, if the method would have seen half of what is watched; else it says nothing.
                if (limits[measurand] is { } limit && known > limit.Watch / 2)
                {
                    flags |= SampleDoubts.Coarse;
                    continue;
                }

                known = 0;
            }

            values[measurand] = measurand.IsWear() ? known * wearFactor : known;
        }

        foreach (var measured in new[] { Measurand.Glycol, Measurand.Tbn })
        {
            if (sample.Results[measured] is { } value)
                values[measured] = value;
        }

        return Measures.Of(values);
    }

    private static TbnBars? Tbn(OilSample sample, int?[] grades)
    {
        if (sample.Results[Measurand.Tbn] is not { } tbn)
            return null;
        var bars = new TbnBars(
            sample.New.Tbn,
            WatchTbnShare * sample.New.Tbn,
            Math.Max(LeastTbn, ActTbnShare * (sample.New.Tbn ?? 0)),
            sample.Results[Measurand.Tan]
        );
        grades[(int)Measurand.Tbn] = bars.Grade(tbn);
        return bars;
    }

    private static ViscosityBars? Viscosity(OilSample sample, int?[] grades, ref SampleDoubts flags)
    {
        if (sample.Results[Measurand.Viscosity] is not { } viscosity)
            return null;
        var band = sample.Grade?.Band;
        if (band is null)
            flags |= SampleDoubts.NoBand;
        var side = band?.Side(viscosity) ?? 0;
        if (sample.New.Viscosity is { } fresh)
        {
            var off = (viscosity - fresh) / fresh;
            var grade =
                Math.Abs(off) > OffNewAct ? 2
                : side != 0 || Math.Abs(off) > OffNewWatch ? 1
                : 0;
            grades[(int)Measurand.Viscosity] = grade;
            if (side == 0 && Math.Abs(off) > OffNewWatch)
                side = Math.Sign(off);
            return new(
                Math.Max(band?.Low ?? 0, fresh * (1 - OffNewWatch)),
                Math.Min(band?.High ?? double.MaxValue, fresh * (1 + OffNewWatch)),
                fresh * (1 - OffNewAct),
                fresh * (1 + OffNewAct),
                grade,
                side
            );
        }

        if (band is null)
            return null;
        var (low, high) = (band.Low * (1 - OffNewAct), band.High * (1 + OffNewAct));
        grades[(int)Measurand.Viscosity] =
            viscosity < low || viscosity > high ? 2
            : side != 0 ? 1
            : 0;
        return new(band.Low, band.High, low, high, grades[(int)Measurand.Viscosity]!.Value, side);
    }

    private static int? Cleanliness(OilSample sample, LimitSet limits, int?[] grades, ref SampleDoubts flags)
    {
        if (sample.Iso is not { } iso)
            return null;
        if (grades[(int)Measurand.Water] >= 1)
        {
            flags |= SampleDoubts.WetCounts;
            return null;
        }

        if (limits.Target is not { } target)
            return null;
        var above = iso.Above(target);
        grades[(int)Measurand.Iso] = Math.Clamp(above, 0, 2);
        return above;
    }

    /// <summary>Additives that are not those of the oil that should be in it.</summary>
    /// <param name="results">What was measured.</param>
    /// <param name="fresh">The oil that should be in it.</param>
    public static ImmutableArray<Measurand> WrongAdditives(Measures results, NewOil fresh)
    {
        if (fresh.Additives is not { } reference)
            return [];
        return
        [
            .. Measurands.Additives.Where(x =>
                reference[x] is { } expected
                && results[x] is { } found
                && (
                    expected >= AdditiveThere
                        ? Math.Abs(found - expected) > AdditiveOff * expected
                        : expected < AdditiveAbsent && found >= AdditiveThere
                )
            ),
        ];
    }

    /// <summary>Whether additives were measured that could tell, and all of them are those of an oil.</summary>
    public static bool IsLike(Measures results, NewOil fresh) =>
        fresh.Additives is { } reference
        && WrongAdditives(results, fresh).IsEmpty
        && Measurands.Additives.Count(x => reference[x] >= AdditiveThere && results[x] is not null) >= FewestTelling;

    private static Assessment Assess(
        Measures values,
        int?[] grades,
        ImmutableArray<int?> limitGrades,
        LimitSet limits,
        ImmutableArray<OilPattern> patterns
    )
    {
        int? Limit(Measurand x) => limitGrades[(int)x];
        bool Twice(Measurand x) => values[x] is { } value && limits[x] is { } limit && value >= 2 * limit.Act;
        var stop =
            values[Measurand.Glycol] > 0
            || (patterns.Any(x => x.Code == "coolant") && Limit(Measurand.Na) == 2 && Limit(Measurand.K) == 2)
            || Twice(Measurand.Fuel)
            || Twice(Measurand.Water)
            || (Twice(Measurand.Fe) && Limit(Measurand.Pq) == 2);
        if (stop)
            return Assessment.Critical;
        var worst = grades.Max() ?? 0;
        if (worst >= 2)
            return Assessment.Act;
        var least = patterns.Select(x => OilPatterns.Least(x.Code)).DefaultIfEmpty(Assessment.Normal).Max();
        return worst == 1 && least < Assessment.Watch ? Assessment.Watch : least;
    }
}
