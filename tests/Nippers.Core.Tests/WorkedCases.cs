using System.Text.Json.Nodes;
using Nippers.Formats.Evaluate;

namespace Nippers.Core.Tests;

/// <summary>The worked cases, run through the very reader and writer that the command line uses.</summary>
public sealed class WorkedCases
{
    public static TheoryData<string, int> Cases()
    {
        var data = new TheoryData<string, int>();
        foreach (var rule in new[] { "meter", "use", "due", "fluids", "balance", "oil", "iso4406" })
        {
            for (var i = 0; i < Load(rule).Count; i++)
                data.Add(rule, i);
        }

        return data;
    }

    [Theory]
    [MemberData(nameof(Cases))]
    public void Every_worked_case_agrees(string rule, int index)
    {
        var given = Load(rule)[index]!.AsObject();
        var named = (string?)given["name"] ?? $"{rule} {index}";
        var expect = given["expect"]?.DeepClone();

        var outcome = Evaluator.Run(rule, new JsonArray(given.DeepClone()).ToJsonString());

        Assert.Null(outcome.Fault);
        Agree(expect, JsonNode.Parse(outcome.Json!)![0], named);
    }

    private static JsonArray Load(string rule) =>
        JsonNode.Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "Fixtures", rule + ".json")))!.AsArray();

    /// <summary>Numbers agree within 0.002 and 0.01 %; a key that is not expected is not checked.</summary>
    private static void Agree(JsonNode? expect, JsonNode? actual, string at)
    {
        switch (expect)
        {
            case JsonObject wanted:
                var got = Assert.IsType<JsonObject>(actual);
                foreach (var (key, value) in wanted)
                {
                    Assert.True(value is null || got.ContainsKey(key), $"{at}: {key} is missing");
                    Agree(value, got[key], $"{at}.{key}");
                }

                break;
            case JsonArray wanted
                when wanted.Count > 0
                    && wanted.All(x => x is JsonValue word && word.GetValueKind() == System.Text.Json.JsonValueKind.String):
                // Patterns, flags and findings are sets.
                Assert.Equal(
                    wanted.Select(x => (string)x!).Order(StringComparer.Ordinal),
                    Assert.IsType<JsonArray>(actual).Select(x => (string)x!).Order(StringComparer.Ordinal)
                );
                break;
            case JsonArray wanted:
                var list = Assert.IsType<JsonArray>(actual);
                Assert.True(wanted.Count == list.Count, $"{at}: {list.ToJsonString()} for {wanted.ToJsonString()}");
                for (var i = 0; i < wanted.Count; i++)
                    Agree(wanted[i], list[i], $"{at}[{i}]");
                break;
            case JsonValue value when value.GetValueKind() == System.Text.Json.JsonValueKind.Number:
                var (want, have) = ((double)value, (double)actual!);
                Assert.True(Math.Abs(want - have) <= 0.002 + 0.0001 * Math.Abs(want), $"{at}: {have} for {want}");
                break;
            default:
                Assert.True(
                    JsonNode.DeepEquals(expect, actual),
                    $"{at}: {actual?.ToJsonString() ?? "null"} for {expect?.ToJsonString() ?? "null"}"
                );
                break;
        }
    }
}
