using System.Text;
using System.Text.Json.Nodes;
using CsCheck;

namespace Nippers.Tests;

/// <summary>
/// Changes of real files, as slips, broken programs and bad wishes make them. What was drawn is small numbers alone, so that a
/// failure is shrunk to the few changes that do it.
/// </summary>
internal static class Mutations
{
    private const int Most = 4;

    private static readonly string?[] Values =
    [
        null,
        "null",
        "true",
        "[]",
        "{}",
        "0",
        "-1",
        "1",
        "0.05",
        "-0.0001",
        "99",
        "2147483648",
        "9223372036854775807",
        "1e17",
        "1e308",
        "-1e308",
        "123456789012345678901234567890",
        "\"\"",
        "\" \"",
        "\"NaN\"",
        "\"0001-01-01\"",
        "\"9999-12-31\"",
        "\"2026-02-30\"",
        "\"0001-01-01T00:00:00Z\"",
        "\"9999-12-31T23:59:59.999Z\"",
        "\"-0001-01-01\"",
        "\"\\u0000\"",
        "\"\\u202eabc\"",
        "\"\\ud83d\\ude9c\"",
        "\"<script>alert(1)</script>\"",
        "\"=HYPERLINK(1)\"",
        "\"'; DROP TABLE Machines; --\"",
        "\"1,5\"",
        "\"1.000,5\"",
        "[null]",
        "[[],[]]",
        "{\"a\":{\"b\":null}}",
    ];

    /// <summary>One change: where, what is done there, and with what.</summary>
    public sealed record Edit(int Place, int What, int Value);

    /// <summary>Some changes.</summary>
    public static Gen<Edit[]> Edits { get; } =
        Gen.Select(Gen.Int[0, 1_000_000], Gen.Int[0, 5], Gen.Int[0, Values.Length], (place, what, value) =>
            new Edit(place, what, value)
        ).Array[1, Most];

    /// <summary>Seconds that each target has: few in a run of all tests, as many as wished when somebody asks for it.</summary>
    public static int Seconds => int.TryParse(Environment.GetEnvironmentVariable("NIPPERS_FUZZ_SECONDS"), out var asked) ? asked : 6;

    /// <summary>JSON that is still JSON, with values, members and lists changed.</summary>
    public static string Json(string text, IEnumerable<Edit> edits)
    {
        var root = JsonNode.Parse(text)!;
        foreach (var edit in edits)
        {
            var nodes = new List<JsonNode>();
            Gather(root, nodes);
            if (nodes.Count == 0)
                break;
            Change(nodes[(int)((long)edit.Place * nodes.Count / 1_000_001)], edit);
        }

        return root.ToJsonString();
    }

    /// <summary>A text with lines and characters changed; JSON by it is mostly none any more.</summary>
    public static string Text(string text, IEnumerable<Edit> edits)
    {
        var changed = new StringBuilder(text);
        foreach (var edit in edits)
        {
            var at = (int)((long)edit.Place * changed.Length / 1_000_001);
            var value = Value(edit).Trim('"');
            switch (edit.What)
            {
                case 0:
                    changed.Remove(at, Math.Min(changed.Length - at, 1 + edit.Value));
                    break;
                case 1:
                    changed.Insert(at, value);
                    break;
                case 2:
                    changed.Insert(at, changed.ToString(at, Math.Min(changed.Length - at, 200)));
                    break;
                case 3:
                    changed.Insert(at, (char)(edit.Value * 7));
                    break;
                case 4:
                    changed.Length = at;
                    break;
                default:
                    changed.Replace(";,\t\n"[edit.Value % 4], ",;\n\""[edit.Place % 4], at, Math.Min(changed.Length - at, 400));
                    break;
            }
        }

        return changed.ToString();
    }

    /// <summary>What a field may hold that nobody should have typed.</summary>
    public static string Field(Edit edit) => edit.What == 5 ? new string('9', 5000) : Value(edit).Trim('"');

    private static string Value(Edit edit) => edit.Value == Values.Length ? $"\"{new string('x', 20_000)}\"" : Values[edit.Value] ?? "";

    private static void Gather(JsonNode node, List<JsonNode> into)
    {
        var inner = node switch
        {
            JsonObject x => x.Select(y => y.Value),
            JsonArray x => x,
            _ => [],
        };
        foreach (var child in inner.OfType<JsonNode>().ToList())
        {
            into.Add(child);
            Gather(child, into);
        }
    }

    private static void Change(JsonNode node, Edit edit)
    {
        JsonNode? Made() => Value(edit) is { Length: > 0 } text ? JsonNode.Parse(text) : null;
        switch (node.Parent)
        {
            case JsonObject parent:
                var name = parent.First(x => ReferenceEquals(x.Value, node)).Key;
                if (edit.What == 0)
                    parent.Remove(name);
                else if (edit.What == 1)
                    parent[name + "x"] = Made();
                else if (edit.What == 2 && node is JsonValue number && number.TryGetValue<double>(out var value))
                    parent[name] = -value;
                else
                    parent[name] = Made();
                break;
            case JsonArray parent:
                var at = parent.IndexOf(node);
                if (edit.What == 0)
                    parent.RemoveAt(at);
                else if (edit.What == 1)
                    parent.Insert(at, node.DeepClone());
                else if (edit.What == 2)
                    parent.Insert(0, node.DeepClone());
                else
                    parent[at] = Made();
                break;
        }
    }
}
