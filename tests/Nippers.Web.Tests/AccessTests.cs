using System.Net;
using Microsoft.AspNetCore.Routing;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.Tests;
using Nippers.Web.Hosting;

namespace Nippers.Web.Tests;

/// <summary>Walks every route as nobody and as each role. A route that is not in the table fails the walk.</summary>
public sealed class AccessTests(AppFixture fixture) : IClassFixture<AppFixture>
{
    private const string Anyone = "anyone";
    private const string Operator = "operator";
    private const string Technician = "technician";
    private const string Planner = "planner";
    private const string Token = "token";

    // Asked by the script on a phone, which is told that nobody is signed in instead of being led to a page.
    private const string Phone = "phone";

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static readonly Dictionary<string, string> Least = new(StringComparer.Ordinal)
    {
        [""] = Operator,
        ["sign-in"] = Anyone,
        ["setup"] = Anyone,
        ["reset"] = Anyone,
        ["theme"] = Anyone,
        ["error"] = Anyone,
        ["sign-out"] = Operator,
        ["no-entry"] = Operator,
        ["password"] = Operator,
        ["quick"] = Operator,
        ["more"] = Operator,
        ["phone"] = Anyone,
        ["phone/kit"] = Phone,
        ["phone/walks/{id:long}"] = Phone,
        ["phone/cards/{id:long}"] = Phone,
        ["phone/entries"] = Phone,
        ["machines"] = Operator,
        ["machines/new"] = Technician,
        ["machines/{unit}/{tab:regex(^(items|readings|record|about)$)?}"] = Operator,
        ["machines/{unit}/evening"] = Operator,
        ["machines/{unit}/hours"] = Operator,
        ["machines/{unit}/history"] = Operator,
        ["machines/{unit}/readings/{id:long}/{act:regex(^(confirm|void)$)}"] = Operator,
        ["machines/{unit}/edit"] = Technician,
        ["machines/{unit}/work"] = Technician,
        ["machines/{unit}/void-work"] = Technician,
        ["machines/{unit}/baseline"] = Technician,
        ["machines/{unit}/meter"] = Technician,
        ["machines/{unit}/odometer"] = Operator,
        ["machines/{unit}/park"] = Technician,
        ["machines/{unit}/walks"] = Operator,
        ["machines/{unit}/label"] = Operator,
        ["machines/{unit}/limits"] = Technician,
        ["machines/{unit}/top-ups/{id:long}/void"] = Operator,
        ["walks"] = Operator,
        ["walk/{unit}"] = Operator,
        ["walk/{unit}/sheet"] = Operator,
        ["walks/{id:long}"] = Operator,
        ["walks/{id:long}/at/{step}"] = Operator,
        ["walks/{id:long}/end"] = Operator,
        ["walks/{id:long}/void"] = Operator,
        ["units"] = Operator,
        ["language"] = Operator,
        ["languages/{code}"] = Planner,
        ["kinds"] = Operator,
        ["kinds/{kind}/copy"] = Planner,
        ["kinds/{kind}/file"] = Planner,
        ["walk-lists"] = Operator,
        ["walk-lists/{code}"] = Operator,
        ["walk-lists/{code}/check"] = Planner,
        ["walk-lists/{code}/plan"] = Planner,
        ["walk-lists/{code}/positions"] = Planner,
        ["walk-lists/{code}/copy"] = Planner,
        ["defects"] = Operator,
        ["defects/new"] = Operator,
        ["defects/{id:long}"] = Operator,
        ["defects/{id:long}/tag"] = Operator,
        ["visits"] = Operator,
        ["visits/{id:long}"] = Operator,
        ["visits/{id:long}/take"] = Operator,
        ["visits/{id:long}/paper"] = Operator,
        ["visits/{id:long}/end"] = Technician,
        ["visits/{id:long}/entry"] = Technician,
        ["visits/{id:long}/steps/{code}"] = Technician,
        ["machines/{unit}/visit"] = Technician,
        ["machines/{unit}/visits"] = Operator,
        ["mail"] = Operator,
        ["settings/feeds"] = Planner,
        ["codes"] = Technician,
        ["codes/{id:long}"] = Technician,
        ["exchange/telemetry"] = Technician,
        ["api/v1/machines/{unit}/telemetry"] = Token,
        ["settings/mail"] = Planner,
        ["settings/mail/{id:long}"] = Planner,
        ["calendar"] = Operator,
        ["calendar/{secret}.ics"] = Anyone,
        ["weeks"] = Operator,
        ["weeks/job"] = Operator,
        ["weeks/person"] = Operator,
        ["weeks/people"] = Planner,
        ["machines/{unit}/filters"] = Operator,
        ["machines/{unit}/position"] = Technician,
        ["machines/{unit}/data"] = Technician,
        ["parts"] = Operator,
        ["parts/new"] = Technician,
        ["parts/{number}"] = Operator,
        ["parts/{number}/edit"] = Technician,
        ["waste"] = Operator,
        ["programs/{code}/compartment"] = Planner,
        ["settings/shop"] = Planner,
        ["settings/site"] = Planner,
        ["exchange/service/{what}.csv"] = Operator,
        ["api/v1/visits"] = Token,
        ["api/v1/filters"] = Token,
        ["api/v1/stock"] = Token,
        ["api/v1/waste"] = Token,
        ["api/v1/machines/{unit}/proposals"] = Token,
        ["samples"] = Operator,
        ["samples/labels"] = Operator,
        ["samples/list"] = Operator,
        ["samples/find"] = Operator,
        ["samples/fleet"] = Operator,
        ["samples/limits"] = Operator,
        ["samples/labs"] = Operator,
        ["samples/fluids"] = Operator,
        ["samples/fluids/one"] = Planner,
        ["samples/import"] = Technician,
        ["samples/{id:long}"] = Operator,
        ["samples/{id:long}/results"] = Technician,
        ["machines/{unit}/samples"] = Operator,
        ["machines/{unit}/samples/take"] = Technician,
        ["machines/{unit}/oil"] = Operator,
        ["machines/{unit}/coolant"] = Operator,
        ["api/v1/samples"] = Token,
        ["api/v1/samples/{bottle}"] = Token,
        ["api/v1/oil-limits"] = Token,
        ["exchange/walks.csv"] = Operator,
        ["exchange/defects.csv"] = Operator,
        ["api/v1/machines/{unit}/walks"] = Token,
        ["api/v1/machines/{unit}/defects"] = Token,
        ["api/v1/defects"] = Token,
        ["programs"] = Operator,
        ["programs/{code}"] = Operator,
        ["programs/{code}/item"] = Planner,
        ["programs/{code}/settings"] = Planner,
        ["programs/{code}/copy"] = Planner,
        ["exchange"] = Operator,
        ["exchange/readings"] = Technician,
        ["exchange/readings.csv"] = Operator,
        ["exchange/fleet"] = Planner,
        ["exchange/fleet.nippers.json"] = Planner,
        ["settings"] = Planner,
        ["settings/audit"] = Planner,
        ["openapi/v1.json"] = Operator,
        ["api/v1/machines"] = Token,
        ["api/v1/machines/{unit}"] = Token,
        ["api/v1/machines/{unit}/due"] = Token,
        ["api/v1/machines/{unit}/odometer"] = Token,
        ["api/v1/machines/{unit}/readings"] = Token,
    };

    /// <summary>All routes.</summary>
    internal static IEnumerable<string> Routes => Least.Keys;

    /// <summary>Whether a route lets in one role and those above it.</summary>
    internal static bool IsFor(string route, string role) => Least[route] == role;

    [Fact]
    public void Every_route_has_been_decided_on()
    {
        var routes = fixture
            .App.Services.GetServices<EndpointDataSource>()
            .SelectMany(x => x.Endpoints)
            .OfType<RouteEndpoint>()
            .Select(x => x.RoutePattern.RawText!.Trim('/'))
            .Distinct()
            .Order()
            .ToList();
        Assert.Equal(Least.Keys.Order(), routes);
    }

    public static TheoryData<string> Visitors() => ["nobody", "ines", "tam", "mara"];

    [Theory]
    [MemberData(nameof(Visitors))]
    public async Task Each_route_lets_in_whom_it_should_and_nobody_else(string userName)
    {
        using var visitor = userName == "nobody" ? new Visitor(fixture.App) : await Visitor.As(fixture.App, userName);
        var rank = userName switch
        {
            "nobody" => 0,
            "ines" => 1,
            "tam" => 2,
            _ => 3,
        };
        var (planned, open) = (await VisitIn(Data.Visits.VisitState.Planned), await VisitIn(Data.Visits.VisitState.Open));
        foreach (var (route, least) in Least)
        {
            var path = PathOf(route, planned, open);
            foreach (var post in new[] { false, true })
            {
                var answer = post ? await visitor.Post(path) : await visitor.Get(path);
                var what = $"{(post ? "POST" : "GET")} {path} as {userName}: {(int)answer.StatusCode}";
                var entry = least switch
                {
                    Anyone => 0,
                    Operator => 1,
                    Technician => 2,
                    Planner => 3,
                    _ => 9,
                };
                if (least == Token)
                    Assert.True(
                        answer.StatusCode
                            is HttpStatusCode.Unauthorized
                                or HttpStatusCode.MethodNotAllowed
                                or HttpStatusCode.UnsupportedMediaType,
                        what
                    );
                else if (least == Phone)
                    Assert.True(
                        rank == 0
                            ? answer.StatusCode is HttpStatusCode.Unauthorized or HttpStatusCode.MethodNotAllowed
                            : answer.StatusCode
                                is HttpStatusCode.OK
                                    or HttpStatusCode.NotFound
                                    or HttpStatusCode.BadRequest
                                    or HttpStatusCode.MethodNotAllowed,
                        what
                    );
                else if (rank == 0 && entry > 0)
                    Assert.True(
                        answer.StatusCode == HttpStatusCode.Redirect
                            && answer.Headers.Location!.ToString().Contains("/sign-in", StringComparison.OrdinalIgnoreCase),
                        what
                    );
                else if (rank < entry)
                    Assert.True(
                        answer.StatusCode == HttpStatusCode.Redirect
                            && answer.Headers.Location!.ToString().Contains("/no-entry", StringComparison.OrdinalIgnoreCase),
                        what
                    );
                else if (post)
                    Assert.True(
                        answer.StatusCode is HttpStatusCode.BadRequest or HttpStatusCode.MethodNotAllowed || least == Anyone,
                        what + " without a form's token"
                    );
                else
                    Assert.True(
                        (int)answer.StatusCode < 400
                            || route is "setup" or "no-entry" or "error"
                            // A secret that is nobody's, jobs of a plan that nobody has made, messages that nobody wrote and codes that
                            // no feed told of are not there.
                            || (
                                route
                                    is "calendar/{secret}.ics"
                                        or "weeks/job"
                                        or "weeks/person"
                                        or "settings/mail/{id:long}"
                                        or "codes/{id:long}"
                                && answer.StatusCode == HttpStatusCode.NotFound
                            ),
                        what
                    );
            }
        }
    }

    private async Task<string> VisitIn(Data.Visits.VisitState state) =>
        (await fixture.App.Ask(db => Task.FromResult(db.Visits.First(x => x.State == state).Id))).ToString(
            System.Globalization.CultureInfo.InvariantCulture
        );

    /// <summary>Addresses of all pages of people, with numbers of the scenario.</summary>
    internal static IEnumerable<string> Pages(string planned, string open) =>
        Least.Where(x => x.Value is not (Token or Phone)).Select(x => PathOf(x.Key, planned, open));

    /// <summary>A route with numbers of the scenario: a planned visit, an open card, a step of it, what some pages ask for.</summary>
    internal static string PathOf(string route, string planned, string open) =>
        "/"
        + (
            route switch
            {
                "visits/{id:long}/take" => $"visits/{planned}/take",
                "phone/cards/{id:long}" => $"phone/cards/{open}",
                "visits/{id:long}/steps/{code}" => $"visits/{open}/steps/card.walkround",
                "visits/{id:long}/end" or "visits/{id:long}/entry" or "visits/{id:long}/paper" => route.Replace(
                    "{id:long}",
                    open,
                    StringComparison.Ordinal
                ),
                "programs/{code}/compartment" => route + "?c=engine",
                "machines/{unit}/samples/take" => route + "?item=engine-oil-sample",
                "machines/{unit}/oil" => route + "?c=engine",
                "samples/fluids/one" => route + "?name=15W-40",
                "settings/site" => route + "?name=Clay%20Pit",
                _ => route,
            }
        )
            .Replace("{unit}", "EX-01", StringComparison.Ordinal)
            .Replace(
                "{code}",
                route.StartsWith("walk-lists", StringComparison.Ordinal) ? "walk-wheel-loader"
                    : route.StartsWith("languages", StringComparison.Ordinal) ? "es"
                    : "starter-wheel-loader",
                StringComparison.Ordinal
            )
            .Replace("{documentName}", "v1", StringComparison.Ordinal)
            .Replace("{tab:regex(^(items|readings|record|about)$)?}", "items", StringComparison.Ordinal)
            .Replace("{id:long}/{act:regex(^(confirm|void)$)}", "1/confirm", StringComparison.Ordinal)
            .Replace("{id:long}", "1", StringComparison.Ordinal)
            .Replace("{step}", "isolate", StringComparison.Ordinal)
            .Replace("{kind}", "wheel-loader", StringComparison.Ordinal)
            .Replace("{number}", "TO7-110", StringComparison.Ordinal)
            .Replace("{what}", "visits", StringComparison.Ordinal);

    [Fact]
    public async Task A_form_that_a_page_has_no_use_for_breaks_no_page()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        var token = (await mara.Read("/")).QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!;
        var (planned, open) = (await VisitIn(Data.Visits.VisitState.Planned), await VisitIn(Data.Visits.VisitState.Open));
        var broken = new List<string>();
        foreach (var (route, least) in Least.Where(x => x.Value is not (Token or Phone) && x.Key is not ("sign-out" or "error")))
        {
            var path = PathOf(route, planned, open);
            var answer = await mara.Post(
                path + (path.Contains('?', StringComparison.Ordinal) ? "&" : "?") + "handler=nothing",
                new FormUrlEncodedContent([new("__RequestVerificationToken", token)])
            );
            if ((int)answer.StatusCode >= 500)
                broken.Add($"{least} {path}: {(int)answer.StatusCode}");
        }

        Assert.Empty(broken);
    }

    [Fact]
    public async Task Operators_take_back_their_own_readings_alone()
    {
        await using var app = await DemoApp.Start();
        using var ines = await Visitor.As(app, "ines");
        var row = await app.Ask(db => Task.FromResult(db.Readings.OrderBy(x => x.Id).First(x => x.By != "Ines Varrow")));
        var unit = await app.Ask(db => Task.FromResult(db.Machines.First(x => x.Id == row.MachineId).Unit));
        var own = await ines.Submit("/machines/EX-01/hours", "form[data-log-hours]", ("hours", "3107.5"));
        Assert.Equal(HttpStatusCode.Redirect, own.StatusCode);
        var page = await ines.Read("/machines/EX-01");
        Assert.Equal("3,107.5 h logged on EX-01.", page.QuerySelector("#flash")!.TextContent);
        Assert.Equal(Data.Records.ReadingState.Accepted, row.State);

        using var other = await Visitor.As(app, "ines");
        var form = (await other.Read("/")).QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!;
        var taken = await other.Post(
            $"/machines/{unit}/readings/{row.Id}/void",
            new FormUrlEncodedContent([new("reason", "mine now"), new("__RequestVerificationToken", form)])
        );
        Assert.Contains("/no-entry", taken.Headers.Location!.ToString(), StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public async Task Pages_carry_strict_headers_and_nothing_from_elsewhere()
    {
        using var visitor = await Visitor.As(fixture.App, "mara");
        var answer = await visitor.Get("/");
        var policy = answer.Headers.GetValues("Content-Security-Policy").Single();
        Assert.Contains("default-src 'none'", policy, StringComparison.Ordinal);
        Assert.Contains("script-src 'self'", policy, StringComparison.Ordinal);
        Assert.DoesNotContain("unsafe", policy.Replace("'wasm-unsafe-eval'", "", StringComparison.Ordinal), StringComparison.Ordinal);
        Assert.Equal("nosniff", answer.Headers.GetValues("X-Content-Type-Options").Single());
        foreach (var path in new[] { "/", "/machines/EX-04", "/programs/starter-wheel-loader", "/exchange", "/settings" })
        {
            var page = await visitor.Read(path);
            Assert.DoesNotContain(page.QuerySelectorAll("script[src], link[href], img[src]"), x =>
                (x.GetAttribute("src") ?? x.GetAttribute("href"))!.Contains("//", StringComparison.Ordinal)
            );
            Assert.Empty(page.QuerySelectorAll("script:not([src]), [style], [onclick]"));
        }
    }

    [Fact]
    public async Task Too_many_sign_ins_are_held_back()
    {
        await using var app = await DemoApp.Start(signInsPerMinute: 3);
        using var visitor = new Visitor(app);
        var codes = new List<HttpStatusCode>();
        for (var i = 0; i < 5; i++)
            codes.Add((await visitor.Submit("/sign-in", "form[action*=sign-in]", ("userName", "tam"), ("password", "wrong"))).StatusCode);
        Assert.Equal(
            [
                HttpStatusCode.UnprocessableEntity,
                HttpStatusCode.UnprocessableEntity,
                HttpStatusCode.UnprocessableEntity,
                HttpStatusCode.TooManyRequests,
                HttpStatusCode.TooManyRequests,
            ],
            codes
        );
    }

    [Fact]
    public async Task The_first_run_makes_the_first_planner_and_no_default_account_exists()
    {
        await using var app = await DemoApp.Start(demo: false);
        using var visitor = new Visitor(app);
        Assert.EndsWith("/setup", (await visitor.Get("/")).Headers.Location!.ToString(), StringComparison.Ordinal);
        var weak = await visitor.Submit(
            "/setup",
            "form[method=post]:not([action])",
            ("fullName", "Ada Wren"),
            ("userName", "ada"),
            ("password", "short"),
            ("zone", "Mars/Base")
        );
        var page = await Visitor.Parse(weak);
        Assert.NotNull(page.QuerySelector("#zone-wrong"));
        Assert.NotNull(page.QuerySelector("#setupCode-wrong"));

        // Whoever finds the address before its owner has no code.
        var code = app.Services.GetRequiredService<SetupCode>();
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Make(visitor, "AAAA")).StatusCode);
        Assert.Empty(await app.Ask(db => db.Users.ToListAsync(Ct)));
        Assert.Equal(code.Text, await code.ToTell(app.Services, Ct));

        // Two who have it and come at once make one planner.
        using var other = new Visitor(app);
        var both = await Task.WhenAll(Make(visitor, code.Text.ToLowerInvariant()), Make(other, code.Text));
        Assert.Single(both, x => x.StatusCode == HttpStatusCode.Redirect);
        Assert.Single(await app.Ask(db => db.Users.ToListAsync(Ct)));
        Assert.Null(await code.ToTell(app.Services, Ct));
        var first = both[0].StatusCode == HttpStatusCode.Redirect ? visitor : other;
        Assert.Contains("Quay", (await first.Read("/machines/new")).QuerySelector("#site")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await first.Get("/setup")).StatusCode);
    }

    private static Task<HttpResponseMessage> Make(Visitor visitor, string code) =>
        visitor.Submit(
            "/setup",
            "form[method=post]:not([action])",
            ("setupCode", code),
            ("fullName", "Ada Wren"),
            ("userName", "ada"),
            ("password", "low water mark"),
            ("site", "Quay"),
            ("zone", "Europe/London")
        );
}
