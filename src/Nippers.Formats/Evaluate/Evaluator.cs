using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Nippers.Formats.Evaluate;

/// <summary>What the evaluation of a file came to: a JSON array, or the fault that names the case and the field.</summary>
public sealed record EvaluateOutcome(string? Json, string? Fault);

/// <summary>Runs a rule over a JSON array of cases; the format is in docs/formats/evaluate.md.</summary>
public static class Evaluator
{
    private static readonly JsonSerializerOptions Readable = new()
    {
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    private static readonly Dictionary<string, Func<CaseReader, JsonNode?>> Rules = new(StringComparer.Ordinal)
    {
        ["use"] = UseCases.Evaluate,
        ["meter"] = MeterCases.Evaluate,
        ["due"] = DueCases.Evaluate,
        ["fluids"] = FluidCases.Evaluate,
        ["balance"] = BalanceCases.Evaluate,
        ["visit"] = VisitCases.Evaluate,
        ["jobcard"] = JobCardCases.Evaluate,
        ["oil"] = OilCases.Evaluate,
        ["iso4406"] = Iso4406Cases.Evaluate,
    };

    /// <summary>The names of the rules that can be evaluated.</summary>
    public static IReadOnlyCollection<string> RuleNames => Rules.Keys;

    /// <summary>Evaluates every case of a JSON array.</summary>
    /// <param name="rule">One of <see cref="RuleNames"/>.</param>
    /// <param name="json">The file's text.</param>
    public static EvaluateOutcome Run(string rule, string json)
    {
        if (!Rules.TryGetValue(rule, out var evaluate))
            return new(null, $"There is no rule '{rule}'. Known: {string.Join(", ", Rules.Keys)}.");

        JsonNode? root;
        try
        {
            root = JsonNode.Parse(json);
        }
        catch (JsonException fault)
        {
            return new(null, $"The file is not JSON: {fault.Message}");
        }

        if (root is not JsonArray cases)
            return new(null, "The file must be a JSON array of cases.");
        var results = new JsonArray();
        for (var i = 0; i < cases.Count; i++)
        {
            try
            {
                results.Add(evaluate(new CaseReader(cases[i], $"case {i}")));
            }
            catch (CaseFaultException fault)
            {
                return new(null, fault.Message);
            }
        }

        return new(results.ToJsonString(Readable), null);
    }
}
