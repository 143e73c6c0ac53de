using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using Nippers.Core.Weeks;

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

    // The one rule that is not only arithmetic: whoever runs it brings the solver along.
    private const string Weeks = "weeks";

    /// <summary>The names of the rules that can be evaluated; the plan by weeks needs a solver.</summary>
    public static IReadOnlyCollection<string> RuleNames { get; } = [.. Rules.Keys, Weeks];

    /// <summary>Evaluates every case of a JSON array.</summary>
    /// <param name="rule">One of <see cref="RuleNames"/>.</param>
    /// <param name="json">The file's text.</param>
    /// <param name="solver">Solves the plan by weeks; null where that rule is not asked for.</param>
    public static EvaluateOutcome Run(string rule, string json, IWeekSolver? solver = null)
    {
        Func<CaseReader, JsonNode?>? evaluate =
            rule == Weeks && solver is not null ? x => WeekCases.Evaluate(x, solver) : Rules.GetValueOrDefault(rule);
        if (evaluate is null)
            return new(null, $"There is no rule '{rule}'. Known: {string.Join(", ", RuleNames)}.");

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
