using System.Globalization;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Walk;
using Nippers.Data.Visits;
using Nippers.Data.Walks;
using Nippers.Views.Phones;
using OpenQA.Selenium;

namespace Nippers.Browser.Tests;

/// <summary>Walks, hours and defects with the network cut.</summary>
public sealed class Offline(Browser browser) : IClassFixture<Browser>
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    /// <summary>Somebody's phone that has seen a network: it holds the fleet, and its worker is at work.</summary>
    private async Task<Cdp> Phone(string who = "tam", TimeSpan ahead = default)
    {
        browser.KeepsForLater = true;
        await browser.Begin(who, 390, 844);
        browser.App.Clock.Advance(TimeSpan.FromMinutes(20));
        browser.SetClock(ahead);
        browser.Open("/");
        browser.Find("html[data-kit=ready]");
        Working();
        return await Cdp.Connect(browser.Driver, Ct);
    }

    private void Working() =>
        browser.Driver.ExecuteAsyncScript(
            "const done = arguments[0]; navigator.serviceWorker.ready.then(r => { const look = () => r.active.state === 'activated'"
                + " ? done() : r.active.addEventListener('statechange', look, { once: true }); look(); })"
        );

    private void Begin(string unit, string hours)
    {
        browser.Open($"/walk/{unit}");
        browser.Find("html[data-shell=ready]");
        browser.Find("#hours").SendKeys(hours);
        browser.Press("#phone-root form button.btn-tall");
        browser.Find("#walk-steps");
        browser.Find("html[data-shell=ready]");
    }

    /// <summary>With the next page the phone fetches what it holds anew, though it did a moment ago.</summary>
    private void FetchAnew() =>
        browser.Driver.ExecuteAsyncScript(
            "const done = arguments[0]; const open = indexedDB.open('nippers'); open.onsuccess = () => {"
                + " const tx = open.result.transaction('meta', 'readwrite'); tx.objectStore('meta').delete('kitAt'); tx.oncomplete = () => done(); }"
        );

    private void NetworkIsBack() => browser.Driver.ExecuteScript("window.dispatchEvent(new Event('online'))");

    private string Waiting => browser.Find("#outbox").GetAttribute("data-waiting")!;

    private void WaitFor(int waiting) => browser.Wait(_ => Waiting == waiting.ToString(CultureInfo.InvariantCulture) ? browser : null);

    [Fact]
    public async Task A_card_is_worked_without_a_network_and_its_steps_reach_the_server_in_order()
    {
        await using var cdp = await Phone();
        var (visit, from) = await browser.App.Ask(async db =>
        {
            var row = await db.Visits.SingleAsync(x => x.Machine.Unit == "DZ-02" && x.State == VisitState.Open, Ct);
            (row.HeldBy, row.HandedTo) = ("Tam Ollery", null);
            await db.SaveChangesAsync(Ct);
            return (row.Id, await db.Steps.CountAsync(x => x.VisitId == row.Id, Ct));
        });
        browser.Open($"/visits/{visit}");
        browser.Find("html[data-card=ready]");
        await cdp.Offline(Ct);
        browser.Open($"/visits/{visit}");
        browser.Find("html[data-shell=ready]");
        browser.AssertSound(Browser.Look.Whole);
        var first = browser.Find("form[data-phone=step]").GetAttribute("data-step")!;

        // What does not do is said at once, as the server says it; what does is kept, and the next one comes.
        var kept = 0;
        for (var steps = 0; steps < 6; steps++)
        {
            var form = browser.Find("form[data-phone=step]");
            var step = form.GetAttribute("data-step");
            VisitFlows.Answer(browser);
            browser.Press(VisitFlows.Button(browser));
            browser.Wait(d => d.FindElements(By.CssSelector($"form[data-step='{step}']")).Count == 0 ? d : null);
            browser.Find("html[data-shell=ready]");
            WaitFor(++kept);
        }

        Assert.Equal(from, await browser.App.Ask(db => db.Steps.CountAsync(x => x.VisitId == visit, Ct)));
        await cdp.Online(Ct);
        NetworkIsBack();
        browser.Wait(_ => Unsent() == 0 ? browser : null);
        var rows = await browser.App.Ask(db =>
            db.Steps.AsNoTracking().Where(x => x.VisitId == visit && x.By == "Tam Ollery").ToListAsync(Ct)
        );
        Assert.Contains(rows, x => x.Code == first);
        Assert.True(rows.Count >= kept, string.Join(' ', rows.Select(x => x.Code)));
        browser.Open($"/visits/{visit}");
        Assert.NotEqual(first, browser.Find("[data-next]").GetAttribute("href")!.Split('/')[^1]);
    }

    [Fact]
    public async Task An_operator_who_takes_a_technicians_phone_cannot_work_the_card_that_lies_on_it()
    {
        await using var cdp = await Phone();
        var visit = await browser.App.Ask(db => db.Visits.Where(x => x.State == VisitState.Open).Select(x => x.Id).FirstAsync(Ct));
        browser.Open($"/visits/{visit}");
        browser.Find("html[data-card=ready]");
        browser.SignIn("ines");
        browser.Find("html[data-kit=ready]");
        await cdp.Offline(Ct);

        browser.Open($"/visits/{visit}");

        browser.Find("html[data-shell=ready]");
        Assert.Empty(browser.Driver.FindElements(By.CssSelector("form[data-phone=step]")));
        Assert.NotEmpty(browser.Find("#phone-root h1").Text);
        await cdp.Online(Ct);
    }

    [Fact]
    public async Task A_whole_walk_without_a_network_through_a_dead_battery_reaches_the_server_once_as_the_phone_judged_it()
    {
        await using (var cdp = await Phone())
        {
            await cdp.Offline(Ct);
            Begin("WL-01", "4466.4");
            browser.AssertSound(Browser.Look.Whole);
            browser.Press("[data-untick=yes] button");
            browser.Find("#step-isolate[data-done=true]");
            browser.Driver.ExecuteScript("document.querySelector('#step-off-left').open = true");
            browser.Press("#check-tyres-left button[value=fault]");
            browser.Press("#check-tyres-left input[name=usual][value='cord showing']");
            browser.Find("#check-tyres-left [name=photo]").SendKeys(Browser.Picture());
            browser.Press("#check-tyres-left form[data-fault] > button");
            browser.WaitForText("#check-tyres-left [data-stop-now]", "Bea Lund, radio 4");
            browser.WaitForText("#walk-progress", "Out of service");
            Assert.Empty(browser.Driver.FindElements(By.CssSelector("#walk-steps [id^=step-key], #walk-steps [id^=step-run]")));
            browser.Type("#check-tyres-left [name=whom]", "Bea");
            browser.Press("#check-tyres-left [data-stop-now] form button");
            browser.WaitForText("#check-tyres-left [data-told]", "Bea");
            WaitFor(5);

            // Before the cut ends with its connection: a network that came back for a moment would carry off what waits.
            browser.DieAndComeBack();
        }

        // The worker wakes with the first page; only then can its network be cut.
        browser.Open("/mark.svg");
        await using var again = await Cdp.Connect(browser.Driver, Ct);
        await again.Offline(Ct);
        browser.Size(390, 844);
        browser.Open("/phone#outbox");
        browser.Find("html[data-shell=ready]");
        Assert.Equal(5, browser.Driver.FindElements(By.CssSelector("[data-entry]")).Count);
        var walk = (string)
            browser.Driver.ExecuteAsyncScript(
                "const done = arguments[0]; const open = indexedDB.open('nippers');"
                    + " open.onsuccess = () => { const all = open.result.transaction('walks').objectStore('walks').getAll();"
                    + " all.onsuccess = () => done(String(all.result[0].id)); }"
            )!;
        browser.Open("/walks/" + walk);
        browser.WaitForText("#walk-progress", "Out of service");
        browser.Driver.ExecuteScript("document.querySelector('#step-off-left').open = true");
        browser.WaitForText("#check-tyres-left [data-told]", "Bea");
        browser.Press("#walk-end a");
        browser.Find("#walk-end form[data-sign-off]");
        browser.Type("#walk-end [name=leftOut]", "stop found");
        browser.AssertSound();
        browser.Press("#walk-end form[data-sign-off] button.btn-tall");
        browser.WaitForText("[data-not-sent]", "nobody else knows yet");
        var said = browser.Find("[data-run]").GetAttribute("data-run");
        Assert.Equal(nameof(RunStatus.OutOfService), said);
        Assert.Equal(
            0,
            await browser.App.Ask(db => db.Walks.CountAsync(x => x.StartedBy == "Tam Ollery" && x.State == WalkState.Open, Ct))
        );

        // Back, and signed in where the browser's death took that.
        await again.Online(Ct);
        browser.SignIn("tam");
        browser.Wait(_ => Unsent() == 0 ? browser : null);
        var row = await browser.App.Ask(db =>
            db.Walks.AsNoTracking().OrderByDescending(x => x.Id).FirstAsync(x => x.Machine.Unit == "WL-01", Ct)
        );
        Assert.Equal((WalkState.Finished, "Tam Ollery", said), (row.State, row.FinishedBy, row.RunStatus.ToString()));
        var defect = await browser.App.Ask(db => db.Defects.SingleAsync(x => x.WalkId == row.Id, Ct));
        Assert.Equal(("cord showing", DefectGrade.Stop, "Bea"), (defect.Words, defect.Grade, defect.ToldWhom));
        Assert.Equal(1, await browser.App.Ask(db => db.DefectPhotos.CountAsync(x => x.DefectId == defect.Id, Ct)));
        browser.Open($"/walks/{row.Id}");
        Assert.Equal(said, browser.Find("[data-run]").GetAttribute("data-run"));
    }

    private long Unsent() =>
        (long)
            browser.Driver.ExecuteAsyncScript(
                "const done = arguments[0]; const open = indexedDB.open('nippers');"
                    + " open.onsuccess = () => { const all = open.result.transaction('outbox').objectStore('outbox').getAll();"
                    + " all.onsuccess = () => done(all.result.filter(x => !x.sent).length); }"
            )!;

    [Fact]
    public async Task A_walk_that_began_with_a_network_goes_on_without_one_and_with_it_again()
    {
        await using var cdp = await Phone();
        browser.Open("/walk/EX-01");
        browser.Find("#hours").SendKeys("3107.5");
        browser.Press("form[novalidate] button.btn-tall");
        browser.Find("html[data-walk=ready]");
        Working();
        var id = long.Parse(browser.Driver.Url[(browser.Driver.Url.LastIndexOf('/') + 1)..], CultureInfo.InvariantCulture);
        browser.Press("[data-untick=yes] button");
        browser.Find("#step-isolate[data-done=true]");
        await cdp.Offline(Ct);
        browser.Press("details.station[open] [data-all-ok]");
        browser.WaitForText("[data-progress]", "3 of");
        browser.Press("#check-notices button[value=sound]");
        browser.WaitForText("[data-progress]", "4 of");
        var done = browser.Find("[data-progress]").Text;
        Assert.Equal(2, Unsent());
        await cdp.Online(Ct);
        NetworkIsBack();
        browser.Wait(_ => Unsent() == 0 ? browser : null);
        Assert.Equal(done, browser.Find("[data-progress]").Text);
        browser.Open($"/walks/{id}");
        Assert.Equal(done, browser.Find("[data-progress]").Text);
        browser.AssertSound();
    }

    [Fact]
    public async Task A_phone_without_a_network_speaks_the_language_of_whoever_holds_it_and_keeps_the_words_of_the_list()
    {
        await using var cdp = await Phone();
        await browser.App.Ask(async db =>
        {
            // What a planner says for a text goes before what ships, and goes with the phone.
            db.Phrases.Add(
                new()
                {
                    Language = "es",
                    Text = "Left wheels",
                    Said = "Ruedas del cargador, izquierda",
                }
            );
            return await db.SaveChangesAsync(Ct);
        });
        FetchAnew();
        browser.Open("/language");
        browser.Press("[name=language][value=es]");
        browser.Press("main form button");
        browser.WaitForText("#flash", "Desde ahora");
        browser.Find("html[data-kit=ready]");
        await cdp.Offline(Ct);
        Begin("WL-01", "4466.4");
        Assert.Equal("es", browser.Find("html").GetAttribute("lang"));
        browser.WaitForText("header", "Sin red");
        browser.WaitForText("#walk-progress", "revisiones hechas");
        browser.Press("[data-untick=yes] button");
        browser.Find("#step-isolate[data-done=true]");
        browser.Driver.ExecuteScript("document.querySelector('#step-off-left').open = true");
        browser.WaitForText("#step-off-left", "Ruedas del cargador, izquierda");
        browser.WaitForText("#step-off-left", "Llantas izquierdas por dentro y por fuera");
        browser.Press("#check-tyres-left button[value=fault]");
        browser.WaitForText("#check-tyres-left", "lonas a la vista");
        browser.Press("#check-tyres-left input[name=usual][value='cord showing']");
        browser.Press("#check-tyres-left form[data-fault] > button");
        browser.WaitForText("#check-tyres-left [data-stop-now]", "para aquí");
        browser.AssertSound();
        await cdp.Online(Ct);
        NetworkIsBack();
        browser.Wait(_ => Unsent() == 0 ? browser : null);
        var kept = await browser.App.Ask(db => db.Defects.OrderByDescending(x => x.Id).FirstAsync(x => x.Machine.Unit == "WL-01", Ct));
        Assert.Equal(("cord showing", DefectGrade.Stop), (kept.Words, kept.Grade));
        browser.Open($"/defects/{kept.Id}");
        browser.WaitForText("main", "lonas a la vista");
    }

    [Fact]
    public async Task Two_phones_on_one_walk_the_later_answer_counts()
    {
        await using var cdp = await Phone();
        await cdp.Offline(Ct);
        Begin("WL-01", "4466.4");
        browser.Driver.ExecuteScript("document.querySelector('#step-off-left').open = true");
        browser.Press("#check-tyres-left button[value=sound]");
        browser.Find("#check-tyres-left[data-outcome=ok]");

        // The other begins the same walk with a network, and answers later that the tyre is bad.
        var ines = new Actor("Ines Varrow", Roles.Operator);
        browser.App.Clock.Advance(TimeSpan.FromMinutes(5));
        var id = (await Use<StartWalk, Outcome<StartedWalk>>(x => x.Run(new() { Unit = "WL-01", Hours = "4466.4" }, ines, Ct)))
            .Value!
            .WalkId;
        var bad = TypedFields.None.With("seen", "fault").With("ticked", true);
        Assert.Empty((await Use<SaveAnswer, Outcome<SavedAnswer>>(x => x.Run(id, new("tyres-left", bad), ines, Ct))).Refusals);
        await cdp.Online(Ct);
        NetworkIsBack();
        browser.Wait(d => d.Url.EndsWith($"/walks/{id}", StringComparison.Ordinal) ? d : null);
        browser.Find("#check-tyres-left[data-outcome=fault]");
        var audit = await browser.App.Ask(db => db.Audit.SingleAsync(x => x.What == "walk.answer.later", Ct));
        Assert.Contains("Tam Ollery", audit.Before);
        Assert.Contains("Ines Varrow", audit.After);
    }

    private async Task<T> Use<TCase, T>(Func<TCase, Task<T>> use)
        where TCase : notnull
    {
        await using var scope = browser.App.Services.CreateAsyncScope();
        return await use(scope.ServiceProvider.GetRequiredService<TCase>());
    }

    [Fact]
    public async Task A_session_that_was_revoked_meanwhile_keeps_what_waits_until_its_person_is_back_and_signing_out_empties_the_phone()
    {
        await using var cdp = await Phone();
        await cdp.Offline(Ct);
        browser.Open("/machines/WL-01");
        browser.Find("html[data-shell=ready]");
        browser.Type("#hours", "4466.6");
        browser.Press("form[data-phone=hours] button");
        browser.Find("[data-kept]");
        browser.AssertSound(Browser.Look.Whole);
        browser.Driver.Manage().Cookies.DeleteAllCookies();
        await cdp.Online(Ct);
        NetworkIsBack();
        browser.Find("html[data-signed-out]");
        Assert.Equal(1, Unsent());
        browser.Open("/sign-in");
        browser.WaitForText("#outbox-left", "1 done by Tam Ollery");
        browser.AssertSound();

        // Somebody else does not send it under their name.
        browser.SignIn("ines");
        browser.Find("html[data-kit=ready]");
        Assert.Equal(1, Unsent());
        browser.SignIn("tam");
        browser.Wait(_ => Unsent() == 0 ? browser : null);
        Assert.Equal("Tam Ollery", await browser.App.Ask(db => db.Readings.OrderByDescending(x => x.Id).Select(x => x.By).FirstAsync(Ct)));
        browser.Open("/walks");
        browser.Find("html[data-kit=ready]");
        browser.Driver.ExecuteScript("document.querySelector('form[action=\"/sign-out\"]').requestSubmit()");
        browser.Find("#userName");
        Assert.Equal(
            0L,
            browser.Driver.ExecuteAsyncScript(
                "const done = arguments[0]; const open = indexedDB.open('nippers');"
                    + " open.onsuccess = () => { const all = open.result.transaction('machines').objectStore('machines').count();"
                    + " all.onsuccess = () => done(all.result); }"
            )
        );
    }

    [Fact]
    public async Task A_session_that_ends_in_the_middle_of_a_walk_with_a_network_loses_no_answer()
    {
        await using var cdp = await Phone();
        browser.Open("/walk/EX-01");
        browser.Find("#hours").SendKeys("3107.5");
        browser.Press("form[novalidate] button.btn-tall");
        browser.Find("html[data-walk=ready]");
        browser.Driver.Manage().Cookies.DeleteAllCookies();
        browser.Press("[data-untick=yes] button");
        browser.Find("html[data-signed-out]");
        browser.Find("#step-isolate[data-done=true]");
        Assert.Equal(1, Unsent());
        Assert.Equal(0, await browser.App.Ask(db => db.WalkAnswers.CountAsync(x => x.Code == "step:isolate" && x.By == "Tam Ollery", Ct)));
        browser.SignIn("tam");
        browser.Wait(_ => Unsent() == 0 ? browser : null);
        Assert.Equal(1, await browser.App.Ask(db => db.WalkAnswers.CountAsync(x => x.Code == "step:isolate" && x.By == "Tam Ollery", Ct)));
    }

    [Fact]
    public async Task A_machine_left_for_tomorrow_without_a_network_is_sent_with_the_time_at_which_it_was_left()
    {
        await using var cdp = await Phone();
        await cdp.Offline(Ct);
        browser.Open("/machines/WL-01");
        browser.Find("html[data-shell=ready]");
        browser.Press("form[data-phone=evening] button");
        browser.WaitForText("#done-wrong", "Tick what was done");
        browser.Press("form[data-phone=evening] input[value=Level]");
        browser.Press("form[data-phone=evening] input[value=Heater]");
        browser.Press("form[data-phone=evening] button");
        browser.Find("[data-kept]");
        Assert.Equal(1, Unsent());
        var left = browser.App.Clock.GetUtcNow();
        await cdp.Online(Ct);
        NetworkIsBack();
        browser.Wait(_ => Unsent() == 0 ? browser : null);
        var row = await browser.App.Ask(db => db.Parkings.AsNoTracking().OrderByDescending(x => x.Id).FirstAsync(Ct));
        Assert.Equal(("Level Heater", "Tam Ollery"), (row.Done, row.By));
        Assert.InRange(row.At, left.AddMinutes(-1), left.AddMinutes(5));

        // From then on the phone holds how it was left, and opens without a network all the same.
        FetchAnew();
        browser.Open("/");
        browser.Find("html[data-kit=ready]");
        await cdp.Offline(Ct);
        browser.Open("/phone");
        browser.Find("html[data-shell=ready]");
        browser.WaitForText("#phone-root", "WL-01");
        browser.Open("/walk/WL-01");
        browser.Find("html[data-shell=ready]");
        browser.Find("#hours");
    }

    [Fact]
    public async Task What_the_server_refuses_stays_with_its_reason_until_somebody_has_dealt_with_it()
    {
        await using var cdp = await Phone();
        await cdp.Offline(Ct);
        browser.Open("/machines/WL-01");
        browser.Find("html[data-shell=ready]");
        browser.Type("#hours", "4466.6");
        browser.Press("form[data-phone=hours] button");
        browser.Find("[data-kept]");

        // Meanwhile the meter was read higher.
        await browser.App.Ask(async db =>
        {
            var machine = await db.Machines.SingleAsync(x => x.Unit == "WL-01", Ct);
            var last = await db.Readings.Where(x => x.MachineId == machine.Id).OrderByDescending(x => x.At).FirstAsync(Ct);
            var more = Nippers.Core.Hours.MeterHours.Of(3);
            db.Readings.Add(
                new()
                {
                    MachineId = machine.Id,
                    At = last.At.AddMinutes(1),
                    ShownHours = last.ShownHours + more,
                    LifeHours = last.LifeHours + more,
                    By = "Bea Lund",
                    EnteredAt = last.At,
                }
            );
            return await db.SaveChangesAsync(Ct);
        });
        await cdp.Online(Ct);
        NetworkIsBack();
        browser.WaitForText("#outbox", "1 refused");
        browser.Open("/phone#outbox");
        browser.WaitForText("[data-entry]", "meter does not run back");
        browser.AssertSound(Browser.Look.Whole);
        browser.Driver.ExecuteScript("document.querySelector('[data-entry]').dataset.old = 'yes'");
        browser.Press("[data-again]");
        browser.WaitForText("[data-entry]:not([data-old])", "meter does not run back");
        browser.Press("[data-throw]");
        browser.Driver.SwitchTo().Alert().Accept();
        browser.Wait(d => d.FindElements(By.CssSelector("[data-entry]")).Count == 0 ? d : null);
        Assert.Equal(0, Unsent());
    }

    [Fact]
    public async Task A_phone_that_is_an_hour_ahead_keeps_the_right_time()
    {
        await using var cdp = await Phone(ahead: TimeSpan.FromHours(1));
        await cdp.Offline(Ct);
        Begin("WL-01", "4466.4");
        browser.Press("[data-untick=yes] button");
        browser.Find("#step-isolate[data-done=true]");
        await cdp.Online(Ct);
        NetworkIsBack();
        browser.Wait(_ => Unsent() == 0 ? browser : null);
        var now = browser.App.Clock.GetUtcNow();
        var row = await browser.App.Ask(db =>
            db.Walks.OrderByDescending(x => x.Id).Where(x => x.Machine.Unit == "WL-01").Select(x => x.StartedAt).FirstAsync(Ct)
        );
        Assert.InRange(row, now.AddMinutes(-2), now);
    }

    [Fact]
    public async Task Both_builds_of_the_rules_judge_two_thousand_random_answers_alike()
    {
        browser.KeepsForLater = true;
        await browser.Begin("tam");
        var lists = await browser.App.Ask(db => db.WalkListVersions.AsNoTracking().ToListAsync(Ct));
        var checks = lists.SelectMany(x => x.ToList().Checks).ToList();
        var chance = new Random(2000);
        var cases = Enumerable.Range(0, 2000).Select(_ => Random(checks[chance.Next(checks.Count)], chance)).ToList();
        var text = JsonSerializer.Serialize(cases, ListJson.Options);
        var phone = (string)
            browser.Driver.ExecuteAsyncScript(
                "const [cases, done] = arguments; import('/gen/phone/dotnet.js').then(async m => { const r = await m.dotnet.create();"
                    + " await r.runMain(); const p = (await r.getAssemblyExports('Nippers.Phone')).Nippers.Phone.Program;"
                    + " done(p.Judge(cases)); }).catch(x => done(String(x)))",
                text
            )!;
        Assert.Equal(PhoneJudge.All(text), phone);
        var judged = JsonSerializer.Deserialize<List<CheckResult>>(phone, ListJson.Options)!;
        Assert.Equal(2000, judged.Count);
        Assert.True(judged.Select(x => x.Outcome).Distinct().Count() >= 5);
    }

    private static JudgeCase Random(WalkCheck check, Random chance)
    {
        T Any<T>()
            where T : struct, Enum => Enum.GetValues<T>()[chance.Next(Enum.GetValues<T>().Length)];
        CheckAnswer answer = check.Kind switch
        {
            CheckKind.Look or CheckKind.Test => new SeenAnswer(chance.Next(2) == 0),
            CheckKind.Level => new LevelAnswer(
                Math.Round(chance.NextDouble() * 1.6 - 0.3, 2),
                Any<FluidLook>(),
                chance.Next(3) == 0 ? Math.Round(chance.NextDouble() * 9, 1) : null,
                chance.Next(3) == 0 ? Any<LevelAfter>() : null,
                chance.Next(2) == 0,
                chance.Next(4) == 0
            ),
            CheckKind.Measure => new MeasureAnswer([
                .. Enumerable
                    .Range(0, check.Figures)
                    .Select(_ => Math.Round(chance.NextDouble() * 1.4 * (check.High ?? check.Low ?? 40), 3)),
            ]),
            CheckKind.Count or CheckKind.Grease => new PointsAnswer([.. check.Points.Select(_ => Any<PointState>())]),
            CheckKind.Drain => new DrainAnswer(Any<DrainAmount>(), chance.Next(3) == 0 ? [Any<DrainAmount>(), Any<DrainAmount>()] : null),
            CheckKind.Code => new CodesAnswer(
                chance.Next(3) switch
                {
                    0 => [FaultCode.Parse("100/1")!.Value],
                    1 => [FaultCode.Parse("E361(2)")!.Value],
                    _ => [],
                },
                Red: true
            ),
        };
        if (chance.Next(12) == 0)
            answer = new LeftOutAnswer("busy", chance.Next(2) == 0);
        answer = answer with { WrongPosture = chance.Next(8) == 0, Ticked = true };
        bool Coin() => chance.Next(2) == 0;
        return new(check, PackedAnswers.WriteOne(answer), Coin(), Coin(), chance.Next(6) == 0, Coin());
    }
}
