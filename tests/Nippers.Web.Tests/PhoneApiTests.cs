using System.IO.Compression;
using System.Net;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Walk;
using Nippers.Data.Visits;
using Nippers.Data.Walks;
using Nippers.Tests;
using Nippers.Views.Phones;
using Nippers.Web.Phones;

namespace Nippers.Web.Tests;

/// <summary>What the script on a phone asks, and the desk that answers it without a server.</summary>
public sealed class PhoneApiTests(AppFixture fixture) : IClassFixture<AppFixture>
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static async Task<JsonNode> Kit(Visitor visitor, TimeSpan later = default)
    {
        var answer = await visitor.Send(HttpMethod.Get, "/phone/kit", null, ("Accept-Encoding", "br"));
        Assert.Equal(["br"], answer.Content.Headers.ContentEncoding);
        Assert.True(answer.Headers.CacheControl!.NoStore);
        Assert.Equal(
            (DemoApp.Now + later).ToUnixTimeMilliseconds(),
            long.Parse(answer.Headers.GetValues("X-Nippers-Now").Single(), System.Globalization.CultureInfo.InvariantCulture)
        );
        await using var unpacked = new BrotliStream(await answer.Content.ReadAsStreamAsync(Ct), CompressionMode.Decompress);
        return (await JsonNode.ParseAsync(unpacked, cancellationToken: Ct))!;
    }

    private static PhoneRequest Asked(JsonNode kit, string unit, string asks, params (string Name, string Value)[] fields)
    {
        var machine = kit["machines"]!.AsArray().Single(x => (string?)x!["unit"] == unit)!;
        var list = kit["lists"]!.AsArray().Single(x => (int?)x!["version"] == (int?)machine["list"])!["body"]!;
        return JsonSerializer.Deserialize<PhoneRequest>(
            new JsonObject
            {
                ["person"] = "Tam Ollery",
                ["role"] = "technician",
                ["phoneNow"] = DemoApp.Now.AddMinutes(20),
                ["asks"] = asks,
                ["key"] = new string('a', 32),
                ["seq"] = 1,
                ["machine"] = machine.DeepClone(),
                ["list"] = list.DeepClone(),
                ["fields"] = new JsonObject(
                    fields
                        .GroupBy(x => x.Name)
                        .Select(x => KeyValuePair.Create(x.Key, (JsonNode?)new JsonArray([.. x.Select(y => JsonValue.Create(y.Value))])))
                ),
            }.ToJsonString(),
            ListJson.Options
        )!;
    }

    [Theory]
    [InlineData("ines", false)]
    [InlineData("tam", true)]
    [InlineData("mara", true)]
    public async Task An_open_card_lies_only_on_the_phone_of_somebody_who_may_work_it(string who, bool works)
    {
        using var visitor = await Visitor.As(fixture.App, who);
        var card = await fixture.App.Ask(db => db.Visits.Where(x => x.State == VisitState.Open).Select(x => x.Id).FirstAsync(Ct));

        var machines = (await Kit(visitor))["machines"]!.AsArray();

        Assert.Equal(works, machines.Any(x => x!["card"] is not null));
        using var one = await visitor.Get($"/phone/cards/{card}");
        Assert.Equal(works ? HttpStatusCode.OK : HttpStatusCode.NotFound, one.StatusCode);
        Assert.Equal(works, (await visitor.Read($"/visits/{card}")).QuerySelector("[data-card-unit]") is not null);

        // That it is being worked on is for everybody.
        Assert.Contains("Card open", (await visitor.Read("/visits")).QuerySelector("main")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_walk_begins_on_the_phone_as_it_does_on_the_server()
    {
        using var tam = await Visitor.As(fixture.App, "tam");
        var kit = await Kit(tam);
        var start = await PhoneDesk.Ask(Asked(kit, "EX-01", "start"));
        var page = new AngleSharp.Html.Parser.HtmlParser().ParseDocument(start.Html);
        var server = await tam.Read("/walk/EX-01");
        Assert.Equal(
            server.QuerySelectorAll("form[data-begin] label").Select(x => x.TextContent.Trim()),
            page.QuerySelectorAll("form[data-begin] label").Select(x => x.TextContent.Trim())
        );

        var refused = await PhoneDesk.Ask(Asked(kit, "EX-01", "begin", ("hours", "12"), ("parts", "Ordinary")));
        Assert.True(refused is { Refused: true, Walk: null, Entry: null });
        Assert.Contains("does not run back", refused.Html, StringComparison.Ordinal);
        Assert.Contains("aria-invalid", refused.Html, StringComparison.Ordinal);

        var begun = await PhoneDesk.Ask(Asked(kit, "EX-01", "begin", ("hours", "3107.5"), ("parts", "Ordinary")));
        Assert.NotNull(begun.Entry);
        Assert.Equal((begun.Walk!.Batch, true), (begun.Entry.Walk, begun.Walk.Id < 0));
        Assert.Equal(begun.Walk.Checks.Split(' '), begun.Entry.Fields["asked"]);
        var walk = await PhoneDesk.Ask(Asked(kit, "EX-01", "page") with { Walk = begun.Walk });
        Assert.Contains("id=\"walk-steps\"", walk.Html, StringComparison.Ordinal);
        Assert.Contains("0 of ", walk.Html, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_machine_that_was_left_for_tomorrow_is_asked_about_on_the_phone_as_it_is_by_the_server()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var left = await tam.Submit(
            "/machines/EX-02/evening",
            "form[action$='/evening']",
            ("done", "Level"),
            ("done", "Position"),
            ("done", "Heater"),
            ("note", "by the fence")
        );
        Assert.Equal(HttpStatusCode.Redirect, left.StatusCode);
        app.Clock.Advance(TimeSpan.FromHours(3));
        var kit = await Kit(tam, TimeSpan.FromHours(3));
        var server = (await tam.Read("/walk/EX-02")).QuerySelector("[data-parked]")!;
        var phone = new AngleSharp.Html.Parser.HtmlParser().ParseDocument(
            (await PhoneDesk.Ask(Asked(kit, "EX-02", "start") with { PhoneNow = app.Clock.GetUtcNow() })).Html
        );
        Assert.Equal(Words(server), Words(phone.QuerySelector("[data-parked]")!));
        Assert.Contains("by the fence", server.TextContent, StringComparison.Ordinal);

        Task<PhoneReply> Begin(params (string, string)[] more) =>
            PhoneDesk.Ask(
                Asked(kit, "EX-02", "begin", [("hours", "6893.4"), ("parts", "Ordinary"), .. more]) with
                {
                    PhoneNow = app.Clock.GetUtcNow(),
                }
            );
        var refused = await Begin();
        Assert.Null(refused.Walk);
        Assert.Contains("asParked-wrong", refused.Html, StringComparison.Ordinal);
        Assert.Contains("heaterOut-wrong", refused.Html, StringComparison.Ordinal);
        var begun = await Begin(("asParked", "yes"), ("heaterOut", "true"));
        Assert.Equal(DemoApp.Now, begun.Walk!.ParkedAt);
        Assert.Null((await Begin(("asParked", "no"), ("heaterOut", "true"))).Walk!.ParkedAt);

        static string Words(AngleSharp.Dom.IElement part) =>
            string.Join(' ', part.TextContent.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
    }

    [Fact]
    public async Task A_stopped_machine_is_begun_only_by_who_knows_it_and_then_with_the_engine_off()
    {
        using var tam = await Visitor.As(fixture.App, "tam");
        var kit = await Kit(tam);
        var hours = (await tam.Read("/walk/EX-05")).QuerySelector(".hint .num")?.TextContent ?? "1498.6";
        var refused = await PhoneDesk.Ask(Asked(kit, "EX-05", "begin", ("hours", "1498.6"), ("parts", "Ordinary")));
        Assert.Contains("data-begin", refused.Html, StringComparison.Ordinal);
        Assert.True(refused.Refused, hours);
        var knows = await PhoneDesk.Ask(Asked(kit, "EX-05", "begin", ("hours", "1498.6"), ("parts", "Ordinary"), ("knowsStopped", "true")));
        var list = Asked(kit, "EX-05", "page").List!;
        Assert.All(knows.Walk!.Checks.Split(' '), code => Assert.Equal(EngineState.Off, list.Checks.Single(x => x.Code == code).Engine));
    }

    [Fact]
    public async Task The_list_says_what_it_knows_of_this_shift_and_nothing_of_yesterday()
    {
        using var tam = await Visitor.As(fixture.App, "tam");
        var kit = await Kit(tam);
        var machines = JsonSerializer.Deserialize<List<App.Phones.KitMachine>>(kit["machines"]!.ToJsonString(), ListJson.Options)!;
        async Task<string> Home(TimeSpan later) =>
            (await PhoneDesk.Ask(Asked(kit, "EX-01", "home") with { Machines = machines, PhoneNow = DemoApp.Now + later })).Html;
        var (now, tomorrow) = (await Home(TimeSpan.FromHours(1)), await Home(TimeSpan.FromHours(30)));
        Assert.Contains("data-run=\"OutOfService\"", now, StringComparison.Ordinal);
        Assert.DoesNotContain("data-run=\"notKnown\"", now, StringComparison.Ordinal);
        Assert.DoesNotContain("data-run=\"NoStopFound\"", tomorrow, StringComparison.Ordinal);
        Assert.Contains("data-run=\"notKnown\"", tomorrow, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("", false)]
    [InlineData("{", true)]
    [InlineData("{}", true)]
    [InlineData("""{"key":"k","unit":"EX-01","kind":"nonsense"}""", true)]
    [InlineData("""{"key":"k","unit":"EX-01","kind":"hours","fields":{}}""", true)]
    [InlineData("""{"key":"k","unit":"EX-01","kind":"hours","at":"9999-12-31T23:59:59Z","aheadMs":-99999999999,"fields":{}}""", true)]
    [InlineData("""{"key":"k","unit":"EX-01","kind":"hours","at":"2026-11-25T06:00:00Z","fields":{}}""", false)]
    public async Task What_is_no_entry_or_not_sent_by_our_own_script_is_turned_away(string entry, bool ours)
    {
        using var tam = await Visitor.As(fixture.App, "tam");
        using var form = new MultipartFormDataContent { { new StringContent(entry), "entry" } };
        var answer = ours
            ? await tam.Send(HttpMethod.Post, "/phone/entries", form, (PhoneApi.Header, "1"))
            : await tam.Send(HttpMethod.Post, "/phone/entries", form);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
    }

    [Fact]
    public async Task A_refused_entry_is_answered_in_words()
    {
        using var tam = await Visitor.As(fixture.App, "tam");
        using var form = new MultipartFormDataContent
        {
            {
                new StringContent(
                    """{"key":"k1","unit":"EX-01","kind":"hours","at":"2026-11-25T06:00:00+00:00","fields":{"hours":["1.0"]}}"""
                ),
                "entry"
            },
        };
        var answer = await tam.Send(HttpMethod.Post, "/phone/entries", form, (PhoneApi.Header, "1"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains("does not run back", await answer.Content.ReadAsStringAsync(Ct), StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_phones_build_is_served_packed_and_as_what_it_is()
    {
        using var nobody = new Visitor(fixture.App);
        var packed = await nobody.Send(HttpMethod.Get, "/gen/phone/dotnet.js", null, ("Accept-Encoding", "br"));
        Assert.Equal((HttpStatusCode.OK, "text/javascript"), (packed.StatusCode, packed.Content.Headers.ContentType!.MediaType));
        Assert.Equal(["br"], packed.Content.Headers.ContentEncoding);
        var bare = await nobody.Get("/gen/phone/dotnet.js");
        Assert.Empty(bare.Content.Headers.ContentEncoding);
        await using var unpacked = new BrotliStream(await packed.Content.ReadAsStreamAsync(Ct), CompressionMode.Decompress);
        using var reader = new StreamReader(unpacked);
        Assert.Equal(await bare.Content.ReadAsStringAsync(Ct), await reader.ReadToEndAsync(Ct));
        Assert.Equal("no-cache", (await nobody.Get("/worker.js")).Headers.CacheControl!.ToString());
    }
}
