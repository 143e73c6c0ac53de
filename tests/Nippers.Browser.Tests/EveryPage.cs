using Nippers.Tests;
using OpenQA.Selenium;

namespace Nippers.Browser.Tests;

/// <summary>Walks every page: nothing in the console, nothing that axe finds, nothing wider than the window.</summary>
public sealed class EveryPage(Browser browser) : IClassFixture<Browser>
{
    [Fact]
    public async Task Every_page_is_sound_by_day_and_by_night_and_on_a_phone()
    {
        await browser.Begin("mara");
        async Task<string> VisitIn(Data.Visits.VisitState state) =>
            $"/visits/{await browser.App.Ask(db => Task.FromResult(db.Visits.First(x => x.State == state).Id))}";
        var (open, planned, closed) = (
            await VisitIn(Data.Visits.VisitState.Open),
            await VisitIn(Data.Visits.VisitState.Planned),
            await VisitIn(Data.Visits.VisitState.Closed)
        );
        var bottle = await browser.App.Ask(db => Task.FromResult(db.Samples.OrderByDescending(x => x.Id).First().Bottle));
        var sample =
            $"/samples/{await browser.App.Ask(db => Task.FromResult(db.Samples.First(x => x.State == Data.Oil.SampleState.Reported && x.Advised > Core.Oil.Assessment.Normal).Id))}";
        string[] pages =
        [
            "/",
            "/more",
            "/machines",
            "/machines/EX-03",
            "/machines/EX-03/items",
            "/machines/EX-04/readings",
            "/machines/EX-03/record",
            "/machines/EX-03/about",
            "/machines/EX-03/evening",
            "/machines/WL-02",
            "/machines/TL-01",
            "/machines/EX-04/hours",
            "/machines/EX-04/work",
            "/machines/EX-03/baseline",
            "/machines/EX-04/meter",
            "/machines/TT-01/odometer",
            "/machines/EX-04/edit",
            "/machines/EX-04/history",
            "/machines/new",
            "/programs",
            "/programs/pellow-dozers",
            "/programs/pellow-dozers/item",
            "/programs/pellow-dozers/settings",
            "/programs/pellow-dozers/copy",
            "/exchange",
            "/settings",
            "/walks",
            "/walk/WL-01",
            "/walk/DZ-01",
            "/walk/WL-01/sheet",
            "/machines/EX-04/walks",
            "/machines/EX-04/limits",
            "/machines/EX-04/label",
            "/walk-lists",
            "/units",
            "/kinds",
            "/kinds/wheel-loader/copy",
            "/walk-lists/walk-compactor",
            "/walk-lists/walk-compactor/check?check=drum",
            "/walk-lists/walk-compactor/plan",
            "/walk-lists/walk-compactor/positions",
            "/walk-lists/walk-compactor/copy",
            "/visits",
            "/visits?state=Closed",
            "/weeks",
            "/weeks/people",
            "/calendar",
            "/mail",
            "/settings/mail",
            "/settings/feeds",
            "/codes",
            "/codes?unit=EX-01",
            open,
            open + "/paper",
            open + "/end",
            open + "/entry",
            open + "/steps/engine-oil.drained",
            open + "/steps/fuel-secondary.filter-fuel-secondary",
            planned,
            planned + "/take",
            closed,
            "/machines/DZ-01/visits",
            "/machines/EX-01/visit",
            "/machines/DZ-02/filters",
            "/machines/DZ-02/position?code=engine-oil",
            "/machines/DZ-02/data",
            "/parts",
            "/parts/TO7-110",
            "/parts/TO7-110/edit",
            "/parts/new",
            "/waste",
            "/settings/shop",
            "/settings/site?name=Clay%20Pit",
            "/programs/starter-wheel-loader/compartment?c=engine",
            "/defects",
            "/defects?closed=true",
            "/defects/3",
            "/defects/3/tag",
            "/defects/new?unit=EX-01",
            "/samples",
            "/samples?part=Taken",
            "/samples?part=ToReview",
            "/samples?part=Judged",
            "/samples/labels?code=" + bottle,
            "/samples/list",
            "/samples/find",
            "/samples/import",
            "/samples/limits?kind=Hydraulic",
            "/samples/limits?unit=EX-01&c=engine",
            "/samples/fluids",
            "/samples/fluids/one?name=15W-40",
            "/samples/fleet?kind=Engine&m=Si",
            "/samples/labs",
            sample,
            sample + "/results",
            "/machines/EX-01/samples",
            "/machines/EX-01/samples/take?item=engine-oil-sample",
            "/machines/EX-01/oil?c=hydraulic",
            "/machines/EX-02/coolant",
            "/quick?line=nonsense+words+here",
            "/password",
            "/language",
            "/languages/es",
            "/no-entry",
        ];
        foreach (var page in pages)
        {
            browser.Size(1280, 844);
            browser.Open(page);
            browser.Find("h1");
            foreach (var log in browser.Driver.Manage().Logs.GetLog(LogType.Browser).Where(x => x.Level == LogLevel.Severe))
                Assert.Contains(page == "/no-entry" ? "403" : "nothing", log.Message, StringComparison.Ordinal);
            browser.AssertSound(Browser.Look.Whole);

            // The same page as a phone in the cab shows it; the theme is one attribute of the root.
            browser.Size(390, 844);
            browser.Driver.ExecuteScript("document.documentElement.dataset.theme = 'night'");
            browser.AssertSound(Browser.Look.Again);
        }
    }

    /// <summary>Words of another language are longer: what people use all day must hold them, at a desk and in a cab.</summary>
    [Fact]
    public async Task Pages_of_every_day_hold_words_a_third_longer()
    {
        PseudoLanguage.Add();
        await browser.Begin("mara");
        browser.Open("/language");
        browser.Press($"[name=language][value={PseudoLanguage.Code}]");
        browser.Press("main form button");
        browser.WaitForText("#flash", PseudoLanguage.Begins.ToString());
        Assert.Equal(PseudoLanguage.Code, browser.Find("html").GetAttribute("lang"));
        var card = await browser.App.Ask(db => Task.FromResult(db.Visits.First(x => x.State == Data.Visits.VisitState.Open).Id));
        browser.Open("/walk/WL-01");
        browser.Type("#hours", "4466.4");
        browser.Press("form[novalidate] button.btn-tall");
        browser.Find("#walk-steps");
        var walk = new Uri(browser.Driver.Url).AbsolutePath;
        foreach (
            var page in new[]
            {
                "/",
                walk,
                "/walk/EX-01",
                $"/visits/{card}",
                "/machines/EX-04",
                "/defects",
                "/visits",
                "/weeks",
                "/samples",
                "/kinds",
            }
        )
        {
            browser.Size(1280, 844);
            browser.Open(page);
            browser.Find("h1");
            browser.AssertSound(Browser.Look.Whole);
            browser.Size(390, 844);
            browser.AssertSound(Browser.Look.Again);
        }
    }
}
