using System.Text.Json.Nodes;
using Nippers.Core.Jobs;

namespace Nippers.Formats.Evaluate;

/// <summary>
/// Cases of rules 5: <c>{oneAtATime, steps: [{code, phase, handsOnMinutes, waitMinutes, after, access, posture, vesselLitres,
/// drainLitres, vessel}]}</c>.
/// </summary>
internal static class JobCardCases
{
    private const double MostMinutes = 100_000;
    private const double MostLitres = 100_000;
    private const int Phases = 12;

    public static JsonNode Evaluate(CaseReader given)
    {
        var steps = given.List("steps").Select(ReadStep).ToList();
        JobOrder order;
        try
        {
            order = JobOrder.Of(steps, given.Flag("oneAtATime"));
        }
        catch (ArgumentException fault)
        {
            throw given.Fault("steps", "can't be put in order: " + fault.Message.Split('(')[0].TrimEnd(' ', '.'));
        }

        return new JsonObject
        {
            ["order"] = new JsonArray([
                .. order.Order.Select(x =>
                    (JsonNode)
                        new JsonObject
                        {
                            ["code"] = x.Code,
                            ["start"] = x.Start,
                            ["end"] = x.End,
                        }
                ),
            ]),
            ["handsOn"] = order.HandsOnMinutes,
            ["elapsed"] = order.ElapsedMinutes,
            ["serial"] = order.SerialMinutes,
        };
    }

    private static OrderStep ReadStep(CaseReader from) =>
        new(
            from.Text("code"),
            (JobPhase)(from.Whole("phase", 1, Phases) ?? throw from.Fault("phase", "is missing")),
            from.Has("handsOnMinutes") ? from.Number("handsOnMinutes", 0, MostMinutes) : 0,
            from.Has("waitMinutes") ? from.Number("waitMinutes", 0, MostMinutes) : 0,
            from.Has("after") ? [.. from.Texts("after")] : [],
            from.Has("access") ? from.Text("access") : "",
            from.Has("posture") ? from.Text("posture") : "",
            from.Has("vesselLitres") ? from.Number("vesselLitres", 0, MostLitres) : null,
            from.Has("drainLitres") ? from.Number("drainLitres", 0, MostLitres) : 0,
            from.Has("vessel") ? from.Text("vessel") : ""
        );
}
