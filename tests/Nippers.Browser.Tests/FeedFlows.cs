using System.Globalization;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging;
using Nippers.Data.Feeds;
using Nippers.Data.Records;
using Nippers.StandIns;

namespace Nippers.Browser.Tests;

/// <summary>A feed is named, learned, believed, and asks which when it does not fit any more.</summary>
public sealed class FeedFlows(Browser browser) : IClassFixture<Browser>
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static async Task<WebApplication> Serve(FeedStand stand)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.WebHost.UseSetting("urls", "http://127.0.0.1:0");
        builder.Logging.ClearProviders();
        var server = builder.Build();
        stand.Map(server);
        await server.StartAsync(Ct);
        return server;
    }

    [Fact]
    public async Task A_feed_is_named_its_hours_begin_a_walk_and_a_replaced_box_asks_which()
    {
        await browser.Begin("mara");
        var unit = new FeedUnit("EX-01", "", 1040.2, 8, 0.31);
        var stand = new FeedStand([unit], browser.App.Clock);
        await using var server = await Serve(stand);

        browser.Open("/settings/feeds");
        browser.AssertSound(Browser.Look.Whole);
        browser.Type("#name", "Kelvar");
        browser.Type("#url", server.Urls.First() + "/feed/v1/fleet");
        browser.Press("form:has(#url) .btn-main");
        browser.WaitForText("#url-wrong", "inside a network");
        browser.Press("input[name=ownNetwork]");
        browser.Press("form:has(#url) .btn-main");
        browser.WaitForText("#flash", "Kelvar is saved");
        browser.Press("form[action$='Now'] button");
        browser.WaitForText("[data-feed-machine='EX-01']", "do not count yet");

        // Three mornings on which somebody reads the dash, 2 068 h ahead of the box.
        for (var day = 1; day <= 3; day++)
        {
            browser.App.Clock.Advance(TimeSpan.FromDays(1));
            var dash = stand.HoursAt(unit, browser.App.Clock.GetUtcNow()) + 2068;
            browser.Open("/machines/EX-01/hours");
            browser.Type("#hours", Math.Round(dash, 1).ToString(CultureInfo.InvariantCulture));
            browser.Press("form:has(#hours) .btn-main");
            browser.WaitForText("#flash", "EX-01");
            browser.Open("/settings/feeds");
            browser.Press("form[action$='Now'] button");
            browser.WaitForText("#flash", "heard of");
        }

        browser.WaitForText("[data-feed-machine='EX-01']", "ahead of it");
        browser.AssertSound(Browser.Look.Whole);

        // On a phone the walk begins with a look, and nothing to type.
        browser.Size(390, 844);
        browser.SignIn("ines");
        browser.Open("/walk/EX-01");
        browser.WaitForText("[data-feed-offers]", "Look at the dash");
        browser.AssertSound();
        browser.Press("form[novalidate] button.btn-tall");
        browser.WaitForText("#flash", "Walkaround of EX-01 begun");
        Assert.Equal(
            ReadingSource.Feed,
            await browser.App.Ask(db =>
                db.Readings.Where(x => db.Machines.Any(m => m.Id == x.MachineId && m.Unit == "EX-01"))
                    .OrderByDescending(x => x.At)
                    .ThenByDescending(x => x.Id)
                    .Select(x => x.Source)
                    .FirstAsync(Ct)
            )
        );

        // The box is another one: a person says so.
        stand.Mood = FeedMood.AnotherMeter;
        stand.Replaced = browser.App.Clock.GetUtcNow();
        browser.App.Clock.Advance(TimeSpan.FromHours(1));
        browser.Size(1280, 800);
        browser.SignIn("mara");
        browser.Open("/settings/feeds");
        browser.Press("form[action$='Now'] button");
        browser.WaitForText("[data-feed-machine='EX-01'][data-away=Leap]", "which?");
        browser.AssertSound(Browser.Look.Whole);
        browser.Open("/machines/EX-01");
        browser.WaitForText("[data-feed]", "which?");
        browser.AssertSound(Browser.Look.Whole);
        browser.Open("/settings/feeds");
        browser.Press("[data-feed-machine='EX-01'] form[action$='Replaced'] button");
        browser.WaitForText("#flash", "Saved");
        Assert.Equal(FeedAway.Nothing, await browser.App.Ask(db => db.FeedMachines.Select(x => x.Away).SingleAsync(Ct)));
    }

    [Fact]
    public async Task A_code_stops_a_machine_or_waits_on_a_phone_until_somebody_has_looked()
    {
        await browser.Begin("mara");
        var stand = new FeedStand([new("EX-01", "", 1040.2, 8, 0.31), new("WL-03", "", 88.4, 6, 0.2)], browser.App.Clock);
        stand.Code("EX-01", spn: 97, fmi: 15, active: true);
        stand.Code("WL-03", spn: 118, fmi: 1, active: true);
        await using var server = await Serve(stand);
        browser.Open("/settings/feeds");
        browser.Type("#name", "Kelvar");
        browser.Type("#url", server.Urls.First() + "/feed/v1/fleet");
        browser.Press("input[name=ownNetwork]");
        browser.Press("form:has(#url) .btn-main");
        browser.WaitForText("#flash", "Kelvar is saved");
        browser.Type("#stopSpns", "steering");
        browser.Press("form[action$='Stops'] button");
        browser.WaitForText("#stopSpns-wrong", "steering");
        browser.AssertSound(Browser.Look.Whole);
        browser.Press("form[action$='Now'] button");
        browser.WaitForText("#flash", "heard of");

        // Brake pressure is a stop at once, and says on its page what to do.
        var stop = await browser.App.Ask(db => db.Defects.Where(x => x.Code == "118/1").Select(x => x.Id).SingleAsync(Ct));
        browser.Open($"/defects/{stop}");
        browser.WaitForText("[data-codes]", "Brake pressure, second circuit");
        browser.AssertSound(Browser.Look.Whole);

        // Water in the fuel waits for somebody with a phone in the yard.
        browser.Size(390, 844);
        browser.SignIn("tam");
        browser.Open("/");
        browser.Press("[data-morning='Morning.Codes']");
        browser.WaitForText("[data-code='97/15']", "Water in fuel");
        browser.AssertSound();
        browser.Press("[data-code='97/15'] a.btn");
        browser.WaitForText("[data-course]", "still there");
        browser.AssertSound(Browser.Look.Whole);
        browser.Press("form:has(#words) .btn-main");
        browser.WaitForText("#grade-wrong", "Choose a grade");
        browser.Press("label:has(input[name=on][value=Engine])");
        browser.Press("label:has(input[name=grade][value=NextService])");
        browser.Press("form:has(#words) .btn-main");
        browser.WaitForText("#flash", "97/15 is written down");
        browser.Open("/codes");
        browser.WaitForText("[data-code='97/15']", "Defect #");
        browser.Size(1280, 800);
    }
}
