using System.Globalization;
using System.Net;
using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App.Machines;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data.Records;
using Nippers.Tests;

namespace Nippers.Web.Tests;

/// <summary>What people do, with scripts off: every page works as a plain page first.</summary>
public sealed class PageTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Theory]
    [InlineData("", "Enter what the meter shows.")]
    [InlineData("31o7", "Digits and one dot only")]
    [InlineData("-3", "below 0")]
    [InlineData("1e308", "Digits and one dot only")]
    [InlineData("3107,35", "tenths")]
    [InlineData("5000000", "more than any meter shows")]
    [InlineData("3017.4", "below the 3,107.3 h read on")]
    public async Task Bad_hours_are_told_beside_the_field_and_nothing_typed_is_lost(string typed, string says)
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var before = await app.Ask(db => db.Readings.CountAsync(Ct));
        var answer = await tam.Submit("/machines/EX-01/hours", "form[data-log-hours]", ("hours", typed));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        var page = await Visitor.Parse(answer);
        var field = page.QuerySelector("#hours")!;
        Assert.Equal(
            ("true", "hours-wrong", typed),
            (field.GetAttribute("aria-invalid"), field.GetAttribute("aria-describedby"), field.GetAttribute("value") ?? "")
        );
        Assert.Contains(says, page.QuerySelector("#hours-wrong")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(before, await app.Ask(db => db.Readings.CountAsync(Ct)));
    }

    [Fact]
    public async Task Work_entered_wrong_keeps_every_tick_and_word()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var answer = await tam.Submit(
            "/machines/DZ-02/work",
            "form[novalidate]",
            ("items", "engine-oil"),
            ("items", "belts"),
            ("hours", "8,58"),
            ("on", "2199-01-01"),
            ("note", "Oil dark")
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        var page = await Visitor.Parse(answer);
        Assert.Equal(["engine-oil", "belts"], page.QuerySelectorAll("input[name=items][checked]").Select(x => x.GetAttribute("value")));
        Assert.Equal("Oil dark", page.QuerySelector("#note")!.TextContent.Trim());
        Assert.NotNull(page.QuerySelector("#hours-wrong"));
        Assert.NotNull(page.QuerySelector("#on-wrong"));
    }

    [Fact]
    public async Task A_part_that_is_nearly_worn_is_no_work_to_tick_and_breaks_no_page()
    {
        await using var app = await DemoApp.Start();
        await app.Ask(async db =>
        {
            var machine = await db.Machines.SingleAsync(x => x.Unit == "WL-02", Ct);
            await db.MachineChecks.Where(x => x.MachineId == machine.Id).ExecuteDeleteAsync(Ct);
            await db.Measures.Where(x => x.MachineId == machine.Id).ExecuteDeleteAsync(Ct);
            db.MachineChecks.Add(
                new()
                {
                    MachineId = machine.Id,
                    CheckCode = "edge-height",
                    Name = "Cutting edge",
                    New = 32,
                    Low = 12,
                }
            );
            var last = await db.Readings.Where(x => x.MachineId == machine.Id).MaxAsync(x => x.LifeHours, Ct);
            foreach (var (back, height) in new[] { (300, 30.0), (0, 12.1) })
                db.Measures.Add(
                    new()
                    {
                        MachineId = machine.Id,
                        CheckCode = "edge-height",
                        Value = height,
                        LifeHours = new MeterHours(last.Tenths - (back * 10)),
                        At = app.Clock.GetUtcNow().AddHours(-back),
                        Used = true,
                    }
                );
            return await db.SaveChangesAsync(Ct);
        });
        using var tam = await Visitor.As(app, "tam");
        await using (var scope = app.Services.CreateAsyncScope())
        {
            var stand = await scope.ServiceProvider.GetRequiredService<MachineView>().Stand("WL-02", Ct);
            var group = Assert.Single(stand!.Groups, x => x.Items.Any(i => i.Point.ItemCode == "wear:edge-height"));
            Assert.True(group.Status >= DueStatus.Coming);
        }

        foreach (var form in new[] { "work", "baseline", "hours", "meter" })
        {
            var answer = await tam.Get($"/machines/WL-02/{form}");
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
            Assert.Empty((await Visitor.Parse(answer)).QuerySelectorAll("input[value^='wear:']"));
        }
    }

    [Fact]
    public async Task Kilometres_entered_in_error_are_taken_out_with_a_reason_and_only_with_one()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        const string Address = "/machines/TT-01/odometer";
        const string Form = "form[action*='handler=Void']";
        var before = await app.Ask(db => db.OdometerReadings.CountAsync(Ct));

        var refused = await tam.Submit(Address, Form, ("reason", "  "));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        var page = await Visitor.Parse(refused);
        Assert.Contains("This is needed.", page.QuerySelector("#reason-wrong")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(before, await app.Ask(db => db.OdometerReadings.CountAsync(Ct)));

        Assert.Equal(HttpStatusCode.Redirect, (await tam.Submit(Address, Form, ("reason", "Trip meter, not the odometer"))).StatusCode);
        Assert.Equal(before - 1, await app.Ask(db => db.OdometerReadings.CountAsync(Ct)));
    }

    [Fact]
    public async Task An_item_of_kilometres_says_how_its_due_was_reached()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var said = (await tam.Read("/machines/TT-01/items")).Body!.TextContent;
        var found = Regex.Match(said, "By kilometres every ([0-9,]+) km, after ([0-9,]+) km: ([0-9,]+) km");
        Assert.True(found.Success);
        var figures = found
            .Groups.Values.Skip(1)
            .Select(x => int.Parse(x.Value, NumberStyles.AllowThousands, CultureInfo.InvariantCulture));
        Assert.True(figures.ToArray() is [var every, var from, var due] && Math.Abs(from + every - due) <= 1);
    }

    [Fact]
    public async Task A_machines_form_saved_as_it_stands_keeps_everything_that_is_fitted()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        foreach (var unit in new[] { "DZ-02", "EX-01", "EX-05" })
        {
            var before = await app.Ask(db => db.Machines.Where(x => x.Unit == unit).Select(x => x.Options).SingleAsync(Ct));
            Assert.Equal(HttpStatusCode.Redirect, (await mara.Submit($"/machines/{unit}/edit", "form[novalidate]")).StatusCode);
            var after = await app.Ask(db => db.Machines.Where(x => x.Unit == unit).Select(x => x.Options).SingleAsync(Ct));
            Assert.Empty(before.Split(' ').Except(after.Split(' ')));
        }
    }

    [Fact]
    public async Task A_quick_line_that_is_refused_says_why_and_nothing_of_what_it_would_do()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var answer = await tam.Submit("/", "form[action='/quick']", ("line", "EX-04 defect " + new string('x', 1200)));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        var page = await Visitor.Parse(answer);
        Assert.Contains("1000", page.QuerySelector("[data-refused]")!.TextContent, StringComparison.Ordinal);
        Assert.Null(page.QuerySelector("main [data-quick]"));
    }

    [Fact]
    public async Task Hours_that_were_read_are_shown_as_read_and_an_estimate_is_called_one()
    {
        await using var app = await DemoApp.Start();
        app.Clock.Advance(TimeSpan.FromHours(22));
        using var tam = await Visitor.As(app, "tam");
        var read = await tam.Read("/machines/EX-03");
        Assert.StartsWith("4,233.7", read.QuerySelector("[data-hours]")!.TextContent, StringComparison.Ordinal);
        Assert.StartsWith(
            "4,233.7",
            (await tam.Read("/")).QuerySelector("[data-unit=EX-03] [data-hours]")!.TextContent,
            StringComparison.Ordinal
        );

        app.Clock.Advance(TimeSpan.FromHours(6));
        var estimate = await tam.Read("/machines/EX-03");
        Assert.False(estimate.QuerySelector("[data-hours]")!.TextContent.StartsWith("4,233.7", StringComparison.Ordinal));
        Assert.Contains("An estimate. Last read 4,233.7 h", estimate.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_same_form_sent_twice_records_once()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var page = await tam.Read("/machines/DZ-02/work");
        for (var i = 0; i < 2; i++)
        {
            var answer = await tam.Submit(page, "/machines/DZ-02/work", "form[novalidate]", ("items", "engine-oil"));
            Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        }

        Assert.Equal(
            1,
            await app.Ask(db =>
                db.Completions.CountAsync(x => x.ItemCode == "engine-oil" && x.By == "Tam Ollery" && x.EnteredAt == DemoApp.Now, Ct)
            )
        );
    }

    [Fact]
    public async Task A_second_person_with_an_older_page_is_told_who_was_quicker()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        using var mara = await Visitor.As(app, "mara");
        var seen = (await mara.Read("/machines/DZ-02/work")).QuerySelector("input[name=seen]")!.GetAttribute("value")!;
        await tam.Submit("/machines/DZ-02/work", "form[novalidate]", ("items", "engine-oil"));
        var late = await mara.Submit("/machines/DZ-02/work", "form[novalidate]", ("items", "engine-oil"), ("seen", seen));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, late.StatusCode);
        Assert.Contains(
            "recorded by Tam Ollery",
            (await Visitor.Parse(late)).QuerySelector("#items-wrong")!.TextContent,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task The_quick_line_works_without_scripts_and_offers_near_units()
    {
        await using var app = await DemoApp.Start();
        using var ines = await Visitor.As(app, "ines");
        var logged = await ines.Submit("/", "form[action='/quick']", ("line", "ex1 3107.9"));
        Assert.Equal("/machines/EX-01", logged.Headers.Location!.ToString());
        var unknown = await Visitor.Parse(await ines.Submit("/", "form[action='/quick']", ("line", "EX-10 3107.9")));
        Assert.Contains("EX-01", unknown.QuerySelectorAll("button[data-fill]").Select(x => x.TextContent));
        var words = await Visitor.Parse(await ines.Submit("/", "form[action='/quick']", ("line", "hello there everyone")));
        Assert.Contains("Not understood", words.QuerySelector("[data-quick]")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_replaced_meter_is_recorded_and_the_page_says_what_the_new_one_shows()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var done = await tam.Submit("/machines/EX-01/meter", "form[novalidate]", ("oldFinal", "3107.9"), ("newStart", "0.2"));
        Assert.Equal(HttpStatusCode.Redirect, done.StatusCode);
        var page = await tam.Read("/machines/EX-01");
        Assert.StartsWith("0.2", page.QuerySelector("[data-hours]")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("3,107.9 life hours; the meter was replaced", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Contains(
            "old meter off at 3,107.9 h",
            (await tam.Read("/machines/EX-01/history")).Body!.TextContent,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task Parking_and_going_back_to_work_are_one_tap_each()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        Assert.Equal(HttpStatusCode.Redirect, (await tam.Submit("/machines/EX-01/about", "form[action$='/park']")).StatusCode);
        Assert.Contains("Parked: nothing is projected", (await tam.Read("/machines/EX-01")).Body!.TextContent, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await tam.Submit("/machines/EX-01/about", "form[action$='/park']")).StatusCode);
        Assert.DoesNotContain(
            "Parked: nothing is projected",
            (await tam.Read("/machines/EX-01")).Body!.TextContent,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task Machines_of_a_persons_own_site_come_first_and_a_site_that_is_none_is_no_site()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var yard = await app.Ask(db => db.Sites.Where(x => x.Name == "Landing Yard").Select(x => x.Id).SingleAsync(Ct));
        async Task<List<string>> Sites() =>
            [.. (await tam.Read("/")).QuerySelectorAll("[data-unit] .today-site").Select(x => x.TextContent)];
        var before = await Sites();
        Assert.NotEqual(before.OrderByDescending(x => x == "Landing Yard"), before);
        await tam.Submit("/more", "form[action*='handler=site']", ("site", $"{yard}"));
        var own = await Sites();
        Assert.Equal(before.OrderByDescending(x => x == "Landing Yard"), own);
        Assert.Equal("Landing Yard", (await tam.Read("/more")).QuerySelector("#own-site option[selected]")!.TextContent);
        await tam.Submit("/more", "form[action*='handler=site']", ("site", "999"));
        Assert.Equal(before, await Sites());
    }

    [Fact]
    public async Task Each_part_of_a_machines_page_has_its_own_address_and_says_which_it_is()
    {
        await using var app = await DemoApp.Start();
        using var ines = await Visitor.As(app, "ines");
        (string Part, string Holds)[] parts =
        [
            ("", "Comes next"),
            ("/items", "Service items"),
            ("/visits", "Visits"),
            ("/walks", "Measures"),
            ("/samples", "Engine"),
            ("/filters", "Filters"),
            ("/readings", "Use"),
            ("/record", "Work"),
            ("/about", "Compartments"),
        ];
        foreach (var (part, holds) in parts)
        {
            var page = await ines.Read("/machines/EX-02" + part);
            var tabs = page.QuerySelectorAll(".tabs a");
            Assert.Equal(parts.Length, tabs.Length);
            Assert.Equal("/machines/EX-02" + part, Assert.Single(tabs, x => x.HasAttribute("aria-current")).GetAttribute("href"));
            Assert.Contains(holds, page.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task Changing_a_machine_twice_from_two_windows_is_noticed()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var version = (await tam.Read("/machines/EX-01/edit")).QuerySelector("input[name=version]")!.GetAttribute("value")!;
        Assert.Equal(HttpStatusCode.Redirect, (await tam.Submit("/machines/EX-01/edit", "form[novalidate]", ("serial", "A-1"))).StatusCode);
        var late = await tam.Submit("/machines/EX-01/edit", "form[novalidate]", ("serial", "A-2"), ("version", version));
        Assert.Contains(
            "Somebody changed this meanwhile",
            (await Visitor.Parse(late)).QuerySelector("#form-wrong")!.TextContent,
            StringComparison.Ordinal
        );
        Assert.Equal("A-1", await app.Ask(db => db.Machines.Where(x => x.Unit == "EX-01").Select(x => x.Serial).SingleAsync(Ct)));
    }

    [Fact]
    public async Task Options_switch_items_on_and_off_and_keep_their_history()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        Assert.NotNull((await tam.Read("/machines/DZ-02/items")).QuerySelector("#item-ripper-shank"));
        var form = (await tam.Read("/machines/DZ-02/edit")).QuerySelectorAll("[name=options]");
        Assert.Contains(form, x => x.GetAttribute("value") == "ripper" && x.HasAttribute("checked"));
        await tam.Submit(
            "/machines/DZ-02/edit",
            "form[novalidate]",
            ("options", "ac"),
            ("options", "aftertreatment=def"),
            ("options", "linkage=greased"),
            ("options", "attachment=none")
        );
        Assert.Null((await tam.Read("/machines/DZ-02/items")).QuerySelector("#item-ripper-shank"));
        Assert.True(await app.Ask(db => db.Completions.AnyAsync(x => x.ItemCode == "ripper-shank", Ct)));
    }

    [Fact]
    public async Task A_cut_fleet_file_is_refused_with_a_plain_sentence_and_changes_nothing()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        var before = await app.Ask(db => db.Machines.CountAsync(Ct));
        var whole = await (await mara.Get("/exchange/fleet.nippers.json")).Content.ReadAsByteArrayAsync(Ct);
        var token = (await mara.Read("/exchange"))
            .QuerySelector("form[action='/exchange/fleet'] input[name=__RequestVerificationToken]")!
            .GetAttribute("value")!;
        using var form = new MultipartFormDataContent
        {
            { new StringContent(token), "__RequestVerificationToken" },
            { new ByteArrayContent(whole[..5000]), "file", "half.nippers.json" },
        };
        var answer = await mara.Post("/exchange/fleet", form);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains(
            "The file ends in the middle",
            (await Visitor.Parse(answer)).QuerySelector("#file-wrong")!.TextContent,
            StringComparison.Ordinal
        );
        Assert.Equal(before, await app.Ask(db => db.Machines.CountAsync(Ct)));
    }

    [Fact]
    public async Task People_are_added_switched_off_and_shut_out()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        var weak = await Visitor.Parse(
            await mara.Submit(
                "/settings",
                "form[action*=person]",
                ("fullName", "Col Hartwick"),
                ("userName", "col"),
                ("role", "operator"),
                ("password", "short")
            )
        );
        Assert.Contains("At least 10 characters", weak.QuerySelector("#password-wrong")!.TextContent, StringComparison.Ordinal);
        Assert.Equal("Col Hartwick", weak.QuerySelector("#fullName")!.GetAttribute("value"));
        Assert.Equal(
            HttpStatusCode.Redirect,
            (
                await mara.Submit(
                    "/settings",
                    "form[action*=person]",
                    ("fullName", "Col Hartwick"),
                    ("userName", "col"),
                    ("role", "operator"),
                    ("password", "spring tide")
                )
            ).StatusCode
        );

        using (var col = await Visitor.As(app, "col"))
            Assert.Equal(HttpStatusCode.OK, (await col.Get("/")).StatusCode);
        await mara.Submit("/settings", "form[action*=switch]", ("userName", "col"));
        using var shut = new Visitor(app);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await shut.Submit("/sign-in", "form[action*=sign-in]", ("userName", "col"), ("password", "spring tide"))).StatusCode
        );
        Assert.Equal(
            ["person.signIn", "person.add", "person.signIn", "person.off", "person.lockedOut"],
            await app.Ask(db => db.Audit.Where(x => x.What.StartsWith("person.")).OrderBy(x => x.Id).Select(x => x.What).ToListAsync(Ct))
        );
    }

    [Fact]
    public async Task A_revoked_token_opens_nothing()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        var token = (
            await Visitor.Parse(
                await mara.Submit(
                    "/settings",
                    "form[action*=token]",
                    ("name", "gateway"),
                    ("role", "operator"),
                    ("scopes", "read"),
                    ("scopes", "walks")
                )
            )
        )
            .QuerySelector("#new-token")!
            .TextContent;
        Assert.DoesNotContain(token, (await mara.Read("/settings")).Body!.TextContent, StringComparison.Ordinal);
        using var client = new HttpClient { BaseAddress = app.Address };
        client.DefaultRequestHeaders.Authorization = new("Bearer", token);
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("api/v1/machines", Ct)).StatusCode);
        await mara.Submit("/settings", "form[action*=revoke]");
        Assert.Equal(HttpStatusCode.Unauthorized, (await client.GetAsync("api/v1/machines", Ct)).StatusCode);
        Assert.False(await app.Ask(db => db.ApiTokens.AnyAsync(x => x.Hash == token, Ct)));
    }

    [Fact]
    public async Task An_unconfirmed_reading_is_confirmed_by_a_person_from_the_machine()
    {
        await using var app = await DemoApp.Start();
        using var ines = await Visitor.As(app, "ines");
        Assert.Contains("1 reading to confirm", (await ines.Read("/?look=unconfirmed")).Body!.TextContent, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await ines.Submit("/machines/EX-04/readings", "form[action$='/confirm']")).StatusCode);
        var row = await app.Ask(db => db.Readings.OrderByDescending(x => x.At).FirstAsync(x => x.ShownHours == new MeterHours(45734), Ct));
        Assert.Equal((ReadingState.Accepted, "Ines Varrow"), (row.State, row.DecidedBy));
    }

    [Theory]
    [InlineData("/machines/NOPE")]
    [InlineData("/machines/NOPE/hours")]
    [InlineData("/programs/nope")]
    [InlineData("/nowhere")]
    public async Task A_wrong_address_gets_a_page_that_says_what_to_do(string path)
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var answer = await tam.Get(path);
        Assert.Equal(HttpStatusCode.NotFound, answer.StatusCode);
        Assert.Contains("There is nothing at this address", (await Visitor.Parse(answer)).Body!.TextContent, StringComparison.Ordinal);
    }
}
