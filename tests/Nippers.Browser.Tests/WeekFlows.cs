using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Nippers.Browser.Tests;

/// <summary>A planner plans a month, knows something better, and keeps it; a technician reads their week.</summary>
public sealed class WeekFlows(Browser browser) : IClassFixture<Browser>
{
    private const string Solve = "form[action='/weeks?handler=Solve'] .btn-main";
    private const string Keep = "form[action='/weeks?handler=Keep'] button";

    [Fact]
    public async Task A_month_is_planned_a_job_moved_by_keys_and_by_pointer_and_the_plan_kept()
    {
        await browser.Begin("mara");
        browser.Open("/visits");
        browser.Press(browser.Wait(d => d.FindElement(By.CssSelector("main a[href='/weeks']"))));
        browser.Press(Solve);
        browser.Find(Keep);
        browser.AssertSound(Browser.Look.Whole);
        var jobs = browser.Driver.FindElements(By.CssSelector("td [data-job]"));
        Assert.NotEmpty(jobs);

        // By keys: to the next day, and the one after where nobody is there.
        var job = jobs[0];
        var code = job.GetAttribute("data-job")!;
        var was = Cell(code);
        Focus(job);
        job.SendKeys(Keys.ArrowRight);
        var aim = browser.Find(".weeks-aim");
        var to = (aim.GetAttribute("data-person")!, aim.GetAttribute("data-day")!);
        Assert.NotEqual(was, to);
        Assert.Contains(
            aim.GetAttribute("data-name")!,
            browser.Find("[data-weeks-says]").GetAttribute("textContent"),
            StringComparison.Ordinal
        );
        job.SendKeys(Keys.Escape);
        Assert.Empty(browser.Driver.FindElements(By.CssSelector(".weeks-aim")));
        job.SendKeys(Keys.ArrowRight);
        job.SendKeys(Keys.Enter);
        browser.Wait(d => d.FindElement(By.CssSelector("[data-against=before]")));
        Assert.Equal(to, Cell(code));
        Assert.Contains("weeks-pinned", Job(code).GetAttribute("class"), StringComparison.Ordinal);

        // By pointer: another job, back to where the first came from.
        var other = browser.Driver.FindElements(By.CssSelector("td [data-job]")).First(x => x.GetAttribute("data-job") != code);
        var dragged = other.GetAttribute("data-job")!;
        var cell = browser
            .Driver.FindElements(By.CssSelector("[data-cell]:not(.weeks-away):not(.weeks-off)"))
            .First(x =>
                x.FindElements(By.CssSelector("[data-job]")).Count == 0 && x.GetAttribute("data-minutes") is { } m && int.Parse(m) > 300
            );
        var aimed = (cell.GetAttribute("data-person")!, cell.GetAttribute("data-day")!);
        new Actions(browser.Driver).MoveToElement(other).ClickAndHold().MoveByOffset(12, 0).MoveToElement(cell).Release().Perform();
        browser.Wait(d => Settled(dragged, aimed) ? d.FindElement(By.CssSelector("h1")) : null);

        // What it comes to is said, and kept.
        Assert.NotEmpty(browser.Find("[data-cost]").GetAttribute("data-cost")!);
        browser.Press(Keep);
        browser.WaitForText("#flash", "Kept");
        Assert.Equal(to, Cell(code));
        Assert.True(await browser.App.Ask(db => Task.FromResult(db.PlannedJobs.Any(x => x.Pinned) && db.KeptPlans.Any())));

        // The week of the person, for paper.
        browser.Open("/weeks/person?id=" + to.Item1);
        Assert.Contains("plan by weeks", browser.Find("h1").Text, StringComparison.OrdinalIgnoreCase);
        browser.AssertSound(Browser.Look.Whole);
    }

    [Fact]
    public async Task On_a_phone_a_technician_reads_one_day_after_the_other()
    {
        await browser.Begin("mara", 390, 844);
        browser.Open("/weeks");
        browser.Press(Solve);
        browser.Press(Keep);
        browser.WaitForText("#flash", "Kept");
        browser.SignIn("wenna");
        browser.Open("/weeks");
        Assert.Equal("Wenna Pask", browser.Find("#who option:checked").Text);
        while (browser.Driver.FindElements(By.CssSelector("[data-block]")).Count == 0)
            browser.Press("a[rel=next]");
        browser.AssertSound(Browser.Look.Whole);
        browser.Press("[data-block] a[href^='/visits/']");
        Assert.Contains("/visits/", browser.Driver.Url, StringComparison.Ordinal);
        browser.Find("h1");
    }

    [Fact]
    public async Task A_calendar_is_subscribed_to_and_follows_a_visit_that_is_moved()
    {
        await browser.Begin("mara");
        browser.Open("/weeks");
        browser.Press(Solve);
        browser.Press(Keep);
        browser.WaitForText("#flash", "Kept");
        browser.SignIn("tam");
        browser.Open("/calendar");
        browser.Press("form[action='/calendar?handler=Make'] button");
        var link = new Uri(browser.Find("#calendar-link").Text).AbsolutePath;
        browser.AssertSound(Browser.Look.Whole);
        var before = await Events(link);
        Assert.NotEmpty(before);
        Assert.All(before, x =>
            Assert.True(x.Begins < x.Ends && x.Location.Length > 0 && x.Url.Contains("/visits/", StringComparison.Ordinal))
        );

        // Another than the first, so that nothing else of that day is put in its place.
        var visit = before[^1];
        browser.SignIn("mara");
        browser.Open(new Uri(visit.Url).AbsolutePath);
        browser.Press("a[href*='/visit?']");
        var on = visit.Begins.AddDays(3);
        browser.Driver.ExecuteScript("arguments[0].value = arguments[1]", browser.Find("#on"), on.ToString("yyyy-MM-dd"));
        browser.Press("#plan button.btn-main");
        browser.WaitForText("#flash", "planned");
        var after = await Events(link);
        var moved = Assert.Single(after, x => x.Uid == visit.Uid);
        Assert.Equal(on.Date, moved.Begins.Date);
        Assert.Equal(visit.Sequence + 1, moved.Sequence);
        Assert.Equal(before.Select(x => x.Uid).Order(), after.Select(x => x.Uid).Order());

        browser.SignIn("tam");
        browser.Open("/calendar");
        browser.Press("form[action='/calendar?handler=Revoke'] button");
        browser.WaitForText("#flash", "no longer");
        using var http = new HttpClient { BaseAddress = browser.App.Address };
        Assert.Equal(System.Net.HttpStatusCode.NotFound, (await http.GetAsync(link, TestContext.Current.CancellationToken)).StatusCode);
    }

    private sealed record Event(string Uid, int Sequence, DateTime Begins, DateTime Ends, string Location, string Url);

    /// <summary>What another library reads in a feed, as a calendar would fetch it: without being signed in.</summary>
    private async Task<List<Event>> Events(string link)
    {
        using var http = new HttpClient { BaseAddress = browser.App.Address };
        var text = await http.GetStringAsync(link, TestContext.Current.CancellationToken);
        using var reader = new StreamReader(typeof(WeekFlows).Assembly.GetManifestResourceStream("ical.js")!);
        var read =
            (IEnumerable<object>)
                browser.Driver.ExecuteScript(
                    "const exports = {}, module = { exports };\n"
                        + await reader.ReadToEndAsync(TestContext.Current.CancellationToken)
                        + """

                        const ical = module.exports.default ?? module.exports;
                        const calendar = new ical.Component(ical.parse(arguments[0]));
                        return calendar.getAllSubcomponents('vevent').map((x) => {
                          const event = new ical.Event(x);
                          return [event.uid, event.sequence, event.startDate.toJSDate().toISOString(), event.endDate.toJSDate().toISOString(),
                            event.location, x.getFirstPropertyValue('url')];
                        });
                        """,
                    text
                )!;
        return
        [
            .. read.Cast<IReadOnlyCollection<object>>()
                .Select(x => x.ToArray())
                .Select(x => new Event(
                    (string)x[0],
                    Convert.ToInt32(x[1], System.Globalization.CultureInfo.InvariantCulture),
                    Instant(x[2]),
                    Instant(x[3]),
                    (string)x[4],
                    (string)x[5]
                ))
                .OrderBy(x => x.Begins),
        ];
    }

    private static DateTime Instant(object iso) =>
        DateTimeOffset.Parse((string)iso, System.Globalization.CultureInfo.InvariantCulture).UtcDateTime;

    private void Focus(IWebElement element) => ((IJavaScriptExecutor)browser.Driver).ExecuteScript("arguments[0].focus()", element);

    private IWebElement Job(string code) => browser.Find($"td [data-job='{code}']");

    private (string, string) Cell(string code)
    {
        var cell = Job(code).FindElement(By.XPath("ancestor::td"));
        return (cell.GetAttribute("data-person")!, cell.GetAttribute("data-day")!);
    }

    private bool Settled(string code, (string, string) at) =>
        browser.Driver.FindElements(By.CssSelector($"td.weeks-aim")).Count == 0
        && browser.Driver.FindElements(By.CssSelector($"td [data-job='{code}'].weeks-pinned")).Count > 0
        && Cell(code) == at;
}
