using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace Nippers.Core.Oil;

/// <summary>A sample with all that judging it needs.</summary>
/// <remarks>Rules 10.</remarks>
public sealed record OilSample
{
    /// <summary>Where it was drawn.</summary>
    public required OilKind Kind { get; init; }

    /// <summary>Grade of the oil; null when not known.</summary>
    public ViscosityGrade? Grade { get; init; }

    /// <summary>Litres in the sump; null when not known.</summary>
    public double? SumpLitres { get; init; }

    /// <summary>Hours between samples as they are planned.</summary>
    public required double IntervalHours { get; init; }

    /// <summary>Life hours of the machine.</summary>
    public required double MachineHours { get; init; }

    /// <summary>Hours on the oil; null when the last change is not on record.</summary>
    public double? OilHours { get; init; }

    /// <summary>Litres added since that change.</summary>
    public double AddedLitres { get; init; }

    /// <summary>What the laboratory measured.</summary>
    public required Measures Results { get; init; }

    /// <summary>Those of the results that stand for "below what the method sees"; the figure is that border.</summary>
    public ImmutableHashSet<Measurand> Below { get; init; } = [];

    /// <summary>Cleanliness; null when it was not counted.</summary>
    public Iso4406Code? Iso { get; init; }

    /// <summary>Figures of the oil when new.</summary>
    public NewOil New { get; init; } = NewOil.Unknown;
}

/// <summary>Figures of an oil when new, from a reference sample or its data sheet.</summary>
/// <param name="Viscosity">At the temperature of its grade, cSt.</param>
/// <param name="Tbn">mg KOH/g.</param>
/// <param name="Tan">mg KOH/g.</param>
/// <param name="Oxidation">A/cm.</param>
/// <param name="Additives">ppm.</param>
public sealed record NewOil(
    double? Viscosity = null,
    double? Tbn = null,
    double? Tan = null,
    double? Oxidation = null,
    Measures? Additives = null
)
{
    /// <summary>Nothing is known of it.</summary>
    public static NewOil Unknown { get; } = new();
}

/// <summary>An earlier sample of the same compartment, as values that compare.</summary>
/// <param name="MachineHours">Life hours.</param>
/// <param name="Values">Comparable values.</param>
public sealed record EarlierSample(double MachineHours, Measures Values);

/// <summary>What limits the worth of a sample.</summary>
[Flags]
public enum SampleDoubts
{
    /// <summary>Nothing.</summary>
    None = 0,

    /// <summary>The oil is too young for wear to show.</summary>
    TooEarly = 1,

    /// <summary>Hours on the oil are not known.</summary>
    NoOilHours = 2,

    /// <summary>Water makes the particle counts meaningless.</summary>
    WetCounts = 4,

    /// <summary>The grade has no viscosity band.</summary>
    NoBand = 8,

    /// <summary>Oil was added, but the sump's litres are not known: nothing was corrected.</summary>
    NoSump = 16,

    /// <summary>The laboratory's method does not see half of a watch limit.</summary>
    Coarse = 32,

    /// <summary>It was drawn in a way that falsifies it: cold, from the bottom, after a top-up.</summary>
    DrawnWrong = 64,

    /// <summary>The additives are those of another compartment's oil.</summary>
    OtherOil = 128,
}

/// <summary>What a sample says of the machine. Ordered from good to bad.</summary>
public enum Assessment
{
    /// <summary>Nothing to do.</summary>
    [JsonStringEnumMemberName("steady")]
    Normal,

    /// <summary>Look again sooner.</summary>
    Watch,

    /// <summary>Something has to be done.</summary>
    Act,

    /// <summary>The machine does not work until it is cleared.</summary>
    [JsonStringEnumMemberName("stop")]
    Critical,
}

/// <summary>What the run of values says beyond the limits.</summary>
public enum FindingKind
{
    /// <summary>The trend reaches the act limit before the next sample.</summary>
    Heading,

    /// <summary>The value leapt above what is usual here.</summary>
    Step,
}

/// <summary>A finding on the run of one measurand.</summary>
/// <param name="Kind">Which.</param>
/// <param name="Measurand">Of what.</param>
/// <param name="Value">Heading: the value expected at the next sample. Step: the value.</param>
/// <param name="Bar">What it was held against.</param>
/// <param name="Slope">Heading: rise an hour; else 0.</param>
public sealed record OilFinding(FindingKind Kind, Measurand Measurand, double Value, double Bar, double Slope)
{
    /// <summary>As files write it, for example <c>heading:Fe</c>.</summary>
    public override string ToString() => $"{(Kind == FindingKind.Heading ? "heading" : "step")}:{Measurand.Code()}";
}

/// <summary>How sure a pattern is.</summary>
public enum Sureness
{
    /// <summary>One of several explanations.</summary>
    Possible,

    /// <summary>The usual explanation.</summary>
    Likely,

    /// <summary>The figures say it by themselves.</summary>
    Sure,
}

/// <summary>A pattern that holds.</summary>
/// <param name="Code">Which.</param>
/// <param name="Evidence">The measurands that say so.</param>
/// <param name="Sure">How sure.</param>
public sealed record OilPattern(string Code, ImmutableArray<Measurand> Evidence, Sureness Sure);

/// <summary>What became of a sample when it was judged.</summary>
public sealed record OilJudgement
{
    /// <summary>Values that compare.</summary>
    public required Measures Values { get; init; }

    /// <summary>Grade by its limits alone; null when not judged.</summary>
    public required ImmutableArray<int?> LimitGrades { get; init; }

    /// <summary>Grade after trend and step.</summary>
    public required ImmutableArray<int?> Grades { get; init; }

    /// <summary>The limits that judged it.</summary>
    public required LimitSet Limits { get; init; }

    /// <summary>What wear metals were multiplied by for the oil that was added.</summary>
    public required double Dilution { get; init; }

    /// <summary>What wear metals were multiplied by for the oil's age.</summary>
    public required double Ageing { get; init; }

    /// <summary>Flags.</summary>
    public required SampleDoubts Doubts { get; init; }

    /// <summary>Trend and step.</summary>
    public required ImmutableArray<OilFinding> Findings { get; init; }

    /// <summary>What the figures look like together, the surest first.</summary>
    public required ImmutableArray<OilPattern> Patterns { get; init; }

    /// <summary>The verdict.</summary>
    public required Assessment Assessment { get; init; }

    /// <summary>Cleanliness.</summary>
    public Iso4406Code? Iso { get; init; }

    /// <summary>Borders of the base number; null when it was not measured.</summary>
    public TbnBars? Tbn { get; init; }

    /// <summary>Borders of the viscosity; null when there are none.</summary>
    public ViscosityBars? Viscosity { get; init; }

    /// <summary>
    /// How far a measurand reaches: 1 at its watch border, 2 at its act border, growing in between; null when not judged.
    /// </summary>
    public double? Reach(Measurand measurand) =>
        LimitGrades[(int)measurand] is not null && Values[measurand] is { } value ? Reach(measurand, value) : null;

    /// <summary>How far another value of it, an earlier one, would reach against the same borders; null when there are none.</summary>
    public double? Reach(Measurand measurand, double value) =>
        measurand switch
        {
            Measurand.Tbn => Tbn?.Reach(value),
            Measurand.Viscosity => Viscosity?.Reach(value),
            Measurand.Iso => Math.Max(0, value),
            Measurand.Glycol => value > 0 ? 2 : 0,
            _ => Limits[measurand] is not { } limit ? null
            : value < limit.Watch ? Math.Max(0, value / limit.Watch)
            : 1 + (value - limit.Watch) / Math.Max(limit.Act - limit.Watch, 1e-9),
        };
}

/// <summary>Base number at or below which it is watched or acted on.</summary>
/// <param name="New">Of new oil; null when not known.</param>
/// <param name="Watch">Watched below; null without a new figure.</param>
/// <param name="Act">Acted on below.</param>
/// <param name="Tan">Acid number that it must be above; null when not measured.</param>
public sealed record TbnBars(double? New, double? Watch, double Act, double? Tan)
{
    /// <summary>0, 1 or 2.</summary>
    public int Grade(double tbn) =>
        tbn < Act || tbn <= Tan ? 2
        : tbn < Watch ? 1
        : 0;

    internal double Reach(double tbn)
    {
        var act = Math.Max(Act, Tan ?? 0);
        var full = New ?? 4 * act;
        var watch = Math.Max(Watch ?? 1.5 * act, act);
        if (tbn >= watch)
            return Math.Clamp((full - tbn) / Math.Max(full - watch, 1e-9), 0, 1);
        return watch > act ? 1 + (watch - tbn) / (watch - act) : 2 + (act - tbn) / act;
    }
}

/// <summary>Viscosities outside which it is watched or acted on.</summary>
/// <param name="WatchLow">cSt.</param>
/// <param name="WatchHigh">cSt.</param>
/// <param name="ActLow">cSt.</param>
/// <param name="ActHigh">cSt.</param>
/// <param name="Grade">0, 1 or 2.</param>
/// <param name="Side">-1 below, 0 in, 1 above.</param>
public sealed record ViscosityBars(double WatchLow, double WatchHigh, double ActLow, double ActHigh, int Grade, int Side)
{
    internal double Reach(double viscosity)
    {
        var middle = (WatchLow + WatchHigh) / 2;
        var (watch, act) = viscosity < middle ? (WatchLow, ActLow) : (WatchHigh, ActHigh);
        var (far, toWatch, toAct) = (Math.Abs(viscosity - middle), Math.Abs(watch - middle), Math.Abs(act - middle));
        return far <= toWatch ? far / Math.Max(toWatch, 1e-9) : 1 + (far - toWatch) / Math.Max(toAct - toWatch, 1e-9);
    }
}
