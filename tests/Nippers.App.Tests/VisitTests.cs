using Microsoft.EntityFrameworkCore;
using Nippers.App.Oil;
using Nippers.App.Parts;
using Nippers.App.Programs;
using Nippers.App.Visits;
using Nippers.App.Work;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.Parts;
using Nippers.Data.Visits;
using static Nippers.App.Tests.CardRig;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>From a proposal to a closed card, and back.</summary>
public sealed class VisitTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_figure_that_is_missing_is_asked_for_and_its_neighbour_keeps_its_place()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, Tension);
        await Through(fleet, id, Tension + ".tension");
        var outcome = await fleet.Do<SaveStep, Outcome<SavedStep>>(x =>
            x.Run(id, Stepped(Tension + ".tension", ("done", true), ("figures", Many("", "35"))), Fleet.Tam, Ct)
        );
        Assert.Equal(("figure1", "needed"), (Assert.Single(outcome.Refusals).Field, outcome.Refusals[0].Code));
        Assert.Null((await Job(fleet, id)).State.AnswerOf((await Job(fleet, id)).StepOf(Tension + ".tension")!));
    }

    [Fact]
    public async Task A_photo_of_a_card_is_taken_in_once_and_stands_with_the_defect_as_it_stands_with_the_step()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, Tension);
        var look = (await Job(fleet, id)).Card.Steps.First(x => x.Input == InputKind.Look);
        await Through(fleet, id, look.Code);
        var saved = await Keep(
            fleet,
            id,
            Stepped(look.Code, ("fault", "Belt frayed"), ("faultGrade", DefectGrade.NextService)) with
            {
                Photos = [DefectTests.Picture(800, 600)],
            }
        );
        var step = await fleet.Ask(db => db.StepPhotos.Select(x => x.Whole).SingleAsync(Ct));
        var defect = await fleet.Ask(db =>
            db.DefectPhotos.Where(x => x.DefectId == saved.DefectId).Select(x => x.Bytes.Whole).SingleAsync(Ct)
        );
        Assert.Equal(step, defect);
    }

    [Fact]
    public async Task The_proposal_holds_what_is_past_due_today_and_costs_no_more_than_going_each_time()
    {
        await using var fleet = await Ready();

        var proposal = (await fleet.Do<VisitProposals, VisitProposal?>(x => x.Of(Unit, Ct)))!;

        Assert.Equal(0, proposal.Visits[0].Day);
        Assert.Contains(proposal.Visits[0].Items, x => x.Candidate.Code == EngineOil);
        Assert.True(proposal.Plan.Cost <= proposal.Naive.Cost);
        Assert.All(proposal.Visits[0].Items.Where(x => x.Candidate.Care), x => Assert.True(x.Candidate.Stand!.Point.IntervalHours <= 60));
    }

    [Fact]
    public async Task A_draft_says_what_it_costs_and_what_is_left_out()
    {
        await using var fleet = await Ready();

        var oil = await Ok<PlanVisit, VisitDraft>(fleet, x => x.Draft(new(Unit, "2026-03-20", [EngineOil]), Ct));
        var both = await Ok<PlanVisit, VisitDraft>(fleet, x => x.Draft(new(Unit, "2026-03-20", [EngineOil, Fuel]), Ct));

        Assert.Equal((20, 98, 140), ((int)oil.Visit.Money.Parts, (int)oil.Visit.Money.Fluids, (int)oil.Visit.Money.CallOut));
        Assert.Equal(oil.Visit.Money.Parts + 20, both.Visit.Money.Parts);
        Assert.True(both.Visit.Money.Waste > oil.Visit.Money.Waste);
        Assert.Contains(oil.LeftDue, x => x.Code == "engine-oil-sample");
        Assert.Equal("UM7-110", Assert.Single(oil.Take.Parts).Number);
        Assert.Equal(24.5, Assert.Single(oil.Take.Fluids).Litres);
        Assert.Equal(2, Assert.Single(oil.Take.Pails).Pails);
        Assert.Equal(("22 mm", "68 Nm"), (oil.Take.Tools[0].Socket, oil.Take.Tools[0].Torque));
    }

    [Fact]
    public async Task What_an_item_covers_costs_nothing_more()
    {
        await using var fleet = await Ready();

        var draft = await Ok<PlanVisit, VisitDraft>(fleet, x => x.Draft(new(Unit, "2026-03-20", ["air-primary", "air-ejector"]), Ct));
        var alone = await Ok<PlanVisit, VisitDraft>(fleet, x => x.Draft(new(Unit, "2026-03-20", ["air-primary"]), Ct));

        Assert.Equal("Air primary element, change", draft.Visit.Items.Single(x => x.Candidate.Code == "air-ejector").CoveredBy);
        Assert.Equal(alone.Visit.Money.Whole, draft.Visit.Money.Whole);
    }

    [Theory]
    [InlineData("2026-03-15", "dateInPast")]
    [InlineData("2030-03-15", "dateTooFar")]
    [InlineData("soon", "notADate")]
    public async Task A_date_that_cannot_be_is_refused(string on, string code)
    {
        await using var fleet = await Ready();

        Assert.Equal(code, await RefusedWith<PlanVisit, VisitRow>(fleet, x => x.Save(null, new(Unit, on, [EngineOil]), Fleet.Tam, Ct)));
    }

    [Fact]
    public async Task Two_visits_are_never_on_one_day_and_a_planned_one_can_move_and_be_called_off()
    {
        await using var fleet = await Ready();
        var id = await Planned(fleet, EngineOil);

        Assert.Equal(
            "visitThatDay",
            await RefusedWith<PlanVisit, VisitRow>(fleet, x => x.Save(null, new(Unit, "2026-03-16", [Fuel]), Fleet.Tam, Ct))
        );
        await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(id, new(Unit, "2026-03-18", [EngineOil, Fuel], Version: 1), Fleet.Tam, Ct));
        Assert.Equal(
            "changedMeanwhile",
            await RefusedWith<PlanVisit, VisitRow>(fleet, x => x.Save(id, new(Unit, "2026-03-19", [EngineOil], Version: 1), Fleet.Tam, Ct))
        );
        Assert.Equal(2, (await Row(fleet, id)).Items.Count);
        Assert.Equal("reasonNeeded", await RefusedWith<PlanVisit, VisitRow>(fleet, x => x.Cancel(id, " ", Fleet.Tam, Ct)));
        await Ok<PlanVisit, VisitRow>(fleet, x => x.Cancel(id, "tide", Fleet.Tam, Ct));
        Assert.Equal(
            "visitNotPlanned",
            await RefusedWith<OpenCard, VisitRow>(fleet, x => x.Run(id, "356", false, StepHeat.Cold, Fleet.Tam, Ct))
        );
    }

    [Theory]
    [InlineData("300", "backward")]
    [InlineData("500", "tooFast")]
    [InlineData("374", "unusualHours")]
    [InlineData("", "hoursMissing")]
    public async Task Hours_that_cannot_be_do_not_open_a_card(string hours, string code)
    {
        await using var fleet = await Ready();
        var id = await Planned(fleet, EngineOil);

        var refused = await RefusedWith<OpenCard, VisitRow>(fleet, x => x.Run(id, hours, false, StepHeat.Cold, Fleet.Tam, Ct));

        Assert.True(refused == code || code == "hoursMissing" && refused.StartsWith("hours", StringComparison.Ordinal), refused);
        Assert.Equal(VisitState.Planned, (await Row(fleet, id)).State);
    }

    [Fact]
    public async Task Closing_writes_work_filters_fluids_stock_waste_and_samples_at_once_and_reopening_takes_them_back()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil, Fuel, "engine-oil-sample");
        await Through(fleet, id);

        await Close(fleet, id);

        Assert.Equal(500, (await fleet.Page(Unit)).Items.Single(x => x.Item.Code == EngineOil).Status.DueHours);
        var sheet = (await fleet.Do<PartViews, FilterSheet?>(x => x.Filters(Unit, 1, Ct)))!;
        Assert.All(sheet.Positions, x => Assert.Equal(356, x.Fitted!.LifeHours.Value));
        Assert.Equal(1, (await fleet.Do<PartViews, PartPage?>(x => x.Part("UM7-110", Ct)))!.Line.OnHand);
        Assert.Equal(new Litres(24.5), (await fleet.Ask(db => db.OnBoard.SingleAsync(Ct))).Litres);
        Assert.Equal(
            [("filters", 2d), ("fuel", 23.1), ("oil", 23.1)],
            (await fleet.Ask(db => db.Waste.OrderBy(x => x.Stream).ToListAsync(Ct))).Select(x => (x.Stream, Math.Round(x.Amount, 6)))
        );
        var sample = await fleet.Ask(db => db.Samples.SingleAsync(Ct));
        // Since new and never changed before: the oil that it came with.
        Assert.Equal(("B-1", "engine", (MeterHours?)new MeterHours(3560)), (sample.Bottle, sample.Compartment, sample.OilHours));
        var closed = await Row(fleet, id);
        Assert.Equal(
            (95, new Money(4000), new Money(9800), new Money(9500)),
            (closed.RealMinutes!.Value, closed.RealPartsCost!.Value, closed.RealFluidsCost!.Value, closed.RealLabourCost!.Value)
        );

        Assert.Equal("reasonNeeded", await RefusedWith<CloseVisit, VisitRow>(fleet, x => x.Reopen(id, null, Fleet.Tam, Ct)));
        await Ok<CloseVisit, VisitRow>(fleet, x => x.Reopen(id, "wrong machine", Fleet.Tam, Ct));

        Assert.Equal(50, (await fleet.Page(Unit)).Items.Single(x => x.Item.Code == EngineOil).Status.DueHours);
        Assert.All((await fleet.Do<PartViews, FilterSheet?>(x => x.Filters(Unit, 1, Ct)))!.Positions, x => Assert.Null(x.Fitted));
        Assert.Equal(2, (await fleet.Do<PartViews, PartPage?>(x => x.Part("UM7-110", Ct)))!.Line.OnHand);
        Assert.False(
            await fleet.Ask(db => db.Waste.AnyAsync(Ct))
                || await fleet.Ask(db => db.OnBoard.AnyAsync(Ct))
                || await fleet.Ask(db => db.Samples.AnyAsync(Ct))
        );
        Assert.NotNull((await Job(fleet, id)).State.AnswerOf((await Job(fleet, id)).StepOf("engine-oil.fill")!));

        await Close(fleet, id);
        Assert.Equal(1, (await fleet.Do<PartViews, PartPage?>(x => x.Part("UM7-110", Ct)))!.Line.OnHand);
    }

    [Fact]
    public async Task A_coolant_that_is_tested_on_a_card_stands_with_the_machines_tests_until_the_card_is_opened_again()
    {
        await using var fleet = await Ready();
        async Task<List<double?>> Shares() =>
            [.. (await fleet.Do<CoolantTests, CoolantPage?>(x => x.Page(Unit, Ct)))!.Tests.Select(x => x.Row.SharePercent)];
        var id = await Opened(fleet, "coolant-test");
        await Through(fleet, id, "coolant-test.coolant");
        Assert.Equal(
            "between",
            await RefusedWith<SaveStep, SavedStep>(fleet, x =>
                x.Run(id, Stepped("coolant-test.coolant", ("done", true), ("figures", Many("150"))), Fleet.Tam, Ct)
            )
        );
        await Through(fleet, id);
        Assert.Empty(await Shares());
        await Close(fleet, id);
        Assert.Equal([50], await Shares());
        Assert.Equal(new MeterHours(3560), (await fleet.Ask(db => db.CoolantTests.SingleAsync(Ct))).LifeHours);
        await Ok<CloseVisit, VisitRow>(fleet, x => x.Reopen(id, "read wrong", Fleet.Tam, Ct));
        Assert.Empty(await Shares());
        await Close(fleet, id);
        Assert.Equal([50], await Shares());
    }

    [Fact]
    public async Task A_card_is_closed_once()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, "batteries");
        await Through(fleet, id);
        var version = (await Row(fleet, id)).Version;

        var outcomes = await Task.WhenAll(
            Enumerable
                .Range(0, 2)
                .Select(_ => fleet.Do<CloseVisit, Outcome<VisitRow>>(x => x.Run(id, new("30", null, version), Fleet.Tam, Ct)))
        );

        Assert.Single(outcomes, x => x.Done);
        Assert.Equal("visitClosed", outcomes.Single(x => !x.Done).Refusals[0].Code);
        Assert.Equal(1, await fleet.Ask(db => db.Completions.CountAsync(x => x.ItemCode == "batteries", Ct)));
    }

    [Fact]
    public async Task A_card_with_an_open_drain_or_an_empty_sump_is_not_closed()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        await Through(fleet, id, "engine-oil.drained");
        var before = await fleet.Fingerprint();

        var outcome = await fleet.Do<CloseVisit, Outcome<VisitRow>>(async x =>
            await x.Run(id, new("30", null, (await Row(fleet, id)).Version), Fleet.Tam, Ct)
        );

        Assert.Equal("closeOpenDrain", outcome.Refusals[0].Code);
        Assert.Equal(
            "stepBlocked",
            await RefusedWith<SaveStep, SavedStep>(fleet, x => x.Run(id, Stepped("engine-oil.fill", ("litres", "23.1")), Fleet.Tam, Ct))
        );
        Assert.Equal(before, await fleet.Fingerprint());
    }

    [Fact]
    public async Task What_was_drained_is_plugged_and_filled_though_its_item_is_left()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        await Through(fleet, id, "engine-oil.drained");
        await Ok<LeaveItem, Nothing>(fleet, x => x.Run(id, EngineOil, "noTime", null, [LeaveItem.NothingOff], Fleet.Tam, Ct));

        var job = await Job(fleet, id);
        var release = job.Card.Steps.First(x => x.Between == CardBetween.Release && job.State.IsOpen(x));
        Assert.Equal(
            ["engine-oil.plug", "engine-oil.fill"],
            job.State.BlockedBy(release).Where(x => x.Item == EngineOil && job.State.IsOpen(x)).Select(x => x.Code).Order().Reverse()
        );
        Assert.True(job.State.IsLeft(job.Card.Steps.Single(x => x.Input == InputKind.Filter && x.Item == EngineOil)));
        await Through(fleet, id);
        await Close(fleet, id);
        Assert.False(await fleet.Ask(db => db.Completions.AnyAsync(x => x.ItemCode == EngineOil && x.Batch.StartsWith("visit"), Ct)));
    }

    [Fact]
    public async Task Flakes_stop_the_card_until_two_people_have_written_why_it_goes_on()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        await Through(fleet, id, "engine-oil.magnet");
        await Keep(fleet, id, Stepped("engine-oil.magnet", ("metal", MetalFinding.Flakes)));

        var job = await Job(fleet, id);
        var (why, released) = ("engine-oil.magnet.why", "engine-oil.magnet.released");
        var release = job.Card.Steps.First(x => x.Between == CardBetween.Release && job.State.IsOpen(x));
        Assert.Contains(why, job.State.BlockedBy(release).Select(x => x.Code));
        Assert.False((await Keep(fleet, id, Stepped(why, ("done", true)))).Result.Accepted);
        await Keep(fleet, id, Stepped(why, ("done", true), ("note", "flakes of paint from the new strainer")) with { Revision = 1 });
        StepInput second = Stepped(released, ("done", true), ("note", "seen, and no metal in the filter"));
        Assert.Equal("secondPerson", await RefusedWith<SaveStep, SavedStep>(fleet, x => x.Run(id, second, Fleet.Tam, Ct)));
        Assert.True((await Keep(fleet, id, second, Fleet.Bea)).Result.Accepted);

        // Answered again as it is, it stops no second time; and the defect stays open.
        await Keep(fleet, id, Stepped("engine-oil.magnet", ("metal", MetalFinding.Flakes)) with { Revision = 1 });
        Assert.Single((await Job(fleet, id)).Card.Steps, x => x.Code.EndsWith(".why", StringComparison.Ordinal));
        Assert.Equal(DefectState.Open, (await fleet.Ask(db => db.Defects.SingleAsync(Ct))).State);
        await Through(fleet, id);
        Assert.Null((await Job(fleet, id)).State.Next);
    }

    [Fact]
    public async Task What_comes_back_after_the_machine_has_changed_its_state_is_planned_anew()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil, "batteries");
        await Ok<LeaveItem, Nothing>(fleet, x => x.Run(id, "batteries", "noTime", null, [LeaveItem.NothingOff], Fleet.Tam, Ct));
        await Ok<LeaveItem, Nothing>(fleet, x => x.TakeUp(id, "batteries", Fleet.Tam, Ct));
        await Ok<LeaveItem, Nothing>(fleet, x => x.Run(id, "batteries", "noTime", null, [LeaveItem.NothingOff], Fleet.Tam, Ct));
        await Through(fleet, id, "card.leaks");

        await Ok<LeaveItem, Nothing>(fleet, x => x.TakeUp(id, "batteries", Fleet.Tam, Ct));

        var job = await Job(fleet, id);
        var battery = job.Card.Steps.Single(x => x.Item == "batteries");
        Assert.NotEmpty(job.State.BlockedBy(battery));
        Assert.Equal(CardBetween.Isolate, job.Card.Steps.Take(job.Card.Steps.IndexOf(battery)).Last(x => x.IsBoundary).Between);
        Assert.Equal(job.Card.Steps.Select(x => x.Code).Order(), job.Card.Order.Select(x => x.Code).Order());
        await Through(fleet, id);
        await Close(fleet, id);
        Assert.True(await fleet.Ask(db => db.Completions.AnyAsync(x => x.ItemCode == "batteries" && x.Batch.StartsWith("visit"), Ct)));
    }

    [Fact]
    public async Task Coolant_is_not_opened_soon_after_a_stop()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        await Through(fleet, id);
        await Ok<OpenCard, VisitRow>(fleet, x => x.Add(id, "coolant-test", Fleet.Tam, Ct));
        await Through(fleet, id, "coolant-test.coolant");
        var step = (await Job(fleet, id)).StepOf("coolant-test.coolant")!;
        StepInput Cold() => new(step.Code, TypedFields.None.WithAll("figures", ["50"]).WithAll("ticked", step.Parts));

        Assert.Equal("coolantHot", await RefusedWith<SaveStep, SavedStep>(fleet, x => x.Run(id, Cold(), Fleet.Tam, Ct)));
        fleet.Clock.Advance(TimeSpan.FromMinutes(90));
        Assert.True((await Keep(fleet, id, Cold())).Result.Accepted);
    }

    [Fact]
    public async Task Litres_that_are_off_are_asked_about_and_far_too_many_are_refused()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        await Through(fleet, id, "engine-oil.drained");
        StepInput Drained(string litres, int revision, string? reason = null) =>
            Stepped("engine-oil.drained", ("litres", litres), ("look", FluidLook.Dark), ("reason", reason)) with
            {
                Revision = revision,
            };

        Assert.Equal("litresTooMuch", await RefusedWith<SaveStep, SavedStep>(fleet, x => x.Run(id, Drained("400", 0), Fleet.Tam, Ct)));
        Assert.False((await Keep(fleet, id, Drained("19", 0))).Result.Accepted);
        Assert.True((await Keep(fleet, id, Drained("19", 1, "stick was below its low mark"))).Result.Accepted);
        Assert.Empty(await fleet.Ask(db => db.Defects.ToListAsync(Ct)));
    }

    [Fact]
    public async Task A_healthy_change_makes_no_leak_and_one_that_gained_stops_the_machine_once()
    {
        await using var fleet = await Ready();
        await EnterStick(fleet);
        var id = await Opened(fleet, EngineOil);
        await Through(fleet, id, "engine-oil.drained");
        var job = await Job(fleet, id);
        Assert.NotNull(job.StepOf("engine-oil.drained")!.Change);
        StepInput Drained(string litres, int revision) =>
            Stepped("engine-oil.drained", ("litres", litres), ("look", FluidLook.Dark)) with
            {
                Revision = revision,
            };

        // 24.5 L with 1.4 L in the filter: 23.1 L come out of a sump that is well.
        Assert.Empty((await Keep(fleet, id, Drained("23.1", 0))).Result.Remarks);
        Assert.Empty(await fleet.Ask(db => db.Defects.ToListAsync(Ct)));
        var gained = await Keep(fleet, id, Drained("25", 1));
        await Keep(fleet, id, Drained("25.5", 2));

        var defect = await fleet.Ask(db => db.Defects.SingleAsync(Ct));
        Assert.Equal((gained.DefectId, DefectGrade.Stop), (defect.Id, defect.Grade));
        Assert.Contains("25", defect.Words, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_level_that_is_read_before_it_has_settled_says_why()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        await Through(fleet, id, "engine-oil.recheck", waits: false);
        var step = (await Job(fleet, id)).StepOf("engine-oil.recheck")!;
        var settled = (await Job(fleet, id)).State.TrueFrom(step);
        Assert.True(settled > fleet.Clock.GetUtcNow());
        StepInput Level(string? reason) => Stepped(step.Code, ("level", 100), ("litres", "1.4"), ("reason", reason));

        Assert.Equal("tooEarly", await RefusedWith<SaveStep, SavedStep>(fleet, x => x.Run(id, Level(null), Fleet.Tam, Ct)));
        Assert.True((await Keep(fleet, id, Level("entered from the paper card"))).Result.Accepted);
    }

    [Fact]
    public async Task Metal_in_an_engine_stops_the_machine_at_once()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        await Through(fleet, id, "engine-oil.magnet");

        await Keep(fleet, id, Stepped("engine-oil.magnet", ("metal", MetalFinding.Chunks)));

        Assert.Equal(DefectGrade.Stop, (await fleet.Ask(db => db.Defects.SingleAsync(Ct))).Grade);
        Assert.True((await fleet.Status(Unit)).OutOfService);
    }

    [Fact]
    public async Task A_filter_that_does_not_fit_stops_its_step_and_is_filed()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, Fuel);
        await Through(fleet, id, "fuel-secondary.filter-fuel-secondary");
        var job = await Job(fleet, id);
        var fit = Calm(job, job.StepOf("fuel-secondary.filter-fuel-secondary")!);
        StepInput Fitted(TypedFields form, int revision) => new("fuel-secondary.filter-fuel-secondary", form, revision);

        var wrong = await Keep(fleet, id, Fitted(fit.With("lengthMm", 150), 0));
        var again = await Keep(fleet, id, Fitted(fit.With("lengthMm", 150), 1));

        Assert.Equal([StepRemark.FitLength], wrong.Result.Remarks);
        Assert.False(again.Result.Accepted);
        Assert.Equal("150 / 168 mm", (await fleet.Ask(db => db.FilterLog.SingleAsync(x => x.State == FilterLogState.Refused, Ct))).Words);
        Assert.Equal(
            "partUnknown",
            await RefusedWith<SaveStep, SavedStep>(fleet, x => x.Run(id, Fitted(fit.With("part", "XX-1"), 2), Fleet.Tam, Ct))
        );
        Assert.Equal(
            "partNotListed",
            await RefusedWith<SaveStep, SavedStep>(fleet, x =>
                x.Run(id, Fitted(fit.With("part", "UM7-110").With("lengthMm", 168), 2), Fleet.Tam, Ct)
            )
        );
        await Ok<PartCatalog, PartRow>(fleet, x => x.Interchange("UM7-122", "UM7-110", "Ulmar parts desk", Fleet.Tam, Ct));
        Assert.Equal("answeredMeanwhile", await RefusedWith<SaveStep, SavedStep>(fleet, x => x.Run(id, Fitted(fit, 0), Fleet.Bea, Ct)));
    }

    [Fact]
    public async Task What_is_left_undone_stays_due_and_joins_the_next_visit()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil, Fuel);
        Assert.Equal(
            "reasonNeeded",
            await RefusedWith<LeaveItem, Nothing>(fleet, x => x.Run(id, Fuel, null, null, [LeaveItem.NothingOff], Fleet.Tam, Ct))
        );
        await Ok<LeaveItem, Nothing>(fleet, x => x.Run(id, Fuel, "wrongPart", "too long", [LeaveItem.NothingOff], Fleet.Tam, Ct));
        await Through(fleet, id);
        await Close(fleet, id);

        Assert.Equal(0, await fleet.Ask(db => db.Completions.CountAsync(x => x.ItemCode == Fuel, Ct)));
        var next = (await Proposal()).Visits[0];
        Assert.True(next.Items.Single(x => x.Candidate.Code == Fuel).Candidate.Carried);

        // What is done since is no longer left over, and is again when that turns out not to be so.
        fleet.Clock.Advance(TimeSpan.FromDays(2));
        var shown = await fleet.Ask(db => db.Visits.Where(x => x.Id == id).Select(x => x.ShownHours).SingleAsync(Ct));
        var done = await Ok<RecordWork, RecordedWork>(fleet, x => x.Run(new(Unit, [Fuel], shown.ToString(), null, null), Fleet.Tam, Ct));
        Assert.False(await Carried());
        await Ok<VoidWork, Nothing>(fleet, x => x.Run(Unit, done.Batch, null, "wrong machine", Fleet.Tam, Ct));
        Assert.True(await Carried());

        async Task<VisitProposal> Proposal() => (await fleet.Do<VisitProposals, VisitProposal?>(x => x.Of(Unit, Ct)))!;
        async Task<bool> Carried() => (await Proposal()).Candidates.Single(x => x.Code == Fuel).Carried;
    }

    [Fact]
    public async Task A_defect_for_the_next_service_joins_and_is_repaired_with_it()
    {
        await using var fleet = await Ready();
        var defect = await Ok<Defects.ReportDefect, DefectRow>(fleet, x => x.Run(
                new()
                {
                    Unit = Unit,
                    Place = "engine",
                    Words = "Weeps at the cover",
                    On = Core.Defects.MachinePart.Engine,
                    Grade = DefectGrade.NextService,
                },
                Fleet.Tam,
                Ct
            ));
        Assert.Contains((await fleet.Do<VisitProposals, VisitProposal?>(x => x.Of(Unit, Ct)))!.Visits[0].Items, x =>
            x.Candidate.Code == $"defect:{defect.Id}"
        );
        var id = await Opened(fleet, "batteries", $"defect:{defect.Id}");
        await Through(fleet, id);

        await Close(fleet, id);

        Assert.Equal(DefectState.Closed, (await fleet.Ask(db => db.Defects.SingleAsync(Ct))).State);
    }

    [Fact]
    public async Task Work_found_on_the_way_is_added_and_what_is_answered_stays()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        await Through(fleet, id, "engine-oil.drained");
        var done = (await Job(fleet, id)).Rows.Count;

        await Ok<OpenCard, VisitRow>(fleet, x => x.Add(id, "belts", Fleet.Tam, Ct));

        var job = await Job(fleet, id);
        Assert.Equal(done, job.Rows.Count);
        Assert.Contains(job.Card.Steps, x => x.Item == "belts");
        Assert.Equal("itemOnCard", await RefusedWith<OpenCard, VisitRow>(fleet, x => x.Add(id, "belts", Fleet.Tam, Ct)));
        await Through(fleet, id);
        await Close(fleet, id);
    }

    [Fact]
    public async Task A_card_keeps_what_it_was_made_from_and_says_when_the_program_moved_on()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, EngineOil);
        var program = (await fleet.Page(Unit)).Machine.Program;

        Assert.False((await Job(fleet, id)).ProgramChanged);
        await Ok<ChangeProgram, Data.Programs.ServiceProgram>(fleet, x =>
            x.SaveCompartment(new(program.Code, program.Version, "engine", "5", "1", "15W-40: -15..45", []), Mara, Ct)
        );

        var job = await Job(fleet, id);
        Assert.True(job.ProgramChanged);
        Assert.Equal(20, job.StepOf("engine-oil.drain")!.Wait);
    }

    [Fact]
    public async Task A_bottle_is_used_once()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, "engine-oil-sample");
        await Through(fleet, id);
        await Close(fleet, id);
        fleet.Clock.Advance(TimeSpan.FromDays(1));
        var second = (
            await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(null, new(Unit, "2026-03-17", ["hydraulic-sample"]), Fleet.Tam, Ct))
        ).Id;
        await Ok<OpenCard, VisitRow>(fleet, x => x.Run(second, "360", false, StepHeat.Cold, Fleet.Tam, Ct));
        var job = await Job(fleet, second);
        await Through(fleet, second, job.Card.Steps.Single(x => x.Input == InputKind.Bottle).Code);

        Assert.Equal(
            "bottleTaken",
            await RefusedWith<SaveStep, SavedStep>(fleet, x =>
                x.Run(second, Stepped(job.Card.Steps.Single(s => s.Input == InputKind.Bottle).Code, ("mark", "b-1")), Fleet.Tam, Ct)
            )
        );
    }

    [Fact]
    public async Task One_bottle_never_stands_on_two_steps()
    {
        await using var fleet = await Ready();
        var id = await Opened(fleet, "engine-oil-sample", "hydraulic-sample");
        var bottles = (await Job(fleet, id)).Card.Steps.Where(x => x.Input == InputKind.Bottle).ToList();
        await Through(fleet, id, bottles[0].Code);
        StepInput Filled(JobStep step, string mark) => new(step.Code, TypedFields.None.With("mark", mark).WithAll("ticked", step.Parts));
        await Keep(fleet, id, Filled(bottles[0], "b-7"));
        StepInput Second(string mark) => Filled(bottles[1], mark);
        await Through(fleet, id, bottles[1].Code);

        // In this card, as it was typed and as it was scanned.
        Assert.Equal("bottleTaken", await RefusedWith<SaveStep, SavedStep>(fleet, x => x.Run(id, Second("b-7"), Fleet.Tam, Ct)));
        Assert.Equal("bottleTaken", await RefusedWith<SaveStep, SavedStep>(fleet, x => x.Run(id, Second(" B-7 "), Fleet.Tam, Ct)));
        Assert.True((await Keep(fleet, id, Second("b-70"))).Result.Accepted);

        // The same step may be saved again, and its bottle is free once another stands there.
        Assert.True((await Keep(fleet, id, Filled(bottles[0], "b-8") with { Revision = 1 })).Result.Accepted);
        Assert.True((await Keep(fleet, id, Second("b-7") with { Revision = 1 })).Result.Accepted);
    }

    [Fact]
    public async Task Parts_below_what_the_next_visits_need_are_said()
    {
        await using var fleet = await Ready();
        await Ok<PartCatalog, StockMove>(fleet, x =>
            x.Move("UM7-110", "Yard", StockMoveKind.Count, "0", "shelf empty", null, Fleet.Tam, Ct)
        );

        var list = await fleet.Do<PartViews, PartList>(x => x.List(null, false, 1, Ct));

        Assert.Equal(("UM7-110", true), (list.Lines[0].Part.Number, list.Lines[0].Missing > 0));
        Assert.Equal(
            "stockShort",
            await RefusedWith<PartCatalog, StockMove>(fleet, x =>
                x.Move("UM7-110", "Yard", StockMoveKind.Issue, "1", null, null, Fleet.Tam, Ct)
            )
        );
    }

    [Theory]
    [InlineData("Pan; much; oil", "vesselLines")]
    [InlineData("Pan; 30; wine", "vesselLines")]
    [InlineData("Pan; 30", "vesselLines")]
    public async Task Vessels_that_cannot_be_read_are_refused(string vessels, string code)
    {
        await using var fleet = await Fleet.Empty();

        Assert.Equal(code, await RefusedWith<WorkshopService, Shop>(fleet, x => x.Save(new() { Vessels = vessels }, Mara, Ct)));
    }

    [Theory]
    [InlineData("engine", "24.5", "water", "fluid-engine", "fluidNotListed")]
    [InlineData("engine", "1", "15W-40", "filterLitres-engine", "filterAboveCapacity")]
    [InlineData("engine", "many", "15W-40", "capacity-engine", "notANumber")]
    public async Task Service_data_that_cannot_be_are_refused_beside_their_field(
        string compartment,
        string capacity,
        string fluid,
        string field,
        string code
    )
    {
        await using var fleet = await Fleet.WithLoader();

        var outcome = await fleet.Do<MachineData, Outcome<Nothing>>(x =>
            x.Save(
                Unit,
                new([new(compartment, capacity, fluid, "1.4", null, null, null, null, null, null)], null, null, null, null, null),
                Fleet.Tam,
                Ct
            )
        );

        Assert.Equal((field, code), (outcome.Refusals[0].Field, outcome.Refusals[0].Code));
    }
}
