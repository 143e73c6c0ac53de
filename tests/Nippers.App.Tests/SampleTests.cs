using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Oil;
using Nippers.App.Programs;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.App.Work;
using Nippers.Core.Defects;
using Nippers.Core.Jobs;
using Nippers.Core.Oil;
using Nippers.Core.Service;
using Nippers.Data.Defects;
using Nippers.Data.Oil;
using Nippers.Data.Programs;
using Nippers.Data.Visits;
using Nippers.Formats.Lab;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>From a due sample to a verdict that acts, and everything that can go wrong on the way.</summary>
public sealed class SampleTests
{
    private const string Unit = "WL-01";
    private const string Engine = "engine-oil-sample";
    private const string Hydraulic = "hydraulic-sample";
    private static readonly Actor Mara = new("Mara Quill", Roles.Planner);

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    /// <summary>A loader whose oils are known, and a laboratory. Its meter shows about 356 h.</summary>
    private static async Task<Fleet> Ready()
    {
        var fleet = await Fleet.WithLoader();
        await Ok<MachineData, Nothing>(fleet, x => x.Save(Unit, new([new("engine", "24", "15W-40", "1.4", "1", "", "", "", "", ""), new("hydraulic", "200", "HV 46", "2", "1", "", "", "", "", "")], null, null, null, null, null), Fleet.Tam, Ct));
        await Ok<ShopBook, Shop>(fleet, x => x.Save(new() { Currency = "£", Vessels = "", Fluids = "15W-40; 4\nHV 46; 3" }, Mara, Ct));
        await Ok<Labs, LabRow>(fleet, x => x.Save(new(null, 0, "Sannet", "http://lab.invalid", "secret", true), Mara, Ct));
        return fleet;
    }

    private static async Task<Refusal> Refused<TCase, T>(Fleet fleet, Func<TCase, Task<Outcome<T>>> use)
        where TCase : notnull
        where T : class
    {
        var before = await fleet.Fingerprint();
        var outcome = await fleet.Do(use);
        Assert.False(outcome.Done);
        Assert.Equal(before, await fleet.Fingerprint());
        return outcome.Refusals[0];
    }

    private static TakeSampleInput Taking(string item = Engine, string hours = "356", string? bottle = null) =>
        new() { Unit = Unit, Item = item, Hours = hours, Bottle = bottle, Method = DrawMethod.LivePort, Engine = DrawState.Running };

    private static Task<SampleRow> Take(Fleet fleet, string item = Engine, string hours = "356", string? bottle = null) => Ok<TakeSample, SampleRow>(fleet, x => x.Run(Taking(item, hours, bottle), Fleet.Tam, Ct));

    private static async Task<ItemStanding> Stand(Fleet fleet, string item) => (await fleet.Page(Unit)).Items.Single(x => x.Item.Code == item).Standing;

    /// <summary>Results by hand: what is not named is quiet.</summary>
    private static Task<SampleRow> Results(Fleet fleet, long id, params (Measurand Measurand, double Value)[] loud)
    {
        var typed = new Dictionary<string, string?> { ["Fe"] = "20", ["Cu"] = "5", ["Pb"] = "3", ["Al"] = "3", ["Cr"] = "1", ["Sn"] = "1", ["Ni"] = "1", ["Si"] = "5", ["Na"] = "5", ["K"] = "2", ["water"] = "<0.02" };
        foreach (var (measurand, value) in loud) typed[measurand.Code()] = value.ToString(CultureInfo.InvariantCulture);
        return Ok<TakeResults, SampleRow>(fleet, x => x.ByHand(id, typed, null, null, null, Fleet.Tam, Ct));
    }

    private static async Task<SignedSample> Sign(Fleet fleet, long id, SignInput input) => await Ok<SignVerdict, SignedSample>(fleet, async x => await x.Run(id, input with { Version = (await Row(fleet, id)).Version }, Fleet.Tam, Ct));

    private static Task<SampleRow> Row(Fleet fleet, long id) => fleet.Ask(db => db.Samples.AsNoTracking().SingleAsync(x => x.Id == id, Ct));

    private static async Task Send(Fleet fleet, params long[] ids)
    {
        var lab = await fleet.Ask(db => db.Labs.SingleAsync(Ct));
        await Ok<SendSamples, ConsignmentRow>(fleet, x => x.Run(ids, lab.Id, Fleet.Tam, Ct));
    }

    private static string Answer(long cursor, params (string Bottle, string Fe)[] results)
    {
        var list = string.Join(',', results.Select(x => $$$"""{"bottle":"{{{x.Bottle}}}","figures":{"Fe":{{{x.Fe}}},"water":"<0.02"}}"""));
        return $$"""{"results":[{{list}}],"cursor":{{cursor}}}""";
    }

    [Fact]
    public async Task A_sample_that_was_taken_knows_its_oil_gets_a_code_and_moves_its_item()
    {
        await using var fleet = await Ready();
        await Ok<RecordWork, RecordedWork>(fleet, x => x.Run(new(Unit, ["engine-oil"], "300", "2026-03-06", null), Fleet.Tam, Ct));
        await Ok<LogTopUp, LoggedTopUp>(fleet, x => x.Run(Unit, "1.5", "engine", null, Fleet.Tam, Ct));

        var sample = await Ok<TakeSample, SampleRow>(fleet, x => x.Run(Taking() with { Key = "k1" }, Fleet.Tam, Ct));

        Assert.Equal((560, 1.5, "15W-40", "SAE 15W-40", OilKind.Engine), (sample.OilTenths, sample.AddedLitres, sample.Fluid, sample.Grade, sample.Kind));
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
        await Sign(fleet, other.Id, new() { Verdict = OilVerdict.Steady });
        Assert.Equal("sampleSigned", (await Refused<TakeSample, SampleRow>(fleet, x => x.Void(other.Id, "late thought", Fleet.Tam, Ct))).Code);
    }

    [Fact]
    public async Task Undoing_the_work_undoes_the_sample_that_came_with_it()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Ok<VoidWork, Nothing>(fleet, x => x.Run(Unit, sample.Batch, null, "undone", Fleet.Tam, Ct));
        Assert.NotNull((await Row(fleet, sample.Id)).VoidedMs);
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

    private static (string Field, string Code) Of(Refusal refusal) => (refusal.Field, refusal.Code);

    [Fact]
    public async Task A_bottle_that_was_prepared_is_given_again_until_it_is_filled_and_a_scan_finds_both()
    {
        await using var fleet = await Ready();
        var codes = await Ok<Bottles, IReadOnlyList<string>>(fleet, x => x.Prepare([new(Unit, Engine), new(Unit, Hydraulic)], Fleet.Tam, Ct));
        Assert.Equal(codes, await Ok<Bottles, IReadOnlyList<string>>(fleet, x => x.Prepare([new(Unit, Engine), new(Unit, Hydraulic)], Fleet.Tam, Ct)));
        Assert.Equal(Engine, (await fleet.Do<SampleTray, (SampleRow? Sample, BottleRow? Bottle, string Unit)>(x => x.Find(codes[0].ToLowerInvariant(), Ct))).Bottle!.ItemCode);

        var sample = await Take(fleet, bottle: codes[0]);
        Assert.Equal(sample.Id, (await fleet.Do<SampleTray, (SampleRow? Sample, BottleRow? Bottle, string Unit)>(x => x.Find(codes[0], Ct))).Sample!.Id);
        Assert.NotEqual(codes[0], (await Ok<Bottles, IReadOnlyList<string>>(fleet, x => x.Prepare([new(Unit, Engine)], Fleet.Tam, Ct)))[0]);
        Assert.Equal("noneChosen", (await Refused<Bottles, IReadOnlyList<string>>(fleet, x => x.Prepare([], Fleet.Tam, Ct))).Code);
        var labels = await fleet.Do<SampleTray, IReadOnlyList<BottleLabel>>(x => x.Labels([codes[1], codes[0], "XXX-XXX"], Ct));
        Assert.Equal([codes[1], codes[0]], labels.Select(x => x.Code));
        Assert.Equal([null, sample.Id], labels.Select(x => x.Sample?.Id));
    }

    [Fact]
    public async Task A_tube_into_a_running_machine_or_cold_oil_is_a_doubt()
    {
        await using var fleet = await Ready();
        var sample = await Ok<TakeSample, SampleRow>(fleet, x => x.Run(Taking() with { Method = DrawMethod.Tube, Engine = DrawState.Cold }, Fleet.Tam, Ct));
        Assert.True(sample.DrawnWrong);
        await Results(fleet, sample.Id);
        var page = (await fleet.Do<SampleViews, SamplePage?>(x => x.One(sample.Id, Ct)))!;
        Assert.True(page.Judgement!.Doubts.HasFlag(SampleDoubts.DrawnWrong));
    }

    [Fact]
    public async Task Results_find_their_bottle_repeats_change_nothing_and_a_correction_keeps_both()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Send(fleet, sample.Id);
        fleet.Line.Answer = Answer(1, (sample.Bottle, "20"));
        Assert.Equal(1, await fleet.Do<LabCourier, int>(x => x.Round(true, Ct)));
        Assert.Equal((SampleState.Reported, OilVerdict.Steady), ((await Row(fleet, sample.Id)).State, (await Row(fleet, sample.Id)).Advised!.Value));
        Assert.Equal(ConsignmentState.Answered, (await fleet.Ask(db => db.Consignments.SingleAsync(Ct))).State);

        await Sign(fleet, sample.Id, new() { Verdict = OilVerdict.Steady });
        var fate = await fleet.Do<TakeResults, MatchedResult>(x => x.Match(new(sample.Bottle, new Dictionary<string, string> { ["Fe"] = "20", ["water"] = "<0.02" }), Ct));
        Assert.Equal(ResultFate.Unchanged, fate.Fate);

        await Results(fleet, sample.Id, (Measurand.Fe, 200));
        var reports = await fleet.Ask(db => db.Reports.OrderBy(x => x.Id).ToListAsync(Ct));
        Assert.Equal([true, false], reports.Select(x => x.ReplacedMs is not null));
        var corrected = await Row(fleet, sample.Id);
        Assert.Equal((SampleState.Reported, OilVerdict.Act), (corrected.State, corrected.Advised!.Value));
    }

    [Theory]
    [InlineData("""{"bottle":"ZZZ-99","figures":{"Fe":3}}""", "bottleUnknown")]
    [InlineData("""{"bottle":"@","unit":"EX-99","figures":{"Fe":3}}""", "labOtherUnit")]
    [InlineData("""{"bottle":"@","machineHours":300,"oilHours":301,"figures":{"Fe":3}}""", "labOilHours")]
    [InlineData("""{"bottle":"@","figures":{"Fe":-3}}""", "labNegative")]
    [InlineData("""{"bottle":"@","figures":{"Fe":"lots"}}""", "notANumber")]
    [InlineData("""{"bottle":"@","iso":"18/16","figures":{}}""", "labIso")]
    [InlineData("""{"bottle":"@","figures":{}}""", "labNothing")]
    [InlineData("""{"figures":{"Fe":3}}""", "labNoBottle")]
    public async Task What_belongs_to_no_bottle_or_cannot_be_is_kept_aside_once(string result, string why)
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Send(fleet, sample.Id);
        fleet.Line.Answer = $$"""{"results":[{{result.Replace("@", sample.Bottle, StringComparison.Ordinal)}}],"cursor":1}""";
        for (var round = 0; round < 2; round++) Assert.Equal(0, await fleet.Do<LabCourier, int>(x => x.Round(true, Ct)));

        Assert.Equal(why, (await fleet.Ask(db => db.LooseResults.SingleAsync(Ct))).Why);
        Assert.Equal(SampleState.Sent, (await Row(fleet, sample.Id)).State);
    }

    [Fact]
    public async Task A_result_that_was_kept_aside_is_given_to_its_bottle_or_put_away()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Send(fleet, sample.Id);
        fleet.Line.Answer = Answer(2, ("OLD-1", "33"), ("OLD-2", "44"));
        await fleet.Do<LabCourier, int>(x => x.Round(true, Ct));
        var loose = await fleet.Ask(db => db.LooseResults.OrderBy(x => x.Id).ToListAsync(Ct));
        Assert.Equal("bottleUnknown", (await Refused<TakeResults, SampleRow>(fleet, x => x.Give(loose[0].Id, "NOPE", Fleet.Tam, Ct))).Code);
        await Ok<TakeResults, SampleRow>(fleet, x => x.Give(loose[0].Id, sample.Bottle, Fleet.Tam, Ct));
        Assert.Equal("looseGone", (await Refused<TakeResults, SampleRow>(fleet, x => x.Give(loose[0].Id, sample.Bottle, Fleet.Tam, Ct))).Code);
        await Ok<TakeResults, LooseResultRow>(fleet, x => x.PutAway(loose[1].Id, Fleet.Tam, Ct));
        Assert.Equal(SampleState.Reported, (await Row(fleet, sample.Id)).State);
        Assert.Empty((await fleet.Do<SampleTray, Tray>(x => x.Load(new(), Ct))).Loose);
    }

    [Theory]
    [InlineData("labDown", null)]
    [InlineData("labSlow", null)]
    [InlineData(null, """{"results":[{"bottle":"K7""")]
    [InlineData(null, "<html>Back soon</html>")]
    [InlineData(null, """{"results":"none","cursor":0}""")]
    [InlineData(null, """[1,2]""")]
    public async Task A_laboratory_that_fails_loses_nothing_is_told_and_is_asked_again_later_and_later(string? fault, string? rubbish)
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Send(fleet, sample.Id);
        if (fault is null) await fleet.Do<LabCourier, int>(x => x.Round(false, Ct));
        fleet.Line.Fault = fault;
        if (rubbish is not null) fleet.Line.Answer = rubbish;

        fleet.Clock.Advance(LabCourier.AskEvery);
        await fleet.Do<LabCourier, int>(x => x.Round(false, Ct));
        var trouble = Assert.Single((await fleet.Do<SampleTray, Tray>(x => x.Load(new(TrayPart.AtLab), Ct))).Troubles);
        Assert.Equal("Sannet", trouble.Lab);
        var asked = fleet.Line.Asked.Count + fleet.Line.Sent.Count;
        await fleet.Do<LabCourier, int>(x => x.Round(false, Ct));
        Assert.Equal(asked, fleet.Line.Asked.Count + fleet.Line.Sent.Count);

        (fleet.Line.Fault, fleet.Line.Answer) = (null, Answer(1, (sample.Bottle, "20")));
        fleet.Clock.Advance(TimeSpan.FromMinutes(5));
        await fleet.Do<LabCourier, int>(x => x.Round(false, Ct));
        Assert.Equal(SampleState.Reported, (await Row(fleet, sample.Id)).State);
        Assert.Empty((await fleet.Do<SampleTray, Tray>(x => x.Load(new(), Ct))).Troubles);
        Assert.Single(fleet.Line.Sent);
    }

    [Fact]
    public void The_wait_doubles_up_to_three_hours()
    {
        Assert.Equal(TimeSpan.FromSeconds(15), LabCourier.WaitAfter(1));
        Assert.Equal(TimeSpan.FromSeconds(60), LabCourier.WaitAfter(3));
        Assert.Equal(TimeSpan.FromHours(3), LabCourier.WaitAfter(50));
    }

    [Fact]
    public async Task A_list_carries_what_a_laboratory_needs_and_a_sample_is_sent_once()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        Assert.Equal("labNeeded", (await Refused<SendSamples, ConsignmentRow>(fleet, x => x.Run([sample.Id], null, Fleet.Tam, Ct))).Code);
        await Send(fleet, sample.Id);
        Assert.Equal("sampleNotTaken", (await Refused<SendSamples, ConsignmentRow>(fleet, async x => await x.Run([sample.Id], (await fleet.Ask(db => db.Labs.SingleAsync(Ct))).Id, Fleet.Tam, Ct))).Code);
        await fleet.Do<LabCourier, int>(x => x.Round(false, Ct));
        var order = LabMessages.ReadOrder(Assert.Single(fleet.Line.Sent))!;
        Assert.Equal(new(sample.Bottle, Unit, "engine", "engine", "2026-03-16", 356, 356, 0, 24, "15W-40", "SAE 15W-40"), Assert.Single(order.Samples));

        await Ok<SendSamples, SampleRow>(fleet, x => x.TakeBack(sample.Id, Fleet.Tam, Ct));
        Assert.Equal(SampleState.Taken, (await Row(fleet, sample.Id)).State);
    }

    [Fact]
    public async Task A_result_is_late_after_a_fortnight()
    {
        await using var fleet = await Ready();
        await Send(fleet, (await Take(fleet)).Id);
        async Task<(int AtLab, int Late)> Counts()
        {
            var counts = (await fleet.Do<SampleTray, Tray>(x => x.Load(new(), Ct))).Counts;
            return (counts[TrayPart.AtLab], counts[TrayPart.Late]);
        }

        fleet.Clock.Advance(TimeSpan.FromDays(SampleTray.LateDays));
        Assert.Equal((1, 0), await Counts());
        fleet.Clock.Advance(TimeSpan.FromSeconds(1));
        Assert.Equal((0, 1), await Counts());
    }

    [Fact]
    public async Task A_verdict_to_act_opens_a_defect_calls_the_work_and_the_next_sample_fifty_hours_after_the_repair()
    {
        await using var fleet = await Ready();
        await Ok<RecordWork, RecordedWork>(fleet, x => x.Run(new(Unit, ["engine-oil", "air-primary"], "354", null, null, OfferedHours: "354"), Fleet.Tam, Ct));
        var sample = await Take(fleet);
        await Results(fleet, sample.Id, (Measurand.Si, 40), (Measurand.Al, 31));
        var page = (await fleet.Do<SampleViews, SamplePage?>(x => x.One(sample.Id, Ct)))!;
        Assert.Equal("dirt", Assert.Single(page.Judgement!.Patterns).Code);
        Assert.Contains(page.Offer!.Work, x => x.Item.Code == "air-primary" && x.Ticked);

        var signed = await Sign(fleet, sample.Id, new() { Verdict = OilVerdict.Act, Defect = DefectGrade.NextService, DefectWords = "Dirt in the engine oil", DueNow = ["engine-oil", "air-primary"] });

        var defect = await fleet.Ask(db => db.Defects.SingleAsync(x => x.Id == signed.DefectId, Ct));
        Assert.Equal((DefectGrade.NextService, "engine:oil"), (defect.Grade, defect.Place));
        Assert.Equal((DueBasis.Called, 356.0), ((await Stand(fleet, "engine-oil")).Point.Basis, (await Stand(fleet, "engine-oil")).DueHours));
        Assert.Equal(DueBasis.Completion, (await Stand(fleet, Engine)).Point.Basis);

        await Ok<RepairDefect, DefectRow>(fleet, x => x.Repair(defect.Id, new("Air hose clamped", null, null, null, null), Fleet.Tam, Ct));
        Assert.Equal((DueBasis.Called, 406.0), ((await Stand(fleet, Engine)).Point.Basis, (await Stand(fleet, Engine)).DueHours));

        fleet.Clock.Advance(TimeSpan.FromHours(2));
        var work = await Ok<RecordWork, RecordedWork>(fleet, x => x.Run(new(Unit, ["engine-oil"], "356", null, null, OfferedHours: "356"), Fleet.Tam, Ct));
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
        await Sign(fleet, sample.Id, new() { Verdict = OilVerdict.Watch });
        Assert.Equal((DueBasis.Called, 356 + 125.0), ((await Stand(fleet, Engine)).Point.Basis, (await Stand(fleet, Engine)).DueHours));
    }

    [Fact]
    public async Task A_stop_stops_the_machine_and_wants_a_sample_before_it_works_again()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Results(fleet, sample.Id, (Measurand.Water, 0.5));
        Assert.Equal(OilVerdict.Stop, (await Row(fleet, sample.Id)).Advised);
        var version = (await Row(fleet, sample.Id)).Version;
        Assert.Equal("stopNeedsStop", (await Refused<SignVerdict, SignedSample>(fleet, x => x.Run(sample.Id, new() { Version = version, Verdict = OilVerdict.Stop, Defect = DefectGrade.Watch }, Fleet.Tam, Ct))).Code);
        Assert.Equal(("defectWords", "wordsNeeded"), Of(await Refused<SignVerdict, SignedSample>(fleet, x => x.Run(sample.Id, new() { Version = version, Verdict = OilVerdict.Stop }, Fleet.Tam, Ct))));

        await Sign(fleet, sample.Id, new() { Verdict = OilVerdict.Stop, DefectWords = "Water in the engine oil" });
        Assert.True((await fleet.Standing(Unit)).OutOfService);
        Assert.Equal((DueBasis.Called, 356.0), ((await Stand(fleet, Engine)).Point.Basis, (await Stand(fleet, Engine)).DueHours));
    }

    [Fact]
    public async Task Overruling_takes_a_reason_and_stands_beside_the_advice()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Results(fleet, sample.Id, (Measurand.Cu, 80));
        var version = (await Row(fleet, sample.Id)).Version;
        Assert.Equal(("words", "needed"), Of(await Refused<SignVerdict, SignedSample>(fleet, x => x.Run(sample.Id, new() { Version = version, Verdict = OilVerdict.Steady }, Fleet.Tam, Ct))));
        Assert.Equal("changedMeanwhile", (await Refused<SignVerdict, SignedSample>(fleet, x => x.Run(sample.Id, new() { Version = version - 1, Verdict = OilVerdict.Act }, Fleet.Tam, Ct))).Code);
        Assert.Equal("noSuchItem", (await Refused<SignVerdict, SignedSample>(fleet, x => x.Run(sample.Id, new() { Version = version, Verdict = OilVerdict.Act, DueNow = ["nothing"] }, Fleet.Tam, Ct))).Code);

        await Sign(fleet, sample.Id, new() { Verdict = OilVerdict.Steady, Words = "New oil cooler" });
        var row = await Row(fleet, sample.Id);
        Assert.Equal((OilVerdict.Act, OilVerdict.Steady, "New oil cooler", "Tam Ollery"), (row.Advised!.Value, row.SignedAs!.Value, row.SignedWords, row.SignedBy));
        Assert.False(await fleet.Ask(db => db.Defects.AnyAsync(Ct)));
        Assert.Contains("Steady", await fleet.Ask(db => db.Audit.Where(x => x.What == "sample.sign").Select(x => x.After!).SingleAsync(Ct)), StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public async Task A_sample_without_results_cannot_be_signed()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        Assert.Equal("sampleNotReported", (await Refused<SignVerdict, SignedSample>(fleet, x => x.Run(sample.Id, new() { Verdict = OilVerdict.Steady }, Fleet.Tam, Ct))).Code);
    }

    /// <summary>Takes a steady hydraulic sample at some hours and signs it.</summary>
    private static async Task<SignedSample> SteadyAt(Fleet fleet, double hours, double fe = 5, bool same = true)
    {
        fleet.Clock.Advance(TimeSpan.FromDays(25));
        Assert.True((await fleet.Log(Unit, hours, fleet.Clock.GetUtcNow())).Done);
        var text = hours.ToString(CultureInfo.InvariantCulture);
        var sample = await Take(fleet, Hydraulic, text);
        await Results(fleet, sample.Id, (Measurand.Fe, fe));
        return await Sign(fleet, sample.Id, fe < 20 ? new() { Verdict = OilVerdict.Steady, SameFluid = same } : new() { Verdict = OilVerdict.Act, SameFluid = same });
    }

    [Fact]
    public async Task Three_steady_samples_lengthen_the_interval_the_due_rule_follows_and_a_bad_one_takes_it_back()
    {
        await using var fleet = await Ready();
        await Ok<RecordWork, RecordedWork>(fleet, x => x.Run(new(Unit, ["hydraulic-oil"], "354", null, null, OfferedHours: "354"), Fleet.Tam, Ct));
        Assert.Equal(2000, (await Stand(fleet, "hydraulic-oil")).DueHours);
        Assert.Equal(DrainReason.TooFew, (await SteadyAt(fleet, 500)).Drain!.Reason);
        Assert.Equal(DrainReason.TooFew, (await SteadyAt(fleet, 650)).Drain!.Reason);

        Assert.Equal(new DrainStep(2500, DrainReason.Earned), (await SteadyAt(fleet, 800)).Drain);

        // From the last change, not on the grid: 354 and 2500.
        Assert.Equal(2854, (await Stand(fleet, "hydraulic-oil")).DueHours);
        Assert.Equal(DrainReason.TooFew, (await SteadyAt(fleet, 950)).Drain!.Reason);

        Assert.Equal(new DrainStep(2000, DrainReason.BadSample), (await SteadyAt(fleet, 1100, fe: 60)).Drain);
        Assert.Equal(2000, (await Stand(fleet, "hydraulic-oil")).DueHours);
        Assert.Equal([2500, 2000], (await fleet.Do<SampleViews, CompartmentPage?>(x => x.Compartment(Unit, "hydraulic", Ct)))!.Drains.OrderBy(x => x.Id).Select(x => x.ToTenths / 10.0));
    }

    [Fact]
    public async Task Another_fluid_or_a_stranger_topped_up_earns_nothing()
    {
        await using var fleet = await Ready();
        await SteadyAt(fleet, 500);
        await SteadyAt(fleet, 650);
        Assert.Equal(DrainReason.NotApproved, (await SteadyAt(fleet, 800, same: false)).Drain!.Reason);
        await Ok<ChangeProgram, ServiceProgram>(fleet, x => x.SaveCompartment(new(StarterPrograms.CodeOf(Data.Fleet.MachineKind.WheelLoader), 1, "hydraulic", "45", "5", "HV 32: -30..25; HV 46: -15..40", ["liveport"]) { DrainStep = "500", DrainCap = "4000", DrainFluids = "HV 32" }, Mara, Ct));
        Assert.Equal(DrainReason.NotApproved, (await SteadyAt(fleet, 950)).Drain!.Reason);
    }

    [Fact]
    public async Task A_missed_sample_takes_the_earned_interval_back_by_hours_that_were_read()
    {
        await using var fleet = await Ready();
        foreach (var hours in new[] { 500.0, 650, 800 }) await SteadyAt(fleet, hours);
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
        var program = StarterPrograms.CodeOf(Data.Fleet.MachineKind.WheelLoader);
        CompartmentChange Change(string? step, string? cap) => new(program, 1, "hydraulic", "45", "5", "HV 46: -15..40", ["liveport"]) { DrainStep = step, DrainCap = cap, DrainFluids = "HV 46" };
        Assert.Equal(("drainCap", "drainBoth"), Of(await Refused<ChangeProgram, ServiceProgram>(fleet, x => x.SaveCompartment(Change("500", null), Mara, Ct))));
        Assert.Equal(("drainCap", "drainCap"), Of(await Refused<ChangeProgram, ServiceProgram>(fleet, x => x.SaveCompartment(Change("500", "2000"), Mara, Ct))));
        Assert.Equal(("drainStep", "aboveZero"), Of(await Refused<ChangeProgram, ServiceProgram>(fleet, x => x.SaveCompartment(Change("0", "3000"), Mara, Ct))));
        await Ok<ChangeProgram, ServiceProgram>(fleet, x => x.SaveCompartment(Change("250", "3000"), Mara, Ct));
    }

    [Fact]
    public async Task Limits_show_what_would_change_and_leave_signed_verdicts_alone()
    {
        await using var fleet = await Ready();
        var (signed, open) = (await Take(fleet), await Take(fleet, hours: "357"));
        foreach (var sample in new[] { signed, open }) await Results(fleet, sample.Id, (Measurand.Fe, 60));
        await Sign(fleet, signed.Id, new() { Verdict = OilVerdict.Steady });
        var input = new LimitsInput(OilKind.Engine, null, null, [new("Fe", "50", "55")], null);

        var preview = await Ok<OilLimits, LimitsPreview>(fleet, x => x.Preview(input, Ct));
        Assert.Equal((2, 2), (preview.Looked, preview.Changed.Count));
        Assert.All(preview.Changed, x => Assert.Equal((OilVerdict.Steady, OilVerdict.Act), (x.Before, x.After)));
        Assert.Equal(OilVerdict.Steady, (await Row(fleet, open.Id)).Advised);

        await Ok<OilLimits, LimitsPreview>(fleet, x => x.Save(input, Mara, Ct));
        Assert.Equal((OilVerdict.Steady, OilVerdict.Act), ((await Row(fleet, signed.Id)).Advised, (await Row(fleet, open.Id)).Advised));

        await Ok<OilLimits, LimitsPreview>(fleet, x => x.Save(new(OilKind.Engine, Unit, "engine", [new("Fe", "70", "90")], null), Mara, Ct));
        var own = (await fleet.Do<OilLimits, LimitsPage?>(x => x.Page(OilKind.Engine, Unit, "engine", Ct)))!;
        Assert.Equal(new OilLimit(70, 90, LimitSource.Compartment), own.Set[Measurand.Fe]);
        Assert.Equal(new OilLimit(50, 55), own.Below[Measurand.Fe]);
        Assert.Equal(OilVerdict.Steady, (await Row(fleet, open.Id)).Advised);
    }

    [Theory]
    [InlineData("50", null, null, "act-Fe", "limitsBoth")]
    [InlineData("50", "50", null, "act-Fe", "actAboveWatch")]
    [InlineData("0", "50", null, "watch-Fe", "aboveZero")]
    [InlineData("a lot", "50", null, "watch-Fe", "notANumber")]
    [InlineData(null, null, "18/16", "target", "labIso")]
    public async Task A_limit_that_cannot_be_is_refused_beside_its_field(string? watch, string? act, string? target, string field, string code)
    {
        await using var fleet = await Ready();
        Assert.Equal((field, code), Of(await Refused<OilLimits, LimitsPreview>(fleet, x => x.Save(new(OilKind.Hydraulic, null, null, [new("Fe", watch, act)], target), Mara, Ct))));
    }

    [Fact]
    public async Task The_fleets_own_limits_come_from_a_hundred_values_and_are_derived_apart()
    {
        await using var fleet = await Ready();
        await fleet.Do<Data.NippersDb>(async db =>
        {
            var machine = await db.Machines.SingleAsync(Ct);
            for (var i = 0; i < 100; i++)
            {
                var sample = new SampleRow { MachineId = machine.Id, Compartment = "engine", ItemCode = Engine, Bottle = $"H{i}", By = "x", Batch = "h", Kind = OilKind.Engine, Family = "SAE 15W-40", LifeTenths = i, Advised = OilVerdict.Steady, State = SampleState.Judged };
                db.Samples.Add(sample);
                await db.SaveChangesAsync(Ct);
                db.Judgements.Add(new() { SampleId = sample.Id, Values = $$"""{"Fe":{{i + 1}}}""", Whole = "{}", WearCompares = i > 0 });
            }

            await db.SaveChangesAsync(Ct);
        });
        Assert.Equal(0, await fleet.Do<FleetLimits, int>(x => x.Derive(Ct)));
        Assert.False(await fleet.Do<FleetLimits, bool>(x => x.RefreshStale(Ct)));
        await fleet.Ask(db => db.Judgements.ExecuteUpdateAsync(x => x.SetProperty(m => m.WearCompares, true), Ct));
        Assert.False(await fleet.Ask(db => db.FleetLimits.AnyAsync(Ct)));
        fleet.Clock.Advance(FleetLimits.GoodFor);
        Assert.True(await fleet.Do<FleetLimits, bool>(x => x.RefreshStale(Ct)));
        Assert.False(await fleet.Do<FleetLimits, bool>(x => x.RefreshStale(Ct)));

        var sample = await Take(fleet);
        await Results(fleet, sample.Id, (Measurand.Fe, 95));
        var fe = (await fleet.Do<SampleViews, SamplePage?>(x => x.One(sample.Id, Ct)))!.Case!.Limits[Measurand.Fe]!;
        Assert.Equal((90.1, 112.625, LimitSource.Own, 100), (Math.Round(fe.Watch, 3), Math.Round(fe.Act, 3), fe.Source, fe.Values));
    }

    [Fact]
    public async Task A_sample_of_new_oil_gives_its_figures_and_then_tan_is_judged_as_a_rise()
    {
        await using var fleet = await Ready();
        var old = await Take(fleet);
        await Results(fleet, old.Id);
        Assert.Equal("oilNotNew", (await Refused<NewOils, NewOilRow>(fleet, x => x.FromSample(old.Id, Fleet.Tam, Ct))).Code);
        await Ok<RecordWork, RecordedWork>(fleet, x => x.Run(new(Unit, ["engine-oil"], "357", null, null, OfferedHours: "0"), Fleet.Tam, Ct));
        var fresh = await Take(fleet, hours: "358");
        await Results(fleet, fresh.Id, (Measurand.Tan, 1.2), (Measurand.Tbn, 10), (Measurand.V100, 14.4), (Measurand.Ca, 2400));
        await Ok<NewOils, NewOilRow>(fleet, x => x.FromSample(fresh.Id, Fleet.Tam, Ct));
        var row = await fleet.Ask(db => db.NewOils.SingleAsync(Ct));
        Assert.Equal((1.2, 10.0, 14.4, """{"Ca":2400}""", NewOilSource.ReferenceSample), (row.Tan, row.Tbn, row.Viscosity, row.Additives, row.Source));

        var next = await Take(fleet, hours: "359");
        await Results(fleet, next.Id, (Measurand.Tan, 3.4), (Measurand.Tbn, 9));
        var judged = (await fleet.Do<SampleViews, SamplePage?>(x => x.One(next.Id, Ct)))!.Judgement!;
        Assert.Equal((2.2, 1), (Math.Round(judged.Values[Measurand.TanRise]!.Value, 6), judged.Grades[(int)Measurand.TanRise]));
    }

    [Fact]
    public async Task Swapped_bottles_are_suspected_by_their_additives()
    {
        await using var fleet = await Ready();
        async Task New(string fluid, string ca, string zn) => await Ok<NewOils, NewOilRow>(fleet, x => x.Save(fluid, new(0, null, null, null, null, null, null, new Dictionary<string, string?> { ["Ca"] = ca, ["Zn"] = zn }, NewOilSource.DataSheet), Mara, Ct));
        await New("15W-40", "2400", "1200");
        await New("HV 46", "300", "420");
        var sample = await Take(fleet);
        await Results(fleet, sample.Id, (Measurand.Ca, 310), (Measurand.Zn, 400));
        var page = (await fleet.Do<SampleViews, SamplePage?>(x => x.One(sample.Id, Ct)))!;
        Assert.Equal("wrongFluid", Assert.Single(page.Judgement!.Patterns).Code);
        Assert.Equal(["Hydraulic system"], page.OtherOils);
        Assert.True(page.Judgement.Doubts.HasFlag(SampleDoubts.OtherOil));

        await Sign(fleet, sample.Id, new() { Verdict = OilVerdict.Watch, NotTrue = true });
        Assert.Empty(await fleet.Do<OilBook, IReadOnlyList<EarlierSample>>(async x => await x.Earlier((await Row(fleet, sample.Id)).MachineId, "engine", 9999, 0, Ct)));
    }

    private const string Header = "Sample ID;Unit No;Iron mg/kg;Water ppm;Visc 40C cSt;4um per 100 ml;6um per 100 ml;14um per 100 ml;Odd\n";

    private static async Task<LabImportPreview> Look(Fleet fleet, string text, IReadOnlyList<LabColumn>? columns = null)
    {
        var draft = await fleet.Do<LabImport, string>(x => x.SaveDraft("lab.csv", text, Fleet.Tam, Ct));
        return await Ok<LabImport, LabImportPreview>(fleet, async x => await x.Preview((await fleet.Ask(db => db.Labs.SingleAsync(Ct))).Id, draft, columns, Fleet.Tam, Ct));
    }

    private static async Task<AppliedResults> Apply(Fleet fleet, string text, IReadOnlyList<LabColumn> columns)
    {
        var draft = await fleet.Do<LabImport, string>(x => x.SaveDraft("lab.csv", text, Fleet.Tam, Ct));
        return await Ok<LabImport, AppliedResults>(fleet, async x => await x.Apply((await fleet.Ask(db => db.Labs.SingleAsync(Ct))).Id, draft, columns, Fleet.Tam, Ct));
    }

    [Fact]
    public async Task A_laboratorys_file_is_mapped_once_its_units_turned_its_bad_rows_told_and_a_repeat_is_harmless()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet, Hydraulic);
        var text = Header + $"{sample.Bottle};{Unit};12;300;46.2;250000;64000;8000;x\n{sample.Bottle};{Unit};13;300;46;1;1;1;twice\nNOBODY;{Unit};5;100;46;;;;\n;{Unit};5;100;46;;;;\nLAST;{Unit};-5;100;46;;;;\n";

        var preview = await Look(fleet, text);
        Assert.Equal(["bottle", "unit", "Fe", "water", "v40", "p4", "p6", "p14", ""], preview.Columns.Select(x => x.Field));
        Assert.Equal((1, 2, 2), (preview.Count(ResultFate.Matched), preview.Count(ResultFate.Loose), preview.Unreadable));
        Assert.Equal(["labTwice", "labNegative"], preview.Rows.Where(x => x.Match is null).Select(x => x.Row.Fault!));
        Assert.False(preview.Remembered);

        Assert.Equal(new(1, 0, 0, 2, 2), await Apply(fleet, text, preview.Columns));
        var report = await fleet.Ask(db => db.Reports.SingleAsync(Ct));
        Assert.Equal(("""{"Fe":"12","v40":"46.2","water":"0.03"}""", "18/16/13"), (report.Figures, report.Iso));
        Assert.Equal(new(0, 0, 1, 2, 2), await Apply(fleet, text, preview.Columns));
        Assert.Equal(2, await fleet.Ask(db => db.LooseResults.CountAsync(Ct)));
        Assert.True((await Look(fleet, text)).Remembered);
    }

    [Fact]
    public async Task A_file_of_another_laboratory_says_what_it_lacks()
    {
        await using var fleet = await Ready();
        Assert.Equal("noBottleColumn", (await Look(fleet, "Vessel,Ferrum\n12,4\n")).Fault!.Code);
        Assert.Equal("csvEmpty", (await Look(fleet, "Bottle,Fe\n")).Fault!.Code);
        Assert.Equal("csvBadData", (await Look(fleet, "Bottle,Fe\n\"a\"b,3\n")).Fault!.Code);
        Assert.Equal("columnTwice", (await Look(fleet, "Bottle,Fe,Iron\na,3,4\n", [new("Bottle", "bottle", ""), new("Fe", "Fe", ""), new("Iron", "Fe", "")])).Fault!.Code);
        Assert.Equal("draftGone", (await Refused<LabImport, LabImportPreview>(fleet, async x => await x.Preview((await fleet.Ask(db => db.Labs.SingleAsync(Ct))).Id, "gone", null, Fleet.Tam, Ct))).Code);
    }

    [Fact]
    public async Task A_job_card_keeps_its_bottle_by_its_code_and_tells_a_slip()
    {
        await using var fleet = await Ready();
        var code = (await Ok<Bottles, IReadOnlyList<string>>(fleet, x => x.Prepare([new(Unit, Engine)], Fleet.Tam, Ct)))[0];
        var id = (await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(null, new(Unit, "2026-03-16", [Engine]), Fleet.Tam, Ct))).Id;
        await Ok<OpenCard, VisitRow>(fleet, x => x.Run(id, "356", false, Fleet.Tam, Ct));
        for (var job = await Job(); job.Card.Steps.FirstOrDefault(x => !job.State.IsDone(x) && job.State.BlockedBy(x).Length == 0 && x.Ask != StepAsk.Bottle) is { } step; job = await Job())
        {
            await Ok<SaveStep, SavedStep>(fleet, x => x.Run(id, new() { Code = step.Code, Done = true, Mark = "TIDEWAY", Name = "Tam Ollery", Home = [.. job.State.TouchedBefore(step)], Look = Core.Walk.FluidLook.Clear, Level = "80" }, Fleet.Tam, Ct));
        }

        var bottle = (await Job()).Card.Steps.Single(x => x.Ask == StepAsk.Bottle);
        Assert.Equal("bottleSlip", (await Refused<SaveStep, SavedStep>(fleet, x => x.Run(id, new() { Code = bottle.Code, Done = true, Mark = code[..6] + (code[6] == '2' ? '3' : '2') }, Fleet.Tam, Ct))).Code);
        await Ok<SaveStep, SavedStep>(fleet, x => x.Run(id, new() { Code = bottle.Code, Done = true, Mark = code.ToLowerInvariant() }, Fleet.Tam, Ct));
        Assert.Equal(code, (await Job()).State.AnswerOf(bottle)!.Mark);

        Task<JobContext> Job() => fleet.Do<VisitViews, JobContext>(async x => (await x.Job(id, Ct))!);
    }

    [Fact]
    public async Task A_coolant_test_is_kept_judged_and_taken_back()
    {
        await using var fleet = await Ready();
        await Ok<MachineData, Nothing>(fleet, x => x.Save(Unit, new([new("cooling", "30", "", "", "1", "", "", "", "", "")], null, null, null, null, null), Fleet.Tam, Ct));
        Assert.Equal("coolantNothing", (await Refused<CoolantTests, CoolantTestRow>(fleet, x => x.Keep(Unit, new(), Fleet.Tam, Ct))).Code);
        Assert.Equal(("ph", "between"), Of(await Refused<CoolantTests, CoolantTestRow>(fleet, x => x.Keep(Unit, new() { Ph = "15" }, Fleet.Tam, Ct))));
        Assert.Equal("dateInFuture", (await Refused<CoolantTests, CoolantTestRow>(fleet, x => x.Keep(Unit, new() { Ph = "9", On = "2026-03-17" }, Fleet.Tam, Ct))).Code);
        var kept = await Ok<CoolantTests, CoolantTestRow>(fleet, x => x.Keep(Unit, new() { Share = "25", Inhibitor = Inhibitor.Low, Key = "c" }, Fleet.Tam, Ct));
        Assert.Equal(kept.Id, (await Ok<CoolantTests, CoolantTestRow>(fleet, x => x.Keep(Unit, new() { Share = "25", Key = "c" }, Fleet.Tam, Ct))).Id);
        var judged = Assert.Single((await fleet.Do<CoolantTests, CoolantPage?>(x => x.Page(Unit, Ct)))!.Tests).Result;
        Assert.Equal((2, true, 10.0), (judged.Worst, judged.Conditioner, judged.ReplaceLitres));
        await Ok<CoolantTests, CoolantTestRow>(fleet, x => x.Void(Unit, kept.Id, Fleet.Tam, Ct));
        Assert.Empty((await fleet.Do<CoolantTests, CoolantPage?>(x => x.Page(Unit, Ct)))!.Tests);
    }

    [Fact]
    public async Task Two_laboratories_may_not_share_a_name_and_a_token_stays_when_left_empty()
    {
        await using var fleet = await Ready();
        var lab = await fleet.Ask(db => db.Labs.SingleAsync(Ct));
        Assert.Equal(("url", "notAnAddress"), Of(await Refused<Labs, LabRow>(fleet, x => x.Save(new(null, 0, "Other", "ftp:/x", null, false), Mara, Ct))));
        Assert.Equal(("name", "codeTaken"), Of(await Refused<Labs, LabRow>(fleet, x => x.Save(new(null, 0, "Sannet", null, null, false), Mara, Ct))));
        await Ok<Labs, LabRow>(fleet, x => x.Save(new(lab.Id, lab.Version, "Sannet", "", "", true), Mara, Ct));
        Assert.Equal(("secret", ""), await fleet.Ask(async db => { var x = await db.Labs.SingleAsync(Ct); return (x.Token, x.Url); }));
        Assert.DoesNotContain("secret", string.Concat(await fleet.Ask(db => db.Audit.Select(x => x.After).ToListAsync(Ct))), StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_tray_counts_and_the_fleet_is_compared()
    {
        await using var fleet = await Ready();
        await Ok<RecordWork, RecordedWork>(fleet, x => x.Run(new(Unit, ["engine-oil"], "354", null, null, OfferedHours: "354"), Fleet.Tam, Ct));
        var tray = await fleet.Do<SampleTray, Tray>(x => x.Load(new(), Ct));
        Assert.Equal(tray.Due.Count, tray.Counts[TrayPart.ToTake]);
        Assert.Contains(tray.Due, x => x.Item == Engine && x.Unit == Unit);
        Assert.Equal(tray.Due.OrderBy(x => x.Method).Select(x => x.Item), tray.Due.Select(x => x.Item));

        var sample = await Take(fleet, hours: "356");
        await Results(fleet, sample.Id, (Measurand.Fe, 80));
        var compared = await fleet.Do<SampleViews, FleetComparison>(x => x.Fleet(OilKind.Engine, Measurand.Fe, null, Ct));
        Assert.Equal((Unit, "engine", 80.0), (compared.Places[0].Unit, compared.Places[0].Compartment, compared.Places[0].Last));
        Assert.Equal(1, (await fleet.Do<SampleTray, Tray>(x => x.Load(new(TrayPart.ToJudge), Ct))).Counts[TrayPart.ToJudge]);
        var draws = (await fleet.Do<SampleViews, DrawPage?>(x => x.Draws(Unit, Ct)))!;
        Assert.Equal(draws.Lines.Select(x => x.Place.Method).Order(), draws.Lines.Select(x => x.Place.Method));
    }
}
