using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Jobs;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.People;
using Nippers.Data.Queries;
using Nippers.Data.Visits;
using static Nippers.App.Tests.CardRig;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>Whose lock is on a machine, what is open on it, and what a card may do about that.</summary>
public sealed class CardSafetyTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static async Task AddPeople(Fleet fleet, params string[] names) =>
        await fleet.Ask(async db =>
        {
            var role = new Microsoft.AspNetCore.Identity.IdentityRole(Roles.Technician);
            db.Roles.Add(role);
            foreach (var name in names)
            {
                var user = new NippersUser { UserName = name, FullName = name };
                db.Users.Add(user);
                db.UserRoles.Add(new() { UserId = user.Id, RoleId = role.Id });
            }

            return await db.SaveChangesAsync(Ct);
        });

    /// <summary>The release that leads to the first run after the work.</summary>
    private static async Task<JobStep> NextRelease(Fleet fleet, long id)
    {
        var steps = (await Job(fleet, id)).Card.Steps;
        var run = steps.ToList().FindIndex(x => x.Code == "card.leaks");
        return steps.Take(run).Last(x => x.Between == CardBetween.Release);
    }

    private static async Task<JobStep> WorkToRelease(Fleet fleet, long id)
    {
        var release = await NextRelease(fleet, id);
        await Through(fleet, id, release.Code);
        return release;
    }

    private static async Task<StepInput> Calmly(Fleet fleet, long id, JobStep step) => new(step.Code, Calm(await Job(fleet, id), step));

    [Fact]
    public async Task Locks_come_off_by_whom_they_belong_to_until_they_are_handed_over_by_name()
    {
        await using var fleet = await Ready();
        await AddPeople(fleet, "Tam Ollery", "Bea Lund");
        var id = await Opened(fleet, EngineOil);
        var release = await WorkToRelease(fleet, id);
        var off = await Calmly(fleet, id, release);

        Assert.Equal("lockOfAnother", await RefusedWith<SaveStep, SavedStep>(fleet, x => x.Run(id, off, Fleet.Bea, Ct)));
        Assert.Equal("notHolder", await RefusedWith<HandOver, VisitRow>(fleet, x => x.Give(id, "Bea Lund", null, Fleet.Bea, Ct)));
        Assert.Equal("noSuchPerson", await RefusedWith<HandOver, VisitRow>(fleet, x => x.Give(id, "Nobody", null, Fleet.Tam, Ct)));
        Assert.Equal("noSuchPerson", await RefusedWith<HandOver, VisitRow>(fleet, x => x.Give(id, "Tam Ollery", null, Fleet.Tam, Ct)));
        Assert.Equal("notHandedToYou", await RefusedWith<HandOver, VisitRow>(fleet, x => x.Take(id, new(true, null), Fleet.Bea, Ct)));
        await Ok<HandOver, VisitRow>(fleet, x => x.Give(id, "Bea Lund", "filter is on, cap is off", Fleet.Tam, Ct));

        // Handed, and not taken: it is still the first one's.
        Assert.Equal("lockOfAnother", await RefusedWith<SaveStep, SavedStep>(fleet, x => x.Run(id, off, Fleet.Bea, Ct)));
        Assert.Equal("ownLockNeeded", await RefusedWith<HandOver, VisitRow>(fleet, x => x.Take(id, new(false, null), Fleet.Bea, Ct)));
        await Ok<HandOver, VisitRow>(fleet, x => x.Take(id, new(true, null), Fleet.Bea, Ct));

        Assert.Equal("lockOfAnother", await RefusedWith<SaveStep, SavedStep>(fleet, x => x.Run(id, off, Fleet.Tam, Ct)));
        Assert.True((await Keep(fleet, id, off, Fleet.Bea)).Result.Accepted);
    }

    [Fact]
    public async Task A_planner_takes_over_from_who_is_away_by_saying_how_they_were_tried()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);

        Assert.Equal("ownerTriedNeeded", await RefusedWith<HandOver, VisitRow>(fleet, x => x.Take(id, new(true, " "), Mara, Ct)));
        await Ok<HandOver, VisitRow>(fleet, x => x.Take(id, new(true, "rang twice, Bea tells him at the gate"), Mara, Ct));

        Assert.Equal("Mara Quill", (await Row(fleet, id)).HeldBy);
        Assert.Contains(
            "rang twice",
            await fleet.Ask(db => db.Audit.Where(x => x.What == "visit.take").Select(x => x.After!).SingleAsync(Ct)),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task A_paper_card_on_which_nothing_was_touched_enters_nothing()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, Fuel);
        var filter = (await Job(fleet, id)).Card.Steps.First(x => x.Input == InputKind.Filter);
        await Through(fleet, id, filter.Code);
        var wrong = Calm(await Job(fleet, id), filter).With("lengthMm", "150");
        Assert.False((await Keep(fleet, id, new(filter.Code, wrong))).Result.Accepted);

        var job = await Job(fleet, id);
        var steps = job.Card.Steps.Select(x => new PaperStep(x.Code, StepForm.Write(x, job.State.AnswerOf(x)))).ToList();
        var entered = await Ok<EnterCard, EnteredCard>(fleet, x => x.Run(id, "2026-03-16T07:00", "2026-03-16T07:00", steps, Fleet.Tam, Ct));

        Assert.Equal((0, 0, 0), (entered.Saved, entered.Refused.Count, entered.NotDone.Count));
        Assert.Equal(1, (await Job(fleet, id)).Rows[filter.Code].Revision);

        // What is touched is entered, and is known as paper: its time is not that of the work.
        PaperStep right = new(filter.Code, Calm(job, filter));
        var again = await Ok<EnterCard, EnteredCard>(fleet, x => x.Run(id, "2026-03-16T07:00", "2026-03-16T07:00", [right], Fleet.Tam, Ct));
        Assert.Equal((1, true), (again.Saved, (await Job(fleet, id)).Rows[filter.Code].Paper));
    }

    [Fact]
    public async Task Everybody_who_asks_about_the_machine_reads_what_is_open_on_it()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        Assert.Null((await Answer()).CardOff);
        var drained = (await Job(fleet, id)).Card.Steps.First(x => x.Input == InputKind.Drained);
        await Through(fleet, id, drained.Code);

        var drain = (await Job(fleet, id)).Card.Steps.First(x => x.Opens.Length > 0);
        Assert.Contains(drain.Touches, (await Answer()).CardOff, StringComparison.Ordinal);
        Assert.Equal(RunStatus.OutOfService, (await Answer()).RunStatus);
        Assert.Equal((await Answer()).CardOff, (await fleet.Ask(db => db.Statuses.SingleAsync(Ct))).CardOff);

        // Flakes on the magnet make a stop of it: who comes to the machine needs the holder and the open drain all the same.
        await Ok<ReportDefect, DefectRow>(fleet, x => x.Run(
                new()
                {
                    Unit = Unit,
                    On = MachinePart.Engine,
                    Words = "flakes on the magnet",
                    Grade = DefectGrade.Stop,
                },
                Fleet.Tam,
                Ct
            ));
        var stopped = (await fleet.Ask(db => db.Statuses.SingleAsync(Ct))).Answer;
        Assert.True(stopped is { StopStands: true, CardOpen: true });
        Assert.Contains(drain.Touches, stopped.CardOff, StringComparison.Ordinal);

        await Through(fleet, id);
        Assert.Null((await Answer()).CardOff);
        Assert.Equal(("", null), ((await Row(fleet, id)).StandsOpen, (await fleet.Ask(db => db.Statuses.SingleAsync(Ct))).CardOff));

        async Task<RunAnswer> Answer()
        {
            var machine = (await Row(fleet, id)).MachineId;
            return (await fleet.Ask(db => db.RunFactsOf(machine, Ct))).Answer([]);
        }
    }

    [Fact]
    public async Task Who_locks_it_out_anew_holds_it()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        var isolate = (await Job(fleet, id)).Card.Steps.First(x => x.Between == CardBetween.Isolate);
        await Through(fleet, id, isolate.Code);
        await Keep(fleet, id, await Calmly(fleet, id, isolate), Fleet.Bea);
        Assert.Equal("Bea Lund", (await Row(fleet, id)).HeldBy);
    }

    [Fact]
    public async Task A_card_that_cannot_be_finished_is_closed_with_the_machine_locked_out_and_stopped()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil, Tension);
        await Through(fleet, id, "engine-oil.plug");
        CloseInput Input(string note, int version, bool locked = true) => new("60", note, version, locked);
        var version = (await Row(fleet, id)).Version;

        Assert.Equal(
            "closeOpenDrain",
            await RefusedWith<CloseVisit, VisitRow>(fleet, x => x.Run(id, Input("plug stripped", version, false), Fleet.Tam, Ct))
        );
        Assert.Equal("needed", await RefusedWith<CloseVisit, VisitRow>(fleet, x => x.Run(id, Input(" ", version), Fleet.Tam, Ct)));
        await Ok<CloseVisit, VisitRow>(fleet, x => x.Run(id, Input("plug stripped, new one on Friday", version), Fleet.Tam, Ct));

        var row = await Row(fleet, id);
        Assert.Equal((VisitState.Closed, VisitItemState.Left), (row.State, row.Items.Single(x => x.ItemCode == EngineOil).State));
        var defect = await fleet.Ask(db => db.Defects.SingleAsync(Ct));
        Assert.Equal((DefectGrade.Stop, SafetyPart.Notice, DefectState.Open), (defect.Grade, defect.Safety, defect.State));
        Assert.Contains("Tam Ollery", defect.Words, StringComparison.Ordinal);
        Assert.Contains("drain plug out", defect.Words, StringComparison.Ordinal);
        Assert.Contains("plug stripped", defect.Words, StringComparison.Ordinal);
        Assert.True((await fleet.Status(Unit)).OutOfService);

        // The oil is not changed: it stays due.
        Assert.False(await fleet.Ask(db => db.Completions.AnyAsync(x => x.ItemCode == EngineOil && x.Batch == row.Batch, Ct)));
    }

    [Fact]
    public async Task A_card_is_not_closed_with_work_open_on_a_machine_that_is_not_locked_out()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        var version = (await Row(fleet, id)).Version;
        Assert.Equal(
            "notLockedOut",
            await RefusedWith<CloseVisit, VisitRow>(fleet, x => x.Run(id, new("60", "no time", version, true), Fleet.Tam, Ct))
        );
    }

    [Fact]
    public async Task Leaving_an_item_asks_what_of_it_is_off_and_puts_that_back_before_the_locks_come_off()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, Tension, Fuel);
        await Through(fleet, id, (await Job(fleet, id)).Card.Steps.First(x => x.Item == Fuel && x.Input == InputKind.Filter).Code);
        var may = (await Job(fleet, id)).State.MayBeOff(Fuel);
        Assert.NotEmpty(may);

        Assert.Equal(
            "leaveOff",
            await RefusedWith<LeaveItem, Nothing>(fleet, x => x.Run(id, Fuel, "wrongPart", null, null, Fleet.Tam, Ct))
        );
        await Ok<LeaveItem, Nothing>(fleet, x => x.Run(id, Fuel, "wrongPart", null, [may[0]], Fleet.Tam, Ct));

        var job = await Job(fleet, id);
        var back = job.Card.Steps.Single(x => x.Code == Fuel + ".back");
        Assert.Equal([may[0]], back.Parts);
        Assert.Contains(may[0], (await fleet.Ask(db => db.Statuses.SingleAsync(Ct))).CardOff, StringComparison.Ordinal);
        var release = await NextRelease(fleet, id);
        Assert.Contains(back, job.State.BlockedBy(release));
        Assert.False((await Keep(fleet, id, Stepped(back.Code, ("done", true)))).Result.Accepted);
        await Keep(fleet, id, await Calmly(fleet, id, back) with { Revision = 1 });
        Assert.DoesNotContain(may[0], (await Row(fleet, id)).StandsOpen, StringComparison.Ordinal);
        await Through(fleet, id);
        Assert.Equal(VisitItemState.Left, (await Close(fleet, id)).Items.Single(x => x.ItemCode == Fuel).State);
    }

    [Fact]
    public async Task A_drain_that_is_open_is_recorded_before_its_item_is_left()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        await Through(fleet, id, "engine-oil.drain");
        var drain = (await Job(fleet, id)).StepOf("engine-oil.drain")!;
        Assert.Equal(
            "recordFirst",
            await RefusedWith<LeaveItem, Nothing>(fleet, x => x.Run(id, EngineOil, "noTime", null, [drain.Touches], Fleet.Tam, Ct))
        );
    }

    [Fact]
    public async Task Oil_that_is_measured_before_it_has_run_out_says_why()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        await Through(fleet, id, "engine-oil.drain");
        var drain = (await Job(fleet, id)).StepOf("engine-oil.drain")!;
        await Keep(fleet, id, await Calmly(fleet, id, drain));
        StepInput Drained(string? reason) =>
            Stepped("engine-oil.drained", ("litres", "23.1"), ("look", FluidLook.Dark), ("reason", reason));

        Assert.Equal("tooEarly", await RefusedWith<SaveStep, SavedStep>(fleet, x => x.Run(id, Drained(null), Fleet.Tam, Ct)));
        Assert.True((await Keep(fleet, id, Drained("pumped out"))).Result.Accepted);
    }

    [Fact]
    public async Task A_machine_that_comes_warm_has_its_coolant_shut_until_it_is_cold()
    {
        await using var fleet = await Ready();
        var id = await Planned(fleet, "coolant-test");
        Assert.Equal("heatNeeded", await RefusedWith<OpenCard, VisitRow>(fleet, x => x.Run(id, "356", false, null, Fleet.Tam, Ct)));
        await Ok<OpenCard, VisitRow>(fleet, x => x.Run(id, "356", false, StepHeat.Warm, Fleet.Tam, Ct));
        await Through(fleet, id, "coolant-test.coolant");
        var job = await Job(fleet, id);
        Assert.Contains(job.Card.Steps, x => x.Between == CardBetween.CoolDown);
        var step = job.StepOf("coolant-test.coolant")!;
        var left = job.State.CoolFrom(step, 90)!.Value - fleet.Clock.GetUtcNow();
        fleet.Clock.Advance(left - TimeSpan.FromMinutes(1));

        var input = await Calmly(fleet, id, step) with { };
        Assert.Equal("coolantHot", await RefusedWith<SaveStep, SavedStep>(fleet, x => x.Run(id, input, Fleet.Tam, Ct)));
        fleet.Clock.Advance(TimeSpan.FromMinutes(1));
        Assert.True((await Keep(fleet, id, input)).Result.Accepted);
    }

    [Fact]
    public async Task What_has_to_be_warm_is_said_to_be_cold_after_a_night()
    {
        await using var fleet = await Ready();
        await Ok<WorkshopService, Shop>(fleet, x => x.Save(
                new()
                {
                    Labour = "60",
                    DrainHot = true,
                    Vessels = "Pan; 30; oil",
                    Version = 1,
                },
                Mara,
                Ct
            ));
        var id = await Opened(fleet, EngineOil);
        await Through(fleet, id, "engine-oil.drain");
        var drain = (await Job(fleet, id)).StepOf("engine-oil.drain")!;
        Assert.Equal(StepHeat.Warm, drain.Heat);

        Assert.False((await Job(fleet, id)).State.IsColdBy(drain, CardRules.Shipped.WarmLasts, fleet.Clock.GetUtcNow()));
        fleet.Clock.Advance(TimeSpan.FromHours(14));
        Assert.True((await Job(fleet, id)).State.IsColdBy(drain, CardRules.Shipped.WarmLasts, fleet.Clock.GetUtcNow()));

        // Stopped overnight, gone on in the morning: nothing of it is lost, and it can be finished.
        await Through(fleet, id);
        await Close(fleet, id);
    }

    [Fact]
    public async Task A_finding_that_is_entered_as_a_correction_stops_what_runs_by_then()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        await Through(fleet, id, "card.leaks");
        Assert.Equal(MachineState.Running, (await Job(fleet, id)).State.Now);

        await Keep(fleet, id, Stepped("engine-oil.magnet", ("metal", MetalFinding.Chunks)) with { Revision = 1 });

        var job = await Job(fleet, id);
        Assert.Equal(CardBetween.Stop, job.State.Next!.Between);
        Assert.NotEmpty(job.State.BlockedBy(job.StepOf("card.leaks")!));
        await Through(fleet, id);
        Assert.Null((await Job(fleet, id)).State.Next);
    }

    [Fact]
    public async Task A_leak_that_parks_the_machine_stops_its_card()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        await Through(fleet, id, "card.leaks");
        await Keep(fleet, id, Stepped("card.leaks", ("fault", "pressure line sprays"), ("faultGrade", DefectGrade.Stop)));

        var job = await Job(fleet, id);
        Assert.NotNull(job.StepOf("card.leaks.released"));
        Assert.DoesNotContain(job.Card.Steps, x =>
            x.State is MachineState.Running or MachineState.Moving && job.State.IsOpen(x) && job.State.BlockedBy(x).IsEmpty && !x.IsBoundary
        );
    }

    [Fact]
    public async Task A_fill_that_only_the_record_finds_wrong_goes_on_by_two_names_and_the_dipstick()
    {
        await using var fleet = await Ready();
        await EnterStick(fleet);
        var id = await Opened(fleet, EngineOil);
        await Through(fleet, id, "engine-oil.fill");
        StepInput Fill(int revision, string? reason, bool wrong) =>
            Stepped("engine-oil.fill", ("litres", "27"), ("reason", reason), ("recordWrong", wrong)) with
            {
                Revision = revision,
            };

        Assert.Equal([StepRemark.Over], (await Keep(fleet, id, Fill(0, null, false))).Result.Remarks);
        Assert.False((await Keep(fleet, id, Fill(1, null, true))).Result.Accepted);
        Assert.True((await Keep(fleet, id, Fill(2, "sump of the older engine: 27 L", true))).Result.Accepted);

        var job = await Job(fleet, id);
        Assert.NotNull(job.StepOf("engine-oil.fill.released"));
        Assert.Contains("engine-oil.fill.why", job.State.BlockedBy(await NextRelease(fleet, id)).Select(x => x.Code));
        Assert.True(job.State.IsOpen(job.StepOf("engine-oil.before")!));
    }

    [Fact]
    public async Task Figures_reach_the_wear_part_and_go_when_the_card_is_opened_again()
    {
        await using var fleet = await Ready();
        await Ok<MachineLimits, Data.Walks.MachineCheck>(fleet, x =>
            x.Save(Unit, new("tread-left", "8", null, null, "38", "0", null, null, ""), Fleet.Tam, Ct)
        );
        var id = await Opened(fleet, "cutting-edges");
        await Through(fleet, id, "cutting-edges.measure");
        var step = (await Job(fleet, id)).StepOf("cutting-edges.measure")!;
        Assert.Equal(["edge-height", "end-bits"], step.Figures.Select(x => x.Code));
        Assert.False((await Keep(fleet, id, Stepped(step.Code, ("figures", Many("24", ""))))).Result.Accepted);
        Assert.True((await Keep(fleet, id, Stepped(step.Code, ("figures", Many("24", "31"))) with { Revision = 1 })).Result.Accepted);
        await Through(fleet, id);
        await Close(fleet, id);

        var kept = await fleet.Ask(db => db.Measures.Where(x => x.VisitId == id).OrderBy(x => x.CheckCode).ToListAsync(Ct));
        Assert.Equal([("edge-height", 24.0), ("end-bits", 31.0)], kept.Select(x => (x.CheckCode, x.Value)));
        var sheet = (await fleet.Do<VisitProposals, VisitProposal?>(x => x.Of(Unit, Ct)))!.Sheet;
        Assert.Equal(24, sheet.Input.Figures["cutting-edges"].First().Last);

        await Ok<CloseVisit, VisitRow>(fleet, x => x.Reopen(id, "wrong machine", Fleet.Tam, Ct));
        Assert.False(await fleet.Ask(db => db.Measures.AnyAsync(x => x.VisitId == id, Ct)));
    }

    [Fact]
    public async Task A_pressure_takes_its_unit_and_one_outside_the_limit_becomes_a_defect()
    {
        await using var fleet = await Ready();
        foreach (var place in new[] { "front-left", "front-right", "rear-left", "rear-right" })
            await Ok<MachineLimits, Data.Walks.MachineCheck>(fleet, x =>
                x.Save(Unit, new("pressure-" + place, "3.4", null, "4", null, null, null, null, ""), Fleet.Tam, Ct)
            );
        var id = await Opened(fleet, "tyre-pressure");
        await Through(fleet, id, "tyre-pressure.measure-cold");

        var saved = await Keep(fleet, id, Stepped("tyre-pressure.measure-cold", ("figures", Many("51 psi", "3.6", "2.9", "3.5"))));

        Assert.Equal([StepRemark.OutsideLimit], saved.Result.Remarks);
        Assert.Equal(3.516, ((MeasuredAnswer)(await Job(fleet, id)).State.AnswerOf(saved.Step)!).Figures[0]!.Value, 1e-3);
        var defect = await fleet.Ask(db => db.Defects.SingleAsync(Ct));
        Assert.Contains("Rear left 2.9 bar", defect.Words, StringComparison.Ordinal);
        Assert.Equal(
            defect.Id,
            Assert.Single(await fleet.Do<VisitViews, IReadOnlyList<FoundDefect>>(async x => await x.Found((await Job(fleet, id)), Ct))).Id
        );
    }

    [Fact]
    public async Task What_a_step_recorded_home_is_not_asked_for_once_more()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        var release = await WorkToRelease(fleet, id);
        var job = await Job(fleet, id);
        var touched = job.State.TouchedBefore(release);
        Assert.DoesNotContain(job.StepOf("engine-oil.drain")!.Touches, touched);
        Assert.DoesNotContain(job.Card.Steps.First(x => x.Input == InputKind.Filter).Touches, touched);
        Assert.Contains(job.StepOf("engine-oil.fill")!.Touches, touched);
    }
}
