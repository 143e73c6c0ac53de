using System.CommandLine;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App;
using Nippers.App.Exchange;
using Nippers.App.Oil;
using Nippers.Data;
using Nippers.Demo;
using Nippers.Web.Hosting;

namespace Nippers.Web.Commands;

/// <summary>Commands that serve pages.</summary>
internal static class ServeCommands
{
    private const int DefaultPort = 5080;

    private static Option<int> Port() => new("--port") { Description = "Port to listen on.", DefaultValueFactory = _ => DefaultPort };

    public static Command Serve()
    {
        var db = new Option<FileInfo>("--db") { Description = "Database file; made when it is missing.", Required = true };
        var port = Port();
        var command = new Command("serve", "Serves a fleet. The first visit asks for the first planner.") { db, port };
        command.SetAction((given, ct) => Run(new(given.GetValue(db)!.FullName, given.GetValue(port), Demo: false, TimeProvider.System), null, ct));
        return command;
    }

    public static Command Demo()
    {
        var db = new Option<FileInfo?>("--db") { Description = "Database file to make the demo in; a temporary one when left out." };
        var today = new Option<string?>("--today") { Description = "The date on which the demo's story ends, YYYY-MM-DD; the clock then stands at that morning." };
        var port = Port();
        today.Validators.Add(x =>
        {
            if (x.GetValueOrDefault<string?>() is { } text && !DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out _)) x.AddError("--today needs a date such as 2026-03-01.");
        });
        var lab = new Option<string?>("--lab") { Description = "Address of a stand-in laboratory; ./nippers starts one beside the demo." };
        var command = new Command("demo", "Builds the demo fleet and serves it, with demo accounts.") { db, port, today, lab };
        command.SetAction((given, ct) =>
        {
            var file = given.GetValue(db)?.FullName ?? Path.Combine(Directory.CreateTempSubdirectory("nippers-demo-").FullName, "demo.db");
            var clock = given.GetValue(today) is { } text
                ? new SetClock(DemoDatabase.MorningOf(DateOnly.ParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture)))
                : TimeProvider.System;
            return Run(new(file, given.GetValue(port), Demo: true, clock) { DemoLab = given.GetValue(lab) }, services => DemoDatabase.Fill(services, ct), ct);
        });
        return command;
    }

    private static async Task<int> Run(WebSettings settings, Func<IServiceProvider, Task>? fill, CancellationToken ct)
    {
        await using var app = NippersHost.Create(settings);
        await Startup.Prepare(app.Services, settings, ct);
        if (fill is not null) await fill(app.Services);
        await app.StartAsync(ct);
        await Console.Error.WriteLineAsync($"Nippers is at http://localhost:{new Uri(app.Urls.First().Replace("[::]", "localhost", StringComparison.Ordinal)).Port}/ (Ctrl+C stops it)");
        await app.WaitForShutdownAsync(ct);
        return 0;
    }
}

/// <summary>What happens before the first request.</summary>
public static class Startup
{
    /// <summary>Migrates, and adds what an empty database needs.</summary>
    public static async Task Prepare(IServiceProvider services, WebSettings settings, CancellationToken ct)
    {
        await using var scope = services.CreateAsyncScope();
        var setup = scope.ServiceProvider.GetRequiredService<Setup>();
        if (await setup.Migrate(ct) is { } copy) await Console.Error.WriteLineAsync($"The database was brought up to date; the old one is at {copy}.");
        await People.AddRoles(scope.ServiceProvider);
        if (settings.Demo) await People.AddDemo(scope.ServiceProvider);
        else await setup.AddStarters(ct);
    }
}

/// <summary>Fills a database with the demo fleet.</summary>
public static class DemoDatabase
{
    /// <summary>The instant at which the demo's last morning is over.</summary>
    public static DateTimeOffset MorningOf(DateOnly date) => new DateTimeOffset(date.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero) + TimeSpan.FromHours(7.5);

    /// <summary>Brings the demo fleet in, unless machines stand already.</summary>
    public static async Task Fill(IServiceProvider services, CancellationToken ct)
    {
        await using var scope = services.CreateAsyncScope();
        if (scope.ServiceProvider.GetRequiredService<NippersDb>().Machines.Any()) return;
        var clock = scope.ServiceProvider.GetRequiredService<TimeProvider>();
        using var file = new MemoryStream();
        await DemoFleet.Write(Today(clock), file);
        file.Position = 0;
        var outcome = await scope.ServiceProvider.GetRequiredService<ImportFleet>().Run(file, new("Demo", Roles.Planner), null, ct);
        if (!outcome.Done) throw new InvalidOperationException($"The demo fleet was refused: {outcome.Refusals[0]}");
        await scope.ServiceProvider.GetRequiredService<FleetLimits>().Derive(ct);
        var lab = scope.ServiceProvider.GetRequiredService<WebSettings>().DemoLab ?? "";
        await scope.ServiceProvider.GetRequiredService<NippersDb>().Labs.Where(x => x.Usual).ExecuteUpdateAsync(x => x.SetProperty(m => m.Url, lab), ct);
    }

    /// <summary>The demo's story ends today; before its morning is over, it ended yesterday.</summary>
    public static DateOnly Today(TimeProvider clock)
    {
        var now = clock.GetUtcNow();
        var today = DateOnly.FromDateTime(now.UtcDateTime);
        return now < MorningOf(today) ? today.AddDays(-1) : today;
    }
}

/// <summary>A clock set to an instant that then runs on; timers run by the system's.</summary>
public sealed class SetClock(DateTimeOffset start) : TimeProvider
{
    private readonly TimeSpan _shift = start - DateTimeOffset.UtcNow;

    public override DateTimeOffset GetUtcNow() => System.GetUtcNow() + _shift;
}
