using System.Collections.Immutable;
using Nippers.Core.Fluids;
using Nippers.Core.Jobs;
using Nippers.Core.Parts;
using Nippers.Core.Walk;

namespace Nippers.Core.Tests;

/// <summary>What fits, what an answer comes to, and where a card stands.</summary>
public sealed class JobCardTests
{
    private static readonly DateTimeOffset Done = new(2026, 3, 16, 9, 0, 0, TimeSpan.Zero);

    private static readonly FilterSize Place = new(174, 93, 71, "M24x1.5");

    [Theory]
    [InlineData(174, 93, 71, "M24x1.5", "")]
    [InlineData(179.2, 94.8, 71.5, "m24 X 1,5", "")]
    [InlineData(179.3, 93, 71, "M24x1.5", "Length")]
    [InlineData(168.7, 93, 71, "M24x1.5", "Length")]
    [InlineData(174, 94.9, 71, "M24x1.5", "Outer")]
    [InlineData(174, 93, 71.6, "M24x1.5", "Seal")]
    [InlineData(174, 93, 71, "M24x2", "Thread")]
    [InlineData(100, 50, 40, "M20x1.5", "Length Outer Seal Thread")]
    public void A_filter_is_held_against_its_place(double length, double outer, double seal, string thread, string faults) =>
        Assert.Equal(faults, string.Join(' ', FitCheck.Of(Place, new(length, outer, seal, thread))));

    [Fact]
    public void What_nobody_measured_is_not_judged_and_not_complete()
    {
        Assert.Empty(FitCheck.Of(Place, new()));
        Assert.False(FitCheck.IsComplete(Place, new(174, 93, 71)));
        Assert.True(FitCheck.IsComplete(new(), new()));
    }

    [Theory]
    [InlineData("15W-40: -15..45; 10W-30: -25..20", "15W-40", -7, 16, "15W-40", true, false)]
    [InlineData("15W-40: -15..45; 10W-30: -25..20", "15W-40", -20, 10, "10W-30", true, true)]
    [InlineData("SAE 10W: -20..25; SAE 30: 0..40", "SAE 30", -7, 16, "SAE 10W", true, true)]
    [InlineData("SAE 10W: -20..25; SAE 30: 0..40", "SAE 30", 2, 30, "SAE 30", true, false)]
    [InlineData("HV 46: -15..40", "HV 46", -30, 10, "HV 46", false, true)]
    [InlineData("", "whatever", -30, 10, "whatever", true, false)]
    public void The_fluid_goes_by_the_expected_low(string ranges, string inIt, int low, int high, string take, bool covers, bool leaves) =>
        Assert.Equal(new FluidChoice(take, covers, leaves), FluidChoice.Of(FluidRange.Parse(ranges)!.Value, inIt, low, high));

    [Theory]
    [InlineData("15W-40")]
    [InlineData("15W-40: warm")]
    [InlineData("15W-40: 20..-10")]
    [InlineData("15W-40: -200..10")]
    public void A_range_that_cannot_be_read_is_none(string text) => Assert.Null(FluidRange.Parse(text));

    private static JobStep Of(InputKind ask, double? litres = null, double? capacity = null, int points = 0) =>
        new()
        {
            Code = "x.y",
            Input = ask,
            Words = "",
            Litres = litres,
            Capacity = capacity,
            Points = points,
            Size = ask == InputKind.Filter ? Place : new(),
        };

    public static TheoryData<InputKind, StepAnswer, bool, string> Answers() =>
        new()
        {
            { InputKind.Tick, new TickAnswer(true), true, "" },
            { InputKind.Tick, new TickAnswer(false), false, "Missing" },
            { InputKind.Look, new LookAnswer(false, "guard bent"), true, "Fault" },
            { InputKind.Drained, new DrainedAnswer(24, null, null), true, "" },
            { InputKind.Drained, new DrainedAnswer(22.8, FluidLook.Dark, null), true, "" },
            { InputKind.Drained, new DrainedAnswer(22.7, null, null), false, "AsksWhy" },
            { InputKind.Drained, new DrainedAnswer(26, null, null), false, "AsksWhy" },
            { InputKind.Drained, new DrainedAnswer(26, null, "overfilled last time"), true, "" },
            { InputKind.Drained, new DrainedAnswer(24, FluidLook.Milky, null), true, "BadLook" },
            { InputKind.Drained, new DrainedAnswer(400, null, null), false, "TooMuch" },
            { InputKind.Fill, new FillAnswer(400, null), false, "TooMuch" },
            { InputKind.Fill, new FillAnswer(0, null), false, "Missing" },
            { InputKind.Fill, new FillAnswer(20, null), false, "AsksWhy" },
            { InputKind.Fill, new FillAnswer(23.5, null), true, "" },
            { InputKind.Magnet, new MagnetAnswer(MetalFinding.FinePaste), true, "" },
            { InputKind.Magnet, new MagnetAnswer(MetalFinding.Chunks), true, "Metal" },
            { InputKind.Plug, new PlugAnswer(3, true, true), true, "" },
            { InputKind.Plug, new PlugAnswer(2, true, true), false, "PointsMissing" },
            { InputKind.Plug, new PlugAnswer(3, true, false), false, "Missing" },
            { InputKind.Count, new CountAnswer(2, null), false, "PointsMissing" },
            { InputKind.Count, new CountAnswer(2, "front pin takes none"), true, "Fault" },
            { InputKind.Volts, new VoltsAnswer([12.7, 12.6]), false, "Missing" },
            { InputKind.Volts, new VoltsAnswer([12.7, 12.6, 12.1]), true, "VoltsLow" },
            { InputKind.Water, new WaterAnswer(DrainAmount.Lot), true, "Water" },
            { InputKind.Bottle, new BottleAnswer(null), false, "Missing" },
            { InputKind.Waste, new WasteAnswer("Tideway"), true, "" },
            { InputKind.Filter, Fitted, true, "" },
            { InputKind.Filter, Fitted with { SealOff = false }, false, "SealOrSeat" },
            { InputKind.Filter, Fitted with { Written = false }, false, "Missing" },
            { InputKind.Filter, Fitted with { Size = Place with { LengthMm = 150 } }, false, "FitLength" },
            { InputKind.Filter, Fitted with { Prefilled = true }, true, "FilledThoughDry" },
        };

    private static FilterAnswer Fitted =>
        new()
        {
            Part = "TO7-110",
            Metal = MetalFinding.Clean,
            SealOff = true,
            SeatWiped = true,
            SealOiled = true,
            Turned = true,
            Written = true,
            Size = Place,
        };

    [Theory]
    [MemberData(nameof(Answers))]
    public void An_answer_is_judged(InputKind ask, StepAnswer answer, bool accepted, string remarks)
    {
        var result = StepJudge.Judge(Of(ask, 24, 24.5, 3), answer);

        Assert.Equal((accepted, remarks), (result.Accepted, string.Join(' ', result.Remarks)));
    }

    [Theory]
    [InlineData(24.0, "")]
    [InlineData(22.7, "Leak")]
    public void What_a_sealed_place_lacks_has_leaked_whoever_topped_it_up(double litres, string remarks)
    {
        var step = Of(InputKind.Drained, 24, 24) with { Sealed = true };

        Assert.Equal(remarks, string.Join(' ', StepJudge.Judge(step, new DrainedAnswer(litres)).Remarks));
    }

    // 24.5 L with 1.4 L in the filter, 4 L between the marks; 0.7 L stay in it, as its last changes say.
    private static readonly BalanceInput Change = new()
    {
        Capacity = 24.5m,
        BetweenMarks = 4,
        FilterLitres = 1.4m,
        History = [new(24.5m, 1.4m, 22.4m), new(23.5m, 1.4m, 21.4m)],
        Found = 1,
        LastFull = 24.5m,
    };

    [Theory]
    [InlineData(1.0, 22.4, null, true, "")]
    [InlineData(1.0, 23.1, null, true, "")]
    [InlineData(0.5, 20.4, null, true, "")]
    [InlineData(1.0, 19.0, null, false, "NotAllOut")]
    [InlineData(1.0, 19.0, "tilted, nothing more came", true, "NotAllOut")]
    [InlineData(0.5, 22.4, null, true, "Gained")]
    [InlineData(-0.2, 12.0, null, true, "")]
    [InlineData(null, 12.0, null, true, "")]
    public void What_ran_out_is_held_against_what_was_in_it(double? found, double litres, string? reason, bool accepted, string remarks)
    {
        var result = StepJudge.Judge(
            Of(InputKind.Drained, 22.4, 24.5),
            new DrainedAnswer(litres, null, reason),
            change: Change with
            {
                Found = (decimal?)found,
            }
        );

        Assert.Equal((accepted, remarks), (result.Accepted, string.Join(' ', result.Remarks)));
        Assert.Equal(remarks == "Gained", result.MakesDefect);
    }

    [Theory]
    [InlineData(22.4, 22.4, true, "")]
    [InlineData(22.4, 22.9, false, "Over")]
    [InlineData(22.4, 17.0, false, "Under")]
    [InlineData(19.0, 21.0, true, "Unclear")]
    public void A_sump_is_not_left_over_its_mark_or_under_it(double drained, double filled, bool accepted, string remarks)
    {
        var result = StepJudge.Judge(
            Of(InputKind.Fill, 22.4, 24.5),
            new FillAnswer(filled),
            change: Change with
            {
                Drained = (decimal)drained,
            }
        );

        Assert.Equal((accepted, remarks), (result.Accepted, string.Join(' ', result.Remarks)));
    }

    [Fact]
    public void A_reason_does_not_start_an_engine_on_an_overfull_sump() =>
        Assert.False(
            StepJudge
                .Judge(Of(InputKind.Fill, 22.4, 24.5), new FillAnswer(26, "the pail said so"), change: Change with { Drained = 22.4m })
                .Accepted
        );

    [Fact]
    public void A_level_is_true_when_its_wait_is_over_and_a_card_takes_its_time()
    {
        var card = JobCardMaker.Make(
            Input(Oil) with
            {
                Templates =
                [
                    .. Table,
                    Line("Fluid", "settle", InputKind.Tick, "15", "card.leaks", more: "still"),
                    Line("Fluid", "recheck", InputKind.Level, after: "settle"),
                ],
            }
        );
        var recheck = card.Steps.Single(x => x.Code == "engine-oil.recheck");
        Assert.Null(State(card).TrueFrom(recheck));
        Assert.Equal(Done.AddMinutes(15), State(card, "engine-oil.settle").TrueFrom(recheck));

        var all = State(card, [.. card.Steps.Select(x => x.Code).Where(x => x != recheck.Code)]);
        Assert.True(all.TooQuick((int)(all.HandsDone * 0.4) - 1));
        Assert.False(all.TooQuick((int)Math.Ceiling(all.HandsDone * 0.4)));
    }

    [Fact]
    public void The_total_is_held_against_the_capacity()
    {
        var step = Of(InputKind.Level, 1.4, 24.5);

        Assert.True(StepJudge.Judge(step, new LevelStepAnswer(1, Litres: 1.4), filled: 23.1).Accepted);
        Assert.Equal([StepRemark.AsksWhy], StepJudge.Judge(step, new LevelStepAnswer(1, Litres: 4), filled: 23.1).Remarks);
    }

    [Fact]
    public void Pressure_that_comes_late_is_said()
    {
        var step = Of(InputKind.Pressure) with { Seconds = 8 };

        Assert.Empty(StepJudge.Judge(step, new PressureAnswer(8)).Remarks);
        Assert.Equal([StepRemark.PressureLate], StepJudge.Judge(step, new PressureAnswer(9)).Remarks);
    }

    // A small card: oil with its filter, by a table as short as can be.
    private static readonly ImmutableArray<StepTemplate> Table =
    [
        Line("card", "tools", InputKind.Tick, after: "@isolated"),
        Line("card", "pressure", InputKind.Pressure, after: "@opened", when: "engineopen", state: MachineState.Running),
        Line("card", "leaks", InputKind.Look, after: "@opened card.pressure", when: "runs", state: MachineState.Running),
        Line("Fluid", "drain", InputKind.Tick, "{drain}", touches: "drain plug of {place}", more: "drain=own", heat: "{hot}"),
        Line("Fluid", "drained", InputKind.Drained, after: "drain"),
        Line("Fluid", "plug", InputKind.Plug, after: "drained", more: "shut=own"),
        Line("Fluid", "filter", InputKind.Filter, after: "drain", when: "filters"),
        Line("Fluid", "fill", InputKind.Fill, after: "plug filter", touches: "funnel", more: "fill=own"),
        Line("Check", "check", InputKind.Look),
    ];

    private static readonly ImmutableArray<BetweenRule> Between =
    [
        .. new[] { "isolate", "release", "start", "stop", "clear", "warmUp", "coolDown", "move", "empty", "warmLasts" }.Select(
            x => new BetweenRule(x, x, x == "warmLasts" ? 45 : 3, x == "isolate" ? ["my lock on", "starter tried"] : [], "")
        ),
    ];

    private static StepTemplate Line(
        string work,
        string key,
        InputKind ask,
        string wait = "",
        string after = "",
        string touches = "",
        string when = "",
        string more = "",
        string heat = "",
        MachineState state = MachineState.Isolated
    ) => new(work, key, state, heat, ask, $"{{place}} {key}", "2", wait, after, StepTraits.Parse(more), touches, when, [], "", "");

    private static JobInput Input(params JobItem[] items) =>
        new()
        {
            Items = [.. items],
            Places = ImmutableDictionary<string, JobPlace>.Empty.Add(
                "engine",
                new("engine", "Engine", "engine")
                {
                    Capacity = 24.5,
                    FilterLitres = 1.4,
                    DrainMinutes = 20,
                }
            ),
            Filters =
            [
                new("oil-filter", "Oil filter", "engine-oil", "TO7-110", [], Place, PrefillRule.DirtySide, TurnRule.ThreeQuarters, 1.4),
            ],
            Vessels = [new("Pan", 30, "oil"), new("Tub", 60, "coolant")],
            Templates = Table,
            Between = Between,
        };

    private static readonly JobItem Oil = new("engine-oil", "Engine oil", ItemWork.Fluid, "engine", 5);
    private static readonly JobItem Guard = new("guard", "Guards", ItemWork.Check, "", 5, Access: "belly-pan");

    private static JobState State(JobCard card, params string[] done) => StateOf(card, [], done);

    private static JobState StateOf(JobCard card, string[] left, params string[] done)
    {
        var answers = done.ToDictionary(
            x => x,
            StepAnswer (x) =>
                (
                    (StepAnswer)(
                        card.Steps.Single(s => s.Code == x).Input switch
                        {
                            InputKind.Plug => new PlugAnswer(1, true, true),
                            InputKind.Drained => new DrainedAnswer(23.1, null, null),
                            InputKind.Fill => new FillAnswer(23.1, null),
                            InputKind.Filter => Fitted,
                            InputKind.Touched => new TouchedAnswer(["drain plug of Engine", "drain plug of Final drive, left", "funnel"]),
                            InputKind.Look => new LookAnswer(true),
                            InputKind.Pressure => new PressureAnswer(3),
                            InputKind.Level => new LevelStepAnswer(1),
                            _ => new TickAnswer(true),
                        }
                    )
                ) with
                {
                    Ticked = card.Steps.Single(s => s.Code == x).Parts,
                }
        );
        return new(card.Steps, answers, done.ToDictionary(x => x, _ => Done), left.ToHashSet());
    }

    private static string[] Codes(JobCard card) => [.. card.Steps.Select(x => x.Code)];

    private static JobStep Of(JobCard card, string code) => card.Steps.Single(x => x.Code == code);

    [Fact]
    public void A_card_holds_its_items_steps_with_this_machines_figures_and_what_lies_between()
    {
        var card = JobCardMaker.Make(Input(Oil, Guard));

        Assert.Equal(["between.start", "between.warmUp", "between.stop", "between.isolate", "engine-oil.drain"], Codes(card).Take(5));
        Assert.Equal(["between.release", "between.start-2", "card.pressure", "card.leaks", "between.stop-2"], Codes(card).TakeLast(5));
        Assert.Equal(1, card.Lockouts);
        Assert.Equal(23.1, Of(card, "engine-oil.fill").Litres!.Value, 1e-6);
        Assert.Equal(("Pan", 30.0), (Of(card, "engine-oil.drain").Vessel, Of(card, "engine-oil.drain").VesselLitres!.Value));
        Assert.Equal("TO7-110", card.Steps.Single(x => x.Input == InputKind.Filter).Part);
        Assert.Contains("engine-oil.filter-oil-filter", Of(card, "engine-oil.fill").After);
        Assert.Equal(card.Order.Select(x => x.Code), Codes(card));
        Assert.Equal(card.Hands, card.Steps.Sum(x => x.Minutes));
        Assert.True(card.OneAfterAnother >= card.Elapsed);
    }

    [Fact]
    public void A_card_of_nothing_is_empty() => Assert.Empty(JobCardMaker.Make(Input()).Steps);

    [Fact]
    public void Work_that_is_added_gets_names_that_no_step_has()
    {
        var first = JobCardMaker.Make(Input(Guard));
        var second = JobCardMaker.Make(Input(Guard with { Code = "guard2" }) with { Taken = [.. Codes(first)] });

        Assert.Empty(Codes(first).Intersect(Codes(second)));
        Assert.Contains("card.tools-2", Codes(second));
        Assert.Equal(
            ["guard2.check", "between.open-belly-pan-2"],
            Of(second, "card.tools-2").After.Take(1).Append("between.open-belly-pan-2")
        );
    }

    [Fact]
    public void What_several_need_open_is_opened_once_and_shut_once_before_the_locks_come_off()
    {
        var rule = new AccessRule("belly-pan", "Pan down", "Pan up", 8, 8, false, "");
        var card = JobCardMaker.Make(Input(Guard, Guard with { Code = "guard2" }) with { Accesses = [rule] });

        Assert.Single(card.Steps, x => x.Between == CardBetween.Open);
        var shut = Assert.Single(card.Steps, x => x.Between == CardBetween.Shut);
        Assert.True(card.Steps.IndexOf(shut) < card.Steps.ToList().FindIndex(x => x.Between == CardBetween.Release));
        Assert.Equal(2 + 2 + 2 + 16 + 6, card.Hands);

        // Left: what was to be opened for it needs neither opening nor shutting.
        var state = StateOf(card, ["guard", "guard2"]);
        Assert.All(card.Steps.Where(x => x.Access.Length > 0), x => Assert.True(state.IsLeft(x), x.Code));
        Assert.False(StateOf(card, ["guard"]).IsLeft(shut));

        // Opened already: it is shut, whatever became of the work that it was opened for.
        var open = card.Steps.Single(x => x.Between == CardBetween.Open);
        var opened = StateOf(card, ["guard", "guard2"], [.. card.Steps.Take(card.Steps.IndexOf(open) + 1).Select(x => x.Code)]);
        Assert.True(opened.IsOpen(shut));
        Assert.Contains(shut, opened.BlockedBy(card.Steps.First(x => x.Between == CardBetween.Release)));
    }

    [Fact]
    public void Bands_are_the_card_in_one_state_after_the_other()
    {
        var card = JobCardMaker.Make(Input(Oil, Guard));
        var bands = CardBand.Of(card.Steps);

        Assert.Equal(Codes(card), bands.SelectMany(x => x.Steps).Select(x => x.Code));
        Assert.Equal([MachineState.Running, MachineState.Isolated, MachineState.Running], bands.Select(x => x.State));
    }

    [Fact]
    public void No_state_is_left_before_its_work_is_done_and_none_is_entered_early()
    {
        var card = JobCardMaker.Make(Input(Oil, Guard));
        for (var i = 0; i < card.Steps.Length; i++)
        {
            var (step, before) = (card.Steps[i], Codes(card).Take(i).ToArray());
            var state = State(card, before);
            Assert.Empty(state.BlockedBy(step));
            Assert.Equal(step.Code, state.Next?.Code);
            if (step.IsBoundary && i > 0)
                Assert.Contains(card.Steps[i - 1], State(card, before[..^1]).BlockedBy(step));
        }

        Assert.Contains(State(card).BlockedBy(Of(card, "guard.check")), x => x.Between == CardBetween.Isolate);
        Assert.Equal(MachineState.Off, State(card).Now);
        Assert.Equal(MachineState.Running, State(card, "between.start").Now);
        Assert.Equal(MachineState.Isolated, State(card, "between.start", "between.stop", "between.isolate").Now);
    }

    [Fact]
    public void What_a_step_consists_of_is_ticked_each()
    {
        var isolate = JobCardMaker.Make(Input(Guard)).Steps[0];

        Assert.False(StepJudge.Judge(isolate, new TickAnswer(true)).Accepted);
        Assert.False(StepJudge.Judge(isolate, new TickAnswer(true) { Ticked = ["my lock on"] }).Accepted);
        Assert.True(StepJudge.Judge(isolate, new TickAnswer(true) { Ticked = ["starter tried", "my lock on"] }).Accepted);
    }

    [Theory]
    [InlineData(1.0, true)]
    [InlineData(0.0, true)]
    [InlineData(1.05, false)]
    [InlineData(-0.1, false)]
    [InlineData(null, false)]
    public void Nothing_is_started_on_a_level_that_is_over_or_under_its_marks_or_that_nobody_read(double? level, bool starts) =>
        Assert.Equal(starts, StepJudge.Judge(Of(InputKind.Level) with { BeforeRun = true }, new LevelStepAnswer(level)).Accepted);

    [Fact]
    public void A_card_that_no_order_satisfies_says_so() =>
        Assert.Throws<CardImpossibleException>(() =>
            JobCardMaker.Make(Input(Oil) with { Templates = [Line("Fluid", "drain", InputKind.Tick, "5", more: "drain=own")] })
        );

    [Theory]
    [InlineData("drain=own still", "own", true)]
    [InlineData("", "", false)]
    public void Traits_are_read_from_words(string words, string opens, bool still) =>
        Assert.Equal((opens, still), (StepTraits.Parse(words).Opens, StepTraits.Parse(words).Still));

    [Fact]
    public void A_word_that_is_no_trait_is_refused() => Assert.Throws<FormatException>(() => StepTraits.Parse("drian=own"));

    [Fact]
    public void Coolant_never_goes_into_the_oil_pan()
    {
        var input = Input(Oil, new("coolant", "Coolant", ItemWork.Fluid, "cooling", 5));
        var card = JobCardMaker.Make(
            input with
            {
                Places = input.Places.Add(
                    "cooling",
                    new("cooling", "Cooling", "cooling")
                    {
                        Capacity = 20,
                        DrainMinutes = 10,
                        Stream = "coolant",
                    }
                ),
            }
        );

        Assert.Equal("Tub", card.Steps.Single(x => x.Code == "coolant.drain").Vessel);
    }

    [Fact]
    public void An_open_drain_is_a_running_clock_until_its_plug_is_home()
    {
        var card = JobCardMaker.Make(Input(Oil));

        var open = Assert.Single(State(card, "engine-oil.drain").OpenDrains);
        Assert.Equal(Done.AddMinutes(20), open.Over);
        Assert.Empty(State(card, "engine-oil.drain", "engine-oil.drained", "engine-oil.plug").OpenDrains);
    }

    [Fact]
    public void No_refill_before_the_plug_and_no_start_before_the_fill()
    {
        var card = JobCardMaker.Make(Input(Oil));
        var drained = State(card, "engine-oil.drain", "engine-oil.drained");
        var release = Of(card, "between.release");

        Assert.Contains(drained.BlockedBy(Of(card, "engine-oil.fill")), x => x.Code == "engine-oil.plug");
        Assert.Contains(drained.BlockedBy(release), x => x.Input == InputKind.Fill);
        Assert.Contains(drained.BlockedBy(Of(card, "between.start-2")), x => x.Code == release.Code);
    }

    [Fact]
    public void Locks_stay_on_until_all_else_is_done_or_left()
    {
        var card = JobCardMaker.Make(Input(Oil, Guard));
        var release = Of(card, "between.release");
        string[] all = [.. Codes(card).TakeWhile(x => x != release.Code)];

        Assert.Equal(["card.tools"], State(card, [.. all.Where(x => x != "card.tools")]).BlockedBy(release).Select(x => x.Code));
        Assert.Empty(State(card, all).BlockedBy(release));
        Assert.Empty(StateOf(card, ["guard"], [.. all.Where(x => x != "guard.check")]).BlockedBy(release));
    }

    [Fact]
    public void Everything_touched_is_listed_before_the_locks_come_off_what_was_only_begun_too()
    {
        var card = JobCardMaker.Make(Input(Oil));
        var release = Of(card, "between.release");

        Assert.Equal(["drain plug of Engine", "funnel"], State(card, "engine-oil.drain", "engine-oil.fill").TouchedBefore(release));

        // A filter that was refused has its housing open all the same.
        var filter = card.Steps.Single(x => x.Input == InputKind.Filter) with { Touches = "filter housing" };
        var begun = new JobState(
            card.Steps.SetItem(card.Steps.ToList().FindIndex(x => x.Input == InputKind.Filter), filter),
            new Dictionary<string, StepAnswer> { [filter.Code] = Fitted with { SealOff = false } },
            new Dictionary<string, DateTimeOffset>(),
            new HashSet<string> { filter.Item }
        );
        Assert.Equal(["filter housing"], begun.TouchedBefore(release));
    }

    [Fact]
    public void What_was_touched_keeps_the_whole_of_its_name()
    {
        var card = JobCardMaker.Make(
            Input(Oil) with
            {
                Places = Input(Oil).Places.SetItem("engine", new("engine", "Final drive, left", "engine")),
            }
        );

        Assert.Contains("drain plug of Final drive, left", State(card, "engine-oil.drain").TouchedBefore(Of(card, "between.release")));
    }

    [Fact]
    public void A_card_is_not_closed_with_an_open_drain_or_an_empty_compartment()
    {
        var card = JobCardMaker.Make(Input(Oil, Guard));
        CloseFault[] Faults(JobState state) => [.. state.CloseFaults.Select(x => x.Fault).Distinct()];

        Assert.Equal(CloseFault.OpenDrain, Faults(State(card, "engine-oil.drain"))[0]);
        Assert.Equal(CloseFault.Unfilled, Faults(State(card, "engine-oil.drain", "engine-oil.drained", "engine-oil.plug"))[0]);
        Assert.Empty(Faults(State(card, [.. card.Steps.Select(x => x.Code)])));
        Assert.Empty(Faults(StateOf(card, ["guard"], [.. card.Steps.Select(x => x.Code).Where(x => x != "guard.check")])));
    }

    [Fact]
    public void What_an_item_opened_is_shut_and_filled_though_it_is_left()
    {
        var card = JobCardMaker.Make(Input(Oil, Guard));
        var state = StateOf(card, ["engine-oil"], "engine-oil.drain");

        Assert.True(state.IsOpen(Of(card, "engine-oil.plug")) && state.IsOpen(Of(card, "engine-oil.fill")));
        Assert.True(state.IsLeft(Of(card, "engine-oil.drained")));
        Assert.True(StateOf(card, ["engine-oil"]).IsLeft(Of(card, "engine-oil.plug")));
    }

    [Fact]
    public void Looks_of_one_state_can_be_taken_together_and_what_is_done_in_the_cab_is_one_go()
    {
        var card = JobCardMaker.Make(Input(Oil, Guard, Guard with { Code = "guard2" }, Guard with { Code = "named", Qualified = true }));
        var open = State(card, [.. Codes(card).TakeWhile(x => !x.EndsWith(".check", StringComparison.Ordinal))]);

        Assert.Equal(["guard2.check"], open.Beside(Of(card, "guard.check")).Select(x => x.Code));
        Assert.Empty(open.Beside(Of(card, "named.check")));
        Assert.Empty(State(card).Beside(Of(card, "guard.check")));
        Assert.Equal(["between.start", "between.warmUp", "between.stop"], State(card).Go(Of(card, "between.start")).Select(x => x.Code));
        Assert.Equal(["guard.check"], open.Go(Of(card, "guard.check")).Select(x => x.Code));
    }

    [Fact]
    public void Coolant_waits_for_the_clock_after_a_stop_and_for_no_clock_before_one()
    {
        var card = JobCardMaker.Make(Input(Oil));
        var opens = Of(card, "engine-oil.drain") with { Cool = true };

        Assert.Null(State(card).CoolFrom(opens, 90));
        Assert.Equal(Done.AddMinutes(90), State(card, "between.start", "between.stop").CoolFrom(opens, 90));
        Assert.Null(State(card, "between.start", "between.stop").CoolFrom(Of(card, "engine-oil.drain"), 90));
    }

    [Fact]
    public void What_is_open_now_and_what_runs_now_are_said()
    {
        var card = JobCardMaker.Make(Input(Oil));

        Assert.Empty(State(card).OpenNow);
        Assert.Equal(["drain plug of Engine"], State(card, "engine-oil.drain").OpenNow);
        Assert.Equal("between.warmUp", Assert.Single(State(card, "between.start", "between.warmUp").Settling).Step.Code);
        Assert.Empty(State(card, "between.start", "between.warmUp", "engine-oil.drain").Settling);
    }

    [Fact]
    public void Of_several_filters_of_an_item_the_last_one_shuts_what_was_opened_for_them()
    {
        var item = new JobItem("return", "Return filters", ItemWork.Filter, "engine", 8);
        var card = JobCardMaker.Make(
            Input(item) with
            {
                Filters =
                [
                    .. "cab"
                        .Select(x => x.ToString())
                        .Select(x => new JobFilter(x, x, "return", "TO7-1", [], Place, PrefillRule.Dry, TurnRule.OneTurn)),
                ],
                Templates =
                [
                    Line("Filter", "lower", InputKind.Drained, more: "drain=own"),
                    Line("Filter", "filter", InputKind.Filter, after: "lower", more: "shut=own"),
                    Line("Filter", "top", InputKind.Fill, after: "filter", more: "fill=own"),
                ],
            }
        );

        Assert.Equal(
            ["return.lower", "return.filter-c", "return.filter-a", "return.filter-b", "return.top"],
            Codes(card).Where(x => x.StartsWith("return.", StringComparison.Ordinal))
        );
        Assert.Equal("return.filter-b", Assert.Single(card.Steps, x => x.Shuts == "return").Code);
    }

    [Fact]
    public void A_step_whose_place_has_passed_is_not_done_in_another_state()
    {
        // Left, and taken up again while the engine runs.
        var card = JobCardMaker.Make(Input(Oil, Guard));
        var check = Of(card, "guard.check");
        string[] done = [.. Codes(card).TakeWhile(x => x != "card.leaks").Where(x => x != check.Code)];
        var running = State(card, done);

        Assert.Equal(MachineState.Running, running.Now);
        Assert.True(running.HasPassed(check));
        Assert.NotEmpty(running.BlockedBy(check));
        Assert.NotEqual(check.Code, running.Next?.Code);

        var locked = State(card, [.. Codes(card).TakeWhile(x => x != "between.release").Where(x => x != check.Code)]);
        Assert.False(locked.HasPassed(check));
        Assert.Empty(locked.BlockedBy(check));
    }
}
