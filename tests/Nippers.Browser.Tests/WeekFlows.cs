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
