using System.Text.Json;
using System.Text.Json.Nodes;
using Nippers.Core.Fluids;

namespace Nippers.Formats.Evaluate;

/// <summary>Cases of <c>evaluate balance</c>: what a change of oil comes to.</summary>
internal static class BalanceCases
{
    private const double MostLitres = 100_000;
    private const double MostShare = 100;

    public static JsonNode Evaluate(CaseReader given)
    {
        var capacity = given.Exact("capacityWithFilter", 0, MostLitres);
        if (capacity == 0)
            throw given.Fault("capacityWithFilter", "must be above 0");
        var filter = given.Exact("filterLitres", 0, MostLitres);
        if (filter > capacity)
            throw given.Fault("filterLitres", "must not be above capacityWithFilter");
        var balance = FluidBalance.Of(
            new()
            {
                Capacity = capacity,
                BetweenMarks = given.Exact("betweenMarks", 0, MostLitres),
                FilterLitres = filter,
                History =
                [
                    .. given
                        .List("history")
                        .Select(x => new PastChange(
                            x.Has("onBoard") ? x.Exact("onBoard", 0, MostLitres) : null,
                            x.Exact("filterLitres", 0, MostLitres),
                            x.Exact("drained", 0, MostLitres)
                        )),
                ],
                Found = given.Has("found") ? given.Exact("found", -MostShare, MostShare) : null,
                LastFull = given.Exact("lastFull", 0, MostLitres),
                TopUps = given.Exact("topUps", 0, MostLitres),
                Drained = given.Exact("drained", 0, MostLitres),
                Filled = given.Exact("filled", 0, MostLitres),
                PreFilled = given.Flag("prefilled"),
                HasRun = given.Choice("stage", "beforeRun", "afterRun") == "afterRun",
            }
        );
        return new JsonObject
        {
            ["residue"] = balance.Residue,
            ["onBoardFound"] = balance.OnBoardFound,
            ["expectedOut"] = balance.ExpectedOut,
            ["out"] = Word(balance.Out),
            ["loss"] = balance.Loss,
            ["content"] = new JsonArray(balance.Low, balance.High),
            ["mark"] = balance.Mark,
            ["fill"] = Word(balance.Fill),
            ["takeOut"] = balance.TakeOut,
        };
    }

    private static string Word<T>(T value)
        where T : struct, Enum => JsonNamingPolicy.CamelCase.ConvertName(value.ToString());
}
