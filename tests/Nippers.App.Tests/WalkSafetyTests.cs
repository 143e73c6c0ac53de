using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Quick;
using Nippers.App.Statuses;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Jobs;
using Nippers.Core.Quick;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.Visits;
using Nippers.Data.Walks;
using static Nippers.App.Tests.Outcomes;
using static Nippers.App.Tests.WalkRig;

namespace Nippers.App.Tests;

/// <summary>What a walk may say, and what it never says: each of these has said too much once.</summary>
public sealed class WalkSafetyTests
{
    private static readonly Actor Mara = new("Mara Quill", Roles.Planner);

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static AnswerInput OilAt(double percent, FluidLook look = FluidLook.Clear, string? added = null, int revision = 0) =>
        Answered("engine-oil-level", ("level", percent), ("look", look), ("added", added), ("ticked", true)) with
        {
            Revision = revision,
        };

    private static Task<Outcome<DefectRow>> Report(Fleet fleet, DefectInput input, Actor? by = null) =>
        fleet.Do<ReportDefect, Outcome<DefectRow>>(x => x.Run(input with { Unit = "WL-01" }, by ?? Ines, Ct));

    private static DefectInput Fault(long walk, string check, string words, DefectGrade? grade = null) =>
        new()
        {
            Unit = "WL-01",
            Words = words,
            WalkId = walk,
            Check = check,
            Grade = grade,
            LimitHours = grade == DefectGrade.Limit ? "50" : null,
        };

    private static Task<DefectRow> Defect(Fleet fleet, long id) =>
        fleet.Ask(db => db.Defects.AsNoTracking().SingleAsync(x => x.Id == id, Ct));

    private static async Task<RunStatus> Now(Fleet fleet)
    {
        await fleet.Do<Standings>(x => x.Rebuild(fleet.Clock.GetUtcNow(), Ct));
        return (await fleet.Ask(db => db.Statuses.AsNoTracking().SingleAsync(Ct))).Answer.RunStatus;
    }

    private static async Task<long> AllGood(Fleet fleet, params string[] but)
    {
        var walk = (await Start(fleet)).Value!.WalkId;
        foreach (var check in (await Context(fleet, walk)).Checks.Where(x => !but.Contains(x.Code)))
            Assert.True((await Answer(fleet, walk, Good(check))).Done, check.Code);
        return walk;
    }

    // 1
    [Fact]
    public async Task A_walk_with_no_answer_is_no_walk()
    {
        await using var fleet = await Fleet.WithLoader();
        var walk = (await Start(fleet)).Value!.WalkId;
        Assert.Equal("nothingLookedAt", Code(await Finish(fleet, walk, "busy")));
        await Answer(fleet, walk, Answered("horn", ("leftOut", "busy")));
        Assert.Equal("nothingLookedAt", Code(await Finish(fleet, walk, "busy")));
        var status = await fleet.Ask(db => db.Statuses.AsNoTracking().SingleAsync(Ct));
        Assert.Equal((null, null), (status.WalkedOn, status.WalkedAt));
        var overview = await fleet.Do<WalkViews, WalksOverview>(x => x.Overview(null, 1, Ct));
        Assert.Equal((false, null), (overview.Lines[0].WalkedToday, overview.Lines[0].WalkedAt));
    }

    [Theory]
    [InlineData("brake-service")]
    [InlineData("seat-belt")]
    [InlineData("horn")]
    [InlineData("mirrors")]
    [InlineData("nuts-left")]
    public async Task A_safety_critical_check_that_is_left_out_keeps_the_machine_standing_until_somebody_made_it(string check)
    {
        await using var fleet = await Fleet.WithLoader();
        var walk = await AllGood(fleet, check);
        Assert.Equal([check], (await Context(fleet, walk)).NotChecked.Select(x => x.Code));
        Assert.True((await Answer(fleet, walk, Answered(check, ("leftOut", "busy")))).Done);
        var finished = (await Finish(fleet, walk)).Value!;
        Assert.Equal((RunStatus.NotChecked, 1), (finished.RunStatus!.Value, finished.NotChecked));
        Assert.Equal(RunStatus.NotChecked, await Now(fleet));

        // A technician makes it, by name; nobody else, and once.
        Assert.Equal("technicianNeeded", (await Refused<VouchCheck, LaterCheckRow>(fleet, x => x.Run(walk, check, "", Ines, Ct))).Code);
        Assert.Equal(
            "nothingUnchecked",
            (await Refused<VouchCheck, LaterCheckRow>(fleet, x => x.Run(walk, "lights", "", Fleet.Tam, Ct))).Code
        );
        var later = await Ok<VouchCheck, LaterCheckRow>(fleet, x => x.Run(walk, check, "tried it twice", Fleet.Tam, Ct));
        Assert.Equal(("Tam Ollery", "tried it twice"), (later.By, later.Words));
        Assert.Equal(
            "nothingUnchecked",
            (await Refused<VouchCheck, LaterCheckRow>(fleet, x => x.Run(walk, check, "", Fleet.Tam, Ct))).Code
        );
        Assert.Equal(RunStatus.NoStopFound, await Now(fleet));
    }

    [Fact]
    public async Task What_is_not_fitted_is_not_unchecked_and_the_next_whole_walk_clears_what_was()
    {
        await using var fleet = await Fleet.WithLoader();
        var first = await AllGood(fleet, "mirrors", "horn");
        await Answer(fleet, first, Answered("mirrors", ("leftOut", "has none"), ("notFitted", true)));
        Assert.Equal(["horn"], (await Context(fleet, first)).NotChecked.Select(x => x.Code));
        await Finish(fleet, first, "busy");
        Assert.Equal(RunStatus.NotChecked, await Now(fleet));
        fleet.Clock.Advance(TimeSpan.FromHours(1));
        var second = await AllGood(fleet);
        Assert.True((await Finish(fleet, second)).Done);
        Assert.Equal(RunStatus.NoStopFound, await Now(fleet));
    }

    // 2 and 12
    [Fact]
    public async Task A_worse_finding_raises_the_defect_that_stands_at_its_check_and_adds_itself()
    {
        await using var fleet = await Fleet.WithLoader();
        var low = (
            await Report(
                fleet,
                new()
                {
                    Unit = "WL-01",
                    Words = "low again",
                    Check = "engine-oil-level",
                    Grade = DefectGrade.Limit,
                    LimitHours = "50",
                }
            )
        ).Value!;
        Assert.Equal(DefectGrade.Limit, low.Grade);
        var walk = (await Start(fleet)).Value!.WalkId;
        Assert.True((await Answer(fleet, walk, OilAt(50, FluidLook.Milky))).Done);
        var raised = await Defect(fleet, low.Id);
        Assert.Equal((DefectGrade.Stop, null), (raised.Grade, raised.LimitHours));
        Assert.Equal(RunStatus.OutOfService, await Now(fleet));
        var line = await fleet.Ask(db => db.DefectEvents.SingleAsync(x => x.DefectId == low.Id && x.Act == DefectAct.FoundAgain, Ct));
        Assert.Equal((DefectGrade.Limit, DefectGrade.Stop, walk), (line.From, line.To, line.WalkId));
        Assert.Equal(FluidLook.Milky, Assert.IsType<LevelAnswer>(PackedAnswers.ReadOne(line.Answer)).Look);

        // The same answer again says nothing new, and the defect is written already.
        Assert.True((await Answer(fleet, walk, OilAt(50, FluidLook.Milky, revision: 1))).Done);
        Assert.Equal(1, await fleet.Ask(db => db.DefectEvents.CountAsync(x => x.DefectId == low.Id && x.Act == DefectAct.FoundAgain, Ct)));
        Assert.Empty((await Context(fleet, walk)).FaultsWithoutDefect);
    }

    [Fact]
    public async Task A_second_fault_at_a_check_is_never_swallowed_and_anybody_may_say_worse()
    {
        await using var fleet = await Fleet.WithLoader();
        var first = (await Report(fleet, Fault(0, "driveshafts", "guard loose", DefectGrade.Limit) with { WalkId = null })).Value!;
        var walk = (await Start(fleet)).Value!.WalkId;
        await Answer(fleet, walk, Answered("driveshafts", ("seen", "fault")));
        Assert.Equal(["driveshafts"], (await Context(fleet, walk)).FaultsWithoutDefect.Select(x => x.Code));
        Assert.Equal("faultsUnwritten", Code(await Finish(fleet, walk, "busy")).Split(',')[0]);

        Assert.True((await fleet.Do<DefectNotes, Outcome<DefectRow>>(x => x.LookedAgain(first.Id, walk, Again.Worse, "", Ines, Ct))).Done);
        Assert.Equal(DefectGrade.Stop, (await Defect(fleet, first.Id)).Grade);
        Assert.Empty((await Context(fleet, walk)).FaultsWithoutDefect);

        // Another fault at the same check is a defect of its own.
        var second = (await Report(fleet, Fault(walk, "driveshafts", "joint has play", DefectGrade.Limit))).Value!;
        Assert.NotEqual(first.Id, second.Id);
        Assert.Equal(2, await fleet.Ask(db => db.Defects.CountAsync(x => x.CheckCode == "driveshafts", Ct)));
    }

    [Fact]
    public async Task As_before_is_said_of_an_open_defect_and_of_nothing_else()
    {
        await using var fleet = await Fleet.WithLoader();
        var open = (await Report(fleet, Fault(0, "driveshafts", "guard loose", DefectGrade.Limit) with { WalkId = null })).Value!;
        var walk = (await Start(fleet)).Value!.WalkId;
        Task<Outcome<DefectRow>> Say(Again again) =>
            fleet.Do<DefectNotes, Outcome<DefectRow>>(x => x.LookedAgain(open.Id, walk, again, "", Ines, Ct));
        Assert.Equal("defectNotOpen", Code(await Say(Again.Holds)));
        Assert.True((await Say(Again.AsBefore)).Done);
        Assert.Equal(DefectGrade.Limit, (await Defect(fleet, open.Id)).Grade);
    }

    [Fact]
    public async Task A_walk_that_comes_in_whole_takes_a_fault_at_an_open_defect_for_the_same_and_keeps_it()
    {
        await using var fleet = await Fleet.WithLoader();
        var open = (await Report(fleet, Fault(0, "driveshafts", "guard loose", DefectGrade.Limit) with { WalkId = null })).Value!;
        var input = new SubmitWalkInput(
            new() { Unit = "WL-01", Hours = "360" },
            [Answered("driveshafts", ("seen", "fault")), Answered("lights", ("seen", "sound"))],
            [],
            new("sent from the gate", null)
        );
        var walk = await Ok<SubmitWalk, WalkRow>(fleet, x => x.Run(input, Ines, Ct));
        var seen = await fleet.Ask(db => db.DefectEvents.SingleAsync(x => x.DefectId == open.Id && x.Act == DefectAct.SeenAgain, Ct));
        Assert.Equal(walk.Id, seen.WalkId);
        Assert.Equal(1, await fleet.Ask(db => db.Defects.CountAsync(Ct)));
    }

    [Fact]
    public async Task A_limit_that_passes_is_for_the_sites_contact_too()
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.Ask(db => db.Sites.ExecuteUpdateAsync(x => x.SetProperty(s => s.Contact, "Mara Quill, radio 1"), Ct));
        await Report(
            fleet,
            Fault(0, "driveshafts", "guard loose", DefectGrade.Limit) with
            {
                WalkId = null,
                LimitHours = null,
                LimitDays = "1",
            }
        );
        fleet.Clock.Advance(TimeSpan.FromDays(3));
        Assert.Equal(RunStatus.OutOfService, await Now(fleet));
        Assert.Equal("Mara Quill, radio 1", (await fleet.Ask(db => db.Stoppages.AsNoTracking().SingleAsync(Ct))).Contact);
    }

    // 3
    [Fact]
    public async Task The_floor_of_a_defect_is_what_was_found_whatever_the_list_says()
    {
        await using var fleet = await Fleet.WithLoader();
        var walk = (await Start(fleet)).Value!.WalkId;
        await Answer(fleet, walk, OilAt(50, FluidLook.Milky));
        Assert.Equal("gradeBelowCheck", Code(await Report(fleet, Fault(walk, "engine-oil-level", "milky", DefectGrade.Limit))));
        Assert.Equal("gradeBelowCheck", Code(await Report(fleet, Fault(walk, "engine-oil-level", "milky", DefectGrade.Limit), Mara)));
        var kept = (await Report(fleet, Fault(walk, "engine-oil-level", "as cream"))).Value!;
        Assert.Equal((DefectGrade.Stop, MachinePart.Engine), (kept.Grade, kept.Part));
        var found = await fleet.Ask(db => db.DefectEvents.SingleAsync(x => x.DefectId == kept.Id && x.Act == DefectAct.Found, Ct));
        Assert.IsType<LevelAnswer>(PackedAnswers.ReadOne(found.Answer));
    }

    // 4
    [Fact]
    public async Task A_brake_on_the_quick_line_stops_the_machine_after_its_part_was_tapped()
    {
        await using var fleet = await Fleet.WithLoader();
        const string line = "WL-01 defect service brake does not hold, pedal to the floor";
        var command = Assert.IsType<QuickCommand.ReportDefect>((await fleet.Do<QuickRun, QuickReading>(x => x.Preview(line, Ct))).Command);
        Assert.Equal(MachinePart.Brakes, MachineParts.Proposed(command.Words)[0]);
        var refused = await Refused<QuickRun, DefectRow>(fleet, x => x.Report(command, null, "k1", Ines, Ct));
        Assert.Equal(("on", "partNeeded"), (refused.Field, refused.Code));
        var kept = await Ok<QuickRun, DefectRow>(fleet, x => x.Report(command, MachinePart.Brakes, "k2", Ines, Ct));
        Assert.Equal((DefectGrade.Stop, MachinePart.Brakes, SafetyPart.Brakes), (kept.Grade, kept.Part, kept.Safety));
        Assert.Equal(RunStatus.OutOfService, await Now(fleet));
    }

    [Fact]
    public async Task A_hand_typed_defect_names_its_part_and_no_tap_lowers_what_the_words_say()
    {
        await using var fleet = await Fleet.WithLoader();
        DefectInput Typed(string words, MachinePart? on, DefectGrade? grade) =>
            new()
            {
                Unit = "WL-01",
                Words = words,
                On = on,
                Grade = grade,
                ChoosesGrade = true,
            };
        Assert.Equal("partNeeded", Code(await Report(fleet, Typed("guard loose", null, DefectGrade.Watch))));
        Assert.Equal("partNeeded", Code(await Report(fleet, Typed("guard loose", (MachinePart)99, DefectGrade.Watch))));
        Assert.Equal("gradeNeeded", Code(await Report(fleet, Typed("guard loose", MachinePart.Body, null))));
        Assert.Equal("gradeSafety", Code(await Report(fleet, Typed("brake pulls left", MachinePart.Body, DefectGrade.Watch))));
        Assert.Equal(DefectGrade.Stop, (await Report(fleet, Typed("it pulls left", MachinePart.Brakes, null))).Value!.Grade);

        // Where nobody can be asked, the words decide.
        var sent = (await Report(fleet, Typed("steering is heavy", null, DefectGrade.Watch) with { PartBySaying = true })).Value!;
        Assert.Equal((MachinePart.Steering, DefectGrade.Stop), (sent.Part, sent.Grade));
    }

    [Fact]
    public async Task Only_a_technician_changes_the_part_and_a_safety_critical_one_stops_the_machine()
    {
        await using var fleet = await Fleet.WithLoader();
        var defect = (
            await Report(
                fleet,
                new()
                {
                    Unit = "WL-01",
                    Words = "something drags",
                    On = MachinePart.Body,
                    Grade = DefectGrade.Watch,
                }
            )
        ).Value!;
        Task<Outcome<DefectRow>> Set(MachinePart part, Actor by, string? reason = "looked") =>
            fleet.Do<DefectNotes, Outcome<DefectRow>>(x => x.SetPart(defect.Id, part, reason, by, Ct));
        Assert.Equal("technicianNeeded", Code(await Set(MachinePart.Brakes, Ines)));
        Assert.Equal("reasonNeeded", Code(await Set(MachinePart.Brakes, Fleet.Tam, " ")));
        Assert.True((await Set(MachinePart.Brakes, Fleet.Tam)).Done);
        var now = await Defect(fleet, defect.Id);
        Assert.Equal((DefectGrade.Stop, SafetyPart.Brakes, MachinePart.Brakes), (now.Grade, now.Safety, now.Part));

        // Another name does not make it harmless.
        Assert.True((await Set(MachinePart.Engine, Fleet.Tam)).Done);
        var renamed = await Defect(fleet, defect.Id);
        Assert.Equal((DefectGrade.Stop, SafetyPart.Brakes, MachinePart.Engine), (renamed.Grade, renamed.Safety, renamed.Part));
    }

    // 5
    [Fact]
    public async Task Voiding_a_stop_that_another_found_takes_two_people()
    {
        await using var fleet = await Fleet.WithLoader();
        var stop = (await Report(fleet, Fault(0, "combustibles", "leaves at the turbo") with { WalkId = null })).Value!;
        Task<Outcome<DefectRow>> Void(Actor by) => fleet.Do<DefectNotes, Outcome<DefectRow>>(x => x.Void(stop.Id, "was shade", by, Ct));
        Task<Outcome<DefectRow>> Decide(Actor by, bool agreed, string? words = "looked, it is clean") =>
            fleet.Do<DefectNotes, Outcome<DefectRow>>(x => x.DecideVoid(stop.Id, agreed, words, by, Ct));
        Assert.Equal("nothingAsked", Code(await Decide(Fleet.Bea, true)));
        Assert.True((await Void(Mara)).Done);
        Assert.Equal((DefectState.Open, "Mara Quill"), ((await Defect(fleet, stop.Id)).State, (await Defect(fleet, stop.Id)).VoidAskedBy));
        Assert.Equal(RunStatus.OutOfService, await Now(fleet));
        Assert.Equal("secondPersonNeeded", Code(await Decide(Mara, true)));
        Assert.Equal("technicianNeeded", Code(await Decide(Ines, true)));
        Assert.Equal("wordsNeeded", Code(await Decide(Fleet.Bea, true, " ")));
        Assert.True((await Decide(Fleet.Bea, false, "they are still there")).Done);
        Assert.Equal((DefectState.Open, null), ((await Defect(fleet, stop.Id)).State, (await Defect(fleet, stop.Id)).VoidAskedBy));
        Assert.True((await Void(Mara)).Done);
        Assert.True((await Decide(Fleet.Bea, true)).Done);
        Assert.Equal(DefectState.Voided, (await Defect(fleet, stop.Id)).State);
        Assert.Equal(RunStatus.NoStopFound, await Now(fleet));
    }

    [Fact]
    public async Task What_brakes_is_not_voided_by_who_found_it_either()
    {
        await using var fleet = await Fleet.WithLoader();
        var stop = (await Report(fleet, Fault(0, "brake-service", "soft") with { WalkId = null }, Fleet.Tam)).Value!;
        Assert.True((await fleet.Do<DefectNotes, Outcome<DefectRow>>(x => x.Void(stop.Id, "mistyped", Fleet.Tam, Ct))).Done);
        Assert.Equal(DefectState.Open, (await Defect(fleet, stop.Id)).State);
    }

    // 6
    [Fact]
    public async Task Three_levels_below_low_do_not_run_fifty_hours()
    {
        await using var fleet = await Fleet.WithLoader();
        var walk = (await Start(fleet)).Value!.WalkId;
        foreach (var code in new[] { "engine-oil-level", "coolant-level", "hydraulic-level" })
        {
            await Answer(fleet, walk, Answered(code, ("level", "-20"), ("look", FluidLook.Clear), ("ticked", true)));
            Assert.Equal("gradeBelowCheck", Code(await Report(fleet, Fault(walk, code, "low", DefectGrade.Limit))));
            Assert.Equal(DefectGrade.Stop, (await Report(fleet, Fault(walk, code, "low"))).Value!.Grade);
        }

        Assert.Equal(RunStatus.OutOfService, await Now(fleet));
    }

    [Fact]
    public async Task Topped_up_above_low_is_watched_and_within_fifty_hours_again_it_is_limited()
    {
        await using var fleet = await Fleet.WithLoader();
        AnswerInput Low() =>
            Answered(
                "engine-oil-level",
                ("level", "-20"),
                ("look", FluidLook.Clear),
                ("added", "3"),
                ("after", LevelAfter.Between),
                ("ticked", true)
            );
        var first = await AllGood(fleet, "engine-oil-level");
        Assert.Equal((CheckOutcome.Watch, null), ((await Answer(fleet, first, Low())).Value!.Result.Outcome, (DefectGrade?)null));
        Assert.True((await Finish(fleet, first)).Done);
        fleet.Clock.Advance(TimeSpan.FromDays(2));
        var second = (await Start(fleet, "372")).Value!.WalkId;
        var again = (await Answer(fleet, second, Low())).Value!.Result;
        Assert.Equal((CheckReason.ToppedUpAgain, DefectGrade.Limit), (again.Reason, again.Grade));
    }

    // 7
    [Fact]
    public async Task A_lock_or_tag_of_another_is_taken_off_by_its_owner_or_by_who_answers_for_the_site()
    {
        await using var fleet = await Fleet.WithLoader();
        var tag = (await Report(fleet, Fault(0, "notices", "red tag on the switch, no name") with { WalkId = null })).Value!;
        Assert.Equal((DefectGrade.Stop, SafetyPart.Notice), (tag.Grade, tag.Safety));
        Task<Outcome<DefectRow>> Off(Actor by, bool owner, string? tried = null) =>
            fleet.Do<RepairDefect, Outcome<DefectRow>>(x =>
                x.Repair(tag.Id, new("taken off", null, null, null, null, owner, tried), by, Ct)
            );
        Assert.Equal("tagOfAnother", Code(await Off(Fleet.Tam, owner: false)));
        Assert.Equal("ownerTriedNeeded", Code(await Off(Mara, owner: false)));
        Assert.True((await Off(Mara, owner: false, "rang him twice, Bea tells him at the gate")).Done);
        Assert.Contains("Bea tells him at the gate", (await Defect(fleet, tag.Id)).RepairWords!, StringComparison.Ordinal);
        Assert.Equal(DefectState.Repaired, (await Defect(fleet, tag.Id)).State);
    }

    [Fact]
    public async Task After_a_stop_the_walk_asks_for_no_key_no_start_and_no_movement()
    {
        await using var fleet = await Fleet.WithLoader();
        var walk = (await Start(fleet)).Value!.WalkId;
        Assert.False((await Context(fleet, walk)).StopFound);
        await Answer(fleet, walk, Answered("boom-cracks", ("seen", "fault")));
        await Answer(fleet, walk, Answered("arms-cracks", ("seen", "fault")));
        var context = await Context(fleet, walk);
        Assert.True(context.StopFound);
        Assert.All(context.Steps.Where(x => x.Engine != EngineState.Off || x.Kind is StepKind.Move or StepKind.Release), x =>
            Assert.True(context.IsForbidden(x))
        );
        Assert.Contains(context.Steps, x => !context.IsForbidden(x) && x.Kind == StepKind.Station);
        Assert.True((await Report(fleet, Fault(walk, "arms-cracks", "weld open"))).Done);
        foreach (var check in context.Checks.Where(x => !context.IsForbidden(x) && x.Code != "arms-cracks"))
            Assert.True((await Answer(fleet, walk, Good(check))).Done, check.Code);

        // Nobody is asked why: what is left is not done because of the stop.
        var finished = (await Finish(fleet, walk)).Value!;
        Assert.Equal(RunStatus.OutOfService, finished.RunStatus);
        var answers = (await Context(fleet, walk)).Answers;
        Assert.Equal(LeftOutAnswer.StopFound, Assert.IsType<LeftOutAnswer>(answers["start"]).Why);
        Assert.Contains("brake-service", (await Context(fleet, walk)).NotChecked.Select(x => x.Code));
    }

    [Fact]
    public async Task A_machine_with_an_open_card_is_out_of_service_and_its_walk_stays_with_the_engine_off()
    {
        await using var fleet = await Fleet.WithLoader();
        var visit = await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(null, new("WL-01", "2026-03-16", ["engine-oil"]), Fleet.Tam, Ct));
        await Ok<OpenCard, VisitRow>(fleet, x => x.Run(visit.Id, "356", false, StepHeat.Cold, Fleet.Tam, Ct));
        var status = await fleet.Ask(db => db.Statuses.AsNoTracking().SingleAsync(Ct));
        Assert.Equal((RunStatus.OutOfService, true), (status.Answer.RunStatus, status.Answer.CardOpen));
        Assert.Equal("outOfService", Code(await Start(fleet, "356")));
        var walk = (await Start(fleet, "356", knows: true)).Value!.WalkId;
        Assert.All((await Context(fleet, walk)).Checks, x => Assert.Equal(EngineState.Off, x.Engine));
    }

    // 10 and 14
    [Fact]
    public async Task Hydraulic_oil_above_its_glass_asks_for_the_position_first()
    {
        await using var fleet = await Fleet.WithLoader();
        var walk = (await Start(fleet)).Value!.WalkId;
        AnswerInput Above(bool inPosition) =>
            Answered("hydraulic-level", ("level", "115"), ("look", FluidLook.Clear), ("ticked", true), ("inPosition", inPosition));
        var refused = await Answer(fleet, walk, Above(false));
        Assert.Equal(("positionFirst", "inPosition-hydraulic-level"), (refused.Refusals[0].Code, refused.Refusals[0].Field));
        Assert.Equal(CheckReason.AboveGlass, (await Answer(fleet, walk, Above(true))).Value!.Result.Reason);
    }

    [Theory]
    [InlineData("31", "noRestVolts")]
    [InlineData("29.1", "noRestVolts")]
    [InlineData("29", "")]
    [InlineData("24.2", "")]
    public async Task More_volts_than_a_set_at_rest_has_are_no_reading(string volts, string code)
    {
        await using var fleet = await Fleet.WithLoader();
        var walk = (await Start(fleet)).Value!.WalkId;
        Assert.Equal(code, Code(await Answer(fleet, walk, Answered("battery-volts", ("figures", Many(volts)), ("ticked", true)))));
    }

    [Fact]
    public async Task On_a_slope_levels_count_neither_as_read_nor_as_passed()
    {
        await using var fleet = await Fleet.WithLoader();
        var start = new StartWalkInput
        {
            Unit = "WL-01",
            Hours = "360",
            Ground = Ground.Slope,
        };
        var walk = (await Ok<StartWalk, StartedWalk>(fleet, x => x.Run(start, Fleet.Tam, Ct))).WalkId;
        foreach (var check in (await Context(fleet, walk)).Checks)
            Assert.True((await Answer(fleet, walk, Good(check))).Done);
        Assert.True((await Finish(fleet, walk)).Done);
        Assert.Equal(
            CheckReason.NotLevel,
            (await Context(fleet, walk)).ResultOf((await Context(fleet, walk)).Checks.First(x => x.Code == "engine-oil-level"))!.Reason
        );
        Assert.Equal(
            0,
            await fleet.Ask(db =>
                db.Completions.CountAsync(x => x.ItemCode == "engine-oil-level" && x.DoneOn == new DateOnly(2026, 3, 16), Ct)
            )
        );
    }

    [Fact]
    public async Task Stop_buttons_come_each_walk_where_the_site_wants_it()
    {
        await using var fleet = await Fleet.WithLoader();
        var first = await AllGood(fleet);
        Assert.Contains("stop-buttons", (await Context(fleet, first)).Checks.Select(x => x.Code));
        await Finish(fleet, first);
        fleet.Clock.Advance(TimeSpan.FromHours(1));
        var second = await AllGood(fleet);
        Assert.DoesNotContain("stop-buttons", (await Context(fleet, second)).Checks.Select(x => x.Code));
        await Finish(fleet, second);
        await fleet.Ask(db => db.Sites.ExecuteUpdateAsync(x => x.SetProperty(s => s.StopsEachWalk, true), Ct));
        fleet.Clock.Advance(TimeSpan.FromHours(1));
        Assert.Contains("stop-buttons", (await Context(fleet, (await Start(fleet)).Value!.WalkId)).Checks.Select(x => x.Code));
    }

    // 15
    [Fact]
    public async Task A_stop_reaches_the_sites_contact_and_says_so_until_somebody_was_told()
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.Ask(db => db.Sites.ExecuteUpdateAsync(x => x.SetProperty(s => s.Contact, "Mara Quill, radio 1"), Ct));
        var stop = (await Report(fleet, Fault(0, "brake-service", "soft") with { WalkId = null })).Value!;
        var stoppage = await fleet.Ask(db => db.Stoppages.AsNoTracking().SingleAsync(Ct));
        Assert.Equal(("Mara Quill, radio 1", null), (stoppage.Contact, stoppage.SentAt));
        Assert.True((await fleet.Ask(db => db.Statuses.AsNoTracking().SingleAsync(Ct))).Untold);
        Task<Outcome<DefectRow>> Tell(string? whom) => fleet.Do<DefectNotes, Outcome<DefectRow>>(x => x.Told(stop.Id, whom, Ines, Ct));
        Assert.Equal(("whom", "needed"), ((await Tell(" ")).Refusals[0].Field, (await Tell(" ")).Refusals[0].Code));
        Assert.True((await Tell("Mara")).Done);
        var told = await Defect(fleet, stop.Id);
        Assert.Equal(("Mara", "Ines Varrow"), (told.ToldWhom, told.ToldBy));
        Assert.False((await fleet.Ask(db => db.Statuses.AsNoTracking().SingleAsync(Ct))).Untold);
    }

    [Fact]
    public async Task A_code_whose_defect_stops_the_machine_is_never_passed_as_known()
    {
        await using var fleet = await Fleet.WithLoader();
        var known = (
            await Report(fleet, Fault(0, "codes", "known filter code", DefectGrade.Limit) with { WalkId = null, Code = "107/1" })
        ).Value!;
        var walk = (await Start(fleet)).Value!.WalkId;
        AnswerInput Shown(int revision) => Answered("codes", ("codes", "107/1")) with { Revision = revision };
        Assert.Equal(CheckReason.CodesKnown, (await Answer(fleet, walk, Shown(0))).Value!.Result.Reason);
        await fleet.Do<GradeDefect, Outcome<DefectRow>>(x =>
            x.Set(known.Id, DefectGrade.Stop, "engine smokes black", null, null, Fleet.Tam, Ct)
        );
        Assert.Equal(CheckReason.CodesShown, (await Answer(fleet, walk, Shown(1))).Value!.Result.Reason);
    }

    [Theory]
    [InlineData("100/1", "")]
    [InlineData("1762/4", "1762")]
    public async Task A_code_that_stops_is_a_stop_on_a_walk_though_its_defect_was_graded_down(string code, string named)
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.Ask(db =>
        {
            db.Installations.Add(new() { StopSpns = named });
            return db.SaveChangesAsync(Ct);
        });
        await Report(fleet, Fault(0, "codes", "sender, gauge is right", DefectGrade.Limit) with { WalkId = null, Code = code });
        var walk = (await Start(fleet)).Value!.WalkId;
        var judged = (await Answer(fleet, walk, Answered("codes", ("codes", code)))).Value!.Result;
        Assert.Equal((CheckReason.CodesStop, DefectGrade.Stop), (judged.Reason, judged.Grade));
        Assert.True((await Context(fleet, walk)).StopFound);
        var defect = (await Report(fleet, Fault(walk, "codes", "code and gauge"))).Value!;
        Assert.Equal(DefectGrade.Stop, defect.Grade);
    }
}
