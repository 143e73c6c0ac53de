using System.Globalization;
using System.Text.RegularExpressions;

namespace Nippers.Core.Oil;

/// <summary>Viscosities between which an oil is in its grade.</summary>
/// <param name="Low">Lower edge, cSt; in the band.</param>
/// <param name="High">Upper edge, cSt.</param>
/// <param name="HighIn">Whether the upper edge is in the band.</param>
public sealed record ViscosityBand(double Low, double High, bool HighIn)
{
    /// <summary>-1 below, 0 in, 1 above.</summary>
    public int Side(double viscosity) =>
        viscosity < Low ? -1
        : viscosity > High || (viscosity == High && !HighIn) ? 1
        : 0;
}

/// <summary>A viscosity grade, with the temperature at which it is measured and its band.</summary>
/// <param name="Text">As it is written, for example <c>SAE 15W-40</c>, <c>ISO VG 46</c>, <c>GEAR 80W-90</c>.</param>
/// <param name="TemperatureC">40 or 100.</param>
/// <param name="Band">Null when the grade has none at that temperature.</param>
/// <remarks>Rules 10; SAE J300, SAE J306 and ISO 3448.</remarks>
public sealed partial record ViscosityGrade(string Text, int TemperatureC, ViscosityBand? Band)
{
    private static readonly Dictionary<int, (double Low, double High)> Engine = new()
    {
        [20] = (6.9, 9.3),
        [30] = (9.3, 12.5),
        [40] = (12.5, 16.3),
        [50] = (16.3, 21.9),
        [60] = (21.9, 26.1),
    };

    private static readonly Dictionary<int, (double Low, double High)> Gear = new()
    {
        [80] = (7.0, 11.0),
        [85] = (11.0, 13.5),
        [90] = (13.5, 18.5),
        [110] = (18.5, 24.0),
        [140] = (24.0, 32.5),
    };

    /// <summary>Which of the two measured viscosities belongs to it.</summary>
    public Measurand Measured => TemperatureC == 40 ? Measurand.V40 : Measurand.V100;

    /// <summary>Reads a grade. One that is not known has no band and is measured at 100 C.</summary>
    public static ViscosityGrade Of(string text)
    {
        var written = text.Trim();
        if (IsoVg().Match(written) is { Success: true } iso)
        {
            var middle = double.Parse(iso.Groups[1].Value, CultureInfo.InvariantCulture);
            return new(written, 40, middle > 0 ? new(0.9 * middle, 1.1 * middle, HighIn: true) : null);
        }

        var gear = written.StartsWith("GEAR", StringComparison.OrdinalIgnoreCase);
        var bands = gear ? Gear : Engine;
        var hot =
            Hot().Match(written) is { Success: true } found
            && int.TryParse(found.Groups[1].Value, CultureInfo.InvariantCulture, out var number)
                ? number
                : 0;
        return new(written, 100, bands.TryGetValue(hot, out var band) ? new(band.Low, band.High, HighIn: false) : null);
    }

    /// <summary>The grade that a fluid's common name most likely means in a kind of place; null when the name holds no number.</summary>
    /// <param name="fluid">For example <c>15W-40</c>, <c>HV 46</c>, <c>80W-90</c>.</param>
    /// <param name="kind">Where it works.</param>
    public static string? Guess(string fluid, OilKind kind)
    {
        if (AnyGrade().Match(fluid) is not { Success: true } found)
            return null;
        var number = found.Value.ToUpperInvariant();
        if (kind == OilKind.Gear)
            return "GEAR " + number;
        return kind == OilKind.Hydraulic && !number.Contains('W', StringComparison.Ordinal) ? "ISO VG " + number : "SAE " + number;
    }

    [GeneratedRegex(@"^ISO\s*VG\s*(\d{1,4})$", RegexOptions.IgnoreCase)]
    private static partial Regex IsoVg();

    /// <summary>The hot number: the last one, unless it is a winter number.</summary>
    [GeneratedRegex(@"(?:^|[\s-])(\d{2,3})$")]
    private static partial Regex Hot();

    [GeneratedRegex(@"\b(\d{1,2}W(-\d{2,3})?|\d{2,3})\b", RegexOptions.IgnoreCase)]
    private static partial Regex AnyGrade();
}
