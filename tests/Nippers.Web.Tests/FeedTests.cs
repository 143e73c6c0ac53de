using System.Net;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using Nippers.App;
using Nippers.App.Feeds;
using Nippers.App.Readings;
using Nippers.Data;
using Nippers.Data.Feeds;
using Nippers.Data.Records;
using Nippers.StandIns;
using Nippers.Tests;

namespace Nippers.Web.Tests;

/// <summary>The stand-in feed over a real line, in each of its moods; its pages and its door for programs.</summary>
public sealed class FeedTests
{
    private static readonly FeedUnit[] Units =
    [
        new("EX-01", "", 1040.2, 8, 0.31),
        new("DZ-02", "", 3120.9, 10, 0.18),
        new("K-77", "", 12, 4, 0.5),
    ];

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private sealed record Given(DemoApp App, FeedStand Stand, WebApplication Server) : IAsyncDisposable
    {
        public async ValueTask DisposeAsync()
        {
            await App.DisposeAsync();
            await Server.DisposeAsync();
        }
    }

    private static async Task<Given> Begin()
    {
        var app = await DemoApp.Start();
        var stand = new FeedStand(Units, app.Clock);
        var builder = WebApplication.CreateSlimBuilder();
        builder.WebHost.UseSetting("urls", "http://127.0.0.1:0");
        builder.Logging.ClearProviders();
        var server = builder.Build();
        stand.Map(server);
        await server.StartAsync(Ct);
        using var mara = await Visitor.As(app, "mara");
        Assert.Equal(
            HttpStatusCode.Redirect,
            (
                await mara.Submit(
                    "/settings/feeds",
                    "form:has(#url)",
                    ("name", "Kelvar"),
                    ("url", server.Urls.First() + "/feed/v1/fleet"),
                    ("token", "abc"),
                    ("ownNetwork", "true"),
                    ("on", "true")
                )
            ).StatusCode
        );
        return new(app, stand, server);
    }

    private static async Task Round(DemoApp app)
    {
        await using var scope = app.Services.CreateAsyncScope();
        await scope.ServiceProvider.GetRequiredService<FeedRound>().Run(true, Ct);
    }

    private static IQueryable<ReadingRow> Of(NippersDb db, string unit) =>
        db.Readings.Where(x => db.Machines.Any(m => m.Id == x.MachineId && m.Unit == unit));

    private static Task<FeedMachineRow> Row(DemoApp app, string id) =>
        app.Ask(db => db.FeedMachines.AsNoTracking().SingleAsync(x => x.Equipment == id, Ct));

    /// <summary>Somebody reads the dash, which is ahead of the feed by the same as ever.</summary>
    private static async Task Dash(Given given, string unit, double ahead)
    {
        await using var scope = given.App.Services.CreateAsyncScope();
        var hours = given.Stand.HoursAt(Units.First(x => x.Id == unit), given.App.Clock.GetUtcNow()) + ahead;
        var outcome = await scope
            .ServiceProvider.GetRequiredService<LogReading>()
            .Run(
                new(unit, Math.Round(hours, 1).ToString(System.Globalization.CultureInfo.InvariantCulture)),
                new("Ines Varrow", Roles.Operator),
                Ct
            );
        Assert.True(outcome.Done, string.Join(", ", outcome.Refusals));
    }

    private static async Task<double> Ahead(Given given, string unit)
    {
        var last = await given.App.Ask(db =>
            Of(db, unit).Where(x => x.State == ReadingState.Accepted).OrderByDescending(x => x.At).Select(x => x.ShownHours).FirstAsync(Ct)
        );
        return Math.Ceiling(last.Value) + 1 - given.Stand.HoursAt(Units.First(x => x.Id == unit), given.App.Clock.GetUtcNow());
    }

    /// <summary>Three mornings on which the dash is read and the feed asked.</summary>
    private static async Task<double> Learn(Given given, string unit)
    {
        var ahead = await Ahead(given, unit);
        for (var day = 0; day < 3; day++)
        {
            given.App.Clock.Advance(TimeSpan.FromDays(1));
            await Dash(given, unit, ahead);

            // The worker may have asked at this instant already, before the dash was read.
            given.App.Clock.Advance(TimeSpan.FromMinutes(1));
            await Round(given.App);
        }

        Assert.Equal(3, (await Row(given.App, unit)).Pairs);
        return ahead;
    }

    [Fact]
    public async Task Through_a_day_of_moods_hours_never_go_back_nothing_is_twice_and_the_last_is_true()
    {
        await using var given = await Begin();
        var ahead = await Learn(given, "EX-01");
        FeedMood[] moods =
        [
            FeedMood.Well,
            FeedMood.Late,
            FeedMood.Silent,
            FeedMood.JumpsBack,
            FeedMood.Rubbish,
            FeedMood.Half,
            FeedMood.Well,
        ];
        var chance = new Random(3);
        var before = await given.App.Ask(db => Of(db, "EX-01").CountAsync(Ct));
        for (var quarter = 0; quarter < 96; quarter++)
        {
            given.App.Clock.Advance(TimeSpan.FromMinutes(15));
            given.Stand.Mood = moods[chance.Next(moods.Length)];
            await Round(given.App);
        }

        given.Stand.Mood = FeedMood.Well;
        given.App.Clock.Advance(TimeSpan.FromHours(3));
        await Round(given.App);
        var readings = await given.App.Ask(db =>
            Of(db, "EX-01").AsNoTracking().Where(x => x.State == ReadingState.Accepted).OrderBy(x => x.At).ToListAsync(Ct)
        );
        Assert.True(readings.Count > before);
        Assert.All(readings.Zip(readings.Skip(1)), x => Assert.True(x.First.LifeHours.CompareTo(x.Second.LifeHours) <= 0));
        Assert.Equal(readings.Count, readings.Select(x => x.At).Distinct().Count());
        var row = await Row(given.App, "EX-01");
        Assert.Equal((FeedAway.Nothing, ""), (row.Away, row.LastFault));
        Assert.Equal(ahead, row.OffsetHours!.Value, 0.1);
        Assert.Equal(given.Stand.HoursAt(Units[0], given.App.Clock.GetUtcNow()), row.Hours!.Value, 0.05);
    }

    [Fact]
    public async Task A_feed_with_a_replaced_box_asks_which_and_goes_on_when_it_was_said()
    {
        await using var given = await Begin();
        await Learn(given, "DZ-02");
        given.Stand.Mood = FeedMood.AnotherMeter;
        given.Stand.Replaced = given.App.Clock.GetUtcNow();
        given.App.Clock.Advance(TimeSpan.FromHours(2));
        await Round(given.App);
        using var mara = await Visitor.As(given.App, "mara");
        using var tam = await Visitor.As(given.App, "tam");
        var asked = (await mara.Read("/settings/feeds")).QuerySelector("[data-feed-machine='DZ-02'][data-away=Leap]")!;
        Assert.Contains("Its box was replaced, or it is wrong", asked.TextContent, StringComparison.Ordinal);
        Assert.Contains(
            "box was replaced",
            (await tam.Read("/machines/DZ-02")).QuerySelector("[data-feed]")!.TextContent,
            StringComparison.Ordinal
        );
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await mara.Submit("/settings/feeds", "[data-feed-machine='DZ-02'] form[action$='Replaced']")).StatusCode
        );
        given.App.Clock.Advance(TimeSpan.FromMinutes(20));
        await Round(given.App);
        var page = (await mara.Read("/settings/feeds")).QuerySelector("[data-feed-machine='DZ-02'][data-away=Nothing]")!;
        Assert.Contains("do not count yet", page.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_a_feed_says_stands_on_its_machines_page_and_one_that_is_not_ours_is_named_or_dropped()
    {
        await using var given = await Begin();
        await Round(given.App);
        using var mara = await Visitor.As(given.App, "mara");
        var says = (await mara.Read("/machines/EX-01")).QuerySelector("[data-feed]")!.TextContent;
        foreach (var part in new[] { "Kelvar", "1,040.2 h", "31 % of them idling", "fuel 64 %", "DEF 71 %" })
            Assert.Contains(part, says, StringComparison.Ordinal);
        Assert.Null((await mara.Read("/machines/WL-01")).QuerySelector("[data-feed]"));
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await mara.Submit("/settings/feeds", "[data-feed-machine='K-77'] form[action$='Link']", ("unit", "WL-01"))).StatusCode
        );
        Assert.NotNull((await mara.Read("/machines/WL-01")).QuerySelector("[data-feed]"));
        await mara.Submit("/settings/feeds", "[data-feed-machine='K-77'] form[action$='Link']", ("unit", ""));
        Assert.Null((await mara.Read("/settings/feeds")).QuerySelector("[data-feed-machine='K-77']"));

        // One that does not answer says so, and what it said stays.
        given.Stand.Mood = FeedMood.Silent;
        given.App.Clock.Advance(TimeSpan.FromMinutes(16));
        await Round(given.App);
        Assert.Contains(
            "does not answer",
            (await mara.Read("/settings/feeds")).QuerySelector("[data-feed='Kelvar']")!.TextContent,
            StringComparison.Ordinal
        );
        Assert.Contains(
            "1,040.2 h",
            (await mara.Read("/machines/EX-01")).QuerySelector("[data-feed]")!.TextContent,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task A_walk_and_a_card_begin_with_the_feeds_hours_and_ask_for_a_look()
    {
        await using var given = await Begin();
        await Learn(given, "EX-01");
        given.App.Clock.Advance(TimeSpan.FromHours(3));
        await Round(given.App);
        using var tam = await Visitor.As(given.App, "tam");
        var start = await tam.Read("/walk/EX-01");
        Assert.Contains("Look at the dash", start.QuerySelector("[data-feed-offers]")!.TextContent, StringComparison.Ordinal);
        var offered = start.QuerySelector("#hours")!.GetAttribute("value")!;
        Assert.NotEqual("", offered);
        Assert.Equal(HttpStatusCode.Redirect, (await tam.Submit("/walk/EX-01", "form:has(#hours)")).StatusCode);
        var reading = await given.App.Ask(db => Of(db, "EX-01").OrderByDescending(x => x.At).ThenByDescending(x => x.Id).FirstAsync(Ct));
        Assert.Equal((ReadingSource.Feed, offered), (reading.Source, reading.ShownHours.ToString()));
        Assert.Null((await tam.Read("/walk/WL-01")).QuerySelector("[data-feed-offers]"));

        // For a card the feed has to be less than an hour old.
        await using var scope = given.App.Services.CreateAsyncScope();
        var hours = scope.ServiceProvider.GetRequiredService<FeedHours>();
        var machine = await given.App.Ask(db => db.Machines.Where(x => x.Unit == "EX-01").Select(x => x.Id).SingleAsync(Ct));
        Task<OfferedHours?> ForCard() => hours.Offer(machine, given.App.Clock.GetUtcNow(), Core.Feeds.FeedAge.ForCard, Ct);
        Assert.NotNull(await ForCard());
        given.Stand.Mood = FeedMood.Silent;
        given.App.Clock.Advance(TimeSpan.FromMinutes(61));
        Assert.Null(await ForCard());
    }

    [Fact]
    public async Task A_program_tells_of_one_machine_and_the_same_twice_is_one()
    {
        await using var app = await DemoApp.Start();
        using var client = await ApiTests.Client(app, Roles.Technician, Data.People.TokenScopes.Hours);
        async Task<(HttpStatusCode, string)> Tell(string unit, string body)
        {
            using var content = new StringContent(body, System.Text.Encoding.UTF8, "application/json");
            var answer = await client.PostAsync(new Uri($"api/v1/machines/{unit}/telemetry", UriKind.Relative), content, Ct);
            return (answer.StatusCode, await answer.Content.ReadAsStringAsync(Ct));
        }

        var at = app.Clock.GetUtcNow().AddMinutes(-5);
        var body =
            $$$"""{"CumulativeOperatingHours":{"Hour":88.5,"Datetime":"{{{at:O}}}"},"FuelRemaining":{"Percent":9,"Datetime":"{{{at:O}}}"}}""";
        var first = await Tell("WL-01", body);
        Assert.Equal(HttpStatusCode.OK, first.Item1);
        Assert.Contains("\"hours\":88.5", first.Item2, StringComparison.Ordinal);
        Assert.Contains("\"pairs\":", first.Item2, StringComparison.Ordinal);
        Assert.Equal(first, await Tell("WL-01", body));
        Assert.Equal(1, await app.Ask(db => db.FeedPoints.CountAsync(Ct)));
        Assert.Equal(HttpStatusCode.NotFound, (await Tell("XX-99", body)).Item1);
        foreach (var bad in new[] { "[]", "7", """{"CumulativeOperatingHours":{"Hour":-1,"Datetime":"2026-03-01T00:00:00Z"}}""" })
            Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Tell("WL-01", bad)).Item1);
        var future = body.Replace($"{at:O}", $"{app.Clock.GetUtcNow().AddHours(1):O}", StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Tell("WL-01", future)).Item1);
    }

    [Fact]
    public async Task A_code_of_the_feed_waits_on_today_and_is_written_down_or_looked_at()
    {
        await using var given = await Begin();
        given.Stand.Code("EX-01", 97, 15, true);
        given.Stand.Code("DZ-02", 107, 0, true);
        await Round(given.App);
        using var tam = await Visitor.As(given.App, "tam");
        using var ines = await Visitor.As(given.App, "ines");
        async Task<string?> Morning(Visitor who) => (await who.Read("/")).QuerySelector("[data-morning='Morning.Codes'] .num")?.TextContent;
        Assert.Equal("2", await Morning(tam));
        Assert.Null(await Morning(ines));
        var machine = (await ines.Read("/machines/EX-01")).QuerySelector("[data-code='97/15']")!;
        Assert.Contains("Water in fuel: a little above its limit", machine.TextContent, StringComparison.Ordinal);
        Assert.Null(machine.QuerySelector("a"));

        // Nothing chosen is refused beside its field, and what was typed stays.
        var link = (await tam.Read("/codes")).QuerySelector("[data-code='97/15'] a[href^='/codes/']")!.GetAttribute("href")!;
        var refused = await Visitor.Parse(await tam.Submit(link, "form:has(#words)", ("words", "bowl half full")));
        Assert.NotNull(refused.QuerySelector("#grade-wrong"));
        Assert.NotNull(refused.QuerySelector("#on-wrong"));
        Assert.Equal("bowl half full", refused.QuerySelector("#words")!.TextContent);
        Assert.Empty(await given.App.Ask(db => db.Defects.Where(x => x.Code == "97/15").ToListAsync(Ct)));
        var written = await tam.Submit(link, "form:has(#words)", ("words", "bowl half full"), ("on", "Engine"), ("grade", "NextService"));
        var defect = await tam.Read(written.Headers.Location!.ToString());
        Assert.Contains("97/15", defect.QuerySelector("[data-codes]")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("still there", defect.QuerySelector("[data-codes]")!.TextContent, StringComparison.Ordinal);

        // The other one was looked at, and there was nothing.
        var other = (await tam.Read("/codes")).QuerySelector("[data-code='107/0'] a[href^='/codes/']")!.GetAttribute("href")!;
        Assert.NotNull((await Visitor.Parse(await tam.Submit(other, "form:has(#looked)"))).QuerySelector("#looked-wrong"));
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await tam.Submit(other, "form:has(#looked)", ("looked", "filter is new, sender was off"))).StatusCode
        );
        Assert.Contains("sender was off", (await tam.Read(other)).QuerySelector("[data-looked]")!.TextContent, StringComparison.Ordinal);
        Assert.Null(await Morning(tam));
        Assert.Equal(HttpStatusCode.NotFound, (await tam.Get("/codes/999999")).StatusCode);

        // It goes: the defect stays, and says so.
        given.Stand.Code("EX-01", 97, 15, false);
        given.App.Clock.Advance(TimeSpan.FromMinutes(20));
        await Round(given.App);
        defect = await tam.Read(written.Headers.Location!.ToString());
        Assert.Contains("gone since", defect.QuerySelector("[data-codes]")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("closes nothing", defect.Body!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Numbers_that_stop_are_named_by_a_planner_and_a_wrong_one_stays_to_be_mended()
    {
        await using var given = await Begin();
        using var mara = await Visitor.As(given.App, "mara");
        var refused = await Visitor.Parse(await mara.Submit("/settings/feeds", "form[action$='Stops']", ("stopSpns", "1762, steering")));
        Assert.Contains("steering", refused.QuerySelector("#stopSpns-wrong")!.TextContent, StringComparison.Ordinal);
        Assert.Equal("1762, steering", refused.QuerySelector("#stopSpns")!.GetAttribute("value"));
        await mara.Submit("/settings/feeds", "form[action$='Stops']", ("stopSpns", "2017 1762"));
        Assert.Equal("1762, 2017", (await mara.Read("/settings/feeds")).QuerySelector("#stopSpns")!.GetAttribute("value"));
        given.Stand.Code("EX-01", 1762, 1, true);
        await Round(given.App);
        Assert.True(
            await given.App.Ask(db => db.Defects.AnyAsync(x => x.Code == "1762/1" && x.Grade == Core.Defects.DefectGrade.Stop, Ct))
        );
    }

    [Fact]
    public async Task A_file_of_telematics_is_taken_whole_or_says_each_line_that_is_wrong()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var at = app.Clock.GetUtcNow().AddHours(-2);
        var good =
            $"unit,at,hours,idle,fuel,def,codes\nWL-01,{at:O},88.5,30,9,71,97/15 107/0\nWL-01,{at.AddHours(1):O},89.1,30.2,8,70,none\n";
        var refused = await Upload(tam, good + $"XX-99,{at:O},1\nWL-01,{at:O},many\nWL-01,{at.AddDays(1):O},90\n");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        var lines = (await Visitor.Parse(refused)).QuerySelectorAll("[data-refused] li").Select(x => x.TextContent).ToList();
        Assert.Equal(3, lines.Count);
        Assert.Equal(0, await app.Ask(db => db.FeedMachines.CountAsync(x => x.FeedId == null, Ct)));
        Assert.Equal(HttpStatusCode.Redirect, (await Upload(tam, good)).StatusCode);
        Assert.Contains("2 lines were new", (await tam.Read("/exchange")).QuerySelector("#flash")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(2, await app.Ask(db => db.FeedCodes.CountAsync(x => x.GoneAt != null, Ct)));
        Assert.Equal(HttpStatusCode.Redirect, (await Upload(tam, good)).StatusCode);
        Assert.Contains("0 lines were new", (await tam.Read("/exchange")).QuerySelector("#flash")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(2, await app.Ask(db => db.FeedPoints.CountAsync(Ct)));
    }

    private static Task<HttpResponseMessage> Upload(Visitor visitor, string text) =>
        visitor.Upload("/exchange", "form[action='/exchange/telemetry']", "feed.csv", text);

    [Fact]
    public async Task What_is_refused_of_a_feed_stands_beside_its_field()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        var page = await Visitor.Parse(
            await mara.Submit("/settings/feeds", "form:has(#url)", ("name", ""), ("url", "http://127.0.0.1/feed"))
        );
        Assert.NotNull(page.QuerySelector("#name-wrong"));
        Assert.NotNull(page.QuerySelector("#url-wrong"));
        Assert.Equal("http://127.0.0.1/feed", page.QuerySelector("#url")!.GetAttribute("value"));
    }
}
