using System.Collections.Immutable;
using System.Globalization;

namespace Nippers.Core.Oil;

/// <summary>Cleanliness of an oil as three ISO 4406 scale numbers, for particles of 4, 6 and 14 µm and larger.</summary>
/// <param name="At4">Scale number at 4 µm, 0 to 29.</param>
/// <param name="At6">Scale number at 6 µm, 0 to 29.</param>
/// <param name="At14">Scale number at 14 µm, 0 to 29.</param>
/// <remarks>ISO 4406:2021. Rules 10. One number up is about twice the particles; one number is within repeatability.</remarks>
public readonly record struct Iso4406Code(int At4, int At6, int At14)
{
    /// <summary>Upper edges, particles per ml, of scale numbers 1 to 28: "more than the one before, up to and including".</summary>
    private static readonly ImmutableArray<double> UpperEdges =
    [
        0.02,
        0.04,
        0.08,
        0.16,
        0.32,
        0.64,
        1.3,
        2.5,
        5,
        10,
        20,
        40,
        80,
        160,
        320,
        640,
        1_300,
        2_500,
        5_000,
        10_000,
        20_000,
        40_000,
        80_000,
        160_000,
        320_000,
        640_000,
        1_300_000,
        2_500_000,
    ];

    private const double Clean = 0.01;
    private const int Worst = 29;

    /// <summary>The code of three counts.</summary>
    /// <param name="at4">Particles per ml of 4 µm and larger.</param>
    /// <param name="at6">Of 6 µm and larger.</param>
    /// <param name="at14">Of 14 µm and larger.</param>
    /// <exception cref="ArgumentOutOfRangeException">A count is negative or not a number.</exception>
    public static Iso4406Code OfCounts(double at4, double at6, double at14) => new(ScaleNumber(at4), ScaleNumber(at6), ScaleNumber(at14));

    /// <summary>Reads a code such as <c>18/16/13</c>; null when it is none.</summary>
    public static Iso4406Code? Parse(string? text)
    {
        var parts = (text ?? "").Split('/', StringSplitOptions.TrimEntries);
        if (parts.Length != 3)
            return null;
        var numbers = new int[3];
        for (var i = 0; i < 3; i++)
        {
            if (!int.TryParse(parts[i], NumberStyles.None, CultureInfo.InvariantCulture, out numbers[i]) || numbers[i] > Worst)
                return null;
        }

        return new(numbers[0], numbers[1], numbers[2]);
    }

    /// <summary>Scale number of one count.</summary>
    /// <param name="perMl">Particles per ml, not negative.</param>
    /// <returns>0 at or below 0.01 per ml, 29 above the last edge.</returns>
    /// <exception cref="ArgumentOutOfRangeException"><paramref name="perMl"/> is negative or not a number.</exception>
    public static int ScaleNumber(double perMl)
    {
        if (double.IsNaN(perMl))
            throw new ArgumentOutOfRangeException(nameof(perMl), "A count must be a number.");
        ArgumentOutOfRangeException.ThrowIfNegative(perMl);
        if (perMl <= Clean)
            return 0;

        var at = UpperEdges.BinarySearch(perMl);
        return (at >= 0 ? at : ~at) + 1;
    }

    /// <summary>How far this oil is above a target at its worst size; zero or less means on target.</summary>
    public int Above(Iso4406Code target) => Math.Max(At4 - target.At4, Math.Max(At6 - target.At6, At14 - target.At14));

    /// <summary>The code as laboratories write it, for example <c>18/16/13</c>.</summary>
    public override string ToString() => $"{At4}/{At6}/{At14}";
}
