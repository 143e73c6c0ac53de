using System.Collections.Immutable;
using System.Globalization;
using Nippers.Core.Fluids;

namespace Nippers.Core.Oil;

/// <summary>What a test says of the inhibitor.</summary>
public enum Inhibitor
{
    /// <summary>Below what the strip or the laboratory asks for.</summary>
    Low,

    /// <summary>Within.</summary>
    Good,

    /// <summary>Above: conditioner would only make it worse.</summary>
    High,
}

/// <summary>A test of a coolant, by strip or by a laboratory.</summary>
/// <param name="SharePercent">Concentrate, percent by volume.</param>
/// <param name="FreezeC">Freeze point as measured, degrees C.</param>
/// <param name="Ph">pH.</param>
/// <param name="Inhibitor">What the test says of the inhibitor.</param>
/// <param name="ChloridePpm">Chloride, ppm.</param>
/// <param name="SulphatePpm">Sulphate, ppm.</param>
public sealed record CoolantTest(
    double? SharePercent = null,
    double? FreezeC = null,
    double? Ph = null,
    Inhibitor? Inhibitor = null,
    double? ChloridePpm = null,
    double? SulphatePpm = null
);

/// <summary>What a coolant test measures.</summary>
public enum CoolantMeasure
{
    /// <summary>Share of concentrate, percent.</summary>
    Share,

    /// <summary>Freeze point against the expected low.</summary>
    Freeze,

    /// <summary>pH.</summary>
    Ph,

    /// <summary>Inhibitor.</summary>
    Inhibitor,

    /// <summary>Chloride, ppm.</summary>
    Chloride,

    /// <summary>Sulphate, ppm.</summary>
    Sulphate,
}

/// <summary>Borders of one measure of a coolant.</summary>
public sealed record CoolantLimit(double? ActLow, double? WatchLow, double? WatchHigh, double? ActHigh)
{
    /// <summary>0, 1 watch or 2 act.</summary>
    public int Grade(double value) =>
        value < ActLow || value > ActHigh ? 2
        : value < WatchLow || value > WatchHigh ? 1
        : 0;
}

/// <summary>What a coolant test comes to.</summary>
/// <param name="Grades">Grade of each measure there was.</param>
/// <param name="FreezeC">Freeze point that was used: as measured, or from the share.</param>
/// <param name="Conditioner">Conditioner is in place: the test found the inhibitor low, and nothing else speaks against it.</param>
/// <param name="ReplaceLitres">Litres to drain and refill to reach the share wanted; null when not needed or not to be told.</param>
/// <param name="Change">It is past mending: contaminated, or so far off that only new coolant helps.</param>
public sealed record CoolantResult(
    ImmutableDictionary<CoolantMeasure, int> Grades,
    double? FreezeC,
    bool Conditioner,
    double? ReplaceLitres,
    bool Change
)
{
    /// <summary>Worst grade.</summary>
    public int Worst => Grades.Values.DefaultIfEmpty(0).Max();
}

/// <summary>
/// Judges a coolant test. Starting limits from general trade knowledge, in Tables/coolant.csv; the product's own sheet goes
/// before them.
/// </summary>
/// <remarks>Rules 6 and 10.</remarks>
public static class CoolantJudge
{
    /// <summary>Degrees that the freeze point should lie below the expected low.</summary>
    public const double Margin = 5;

    private static readonly ImmutableDictionary<CoolantMeasure, CoolantLimit> Limits = CoreTables
        .Read("coolant")
        .ToImmutableDictionary(
            x => Enum.Parse<CoolantMeasure>(x[0], ignoreCase: true),
            x => new CoolantLimit(Number(x[1]), Number(x[2]), Number(x[3]), Number(x[4]))
        );

    /// <summary>Borders of a measure; null where it has none of its own.</summary>
    public static CoolantLimit? LimitOf(CoolantMeasure measure) => Limits.GetValueOrDefault(measure);

    /// <summary>Judges a test.</summary>
    /// <param name="test">The test.</param>
    /// <param name="lowC">Expected low at the site, degrees C; null when not known.</param>
    /// <param name="volumeLitres">Volume of the system; null when not known.</param>
    /// <param name="wantedPercent">Share wanted, percent.</param>
    /// <param name="refillPercent">Share of what is filled in, percent; 100 is concentrate.</param>
    public static CoolantResult Judge(CoolantTest test, double? lowC, double? volumeLitres, double wantedPercent, double refillPercent)
    {
        var grades = ImmutableDictionary.CreateBuilder<CoolantMeasure, int>();
        void Grade(CoolantMeasure measure, double? value)
        {
            if (value is { } known)
                grades[measure] = Limits[measure].Grade(known);
        }

        Grade(CoolantMeasure.Share, test.SharePercent);
        Grade(CoolantMeasure.Ph, test.Ph);
        Grade(CoolantMeasure.Chloride, test.ChloridePpm);
        Grade(CoolantMeasure.Sulphate, test.SulphatePpm);
        if (test.Inhibitor is { } inhibitor)
            grades[CoolantMeasure.Inhibitor] = inhibitor == Inhibitor.Good ? 0 : 1;
        var freeze = test.FreezeC ?? (test.SharePercent is { } share ? Coolant.FreezePoint(share) : null);
        if (freeze is { } at && lowC is { } low)
            grades[CoolantMeasure.Freeze] =
                at > low ? 2
                : at > low - Margin ? 1
                : 0;

        var change = new[] { CoolantMeasure.Ph, CoolantMeasure.Chloride, CoolantMeasure.Sulphate }.Any(x =>
            grades.GetValueOrDefault(x) == 2
        );
        var off = grades.GetValueOrDefault(CoolantMeasure.Share) > 0 || grades.GetValueOrDefault(CoolantMeasure.Freeze) > 0;
        double? litres =
            off && !change && test.SharePercent is { } now && volumeLitres is > 0 and var volume
                ? Coolant.Replace(volume, now / 100, wantedPercent / 100, refillPercent / 100)
                : null;
        return new(grades.ToImmutable(), freeze, test.Inhibitor == Inhibitor.Low && !change, litres, change);
    }

    private static double? Number(string text) => text.Length == 0 ? null : double.Parse(text, CultureInfo.InvariantCulture);
}
