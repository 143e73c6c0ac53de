using System.Collections.Concurrent;
using System.Data.Common;
using System.Diagnostics;
using System.Globalization;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Routing;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.People;
using Nippers.App.Visits;
using Nippers.App.Weeks;
using Nippers.Core.Jobs;
using Nippers.Data;
using Nippers.Data.People;
using Nippers.Data.Visits;
using Nippers.Web.Hosting;

namespace Nippers.Bench;

/// <summary>
/// Every page and every list of the interface against the big database, as ratio to what cannot be saved: the questions that
/// the page itself asked, sent again as plain SQL and read to the end, plus an empty page of the same application, asked for in turn
/// with it. A route that stands in no line of the table ends the run: no page is left out by being forgotten.
/// </summary>
internal static class EveryPage
{
    private const int Rounds = 40;

    // As often as the empty page: the runtime compiles a page's own code anew, and better, while it is asked for often.
    private const int WarmUp = 160;
    private const int Kinds = 8;

    // The aims: against plain SQL plus an empty page, and in ms.
    private const double MostMedian = 2.0;
    private const double MostP95 = 3.0;
    private const double MostMs = 100;
    private const double MostFirst = 1000;

    // A page that takes seconds is known to be slow after a few of them.
    private static readonly TimeSpan Enough = TimeSpan.FromSeconds(8);
    private static readonly TimeSpan EnoughWarm = TimeSpan.FromSeconds(4);

    /// <summary>Measures all, or those whose route holds a text.</summary>
    /// <param name="file">The big database.</param>
    /// <param name="only">Part of a route; null for all.</param>
    /// <param name="ct">Cancels.</param>
    /// <returns>How many pages were measured.</returns>
    public static async Task<int> Run(string file, string? only, CancellationToken ct)
    {
        var settings = BigDatabase.Settings(file) with { ApiCallsPerMinute = 1_000_000, WarmUp = true };
        await using var app = NippersHost.Create(settings);
        await Web.Commands.Startup.Prepare(app.Services, settings, ct);
        await app.StartAsync(ct);
        var warming = Stopwatch.StartNew();
        await app.Services.GetRequiredService<FirstPages>().Done.WaitAsync(ct);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"pages: warm {warming.Elapsed.TotalSeconds:0.0} s after the start"));
        var someone = await Somebody(app, ct);
        var paths = Paths(someone);
        var undecided = Routes(app).Except(paths.Keys).ToList();
        if (undecided.Count > 0)
            throw new InvalidOperationException("Routes without a line here: " + string.Join(", ", undecided));
        using var client = await BigDatabase.SignedIn(new($"http://127.0.0.1:{new Uri(app.Urls.First()).Port}/"), ct);
        client.DefaultRequestHeaders.Add("Accept-Encoding", "br");
        using var heard = new Heard();

        var (found, missing) = (new List<Measured>(), new List<string>());
        await Warmed(_ => Get("no-entry"));
        foreach (var (route, path) in paths.OrderBy(x => x.Key, StringComparer.Ordinal))
        {
            if (path is null || (only is not null && !$"/{route}|".Contains(only, StringComparison.Ordinal)))
                continue;
            var (first, asked) = (0.0, new List<List<Question>>());
            for (var i = 0; i < Kinds; i++)
            {
                heard.Start();
                var watch = Stopwatch.StartNew();
                var status = await Get(path(i));
                if (i == 0)
                    first = watch.Elapsed.TotalMilliseconds;
                asked.Add(heard.Stop());
                if (status >= 400)
                    missing.Add($"{path(i)}: {status}");
            }

            // In turn, so that both find the machine as busy and the common code as far compiled as the other.
            var (page, empty) = await InTurn(i => Get(path(i % Kinds)), _ => Get("no-entry"));
            using var connection = new SqliteConnection(NippersDb.ConnectionString(file));
            connection.Open();
            var rows = await Time(i =>
            {
                foreach (var question in asked[i % Kinds])
                    Read(connection, question);
                return Task.FromResult(200);
            });
            found.Add(new(route, asked[0].Count, first, page, rows, empty));
            if (only is not null)
                Explain(connection, asked[0]);
        }

        Print(found);
        if (missing.Count > 0)
            throw new InvalidOperationException("Pages that were not there: " + string.Join("; ", missing));
        return found.Count;

        // Read as it comes and thrown away: whole pages as strings would have the collector work for the measurer.
        async Task<int> Get(string path)
        {
            using var request = new HttpRequestMessage(HttpMethod.Get, path);
            if (path.StartsWith("api/", StringComparison.Ordinal))
                request.Headers.Authorization = new("Bearer", someone.Token);
            using var answer = await client.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, ct);
            await using var body = await answer.Content.ReadAsStreamAsync(ct);
            await body.CopyToAsync(Stream.Null, ct);
            return path == "no-entry" ? 200 : (int)answer.StatusCode;
        }
    }

    private static void Print(List<Measured> found)
    {
        Console.WriteLine($"pages: {found.Count} measured");
        Console.WriteLine("| page | questions | first, ms | median | p95 | plain SQL | empty page | ratio, median | ratio, p95 | |");
        Console.WriteLine("| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |");
        foreach (var x in found)
        {
            var (median, p95) = (x.Page.Median / (x.Rows.Median + x.Empty.Median), x.Page.P95 / (x.Rows.P95 + x.Empty.P95));
            var over = median > MostMedian || p95 > MostP95 || x.Page.P95 > MostMs || x.First > MostFirst ? "over" : "";
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"| /{x.Route} | {x.Questions} | {x.First:0} | {x.Page.Median:0.0} | {x.Page.P95:0.0} | {x.Rows.Median:0.0} | {x.Empty.Median:0.0} | {median:0.00} | {p95:0.00} | {over} |"
                )
            );
        }
    }

    /// <summary>The questions of a page, the dearest first.</summary>
    private static void Explain(SqliteConnection connection, List<Question> questions)
    {
        var times = questions
            .Select(x =>
            {
                var watch = Stopwatch.StartNew();
                Read(connection, x);
                return (Ms: watch.Elapsed.TotalMilliseconds, x.Text);
            })
            .OrderByDescending(x => x.Ms);
        foreach (var (ms, text) in times.Take(6))
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"    {ms:0.0} ms: {text.ReplaceLineEndings(" ")}"));
    }

    /// <summary>The middle and the slow end of two kinds of requests, one after the other.</summary>
    private static async Task<(Times One, Times Other)> InTurn(Func<int, Task<int>> one, Func<int, Task<int>> other)
    {
        var (first, second) = (new List<double>(Rounds), new List<double>(Rounds));
        await Warmed(one);
        var since = Stopwatch.StartNew();
        for (var i = 0; i < Rounds && (since.Elapsed < Enough || first.Count < 3); i++)
        {
            first.Add(await Ms(one, i));
            second.Add(await Ms(other, i));
        }

        return (Times.Of(first), Times.Of(second));
    }

    private static async Task<Times> Time(Func<int, Task<int>> work)
    {
        var times = new List<double>(Rounds);
        await Warmed(work);
        var since = Stopwatch.StartNew();
        for (var i = 0; i < Rounds && (since.Elapsed < Enough || times.Count < 3); i++)
            times.Add(await Ms(work, i));
        return Times.Of(times);
    }

    private static async Task Warmed(Func<int, Task<int>> work)
    {
        var since = Stopwatch.StartNew();
        for (var i = 0; i < WarmUp && since.Elapsed < EnoughWarm; i++)
            await work(i);
    }

    private static async Task<double> Ms(Func<int, Task<int>> work, int i)
    {
        var watch = Stopwatch.StartNew();
        await work(i);
        return watch.Elapsed.TotalMilliseconds;
    }

    private static IEnumerable<string> Routes(WebApplication app) =>
        app
            .Services.GetServices<EndpointDataSource>()
            .SelectMany(x => x.Endpoints)
            .OfType<RouteEndpoint>()
            .Where(x => x.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods.Contains("GET") ?? true)
            .Select(x => x.RoutePattern.RawText!.Trim('/'))
            .Distinct();

    private static void Read(SqliteConnection connection, Question question)
    {
        using var command = connection.CreateCommand();
#pragma warning disable CA2100 // What the application itself asked.
        command.CommandText = question.Text;
#pragma warning restore CA2100
        foreach (var (name, value) in question.Parameters)
            command.Parameters.AddWithValue(name, value);
        using var reader = command.ExecuteReader();
        while (reader.Read())
        {
            for (var i = 0; i < reader.FieldCount; i++)
                _ = reader.GetValue(i);
        }
    }

    private static async Task<Known> Somebody(WebApplication app, CancellationToken ct)
    {
        await using var scope = app.Services.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<NippersDb>();
        var actor = new Actor("Mara Quill", Roles.Planner);
        var token = await scope
            .ServiceProvider.GetRequiredService<ApiTokens>()
            .Make(new("bench", Roles.Planner, [TokenScopes.Read]), actor, ct);
        var card = await OpenCard(scope.ServiceProvider, db, actor, ct);
        var job = await PlanWeeks(scope.ServiceProvider, db, actor, ct);
        await BigTold.Make(scope.ServiceProvider, db, ct);
        return new(
            token.Value!.Text,
            card,
            await db.Visits.Where(x => x.State == VisitState.Planned).Select(x => x.Id).FirstOrDefaultAsync(ct),
            await db.Walks.MaxAsync(x => (long?)x.Id, ct) ?? 0,
            await db.Defects.MaxAsync(x => (long?)x.Id, ct) ?? 0,
            await db.Samples.MaxAsync(x => (long?)x.Id, ct) ?? 0,
            await db.Samples.OrderByDescending(x => x.Id).Select(x => x.Bottle).FirstOrDefaultAsync(ct) ?? "none",
            await db.Parts.OrderBy(x => x.Id).Select(x => x.Number).FirstOrDefaultAsync(ct) ?? "none",
            await db.Sites.Select(x => x.Name).FirstAsync(ct),
            job,
            await db.Users.Select(x => x.Id).FirstAsync(ct)
        );
    }

    /// <summary>Plans weeks and keeps them, so that the plan's pages have one, and says how long it took.</summary>
    private static async Task<string> PlanWeeks(IServiceProvider services, NippersDb db, Actor actor, CancellationToken ct)
    {
        var (crew, weeks) = (services.GetRequiredService<CrewBook>(), services.GetRequiredService<PlanWeeks>());
        var user = await db.Users.Select(x => x.Id).FirstAsync(ct);
        var member = (await crew.Load(ct)).People.First(x => x.UserId == user);
        string?[] hours = ["0", "9", "9", "9", "9", "9", "0"];
        await crew.Save(
            new(user, member.Site.Name, true, hours, [.. Enum.GetValues<Data.Programs.CompartmentKind>()], member.Version),
            actor,
            ct
        );
        var watch = Stopwatch.StartNew();
        var gathered = await services.GetRequiredService<FleetJobs>().Gather(new(), ct);
        var gather = watch.Elapsed.TotalSeconds;
        var plan = (await weeks.Solve(user, new(), App.Weeks.PlanWeeks.Look, ct)).Value!;
        watch.Restart();
        var kept = await weeks.Keep(user, (await weeks.Draft(user, ct))!.Value.Version, actor, ct);
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"weeks: {gathered.Jobs.Count} jobs of {gathered.Jobs.SelectMany(x => x.Units).Distinct().Count()} machines gathered in {gather:0.0} s, "
                    + $"{plan.Places.Count} planned, gap {plan.Gap:0.0 %}, kept in {watch.Elapsed.TotalSeconds:0.0} s ({kept.Done})"
            )
        );
        return plan.Jobs[0].Code;
    }

    private static async Task<long> OpenCard(IServiceProvider services, NippersDb db, Actor actor, CancellationToken ct)
    {
        var plan = services.GetRequiredService<PlanVisit>();
        if (!await db.Visits.AnyAsync(x => x.State == VisitState.Planned, ct))
            await Planned("M-003");
        if (await db.Visits.Where(x => x.State == VisitState.Open).Select(x => (long?)x.Id).FirstOrDefaultAsync(ct) is { } open)
            return open;
        var saved = await Planned("M-001");
        var shown = await db.Readings.Where(x => x.MachineId == saved.MachineId).MaxAsync(x => x.ShownHours, ct);
        var opened = await services.GetRequiredService<OpenCard>().Run(saved.Id, shown.ToString(), true, StepHeat.Cold, actor, ct);
        return opened.Value!.Id;

        async Task<VisitRow> Planned(string unit)
        {
            var draft = (await plan.Draft(new(unit, null, []), ct)).Value!;
            var items = draft.Visit.Items.Select(x => x.Candidate.Code).ToList();
            return (await plan.Save(null, new(unit, $"{draft.Visit.On:yyyy-MM-dd}", items), actor, ct)).Value!;
        }
    }

    /// <summary>A path of each route for the i-th request; null for what is no page and no list, with why.</summary>
    private static Dictionary<string, Func<int, string>?> Paths(Known known)
    {
        static string Unit(int i) => $"M-{i * 61 % 500 + 1:000}";
        var code = "starter-wheel-loader";
        var list = "walk-wheel-loader";
        long Back(long last, int i) => Math.Max(1, last - (i * 997));
        return new(StringComparer.Ordinal)
        {
            [""] = _ => "",
            ["sign-in"] = null, // It leads on who is signed in.
            ["setup"] = null, // Only before anybody is known.
            ["reset"] = _ => "reset",
            ["theme"] = null, // Takes forms only.
            ["error"] = null, // Shown for what went wrong.
            ["sign-out"] = null, // Takes forms only.
            ["no-entry"] = null, // The empty page.
            ["password"] = _ => "password",
            ["quick"] = null, // Takes forms only.
            ["more"] = _ => "more",
            ["phone"] = _ => "phone",
            ["phone/kit"] = _ => "phone/kit",
            ["phone/walks/{id:long}"] = null, // Of a walk under way; bench mornings begins some.
            ["phone/cards/{id:long}"] = _ => $"phone/cards/{known.Card}",
            ["machines"] = _ => "machines",
            ["machines/new"] = _ => "machines/new",
            ["machines/{unit}/{tab:regex(^(items|readings|record|about)$)?}"] = i =>
                $"machines/{Unit(i)}"
                + (i % 5) switch
                {
                    1 => "/items",
                    2 => "/readings",
                    3 => "/record",
                    4 => "/about",
                    _ => "",
                },
            ["machines/{unit}/evening"] = i => $"machines/{Unit(i)}/evening",
            ["machines/{unit}/hours"] = i => $"machines/{Unit(i)}/hours",
            ["machines/{unit}/history"] = i => $"machines/{Unit(i)}/history",
            ["machines/{unit}/readings/{id:long}/{act:regex(^(confirm|void)$)}"] = null, // A question on one reading of one's own.
            ["machines/{unit}/edit"] = i => $"machines/{Unit(i)}/edit",
            ["machines/{unit}/work"] = i => $"machines/{Unit(i)}/work",
            ["machines/{unit}/void-work"] = null, // A question on one record.
            ["machines/{unit}/baseline"] = i => $"machines/{Unit(i)}/baseline",
            ["machines/{unit}/meter"] = i => $"machines/{Unit(i)}/meter",
            ["machines/{unit}/odometer"] = i => $"machines/{Unit(i)}/odometer",
            ["machines/{unit}/park"] = i => $"machines/{Unit(i)}/park",
            ["machines/{unit}/walks"] = i => $"machines/{Unit(i)}/walks",
            ["machines/{unit}/label"] = i => $"machines/{Unit(i)}/label",
            ["machines/{unit}/limits"] = i => $"machines/{Unit(i)}/limits",
            ["machines/{unit}/top-ups/{id:long}/void"] = null, // A question on one record.
            ["walks"] = _ => "walks",
            ["walk/{unit}"] = i => $"walk/{Unit(i)}",
            ["walk/{unit}/sheet"] = i => $"walk/{Unit(i)}/sheet",
            ["walks/{id:long}"] = i => $"walks/{Back(known.Walk, i)}",
            ["walks/{id:long}/at/{step}"] = null, // Of a walk under way; bench mornings begins some.
            ["walks/{id:long}/end"] = null, // The same.
            ["walks/{id:long}/void"] = null, // A question on one record.
            ["units"] = _ => "units",
            ["language"] = _ => "language",
            ["languages/{code}"] = _ => "languages/es",
            ["kinds"] = _ => "kinds",
            ["kinds/{kind}/copy"] = _ => "kinds/wheel-loader/copy",
            ["kinds/{kind}/file"] = _ => "kinds/wheel-loader/file",
            ["walk-lists"] = _ => "walk-lists",
            ["walk-lists/{code}"] = _ => $"walk-lists/{list}",
            ["walk-lists/{code}/check"] = _ => $"walk-lists/{list}/check",
            ["walk-lists/{code}/plan"] = _ => $"walk-lists/{list}/plan",
            ["walk-lists/{code}/positions"] = _ => $"walk-lists/{list}/positions",
            ["walk-lists/{code}/copy"] = _ => $"walk-lists/{list}/copy",
            ["defects"] = _ => "defects",
            ["defects/new"] = i => $"defects/new?unit={Unit(i)}",
            ["defects/{id:long}"] = i => $"defects/{Back(known.Defect, i)}",
            ["defects/{id:long}/tag"] = i => $"defects/{Back(known.Defect, i)}/tag",
            ["mail"] = _ => "mail",
            ["settings/feeds"] = _ => "settings/feeds",
            ["codes"] = _ => "codes",
            ["codes/{id:long}"] = i => $"codes/{i + 1}",
            ["exchange/telemetry"] = _ => "exchange/telemetry",
            ["settings/mail"] = _ => "settings/mail",
            ["settings/mail/{id:long}"] = null, // One row by its number.
            ["calendar"] = _ => "calendar",
            ["calendar/{secret}.ics"] = null, // Its link is one person's secret; it reads what Weeks reads of one person.
            ["weeks"] = _ => "weeks",
            ["weeks/people"] = _ => "weeks/people",
            ["weeks/job"] = _ => $"weeks/job?code={known.Job}",
            ["weeks/person"] = _ => $"weeks/person?id={known.Person}",
            ["visits"] = _ => "visits",
            ["visits/{id:long}"] = _ => $"visits/{known.Card}",
            ["visits/{id:long}/take"] = _ => $"visits/{known.Planned}/take",
            ["visits/{id:long}/paper"] = _ => $"visits/{known.Card}/paper",
            ["visits/{id:long}/end"] = _ => $"visits/{known.Card}/end",
            ["visits/{id:long}/entry"] = _ => $"visits/{known.Card}/entry",
            ["visits/{id:long}/steps/{code}"] = _ => $"visits/{known.Card}/steps/card.walkround",
            ["machines/{unit}/visit"] = i => $"machines/{Unit(i)}/visit",
            ["machines/{unit}/visits"] = i => $"machines/{Unit(i)}/visits",
            ["machines/{unit}/filters"] = i => $"machines/{Unit(i)}/filters",
            ["machines/{unit}/position"] = i => $"machines/{Unit(i)}/position",
            ["machines/{unit}/data"] = i => $"machines/{Unit(i)}/data",
            ["parts"] = _ => "parts",
            ["parts/new"] = _ => "parts/new",
            ["parts/{number}"] = _ => $"parts/{Uri.EscapeDataString(known.Part)}",
            ["parts/{number}/edit"] = _ => $"parts/{Uri.EscapeDataString(known.Part)}/edit",
            ["waste"] = _ => "waste",
            ["programs"] = _ => "programs",
            ["programs/{code}"] = _ => $"programs/{code}",
            ["programs/{code}/item"] = _ => $"programs/{code}/item",
            ["programs/{code}/settings"] = _ => $"programs/{code}/settings",
            ["programs/{code}/copy"] = _ => $"programs/{code}/copy",
            ["programs/{code}/compartment"] = _ => $"programs/{code}/compartment?c=engine",
            ["settings"] = _ => "settings",
            ["settings/audit"] = i => i % 2 == 0 ? "settings/audit" : "settings/audit?who=Mara%20Quill",
            ["settings/shop"] = _ => "settings/shop",
            ["settings/site"] = _ => $"settings/site?name={Uri.EscapeDataString(known.Site)}",
            ["samples"] = i => i % 2 == 0 ? "samples" : "samples?part=Judged",
            ["samples/labels"] = _ => "samples/labels",
            ["samples/list"] = _ => "samples/list",
            ["samples/find"] = null, // Leads on.
            ["samples/fleet"] = _ => "samples/fleet",
            ["samples/limits"] = _ => "samples/limits",
            ["samples/labs"] = _ => "samples/labs",
            ["samples/fluids"] = _ => "samples/fluids",
            ["samples/fluids/one"] = null, // The big database keeps no fluid of its own.
            ["samples/import"] = _ => "samples/import",
            ["samples/{id:long}"] = i => $"samples/{Back(known.Sample, i)}",
            ["samples/{id:long}/results"] = i => $"samples/{Back(known.Sample, i)}/results",
            ["machines/{unit}/samples"] = i => $"machines/{Unit(i)}/samples",
            ["machines/{unit}/samples/take"] = i => $"machines/{Unit(i)}/samples/take?item=engine-oil-sample",
            ["machines/{unit}/oil"] = i => $"machines/{Unit(i)}/oil?c=engine",
            ["machines/{unit}/coolant"] = i => $"machines/{Unit(i)}/coolant",
            ["exchange"] = _ => "exchange",
            ["exchange/readings"] = _ => "exchange/readings",
            ["exchange/fleet"] = _ => "exchange/fleet",
            ["exchange/fleet.nippers.json"] = null, // Whole files; bench exchange measures them.
            ["exchange/readings.csv"] = null,
            ["exchange/walks.csv"] = null,
            ["exchange/defects.csv"] = null,
            ["exchange/service/{what}.csv"] = null,
            ["openapi/v1.json"] = _ => "openapi/v1.json",
            ["api/v1/machines"] = _ => "api/v1/machines",
            ["api/v1/machines/{unit}"] = i => $"api/v1/machines/{Unit(i)}",
            ["api/v1/machines/{unit}/due"] = i => $"api/v1/machines/{Unit(i)}/due",
            ["api/v1/machines/{unit}/readings"] = i => $"api/v1/machines/{Unit(i)}/readings",
            ["api/v1/machines/{unit}/walks"] = i => $"api/v1/machines/{Unit(i)}/walks",
            ["api/v1/machines/{unit}/proposals"] = i => $"api/v1/machines/{Unit(i)}/proposals",
            ["api/v1/defects"] = _ => "api/v1/defects",
            ["api/v1/visits"] = i => $"api/v1/visits?unit={Unit(i)}",
            ["api/v1/filters"] = i => $"api/v1/filters?unit={Unit(i)}",
            ["api/v1/stock"] = _ => "api/v1/stock",
            ["api/v1/waste"] = _ => "api/v1/waste",
            ["api/v1/samples"] = i => $"api/v1/samples?unit={Unit(i)}",
            ["api/v1/samples/{bottle}"] = _ => $"api/v1/samples/{Uri.EscapeDataString(known.Bottle)}",
            ["api/v1/oil-limits"] = i => $"api/v1/oil-limits?unit={Unit(i)}&compartment=engine",
        };
    }

    private sealed record Known(
        string Token,
        long Card,
        long Planned,
        long Walk,
        long Defect,
        long Sample,
        string Bottle,
        string Part,
        string Site,
        string Job,
        string Person
    );

    private sealed record Measured(string Route, int Questions, double First, Times Page, Times Rows, Times Empty);

    /// <summary>What requests took, in ms.</summary>
    private readonly record struct Times(double Median, double P95)
    {
        public static Times Of(List<double> taken)
        {
            taken.Sort();
            return new(taken[taken.Count / 2], taken[(int)(taken.Count * 0.95)]);
        }
    }

    private sealed record Question(string Text, List<(string Name, object Value)> Parameters);

    /// <summary>Hears what the application asks of the database.</summary>
    private sealed class Heard : IObserver<DiagnosticListener>, IObserver<KeyValuePair<string, object?>>, IDisposable
    {
        private readonly ConcurrentQueue<Question> _questions = [];
        private readonly List<IDisposable> _heard = [];
        private volatile bool _on;

        public Heard() => _heard.Add(DiagnosticListener.AllListeners.Subscribe(this));

        public void Start()
        {
            _questions.Clear();
            _on = true;
        }

        public List<Question> Stop()
        {
            _on = false;
            return [.. _questions];
        }

        public void OnNext(DiagnosticListener value)
        {
            if (value.Name == DbLoggerCategory.Name)
                _heard.Add(value.Subscribe(this));
        }

        public void OnNext(KeyValuePair<string, object?> value)
        {
            // What it writes besides is not to be written again.
            if (
                _on
                && value.Value is CommandEventData asked
                && value.Key == RelationalEventId.CommandExecuting.Name
                && (
                    asked.Command.CommandText.StartsWith("SELECT", StringComparison.Ordinal)
                    || asked.Command.CommandText.StartsWith("WITH", StringComparison.Ordinal)
                )
            )
                _questions.Enqueue(
                    new(
                        asked.Command.CommandText,
                        [.. asked.Command.Parameters.Cast<DbParameter>().Select(x => (x.ParameterName, x.Value ?? DBNull.Value))]
                    )
                );
        }

        public void OnCompleted() { }

        public void OnError(Exception error) { }

        public void Dispose() => _heard.ForEach(x => x.Dispose());
    }
}
