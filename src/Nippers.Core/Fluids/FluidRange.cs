using System.Collections.Immutable;
using System.Globalization;

namespace Nippers.Core.Fluids;

/// <summary>A fluid with the outside temperatures it is meant for.</summary>
/// <param name="Fluid">Its name, grade and all.</param>
/// <param name="FromC">Coldest, degrees C.</param>
/// <param name="ToC">Warmest, degrees C.</param>
public sealed record FluidRange(string Fluid, int FromC, int ToC)
{
    /// <summary>Coldest and warmest that anyone may enter, degrees C.</summary>
    public const int Coldest = -60;

    /// <summary>Warmest.</summary>
    public const int Warmest = 60;

    /// <summary>Reads a list such as <c>15W-40: -15..40; 5W-30: -30..20</c>; null when it can't be read.</summary>
    public static ImmutableArray<FluidRange>? Parse(string text)
    {
        var ranges = ImmutableArray.CreateBuilder<FluidRange>();
        foreach (var part in text.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var colon = part.LastIndexOf(':');
            if (colon <= 0)
                return null;
            var ends = part[(colon + 1)..].Split("..", StringSplitOptions.TrimEntries);
            if (ends.Length != 2 || !Degrees(ends[0], out var from) || !Degrees(ends[1], out var to) || from >= to)
                return null;
            ranges.Add(new(part[..colon].Trim(), from, to));
        }

        return ranges.ToImmutable();
    }

    private static bool Degrees(string text, out int degrees) =>
        int.TryParse(text, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out degrees)
        && degrees is >= Coldest and <= Warmest;
}

/// <summary>Which fluid goes in.</summary>
/// <param name="Take">The fluid; empty when the program holds none and none is in.</param>
/// <param name="Covers">Whether it holds from the expected low to the expected high.</param>
/// <param name="InLeaves">What is in is left by the expected weather.</param>
public sealed record FluidChoice(string Take, bool Covers, bool InLeaves)
{
    /// <summary>Chooses by the expected low: of what may be used at it, what holds to the high, then what is thickest.</summary>
    /// <param name="ranges">What the program holds.</param>
    /// <param name="inIt">What is in now; empty when not known.</param>
    /// <param name="lowC">Expected low, degrees C; null when the site does not say.</param>
    /// <param name="highC">Expected high.</param>
    public static FluidChoice Of(ImmutableArray<FluidRange> ranges, string inIt, int? lowC, int? highC)
    {
        if (ranges.IsEmpty)
            return new(inIt, true, false);
        if (lowC is not { } low || highC is not { } high)
            return new(ranges.FirstOrDefault(x => x.Fluid == inIt)?.Fluid ?? ranges[0].Fluid, true, false);
        bool Holds(FluidRange x) => x.FromC <= low && x.ToC >= high;
        var take = ranges
            .OrderByDescending(x => x.FromC <= low)
            .ThenByDescending(x => x.ToC >= high)
            .ThenByDescending(x => x.FromC <= low ? x.FromC : -x.FromC)
            .First();
        var now = ranges.FirstOrDefault(x => x.Fluid == inIt);
        return new(take.Fluid, Holds(take), now is not null && !Holds(now));
    }
}
