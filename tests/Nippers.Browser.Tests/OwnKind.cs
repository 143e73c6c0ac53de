using Microsoft.EntityFrameworkCore;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Nippers.Browser.Tests;

/// <summary>A planner makes a kind of their own, on pages alone, up to its first walk.</summary>
public sealed class OwnKind(Browser browser) : IClassFixture<Browser>
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_kind_is_copied_arranged_by_hand_and_by_keys_and_walked()
    {
        await browser.Begin("mara");
        browser.Open("/kinds/cold-planer/copy");
        browser.Find("#name").SendKeys("Kerb machine");
        browser.Press("main form button.btn-main");
        browser.WaitForText("#flash", "Kerb machine");

        // The plan: one station by hand, one by keys; their lines say where they are, and saving keeps it.
        browser.Open("/walk-lists/walk-kerb-machine/plan");
        browser.AssertSound();
        var drum = browser.Find("[data-moves=stations][data-code=drum]");
        new Actions(browser.Driver).MoveToElement(drum).ClickAndHold().MoveByOffset(40, 30).Release().Perform();
        var moved = browser.Find("[data-moves=stations][data-code=drum]").GetAttribute("data-x");
        Assert.NotEqual("150", moved);
        var rear = browser.Find("[data-moves=stations][data-code=rear]");
        browser.Driver.ExecuteScript("arguments[0].focus()", rear);
        new Actions(browser.Driver).SendKeys(Keys.ArrowRight).SendKeys(Keys.ArrowRight).SendKeys(Keys.ArrowDown).Perform();
        browser.WaitForText("#plan-moved", "28; 122");
        browser.Press("main form button.btn-main");
        browser.WaitForText("#flash", "saved");
        var stations = await Body(x => x.Stations.ToDictionary(s => s.Code, s => (s.X, s.Y)));
        Assert.Equal((28, 122), stations["rear"]);
        Assert.Equal(moved, stations["drum"].X.ToString(System.Globalization.CultureInfo.InvariantCulture));

        // A check of its own, and one that it has not.
        browser.Open("/walk-lists/walk-kerb-machine/check");
        browser.Find("#code").SendKeys("mould");
        browser.Find("#name").SendKeys("Mould and side plates: cracks, pins, lift");
        browser.Press("main form button.btn-main");
        browser.WaitForText("#flash", "Mould");
        Assert.Contains("mould", await Body(x => x.Checks.Select(c => c.Code).ToList()));

        // A machine of it, and its first walk.
        browser.Open("/machines/new");
        browser.Find("#unit").SendKeys("KM-01");
        browser.Find("#kind option[value='kerb-machine']").Click();
        browser.Find("#make").SendKeys("Brennock");
        browser.Find("#model").SendKeys("BS 2");
        browser.Find("#program option[value='program-kerb-machine']").Click();
        browser.Press("main form button.btn-main");
        browser.WaitForText("#flash", "KM-01");
        browser.Size(390, 844);
        browser.Open("/walk/KM-01");
        browser.Find("#hours").SendKeys("1.5");
        browser.Press("form[novalidate] button.btn-tall");
        browser.Find("#walk-steps");
        Assert.Single(browser.Driver.FindElements(By.CssSelector("#check-mould")));
        browser.AssertSound();
        var walk = await browser.App.Ask(db =>
            db.Walks.AsNoTracking().Include(x => x.Version.List).SingleAsync(x => x.Machine.Unit == "KM-01", Ct)
        );
        Assert.Equal("walk-kerb-machine", walk.Version.List.Code);
    }

    private Task<T> Body<T>(Func<Core.Walk.CheckList, T> what) =>
        browser.App.Ask(async db =>
            what(
                (
                    await db
                        .WalkListVersions.AsNoTracking()
                        .Where(x => x.List.Code == "walk-kerb-machine")
                        .OrderByDescending(x => x.Version)
                        .FirstAsync(Ct)
                ).ToList()
            )
        );
}
