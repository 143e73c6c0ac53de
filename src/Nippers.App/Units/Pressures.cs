using System.Collections.Frozen;
using UnitsNet;
using UnitsNet.Units;

namespace Nippers.App.Units;

/// <summary>A figure as it was read: of the check's unit.</summary>
/// <param name="Figure">The figure; null when none could be read.</param>
/// <param name="OtherUnit">It was typed in another unit than the check's.</param>
internal sealed record ReadFigure(double? Figure, bool OtherUnit);

/// <summary>Pressures as gauges show them: a unit typed behind the figure goes before the check's own.</summary>
internal static class Pressures
{
    private const int Decimals = 3;

    private static readonly FrozenDictionary<string, PressureUnit> Units = new Dictionary<string, PressureUnit>
    {
        ["bar"] = PressureUnit.Bar,
        ["kpa"] = PressureUnit.Kilopascal,
        ["psi"] = PressureUnit.PoundForcePerSquareInch,
    }.ToFrozenDictionary(StringComparer.OrdinalIgnoreCase);

    /// <summary>Reads a figure that has to be there; what is none, or of a unit that does not fit, is refused beside its field.</summary>
    /// <param name="text">As typed: <c>3.5</c>, <c>51 psi</c>.</param>
    /// <param name="unit">The check's unit.</param>
    /// <param name="field">The field.</param>
    /// <param name="refusals">Takes what is wrong.</param>
    public static ReadFigure Read(string? text, string unit, string field, List<Refusal> refusals)
    {
        var typed = (text ?? "").Trim();
        var at = typed.Length;
        while (at > 0 && char.IsLetter(typed[at - 1]))
            at--;
        var suffix = typed[at..];
        if (suffix.Length == 0 || at == 0 || suffix.Equals(unit, StringComparison.OrdinalIgnoreCase))
            return new(Typed.Number(at == 0 ? typed : typed[..at], field, refusals), OtherUnit: false);
        if (!Units.TryGetValue(suffix, out var other) || !Units.TryGetValue(unit, out var own))
        {
            refusals.Add(Refusals.NotANumber(field));
            return new(null, OtherUnit: false);
        }

        var figure = Typed.Number(typed[..at], field, refusals);
        return new(figure is { } value ? Math.Round(new Pressure(value, other).As(own), Decimals) : null, OtherUnit: true);
    }
}
