using System.Globalization;
using Nippers.Core.Numbers;
using UnitsNet;
using UnitsNet.Units;

namespace Nippers.App.Units;

/// <summary>
/// The one place where what is kept becomes what a person reads, and what they type becomes what is kept. Texts that name
/// their own unit in each line (fluids with their weather, vessels, prices per litre) are formats and stay as they are.
/// </summary>
public static class Quantities
{
    /// <summary>Decimals of a volume on a screen.</summary>
    public const int VolumeDecimals = 2;

    /// <summary>Decimals of a temperature on a screen.</summary>
    public const int TemperatureDecimals = 1;

    /// <summary>Decimals of a length on a screen.</summary>
    public const int LengthDecimals = 2;

    // Decimals of what was typed in another unit than it is kept in.
    private const int LitreDecimals = 3;
    private const int CelsiusDecimals = 2;
    private const int MillimetreDecimals = 2;

    /// <summary>Decimals of a figure that stands in a field to be changed: it comes back as it was kept.</summary>
    private const int FieldDecimals = 3;

    /// <summary>The most of them in another unit than it is kept in.</summary>
    public const int MostFieldDecimals = 6;

    /// <summary>A kept volume in the person's unit.</summary>
    public static double Shown(Litres kept) => Volume.FromLiters(kept.Value).As(PersonUnits.Current.Volume);

    /// <summary>A kept volume in quarts of the United States: what is less than a gallon is poured by them.</summary>
    public static double Quarts(Litres kept) => Volume.FromLiters(kept.Value).UsQuarts;

    /// <summary>Litres in gallons of the United States, for a file whose column says so; three decimals.</summary>
    public static double Gallons(double litres) => Math.Round(Volume.FromLiters(litres).UsGallons, LitreDecimals);

    /// <summary>What a person typed, in litres.</summary>
    /// <remarks>
    /// A field that is sent back unchanged keeps its figure: what another unit cannot say more exactly is rounded to what was kept.
    /// </remarks>
    public static Litres Kept(double typed) =>
        new(Rounded(PersonUnits.Current.Volume == VolumeUnit.Liter, new Volume(typed, PersonUnits.Current.Volume).Liters, LitreDecimals));

    /// <summary>A kept temperature in the person's unit.</summary>
    /// <param name="celsius">Degrees Celsius.</param>
    public static double ShownTemperature(double celsius) => Temperature.FromDegreesCelsius(celsius).As(PersonUnits.Current.Temperature);

    /// <summary>What a person typed, in degrees Celsius.</summary>
    public static double KeptTemperature(double typed) =>
        Rounded(
            PersonUnits.Current.Temperature == TemperatureUnit.DegreeCelsius,
            new Temperature(typed, PersonUnits.Current.Temperature).DegreesCelsius,
            CelsiusDecimals
        );

    /// <summary>A kept length in the person's unit.</summary>
    /// <param name="millimetres">Millimetres.</param>
    public static double ShownLength(double millimetres) => Length.FromMillimeters(millimetres).As(PersonUnits.Current.Length);

    /// <summary>What a person typed, in millimetres.</summary>
    public static double KeptLength(double typed) =>
        Rounded(
            PersonUnits.Current.Length == LengthUnit.Millimeter,
            new Length(typed, PersonUnits.Current.Length).Millimeters,
            MillimetreDecimals
        );

    private static double Rounded(bool asTyped, double kept, int decimals) => asTyped ? kept : Math.Round(kept, decimals);

    /// <summary>A kept volume as it stands in its field; null for none.</summary>
    public static string? Typed(Litres? kept) =>
        Field(kept is { } litres ? Shown(litres) : null, PersonUnits.Current.Volume == VolumeUnit.Liter, x => Kept(x).Value);

    /// <summary>A kept temperature as it stands in its field; null for none.</summary>
    /// <param name="celsius">Degrees Celsius.</param>
    public static string? TypedTemperature(double? celsius) =>
        Field(
            celsius is { } kept ? ShownTemperature(kept) : null,
            PersonUnits.Current.Temperature == TemperatureUnit.DegreeCelsius,
            KeptTemperature
        );

    /// <summary>A kept length as it stands in its field; null for none.</summary>
    /// <param name="millimetres">Millimetres.</param>
    public static string? TypedLength(double? millimetres) =>
        Field(millimetres is { } kept ? ShownLength(kept) : null, PersonUnits.Current.Length == LengthUnit.Millimeter, KeptLength);

    private static string? Field(double? shown, bool asKept, Func<double, double> back)
    {
        if (shown is not { } figure)
            return null;
        return (asKept ? Math.Round(figure, FieldDecimals) : Shortest(figure, back)).ToString(CultureInfo.InvariantCulture);
    }

    /// <summary>
    /// In another unit a figure as short as it can be said and still come back as it was kept: 6.5 gal stays 6.5 gal, and 24.5 L
    /// stay 24.5 L.
    /// </summary>
    internal static double Shortest(double figure, Func<double, double> back)
    {
        var decimals = 0;
        while (decimals < MostFieldDecimals && back(Math.Round(figure, decimals)) != back(figure))
            decimals++;

        // Nothing has no sign.
        return Math.Round(figure, decimals) + 0.0;
    }
}
