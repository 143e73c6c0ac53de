using System.Globalization;
using Nippers.Data.Visits;
using OpenQA.Selenium;

namespace Nippers.Browser.Tests;

/// <summary>A visit from the proposal to the closed card, and back: at a bench, and with a thumb beside the machine.</summary>
public sealed class VisitFlows(Browser browser) : IClassFixture<Browser>
{
    private const string Filter = "fuel-secondary.filter-fuel-secondary";

    /// <summary>Waits for another page; the one that was there is gone.</summary>
    private void Leaves(Action act)
    {
        var before = browser.Find("main");
        act();
        browser.Wait(d => IsGone(before) ? d : null);
        browser.Find("h1");
    }

    internal static bool IsGone(IWebElement element)
    {
        try
        {
            return element.TagName.Length == 0;
        }
        catch (StaleElementReferenceException)
        {
            return true;
        }
    }

    private string Text(string css) => browser.Find(css).Text;

    private Task<long> VisitOf(string unit, VisitState state) =>
        browser.App.Ask(db => Task.FromResult(db.Visits.First(x => x.Machine.Unit == unit && x.State == state).Id));

    /// <summary>The button that a calm day presses: the one that answers by itself where there is one.</summary>
    internal static string Button(Browser browser) =>
        browser.Driver.FindElements(By.CssSelector("[data-quick], [data-all-points]")).Count > 0
        && browser.Driver.FindElements(By.CssSelector("[data-parts] input[type=checkbox]")).Count == 0
            ? "[data-quick], [data-all-points]"
            : "form[data-ask] button[name=done]";

    /// <summary>Answers the step on the screen as a calm day would; litres as its own hint expects them.</summary>
    /// <returns>Fields that it touched: what a person would have tapped.</returns>
    internal static int Answer(Browser browser) =>
        Convert.ToInt32(
            browser.Driver.ExecuteScript(
                """
                const form = document.querySelector('form[data-ask]'), ask = form.dataset.ask;
                let taps = 0;
                const tick = (x) => { if (x && !x.checked) { x.checked = true; taps++; } };
                const put = (x, value) => { if (x && x.value !== value && value) { x.value = value; taps++; } };
                const figure = (text) => (text ?? '').match(/\d[\d.]*/)?.[0];
                for (const [name, value] of [['level', '100'], ['metal', 'FinePaste'], ['water', 'Little']])
                    tick(form.querySelector(`input[name=${name}][value="${value}"]`));
                for (const box of form.querySelectorAll('input[type=checkbox]:not([name=prefilled]):not([name=notInCatalogue])')) tick(box);
                const litres = form.querySelector('#litres');
                if (litres)
                    put(litres, figure(litres.parentElement.querySelector('.hint')?.textContent) ?? (ask === 'Level' ? '' : '10'));
                const figures = ask === 'Volts' ? '12.7' : ask === 'Pressure' ? '4' : ask === 'Coolant' ? '50' : '38';
                for (const f of form.querySelectorAll('[name=figures]')) put(f, figures);
                put(form.querySelector('#name'), 'Gil Rennard');
                if (ask === 'Bottle') put(form.querySelector('#mark'), 'FL' + Math.floor(performance.timeOrigin) % 1000000);
                if (ask === 'Waste' && !form.querySelector('#mark').value) put(form.querySelector('#mark'), 'Tideway');
                return taps;
                """
            ),
            CultureInfo.InvariantCulture
        );

    [Fact]
    public async Task A_visit_is_planned_adjusted_and_its_list_printed()
    {
        await browser.Begin("mara");
        browser.Open("/visits");
        browser.AssertSound();

        // The used machine has no record, so that everything is due whatever the day.
        Leaves(() => browser.Tap("a[href^='/machines/EX-03/visit']"));
        var paid = Text("[data-paid]");

        browser.Tap("#draft input[name=items][value=hydraulic-return]");
        browser.Wait(d => d.FindElement(By.CssSelector("[data-paid]")).Text != paid ? d : null);
        Assert.Contains("left out though due", Text("[data-warnings]"), StringComparison.OrdinalIgnoreCase);
        browser.Tap("#draft input[name=items][value=hydraulic-return]");
        browser.WaitForText("[data-paid]", paid);
        browser.AssertSound();

        browser.Driver.ExecuteScript(
            "const on = document.querySelector('#on'); on.value = arguments[0]; on.dispatchEvent(new Event('change', {bubbles: true}));",
            Nippers.Tests.DemoApp.Now.AddDays(40).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
        );
        browser.Wait(d => d.FindElement(By.CssSelector("[data-warnings]")).Text.Contains("outside", StringComparison.Ordinal) ? d : null);
        browser.Driver.ExecuteScript(
            "const on = document.querySelector('#on'); on.value = '2019-01-01'; on.dispatchEvent(new Event('change', {bubbles: true}));"
        );
        browser.WaitForText("#on-wrong", "has passed");

        browser.Open("/machines/EX-03/visit");
        Leaves(() => browser.Tap("#draft button.btn-main"));
        browser.WaitForText("#flash", "EX-03");
        Assert.Contains("BR7-141", Text("#main"), StringComparison.Ordinal);
        Leaves(() => browser.Tap("a[href$='/take']"));
        browser.AssertSound();
        Assert.NotEmpty(browser.Driver.FindElements(By.CssSelector(".sheet-box")));
        Leaves(() => browser.Driver.Navigate().Back());
        browser.Type("#hours", "12");
        Leaves(() => browser.Tap("form[action*='handler=open'] button"));
        browser.Find("#hours-wrong");
    }

    [Fact]
    public async Task A_card_is_worked_through_on_a_phone_closed_and_reopened()
    {
        await browser.Begin("tam", 390, 844);
        var card = $"/visits/{await VisitOf("DZ-02", VisitState.Open)}";
        browser.Open("/parts/BR7-110");
        var shelf = int.Parse(Text("[data-store='Clay Pit']"), CultureInfo.InvariantCulture);
        browser.Open("/machines/DZ-02/items");
        Assert.Contains("past", Text("#item-engine-oil"), StringComparison.Ordinal);

        // What did not fit says so, and stays undone until the right one is there.
        browser.Open($"{card}/steps/{Filter}");
        Assert.Contains("3 % off", Text("[data-stopped]"), StringComparison.Ordinal);
        browser.Find("[data-open-drain='engine-oil.drain']");
        browser.AssertSound();
        browser.Open($"{card}/steps/engine-oil.fill");
        Assert.NotEmpty(browser.Driver.FindElements(By.CssSelector("[data-blocked]")));
        Assert.False(browser.Find("form[data-ask] button[name=done]").Enabled);

        // Handed over by name: it is the other's until the own lock is on.
        browser.Open(card);
        browser.Press("[data-holder] .tick");
        Leaves(() => browser.Press("[data-holder] form button"));
        Assert.Contains("Tam Ollery", Text("[data-holder]"), StringComparison.Ordinal);

        // Not today: it stays due. Then what is left, step by step.
        browser.Open(card);
        browser.AssertSound();
        browser.Press("[data-item=fuel-secondary] summary");
        browser.Press("[data-item=fuel-secondary] .pick input[value=wrongPart]");
        Leaves(() => browser.Press("[data-item=fuel-secondary] form button"));
        browser.Find("[data-item=fuel-secondary][data-outcome=Left]");
        Leaves(() => browser.Press("[data-next]"));
        for (var steps = 0; browser.Driver.Url.Contains("/steps/", StringComparison.Ordinal); steps++)
        {
            Assert.True(steps < 120, browser.Driver.Url);
            Answer(browser);
            Leaves(() => browser.Press(Button(browser)));
            if (browser.Driver.FindElements(By.CssSelector("#reason-wrong, #note-wrong")).Count > 0)
            {
                browser.App.Clock.Advance(TimeSpan.FromMinutes(95));
                Answer(browser);
                Leaves(() => browser.Press(Button(browser)));
            }

            Assert.Empty(browser.Driver.FindElements(By.CssSelector("[data-stopped]")).Select(x => browser.Driver.Url + x.Text));
        }

        browser.Open($"{card}/end");
        browser.AssertSound();
        Leaves(() => browser.Press("main form .btn-main"));
        browser.Find("#minutes-wrong");
        browser.Type("#minutes", "410");
        Leaves(() => browser.Press("main form .btn-main"));
        browser.WaitForText("#flash", "closed");
        browser.Find("[data-item=fuel-secondary][data-state=Left]");
        browser.AssertSound();

        browser.Open("/machines/DZ-02/items");
        Assert.Contains("left", Text("#item-engine-oil"), StringComparison.Ordinal);
        browser.Open("/machines/DZ-02?ahead=600");
        Assert.Contains(
            "8,750",
            (string)
                browser.Driver.ExecuteScript(
                    "return document.querySelector('.tape').textContent + document.querySelector('main').textContent"
                )!,
            StringComparison.Ordinal
        );
        browser.Open("/machines/DZ-02/filters");
        Assert.Contains("BR7-110", Text("[data-position=engine-oil] [data-fitted]"), StringComparison.Ordinal);
        browser.Find("[data-log=Refused]");
        browser.Open("/parts/BR7-110");
        Assert.Equal(shelf - 1, int.Parse(Text("[data-store='Clay Pit']"), CultureInfo.InvariantCulture));
        browser.Open("/machines/DZ-02/visits");
        Assert.Contains("left last time", Text("#main"), StringComparison.Ordinal);

        browser.Open(card);
        browser.Press("details:has(form[action*=reopen]) summary");
        browser.Type("form[action*=reopen] #reason", "hours of the wrong machine");
        Leaves(() => browser.Press("form[action*=reopen] button"));
        browser.WaitForText("#flash", "open again");
        browser.Open("/parts/BR7-110");
        Assert.Equal(shelf, int.Parse(Text("[data-store='Clay Pit']"), CultureInfo.InvariantCulture));
        browser.Open("/machines/DZ-02/items");
        Assert.Contains("past", Text("#item-engine-oil"), StringComparison.Ordinal);
    }
}
