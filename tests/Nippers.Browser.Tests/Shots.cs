using Microsoft.EntityFrameworkCore;
using OpenQA.Selenium;

namespace Nippers.Browser.Tests;

/// <summary>Takes the documentation's pictures when asked to (<c>./nippers shots</c>); otherwise makes sure that each view can be pictured.</summary>
public sealed class Shots(Browser browser) : IClassFixture<Browser>
{
    private static readonly string? Folder = Environment.GetEnvironmentVariable("NIPPERS_SHOTS");

    [Theory]
    [InlineData("today", "/", 1280, 800)]
    [InlineData("today-phone", "/", 390, 844)]
    [InlineData("today-night", "/?site=North+Bank", 1280, 800)]
    [InlineData("machine", "/machines/DZ-02?ahead=600", 1280, 800)]
    [InlineData("machine-phone", "/machines/DZ-02", 390, 844)]
    [InlineData("log-hours-phone", "/machines/EX-01/hours", 390, 844)]
    [InlineData("visit-plan", "/machines/DZ-01/visits", 1280, 800)]
    [InlineData("job-card", "/visits/{card}", 1280, 800)]
    [InlineData("filter-log", "/machines/DZ-02/filters", 1280, 800)]
    [InlineData("parts", "/parts", 1280, 800)]
    [InlineData("program-change", "/programs/starter-crawler-excavator/item?item=engine-oil", 1280, 800)]
    [InlineData("walks", "/walks", 1280, 800)]
    [InlineData("walk-plan", "/walks/{open}", 1280, 800)]
    [InlineData("walk-station-phone", "/walks/{open}/at/off-engine?edit=engine-oil-level", 390, 844)]
    [InlineData("walk-summary-phone", "/walks/{fault}", 390, 844)]
    [InlineData("looking-back", "/machines/EX-04/walks", 1280, 800)]
    [InlineData("defects", "/defects", 1280, 800)]
    [InlineData("defect", "/defects/3", 1280, 800)]
    [InlineData("machine-stopped", "/machines/DZ-01", 1280, 800)]
    public async Task A_view_can_be_pictured(string name, string path, int width, int height)
    {
        await browser.Begin("mara", width, height);
        if (name.EndsWith("night", StringComparison.Ordinal)) browser.Driver.Manage().Cookies.AddCookie(new Cookie("nippers-theme", "night"));
        browser.Open(await Address(path));
        browser.Find("h1");
        if (name == "walk-station-phone")
        {
            browser.Driver.ExecuteScript("const stick = document.querySelector('.check input[name=level][value=\"25\"]'); stick.click(); stick.closest('.check').scrollIntoView();");
        }

        if (name == "log-hours-phone")
        {
            browser.Type("#hours", "3170.3");
            browser.Find("#hours").SendKeys(Keys.Enter);
            browser.Find("#hours-wrong");
        }

        if (name == "program-change")
        {
            browser.Type("#everyHours", "500");
            browser.Tap("button[formaction]");
            browser.Find("#program-preview");
            browser.Driver.ExecuteScript("scrollTo(0,0)");
        }

        browser.Wait(d => (bool)((IJavaScriptExecutor)d).ExecuteScript("return document.fonts.status === 'loaded' && document.fonts.check('16px Archivo')")! ? d : null);
        var picture = browser.Driver.GetScreenshot();
        Assert.True(picture.AsByteArray.Length > 10_000);
        if (Folder is not null) picture.SaveAsFile(Path.Combine(Folder, name + ".png"));
    }

    /// <summary>Walks have no fixed number: the open one, and yesterday's that found a stop.</summary>
    private async Task<string> Address(string path) => path
        .Replace("{open}", (await browser.App.Ask(db => db.Walks.Where(x => x.State == Data.Walks.WalkState.Open).Select(x => x.Id).FirstAsync(TestContext.Current.CancellationToken))).ToString(System.Globalization.CultureInfo.InvariantCulture), StringComparison.Ordinal)
        .Replace("{card}", (await browser.App.Ask(db => db.Visits.Where(x => x.State == Data.Visits.VisitState.Open).Select(x => x.Id).FirstAsync(TestContext.Current.CancellationToken))).ToString(System.Globalization.CultureInfo.InvariantCulture), StringComparison.Ordinal)
        .Replace("{fault}", (await browser.App.Ask(db => db.Walks.Where(x => x.Verdict == Core.Defects.RunVerdict.DoesNotRun).OrderByDescending(x => x.Id).Select(x => x.Id).FirstOrDefaultAsync(TestContext.Current.CancellationToken))).ToString(System.Globalization.CultureInfo.InvariantCulture), StringComparison.Ordinal);
}
