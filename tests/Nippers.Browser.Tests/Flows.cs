using Microsoft.EntityFrameworkCore;
using Nippers.Core.Hours;
using OpenQA.Selenium;

namespace Nippers.Browser.Tests;

/// <summary>What people do, in a real browser.</summary>
public sealed class Flows(Browser browser) : IClassFixture<Browser>
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    public static TheoryData<int, int> Sizes() => new() { { 1280, 800 }, { 390, 844 } };

    [Theory]
    [MemberData(nameof(Sizes))]
    public async Task Signing_in_shows_today_with_every_machine(int width, int height)
    {
        await browser.Begin("ines", width, height);
        Assert.Equal(23, browser.Driver.FindElements(By.CssSelector("[data-unit]")).Count);
        Assert.Equal(23, browser.Driver.FindElements(By.CssSelector("[data-unit] svg.tape")).Count);
        Assert.Contains(width > 500 ? "84 h past" : "Job card open", browser.Find("[data-unit=DZ-02]").Text, StringComparison.Ordinal);
        browser.AssertSound();

        browser.Tap("a.chip[href*='standing=overdue']");
        browser.Wait(d => d.Url.Contains("standing=overdue", StringComparison.Ordinal) ? d : null);
        Assert.DoesNotContain(browser.Driver.FindElements(By.CssSelector("[data-unit]")), x => x.GetAttribute("data-unit") == "EX-03");
        browser.AssertSound();
    }

    [Theory]
    [MemberData(nameof(Sizes))]
    public async Task A_swapped_pair_of_digits_is_refused_and_corrected_with_one_tap(int width, int height)
    {
        await browser.Begin("ines", width, height);
        browser.App.Clock.Advance(TimeSpan.FromHours(20));
        browser.Open("/");
        browser.Tap("[data-unit=EX-01] .today-more summary");
        browser.Tap("[data-unit=EX-01] a[href$='/hours']");
        browser.Type("#hours", "3115.2".Replace("15", "51", StringComparison.Ordinal));
        browser.Find("#hours").SendKeys(Keys.Enter);
        browser.WaitForText("#hours-wrong", "more than the clock allows");
        Assert.Equal("hours", browser.Driver.SwitchTo().ActiveElement().GetAttribute("id"));
        browser.AssertSound();

        browser.Tap("button[data-value='3115.2']");
        browser.WaitForText("#flash", "3,115.2 h logged on EX-01");
        browser.WaitForText("[data-unit=EX-01] [data-hours]", "3,115.2");
        Assert.Equal(
            new MeterHours(31152),
            await browser.App.Ask(db =>
                db.Readings.Where(x => x.By == "Ines Varrow").OrderByDescending(x => x.Id).Select(x => x.ShownHours).FirstAsync(Ct)
            )
        );

        browser.Tap(".note form button");
        browser.WaitForText("#flash", "voided");
    }

    [Theory]
    [MemberData(nameof(Sizes))]
    public async Task What_is_typed_survives_a_refusal_and_a_session_that_is_over(int width, int height)
    {
        const string place = "Drum behind the wash bay";
        await browser.Begin("tam", width, height);
        browser.Open("/waste");
        browser.Tap("label.pick:has([value=oil])");
        browser.Type("#place", place);
        browser.Type("#amount", "two drums");
        browser.Press("main form .btn-main");
        browser.Find("#amount-wrong");
        Assert.Equal("amount", browser.Driver.SwitchTo().ActiveElement().GetAttribute("id"));
        Assert.Equal(place, browser.Find("#place").GetAttribute("value"));
        Assert.True(browser.Driver.FindElement(By.CssSelector("[name=stream][value=oil]")).Selected);
        browser.AssertSound();

        browser.Type("#amount", "40");
        browser.Driver.Manage().Cookies.DeleteCookieNamed("nippers");
        browser.Press("main form .btn-main");
        browser.WaitForText("[data-over]", "Your session is over");
        browser.AssertSound();
        browser.Type("#userName", "tam");
        browser.Type("#password", Demo.DemoAccounts.Password);
        browser.Press("[data-over] form button");
        browser.WaitForText("[data-again]", place);
        browser.AssertSound();
        browser.Press("[data-again] button");
        browser.Wait(d => new Uri(d.Url).AbsolutePath == "/waste" && d.FindElements(By.CssSelector("[data-again]")).Count == 0 ? d : null);
        Assert.Equal(1, await browser.App.Ask(db => db.Waste.CountAsync(x => x.Place == place && x.By == "Tam Ollery", Ct)));
    }

    [Theory]
    [MemberData(nameof(Sizes))]
    public async Task Recording_a_service_moves_its_peg_and_leaves_the_rest_due(int width, int height)
    {
        await browser.Begin("tam", width, height);
        browser.Open("/machines/DZ-02");
        var overdue = OverduePegs();
        Assert.NotEmpty(overdue);
        browser.WaitForText("[data-group]", "Engine oil");
        browser.Open("/machines/DZ-02/about");
        Assert.True(
            (bool)
                browser.Driver.ExecuteScript(
                    "return document.querySelector('.tabs [aria-current]').getBoundingClientRect().right <= innerWidth"
                )!
        );
        browser.Tap(".tabs a[href$='/items']");
        browser.WaitForText("#item-engine-oil [data-due]", "8,500.0");

        browser.Tap("a[href$='/work']");
        browser.Tap("input[name=items][value=engine-oil]");
        browser.Tap("input[name=items][value=engine-oil-sample]");
        browser.Tap("form[novalidate] button[type=submit]");
        browser.WaitForText("#flash", "2 items recorded on DZ-02");
        Assert.NotEqual(overdue, OverduePegs());
        browser.AssertSound();

        browser.Tap(".note form button");
        browser.WaitForText("#flash", "voided");
        Assert.Equal(overdue, OverduePegs());
        browser.Open("/machines/DZ-02/items");
        browser.WaitForText("#item-engine-oil [data-due]", "8,500.0");
        browser.AssertSound();

        string OverduePegs() =>
            string.Join(
                ';',
                browser
                    .Driver.FindElements(By.CssSelector("section svg.tape > svg"))
                    .Where(x => x.FindElements(By.CssSelector(".peg-overdue")).Count > 0)
                    .Select(x => x.GetAttribute("x") + " " + x.Text)
            );
    }

    [Fact]
    public async Task A_used_machine_has_no_record_until_a_baseline_is_declared_on_somebodys_word()
    {
        await browser.Begin("tam");
        browser.Open("/machines/new");
        browser.Type("#unit", "ex-09");
        browser.Type("#make", "Brennock");
        browser.Type("#model", "B 210");
        browser.Type("#commissionedHours", "4190");
        browser.Tap("input[name=history][value=Unknown]");
        browser.Tap("form[novalidate] button.btn-main");
        browser.WaitForText("#flash", "EX-09 saved");
        browser.AssertSound();

        browser.Tap("a[href$='/baseline']");
        browser.Tap("input[value=hydraulic-oil]");
        browser.Type("#hours", "3900");
        browser.Driver.ExecuteScript("document.getElementById('on').value='2026-01-10'");
        browser.Tap("form[novalidate] button.btn-main");
        browser.WaitForText("#saidBy-wrong", "Say who");
        browser.AssertSound();
        browser.Type("#saidBy", "Seller, by invoice");
        browser.Tap("form[novalidate] button.btn-main");
        browser.Tap(".tabs a[href$='/items']");
        browser.WaitForText("#item-hydraulic-oil [data-due]", "6,000.0");
        browser.WaitForText("#item-coolant-test", "no record");
    }

    [Fact]
    public async Task Changing_a_program_shows_what_moves_before_it_is_saved()
    {
        await browser.Begin("mara");
        browser.Open("/programs/starter-crawler-excavator");
        browser.AssertSound();
        browser.Tap("a[href$='item=hydraulic-oil']");
        browser.Type("#everyHours", "4000");
        browser.Tap("button[formaction]");
        browser.WaitForText("#program-preview", "EX-04");
        browser.WaitForText("#program-preview", "h later");
        browser.AssertSound();
        Assert.Equal(
            new MeterHours(20_000),
            await browser.App.Ask(db => db.ProgramItems.Where(x => x.Code == "hydraulic-oil").Select(x => x.EveryHours).MaxAsync(Ct))
        );

        // What was not shown is not saved.
        browser.Type("#everyHours", "3000");
        browser.Tap("#program-preview button");
        browser.WaitForText("#program-preview", "1,000 h later");
        Assert.Equal(
            new MeterHours(20_000),
            await browser.App.Ask(db => db.ProgramItems.Where(x => x.Code == "hydraulic-oil").Select(x => x.EveryHours).MaxAsync(Ct))
        );
        browser.Tap("#program-preview button");
        browser.WaitForText("#flash", "saved");
        Assert.Equal(
            new MeterHours(30_000),
            await browser.App.Ask(db => db.ProgramItems.Where(x => x.Code == "hydraulic-oil").Select(x => x.EveryHours).MaxAsync(Ct))
        );
    }

    [Theory]
    [InlineData(1280, 800, 9)]
    [InlineData(390, 844, 6)]
    public async Task Today_shows_its_machines_without_scrolling_and_what_waits_this_morning(int width, int height, int least)
    {
        await browser.Begin("mara", width, height);
        browser.Open("/");
        browser.Find("[data-unit] svg.tape");
        var seen = (long)
            browser.Driver.ExecuteScript(
                "const bar = document.querySelector('.thumb').getBoundingClientRect(); const end = bar.height ? bar.top : innerHeight;"
                    + " return [...document.querySelectorAll('[data-unit]')].filter(x => x.getBoundingClientRect().bottom <= end).length"
            )!;
        Assert.True(seen >= least, $"{seen} machines");
        Assert.Equal(
            44L,
            browser.Driver.ExecuteScript("return Math.round(document.querySelector('header').getBoundingClientRect().height)")
        );
        Assert.Equal("3", browser.Find("[data-morning='Morning.Stopped'] .num").Text);
        browser.Tap("[data-morning='Morning.Readings']");
        browser.Wait(d => d.Url.EndsWith("look=unconfirmed", StringComparison.Ordinal) ? d : null);
        Assert.Single(browser.Driver.FindElements(By.CssSelector("[data-unit]")));
    }

    [Fact]
    public async Task On_a_phone_the_quick_line_opens_from_the_head_and_the_rest_lies_at_the_thumb()
    {
        await browser.Begin("tam", 390, 844);
        Assert.False(browser.Find("#quick-line").Displayed);
        browser.Press("label.quick-key");
        browser.Wait(d => d.FindElement(By.Id("quick-line")).Displayed ? d : null);
        browser.Type("#quick-line", "EX-01");
        browser.WaitForText("[data-quick]", "EX-01");
        browser.AssertSound();
        browser.Press(".thumb a[href='/more']");
        browser.Find("main form[action='/sign-out']");
        browser.Press("main a[href='/samples']");
        browser.Wait(d => d.Url.EndsWith("/samples", StringComparison.Ordinal) ? d : null);
        Assert.Equal("More", browser.Find(".thumb [aria-current=page]").Text);
        browser.Press(".thumb a[href='/walks']");
        browser.Wait(d => d.Url.EndsWith("/walks", StringComparison.Ordinal) ? d : null);
        Assert.Equal("Walk", browser.Find(".thumb [aria-current=page]").Text);
    }

    [Fact]
    public async Task The_quick_line_logs_hours_by_keyboard_alone_and_can_be_undone()
    {
        await browser.Begin("tam");
        browser.App.Clock.Advance(TimeSpan.FromHours(20));
        var keys = new OpenQA.Selenium.Interactions.Actions(browser.Driver);
        keys.SendKeys("/").Perform();
        Assert.Equal("quick-line", browser.Driver.SwitchTo().ActiveElement().GetAttribute("id"));
        keys.SendKeys("ex1 3115.2").Perform();
        browser.WaitForText("[data-quick]", "Enter logs 3,115.2 h on EX-01");
        browser.AssertSound();
        keys.SendKeys(Keys.Enter).Perform();
        browser.WaitForText("#flash", "3,115.2 h logged on EX-01");

        browser.Find("#quick-line").SendKeys("EX-10 3120");
        browser.WaitForText("[data-quick]", "No machine has this unit");
        browser.App.Clock.Advance(TimeSpan.FromHours(10));
        browser.Find("#quick-line").SendKeys(Keys.Escape + "EX-01 3181.2");
        browser.WaitForText("[data-quick]", "3,118.2");
        browser.Find("#quick-line").SendKeys(Keys.Escape + "due" + Keys.Enter);
        browser.Wait(d => d.Url.EndsWith("standing=due", StringComparison.Ordinal) ? d : null);
    }

    [Fact]
    public async Task A_machines_page_is_at_most_four_screens_of_a_phone()
    {
        await browser.Begin("tam", 390, 844);
        foreach (var unit in new[] { "DZ-02", "EX-03", "EX-04" })
        {
            browser.Open($"/machines/{unit}");
            browser.Find("[data-group]");
            var height = (long)browser.Driver.ExecuteScript("return document.documentElement.scrollHeight")!;
            Assert.InRange(height, 844, 4 * 844);
        }
    }

    [Fact]
    public async Task The_mornings_misread_meter_is_corrected_from_the_machine()
    {
        await browser.Begin("tam");
        browser.Open("/?look=unconfirmed");
        Assert.Equal("EX-04", Assert.Single(browser.Driver.FindElements(By.CssSelector("[data-unit]"))).GetAttribute("data-unit"));
        browser.Open("/machines/EX-04");
        browser.Tap("[data-unconfirmed] a");
        browser.Tap("a[href*='replaces=']");
        browser.Find("#hours");
        browser.AssertSound();
        browser.Tap("button[data-value='4537.4']");
        browser.WaitForText("#flash", "4,537.4 h logged on EX-04");
        Assert.Equal(0, await browser.App.Ask(db => db.Readings.CountAsync(x => x.State == Data.Records.ReadingState.Unconfirmed, Ct)));
    }

    [Fact]
    public async Task A_csv_with_bad_rows_is_shown_row_by_row_and_kept_only_when_all_are_good()
    {
        await browser.Begin("mara");
        var yesterday = Nippers
            .Tests.DemoApp.Now.AddHours(-1)
            .ToString("yyyy-MM-ddTHH:mm:ssZ", System.Globalization.CultureInfo.InvariantCulture);
        var file = Path.Combine(Directory.CreateTempSubdirectory("csv-").FullName, "readings.csv");
        await File.WriteAllTextAsync(
            file,
            $"unit,at,hours\r\nEX-01,{yesterday},3107.3\r\nEX-10,{yesterday},5\r\nEX-01,{yesterday},abc\r\n",
            Ct
        );
        browser.Open("/exchange");
        browser.AssertSound();
        browser.Find("#file").SendKeys(file);
        browser.Tap("form[action='/exchange/readings'] button");
        browser.WaitForText("main", "2 rows are refused");
        Assert.Equal(2, browser.Driver.FindElements(By.CssSelector("tr[data-action=Refuse]")).Count);
        browser.AssertSound();

        await File.WriteAllTextAsync(file, $"unit,at,hours\r\nEX-01,{Nippers.Tests.DemoApp.Now:yyyy-MM-ddTHH:mm:ss}Z,3107.8\r\n", Ct);
        browser.Open("/exchange");
        browser.Find("#file").SendKeys(file);
        browser.Tap("form[action='/exchange/readings'] button");
        browser.Tap("form[action*='handler=apply'] button");
        browser.WaitForText("#flash", "1 accepted");
    }
}
