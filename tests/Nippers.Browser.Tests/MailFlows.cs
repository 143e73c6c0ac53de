using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App.Mail;
using Nippers.Data.Mail;
using Nippers.StandIns;

namespace Nippers.Browser.Tests;

/// <summary>A stop on a walk reaches somebody who was not there.</summary>
public sealed class MailFlows(Browser browser) : IClassFixture<Browser>
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_stop_on_a_walk_sends_one_message_whose_link_opens_the_defect_where_it_is_acknowledged()
    {
        await using var stand = new MailStand(0);
        stand.Start();
        await browser.Begin("mara");

        // The planner names the server, and puts the gate on the list.
        browser.Open("/settings/mail");
        browser.AssertSound(Browser.Look.Whole);
        browser.Type("#host", "127.0.0.1");
        browser.Type("#port", stand.Port.ToString(CultureInfo.InvariantCulture));
        browser.Type("#from", "nippers@fleet.invalid");
        browser.Find("#security option[value=Open]").Click();
        browser.Press("form:has(#host) .btn-main");
        browser.WaitForText("#host-wrong", "inside a network");
        browser.AssertSound(Browser.Look.Whole);
        browser.Press("input[name=ownNetwork]");
        browser.Press("form:has(#host) .btn-main");
        browser.WaitForText("#flash", "Messages go out");
        browser.Press("[data-site='North Bank'] summary");
        browser.Type("[data-site='North Bank'] input[name=contactName]", "The gate");
        browser.Type("[data-site='North Bank'] input[name=contactAddress]", "gate@fleet.invalid");
        browser.Press("[data-site='North Bank'] form[action$='Add'] .btn");
        browser.WaitForText("[data-site='North Bank']", "gate@fleet.invalid");

        // The operator finds the horn dead.
        browser.Size(390, 844);
        browser.SignIn("ines");
        browser.Open("/walk/EX-01");
        browser.Type("#hours", "3107.5");
        browser.Press("form[novalidate] button.btn-tall");
        browser.WaitForText("#flash", "Walkaround of EX-01 begun");
        var walk = browser.Driver.Url[(browser.Driver.Url.LastIndexOf('/') + 1)..];
        browser.Open($"/walks/{walk}/at/key-cab");
        browser.Press("#check-horn button[value=fault]");
        browser.Type("#check-horn #words", "Horn dead, wire off at the button");
        browser.Press("#check-horn form[data-fault] > button");
        browser.Find("#check-horn [data-defect]");

        // Once: a quarter of an hour later the next of the list would be told.
        browser.App.Clock.Advance(Nippers.Tests.DemoApp.LabRound);
        browser.Wait(d => Told(stand).Count >= 2 ? d : null);

        // One to the first of the site's list, one to the planner who chose it.
        var told = Told(stand);
        Assert.Equal(["mara@fleet.example.invalid", "tam@fleet.example.invalid"], told.Select(x => x.To).Order());
        Assert.All(told, x => Assert.Contains("Horn dead, wire off at the button", x.Subject, StringComparison.Ordinal));
        var link = told.First(x => x.To.StartsWith("tam", StringComparison.Ordinal))
            .Text.Split(' ', '\n')
            .First(x => x.Contains("/defects/", StringComparison.Ordinal));

        // Its link opens the defect; who has it says so, and nobody else is told.
        browser.SignIn("tam");
        browser.Open(new Uri(link.Trim()).AbsolutePath);
        browser.WaitForText("main", "Horn dead, wire off at the button");
        browser.AssertSound(Browser.Look.Whole);
        browser.Press("form[action$='acknowledge'] button");
        browser.WaitForText("#flash", "Nobody else is told");
        browser.WaitForText("[data-acknowledged=yes]", "Tam Ollery sees to it");
        for (var i = 0; i < 4; i++)
        {
            browser.App.Clock.Advance(TimeSpan.FromMinutes(16));
            await using var scope = browser.App.Services.CreateAsyncScope();
            await scope.ServiceProvider.GetRequiredService<MailRound>().Run(Ct);
        }

        Assert.Equal(2, await browser.App.Ask(db => db.Mail.CountAsync(x => x.Subject.Contains("EX-01"), Ct)));

        // What one is told is one's own choice.
        browser.Open("/mail");
        browser.Type("#morningAt", "0530AM");
        browser.Find("#stops option[value=AtOnce]").Click();
        browser.Press("form:has(#address) .btn-main");
        browser.WaitForText("#flash", "Saved");
        browser.AssertSound(Browser.Look.Whole);
        var choice = await browser.App.Ask(db => db.MailPeople.SingleAsync(x => x.Address.StartsWith("tam"), Ct));
        Assert.Equal((5 * 60 + 30, MailWhen.AtOnce), (choice.MorningAt, choice.Stops));
    }

    private static List<TakenMail> Told(MailStand stand) =>
        [.. stand.Taken.Where(x => x.Subject.StartsWith("EX-01", StringComparison.Ordinal))];
}
