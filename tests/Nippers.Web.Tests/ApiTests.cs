using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Nippers.App;
using Nippers.Data.People;
using Nippers.Tests;
using Nippers.Web.Api;

namespace Nippers.Web.Tests;

public sealed class ApiTests(AppFixture fixture) : IClassFixture<AppFixture>
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    internal static async Task<HttpClient> Client(DemoApp app, string role = "operator", params string[] scopes)
    {
        using var mara = await Visitor.As(app, "mara");
        var may = (scopes.Length == 0 ? TokenScopes.All : scopes).Select(x => ("scopes", x));
        var made = await Visitor.Parse(
            await mara.Submit("/settings", "form[action*=token]", [("name", "gateway"), ("role", role), .. may])
        );
        var client = new HttpClient { BaseAddress = app.Address };
        client.DefaultRequestHeaders.Authorization = new("Bearer", made.QuerySelector("#new-token")!.TextContent);
        return client;
    }

    private static async Task<JsonNode> Json(HttpResponseMessage answer) => JsonNode.Parse(await answer.Content.ReadAsStringAsync(Ct))!;

    [Fact]
    public async Task Machines_due_lists_and_readings_are_read_with_a_token()
    {
        using var client = await Client(fixture.App);
        var machines = (await client.GetFromJsonAsync<JsonArray>("api/v1/machines", Ct))!;
        Assert.Equal(23, machines.Count);
        var used = (await client.GetFromJsonAsync<JsonArray>("api/v1/machines?standing=due", Ct))!.Single(x =>
            (string)x!["unit"]! == "EX-03"
        )!;
        Assert.Equal("due", (string)used["standing"]!);

        var due = (await client.GetFromJsonAsync<JsonObject>("api/v1/machines/EX-03/due", Ct))!;
        Assert.Contains(due["items"]!.AsArray(), x => (string?)x!["reason"] == "noRecord");
        var swapped = (await client.GetFromJsonAsync<JsonObject>("api/v1/machines/WL-02", Ct))!;
        Assert.True((double)swapped["lifeHoursNow"]! > (double)swapped["meterHoursNow"]! + 6000);
        var readings = (await client.GetFromJsonAsync<JsonObject>("api/v1/machines/EX-01/readings", Ct))!["readings"]!.AsArray();
        Assert.True(readings.Count > 200);
    }

    [Fact]
    public async Task A_reading_is_logged_once_however_often_it_is_sent()
    {
        await using var app = await DemoApp.Start();
        using var client = await Client(app);
        async Task<HttpResponseMessage> Send(string body, string? key = null)
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, "api/v1/machines/EX-01/readings")
            {
                Content = new StringContent(body, Encoding.UTF8, "application/json"),
            };
            if (key is not null)
                request.Headers.Add("Idempotency-Key", key);
            return await client.SendAsync(request, Ct);
        }

        var first = await Send("""{"hours":3108.1}""", "k1");
        Assert.Equal(HttpStatusCode.Created, first.StatusCode);
        var again = await Send("""{"hours":3108.1}""", "k1");
        Assert.Equal(HttpStatusCode.OK, again.StatusCode);
        Assert.Equal((long)(await Json(first))["id"]!, (long)(await Json(again))["id"]!);

        // Something else under the same key was never kept: that is said.
        Assert.Equal(HttpStatusCode.Conflict, (await Send("""{"hours":3108.2}""", "k1")).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await Send("""{"hours":3108.2}""", new string('k', 101))).StatusCode);

        var wrong = await Send("""{"hours":3801.1}""");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, wrong.StatusCode);
        Assert.Equal("application/problem+json", wrong.Content.Headers.ContentType!.MediaType);
        var problem = await Json(wrong);
        Assert.Equal(("tooFast", "hours"), ((string)problem["code"]!, (string)problem["field"]!));
        Assert.Equal(1, await app.Ask(db => db.Readings.CountAsync(x => x.By == "api: gateway", Ct)));
    }

    [Theory]
    [InlineData("machines/EX-01/walks", """{"hours":3108.1,"answers":null,"defects":[]}""")]
    [InlineData("machines/EX-01/walks", """{"hours":3108.1,"answers":[null],"defects":[]}""")]
    [InlineData("machines/EX-01/walks", """{"hours":3108.1,"answers":[],"defects":null}""")]
    [InlineData("machines/EX-01/walks", """{"hours":3108.1,"answers":[],"round":99}""")]
    [InlineData("machines/EX-01/defects", """{"words":null}""")]
    [InlineData("machines/EX-01/defects", """{"words":"bent","grade":99}""")]
    [InlineData("machines/EX-01/defects", """{"words":"bent","grade":"99"}""")]
    [InlineData("machines/EX-01/readings", """{"hours":null}""")]
    [InlineData("machines/EX-01/readings", """[]""")]
    [InlineData("samples", """{"unit":null,"item":"engine-oil-sample"}""")]
    [InlineData("samples", """{"unit":"EX-01","item":"engine-oil-sample","method":7}""")]
    public async Task What_no_body_may_hold_is_a_bad_request_and_breaks_nothing(string path, string body)
    {
        await using var app = await DemoApp.Start();
        using var client = await Client(app, "technician");
        var answer = await client.PostAsync($"api/v1/{path}", new StringContent(body, Encoding.UTF8, "application/json"), Ct);
        Assert.InRange((int)answer.StatusCode, 400, 422);
    }

    [Theory]
    [InlineData("samples?state=99")]
    [InlineData("oil-limits?kind=99")]
    public async Task A_number_is_no_word(string path)
    {
        await using var app = await DemoApp.Start();
        using var client = await Client(app);
        Assert.InRange((int)(await client.GetAsync($"api/v1/{path}", Ct)).StatusCode, 400, 404);
    }

    [Theory]
    [InlineData("""{"hours":"3108"}""", HttpStatusCode.BadRequest)]
    [InlineData("""{"hours":-1}""", HttpStatusCode.UnprocessableEntity)]
    [InlineData("""{"hours":1e308}""", HttpStatusCode.UnprocessableEntity)]
    [InlineData("""{}""", HttpStatusCode.BadRequest)]
    [InlineData("""nonsense""", HttpStatusCode.BadRequest)]
    [InlineData("""{"hours":3108,"at":"2199-01-01T00:00:00Z"}""", HttpStatusCode.UnprocessableEntity)]
    public async Task Bad_bodies_get_problem_details(string body, HttpStatusCode code)
    {
        using var client = await Client(fixture.App);
        var answer = await client.PostAsync(
            "api/v1/machines/EX-01/readings",
            new StringContent(body, Encoding.UTF8, "application/json"),
            Ct
        );
        Assert.Equal(code, answer.StatusCode);
        Assert.Equal("application/problem+json", answer.Content.Headers.ContentType?.MediaType);
    }

    [Fact]
    public async Task Unknown_units_and_tokens_are_told_apart()
    {
        using var client = await Client(fixture.App);
        var missing = await client.GetAsync("api/v1/machines/EX-40/due", Ct);
        Assert.Equal(HttpStatusCode.NotFound, missing.StatusCode);
        Assert.Contains("EX-04", (string)(await Json(missing))["detail"]!, StringComparison.Ordinal);
        client.DefaultRequestHeaders.Authorization = new("Bearer", "nip_0000");
        Assert.Equal(HttpStatusCode.Unauthorized, (await client.GetAsync("api/v1/machines", Ct)).StatusCode);
    }

    [Fact]
    public async Task The_openapi_document_describes_every_call()
    {
        using var mara = await Visitor.As(fixture.App, "mara");
        var document = await Json(await mara.Get("/openapi/v1.json"));
        Assert.Equal(
            [
                "/api/v1/defects",
                "/api/v1/filters",
                "/api/v1/machines",
                "/api/v1/machines/{unit}",
                "/api/v1/machines/{unit}/defects",
                "/api/v1/machines/{unit}/due",
                "/api/v1/machines/{unit}/odometer",
                "/api/v1/machines/{unit}/proposals",
                "/api/v1/machines/{unit}/readings",
                "/api/v1/machines/{unit}/telemetry",
                "/api/v1/machines/{unit}/walks",
                "/api/v1/oil-limits",
                "/api/v1/samples",
                "/api/v1/samples/{bottle}",
                "/api/v1/stock",
                "/api/v1/visits",
                "/api/v1/waste",
            ],
            document["paths"]!.AsObject().Select(x => x.Key).Order()
        );
        Assert.NotNull(document["paths"]!["/api/v1/machines/{unit}/readings"]!["post"]);
    }

    [Fact]
    public async Task A_token_may_what_it_was_made_for_and_nothing_else()
    {
        await using var app = await DemoApp.Start();
        (string Scope, HttpMethod Method, string Path, string? Body)[] calls =
        [
            (TokenScopes.Read, HttpMethod.Get, "machines", null),
            (TokenScopes.Read, HttpMethod.Get, "samples", null),
            (TokenScopes.Read, HttpMethod.Get, "visits", null),
            (TokenScopes.Read, HttpMethod.Get, "defects", null),
            (TokenScopes.Hours, HttpMethod.Post, "machines/EX-01/readings", """{"hours":-1}"""),
            (TokenScopes.Hours, HttpMethod.Post, "machines/EX-01/telemetry", "[]"),
            (TokenScopes.Walks, HttpMethod.Post, "machines/EX-01/walks", """{"hours":-1,"answers":[],"defects":[]}"""),
            (TokenScopes.Walks, HttpMethod.Post, "machines/EX-01/defects", """{"words":""}"""),
            (TokenScopes.Results, HttpMethod.Post, "samples", """{"unit":"XX-99"}"""),
        ];
        foreach (var scope in TokenScopes.All)
        {
            using var client = await Client(app, Roles.Technician, scope);
            foreach (var call in calls)
            {
                using var request = new HttpRequestMessage(call.Method, "api/v1/" + call.Path);
                if (call.Body is not null)
                    request.Content = new StringContent(call.Body, Encoding.UTF8, "application/json");
                var answer = await client.SendAsync(request, Ct);
                Assert.True(
                    answer.StatusCode == HttpStatusCode.Forbidden != (call.Scope == scope),
                    $"{scope}: {call.Method} {call.Path}: {answer.StatusCode}"
                );
            }
        }
    }

    [Fact]
    public async Task An_odometer_is_logged_by_a_program_as_by_hand()
    {
        await using var app = await DemoApp.Start();
        using var client = await Client(app, Roles.Operator, TokenScopes.Read, TokenScopes.Hours);
        var before = await app.Ask(db => db.OdometerReadings.CountAsync(Ct));
        var last = await app.Ask(db => db.OdometerReadings.OrderByDescending(x => x.At).FirstAsync(Ct));
        async Task<HttpResponseMessage> Log(string unit, object body, string? key = null)
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, $"api/v1/machines/{unit}/odometer");
            request.Content = JsonContent.Create(body);
            if (key is not null)
                request.Headers.Add("Idempotency-Key", key);
            return await client.SendAsync(request, Ct);
        }

        var km = last.KmTenths / 10.0 + 20;
        using var kept = await Log("TT-01", new { km }, "k1");
        Assert.Equal(HttpStatusCode.OK, kept.StatusCode);
        Assert.Equal(km, (await kept.Content.ReadFromJsonAsync<ApiOdometer>(Ct))!.Km);
        Assert.Equal(HttpStatusCode.OK, (await Log("TT-01", new { km }, "k1")).StatusCode);
        Assert.Equal(before + 1, await app.Ask(db => db.OdometerReadings.CountAsync(Ct)));

        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Log("TT-01", new { km = 1.0 })).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Log("EX-01", new { km })).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await Log("XX-99", new { km })).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await Log("TT-01", new { at = "2026-11-20T06:00:00Z" })).StatusCode);
        Assert.Equal(before + 1, await app.Ask(db => db.OdometerReadings.CountAsync(Ct)));
    }

    [Fact]
    public async Task A_token_past_its_day_is_good_for_nothing()
    {
        await using var app = await DemoApp.Start();
        using var client = await Client(app);
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("api/v1/machines", Ct)).StatusCode);

        // Set and not run forward: each round of a year would ring.
        app.Clock.AdjustTime(DemoApp.Now.AddDays(364));
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("api/v1/machines", Ct)).StatusCode);
        app.Clock.AdjustTime(DemoApp.Now.AddDays(365));
        Assert.Equal(HttpStatusCode.Unauthorized, (await client.GetAsync("api/v1/machines", Ct)).StatusCode);
    }

    [Fact]
    public async Task Settings_say_what_a_token_may_until_when_and_when_it_was_used()
    {
        await using var app = await DemoApp.Start();
        using var client = await Client(app, Roles.Operator, TokenScopes.Read, TokenScopes.Hours);
        using var mara = await Visitor.As(app, "mara");
        string Line(AngleSharp.Html.Dom.IHtmlDocument page) =>
            string.Join(
                ' ',
                page.QuerySelector("section[aria-labelledby=tokens] .rows li")!
                    .TextContent.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)
            );
        Assert.Contains("look at everything, log hours", Line(await mara.Read("/settings")), StringComparison.Ordinal);
        Assert.Contains("Never used. Good until 25 Nov 2027", Line(await mara.Read("/settings")), StringComparison.Ordinal);
        await client.GetAsync("api/v1/machines", Ct);
        Assert.Contains("Last used 25 Nov", Line(await mara.Read("/settings")), StringComparison.Ordinal);

        var refused = await Visitor.Parse(
            await mara.Submit("/settings", "form[action*=token]", ("name", "screen"), ("scopes", "everything"), ("days", "0"))
        );
        Assert.Equal("Choose what it may do.", refused.QuerySelector("#scopes [role=alert], #scopes .refused")!.TextContent.Trim());
        Assert.Equal("screen", refused.QuerySelector("form[action*=token] [name=name]")!.GetAttribute("value"));
    }

    [Fact]
    public async Task Tokens_that_are_tried_are_limited_by_where_they_come_from_and_however_they_are_written()
    {
        await using var app = await DemoApp.Start(apiCallsPerMinute: 3);
        using var client = await Client(app);
        var token = client.DefaultRequestHeaders.Authorization!.Parameter!;
        client.DefaultRequestHeaders.Authorization = null;
        async Task<HttpStatusCode> Call(string header)
        {
            using var request = new HttpRequestMessage(HttpMethod.Get, "api/v1/machines");
            request.Headers.TryAddWithoutValidation("Authorization", header);
            return (await client.SendAsync(request, Ct)).StatusCode;
        }

        Assert.Equal(
            [HttpStatusCode.OK, HttpStatusCode.OK, HttpStatusCode.OK, HttpStatusCode.TooManyRequests],
            [await Call($"Bearer {token}"), await Call($"bearer  {token}"), await Call($"BEARER   {token} "), await Call($"Bearer {token}")]
        );
        var tried = new List<HttpStatusCode>();
        for (var i = 0; i < 9; i++)
            tried.Add(await Call($"Bearer nip_{i}"));
        Assert.Equal(HttpStatusCode.Unauthorized, tried[0]);
        Assert.Equal(HttpStatusCode.TooManyRequests, tried[^1]);
    }

    [Fact]
    public async Task Nobody_on_the_way_keeps_what_is_a_fleets_own()
    {
        using var client = await Client(fixture.App);
        Assert.Equal("no-store", (await client.GetAsync("api/v1/machines", Ct)).Headers.CacheControl!.ToString());
        using var mara = await Visitor.As(fixture.App, "mara");
        foreach (
            var path in new[] { "/exchange/readings.csv", "/exchange/fleet.nippers.json", "/exchange/defects.csv", "/openapi/v1.json" }
        )
            Assert.Contains("no-store", (await mara.Get(path)).Headers.CacheControl!.ToString(), StringComparison.Ordinal);
    }
}
