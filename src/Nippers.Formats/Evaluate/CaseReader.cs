using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;

namespace Nippers.Formats.Evaluate;

/// <summary>A case that can't be read; the message names the case and the field.</summary>
public sealed class CaseFaultException(string message) : Exception(message);

/// <summary>Reads one object of a case and names the field when something is wrong with it.</summary>
internal sealed class CaseReader
{
    private readonly JsonObject _object;
    private readonly string _at;

    public CaseReader(JsonNode? node, string at)
    {
        _object = node as JsonObject ?? throw new CaseFaultException($"{at}: an object is needed.");
        _at = _object["name"] is JsonValue name && name.TryGetValue<string>(out var text) ? $"{at} ({text})" : at;
    }

    /// <summary>The names of all fields.</summary>
    public IEnumerable<string> Fields => _object.Select(x => x.Key);

    public bool Has(string field) => _object[field] is not null;

    public string Text(string field) => Value<string>(field, "a text");

    public string Choice(string field, params string[] allowed)
    {
        var text = Text(field);
        return allowed.Contains(text) ? text : throw Fault(field, $"must be one of {string.Join(", ", allowed)}");
    }

    public bool Flag(string field) => Has(field) && Value<bool>(field, "true or false");

    public double Number(string field, double from, double to)
    {
        var number = Value<double>(field, "a number");
        // Zero has no sign here, however it was written.
        return number >= from && number <= to
            ? number + 0.0
            : throw Fault(field, string.Create(CultureInfo.InvariantCulture, $"must lie between {from} and {to}"));
    }

    /// <summary>A number as it was written, to its last digit.</summary>
    public decimal Exact(string field, double from, double to)
    {
        Number(field, from, to);
        var number = Value<decimal>(field, "a number");
        return number == 0 ? 0 : number;
    }

    public IReadOnlyList<double> Numbers(string field, double from, double to)
    {
        var list = _object[field] as JsonArray ?? throw Fault(field, Has(field) ? "must be a list of numbers" : "is missing");
        return
        [
            .. list.Select(x =>
                x is JsonValue value && value.TryGetValue<double>(out var number) && number >= from && number <= to
                    ? number
                    : throw Fault(field, string.Create(CultureInfo.InvariantCulture, $"must hold numbers from {from} to {to}"))
            ),
        ];
    }

    public IReadOnlyList<string> Texts(string field)
    {
        var list = _object[field] as JsonArray ?? throw Fault(field, "must be a list of texts");
        return
        [
            .. list.Select(x =>
                x is JsonValue value && value.TryGetValue<string>(out var text) ? text : throw Fault(field, "must hold texts")
            ),
        ];
    }

    public int? Whole(string field, int from, int to)
    {
        if (!Has(field))
            return null;
        var number = Number(field, from, to);
        return number == Math.Truncate(number) ? (int)number : throw Fault(field, "must be a whole number");
    }

    public MeterHours Hours(string field)
    {
        var number = Value<double>(field, "a number of hours");
        return MeterHours.TryOf(number, out var hours) == HoursFault.None
            ? hours
            : throw Fault(field, $"must be hours from 0 to {MeterHours.Max}");
    }

    public MeterHours? OptionalHours(string field) => Has(field) ? Hours(field) : null;

    public DateTimeOffset Instant(string field) =>
        DateTimeOffset.TryParse(Text(field), CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var at) && Years.Hold(at)
            ? at
            : throw Fault(field, "must be an instant such as 2026-03-01T06:30:00Z");

    public DateOnly Date(string field) =>
        DateOnly.TryParseExact(Text(field), "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date)
        && Years.Hold(date)
            ? date
            : throw Fault(field, "must be a date such as 2026-03-01");

    public CaseReader Object(string field) => new(_object[field] ?? throw Fault(field, "is missing"), $"{_at}, {field}");

    public IEnumerable<CaseReader> List(string field)
    {
        if (!Has(field))
            yield break;
        var list = _object[field] as JsonArray ?? throw Fault(field, "must be a list");
        for (var i = 0; i < list.Count; i++)
            yield return new(list[i], $"{_at}, {field}[{i}]");
    }

    public CaseFaultException Fault(string field, string what) => new($"{_at}: {field} {what}.");

    private T Value<T>(string field, string kind)
    {
        if (_object[field] is not { } node)
            throw Fault(field, "is missing");
        try
        {
            return node.GetValue<T>();
        }
        catch (Exception wrong) when (wrong is InvalidOperationException or FormatException or JsonException)
        {
            throw Fault(field, $"must be {kind}");
        }
    }
}
