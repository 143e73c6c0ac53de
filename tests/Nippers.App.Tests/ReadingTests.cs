using Microsoft.EntityFrameworkCore;
using Nippers.App.Readings;
using Nippers.Core.Hours;
using Nippers.Data.Fleet;
using Nippers.Data.Records;

namespace Nippers.App.Tests;

public sealed class ReadingTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Theory]
    [InlineData("", "hoursEmpty")]
    [InlineData("abc", "hoursNotANumber")]
    [InlineData("-5", "hoursNegative")]
    [InlineData("1e308", "hoursNotANumber")]
    [InlineData("9999999", "hoursTooLarge")]
    [InlineData("360,55", "hoursTooFine")]
    [InlineData("3.5", "backward")]
    [InlineData("900", "tooFast")]
    public async Task Bad_hours_are_refused_and_change_nothing(string typed, string code)
    {
        await using var fleet = await Fleet.WithLoader();
        var before = await fleet.Fingerprint();
        var outcome = await fleet.Do<LogReading, Outcome<LoggedReading>>(x => x.Run(new("WL-01", typed), Fleet.Tam, Ct));
        Assert.Equal(("hours", code), (Assert.Single(outcome.Refusals).Field, outcome.Refusals[0].Code));
        Assert.Equal(before, await fleet.Fingerprint());
    }

    [Theory]
    [InlineData("2026-03-16T08:00", "future")]
    [InlineData("2025-12-31T08:00", "beforeCommissioning")]
    [InlineData("yesterday", "notATime")]
    public async Task Bad_times_are_refused_beside_the_time(string at, string code)
    {
        await using var fleet = await Fleet.WithLoader();
        var outcome = await fleet.Do<LogReading, Outcome<LoggedReading>>(x => x.Run(new("WL-01", "360", at), Fleet.Tam, Ct));
        Assert.Contains(outcome.Refusals, x => x is { Field: "at" } && x.Code == code);
    }

    [Fact]
    public async Task A_unit_that_does_not_exist_gets_the_nearest_names()
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.AddMachine("WL-11");
        var outcome = await fleet.Log("WL-10", 20, Fleet.Now);
        var refusal = Assert.Single(outcome.Refusals);
        Assert.Equal("noSuchUnitNear", refusal.Code);
        Assert.Equal(["WL-01", "WL-11"], ((IReadOnlyList<string>)refusal.Args[1]!).Order());
    }

    [Fact]
    public async Task An_unusual_reading_feeds_nothing_until_a_person_confirms_it()
    {
        await using var fleet = await Fleet.WithLoader();
        var before = (await fleet.Status("WL-01")).LastHours;
        var logged = await fleet.Log("WL-01", 374, Fleet.Now);
        Assert.Equal(ReadingCode.Check, logged.Value!.Judgement!.Code);
        Assert.Equal((before, 1), ((await fleet.Status("WL-01")).LastHours, (await fleet.Status("WL-01")).Unconfirmed));

        // The same again is kept once.
        await fleet.Log("WL-01", 374, Fleet.Now);
        Assert.Equal(1, (await fleet.Status("WL-01")).Unconfirmed);

        var confirmed = await fleet.Do<DecideReading, Outcome<ReadingRow>>(x =>
            x.Confirm("WL-01", logged.Value.ReadingId!.Value, Fleet.Bea, Ct)
        );
        Assert.True(confirmed.Done);
        Assert.Equal((new MeterHours(3740), 0), ((await fleet.Status("WL-01")).LastHours, (await fleet.Status("WL-01")).Unconfirmed));
        var again = await fleet.Do<DecideReading, Outcome<ReadingRow>>(x =>
            x.Confirm("WL-01", logged.Value.ReadingId!.Value, Fleet.Bea, Ct)
        );
        Assert.Equal("readingDecided", Assert.Single(again.Refusals).Code);
    }

    [Fact]
    public async Task Correcting_an_unconfirmed_reading_voids_it_in_the_same_step()
    {
        await using var fleet = await Fleet.WithLoader();
        var wrong = (await fleet.Log("WL-01", 374, Fleet.Now)).Value!.ReadingId!.Value;
        var right = await fleet.Do<LogReading, Outcome<LoggedReading>>(x =>
            x.Run(new("WL-01", "360.4", At: Fleet.Now, Replaces: wrong), Fleet.Tam, Ct)
        );
        Assert.True(right.Done);
        var row = await fleet.Ask(db => db.Readings.SingleAsync(x => x.Id == wrong, Ct));
        Assert.Equal((ReadingState.Voided, ReadingReasons.Corrected), (row.State, row.Reason));
        Assert.Equal((new MeterHours(3604), 0), ((await fleet.Status("WL-01")).LastHours, (await fleet.Status("WL-01")).Unconfirmed));
    }

    [Fact]
    public async Task A_late_entry_is_judged_between_its_neighbours()
    {
        await using var fleet = await Fleet.WithLoader();
        var at = Fleet.Now.AddDays(-30).AddHours(-1);
        Assert.True((await fleet.Log("WL-01", 180, at)).Done);
        var beyond = await fleet.Log("WL-01", 187, at.AddHours(6));
        Assert.Equal("beyondNext", Assert.Single(beyond.Refusals).Code);
    }

    [Fact]
    public async Task A_voided_reading_needs_a_reason_stays_on_record_and_leaves_every_sum()
    {
        await using var fleet = await Fleet.WithLoader();
        var id = (await fleet.Log("WL-01", 358, Fleet.Now)).Value!.ReadingId!.Value;
        var without = await fleet.Do<DecideReading, Outcome<ReadingRow>>(x => x.Void("WL-01", id, " ", Fleet.Tam, Ct));
        Assert.Equal("reasonNeeded", Assert.Single(without.Refusals).Code);
        Assert.True((await fleet.Do<DecideReading, Outcome<ReadingRow>>(x => x.Void("WL-01", id, "Wrong machine", Fleet.Tam, Ct))).Done);
        Assert.Equal(new MeterHours(3540), (await fleet.Status("WL-01")).LastHours);
        Assert.Equal("Wrong machine", await fleet.Ask(db => db.Readings.Where(x => x.Id == id).Select(x => x.Reason).SingleAsync(Ct)));
    }

    [Fact]
    public async Task The_same_key_twice_keeps_one_reading()
    {
        await using var fleet = await Fleet.WithLoader();
        var first = await fleet.Log("WL-01", 358, Fleet.Now, "k1");
        var second = await fleet.Log("WL-01", 358, Fleet.Now, "k1");
        Assert.True(second.Value!.Repeat);
        Assert.Equal(first.Value!.ReadingId, second.Value.ReadingId);
        Assert.Equal(31, await fleet.Ask(db => db.Readings.CountAsync(Ct)));
    }

    [Fact]
    public async Task Life_hours_go_on_when_the_meter_is_replaced()
    {
        await using var fleet = await Fleet.WithLoader();
        var before = (await fleet.Page("WL-01")).Items.Select(x => x.Status.DueHours).ToList();
        var swapped = await fleet.Do<ReplaceMeter, Outcome<MeterChange>>(x =>
            x.Run(new("WL-01", "358", "0.4", null, "glass cracked", "k"), Fleet.Tam, Ct)
        );
        Assert.True(swapped.Done, string.Join(", ", swapped.Refusals));
        fleet.Clock.Advance(TimeSpan.FromHours(20));
        Assert.True((await fleet.Log("WL-01", 6.4, fleet.Clock.GetUtcNow())).Done);

        var page = await fleet.Page("WL-01");
        Assert.Equal((364, 6.4), (page.Now.Hours, Math.Round(page.Shows(page.Now.Hours), 6)));
        Assert.Equal(before, page.Items.Select(x => x.Status.DueHours));

        // What the old meter would have shown is refused now.
        Assert.Equal("tooFast", Assert.Single((await fleet.Log("WL-01", 365, fleet.Clock.GetUtcNow())).Refusals).Code);
        var late = await fleet.Do<ReplaceMeter, Outcome<MeterChange>>(x =>
            x.Run(new("WL-01", "350", "0", "2026-03-15T06:00", null, null), Fleet.Tam, Ct)
        );
        Assert.Contains(late.Refusals, x => x.Code == "readingsAfterSwap");
    }

    [Fact]
    public async Task Every_change_writes_who_what_and_when_in_the_same_transaction()
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.Log("WL-01", 358, Fleet.Now);
        var row = await fleet.Ask(db => db.Audit.OrderByDescending(x => x.Id).FirstAsync(Ct));
        Assert.Equal(("Tam Ollery", "reading.log", "WL-01", Fleet.Now), (row.Who, row.What, row.Subject, row.At));
        Assert.Contains("358", row.After, StringComparison.Ordinal);
    }
}
