using System.CommandLine;
using Nippers.App;
using Nippers.Web.Hosting;

namespace Nippers.Web.Commands;

/// <summary>Commands that serve pages.</summary>
public static class ServeCommands
{
    private const int DefaultPort = 5080;

    /// <summary>The port to listen on.</summary>
    public static Option<int> Port() => new("--port") { Description = "Port to listen on.", DefaultValueFactory = _ => DefaultPort };

    public static Command Serve()
    {
        var db = new Option<FileInfo>("--db") { Description = "Database file; made when it is missing.", Required = true };
        var port = Port();
        var command = new Command("serve", "Serves a fleet. The first visit asks for the first planner.") { db, port };
        command.SetAction((given, ct) => Run(new(given.GetValue(db)!.FullName, given.GetValue(port), TimeProvider.System), null, ct));
        return command;
    }

    /// <summary>Serves until it is stopped.</summary>
    /// <param name="settings">File, port, clock.</param>
    /// <param name="fill">Fills the database before the first request; null leaves it as it is.</param>
    /// <param name="ct">Stops it.</param>
    public static async Task<int> Run(WebSettings settings, Func<IServiceProvider, Task>? fill, CancellationToken ct)
    {
        await using var app = NippersHost.Create(settings);
        await Startup.Prepare(app.Services, settings, ct);
        if (fill is not null)
            await fill(app.Services);
        await app.StartAsync(ct);
        await Console.Error.WriteLineAsync(
            $"Nippers is at http://localhost:{new Uri(app.Urls.First().Replace("[::]", "localhost", StringComparison.Ordinal)).Port}/ (Ctrl+C stops it)"
        );
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
        if (await setup.Migrate(ct) is { } copy)
            await Console.Error.WriteLineAsync($"The database was brought up to date; the old one is at {copy}.");
        await People.AddRoles(scope.ServiceProvider);
        if (settings.Offered.Count > 0)
            await People.AddOffered(scope.ServiceProvider, settings.Offered);
        else
            await setup.AddStarters(ct);
    }
}
