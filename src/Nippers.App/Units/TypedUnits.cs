using System.Collections.Frozen;
using System.Globalization;
using System.Text.RegularExpressions;
using UnitsNet.Units;

namespace Nippers.App.Units;

/// <summary>A figure as it was read: of the unit that was asked for.</summary>
/// <param name="Figure">The figure; null when none could be read.</param>
/// <param name="OtherUnit">It was typed in another unit than the one asked for.</param>
/// <param name="Typed">As it was typed, its unit behind it, so that whoever reads it in other units reads the same.</param>
internal sealed record ReadFigure(double? Figure, bool OtherUnit, string Typed = "");

/// <summary>
/// A unit typed behind a figure goes before the one that its field has: <c>1 qt</c>, <c>30 psi</c>, <c>1,5 L</c>, <c>7/8 in</c>. Gallons,
/// quarts and pints are those of the United States.
/// </summary>
internal static partial class TypedUnits
{
    private static readonly FrozenDictionary<string, Enum> Units = new Dictionary<string, Enum>
    {
        ["bar"] = PressureUnit.Bar,
        ["kpa"] = PressureUnit.Kilopascal,
        ["mpa"] = PressureUnit.Megapascal,
        ["psi"] = PressureUnit.PoundForcePerSquareInch,
        ["inh2o"] = PressureUnit.InchOfWaterColumn,
        ["mm"] = LengthUnit.Millimeter,
        ["cm"] = LengthUnit.Centimeter,
        ["m"] = LengthUnit.Meter,
        ["in"] = LengthUnit.Inch,
        ["\""] = LengthUnit.Inch,
        ["ft"] = LengthUnit.Foot,
        ["l"] = VolumeUnit.Liter,
        ["ml"] = VolumeUnit.Milliliter,
        ["gal"] = VolumeUnit.UsGallon,
        ["qt"] = VolumeUnit.UsQuart,
        ["pt"] = VolumeUnit.UsPint,
        ["nm"] = TorqueUnit.NewtonMeter,
        ["lbft"] = TorqueUnit.PoundForceFoot,
        ["lbfft"] = TorqueUnit.PoundForceFoot,
        ["ftlb"] = TorqueUnit.PoundForceFoot,
        ["ftlbf"] = TorqueUnit.PoundForceFoot,
        ["c"] = TemperatureUnit.DegreeCelsius,
        ["°c"] = TemperatureUnit.DegreeCelsius,
        ["f"] = TemperatureUnit.DegreeFahrenheit,
        ["°f"] = TemperatureUnit.DegreeFahrenheit,
    }.ToFrozenDictionary(StringComparer.OrdinalIgnoreCase);

    // As people write them, where that is not in small letters alone.
    private static readonly FrozenDictionary<Enum, string> Written = new Dictionary<Enum, string>
    {
        [PressureUnit.Kilopascal] = "kPa",
        [PressureUnit.InchOfWaterColumn] = "inH2O",
        [LengthUnit.Inch] = "in",
        [VolumeUnit.Liter] = "L",
        [TorqueUnit.NewtonMeter] = "Nm",
        [TorqueUnit.PoundForceFoot] = "lbf ft",
        [TemperatureUnit.DegreeCelsius] = "°C",
        [TemperatureUnit.DegreeFahrenheit] = "°F",
    }.ToFrozenDictionary();

    /// <summary>All units that can be typed, in small letters.</summary>
    public static IEnumerable<string> All => Units.Keys;

    /// <summary>The unit that a word stands for; null for none.</summary>
    public static Enum? Of(string word) =>
        Units.GetValueOrDefault(word.Replace("-", "", StringComparison.Ordinal).Replace(" ", "", StringComparison.Ordinal));

    /// <summary>Reads a figure that has to be there; what is none, or of a unit that does not fit, is refused beside its field.</summary>
    /// <param name="text">As typed: <c>3.5</c>, <c>51 psi</c>. Without a unit it is of the person's.</param>
    /// <param name="unit">The list's own unit as it is written; one that nothing else converts to is taken as it stands.</param>
    /// <param name="field">The field.</param>
    /// <param name="refusals">Takes what is wrong.</param>
    public static ReadFigure Read(string? text, string unit, string field, List<Refusal> refusals)
    {
        var (number, suffix) = Split(text);
        var typed = (text ?? "").Trim();
        if (suffix.Length == 0 && Measures.Instead(unit) is { } mine)
            return Typed.Number(Whole(number), field, refusals) is { } value
                ? new(Measures.Kept(value, unit), OtherUnit: true, $"{typed} {WordOf(mine)}")
                : new(null, OtherUnit: true);
        if (suffix.Length == 0 || suffix.Equals(unit, StringComparison.OrdinalIgnoreCase) || number.Length == 0)
            return new(
                Typed.Number(number.Length == 0 ? suffix : Whole(number), field, refusals),
                OtherUnit: false,
                suffix.Length == 0 ? $"{typed} {unit}".TrimEnd() : typed
            );
        return new(Of(unit) is { } own ? Converted(number, suffix, own, field, refusals) : Refuse(field, refusals), OtherUnit: true, typed);
    }

    /// <summary>Reads a figure that may be left out, within limits.</summary>
    /// <param name="text">As typed; without a unit it is of the person's.</param>
    /// <param name="unit">The list's own unit as it is written.</param>
    /// <param name="field">The field.</param>
    /// <param name="least">The least, in the list's unit.</param>
    /// <param name="most">The most, in the list's unit.</param>
    /// <param name="refusals">Takes what is wrong; limits are said in the person's unit.</param>
    public static double? Optional(string? text, string unit, string field, double least, double most, List<Refusal> refusals)
    {
        if (string.IsNullOrWhiteSpace(text) || Read(text, unit, field, refusals).Figure is not { } figure)
            return null;
        if (figure >= least && figure <= most)
            return figure;
        refusals.Add(Refusals.Between(field, Math.Round(Measures.Shown(least, unit), 1), Math.Round(Measures.Shown(most, unit), 1)));
        return null;
    }

    private static string WordOf(Enum unit) => Written.GetValueOrDefault(unit) ?? Units.First(x => x.Value.Equals(unit)).Key;

    /// <summary>A figure in a unit of its own; null where none was typed behind it, and it is the field's.</summary>
    /// <param name="text">As typed.</param>
    /// <param name="own">The unit that is wanted.</param>
    /// <param name="field">The field.</param>
    /// <param name="refusals">Takes what is wrong.</param>
    /// <returns>The figure in the wanted unit; null for none, or where it is refused.</returns>
    public static ReadFigure? Other(string? text, Enum own, string field, List<Refusal> refusals)
    {
        var (number, suffix) = Split(text);
        return suffix.Length == 0 || number.Length == 0 ? null : new(Converted(number, suffix, own, field, refusals), OtherUnit: true);
    }

    private static double? Converted(string number, string suffix, Enum own, string field, List<Refusal> refusals)
    {
        if (Of(suffix) is not { } other || other.GetType() != own.GetType())
            return Refuse(field, refusals);
        return Typed.Number(Whole(number), field, refusals) is { } value
            ? Math.Round(Measures.Converted(value, other, own), Measures.Decimals)
            : null;
    }

    private static double? Refuse(string field, List<Refusal> refusals)
    {
        refusals.Add(Refusals.NotANumber(field));
        return null;
    }

    private static (string Number, string Suffix) Split(string? text)
    {
        var found = Shape().Match((text ?? "").Trim());
        return found.Success ? (found.Groups[1].Value.Trim(), found.Groups[2].Value) : ((text ?? "").Trim(), "");
    }

    // Fractions are how inches are read off a rule.
    private static string Whole(string number)
    {
        var parts = Fraction().Match(number);
        if (!parts.Success || int.Parse(parts.Groups[3].ValueSpan, CultureInfo.InvariantCulture) is not (> 0 and var below))
            return number;
        var whole = parts.Groups[1].Length > 0 ? int.Parse(parts.Groups[1].ValueSpan, CultureInfo.InvariantCulture) : 0;
        var above = int.Parse(parts.Groups[2].ValueSpan, CultureInfo.InvariantCulture);
        return (whole + above / (double)below).ToString("0.######", CultureInfo.InvariantCulture);
    }

    [GeneratedRegex("^([-+0-9., /]*)([A-Za-z°\"][A-Za-z0-9°\" -]*)$")]
    private static partial Regex Shape();

    [GeneratedRegex("^(?:([0-9]{1,4}) +)?([0-9]{1,3})/([0-9]{1,3})$")]
    private static partial Regex Fraction();
}
