using System.Globalization;
using System.Text.Json;
using Nippers.Core.Oil;

namespace Nippers.Formats.Lab;

/// <summary>A bottle on a list that goes to a laboratory.</summary>
public sealed record LabOrderLine(
    string Bottle,
    string Unit,
    string Compartment,
    string Kind,
    string SampledOn,
    double MachineHours,
    double? OilHours,
    double AddedLitres,
    double? SumpLitres,
    string Fluid,
    string Grade
);

/// <summary>A list of bottles that goes to a laboratory.</summary>
/// <param name="Reference">The sender's number; the same one twice is the same list.</param>
/// <param name="Samples">The bottles.</param>
public sealed record LabOrder(string Reference, IReadOnlyList<LabOrderLine> Samples);

/// <summary>Results of a laboratory, read.</summary>
/// <param name="Results">Those that can be read.</param>
/// <param name="Broken">Bottles whose result can't be read, with the code of why and the place.</param>
/// <param name="Cursor">Where the laboratory says that the next question should begin.</param>
/// <param name="Fault">Code of what is wrong with the whole answer; null when it can be read.</param>
public sealed record LabAnswer(
    IReadOnlyList<LabResult> Results,
    IReadOnlyList<(string Bottle, string Fault, string Detail)> Broken,
    long Cursor,
    string? Fault
);

/// <summary>What is said between Nippers and a laboratory's interface; see docs/formats/laboratory.md.</summary>
public static class LabMessages
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);

    /// <summary>Writes a list.</summary>
    public static string Write(LabOrder order) => JsonSerializer.Serialize(order, Json);

    /// <summary>Reads a list; null when it is none.</summary>
    public static LabOrder? ReadOrder(string text)
    {
        try
        {
            return JsonSerializer.Deserialize<LabOrder>(text, Json) is { Reference.Length: > 0, Samples: not null } order ? order : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }

    /// <summary>Whether a laboratory says that it has a list.</summary>
    /// <param name="text">What it answered.</param>
    /// <param name="bottles">How many bottles stand on the list; it must name as many.</param>
    public static bool HasTaken(string text, int bottles)
    {
        try
        {
            using var document = JsonDocument.Parse(text);
            return document.RootElement is { ValueKind: JsonValueKind.Object } root
                && root.TryGetProperty("accepted", out var accepted)
                && accepted.ValueKind == JsonValueKind.Number
                && accepted.TryGetInt32(out var count)
                && count == bottles;
        }
        catch (JsonException)
        {
            return false;
        }
    }

    /// <summary>
    /// Whether a place can be the next one: it goes on with results and never back, and not so far that what becomes ready would
    /// never be asked for.
    /// </summary>
    public static bool CanFollow(long asked, long next, int results) =>
        next >= asked + (results > 0 ? 1 : 0) && next - asked <= LongestLeap;

    private const long LongestLeap = 1_000_000;

    /// <summary>Reads an answer. What can't be read is told, and the rest is taken.</summary>
    public static LabAnswer ReadAnswer(string text)
    {
        try
        {
            using var document = JsonDocument.Parse(text);
            var root = document.RootElement;
            if (
                root.ValueKind != JsonValueKind.Object
                || !root.TryGetProperty("results", out var list)
                || list.ValueKind != JsonValueKind.Array
                || !root.TryGetProperty("cursor", out var cursor)
                || cursor.ValueKind != JsonValueKind.Number
                || !cursor.TryGetInt64(out var next)
            )
                return new([], [], 0, "labShape");
            var (results, broken) = (new List<LabResult>(), new List<(string, string, string)>());
            foreach (var item in list.EnumerateArray())
            {
                if (item.ValueKind != JsonValueKind.Object)
                    return new([], [], 0, "labShape");
                var (result, fault, detail) = Read(item);
                if (fault is null)
                    results.Add(result);
                else
                    broken.Add((result.Bottle, fault, detail));
            }

            return new(results, broken, next, null);
        }
        catch (JsonException)
        {
            return new([], [], 0, "labNotJson");
        }
    }

    private static (LabResult Result, string? Fault, string Detail) Read(JsonElement item)
    {
        var figures = new Dictionary<string, string>(StringComparer.Ordinal);
        var result = new LabResult(Text(item, "bottle"), figures)
        {
            LabNumber = Text(item, "labNumber"),
            Unit = Text(item, "unit"),
            Compartment = Text(item, "compartment"),
            MachineHours = Number(item, "machineHours"),
            OilHours = Number(item, "oilHours"),
            Iso = Iso4406Code.Parse(Text(item, "iso"))?.ToString() ?? "",
            Comment = Text(item, "comment"),
        };
        if (Text(item, "iso").Length > 0 && result.Iso.Length == 0)
            return (result, "labIso", Text(item, "iso"));
        if (item.TryGetProperty("figures", out var given) && given.ValueKind == JsonValueKind.Object)
        {
            foreach (var figure in given.EnumerateObject())
            {
                if (
                    Measurands.Parse(figure.Name) is not { } measurand
                    || (measurand != Measurand.Glycol && !Measurands.Reported.Contains(measurand))
                )
                    continue;
                var (read, fault) = LabFigure.Read(
                    figure.Value.ValueKind == JsonValueKind.String ? figure.Value.GetString() : figure.Value.ToString(),
                    measurand
                );
                if (fault is not null)
                    return (result, fault, figure.Name);
                if (read is not null)
                    figures[figure.Name] = read.ToString();
            }
        }

        return (result, result.Fault, "");
    }

    private static string Text(JsonElement item, string name) =>
        item.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.String ? value.GetString()!.Trim() : "";

    private static double? Number(JsonElement item, string name) =>
        item.TryGetProperty(name, out var value)
        && double.TryParse(value.ToString(), NumberStyles.Float, CultureInfo.InvariantCulture, out var number)
        && double.IsFinite(number)
        && number >= 0
            ? number
            : null;
}
