using System.Collections.Concurrent;
using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Sockets;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Identity;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.Exchange;
using Nippers.App.Machines;
using Nippers.App.People;
using Nippers.App.Programs;
using Nippers.App.Readings;
using Nippers.App.Statuses;
using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Core.Service;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.People;
using Nippers.Data.Queries;
using Nippers.Web.Commands;
using Nippers.Web.Hosting;

namespace Nippers.Bench;

/// <summary>What a torture came to.</summary>
/// <param name="Kills">How often the server was killed; fewer than asked for where something was wrong.</param>
/// <param name="Instants">At how many instants it was looked through besides, as if it had been killed there.</param>
/// <param name="Acknowledged">Writes that it had said were kept.</param>
/// <param name="Wrong">What is not as it was said; empty when nothing is.</param>
internal sealed record Tortured(int Kills, int Instants, int Acknowledged, IReadOnlyList<string> Wrong);

/// <summary>
/// Kills a server at random while readings, defects with pictures, walks, a job card, bottles and fleet files are written to it and
/// its log is written back, starts it again, and looks whether everything that it had acknowledged is there, once. Whoever got no
/// answer sends the same again under the same key, as a program and a phone do. A start takes many times as long as a kill: between
/// them it is stopped at random instants, and what then lies on the disk, which is what a kill would leave, is looked through as well.
/// </summary>
/// <param name="folder">Where its database stands.</param>
/// <param name="server">The server's program.</param>
/// <param name="seed">Another one kills at other moments.</param>
internal sealed class Torture(string folder, string server, int seed) : IDisposable
{
    private const int LeastMs = 1;
    private const int MostMs = 2000;
    private const int InstantMs = 600;
    private const int FileReadings = 400;
    private const int BirthEvery = 10;

    // What is thrown away and derived anew when a database is moved.
    private static readonly string[] Derived = ["Statuses"];
    private const string OilSample = "engine-oil-sample";
    private static readonly TimeSpan StartsWithin = TimeSpan.FromMinutes(5);
    private static readonly TimeSpan CheckpointEvery = TimeSpan.FromMilliseconds(150);
    private const int Machines = 6;
    private const string UserName = "torture";
    private static readonly Actor Planner = new("Torture", Roles.Planner);

    private readonly DateTimeOffset _from = Now.AddDays(-300);
    private readonly Random _random = new(seed);
    private readonly List<TortureHand> _hands = [];
    private readonly CookieContainer _cookies = new();
    private readonly SemaphoreSlim _writesBack = new(1, 1);
    private int _instants;
    private string _token = "";
    private ConcurrentQueue<string> _said = new();

    /// <summary>A database to begin with, that a copy is made of; null for a new one.</summary>
    public string? From { get; init; }

    /// <summary>At how many instants of each start it is looked through before it is killed.</summary>
    public int Instants { get; init; }

    /// <summary>A library that keeps what was synced of the database; null when only kills are tried.</summary>
    public string? Unsynced { get; init; }

    private string File => Path.Combine(folder, "fleet.db");

    private string Synced => Path.Combine(folder, "synced");

    private int Kept => _hands.Sum(x => x.Kept);

    private static DateTimeOffset Now => TimeProvider.System.GetUtcNow();

    /// <inheritdoc/>
    public void Dispose() => _writesBack.Dispose();

    /// <summary>Tortures a server.</summary>
    /// <param name="kills">How often it is killed.</param>
    /// <param name="told">Told how far it is.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<Tortured> Run(int kills, Action<string>? told, CancellationToken ct)
    {
        await Make(ct);
        var (wrong, killed) = (new List<string>(), 0);
        while (killed < kills && wrong.Count == 0)
        {
            var kill = ++killed;
            if (kill % BirthEvery == 0)
                wrong.AddRange(await AtBirth(kill, ct));
            else if (kill % BirthEvery == BirthEvery / 2)
                wrong.AddRange(await AtMove(kill, ct));
            else
                wrong.AddRange(await AtWork(ct));
            told?.Invoke($"{kill} kills, {_instants} instants besides, {Kept} acknowledged, {wrong.Count} wrong");
        }

        return new(killed, _instants, Kept, wrong);
    }

    /// <summary>Kills servers that bring an old database to the newest shape, and nothing else.</summary>
    /// <param name="kills">How many.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<IReadOnlyList<string>> Moves(int kills, CancellationToken ct)
    {
        await Make(ct);
        var wrong = new List<string>();
        for (var kill = 1; kill <= kills; kill++)
            wrong.AddRange(await AtMove(kill, ct));
        return wrong;
    }

    private async Task<IReadOnlyList<string>> AtWork(CancellationToken ct)
    {
        if (Unsynced is not null)
            Sync();
        var port = FreePort();
        using var process = Start(port, File);
        var address = new Uri($"http://127.0.0.1:{port}/");
        using var api = new HttpClient { BaseAddress = address };
        api.DefaultRequestHeaders.Authorization = new("Bearer", _token);
        using var person = Person(address);
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(ct);
        var wrong = new List<string>();
        try
        {
            await UntilItAnswers(api, process, ct);
            var line = new TortureLine(api, person, await FormToken(person, ct));
            var before = Kept;
            var writers = _hands.ConvertAll(x => x.Work(line, stop.Token));

            // What another program syncs nobody keeps: then the server alone writes its log back.
            var checkpoints = Unsynced is null ? WriteBack(stop.Token) : Task.CompletedTask;

            // The first answers take long, for all is compiled by them: killing begins when writes are flowing.
            await UntilMoreIsKept(before, ct);
            for (var i = 0; i < Instants && wrong.Count == 0; i++)
            {
                await UntilMoreIsKept(Kept, ct);
                await Task.Delay(_random.Next(LeastMs, InstantMs), ct);
                wrong.AddRange(await AtInstant(process, ct));
                _instants++;
            }

            await Task.Delay(_random.Next(LeastMs, MostMs), ct);
            process.Kill(entireProcessTree: true);
            await process.WaitForExitAsync(ct);
            await stop.CancelAsync();
            await Task.WhenAll([.. writers, checkpoints]);
        }
        finally
        {
            if (!process.HasExited)
                process.Kill(entireProcessTree: true);
        }

        wrong.AddRange([.. _hands.Select(x => x.Odd).OfType<string>(), .. await Look(File, "", ct)]);
        if (Unsynced is not null)
            wrong.AddRange(await Look(Path.Combine(Synced, "fleet.db"), "of what was synced: ", ct));
        return wrong;
    }

    private async Task UntilMoreIsKept(int before, CancellationToken ct)
    {
        var began = Stopwatch.StartNew();
        while (Kept == before && began.Elapsed < StartsWithin && _hands.TrueForAll(x => x.Odd is null))
            await Task.Delay(1, ct);
    }

    /// <summary>Stops a server, looks through a copy of what lies on the disk, and lets it go on.</summary>
    private async Task<IReadOnlyList<string>> AtInstant(Process process, CancellationToken ct)
    {
        var copy = Path.Combine(folder, "instant.db");

        // Another program that writes back would go on while files are copied.
        await _writesBack.WaitAsync(ct);
        try
        {
            await Signal(process, "STOP", ct);
            while (!IsStopped(process))
                await Task.Delay(1, ct);
            System.IO.File.Delete(copy + "-shm");
            foreach (var end in (string[])["", "-wal"])
                System.IO.File.Copy(File + end, copy + end, overwrite: true);

            // What was acknowledged is counted as it stood then: those who write wait as long as it stands still.
            return await Look(copy, "at an instant: ", ct);
        }
        finally
        {
            await Signal(process, "CONT", ct);
            _writesBack.Release();
        }
    }

    private static async Task Signal(Process process, string name, CancellationToken ct)
    {
        using var shell = Process.Start("sh", ["-c", string.Create(CultureInfo.InvariantCulture, $"kill -{name} {process.Id}")]);
        await shell.WaitForExitAsync(ct);
    }

    /// <summary>Whether each of its threads stands still: what one of them had asked of the system is done before that.</summary>
    private static bool IsStopped(Process process)
    {
        var tasks = string.Create(CultureInfo.InvariantCulture, $"/proc/{process.Id}/task");
        try
        {
            return Directory
                .GetDirectories(tasks)
                .All(x =>
                {
                    // The state stands after the name, which may hold anything in its brackets.
                    var text = System.IO.File.ReadAllText(Path.Combine(x, "stat"));
                    return text[text.LastIndexOf(')') + 2] is 'T' or 't';
                });
        }
        catch (IOException)
        {
            // One of them ended while it was looked at.
            return false;
        }
    }

    /// <summary>Kills a server while it makes its tables, and has another one finish.</summary>
    private async Task<IReadOnlyList<string>> AtBirth(int kill, CancellationToken ct)
    {
        var newborn = Path.Combine(folder, string.Create(CultureInfo.InvariantCulture, $"born-{kill}.db"));
        using (var first = Start(FreePort(), newborn, "--new"))
        {
            await Task.Delay(_random.Next(LeastMs, MostMs * 2), ct);
            first.Kill(entireProcessTree: true);
            await first.WaitForExitAsync(ct);
        }

        var port = FreePort();
        using var second = Start(port, newborn, "--new");
        try
        {
            using var client = new HttpClient { BaseAddress = new($"http://127.0.0.1:{port}/") };
            await UntilItAnswers(client, second, ct, "setup");
            return await Sound(newborn, "born twice: ", ct);
        }
        catch (InvalidOperationException fault)
        {
            return ["born twice: " + fault.Message];
        }
        finally
        {
            if (!second.HasExited)
                second.Kill(entireProcessTree: true);
        }
    }

    /// <summary>Kills a server while it brings a database of the first shape to the newest, and has another one finish.</summary>
    private async Task<IReadOnlyList<string>> AtMove(int kill, CancellationToken ct)
    {
        var old = Path.Combine(folder, string.Create(CultureInfo.InvariantCulture, $"old-{kill}.db"));
        var rows = await OldDatabase.Make(File, old, ct);
        using (var first = Start(FreePort(), old))
        {
            // It is copied before it is changed: from then on it is being changed.
            var began = Stopwatch.StartNew();
            while (Directory.GetFiles(folder, Path.GetFileName(old) + ".*.bak").Length == 0 && began.Elapsed < StartsWithin)
                await Task.Delay(1, ct);
            await Task.Delay(_random.Next(LeastMs, MostMs / 4), ct);
            first.Kill(entireProcessTree: true);
            await first.WaitForExitAsync(ct);
        }

        var port = FreePort();
        using var second = Start(port, old);
        try
        {
            using var client = new HttpClient { BaseAddress = new($"http://127.0.0.1:{port}/") };
            await UntilItAnswers(client, second, ct, "sign-in");
            var now = await OldDatabase.Rows(old, rows.Keys, ct);
            return
            [
                .. await Sound(old, "moved twice: ", ct),
                .. rows.Where(x => !Derived.Contains(x.Key) && now[x.Key] < x.Value)
                    .Select(x => $"moved twice: {x.Key} has {now[x.Key]} rows of {x.Value}"),
            ];
        }
        catch (InvalidOperationException fault)
        {
            return ["moved twice: " + fault.Message];
        }
        finally
        {
            if (!second.HasExited)
                second.Kill(entireProcessTree: true);
        }
    }

    private async Task Make(CancellationToken ct)
    {
        var file = await FleetFile(ct);
        if (From is not null)
        {
            System.IO.File.Copy(From, File);

            // It is no demo's any more, or no server would have it.
            await using var connection = new SqliteConnection($"Data Source={File};Pooling=False");
            await connection.OpenAsync(ct);
            await using var command = connection.CreateCommand();
            command.CommandText = "PRAGMA application_id = 0";
            await command.ExecuteNonQueryAsync(ct);
        }

        await using var app = await Prepared(File, ct);
        var password = Guid.NewGuid().ToString("N");
        var (visit, step, check) = await Fill(app, password, ct);
        _hands.AddRange([
            new NotesHand("T-01", _from),
            new NotesHand("T-02", _from),
            new PicturesHand("T-03"),
            new WalksHand("T-04", check),
            new CardHand("T-05", visit, step),
            new BottlesHand("T-06", OilSample),
            new FilesHand("T-00", file, FileReadings),
        ]);
        await app.StartAsync(ct);
        using var person = Person(new($"http://127.0.0.1:{new Uri(app.Urls.First()).Port}/"));
        await Forms.SignIn(person, UserName, password, ct);
        await app.StopAsync(ct);
    }

    private static async Task<WebApplication> Prepared(string file, CancellationToken ct)
    {
        var settings = new WebSettings(file, 0, TimeProvider.System, Quiet: true) { LocalOnly = true };
        var app = NippersHost.Create(settings);
        await Startup.Prepare(app.Services, settings, ct);
        return app;
    }

    /// <summary>Makes whom and what is written to: people, machines, a token, an open card.</summary>
    private async Task<(long Visit, string Step, string Check)> Fill(WebApplication app, string password, CancellationToken ct)
    {
        await using var scope = app.Services.CreateAsyncScope();
        var services = scope.ServiceProvider;
        var made = await People.Add(
            services.GetRequiredService<UserManager<NippersUser>>(),
            UserName,
            Planner.Name,
            Roles.Planner,
            password
        );
        if (!made.Succeeded)
            throw new InvalidOperationException(made.ToString());
        for (var i = 1; i <= Machines; i++)
            await Add(services, $"T-{i:00}", ct);
        _token = (
            await Good(services.GetRequiredService<ApiTokens>().Make(new("torture", Roles.Technician, TokenScopes.All), Planner, ct))
        ).Text;
        var db = services.GetRequiredService<NippersDb>();
        var walked = await db.Machines.SingleAsync(x => x.Unit == "T-04", ct);
        var check = (await db.ListOf(walked, ct))!
            .ToList()
            .Checks.First(x => x is { Kind: CheckKind.Look, Cadence: Cadence.EveryWalk, Engine: EngineState.Off, Needs: "" });
        var visit = await Good(
            services
                .GetRequiredService<PlanVisit>()
                .Save(null, new("T-05", Now.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture), ["engine-oil"]), Planner, ct)
        );
        var card = await Good(services.GetRequiredService<OpenCard>().Run(visit.Id, "0.1", true, StepHeat.Cold, Planner, ct));
        return (visit.Id, (string)JsonNode.Parse(card.Card)!["steps"]![0]!["code"]!, check.Code);
    }

    private async Task Add(IServiceProvider services, string unit, CancellationToken ct)
    {
        var kind = MachineKind.Of("wheel-loader");
        await Good(
            services
                .GetRequiredService<SaveMachine>()
                .Run(
                    new()
                    {
                        Unit = unit,
                        Kind = kind,
                        Make = "Ulmar",
                        Model = "UL 12",
                        Site = "Yard",
                        Program = StarterPrograms.CodeOf(kind),
                        History = History.SinceNew,
                        CommissionedOn = _from.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
                        CommissionedHours = "0",
                        PlannedHoursPerDay = "6",
                        Options = ["ac", "aftertreatment=def", "attachment=none", "linkage=greased"],
                    },
                    Planner,
                    ct
                )
        );
    }

    /// <summary>A file with one machine and its readings, which comes in under another unit each time.</summary>
    private async Task<string> FleetFile(CancellationToken ct)
    {
        await using var app = await Prepared(Path.Combine(folder, "file.db"), ct);
        await using var scope = app.Services.CreateAsyncScope();
        await Add(scope.ServiceProvider, "T-00", ct);
        for (var i = 1; i <= FileReadings; i++)
        {
            var hours = (i * 0.1).ToString("0.0", CultureInfo.InvariantCulture);
            await Good(
                scope
                    .ServiceProvider.GetRequiredService<LogReading>()
                    .Run(new("T-00", hours, At: _from.AddDays(1).AddMinutes(i * 10)), Planner, ct)
            );
        }

        using var text = new MemoryStream();
        await scope.ServiceProvider.GetRequiredService<ExportFleet>().Run(text, null, ct);
        return Encoding.UTF8.GetString(text.ToArray());
    }

    private static async Task<T> Good<T>(Task<Outcome<T>> asked)
        where T : class
    {
        var outcome = await asked;
        return outcome.Value ?? throw new InvalidOperationException(outcome.Refusals[0].Code + " " + outcome.Refusals[0].Field);
    }

    private HttpClient Person(Uri address) => new(new HttpClientHandler { CookieContainer = _cookies }) { BaseAddress = address };

    /// <summary>What lies there now is synced: from here on a library keeps what is.</summary>
    private void Sync()
    {
        Directory.CreateDirectory(Synced);
        foreach (var file in Directory.GetFiles(Synced))
            System.IO.File.Delete(file);
        foreach (var file in (string[])[File, File + "-wal"])
        {
            if (System.IO.File.Exists(file))
                System.IO.File.Copy(file, Path.Combine(Synced, Path.GetFileName(file)));
        }
    }

    private Process Start(int port, string file, params string[] more)
    {
        // Cold: whoever writes comes at once, and a start that is killed soon need not be ready for pages that nobody opens.
        var asked = new ProcessStartInfo(
            "dotnet",
            [server, "serve", "--db", file, "--port", port.ToString(CultureInfo.InvariantCulture), "--cold", .. more]
        )
        {
            RedirectStandardError = true,
            RedirectStandardOutput = true,
        };
        if (Unsynced is not null && file == File)
            (asked.Environment["LD_PRELOAD"], asked.Environment["NIPPERS_SYNCED"]) = (Unsynced, Synced);
        var process = Process.Start(asked)!;

        // What it says is read as it comes: a full pipe would hold it up.
        var said = _said = new();
        process.ErrorDataReceived += (_, x) => said.Enqueue(x.Data ?? "");
        process.OutputDataReceived += (_, _) => { };
        process.BeginErrorReadLine();
        process.BeginOutputReadLine();
        return process;
    }

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    private async Task UntilItAnswers(HttpClient client, Process process, CancellationToken ct, string path = "api/v1/machines")
    {
        var waited = Stopwatch.StartNew();
        while (true)
        {
            try
            {
                if ((await client.GetAsync(path, ct)).IsSuccessStatusCode)
                    return;
            }
            catch (HttpRequestException) { }

            if (process.HasExited || waited.Elapsed > StartsWithin)
                throw new InvalidOperationException("It did not start: " + string.Join(' ', _said));
            await Task.Delay(1, ct);
        }
    }

    private static async Task<string> FormToken(HttpClient person, CancellationToken ct) =>
        Forms.Token().Match(await person.GetStringAsync("exchange", ct)).Groups[1].Value;

    /// <summary>Has the log written back into the database again and again, as another program may.</summary>
    private async Task WriteBack(CancellationToken ct)
    {
        while (!ct.IsCancellationRequested)
        {
            try
            {
                await Task.Delay(CheckpointEvery, ct);
                await _writesBack.WaitAsync(ct);
            }
            catch (OperationCanceledException)
            {
                return;
            }

            try
            {
                await using var connection = new SqliteConnection($"Data Source={File};Pooling=False;Default Timeout=1");
                await connection.OpenAsync(ct);
                await using var command = connection.CreateCommand();
                command.CommandText = "PRAGMA wal_checkpoint(TRUNCATE)";
                await command.ExecuteNonQueryAsync(ct);
            }
            catch (Exception fault) when (fault is SqliteException or OperationCanceledException)
            {
                // Busy, or over.
            }
            finally
            {
                _writesBack.Release();
            }
        }
    }

    /// <summary>What is not as it was said to be.</summary>
    private async Task<IReadOnlyList<string>> Look(string file, string where, CancellationToken ct)
    {
        List<string> wrong = [.. await Sound(file, where, ct)];
        if (wrong.Count > 0)
            return wrong;
        await using var app = NippersHost.Create(new(file, 0, TimeProvider.System, Quiet: true) { LocalOnly = true });
        await using var scope = app.Services.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<NippersDb>();
        foreach (var hand in _hands)
            wrong.AddRange((await hand.Look(db, ct)).Select(x => where + x));

        // A row is what would be derived at the instant at which it was.
        var keeper = scope.ServiceProvider.GetRequiredService<StatusKeeper>();
        var rows = await db
            .Statuses.AsNoTracking()
            .Where(x => x.Machine.Unit.StartsWith("T-") || x.Machine.Unit.StartsWith(FilesHand.Prefix))
            .OrderByDescending(x => x.ComputedAt)
            .Take(Machines * 2)
            .ToListAsync(ct);
        await using var transaction = await db.Database.BeginTransactionAsync(ct);
        foreach (var row in rows)
        {
            await keeper.Refresh([row.MachineId], row.ComputedAt, ct, raise: false);
            var derived = await db.Statuses.AsNoTracking().SingleAsync(x => x.MachineId == row.MachineId, ct);
            var (was, now) = (JsonSerializer.Serialize(row), JsonSerializer.Serialize(derived));
            if (was != now)
                wrong.Add($"{where}standing of machine {row.MachineId} is {was} and would be {now}");
        }

        await transaction.RollbackAsync(ct);

        // A connection that is kept for the next look would see the file that another one has taken the place of since.
        SqliteConnection.ClearAllPools();
        return wrong;
    }

    private static async Task<IReadOnlyList<string>> Sound(string file, string where, CancellationToken ct)
    {
        try
        {
            await using var connection = new SqliteConnection($"Data Source={file};Pooling=False");
            await connection.OpenAsync(ct);
            await using var command = connection.CreateCommand();
            command.CommandText = "PRAGMA integrity_check(3)";
            return (string?)await command.ExecuteScalarAsync(ct) is "ok" ? [] : [where + "integrity"];
        }
        catch (SqliteException fault)
        {
            return [where + fault.Message];
        }
    }
}
