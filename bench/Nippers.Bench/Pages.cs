using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Text.RegularExpressions;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.Parts;
using Nippers.App.Today;
using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Data;
using Nippers.Data.Visits;
using Nippers.Web.Hosting;

namespace Nippers.Bench;

/// <summary>
/// Pages of the whole application against the big database, as ratio to what cannot be saved: reading the same rows
/// with plain SQL, plus an empty page of the same application, in the same run.
/// </summary>
internal static partial class Pages
{
    private const int Requests = 200;

    // Enough for the runtime to have compiled what is hot; a server runs for weeks.
    private const int WarmUp = 300;

    public static async Task Run(string file, CancellationToken ct)
    {
        var settings = BigDatabase.Settings(file);
        await using var app = NippersHost.Create(settings);
        await Web.Commands.Startup.Prepare(app.Services, settings, ct);
        await app.StartAsync(ct);
        using var client = new HttpClient(new HttpClientHandler { CookieContainer = new CookieContainer() })
        {
            BaseAddress = new Uri($"http://127.0.0.1:{new Uri(app.Urls.First()).Port}/"),
        };
        var token = Token().Match(await client.GetStringAsync("sign-in", ct)).Groups[1].Value;
        using var form = new FormUrlEncodedContent([
            new("userName", "mara"),
            new("password", BigDatabase.Password),
            new("__RequestVerificationToken", token),
        ]);
        (await client.PostAsync("sign-in", form, ct)).EnsureSuccessStatusCode();

        var empty = await Measure("empty page (/no-entry)", _ => Get("no-entry"));
        var today = await Measure("Today", _ => Get(""));
        await Measure("Today's use case, undrawn", async _ =>
        {
            await using var scope = app.Services.CreateAsyncScope();
            await scope.ServiceProvider.GetRequiredService<TodayView>().Run(new(), ct);
        });
        var todayRows = await Measure("Today's rows, plain SQL", _ =>
            Task.FromResult(
                Rows(
                    file,
                    "SELECT s.*, m.Unit, m.Kind, m.Make, m.Model, t.Name FROM Statuses s JOIN Machines m ON m.Id = s.MachineId JOIN Sites t ON t.Id = m.SiteId WHERE NOT m.Retired ORDER BY s.Worst DESC, s.Urgency LIMIT 25",
                    "SELECT COUNT(*), SUM(Worst = 4), SUM(Worst = 3), SUM(Worst = 2), SUM(Unconfirmed > 0), SUM(Stale) FROM Statuses",
                    "SELECT ProgramId, Code, Name FROM ProgramItems"
                )
            )
        );
        var machine = await Measure("Machine", i => Get($"machines/M-{i % 500 + 1:000}"));
        var machineRows = await Measure("Machine's rows, plain SQL", i => Task.FromResult(Rows(file, [.. MachineQueries(i % 500 + 1)])));
        Ratio("Today", today, todayRows, empty);
        Ratio("Machine", machine, machineRows, empty);
        Ratio(
            "Visits of a machine",
            await Measure("Visits of a machine", i => Get($"machines/M-{i % 500 + 1:000}/visits")),
            machineRows,
            empty
        );
        await Measure("Planning's use case, undrawn", async i =>
        {
            await using var scope = app.Services.CreateAsyncScope();
            await scope.ServiceProvider.GetRequiredService<PlanVisit>().Draft(new($"M-{i % 500 + 1:000}", null, []), ct);
        });
        var planRows = await Measure("Planning's rows, plain SQL", i =>
            Task.FromResult(Rows(file, [.. MachineQueries(i % 500 + 1), .. PlanQueries(i % 500 + 1)]))
        );
        Ratio("Planning a visit", await Measure("Planning a visit", i => Get($"machines/M-{i % 500 + 1:000}/visit")), planRows, empty);
        Ratio("Planning it", await Measure("Planning what is due in it", i => Get(Due(i))), planRows, empty);
        var card = await OpenCard();
        var cardRows = await Measure("A card's rows, plain SQL", _ =>
            Task.FromResult(Rows(file, $"SELECT * FROM Visits WHERE Id = {card}", $"SELECT * FROM Steps WHERE VisitId = {card}"))
        );
        Ratio("Job card", await Measure("Job card", _ => Get($"visits/{card}")), cardRows, empty);
        Ratio("What a phone holds", await Measure("What a phone holds, 200 machines", _ => Get("phone/kit"), 20), machineRows, empty);
        await Measure("Filters' use case, undrawn", async i =>
        {
            await using var scope = app.Services.CreateAsyncScope();
            await scope.ServiceProvider.GetRequiredService<PartViews>().Filters($"M-{i % 500 + 1:000}", 1, ct);
        });
        var filters = await Measure("Filters of a machine", i => Get($"machines/M-{i % 500 + 1:000}/filters"));
        var filterRows = await Measure("Filters' rows, plain SQL", i =>
            Task.FromResult(
                Rows(
                    file,
                    $"SELECT * FROM FilterPositions p JOIN Parts x ON x.Id = p.PartId WHERE p.MachineId = {i % 500 + 1}",
                    $"SELECT * FROM FilterLog WHERE MachineId = {i % 500 + 1} ORDER BY LifeTenths DESC LIMIT 50",
                    $"SELECT * FROM Machines m JOIN Statuses s ON s.MachineId = m.Id WHERE m.Id = {i % 500 + 1}",
                    $"SELECT Code, Name FROM ProgramItems WHERE ProgramId = (SELECT ProgramId FROM Machines WHERE Id = {i % 500 + 1})",
                    $"SELECT COUNT(*) FROM FilterLog WHERE MachineId = {i % 500 + 1}"
                )
            )
        );
        Ratio("Filters of a machine", filters, filterRows, empty);
        var dueRows = await Measure("Tray's rows, plain SQL", _ =>
            Task.FromResult(
                Rows(
                    file,
                    "SELECT State, State = 1 AND SentMs < 0, COUNT(*) FROM Samples WHERE VoidedMs IS NULL AND State < 3 GROUP BY 1, 2",
                    "SELECT COUNT(*), SUM(SamplesDue) FROM Statuses WHERE SamplesDue > 0",
                    "SELECT s.*, m.Unit FROM Statuses s JOIN Machines m ON m.Id = s.MachineId WHERE s.SamplesDue > 0 ORDER BY s.SamplesDue DESC LIMIT 25",
                    "SELECT * FROM ProgramItems",
                    "SELECT * FROM ProgramCompartments"
                )
            )
        );
        Ratio("Tray, to take", await Measure("Tray, to take", _ => Get("samples")), dueRows, empty);
        var judgedRows = await Measure("Tray's judged rows, plain SQL", _ =>
            Task.FromResult(
                Rows(
                    file,
                    "SELECT State, State = 1 AND SentMs < 0, COUNT(*) FROM Samples WHERE VoidedMs IS NULL AND State < 3 GROUP BY 1, 2",
                    "SELECT s.*, m.Unit FROM Samples s JOIN Machines m ON m.Id = s.MachineId WHERE s.VoidedMs IS NULL AND s.State = 3 ORDER BY s.TakenMs DESC LIMIT 41"
                )
            )
        );
        Ratio("Tray, judged", await Measure("Tray, judged", _ => Get("samples?part=Judged")), judgedRows, empty);
        static int SampleOf(int i) => i * 997 % (500 * BigSamples.OfMachine) + 1;
        var sampleRows = await Measure("A sample's rows, plain SQL", i =>
            Task.FromResult(
                Rows(
                    file,
                    $"SELECT * FROM Samples s JOIN Reports r ON r.SampleId = s.Id JOIN Judgements j ON j.SampleId = s.Id WHERE s.Id = {SampleOf(i)}",
                    $"SELECT x.*, j.\"Values\" FROM Samples s JOIN Samples x ON x.MachineId = s.MachineId AND x.Compartment = s.Compartment JOIN Judgements j ON j.SampleId = x.Id WHERE s.Id = {SampleOf(i)} ORDER BY x.LifeTenths DESC LIMIT 40",
                    $"SELECT * FROM Completions WHERE MachineId = (SELECT MachineId FROM Samples WHERE Id = {SampleOf(i)}) AND VoidedMs IS NULL ORDER BY ItemCode, LifeTenths, DoneOn",
                    $"SELECT * FROM ProgramItems WHERE ProgramId = (SELECT m.ProgramId FROM Samples s JOIN Machines m ON m.Id = s.MachineId WHERE s.Id = {SampleOf(i)})",
                    $"SELECT AtMs, LifeTenths FROM Readings WHERE MachineId = (SELECT MachineId FROM Samples WHERE Id = {SampleOf(i)}) AND State = 0 AND AtMs >= {DateTimeOffset.UtcNow.AddDays(-181).ToUnixTimeMilliseconds()} ORDER BY AtMs"
                )
            )
        );
        Ratio("A sample", await Measure("A sample", i => Get($"samples/{SampleOf(i)}")), sampleRows, empty);
        Ratio(
            "Oil of a compartment",
            await Measure("Oil of a compartment", i => Get($"machines/M-{i % 500 + 1:000}/oil?c=engine")),
            sampleRows,
            empty
        );

        // Everything that the program holds is ticked, which is more than anybody does on one day.
        static string Due(int i) => $"machines/M-{i % 500 + 1:000}/visit?on={DateTime.UtcNow.AddDays(60):yyyy-MM-dd}";

        async Task<long> OpenCard()
        {
            await using var scope = app.Services.CreateAsyncScope();
            var db = scope.ServiceProvider.GetRequiredService<NippersDb>();
            if (await db.Visits.Where(x => x.State == VisitState.Open).Select(x => (long?)x.Id).FirstOrDefaultAsync(ct) is { } open)
                return open;
            var actor = new Actor("Mara Quill", Roles.Planner);
            var plan = scope.ServiceProvider.GetRequiredService<PlanVisit>();
            var draft = (await plan.Draft(new("M-001", null, []), ct)).Value!;
            var items = draft.Visit.Items.Select(x => x.Candidate.Code).ToList();
            var saved = await plan.Save(null, new("M-001", $"{draft.Visit.On:yyyy-MM-dd}", items), actor, ct);
            var machine = saved.Value!.MachineId;
            var shown = await db.Readings.Where(x => x.MachineId == machine).MaxAsync(x => x.ShownHours, ct);
            var opened = await scope
                .ServiceProvider.GetRequiredService<OpenCard>()
                .Run(saved.Value.Id, shown.ToString(), true, StepHeat.Cold, actor, ct);
            return opened.Value!.Id;
        }

        // Read as it comes and thrown away: whole pages as strings would have the collector work for the measurer.
        async Task Get(string path)
        {
            using var answer = await client.GetAsync(path, HttpCompletionOption.ResponseHeadersRead, ct);
            await using var body = await answer.Content.ReadAsStreamAsync(ct);
            await body.CopyToAsync(Stream.Null, ct);
        }
    }

    /// <summary>What the page of a machine reads.</summary>
    private static IEnumerable<string> MachineQueries(int id) =>
        [
            $"SELECT * FROM Machines WHERE Id = {id}",
            $"SELECT * FROM ProgramItems WHERE ProgramId = (SELECT ProgramId FROM Machines WHERE Id = {id})",
            $"SELECT AtMs, LifeTenths FROM Readings WHERE MachineId = {id} AND State = 0 AND AtMs >= {DateTimeOffset.UtcNow.AddDays(-181).ToUnixTimeMilliseconds()} ORDER BY AtMs",
            $"SELECT * FROM Completions WHERE MachineId = {id} AND VoidedMs IS NULL ORDER BY ItemCode, LifeTenths, DoneOn",
            $"SELECT * FROM Audit WHERE MachineId = {id} ORDER BY AtMs DESC LIMIT 12",
        ];

    /// <summary>What planning a visit reads besides.</summary>
    private static IEnumerable<string> PlanQueries(int id) =>
        [
            "SELECT * FROM Shop",
            "SELECT * FROM Fluids",
            $"SELECT * FROM ProgramCompartments WHERE ProgramId = (SELECT ProgramId FROM Machines WHERE Id = {id})",
            $"SELECT * FROM MachineCompartments WHERE MachineId = {id}",
            $"SELECT * FROM FilterPositions p JOIN Parts x ON x.Id = p.PartId WHERE p.MachineId = {id}",
            "SELECT a.PartId, x.Number FROM PartAlternates a JOIN Parts x ON x.Id = a.OtherId",
            $"SELECT * FROM MachineChecks WHERE MachineId = {id}",
            $"SELECT Compartment, Litres, LifeTenths FROM TopUps WHERE MachineId = {id}",
            $"SELECT * FROM StepMinutes WHERE MachineId = {id}",
            $"SELECT * FROM Defects WHERE MachineId = {id} AND State = 0",
            $"SELECT * FROM Visits WHERE MachineId = {id} AND State = 2",
            $"SELECT i.* FROM VisitItems i JOIN Visits v ON v.Id = i.VisitId WHERE v.MachineId = {id} AND i.State = 2",
            $"SELECT PartId, SiteId, SUM(Quantity) FROM StockMoves WHERE PartId IN (SELECT PartId FROM FilterPositions WHERE MachineId = {id}) GROUP BY PartId, SiteId",
        ];

    private static void Ratio(
        string what,
        (double Median, double P95) page,
        (double Median, double P95) rows,
        (double Median, double P95) empty
    ) =>
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"pages: {what}: {page.Median / (rows.Median + empty.Median):0.00} times plain SQL plus an empty page at the median, {page.P95 / (rows.P95 + empty.P95):0.00} times at p95"
            )
        );

    private static async Task<(double Median, double P95)> Measure(string what, Func<int, Task> work, int requests = Requests)
    {
        var times = new List<double>(requests);
        var warmUp = WarmUp * requests / Requests;
        for (var i = 0; i < warmUp + requests; i++)
        {
            var watch = Stopwatch.StartNew();
            await work(i * 7);
            if (i >= warmUp)
                times.Add(watch.Elapsed.TotalMilliseconds);
        }

        times.Sort();
        var found = (times[requests / 2], times[(int)(requests * 0.95)]);
        Console.WriteLine(
            string.Create(CultureInfo.InvariantCulture, $"pages: {what}: median {found.Item1:0.00} ms, p95 {found.Item2:0.00} ms")
        );
        return found;
    }

    private static int Rows(string file, params string[] queries)
    {
        using var connection = new SqliteConnection(NippersDb.ConnectionString(file));
        connection.Open();
        var values = 0;
        foreach (var query in queries)
        {
            using var command = connection.CreateCommand();
#pragma warning disable CA2100 // The queries are written here, with numbers alone.
            command.CommandText = query;
#pragma warning restore CA2100
            using var reader = command.ExecuteReader();
            while (reader.Read())
            {
                for (var i = 0; i < reader.FieldCount; i++)
                    values += reader.GetValue(i) is null ? 0 : 1;
            }
        }

        return values;
    }

    [GeneratedRegex("""name="__RequestVerificationToken"[^>]*value="([^"]+)""")]
    private static partial Regex Token();
}
