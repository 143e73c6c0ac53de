using System.Collections.Immutable;
using System.Text.RegularExpressions;
using Nippers.Core.Oil;

namespace Nippers.Core.Quick;

/// <summary>What a line typed in a hurry was understood as.</summary>
public abstract record QuickCommand
{
    private QuickCommand() { }

    /// <summary>Nothing was typed.</summary>
    public sealed record Blank : QuickCommand;

    /// <summary>A unit and hours: log them.</summary>
    /// <param name="Unit">The unit as known, or as typed when no machine has it.</param>
    /// <param name="HoursText">What stood where hours stand.</param>
    public sealed record LogHours(string Unit, string HoursText) : QuickCommand;

    /// <summary>A unit alone: open the machine.</summary>
    public sealed record OpenMachine(string Unit) : QuickCommand;

    /// <summary>A unit, the word defect, and what is wrong: report it.</summary>
    /// <param name="Unit">The unit as known, or as typed when no machine has it.</param>
    /// <param name="Words">What is wrong.</param>
    public sealed record ReportDefect(string Unit, string Words) : QuickCommand;

    /// <summary>A unit, a plus with litres, and a compartment: a top-up.</summary>
    /// <param name="Unit">The unit as known, or as typed when no machine has it.</param>
    /// <param name="LitresText">What stood where litres stand, without the plus.</param>
    /// <param name="Compartment">What was typed for the compartment.</param>
    public sealed record TopUp(string Unit, string LitresText, string Compartment) : QuickCommand;

    /// <summary>A bottle's code, typed or scanned: open its sample.</summary>
    /// <param name="Code">The code as printed, or as typed when a character is wrong.</param>
    /// <param name="Slip">A character is wrong.</param>
    public sealed record OpenBottle(string Code, bool Slip) : QuickCommand;

    /// <summary>The word for the list of what is due.</summary>
    public sealed record OpenDue : QuickCommand;

    /// <summary>A unit, and words that mean nothing here.</summary>
    public sealed record NotUnderstood(string Text) : QuickCommand;
}

/// <summary>The words that the quick line knows, in whichever languages.</summary>
/// <param name="Due">For the list of what is due.</param>
/// <param name="Defect">Between a unit and what is wrong.</param>
public sealed record QuickWords(ImmutableArray<string> Due, ImmutableArray<string> Defect);

/// <summary>
/// The grammar of the quick line: <c>EX-04 5412.6</c>, <c>EX-04 +1.5 L engine</c>, <c>EX-04 defect left guard loose</c>,
/// <c>EX-04</c>, <c>K7M-4PX</c>, <c>due</c>.
/// </summary>
/// <remarks>The rule pages call it the quick line; units are matched without regard to case, dashes, blanks and leading zeros.</remarks>
public static partial class QuickLine
{
    /// <summary>The words of English.</summary>
    public static QuickWords English { get; } = new(["due"], ["defect"]);

    /// <summary>Reads a line.</summary>
    /// <param name="line">The line.</param>
    /// <param name="units">Units that exist.</param>
    /// <param name="said">The words of the languages that are spoken here; English for none.</param>
    public static QuickCommand Parse(string? line, IEnumerable<string> units, QuickWords? said = null)
    {
        said ??= English;
        var text = (line ?? "").Trim();
        if (text.Length == 0)
            return new QuickCommand.Blank();
        if (said.Due.Contains(text, StringComparer.OrdinalIgnoreCase))
            return new QuickCommand.OpenDue();

        var words = text.Split((char[])[' ', '\t'], StringSplitOptions.RemoveEmptyEntries);
        var known = units as IReadOnlyCollection<string> ?? [.. units];
        if (Match(text, known) is { } whole)
            return new QuickCommand.OpenMachine(whole);

        // What looks like a code may still be a unit with a slip; then the unit is asked about.
        if (BottleCode.Scanned(text) is { } code)
        {
            if (BottleCode.Read(code) is { } printed)
                return new QuickCommand.OpenBottle(printed, false);
            if (BottleCode.HasShape(code) && NearestNames.Of(code, known).Count == 0)
                return new QuickCommand.OpenBottle(code, true);
        }

        for (var at = 1; at < words.Length - 1; at++)
        {
            var unit = string.Join(' ', words[..at]);
            if (said.Defect.Contains(words[at], StringComparer.OrdinalIgnoreCase))
                return new QuickCommand.ReportDefect(Match(unit, known) ?? unit, string.Join(' ', words[(at + 1)..]));
            if (LitresAt().Match(string.Join(' ', words[at..])) is { Success: true } litres)
                return new QuickCommand.TopUp(Match(unit, known) ?? unit, litres.Groups[1].Value, litres.Groups[2].Value.Trim());
        }

        // The last word, or two when someone wrote "5412.6 h", may be the hours.
        for (var tail = 1; tail <= 2 && tail < words.Length; tail++)
        {
            var hours = string.Join(' ', words[^tail..]);
            if (!LooksLikeHours().IsMatch(hours))
                continue;
            var unit = string.Join(' ', words[..^tail]);
            return new QuickCommand.LogHours(Match(unit, known) ?? unit, hours);
        }

        return words.Length == 1 ? new QuickCommand.OpenMachine(text) : new QuickCommand.NotUnderstood(text);
    }

    /// <summary>The unit that a person means, or null.</summary>
    public static string? Match(string typed, IEnumerable<string> units)
    {
        var key = Key(typed);
        return key.Length == 0 ? null : units.FirstOrDefault(unit => Key(unit) == key);
    }

    private static string Key(string unit) =>
        LeadingZeros().Replace(string.Concat(unit.Where(char.IsLetterOrDigit)).ToUpperInvariant(), "");

    [GeneratedRegex(@"^-?\d[\d.,]*([eE]\d+)?\s*[hH]?$")]
    private static partial Regex LooksLikeHours();

    [GeneratedRegex(@"^\+\s*([\d.,]+)\s*[lL]?\s+(\D.*)$")]
    private static partial Regex LitresAt();

    [GeneratedRegex(@"(?<=[A-Z])0+(?=\d)")]
    private static partial Regex LeadingZeros();
}
