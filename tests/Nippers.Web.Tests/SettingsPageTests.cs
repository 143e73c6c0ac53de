using System.Globalization;
using System.Net;
using AngleSharp.Html.Dom;
using Microsoft.EntityFrameworkCore;
using Nippers.Demo;
using Nippers.Tests;

namespace Nippers.Web.Tests;

/// <summary>Programs, walk lists, limits, parts, sites and passwords: entered wrong, entered right, and read again.</summary>
public sealed class SettingsPageTests(AppFixture fixture) : IClassFixture<AppFixture>
{
    [Fact]
    public async Task A_programs_item_is_changed_only_after_what_it_moves_was_shown()
    {
        using var mara = await Visitor.As(fixture.App, "mara");
        const string page = "/programs/pellow-dozers/item?item=engine-oil";
        var was = Value(await mara.Read(page), "everyHours");

        // A save without a preview shows it first, and so does one of other figures than were shown.
        var shown = await Visitor.Parse(await mara.Submit(page, "main form", ("everyHours", "200")));
        Assert.Contains("DZ-01", shown.QuerySelector("#program-preview")!.TextContent, StringComparison.Ordinal);
        var previewed = shown.QuerySelector("input[name=previewed]")!.GetAttribute("value")!;
        var other = await Visitor.Parse(await mara.Submit(page, "main form", ("everyHours", "150"), ("previewed", previewed)));
        Assert.NotNull(other.QuerySelector("#program-preview"));
        Assert.Equal(was, Value(await mara.Read(page), "everyHours"));

        Assert.Equal(
            HttpStatusCode.Redirect,
            (await mara.Submit(page, "main form", ("everyHours", "200"), ("previewed", previewed))).StatusCode
        );
        Assert.Equal("200.0", Value(await mara.Read(page), "everyHours"));
        Assert.Equal(HttpStatusCode.NotFound, (await mara.Get("/programs/pellow-dozers/item?item=nothing")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await mara.Get("/programs/nothing/item")).StatusCode);
    }

    [Theory]
    [InlineData("everyHours", "often", "#everyHours-wrong")]
    [InlineData("name", "", "#name-wrong")]
    [InlineData("points", "many", "#points-wrong")]
    [InlineData("covers", "nothing-there", "#covers-wrong")]
    public async Task An_item_entered_wrong_is_told_beside_its_field_and_keeps_what_was_typed(string field, string typed, string says)
    {
        using var mara = await Visitor.As(fixture.App, "mara");
        var page = await Visitor.Parse(
            await mara.Submit(
                "/programs/pellow-dozers/item?item=engine-oil",
                "main form",
                (field, typed),
                ("caution", "Hot oil. Let it cool.")
            )
        );
        Assert.NotNull(page.QuerySelector(says));
        Assert.Equal(typed, Value(page, field));
        Assert.Equal("Hot oil. Let it cool.", page.QuerySelector("textarea[name=caution]")!.TextContent);
        Assert.Null(page.QuerySelector("#program-preview"));
    }

    [Theory]
    [InlineData("Tam Ollery", "tam2", "#fullName-wrong")]
    [InlineData("  tam   OLLERY ", "tam2", "#fullName-wrong")]
    [InlineData("+81", "tam2", "#fullName-wrong")]
    [InlineData("Tam Ollery the younger", "+41", "#userName-wrong")]
    [InlineData("Tam Ollery the younger", "tam", "#userName-wrong")]
    [InlineData("", "tam2", "#fullName-wrong")]
    public async Task Nobody_is_called_as_somebody_else_is_or_by_a_name_without_end(string fullName, string userName, string says)
    {
        using var mara = await Visitor.As(fixture.App, "mara");
        Task<int> People() => fixture.App.Ask(db => db.Users.CountAsync(TestContext.Current.CancellationToken));
        var before = await People();
        var (full, user) = (Long(fullName), Long(userName));
        var page = await Visitor.Parse(
            await mara.Submit(
                "/settings",
                "form[action='/settings?handler=person']",
                ("fullName", full),
                ("userName", user),
                ("role", "operator"),
                ("password", "a heap of wet clay")
            )
        );
        Assert.NotNull(page.QuerySelector(says));
        Assert.Equal(
            (full, user),
            (page.QuerySelector("#fullName")!.GetAttribute("value") ?? "", page.QuerySelector("#userName")!.GetAttribute("value"))
        );
        Assert.Equal(before, await People());

        // More letters than fit, written short.
        static string Long(string text) => text.StartsWith('+') ? new string('a', int.Parse(text, CultureInfo.InvariantCulture)) : text;
    }

    [Fact]
    public async Task A_starter_is_copied_into_a_program_of_ones_own()
    {
        using var mara = await Visitor.As(fixture.App, "mara");
        const string page = "/programs/starter-wheel-loader/copy";
        Assert.NotNull(
            (await Visitor.Parse(await mara.Submit(page, "main form", ("name", ""), ("newCode", "own-loaders")))).QuerySelector(
                "#name-wrong"
            )
        );
        var taken = await Visitor.Parse(await mara.Submit(page, "main form", ("name", "Own loaders"), ("newCode", "pellow-dozers")));
        Assert.NotNull(taken.QuerySelector("#code-wrong"));
        Assert.Equal("Own loaders", Value(taken, "name"));
        var made = await mara.Submit(page, "main form", ("name", "Own loaders"), ("newCode", "own-loaders"));
        Assert.Equal("/programs/own-loaders", made.Headers.Location!.ToString());
        Assert.Contains(
            "Own loaders",
            (await mara.Read("/programs/own-loaders")).QuerySelector("h1")!.TextContent,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task Each_person_reads_and_types_in_their_own_units_and_a_form_sent_back_unchanged_changes_nothing()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        using var mara = await Visitor.As(app, "mara");
        const string data = "/machines/WL-01/data";
        static string? Capacity(AngleSharp.Dom.IParentNode page) => page.QuerySelector("#capacity-engine")!.GetAttribute("value");
        Task<double?> Kept() =>
            app.Ask(db =>
                db.MachineCompartments.Where(x => x.Code == "engine" && db.Machines.Any(m => m.Id == x.MachineId && m.Unit == "WL-01"))
                    .Select(x => (double?)x.CapacityLitres!.Value.Value)
                    .SingleAsync(TestContext.Current.CancellationToken)
            );

        Assert.NotNull((await Visitor.Parse(await tam.Submit("/units", "main form", ("units", "furlongs")))).QuerySelector("#units-wrong"));
        await tam.Submit("/units", "main form", ("units", "us"));

        var us = await tam.Read(data);
        Assert.Equal("6.4722", Capacity(us));
        Assert.Equal("us", us.Body!.GetAttribute("data-units"));
        Assert.Equal("24.5", Capacity(await mara.Read(data)));

        // Unchanged, then five gallons, then litres that are named.
        await tam.Submit(data, "main form");
        Assert.Equal(24.5, await Kept());
        await tam.Submit(data, "main form", ("c[0].Capacity", "5"));
        Assert.Equal(18.93, (await Kept())!.Value, 1e-2);
        await tam.Submit(data, "main form", ("c[0].Capacity", "24,5 L"));
        Assert.Equal(24.5, (await Kept())!.Value, 1e-2);
        Assert.Equal("24.5", Capacity(await mara.Read(data)));
    }

    [Fact]
    public async Task What_a_check_measures_is_read_and_typed_in_the_persons_units_one_quantity_apart_from_the_others()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        using var mara = await Visitor.As(app, "mara");
        const string limits = "/machines/WL-01/limits";
        const string form = "form:has(input[value=pressure-front-left])";
        static string? Low(AngleSharp.Dom.IParentNode page) => page.QuerySelector("#low-pressure-front-left")!.GetAttribute("value");

        await tam.Submit("/units", "main form", ("units", "us"));
        await tam.Submit(limits, form, ("low", "51"), ("high", "4.6 bar"), ("watchBelow", ""));
        var page = await tam.Read(limits);
        Assert.Equal("51", Low(page));
        Assert.Contains("psi", page.QuerySelector("label[for=low-pressure-front-left]")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("from 51 to 66.72 psi", page.Body!.TextContent, StringComparison.Ordinal);
        Assert.Equal("3.516", Low(await mara.Read(limits)));
        var kept = await app.Ask(db =>
            db.MachineChecks.SingleAsync(
                x => x.CheckCode == "pressure-front-left" && db.Machines.Any(m => m.Id == x.MachineId && m.Unit == "WL-01"),
                TestContext.Current.CancellationToken
            )
        );
        Assert.Equal((3.516, 4.6), (kept.Low, kept.High));

        // Psi would be too high for the gauge: refused in the unit that was typed, and nothing is changed.
        var refused = await Visitor.Parse(await tam.Submit(limits, form, ("low", "furlongs")));
        Assert.NotNull(refused.QuerySelector("#low-wrong"));

        // His gauge shows bar, and all else stays as it was.
        Assert.Equal(HttpStatusCode.Redirect, (await tam.Submit("/units", "main form", ("units", "us"), ("apart", "bar"))).StatusCode);
        var own = await tam.Read("/units");
        Assert.Equal("us,bar", own.Body!.GetAttribute("data-units"));
        Assert.Equal("bar", own.QuerySelector("#pressure option[selected]")!.GetAttribute("value"));
        Assert.Equal("3.516", Low(await tam.Read(limits)));
        Assert.Contains("gal", (await tam.Read("/machines/WL-01/data")).Body!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_kind_is_copied_with_list_and_program_by_planners_alone()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        const string page = "/kinds/wheel-loader/copy";
        var empty = await Visitor.Parse(await mara.Submit(page, "main form", ("name", " ")));
        Assert.NotNull(empty.QuerySelector("#name-wrong"));
        var taken = await Visitor.Parse(await mara.Submit(page, "main form", ("name", "Crawler dozer")));
        Assert.Contains("already", taken.QuerySelector("#name-wrong")!.TextContent, StringComparison.Ordinal);
        Assert.Equal("Crawler dozer", Value(taken, "name"));

        Assert.Equal("/kinds", (await mara.Submit(page, "main form", ("name", "Log stacker"))).Headers.Location!.ToString());

        var kinds = await mara.Read("/kinds");
        var own = kinds.QuerySelector("[data-kind=log-stacker]")!;
        Assert.Equal(
            ["/walk-lists/walk-log-stacker", "/programs/program-log-stacker", "/kinds/log-stacker/copy", "/kinds/log-stacker/file"],
            own.QuerySelectorAll("a").Select(x => x.GetAttribute("href"))
        );
        Assert.Contains(
            "Log stacker",
            (await mara.Read("/programs/program-log-stacker")).QuerySelector("main")!.TextContent,
            StringComparison.Ordinal
        );
        Assert.NotNull((await mara.Read("/machines/new")).QuerySelector("select[name=kind] option[value=log-stacker]"));
        Assert.NotNull((await mara.Read("/")).QuerySelector("select[name=kind] option[value=log-stacker]"));
        Assert.Equal(HttpStatusCode.NotFound, (await mara.Get("/kinds/steam-shovel/copy")).StatusCode);

        using var tam = await Visitor.As(app, "tam");
        Assert.Null((await tam.Read("/kinds")).QuerySelector("a[href$='/copy']"));
    }

    [Theory]
    [InlineData("/?kind=WheelLoader")]
    [InlineData("/?kind=wheelLoader")]
    [InlineData("/?kind=wheel-loader")]
    [InlineData("/defects?kind=WheelLoader")]
    public async Task Old_and_new_addresses_of_a_kind_lead_to_the_same(string address)
    {
        using var mara = await Visitor.As(fixture.App, "mara");

        var page = await mara.Read(address);

        Assert.Equal("wheel-loader", page.QuerySelector("select[name=kind] option[selected]")!.GetAttribute("value"));
        Assert.DoesNotContain(page.QuerySelectorAll("main .plate"), x => x.TextContent.StartsWith("EX-", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_check_of_a_walk_list_is_changed_moved_and_removed()
    {
        using var mara = await Visitor.As(fixture.App, "mara");
        var copy = await mara.Submit("/walk-lists/walk-wheel-loader/copy", "main form", ("name", "Own walk"), ("code", "own-walk"));
        var list = copy.Headers.Location!.ToString();
        var first = (await mara.Read(list)).QuerySelectorAll("a[href*='/check?check=']").Select(x => x.GetAttribute("href")!).First();

        var page = await mara.Read(first);
        Assert.Equal("1", Value(page, "position"));
        var bad = await Visitor.Parse(await mara.Submit(first, "main form", ("name", ""), ("position", "first")));
        Assert.NotNull(bad.QuerySelector("#name-wrong"));
        Assert.NotNull(bad.QuerySelector("#position-wrong"));
        Assert.Equal("first", Value(bad, "position"));

        Assert.Equal(
            list,
            (await mara.Submit(first, "main form", ("name", "Look round it"), ("position", "2"))).Headers.Location!.ToString()
        );
        var moved = await mara.Read(first);
        Assert.Equal(("Look round it", "2"), (Value(moved, "name"), Value(moved, "position")));
        await mara.Submit(first, "main form", ("remove", "true"));
        Assert.Equal(HttpStatusCode.NotFound, (await mara.Get(first)).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await mara.Get("/walk-lists/nothing/check")).StatusCode);
    }

    [Fact]
    public async Task A_machines_own_limit_is_kept_and_refused_where_it_cannot_be()
    {
        using var mara = await Visitor.As(fixture.App, "mara");
        var check = (await mara.Read("/machines/WL-01/limits")).QuerySelector("input[name=check]")!.GetAttribute("value")!;
        var form = $"form:has(input[value='{check}'])";
        var bad = await Visitor.Parse(
            await mara.Submit("/machines/WL-01/limits", form, ("low", "9"), ("high", "3"), ("note", "Read from the plate"))
        );
        Assert.NotNull(bad.QuerySelector("[id$='high-wrong']"));
        Assert.Contains("Read from the plate", bad.QuerySelector("main")!.InnerHtml, StringComparison.Ordinal);
        Assert.Equal(
            HttpStatusCode.Redirect,
            (
                await mara.Submit(
                    "/machines/WL-01/limits",
                    form,
                    ("low", "3"),
                    ("high", "9"),
                    ("watchBelow", ""),
                    ("new", ""),
                    ("newAt", ""),
                    ("markLitres", "")
                )
            ).StatusCode
        );
        Assert.Equal(
            "9",
            (await mara.Read("/machines/WL-01/limits")).QuerySelector(form)!.QuerySelector("input[name=high]")!.GetAttribute("value")
        );
    }

    [Fact]
    public async Task A_baseline_is_declared_on_somebodys_word()
    {
        using var mara = await Visitor.As(fixture.App, "mara");
        const string page = "/machines/EX-01/baseline";
        var item = (await mara.Read(page)).QuerySelector("input[name=items]")!.GetAttribute("value")!;
        var bad = await Visitor.Parse(
            await mara.Submit(
                page,
                "main form",
                ("items", item),
                ("hours", "9999999"),
                ("on", "2026-02-30"),
                ("saidBy", ""),
                ("note", "From the seller's book")
            )
        );
        foreach (var wrong in new[] { "#hours-wrong", "#on-wrong", "#saidBy-wrong" })
            Assert.NotNull(bad.QuerySelector(wrong));
        Assert.Contains("From the seller's book", bad.QuerySelector("textarea[name=note]")!.TextContent, StringComparison.Ordinal);
        Assert.True(((IHtmlInputElement)bad.QuerySelector($"input[name=items][value='{item}']")!).IsChecked);

        var kept = await mara.Submit(page, "main form", ("items", item), ("hours", "100"), ("on", "2026-01-05"), ("saidBy", "The seller"));
        Assert.Equal("/machines/EX-01", kept.Headers.Location!.ToString());
    }

    [Fact]
    public async Task A_password_is_changed_by_who_knows_it()
    {
        using var ines = await Visitor.As(fixture.App, "ines");
        Assert.NotNull(
            (
                await Visitor.Parse(
                    await ines.Submit("/password", "main form", ("current", "something else"), ("password", "a longer new one 7"))
                )
            ).QuerySelector("#current-wrong")
        );
        Assert.NotNull(
            (
                await Visitor.Parse(await ines.Submit("/password", "main form", ("current", DemoAccounts.Password), ("password", "short")))
            ).QuerySelector("#password-wrong")
        );
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await ines.Submit("/password", "main form", ("current", DemoAccounts.Password), ("password", "a longer new one 7"))).StatusCode
        );

        // Still signed in, and from now on with the new one alone.
        Assert.Equal(HttpStatusCode.OK, (await ines.Get("/machines")).StatusCode);
        using var again = new Visitor(fixture.App);
        Assert.NotEqual(
            HttpStatusCode.Redirect,
            (await again.Submit("/sign-in", "form[action*=sign-in]", ("userName", "ines"), ("password", DemoAccounts.Password))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await again.Submit("/sign-in", "form[action*=sign-in]", ("userName", "ines"), ("password", "a longer new one 7"))).StatusCode
        );
    }

    [Fact]
    public async Task A_site_is_added_once_in_a_zone_that_there_is()
    {
        using var mara = await Visitor.As(fixture.App, "mara");
        const string form = "form[action*='handler=site']";
        Assert.NotNull(
            (await Visitor.Parse(await mara.Submit("/settings", form, ("siteName", "Clay Pit"), ("zone", "Europe/London")))).QuerySelector(
                "#siteName-wrong"
            )
        );
        Assert.NotNull(
            (await Visitor.Parse(await mara.Submit("/settings", form, ("siteName", "North Yard"), ("zone", "Moon/Crater")))).QuerySelector(
                "#zone-wrong"
            )
        );
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await mara.Submit("/settings", form, ("siteName", "North Yard"), ("zone", "Europe/London"))).StatusCode
        );
        Assert.Contains("North Yard", (await mara.Read("/settings")).QuerySelector("main")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_a_site_expects_is_kept_as_typed()
    {
        using var mara = await Visitor.As(fixture.App, "mara");
        const string page = "/settings/site?name=Clay%20Pit";
        var bad = await Visitor.Parse(
            await mara.Submit(page, "main form", ("shiftFrom", "18:00"), ("shiftTo", "07:00"), ("lowC", "-8"), ("highC", ""))
        );
        Assert.NotNull(bad.QuerySelector("#shiftTo-wrong"));
        Assert.NotNull(bad.QuerySelector("#highC-wrong"));
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await mara.Submit(page, "main form", ("shiftFrom", "06:30"), ("shiftTo", "16:00"), ("lowC", "-8"), ("highC", "31"))).StatusCode
        );
        var read = await mara.Read(page);
        Assert.Equal(
            ("06:30", "16:00", "-8", "31"),
            (Value(read, "shiftFrom"), Value(read, "shiftTo"), Value(read, "lowC"), Value(read, "highC"))
        );
    }

    [Fact]
    public async Task A_part_may_stand_in_for_another_on_somebodys_word_until_it_is_taken_back()
    {
        using var tam = await Visitor.As(fixture.App, "tam");
        const string page = "/parts/BR7-121";
        const string form = "form[action*='handler=alternate']";
        Assert.NotNull(
            (await Visitor.Parse(await tam.Submit(page, form, ("other", "BR7-121"), ("saysWho", "Tam")))).QuerySelector("#other-wrong")
        );
        Assert.NotNull(
            (await Visitor.Parse(await tam.Submit(page, form, ("other", "NO-SUCH"), ("saysWho", "Tam")))).QuerySelector("#other-wrong")
        );
        Assert.NotNull(
            (await Visitor.Parse(await tam.Submit(page, form, ("other", "BR7-122"), ("saysWho", "")))).QuerySelector("#saysWho-wrong")
        );
        Assert.Equal(HttpStatusCode.Redirect, (await tam.Submit(page, form, ("other", "br7-122"), ("saysWho", "The counter"))).StatusCode);
        Assert.NotNull(
            (await Visitor.Parse(await tam.Submit(page, form, ("other", "BR7-122"), ("saysWho", "Tam")))).QuerySelector("#other-wrong")
        );
        Assert.Contains("The counter", (await tam.Read(page)).QuerySelector("main")!.TextContent, StringComparison.Ordinal);

        await tam.Submit(page, "form[action*=noalternate]:has(input[value='BR7-122'])");
        Assert.DoesNotContain("The counter", (await tam.Read(page)).QuerySelector("main")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Waste_that_left_otherwise_is_written_down_with_where_it_went()
    {
        using var tam = await Visitor.As(fixture.App, "tam");
        var bad = await Visitor.Parse(
            await tam.Submit("/waste", "main form", ("stream", "gold"), ("amount", "0"), ("place", ""), ("on", "2099-01-01"))
        );
        foreach (var wrong in new[] { "#stream-wrong", "#amount-wrong", "#place-wrong", "#on-wrong" })
            Assert.NotNull(bad.QuerySelector(wrong));
        Assert.Equal(
            HttpStatusCode.Redirect,
            (
                await tam.Submit("/waste", "main form", ("stream", "oil"), ("amount", "205"), ("place", "Tideway Reclaim"), ("on", ""))
            ).StatusCode
        );
        Assert.Contains("Tideway Reclaim", (await tam.Read("/waste")).QuerySelector("main")!.TextContent, StringComparison.Ordinal);

        // A file has a column for each unit, and filters are counted.
        await tam.Submit("/waste", "main form", ("stream", "filters"), ("amount", "7"), ("place", "Tideway Reclaim"), ("on", ""));
        var csv = await (await tam.Get("/exchange/service/waste.csv")).Content.ReadAsStringAsync(TestContext.Current.CancellationToken);
        Assert.StartsWith("on,stream,litres,gallons,pieces,place,unit,by\r\n", csv, StringComparison.Ordinal);
        Assert.Contains(",oil,205,54.155,,Tideway Reclaim,,Tam Ollery", csv, StringComparison.Ordinal);
        Assert.Contains(",filters,,,7,Tideway Reclaim,,Tam Ollery", csv, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_filter_position_is_taken_off_and_its_log_stays()
    {
        using var mara = await Visitor.As(fixture.App, "mara");
        const string page = "/machines/EX-01/position?code=engine-oil";
        var before = await mara.Read("/machines/EX-01/filters");
        Assert.NotNull(before.QuerySelector("[data-position=engine-oil]"));
        Assert.NotEmpty(before.QuerySelectorAll("[data-log]"));
        Assert.Equal(
            "/machines/EX-01/filters",
            (await mara.Submit(page, "main form", ("post.Code", "engine-oil"))).Headers.Location!.ToString()
        );
        var token = (await mara.Read(page)).QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!;
        var gone = await mara.Post(
            "/machines/EX-01/position?handler=remove",
            new FormUrlEncodedContent([new("oldCode", "engine-oil"), new("__RequestVerificationToken", token)])
        );
        Assert.Equal("/machines/EX-01/filters", gone.Headers.Location!.ToString());
        Assert.Equal(HttpStatusCode.NotFound, (await mara.Get(page)).StatusCode);
        var after = await mara.Read("/machines/EX-01/filters");
        Assert.Null(after.QuerySelector("[data-position=engine-oil]"));
        Assert.Equal(
            before.QuerySelectorAll("[data-log]").Select(x => x.TextContent),
            after.QuerySelectorAll("[data-log]").Select(x => x.TextContent)
        );
    }

    [Fact]
    public async Task A_file_of_readings_is_previewed_applied_once_and_refused_when_it_is_none()
    {
        using var mara = await Visitor.As(fixture.App, "mara");
        Task<HttpResponseMessage> Upload(string text) => mara.Upload("/exchange", "form[action*=readings]", "readings.csv", text);

        Assert.NotNull((await Visitor.Parse(await Upload(""))).QuerySelector(".wrong"));
        var now = fixture.App.Clock.GetUtcNow().ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture);
        var stranger = await Visitor.Parse(await Upload($"unit,hours,at\nEX-01,3107.9,{now}\nEX-99,10,{now}\n"));
        Assert.Contains("EX-99", stranger.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        Assert.Null(stranger.QuerySelector("form[action*=apply]"));

        var preview = await Upload($"unit,hours,at\nEX-01,3107.9,{now}\n");
        var form = (await Visitor.Parse(preview)).QuerySelector("form[action*=apply]")!;
        var fields = form.QuerySelectorAll("input[name]")
            .Select(x => KeyValuePair.Create(x.GetAttribute("name")!, x.GetAttribute("value")!));
        Assert.Equal(
            "/exchange",
            (await mara.Post("/exchange/readings?handler=apply", new FormUrlEncodedContent(fields))).Headers.Location!.ToString()
        );
        Assert.Contains("3,107.9", (await mara.Read("/machines/EX-01")).QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        var again = await Visitor.Parse(await Upload($"unit,hours,at\nEX-01,3107.9,{now}\n"));
        Assert.Equal(["0", "0", "1", "0"], again.QuerySelectorAll("[data-preview] dd").Select(x => x.TextContent));
    }

    private static string? Value(IHtmlDocument page, string name) =>
        page.QuerySelector($"main [name='{name}']") is IHtmlInputElement input ? input.Value : null;
}
