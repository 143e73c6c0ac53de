using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Oil;
using Nippers.App.Programs;
using Nippers.App.Work;
using Nippers.Core.Defects;
using Nippers.Core.Oil;
using Nippers.Core.Service;
using Nippers.Data.Defects;
using Nippers.Data.Oil;
using Nippers.Data.Programs;
using static Nippers.App.Tests.OilRig;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>A verdict signed or overruled, and what it moves.</summary>
public sealed class AssessmentTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_verdict_to_act_opens_a_defect_calls_the_work_and_the_next_sample_fifty_hours_after_the_repair()
    {
        await using var fleet = await Ready();
        await Ok<RecordWork, RecordedWork>(fleet, x =>
            x.Run(new(Unit, ["engine-oil", "air-primary"], "354", null, null, OfferedHours: "354"), Fleet.Tam, Ct)
        );
        var sample = await Take(fleet);
        await Results(fleet, sample.Id, (Measurand.Si, 40), (Measurand.Al, 31));
        var page = await Page(fleet, sample.Id);
        Assert.Equal("dirt", Assert.Single(page.Judgement!.Patterns).Code);
        Assert.Contains(page.Offer!.Work, x => x.Item.Code == "air-primary" && x.Ticked);

        var signed = await Sign(
            fleet,
            sample.Id,
            new()
            {
                Assessment = Assessment.Act,
                Defect = DefectGrade.NextService,
                DefectWords = "Dirt in the engine oil",
                DueNow = ["engine-oil", "air-primary"],
            }
        );

        var defect = await fleet.Ask(db => db.Defects.SingleAsync(x => x.Id == signed.DefectId, Ct));
        Assert.Equal((DefectGrade.NextService, "engine:oil"), (defect.Grade, defect.Place));
        Assert.Equal(
            (DueBasis.Called, 356.0),
            ((await Stand(fleet, "engine-oil")).Point.Basis, (await Stand(fleet, "engine-oil")).DueHours)
        );
        Assert.Equal(DueBasis.Completion, (await Stand(fleet, Engine)).Point.Basis);

        await Ok<RepairDefect, DefectRow>(fleet, x => x.Repair(defect.Id, new("Air hose clamped", null, null, null, null), Fleet.Tam, Ct));
        Assert.Equal((DueBasis.Called, 406.0), ((await Stand(fleet, Engine)).Point.Basis, (await Stand(fleet, Engine)).DueHours));

        fleet.Clock.Advance(TimeSpan.FromHours(2));
        var work = await Ok<RecordWork, RecordedWork>(fleet, x =>
            x.Run(new(Unit, ["engine-oil"], "356", null, null, OfferedHours: "356"), Fleet.Tam, Ct)
        );
        Assert.Equal(DueBasis.Completion, (await Stand(fleet, "engine-oil")).Point.Basis);
        await Ok<VoidWork, Nothing>(fleet, x => x.Run(Unit, work.Batch, null, "undone", Fleet.Tam, Ct));
        Assert.Equal(DueBasis.Called, (await Stand(fleet, "engine-oil")).Point.Basis);
    }

    [Fact]
    public async Task A_verdict_to_watch_calls_the_next_sample_at_half_the_interval()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Results(fleet, sample.Id, (Measurand.Fe, 80));
        await Sign(fleet, sample.Id, new() { Assessment = Assessment.Watch });
        Assert.Equal((DueBasis.Called, 356 + 125.0), ((await Stand(fleet, Engine)).Point.Basis, (await Stand(fleet, Engine)).DueHours));
    }

    [Fact]
    public async Task A_stop_stops_the_machine_and_wants_a_sample_before_it_works_again()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Results(fleet, sample.Id, (Measurand.Water, 0.5));
        Assert.Equal(Assessment.Critical, (await Row(fleet, sample.Id)).Advised);
        var version = (await Row(fleet, sample.Id)).Version;
        Assert.Equal("stopNeedsStop", (await Refused<ReviewSample, SignedSample>(fleet, x => x.Run(
                        sample.Id,
                        new()
                        {
                            Version = version,
                            Assessment = Assessment.Critical,
                            Defect = DefectGrade.Watch,
                        },
                        Fleet.Tam,
                        Ct
                    ))).Code);
        Assert.Equal(
            ("defectWords", "wordsNeeded"),
            Of(
                await Refused<ReviewSample, SignedSample>(fleet, x =>
                    x.Run(sample.Id, new() { Version = version, Assessment = Assessment.Critical }, Fleet.Tam, Ct)
                )
            )
        );

        await Sign(fleet, sample.Id, new() { Assessment = Assessment.Critical, DefectWords = "Water in the engine oil" });
        Assert.True((await fleet.Status(Unit)).OutOfService);
        Assert.Equal((DueBasis.Called, 356.0), ((await Stand(fleet, Engine)).Point.Basis, (await Stand(fleet, Engine)).DueHours));
    }

    [Fact]
    public async Task Overruling_takes_a_reason_and_stands_beside_the_advice()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Results(fleet, sample.Id, (Measurand.Cu, 80));
        var version = (await Row(fleet, sample.Id)).Version;
        Assert.Equal(
            ("words", "needed"),
            Of(
                await Refused<ReviewSample, SignedSample>(fleet, x =>
                    x.Run(sample.Id, new() { Version = version, Assessment = Assessment.Normal }, Fleet.Tam, Ct)
                )
            )
        );
        Assert.Equal(
            "changedMeanwhile",
            (
                await Refused<ReviewSample, SignedSample>(fleet, x =>
                    x.Run(sample.Id, new() { Version = version - 1, Assessment = Assessment.Act }, Fleet.Tam, Ct)
                )
            ).Code
        );
        Assert.Equal("noSuchItem", (await Refused<ReviewSample, SignedSample>(fleet, x => x.Run(
                        sample.Id,
                        new()
                        {
                            Version = version,
                            Assessment = Assessment.Act,
                            DueNow = ["nothing"],
                        },
                        Fleet.Tam,
                        Ct
                    ))).Code);

        await Sign(fleet, sample.Id, new() { Assessment = Assessment.Normal, Words = "New oil cooler" });
        var row = await Row(fleet, sample.Id);
        Assert.Equal(
            (Assessment.Act, Assessment.Normal, "New oil cooler", "Tam Ollery"),
            (row.Advised!.Value, row.SignedAs!.Value, row.SignedWords, row.SignedBy)
        );
        Assert.False(await fleet.Ask(db => db.Defects.AnyAsync(Ct)));
        Assert.Contains(
            "Steady",
            await fleet.Ask(db => db.Audit.Where(x => x.What == "sample.sign").Select(x => x.After!).SingleAsync(Ct)),
            StringComparison.OrdinalIgnoreCase
        );
    }

    [Fact]
    public async Task A_sample_without_results_cannot_be_signed()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        Assert.Equal(
            "sampleNotReported",
            (
                await Refused<ReviewSample, SignedSample>(fleet, x =>
                    x.Run(sample.Id, new() { Assessment = Assessment.Normal }, Fleet.Tam, Ct)
                )
            ).Code
        );
    }

    /// <summary>Takes a steady hydraulic sample at some hours and signs it.</summary>
    private static async Task<SignedSample> SteadyAt(Fleet fleet, double hours, double fe = 5, bool same = true)
    {
        var sample = await TakeAt(fleet, Hydraulic, hours);
        await Results(fleet, sample.Id, (Measurand.Fe, fe));
        return await Sign(
            fleet,
            sample.Id,
            fe < 20 ? new() { Assessment = Assessment.Normal, SameFluid = same } : new() { Assessment = Assessment.Act, SameFluid = same }
        );
    }

    [Fact]
    public async Task Three_steady_samples_lengthen_the_interval_the_due_rule_follows_and_a_bad_one_takes_it_back()
    {
        await using var fleet = await Ready();
        await Ok<RecordWork, RecordedWork>(fleet, x =>
            x.Run(new(Unit, ["hydraulic-oil"], "354", null, null, OfferedHours: "354"), Fleet.Tam, Ct)
        );
        Assert.Equal(2000, (await Stand(fleet, "hydraulic-oil")).DueHours);
        Assert.Equal(DrainReason.TooFew, (await SteadyAt(fleet, 500)).Drain!.Reason);
        Assert.Equal(DrainReason.TooFew, (await SteadyAt(fleet, 650)).Drain!.Reason);

        Assert.Equal(new DrainStep(2500, DrainReason.Earned), (await SteadyAt(fleet, 800)).Drain);

        // From the last change, not on the grid: 354 and 2500.
        Assert.Equal(2854, (await Stand(fleet, "hydraulic-oil")).DueHours);
        Assert.Equal(DrainReason.TooFew, (await SteadyAt(fleet, 950)).Drain!.Reason);

        Assert.Equal(new DrainStep(2000, DrainReason.BadSample), (await SteadyAt(fleet, 1100, fe: 60)).Drain);
        Assert.Equal(2000, (await Stand(fleet, "hydraulic-oil")).DueHours);
        Assert.Equal(
            [2500, 2000],
            (await fleet.Do<SampleViews, CompartmentPage?>(x => x.Compartment(Unit, "hydraulic", Ct)))!
                .Drains.OrderBy(x => x.Id)
                .Select(x => x.ToHours.Value)
        );
    }

    [Fact]
    public async Task Another_fluid_or_a_stranger_topped_up_earns_nothing()
    {
        await using var fleet = await Ready();
        await SteadyAt(fleet, 500);
        await SteadyAt(fleet, 650);
        Assert.Equal(DrainReason.NotApproved, (await SteadyAt(fleet, 800, same: false)).Drain!.Reason);
        await Ok<ChangeProgram, ServiceProgram>(fleet, x => x.SaveCompartment(
                new(
                    StarterPrograms.CodeOf(Data.Fleet.MachineKind.Of("wheel-loader")),
                    1,
                    "hydraulic",
                    "45",
                    "5",
                    "HV 32: -30..25; HV 46: -15..40",
                    ["liveport"]
                )
                {
                    DrainStep = "500",
                    DrainCap = "4000",
                    DrainFluids = "HV 32",
                },
                Mara,
                Ct
            ));
        Assert.Equal(DrainReason.NotApproved, (await SteadyAt(fleet, 950)).Drain!.Reason);
    }

    [Fact]
    public async Task A_missed_sample_takes_the_earned_interval_back_by_hours_that_were_read()
    {
        await using var fleet = await Ready();
        foreach (var hours in new[] { 500.0, 650, 800 })
            await SteadyAt(fleet, hours);
        Assert.Equal(2500, (await Stand(fleet, "hydraulic-oil")).Point.IntervalHours);

        // Sampled at 800: the grid of 500 wants it at 1000, and its window ends 50 h later.
        foreach (var (days, hours) in new[] { (25, 950.0), (17, 1049) })
        {
            fleet.Clock.Advance(TimeSpan.FromDays(days));
            await fleet.Log(Unit, hours, fleet.Clock.GetUtcNow());
        }

        Assert.Equal(2500, (await Stand(fleet, "hydraulic-oil")).Point.IntervalHours);
        fleet.Clock.Advance(TimeSpan.FromDays(1));
        await fleet.Log(Unit, 1051, fleet.Clock.GetUtcNow());
        Assert.Equal(2000, (await Stand(fleet, "hydraulic-oil")).Point.IntervalHours);
        Assert.Equal(DrainReason.MissedSample, (await fleet.Ask(db => db.DrainChanges.OrderByDescending(x => x.Id).FirstAsync(Ct))).Reason);
    }

    [Fact]
    public async Task An_interval_by_analysis_is_set_whole_or_not_at_all()
    {
        await using var fleet = await Ready();
        var program = StarterPrograms.CodeOf(Data.Fleet.MachineKind.Of("wheel-loader"));
        CompartmentChange Change(string? step, string? cap) =>
            new(program, 1, "hydraulic", "45", "5", "HV 46: -15..40", ["liveport"])
            {
                DrainStep = step,
                DrainCap = cap,
                DrainFluids = "HV 46",
            };
        Assert.Equal(
            ("drainCap", "drainBoth"),
            Of(await Refused<ChangeProgram, ServiceProgram>(fleet, x => x.SaveCompartment(Change("500", null), Mara, Ct)))
        );
        Assert.Equal(
            ("drainCap", "drainCap"),
            Of(await Refused<ChangeProgram, ServiceProgram>(fleet, x => x.SaveCompartment(Change("500", "2000"), Mara, Ct)))
        );
        Assert.Equal(
            ("drainStep", "aboveZero"),
            Of(await Refused<ChangeProgram, ServiceProgram>(fleet, x => x.SaveCompartment(Change("0", "3000"), Mara, Ct)))
        );
        await Ok<ChangeProgram, ServiceProgram>(fleet, x => x.SaveCompartment(Change("250", "3000"), Mara, Ct));
    }

    [Fact]
    public async Task A_correction_that_is_signed_calls_what_it_says_and_no_longer_what_the_first_one_said()
    {
        await using var fleet = await Ready();
        await Ok<RecordWork, RecordedWork>(fleet, x =>
            x.Run(new(Unit, ["engine-oil"], "354", null, null, OfferedHours: "354"), Fleet.Tam, Ct)
        );
        var sample = await Take(fleet);
        await Results(fleet, sample.Id, (Measurand.Fe, 160));
        await Sign(fleet, sample.Id, new() { Assessment = Assessment.Act, DueNow = ["engine-oil"] });
        Assert.Equal(
            (DueBasis.Called, DueBasis.Called),
            ((await Stand(fleet, Engine)).Point.Basis, (await Stand(fleet, "engine-oil")).Point.Basis)
        );

        await Results(fleet, sample.Id, (Measurand.Fe, 16));
        await Sign(fleet, sample.Id, new() { Assessment = Assessment.Normal });
        Assert.DoesNotContain(
            DueBasis.Called,
            new[] { (await Stand(fleet, Engine)).Point.Basis, (await Stand(fleet, "engine-oil")).Point.Basis }
        );
    }

    [Fact]
    public async Task A_sample_that_is_not_this_machines_counts_for_nobody_after_it()
    {
        await using var fleet = await Ready();
        var samples = new List<SampleRow>();
        foreach (var hours in new[] { 400.0, 500, 600, 700 })
            samples.Add(await TakeAt(fleet, Engine, hours));
        foreach (var (sample, fe) in samples.Zip([11.0, 10, 10, 40]))
            await Results(fleet, sample.Id, (Measurand.Fe, fe));
        Assert.Equal(Assessment.Watch, (await Row(fleet, samples[3].Id)).Advised);
        await Sign(fleet, samples[0].Id, new() { Assessment = Assessment.Normal, NotTrue = true });
        Assert.Equal(Assessment.Normal, (await Row(fleet, samples[3].Id)).Advised);
        Assert.DoesNotContain((await Page(fleet, samples[3].Id)).Case!.Earlier, x => x.MachineHours == 400);
    }

    [Fact]
    public async Task A_sample_after_its_window_is_late_and_earns_nothing()
    {
        await using var fleet = await Ready();
        await SteadyAt(fleet, 500);

        // Due at 1000 with a window of 50 h.
        foreach (var hours in new[] { 650, 800, 950 })
        {
            fleet.Clock.Advance(TimeSpan.FromDays(25));
            Assert.True((await fleet.Log(Unit, hours, fleet.Clock.GetUtcNow())).Done);
        }

        var late = await SteadyAt(fleet, 1051);
        Assert.True(late.Sample.Late);
        Assert.Equal(DrainReason.LateSample, (await SteadyAt(fleet, 1200)).Drain!.Reason);
        Assert.Equal(DrainReason.LateSample, (await SteadyAt(fleet, 1300)).Drain!.Reason);
        Assert.Equal(DrainReason.Earned, (await SteadyAt(fleet, 1400)).Drain!.Reason);
    }

    [Fact]
    public async Task An_interval_grows_to_its_cap_and_no_further()
    {
        await using var fleet = await Ready();
        await Ok<ChangeProgram, ServiceProgram>(fleet, x => x.SaveCompartment(
                new(
                    StarterPrograms.CodeOf(Data.Fleet.MachineKind.Of("wheel-loader")),
                    1,
                    "hydraulic",
                    "45",
                    "5",
                    "HV 46: -15..40",
                    ["liveport"]
                )
                {
                    DrainStep = "500",
                    DrainCap = "2300",
                    DrainFluids = "HV 46",
                },
                Mara,
                Ct
            ));
        DrainStep? last = null;
        for (var hours = 450; hours <= 550; hours += 50)
            last = (await SteadyAt(fleet, hours)).Drain;
        Assert.Equal(new DrainStep(2300, DrainReason.Earned), last);
        for (var hours = 600; hours <= 700; hours += 50)
            last = (await SteadyAt(fleet, hours)).Drain;
        Assert.Equal(new DrainStep(2300, DrainReason.AtCap), last);
    }

    [Theory]
    [InlineData(null, 9.5, DrainReason.BaseNumber)]
    [InlineData("10", 6.5, DrainReason.BaseNumber)]
    [InlineData("10", 9.5, DrainReason.Earned)]
    public async Task An_engine_earns_hours_only_while_its_base_number_lasts(string? fresh, double measured, DrainReason expected)
    {
        await using var fleet = await Ready();
        await Ok<ChangeProgram, ServiceProgram>(fleet, x => x.SaveCompartment(
                new(
                    StarterPrograms.CodeOf(Data.Fleet.MachineKind.Of("wheel-loader")),
                    1,
                    "engine",
                    null,
                    null,
                    "15W-40: -15..45",
                    ["liveport"]
                )
                {
                    DrainStep = "100",
                    DrainCap = "500",
                    DrainFluids = "15W-40",
                },
                Mara,
                Ct
            ));
        if (fresh is not null)
            await Ok<NewOils, NewOilRow>(fleet, x =>
                x.Save(
                    "15W-40",
                    new(0, null, null, null, fresh, null, null, new Dictionary<string, string?>(), NewOilSource.DataSheet),
                    Mara,
                    Ct
                )
            );
        await Ok<RecordWork, RecordedWork>(fleet, x =>
            x.Run(new(Unit, ["engine-oil"], "354", null, null, OfferedHours: "354"), Fleet.Tam, Ct)
        );
        DrainStep? last = null;

        // The first one was due at 250 h.
        foreach (var hours in new[] { 400.0, 450, 500, 550 })
        {
            var sample = await TakeAt(fleet, Engine, hours);
            await Results(fleet, sample.Id, (Measurand.Tbn, measured));
            last = (
                await Sign(
                    fleet,
                    sample.Id,
                    new()
                    {
                        Assessment = Assessment.Normal,
                        SameFluid = true,
                        Words = "As before",
                    }
                )
            ).Drain;
        }

        Assert.Equal(expected, last!.Reason);
    }

    [Fact]
    public async Task Who_signs_on_advice_that_has_changed_meanwhile_is_told()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Results(fleet, sample.Id, (Measurand.Fe, 60));
        var seen = (await Row(fleet, sample.Id)).Version;
        await Ok<OilLimits, LimitsPreview>(fleet, x => x.Save(new(OilKind.Engine, null, null, [new("Fe", "50", "55")], null), Mara, Ct));
        Assert.Equal(
            "changedMeanwhile",
            (
                await Refused<ReviewSample, SignedSample>(fleet, x =>
                    x.Run(sample.Id, new() { Version = seen, Assessment = Assessment.Normal }, Fleet.Tam, Ct)
                )
            ).Code
        );
    }

    [Fact]
    public async Task Signing_the_same_sample_again_moves_the_interval_from_where_the_first_signature_found_it()
    {
        await using var fleet = await Ready();
        await SteadyAt(fleet, 450);
        await SteadyAt(fleet, 500);
        var third = (await SteadyAt(fleet, 550)).Sample;

        Assert.Equal(
            new DrainStep(2500, DrainReason.Earned),
            (await Sign(fleet, third.Id, new() { Assessment = Assessment.Normal, SameFluid = true })).Drain
        );
        Assert.Equal(2500, (await Stand(fleet, "hydraulic-oil")).Point.IntervalHours);
        Assert.Equal(1, await fleet.Ask(db => db.DrainChanges.CountAsync(Ct)));

        Assert.Equal(
            new DrainStep(2000, DrainReason.NotSteady),
            (
                await Sign(
                    fleet,
                    third.Id,
                    new()
                    {
                        Assessment = Assessment.Watch,
                        Words = "Smells",
                        SameFluid = true,
                    }
                )
            ).Drain
        );
        Assert.Equal(2000, (await Stand(fleet, "hydraulic-oil")).Point.IntervalHours);
        Assert.Equal(
            new DrainStep(2500, DrainReason.Earned),
            (await Sign(fleet, third.Id, new() { Assessment = Assessment.Normal, SameFluid = true })).Drain
        );
        Assert.Null(
            (
                await Sign(
                    fleet,
                    third.Id,
                    new()
                    {
                        Assessment = Assessment.Normal,
                        SameFluid = true,
                        NotTrue = true,
                    }
                )
            ).Drain
        );
        Assert.Equal(2000, (await Stand(fleet, "hydraulic-oil")).Point.IntervalHours);
    }

    [Fact]
    public async Task What_a_signature_called_is_offered_ticked_when_it_is_signed_again_unless_it_was_done()
    {
        await using var fleet = await Ready();
        await Ok<RecordWork, RecordedWork>(fleet, x =>
            x.Run(new(Unit, ["engine-oil", "air-primary"], "354", null, null, OfferedHours: "354"), Fleet.Tam, Ct)
        );
        var sample = await Take(fleet);
        await Results(fleet, sample.Id, (Measurand.Si, 40), (Measurand.Al, 31));
        await Sign(fleet, sample.Id, new() { Assessment = Assessment.Act, DueNow = ["engine-oil", "air-primary"] });
        fleet.Clock.Advance(TimeSpan.FromHours(2));
        await Ok<RecordWork, RecordedWork>(fleet, x =>
            x.Run(new(Unit, ["air-primary"], "357", null, null, OfferedHours: "357"), Fleet.Tam, Ct)
        );

        var offered = (await Page(fleet, sample.Id)).Offer!.Work;

        Assert.True(offered.Single(x => x.Item.Code == "engine-oil").Ticked);
        Assert.False(offered.Single(x => x.Item.Code == "air-primary").Ticked);
    }

    [Fact]
    public async Task The_interval_is_told_for_every_verdict_before_one_is_signed()
    {
        await using var fleet = await Ready();
        await SteadyAt(fleet, 450);
        await SteadyAt(fleet, 500);
        var sample = await TakeAt(fleet, Hydraulic, 550);
        await Results(fleet, sample.Id);
        var offer = (await Page(fleet, sample.Id)).Offer!;
        Assert.Equal((2000.0, new DrainRule(2000, 500, 4000)), (offer.CurrentHours!.Value, offer.Rule));
        Assert.Equal(
            [DrainReason.Earned, DrainReason.NotSteady, DrainReason.BadSample, DrainReason.BadSample],
            Enum.GetValues<Assessment>().Select(x => offer.Drains[x].Reason)
        );
    }
}
