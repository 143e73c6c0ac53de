using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Oil;
using Nippers.Data.Oil;
using Nippers.StandIns;
using OpenQA.Selenium;

namespace Nippers.Browser.Tests;

/// <summary>A bottle from its label to a verdict that acts, with a thumb beside the machine and with the stand-in laboratory.</summary>
public sealed class SampleFlows(Browser browser) : IClassFixture<Browser>
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_sample_is_taken_on_a_phone_labelled_sent_answered_judged_and_acts()
    {
        await browser.Begin("tam", 390, 844);
        var server = new LabServer(
            new(0, TimeSpan.Zero, 7, 1000, new Dictionary<string, OilFault> { ["EX-01:hydraulic"] = OilFault.Dirt }),
            browser.App.Clock
        );
        await using var lab = server.Create();
        await lab.StartAsync(Ct);
        var address = lab.Urls.First();
        await browser.App.Ask(db => db.Labs.Where(x => x.Usual).ExecuteUpdateAsync(x => x.SetProperty(m => m.Url, address), Ct));

        // At the machine: what there is to draw, how, and the bottle.
        browser.Open("/machines/EX-01/samples");
        browser.AssertSound();
        browser.Press("a[href$='item=hydraulic-sample']");
        browser.WaitForText("main", "Let a bottleful run into the waste first");
        browser.AssertSound();
        browser.Press("input[name=engine][value=Running]");
        browser.Press("main form .btn-tall");
        browser.WaitForText("#flash", "is saved, at");
        var sample = await browser.App.Ask(db => db.Samples.OrderByDescending(x => x.Id).FirstAsync(Ct));
        Assert.Equal(("hydraulic", DrawState.Running, SampleState.Taken), (sample.Compartment, sample.Engine!.Value, sample.State));

        // The label, and the code typed from it with one character lost to a smudge.
        browser.Press("a[href*='/samples/labels']");
        browser.WaitForText("[data-label]", sample.Bottle);
        browser.AssertSound();
        browser.Open("/samples");
        browser.Type("#code", sample.Bottle[..6] + "?" + Keys.Enter);
        browser.Wait(d => d.Url.EndsWith($"/samples/{sample.Id}", StringComparison.Ordinal) ? d : null);

        // Sent; the list goes out and the answer comes in by itself.
        browser.Open("/samples?part=Taken");
        foreach (
            var other in browser.Driver.FindElements(
                By.CssSelector($"input[name=sample]:not([value='{sample.Id.ToString(CultureInfo.InvariantCulture)}'])")
            )
        )
            browser.Driver.ExecuteScript("arguments[0].click()", other);
        browser.Press("form[action*=send] .btn-main");
        browser.WaitForText("#flash", "1 sample is on its way");
        browser.Wait(d =>
        {
            browser.App.Clock.Advance(Nippers.Tests.DemoApp.LabRound);
            browser.Open("/samples?part=ToReview");
            return d.FindElements(By.CssSelector($"[data-sample='{sample.Bottle}']")).FirstOrDefault();
        });
        browser.AssertSound();
        browser.Open($"/samples/{sample.Id}");
        browser.WaitForText("h2.verdict", "Act: repair first");
        Assert.Contains("dirt", browser.Driver.FindElements(By.CssSelector("[data-pattern]")).Select(x => x.GetAttribute("data-pattern")));
        browser.WaitForText("[data-drain][data-when=Act]", "falls back to its base of 2,000 h");
        browser.AssertSound();
        browser.Press("#sign form .btn-main");
        browser.WaitForText("#flash", "The interval between oil changes is 2,000 h now");
        browser.AssertSound();

        // What it did: a defect, work due now, the interval back at its base, the next sample after the repair.
        browser.WaitForText("main", "Next service");
        browser.Open("/machines/EX-01/oil?c=hydraulic");
        browser.WaitForText("[data-interval]", "2,000");
        browser.WaitForText("main table", "a sample said act or stop");
        browser.AssertSound();
        var defect = await browser.App.Ask(db => db.Defects.OrderByDescending(x => x.Id).FirstAsync(Ct));
        Assert.Equal("hydraulic:oil", defect.Place);
        Assert.True(
            await browser.App.Ask(db =>
                db.WorkRequests.AnyAsync(x => x.SampleId == sample.Id && x.Reason == WorkRequestReason.Assessment && x.DueHours != null, Ct)
            )
        );
        browser.Open($"/defects/{defect.Id}");
        browser.WaitForText("main", "Dirt has come in");
        await lab.StopAsync(Ct);
    }

    [Fact]
    public async Task A_laboratorys_file_with_a_bad_row_is_looked_at_matched_and_taken_in_and_the_verdict_overruled()
    {
        await browser.Begin("tam");
        var sample = await browser.App.Ask(db => db.Samples.Include(x => x.Machine).FirstAsync(x => x.State == SampleState.Sent, Ct));
        var file = Path.Combine(Directory.CreateTempSubdirectory("lab-").FullName, "letter.csv");
        await File.WriteAllTextAsync(
            file,
            $"Vessel;Machine;Iron ppm;Copper ppm;Water ppm\r\n{sample.Bottle};{sample.Machine.Unit};31;900;200\r\nNOBODY;EX-01;5;5;100\r\nBAD;EX-01;minus five;5;100\r\n",
            Ct
        );
        browser.Open("/samples/import");
        browser.AssertSound();
        browser.Find("#file").SendKeys(file);
        browser.Tap("main form .btn-main");

        // Nobody calls the bottle a vessel here: its column has to be shown once.
        browser.WaitForText("#file-wrong", "No column is matched to the bottle");
        browser.AssertSound();
        browser.Driver.ExecuteScript("document.querySelector('select[name=field]').value = 'bottle'");
        browser.Tap("button[formaction*=map]");
        browser.WaitForText("[data-preview]", "Goes to its bottle");
        Assert.Equal(
            ["Matched", "Unmatched", "Unreadable"],
            browser.Driver.FindElements(By.CssSelector("tr[data-fate]")).Select(x => x.GetAttribute("data-fate"))
        );
        browser.AssertSound();
        browser.Tap("button[formaction*=apply]");
        browser.WaitForText("#flash", "1 taken in, 0 corrections, 0 unchanged, 1 unmatched, 1 skipped");
        browser.WaitForText("main", "Results without a bottle");
        browser.AssertSound();

        browser.Open($"/samples/{sample.Id}");
        browser.WaitForText("h2.verdict", "Act: repair first");
        browser.Tap("input[name=verdict][value=Normal]");
        browser.Tap("input[name=defect][value='']");
        browser.Driver.ExecuteScript("for (const x of document.querySelectorAll('input[name=dueNow]')) x.checked = false");
        browser.Tap("#sign form .btn-main");
        browser.WaitForText("#words-wrong", "needed");
        browser.Type("#words", "New cooler");
        browser.Tap("#sign form .btn-main");
        browser.WaitForText("#flash", "Signed: Normal");
        browser.WaitForText("main", "The advice was: Act");
        Assert.Equal(
            "New cooler",
            await browser.App.Ask(db => db.Samples.Where(x => x.Id == sample.Id).Select(x => x.SignedWords).SingleAsync(Ct))
        );
    }
}
