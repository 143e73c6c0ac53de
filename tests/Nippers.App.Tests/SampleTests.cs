using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Oil;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.App.Work;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Core.Oil;
using Nippers.Core.Service;
using Nippers.Data.Defects;
using Nippers.Data.Oil;
using Nippers.Data.Visits;
using static Nippers.App.Tests.OilRig;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>Samples drawn, bottles, labels and the tray.</summary>
public sealed class SampleTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_sample_that_was_taken_knows_its_oil_gets_a_code_and_moves_its_item()
    {
        await using var fleet = await Ready();
        await Ok<RecordWork, RecordedWork>(fleet, x => x.Run(new(Unit, ["engine-oil"], "300", "2026-03-06", null), Fleet.Tam, Ct));
        await Ok<LogTopUp, LoggedTopUp>(fleet, x => x.Run(Unit, "1.5", "engine", null, Fleet.Tam, Ct));

        var sample = await Ok<TakeSample, SampleRow>(fleet, x => x.Run(Taking() with { Key = "k1" }, Fleet.Tam, Ct));

        Assert.Equal(
            ((MeterHours?)new MeterHours(560), new Litres(1.5), "15W-40", "SAE 15W-40", OilKind.Engine),
            (sample.OilHours, sample.AddedLitres, sample.Fluid, sample.Grade, sample.Kind)
        );
        Assert.Equal(sample.Bottle, BottleCode.Read(sample.Bottle));
        Assert.Equal(DueBasis.Completion, (await Stand(fleet, Engine)).Point.Basis);
        Assert.False(sample.DrawnWrong);

        var again = await Ok<TakeSample, SampleRow>(fleet, x => x.Run(Taking() with { Key = "k1" }, Fleet.Tam, Ct));
        Assert.Equal(sample.Id, again.Id);
        Assert.Equal(1, await fleet.Ask(db => db.Completions.CountAsync(x => x.ItemCode == Engine, Ct)));
    }

    [Fact]
    public async Task Taking_a_sample_back_makes_it_due_again_but_not_once_it_is_signed()
    {
        await using var fleet = await Ready();
        var due = (await Stand(fleet, Engine)).DueHours;
        var sample = await Take(fleet);
        Assert.NotEqual(due, (await Stand(fleet, Engine)).DueHours);
        Assert.Equal("reasonNeeded", (await Refused<TakeSample, SampleRow>(fleet, x => x.Void(sample.Id, " ", Fleet.Tam, Ct))).Code);
        await Ok<TakeSample, SampleRow>(fleet, x => x.Void(sample.Id, "bottle broke", Fleet.Tam, Ct));
        Assert.Equal(due, (await Stand(fleet, Engine)).DueHours);

        var other = await Take(fleet);
        await Results(fleet, other.Id);
        await Sign(fleet, other.Id, new() { Assessment = Assessment.Normal });
        Assert.Equal(
            "sampleSigned",
            (await Refused<TakeSample, SampleRow>(fleet, x => x.Void(other.Id, "late thought", Fleet.Tam, Ct))).Code
        );
    }

    [Fact]
    public async Task Undoing_the_work_undoes_the_sample_that_came_with_it()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Ok<VoidWork, Nothing>(fleet, x => x.Run(Unit, sample.Batch, null, "undone", Fleet.Tam, Ct));
        Assert.NotNull((await Row(fleet, sample.Id)).VoidedAt);
    }

    [Fact]
    public async Task What_cannot_be_a_sample_is_refused_beside_its_field_and_nothing_is_kept()
    {
        await using var fleet = await Ready();
        var prepared = (await Ok<Bottles, IReadOnlyList<string>>(fleet, x => x.Prepare([new(Unit, Hydraulic)], Fleet.Tam, Ct)))[0];
        var first = await Take(fleet, bottle: "LAB 77");
        Task<Refusal> No(TakeSampleInput input) => Refused<TakeSample, SampleRow>(fleet, x => x.Run(input, Fleet.Tam, Ct));

        Assert.Equal(("bottle", "bottleTaken"), Of(await No(Taking(bottle: first.Bottle))));
        Assert.Equal(("bottle", "bottleOther"), Of(await No(Taking(bottle: prepared))));
        var slip = prepared[..6] + (prepared[6] == '2' ? '3' : '2');
        Assert.Equal(("bottle", "bottleSlip"), Of(await No(Taking(bottle: slip))));
        Assert.Equal("method", (await No(Taking() with { Method = null })).Field);
        Assert.Equal("engine", (await No(Taking() with { Engine = null })).Field);
        Assert.Equal("addedLitres", (await No(Taking() with { AddedLitres = "-2" })).Field);
        Assert.Equal("noSuchItem", (await No(Taking("engine-oil"))).Code);
        Assert.Equal("hours", (await No(Taking(hours: "300"))).Field);

        var smudged = await Take(fleet, Hydraulic, "357", prepared[..2] + "?" + prepared[3..]);
        Assert.Equal(prepared, smudged.Bottle);
    }

    [Fact]
    public async Task A_bottle_that_was_prepared_is_given_again_until_it_is_filled_and_a_scan_finds_both()
    {
        await using var fleet = await Ready();
        var codes = await Ok<Bottles, IReadOnlyList<string>>(fleet, x =>
            x.Prepare([new(Unit, Engine), new(Unit, Hydraulic)], Fleet.Tam, Ct)
        );
        Assert.Equal(
            codes,
            await Ok<Bottles, IReadOnlyList<string>>(fleet, x => x.Prepare([new(Unit, Engine), new(Unit, Hydraulic)], Fleet.Tam, Ct))
        );
        Assert.Equal(
            Engine,
            (
                await fleet.Do<SampleQueues, (SampleRow? Sample, BottleRow? Bottle, string Unit)>(x =>
                    x.Find(codes[0].ToLowerInvariant(), Ct)
                )
            )
                .Bottle!
                .ItemCode
        );

        var sample = await Take(fleet, bottle: codes[0]);
        Assert.Equal(
            sample.Id,
            (await fleet.Do<SampleQueues, (SampleRow? Sample, BottleRow? Bottle, string Unit)>(x => x.Find(codes[0], Ct))).Sample!.Id
        );
        Assert.NotEqual(codes[0], (await Ok<Bottles, IReadOnlyList<string>>(fleet, x => x.Prepare([new(Unit, Engine)], Fleet.Tam, Ct)))[0]);
        Assert.Equal("noneChosen", (await Refused<Bottles, IReadOnlyList<string>>(fleet, x => x.Prepare([], Fleet.Tam, Ct))).Code);
        var labels = await fleet.Do<SampleQueues, IReadOnlyList<BottleLabel>>(x => x.Labels([codes[1], codes[0], "XXX-XXX"], Ct));
        Assert.Equal([codes[1], codes[0]], labels.Select(x => x.Code));
        Assert.Equal([null, sample.Id], labels.Select(x => x.Sample?.Id));
    }

    [Fact]
    public async Task A_sample_of_another_day_is_kept_with_its_day_and_its_hours()
    {
        await using var fleet = await Ready();
        var yesterday = DateOnly.FromDateTime(Fleet.Now.UtcDateTime).AddDays(-1);
        TakeSampleInput On(string date, string hours) => Taking(hours: hours) with { DateText = date };
        Assert.Equal(
            ("on", "notADate"),
            Of(await Refused<TakeSample, SampleRow>(fleet, x => x.Run(On("yesterday", "354"), Fleet.Tam, Ct)))
        );
        Assert.Equal(
            ("on", "dateInFuture"),
            Of(await Refused<TakeSample, SampleRow>(fleet, x => x.Run(On("2099-01-01", "354"), Fleet.Tam, Ct)))
        );
        Assert.Equal(
            ("hours", "outsideDay"),
            Of(await Refused<TakeSample, SampleRow>(fleet, x => x.Run(On(Formats.Iso.Day(yesterday), "300"), Fleet.Tam, Ct)))
        );

        var row = await Ok<TakeSample, SampleRow>(fleet, x => x.Run(On(Formats.Iso.Day(yesterday), "354"), Fleet.Tam, Ct));

        Assert.Equal((yesterday, new MeterHours(3540)), (row.On, row.LifeHours));
        Assert.Equal(yesterday, DateOnly.FromDateTime(row.TakenAt.UtcDateTime));
        var tray = await Tray(fleet, new(SampleQueue.Taken));
        Assert.Equal((1, 0), (tray.DaysSince(tray.Lines[0], row.TakenAt), tray.DaysSince(tray.Lines[0], Fleet.Now)));
    }

    [Fact]
    public async Task A_tube_into_a_running_machine_or_cold_oil_is_a_doubt()
    {
        await using var fleet = await Ready();
        var sample = await Ok<TakeSample, SampleRow>(fleet, x =>
            x.Run(Taking() with { Method = DrawMethod.Tube, Engine = DrawState.Cold }, Fleet.Tam, Ct)
        );
        Assert.True(sample.DrawnWrong);
        await Results(fleet, sample.Id);
        var page = await Page(fleet, sample.Id);
        Assert.True(page.Judgement!.Doubts.HasFlag(SampleDoubts.DrawnWrong));
    }

    [Fact]
    public async Task A_job_card_keeps_its_bottle_by_its_code_and_tells_a_slip()
    {
        await using var fleet = await Ready();
        var code = (await Ok<Bottles, IReadOnlyList<string>>(fleet, x => x.Prepare([new(Unit, Engine)], Fleet.Tam, Ct)))[0];
        var id = (await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(null, new(Unit, "2026-03-16", [Engine]), Fleet.Tam, Ct))).Id;
        var prepared = await fleet.Ask(db => db.Bottles.SingleAsync(Ct));
        Assert.Null(await fleet.Do<VisitViews, (long Visit, string Step)?>(x => x.StepOf(prepared, Ct)));
        await Ok<OpenCard, VisitRow>(fleet, x => x.Run(id, "356", false, StepHeat.Cold, Fleet.Tam, Ct));
        Assert.Equal(id, (await fleet.Do<VisitViews, (long Visit, string Step)?>(x => x.StepOf(prepared, Ct)))!.Value.Visit);
        for (
            var job = await Job();
            job.Card.Steps.FirstOrDefault(x => !job.State.IsDone(x) && job.State.BlockedBy(x).Length == 0 && x.Input != InputKind.Bottle)
                is { } step;
            job = await Job()
        )
        {
            var kept = await Ok<SaveStep, SavedStep>(fleet, x =>
                x.Run(
                    id,
                    Stepped(
                        step.Code,
                        ("done", true),
                        ("mark", "TIDEWAY"),
                        ("name", "Tam Ollery"),
                        ("ticked", Many([.. step.Parts])),
                        ("home", Many([.. job.State.TouchedBefore(step)])),
                        ("look", Core.Walk.FluidLook.Clear),
                        ("level", "80")
                    ),
                    Fleet.Tam,
                    Ct
                )
            );
            Assert.True(kept.Result.Accepted, step.Code);
        }

        var bottle = (await Job()).Card.Steps.Single(x => x.Input == InputKind.Bottle);
        Assert.Equal(
            "bottleSlip",
            (
                await Refused<SaveStep, SavedStep>(fleet, x =>
                    x.Run(id, Stepped(bottle.Code, ("done", true), ("mark", code[..6] + (code[6] == '2' ? '3' : '2'))), Fleet.Tam, Ct)
                )
            ).Code
        );
        await Ok<SaveStep, SavedStep>(fleet, x =>
            x.Run(id, Stepped(bottle.Code, ("done", true), ("mark", code.ToLowerInvariant())), Fleet.Tam, Ct)
        );
        Assert.Equal(code, (await Job()).State.AnswerOf(bottle) is BottleAnswer { Bottle: var written } ? written : null);

        Task<JobContext> Job() => fleet.Do<VisitViews, JobContext>(async x => (await x.Job(id, Ct))!);
    }

    [Fact]
    public async Task The_tray_counts_and_the_fleet_is_compared()
    {
        await using var fleet = await Ready();
        await Ok<RecordWork, RecordedWork>(fleet, x =>
            x.Run(new(Unit, ["engine-oil"], "354", null, null, OfferedHours: "354"), Fleet.Tam, Ct)
        );
        var tray = await Tray(fleet);
        Assert.Equal(tray.Due.Count, tray.Counts[SampleQueue.ToTake]);
        Assert.Contains(tray.Due, x => x.Item == Engine && x.Unit == Unit);
        Assert.Equal(tray.Due.OrderBy(x => x.Method).Select(x => x.Item), tray.Due.Select(x => x.Item));

        var sample = await Take(fleet, hours: "356");
        await Results(fleet, sample.Id, (Measurand.Fe, 80));
        var compared = await fleet.Do<SampleViews, FleetComparison>(x => x.Fleet(OilKind.Engine, Measurand.Fe, null, Ct));
        Assert.Equal((Unit, "engine", 80.0), (compared.Places[0].Unit, compared.Places[0].Compartment, compared.Places[0].Last));
        Assert.Equal(1, (await Tray(fleet, new(SampleQueue.ToReview))).Counts[SampleQueue.ToReview]);
        var draws = (await fleet.Do<SampleViews, DrawPage?>(x => x.Draws(Unit, Ct)))!;
        Assert.Equal(draws.Lines.Select(x => x.Place.Method).Order(), draws.Lines.Select(x => x.Place.Method));

        // The last three of a place count, in their order, and of a figure that was not measured nothing.
        foreach (var (hours, iron) in new[] { ("358", 60.0), ("360", 70), ("362", 90) })
        {
            fleet.Clock.Advance(TimeSpan.FromHours(3));
            await Results(fleet, (await Take(fleet, hours: hours)).Id, (Measurand.Fe, iron));
        }

        var family = compared.Families.Single();
        compared = await fleet.Do<SampleViews, FleetComparison>(x => x.Fleet(OilKind.Engine, Measurand.Fe, family, Ct));
        Assert.Equal(family, compared.Family);
        Assert.Equal([60.0, 70, 90], compared.Places.Single().Values.Select(x => x.Value));
        Assert.All(compared.Places[0].Values, x => Assert.Equal(Fleet.Now.Day, x.On.Day));
        Assert.Empty((await fleet.Do<SampleViews, FleetComparison>(x => x.Fleet(OilKind.Engine, Measurand.Tbn, null, Ct))).Places);
        Assert.Null((await fleet.Do<SampleViews, FleetComparison>(x => x.Fleet(OilKind.Engine, Measurand.Fe, "none", Ct))).Family);
    }

    [Fact]
    public async Task Hours_on_an_oil_of_unknown_history_are_not_made_up()
    {
        await using var fleet = await Fleet.WithLoader(History.Unknown, 4000);
        var sample = await Take(fleet, hours: "4356");
        Assert.Null(sample.OilHours);
        await Results(fleet, sample.Id, (Measurand.Fe, 60));
        var judgement = (await Page(fleet, sample.Id)).Judgement!;
        Assert.True(judgement.Doubts.HasFlag(SampleDoubts.NoOilHours));
        Assert.Equal(60, judgement.Values[Measurand.Fe]);

        fleet.Clock.Advance(TimeSpan.FromHours(2));
        await Ok<RecordWork, RecordedWork>(fleet, x =>
            x.Run(new(Unit, ["engine-oil"], "4357", null, null, OfferedHours: "4357"), Fleet.Tam, Ct)
        );
        fleet.Clock.Advance(TimeSpan.FromHours(2));
        Assert.Equal(new MeterHours(10), (await Take(fleet, hours: "4358")).OilHours);
    }

    [Fact]
    public async Task Litres_that_are_typed_count_before_those_on_record()
    {
        await using var fleet = await Ready();
        await Ok<LogTopUp, LoggedTopUp>(fleet, x => x.Run(Unit, "1.5", "engine", null, Fleet.Tam, Ct));
        Assert.Equal(new Litres(1.5), (await Take(fleet)).AddedLitres);
        Assert.Equal(
            new Litres(4),
            (await Ok<TakeSample, SampleRow>(fleet, x => x.Run(Taking() with { AddedLitres = "4" }, Fleet.Tam, Ct))).AddedLitres
        );
    }

    [Fact]
    public async Task A_compartment_shows_its_samples_changes_top_ups_and_repairs_on_one_line_of_time()
    {
        await using var fleet = await Ready();
        await Ok<LogTopUp, LoggedTopUp>(fleet, x => x.Run(Unit, "1.5", "engine", null, Fleet.Tam, Ct));
        await Ok<RecordWork, RecordedWork>(fleet, x =>
            x.Run(new(Unit, ["engine-oil"], "355", null, null, OfferedHours: "355"), Fleet.Tam, Ct)
        );
        var sample = await Take(fleet);
        await Results(fleet, sample.Id, (Measurand.Si, 40), (Measurand.Al, 31));
        var signed = await Sign(
            fleet,
            sample.Id,
            new()
            {
                Assessment = Assessment.Act,
                Defect = DefectGrade.NextService,
                DefectWords = "Dirt in the oil",
            }
        );
        await Ok<RepairDefect, DefectRow>(fleet, x =>
            x.Repair(signed.DefectId!.Value, new("Air hose clamped", null, null, null, null), Fleet.Tam, Ct)
        );

        var page = (await fleet.Do<SampleViews, CompartmentPage?>(x => x.Compartment(Unit, "engine", Ct)))!;
        Assert.Equal(
            [OilEventKind.Change, OilEventKind.TopUp, OilEventKind.Defect, OilEventKind.Repair],
            page.Events.Select(x => x.Kind).Order()
        );
        Assert.Equal(page.Events.Select(x => x.Hours).Order(), page.Events.Select(x => x.Hours));
        var point = Assert.Single(page.Samples);
        Assert.Equal((sample.Id, Assessment.Act, true), (point.Id, point.Assessment!.Value, point.IsSigned));
        Assert.Equal(new MeterHours(10), page.Oil.OilHours);
        Assert.Null(await fleet.Do<SampleViews, CompartmentPage?>(x => x.Compartment(Unit, "cooling", Ct)));
    }

    [Fact]
    public async Task The_list_on_paper_holds_what_lies_ready_and_then_what_went_together()
    {
        await using var fleet = await Ready();
        var (engine, hydraulic) = (await Take(fleet), await Take(fleet, Hydraulic));
        Task<IReadOnlyList<TrayLine>> List(long? box) => fleet.Do<SampleQueues, IReadOnlyList<TrayLine>>(x => x.PaperList(box, Ct));
        Assert.Equal([engine.Id, hydraulic.Id], (await List(null)).Select(x => x.Sample.Id).Order());
        await Send(fleet, hydraulic.Id);
        Assert.Equal([engine.Id], (await List(null)).Select(x => x.Sample.Id));
        var line = Assert.Single(await List((await Row(fleet, hydraulic.Id)).ConsignmentId));
        Assert.Equal((hydraulic.Id, "Hydraulic system", "Sannet"), (line.Sample.Id, line.Place, line.Lab));
    }
}
