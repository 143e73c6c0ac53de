using System.Text.Json.Nodes;
using Nippers.Core.Service;

namespace Nippers.Formats.Evaluate;

/// <summary>
/// Cases of rules 4: <c>{horizonDays, callOut, items: [{code, dueDay, earlyDays, lateDays, everyDays, cost, school}]}</c>.
/// </summary>
internal static class VisitCases
{
    private const int LongestHorizon = 3660;
    private const double MostMoney = 1e9;

    public static JsonNode Evaluate(CaseReader given)
    {
        var horizon = given.Whole("horizonDays", 0, LongestHorizon) ?? throw given.Fault("horizonDays", "is missing");
        var callOut = given.Number("callOut", 0, MostMoney);
        var items = given
            .List("items")
            .Select(x => new VisitItem(
                x.Text("code"),
                Days(x, "dueDay", 0),
                Days(x, "earlyDays", 0),
                Days(x, "lateDays", 0),
                Days(x, "everyDays", 1),
                x.Number("cost", 0, MostMoney),
                x.Choice("school", "grid", "floating") == "grid" ? IntervalBasis.Fixed : IntervalBasis.Floating
            ))
            .ToList();
        if (items.GroupBy(x => x.Code).FirstOrDefault(x => x.Count() > 1) is { } twice)
            throw given.Fault("items", $"hold {twice.Key} twice");

        var plan = Write(VisitPlanner.Propose(items, horizon, callOut));
        plan["naive"] = Write(VisitPlanner.Naive(items, horizon, callOut));
        return plan;
    }

    private static int Days(CaseReader from, string field, int least) =>
        from.Whole(field, least, 100_000) ?? throw from.Fault(field, "is missing");

    private static JsonObject Write(VisitPlan plan) =>
        new()
        {
            ["cost"] = Math.Round(plan.Cost, 4),
            ["visits"] = new JsonArray([
                .. plan.Visits.Select(visit =>
                    (JsonNode)
                        new JsonObject
                        {
                            ["day"] = visit.Day,
                            ["items"] = new JsonArray([.. visit.Items.Select(item => (JsonNode)item.Code)]),
                        }
                ),
            ]),
        };
}
