using System.Collections.Immutable;

namespace Nippers.Core.Service;

/// <summary>One thing a machine may have or not have, which switches items on and off.</summary>
/// <param name="Name">Its word.</param>
/// <param name="Values">Allowed values; empty for a plain yes or no. The first is taken when nothing is said.</param>
public sealed record MachineOption(string Name, ImmutableArray<string> Values);

/// <summary>The options that Nippers knows.</summary>
/// <remarks>Rules 3.</remarks>
public static class MachineOptions
{
    /// <summary>All of them, in the order in which they are asked.</summary>
    public static ImmutableArray<MachineOption> All { get; } =
    [
        new("winch", []),
        new("ripper", []),
        new("ac", []),
        new("linkage", ["greased", "sealed"]),
        new("aftertreatment", ["none", "dpf", "def"]),
        new("attachment", ["none", "breaker", "grapple", "auger"]),
        new("coupler", []),
        new("volts", ["24", "12"]),
        new("drive", ["diesel", "electric"]),
        new("brakes", ["dry", "wet"]),
        new("air", ["gauge", "indicator"]),
        new("gear", ["tracks", "wheels"]),
        new("boom", ["chains", "pads"]),
        new("stabilisers", []),
        new("sway", []),
        new("dust", ["dry", "water"]),
        new("heat", ["gas", "electric"]),
        new("spray", []),
        new("firesystem", []),
    ];

    /// <summary>Whether a word is an option, or an option with one of its values.</summary>
    public static bool Knows(string word)
    {
        var at = word.IndexOf('=', StringComparison.Ordinal);
        var name = at < 0 ? word : word[..at];
        var option = All.FirstOrDefault(x => x.Name == name);
        return option is not null && (at < 0 ? option.Values.IsEmpty : option.Values.Contains(word[(at + 1)..]));
    }
}
