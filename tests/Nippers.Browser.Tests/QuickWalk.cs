using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Defects;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Walks;
using OpenQA.Selenium;

namespace Nippers.Browser.Tests;

/// <summary>An ordinary morning on a phone, by touch, counted: taps, characters, pages.</summary>
public sealed class QuickWalk(Browser browser) : IClassFixture<Browser>
{
    private const double MostPhoneSeconds = 150;
    private const int MostTaps = 70;

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private int _taps;

    private void Tap(IWebElement element)
    {
        browser.Driver.ExecuteScript("arguments[0].scrollIntoView({block:'center'})", element);
        browser.Press(element);
        _taps++;
    }

    /// <summary>The next thing that a thumb does at the station that is open; null when none is.</summary>
    private IWebElement? Next() =>
        browser
            .Driver.FindElements(
                By.CssSelector(
                    "details.station[open] [data-untick=yes] button, details.station[open] [data-all-ok],"
                        + " details.station[open] [data-outcome=open] button[value=sound],"
                        + " details.station[open] [data-outcome=open] [data-all-points],"
                        + " details.station[open] [data-outcome=open] input[name=level][value='75'],"
                        + " details.station[open] [data-outcome=open] input[name=drained][value=None]"
                )
            )
            .OrderByDescending(x => x.GetAttribute("data-all-ok") is not null)
            .FirstOrDefault();

    [Theory]
    [InlineData("crawler-excavator")]
    [InlineData("mini-excavator")]
    [InlineData("crawler-dozer")]
    [InlineData("wheel-loader")]
    [InlineData("compact-track-loader")]
    [InlineData("backhoe-loader")]
    [InlineData("telehandler")]
    [InlineData("crawler-drill-rig")]
    [InlineData("rigid-haul-truck")]
    [InlineData("road-tipper-truck")]
    [InlineData("asphalt-paver")]
    [InlineData("cold-planer")]
    [InlineData("small-loader")]
    [InlineData("compactor")]
    public async Task An_ordinary_morning_takes_at_most_two_and_a_half_minutes_of_phone_and_no_page_in_between(string kind)
    {
        _taps = 0;
        browser.KeepsForLater = true;
        await browser.BeginOnce("ines", 390, 844);
        browser.App.Clock.Advance(TimeSpan.FromMinutes(20));
        var of = MachineKind.Of(kind);

        // An ordinary morning: nothing stands against the machine.
        await browser.App.Ask(db =>
            db.Defects.Where(x => x.Machine.Kind == of).ExecuteUpdateAsync(x => x.SetProperty(d => d.State, DefectState.Closed), Ct)
        );
        var machine = await browser.App.Ask(db =>
            db.Statuses.Where(x => x.Machine.Kind == of && !x.Machine.Retired && !x.CardOpen)
                .Where(x => !db.Walks.Any(w => w.MachineId == x.MachineId && w.State == WalkState.Open))
                .OrderBy(x => x.MachineId)
                .Select(x => new
                {
                    x.Machine.Unit,
                    x.LastHours,
                    x.OffsetHours,
                })
                .FirstAsync(Ct)
        );
        var hours = ((machine.LastHours - machine.OffsetHours).Value + 0.1).ToString("0.0", CultureInfo.InvariantCulture);
        browser.Open($"/walk/{machine.Unit}");
        var field = browser.Find("#hours");
        Tap(field);
        field.SendKeys(hours);
        Tap(browser.Find("form[novalidate] button.btn-tall"));
        browser.Find("#walk-steps");
        var id = long.Parse(browser.Driver.Url[(browser.Driver.Url.LastIndexOf('/') + 1)..], CultureInfo.InvariantCulture);
        var checks = await browser.App.Ask(db => db.Walks.Where(x => x.Id == id).Select(x => x.Due).SingleAsync(Ct));

        // A mark that a page load would wipe off.
        browser.Driver.ExecuteScript("window.notLoadedSince = true");
        browser.AssertSound();
        var before = _taps;
        while (Next() is { } thing)
        {
            Assert.True(_taps - before < 2 * checks, "the walk does not end");
            var done = Progress();
            var at = browser.Find("details.station[open]").GetAttribute("id");
            Tap(thing);
            browser.Wait(d => Progress() != done || d.FindElements(By.CssSelector($"#{at}[open]")).Count == 0 ? d : null);
            Settled();
        }

        browser.Wait(d => d.FindElements(By.CssSelector("details.station[data-done=false]")).Count == 0 ? d : null);
        Tap(browser.Find("#walk-end a"));
        browser.Find("#walk-end [data-run]");
        Assert.Empty(browser.Driver.FindElements(By.CssSelector("#walk-end [data-not-checked]")));
        Assert.Equal(true, browser.Driver.ExecuteScript("return window.notLoadedSince === true"));
        browser.AssertSound();
        Tap(browser.Find("#walk-end form[novalidate] button.btn-tall"));
        browser.WaitForText("#flash", "Walkaround signed off");

        var row = await browser.App.Ask(db => db.Walks.AsNoTracking().SingleAsync(x => x.Id == id, Ct));
        Assert.Equal((WalkState.Finished, 0, 0, checks), (row.State, row.LeftOut, row.NotChecked, row.Answered));
        Assert.NotEqual(RunStatus.OutOfService, row.RunStatus);
        var seconds = WalkMinutes.Phone(_taps, hours.Length, loads: 3);
        TestContext.Current.SendDiagnosticMessage(
            $"{kind}: {checks} checks, {_taps} taps, {seconds:0} s of phone, {row.HonestSeconds / 60.0:0.0} min"
        );
        Assert.True(_taps <= MostTaps, $"{_taps} taps");
        Assert.True(seconds <= MostPhoneSeconds, $"{seconds} s of phone");
    }

    [Fact]
    public async Task A_usual_fault_that_stops_is_saved_in_three_taps_and_the_walk_asks_for_no_key_after_it()
    {
        // As on a phone, whose own script stands between the page and the server.
        browser.KeepsForLater = true;
        await browser.Begin("ines", 390, 844);
        browser.App.Clock.Advance(TimeSpan.FromMinutes(20));
        browser.Open("/walk/WL-01");
        browser.Find("#hours").SendKeys("4466.4");
        browser.Press("form[novalidate] button.btn-tall");
        browser.Press("[data-untick=yes] button");
        browser.Find("#step-off-ground[open]");
        browser.Driver.ExecuteScript("document.querySelector('#step-off-left').open = true");
        browser.Press("#check-tyres-left button[value=fault]");
        browser.Press("#check-tyres-left input[name=usual][value='cord showing']");

        // Choosing the words sends nothing; saving them does.
        Assert.Equal(0, await browser.App.Ask(db => db.Defects.CountAsync(x => x.Words == "cord showing", Ct)));
        browser.Press("#check-tyres-left form[data-fault] > button");
        browser.WaitForText("#check-tyres-left [data-stop-now]", "Bea Lund, radio 4");
        browser.WaitForText("#walk-progress", "Out of service");
        Assert.Equal("true", browser.Find("#walk-steps").GetAttribute("data-stopped"));
        Assert.Empty(browser.Driver.FindElements(By.CssSelector("#walk-steps [id^=step-key], #walk-steps [id^=step-run], #step-release")));
        browser.AssertSound();
        var defect = await browser.App.Ask(db => db.Defects.OrderByDescending(x => x.Id).FirstAsync(Ct));
        Assert.Equal(("cord showing", DefectGrade.Stop, MachinePart.TyresAndWheels), (defect.Words, defect.Grade, defect.Part));
    }

    [Fact]
    public async Task An_open_defect_that_is_worse_and_stops_takes_key_and_start_off_the_page()
    {
        browser.KeepsForLater = true;
        await browser.Begin("ines", 390, 844);
        browser.App.Clock.Advance(TimeSpan.FromMinutes(20));
        browser.Open("/walk/EX-03");
        browser.Find("#hours").SendKeys("4233.9");
        browser.Press("form[novalidate] button.btn-tall");
        browser.Find("#walk-steps [id^=step-run]");
        browser.Driver.ExecuteScript("document.querySelectorAll('details.station').forEach(x => x.open = true)");
        var defect = await browser.App.Ask(db =>
            db.Defects.Where(x => x.Machine.Unit == "EX-03" && x.State == DefectState.Open && x.Grade == DefectGrade.Limit)
                .Select(x => x.Id)
                .FirstAsync(Ct)
        );
        browser.Press($"[data-open-defect='{defect}'] button[value=Worse]");
        browser.WaitForText("#walk-progress", "Out of service");
        browser.Wait(d => d.FindElements(By.CssSelector("#walk-steps [id^=step-key], #walk-steps [id^=step-run]")).Count == 0 ? d : null);
    }

    /// <summary>Waits until what came has settled: the station that is done closes then, and the page moves.</summary>
    private void Settled() =>
        browser.Wait(d =>
            d.FindElements(By.CssSelector(".htmx-request, .htmx-swapping, .htmx-settling, .htmx-added")).Count == 0 ? d : null
        );

    private string Progress() => browser.Find("#walk-progress [data-progress]").Text;
}
