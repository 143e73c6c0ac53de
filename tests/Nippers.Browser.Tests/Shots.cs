using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App.Mail;
using Nippers.Data.Feeds;
using Nippers.Data.Mail;
using OpenQA.Selenium;

namespace Nippers.Browser.Tests;

/// <summary>
/// Takes the documentation's pictures when asked to (<c>./nippers shots</c>); otherwise makes sure that each view can be
/// pictured.
/// </summary>
public sealed class Shots(Browser browser) : IClassFixture<Browser>
{
    private static readonly string? Folder = Environment.GetEnvironmentVariable("NIPPERS_SHOTS");

    [Theory]
    [InlineData("today", "/", 1280, 800)]
    [InlineData("today-phone", "/", 390, 844)]
    [InlineData("today-night", "/?site=North+Bank", 1280, 800)]
    [InlineData("machine", "/machines/DZ-02?ahead=600", 1280, 800)]
    [InlineData("visit-plan", "/machines/DZ-01/visits", 1280, 800)]
    [InlineData("job-card", "/visits/{card}", 1280, 800)]
    [InlineData("job-card-step-phone", "/visits/{card}/steps/engine-oil.drained", 390, 844)]
    [InlineData("balance", "/visits/{changed}/steps/engine-oil.recheck", 1280, 800)]
    [InlineData("pick-list", "/visits/{planned}", 1280, 800)]
    [InlineData("program-change", "/programs/starter-crawler-excavator/item?item=engine-oil", 1280, 800)]
    [InlineData("weeks", "/weeks", 1280, 800)]
    [InlineData("walk-plan", "/walks/{open}", 1280, 800)]
    [InlineData("walk-station-phone", "/walks/{open}", 390, 844)]
    [InlineData("feeds", "/settings/feeds", 1280, 800)]
    [InlineData("defect", "/defects/3", 1280, 800)]
    [InlineData("samples-tray", "/samples", 1280, 800)]
    [InlineData("sample", "/samples/{dirt}", 1280, 1400)]
    [InlineData("oil-timeline", "/machines/EX-02/oil?c=final-drive-left", 1280, 1100)]
    public async Task A_view_can_be_pictured(string name, string path, int width, int height)
    {
        await browser.BeginOnce("mara", width, height);
        browser.Driver.Manage().Cookies.DeleteCookieNamed("nippers-theme");
        if (name.EndsWith("night", StringComparison.Ordinal))
            browser.Driver.Manage().Cookies.AddCookie(new Cookie("nippers-theme", "night"));
        if (name == "feeds")
            await Feed();
        browser.Open(await Address(path));
        browser.Find("h1");
        if (name == "walk-station-phone")
        {
            browser.Driver.ExecuteScript("document.querySelector('details.station[open]').scrollIntoView()");
        }

        if (name == "weeks")
        {
            browser.Press("form[action='/weeks?handler=Solve'] .btn-main");
            browser.Find("form[action='/weeks?handler=Keep']");
        }

        if (name == "program-change")
        {
            browser.Type("#everyHours", "500");
            browser.Tap("button[formaction]");
            browser.Find("#program-preview");
            browser.Driver.ExecuteScript("scrollTo(0,0)");
        }

        browser.Wait(d =>
            (bool)
                ((IJavaScriptExecutor)d).ExecuteScript("return document.fonts.status === 'loaded' && document.fonts.check('16px Archivo')")!
                ? d
                : null
        );
        // What a reader of the picture would stumble over: another size, another theme, words without a text, pictures that failed.
        var shown =
            (IReadOnlyDictionary<string, object>)
                browser.Driver.ExecuteScript(
                    """
                    const text = document.querySelector('main').innerText;
                    return {
                        width: innerWidth, height: innerHeight, night: document.documentElement.dataset.theme === 'night',
                        heading: document.querySelector('h1').getBoundingClientRect().height > 0,
                        words: text.split(/\s+/).length, key: (text.match(/\b[A-Z][A-Za-z]+\.[A-Z][A-Za-z]+\b/) || [''])[0],
                        broken: [...document.images].filter(x => x.complete && x.naturalWidth === 0).length,
                        wide: document.documentElement.scrollWidth > innerWidth
                    };
                    """
                )!;
        Assert.Equal((width, height), (Convert.ToInt32(shown["width"], null), Convert.ToInt32(shown["height"], null)));
        Assert.Equal(name.EndsWith("night", StringComparison.Ordinal), shown["night"]);
        Assert.Equal((true, "", 0L, false), (shown["heading"], shown["key"], shown["broken"], shown["wide"]));
        Assert.InRange(Convert.ToInt32(shown["words"], null), 12, 5000);
        var picture = browser.Driver.GetScreenshot();
        if (Folder is not null)
            picture.SaveAsFile(Path.Combine(Folder, name + ".png"));
    }

    /// <summary>A feed that has told of two machines, one of which it does not know well any more.</summary>
    private Task<int> Feed() =>
        browser.App.Ask(async db =>
        {
            var now = Nippers.Tests.DemoApp.Now;
            var feed = db
                .Feeds.Add(
                    new()
                    {
                        Name = "Torvane Link",
                        Url = "https://feed.example.invalid/fleet",
                        AnsweredAt = now,
                    }
                )
                .Entity;
            await db.SaveChangesAsync(TestContext.Current.CancellationToken);
            var ids = await db.Machines.ToDictionaryAsync(x => x.Unit, x => x.Id, TestContext.Current.CancellationToken);
            foreach (var (unit, hours, away) in new[] { ("EX-01", 1040.2, FeedAway.Nothing), ("EX-02", 2211.8, FeedAway.Dash) })
                db.FeedMachines.Add(
                    new()
                    {
                        FeedId = feed.Id,
                        Equipment = unit,
                        MachineId = ids[unit],
                        SeenAt = now,
                        Hours = hours,
                        HoursAt = now,
                        IdleHours = hours / 4,
                        FuelPercent = 64,
                        FuelAt = now,
                        OffsetHours = 2067.1,
                        Pairs = 9,
                        Away = away,
                        AwayAt = away == FeedAway.Nothing ? null : now,
                        AwayHours = away == FeedAway.Nothing ? 0 : -41.3,
                    }
                );
            return await db.SaveChangesAsync(TestContext.Current.CancellationToken);
        });

    [Fact]
    public async Task A_message_can_be_pictured()
    {
        await browser.BeginOnce("mara", 1280, 800);
        await using var scope = browser.App.Services.CreateAsyncScope();
        var stop = new StopThing(
            "stop",
            1,
            "North Bank",
            3,
            "EX-01",
            "Kelvar KX 210",
            "Cab",
            "Horn dead, wire off at the button",
            "Ines Varrow",
            Nippers.Tests.DemoApp.Now,
            "Europe/London",
            Told: ["Tam Ollery"]
        );
        var mail = await scope
            .ServiceProvider.GetRequiredService<IMailWriter>()
            .Write(
                new(new("mara", "mara", "Mara Quill", "mara@fleet.example.invalid", "en", ""), MailKind.StopAgain, [stop], [], 1, 1),
                "https://nippers.example.invalid",
                new(2026, 11, 25)
            );
        var file = Path.Combine(Directory.CreateTempSubdirectory("mail-").FullName, "mail.html");
        await File.WriteAllTextAsync(file, mail.Html, TestContext.Current.CancellationToken);
        browser.Driver.Navigate().GoToUrl(new Uri(file));
        Assert.Contains("Horn dead", browser.Find("h1").Text, StringComparison.Ordinal);
        Assert.Equal("https://nippers.example.invalid/defects/3", browser.Find("a").GetAttribute("href"));
        if (Folder is not null)
            browser.Driver.GetScreenshot().SaveAsFile(Path.Combine(Folder, "mail.png"));
    }

    /// <summary>Walks, cards and samples have no fixed number.</summary>
    private async Task<string> Address(string path) =>
        path.Replace(
                "{open}",
                (
                    await browser.App.Ask(db =>
                        db.Walks.Where(x => x.State == Data.Walks.WalkState.Open)
                            .Select(x => x.Id)
                            .FirstAsync(TestContext.Current.CancellationToken)
                    )
                ).ToString(System.Globalization.CultureInfo.InvariantCulture),
                StringComparison.Ordinal
            )
            .Replace(
                "{card}",
                (
                    await browser.App.Ask(db =>
                        db.Visits.Where(x => x.State == Data.Visits.VisitState.Open)
                            .Select(x => x.Id)
                            .FirstAsync(TestContext.Current.CancellationToken)
                    )
                ).ToString(System.Globalization.CultureInfo.InvariantCulture),
                StringComparison.Ordinal
            )
            .Replace(
                "{changed}",
                (
                    await browser.App.Ask(db =>
                        db.Steps.Where(x => x.Code == "engine-oil.recheck" && x.Answer.Contains("litres"))
                            .OrderByDescending(x => x.At)
                            .Select(x => x.VisitId)
                            .FirstAsync(TestContext.Current.CancellationToken)
                    )
                ).ToString(System.Globalization.CultureInfo.InvariantCulture),
                StringComparison.Ordinal
            )
            .Replace(
                "{planned}",
                (
                    await browser.App.Ask(db =>
                        db.Visits.Where(x => x.State == Data.Visits.VisitState.Planned)
                            .Select(x => x.Id)
                            .FirstAsync(TestContext.Current.CancellationToken)
                    )
                ).ToString(System.Globalization.CultureInfo.InvariantCulture),
                StringComparison.Ordinal
            )
            .Replace(
                "{dirt}",
                (
                    await browser.App.Ask(db =>
                        db.Samples.Where(x =>
                                x.Machine.Unit == "DZ-01" && x.Compartment == "engine" && x.State == Data.Oil.SampleState.Reported
                            )
                            .Select(x => x.Id)
                            .FirstAsync(TestContext.Current.CancellationToken)
                    )
                ).ToString(System.Globalization.CultureInfo.InvariantCulture),
                StringComparison.Ordinal
            );
}
