using System.Text.Json.Nodes;
using Nippers.Core.Jobs;

namespace Nippers.Formats.Evaluate;

/// <summary>Cases of <c>evaluate jobcard</c>: steps put in order, with what lies between.</summary>
internal static class JobCardCases
{
    private const int MostMinutes = 100_000;
    private const double MostLitres = 100_000;

    public static JsonNode Evaluate(CaseReader given)
    {
        var card = Read(given);
        try
        {
            var order = CardSequencer.Of(card);
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
                ["elapsed"] = order.Elapsed,
                ["hands"] = order.Hands,
                ["lockouts"] = order.Lockouts,
            };
        }
        catch (CardImpossibleException why)
        {
            return new JsonObject { ["impossible"] = why.Message };
        }
        catch (ArgumentException fault)
        {
            throw given.Fault("steps", "can't be put in order: " + fault.Message);
        }
    }

    /// <summary>A card as a case writes it.</summary>
    public static CardCase Read(CaseReader given)
    {
        var start = given.Object("start");
        var minutes = given.Object("minutes");
        int Of(string field) => Minutes(minutes, field);
        return new()
        {
            OneAtATime = given.Flag("oneAtATime"),
            Heat = Heat(start) ?? throw start.Fault("heat", "is missing"),
            Posture = start.Text("posture"),
            Minutes = new(
                Of("isolate"),
                Of("release"),
                Of("start"),
                Of("stop"),
                Of("clear"),
                Of("warmUp"),
                Of("coolDown"),
                Of("warmLasts"),
                Of("move"),
                Of("empty")
            ),
            Accesses =
            [
                .. given
                    .List("access")
                    .Select(x => new CardAccess(x.Text("code"), Minutes(x, "open"), Minutes(x, "shut"), x.Flag("mustBeShutToRun"))),
            ],
            Vessels = [.. given.List("vessels").Select(x => new CardVessel(x.Text("code"), x.Exact("litres", 0, MostLitres)))],
            Steps = [.. given.List("steps").Select(ReadStep)],
        };
    }

    private static CardStep ReadStep(CaseReader from) =>
        new()
        {
            Code = from.Text("code"),
            Hands = from.Has("hands") ? Minutes(from, "hands") : 0,
            Wait = from.Has("wait") ? Minutes(from, "wait") : 0,
            State = from.Has("state")
                ? from.Choice("state", "off", "isolated", "running", "moving") switch
                {
                    "off" => MachineState.Off,
                    "isolated" => MachineState.Isolated,
                    "running" => MachineState.Running,
                    _ => MachineState.Moving,
                }
                : null,
            Heat = Heat(from),
            Posture = Optional(from, "posture"),
            Access = Optional(from, "access"),
            After = from.Has("after") ? [.. from.Texts("after")] : [],
            Drain = from.Has("drain") ? ReadDrain(from.Object("drain")) : null,
            Shut = Optional(from, "shut"),
            Fill = Optional(from, "fill"),
            Still = from.Flag("still"),
        };

    private static StepDrain ReadDrain(CaseReader from) =>
        new(from.Text("circuit"), from.Exact("litres", 0, MostLitres), from.Text("vessel"), from.Text("stream"));

    private static StepHeat? Heat(CaseReader from) =>
        !from.Has("heat") ? null
        : from.Choice("heat", "cold", "warm") == "warm" ? StepHeat.Warm
        : StepHeat.Cold;

    private static string? Optional(CaseReader from, string field) => from.Has(field) ? from.Text(field) : null;

    private static int Minutes(CaseReader from, string field) => from.Whole(field, 0, MostMinutes) ?? throw from.Fault(field, "is missing");
}
