using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Oil;
using Nippers.Core.Oil;
using Nippers.Data.Oil;
using Nippers.Formats.Lab;
using static Nippers.App.Tests.OilRig;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>Lists out, results in, and everything that can go wrong on the way.</summary>
public sealed class ResultTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_list_carries_what_a_laboratory_needs_and_a_sample_is_sent_once()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        Assert.Equal("labNeeded", (await Refused<SendSamples, ConsignmentRow>(fleet, x => x.Run([sample.Id], null, Fleet.Tam, Ct))).Code);
        await Send(fleet, sample.Id);
        Assert.Equal(
            "sampleNotTaken",
            (
                await Refused<SendSamples, ConsignmentRow>(fleet, async x => await x.Run([sample.Id], (await Lab(fleet)).Id, Fleet.Tam, Ct))
            ).Code
        );
        await Round(fleet);
        var order = LabMessages.ReadOrder(Assert.Single(fleet.Line.Sent))!;
        Assert.Equal(
            new(sample.Bottle, Unit, "engine", "engine", "2026-03-16", 356, 356, 0, 24, "15W-40", "SAE 15W-40"),
            Assert.Single(order.Samples)
        );

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
            var counts = (await Tray(fleet)).Counts;
            return (counts[SampleQueue.AtLab], counts[SampleQueue.Late]);
        }

        fleet.Clock.Advance(TimeSpan.FromDays(SampleQueues.LateDays));
        Assert.Equal((1, 0), await Counts());
        fleet.Clock.Advance(TimeSpan.FromSeconds(1));
        Assert.Equal((0, 1), await Counts());
    }

    [Fact]
    public void The_wait_doubles_up_to_three_hours()
    {
        Assert.Equal(TimeSpan.FromSeconds(15), LabOutbox.WaitAfter(1));
        Assert.Equal(TimeSpan.FromSeconds(60), LabOutbox.WaitAfter(3));
        Assert.Equal(TimeSpan.FromHours(3), LabOutbox.WaitAfter(50));
    }

    [Fact]
    public async Task Results_find_their_bottle_repeats_change_nothing_and_a_correction_keeps_both()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Send(fleet, sample.Id);
        fleet.Line.Answer = Answer(1, (sample.Bottle, "20"));
        Assert.Equal(1, await Round(fleet, atOnce: true));
        Assert.Equal(
            (SampleState.Reported, Assessment.Normal),
            ((await Row(fleet, sample.Id)).State, (await Row(fleet, sample.Id)).Advised!.Value)
        );
        Assert.Equal(ConsignmentState.Answered, (await fleet.Ask(db => db.Consignments.SingleAsync(Ct))).State);

        await Sign(fleet, sample.Id, new() { Assessment = Assessment.Normal });
        var fate = await fleet.Do<TakeResults, MatchedResult>(x =>
            x.Match(new(sample.Bottle, new Dictionary<string, string> { ["Fe"] = "20", ["water"] = "<0.02" }), Ct)
        );
        Assert.Equal(ResultFate.Unchanged, fate.Fate);

        await Results(fleet, sample.Id, (Measurand.Fe, 200));
        var reports = await fleet.Ask(db => db.Reports.OrderBy(x => x.Id).ToListAsync(Ct));
        Assert.Equal([true, false], reports.Select(x => x.ReplacedAt is not null));
        var corrected = await Row(fleet, sample.Id);
        Assert.Equal((SampleState.Reported, Assessment.Act), (corrected.State, corrected.Advised!.Value));
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
        for (var round = 0; round < 2; round++)
            Assert.Equal(0, await Round(fleet, atOnce: true));

        Assert.Equal(why, (await fleet.Ask(db => db.UnmatchedResults.SingleAsync(Ct))).Why);
        Assert.Equal(SampleState.Sent, (await Row(fleet, sample.Id)).State);
    }

    [Fact]
    public async Task A_result_that_was_kept_aside_is_given_to_its_bottle_or_put_away()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Send(fleet, sample.Id);
        fleet.Line.Answer = Answer(2, ("OLD-1", "33"), ("OLD-2", "44"));
        await Round(fleet, atOnce: true);
        var loose = await fleet.Ask(db => db.UnmatchedResults.OrderBy(x => x.Id).ToListAsync(Ct));
        Assert.Equal("bottleUnknown", (await Refused<TakeResults, SampleRow>(fleet, x => x.Give(loose[0].Id, "NOPE", Fleet.Tam, Ct))).Code);
        await Ok<TakeResults, SampleRow>(fleet, x => x.Give(loose[0].Id, sample.Bottle, Fleet.Tam, Ct));
        Assert.Equal(
            "looseGone",
            (await Refused<TakeResults, SampleRow>(fleet, x => x.Give(loose[0].Id, sample.Bottle, Fleet.Tam, Ct))).Code
        );
        await Ok<TakeResults, UnmatchedResultRow>(fleet, x => x.PutAway(loose[1].Id, Fleet.Tam, Ct));
        Assert.Equal(SampleState.Reported, (await Row(fleet, sample.Id)).State);
        Assert.Empty((await Tray(fleet)).Unmatched);
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
        if (fault is null)
            await Round(fleet);
        fleet.Line.Fault = fault;
        if (rubbish is not null)
            fleet.Line.Answer = rubbish;

        fleet.Clock.Advance(LabOutbox.AskEvery);
        await Round(fleet);
        var trouble = Assert.Single((await Tray(fleet, new(SampleQueue.AtLab))).Troubles);
        Assert.Equal("Sannet", trouble.Lab);
        var asked = fleet.Line.Asked.Count + fleet.Line.Sent.Count;
        await Round(fleet);
        Assert.Equal(asked, fleet.Line.Asked.Count + fleet.Line.Sent.Count);

        (fleet.Line.Fault, fleet.Line.Answer) = (null, Answer(1, (sample.Bottle, "20")));
        fleet.Clock.Advance(TimeSpan.FromMinutes(5));
        await Round(fleet);
        Assert.Equal(SampleState.Reported, (await Row(fleet, sample.Id)).State);
        Assert.Empty((await Tray(fleet)).Troubles);
        Assert.Single(fleet.Line.Sent);
    }

    [Theory]
    [InlineData("<html>Sign in to the guest network</html>")]
    [InlineData("")]
    [InlineData("{}")]
    [InlineData("""{"accepted":0}""")]
    [InlineData("""{"accepted":"1"}""")]
    [InlineData("""{"accepted":2}""")]
    public async Task A_list_is_handed_over_when_the_laboratory_says_so_and_not_before(string said)
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Send(fleet, sample.Id);
        fleet.Line.Taken = said;
        await Round(fleet);
        var box = await fleet.Ask(db => db.Consignments.AsNoTracking().SingleAsync(Ct));
        Assert.Equal((ConsignmentState.Waiting, "labShape"), (box.State, box.LastFault));

        fleet.Line.Taken = null;
        await Round(fleet, atOnce: true);
        Assert.Equal(ConsignmentState.HandedOver, (await fleet.Ask(db => db.Consignments.AsNoTracking().SingleAsync(Ct))).State);
        Assert.Equal(2, fleet.Line.Sent.Count);
    }

    [Theory]
    [InlineData(9_000_000_000_000_000_000)]
    [InlineData(1_000_001)]
    [InlineData(0)]
    [InlineData(-5)]
    public async Task A_place_that_cannot_be_the_next_one_is_not_gone_to_and_its_results_are_kept(long cursor)
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Send(fleet, sample.Id);
        fleet.Line.Answer = Answer(cursor, (sample.Bottle, "20"));
        await Round(fleet, atOnce: true);
        Assert.Equal(SampleState.Reported, (await Row(fleet, sample.Id)).State);
        var lab = await Lab(fleet);
        Assert.Equal((0, 1, "labCursor"), (lab.Cursor, lab.Failures, lab.LastFault));
        fleet.Line.Answer = Answer(1, (sample.Bottle, "20"));
        await Round(fleet, atOnce: true);
        lab = await Lab(fleet);
        Assert.Equal((1, 0, ""), (lab.Cursor, lab.Failures, lab.LastFault));
    }

    [Fact]
    public async Task A_laboratory_that_breaks_keeps_no_other_from_its_turn()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Send(fleet, sample.Id);
        await fleet.Ask(async db =>
        {
            db.Labs.Add(new() { Name = "Arden", Url = "https://arden.example" });
            await db.SaveChangesAsync(Ct);

            // Asked first, and what it does breaks the round itself.
            var first = await db.Labs.SingleAsync(x => x.Name == "Arden", Ct);
            db.Consignments.Add(
                new()
                {
                    LabId = first.Id,
                    By = "Mara Quill",
                    State = ConsignmentState.Waiting,
                }
            );
            return await db.SaveChangesAsync(Ct);
        });
        fleet.Line.Breaks = "Arden";
        fleet.Line.Answer = Answer(1, (sample.Bottle, "20"));
        await Assert.ThrowsAsync<AggregateException>(() => Round(fleet, atOnce: true));
        Assert.Equal(SampleState.Reported, (await Row(fleet, sample.Id)).State);
    }

    private const string Header = "Sample ID;Unit No;Iron mg/kg;Water ppm;Visc 40C cSt;4um per 100 ml;6um per 100 ml;14um per 100 ml;Odd\n";

    private static async Task<LabImportPreview> Look(Fleet fleet, string text, IReadOnlyList<LabColumn>? columns = null)
    {
        var draft = await fleet.Do<LabImport, string>(x => x.SaveDraft("lab.csv", text, Fleet.Tam, Ct));
        return await Ok<LabImport, LabImportPreview>(fleet, async x =>
            await x.Preview((await Lab(fleet)).Id, draft, columns, Fleet.Tam, Ct)
        );
    }

    private static async Task<AppliedResults> Apply(Fleet fleet, string text, IReadOnlyList<LabColumn> columns)
    {
        var draft = await fleet.Do<LabImport, string>(x => x.SaveDraft("lab.csv", text, Fleet.Tam, Ct));
        return await Ok<LabImport, AppliedResults>(fleet, async x => await x.Apply((await Lab(fleet)).Id, draft, columns, Fleet.Tam, Ct));
    }

    [Fact]
    public async Task A_laboratorys_file_is_mapped_once_its_units_turned_its_bad_rows_told_and_a_repeat_is_harmless()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet, Hydraulic);
        var text =
            Header
            + $"{sample.Bottle};{Unit};12;300;46.2;250000;64000;8000;x\n{sample.Bottle};{Unit};13;300;46;1;1;1;twice\nNOBODY;{Unit};5;100;46;;;;\n;{Unit};5;100;46;;;;\nLAST;{Unit};-5;100;46;;;;\n";

        var preview = await Look(fleet, text);
        Assert.Equal(["bottle", "unit", "Fe", "water", "v40", "p4", "p6", "p14", ""], preview.Columns.Select(x => x.Field));
        Assert.Equal((1, 2, 2), (preview.Count(ResultFate.Matched), preview.Count(ResultFate.Unmatched), preview.Unreadable));
        Assert.Equal(["labTwice", "labNegative"], preview.Rows.Where(x => x.Match is null).Select(x => x.Row.Fault!));
        Assert.False(preview.Remembered);

        Assert.Equal(new(1, 0, 0, 2, 2), await Apply(fleet, text, preview.Columns));
        var report = await fleet.Ask(db => db.Reports.SingleAsync(Ct));
        Assert.Equal(("""{"Fe":"12","v40":"46.2","water":"0.03"}""", "18/16/13"), (report.Figures, report.Iso));
        Assert.Equal(new(0, 0, 1, 2, 2), await Apply(fleet, text, preview.Columns));
        Assert.Equal(2, await fleet.Ask(db => db.UnmatchedResults.CountAsync(Ct)));
        Assert.True((await Look(fleet, text)).Remembered);
    }

    [Fact]
    public async Task A_file_of_another_laboratory_says_what_it_lacks()
    {
        await using var fleet = await Ready();
        Assert.Equal("noBottleColumn", (await Look(fleet, "Vessel,Ferrum\n12,4\n")).Fault!.Code);
        Assert.Equal("csvEmpty", (await Look(fleet, "Bottle,Fe\n")).Fault!.Code);
        Assert.Equal("csvBadData", (await Look(fleet, "Bottle,Fe\n\"a\"b,3\n")).Fault!.Code);
        Assert.Equal(
            "columnTwice",
            (await Look(fleet, "Bottle,Fe,Iron\na,3,4\n", [new("Bottle", "bottle", ""), new("Fe", "Fe", ""), new("Iron", "Fe", "")]))
                .Fault!
                .Code
        );
        Assert.Equal(
            "draftGone",
            (
                await Refused<LabImport, LabImportPreview>(fleet, async x =>
                    await x.Preview((await Lab(fleet)).Id, "gone", null, Fleet.Tam, Ct)
                )
            ).Code
        );
    }

    [Fact]
    public async Task An_old_file_taken_in_once_more_does_not_undo_a_correction_but_a_person_may()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet, Hydraulic);
        var old = $"Bottle;Fe\n{sample.Bottle};12\n";
        var columns = (await Look(fleet, old)).Columns;
        await Apply(fleet, old, columns);
        Assert.Equal(new(0, 1, 0, 0, 0), await Apply(fleet, $"Bottle;Fe\n{sample.Bottle};22\n", columns));

        Assert.Equal(new(0, 0, 1, 0, 0), await Apply(fleet, old, columns));
        Assert.Equal(Assessment.Watch, (await Row(fleet, sample.Id)).Advised);

        await Ok<TakeResults, SampleRow>(fleet, x =>
            x.ByHand(sample.Id, new Dictionary<string, string?> { ["Fe"] = "12" }, null, "Read wrong", null, Fleet.Tam, Ct)
        );
        Assert.Equal(Assessment.Normal, (await Row(fleet, sample.Id)).Advised);
        Assert.Equal(3, await fleet.Ask(db => db.Reports.CountAsync(Ct)));
    }

    /// <summary>
    /// Four samples of the engine, a hundred hours apart; the last three are reported: the last one leaps, but two before it are
    /// too few to say so.
    /// </summary>
    private static async Task<List<SampleRow>> FourOfWhichTheFirstIsOut(Fleet fleet)
    {
        var samples = new List<SampleRow>();
        foreach (var hours in new[] { 400.0, 500, 600, 700 })
            samples.Add(await TakeAt(fleet, Engine, hours));
        foreach (var (sample, fe) in samples.Skip(1).Zip([10.0, 10, 40]))
            await Results(fleet, sample.Id, (Measurand.Fe, fe));
        return samples;
    }

    [Fact]
    public async Task Results_that_come_late_judge_the_later_samples_anew_and_so_does_taking_them_back()
    {
        await using var fleet = await Ready();
        var samples = await FourOfWhichTheFirstIsOut(fleet);
        var last = await Row(fleet, samples[3].Id);
        Assert.Equal(Assessment.Normal, last.Advised);

        await Results(fleet, samples[0].Id, (Measurand.Fe, 11));
        var after = await Row(fleet, last.Id);
        Assert.Equal((Assessment.Watch, last.Version + 1), (after.Advised!.Value, after.Version));
        Assert.Equal("step:Fe", Assert.Single((await Page(fleet, last.Id)).Judgement!.Findings).ToString());

        await Ok<TakeSample, SampleRow>(fleet, x => x.Void(samples[0].Id, "another machine's bottle", Fleet.Tam, Ct));
        Assert.Equal(Assessment.Normal, (await Row(fleet, last.Id)).Advised);
    }

    [Fact]
    public async Task What_was_signed_is_not_judged_anew()
    {
        await using var fleet = await Ready();
        var samples = await FourOfWhichTheFirstIsOut(fleet);
        await Sign(fleet, samples[3].Id, new() { Assessment = Assessment.Normal });
        await Results(fleet, samples[0].Id, (Measurand.Fe, 11));
        Assert.Equal(Assessment.Normal, (await Row(fleet, samples[3].Id)).Advised);
    }

    [Fact]
    public async Task A_correction_is_asked_for_long_after_everything_is_in()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Send(fleet, sample.Id);
        fleet.Line.Answer = Answer(1, (sample.Bottle, "20"));
        await Round(fleet);
        Assert.Single(fleet.Line.Asked);
        await Sign(fleet, sample.Id, new() { Assessment = Assessment.Normal });

        fleet.Line.Answer = Answer(2, (sample.Bottle, "160"));
        fleet.Clock.Advance(LabOutbox.AskForCorrectionsEvery - TimeSpan.FromSeconds(1));
        Assert.Equal(0, await Round(fleet));
        fleet.Clock.Advance(TimeSpan.FromSeconds(1));
        Assert.Equal(1, await Round(fleet));
        Assert.Equal([0, 1], fleet.Line.Asked);
        var row = await Row(fleet, sample.Id);
        Assert.Equal((SampleState.Reported, Assessment.Act, Assessment.Normal), (row.State, row.Advised!.Value, row.SignedAs!.Value));
    }

    [Fact]
    public async Task A_new_consignment_is_asked_for_at_once_and_not_when_corrections_would_be()
    {
        await using var fleet = await Ready();
        var first = await Take(fleet);
        await Send(fleet, first.Id);
        fleet.Line.Answer = Answer(1, (first.Bottle, "20"));
        await Round(fleet);
        var second = await Take(fleet, Hydraulic);
        await Send(fleet, second.Id);
        fleet.Line.Answer = Answer(2, (second.Bottle, "5"));
        await Round(fleet);
        Assert.Equal(1, await Round(fleet));
    }

    [Fact]
    public async Task A_list_whose_samples_were_all_taken_back_goes_nowhere_and_is_not_waited_for()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Send(fleet, sample.Id);
        await Ok<SendSamples, SampleRow>(fleet, x => x.TakeBack(sample.Id, Fleet.Tam, Ct));
        await Round(fleet, atOnce: true);
        Assert.Empty(fleet.Line.Sent);
        Assert.Equal(ConsignmentState.Answered, (await fleet.Ask(db => db.Consignments.SingleAsync(Ct))).State);
        Assert.Equal("sampleNotSent", (await Refused<SendSamples, SampleRow>(fleet, x => x.TakeBack(sample.Id, Fleet.Tam, Ct))).Code);

        await Send(fleet, sample.Id);
        await Ok<TakeSample, SampleRow>(fleet, x => x.Void(sample.Id, "bottle broke", Fleet.Tam, Ct));
        await Round(fleet, atOnce: true);
        Assert.Empty(fleet.Line.Sent);
    }

    [Fact]
    public async Task A_list_that_waits_goes_on_paper_when_the_laboratory_loses_its_address()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Send(fleet, sample.Id);
        fleet.Line.Fault = "labDown";
        await Round(fleet);
        Assert.Single((await Tray(fleet)).Troubles);
        var lab = await Lab(fleet);
        await Ok<Labs, LabRow>(fleet, x => x.Save(new(lab.Id, lab.Version, lab.Name, "", "", true), Mara, Ct));
        Assert.Empty((await Tray(fleet)).Troubles);
        Assert.Equal(ConsignmentState.HandedOver, (await fleet.Ask(db => db.Consignments.SingleAsync(Ct))).State);
        Assert.Equal(0, await Round(fleet, atOnce: true));
    }

    [Fact]
    public async Task Another_address_is_read_from_its_beginning()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Send(fleet, sample.Id);
        fleet.Line.Answer = Answer(7);
        await Round(fleet);
        var lab = await Lab(fleet);
        Assert.Equal(7, lab.Cursor);
        await Ok<Labs, LabRow>(fleet, x => x.Save(new(lab.Id, lab.Version, lab.Name, lab.Url + "/", "", true), Mara, Ct));
        Assert.Equal(7, (await Lab(fleet)).Cursor);
        await Ok<Labs, LabRow>(fleet, x => x.Save(new(lab.Id, lab.Version + 1, lab.Name, "http://other.invalid", "", true), Mara, Ct));
        Assert.Equal(0, (await Lab(fleet)).Cursor);
    }

    [Fact]
    public async Task A_letter_is_typed_in_field_by_field_and_says_what_it_cannot_read()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet, Hydraulic);
        async Task<IReadOnlyList<Refusal>> Not(Dictionary<string, string?> typed, string? iso)
        {
            var outcome = await fleet.Do<TakeResults, Outcome<SampleRow>>(x => x.ByHand(sample.Id, typed, iso, null, null, Fleet.Tam, Ct));
            Assert.False(outcome.Done);
            return outcome.Refusals;
        }

        Assert.Equal(
            [("Fe", "labNegative"), ("Cu", "notANumber"), ("iso", "labIso")],
            (
                await Not(
                    new()
                    {
                        ["Fe"] = "-4",
                        ["Cu"] = "few",
                        ["Si"] = "5",
                    },
                    "18-16"
                )
            ).Select(Of)
        );
        Assert.Equal([("", "labNothing")], (await Not(new() { ["Fe"] = " " }, "")).Select(Of));
        await Ok<TakeResults, SampleRow>(fleet, x =>
            x.ByHand(
                sample.Id,
                new Dictionary<string, string?> { ["Fe"] = "<1", ["nonsense"] = "4" },
                "19/16/13",
                "Clean",
                "L-7",
                Fleet.Tam,
                Ct
            )
        );
        var report = await fleet.Ask(db => db.Reports.SingleAsync(Ct));
        Assert.Equal([KeyValuePair.Create("Fe", "<1")], JsonSerializer.Deserialize<Dictionary<string, string>>(report.Figures)!);
        Assert.Equal(
            ("19/16/13", "Clean", "L-7", ReportSource.Hand, "Tam Ollery"),
            (report.Iso, report.Comment, report.LabNumber, report.Source, report.By)
        );
        Assert.Equal(Assessment.Watch, (await Row(fleet, sample.Id)).Advised);
    }
}
