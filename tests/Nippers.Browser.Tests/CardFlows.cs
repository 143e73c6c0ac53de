using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Core.Service;
using Nippers.Data.Defects;
using Nippers.Data.Visits;
using OpenQA.Selenium;

namespace Nippers.Browser.Tests;

/// <summary>Whole job cards on a phone, from the opening to the sign-off, as they go and as they go wrong.</summary>
public sealed class CardFlows(Browser browser) : IClassFixture<Browser>
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    /// <summary>The most taps that a 500 h card may cost.</summary>
    private const int MostTaps = 90;

    /// <summary>A visit of all that a tier brings on a machine, planned for today.</summary>
    private Task<long> Planned(string unit, int tier) =>
        browser.App.Ask(async db =>
        {
            var machine = await db.Machines.Include(x => x.Program).ThenInclude(x => x.Items).SingleAsync(x => x.Unit == unit, Ct);
            await db
                .Visits.Where(x => x.MachineId == machine.Id)
                .ExecuteUpdateAsync(x => x.SetProperty(v => v.State, VisitState.Voided), Ct);
            var row = new VisitRow
            {
                MachineId = machine.Id,
                On = DateOnly.FromDateTime(browser.App.Clock.GetUtcNow().UtcDateTime),
                PlannedBy = "Mara Quill",
                NameHours = tier,
                Items =
                [
                    .. machine
                        .Program.Items.Where(x =>
                            OptionRule.Holds(x.Needs, machine.OptionWords)
                            && x.EveryHours is { Value: >= 100 } hours
                            && tier % hours.Value == 0
                            && !x.Off
                        )
                        .Select(x => new VisitItemRow { ItemCode = x.Code }),
                ],
            };
            db.Visits.Add(row);
            await db.SaveChangesAsync(Ct);
            return row.Id;
        });

    private async Task Open(long visit)
    {
        var hours = await browser.App.Ask(db =>
            db.Readings.Where(x => db.Visits.Any(v => v.Id == visit && v.MachineId == x.MachineId))
                .OrderByDescending(x => x.At)
                .Select(x => x.ShownHours)
                .FirstAsync(Ct)
        );
        browser.Open($"/visits/{visit}");
        browser.Type("#hours", hours.Value.ToString(CultureInfo.InvariantCulture));
        browser.Press("[name=heat][value=Cold]");
        Leaves(() => browser.Press("form[action*='handler=open'] button"));
        Assert.Empty(browser.Driver.FindElements(By.CssSelector(".wrong")).Select(x => x.Text));
        Leaves(() => browser.Press("[data-next]"));
    }

    private void Leaves(Action act)
    {
        var before = browser.Find("main");
        act();
        browser.Wait(d => VisitFlows.IsGone(before) ? d : null);
        browser.Find("h1");
    }

    private string Step => Uri.UnescapeDataString(browser.Driver.Url.Split('/')[^1]);

    private readonly List<string> _log = [];

    private bool OnStep => browser.Driver.Url.Contains("/steps/", StringComparison.Ordinal);

    private bool Has(string css) => browser.Driver.FindElements(By.CssSelector(css)).Count > 0;

    /// <summary>Sends what stands in the form; a wait that is not over is waited for.</summary>
    private void Send()
    {
        Leaves(() => browser.Press("form[data-ask] button[name=done]"));
        WaitOut();
    }

    private static readonly string[] WaitWords = ["min are left", "no ha terminado: faltan"];

    private void WaitOut()
    {
        var text = browser.Find("main").Text;
        if (!Has("#reason-wrong, #note-wrong") && !WaitWords.Any(x => text.Contains(x, StringComparison.Ordinal)))
            return;
        browser.App.Clock.Advance(TimeSpan.FromMinutes(95));
        VisitFlows.Answer(browser);
        Leaves(() => browser.Press("form[data-ask] button[name=done]"));
    }

    /// <summary>Works on as a calm day goes, up to a step.</summary>
    /// <returns>Taps and typed fields that it took.</returns>
    private int Work(string? upTo = null)
    {
        var taps = 0;
        _log.Clear();
        for (var steps = 0; OnStep && Step != upTo; steps++)
        {
            Assert.True(steps < 200, browser.Driver.Url);
            var (before, at) = (taps, Step);
            if (Has("[data-beside]"))
            {
                Leaves(() => browser.Press("[data-beside] button"));
                taps++;
            }
            else if (Has("[data-all-points], [data-quick]") && !Has("[data-parts] input[type=checkbox]"))
            {
                Leaves(() => browser.Press("[data-all-points], [data-quick]"));
                taps++;
                WaitOut();
            }
            else
            {
                taps += VisitFlows.Answer(browser) + 1;
                Send();
            }

            _log.Add($"{at} {taps - before}");
            Assert.Empty(
                browser
                    .Driver.FindElements(By.CssSelector("[data-stopped], [data-blocked]"))
                    .Select(x => Step + ": " + x.Text + string.Join(", ", _log))
            );
        }

        return taps;
    }

    private async Task Close(long visit, int minutes, string closed = "closed")
    {
        browser.Open($"/visits/{visit}/end");
        browser.Type("#minutes", minutes.ToString(CultureInfo.InvariantCulture));
        Leaves(() => browser.Press("main form .btn-main"));
        browser.WaitForText("#flash", closed);
        browser.AssertSound();
        var row = await browser.App.Ask(db => db.Visits.Include(x => x.Items).SingleAsync(x => x.Id == visit, Ct));
        Assert.Equal(VisitState.Closed, row.State);
        Assert.All(row.Items, x => Assert.Equal(VisitItemState.Done, x.State));
    }

    [Fact]
    public async Task A_500_hour_card_of_a_wheel_loader_is_worked_through_in_ninety_taps()
    {
        await browser.Begin("tam", 390, 844);
        var visit = await Planned("WL-02", 500);
        await Open(visit);
        var states = await browser.App.Ask(async db => (await JobContext.Load(db, visit, Ct))!.Card.Steps);

        // Brakes are tried driving, after the bar of the articulation is stowed; the transmission is read warm and running.
        Assert.Contains(states, x => x.Item == "brake-test" && x.State == MachineState.Moving);
        Assert.Contains(states, x =>
            x.Between == CardBetween.Clear && x.Parts.Any(p => p.Contains("Steering lock", StringComparison.Ordinal))
        );
        var taps = Work();
        await Close(visit, 420);
        Assert.True(taps <= MostTaps, $"{taps} taps for {states.Length} steps: {string.Join(", ", _log)}");
    }

    [Fact]
    public async Task A_250_hour_card_of_an_excavator_with_a_wrong_filter_an_overfill_flakes_and_a_night_between()
    {
        await browser.Begin("tam", 390, 844);
        var visit = await Planned("EX-01", 250);
        await Open(visit);

        // The card may have the filter changed while the oil runs out, or after it.
        var steps = await browser.App.Ask(async db => (await JobContext.Load(db, visit, Ct))!.Card.Steps);
        var filterFirst = steps.First(x => x.Code is "engine-oil.magnet" or "engine-oil.filter-engine-oil").Input == InputKind.Filter;
        if (filterFirst)
            WrongFilter();
        Work("engine-oil.magnet");

        // Flakes: nothing of it runs until two people have written why it may, and the defect stays.
        browser.Press("input[name=metal][value=Flakes]");
        Send();
        browser.WaitForText("#flash", "defect");
        Assert.Equal("engine-oil.magnet.why", Step);
        Leaves(() => browser.Press("form[data-ask] button[name=done]"));
        Assert.Contains("missing", browser.Find("[data-stopped]").Text, StringComparison.Ordinal);
        browser.Type("#note", "paint of the new strainer");
        Send();
        Assert.Equal("engine-oil.magnet.released", Step);
        browser.Type("#note", "seen it too");
        Leaves(() => browser.Press("form[data-ask] button[name=done]"));
        Assert.Contains("Another person", browser.Find("main").Text, StringComparison.Ordinal);
        var released = browser.Driver.Url;

        var next = steps[steps.ToList().FindIndex(x => x.Code == "engine-oil.magnet") + 1].Code;
        browser.Open(released.Replace("engine-oil.magnet.released", next, StringComparison.Ordinal));
        if (!filterFirst)
            WrongFilter();

        // Too much goes in: no start until it is out again.
        Work("engine-oil.before");
        browser.Press("[name=level][value='115']");
        Leaves(() => browser.Press("form[data-ask] button[name=done]"));
        Assert.Contains("Take out", browser.Find("[data-stopped]").Text, StringComparison.Ordinal);
        browser.Press("[name=level][value='100']");
        Send();

        // Overnight the locks stay; in the morning a second person has looked, and it goes on where it was.
        browser.App.Clock.Advance(TimeSpan.FromHours(14));
        browser.SignIn("mara");
        browser.Open(released);
        browser.Type("#note", "no metal in the filter: may run");
        Send();
        browser.SignIn("tam");
        browser.Open($"/visits/{visit}");
        browser.AssertSound();
        Assert.Contains("Tam Ollery", browser.Find("[data-holder]").Text, StringComparison.Ordinal);
        Leaves(() => browser.Press("[data-next]"));
        Work();
        browser.Open($"/visits/{visit}/end");
        browser.WaitForText("[data-found]", "Metal");
        await Close(visit, 900);
        browser.Find("[data-found]");
        Assert.Equal(
            DefectState.Open,
            await browser.App.Ask(db =>
                db.Defects.Where(x => x.Machine.Unit == "EX-01" && x.Words.StartsWith("Metal")).Select(x => x.State).SingleAsync(Ct)
            )
        );
    }

    /// <summary>A filter that does not fit stops its step; the right one goes on.</summary>
    private void WrongFilter()
    {
        Work("engine-oil.filter-engine-oil");
        VisitFlows.Answer(browser);
        browser.Type("#lengthMm", "100");
        Leaves(() => browser.Press("form[data-ask] button[name=done]"));
        Assert.Contains("3 % off", browser.Find("[data-stopped]").Text, StringComparison.Ordinal);
        browser.AssertSound();
        browser.Find("#lengthMm").Clear();
        Send();
    }

    [Fact]
    public async Task A_2000_hour_card_of_a_dozer_is_worked_through()
    {
        await browser.Begin("tam", 390, 844);
        var visit = await Planned("DZ-01", 2000);
        await Open(visit);
        Work();
        await Close(visit, 900);
    }

    [Fact]
    public async Task A_250_hour_card_of_the_haul_truck_is_worked_through_in_Spanish_with_US_units_after_its_program_was_changed()
    {
        await browser.Begin("mara");
        browser.Open("/language");
        browser.Press("[name=language][value=es]");
        Leaves(() => browser.Press("main form button"));
        browser.WaitForText("#flash", "Desde ahora en este idioma");
        browser.Open("/units");
        browser.Press("[name=units][value=us]");
        Leaves(() => browser.Press("main form button"));
        browser.WaitForText("#flash", "Desde ahora en estas unidades");

        // Somebody who reads Spanish changes how often the fuel filter comes; its name stays as it was typed.
        browser.Open("/programs/starter-rigid-haul-truck/item?item=fuel-primary");
        Assert.Equal("Filtro primario de combustible, cambio", browser.Find("h1").Text);
        browser.Type("#everyHours", "250");
        Leaves(() => browser.Press("button[formaction*='preview']"));
        browser.AssertSound();
        Leaves(() => browser.Press("#program-preview button.btn-main"));
        browser.WaitForText("#flash", "guardado");
        var item = await browser.App.Ask(db =>
            db.Programs.Where(x => x.Code == "starter-rigid-haul-truck")
                .SelectMany(x => x.Items)
                .SingleAsync(x => x.Code == "fuel-primary", Ct)
        );
        Assert.Equal(("Fuel primary filter, change", 250.0), (item.Name, item.EveryHours!.Value.Value));

        browser.Size(390, 844);
        var visit = await Planned("HT-01", 250);
        await Open(visit);
        var job = await browser.App.Ask(async db => (await JobContext.Load(db, visit, Ct))!);
        var (spanish, fill) = (Nippers.App.Languages.AllLanguages.Find("es")!, job.Card.Steps.Single(x => x.Code == "engine-oil.fill"));
        Work(upTo: fill.Code);
        Assert.Equal(spanish.Say(fill.Words), browser.Find("h1").Text);
        Assert.Contains(job.Card.Steps, x => x.Item == "fuel-primary");
        Assert.DoesNotContain("fill", browser.Find("main").Text, StringComparison.OrdinalIgnoreCase);
        Assert.Contains("gal", browser.Find("label[for=litres]").Text, StringComparison.Ordinal);
        Work();
        await Close(visit, 420, "cerrada");

        // What was typed in gallons is kept in litres, once: the first fill and what was topped up, to a hundredth of a gallon each.
        var filled = await browser.App.Ask(db => db.OnBoard.SingleAsync(x => x.VisitId == visit && x.Compartment == "engine", Ct));
        var gallons = filled.Litres.Value / 3.785411784;
        Assert.Equal(Math.Round(gallons, 2), gallons, 0.001);
        Assert.InRange(filled.Litres.Value, fill.Litres!.Value, fill.Litres.Value * 1.15);
    }
}
