using System.Globalization;
using UnitsNet;
using UnitsNet.Units;

namespace Nippers.App.Units;

/// <summary>
/// Figures that checks and steps measure. Each is kept in the unit that its list or program writes, and is read and typed in the
/// person's where that is another of the same quantity; volts, minutes and the like are as they stand.
/// </summary>
public static class Measures
{
    /// <summary>Decimals of what was typed in another unit than it is kept in.</summary>
    internal const int Decimals = 3;

    /// <summary>The unit that a person reads instead of a list's; null where the list's is theirs, or no other converts to it.</summary>
    /// <param name="unit">As the list writes it: <c>bar</c>.</param>
    public static Enum? Instead(string unit) =>
        TypedUnits.Of(unit) is { } own && Wanted(own, PersonUnits.Current) is { } wanted && !wanted.Equals(own) ? wanted : null;

    private static Enum? Wanted(Enum own, PersonUnits mine) =>
        own switch
        {
            PressureUnit.Kilopascal or PressureUnit.InchOfWaterColumn => mine.Suction,
            PressureUnit => mine.Pressure,
            LengthUnit.Meter or LengthUnit.Foot => mine.Length == LengthUnit.Inch ? LengthUnit.Foot : LengthUnit.Meter,
            LengthUnit => mine.Length,
            VolumeUnit => mine.Volume,
            TemperatureUnit => mine.Temperature,
            TorqueUnit => mine.Torque,
            _ => null,
        };

    /// <summary>A kept figure in the person's unit.</summary>
    /// <param name="kept">In the list's unit.</param>
    /// <param name="unit">That unit, as the list writes it.</param>
    public static double Shown(double kept, string unit) => Instead(unit) is { } mine ? Converted(kept, TypedUnits.Of(unit)!, mine) : kept;

    /// <summary>What a person typed, in the list's unit.</summary>
    /// <param name="typed">In the person's unit.</param>
    /// <param name="unit">The list's, as it writes it.</param>
    public static double Kept(double typed, string unit) =>
        Instead(unit) is { } mine ? Math.Round(Converted(typed, mine, TypedUnits.Of(unit)!), Decimals) : typed;

    /// <summary>A kept figure as it stands in its field; null for none. It comes back as it was kept.</summary>
    public static string? Field(double? kept, string unit)
    {
        if (kept is not { } figure)
            return null;
        return Instead(unit) is null
            ? figure.ToString(CultureInfo.InvariantCulture)
            : Quantities.Shortest(Shown(figure, unit), x => Kept(x, unit)).ToString(CultureInfo.InvariantCulture);
    }

    // Written out: the phone's build leaves out what is found by name alone.
    internal static double Converted(double value, Enum from, Enum to) =>
        (from, to) switch
        {
            (PressureUnit a, PressureUnit b) => new Pressure(value, a).As(b),
            (LengthUnit a, LengthUnit b) => new Length(value, a).As(b),
            (VolumeUnit a, VolumeUnit b) => new Volume(value, a).As(b),
            (TorqueUnit a, TorqueUnit b) => new Torque(value, a).As(b),
            (TemperatureUnit a, TemperatureUnit b) => new Temperature(value, a).As(b),
            _ => throw new ArgumentException($"{from} is no {to}.", nameof(to)),
        };
}
