using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Time.Testing;
using Nippers.App.Feeds;
using Nippers.App.Machines;
using Nippers.App.Mail;
using Nippers.App.Oil;
using Nippers.App.Programs;
using Nippers.App.Readings;
using Nippers.Core.Service;
using Nippers.Core.Weeks;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Weeks;

namespace Nippers.App.Tests;

/// <summary>A real database on disk with a clock that stands, for one test.</summary>
public sealed class Fleet : IAsyncDisposable
{
    public static readonly DateTimeOffset Now = new(2026, 3, 16, 7, 30, 0, TimeSpan.Zero);
    public static readonly Actor Tam = new("Tam Ollery", Roles.Technician);
    public static readonly Actor Bea = new("Bea Lund", Roles.Technician);

    private readonly string _folder = Directory.CreateTempSubdirectory("nippers-test-").FullName;
    private readonly ServiceProvider _services;

    /// <summary>Databases that many tests begin with, made once and copied.</summary>
    private static readonly ConcurrentDictionary<string, Lazy<Task<byte[]>>> Templates = new();

    /// <summary>On a database that is there already, whatever its shape.</summary>
    public static Fleet On(string file) => new(file: file);

    private Fleet(byte[]? template = null, string? file = null)
    {
        File = file ?? Path.Combine(_folder, "fleet.db");
        if (template is not null)
            System.IO.File.WriteAllBytes(File, template);
        var services = new ServiceCollection();
        services.AddSingleton<TimeProvider>(Clock);
        services.AddNippers(File);
        services.AddSingleton<ILabClient>(Line);
        services.AddSingleton<ISecrets, Backwards>();
        services.AddSingleton<IFeedLine>(Feed);
        services.AddSingleton<IMailLine>(Mail).AddSingleton<IMailWriter, BareWriter>();
        services.AddSingleton<IWeekSolver, WeekSolver>();
        _services = services.BuildServiceProvider();
    }

    public string File { get; }

    /// <summary>The line to laboratories.</summary>
    public FakeLine Line { get; } = new();

    /// <summary>The line to feeds.</summary>
    public FakeFeed Feed { get; } = new();

    /// <summary>The line to a mail server.</summary>
    public FakeMail Mail { get; } = new();

    public FakeTimeProvider Clock { get; } = new(Now);

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    /// <summary>An empty database with starter programs and one site.</summary>
    public static Task<Fleet> Empty() => From("empty", MakeEmpty);

    private static async Task<Fleet> MakeEmpty()
    {
        var fleet = new Fleet();
        await fleet.Do<Setup>(x => x.Migrate(Ct));
        await fleet.Do<Setup>(x => x.AddStarters(Ct));
        return fleet;
    }

    /// <summary>One wheel loader, since new, commissioned 60 days ago, read every second day at 6 h a day.</summary>
    public static Task<Fleet> WithLoader(History history = History.SinceNew, double hours = 0) =>
        From($"loader {history} {hours}", () => MakeLoader(history, hours));

    private static async Task<Fleet> From(string name, Func<Task<Fleet>> make) =>
        new(
            await Templates
                .GetOrAdd(name, _ => new(async () =>
                    {
                        await using var fleet = await make();
                        var copy = fleet.File + ".copy";
                        await fleet.Do<NippersDb>(x => x.BackUp(copy, CancellationToken.None));
                        return await System.IO.File.ReadAllBytesAsync(copy);
                    }))
                .Value
        );

    private static async Task<Fleet> MakeLoader(History history, double hours)
    {
        var fleet = await Empty();
        await fleet.AddMachine("WL-01", history, hours);
        for (var day = 1; day <= 59; day += 2)
        {
            var at = Now.AddDays(day - 60).AddHours(-1);
            var logged = await fleet.Log("WL-01", hours + day * 6, at);
            Assert.True(logged.Done, string.Join(", ", logged.Refusals));
        }

        return fleet;
    }

    public async Task AddMachine(string unit, History history = History.SinceNew, double hours = 0) =>
        Assert.Empty(
            (
                await Do<SaveMachine, Outcome<Machine>>(x =>
                    x.Run(
                        new()
                        {
                            Unit = unit,
                            Kind = MachineKind.Of("wheel-loader"),
                            Make = "Ulmar",
                            Model = "UL 12",
                            Site = "Yard",
                            Program = StarterPrograms.CodeOf(MachineKind.Of("wheel-loader")),
                            History = history,
                            CommissionedOn = "2026-01-15",
                            CommissionedHours = hours.ToString(System.Globalization.CultureInfo.InvariantCulture),
                            PlannedHoursPerDay = "6",
                            Options = ["ac", "aftertreatment=def", "attachment=none", "linkage=greased"],
                        },
                        Tam,
                        Ct
                    )
                )
            ).Refusals
        );

    public Task<Outcome<LoggedReading>> Log(string unit, double hours, DateTimeOffset at, string? key = null) =>
        Do<LogReading, Outcome<LoggedReading>>(x =>
            x.Run(new(unit, hours.ToString(System.Globalization.CultureInfo.InvariantCulture), Key: key, At: at), Tam, Ct)
        );

    /// <summary>Runs a use case in a scope of its own, as a request does.</summary>
    public async Task<TResult> Do<TCase, TResult>(Func<TCase, Task<TResult>> use)
        where TCase : notnull
    {
        await using var scope = _services.CreateAsyncScope();
        return await use(scope.ServiceProvider.GetRequiredService<TCase>());
    }

    public Task Do<TCase>(Func<TCase, Task> use)
        where TCase : notnull =>
        Do<TCase, int>(async x =>
        {
            await use(x);
            return 0;
        });

    public Task<T> Ask<T>(Func<NippersDb, Task<T>> question) => Do(question);

    public Task<MachinePage> Page(string unit) => Do<MachineView, MachinePage>(async x => (await x.Run(unit, Ct))!);

    /// <summary>A part of a machine's page.</summary>
    public Task<T> Part<T>(string unit, Func<MachineView, MachinePage, Task<T>> read) =>
        Do<MachineView, T>(async x => await read(x, (await x.Run(unit, Ct))!));

    /// <summary>Everything that a refused change must leave alone.</summary>
    public Task<string> Fingerprint() =>
        Ask(async db =>
            string.Join(
                '|',
                await db.Readings.CountAsync(Ct),
                await db.Completions.WithVoided().CountAsync(Ct),
                await db.Machines.CountAsync(Ct),
                await db.Audit.CountAsync(Ct),
                await db.Programs.CountAsync(Ct),
                await db.WriteKeys.CountAsync(Ct),
                await db.Defects.CountAsync(Ct),
                await db.Visits.CountAsync(Ct),
                await db.TopUps.WithVoided().CountAsync(Ct),
                await db.StockMoves.CountAsync(Ct),
                await db.Bottles.CountAsync(Ct),
                string.Join(
                    ',',
                    await db.Samples.WithVoided().OrderBy(x => x.Id).Select(x => $"{x.Bottle} {x.State} {x.Version}").ToListAsync(Ct)
                ),
                await db.Reports.CountAsync(Ct),
                await db.WorkRequests.WithVoided().CountAsync(Ct),
                await db.DrainChanges.CountAsync(Ct),
                await db.OilLimits.CountAsync(Ct),
                string.Join(
                    ',',
                    (await db.Statuses.OrderBy(x => x.MachineId).Select(x => x.Points).ToListAsync(Ct)).Select(Convert.ToHexString)
                )
            )
        );

    public Task<MachineStatusRow> Status(string unit) => Ask(db => db.Statuses.AsNoTracking().SingleAsync(x => x.Machine.Unit == unit, Ct));

    public async ValueTask DisposeAsync()
    {
        await _services.DisposeAsync();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(_folder, recursive: true);
    }
}

/// <summary>Secrets that are written backwards, so that a test sees whether one was hidden.</summary>
internal sealed class Backwards : ISecrets
{
    public string Hide(string text) => new([.. text.Reverse()]);

    public string? Show(string hidden) => Hide(hidden);
}
