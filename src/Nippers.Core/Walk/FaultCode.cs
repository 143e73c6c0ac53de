using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Nippers.Core.Walk;

/// <summary>A fault code: as SAE J1939-73 writes it, or as a machine's display shows it, which its maker alone explains.</summary>
[JsonConverter(typeof(FaultCodeJson))]
public readonly record struct FaultCode
{
    /// <summary>Largest parameter number.</summary>
    public const int LargestSpn = 524_287;

    /// <summary>Largest failure mode.</summary>
    public const int LargestFmi = 31;

    /// <summary>Longest code of a display.</summary>
    public const int LongestShown = 16;

    private const string BetweenLetters = "()-./#_";

    /// <summary>A code of the standard.</summary>
    /// <param name="spn">Suspect parameter number, 0 to <see cref="LargestSpn"/>.</param>
    /// <param name="fmi">Failure mode identifier, 0 to <see cref="LargestFmi"/>.</param>
    public FaultCode(int spn, int fmi) => (Spn, Fmi) = (spn, fmi);

    private FaultCode(string shown) => Shown = shown;

    /// <summary>Suspect parameter number; null for a code of a display.</summary>
    public int? Spn { get; }

    /// <summary>Failure mode identifier; null for a code of a display.</summary>
    public int? Fmi { get; }

    /// <summary>As the display shows it, for example <c>E361(2)</c>, in capitals without spaces; null for the standard's.</summary>
    public string? Shown { get; }

    /// <summary>
    /// Reads <c>100/1</c>, <c>100-1</c>, <c>100 1</c> or <c>SPN 100 FMI 1</c>; and what a display shows: a figure with a letter, such as
    /// <c>E361(2)</c>.
    /// </summary>
    /// <returns>Null when it is no code.</returns>
    public static FaultCode? Parse(string? text)
    {
        var capitals = (text ?? "").ToUpperInvariant();
        return Standard(capitals) ?? Display(string.Concat(capitals.Where(x => !char.IsWhiteSpace(x))));
    }

    /// <summary>Reads codes that stand in one line, with commas between them; what is none is left out.</summary>
    public static IEnumerable<FaultCode> ParseAll(string? text) => (text ?? "").Split(',').Select(Parse).OfType<FaultCode>();

    private static FaultCode? Standard(string text)
    {
        var words = text.Replace("SPN", " ", StringComparison.Ordinal)
            .Replace("FMI", " ", StringComparison.Ordinal)
            .Split([' ', '/', '-', ':', '.'], StringSplitOptions.RemoveEmptyEntries);
        return words.Length == 2 && Figure(words[0], LargestSpn) is { } spn && Figure(words[1], LargestFmi) is { } fmi
            ? new(spn, fmi)
            : null;
    }

    private static int? Figure(string word, int most) =>
        int.TryParse(word, NumberStyles.None, CultureInfo.InvariantCulture, out var figure) && figure <= most ? figure : null;

    // Without a letter it may as well be half a code of the standard; without a figure it is a word. A word of the standard's own is a
    // slip in one.
    private static FaultCode? Display(string text) =>
        text.Length is > 1 and <= LongestShown
        && text.Any(char.IsAsciiLetter)
        && text.Any(char.IsAsciiDigit)
        && text.All(x => char.IsAsciiLetterOrDigit(x) || BetweenLetters.Contains(x, StringComparison.Ordinal))
        && !text.Contains("SPN", StringComparison.Ordinal)
        && !text.Contains("FMI", StringComparison.Ordinal)
            ? new(text)
            : null;

    /// <summary>The code as <c>100/1</c>, or as the display shows it.</summary>
    public override string ToString() => Shown ?? string.Create(CultureInfo.InvariantCulture, $"{Spn ?? 0}/{Fmi ?? 0}");
}

/// <summary>Writes a code as <c>100/1</c> or as the display shows it; reads that, and the two figures apart of older files.</summary>
public sealed class FaultCodeJson : JsonConverter<FaultCode>
{
    /// <inheritdoc/>
    public override FaultCode Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        if (reader.TokenType == JsonTokenType.String)
            return FaultCode.Parse(reader.GetString()) ?? throw new JsonException("no fault code");
        using var parts = JsonDocument.ParseValue(ref reader);
        if (parts.RootElement.ValueKind != JsonValueKind.Object)
            throw new JsonException("no fault code");
        int Part(string name, int most)
        {
            // What stands at its default is not written.
            if (!parts.RootElement.TryGetProperty(name, out var part))
                return 0;
            var whole = part.ValueKind == JsonValueKind.Number && part.TryGetInt32(out var figure) ? figure : -1;
            return whole >= 0 && whole <= most ? whole : throw new JsonException("no fault code");
        }

        return new(Part("spn", FaultCode.LargestSpn), Part("fmi", FaultCode.LargestFmi));
    }

    /// <inheritdoc/>
    public override void Write(Utf8JsonWriter writer, FaultCode value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.ToString());
}
