using System.Collections.Immutable;
using CsCheck;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Walk;

namespace Nippers.Core.Tests;

public sealed class WalkRuleTests
{
    private static WalkCheck Check(string code, CheckKind kind = CheckKind.Look, string station = "left") =>
        new()
        {
            Code = code,
            Name = code,
            Station = station,
            Kind = kind,
            Grade = DefectGrade.Limit,
        };

    private static readonly WalkCheck Oil = Check("oil", CheckKind.Level) with { MarkLitres = 4, Fluid = FluidUse.EngineOil };

    [Theory]
    [InlineData(0.5, null, FluidLook.Dark, false, CheckOutcome.Ok, CheckReason.WithinLimits, 2.0)]
    [InlineData(0, null, FluidLook.Clear, false, CheckOutcome.Ok, CheckReason.WithinLimits, 4.0)]
    [InlineData(1, null, FluidLook.Clear, false, CheckOutcome.Ok, CheckReason.WithinLimits, 0.0)]
    [InlineData(-0.2, null, FluidLook.Clear, false, CheckOutcome.Fault, CheckReason.BelowLow, 4.8)]
    [InlineData(-0.2, 3.0, FluidLook.Clear, false, CheckOutcome.Watch, CheckReason.ToppedUp, 4.8)]
    [InlineData(-0.2, 0.5, FluidLook.Clear, false, CheckOutcome.Fault, CheckReason.BelowLow, 4.8)]
    [InlineData(1.15, null, FluidLook.Clear, true, CheckOutcome.Fault, CheckReason.AboveHigh, 0.0)]
    [InlineData(1.15, null, FluidLook.Clear, false, CheckOutcome.Fault, CheckReason.AboveHighUnexplained, 0.0)]
    [InlineData(0.5, null, FluidLook.Milky, false, CheckOutcome.Fault, CheckReason.Milky, 2.0)]
    [InlineData(0.5, null, FluidLook.Gritty, true, CheckOutcome.Fault, CheckReason.Gritty, 2.0)]
    public void A_level_is_judged_by_where_it_stands_how_it_looks_and_what_explains_it(
        double level,
        double? added,
        FluidLook look,
        bool explained,
        CheckOutcome outcome,
        CheckReason reason,
        double add
    )
    {
        var result = CheckJudge.Judge(Oil, new LevelAnswer(level, look, added), new CheckContext { Explained = explained });
        Assert.Equal((outcome, reason), (result.Outcome, result.Reason));
        Assert.Equal(add, result.AddLitres!.Value, 1e-9);
    }

    [Fact]
    public void Oil_above_high_without_a_reason_and_milky_oil_stop_the_machine()
    {
        Assert.Equal(DefectGrade.Stop, CheckJudge.Judge(Oil, new LevelAnswer(1.2, FluidLook.Clear)).Grade);
        Assert.Equal(DefectGrade.Stop, CheckJudge.Judge(Oil, new LevelAnswer(0.5, FluidLook.Milky)).Grade);
        Assert.Equal(DefectGrade.Stop, CheckJudge.Judge(Oil, new LevelAnswer(-0.2, FluidLook.Clear)).Grade);
    }

    [Fact]
    public void Any_top_up_of_a_sealed_drive_is_a_leak_and_its_marks_are_not_needed()
    {
        var result = CheckJudge.Judge(Oil with { Sealed = true, MarkLitres = null }, new LevelAnswer(0.5, FluidLook.Clear, 0.2));
        Assert.Equal((CheckOutcome.Fault, CheckReason.SealedLeak, null), (result.Outcome, result.Reason, result.AddLitres));
    }

    [Fact]
    public void A_reading_in_the_wrong_posture_is_kept_and_not_used_but_milk_stays_milk()
    {
        Assert.Equal(CheckOutcome.NotUsed, CheckJudge.Judge(Oil, new LevelAnswer(-0.5, FluidLook.Clear) { WrongPosture = true }).Outcome);
        Assert.Equal(CheckReason.Milky, CheckJudge.Judge(Oil, new LevelAnswer(-0.5, FluidLook.Milky) { WrongPosture = true }).Reason);
    }

    // 24 V set: under 24.8 watch, under 24.4 a fault; air restriction over 6.2 kPa a fault.
    [Theory]
    [InlineData(24.4, 24.8, null, 24.8, CheckOutcome.Ok, CheckReason.WithinLimits)]
    [InlineData(24.4, 24.8, null, 24.7, CheckOutcome.Watch, CheckReason.NearLimit)]
    [InlineData(24.4, 24.8, null, 24.4, CheckOutcome.Watch, CheckReason.NearLimit)]
    [InlineData(24.4, 24.8, null, 24.3, CheckOutcome.Fault, CheckReason.UnderLimit)]
    [InlineData(null, null, 6.2, 6.2, CheckOutcome.Ok, CheckReason.WithinLimits)]
    [InlineData(null, null, 6.2, 6.3, CheckOutcome.Fault, CheckReason.OverLimit)]
    [InlineData(null, null, null, 6.3, CheckOutcome.NotJudged, CheckReason.NoLimit)]
    public void A_measure_is_held_against_its_limits(
        double? low,
        double? watch,
        double? high,
        double value,
        CheckOutcome outcome,
        CheckReason reason
    )
    {
        var result = CheckJudge.Judge(
            Check("m", CheckKind.Measure) with
            {
                Low = low,
                WatchBelow = watch,
                High = high,
            },
            new MeasureAnswer([value])
        );
        Assert.Equal((outcome, reason, value), (result.Outcome, result.Reason, result.Value!.Value));
    }

    [Theory]
    [InlineData(30, 34, 38, CheckOutcome.Ok, SagAdvice.None, 34.0)]
    [InlineData(50, 52, 54, CheckOutcome.Fault, SagAdvice.GreaseIn, 52.0)]
    [InlineData(10, 12, 14, CheckOutcome.Fault, SagAdvice.GreaseOut, 12.0)]
    public void Sag_is_the_mean_of_the_dips_and_advises_grease_in_or_out(
        double a,
        double b,
        double c,
        CheckOutcome outcome,
        SagAdvice advice,
        double mean
    )
    {
        var result = CheckJudge.Judge(
            Check("sag", CheckKind.Measure) with
            {
                Sag = true,
                Figures = 3,
                Low = 20,
                High = 50,
            },
            new MeasureAnswer([a, b, c])
        );
        Assert.Equal((outcome, advice, mean), (result.Outcome, result.Advice, result.Value));
    }

    [Theory]
    [InlineData("good good good", CheckOutcome.Ok)]
    [InlineData("good open good", CheckOutcome.Unfinished)]
    [InlineData("good later good", CheckOutcome.Unfinished)]
    [InlineData("good bad later", CheckOutcome.Fault)]
    [InlineData("seized good good", CheckOutcome.Fault)]
    public void Points_are_done_when_each_is_and_one_bad_one_fails(string states, CheckOutcome outcome) =>
        Assert.Equal(
            outcome,
            CheckJudge
                .Judge(
                    Check("g", CheckKind.Grease),
                    new PointsAnswer([.. states.Split(' ').Select(x => Enum.Parse<PointState>(x, ignoreCase: true))])
                )
                .Outcome
        );

    [Fact]
    public void Known_codes_do_not_fail_again_and_new_ones_do()
    {
        var check = Check("codes", CheckKind.Code);
        var known = new CheckContext { KnownCodes = new HashSet<FaultCode> { new(97, 1) } };
        Assert.Equal(CheckOutcome.Watch, CheckJudge.Judge(check, new CodesAnswer([new(97, 1)]), known).Outcome);
        Assert.Equal(CheckOutcome.Fault, CheckJudge.Judge(check, new CodesAnswer([new(97, 1), new(107, 0)]), known).Outcome);
        Assert.Equal(CheckOutcome.Ok, CheckJudge.Judge(check, CheckAnswer.Plain, known).Outcome);
    }

    [Theory]
    [InlineData("100/1", 100, 1)]
    [InlineData("SPN 1761 FMI 17", 1761, 17)]
    [InlineData(" spn97-fmi 31 ", 97, 31)]
    public void Fault_codes_are_read_as_displays_write_them(string text, int spn, int fmi) =>
        Assert.Equal(new FaultCode(spn, fmi), FaultCode.Parse(text));

    [Theory]
    [InlineData("100")]
    [InlineData("100/32")]
    [InlineData("524288/1")]
    [InlineData("a/b")]
    [InlineData("")]
    [InlineData(null)]
    public void What_is_no_code_is_none(string? text) => Assert.Null(FaultCode.Parse(text));

    [Fact]
    public void Safety_raises_whatever_the_list_says_and_an_answer_that_does_not_fit_is_thrown_out()
    {
        var brake = Check("b", CheckKind.Test) with { Grade = DefectGrade.Watch, Safety = SafetyPart.Brakes };
        Assert.Equal(DefectGrade.Stop, CheckJudge.Judge(brake, new SeenAnswer(false)).Grade);
        Assert.Equal(CheckOutcome.LeftOut, CheckJudge.Judge(brake, new LeftOutAnswer("no room")).Outcome);
        Assert.Throws<ArgumentException>(() => CheckJudge.Judge(Oil, new MeasureAnswer([3])));
    }

    [Theory]
    [InlineData(Cadence.EveryWalk, WalkRound.Whole, 999.0, true)]
    [InlineData(Cadence.EveryWalk, WalkRound.Second, 999.0, false)]
    [InlineData(Cadence.TwiceAShift, WalkRound.Second, 999.0, true)]
    [InlineData(Cadence.Every50Hours, WalkRound.Whole, 955.0, true)]
    [InlineData(Cadence.Every50Hours, WalkRound.Whole, 955.1, false)]
    [InlineData(Cadence.Every50Hours, WalkRound.Whole, null, true)]
    [InlineData(Cadence.Every250Hours, WalkRound.Whole, 775.0, true)]
    [InlineData(Cadence.Every250Hours, WalkRound.Whole, 775.1, false)]
    [InlineData(Cadence.OnSign, WalkRound.Whole, null, false)]
    public void A_walk_holds_what_is_due_on_it(Cadence cadence, WalkRound round, double? last, bool due) =>
        Assert.Equal(
            due,
            WalkRoute.IsDue(Check("c") with { Cadence = cadence }, round, last is { } h ? MeterHours.Of(h) : null, MeterHours.Of(1000))
        );

    private static readonly CheckList List = new(
        [
            new("ground", "Ground", 0, 0),
            new("left", "Left", 0, 0),
            new("top", "Top", 0, 0, StationHeight.OnTop),
            new("right", "Right", 0, 0),
            new("cab", "Cab", 0, 0, StationHeight.Cab),
        ],
        [new("levels", "for levels", ""), new("grease", "for greasing", "")],
        [],
        []
    );

    [Fact]
    public void The_route_goes_off_key_running_by_posture_one_way_round_climbing_once()
    {
        WalkCheck[] checks =
        [
            Check("horn", station: "cab") with
            {
                Engine = EngineState.KeyOn,
            },
            Check("brake", station: "cab") with
            {
                Engine = EngineState.Running,
            },
            Check("steps", station: "top"),
            Check("belt", station: "cab"),
            Check("tyre-right", station: "right"),
            Check("tyre-left", station: "left"),
            Check("leak", station: "ground"),
            Check("pins", station: "left") with
            {
                Posture = "grease",
            },
            Check("oil", station: "right") with
            {
                Posture = "levels",
            },
        ];
        var list = List with { Checks = [.. checks] };
        Assert.Equal(
            [
                "isolate",
                "off-ground",
                "off-left",
                "off-right",
                "off-top",
                "off-cab",
                "move-off-grease",
                "off-grease-left",
                "release",
                "key-cab",
                "run-cab",
            ],
            WalkRoute.Steps(list, checks).Select(x => x.Code)
        );
        Assert.Equal(
            ["isolate", "off-left", "release"],
            WalkRoute.Steps(list, checks.Where(x => x.Code == "tyre-left")).Select(x => x.Code)
        );
        Assert.Equal(["key-cab"], WalkRoute.Steps(list, checks.Where(x => x.Code == "horn")).Select(x => x.Code));
        Assert.Empty(WalkRoute.Steps(list, []));
    }

    [Fact]
    public void Every_check_stands_on_the_route_once_and_phases_never_go_back()
    {
        var gen = Gen.Select(
            Gen.OneOf(Gen.Const("ground"), Gen.Const("left"), Gen.Const("top"), Gen.Const("right"), Gen.Const("cab")),
            Gen.Enum<EngineState>(),
            Gen.OneOf(Gen.Const(""), Gen.Const("levels"), Gen.Const("grease"))
        ).Array[0, 30];
        gen.Sample(picks =>
        {
            var checks = picks.Select((x, i) => Check($"c{i}", station: x.Item1) with { Engine = x.Item2, Posture = x.Item3 }).ToList();
            var steps = WalkRoute.Steps(List with { Checks = [.. checks] }, checks);
            Assert.Equal(checks.Select(x => x.Code).Order(), steps.SelectMany(x => x.Checks).Select(x => x.Code).Order());
            Assert.Equal(steps.Length, steps.Select(x => x.Code).Distinct().Count());
            var engines = steps.Where(x => x.Kind == StepKind.Station).Select(x => x.Engine).ToList();
            Assert.Equal(engines.Order(), engines);
            Assert.Equal(checks.Exists(x => x.Engine == EngineState.Off) ? 1 : 0, steps.Count(x => x.Kind == StepKind.Isolate));
            Assert.Equal(steps.Count(x => x.Kind == StepKind.Isolate), steps.Count(x => x.Kind == StepKind.Release));
        });
    }

    [Theory]
    [InlineData(188, 47, false)]
    [InlineData(187, 47, true)]
    [InlineData(5, 0, false)]
    public void Faster_than_four_seconds_a_check_is_too_quick(int seconds, int answered, bool tooQuick) =>
        Assert.Equal(tooQuick, Pace.TooQuick(TimeSpan.FromSeconds(seconds), answered));

    [Theory]
    [InlineData(32, 32, 12, 0.0)]
    [InlineData(32, 22, 12, 0.5)]
    [InlineData(32, 10, 12, 1.1)]
    [InlineData(5, 8, 10, 0.6)]
    [InlineData(5, 8, 5, null)]
    public void A_worn_share_counts_from_new_to_the_limit(double asNew, double measured, double limit, double? share) =>
        Assert.Equal(share, WearPart.Share(asNew, measured, limit));

    [Theory]
    [InlineData("1000:30 1024:28", 12, null)]
    [InlineData("1000:30 1025:27.5", 12, 1180.0)]
    [InlineData("1000:30 1100:20", 12, 1180.0)]
    [InlineData("1000:30 1100:30", 12, null)]
    [InlineData("1000:20 1100:30", 12, null)]
    [InlineData("1000:10 1100:8", 12, null)]
    [InlineData("1000:12 1100:6", 12, 1000.0)]
    [InlineData("1000:30", 12, null)]
    public void A_limit_is_reached_where_the_line_through_the_measures_meets_it(string points, double limit, double? at)
    {
        var measures = points
            .Split(' ')
            .Select(x => x.Split(':'))
            .Select(x => new WearMeasure(
                MeterHours.Of(double.Parse(x[0], System.Globalization.CultureInfo.InvariantCulture)),
                double.Parse(x[1], System.Globalization.CultureInfo.InvariantCulture)
            ))
            .ToList();
        Assert.Equal(at, WearPart.LimitAt(measures, limit) is { } found ? Math.Round(found, 6) : null);
    }

    [Fact]
    public void Points_on_a_line_give_its_limit_exactly() =>
        Gen.Select(Gen.Int[0, 5000], Gen.Int[25, 400], Gen.Double[0.01, 0.2], Gen.Int[2, 6])
            .Sample(
                (start, step, slope, count) =>
                {
                    var measures = Enumerable
                        .Range(0, count)
                        .Select(i => new WearMeasure(MeterHours.Of(start + i * step), 40 - slope * i * step))
                        .ToList();
                    Assert.Equal(start + 30 / slope, WearPart.LimitAt(measures, 10)!.Value, 1e-3);
                }
            );

    [Fact]
    public void A_machines_own_limits_go_before_the_lists()
    {
        var sag = Check("sag", CheckKind.Measure) with { Sag = true, Figures = 3, Low = 1, High = 2 };
        Assert.Equal(
            (20.0, 2.0, 1),
            (
                CheckLimits.Apply(sag, new(Low: 20, Method: SagMethod.Hang)).Low!.Value,
                CheckLimits.Apply(sag, new(Low: 20)).High!.Value,
                CheckLimits.Apply(sag, new(Method: SagMethod.Gap)).Figures
            )
        );
        Assert.Equal(3, CheckLimits.Apply(sag, new(Method: SagMethod.Dips)).Figures);
        Assert.Same(sag, CheckLimits.Apply(sag, null));
    }

    [Fact]
    public void A_day_that_worked_without_a_walk_is_missed()
    {
        ImmutableArray<DateOnly> days = [new(2026, 3, 9), new(2026, 3, 10), new(2026, 3, 11), new(2026, 3, 12)];
        Assert.Equal([days[2]], MissedWalks.Of(days, new HashSet<DateOnly> { days[0] }, day => day.Day switch
                {
                    10 => 0.4,
                    11 => 0.5,
                    12 => 0,
                    _ => 6,
                }));
    }
}
