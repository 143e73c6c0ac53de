using System.Net;
using AngleSharp.Html.Dom;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.People;
using Nippers.Demo;
using Nippers.Tests;
using Nippers.Web.Commands;
using Nippers.Web.Hosting;

namespace Nippers.Web.Tests;

/// <summary>Who is in, is in no longer than they may be; and whoever plans can't shut everybody out.</summary>
public sealed class SessionTests : IAsyncLifetime
{
    private const string SignIn = "form[action^='/sign-in']:has(#userName)";

    private static readonly Actor Mara = new("Mara Quill", Roles.Planner);
    private DemoApp _app = null!;

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync() => _app = await DemoApp.Start();

    public ValueTask DisposeAsync() => _app.DisposeAsync();

    private async Task<Outcome<T>> Do<T>(Func<PeopleBook, Task<Outcome<T>>> use)
        where T : class
    {
        await using var scope = _app.Services.CreateAsyncScope();
        return await use(scope.ServiceProvider.GetRequiredService<PeopleBook>());
    }

    private static async Task<bool> IsIn(Visitor visitor) => (await visitor.Get("/")).StatusCode == HttpStatusCode.OK;

    /// <summary>A form of the settings page that acts on one person.</summary>
    private static string Form(string handler, string userName) =>
        $"form[action$='handler={handler}']:has(input[name=userName][value={userName}])";

    [Theory]
    [InlineData("switch", "on", "false")]
    [InlineData("role", "role", Roles.Operator)]
    public async Task A_session_ends_at_once_when_its_account_is_switched_off_or_gets_another_role(
        string handler,
        string field,
        string value
    )
    {
        using var tam = await Visitor.As(_app, "tam");
        using var mara = await Visitor.As(_app, "mara");
        Assert.True(await IsIn(tam));

        Assert.Equal(HttpStatusCode.Redirect, (await mara.Submit("/settings", Form(handler, "tam"), (field, value))).StatusCode);

        Assert.False(await IsIn(tam));
        Assert.True(await IsIn(mara));
    }

    /// <summary>Somebody has a page with a form open, and is signed out elsewhere.</summary>
    private async Task<IHtmlDocument> Out(Visitor visitor, string path)
    {
        var page = await visitor.Read(path);
        using var elsewhere = visitor.Thief();
        Assert.Equal(HttpStatusCode.Redirect, (await elsewhere.Submit("/more", "form[action='/sign-out']")).StatusCode);
        return page;
    }

    [Theory]
    [InlineData("tam", "Tam Ollery")]
    [InlineData("wenna", "Wenna Pask")]
    public async Task What_was_typed_in_a_session_that_was_over_is_held_and_sent_by_whoever_signs_in(string who, string name)
    {
        const string place = "Drum 7, north bay";
        using var tam = await Visitor.As(_app, "tam");
        tam.SaysWhereFrom();
        var form = await Out(tam, "/waste");
        (string, string)[] typed = [("stream", "oil"), ("amount", "20"), ("place", place)];
        using var over = await tam.Submit(form, "/waste", "main form", typed);
        Assert.Equal(HttpStatusCode.Unauthorized, over.StatusCode);
        var page = await Visitor.Parse(over);
        Assert.NotEmpty(page.QuerySelector("[data-over] [role=alert]")!.TextContent);
        SaysInItsTitleWhatItIs(page);

        using var wrong = await tam.Submit(page, "/waste", SignIn, ("userName", who), ("password", "neap tide"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, wrong.StatusCode);
        using var right = await tam.Submit(await Visitor.Parse(wrong), "/sign-in", SignIn, ("password", DemoAccounts.Password));
        Assert.Equal(HttpStatusCode.OK, right.StatusCode);
        page = await Visitor.Parse(right);
        Assert.Contains(name, page.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        Assert.Contains(place, page.QuerySelector("[data-again]")!.TextContent, StringComparison.Ordinal);
        Assert.Empty(await Kept());

        Assert.Equal(HttpStatusCode.Redirect, (await tam.Submit(page, "/sign-in", "[data-again]")).StatusCode);
        Assert.Equal([name], await Kept());

        // Sent a second time it is the same.
        await tam.Submit(page, "/sign-in", "[data-again]");
        Assert.Equal([name], await Kept());

        Task<List<string>> Kept() => _app.Ask(db => db.Waste.Where(x => x.Place == place).Select(x => x.By).ToListAsync(Ct));
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task What_was_opened_by_whoever_was_signed_in_before_is_held_for_whoever_is_now(bool ours)
    {
        const string place = "Drum 9, south bay";
        using var tablet = await Visitor.As(_app, "tam");
        tablet.SaysWhereFrom(ours ? null : "http://elsewhere.invalid");
        var form = await tablet.Read("/waste");
        await tablet.Submit("/more", "form[action='/sign-out']");
        await tablet.Submit("/sign-in", SignIn, ("userName", "wenna"), ("password", DemoAccounts.Password));

        using var spoiled = await tablet.Submit(form, "/waste", "main form", ("stream", "oil"), ("amount", "20"), ("place", place));
        Assert.Equal(HttpStatusCode.BadRequest, spoiled.StatusCode);
        var page = await Visitor.Parse(spoiled);
        SaysInItsTitleWhatItIs(page);
        Assert.Empty(await Kept());
        if (!ours)
        {
            Assert.Null(page.QuerySelector("[data-again]"));
            return;
        }

        Assert.Contains("Wenna Pask", page.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        Assert.Contains(place, page.QuerySelector("[data-again]")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await tablet.Submit(page, "/waste", "[data-again]")).StatusCode);
        Assert.Equal(["Wenna Pask"], await Kept());

        Task<List<string>> Kept() => _app.Ask(db => db.Waste.Where(x => x.Place == place).Select(x => x.By).ToListAsync(Ct));
    }

    [Theory]
    [InlineData(null)]
    [InlineData("http://elsewhere.invalid")]
    [InlineData("null")]
    public async Task What_another_site_sends_is_held_for_nobody(string? origin)
    {
        using var tam = await Visitor.As(_app, "tam");
        if (origin is not null)
            tam.SaysWhereFrom(origin);
        var form = await Out(tam, "/waste");
        using var over = await tam.Submit(form, "/waste", "main form", ("place", "Drum 8"));
        Assert.Equal(HttpStatusCode.Redirect, over.StatusCode);
        Assert.StartsWith("/sign-in", over.Headers.Location!.PathAndQuery, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_password_is_held_by_no_page()
    {
        using var tam = await Visitor.As(_app, "tam");
        tam.SaysWhereFrom();
        var form = await Out(tam, "/password");
        using var over = await tam.Submit(form, "/password", "main form", ("current", DemoAccounts.Password), ("password", "ebb and flow"));
        Assert.Equal(HttpStatusCode.Unauthorized, over.StatusCode);
        var html = await over.Content.ReadAsStringAsync(Ct);
        Assert.DoesNotContain("ebb and flow", html, StringComparison.Ordinal);
        Assert.DoesNotContain("name=\"held\"", html, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_part_of_a_page_is_not_filled_with_who_asks_who_it_is()
    {
        using var tam = await Visitor.As(_app, "tam");
        tam.SaysWhereFrom();
        await Out(tam, "/waste");
        using var draft = await tam.Send(HttpMethod.Get, "/machines/DZ-02/visit", null, ("HX-Request", "true"));
        Assert.Equal((HttpStatusCode.Unauthorized, false), (draft.StatusCode, draft.Headers.Contains("HX-Retarget")));
        using var body = new FormUrlEncodedContent([KeyValuePair.Create("place", "Drum 9")]);
        using var sent = await tam.Send(HttpMethod.Post, "/waste", body, ("HX-Request", "true"));
        Assert.Equal((HttpStatusCode.Unauthorized, "body"), (sent.StatusCode, sent.Headers.GetValues("HX-Retarget").Single()));
    }

    [Theory]
    [InlineData("{\"To\":\"//elsewhere.invalid/\",\"Fields\":[],\"HadFiles\":false}")]
    [InlineData("{\"To\":null,\"Fields\":[{\"Key\":null}],\"HadFiles\":false}")]
    [InlineData("{\"To\":")]
    public async Task What_no_page_of_ours_holds_is_not_shown(string held)
    {
        using var tam = new Visitor(_app);
        using var answer = await tam.Submit("/sign-in", SignIn, ("userName", "tam"), ("password", DemoAccounts.Password), ("held", held));
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
    }

    [Fact]
    public async Task A_copied_cookie_is_worth_nothing_after_signing_out_and_other_devices_stay_in()
    {
        using var tam = await Visitor.As(_app, "tam");
        using var phone = await Visitor.As(_app, "tam");
        using var thief = tam.Thief();
        Assert.True(await IsIn(thief));

        await tam.Submit("/", "form[action='/sign-out']");

        Assert.Equal((false, false, true), (await IsIn(tam), await IsIn(thief), await IsIn(phone)));
    }

    [Fact]
    public async Task Another_password_ends_every_other_session()
    {
        using var tam = await Visitor.As(_app, "tam");
        using var phone = await Visitor.As(_app, "tam");
        await tam.Submit("/password", "main form", ("current", DemoAccounts.Password), ("password", "neap tide 4 knots"));
        Assert.Equal((true, false), (await IsIn(tam), await IsIn(phone)));
    }

    [Fact]
    public async Task A_session_ends_when_it_is_old_however_much_it_is_used()
    {
        using var tam = await Visitor.As(_app, "tam");
        for (var day = 1; day <= Sessions.Life.Days; day++)
        {
            Assert.True(await IsIn(tam));
            _app.Clock.Advance(TimeSpan.FromDays(1));
        }

        Assert.False(await IsIn(tam));
    }

    [Fact]
    public async Task One_planner_who_can_sign_in_always_remains()
    {
        Assert.Equal("noSuchPerson", (await Do(x => x.Switch("mara", false, Mara, Ct))).Refusals[0].Code);

        // Two planners who take each other's place away at once: one of them is refused.
        Assert.True((await Do(x => x.SetRole("tam", Roles.Planner, Mara, Ct))).Done);
        var tam = new Actor("Tam Ollery", Roles.Planner);
        var both = await Task.WhenAll(
            Task.Run(() => Do(x => x.SetRole("tam", Roles.Operator, Mara, Ct))),
            Task.Run(() => Do(x => x.Switch("mara", false, tam, Ct)))
        );
        Assert.Equal("lastPlanner", Assert.Single(both, x => !x.Done).Refusals[0].Code);
        Assert.Equal("noSuchRole", (await Do(x => x.SetRole("tam", "king", Mara, Ct))).Refusals[0].Code);
        Assert.Equal("noSuchPerson", (await Do(x => x.Switch("nobody", false, Mara, Ct))).Refusals[0].Code);
    }

    [Fact]
    public async Task A_lost_password_is_set_anew_with_a_code_once()
    {
        using var tam = await Visitor.As(_app, "tam");
        using var mara = await Visitor.As(_app, "mara");
        var shown = await Visitor.Parse(await mara.Submit("/settings", Form("code", "tam")));
        var code = shown.QuerySelector("#new-code")!.TextContent;
        using var somebody = new Visitor(_app);
        Task<HttpResponseMessage> Reset(string name, string typed, string password) =>
            somebody.Submit("/reset", "main form", ("userName", name), ("code", typed), ("password", password));

        Assert.NotNull((await Visitor.Parse(await Reset("tam", code, "short"))).QuerySelector("#password-wrong"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Reset("ines", code, "neap tide 4 knots")).StatusCode);
        Assert.True(await IsIn(tam));
        Assert.Equal("/sign-in", (await Reset("TAM", code.ToLowerInvariant(), "neap tide 4 knots")).Headers.Location!.ToString());
        Assert.False(await IsIn(tam));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Reset("tam", code, "flood tide 4 knots")).StatusCode);

        var signedIn = await somebody.Submit("/sign-in", "form[action*=sign-in]", ("userName", "tam"), ("password", "neap tide 4 knots"));
        Assert.Equal(HttpStatusCode.Redirect, signedIn.StatusCode);
    }

    [Fact]
    public async Task A_code_goes_when_it_is_old_guessed_at_or_followed_by_another()
    {
        Task<Outcome<Data.People.NippersUser>> Reset(string code) =>
            Do(x => x.Reset("tam", code, "neap tide 4 knots", (_, _) => Task.FromResult<IReadOnlyList<Refusal>>([]), Ct));
        async Task<string> Make() => (await Do(x => x.MakeCode("tam", Mara, Ct))).Value!.Text;

        var old = await Make();
        _app.Clock.Advance(PeopleBook.CodeGoodFor + TimeSpan.FromSeconds(1));
        Assert.Equal("resetCodeWrong", (await Reset(old)).Refusals[0].Code);

        var first = await Make();
        var second = await Make();
        Assert.Equal("resetCodeWrong", (await Reset(first)).Refusals[0].Code);
        for (var i = 0; i < 4; i++)
            await Reset("AAAAAAAAAAAA");
        Assert.Equal("resetCodeWrong", (await Reset(second)).Refusals[0].Code);
        Assert.True((await Reset(await Make())).Done);
    }

    [Fact]
    public async Task The_console_gives_a_code_to_whoever_has_lost_the_last_password()
    {
        Assert.Equal(0, await FileCommands.Recover().Parse(["--db", _app.File, "--user", "mara"]).InvokeAsync(cancellationToken: Ct));
        Assert.Equal(1, await _app.Ask(db => db.ResetCodes.CountAsync(Ct)));
        Assert.Equal(
            Guard.Failed,
            await FileCommands.Recover().Parse(["--db", _app.File, "--user", "nobody"]).InvokeAsync(cancellationToken: Ct)
        );
    }

    [Fact]
    public async Task Whoever_guesses_learns_neither_that_a_name_is_known_nor_that_it_is_locked()
    {
        async Task<string> Said(string name)
        {
            using var visitor = new Visitor(_app);
            var answer = await visitor.Submit("/sign-in", "form[action*=sign-in]", ("userName", name), ("password", "flood tide"));
            return (await Visitor.Parse(answer)).QuerySelector("[role=alert]")!.TextContent.Trim();
        }

        var unknown = await Said("nobody");
        for (var i = 0; i < 9; i++)
            Assert.Equal(unknown, await Said("tam"));

        // Locked for some minutes, and written down; his own password does not let him in now.
        using var tam = new Visitor(_app);
        var right = await tam.Submit("/sign-in", "form[action*=sign-in]", ("userName", "tam"), ("password", DemoAccounts.Password));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, right.StatusCode);
        Assert.Equal(1, await _app.Ask(db => db.Audit.CountAsync(x => x.What == "person.signInFailed" && x.Subject == "nobody", Ct)));
        Assert.True(await _app.Ask(db => db.Audit.AnyAsync(x => x.What == "person.lockedOut" && x.Subject == "tam", Ct)));
        using var mara = await Visitor.As(_app, "mara");
        Assert.True(await _app.Ask(db => db.Audit.AnyAsync(x => x.What == "person.signIn" && x.Who == "Mara Quill", Ct)));
    }

    [Fact]
    public async Task A_session_left_open_is_no_place_to_guess_the_password()
    {
        using var tam = await Visitor.As(_app, "tam");
        Task<HttpResponseMessage> Change(string current) =>
            tam.Submit("/password", "main form", ("current", current), ("password", "neap tide 4 knots"));
        for (var i = 0; i < 8; i++)
            await Change("wrong");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Change(DemoAccounts.Password)).StatusCode);
    }

    [Fact]
    public async Task A_password_that_is_guessed_first_is_refused_beside_its_field()
    {
        using var tam = await Visitor.As(_app, "tam");
        var page = await Visitor.Parse(
            await tam.Submit("/password", "main form", ("current", DemoAccounts.Password), ("password", "Ollery2026!"))
        );
        Assert.Contains("guessed first", page.QuerySelector("#password-wrong")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Planners_read_who_did_what_and_take_it_as_a_file()
    {
        using var tam = await Visitor.As(_app, "tam");
        Assert.Contains("/no-entry", (await tam.Get("/settings/audit")).Headers.Location!.ToString(), StringComparison.OrdinalIgnoreCase);
        using var mara = await Visitor.As(_app, "mara");
        await mara.Submit("/settings", Form("role", "ines"), ("role", Roles.Technician));

        async Task<IReadOnlyList<string>> Acts(string query) =>
            [.. (await mara.Read("/settings/audit?" + query)).QuerySelectorAll("[data-audit]").Select(x => x.GetAttribute("data-audit")!)];
        Assert.Contains("person.role", await Acts(""));
        Assert.All(await Acts("filter.group=person"), x => Assert.StartsWith("person.", x, StringComparison.Ordinal));
        Assert.Equal(["person.signIn"], await Acts("filter.group=person&filter.who=Ollery"));
        Assert.Equal(["person.role"], await Acts("filter.group=person&filter.of=ines"));
        Assert.Equal(3, (await Acts("filter.group=person&filter.from=2026-11-25&filter.to=2026-11-25")).Count);
        Assert.Empty(await Acts("filter.group=person&filter.from=2026-11-26"));
        Assert.Empty(await Acts("filter.who=%25"));
        Assert.NotNull((await mara.Read("/settings/audit?filter.from=soon")).QuerySelector("#from-wrong"));

        var file = await (await mara.Get("/settings/audit?filter.group=person&handler=csv")).Content.ReadAsStringAsync(Ct);
        var lines = file.Split("\r\n", StringSplitOptions.RemoveEmptyEntries);
        Assert.Equal(("number,at,who,what,subject,before,after", 4), (lines[0], lines.Length));
    }

    [Fact]
    public async Task A_page_that_is_not_there_says_so_in_its_title()
    {
        using var tam = await Visitor.As(_app, "tam");
        using var missing = await tam.Get("/nothing-here");
        Assert.Equal(HttpStatusCode.NotFound, missing.StatusCode);
        SaysInItsTitleWhatItIs(await Visitor.Parse(missing));
    }

    // What a tab, a history or a screen reader says first.
    private static void SaysInItsTitleWhatItIs(IHtmlDocument page) =>
        Assert.Equal($"{page.QuerySelector("main h1")!.TextContent.Trim()} · Nippers", page.Title);
}
