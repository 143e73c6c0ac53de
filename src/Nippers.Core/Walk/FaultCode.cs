using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Nippers.Core.Walk;

/// <summary>A fault code as SAE J1939-73 writes it.</summary>
/// <param name="Spn">Suspect parameter number, 0 to 524287.</param>
/// <param name="Fmi">Failure mode identifier, 0 to 31.</param>
[JsonConverter(typeof(FaultCodeJson))]
public readonly record struct FaultCode(int Spn, int Fmi)
{
    /// <summary>Largest parameter number.</summary>
    public const int LargestSpn = 524_287;

    /// <summary>Largest failure mode.</summary>
    public const int LargestFmi = 31;

    /// <summary>Reads <c>100/1</c>, <c>100-1</c>, <c>100 1</c> or <c>SPN 100 FMI 1</c>.</summary>
    /// <returns>Null when it is no code.</returns>
    public static FaultCode? Parse(string? text)
    {
        var words = (text ?? "")
            .ToUpperInvariant()
            .Replace("SPN", " ", StringComparison.Ordinal)
            .Replace("FMI", " ", StringComparison.Ordinal)
            .Split([' ', '/', '-', ':', '.'], StringSplitOptions.RemoveEmptyEntries);
        return
            words.Length == 2
            && int.TryParse(
                words[0],
                System.Globalization.NumberStyles.None,
                System.Globalization.CultureInfo.InvariantCulture,
                out var spn
            )
            && spn <= LargestSpn
            && int.TryParse(
                words[1],
                System.Globalization.NumberStyles.None,
                System.Globalization.CultureInfo.InvariantCulture,
                out var fmi
            )
            && fmi <= LargestFmi
            ? new(spn, fmi)
            : null;
    }

    /// <summary>The parameters whose public meaning Nippers tells.</summary>
    public static ImmutableArray<int> KnownSpns { get; } = [97, 100, 107, 110, 111, 168, 177, 1761];

    /// <summary>The code as <c>100/1</c>.</summary>
    public override string ToString() => string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{Spn}/{Fmi}");
}

/// <summary>Writes a code as <c>100/1</c>; reads that, and the two figures apart as older files have them.</summary>
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
