using Microsoft.EntityFrameworkCore;
using Nippers.App.Machines;
using Nippers.App.Work;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data.Fleet;

namespace Nippers.App.Tests;

public sealed class WorkTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static RecordWorkInput Work(params string[] items) => new("WL-01", items, "354", "2026-03-15", "By the gate");

    private static Task<Outcome<RecordedWork>> Record(Fleet fleet, RecordWorkInput input, Actor? by = null) =>
        fleet.Do<RecordWork, Outcome<RecordedWork>>(x => x.Run(input, by ?? Fleet.Tam, Ct));

    private static async Task<ItemStatus> Item(Fleet fleet, string code) =>
        (await fleet.Page("WL-01")).Items.Single(x => x.Item.Code == code).Status;

    [Fact]
    public async Task Part_of_a_service_moves_its_own_dues_and_leaves_the_rest_due()
    {
        await using var fleet = await Fleet.WithLoader();
        Assert.Equal(DueStatus.Overdue, (await Item(fleet, "engine-oil")).Status);
        var outcome = await Record(fleet, Work("engine-oil"));
        Assert.True(outcome.Done, string.Join(", ", outcome.Refusals));
        Assert.Equal((50d, 500d), (Assert.Single(outcome.Value!.Moves).Before.DueHours, outcome.Value.Moves[0].After.DueHours));
        Assert.Equal(500, (await Item(fleet, "engine-oil")).DueHours);
        Assert.Equal(
            (250d, DueStatus.Overdue),
            ((await Item(fleet, "engine-oil-sample")).DueHours, (await Item(fleet, "engine-oil-sample")).Status)
        );
    }

    [Fact]
    public async Task Work_taken_back_with_a_reason_is_due_again()
    {
        await using var fleet = await Fleet.WithLoader();
        var batch = (await Record(fleet, Work("engine-oil", "belts"))).Value!.Batch;
        Assert.Equal(
            "reasonNeeded",
            Assert.Single((await fleet.Do<VoidWork, Outcome<Nothing>>(x => x.Run("WL-01", batch, null, "", Fleet.Tam, Ct))).Refusals).Code
        );
        Assert.True((await fleet.Do<VoidWork, Outcome<Nothing>>(x => x.Run("WL-01", batch, null, "wrong machine", Fleet.Tam, Ct))).Done);
        Assert.Equal(50, (await Item(fleet, "engine-oil")).DueHours);
        Assert.Equal(
            "workGone",
            Assert
                .Single((await fleet.Do<VoidWork, Outcome<Nothing>>(x => x.Run("WL-01", batch, null, "again", Fleet.Tam, Ct))).Refusals)
                .Code
        );
    }

    [Theory]
    [InlineData("354", "2026-03-17", "on", "dateInFuture")]
    [InlineData("354", "2025-03-17", "on", "beforeCommissioning")]
    [InlineData("354", "soon", "on", "notADate")]
    [InlineData("354,55", "2026-03-15", "hours", "hoursTooFine")]
    [InlineData("100", "2026-03-15", "hours", "outsideDay")]
    [InlineData("400", "2026-03-15", "hours", "outsideDay")]
    [InlineData("500", "2026-03-16", "hours", "tooFast")]
    [InlineData("374", "2026-03-16", "hours", "unusualHours")]
    public async Task Hours_and_dates_that_cannot_be_are_refused_beside_their_field(string hours, string on, string field, string code)
    {
        await using var fleet = await Fleet.WithLoader();
        var before = await fleet.Fingerprint();
        var outcome = await Record(fleet, Work("engine-oil") with { HoursText = hours, DateText = on });
        Assert.Equal((field, code), (Assert.Single(outcome.Refusals).Field, outcome.Refusals[0].Code));
        Assert.Equal(before, await fleet.Fingerprint());
    }

    [Fact]
    public async Task Hours_read_at_the_work_are_a_reading_too_and_offered_ones_are_not()
    {
        await using var fleet = await Fleet.WithLoader();
        Assert.True((await Record(fleet, Work("belts") with { DateText = null, HoursText = "357.0", OfferedHours = "357.0" })).Done);
        Assert.Equal(new MeterHours(3540), (await fleet.Status("WL-01")).LastHours);
        Assert.True((await Record(fleet, Work("engine-oil") with { DateText = null, HoursText = "358.2", OfferedHours = "357.0" })).Done);
        Assert.Equal(new MeterHours(3582), (await fleet.Status("WL-01")).LastHours);
        fleet.Clock.Advance(TimeSpan.FromDays(1));
        Assert.True(
            (
                await Record(
                    fleet,
                    Work("wheel-nuts") with
                    {
                        DateText = null,
                        HoursText = "378",
                        OfferedHours = "357.0",
                        Confirmed = true,
                    }
                )
            ).Done
        );
        Assert.Equal((new MeterHours(3780), 0), ((await fleet.Status("WL-01")).LastHours, (await fleet.Status("WL-01")).Unconfirmed));
    }

    [Fact]
    public async Task Work_that_came_too_early_says_so_and_leaves_the_due_where_it_was()
    {
        await using var fleet = await Fleet.WithLoader();
        await Record(fleet, Work("engine-oil"));
        var early = await Record(fleet, Work("engine-oil-sample") with { HoursText = "222", DateText = "2026-02-21" });
        var move = Assert.Single(early.Value!.Moves);
        Assert.Equal((250d, 250d, 28d), (move.Before.DueHours, move.After.DueHours, move.After.TooEarlyBy));
    }

    [Fact]
    public async Task Two_people_recording_the_same_item_at_once_leave_one_record_and_one_clear_answer()
    {
        await using var fleet = await Fleet.WithLoader();
        var seen = (await fleet.Page("WL-01")).NewestCompletion;
        var both = await Task.WhenAll(
            Task.Run(() => Record(fleet, Work("engine-oil") with { SeenUpTo = seen, Key = "a" }), Ct),
            Task.Run(() => Record(fleet, Work("engine-oil") with { SeenUpTo = seen, Key = "b" }, Fleet.Bea), Ct)
        );
        var refused = Assert.Single(both, x => !x.Done);
        Assert.Equal("doneMeanwhile", Assert.Single(refused.Refusals).Code);
        Assert.Equal(1, await fleet.Ask(db => db.Completions.CountAsync(x => x.ItemCode == "engine-oil", Ct)));

        // Another item of the same service is nobody's quarrel, and a repeat of the same form is harmless.
        Assert.True((await Record(fleet, Work("belts") with { SeenUpTo = seen }, Fleet.Bea)).Done);
        var winner = both[0].Done ? "a" : "b";
        Assert.True(
            (await Record(fleet, Work("engine-oil") with { SeenUpTo = seen, Key = winner }, both[0].Done ? Fleet.Tam : Fleet.Bea)).Done
        );
        Assert.Equal(1, await fleet.Ask(db => db.Completions.CountAsync(x => x.ItemCode == "engine-oil", Ct)));
    }

    [Fact]
    public async Task A_used_machine_has_everything_due_until_done_or_declared()
    {
        await using var fleet = await Fleet.WithLoader(History.Unknown, 4000);
        var page = await fleet.Page("WL-01");
        Assert.All(page.Items, x => Assert.True(x.Status is { NoRecord: true, Status: DueStatus.Due, Used: null, Projected: null }));

        async Task<Outcome<Nothing>> Declare(string hours, string saidBy) =>
            await fleet.Do<DeclareBaseline, Outcome<Nothing>>(x =>
                x.Run(new("WL-01", ["hydraulic-oil"], hours, "2025-11-01", saidBy, null), Fleet.Tam, Ct)
            );
        Assert.Equal("saidByNeeded", Assert.Single((await Declare("3500", "")).Refusals).Code);
        Assert.Equal("baselineAhead", Assert.Single((await Declare("5000", "Seller")).Refusals).Code);
        Assert.True((await Declare("3500", "Seller, by invoice")).Done);

        var after = await fleet.Page("WL-01");
        var declared = after.Items.Single(x => x.Item.Code == "hydraulic-oil");
        var last = await fleet.Part("WL-01", (x, page) => x.LastDone(page, Ct));
        Assert.Equal((4000d, "Seller, by invoice"), (declared.Status.DueHours, last["hydraulic-oil"].SaidBy));
    }

    [Theory]
    [InlineData("unit", "", "unitShape")]
    [InlineData("unit", "NEW", "unitShape")]
    [InlineData("unit", "WL-01", "unitTaken")]
    [InlineData("make", " ", "needed")]
    [InlineData("site", "Moon", "noSuchSite")]
    [InlineData("program", "none", "noSuchProgram")]
    [InlineData("commissionedOn", "2027-01-01", "dateInFuture")]
    [InlineData("commissionedHours", "1e308", "hoursNotANumber")]
    [InlineData("plannedHoursPerDay", "25", "between")]
    [InlineData("options", "turbo", "noSuchOption")]
    public async Task A_machine_entered_wrong_says_what_is_wrong_beside_the_field(string field, string value, string code)
    {
        await using var fleet = await Fleet.WithLoader();
        var before = await fleet.Fingerprint();
        string Or(string name, string good) => name == field ? value : good;
        var outcome = await fleet.Do<SaveMachine, Outcome<Machine>>(x =>
            x.Run(
                new()
                {
                    Unit = Or("unit", "WL-02"),
                    Make = Or("make", "Ulmar"),
                    Model = "UL",
                    Site = Or("site", "Yard"),
                    Program = Or("program", "starter-wheel-loader"),
                    CommissionedOn = Or("commissionedOn", "2026-01-01"),
                    CommissionedHours = Or("commissionedHours", "0"),
                    PlannedHoursPerDay = Or("plannedHoursPerDay", "5"),
                    Options = [Or("options", "ac")],
                },
                Fleet.Tam,
                Ct
            )
        );
        Assert.Equal((field, code), (Assert.Single(outcome.Refusals).Field, outcome.Refusals[0].Code));
        Assert.Equal(before, await fleet.Fingerprint());
    }

    [Fact]
    public async Task Parking_stops_projection_and_a_reading_with_more_hours_ends_it()
    {
        await using var fleet = await Fleet.WithLoader();
        Assert.True((await fleet.Do<ParkMachine, Outcome<ParkedRow>>(x => x.Park("WL-01", null, "winter", Fleet.Tam, Ct))).Done);
        Assert.True((await fleet.Status("WL-01")).Parked);
        Assert.Equal(
            "alreadyParked",
            Assert.Single((await fleet.Do<ParkMachine, Outcome<ParkedRow>>(x => x.Park("WL-01", null, "", Fleet.Tam, Ct))).Refusals).Code
        );
        fleet.Clock.Advance(TimeSpan.FromDays(20));
        Assert.All((await fleet.Page("WL-01")).Items, x => Assert.Null(x.Status.Projected));
        Assert.True((await fleet.Log("WL-01", 362, fleet.Clock.GetUtcNow())).Done);
        Assert.False((await fleet.Status("WL-01")).Parked);
    }
}
