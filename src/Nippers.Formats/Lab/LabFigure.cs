using System.Globalization;
using Nippers.Core.Oil;

namespace Nippers.Formats.Lab;

/// <summary>A figure of a laboratory, read.</summary>
/// <param name="Value">The number; for one below detection, that border.</param>
/// <param name="Below">Not found: below what the method sees.</param>
public sealed record LabFigure(double Value, bool Below)
{
    private const double Most = 1e8;
    private static readonly string[] Blank = ["", "-", "n/a", "na", "nt", "not tested"];
    private static readonly string[] NotFound =
    [
        "nd",
        "n.d.",
        "not detected",
        "negative",
        "neg",
        "no",
        "none",
        "nil",
        "zero",
        "absent",
        "bdl",
    ];
    private static readonly string[] Found = ["positive", "pos", "yes", "found", "detected", "present"];

    // Seen, and too little to put a figure to. Of coolant in oil that is enough.
    private static readonly string[] Trace = ["trace", "traces", "tr", "tr."];

    /// <summary>Reads a figure as laboratories write it.</summary>
    /// <param name="text">A number, <c>&lt;1</c>, or a word for glycol.</param>
    /// <param name="measurand">Of what.</param>
    /// <param name="factor">What turns its unit into that of the measurand.</param>
    /// <returns>The figure, null when the cell is blank; or the code of what is wrong.</returns>
    public static (LabFigure? Figure, string? Fault) Read(string? text, Measurand measurand, double factor = 1)
    {
        var given = (text ?? "").Trim();
        var word = given.ToLowerInvariant();
        if (Blank.Contains(word))
            return (null, null);
        if (NotFound.Contains(word))
            return (new(0, measurand != Measurand.Glycol), null);
        if (measurand == Measurand.Glycol && (Found.Contains(word) || Trace.Contains(word)))
            return (new(1, false), null);
        if (Trace.Contains(word))
            return (new(0, true), null);
        var below = given.StartsWith('<');
        if (below)
            given = given[1..].Trim();
        if (given.Contains(',', StringComparison.Ordinal))
            return (null, "decimalComma");
        if (
            !double.TryParse(
                given,
                NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint | NumberStyles.AllowExponent,
                CultureInfo.InvariantCulture,
                out var number
            ) || !double.IsFinite(number)
        )
            return (null, "notANumber");
        if (number < 0)
            return (null, "labNegative");
        if (number * factor > Most)
            return (null, "labTooLarge");
        if (measurand == Measurand.Glycol)
            return (new(number > 0 && !below ? 1 : 0, false), null);

        // Twelve digits: a converted unit must not leave a tail of nines.
        return (
            new(double.Parse((number * factor).ToString("G12", CultureInfo.InvariantCulture), CultureInfo.InvariantCulture), below),
            null
        );
    }

    /// <summary>As it is kept: <c>45</c> or <c>&lt;1</c>.</summary>
    public override string ToString() => (Below ? "<" : "") + Value.ToString(CultureInfo.InvariantCulture);
}

/// <summary>What a laboratory says of one bottle, in the units of the measurands.</summary>
/// <param name="Bottle">What is written on it.</param>
/// <param name="Figures">Short name of the measurand to the figure as it is kept.</param>
public sealed record LabResult(string Bottle, IReadOnlyDictionary<string, string> Figures)
{
    /// <summary>Its number at the laboratory.</summary>
    public string LabNumber { get; init; } = "";

    /// <summary>Machine as the laboratory has it; empty when not given.</summary>
    public string Unit { get; init; } = "";

    /// <summary>Compartment as the laboratory has it.</summary>
    public string Compartment { get; init; } = "";

    /// <summary>Life hours as the laboratory has them.</summary>
    public double? MachineHours { get; init; }

    /// <summary>Hours on the oil as the laboratory has them.</summary>
    public double? OilHours { get; init; }

    /// <summary>Cleanliness code; empty when not counted.</summary>
    public string Iso { get; init; } = "";

    /// <summary>The laboratory's words.</summary>
    public string Comment { get; init; } = "";

    /// <summary>What is wrong with it as a whole: a code; null when nothing is.</summary>
    /// <remarks>Hours on the oil that are more than those of the machine belong to another bottle or to a slip.</remarks>
    public string? Fault =>
        Bottle.Length == 0 ? "labNoBottle"
        : Figures.Count == 0 && Iso.Length == 0 ? "labNothing"
        : OilHours > MachineHours ? "labOilHours"
        : null;
}
