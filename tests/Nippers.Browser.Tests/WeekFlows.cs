using System.Globalization;
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

        // By keys: to the next day that is as long, and back out of it, and there again.
        var code = Movable().First(x => Next(x) is { } next && Minutes(next) >= Minutes(CellOf(x)));
        var job = Job(code);
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

        // By pointer: another job, to an empty day of the same person's.
        var (dragged, cell) = Movable()
            .Where(x => x != code && IsInSight(CellOf(x)))
            .SelectMany(x => Row(x).Where(c => IsInSight(c) && Holds(c) == 0 && Minutes(c) >= Minutes(CellOf(x))).Select(c => (x, c)))
            .First();
        var other = Job(dragged);
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

        // One of a single day: its day is the visit's.
        var visit = before.GroupBy(x => x.Url).Last(x => x.Count() == 1).Single();
        browser.SignIn("mara");
        browser.Open(new Uri(visit.Url).AbsolutePath);
        browser.Press("a[href*='/visit?']");
        var on = visit.Begins.AddDays(3);
        browser.Driver.ExecuteScript(
            "arguments[0].value = arguments[1]",
            browser.Find("#on"),
            on.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
        );
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
                          const instant = (at) => at.toJSDate().toISOString();
                          return [event.uid, event.sequence, instant(event.startDate), instant(event.endDate), event.location,
                            x.getFirstPropertyValue('url')];
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
                    Convert.ToInt32(x[1], CultureInfo.InvariantCulture),
                    Instant(x[2]),
                    Instant(x[3]),
                    (string)x[4],
                    (string)x[5]
                ))
                .OrderBy(x => x.Begins),
        ];
    }

    private static DateTime Instant(object iso) => DateTimeOffset.Parse((string)iso, CultureInfo.InvariantCulture).UtcDateTime;

    /// <summary>Jobs of one day: one of several has its order to keep.</summary>
    private List<string> Movable()
    {
        var codes = browser.Driver.FindElements(By.CssSelector("td [data-job]")).Select(x => x.GetAttribute("data-job")!).ToList();
        return [.. codes.Where(x => !x.Contains('.', StringComparison.Ordinal) && !codes.Contains(x + ".2"))];
    }

    private IWebElement CellOf(string code) => Job(code).FindElement(By.XPath("ancestor::td"));

    private static int Minutes(IWebElement cell) => int.Parse(cell.GetAttribute("data-minutes")!, CultureInfo.InvariantCulture);

    private static int Holds(IWebElement cell) => cell.FindElements(By.CssSelector("[data-job]")).Count;

    // A pointer does not go where nothing is shown.
    private static bool IsInSight(IWebElement cell) => cell.Location.X > 140 && cell.Location.X + cell.Size.Width < 980;

    private List<IWebElement> Row(string code) => [.. CellOf(code).FindElements(By.XPath("../td"))];

    /// <summary>The cell to which the arrow to the right goes: days on which nobody is there are stepped over.</summary>
    private IWebElement? Next(string code)
    {
        var row = Row(code).Where(x => !x.GetAttribute("class")!.Contains("weeks-off", StringComparison.Ordinal)).ToList();
        var day = Cell(code).Item2;
        return row.SkipWhile(x => x.GetAttribute("data-day") != day).Skip(1).FirstOrDefault();
    }

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
