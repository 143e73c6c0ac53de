using UnitsNet.Units;

namespace Nippers.App.Units;

/// <summary>
/// The units in which one person reads and types. Everything is kept in litres, degrees Celsius, millimetres and hours, and what a
/// check measures in the unit of its list; another unit to choose from is one more line in <see cref="Choices"/> and its words.
/// </summary>
/// <param name="Base">The word of what was chosen for everything: <c>metric</c>, <c>us</c>.</param>
/// <param name="Volume">Unit of oils, fuel and coolant.</param>
/// <param name="Temperature">Unit of weather and of freezing.</param>
/// <param name="Length">Unit of a part's measures, of wear and of sag.</param>
/// <param name="Pressure">Unit of tyres, oil and hydraulics.</param>
/// <param name="Suction">Unit of what an air filter holds back: little, below the air round it.</param>
/// <param name="Torque">Unit of nuts and bolts.</param>
public sealed record PersonUnits(
    string Base,
    VolumeUnit Volume,
    TemperatureUnit Temperature,
    LengthUnit Length,
    PressureUnit Pressure,
    PressureUnit Suction,
    TorqueUnit Torque
)
{
    private static readonly AsyncLocal<PersonUnits?> Chosen = new();

    /// <summary>Litres, degrees Celsius, millimetres, bar, kilopascals, newton metres.</summary>
    public static PersonUnits Metric { get; } =
        new(
            "metric",
            VolumeUnit.Liter,
            TemperatureUnit.DegreeCelsius,
            LengthUnit.Millimeter,
            PressureUnit.Bar,
            PressureUnit.Kilopascal,
            TorqueUnit.NewtonMeter
        );

    /// <summary>Gallons of the United States, degrees Fahrenheit, inches, psi, inches of water, pound-force feet.</summary>
    public static PersonUnits Us { get; } =
        new(
            "us",
            VolumeUnit.UsGallon,
            TemperatureUnit.DegreeFahrenheit,
            LengthUnit.Inch,
            PressureUnit.PoundForcePerSquareInch,
            PressureUnit.InchOfWaterColumn,
            TorqueUnit.PoundForceFoot
        );

    /// <summary>What can be chosen for everything.</summary>
    public static IReadOnlyList<PersonUnits> All { get; } = [Metric, Us];

    /// <summary>What can be chosen for one quantity alone: a word of settings for each unit.</summary>
    public static IReadOnlyList<UnitChoice> Choices { get; } =
    [
        new("volume", x => x.Volume, ("l", VolumeUnit.Liter), ("gal", VolumeUnit.UsGallon)),
        new("temperature", x => x.Temperature, ("c", TemperatureUnit.DegreeCelsius), ("f", TemperatureUnit.DegreeFahrenheit)),
        new("length", x => x.Length, ("mm", LengthUnit.Millimeter), ("in", LengthUnit.Inch)),
        new("pressure", x => x.Pressure, ("bar", PressureUnit.Bar), ("psi", PressureUnit.PoundForcePerSquareInch)),
        new("suction", x => x.Suction, ("kpa", PressureUnit.Kilopascal), ("inh2o", PressureUnit.InchOfWaterColumn)),
        new("torque", x => x.Torque, ("nm", TorqueUnit.NewtonMeter), ("lbft", TorqueUnit.PoundForceFoot)),
    ];

    /// <summary>Its word in settings: the base, and each unit that is apart from it, with commas between: <c>us,bar</c>.</summary>
    public string Code => string.Join(',', Choices.Select(Apart).OfType<string>().Prepend(Base));

    /// <summary>The word of a quantity's unit where it is not the base's; null where it is.</summary>
    public string? Apart(UnitChoice choice) =>
        choice.Of(this).Equals(choice.Of(Basis(Base)!)) ? null : choice.Words.First(x => x.Unit.Equals(choice.Of(this))).Word;

    /// <summary>Those of a word in settings; metric for a word that is none, and a part that is none is passed over.</summary>
    public static PersonUnits Of(string? code) => Read(code, strict: false) ?? Metric;

    /// <summary>Those of a word in settings; null where any part of it is none.</summary>
    public static PersonUnits? Exactly(string? code) => Read(code, strict: true);

    private static PersonUnits? Basis(string word) => All.FirstOrDefault(x => x.Base == word);

    private static PersonUnits? Read(string? code, bool strict)
    {
        var words = (code ?? "").Split(',');
        var units = Basis(words[0]);
        foreach (var word in words.Skip(1).TakeWhile(_ => units is not null))
        {
            if (Choices.SelectMany(x => x.Words).Where(x => x.Word == word).Select(x => x.Unit).FirstOrDefault() is { } unit)
                units = units!.With(word, unit);
            else if (strict)
                return null;
        }

        return units;
    }

    private PersonUnits With(string word, Enum unit) =>
        unit switch
        {
            VolumeUnit volume => this with { Volume = volume },
            TemperatureUnit temperature => this with { Temperature = temperature },
            LengthUnit length => this with { Length = length },
            TorqueUnit torque => this with { Torque = torque },
            PressureUnit suction when word is "kpa" or "inh2o" => this with { Suction = suction },
            PressureUnit pressure => this with { Pressure = pressure },
            _ => this,
        };

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

/// <summary>A quantity whose unit can be chosen apart from the others.</summary>
/// <param name="Quantity">Its word: <c>pressure</c>.</param>
/// <param name="Of">Its unit among a person's.</param>
/// <param name="Words">The words of settings, each with its unit.</param>
public sealed record UnitChoice(string Quantity, Func<PersonUnits, Enum> Of, params (string Word, Enum Unit)[] Words);
