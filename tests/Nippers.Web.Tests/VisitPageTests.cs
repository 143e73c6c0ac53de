using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.Defects;
using Nippers.Core.Defects;
using Nippers.Data.Defects;
using Nippers.Data.Visits;
using Nippers.Tests;

namespace Nippers.Web.Tests;

/// <summary>Visits, cards and parts over HTTP, without scripts.</summary>
public sealed class VisitPageTests(AppFixture fixture) : IClassFixture<AppFixture>
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static async Task<string> Visit(DemoApp app, VisitState state) =>
        $"/visits/{await app.Ask(db => Task.FromResult(db.Visits.First(x => x.State == state).Id))}";

    [Fact]
    public async Task A_pick_list_is_ticked_into_the_van_and_what_did_not_come_back_stands_on_the_card()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var planned = await app.Ask(db => Task.FromResult(db.Visits.First(x => x.State == VisitState.Planned).Id));
        var path = $"/visits/{planned}";
        var page = await tam.Read(path);
        var lines = page.QuerySelectorAll("form[data-van] [name=line]").Select(x => x.GetAttribute("value")!).ToList();
        Assert.Equal(lines.Count, lines.Distinct().Count());
        Assert.Contains("gear:LockAndTag", lines);

        var loaded = await tam.Submit(page, path, "form[data-van]", ("line", "gear:LockAndTag"), ("line", "gear:Rags"));
        Assert.Equal(HttpStatusCode.Redirect, loaded.StatusCode);
        page = await tam.Read(path);
        Assert.Equal(
            ["gear:LockAndTag", "gear:Rags"],
            page.QuerySelectorAll("form[data-van] [name=line][checked]").Select(x => x.GetAttribute("value")!).Order()
        );

        await app.Ask(db => db.Visits.Where(x => x.Id == planned).ExecuteUpdateAsync(x => x.SetProperty(v => v.State, VisitState.Closed)));
        await app.Ask(async db =>
        {
            var open = await db.Visits.FirstAsync(x => x.State == VisitState.Open);
            await db.VanLines.Where(x => x.VisitId == planned).ExecuteUpdateAsync(x => x.SetProperty(v => v.VisitId, open.Id));
            return open.Id;
        });
        var card = $"/visits/{await app.Ask(db => Task.FromResult(db.Visits.First(x => x.State == VisitState.Open).Id))}";
        page = await tam.Read(card);
        Assert.Equal(["gear:LockAndTag"], page.QuerySelectorAll("[data-van-missing] [name=line]").Select(x => x.GetAttribute("value")!));
        await tam.Submit(page, card, "[data-van-missing] form", ("line", "gear:LockAndTag"));
        Assert.Null((await tam.Read(card)).QuerySelector("[data-van-missing]"));
    }

    [Theory]
    [InlineData("2020-01-01", "2026-12-02")]
    [InlineData("2099-01-01", "2026-12-03")]
    [InlineData("soon", "2026-12-04")]
    public async Task A_day_on_which_no_visit_can_be_leaves_what_was_chosen_ticked(string day, string right)
    {
        using var tam = await Visitor.As(fixture.App, "tam");
        var path = $"/machines/DZ-02/visit?chosen=true&on={day}&items=engine-oil&items=belts&twoPeople=true&note=Bring+the+hoist";
        var page = await tam.Read(path);
        Assert.NotEmpty(page.QuerySelector("#on-wrong")!.TextContent);
        Assert.Equal(day, page.QuerySelector("#on")!.GetAttribute("value"));
        Assert.Equal(["belts", "engine-oil"], page.QuerySelectorAll("[name=items][checked]").Select(x => x.GetAttribute("value")!).Order());
        Assert.NotNull(page.QuerySelector("[name=twoPeople][checked]"));
        Assert.Equal("Bring the hoist", page.QuerySelector("#note")!.TextContent);
        Assert.Contains("figures shown are those of", page.QuerySelector("[data-figures]")!.TextContent, StringComparison.Ordinal);

        // The right day is typed: its own figures, and it is planned as it was ticked.
        Assert.Null((await tam.Read(path.Replace(day, right, StringComparison.Ordinal))).QuerySelector("[data-figures]"));
        var planned = await tam.Submit(page, path, "#plan", ("on", right), ("items", "engine-oil"), ("items", "belts"));
        Assert.Equal(HttpStatusCode.Redirect, planned.StatusCode);
    }

    [Fact]
    public async Task Of_more_than_one_card_holds_all_stays_ticked_to_be_lessened()
    {
        const string path = "/machines/DZ-02/visit";
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        await using var scope = app.Services.CreateAsyncScope();
        for (var i = 0; i < 70; i++)
        {
            var found = new DefectInput
            {
                Unit = "DZ-02",
                Words = $"Rivet {i} is loose",
                Grade = DefectGrade.NextService,
                On = MachinePart.Other,
            };
            Assert.True(
                (await scope.ServiceProvider.GetRequiredService<ReportDefect>().Run(found, new("Tam Ollery", Roles.Technician), Ct)).Done
            );
        }

        var all = (await tam.Read(path)).QuerySelectorAll("[name=items]").Select(x => x.GetAttribute("value")!).Order().ToList();
        var answer = await tam.Get(path + "?chosen=true" + string.Concat(all.Select(x => $"&items={Uri.EscapeDataString(x)}")));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        var page = await Visitor.Parse(answer);
        Assert.NotEmpty(page.QuerySelectorAll(".wrong"));
        Assert.Contains("no figures", page.QuerySelector("[data-figures]")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(all, page.QuerySelectorAll("[name=items][checked]").Select(x => x.GetAttribute("value")!).Order());
    }

    [Fact]
    public async Task A_planned_visit_is_called_off_with_its_reason_and_without_one_it_is_asked_for_where_it_is_written()
    {
        const string form = "form[action*='handler=cancel']";
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var visit = await Visit(app, VisitState.Planned);

        var asked = await Visitor.Parse(await tam.Submit(visit, form, ("reason", " ")));
        var field = asked.QuerySelector("#reason-wrong")!;
        Assert.NotEmpty(field.TextContent);
        Assert.True(field.Closest("details")!.HasAttribute("open"));
        Assert.Equal(VisitState.Planned, await State());

        await tam.Submit(asked, visit, form, ("reason", "Machine was moved away"));
        Assert.Equal(VisitState.Voided, await State());
        Assert.Contains(
            "Machine was moved away",
            (await tam.Read(visit)).QuerySelector(".stop-note")!.TextContent,
            StringComparison.Ordinal
        );
        Assert.DoesNotContain((await tam.Read("/visits")).QuerySelectorAll("a"), x => x.GetAttribute("href") == visit);

        Task<VisitState> State() => app.Ask(db => db.Visits.Where(x => "/visits/" + x.Id == visit).Select(x => x.State).SingleAsync(Ct));
    }

    [Fact]
    public async Task A_proposed_visit_says_how_long_it_takes_and_what_it_is_for_where_no_interval_names_it()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var stop = await app.Ask(db =>
            db.Defects.Where(x => x.Grade == DefectGrade.Stop && x.State == DefectState.Open)
                .Select(x => new { x.Machine.Unit, x.Words })
                .FirstAsync(Ct)
        );

        var row = (await tam.Read("/visits"))
            .QuerySelectorAll("section[aria-labelledby=proposed-h] li")
            .First(x => x.QuerySelector(".plate")!.TextContent == stop.Unit);

        Assert.Contains(stop.Words, row.QuerySelector(".font-semibold")!.TextContent, StringComparison.Ordinal);
        Assert.DoesNotContain(" · 0 min", row.TextContent, StringComparison.Ordinal);
        Assert.Contains(" min", row.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_plan_stands_beside_going_each_time()
    {
        using var tam = await Visitor.As(fixture.App, "tam");

        var page = await tam.Read("/machines/DZ-01/visits");

        var rows = page.QuerySelectorAll("table")[0]
            .QuerySelectorAll("tbody tr")
            .Select(x => x.QuerySelectorAll("td").Select(y => y.TextContent).ToList())
            .ToList();
        Assert.True(
            int.Parse(rows[0][0], System.Globalization.CultureInfo.InvariantCulture)
                <= int.Parse(rows[1][0], System.Globalization.CultureInfo.InvariantCulture)
        );
        Assert.NotEmpty(page.QuerySelectorAll("svg.rail .rail-stem"));
        Assert.Equal(page.QuerySelectorAll("[data-proposed]").Length, page.QuerySelectorAll("svg.rail .rail-stem").Length);
    }

    [Fact]
    public async Task A_form_with_nothing_ticked_plans_nothing_and_says_so()
    {
        using var tam = await Visitor.As(fixture.App, "tam");
        var token = (await tam.Read("/machines/EX-03/visit"))
            .QuerySelector("#plan input[name=__RequestVerificationToken]")!
            .GetAttribute("value")!;

        var answer = await tam.Post(
            "/machines/EX-03/visit",
            new FormUrlEncodedContent([new("on", "2019-01-01"), new("__RequestVerificationToken", token)])
        );

        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.NotNull((await Visitor.Parse(answer)).QuerySelector("#items-wrong"));
    }

    [Fact]
    public async Task A_step_says_beside_the_field_what_cannot_be_and_keeps_what_was_typed()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var step = await Visit(app, VisitState.Open) + "/steps/engine-oil.drained";

        var refused = await tam.Submit(step, "form[data-ask]", ("litres", "400"), ("note", "by the tank"));
        var page = await Visitor.Parse(refused);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Contains("far more", page.QuerySelector("#litres-wrong")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(
            ("400", "by the tank"),
            (page.QuerySelector("#litres")!.GetAttribute("value"), page.QuerySelector("#note")!.GetAttribute("value"))
        );
        Assert.Contains(
            "dot",
            (await Visitor.Parse(await tam.Submit(step, "form[data-ask]", ("litres", "24,500"))))
                .QuerySelector("#litres-wrong")!
                .TextContent,
            StringComparison.OrdinalIgnoreCase
        );

        // This engine is known to use oil, so that what is short asks why and is no leak; milky is a fault whatever was said.
        var asks = await tam.Submit(step, "form[data-ask]", ("litres", "15"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, asks.StatusCode);
        Assert.Contains("say why", (await Visitor.Parse(asks)).QuerySelector("[data-stopped]")!.TextContent, StringComparison.Ordinal);
        var milky = await tam.Submit(step, "form[data-ask]", ("litres", "15"), ("reason", "uses oil, known"), ("look", "Milky"));
        Assert.Equal(HttpStatusCode.Redirect, milky.StatusCode);
        Assert.Contains(
            "defect #",
            (await tam.Read(milky.Headers.Location!.ToString())).QuerySelector("#flash")!.TextContent,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task A_scanned_bottle_opens_the_step_of_the_card_that_waits_for_it()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var card = await Visit(app, VisitState.Open);
        var unit = (await tam.Read(card)).QuerySelector(".plate")!.TextContent.Trim();

        // The demo's card has its bottle already; here it has not been drawn yet.
        await app.Ask(db => db.Steps.Where(x => x.Code.StartsWith("engine-oil-sample.")).ExecuteDeleteAsync(Ct));
        var step = (await tam.Read(card))
            .QuerySelectorAll($"a[href^='{card}/steps/engine-oil-sample.']")
            .Select(x => x.GetAttribute("href")!)
            .First();
        var code = (await tam.Submit("/samples", "form[action*=prepare]", ("wish", unit + "|engine-oil-sample")))
            .Headers.Location!.ToString()
            .Split('=')[^1];

        var found = (await tam.Get("/samples/find?code=" + code)).Headers.Location!.ToString();

        Assert.Equal($"{step}?mark={code}", found);
        Assert.Equal(code, (await tam.Read(found)).QuerySelector("#mark")!.GetAttribute("value"));
        Assert.Equal(code, (await tam.Read(found.Split('?')[0])).QuerySelector("[data-fill=mark]")!.TextContent);
    }

    [Fact]
    public async Task What_else_belongs_on_the_machine_is_offered_for_a_card_until_it_is_on_it()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var card = await Visit(app, VisitState.Open);
        var id = long.Parse(card.Split('/')[^1], System.Globalization.CultureInfo.InvariantCulture);
        var offered = await Offered();
        Assert.NotEmpty(offered);
        Assert.Empty(offered.Intersect(await OnCard()));

        // What the workshop has switched off belongs on no card.
        var off = offered[^1];
        await app.Ask(async db =>
        {
            var program = await db
                .Visits.Where(x => x.State == VisitState.Open)
                .OrderBy(x => x.Id)
                .Select(x => x.Machine.ProgramId)
                .FirstAsync(Ct);
            await db.Programs.Where(x => x.Id == program).ExecuteUpdateAsync(x => x.SetProperty(p => p.Version, p => p.Version + 1), Ct);
            return await db
                .ProgramItems.Where(x => x.ProgramId == program && x.Code == off)
                .ExecuteUpdateAsync(x => x.SetProperty(i => i.Off, true), Ct);
        });
        Assert.Equal(offered[..^1], await Offered());

        var added = await tam.Submit(card, "form[action$='handler=add']", ("item", offered[0]));
        Assert.Equal(HttpStatusCode.Redirect, added.StatusCode);
        Assert.Contains(offered[0], await OnCard());
        Assert.Equal(offered[1..^1], await Offered());

        async Task<string[]> Offered() =>
            [
                .. (await tam.Read(card))
                    .QuerySelectorAll("select[name=item] option")
                    .Select(x => x.GetAttribute("value")!)
                    .Where(x => x.Length > 0),
            ];

        Task<List<string>> OnCard() => app.Ask(db => db.VisitItems.Where(x => x.VisitId == id).Select(x => x.ItemCode).ToListAsync(Ct));
    }

    [Fact]
    public async Task A_card_is_ticked_on_itself_and_not_closed_while_a_drain_is_open()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var card = await Visit(app, VisitState.Open);
        Assert.NotEmpty((await tam.Read(card)).QuerySelectorAll("[data-open-drain]"));

        var closing = await tam.Submit(card + "/end", "main form", ("minutes", "300"));

        Assert.Equal(HttpStatusCode.UnprocessableEntity, closing.StatusCode);
        Assert.Contains(
            "Drains are open",
            (await Visitor.Parse(closing)).QuerySelector("#form-wrong")!.TextContent,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task Operators_look_at_a_card_and_change_nothing()
    {
        using var ines = await Visitor.As(fixture.App, "ines");
        var card = await Visit(fixture.App, VisitState.Open);

        Assert.Equal(HttpStatusCode.OK, (await ines.Get(card)).StatusCode);
        var token = (await ines.Read("/")).QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!;
        foreach (var handler in new[] { card + "?handler=reopen", card + "?handler=leave", "/parts/TO7-110?handler=move", "/waste" })
        {
            var answer = await ines.Post(
                handler,
                new FormUrlEncodedContent([new("reason", "x"), new("__RequestVerificationToken", token)])
            );
            Assert.Contains("/no-entry", answer.Headers.Location!.ToString(), StringComparison.OrdinalIgnoreCase);
        }
    }

    [Fact]
    public async Task A_part_is_entered_once_and_its_shelf_counted()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");

        var bad = await Visitor.Parse(
            await tam.Submit("/parts/new", "main form", ("post.Number", "!"), ("post.Name", ""), ("post.LengthMm", "long"))
        );
        Assert.NotNull(bad.QuerySelector("#number-wrong"));
        Assert.NotNull(bad.QuerySelector("#name-wrong"));
        Assert.NotNull(bad.QuerySelector("#lengthMm-wrong"));
        Assert.Equal(
            HttpStatusCode.Redirect,
            (
                await tam.Submit("/parts/new", "main form", ("post.Number", "zz-9"), ("post.Name", "=cmd()"), ("post.Price", "3.50"))
            ).StatusCode
        );
        Assert.NotNull(
            (
                await Visitor.Parse(await tam.Submit("/parts/new", "main form", ("post.Number", "ZZ-9"), ("post.Name", "again")))
            ).QuerySelector("#number-wrong")
        );
        await tam.Submit("/parts/ZZ-9", "form[action*=move]", ("kind", "Receipt"), ("quantity", "4"), ("site", "Clay Pit"));
        Assert.Equal("4", (await tam.Read("/parts/ZZ-9")).QuerySelector("[data-store='Clay Pit']")!.TextContent);

        var csv = await (await tam.Get("/exchange/service/stock.csv")).Content.ReadAsStringAsync(Ct);
        Assert.Contains("'=cmd()", csv, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Proposals_visits_filters_stock_and_waste_are_read_with_a_token()
    {
        using var mara = await Visitor.As(fixture.App, "mara");
        var made = await Visitor.Parse(
            await mara.Submit(
                "/settings",
                "form[action*=token]",
                ("name", "yard screen"),
                ("role", "operator"),
                ("scopes", "read"),
                ("scopes", "walks")
            )
        );
        using var client = new HttpClient { BaseAddress = fixture.App.Address };
        client.DefaultRequestHeaders.Authorization = new("Bearer", made.QuerySelector("#new-token")!.TextContent);

        var proposals = (await client.GetFromJsonAsync<JsonArray>("api/v1/machines/EX-03/proposals", Ct))!;
        Assert.Contains(proposals[0]!["items"]!.AsArray(), x => (string)x!["code"]! == "hydraulic-return");
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("api/v1/machines/XX-99/proposals", Ct)).StatusCode);
        Assert.Contains((await client.GetFromJsonAsync<JsonArray>("api/v1/visits?unit=DZ-02", Ct))!, x => (string)x!["state"]! == "open");
        Assert.Contains((await client.GetFromJsonAsync<JsonArray>("api/v1/filters?unit=DZ-02", Ct))!, x =>
            (string)x!["state"]! == "refused"
        );
        Assert.NotEmpty((await client.GetFromJsonAsync<JsonArray>("api/v1/stock", Ct))!);
        Assert.NotEmpty((await client.GetFromJsonAsync<JsonArray>("api/v1/waste", Ct))!);
    }

    [Fact]
    public async Task Service_data_workshop_site_and_compartment_are_kept_and_refused_beside_their_field()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");

        Assert.NotNull(
            (await Visitor.Parse(await mara.Submit("/machines/EX-01/data", "main form", ("c[0].Capacity", "lots")))).QuerySelector(
                "#capacity-engine-wrong"
            )
        );
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await mara.Submit("/machines/EX-01/data", "main form", ("c[0].Capacity", "25.5"))).StatusCode
        );
        Assert.Equal("25.5", (await mara.Read("/machines/EX-01/data")).QuerySelector("#capacity-engine")!.GetAttribute("value"));
        Assert.NotNull(
            (await Visitor.Parse(await mara.Submit("/settings/shop", "main form", ("post.Vessels", "Pan")))).QuerySelector("#vessels-wrong")
        );
        Assert.Equal(HttpStatusCode.Redirect, (await mara.Submit("/settings/shop", "main form", ("post.CallOut", "200"))).StatusCode);
        Assert.NotNull(
            (
                await Visitor.Parse(await mara.Submit("/settings/site?name=Clay%20Pit", "main form", ("lowC", "20"), ("highC", "-5")))
            ).QuerySelector("#highC-wrong")
        );
        Assert.NotNull(
            (
                await Visitor.Parse(
                    await mara.Submit("/programs/pellow-dozers/compartment?c=engine", "main form", ("fluids", "15W-40: hot"))
                )
            ).QuerySelector("#fluids-wrong")
        );
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await mara.Submit("/programs/pellow-dozers/compartment?c=engine", "main form", ("fluids", "15W-40: -15..45"))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await mara.Submit("/machines/EX-01/position?code=engine-oil", "main form", ("post.Litres", "1.6"))).StatusCode
        );
    }
}
