using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace Nippers.Core.Parts;

/// <summary>The machine maker's word on filling a filter before it is fitted.</summary>
/// <remarks>Rules 5: dirt past the filter against a dry start. The default for fuel is dry.</remarks>
public enum PrefillRule
{
    /// <summary>Fitted dry: nothing unfiltered gets past it.</summary>
    Dry,

    /// <summary>Filled from the dirty side only, the centre capped.</summary>
    DirtySide,

    /// <summary>Either way.</summary>
    Either,
}

/// <summary>How far a filter is turned after its seal touches.</summary>
public enum TurnRule
{
    /// <summary>Three quarters of a turn.</summary>
    ThreeQuarters,

    /// <summary>One turn.</summary>
    OneTurn,

    /// <summary>A canister: to its stop.</summary>
    ToStop,

    /// <summary>Nothing is turned: an element in a housing.</summary>
    None,
}

/// <summary>What a filter measures, or what its place asks for.</summary>
/// <param name="LengthMm">Length, mm; null when not known.</param>
/// <param name="OuterMm">Outer diameter, mm.</param>
/// <param name="SealMm">Diameter of the seal, mm.</param>
/// <param name="Thread">Thread as it is written, for example M24x1.5; empty for none or not known.</param>
public sealed record FilterSize(double? LengthMm = null, double? OuterMm = null, double? SealMm = null, string Thread = "")
{
    /// <summary>Whether anything of it is known.</summary>
    [JsonIgnore]
    public bool IsKnown => LengthMm is not null || OuterMm is not null || SealMm is not null || Thread.Length > 0;
}

/// <summary>What of a filter does not fit.</summary>
public enum FitFault
{
    /// <summary>Length is off by more than 3 %.</summary>
    Length,

    /// <summary>Outer diameter is off by more than 2 %.</summary>
    Outer,

    /// <summary>Seal diameter is off by more than 0.5 mm.</summary>
    Seal,

    /// <summary>Another thread.</summary>
    Thread,
}

/// <summary>Holds a filter against its place before it goes on.</summary>
/// <remarks>Rules 5.</remarks>
public static class FitCheck
{
    /// <summary>Length may be off by this share.</summary>
    public const double LengthShare = 0.03;

    /// <summary>Outer diameter may be off by this share.</summary>
    public const double OuterShare = 0.02;

    /// <summary>Seal diameter may be off by this much, mm.</summary>
    public const double SealMm = 0.5;

    // Decimals of a millimetre that a double can't hold must not fail a filter at the very edge.
    private const double Tolerance = 1e-9;

    /// <summary>What does not fit. What either side does not say is not judged.</summary>
    public static ImmutableArray<FitFault> Of(FilterSize place, FilterSize filter)
    {
        var faults = ImmutableArray.CreateBuilder<FitFault>();
        if (Off(place.LengthMm, filter.LengthMm) > place.LengthMm * LengthShare + Tolerance)
            faults.Add(FitFault.Length);
        if (Off(place.OuterMm, filter.OuterMm) > place.OuterMm * OuterShare + Tolerance)
            faults.Add(FitFault.Outer);
        if (Off(place.SealMm, filter.SealMm) > SealMm + Tolerance)
            faults.Add(FitFault.Seal);
        if (place.Thread.Length > 0 && filter.Thread.Length > 0 && Plain(place.Thread) != Plain(filter.Thread))
            faults.Add(FitFault.Thread);
        return faults.ToImmutable();
    }

    /// <summary>What the place asks for and the filter does not say: it has to be measured.</summary>
    public static bool IsComplete(FilterSize place, FilterSize filter) =>
        !(
            place.LengthMm is not null && filter.LengthMm is null
            || place.OuterMm is not null && filter.OuterMm is null
            || place.SealMm is not null && filter.SealMm is null
            || place.Thread.Length > 0 && filter.Thread.Length == 0
        );

    private static double? Off(double? place, double? filter) => place is { } p && filter is { } f ? Math.Abs(p - f) : null;

    /// <summary>Threads are written in many ways: M24x1.5, m24 X 1,5.</summary>
    private static string Plain(string thread) =>
        thread.Replace(" ", "", StringComparison.Ordinal).Replace(',', '.').ToUpperInvariant().Replace('×', 'X');
}
