using System.CommandLine;
using System.Globalization;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Nippers.App;
using Nippers.App.Exchange;
using Nippers.App.Oil;
using Nippers.App.Statuses;
using Nippers.Data;
using Nippers.Formats.Evaluate;
using Nippers.Views.Text;

namespace Nippers.Web.Commands;

/// <summary>Commands that read and write files. Results go to standard output, words for people to standard error.</summary>
public static class FileCommands
{
    private const int Failed = 1;
    private const int BadInput = 2;
    private static readonly Actor CommandLine = new("command line", Roles.Planner);

    private static Option<FileInfo> Db() => new("--db") { Description = "Database file.", Required = true };

    public static Command Evaluate()
    {
        var rule = new Argument<string>("rule") { Description = $"One of {string.Join(", ", Evaluator.RuleNames)}." };
        var file = new Argument<FileInfo>("file") { Description = "JSON array of cases; see docs/formats/evaluate.md." };
        var command = new Command("evaluate", "Runs a rule over cases and prints a JSON array of results.") { rule, file };
        command.SetAction(
            async (given, ct) =>
            {
                var path = given.GetValue(file)!;
                if (!path.Exists)
                    return await Say(BadInput, $"There is no file {path}.");
                var outcome = Evaluator.Run(given.GetValue(rule)!, await File.ReadAllTextAsync(path.FullName, ct));
                if (outcome.Fault is { } fault)
                    return await Say(BadInput, fault);
                await Console.Out.WriteLineAsync(outcome.Json);
                return 0;
            }
        );
        return command;
    }

    public static Command Export()
    {
        var db = Db();
        var to = new Argument<FileInfo>("out") { Description = "Fleet file to write, *.nippers.json." };
        var command = new Command("export", "Writes a fleet file.") { db, to };
        command.SetAction(
            async (given, ct) =>
            {
                if (given.GetValue(db) is not { Exists: true } file)
                    return await Say(BadInput, $"There is no database {given.GetValue(db)}.");
                await using var services = Services(file.FullName);
                await using var scope = services.CreateAsyncScope();
                return await WriteWhole(given.GetValue(to)!, stream =>
                    scope.ServiceProvider.GetRequiredService<ExportFleet>().Run(stream, new Told(), ct)
                );
            }
        );
        return command;
    }

    /// <summary>Writes a file beside its place and moves it there whole: a broken export leaves no half file.</summary>
    public static async Task<int> WriteWhole(FileInfo to, Func<Stream, Task> write)
    {
        var half = to.FullName + ".part";
        await using (var stream = File.Create(half))
            await write(stream);
        File.Move(half, to.FullName, overwrite: true);
        return await Say(0, $"Written: {to.FullName}");
    }

    public static Command Schema()
    {
        var command = new Command("schema", "Prints the tables as SQL; docs/schema.sql holds them.");
        command.SetAction(
            async (_, _) =>
            {
                await using var services = Services(":memory:");
                await using var scope = services.CreateAsyncScope();
                await Console.Out.WriteAsync(
                    scope.ServiceProvider.GetRequiredService<NippersDb>().Database.GenerateCreateScript().ReplaceLineEndings("\n")
                );
                return 0;
            }
        );
        return command;
    }

    public static Command Import()
    {
        var db = Db();
        var from = new Argument<FileInfo>("in") { Description = "Fleet file to read." };
        var command = new Command("import", "Brings a fleet file in: all of it or nothing.") { db, from };
        command.SetAction(
            async (given, ct) =>
            {
                if (given.GetValue(from) is not { Exists: true } path)
                    return await Say(BadInput, $"There is no file {given.GetValue(from)}.");
                await using var services = Services(given.GetValue(db)!.FullName);
                await using var scope = services.CreateAsyncScope();
                await scope.ServiceProvider.GetRequiredService<Setup>().Migrate(ct);
                await using var stream = path.OpenRead();
                var outcome = await scope.ServiceProvider.GetRequiredService<ImportFleet>().Run(stream, CommandLine, new Told(), ct);
                if (!outcome.Done)
                    return await Say(Failed, scope.ServiceProvider.GetRequiredService<Words>().Refused(outcome.Refusals[0]));
                var x = outcome.Value!;
                return await Say(0, $"Imported: {x.Machines} machines, {x.Readings} readings, {x.Completions} completions.");
            }
        );
        return command;
    }

    public static Command Backup()
    {
        var db = Db();
        var to = new Argument<FileInfo>("out") { Description = "File to write." };
        var command = new Command("backup", "Copies a database while it is in use.") { db, to };
        command.SetAction(
            async (given, ct) =>
            {
                if (given.GetValue(db) is not { Exists: true } file)
                    return await Say(BadInput, $"There is no database {given.GetValue(db)}.");
                if (given.GetValue(to)!.Exists)
                    return await Say(BadInput, $"{given.GetValue(to)} stands already.");
                await using var services = Services(file.FullName);
                await using var scope = services.CreateAsyncScope();
                await scope.ServiceProvider.GetRequiredService<NippersDb>().BackUp(given.GetValue(to)!.FullName, ct);
                return await Say(0, $"Written: {given.GetValue(to)}");
            }
        );
        return command;
    }

    public static Command Restore()
    {
        var db = Db();
        var from = new Argument<FileInfo>("in") { Description = "Backup to take." };
        var command = new Command("restore", "Makes a database from a backup; one that stands is kept beside it.") { db, from };
        command.SetAction(
            async (given, ct) =>
            {
                if (given.GetValue(from) is not { Exists: true } copy)
                    return await Say(BadInput, $"There is no file {given.GetValue(from)}.");
                if (!await IsOk(copy.FullName, ct))
                    return await Say(Failed, $"{copy} is not a whole database; nothing was changed.");
                var file = given.GetValue(db)!.FullName;
                if (File.Exists(file))
                {
                    // What stands in the write-ahead log belongs to the old database.
                    await using (var services = Services(file))
                    {
                        await using var scope = services.CreateAsyncScope();
                        await scope
                            .ServiceProvider.GetRequiredService<NippersDb>()
                            .Database.ExecuteSqlAsync($"PRAGMA wal_checkpoint(TRUNCATE)", ct);
                    }

                    SqliteConnection.ClearAllPools();
                    var kept = $"{file}.{DateTime.UtcNow:yyyyMMdd-HHmmss}.old";
                    File.Move(file, kept);
                    await Say(0, $"The old database is at {kept}.");
                }

                File.Delete(file + "-wal");
                File.Delete(file + "-shm");
                copy.CopyTo(file);
                return await Say(0, $"Restored: {file}");
            }
        );
        return command;
    }

    public static Command Rebuild()
    {
        var db = Db();
        var command = new Command("rebuild", "Derives every machine's standing row anew.") { db };
        command.SetAction(
            async (given, ct) =>
            {
                if (given.GetValue(db) is not { Exists: true } file)
                    return await Say(BadInput, $"There is no database {given.GetValue(db)}.");
                await using var services = Services(file.FullName);
                await using var scope = services.CreateAsyncScope();
                await scope.ServiceProvider.GetRequiredService<Setup>().Migrate(ct);
                var count = await scope.ServiceProvider.GetRequiredService<StatusKeeper>().Rebuild(TimeProvider.System.GetUtcNow(), ct);
                await scope.ServiceProvider.GetRequiredService<FleetLimits>().Derive(ct);
                return await Say(0, $"Derived anew: {count} machines, and the fleet's own oil limits.");
            }
        );
        return command;
    }

    private static async Task<bool> IsOk(string file, CancellationToken ct)
    {
        try
        {
            await using var connection = new SqliteConnection(
                new SqliteConnectionStringBuilder
                {
                    DataSource = file,
                    Mode = SqliteOpenMode.ReadOnly,
                    Pooling = false,
                }.ToString()
            );
            await connection.OpenAsync(ct);
            await using var command = connection.CreateCommand();
            command.CommandText =
                "SELECT (SELECT integrity_check FROM pragma_integrity_check LIMIT 1) = 'ok' AND EXISTS(SELECT 1 FROM sqlite_master WHERE name = 'Machines')";
            return await command.ExecuteScalarAsync(ct) is 1L;
        }
        catch (SqliteException)
        {
            return false;
        }
    }

    private static ServiceProvider Services(string file)
    {
        CultureInfo.CurrentCulture = CultureInfo.CurrentUICulture = new("en-GB");
        var services = new ServiceCollection();
        services.AddSingleton(TimeProvider.System);
        services.AddLogging();
        services.AddLocalization();
        services.AddScoped<Words>();
        services.AddNippers(file);
        return services.BuildServiceProvider();
    }

    internal static async Task<int> Say(int code, string words)
    {
        await Console.Error.WriteLineAsync(words);
        return code;
    }

    private sealed class Told : IProgress<JobProgress>
    {
        public void Report(JobProgress value) => Console.Error.WriteLine($"{value.Stage}: {value.Done}");
    }
}
