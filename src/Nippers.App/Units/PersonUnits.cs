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

    /// <summary>Gallons of the United States, degrees Fahrenheit, inches.</summary>
    public static PersonUnits Us { get; } = new("us", VolumeUnit.UsGallon, TemperatureUnit.DegreeFahrenheit, LengthUnit.Inch);

    /// <summary>What can be chosen.</summary>
    public static IReadOnlyList<PersonUnits> All { get; } = [Metric, Us];

    /// <summary>Those of a word in settings; metric for any other word.</summary>
    public static PersonUnits Of(string? code) => All.FirstOrDefault(x => x.Code == code) ?? Metric;

    /// <summary>What follows is read in the units in which it was typed, until this is disposed of.</summary>
    /// <param name="code">Their word; metric for none.</param>
    public static Scope As(string? code)
    {
        var before = Chosen.Value;
        Chosen.Value = Of(code);
        return new(before);
    }

    /// <summary>Gives the units back that were there before.</summary>
    public readonly struct Scope(PersonUnits? before) : IDisposable
    {
        /// <inheritdoc/>
        public void Dispose() => Chosen.Value = before;
    }

    /// <summary>Those of whom the work at hand is done for, as the culture is; metric when nobody chose.</summary>
    public static PersonUnits Current
    {
        get => Chosen.Value ?? Metric;
        set => Chosen.Value = value;
    }
}
