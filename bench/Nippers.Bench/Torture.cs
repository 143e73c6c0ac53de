using System.Collections.Concurrent;
using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.Machines;
using Nippers.App.People;
using Nippers.App.Programs;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.People;
using Nippers.Data.Queries;
using Nippers.Data.Records;
using Nippers.Web.Commands;
using Nippers.Web.Hosting;

namespace Nippers.Bench;

/// <summary>What a torture came to.</summary>
/// <param name="Kills">How often the server was killed.</param>
/// <param name="Acknowledged">Writes that it had said were kept.</param>
/// <param name="Wrong">What is not as it was said; empty when nothing is.</param>
internal sealed record Tortured(int Kills, int Acknowledged, IReadOnlyList<string> Wrong);

/// <summary>
/// Kills a server at random while programs write to it, starts it again, and looks whether everything that it had acknowledged is
/// there, once. Whoever got no answer sends the same again under the same key, as a program does.
/// </summary>
internal sealed class Torture(string folder, string server, int seed)
{
    private const int Machines = 4;
    private const int LeastMs = 1;
    private const int MostMs = 2000;
    private static readonly TimeSpan StartsWithin = TimeSpan.FromSeconds(90);
    private static readonly Actor Planner = new("Torture", Roles.Planner);

    private readonly Random _random = new(seed);
    private readonly ConcurrentBag<(string Kind, string Unit, string Mark, long Id)> _kept = [];
    private readonly ConcurrentBag<string> _odd = [];
    private readonly int[] _written = new int[Machines];

    private string File => Path.Combine(folder, "fleet.db");

    private static DateTimeOffset Now => TimeProvider.System.GetUtcNow();

    private static string UnitOf(int machine) => $"T-{machine + 1:00}";

    /// <summary>Tortures a server.</summary>
    /// <param name="kills">How often it is killed.</param>
    /// <param name="told">Told how far it is.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<Tortured> Run(int kills, Action<string>? told, CancellationToken ct)
    {
        var (token, from) = await Make(ct);
        var wrong = new List<string>();
        for (var kill = 1; kill <= kills && wrong.Count == 0; kill++)
        {
            var port = FreePort();
            using var process = Start(port);
            using var client = new HttpClient { BaseAddress = new($"http://127.0.0.1:{port}/api/v1/") };
            client.DefaultRequestHeaders.Authorization = new("Bearer", token);
            using var stop = CancellationTokenSource.CreateLinkedTokenSource(ct);
            try
            {
                await UntilItAnswers(client, process, ct);
                var writers = Enumerable.Range(0, Machines).Select(x => Write(client, x, from, stop.Token)).ToList();
                await UntilItHasKept(_kept.Count + 1, ct);
                await Task.Delay(_random.Next(LeastMs, MostMs), ct);
                process.Kill(entireProcessTree: true);
                await process.WaitForExitAsync(ct);
                await stop.CancelAsync();
                await Task.WhenAll(writers);
            }
            finally
            {
                if (!process.HasExited)
                    process.Kill(entireProcessTree: true);
            }

            wrong.AddRange(_odd);
            wrong.AddRange(await Look(ct));
            told?.Invoke($"{kill} kills, {_kept.Count} acknowledged, {wrong.Count} wrong");
        }

        return new(kills, _kept.Count, wrong);
    }

    private async Task<(string Token, DateTimeOffset From)> Make(CancellationToken ct)
    {
        var settings = new WebSettings(File, 0, TimeProvider.System, Quiet: true) { LocalOnly = true };
        await using var app = NippersHost.Create(settings);
        await Startup.Prepare(app.Services, settings, ct);
        await using var scope = app.Services.CreateAsyncScope();
        var from = Now.AddDays(-300);
        for (var i = 0; i < Machines; i++)
            await Add(scope.ServiceProvider.GetRequiredService<SaveMachine>(), UnitOf(i), from, ct);
        var made = await scope
            .ServiceProvider.GetRequiredService<ApiTokens>()
            .Make(new("torture", Roles.Technician, TokenScopes.All), Planner, ct);
        return (made.Value!.Text, from);
    }

    private static async Task Add(SaveMachine save, string unit, DateTimeOffset from, CancellationToken ct)
    {
        var kind = MachineKind.Of("wheel-loader");
        var added = await save.Run(
            new()
            {
                Unit = unit,
                Kind = kind,
                Make = "Ulmar",
                Model = "UL 12",
                Site = "Yard",
                Program = StarterPrograms.CodeOf(kind),
                History = History.SinceNew,
                CommissionedOn = from.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
                CommissionedHours = "0",
                PlannedHoursPerDay = "6",
                Options = ["ac", "aftertreatment=def", "attachment=none", "linkage=greased"],
            },
            Planner,
            ct
        );
        if (!added.Done)
            throw new InvalidOperationException(added.Refusals[0].Code);
    }

    private Process Start(int port) =>
        Process.Start(
            new ProcessStartInfo("dotnet", [server, "serve", "--db", File, "--port", port.ToString(CultureInfo.InvariantCulture)])
            {
                RedirectStandardError = true,
                RedirectStandardOutput = true,
            }
        )!;

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    private static async Task UntilItAnswers(HttpClient client, Process process, CancellationToken ct)
    {
        var waited = Stopwatch.StartNew();
        while (true)
        {
            try
            {
                if ((await client.GetAsync("machines", ct)).IsSuccessStatusCode)
                    return;
            }
            catch (HttpRequestException) when (waited.Elapsed < StartsWithin && !process.HasExited) { }

            if (process.HasExited || waited.Elapsed > StartsWithin)
                throw new InvalidOperationException("It did not start: " + await process.StandardError.ReadToEndAsync(ct));
            await Task.Yield();
        }
    }

    /// <summary>The first answers take long, for all is compiled by them: killing begins when writes are flowing.</summary>
    private async Task UntilItHasKept(int many, CancellationToken ct)
    {
        var waited = Stopwatch.StartNew();
        while (_kept.Count < many && _odd.IsEmpty && waited.Elapsed < StartsWithin)
            await Task.Delay(1, ct);
    }

    /// <summary>Writes to one machine without a pause, a reading and a defect in turn, each anew until it is acknowledged.</summary>
    private async Task Write(HttpClient client, int machine, DateTimeOffset from, CancellationToken ct)
    {
        while (!ct.IsCancellationRequested)
        {
            var number = _written[machine] + 1;
            var reading = number % 2 == 1;
            var mark = reading
                ? (number * 0.1).ToString("0.0", CultureInfo.InvariantCulture)
                : string.Create(CultureInfo.InvariantCulture, $"mark {machine} {number}");
            JsonObject body = reading
                ? new() { ["hours"] = Math.Round(number * 0.1, 1), ["at"] = from.AddDays(1).AddMinutes(number * 10) }
                : new() { ["words"] = mark, ["grade"] = "watch" };
            using var request = new HttpRequestMessage(HttpMethod.Post, $"machines/{UnitOf(machine)}/{(reading ? "readings" : "defects")}");
            request.Content = JsonContent.Create(body);
            request.Headers.Add("Idempotency-Key", string.Create(CultureInfo.InvariantCulture, $"{machine}-{number}"));
            try
            {
                using var answer = await client.SendAsync(request, ct);
                var text = await answer.Content.ReadAsStringAsync(ct);
                if (answer.IsSuccessStatusCode)
                {
                    _kept.Add((reading ? "reading" : "defect", UnitOf(machine), mark, (long)JsonNode.Parse(text)!["id"]!));
                    _written[machine] = number;
                }
                else if (answer.StatusCode != HttpStatusCode.ServiceUnavailable)
                {
                    _odd.Add($"{mark}: {(int)answer.StatusCode} {text}");
                    return;
                }
            }
            catch (Exception fault) when (fault is HttpRequestException or IOException or OperationCanceledException)
            {
                // Killed while it answered: nobody knows whether it was kept. It is sent again after the next start.
                return;
            }
        }
    }

    /// <summary>What is not as it was said to be.</summary>
    private async Task<IReadOnlyList<string>> Look(CancellationToken ct)
    {
        var options = new DbContextOptionsBuilder<NippersDb>();
        NippersDb.Configure(options, File);
        await using var db = new NippersDb(options.Options);
        var wrong = new List<string>();
        var sound = await db.Database.SqlQuery<string>($"SELECT integrity_check AS Value FROM pragma_integrity_check").ToListAsync(ct);
        if (sound is not ["ok"])
            wrong.Add("integrity: " + string.Join(", ", sound.Take(3)));
        var units = await db.Machines.ToDictionaryAsync(x => x.Id, x => x.Unit, ct);
        var readings = (await db.Readings.AsNoTracking().ToListAsync(ct)).ToLookup(x =>
            (units[x.MachineId], x.ShownHours.Value.ToString("0.0", CultureInfo.InvariantCulture))
        );
        var defects = (
            await db
                .Defects.Select(x => new
                {
                    x.Id,
                    x.Machine.Unit,
                    x.Words,
                })
                .ToListAsync(ct)
        ).ToLookup(x => (x.Unit, x.Words));
        foreach (var (kind, unit, mark, id) in _kept)
        {
            long[] found = kind == "reading" ? [.. readings[(unit, mark)].Select(x => x.Id)] : [.. defects[(unit, mark)].Select(x => x.Id)];
            if (found is not [var only] || only != id)
                wrong.Add($"{kind} {mark} of {unit} was kept as {id} and is there as {string.Join(" and ", found)}");
        }

        foreach (var row in await db.Statuses.Include(x => x.Machine).ToListAsync(ct))
        {
            var last = await db
                .Readings.Where(x => x.MachineId == row.MachineId && x.State == ReadingState.Accepted)
                .OrderByDescending(x => x.At)
                .Select(x => x.LifeHours)
                .FirstOrDefaultAsync(ct);
            var open = (await db.OpenDefects(row.MachineId, ct)).Count;
            if (row.LastHours != last || row.Defects != open)
                wrong.Add(
                    $"{row.Machine.Unit} stands at {row.LastHours.Value} h with {row.Defects} defects; it is {last.Value} h and {open}"
                );
        }

        return wrong;
    }
}
