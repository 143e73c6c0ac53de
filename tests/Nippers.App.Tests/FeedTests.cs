using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Feeds;
using Nippers.App.Mail;
using Nippers.App.Oil;
using Nippers.App.Readings;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Feeds;
using Nippers.Data.Defects;
using Nippers.Data.Feeds;
using Nippers.Data.Mail;
using Nippers.Data.Records;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>A feed that answers what a test says, by page.</summary>
public sealed class FakeFeed : IFeedLine
{
    /// <summary>What it answers, by address.</summary>
    public Func<string, LabReply> Answers { get; set; } = _ => new(null, "labDown");

    /// <summary>Addresses that were asked.</summary>
    public List<string> Asked { get; } = [];

    public Task<LabReply> Ask(FeedRow feed, string url, CancellationToken ct)
    {
        Asked.Add(url);
        return Task.FromResult(Answers(url));
    }
}

/// <summary>Hours that come by themselves: learned, believed, asked about.</summary>
public sealed class FeedTests
{
    private const string Url = "http://feed.invalid/fleet";
    private const string Unit = "WL-01";
    private static readonly Actor Mara = new("Mara Quill", Roles.Planner);

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static FeedInput Input => new(null, 0, "Ulmar", Url, "secret", false, true);

    private static string Page(double hours, DateTimeOffset at, string id = Unit, string more = "") =>
        string.Create(
            CultureInfo.InvariantCulture,
            $$$"""{"Equipment":[{"EquipmentHeader":{"EquipmentID":"{{{id}}}"},"CumulativeOperatingHours":{"Hour":{{{hours}}},"Datetime":"{{{at:O}}}"}}]{{{more}}}}"""
        );

    private static async Task<Fleet> Given()
    {
        var fleet = await Fleet.WithLoader();
        await Ok<FeedBook, FeedRow>(fleet, x => x.Save(Input, Mara, Ct));
        return fleet;
    }

    /// <summary>The feed says some hours as of now, and is asked.</summary>
    private static async Task<FeedMachineRow> Hear(Fleet fleet, double hours, TimeSpan? ago = null)
    {
        var at = fleet.Clock.GetUtcNow() - (ago ?? TimeSpan.Zero);
        fleet.Feed.Answers = _ => new(Page(hours, at), null);
        await fleet.Do<FeedRound, int>(x => x.Run(true, Ct));
        return await Row(fleet);
    }

    private static Task<FeedMachineRow> Row(Fleet fleet) => fleet.Ask(db => db.FeedMachines.AsNoTracking().SingleAsync(Ct));

    private static Task<List<ReadingRow>> Read(Fleet fleet) =>
        fleet.Ask(db => db.Readings.AsNoTracking().Where(x => x.Source == ReadingSource.Feed).OrderBy(x => x.At).ToListAsync(Ct));

    private static async Task Dash(Fleet fleet, double hours) => Assert.True((await fleet.Log(Unit, hours, fleet.Clock.GetUtcNow())).Done);

    /// <summary>Three days on which dash and feed are 300 h apart; the dash shows 376 at the end.</summary>
    private static async Task<Fleet> Learned()
    {
        var fleet = await Given();
        foreach (var dash in new[] { 360.0, 368, 376 })
        {
            fleet.Clock.Advance(TimeSpan.FromDays(1));
            await Dash(fleet, dash);
            await Hear(fleet, dash - 300, TimeSpan.FromMinutes(10));
        }

        return fleet;
    }

    [Fact]
    public async Task Three_readings_near_reports_make_its_hours_count_and_no_fewer()
    {
        await using var fleet = await Given();
        fleet.Clock.Advance(TimeSpan.FromDays(1));
        await Dash(fleet, 360);
        Assert.Equal((null, 1), await Two(Hear(fleet, 60)));
        fleet.Clock.Advance(TimeSpan.FromDays(1));
        await Dash(fleet, 368);
        Assert.Equal((null, 2), await Two(Hear(fleet, 68)));

        // A report four hours later meets no dash.
        fleet.Clock.Advance(TimeSpan.FromHours(4));
        Assert.Equal((null, 2), await Two(Hear(fleet, 71)));
        Assert.Empty(await Read(fleet));
        fleet.Clock.Advance(TimeSpan.FromHours(20));
        await Dash(fleet, 376);
        Assert.Equal((300.0, 3), await Two(Hear(fleet, 76)));
        fleet.Clock.Advance(TimeSpan.FromHours(3));
        await Hear(fleet, 78.5);
        var reading = Assert.Single(await Read(fleet));
        Assert.Equal((378.5, FeedIntake.Name, ReadingState.Accepted), (reading.ShownHours.Value, reading.By, reading.State));
    }

    private static async Task<(double?, int)> Two(Task<FeedMachineRow> row) => ((await row).OffsetHours, (await row).Pairs);

    [Fact]
    public async Task A_dash_that_is_typed_after_the_report_is_held_against_it_too()
    {
        await using var fleet = await Given();
        await Hear(fleet, 60);
        fleet.Clock.Advance(TimeSpan.FromMinutes(50));
        await Dash(fleet, 360);
        fleet.Clock.Advance(TimeSpan.FromHours(5));
        Assert.Equal(1, (await Hear(fleet, 63)).Pairs);
    }

    [Fact]
    public async Task The_same_report_twice_and_one_that_comes_late_change_nothing()
    {
        await using var fleet = await Learned();
        fleet.Clock.Advance(TimeSpan.FromHours(5));
        await Hear(fleet, 79);
        var before = await fleet.Fingerprint();
        await Hear(fleet, 79);
        await Hear(fleet, 77, TimeSpan.FromHours(3));
        Assert.Equal(before, await fleet.Fingerprint());
        Assert.Equal((79.0, FeedAway.Nothing), ((await Row(fleet)).Hours, (await Row(fleet)).Away));
    }

    [Fact]
    public async Task Readings_are_few_and_a_standing_machine_has_none()
    {
        await using var fleet = await Learned();
        for (var quarter = 0; quarter < 24 * 4; quarter++)
        {
            fleet.Clock.Advance(TimeSpan.FromMinutes(15));
            await Hear(fleet, 76 + Math.Min(quarter * 0.25, 8));
        }

        Assert.Equal([378, 380, 382, 384], (await Read(fleet)).Select(x => Math.Round(x.ShownHours.Value)));
        fleet.Clock.Advance(TimeSpan.FromDays(2));
        await Hear(fleet, 84);
        Assert.Equal(4, (await Read(fleet)).Count);
    }

    [Fact]
    public async Task A_dash_that_says_something_else_is_asked_about_and_nothing_is_logged_meanwhile()
    {
        await using var fleet = await Learned();
        fleet.Clock.Advance(TimeSpan.FromDays(1));

        // The box was replaced while nobody looked: it says 4 h less than it should.
        await Dash(fleet, 384);
        var row = await Hear(fleet, 80);
        Assert.Equal((FeedAway.Dash, 4.0), (row.Away, Math.Round(row.AwayHours, 6)));
        fleet.Clock.Advance(TimeSpan.FromHours(6));
        await Hear(fleet, 85);
        Assert.Empty(await Read(fleet));

        // A person says which: it begins anew, and counts after three pairs.
        await Ok<FeedBook, FeedMachineRow>(fleet, x => x.Replaced(row.Id, Mara, Ct));
        row = await Row(fleet);
        Assert.Equal((FeedAway.Nothing, null, 1), (row.Away, row.OffsetHours, row.Pairs));
        foreach (var day in new[] { 1, 2 })
        {
            fleet.Clock.Advance(TimeSpan.FromDays(1));
            await Dash(fleet, 384 + 8 * day);
            row = await Hear(fleet, 80 + 8 * day);
        }

        Assert.Equal((304.0, 3), (row.OffsetHours, row.Pairs));
    }

    [Fact]
    public async Task A_reading_that_was_typed_wrong_is_voided_and_the_question_is_gone()
    {
        await using var fleet = await Learned();
        fleet.Clock.Advance(TimeSpan.FromDays(1));
        await Dash(fleet, 388);
        Assert.Equal(FeedAway.Dash, (await Hear(fleet, 84)).Away);
        var wrong = await fleet.Ask(db => db.Readings.OrderByDescending(x => x.Id).Select(x => x.Id).FirstAsync(Ct));
        await fleet.Ask(db =>
            db.Readings.Where(x => x.Id == wrong).ExecuteUpdateAsync(x => x.SetProperty(r => r.State, ReadingState.Voided), Ct)
        );
        fleet.Clock.Advance(TimeSpan.FromHours(2));
        Assert.Equal(FeedAway.Nothing, (await Hear(fleet, 86)).Away);
        Assert.Equal(386, Assert.Single(await Read(fleet)).ShownHours.Value);
    }

    [Theory]
    [InlineData(-50)]
    [InlineData(-0.2)]
    [InlineData(1.7)]
    [InlineData(900)]
    public async Task Hours_that_go_back_or_on_faster_than_time_are_asked_about_and_not_believed(double by)
    {
        await using var fleet = await Learned();
        fleet.Clock.Advance(TimeSpan.FromHours(1));
        var row = await Hear(fleet, 76 + by);
        Assert.Equal((FeedAway.Leap, 76.0), (row.Away, row.Hours));
        Assert.Equal(by, row.AwayHours, 1e-6);
        Assert.Empty(await Read(fleet));

        // Rubbish for once: what comes next goes on as before, and the question is gone.
        fleet.Clock.Advance(TimeSpan.FromHours(3));
        row = await Hear(fleet, 79);
        Assert.Equal((FeedAway.Nothing, 79.0), (row.Away, row.Hours));
        Assert.Single(await Read(fleet));
    }

    [Fact]
    public async Task A_report_from_the_future_and_hours_below_the_readings_are_told_and_not_taken()
    {
        await using var fleet = await Learned();
        Assert.Equal("feedFuture", (await Hear(fleet, 77, TimeSpan.FromMinutes(-6))).LastFault);
        Assert.Equal(76, (await Row(fleet)).Hours);

        // A person has read 390 on the dash since; the feed stands behind, and is no reading.
        fleet.Clock.Advance(TimeSpan.FromHours(12));
        await Dash(fleet, 383);
        fleet.Clock.Advance(TimeSpan.FromHours(2));
        await Hear(fleet, 79);
        Assert.Empty(await Read(fleet));
        Assert.Equal(383, (await fleet.Part(Unit, (x, page) => x.Readings(page, Ct))).Readings.Max(x => x.ShownHours.Value));
    }

    [Fact]
    public async Task A_meter_that_was_replaced_is_no_question_for_life_hours_go_on()
    {
        await using var fleet = await Learned();
        fleet.Clock.Advance(TimeSpan.FromHours(12));
        await fleet.Do<ReplaceMeter>(async x => Assert.Empty((await x.Run(new(Unit, "380", "0", null, null, null), Mara, Ct)).Refusals));
        fleet.Clock.Advance(TimeSpan.FromHours(12));
        await Dash(fleet, 4);
        var row = await Hear(fleet, 84);
        Assert.Equal((FeedAway.Nothing, 300.0), (row.Away, Math.Round(row.OffsetHours!.Value, 6)));
        fleet.Clock.Advance(TimeSpan.FromHours(3));
        await Hear(fleet, 87);
        Assert.Equal(7, (await Read(fleet))[^1].ShownHours.Value);
    }

    [Fact]
    public async Task A_feed_that_fails_is_asked_ever_later_and_keeps_what_it_said()
    {
        await using var fleet = await Learned();
        fleet.Feed.Asked.Clear();
        fleet.Feed.Answers = _ => new("<html>", null);
        await fleet.Do<FeedRound, int>(x => x.Run(true, Ct));
        for (var second = 0; second < 200; second += 5)
        {
            fleet.Clock.Advance(TimeSpan.FromSeconds(5));
            await fleet.Do<FeedRound, int>(x => x.Run(false, Ct));
        }

        Assert.Equal(4, fleet.Feed.Asked.Count);
        Assert.Equal("feedShape", (await fleet.Ask(db => db.Feeds.SingleAsync(Ct))).LastFault);
        Assert.Equal((76.0, 300.0), ((await Row(fleet)).Hours, (await Row(fleet)).OffsetHours));
    }

    [Theory]
    [InlineData("""/fleet?page=2""", 2, "")]
    [InlineData("""http://feed.invalid/fleet?page=2""", 2, "")]
    [InlineData("""http://elsewhere.invalid/fleet""", 1, "feedNext")]
    [InlineData("""https://feed.invalid/fleet""", 1, "feedNext")]
    [InlineData("""http://me@feed.invalid/x""", 1, "feedNext")]
    [InlineData("""/fleet""", 1, "feedNext")]
    public async Task Its_next_page_is_followed_on_its_own_host_alone_and_never_in_a_ring(string next, int asked, string fault)
    {
        await using var fleet = await Given();
        fleet.Feed.Answers = url =>
            new(
                Page(
                    60,
                    fleet.Clock.GetUtcNow(),
                    url.Length.ToString(CultureInfo.InvariantCulture),
                    url.Contains("page=2", StringComparison.Ordinal) ? "" : $$""","Links":[{"Rel":"Next","Href":"{{next}}"}]"""
                ),
                null
            );
        await fleet.Do<FeedRound, int>(x => x.Run(true, Ct));
        Assert.Equal(asked, fleet.Feed.Asked.Count);
        Assert.Equal(fault, (await fleet.Ask(db => db.Feeds.SingleAsync(Ct))).LastFault);

        // What came before the fault is kept.
        Assert.Equal(asked, await fleet.Ask(db => db.FeedMachines.CountAsync(Ct)));
    }

    [Fact]
    public async Task A_machine_that_is_not_known_waits_until_somebody_says_which_it_is()
    {
        await using var fleet = await Given();
        fleet.Feed.Answers = _ => new(Page(60, fleet.Clock.GetUtcNow(), "K-77"), null);
        await fleet.Do<FeedRound, int>(x => x.Run(true, Ct));
        var row = await Row(fleet);
        Assert.Null(row.MachineId);
        Assert.Equal("noSuchUnit", (await Refused<FeedBook, FeedMachineRow>(fleet, x => x.Link(row.Id, "WL-99", Mara, Ct))).Code);
        fleet.Clock.Advance(TimeSpan.FromMinutes(5));
        await Dash(fleet, 360);
        await Ok<FeedBook, FeedMachineRow>(fleet, x => x.Link(row.Id, Unit, Mara, Ct));
        row = await Row(fleet);
        Assert.Equal((1, 1), (row.MachineId, row.Pairs));

        // It was none of ours after all: its dash is forgotten, and nobody is asked again.
        await Ok<FeedBook, FeedMachineRow>(fleet, x => x.Link(row.Id, "", Mara, Ct));
        row = await Row(fleet);
        Assert.Equal((null, 0, true), (row.MachineId, row.Pairs, row.Ignored));
        Assert.Empty((await fleet.Do<FeedBook, FeedsPage>(x => x.Load(1, Ct))).Machines);
    }

    [Theory]
    [InlineData("url", "ftp://feed.invalid")]
    [InlineData("url", "http://u:p@feed.invalid/")]
    [InlineData("url", "http://10.0.0.8/feed")]
    [InlineData("url", "")]
    [InlineData("name", "")]
    public async Task A_feed_that_cannot_be_is_refused_beside_its_field(string field, string value)
    {
        await using var fleet = await Fleet.Empty();
        var input = field == "url" ? Input with { Url = value } : Input with { Name = value };
        Assert.Equal(field, (await Refused<FeedBook, FeedRow>(fleet, x => x.Save(input, Mara, Ct))).Field);
    }

    [Fact]
    public async Task A_token_is_kept_hidden_and_given_to_no_other_address()
    {
        await using var fleet = await Given();
        var row = await fleet.Ask(db => db.Feeds.AsNoTracking().SingleAsync(Ct));
        Assert.Equal("terces", row.Token);
        await Ok<FeedBook, FeedRow>(fleet, x => x.Save(Input with { Id = row.Id, Version = 1, Token = "" }, Mara, Ct));
        Assert.Equal("terces", (await fleet.Ask(db => db.Feeds.AsNoTracking().SingleAsync(Ct))).Token);
        await Ok<FeedBook, FeedRow>(fleet, x =>
            x.Save(Input with { Id = row.Id, Version = 2, Token = "", Url = "http://other.invalid/" }, Mara, Ct)
        );
        Assert.Equal("", (await fleet.Ask(db => db.Feeds.AsNoTracking().SingleAsync(Ct))).Token);
    }

    [Theory]
    [InlineData(0, 23.9, true)]
    [InlineData(0, 24, false)]
    [InlineData(1, 1, false)]
    public async Task A_walk_begins_with_fresh_hours_and_what_was_left_as_offered_is_no_reading_of_the_dash(
        double readMore,
        double hoursOld,
        bool offered
    )
    {
        await using var fleet = await Learned();
        fleet.Clock.Advance(TimeSpan.FromHours(2));
        await Hear(fleet, 77);
        if (readMore > 0)
            await Dash(fleet, 377 + readMore);
        fleet.Clock.Advance(TimeSpan.FromHours(hoursOld));
        var offer = await fleet.Do<FeedHours, OfferedHours?>(x => x.Offer(1, fleet.Clock.GetUtcNow(), FeedAge.ForWalk, Ct));
        Assert.Equal(offered ? 377 : null, offer?.Shown.Value);
        if (!offered)
            return;
        await Ok<StartWalk, StartedWalk>(fleet, x => x.Run(new() { Unit = Unit, Hours = "377" }, Fleet.Tam, Ct));
        Assert.Equal(ReadingSource.Feed, (await Last(fleet)).Source);
    }

    [Fact]
    public async Task What_somebody_changes_in_an_offer_is_a_reading_of_the_dash()
    {
        await using var fleet = await Learned();
        fleet.Clock.Advance(TimeSpan.FromHours(2));
        await Hear(fleet, 77);
        await Ok<StartWalk, StartedWalk>(fleet, x => x.Run(new() { Unit = Unit, Hours = "377.4" }, Fleet.Tam, Ct));
        Assert.Equal((ReadingSource.Walk, 377.4), ((await Last(fleet)).Source, (await Last(fleet)).ShownHours.Value));
        fleet.Clock.Advance(TimeSpan.FromMinutes(15));
        Assert.Equal(4, (await Hear(fleet, 77.2)).Pairs);
    }

    [Fact]
    public async Task Many_machines_stand_on_pages_those_that_ask_first()
    {
        await using var fleet = await Given();
        await fleet.Ask(db =>
        {
            db.FeedMachines.AddRange(
                Enumerable
                    .Range(0, 130)
                    .Select(i => new FeedMachineRow
                    {
                        FeedId = 1,
                        Equipment = $"K-{i:000}",
                        Away = i == 129 ? FeedAway.Leap : FeedAway.Nothing,
                    })
            );
            return db.SaveChangesAsync(Ct);
        });
        var pages = new List<FeedsPage>();
        for (var at = 0; at <= 4; at++)
            pages.Add(await fleet.Do<FeedBook, FeedsPage>(x => x.Load(at, Ct)));
        Assert.Equal([1, 1, 2, 3, 3], pages.Select(x => x.Page));
        Assert.All(pages, x => Assert.Equal(3, x.Pages));
        Assert.Equal("K-129", pages[1].Machines[0].Row.Equipment);
        Assert.Equal(130, pages[1..4].SelectMany(x => x.Machines).Select(x => x.Row.Equipment).Distinct().Count());
    }

    [Fact]
    public async Task Nothing_is_offered_while_something_speaks_against_it()
    {
        await using var fleet = await Learned();
        fleet.Clock.Advance(TimeSpan.FromHours(1));
        await Hear(fleet, 9);
        Assert.Null(await fleet.Do<FeedHours, OfferedHours?>(x => x.Offer(1, fleet.Clock.GetUtcNow(), FeedAge.ForWalk, Ct)));
        await using var other = await Given();
        await Hear(other, 60);
        Assert.Null(await other.Do<FeedHours, OfferedHours?>(x => x.Offer(1, other.Clock.GetUtcNow(), FeedAge.ForWalk, Ct)));
    }

    private static Task<ReadingRow> Last(Fleet fleet) =>
        fleet.Ask(db => db.Readings.AsNoTracking().OrderByDescending(x => x.At).ThenByDescending(x => x.Id).FirstAsync(Ct));

    /// <summary>Messages go to Mara at once.</summary>
    private static async Task Told(Fleet fleet)
    {
        await fleet.Ask(db =>
        {
            db.Users.Add(
                new()
                {
                    Id = "mara",
                    UserName = "mara",
                    FullName = "Mara Quill",
                }
            );
            db.MailPeople.Add(
                new()
                {
                    UserId = "mara",
                    Address = "mara@fleet.invalid",
                    Stops = MailWhen.AtOnce,
                    MorningOn = new(2999, 1, 1),
                    MorningAt = 24 * 60,
                }
            );
            db.MailServers.Add(
                new()
                {
                    Host = "mail.invalid",
                    From = "n@fleet.invalid",
                    On = true,
                }
            );
            return db.SaveChangesAsync(Ct);
        });
    }

    private static async Task<List<string>> Ran(Fleet fleet)
    {
        await fleet.Do<MailRound, int>(x => x.Run(Ct));
        return await fleet.Ask(db => db.Mail.Where(x => x.Kind == MailKind.Ran).Select(x => x.Subject).ToListAsync(Ct));
    }

    [Fact]
    public async Task A_machine_that_runs_though_it_is_out_of_service_is_told_at_once_and_once_a_day()
    {
        await using var fleet = await Learned();
        await Told(fleet);
        await Ok<ReportDefect, DefectRow>(fleet, x => x.Run(
                new()
                {
                    Unit = Unit,
                    Words = "Boom cracked",
                    Grade = DefectGrade.Stop,
                    On = MachinePart.Other,
                },
                Fleet.Tam,
                Ct
            ));
        fleet.Clock.Advance(TimeSpan.FromMinutes(15));
        await Hear(fleet, 76);
        Assert.Empty(await Ran(fleet));
        fleet.Clock.Advance(TimeSpan.FromMinutes(15));
        await Hear(fleet, 76.1);
        Assert.Empty(await Ran(fleet));
        fleet.Clock.Advance(TimeSpan.FromMinutes(15));
        await Hear(fleet, 76.3);
        Assert.Contains("Though = Stopped", Assert.Single(await Ran(fleet)), StringComparison.Ordinal);
        fleet.Clock.Advance(TimeSpan.FromMinutes(15));
        await Hear(fleet, 76.5);
        Assert.Single(await Ran(fleet));
    }

    [Fact]
    public async Task A_machine_that_works_and_nobody_has_walked_round_is_told_unless_somebody_is_at_it()
    {
        await using var fleet = await Learned();
        await Told(fleet);
        fleet.Clock.Advance(TimeSpan.FromMinutes(30));
        await Hear(fleet, 76.4);
        Assert.Empty(await Ran(fleet));
        await Ok<StartWalk, StartedWalk>(fleet, x => x.Run(new() { Unit = Unit, Hours = "376.4" }, Fleet.Tam, Ct));
        fleet.Clock.Advance(TimeSpan.FromMinutes(30));
        await Hear(fleet, 76.9);
        Assert.Empty(await Ran(fleet));
        await fleet.Ask(db => db.Walks.ExecuteDeleteAsync(Ct));
        Assert.Contains("Though = NotWalked", Assert.Single(await Ran(fleet)), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(9.9, 9, 1, true, true)]
    [InlineData(10, 10, 1, false, false)]
    [InlineData(5, 5, 24, false, false)]
    [InlineData(5, 50, 23, true, false)]
    public async Task Fuel_and_exhaust_fluid_below_a_tenth_are_said_while_it_is_fresh(
        double fuel,
        double def,
        double hoursOld,
        bool lowFuel,
        bool lowDef
    )
    {
        await using var fleet = await Given();
        var at = fleet.Clock.GetUtcNow();
        fleet.Feed.Answers = _ =>
            new(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $$$"""{"Equipment":[{"EquipmentHeader":{"EquipmentID":"{{{Unit}}}"},"FuelRemaining":{"Percent":{{{fuel}}},"Datetime":"{{{at:O}}}"},"DEFRemaining":{"Percent":{{{def}}},"Datetime":"{{{at:O}}}"}}]}"""
                ),
                null
            );
        await fleet.Do<FeedRound, int>(x => x.Run(true, Ct));
        fleet.Clock.Advance(TimeSpan.FromHours(hoursOld));
        var low = await fleet.Do<FeedHours, (LowTank? Fuel, LowTank? Def)>(x => x.Low(1, fleet.Clock.GetUtcNow(), Ct));
        Assert.Equal((lowFuel, lowDef), (low.Fuel is not null, low.Def is not null));
    }
}
