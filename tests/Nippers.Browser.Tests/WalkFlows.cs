using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Defects;
using Nippers.Core.Numbers;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.Queries;
using Nippers.Data.Walks;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Nippers.Browser.Tests;

/// <summary>Walks and defects as people do them: by touch on a phone, by keyboard at a bench.</summary>
public sealed class WalkFlows(Browser browser) : IClassFixture<Browser>
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private bool _keyboard;

    /// <summary>Presses a thing with a finger, or with the keyboard alone.</summary>
    private void Press(string css) => Press(browser.Find(css));

    private void Press(IWebElement element)
    {
        browser.Driver.ExecuteScript("arguments[0].scrollIntoView({block:'center'})", element);
        if (_keyboard)
        {
            browser.Driver.ExecuteScript("arguments[0].focus()", element);
            Assert.Equal(element, browser.Driver.SwitchTo().ActiveElement());
            new Actions(browser.Driver).SendKeys(element.TagName == "a" ? Keys.Enter : Keys.Space).Perform();
            return;
        }

        browser.Press(element);
    }

    private void Write(string css, string text)
    {
        var field = browser.Find(css);
        field.Clear();
        field.SendKeys(text);
    }

    private void Outcome(string check, string outcome) => browser.Find($"#check-{check}[data-outcome={outcome}]");

    /// <summary>Keeps what stands in a check's form.</summary>
    private void Keep(string check) => Press($"#check-{check} form:not([data-fault]) > div > button.btn-main");

    private void Stick(string check, int percent, string look = "Clear")
    {
        if (browser.Driver.FindElements(By.CssSelector($"#check-{check} input[name=ticked]")).Count > 0)
            Press($"#check-{check} input[name=ticked]");
        Press($"#check-{check} input[name=level][value='{percent}']");
        Press($"#check-{check} input[name=look][value={look}]");
    }

    /// <summary>Answers everything at a station that is still open, as it should be.</summary>
    private void AnswerTheRest()
    {
        foreach (
            var code in browser
                .Driver.FindElements(By.CssSelector("article[data-check][data-outcome=open]"))
                .Select(x => x.GetAttribute("data-check")!)
                .ToList()
        )
        {
            var card = $"#check-{code}";
            int Count(string css) => browser.Driver.FindElements(By.CssSelector($"{card} {css}")).Count;
            if (Count("button[value=sound]") > 0)
            {
                Press($"{card} button[value=sound]");
            }
            else if (Count("input[name=level]") > 0)
            {
                Stick(code, 75);
                Keep(code);
            }
            else
            {
                if (Count("input[name=ticked]") > 0)
                    Press($"{card} input[name=ticked]");
                if (Count("input[name=drained]") > 0)
                    Press($"{card} input[name=drained][value=None]");
                for (var i = 0; i < Count("input[name=figures]"); i++)
                    browser
                        .Driver.FindElements(By.CssSelector($"{card} input[name=figures]"))[i]
                        .SendKeys(code.StartsWith("battery", StringComparison.Ordinal) ? "25.4" : "30");
                for (var i = 0; i < Count("fieldset.point"); i++)
                    Press($"{card} input[name='points[{i}]'][value=Good]");
                Keep(code);
            }

            browser.Find($"{card}:not([data-outcome=open])");
        }
    }

    private async Task<long> Begin(string userName, int width, int height, string unit, string hours)
    {
        _keyboard = width >= 1000;
        await browser.Begin(userName, width, height);
        await browser.App.Ask(db =>
            db.ChecksDone.Where(x => x.CheckCode.StartsWith("sag") && db.Machines.Any(m => m.Id == x.MachineId && m.Unit == unit))
                .ExecuteUpdateAsync(x => x.SetProperty(c => c.Voided, true), Ct)
        );

        // Topped up for the first time in a while: the second time within 50 h would ask where it goes.
        await browser.App.Ask(db => db.TopUps.Where(x => x.Compartment == "engine").ExecuteDeleteAsync(Ct));
        browser.App.Clock.Advance(TimeSpan.FromMinutes(20));
        browser.Open($"/walk/{unit}");
        Write("#hours", hours);
        foreach (var round in browser.Driver.FindElements(By.CssSelector("input[name=parts]:not(:checked)")))
            Press(round);
        Press("form[novalidate] button.btn-tall");
        browser.WaitForText("#flash", $"Walkaround of {unit} begun");
        browser.AssertSound();
        return long.Parse(browser.Driver.Url[(browser.Driver.Url.LastIndexOf('/') + 1)..], CultureInfo.InvariantCulture);
    }

    [Theory]
    [InlineData("ines", 390, 844)]
    [InlineData("tam", 1280, 800)]
    public async Task A_whole_excavator_walk_with_a_low_level_a_measured_sag_a_photo_and_a_stop(string userName, int width, int height)
    {
        var id = await Begin(userName, width, height, "EX-01", "3107.5");
        var picture = Path.Combine(Directory.CreateTempSubdirectory("photo-").FullName, "belt.png");
        using (var drawn = NetVips.Image.Black(900, 700, bands: 3))
            drawn.Pngsave(picture);

        var steps = 0;
        var sound = new HashSet<string>();
        browser.Open($"/walks/{id}/at/isolate");
        while (!browser.Driver.Url.EndsWith("/end", StringComparison.Ordinal))
        {
            Assert.True(++steps < 30, "the walk does not end");
            var step = browser.Driver.Url[(browser.Driver.Url.LastIndexOf('/') + 1)..];
            if (browser.Driver.FindElements(By.CssSelector("form[action*='handler=tick']")).Count > 0)
            {
                Press("form[action*='handler=tick'] button");
            }
            else
            {
                if (step == "off-engine")
                {
                    // Below low: the stick answers in litres; topped up it is watched, and the litres are kept.
                    Stick("engine-oil-level", -20, "Dark");
                    Assert.Contains("add 4.8 L", browser.Find("#check-engine-oil-level .stick").Text, StringComparison.Ordinal);
                    Write("#added-engine-oil-level", "four");
                    Keep("engine-oil-level");
                    browser.WaitForText("#added-engine-oil-level-wrong", "A number is needed");
                    browser.AssertSound();
                    Write("#added-engine-oil-level", "4");
                    Keep("engine-oil-level");
                    Outcome("engine-oil-level", "watch");
                    browser.WaitForText("#check-engine-oil-level [data-result]", "topped up; 4 L added");
                }

                if (step == "off-hang-right")
                {
                    browser.WaitForText("main", "Nobody under the machine");
                    // Too loose by the machine's own limits: grease in, found and fixed on the spot.
                    Press("#check-sag-right input[name=ticked]");
                    Write("#check-sag-right input[name=figures]", "58");
                    Keep("sag-right");
                    browser.WaitForText("#check-sag-right [data-result]", "over the limit of 50");
                    browser.WaitForText("#check-sag-right [data-result]", "pump grease into the adjuster");
                    Press("#check-sag-right input[name=usual][value='too loose']");
                    Press("#check-sag-right input[name=grade][value=NextService]");
                    Press("#check-sag-right details summary");
                    Write("#check-sag-right #fixedWords", "Grease in, 38 mm now");
                    Write("#check-sag-right #lookAgainHours", "10");
                    browser.AssertSound();
                    Press("#check-sag-right form[data-fault] > button");
                    browser.WaitForText("#check-sag-right", "fixed: Grease in, 38 mm now");
                }

                if (step == "key-cab")
                {
                    Press("#check-horn button[value=fault]");
                    browser.Find("#check-horn form[data-fault] [data-grade=Stop]");
                    Assert.Empty(browser.Driver.FindElements(By.CssSelector("#check-horn input[name=grade]")));
                    Write("#check-horn #words", "Horn dead, wire off at the button");
                    browser.Find("#check-horn #photo").SendKeys(picture);
                    Press("#check-horn form[data-fault] > button");
                    browser.Find("#check-horn [data-defect]");
                    browser.WaitForText("#walk-progress", "Out of service");

                    // What to do now stands there, and that nobody knows yet.
                    browser.WaitForText("#check-horn [data-stop-now]", "Mara Quill, radio 1");
                    browser.WaitForText("#check-horn [data-told]", "Nobody has been told by voice yet");
                    Write("#check-horn input[name=whom]", "Mara");
                    Press("#check-horn [data-stop-now] form button");
                    browser.WaitForText("#check-horn [data-told]", "Mara was told");
                    browser.AssertSound();
                }

                AnswerTheRest();
                if (sound.Add(step) && steps < 8)
                    browser.AssertSound();
                Press("nav.step-nav a[rel=next]");
            }

            browser.Wait(d => d.Url.EndsWith("/" + step, StringComparison.Ordinal) ? null : d);
        }

        browser.WaitForText("[data-run]", "Out of service");
        browser.AssertSound();
        Press("form[novalidate] button.btn-tall");
        browser.WaitForText("#flash", "Walkaround signed off");
        browser.AssertSound();
        var walk = await browser.App.Ask(db => db.Walks.SingleAsync(x => x.Id == id, Ct));
        Assert.Equal((WalkState.Finished, 2, RunStatus.OutOfService), (walk.State, walk.Faults, walk.RunStatus!.Value));

        // After the stop nobody was asked to start it, and nobody had to say why.
        Assert.True(walk.LeftOut > 0);
        browser.WaitForText("main", "Not done: stop found");
        Assert.Equal(
            new Litres(4),
            await browser.App.Ask(db => db.TopUps.Where(x => x.WalkId == id).Select(x => x.Litres).SingleAsync(Ct))
        );
        Assert.Equal(
            58,
            await browser.App.Ask(db =>
                db.Measures.Where(x => x.WalkId == id && x.CheckCode == "sag-right").Select(x => x.Value).SingleAsync(Ct)
            )
        );

        // Everywhere at once.
        browser.Open("/?look=stopped");
        browser.WaitForText("[data-unit=EX-01] .stop-mark", "Out of service");
        browser.Open("/machines/EX-01");
        browser.WaitForText("[data-stopped]", "EX-01 is out of service");
        browser.Open("/walk/EX-01");
        browser.WaitForText("main", "EX-01 is out of service");
        browser.Open("/defects?unit=EX-01");
        Press("[data-defect] a[href^='/defects/']");
        browser.WaitForText("main", "Horn dead, wire off at the button");
        browser.Wait(d =>
            (bool)
                ((IJavaScriptExecutor)d).ExecuteScript(
                    "const i=document.querySelector('.photos img'); return !!i && i.complete && i.naturalWidth > 0"
                )!
                ? d
                : null
        );
        browser.AssertSound();
        Press("a[href$='/tag']");
        browser.WaitForText(".tag", "OUT OF SERVICE");
        browser.AssertSound();
    }

    [Fact]
    public async Task Closing_the_browser_loses_nothing_and_a_lost_connection_says_so()
    {
        var id = await Begin("ines", 390, 844, "EX-01", "3107.5");
        browser.Open($"/walks/{id}/at/off-ground");
        Press("#check-notices button[value=sound]");
        Outcome("notices", "ok");

        // The network goes in the middle of an answer: the form stays and says so, and the next try is kept.
        browser.Driver.ExecuteCdpCommand("Network.enable", []);
        browser.Driver.ExecuteCdpCommand(
            "Network.emulateNetworkConditions",
            new Dictionary<string, object?>
            {
                ["offline"] = true,
                ["latency"] = 0,
                ["downloadThroughput"] = -1,
                ["uploadThroughput"] = -1,
            }
        );
        Press("#check-fuel-cap button[value=sound]");
        browser.WaitForText("#check-fuel-cap [data-lost]", "Not sent");
        browser.Driver.ExecuteCdpCommand(
            "Network.emulateNetworkConditions",
            new Dictionary<string, object?>
            {
                ["offline"] = false,
                ["latency"] = 0,
                ["downloadThroughput"] = -1,
                ["uploadThroughput"] = -1,
            }
        );
        Press("#check-fuel-cap button[value=sound]");
        Outcome("fuel-cap", "ok");
        browser.Driver.Manage().Logs.GetLog(LogType.Browser);

        // Closed and opened again, by somebody else: the same walk, where it was.
        browser.SignIn("tam");
        browser.Open("/walks");
        Press("[data-unit=EX-01] a.btn-main");
        browser.WaitForText("[data-progress]", "2 of");
        browser.Find("form[action*='handler=tick']");
        browser.Open($"/walks/{id}/at/off-ground");
        Outcome("notices", "ok");
        Outcome("fuel-cap", "ok");
        Assert.Contains("by Ines Varrow", browser.Find("#check-notices").Text, StringComparison.Ordinal);
        browser.AssertSound();

        // Two phones on one answer: the later one is told, and may still say otherwise.
        await browser.App.Ask(db =>
            db.WalkAnswers.Where(x => x.WalkId == id && x.Code == "notices")
                .ExecuteUpdateAsync(
                    x =>
                        x.SetProperty(a => a.Revision, 2)
                            .SetProperty(a => a.By, "Bea Lund")
                            .SetProperty(a => a.Answer, """{"kind":"seen","ok":true,"note":"looked twice"}"""),
                    Ct
                )
        );
        browser.Driver.ExecuteScript("document.querySelector('#check-notices a[hx-get]').click()");
        browser.Find("#check-notices form input[name=revision][value='2']");
        browser.Driver.ExecuteScript("document.querySelector('#check-notices input[name=revision]').value = '1'");
        Press("#check-notices button[value=sound]");
        browser.WaitForText("#check-notices", "Bea Lund answered this meanwhile");
        Press("#check-notices button[value=sound]");
        browser.Find("#check-notices:not(:has(form))");
        Assert.Contains("by Tam Ollery", browser.Find("#check-notices").Text, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(390, 844)]
    [InlineData(1280, 800)]
    public async Task A_stop_is_released_by_two_people_never_by_its_repairer(int width, int height)
    {
        _keyboard = width >= 1000;
        await browser.Begin("tam", width, height);
        browser.Open("/defects?unit=DZ-01&grade=Stop");
        Press("[data-defect] a[href^='/defects/']");
        browser.Find("[data-grade=Stop]");
        var address = new Uri(browser.Driver.Url).AbsolutePath;
        Assert.Contains("not graded down", browser.Find("main").Text, StringComparison.Ordinal);
        Press("form[action*='handler=repair'] button");
        browser.WaitForText("#words-wrong", "Say it in a few words");
        browser.AssertSound();
        Write("#words", "Brake line renewed, bled, tested with nobody near");
        Write("#minutes", "95");
        Press("form[action*='handler=repair'] button");
        browser.WaitForText("main", "Somebody else must return it to service");
        Assert.Empty(browser.Driver.FindElements(By.CssSelector("button[name=returned]")));
        browser.AssertSound();

        browser.SignIn("mara");
        browser.Open(address);
        Write("#returnWords", "Photo and words looked at, Wenna drove the test");
        Press("button[name=returned][value=true]");
        browser.WaitForText("[data-clock]", "closed");
        browser.Open("/machines/DZ-01");
        Assert.Empty(browser.Driver.FindElements(By.CssSelector("[data-stopped]")));
        Assert.Equal(
            DefectState.Closed,
            await browser.App.Ask(db => db.Defects.Where(x => x.RepairMinutes == 95).Select(x => x.State).SingleAsync(Ct))
        );
    }

    [Fact]
    public async Task A_passed_limit_raises_the_grade_and_takes_the_machine_out()
    {
        await browser.Begin("tam");
        browser.Open("/defects/new?unit=WL-01");
        Write("#words", "Lift cylinder gland weeps");
        browser.Tap("input[name=on][value=Hydraulics]");
        browser.Tap("input[name=grade][value=Limit]");
        Write("#limitHours", "");
        Write("#limitDays", "3");
        browser.Tap("form[novalidate] button.btn-tall");
        browser.WaitForText("[data-clock]", "3 days left");
        var address = new Uri(browser.Driver.Url).AbsolutePath;
        browser.App.Clock.Advance(TimeSpan.FromDays(3));
        browser.Open(address);
        browser.WaitForText("[data-clock]", "last day");
        browser.App.Clock.Advance(TimeSpan.FromDays(1));
        browser.Open(address);
        browser.WaitForText("[data-clock]", "out of service");
        browser.WaitForText("main", "Limit passed, raised");
        browser.Open("/?look=stopped");
        browser.WaitForText("[data-unit=WL-01] .stop-mark", "Out of service");
        browser.AssertSound();
    }

    [Fact]
    public async Task A_defect_and_a_top_up_are_typed_on_the_quick_line_and_undone()
    {
        await browser.Begin("ines");
        browser.Find("#quick-line").SendKeys("wl1 +1.5 L engine");
        browser.WaitForText("[data-quick]", "Enter keeps 1.5 L added to Engine of WL-01");
        browser.Find("#quick-line").SendKeys(Keys.Enter);
        browser.WaitForText("#flash", "1.5 L added");
        browser.Tap(".note form button");
        browser.WaitForText("#flash", "voided");

        browser.Find("#quick-line").SendKeys("WL-01 defect left guard loose");
        browser.WaitForText("[data-quick]", "A defect on WL-01: left guard loose");
        browser.Find("#quick-line").SendKeys(Keys.Enter);
        browser.WaitForText("main", "Say what it is on");
        browser.Press("[data-quick] button[name=on][value=Body]");
        browser.WaitForText("main", "left guard loose");
        Assert.Equal(
            DefectGrade.NextService,
            await browser.App.Ask(db => db.Defects.Where(x => x.Words == "left guard loose").Select(x => x.Grade).SingleAsync(Ct))
        );
        browser.Tap(".note form button");
        browser.WaitForText("#flash", "Voided");
    }

    [Fact]
    public async Task A_planner_changes_a_check_and_the_next_walk_has_it()
    {
        await browser.Begin("mara");
        browser.Open("/walk-lists/walk-wheel-loader/check?check=horn");
        Write("#name", "Horn, both buttons");
        browser.Tap("form[novalidate] button.btn-main");
        browser.WaitForText("#flash", "Horn, both buttons saved");
        browser.Open("/walk/WL-01");
        Write("#hours", "abc");
        browser.Tap("form[novalidate] button.btn-tall");
        browser.WaitForText("#hours-wrong", "Digits and one dot only");
        Write("#hours", "4466.2");
        browser.App.Clock.Advance(TimeSpan.FromMinutes(20));
        browser.Tap("form[novalidate] button.btn-tall");
        browser.Find("[data-progress]");
        browser.Open(browser.Driver.Url + "/at/key-cab");
        browser.WaitForText("#check-horn h2", "Horn, both buttons");
        Assert.Equal(
            CheckKind.Test,
            await browser.App.Ask(async db =>
                (await db.WalkListVersions.Where(x => x.List.Code == "walk-wheel-loader").OrderByDescending(x => x.Version).FirstAsync(Ct))
                    .ToList()
                    .Checks.Single(x => x.Code == "horn")
                    .Kind
            )
        );
    }

    [Fact]
    public async Task A_machine_left_in_the_evening_is_asked_about_in_the_morning_and_its_walk_keeps_what_only_it_knows()
    {
        await browser.Begin("tam", 390, 844);
        browser.Open("/machines/EX-01");
        Press("a[href$='/evening']");
        Press("main form button.btn-tall");
        browser.WaitForText("#done-wrong", "Tick what was done");
        browser.AssertSound();
        Press("input[name=done][value=Position]");
        Press("input[name=done][value=Heater]");
        Press("main form button.btn-tall");
        browser.WaitForText("#flash", "EX-01 is left for tomorrow");

        browser.App.Clock.Advance(TimeSpan.FromHours(5));
        browser.SetClock(TimeSpan.Zero);
        browser.SignIn("tam");
        browser.Open("/walk/EX-01");
        browser.WaitForText("[data-parked]", "Tam Ollery left it");
        Write("#hours", "3107.9");
        Press("form[data-begin] button.btn-tall");
        browser.WaitForText("#asParked-wrong", "as it was left");
        browser.WaitForText("#heaterOut-wrong", "Unplug");
        browser.AssertSound();
        Press("input[name=asParked][value=yes]");
        Press("#heaterOut");
        Press("form[data-begin] button.btn-tall");
        browser.Find("#walk-steps");
        var id = long.Parse(browser.Driver.Url[(browser.Driver.Url.LastIndexOf('/') + 1)..], CultureInfo.InvariantCulture);
        Press("[data-untick=yes] button");
        browser.Find("#step-isolate[data-done=true]");
        browser.Driver.ExecuteScript("document.querySelectorAll('details.station').forEach(x => x.open = true)");

        // It has stood since the evening.
        browser.WaitForText("#check-engine-oil-level", "Waited: read it now");

        Press("#check-fuel-bowl input[name=drained][value=Little]");
        Press("#check-fuel-bowl [data-drained-again] button[value=Little]");
        browser.WaitForText("#check-fuel-bowl [data-result]", "drained 2 times");
        Press("#check-fuel-bowl [data-drained-again] button[value=None]");
        browser.WaitForText("#check-fuel-bowl [data-result]", "drained 3 times, last: Nothing but fuel");

        browser.Driver.ExecuteScript("document.querySelectorAll('details.station').forEach(x => x.open = true)");
        Write("#codes-codes", "361");
        Press("#check-codes form button[value='']");
        browser.WaitForText("#codes-codes-wrong", "361 is no code");
        Write("#codes-codes", "e361(2)");
        Write("#meaning-codes", "air heater relay");
        Press("#check-codes form button[value='']");
        browser.WaitForText("#check-codes [data-meaning]", "E361(2): air heater relay");

        var asked = await browser.App.Ask(async db => (await App.Walks.WalkContext.Load(db, id, Ct))!.PhotoAsked!.Code);
        Press($"#check-{asked} button[value=sound]");
        browser.Find($"#photo-{asked}").SendKeys(Browser.Picture());
        Press($"#check-{asked} [data-photo-asked] button");
        browser.Wait(d => d.FindElements(By.CssSelector($"#photo-{asked}")).Count == 0 ? d : null);
        Assert.Equal(1, await browser.App.Ask(db => db.WalkPhotos.CountAsync(x => x.WalkId == id && x.CheckCode == asked, Ct)));
        browser.AssertSound();
    }

    [Fact]
    public async Task A_planner_makes_an_own_kind_and_a_machine_of_it_is_walked_by_its_list()
    {
        await browser.Begin("mara");
        browser.Open("/walks");
        browser.Tap("a[href='/kinds']");
        browser.Tap("[data-kind=wheel-loader] a[href$='/copy']");
        Write("#name", "Crawler dozer");
        browser.Tap("main form button.btn-main");
        browser.WaitForText("#name-wrong", "already");
        Write("#name", "Log stacker");
        browser.Tap("main form button.btn-main");
        browser.WaitForText("#flash", "Log stacker is a kind of its own");
        browser.WaitForText("[data-kind=log-stacker]", "Made here");

        browser.Open("/machines/WL-02/edit");
        browser.Find("#kind").SendKeys("Log stacker");
        browser.Tap("form[novalidate] button.btn-main");
        browser.WaitForText("main", "Log stacker");

        browser.Open("/walk/WL-02");
        browser.WaitForText("main", "Log stacker");
        Assert.Equal(
            "walk-log-stacker",
            await browser.App.Ask(async db =>
                (await db.ListOf(await db.Machines.AsNoTracking().SingleAsync(x => x.Unit == "WL-02", Ct), Ct))!.List.Code
            )
        );
    }
}
