using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.Records;
using Nippers.Data.Walks;
using static Nippers.App.Tests.Outcomes;
using static Nippers.App.Tests.WalkRig;

namespace Nippers.App.Tests;

/// <summary>A walk from its start to its sign-off, on a real database.</summary>
public sealed class WalkTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static async Task<long> Walked(Fleet fleet)
    {
        var id = (await Start(fleet)).Value!.WalkId;
        foreach (var check in (await Context(fleet, id)).Checks)
        {
            var saved = await Answer(fleet, id, Good(check));
            Assert.True(saved.Done, check.Code + ": " + Code(saved));
        }

        return id;
    }

    [Fact]
    public async Task A_whole_walk_is_signed_off_packed_and_completes_what_it_did()
    {
        await using var fleet = await Fleet.WithLoader();
        var id = await Walked(fleet);
        fleet.Clock.Advance(TimeSpan.FromMinutes(40));
        var finished = await Finish(fleet, id);
        Assert.True(finished.Done, Code(finished));

        var walk = await fleet.Ask(db => db.Walks.SingleAsync(x => x.Id == id, Ct));
        Assert.Equal(
            (WalkState.Finished, 0, RunStatus.NoStopFound, false),
            (walk.State, walk.LeftOut, walk.RunStatus!.Value, walk.TooQuick)
        );
        Assert.Equal((walk.Due, "Tam Ollery"), (walk.Answered, walk.FinishedBy));
        Assert.Equal(0, await fleet.Ask(db => db.WalkAnswers.CountAsync(Ct)));

        // The meter is a reading, measures and the longer cadences have rows, and daily care is done.
        Assert.Equal(
            ReadingSource.Walk,
            await fleet.Ask(db =>
                db.Readings.Where(x => x.At == walk.StartedAt && x.ShownHours == walk.ShownHours).Select(x => x.Source).SingleAsync(Ct)
            )
        );
        Assert.Equal(
            3.6,
            await fleet.Ask(db => db.Measures.Where(x => x.CheckCode == "pressure-front-left").Select(x => x.Value).SingleAsync(Ct))
        );
        var done = await fleet.Ask(db => db.Completions.Where(x => x.Batch == walk.Batch).Select(x => x.ItemCode).ToListAsync(Ct));
        Assert.Superset(
            new HashSet<string>
            {
                "engine-oil-level",
                "coolant-level",
                "fuel-bowl-drain",
                "daily-grease",
                "tyre-pressure",
                "transmission-level",
            },
            done.ToHashSet()
        );
        Assert.Equal(0, (await fleet.Status("WL-01")).DailyOpen);

        // What was packed is read back as it was given.
        var context = await Context(fleet, id);
        Assert.Equal(context.Checks.Length, context.Answers.Count);
        Assert.Equal(new LevelAnswer(0.75, FluidLook.Clear) { Ticked = true }, context.Answers["engine-oil-level"]);
        Assert.Equal("walkFinished", Code(await Finish(fleet, id)));
        Assert.Equal("walkNotOpen", Code(await Answer(fleet, id, Good(context.Checks[0]))));

        // The next morning, six hours later, the 50 h and 250 h checks are not asked again.
        fleet.Clock.Advance(TimeSpan.FromHours(23));
        var next = await Context(fleet, (await Start(fleet, "366")).Value!.WalkId);
        Assert.DoesNotContain(next.Checks, x => x.Cadence is Cadence.Every50Hours or Cadence.Every250Hours);
        Assert.True(next.Checks.Length is > 30 and < 52, $"{next.Checks.Length} checks");
    }

    [Fact]
    public async Task Every_answer_is_kept_as_it_is_given_and_two_phones_notice_each_other()
    {
        await using var fleet = await Fleet.WithLoader();
        var id = (await Start(fleet)).Value!.WalkId;
        Assert.Equal(1, (await Answer(fleet, id, Answered("horn", ("seen", "sound")))).Value!.Revision);

        // The second phone still shows it unanswered.
        var late = await Answer(fleet, id, Answered("horn", ("seen", "fault")), Fleet.Bea);
        Assert.Equal(("answeredMeanwhile", 1, "Tam Ollery"), (Code(late), late.Value!.Revision, late.Value.By));
        Assert.True(((SeenAnswer)(await Context(fleet, id)).Answers["horn"]).Ok);
        Assert.True((await Answer(fleet, id, Answered("horn", ("seen", "sound")), Fleet.Bea)).Done, "the same answer is no conflict");
        Assert.True((await Answer(fleet, id, Answered("horn", ("seen", "fault")) with { Revision = 2 }, Fleet.Bea)).Done);

        // Begun again, it is the same walk with its answers.
        var resumed = await Start(fleet, "361", actor: Ines);
        Assert.Equal((id, true), (resumed.Value!.WalkId, resumed.Value.Resumed));
        Assert.False(((SeenAnswer)(await Context(fleet, id)).Answers["horn"]).Ok);
    }

    [Theory]
    [InlineData("pressure-front-left", "-3", "between")]
    [InlineData("pressure-front-left", "4000", "between")]
    [InlineData("pressure-front-left", "abc", "notANumber")]
    [InlineData("pressure-front-left", "3,600", "decimalComma")]
    [InlineData("pressure-front-left", "1e5", "notANumber")]
    [InlineData("pressure-front-left", "", "needed")]
    public async Task A_figure_that_cannot_be_is_refused_beside_its_field(string check, string figure, string code)
    {
        await using var fleet = await Fleet.WithLoader();
        var id = (await Start(fleet)).Value!.WalkId;
        var outcome = await Answer(fleet, id, Answered(check, ("figures", Many(figure)), ("ticked", true)));
        Assert.Equal((code, $"figure-{check}"), (Code(outcome), outcome.Refusals[0].Field));
        Assert.Equal(0, await fleet.Ask(db => db.WalkAnswers.CountAsync(Ct)));
    }

    [Fact]
    public async Task Other_bad_answers_are_refused_too()
    {
        await using var fleet = await Fleet.WithLoader();
        var id = (await Start(fleet)).Value!.WalkId;
        async Task Refused(AnswerInput input, string code) => Assert.Equal(code, Code(await Answer(fleet, id, input)));
        await Refused(new("nuts-left", new PointsAnswer([PointState.Good, PointState.Good, PointState.Good])), "countOver");
        await Refused(Answered("nuts-left", ("points", Many(PointState.Open, PointState.Open))), "pointsNeeded");
        await Refused(Answered("engine-oil-level", ("level", "75"), ("ticked", true)), "lookNeeded");
        await Refused(Answered("engine-oil-level", ("level", "75"), ("look", FluidLook.Clear)), "truthNeeded");
        await Refused(
            Answered("engine-oil-level", ("level", "75"), ("look", FluidLook.Clear), ("ticked", true), ("added", "five")),
            "notANumber"
        );
        await Refused(
            Answered("engine-oil-level", ("level", "75"), ("look", FluidLook.Clear), ("ticked", true), ("added", "501")),
            "between"
        );
        await Refused(Answered("codes", ("codes", "100/1, oops")), "codeShapeSpn");
        await Refused(Answered("codes", ("codes", " ")), "codesNeeded");
        await Refused(Answered("fuel-bowl"), "drainNeeded");
        await Refused(Answered("horn"), "seenNeeded");
        await Refused(Answered("horn", ("leftOut", " ")), "reasonNeeded");
        await Refused(Answered("sag-left", ("figures", Many("3"))), "noSuchCheck");
        Assert.Equal("noSuchWalk", Code(await Answer(fleet, 999, Answered("horn"))));
        Assert.Equal("noSuchStep", Code(await fleet.Do<SaveAnswer, Outcome<Nothing>>(x => x.Tick(id, "off-ground", true, Fleet.Tam, Ct))));
    }

    [Fact]
    public async Task What_is_not_done_needs_a_reason_and_a_fault_needs_its_defect_before_signing_off()
    {
        await using var fleet = await Fleet.WithLoader();
        var id = (await Start(fleet)).Value!.WalkId;
        await Answer(fleet, id, Answered("controls-free", ("seen", "fault")));
        Assert.Equal("faultsUnwritten,leftOutNeeded", Code(await Finish(fleet, id)));
        Assert.Equal("faultsUnwritten", Code(await Finish(fleet, id, "tide was coming")));

        var defect = await fleet.Do<ReportDefect, Outcome<DefectRow>>(x =>
            x.Run(
                new()
                {
                    Unit = "WL-01",
                    WalkId = id,
                    Check = "controls-free",
                    Words = "Left lever sticks",
                    LimitHours = "20",
                    LimitDays = "3",
                },
                Fleet.Tam,
                Ct
            )
        );
        Assert.Equal((DefectGrade.Limit, new MeterHours(3600 + 200)), (defect.Value!.Grade, defect.Value.LimitHours!.Value));
        var walk = (await Finish(fleet, id, "tide was coming")).Value!;
        Assert.Equal((1, walk.Due - 1, 1), (walk.Answered, walk.LeftOut, walk.Faults));

        // With so little looked at it does not run at all; the limit stands beside that.
        Assert.Equal(
            (RunStatus.NotChecked, new MeterHours(3800), new DateOnly(2026, 3, 19)),
            (walk.RunStatus!.Value, walk.UntilHours!.Value, walk.UntilOn!.Value)
        );
        Assert.Equal("tide was coming", ((LeftOutAnswer)(await Context(fleet, id)).Answers["lights"]).Why);
        Assert.Empty(await fleet.Ask(db => db.Completions.Where(x => x.Batch == walk.Batch).ToListAsync(Ct)));
    }

    [Fact]
    public async Task A_walk_done_in_a_minute_is_shown_as_too_quick_and_counts_all_the_same()
    {
        await using var fleet = await Fleet.WithLoader();
        var id = await Walked(fleet);
        fleet.Clock.Advance(TimeSpan.FromMinutes(1));
        Assert.True((await Finish(fleet, id)).Value!.TooQuick);
        var line = Assert.Single((await fleet.Do<WalkViews, WalksOverview>(x => x.Overview(null, 1, Ct))).Lines);
        Assert.Equal((WalkDayState.TooQuick, true), (line.Days[^1].State, line.WalkedToday));
    }

    [Fact]
    public async Task A_machine_out_of_service_is_only_looked_over_by_somebody_who_knows_it()
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.Do<ReportDefect, Outcome<DefectRow>>(x =>
            x.Run(
                new()
                {
                    Unit = "WL-01",
                    Words = "Frame cracked",
                    On = MachinePart.Structure,
                    Grade = DefectGrade.Stop,
                },
                Fleet.Tam,
                Ct
            )
        );
        Assert.Equal("outOfService", Code(await Start(fleet)));
        var walk = await Context(fleet, (await Start(fleet, knows: true)).Value!.WalkId);
        Assert.All(walk.Checks, x => Assert.Equal(EngineState.Off, x.Engine));
        await Answer(fleet, walk.Row.Id, Good(walk.Checks.First(x => x.Kind == CheckKind.Look)));
        Assert.Equal(RunStatus.OutOfService, (await Finish(fleet, walk.Row.Id, "only looked over")).Value!.RunStatus);
    }

    [Fact]
    public async Task Late_sheets_stand_on_their_own_day_without_a_pace_and_future_or_old_ones_are_refused()
    {
        await using var fleet = await Fleet.WithLoader();
        Assert.Equal("lateNotPast", Code(await Start(fleet, lateOn: "2026-03-17")));
        Assert.Equal("lateTooLong", Code(await Start(fleet, lateOn: "2026-02-01")));
        Assert.Equal("notADate", Code(await Start(fleet, lateOn: "soon")));
        var id = (await Start(fleet, "354.1", lateOn: "2026-03-15")).Value!.WalkId;
        Assert.Equal("walkOpen", Code(await Start(fleet)));
        await Answer(fleet, id, Answered("lights", ("seen", "sound")));
        var walk = (await Finish(fleet, id, "only the sheet's head could be read")).Value!;
        Assert.Equal((new DateOnly(2026, 3, 15), true, null), (walk.On, walk.Late, walk.Took));
    }

    [Fact]
    public async Task The_hours_of_a_walk_are_judged_like_any_others()
    {
        await using var fleet = await Fleet.WithLoader();
        var refused = await Start(fleet, "306");
        Assert.Equal("backward", Code(refused));
        Assert.NotEmpty(refused.Value!.Judgement!.DidYouMean);
        Assert.Equal("hoursNotANumber", Code(await Start(fleet, "abc")));
        Assert.Equal(
            "noSuchUnit",
            Code(await fleet.Do<StartWalk, Outcome<StartedWalk>>(x => x.Run(new() { Unit = "XX-9", Hours = "1" }, Fleet.Tam, Ct)))
        );
        Assert.Equal(0, await fleet.Ask(db => db.Walks.CountAsync(Ct)));
    }

    [Fact]
    public async Task Taking_a_walk_back_takes_its_figures_and_completions_with_it_and_leaves_its_defects()
    {
        await using var fleet = await Fleet.WithLoader();
        var id = await Walked(fleet);
        await Answer(fleet, id, new("engine-oil-level", new LevelAnswer(0, FluidLook.Clear, 2) { Ticked = true }, 1));
        await Finish(fleet, id);
        await fleet.Do<ReportDefect, Outcome<DefectRow>>(x =>
            x.Run(
                new()
                {
                    Unit = "WL-01",
                    WalkId = id,
                    Words = "Guard loose",
                    On = MachinePart.Body,
                    Grade = DefectGrade.Watch,
                },
                Fleet.Tam,
                Ct
            )
        );
        Assert.Equal(1, await fleet.Ask(db => db.TopUps.CountAsync(x => x.Litres == new Litres(2), Ct)));

        Assert.Equal("reasonNeeded", Code(await Void("")));
        Assert.Equal("technicianNeeded", Code(await fleet.Do<VoidWalk, Outcome<WalkRow>>(x => x.Run(id, "not mine", Ines, Ct))));
        Assert.True((await Void("wrong machine")).Done);
        Assert.Equal(
            (0, 0, 0, 0, 1),
            await fleet.Ask(async db =>
                (
                    await db.Measures.CountAsync(x => x.Used, Ct),
                    await db.TopUps.CountAsync(Ct),
                    await db.ChecksDone.CountAsync(x => !x.Voided, Ct),
                    await db.Completions.CountAsync(Ct),
                    await db.Defects.CountAsync(Ct)
                )
            )
        );
        Assert.Contains((await Context(fleet, (await Start(fleet, "360.2")).Value!.WalkId)).Checks, x =>
            x.Cadence == Cadence.Every250Hours
        );

        Task<Outcome<WalkRow>> Void(string reason) => fleet.Do<VoidWalk, Outcome<WalkRow>>(x => x.Run(id, reason, Fleet.Tam, Ct));
    }

    [Fact]
    public async Task A_fix_on_the_spot_is_asked_for_again_and_found_again_when_it_did_not_hold()
    {
        await using var fleet = await Fleet.WithLoader();
        var first = (await Start(fleet)).Value!.WalkId;
        await Answer(fleet, first, Answered("engine-hoses", ("seen", "fault")));
        var fixedHere = (
            await fleet.Do<ReportDefect, Outcome<DefectRow>>(x =>
                x.Run(
                    new()
                    {
                        Unit = "WL-01",
                        WalkId = first,
                        Check = "engine-hoses",
                        Words = "Clamp loose",
                        Fixed = "Tightened",
                        Minutes = "5",
                        Parts = "Clamp",
                        LookAgainHours = "10",
                    },
                    Fleet.Tam,
                    Ct
                )
            )
        ).Value!;
        Assert.Equal(
            (DefectState.Closed, 5, new MeterHours(3700)),
            (fixedHere.State, fixedHere.RepairMinutes!.Value, fixedHere.LookAgainHours!.Value)
        );
        Assert.True((await Finish(fleet, first, "short of time")).Done);

        fleet.Clock.Advance(TimeSpan.FromHours(12));
        var soon = (await Start(fleet, "365")).Value!.WalkId;
        Assert.Empty((await Context(fleet, soon)).LookAgain);
        await Answer(fleet, soon, Good((await Context(fleet, soon)).Checks[0]));
        await Finish(fleet, soon, "short of time");
        fleet.Clock.Advance(TimeSpan.FromHours(12));
        var second = (await Start(fleet, "371")).Value!.WalkId;
        Assert.Equal(fixedHere.Id, Assert.Single((await Context(fleet, second)).LookAgain).Id);

        await fleet.Do<DefectNotes, Outcome<DefectRow>>(x =>
            x.LookedAgain(fixedHere.Id, second, Again.DidNotHold, "loose again", Ines, Ct)
        );
        var context = await Context(fleet, second);
        Assert.Empty(context.LookAgain);
        Assert.Equal(
            (fixedHere.Id, "loose again", DefectState.Open),
            (Assert.Single(context.Found).RepeatOf!.Value, context.Found[0].Words, context.Found[0].State)
        );
    }

    [Fact]
    public async Task A_machines_own_limits_judge_its_figures_and_a_worn_part_joins_the_due_list()
    {
        await using var fleet = await Fleet.WithLoader();
        Task<Outcome<MachineCheck>> Limit(LimitInput input) =>
            fleet.Do<MachineLimits, Outcome<MachineCheck>>(x => x.Save("WL-01", input, Fleet.Tam, Ct));
        Assert.Equal("highBelowLow", Code(await Limit(new("pressure-front-left", "4", null, "3", null, null, null, null, null))));
        Assert.Equal("notAWearPart", Code(await Limit(new("pressure-front-left", "3", null, "4", "5", null, null, null, null))));
        Assert.Equal("wearNeedsLimit", Code(await Limit(new("edge-height", null, null, null, "32", null, null, null, null))));
        Assert.Equal("notANumber", Code(await Limit(new("pressure-front-left", "three", null, null, null, null, null, null, null))));
        Assert.True((await Limit(new("pressure-front-left", "3.8", null, "4.2", null, null, null, null, "20.5 R25"))).Done);
        Assert.True((await Limit(new("edge-height", "12", null, null, "32", null, null, null, null))).Done);

        var id = (await Start(fleet)).Value!.WalkId;
        var low = await Answer(fleet, id, Answered("pressure-front-left", ("figures", Many("3.6")), ("ticked", true)));
        Assert.Equal((CheckOutcome.Fault, CheckReason.UnderLimit), (low.Value!.Result.Outcome, low.Value.Result.Reason));
        Assert.DoesNotContain((await fleet.Page("WL-01")).Groups, x => x.Items.Any(i => i.Point.ItemCode == "wear:edge-height"));

        await fleet.Do<Nippers.Data.NippersDb>(async db =>
        {
            var machine = await db.Machines.SingleAsync(Ct);
            foreach (var (hours, value) in new[] { (200, 28.0), (300, 24.0) })
                db.Measures.Add(
                    new()
                    {
                        MachineId = machine.Id,
                        CheckCode = "edge-height",
                        Value = value,
                        LifeHours = new MeterHours(hours * 10),
                        At = DateTimeOffset.UnixEpoch.AddHours(hours),
                        Used = true,
                    }
                );
            db.Measures.Add(
                new()
                {
                    MachineId = machine.Id,
                    CheckCode = "edge-height",
                    Value = 1,
                    LifeHours = new MeterHours(3500),
                    At = DateTimeOffset.UnixEpoch.AddHours(350),
                    Used = false,
                }
            );
            await db.SaveChangesAsync(Ct);
        });
        var page = await fleet.Page("WL-01");
        var point = Assert.Single(page.Groups.SelectMany(x => x.Items), x => x.Point.ItemCode == "wear:edge-height");
        Assert.Equal((600.0, "Cutting edge, height at its thinnest"), (point.DueHours!.Value, page.ItemNames["wear:edge-height"]));
        Assert.Equal(0.4, page.Worn.Single().Share);
    }

    [Fact]
    public async Task A_planner_edits_a_list_and_walks_that_were_begun_keep_theirs()
    {
        await using var fleet = await Fleet.WithLoader();
        var open = (await Start(fleet)).Value!.WalkId;
        Task<Outcome<WalkList>> Save(WalkCheckInput input, int version = 1) =>
            fleet.Do<ChangeWalkList, Outcome<WalkList>>(x => x.SaveCheck("walk-wheel-loader", version, input, Fleet.Tam, Ct));
        Assert.Equal("codeShape,needed,noSuchPlace,pointsBetween", Code(await Save(new() { Code = "Bad Code", Kind = CheckKind.Count })));
        Assert.Equal(
            "codeTaken",
            Code(
                await Save(
                    new()
                    {
                        Code = "horn",
                        Name = "Horn",
                        Station = "cab",
                    }
                )
            )
        );
        Assert.True(
            (
                await Save(
                    new()
                    {
                        Code = "tarp",
                        Name = "Tarpaulin on board",
                        Station = "cab",
                        Position = "1",
                    }
                )
            ).Done
        );
        Assert.Equal(
            "changedMeanwhile",
            Code(
                await Save(
                    new()
                    {
                        OldCode = "horn",
                        Code = "horn",
                        Remove = true,
                    }
                )
            )
        );
        Assert.True(
            (
                await Save(
                    new()
                    {
                        OldCode = "horn",
                        Code = "horn",
                        Remove = true,
                    },
                    2
                )
            ).Done
        );

        Assert.Contains((await Context(fleet, open)).Checks, x => x.Code == "horn");
        await Answer(fleet, open, Answered("lights", ("seen", "sound")));
        await Finish(fleet, open, "list is being changed");
        fleet.Clock.Advance(TimeSpan.FromHours(20));
        var checks = (await Context(fleet, (await Start(fleet, "364")).Value!.WalkId)).Checks.Select(x => x.Code).ToList();
        Assert.Contains("tarp", checks);
        Assert.DoesNotContain("horn", checks);
    }

    [Fact]
    public async Task A_kind_of_machine_is_added_with_its_own_list_and_plan()
    {
        await using var fleet = await Fleet.WithLoader();
        Assert.True(
            (
                await fleet.Do<ChangeWalkList, Outcome<WalkList>>(x =>
                    x.Copy("walk-compactor", "our-haulers", "Haul truck", true, Fleet.Tam, Ct)
                )
            ).Done
        );
        Task<Outcome<WalkList>> Plan(string stations, string parts, string places = "") =>
            fleet.Do<ChangeWalkList, Outcome<WalkList>>(x =>
                x.SavePlan("our-haulers", 1, "Haul truck", stations, parts, places, Fleet.Tam, Ct)
            );
        Assert.Equal("stationLine,partLine,stationInUse", Code(await Plan("ground;On the way;10;10;Ground\nnonsense", "Square;1;1;1;1")));
        Assert.Equal(
            "placeLine,placeLine,placeLine,stationInUse",
            Code(await Plan("ground;On the way;10;10;Ground", "Body;1;1;1;1", "engine;400;10\nengine;1\nhoist;1;1\nhoist;2;2"))
        );
        var list = (await fleet.Do<ChangeWalkList, WalkListPage?>(x => x.One("our-haulers", Ct)))!;
        Assert.True(
            (
                await Plan(
                    string.Join('\n', list.Body.Stations.Select(x => $"{x.Code};{x.Name};10;20;{x.Height}")),
                    "Body;60;80;180;80\nWheel;70;50;40;24;0",
                    "engine;70;118"
                )
            ).Done
        );
        var changed = (await fleet.Do<ChangeWalkList, WalkListPage?>(x => x.One("our-haulers", Ct)))!;
        Assert.Equal(new PlanPlace("engine", 70, 118), Assert.Single(changed.Body.Places));
        Assert.Equal((2, PlanShape.Wheel, 20.0), (changed.Body.Parts.Length, changed.Body.Parts[1].Shape, changed.Body.Stations[0].Y));
    }

    [Fact]
    public async Task A_whole_walk_comes_in_at_once_or_not_at_all_and_a_repeat_changes_nothing()
    {
        await using var fleet = await Fleet.WithLoader();
        SubmitWalkInput Input(string? seen) =>
            new(
                new()
                {
                    Unit = "WL-01",
                    Hours = "360",
                    Key = "phone-7",
                },
                [Answered("controls-free", ("seen", seen)), Answered("lights", ("seen", "sound"))],
                [
                    new()
                    {
                        Unit = "",
                        Check = "controls-free",
                        Words = "Left lever sticks",
                        LimitDays = "2",
                    },
                ],
                new("sent from the gate", null)
            );
        Task<Outcome<WalkRow>> Submit(string? seen) => fleet.Do<SubmitWalk, Outcome<WalkRow>>(x => x.Run(Input(seen), Fleet.Tam, Ct));

        var before = await fleet.Fingerprint();
        Assert.Equal("seenNeeded", Code(await Submit(null)));
        Assert.Equal(before, await fleet.Fingerprint());
        Assert.Equal(0, await fleet.Ask(db => db.Walks.CountAsync(Ct)));

        var kept = (await Submit("fault")).Value!;
        Assert.Equal((2, 1, RunStatus.NotChecked), (kept.Answered, kept.Faults, kept.RunStatus!.Value));
        Assert.Equal(kept.Id, (await Submit("fault")).Value!.Id);
        Assert.Equal((1, 1), await fleet.Ask(async db => (await db.Walks.CountAsync(Ct), await db.Defects.CountAsync(Ct))));
    }

    public static TheoryData<string> Kinds() => [.. StarterLists.All().Select(x => x.Code)];

    [Theory]
    [MemberData(nameof(Kinds))]
    public void Each_shipped_list_is_whole(string code)
    {
        var list = StarterLists.All().Single(x => x.Code == code).Body;
        Assert.Equal(list.Checks.Length, list.Checks.Select(x => x.Code).Distinct().Count());
        Assert.All(list.Checks, check =>
        {
            Assert.Contains(list.Stations, x => x.Code == check.Station);
            Assert.True(check.Posture.Length == 0 || list.Postures.Any(x => x.Code == check.Posture), check.Code);
            Assert.All(check.Needs.Split(' ', StringSplitOptions.RemoveEmptyEntries), word =>
                Assert.True(Core.Service.MachineOptions.Knows(word.TrimStart('!')), $"{check.Code} {word}")
            );
            Assert.True(check.Kind is not (CheckKind.Count or CheckKind.Grease) || check.Points.Length > 0, check.Code);
            Assert.True(check.Kind != CheckKind.Measure || check.Unit.Length > 0, check.Code);
        });

        // A plain machine's walk on an ordinary morning: about what a paper sheet has.
        var options = new HashSet<string> { "ac", "aftertreatment=def", "attachment=none", "linkage=greased" };
        var daily = list.Checks.Count(x =>
            Core.Service.OptionRule.Holds(x.Needs, options) && x.Cadence is Cadence.EveryWalk or Cadence.TwiceAShift
        );
        Assert.InRange(daily, 35, 60);
        var packed = ListJson.Read(ListJson.Write(list));
        Assert.Equal(ListJson.Write(list), ListJson.Write(packed));
    }
}
