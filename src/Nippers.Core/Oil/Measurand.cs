using System.Collections.Immutable;

namespace Nippers.Core.Oil;

/// <summary>What a laboratory reports of an oil, and what is derived from it. Grouped as the rake shows it.</summary>
/// <remarks>Rules 10. Elements in ppm; water, fuel and soot in percent; oxidation and nitration in absorbance per cm.</remarks>
public enum Measurand
{
    /// <summary>Iron, ppm.</summary>
    Fe,

    /// <summary>Copper, ppm.</summary>
    Cu,

    /// <summary>Lead, ppm.</summary>
    Pb,

    /// <summary>Aluminium, ppm.</summary>
    Al,

    /// <summary>Chromium, ppm.</summary>
    Cr,

    /// <summary>Tin, ppm.</summary>
    Sn,

    /// <summary>Nickel, ppm.</summary>
    Ni,

    /// <summary>Index of magnetic iron, no unit: it sees the large pieces that a spectrometer does not.</summary>
    Pq,

    /// <summary>Silicon, ppm.</summary>
    Si,

    /// <summary>Sodium, ppm.</summary>
    Na,

    /// <summary>Potassium, ppm.</summary>
    K,

    /// <summary>Glycol: 0 not found, 1 found.</summary>
    Glycol,

    /// <summary>Water, percent.</summary>
    Water,

    /// <summary>Fuel, percent.</summary>
    Fuel,

    /// <summary>Soot, percent.</summary>
    Soot,

    /// <summary>Oxidation, A/cm.</summary>
    Oxidation,

    /// <summary>Nitration, A/cm.</summary>
    Nitration,

    /// <summary>Rise of the acid number over new oil, mg KOH/g. Derived.</summary>
    TanRise,

    /// <summary>Acid number as measured, mg KOH/g.</summary>
    Tan,

    /// <summary>Base number, mg KOH/g.</summary>
    Tbn,

    /// <summary>Viscosity at the temperature at which the grade is defined, cSt. Chosen from the two below.</summary>
    Viscosity,

    /// <summary>Viscosity at 40 C, cSt.</summary>
    V40,

    /// <summary>Viscosity at 100 C, cSt.</summary>
    V100,

    /// <summary>Cleanliness against the target: codes above it at the worst size. Derived.</summary>
    Iso,

    /// <summary>Calcium, ppm.</summary>
    Ca,

    /// <summary>Zinc, ppm.</summary>
    Zn,

    /// <summary>Phosphorus, ppm.</summary>
    P,

    /// <summary>Magnesium, ppm.</summary>
    Mg,

    /// <summary>Boron, ppm.</summary>
    B,

    /// <summary>Molybdenum, ppm.</summary>
    Mo,

    /// <summary>Barium, ppm.</summary>
    Ba,
}

/// <summary>Names and groups of measurands.</summary>
public static class Measurands
{
    private static readonly string[] CodeOf =
    [
        .. Enum.GetNames<Measurand>().Select(x => x is "Pq" || x.Length > 2 ? char.ToLowerInvariant(x[0]) + x[1..] : x),
    ];

    private static readonly Dictionary<string, Measurand> ByCode = Enum.GetValues<Measurand>()
        .ToDictionary(x => CodeOf[(int)x], StringComparer.Ordinal);

    /// <summary>How many there are.</summary>
    public static int Count { get; } = CodeOf.Length;

    /// <summary>Metals that wear leaves in the oil; they are diluted by top-ups and grow with the oil's hours.</summary>
    public static ImmutableArray<Measurand> Wear { get; } =
    [Measurand.Fe, Measurand.Cu, Measurand.Pb, Measurand.Al, Measurand.Cr, Measurand.Sn, Measurand.Ni];

    /// <summary>What trend and step look at.</summary>
    public static ImmutableArray<Measurand> Followed { get; } = [.. Wear, Measurand.Si, Measurand.Na, Measurand.K];

    /// <summary>What a limit of two numbers judges.</summary>
    public static ImmutableArray<Measurand> Limited { get; } =
    [
        .. Followed,
        Measurand.Water,
        Measurand.Fuel,
        Measurand.Soot,
        Measurand.Oxidation,
        Measurand.Nitration,
        Measurand.Pq,
        Measurand.TanRise,
    ];

    /// <summary>What additives leave: they tell one oil from another.</summary>
    public static ImmutableArray<Measurand> Additives { get; } =
    [Measurand.Ca, Measurand.Zn, Measurand.P, Measurand.Mg, Measurand.B, Measurand.Mo, Measurand.Ba];

    /// <summary>What a laboratory can report, in the order of a form.</summary>
    public static ImmutableArray<Measurand> Reported { get; } =
    [
        .. Wear,
        Measurand.Pq,
        Measurand.Si,
        Measurand.Na,
        Measurand.K,
        Measurand.Water,
        Measurand.Fuel,
        Measurand.Soot,
        Measurand.Oxidation,
        Measurand.Nitration,
        Measurand.Tan,
        Measurand.Tbn,
        Measurand.V40,
        Measurand.V100,
        .. Additives,
    ];

    /// <summary>Short name in files, for example <c>Fe</c>, <c>water</c>, <c>tanRise</c>.</summary>
    public static string Code(this Measurand measurand) => CodeOf[(int)measurand];

    /// <summary>Reads a short name; null when there is none such.</summary>
    public static Measurand? Parse(string? code) => code is not null && ByCode.TryGetValue(code, out var found) ? found : null;

    /// <summary>Whether it is one of the wear metals.</summary>
    public static bool IsWear(this Measurand measurand) => measurand <= Measurand.Ni;
}

/// <summary>A set of figures by measurand; what is not in it was not measured.</summary>
public sealed class Measures
{
    private readonly double[] _values;

    private Measures(double[] values) => _values = values;

    /// <summary>Nothing measured.</summary>
    public static Measures None { get; } = Of([]);

    /// <summary>The figure; null when it was not measured.</summary>
    public double? this[Measurand measurand] => double.IsNaN(_values[(int)measurand]) ? null : _values[(int)measurand];

    /// <summary>All figures there are.</summary>
    public IEnumerable<(Measurand Measurand, double Value)> All
    {
        get
        {
            for (var i = 0; i < _values.Length; i++)
            {
                if (!double.IsNaN(_values[i]))
                    yield return ((Measurand)i, _values[i]);
            }
        }
    }

    /// <summary>Makes a set.</summary>
    public static Measures Of(IEnumerable<KeyValuePair<Measurand, double>> values)
    {
        var all = new double[Measurands.Count];
        Array.Fill(all, double.NaN);
        foreach (var (measurand, value) in values)
            all[(int)measurand] = value;
        return new(all);
    }

    /// <summary>The same with one figure set, or taken out where it is null.</summary>
    public Measures With(Measurand measurand, double? value)
    {
        var all = (double[])_values.Clone();
        all[(int)measurand] = value ?? double.NaN;
        return new(all);
    }
}
