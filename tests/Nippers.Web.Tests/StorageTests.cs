using System.CommandLine;
using System.Net;
using System.Text.Json.Nodes;
using AngleSharp.Html.Dom;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Time.Testing;
using Nippers.Bench;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Parts;
using Nippers.Tests;
using Nippers.Web.Commands;
using Nippers.Web.Hosting;

namespace Nippers.Web.Tests;

/// <summary>Databases are copied, put back and served so that nothing kept in them can be lost by it.</summary>
public sealed class StorageTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("nippers-storage-").FullName;

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private string In(string name) => Path.Combine(_folder, name);

    /// <summary>A small database with one table of Nippers, a row in it for each name.</summary>
    private string Make(string name, params string[] units)
    {
        Run(name, "PRAGMA journal_mode = WAL; CREATE TABLE Machines (Unit TEXT)");
        foreach (var unit in units)
            Run(name, $"INSERT INTO Machines VALUES ('{unit}')");
        return In(name);
    }

    private SqliteConnection Open(string name)
    {
        var connection = new SqliteConnection($"Data Source={In(name)};Pooling=False");
        connection.Open();
        return connection;
    }

    private void Run(string name, string sql)
    {
        using var connection = Open(name);
        Run(connection, sql);
    }

    private static void Run(SqliteConnection connection, string sql)
    {
        using var command = connection.CreateCommand();
        command.CommandText = sql;
        command.ExecuteNonQuery();
    }

    private string Units(string name)
    {
        using var connection = Open(name);
        using var command = connection.CreateCommand();
        command.CommandText = "SELECT group_concat(Unit, ' ') FROM (SELECT Unit FROM Machines ORDER BY Unit)";
        return command.ExecuteScalar() as string ?? "";
    }

    private static Task<int> Do(Command command, params string[] args) => command.Parse(args).InvokeAsync(cancellationToken: Ct);

    [Fact]
    public async Task Nothing_replaces_a_database_that_is_being_served()
    {
        var db = Make("fleet.db", "EX-01");
        var backup = Make("old.db", "EX-00");
        using (DatabaseLock.TryTake(db))
        {
            Assert.Equal(Guard.Failed, await Do(FileCommands.Restore(), "--db", db, backup));
            Assert.Equal(Guard.Failed, await ServeCommands.Run(new(db, 0, new FakeTimeProvider(DemoApp.Now), Quiet: true), null, Ct));
            Assert.Equal(Guard.Failed, await Do(FileCommands.Rebuild(), "--db", db));
            Assert.Equal(Guard.Failed, await Do(FileCommands.Import(), "--db", db, backup));
        }

        Assert.Equal("EX-01", Units("fleet.db"));
        Assert.Equal(0, await Do(FileCommands.Restore(), "--db", db, backup));
        Assert.Equal("EX-00", Units("fleet.db"));
    }

    [Fact]
    public async Task A_shelf_that_is_not_what_was_moved_is_found_and_summed_anew()
    {
        var options = new DbContextOptionsBuilder<NippersDb>();
        NippersDb.Configure(options, In("fleet.db"));
        await using (var db = new NippersDb(options.Options))
        {
            await db.Database.MigrateAsync(Ct);
            var (part, sites) = (new PartRow { Number = "P-1", Name = "Oil filter" }, new[] { "Yard", "Quarry" });
            db.Parts.Add(part);
            db.Sites.AddRange(sites.Select(x => new Site { Name = x, TimeZone = "UTC" }));
            await db.SaveChangesAsync(Ct);
            foreach (var site in await db.Sites.ToListAsync(Ct))
            {
                db.StockMoves.Add(
                    new()
                    {
                        PartId = part.Id,
                        SiteId = site.Id,
                        Quantity = 5,
                        At = DemoApp.Now,
                        By = "tam",
                    }
                );
            }

            await db.SaveChangesAsync(Ct);
        }

        Task<int> Verify() => Do(FileCommands.Verify(), "--db", In("fleet.db"));
        Assert.Equal(0, await Verify());
        foreach (var slip in (string[])["UPDATE Shelves SET Count = 6 WHERE SiteId = 1", "DELETE FROM Shelves WHERE SiteId = 2"])
        {
            Run("fleet.db", slip);
            Assert.Equal(Guard.Failed, await Verify());
            Assert.Equal(0, await Do(FileCommands.Rebuild(), "--db", In("fleet.db")));
            Assert.Equal(0, await Verify());
        }
    }

    [Fact]
    public async Task What_stands_in_the_log_of_a_database_comes_along_when_it_is_copied_restored_and_put_away()
    {
        Make("live.db", "A");
        Make("fleet.db", "X");
        using var live = Open("live.db");
        using var old = Open("fleet.db");
        foreach (var connection in (SqliteConnection[])[live, old])
            Run(connection, "PRAGMA wal_autocheckpoint = 0");
        Run(live, "INSERT INTO Machines VALUES ('B')");
        Run(old, "INSERT INTO Machines VALUES ('Y')");

        Assert.Equal(0, await Do(FileCommands.Backup(), "--db", In("live.db"), In("copy.db")));
        Assert.Equal("A B", Units("copy.db"));

        // A copy of the files as they lie, log and all, is a backup too: some make theirs with the tools of the system.
        foreach (var name in (string[])["live.db", "fleet.db"])
        {
            foreach (var end in (string[])["", "-wal"])
                File.Copy(In(name) + end, In("by-hand-" + name) + end);
        }

        Assert.Equal(0, await Do(FileCommands.Restore(), "--db", In("by-hand-fleet.db"), In("by-hand-live.db")));
        Assert.Equal("A B", Units("by-hand-fleet.db"));
        var kept = Assert.Single(Directory.GetFiles(_folder, "by-hand-fleet.db.*.old"));
        Assert.Equal("X Y", Units(Path.GetFileName(kept)));
    }

    [Theory]
    [InlineData(0)]
    [InlineData(100)]
    [InlineData(4096)]
    [InlineData(6000)]
    public async Task A_backup_that_is_not_whole_changes_nothing_and_leaves_nothing(int bytes)
    {
        var db = Make("fleet.db", "EX-01");
        var whole = await File.ReadAllBytesAsync(Make("backup.db", [.. Enumerable.Range(0, 400).Select(x => $"WL-{x}")]), Ct);
        await File.WriteAllBytesAsync(In("cut.db"), whole[..Math.Min(bytes, whole.Length)], Ct);

        Assert.Equal(Guard.Failed, await Do(FileCommands.Restore(), "--db", db, In("cut.db")));

        Assert.Equal("EX-01", Units("fleet.db"));
        Assert.Empty(
            Directory
                .GetFiles(_folder, "*.part")
                .Concat(Directory.GetFiles(_folder, "*.restored*"))
                .Concat(Directory.GetFiles(_folder, "*.old"))
        );
    }

    [Fact]
    public async Task A_damaged_database_is_kept_as_it_lies_when_a_backup_takes_its_place()
    {
        await File.WriteAllTextAsync(In("fleet.db"), "this is no database, but somebody may need it", Ct);
        Assert.Equal(0, await Do(FileCommands.Restore(), "--db", In("fleet.db"), Make("backup.db", "EX-00")));
        Assert.Equal("EX-00", Units("fleet.db"));
        Assert.StartsWith(
            "this is no",
            await File.ReadAllTextAsync(Assert.Single(Directory.GetFiles(_folder, "*.old")), Ct),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task A_copy_into_a_folder_that_is_not_there_is_a_line_and_no_trace()
    {
        Assert.Equal(Guard.Failed, await Do(FileCommands.Backup(), "--db", Make("fleet.db"), In("nowhere/copy.db")));
        Assert.Equal(Guard.BadInput, await Do(FileCommands.Backup(), "--db", In("missing.db"), In("copy.db")));
        Assert.False(File.Exists(In("copy.db")));
    }

    [Fact]
    public async Task What_a_killed_server_had_acknowledged_is_there_once()
    {
        var server = Path.Combine(AppContext.BaseDirectory, "Nippers.Web.dll");
        using var torture = new Torture(_folder, server, seed: 7) { Instants = 2 };
        var tortured = await torture.Run(kills: 3, TestContext.Current.TestOutputHelper!.WriteLine, Ct);
        Assert.Empty(tortured.Wrong);
        Assert.True(tortured is { Kills: 3, Acknowledged: > 0 }, $"{tortured.Acknowledged} writes were acknowledged");
    }

    [Fact]
    public async Task A_server_killed_while_it_moves_an_old_database_loses_nothing_and_the_next_one_finishes()
    {
        var server = Path.Combine(AppContext.BaseDirectory, "Nippers.Web.dll");
        using var torture = new Torture(_folder, server, seed: 5);
        Assert.Empty(await torture.Moves(kills: 2, Ct));
    }

    [Theory]
    [InlineData("")]
    [InlineData("CREATE TABLE __EFMigrationsHistory (MigrationId TEXT PRIMARY KEY, ProductVersion TEXT NOT NULL)")]
    public async Task A_start_that_was_killed_while_it_made_the_tables_is_made_good_by_the_next(string more)
    {
        Run(
            "born.db",
            "CREATE TABLE __EFMigrationsLock (Id INTEGER PRIMARY KEY, Timestamp TEXT NOT NULL); INSERT INTO __EFMigrationsLock VALUES (1, '2026-11-30 00:37:46+00:00');"
                + more
        );
        var settings = new WebSettings(In("born.db"), 0, new FakeTimeProvider(DemoApp.Now), Quiet: true) { LocalOnly = true };
        await using var app = NippersHost.Create(settings);

        // It had waited for ever.
        await Startup.Prepare(app.Services, settings, Ct).WaitAsync(TimeSpan.FromMinutes(1), Ct);
        await using var scope = app.Services.CreateAsyncScope();
        Assert.NotEmpty(await scope.ServiceProvider.GetRequiredService<NippersDb>().Programs.ToListAsync(Ct));
    }

    [Fact]
    public async Task What_cannot_be_served_is_refused_at_the_start_and_left_as_it_is()
    {
        await File.WriteAllTextAsync(In("letter.db"), new string('x', 5000), Ct);
        Run("strange.db", "CREATE TABLE Songs (Name TEXT)");
        Make("newer.db");
        Run(
            "newer.db",
            "CREATE TABLE __EFMigrationsHistory (MigrationId TEXT PRIMARY KEY, ProductVersion TEXT); INSERT INTO __EFMigrationsHistory VALUES ('29990101000000_Later', '99')"
        );
        foreach (var name in (string[])["letter.db", "strange.db", "newer.db"])
        {
            var before = await File.ReadAllBytesAsync(In(name), Ct);
            Assert.Equal(Guard.Failed, await ServeCommands.Run(new(In(name), 0, new FakeTimeProvider(DemoApp.Now), Quiet: true), null, Ct));
            SqliteConnection.ClearAllPools();
            Assert.Equal(before, await File.ReadAllBytesAsync(In(name), Ct));
        }
    }

    [Fact]
    public async Task A_missing_database_is_made_only_when_that_is_said_and_a_demo_is_not_served_as_a_fleet()
    {
        Assert.Equal(Guard.BadInput, await Do(ServeCommands.Serve(), "--db", In("typo.db")));
        Assert.False(File.Exists(In("typo.db")));
        Assert.Equal(
            Guard.BadInput,
            await ServeCommands.Run(new(In("no/such/folder.db"), 0, new FakeTimeProvider(DemoApp.Now), Quiet: true), null, Ct)
        );

        Make("demo.db", "EX-01");
        DatabaseMark.MarkDemo(In("demo.db"));
        Assert.Equal(Guard.BadInput, await Do(ServeCommands.Serve(), "--db", In("demo.db")));
        Assert.Equal(0, await Do(FileCommands.Backup(), "--db", In("demo.db"), In("copy.db")));
        Assert.Equal(
            (true, true, false),
            (DatabaseMark.IsDemo(In("demo.db")), DatabaseMark.IsDemo(In("copy.db")), DatabaseMark.IsDemo(Make("own.db")))
        );
    }
}

/// <summary>While something else holds the database, whoever writes is told, and whoever reads reads.</summary>
public sealed class BusyTests
{
    [Fact]
    public async Task A_form_that_cannot_be_kept_stands_there_still_to_be_sent_again()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var form = await tam.Read("/waste");
        const string place = "Tank 2, behind the <shed>";
        Task<HttpResponseMessage> Send(IHtmlDocument page, string selector) =>
            tam.Submit(page, "/waste", selector, ("stream", "oil"), ("amount", "20"), ("place", place));

        IHtmlDocument said;
        await using (var other = new SqliteConnection($"Data Source={app.File}"))
        {
            await other.OpenAsync(TestContext.Current.CancellationToken);
            await using var held = other.BeginTransaction();
            var answer = await Send(form, "main form");
            Assert.Equal(HttpStatusCode.ServiceUnavailable, answer.StatusCode);
            Assert.NotNull(answer.Headers.RetryAfter);
            said = await Visitor.Parse(answer);
            Assert.Equal(HttpStatusCode.OK, (await tam.Get("/waste")).StatusCode);

            // A password is written into no page.
            using var ines = new Visitor(app);
            var secret = await ines.Submit("/sign-in", "form[action*=sign-in]", ("userName", "ines"), ("password", "flood tide"));
            Assert.Equal(HttpStatusCode.ServiceUnavailable, secret.StatusCode);
            Assert.DoesNotContain("flood tide", (await Visitor.Parse(secret)).DocumentElement.OuterHtml, StringComparison.Ordinal);
        }

        Assert.Contains(place, said.QuerySelector("[data-again]")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(0, await app.Ask(db => db.Waste.CountAsync(x => x.Place == place)));
        Assert.Equal(HttpStatusCode.Redirect, (await tam.Submit(said, "/waste", "[data-again]")).StatusCode);
        Assert.Equal(1, await app.Ask(db => db.Waste.CountAsync(x => x.Place == place)));
    }
}

/// <summary>A program that watches the installation is told how it does, and nothing of the fleet.</summary>
public sealed class HealthTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Fact]
    public async Task How_it_does_is_told_where_that_was_asked_for()
    {
        await using var app = await DemoApp.Start(health: true);
        using var nobody = new Visitor(app);
        var well = await nobody.Get(Health.Path);
        Assert.Equal(HttpStatusCode.OK, well.StatusCode);
        var answer = JsonNode.Parse(await well.Content.ReadAsStringAsync(Ct))!.AsObject();
        Assert.Equal(
            ["status", "databaseWritable", "waitingConsignments", "diskFreeMb"],
            answer.Select(x => x.Key).Where(x => x != "lastBackupMinutes")
        );

        await using var other = new SqliteConnection($"Data Source={app.File}");
        await other.OpenAsync(Ct);
        await using var held = other.BeginTransaction();
        var ill = await nobody.Get(Health.Path);
        Assert.Equal(HttpStatusCode.ServiceUnavailable, ill.StatusCode);
        Assert.False((bool)JsonNode.Parse(await ill.Content.ReadAsStringAsync(Ct))!["databaseWritable"]!);
    }

    [Fact]
    public async Task Pages_and_lists_come_packed()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        foreach (var path in (string[])["/", "/exchange/readings.csv", "/defects"])
        {
            var answer = await tam.Send(HttpMethod.Get, path, null, ("Accept-Encoding", "br"));
            Assert.Equal(["br"], answer.Content.Headers.ContentEncoding);
        }

        var today = await (await tam.Send(HttpMethod.Get, "/", null, ("Accept-Encoding", "br"))).Content.ReadAsByteArrayAsync(Ct);
        // Twenty-two machines with their tapes.
        Assert.InRange(today.Length, 1, 16 << 10);
        Assert.Equal(HttpStatusCode.Found, (await new Visitor(app).Get(Health.Path)).StatusCode);
    }
}
