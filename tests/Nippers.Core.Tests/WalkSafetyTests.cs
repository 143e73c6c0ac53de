using System.Collections.Immutable;
using CsCheck;
using Nippers.Core.Defects;
using Nippers.Core.Walk;

namespace Nippers.Core.Tests;

/// <summary>What a finding means at least, and what a walk asks once it has found a stop.</summary>
public sealed class WalkSafetyTests
{
    private static WalkCheck Level(FluidUse fluid, bool isSealed = false, double? marks = 4) =>
        new()
        {
            Code = "level",
            Name = "level",
            Station = "engine",
            Kind = CheckKind.Level,
            Grade = DefectGrade.NextService,
            Fluid = fluid,
            Sealed = isSealed,
            MarkLitres = marks,
        };

    [Theory]
    [InlineData(FluidUse.EngineOil, DefectGrade.Stop)]
    [InlineData(FluidUse.Coolant, DefectGrade.Stop)]
    [InlineData(FluidUse.Transmission, DefectGrade.Stop)]
    [InlineData(FluidUse.Hydraulics, DefectGrade.Stop)]
    [InlineData(FluidUse.Axle, DefectGrade.Stop)]
    [InlineData(FluidUse.Hub, DefectGrade.Stop)]
    [InlineData(FluidUse.SwingDrive, DefectGrade.Stop)]
    [InlineData(FluidUse.Compressor, DefectGrade.Stop)]
    [InlineData(FluidUse.BrakeFluid, DefectGrade.Stop)]
    [InlineData(FluidUse.Other, DefectGrade.NextService)]
    public void Below_low_and_not_brought_above_it_stops_what_runs_on_it(FluidUse fluid, DefectGrade grade)
    {
        Assert.Equal(grade, CheckJudge.Judge(Level(fluid), new LevelAnswer(-0.2, FluidLook.Clear)).Grade);
        Assert.Equal(grade, CheckJudge.Judge(Level(fluid), new LevelAnswer(-0.5, FluidLook.Clear, 0.4)).Grade);
        Assert.Equal(grade, CheckJudge.Judge(Level(fluid, marks: null), new LevelAnswer(-0.2, FluidLook.Clear, 9)).Grade);
        Assert.Equal(grade, CheckJudge.Judge(Level(fluid), new LevelAnswer(-0.2, FluidLook.Clear, 9, LevelAfter.Below)).Grade);
    }

    [Theory]
    [InlineData(FluidUse.EngineOil, false, CheckOutcome.Watch, null)]
    [InlineData(FluidUse.Coolant, false, CheckOutcome.Watch, null)]
    [InlineData(FluidUse.Hydraulics, false, CheckOutcome.Watch, null)]
    [InlineData(FluidUse.Transmission, false, CheckOutcome.Watch, null)]
    [InlineData(FluidUse.EngineOil, true, CheckOutcome.Fault, DefectGrade.Limit)]
    [InlineData(FluidUse.Coolant, true, CheckOutcome.Fault, DefectGrade.Limit)]
    [InlineData(FluidUse.Hydraulics, true, CheckOutcome.Fault, DefectGrade.Limit)]
    [InlineData(FluidUse.Transmission, true, CheckOutcome.Fault, DefectGrade.Limit)]
    [InlineData(FluidUse.Axle, false, CheckOutcome.Fault, DefectGrade.Limit)]
    [InlineData(FluidUse.BrakeFluid, false, CheckOutcome.Fault, DefectGrade.Stop)]
    [InlineData(FluidUse.Other, true, CheckOutcome.Watch, null)]
    public void Brought_above_low_is_watched_once_and_asks_why_the_second_time(
        FluidUse fluid,
        bool before,
        CheckOutcome outcome,
        DefectGrade? grade
    )
    {
        var around = new CheckContext { ToppedUpBefore = before };
        var added = CheckJudge.Judge(Level(fluid), new LevelAnswer(-0.2, FluidLook.Clear, 2), around);
        var read = CheckJudge.Judge(Level(fluid, marks: null), new LevelAnswer(-0.2, FluidLook.Clear, 2, LevelAfter.Between), around);
        Assert.Equal((outcome, grade), (added.Outcome, added.Grade));
        Assert.Equal((outcome, grade), (read.Outcome, read.Grade));
    }

    [Theory]
    [InlineData(FluidUse.EngineOil, false, CheckOutcome.Fault, DefectGrade.Stop)]
    [InlineData(FluidUse.EngineOil, true, CheckOutcome.Fault, DefectGrade.NextService)]
    [InlineData(FluidUse.Coolant, false, CheckOutcome.Watch, null)]
    [InlineData(FluidUse.Hydraulics, false, CheckOutcome.Watch, null)]
    [InlineData(FluidUse.Axle, false, CheckOutcome.Fault, DefectGrade.NextService)]
    public void Above_high_is_fuel_or_coolant_in_engine_oil_only(FluidUse fluid, bool explained, CheckOutcome outcome, DefectGrade? grade)
    {
        var result = CheckJudge.Judge(Level(fluid), new LevelAnswer(1.2, FluidLook.Clear), new CheckContext { Explained = explained });
        Assert.Equal((outcome, grade), (result.Outcome, result.Grade));
    }

    [Fact]
    public void A_sealed_drive_that_took_oil_is_limited_and_with_wet_brakes_it_stops()
    {
        var hub = Level(FluidUse.Hub, isSealed: true);
        Assert.Equal(DefectGrade.Limit, CheckJudge.Judge(hub, new LevelAnswer(0.5, FluidLook.Clear, 0.2)).Grade);
        Assert.Equal(
            DefectGrade.Stop,
            CheckJudge.Judge(hub, new LevelAnswer(0.5, FluidLook.Clear, 0.2), new CheckContext { WetBrakes = true }).Grade
        );
        Assert.Equal(DefectGrade.Stop, CheckJudge.Judge(hub, new LevelAnswer(-0.5, FluidLook.Clear, 0.2)).Grade);
    }

    [Theory]
    [InlineData(0.5, FluidLook.Clear, CheckOutcome.NotUsed)]
    [InlineData(-0.5, FluidLook.Clear, CheckOutcome.NotUsed)]
    [InlineData(1.5, FluidLook.Dark, CheckOutcome.NotUsed)]
    [InlineData(0.5, FluidLook.Milky, CheckOutcome.Fault)]
    public void On_a_slope_no_level_is_true_but_milk_is(double level, FluidLook look, CheckOutcome outcome) =>
        Assert.Equal(
            outcome,
            CheckJudge.Judge(Level(FluidUse.EngineOil), new LevelAnswer(level, look), new CheckContext { Slope = true }).Outcome
        );

    [Fact]
    public void A_red_lamp_is_never_passed_as_known()
    {
        var codes = new WalkCheck
        {
            Code = "codes",
            Name = "codes",
            Station = "cab",
            Kind = CheckKind.Code,
            Grade = DefectGrade.Limit,
        };
        var known = new CheckContext { KnownCodes = new HashSet<FaultCode> { new(97, 1) } };
        Assert.Equal(DefectGrade.Stop, CheckJudge.Judge(codes, new CodesAnswer([new(97, 1)], Red: true), known).Grade);
        Assert.Equal(DefectGrade.Stop, CheckJudge.Judge(codes, new CodesAnswer([], Red: true), known).Grade);
        Assert.Equal(CheckOutcome.Watch, CheckJudge.Judge(codes, new CodesAnswer([new(97, 1)]), known).Outcome);
        Assert.False(CheckJudge.Fits(codes, new CodesAnswer([])));
    }

    /// <summary>Whatever is read: milk and grit stop, and no finding is milder than the list says.</summary>
    [Fact]
    public void No_level_is_judged_milder_than_the_list_or_the_look() =>
        Gen.Select(
                Gen.Enum<FluidUse>(),
                Gen.Enum<DefectGrade>(),
                Gen.Double[-0.5, 2],
                Gen.Enum<FluidLook>(),
                Gen.Double[0, 5].Nullable(),
                Gen.Bool,
                Gen.Bool
            )
            .Sample(
                (fluid, listed, level, look, added, before, explained) =>
                {
                    var around = new CheckContext { ToppedUpBefore = before, Explained = explained };
                    var result = CheckJudge.Judge(Level(fluid) with { Grade = listed }, new LevelAnswer(level, look, added), around);
                    Assert.True(result.Outcome != CheckOutcome.Fault || result.Grade >= listed);
                    if (look is FluidLook.Milky or FluidLook.Gritty)
                        Assert.Equal(DefectGrade.Stop, result.Grade);
                    if (level is >= 0 and <= 1 && look is FluidLook.Clear or FluidLook.Dark)
                        Assert.Equal(CheckOutcome.Ok, result.Outcome);
                }
            );

    [Fact]
    public void A_raised_track_has_its_own_position_with_its_steps_before_and_after()
    {
        var list = new CheckList(
            [new("left", "Left", 0, 0), new("right", "Right", 0, 0)],
            [
                new("levels", "for levels", "Park."),
                new(Posture.Hang, "with a track raised", "Raise it.", "Put it down.", "Nobody beside it."),
            ],
            [],
            [Sag("sag-left", "left"), Sag("sag-right", "right"), Look("look", "left")]
        );
        var mine = list.Checks.Select(x => CheckLimits.Apply(x, x.Sag ? new() { Method = SagMethod.Hang } : null)).ToImmutableArray();
        Assert.Equal(
            ["isolate", "off-left", "move-off-hang", "off-hang-left", "off-hang-right", "leave-off-hang", "release"],
            WalkRoute.Steps(list, mine).Select(x => x.Code)
        );
        Assert.DoesNotContain(WalkRoute.Steps(list, list.Checks), x => x.Posture == Posture.Hang);
    }

    [Theory]
    [InlineData(SafetyPart.StopButton, true)]
    [InlineData(SafetyPart.ControlLock, true)]
    [InlineData(SafetyPart.Alarm, true)]
    [InlineData(SafetyPart.Structure, false)]
    [InlineData(SafetyPart.None, false)]
    public void Stops_and_alarms_are_tried_each_walk_where_the_site_says_so(SafetyPart safety, bool each)
    {
        var check = Look("x", "left") with { Cadence = Cadence.Every50Hours, Safety = safety };
        Assert.Equal(each, WalkRoute.IsDue(check, WalkRound.Whole, new(10_000), new(10_100), stopsEachWalk: true));
        Assert.False(WalkRoute.IsDue(check, WalkRound.Whole, new(10_000), new(10_100)));
        Assert.False(WalkRoute.IsDue(check, WalkRound.Second, new(10_000), new(10_100), stopsEachWalk: true));
    }

    private static WalkCheck Look(string code, string station) =>
        new()
        {
            Code = code,
            Name = code,
            Station = station,
        };

    private static WalkCheck Sag(string code, string station) => Look(code, station) with { Kind = CheckKind.Measure, Sag = true };
}
