using System.Text.Json.Nodes;
using Nippers.Core.Fluids;

namespace Nippers.Formats.Evaluate;

/// <summary>Cases of <c>evaluate fluids</c>: fill, dipstick, pails, coolant, freeze.</summary>
internal static class FluidCases
{
    private const double MostLitres = 100_000;

    public static JsonNode? Evaluate(CaseReader from)
    {
        switch (from.Choice("kind", "fill", "dipstick", "pails", "coolant", "freeze"))
        {
            case "fill":
                var (capacity, filter) = (Above0(from, "capacityWithFilter"), from.Number("filterVolume", 0, MostLitres));
                if (filter > capacity)
                    throw from.Fault("filterVolume", "must not be above capacityWithFilter");
                var fill = Fill.Of(capacity, filter, from.Flag("preFilled"));
                return new JsonObject
                {
                    ["firstFill"] = fill.FirstFillLitres,
                    ["expectedTopUp"] = fill.ExpectedTopUpLitres,
                    ["total"] = fill.TotalLitres,
                };
            case "dipstick":
                var stick = Dipstick.Of(from.Number("reading", -10, 10), from.Number("target", -10, 10), Above0(from, "betweenMarks"));
                return new JsonObject { ["drain"] = stick.DrainLitres, ["add"] = stick.AddLitres };
            case "pails":
                return Fill.Pails(from.Numbers("drains", 0, MostLitres), Above0(from, "pail"));
            case "coolant":
                return Coolant.Replace(
                    Above0(from, "volume"),
                    from.Number("share", 0, 1),
                    from.Number("wanted", 0, 1),
                    from.Number("refill", 0, 1)
                );
            default:
                return Coolant.FreezePoint(from.Number("percent", double.MinValue, double.MaxValue));
        }
    }

    private static double Above0(CaseReader from, string field)
    {
        var number = from.Number(field, 0, MostLitres);
        return number > 0 ? number : throw from.Fault(field, "must be above 0");
    }
}
