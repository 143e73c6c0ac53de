using UnitsNet.Units;

namespace Nippers.App.Units;

/// <summary>
/// The units in which one person reads and types. Everything is kept in litres, degrees Celsius, millimetres and hours; another
/// choice is one more value here, the words of its units, and a setting that selects it.
/// </summary>
/// <param name="Code">Its word in settings.</param>
/// <param name="Volume">Unit of oils, fuel and coolant.</param>
/// <param name="Temperature">Unit of weather and of freezing.</param>
/// <param name="Length">Unit of a part's measures.</param>
public sealed record PersonUnits(string Code, VolumeUnit Volume, TemperatureUnit Temperature, LengthUnit Length)
{
    private static readonly AsyncLocal<PersonUnits?> Chosen = new();

    /// <summary>Litres, degrees Celsius, millimetres.</summary>
    public static PersonUnits Metric { get; } = new("metric", VolumeUnit.Liter, TemperatureUnit.DegreeCelsius, LengthUnit.Millimeter);

    /// <summary>Those of whom the work at hand is done for, as the culture is; metric when nobody chose.</summary>
    public static PersonUnits Current
    {
        get => Chosen.Value ?? Metric;
        set => Chosen.Value = value;
    }
}
