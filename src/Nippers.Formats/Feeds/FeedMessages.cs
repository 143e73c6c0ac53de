using System.Globalization;
using System.Text.Json;
using Nippers.Core.Walk;

namespace Nippers.Formats.Feeds;

/// <summary>A figure with the time for which it holds.</summary>
public readonly record struct FeedFigure(double Value, DateTimeOffset At);

/// <summary>What a feed says of one machine.</summary>
/// <param name="Id">Its number in the feed; its serial number where it has no other.</param>
/// <param name="Serial">Its serial number; empty when it is not said.</param>
/// <param name="Hours">Hours that it has run.</param>
/// <param name="Idle">Hours of these without load; null when it is not said.</param>
/// <param name="Fuel">Fuel that is left, percent; null when it is not said.</param>
/// <param name="Def">Exhaust fluid that is left, percent; null when it is not said.</param>
/// <param name="Codes">Fault codes that are active; null when the feed says nothing of codes.</param>
public sealed record FeedReport(
    string Id,
    string Serial,
    FeedFigure? Hours,
    FeedFigure? Idle,
    FeedFigure? Fuel,
    FeedFigure? Def,
    IReadOnlyList<FaultCode>? Codes
);

/// <summary>A page of a feed, read.</summary>
/// <param name="Reports">Machines that can be read.</param>
/// <param name="Broken">Machines that can't, with the code of why.</param>
/// <param name="Next">Where the next page is; null for the last.</param>
/// <param name="Fault">Code of what is wrong with the whole; null when it can be read.</param>
public sealed record FeedPage(
    IReadOnlyList<FeedReport> Reports,
    IReadOnlyList<(string Id, string Fault)> Broken,
    string? Next,
    string? Fault
);

/// <summary>Reads what a machine's maker says of its machines: the JSON shape of ISO 15143-3; see docs/formats/telematics.md.</summary>
public static class FeedMessages
{
    private const int LongestId = 100;

    /// <summary>Most hours that a machine can have run.</summary>
    public const double MostHours = 999_999.9;

    /// <summary>Most machines on a page that are read.</summary>
    public const int Most = 5000;

    /// <summary>Most codes of a machine that are read.</summary>
    public const int MostCodes = 100;

    /// <summary>Reads a page. A machine that can't be read is told, and the others are taken.</summary>
    public static FeedPage Read(string text)
    {
        try
        {
            using var document = JsonDocument.Parse(text);
            var root = document.RootElement;
            if (Find(root, "Fleet") is { ValueKind: JsonValueKind.Object } fleet)
                root = fleet;
            if (Find(root, "Equipment") is not { ValueKind: JsonValueKind.Array } list)
                return Bad;
            var reports = new List<FeedReport>();
            var broken = new List<(string, string)>();
            foreach (var machine in list.EnumerateArray().Take(Most))
            {
                var (report, fault, id) = One(machine);
                if (report is not null)
                    reports.Add(report);
                else
                    broken.Add((id, fault!));
            }

            return new(reports, broken, NextOf(root), null);
        }
        catch (Exception fault) when (fault is JsonException or InvalidOperationException)
        {
            return Bad;
        }
    }

    /// <summary>Reads what is said of one machine alone.</summary>
    /// <returns>The report, or the code of why it can't be read.</returns>
    public static (FeedReport? Report, string? Fault) ReadOne(string text)
    {
        try
        {
            using var document = JsonDocument.Parse(text);
            var (report, fault, _) = One(document.RootElement);
            return (report, fault);
        }
        catch (Exception fault) when (fault is JsonException or InvalidOperationException)
        {
            return (null, "feedShape");
        }
    }

    private static FeedPage Bad => new([], [], null, "feedShape");

    private static (FeedReport? Report, string? Fault, string Id) One(JsonElement machine)
    {
        if (machine.ValueKind != JsonValueKind.Object)
            return (null, "feedShape", "");
        var header = Find(machine, "EquipmentHeader") is { ValueKind: JsonValueKind.Object } own ? own : machine;
        var serial = Text(header, "SerialNumber") ?? "";
        var id = Text(header, "EquipmentID") is { Length: > 0 } said ? said : serial;
        if (id.Length > LongestId || serial.Length > LongestId)
            return (null, "feedId", id[..Math.Min(id.Length, LongestId)]);
        if (
            !Figure(machine, "CumulativeOperatingHours", "Hour", MostHours, out var hours)
            || !Figure(machine, "CumulativeIdleHours", "Hour", MostHours, out var idle)
            || !Figure(machine, "FuelRemaining", "Percent", 100, out var fuel)
            || !Figure(machine, "DEFRemaining", "Percent", 100, out var def)
        )
            return (null, "feedFigure", id);
        if (Codes(machine, out var codes) is { } fault)
            return (null, fault, id);
        return (new(id, serial, hours, idle, fuel, def, codes), null, id);
    }

    /// <summary>Reads a figure with its time. One that is not said is none; one that is no figure spoils the machine's report.</summary>
    private static bool Figure(JsonElement machine, string name, string unit, double most, out FeedFigure? figure)
    {
        figure = null;
        if (Find(machine, name) is not { ValueKind: not JsonValueKind.Null } said)
            return true;
        if (
            said.ValueKind != JsonValueKind.Object
            || Find(said, unit) is not { } number
            || !Number(number, out var value)
            || value < 0
            || value > most
            || Text(said, "Datetime") is not { } time
            || !DateTimeOffset.TryParse(
                time,
                CultureInfo.InvariantCulture,
                DateTimeStyles.AssumeUniversal | DateTimeStyles.AdjustToUniversal,
                out var at
            )
        )
            return false;
        figure = new(value, at);
        return true;
    }

    /// <summary>Some write figures as text.</summary>
    private static bool Number(JsonElement said, out double value)
    {
        value = 0;
        return said.ValueKind switch
        {
            JsonValueKind.Number => said.TryGetDouble(out value) && double.IsFinite(value),
            JsonValueKind.String => double.TryParse(said.GetString(), NumberStyles.Float, CultureInfo.InvariantCulture, out value)
                && double.IsFinite(value),
            _ => false,
        };
    }

    private static string? Codes(JsonElement machine, out IReadOnlyList<FaultCode>? codes)
    {
        codes = null;
        if (Find(machine, "FaultCodes") is not { ValueKind: not JsonValueKind.Null } list)
            return null;
        if (list.ValueKind != JsonValueKind.Array || list.GetArrayLength() > MostCodes)
            return "feedCodes";
        var read = new List<FaultCode>();
        foreach (var one in list.EnumerateArray())
        {
            if (
                one.ValueKind != JsonValueKind.Object
                || Find(one, "Spn") is not { } spn
                || Find(one, "Fmi") is not { } fmi
                || !Number(spn, out var s)
                || !Number(fmi, out var f)
                || FaultCode.Parse(string.Create(CultureInfo.InvariantCulture, $"{s}.{f}")) is not { } code
            )
                return "feedCodes";
            read.Add(code);
        }

        codes = [.. read.Distinct()];
        return null;
    }

    private static string? NextOf(JsonElement root) =>
        Find(root, "Links") is { ValueKind: JsonValueKind.Array } links
            ? links
                .EnumerateArray()
                .Where(x =>
                    x.ValueKind == JsonValueKind.Object && string.Equals(Text(x, "Rel"), "next", StringComparison.OrdinalIgnoreCase)
                )
                .Select(x => Text(x, "Href"))
                .FirstOrDefault()
            : null;

    private static string? Text(JsonElement from, string name) =>
        Find(from, name) switch
        {
            { ValueKind: JsonValueKind.String } text => text.GetString()!.Trim(),
            { ValueKind: JsonValueKind.Number } number => number.GetRawText(),
            _ => null,
        };

    /// <summary>A member by its name; makers write capitals as they like.</summary>
    private static JsonElement? Find(JsonElement from, string name)
    {
        if (from.ValueKind != JsonValueKind.Object)
            return null;
        foreach (var member in from.EnumerateObject())
        {
            if (member.Name.Equals(name, StringComparison.OrdinalIgnoreCase))
                return member.Value;
        }

        return null;
    }
}
