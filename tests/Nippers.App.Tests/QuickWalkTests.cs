using Nippers.App.Defects;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.Walks;
using static Nippers.App.Tests.Outcomes;
using static Nippers.App.Tests.WalkRig;

namespace Nippers.App.Tests;

/// <summary>A walk in few taps: rounds of its own, a station said OK at once, usual faults, what stood here last time.</summary>
public sealed class QuickWalkTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static async Task<WalkContext> Begin(Fleet fleet, string hours, params WalkPart[] parts)
    {
        var input = new StartWalkInput
        {
            Unit = "WL-01",
            Hours = hours,
            Parts = parts,
        };
        return await Context(fleet, (await Ok<StartWalk, StartedWalk>(fleet, x => x.Run(input, Ines, Ct))).WalkId);
    }

    [Fact]
    public async Task An_ordinary_morning_leaves_greasing_and_the_longer_rounds_for_later_but_nothing_that_is_safety_critical()
    {
        await using var fleet = await Fleet.WithLoader();
        var start = (await fleet.Do<WalkViews, WalkStart?>(x => x.Start("WL-01", Ct)))!;
        Assert.Equal([WalkPart.Ordinary, WalkPart.Greasing, WalkPart.FiftyHours, WalkPart.TwoFiftyHours], start.Offers.Select(x => x.Part));
        Assert.All(start.Offers, x => Assert.True(x is { Minutes: > 0, Checks: > 0 }));

        var morning = await Begin(fleet, "360", WalkPart.Ordinary);
        Assert.Equal(WalkRound.Whole, morning.Row.Round);
        Assert.DoesNotContain(morning.Checks, x => x.Kind == CheckKind.Grease);
        Assert.All(morning.Checks, x => Assert.True(WalkMinutes.PartOf(x) == WalkPart.Ordinary || x.IsSafetyCritical, x.Code));
        Assert.Contains(morning.Checks, x => x.Code == "stop-buttons");

        // What was not chosen stays due, and is a walk of its own beside the morning's.
        var greasing = await Begin(fleet, "360", WalkPart.Greasing, WalkPart.TwoFiftyHours);
        Assert.Equal(WalkRound.Second, greasing.Row.Round);
        Assert.Equal([WalkPart.Greasing, WalkPart.TwoFiftyHours], greasing.Checks.Select(WalkMinutes.PartOf).Distinct().Order());
    }

    [Theory]
    [InlineData(Again.AsBefore, DefectGrade.NextService)]
    [InlineData(Again.Worse, DefectGrade.Limit)]
    public async Task What_is_said_of_an_open_defect_is_the_answer_of_its_check_so_that_nobody_is_asked_twice(
        Again again,
        DefectGrade grade
    )
    {
        await using var fleet = await Fleet.WithLoader();
        var defect = await Ok<ReportDefect, DefectRow>(fleet, x => x.Run(
                new()
                {
                    Unit = "WL-01",
                    Check = "belts",
                    Words = "glazed",
                    Grade = DefectGrade.NextService,
                },
                Ines,
                Ct
            ));
        var id = (await Begin(fleet, "360", WalkPart.Ordinary)).Row.Id;
        await Ok<DefectNotes, DefectRow>(fleet, x => x.LookedAgain(defect.Id, id, again, null, Ines, Ct));
        var walk = await Context(fleet, id);
        Assert.Equal(new SeenAnswer(false), walk.Answers["belts"]);
        Assert.DoesNotContain(walk.FaultsWithoutDefect, x => x.Code == "belts");
        Assert.Equal(grade, walk.Defects.Single().Grade);

        // Somebody who answered it before keeps the answer.
        var other = await Begin(fleet, "360", WalkPart.FiftyHours);
        await Ok<DefectNotes, DefectRow>(fleet, x => x.LookedAgain(defect.Id, other.Row.Id, Again.AsBefore, null, Ines, Ct));
        Assert.DoesNotContain("belts", (await Context(fleet, other.Row.Id)).Answers.Keys);
    }

    [Fact]
    public async Task No_round_chosen_is_told_beside_the_rounds()
    {
        await using var fleet = await Fleet.WithLoader();
        var input = new StartWalkInput
        {
            Unit = "WL-01",
            Hours = "360",
            Parts = [],
        };
        var refused = await Refused<StartWalk, StartedWalk>(fleet, x => x.Run(input, Ines, Ct));
        Assert.Equal(("parts", "needed"), (refused.Field, refused.Code));
    }

    [Fact]
    public async Task A_station_is_said_OK_at_once_but_never_what_is_grave_open_or_failed_lately()
    {
        await using var fleet = await Fleet.WithLoader();
        var open = (
            await fleet.Do<ReportDefect, Outcome<DefectRow>>(x =>
                x.Run(
                    new()
                    {
                        Unit = "WL-01",
                        Check = "coolers",
                        Words = "fins bent",
                    },
                    Ines,
                    Ct
                )
            )
        ).Value!;
        var walk = await Begin(fleet, "360", WalkPart.Ordinary);
        var rear = walk.Steps.First(x => x.Checks.Any(c => c.Code == "coolers"));
        var engine = walk.Steps.First(x => x.Checks.Any(c => c.Code == "fuel-near-heat"));
        foreach (var step in new[] { rear, engine })
            Assert.True((await fleet.Do<SaveAnswer, Outcome<Nothing>>(x => x.AllOk(walk.Row.Id, step.Code, Ines, Ct))).Done);

        var after = await Context(fleet, walk.Row.Id);
        Assert.True(after.Answers.Count > 3);
        Assert.All(after.Answers, x => Assert.Equal(CheckAnswer.OkAtOnce, x.Value));
        Assert.All(after.Answers.Keys, code =>
            Assert.True(after.Checks.Single(x => x.Code == code) is { Kind: CheckKind.Look, IsSafetyCritical: false })
        );
        Assert.DoesNotContain("coolers", after.Answers.Keys);
        Assert.DoesNotContain("fuel-near-heat", after.Answers.Keys);
        Assert.DoesNotContain("engine-oil-level", after.Answers.Keys);

        // Mended, it still failed within 30 days.
        await fleet.Do<RepairDefect, Outcome<DefectRow>>(x => x.Repair(open.Id, new("combed", null, null, null, null), Fleet.Tam, Ct));
        var mended = await Context(fleet, walk.Row.Id);
        Assert.False(mended.MayBeSaidAtOnce(mended.Checks.Single(x => x.Code == "coolers")));
        fleet.Clock.Advance(TimeSpan.FromDays(31));
        Assert.Equal("noSuchStep", Code(await fleet.Do<SaveAnswer, Outcome<Nothing>>(x => x.AllOk(walk.Row.Id, "isolate", Ines, Ct))));
        Assert.Equal("noSuchWalk", Code(await fleet.Do<SaveAnswer, Outcome<Nothing>>(x => x.AllOk(999, rear.Code, Ines, Ct))));
    }

    [Fact]
    public async Task How_a_thing_was_said_OK_is_kept_in_the_finished_walk()
    {
        await using var fleet = await Fleet.WithLoader();
        var walk = await Begin(fleet, "360", WalkPart.Ordinary);
        foreach (var step in walk.Steps.Where(x => x.Kind == StepKind.Station))
            await fleet.Do<SaveAnswer, Outcome<Nothing>>(x => x.AllOk(walk.Row.Id, step.Code, Ines, Ct));
        var said = (await Context(fleet, walk.Row.Id)).Answers.Keys.ToHashSet();
        foreach (var check in walk.Checks.Where(x => !said.Contains(x.Code)))
            Assert.True((await Answer(fleet, walk.Row.Id, Good(check))).Done, check.Code);
        Assert.True((await Finish(fleet, walk.Row.Id)).Done);
        var kept = (await Context(fleet, walk.Row.Id)).Answers;
        Assert.Equal(said.Order(), kept.Where(x => x.Value == CheckAnswer.OkAtOnce).Select(x => x.Key).Order());
        Assert.Contains(kept, x => x.Value is SeenAnswer { Ok: true, AtOnce: false });

        // The next walk shows what stood here, and waits count from the lockout.
        fleet.Clock.Advance(TimeSpan.FromDays(1));
        var next = await Begin(fleet, "366", WalkPart.Ordinary);
        Assert.Equal(walk.Row.On, next.LastOn);
        Assert.Equal(0.75, Assert.IsType<LevelAnswer>(next.LastTime["engine-oil-level"]).Level);
        Assert.Null(next.StoppedAt);
        await fleet.Do<SaveAnswer, Outcome<Nothing>>(x => x.Tick(next.Row.Id, "isolate", true, Ines, Ct));
        Assert.Equal(fleet.Clock.GetUtcNow(), (await Context(fleet, next.Row.Id)).StoppedAt);
    }

    [Fact]
    public async Task A_usual_fault_brings_its_words_and_its_floor()
    {
        await using var fleet = await Fleet.WithLoader();
        var walk = await Begin(fleet, "360", WalkPart.Ordinary);
        await Answer(fleet, walk.Row.Id, Answered("tyres-left", ("seen", "fault")));
        DefectInput Tapped(string usual, DefectGrade? grade = null, string? words = null) =>
            new()
            {
                Unit = "WL-01",
                WalkId = walk.Row.Id,
                Check = "tyres-left",
                Usual = usual,
                Words = words,
                Grade = grade,
                ChoosesGrade = true,
                LimitHours = "20",
            };
        Task<Outcome<DefectRow>> Report(DefectInput input) => fleet.Do<ReportDefect, Outcome<DefectRow>>(x => x.Run(input, Ines, Ct));
        Assert.Equal("gradeNeeded", Code(await Report(Tapped("stone jammed"))));
        var cord = (await Report(Tapped("cord showing", words: "inner side"))).Value!;
        Assert.Equal(("cord showing: inner side", DefectGrade.Stop, SafetyPart.Tyre), (cord.Words, cord.Grade, cord.Safety));
    }

    [Theory]
    [InlineData("3.5", 3.5, null)]
    [InlineData("3.5 bar", 3.5, null)]
    [InlineData("51 psi", 3.516, "51 psi")]
    [InlineData("350kPa", 3.5, "350kPa")]
    public async Task A_pressure_is_typed_as_the_gauge_shows_it(string typed, double bar, string? kept)
    {
        await using var fleet = await Fleet.WithLoader();
        var walk = await Begin(fleet, "360", WalkPart.Ordinary, WalkPart.FiftyHours);
        var saved = await Answer(fleet, walk.Row.Id, Answered("pressure-front-left", ("figures", Many(typed)), ("ticked", true)));
        var answer = Assert.IsType<MeasureAnswer>(saved.Value!.Answer);
        Assert.Equal((bar, kept), (answer.Figures[0], answer.Typed));
        Assert.Equal(kept ?? "3.5", CheckForm.Write(saved.Value.Check, answer)["figures"]);
    }

    [Theory]
    [InlineData("51 mm")]
    [InlineData("psi")]
    [InlineData("3,500.1 psi")]
    [InlineData("")]
    public async Task What_is_no_pressure_is_told_beside_its_field(string typed)
    {
        await using var fleet = await Fleet.WithLoader();
        var walk = await Begin(fleet, "360", WalkPart.Ordinary, WalkPart.FiftyHours);
        var refused = await Answer(fleet, walk.Row.Id, Answered("pressure-front-left", ("figures", Many(typed)), ("ticked", true)));
        Assert.Equal("figure-pressure-front-left", refused.Refusals[0].Field);
    }

    [Fact]
    public void Every_starter_check_has_three_to_six_usual_faults_in_a_few_words()
    {
        foreach (var list in StarterLists.All())
            Assert.All(list.Body.Checks, x =>
            {
                Assert.InRange(x.Faults.Length, 3, 6);
                Assert.Equal(x.Faults.Length, x.Faults.Select(f => f.Words).Distinct().Count());
                Assert.All(x.Faults, f => Assert.InRange(f.Words.Length, 3, 34));
                Assert.True(!x.IsSafetyCritical || x.Faults.All(f => f.Least == DefectGrade.Stop), $"{list.Code} {x.Code}");
            });
    }

    [Fact]
    public void No_caution_speaks_of_another_state_than_that_of_its_step()
    {
        foreach (var list in StarterLists.All())
            Assert.All(list.Body.Checks, x =>
            {
                var told = $"{x.Caution} {x.Truth}";
                if (x.Engine == EngineState.Running)
                    Assert.DoesNotMatch("(?i)locked out|isolated|engine off|key out", told);
                else
                    Assert.DoesNotMatch("(?i)the engine runs|running at idle|high idle", told);
            });
    }

    [Fact]
    public void Each_kind_stands_its_own_way_and_raises_a_track_only_where_it_can()
    {
        var lists = StarterLists.All().ToDictionary(x => x.Kind.Code, x => x.Body);
        Assert.All(lists.Values, x => Assert.Equal("levels", x.Postures[0].Code));
        Assert.Equal(lists.Count, lists.Values.Select(x => x.Postures[0].Words).Distinct().Count());
        Assert.Equal(
            ["crawler-excavator", "mini-excavator"],
            lists.Where(x => x.Value.Postures.Any(p => p.Code == Posture.Hang)).Select(x => x.Key).Order()
        );
        Assert.All(lists.Values.SelectMany(x => x.Postures).Where(x => x.Code == Posture.Hang), x =>
        {
            Assert.NotEmpty(x.After);
            Assert.NotEmpty(x.Caution);
            Assert.Contains("stands", x.Words, StringComparison.OrdinalIgnoreCase);
        });

        // Engine and cooler stand at the end where that kind has them; the machine faces right.
        foreach (
            var (kind, front) in new[]
            {
                ("crawler-dozer", true),
                ("backhoe-loader", true),
                ("wheel-loader", false),
                ("crawler-excavator", false),
            }
        )
        {
            var list = lists[kind];
            var cooler = list.Stations.Single(x => x.Code == list.Checks.Single(c => c.Code == "coolers").Station);
            Assert.Equal(front, list.Stations.Single(x => x.Code == "engine").X > 160);
            Assert.Equal(front, cooler.X > 160);
        }
    }

    [Fact]
    public async Task A_planner_gives_a_kind_its_own_positions()
    {
        await using var fleet = await Fleet.WithLoader();
        Task<Outcome<WalkList>> Save(int version, params PostureInput[] postures) =>
            fleet.Do<ChangeWalkList, Outcome<WalkList>>(x =>
                x.SavePostures("walk-wheel-loader", version, postures, null, false, Fleet.Tam, Ct)
            );
        PostureInput Levels(string? words = "Flat, brake on.") => new("levels", "for levels", words, "", "");
        var grease = new PostureInput("grease", "for greasing", "Bucket down.", "Lock out.", "Hands clear.");
        Assert.Equal("postureInUse", Code(await Save(1, Levels())));
        Assert.Equal("needed,postureInUse", Code(await Save(1, Levels(" "))));
        Assert.Equal("codeShape", Code(await Save(1, Levels(), grease, new("On Stands", "x", "y", "", ""))).Split(',')[0]);
        Assert.Equal("codeTaken", Code(await Save(1, Levels(), grease, grease)).Split(',')[0]);
        Assert.True((await Save(1, Levels(), grease, new("", " ", null, "", ""))).Done);
        Assert.Equal("changedMeanwhile", Code(await Save(1, Levels(), grease)));
        var list = (await fleet.Do<ChangeWalkList, WalkListPage?>(x => x.One("walk-wheel-loader", Ct)))!.Body;
        Assert.Equal(["levels", "grease"], list.Postures.Select(x => x.Code));
        Assert.Equal("Hands clear.", list.Postures[1].Caution);
    }

    [Theory]
    [InlineData(12, true)]
    [InlineData(40, false)]
    public async Task Under_half_of_its_honest_minutes_a_walk_was_too_quick_to_have_looked(int minutes, bool tooQuick)
    {
        await using var fleet = await Fleet.WithLoader();
        var walk = await Begin(fleet, "360", WalkPart.Ordinary, WalkPart.Greasing, WalkPart.FiftyHours);
        foreach (var check in walk.Checks)
            Assert.True((await Answer(fleet, walk.Row.Id, Good(check))).Done);
        fleet.Clock.Advance(TimeSpan.FromMinutes(minutes));
        var row = (await Finish(fleet, walk.Row.Id)).Value!;
        Assert.InRange(row.HonestSeconds, 25 * 60, 75 * 60);
        Assert.Equal(tooQuick, row.TooQuick);
    }
}
