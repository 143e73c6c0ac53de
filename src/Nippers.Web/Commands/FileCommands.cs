using System.CommandLine;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App;
using Nippers.App.Backups;
using Nippers.App.Exchange;
using Nippers.App.Languages;
using Nippers.App.Oil;
using Nippers.App.People;
using Nippers.App.Statuses;
using Nippers.Data;
using Nippers.Data.Parts;
using Nippers.Data.Queries;
using Nippers.Data.Records;
using Nippers.Formats.Evaluate;
using Nippers.Views.Text;
using Nippers.Weeks;

namespace Nippers.Web.Commands;

/// <summary>Commands that read and write files. Results go to standard output, words for people to standard error.</summary>
public static class FileCommands
{
    private const int Failed = Guard.Failed;
    private const int BadInput = Guard.BadInput;
    private const string Stop = "Stop it first.";
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
                var outcome = Evaluator.Run(given.GetValue(rule)!, await File.ReadAllTextAsync(path.FullName, ct), new WeekSolver());
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
                return await Guard.Run(file.FullName, async () =>
                {
                    await using var services = Services(file.FullName);
                    await using var scope = services.CreateAsyncScope();
                    await scope.ServiceProvider.GetRequiredService<Setup>().Know(ct);
                    return await WriteWhole(given.GetValue(to)!, stream =>
                        scope.ServiceProvider.GetRequiredService<ExportFleet>().Run(stream, new Told(), ct)
                    );
                });
            }
        );
        return command;
    }

    /// <summary>Writes a file beside its place and moves it there whole: a broken export leaves no half file.</summary>
    public static async Task<int> WriteWhole(FileInfo to, Func<Stream, Task> write)
    {
        var half = to.FullName + ".part";
        try
        {
            await using (var stream = File.Create(half))
            {
                await write(stream);
                stream.Flush(flushToDisk: true);
            }

            File.Move(half, to.FullName, overwrite: true);
        }
        finally
        {
            File.Delete(half);
        }

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
                    (
                        scope.ServiceProvider.GetRequiredService<NippersDb>().Database.GenerateCreateScript() + ShelfTriggers.Sql
                    ).ReplaceLineEndings("\n")
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
                var file = given.GetValue(db)!.FullName;
                return await Guard.Alone(file, "Bring the file in on its page, or stop it first.", async () =>
                {
                    await using var services = Services(file);
                    await using var scope = services.CreateAsyncScope();
                    await scope.ServiceProvider.GetRequiredService<Setup>().Migrate(ct);
                    await using var stream = path.OpenRead();
                    var outcome = await scope.ServiceProvider.GetRequiredService<ImportFleet>().Run(stream, CommandLine, new Told(), ct);
                    if (!outcome.Done)
                        return await Say(Failed, scope.ServiceProvider.GetRequiredService<Words>().Refused(outcome.Refusals[0]));
                    var x = outcome.Value!;
                    return await Say(0, $"Imported: {x.Machines} machines, {x.Readings} readings, {x.Completions} completions.");
                });
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
                return await Guard.Run(file.FullName, async () =>
                {
                    await Data.Backup.Copy(file.FullName, given.GetValue(to)!.FullName, ct);
                    return await Say(0, $"Written: {given.GetValue(to)}");
                });
            }
        );
        return command;
    }

    public static Command Restore()
    {
        var db = Db();
        var from = new Argument<FileInfo?>("in") { Description = "Backup to take.", Arity = ArgumentArity.ZeroOrOne };
        var list = new Option<bool>("--list") { Description = "Names the backups that there are, newest first, and does nothing else." };
        var folder = new Option<DirectoryInfo?>("--folder") { Description = "Where they are, if not beside the database." };
        var command = new Command("restore", "Makes a database from a backup; one that stands is kept beside it.")
        {
            db,
            from,
            list,
            folder,
        };
        command.SetAction(
            async (given, ct) =>
            {
                var file = given.GetValue(db)!.FullName;
                if (given.GetValue(list))
                    return await List(given.GetValue(folder)?.FullName ?? Backups.FolderOf(file));
                if (given.GetValue(from) is not { Exists: true } copy)
                    return await Say(
                        BadInput,
                        given.GetValue(from) is { } missing
                            ? $"There is no file {missing}."
                            : "Name the backup to take; --list names those that there are."
                    );
                return await Guard.Alone(file, Stop, async () =>
                {
                    var kept = $"{file}.{DateTime.UtcNow:yyyyMMdd-HHmmss}.old";
                    if (await Data.Backup.Restore(copy.FullName, file, kept, ct))
                        await Say(0, $"The old database is at {kept}.");
                    return await Say(0, $"Restored: {file}");
                });
            }
        );
        return command;
    }

    private static async Task<int> List(string folder)
    {
        var files = Backups.In(folder);
        foreach (var file in files)
            await Console.Out.WriteLineAsync(
                string.Create(CultureInfo.InvariantCulture, $"{file.Made:yyyy-MM-dd HH:mm}\t{file.Bytes}\t{file.Path}")
            );
        return files.Count > 0 ? 0 : await Say(Failed, $"There are no backups in {folder}.");
    }

    public static Command Recover()
    {
        var db = Db();
        var user = new Option<string>("--user") { Description = "Name that the person signs in with.", Required = true };
        var command = new Command("recover", "Prints a code with which somebody sets a new password, on the page /reset.") { db, user };
        command.SetAction(
            async (given, ct) =>
            {
                if (given.GetValue(db) is not { Exists: true } file)
                    return await Say(BadInput, $"There is no database {given.GetValue(db)}.");
                return await Guard.Run(file.FullName, async () =>
                {
                    await using var services = Services(file.FullName);
                    await using var scope = services.CreateAsyncScope();
                    await scope.ServiceProvider.GetRequiredService<Setup>().Know(ct);
                    var made = await scope.ServiceProvider.GetRequiredService<PeopleBook>().MakeCode(given.GetValue(user), CommandLine, ct);
                    if (!made.Done)
                        return await Say(Failed, $"Nobody signs in as {given.GetValue(user)}.");
                    await Console.Out.WriteLineAsync(made.Value!.Text);
                    return await Say(0, $"{made.Value.FullName} sets a new password with it on /reset, within a day.");
                });
            }
        );
        return command;
    }

    public static Command Verify()
    {
        var db = Db();
        var command = new Command("verify", "Looks whether the database is whole, and whether nothing is missing from who did what.")
        {
            db,
        };
        command.SetAction(
            async (given, ct) =>
            {
                if (given.GetValue(db) is not { Exists: true } file)
                    return await Say(BadInput, $"There is no database {given.GetValue(db)}.");
                return await Guard.Run(file.FullName, async () =>
                {
                    await using var services = Services(file.FullName);
                    await using var scope = services.CreateAsyncScope();
                    await scope.ServiceProvider.GetRequiredService<Setup>().Know(ct);
                    if (!await Data.Backup.IsWhole(file.FullName, ct))
                        return await Say(Failed, $"{file} is damaged: restore a backup.");
                    var stored = scope.ServiceProvider.GetRequiredService<NippersDb>();
                    var check = await stored.Check(ct);
                    if (check.BrokenAt is { } at)
                        return await Say(Failed, $"Who did what is not whole: entry {at} is missing, changed or out of its place.");

                    // A database that an older Nippers left has no shelves yet: they are summed when it is brought up to date.
                    var isNew = !(await stored.Database.GetPendingMigrationsAsync(ct)).Any();
                    return isNew && await stored.ShelvesAstray(ct) is > 0 and var astray
                        ? await Say(Failed, $"What stands on {astray} shelves is not the sum of what was moved: run rebuild.")
                        : await Say(0, $"Whole: {file}, and all {check.Rows} entries of who did what.");
                });
            }
        );
        return command;
    }

    public static Command Rebuild()
    {
        var db = Db();
        var command = new Command(
            "rebuild",
            "Derives every machine's standing row anew, the fleet's own oil limits and what stands on shelves."
        )
        {
            db,
        };
        command.SetAction(
            async (given, ct) =>
            {
                if (given.GetValue(db) is not { Exists: true } file)
                    return await Say(BadInput, $"There is no database {given.GetValue(db)}.");
                return await Guard.Alone(file.FullName, Stop, async () =>
                {
                    await using var services = Services(file.FullName);
                    await using var scope = services.CreateAsyncScope();
                    await scope.ServiceProvider.GetRequiredService<Setup>().Migrate(ct);
                    var now = TimeProvider.System.GetUtcNow();
                    var count = await scope.ServiceProvider.GetRequiredService<Standings>().Rebuild(now, ct);
                    await scope.ServiceProvider.GetRequiredService<FleetLimits>().Derive(ct);
                    await scope.ServiceProvider.GetRequiredService<NippersDb>().SumShelves(ct);
                    return await Say(0, $"Derived anew: {count} machines, the fleet's own oil limits and what stands on shelves.");
                });
            }
        );
        return command;
    }

    private static ServiceProvider Services(string file)
    {
        AllLanguages.Use(CommandWords.Language);
        var services = new ServiceCollection();
        services.AddSingleton(TimeProvider.System);
        services.AddLogging();
        services.AddScoped<Words>();
        services.AddNippers(file);
        return services.BuildServiceProvider();
    }

    public static async Task<int> Say(int code, string words)
    {
        await Console.Error.WriteLineAsync(CommandWords.Say(words));
        return code;
    }

    private sealed class Told : IProgress<JobProgress>
    {
        public void Report(JobProgress value) => Console.Error.WriteLine($"{value.Stage}: {value.Done}");
    }
}
