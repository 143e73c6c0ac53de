using System.Text.Json.Nodes;
using CsCheck;
using Nippers.Core.Jobs;
using Nippers.Formats.Evaluate;
using Nippers.Tests;

namespace Nippers.Core.Tests;

/// <summary>The order of a card: sound, and near the best there is.</summary>
public sealed class CardSequenceTests
{
    private static JsonArray Cases() =>
        JsonNode.Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "Fixtures", "jobcard.json")))!.AsArray();

    [Fact]
    public void Worked_cases_are_sound_and_together_within_a_hundredth_of_the_best()
    {
        var (best, had) = (0, 0);
        var wrong = new List<string>();
        foreach (var given in Cases().Select(x => x!))
        {
            var outcome = Evaluator.Run("jobcard", new JsonArray(given.DeepClone()).ToJsonString());
            Assert.Null(outcome.Fault);
            var answer = JsonNode.Parse(outcome.Json!)![0]!;
            var sequence = new CardSequence(
                [.. answer["order"]!.AsArray().Select(x => new PlacedStep((string)x!["code"]!, (int)x["start"]!, (int)x["end"]!))],
                (int)answer["elapsed"]!,
                (int)answer["hands"]!,
                (int)answer["lockouts"]!
            );
            wrong.AddRange(CardChecker.Check(JobCardCases.Read(new(given, "case")), sequence).Select(x => $"{given["name"]}: {x}"));
            (best, had) = (best + (int)given["expect"]!["elapsed"]!, had + sequence.Elapsed);
        }

        Assert.Empty(wrong);
        Assert.True(had <= best * 1.01, $"{had} minutes for {best}");
    }

    private static readonly CardMinutes Minutes = new(2, 1, 2, 1, 1, 10, 60, 30, 4, 5);
    private static readonly CardAccess Hood = new("hood", 1, 1, false);
    private static readonly CardAccess Pan = new("pan", 6, 8, true);

    private static CardCase Card(params CardStep[] steps) =>
        new()
        {
            Steps = [.. steps],
            Minutes = Minutes,
            Accesses = [Hood, Pan],
            Vessels = [new("tub", 30), new("can", 12)],
            Posture = "parked",
        };

    private static CardStep Step(string code, int hands = 4, MachineState? state = MachineState.Isolated, params string[] after) =>
        new()
        {
            Code = code,
            Hands = hands,
            State = state,
            After = [.. after],
        };

    private static CardStep Drain(string code, decimal litres, string vessel = "tub", string stream = "oil", int wait = 20) =>
        Step(code) with
        {
            Wait = wait,
            Drain = new(code, litres, vessel, stream),
            Still = true,
        };

    private static string Words(CardSequence card) => string.Join(' ', card.Order.Select(x => x.Code));

    public static TheoryData<string, CardCase, string> Orders =>
        new()
        {
            {
                "lights are tried before anything is locked out",
                Card(Step("lights", 2, MachineState.Off), Step("belts")),
                "lights +isolate belts +release"
            },
            {
                "brakes are tried on clear ground, after all is shut",
                Card(Step("pads") with { Access = "pan" }, Step("brakes", 3, MachineState.Moving, "pads")),
                "+isolate +open:pan pads +shut:pan +release +start +clear brakes +stop"
            },
            {
                "belts are looked at while oil runs out, and the plug is home before anybody lets go",
                Card(Drain("out", 20), Step("belts", 12), Step("plug", 3, MachineState.Isolated, "out") with { Shut = "out" }),
                "+isolate out belts plug +release"
            },
            {
                "two streams never meet in one vessel",
                Card(
                    Drain("oil", 8),
                    Step("plug", 3, MachineState.Isolated, "oil") with
                    {
                        Shut = "oil",
                    },
                    Drain("coolant", 8, stream: "coolant") with
                    {
                        After = ["plug"],
                    },
                    Step("cock", 3, MachineState.Isolated, "coolant") with
                    {
                        Shut = "coolant",
                    }
                ),
                "+isolate oil plug +empty:tub coolant cock +release"
            },
            {
                "coolant is opened before the engine runs",
                Card(Step("port", 6, MachineState.Running) with { Heat = StepHeat.Warm }, Step("cap") with { Heat = StepHeat.Cold }),
                "+isolate cap +release +start +warmUp port +stop"
            },
        };

    [Theory]
    [MemberData(nameof(Orders))]
    public void A_card_follows_the_machines_state(string why, CardCase card, string order)
    {
        var sequence = CardSequencer.Of(card);
        Assert.True(Words(sequence) == order, $"{why}: {Words(sequence)}");
        Assert.Empty(CardChecker.Check(card, sequence));
    }

    [Fact]
    public void Somebody_stays_with_a_drain_whose_vessel_is_too_small()
    {
        var plug = Step("plug", 3, MachineState.Isolated, "out") with { Shut = "out" };
        Assert.Equal(2 + 4 + 20 + 3 + 1, CardSequencer.Of(Card(Drain("out", 12, "can"), plug)).Hands);
        Assert.Equal(2 + 4 + 3 + 1, CardSequencer.Of(Card(Drain("out", 10, "can"), plug)).Hands);
    }

    [Fact]
    public void Nobody_locks_a_machine_out_that_hangs_on_its_hydraulics()
    {
        var card = Card(Step("sag") with { State = MachineState.Off, Posture = "hung" }, Step("belts")) with { Hanging = ["hung"] };
        var sequence = CardSequencer.Of(card);
        Assert.Empty(CardChecker.Check(card, sequence));
        var held = Card(Step("belts") with { Posture = "hung" }) with { Hanging = ["hung"] };
        Assert.Throws<CardImpossibleException>(() => CardSequencer.Of(held));
    }

    public static TheoryData<string, CardCase> Impossible =>
        new()
        {
            { "opens what no step shuts", Card(Drain("out", 5)) },
            { "running and cold", Card(Step("cap", 2, MachineState.Running) with { Heat = StepHeat.Cold }) },
            { "running and pan open", Card(Step("look", 2, MachineState.Running) with { Access = "pan" }) },
            {
                "drains with the engine running",
                Card(Drain("out", 5) with { State = MachineState.Running }, Step("plug") with { Shut = "out" })
            },
            { "comes after itself", Card(Step("a", 1, null, "b"), Step("b", 1, null, "a")) },
        };

    [Theory]
    [MemberData(nameof(Impossible))]
    public void A_card_that_has_no_order_says_why(string why, CardCase card) =>
        Assert.Contains(why, Assert.Throws<CardImpossibleException>(() => CardSequencer.Of(card)).Message);

    /// <summary>Cards of every sort: work that wants each state, warmth, posture and access, drains with their plugs and fills.</summary>
    private static readonly Gen<CardCase> Cards = Gen.Select(
        Gen.Select(Gen.Int[0, 3], Gen.Int[0, 5], Gen.Int[0, 3], Gen.Int[1, 15], Gen.Int[0, 20]).Array[1, 8],
        Gen.Select(Gen.Int[1, 40], Gen.Bool, Gen.Bool, Gen.Bool, Gen.Int[1, 25]).Array[0, 4],
        Gen.Bool,
        Gen.Bool,
        (works, drains, oneAtATime, warm) =>
            Card([
                .. works.Select(
                    (x, i) =>
                        new CardStep
                        {
                            Code = "work" + i,
                            Hands = x.Item4,
                            Wait = x.Item2 == 5 ? x.Item5 : 0,
                            State = x.Item2 == 5 ? null : (MachineState)x.Item1,
                            Heat =
                                x.Item2 == 0 ? StepHeat.Warm
                                : x.Item2 == 1 && x.Item1 < 2 ? StepHeat.Cold
                                : null,
                            Posture = x.Item3 == 0 ? "service" : null,
                            Access = x.Item1 == 1 && x.Item3 > 1 ? (x.Item3 == 2 ? "hood" : "pan") : null,
                            After = i > 0 && x.Item2 == 3 ? ["work" + (i - 1)] : [],
                        }
                ),
                .. drains.SelectMany(
                    (x, i) =>
                        new[]
                        {
                            Drain("out" + i, x.Item1, x.Item2 ? "tub" : "can", x.Item3 ? "oil" : "coolant", x.Item5) with
                            {
                                Heat = x.Item4 ? StepHeat.Warm : null,
                                Access = x.Item2 && x.Item4 ? "pan" : null,
                            },
                            Step("plug" + i, 3, MachineState.Isolated, "out" + i) with
                            {
                                Shut = "out" + i,
                            },
                            Step("fill" + i, 6, MachineState.Isolated, "plug" + i) with
                            {
                                Fill = "out" + i,
                            },
                        }
                ),
            ]) with
            {
                OneAtATime = oneAtATime,
                Heat = warm ? StepHeat.Warm : StepHeat.Cold,
            }
    );

    [Fact]
    public void Any_card_is_sound_and_never_slower_than_one_step_after_another() =>
        Cards.Sample(
            card =>
            {
                var sequence = CardSequencer.Of(card, CardSequencer.Quick);
                Assert.Empty(CardChecker.Check(card, sequence));
                Assert.InRange(sequence.Elapsed, sequence.Order.Max(x => x.End - x.Start), sequence.Order.Sum(x => x.End - x.Start));
            },
            iter: 300
        );

    [Fact]
    public void The_checker_finds_a_card_that_is_wrong()
    {
        var card = Cases()
            .Select(x => JobCardCases.Read(new(x, "case")))
            .First(x => x.Steps.Any(y => y.Drain is not null && y.Access is not null));
        var sound = CardSequencer.Of(card);
        for (var i = 0; i < sound.Order.Length; i++)
        {
            // Without it the machine is not where the next step needs it, or the work is not done.
            var without = sound with { Order = sound.Order.RemoveAt(i) };
            Assert.True(CardChecker.Check(card, without).Count > 0, "nobody missed " + sound.Order[i].Code);
            var early = sound with { Order = sound.Order.SetItem(i, sound.Order[i] with { End = sound.Order[i].End - 1 }) };
            Assert.NotEmpty(CardChecker.Check(card, early));
        }
    }
}
