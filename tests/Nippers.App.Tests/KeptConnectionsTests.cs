using System.Data;
using System.Data.Common;
using CsCheck;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Queries;

namespace Nippers.App.Tests;

/// <summary>Connections and their statements are kept from one context to the next, and nothing of what was asked with them.</summary>
public sealed class KeptConnectionsTests : IAsyncLifetime
{
    private Fleet _fleet = null!;
    private KeptConnections _kept = null!;
    private DbContextOptions<NippersDb> _options = null!;

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        _fleet = await Fleet.Empty();
        _kept = new(_fleet.File);
        var options = new DbContextOptionsBuilder<NippersDb>();
        NippersDb.Configure(options, _fleet.File);
        _options = options.Options;
    }

    public async ValueTask DisposeAsync()
    {
        _kept.Dispose();
        await _fleet.DisposeAsync();
    }

    [Fact]
    public async Task The_next_context_has_the_connection_of_the_one_before()
    {
        var first = await Connection();
        Assert.Equal(1, _kept.Free);

        Assert.Same(first, await Connection());
        Assert.Equal(ConnectionState.Open, first.State);
        Assert.Equal(1, _kept.Free);
    }

    [Fact]
    public async Task Contexts_at_once_have_one_each_and_no_more_are_kept_than_may_be()
    {
        var all = new List<NippersDb>();
        for (var i = 0; i < KeptConnections.Most + 3; i++)
        {
            all.Add(New());
            Assert.NotEmpty(await all[^1].Sites.ToListAsync(Ct));
        }

        var connections = all.ConvertAll(x => x.Database.GetDbConnection());
        Assert.Equal(connections.Count, connections.Distinct().Count());
        foreach (var db in all)
            await db.DisposeAsync();
        Assert.Equal(KeptConnections.Most, _kept.Free);
        Assert.Equal(3, connections.Count(x => x.State == ConnectionState.Closed));
    }

    [Fact]
    public async Task The_text_of_a_question_is_read_once()
    {
        var first = await Asked();
        var second = await Asked();

        Assert.NotSame(first.Db, second.Db);
        Assert.Same(first.Command, second.Command);
        Assert.NotEqual(first.Found, second.Found);

        async Task<(NippersDb Db, DbCommand Command, int Found)> Asked()
        {
            var heard = new Heard();
            var options = new DbContextOptionsBuilder<NippersDb>();
            NippersDb.Configure(options, _fleet.File).AddInterceptors(heard);
            await using var db = new NippersDb(options.Options, _kept);
            db.Sites.Add(new() { Name = $"Site {Guid.NewGuid():N}", TimeZone = "UTC" });
            await db.SaveChangesAsync(Ct);
            var found = await db.Sites.AsNoTracking().Where(x => x.Name != "nowhere").ToListAsync(Ct);
            return (db, heard.Last!, found.Count);
        }
    }

    [Fact]
    public async Task A_context_left_in_a_transaction_leaves_none_to_the_next()
    {
        await using (var db = New())
        {
            await db.Database.BeginTransactionAsync(Ct);
            db.Sites.Add(new() { Name = "Half", TimeZone = "UTC" });
            await db.SaveChangesAsync(Ct);
            Assert.Equal(1, await db.Sites.CountAsync(x => x.Name == "Half", Ct));
        }

        await using var next = New();
        Assert.Equal(0, await next.Sites.CountAsync(x => x.Name == "Half", Ct));
        await using var transaction = await next.Database.BeginTransactionAsync(Ct);
        Assert.Equal(0, await next.Sites.CountAsync(x => x.Name == "Half", Ct));
    }

    [Theory]
    [InlineData("PRAGMA foreign_keys = 0")]
    [InlineData("BEGIN")]
    public async Task What_is_not_as_it_was_opened_is_closed(string left)
    {
        DbConnection connection;
        await using (var db = New())
        {
            await db.Sites.CountAsync(Ct);
            connection = db.Database.GetDbConnection();
            await using var command = connection.CreateCommand();
#pragma warning disable CA2100 // Of the two lines above.
            command.CommandText = left;
#pragma warning restore CA2100
            await command.ExecuteNonQueryAsync(Ct);
        }

        Assert.Equal(ConnectionState.Closed, connection.State);
        Assert.Equal(0, _kept.Free);
        await using var next = New();
        await Assert.ThrowsAnyAsync<Exception>(() =>
            next.Database.ExecuteSqlRawAsync("UPDATE Machines SET SiteId = 99999; INSERT INTO ParkedRow VALUES (1)", Ct)
        );
    }

    [Fact]
    public async Task What_is_not_read_to_the_end_is_closed()
    {
        DbConnection connection;
        await using (var db = New())
        {
            var sites = db.Sites.AsAsyncEnumerable().GetAsyncEnumerator(Ct);
            Assert.True(await sites.MoveNextAsync());
            connection = db.Database.GetDbConnection();
        }

        Assert.Equal(ConnectionState.Closed, connection.State);
        Assert.Equal(0, _kept.Free);
    }

    [Fact]
    public async Task A_question_is_answered_after_the_tables_have_changed()
    {
        await Connection();
        var before = await Columns();
        await using (var other = new SqliteConnection($"Data Source={_fleet.File};Pooling=False"))
        {
            await other.OpenAsync(Ct);
            await using var command = other.CreateCommand();
            command.CommandText = "ALTER TABLE Sites ADD COLUMN Later TEXT NOT NULL DEFAULT 'later'";
            await command.ExecuteNonQueryAsync(Ct);
        }

        Assert.Equal(before + 1, await Columns());

        async Task<int> Columns()
        {
            await using var db = New();
            return (await db.Plain($"SELECT * FROM Sites", x => x.FieldCount, Ct))[0];
        }
    }

    [Fact]
    public async Task A_question_asked_again_before_it_is_read_to_the_end_is_answered_for_itself()
    {
        await using var db = New();
        db.Sites.AddRange(Enumerable.Range(0, 5).Select(x => new Site { Name = $"Site {x}", TimeZone = "UTC" }));
        await db.SaveChangesAsync(Ct);
        var (outer, inner) = (new List<string>(), new List<string>());
        await foreach (var x in Names(1))
        {
            outer.Add(x);
            await foreach (var y in Names(3))
                inner.Add(y);
        }

        Assert.Equal(["Site 1", "Site 2", "Site 3", "Site 4"], outer);
        Assert.Equal(Enumerable.Repeat<string[]>(["Site 3", "Site 4"], 4).SelectMany(x => x), inner);

        IAsyncEnumerable<string> Names(int from) =>
            db.Sites.Where(x => x.Name.StartsWith("Site ")).OrderBy(x => x.Name).Skip(from).Select(x => x.Name).AsAsyncEnumerable();
    }

    [Fact]
    public async Task A_question_that_is_wrong_or_called_off_harms_no_other()
    {
        await using var db = New();
        for (var i = 0; i < 3; i++)
        {
            await Assert.ThrowsAsync<SqliteException>(() => db.Plain($"SELECT nothing FROM Sites", x => x.FieldCount, Ct));
            await Assert.ThrowsAsync<FormatException>(() => db.Plain<int>($"SELECT Id FROM Sites", _ => throw new FormatException(), Ct));
            Assert.NotEmpty(await db.Plain($"SELECT Id FROM Sites", x => x.GetInt32(0), Ct));
        }
    }

    [Fact]
    public async Task Texts_that_differ_each_time_are_forgotten()
    {
        for (var i = 0; i < KeptConnections.MostTexts * 2 + 7; i++)
        {
            await using var db = New();
            var text = System.Runtime.CompilerServices.FormattableStringFactory.Create($"SELECT {i} + {{0}}", i);
            Assert.Equal([2 * i], await db.Plain(text, x => x.GetInt32(0), Ct));
        }

        Assert.Equal(1, _kept.Free);
    }

    [Fact]
    public async Task With_the_host_all_are_closed()
    {
        var waits = await Connection();
        var db = New();
        await db.Sites.CountAsync(Ct);
        var used = db.Database.GetDbConnection();
        Assert.Same(waits, used);
        await using var other = New();
        await other.Sites.CountAsync(Ct);
        var second = other.Database.GetDbConnection();
        await db.DisposeAsync();

        _kept.Dispose();
        await other.DisposeAsync();

        Assert.Equal((ConnectionState.Closed, ConnectionState.Closed, 0), (used.State, second.State, _kept.Free));
    }

    private enum Act
    {
        Add,
        Drop,
        AddAndRollBack,
        Count,
        Names,
        Change,
    }

    [Fact]
    public void Whatever_is_done_in_whatever_order_is_as_without_keeping() =>
        Gen.Select(Gen.Enum<Act>(), Gen.Int[0, 5])
            .List[1, 40]
            .Sample(
                acts =>
                {
                    using (var begin = New())
                        begin.Sites.Where(x => x.Name.StartsWith("S ")).ExecuteDelete();
                    var expected = new SortedSet<string>(StringComparer.Ordinal);
                    foreach (var (act, i) in acts)
                        Do(act, $"S {i}", expected);
                },
                iter: 60,
                threads: 1
            );

    private void Do(Act act, string name, SortedSet<string> expected)
    {
        using var db = New();
        using var transaction = act is Act.AddAndRollBack or Act.Change ? db.Database.BeginTransaction() : null;
        switch (act)
        {
            case Act.Add or Act.AddAndRollBack when !db.Sites.Any(x => x.Name == name):
                db.Sites.Add(new() { Name = name, TimeZone = "UTC" });
                db.SaveChanges();
                Assert.True(db.Sites.Any(x => x.Name == name));
                if (act == Act.Add)
                    expected.Add(name);
                break;
            case Act.Drop:
                Assert.Equal(expected.Remove(name) ? 1 : 0, db.Sites.Where(x => x.Name == name).ExecuteDelete());
                break;
            case Act.Count:
                Assert.Equal(expected.Count, db.Sites.Count(x => x.Name.StartsWith("S ")));
                break;
            case Act.Names:
                Assert.Equal(expected, db.Sites.Where(x => x.Name.StartsWith("S ")).OrderBy(x => x.Name).Select(x => x.Name));
                break;
            case Act.Change when db.Sites.SingleOrDefault(x => x.Name == name) is { } found:
                found.TimeZone = "Europe/Rome";
                db.SaveChanges();
                transaction!.Commit();
                break;
        }
    }

    private NippersDb New() => new(_options, _kept);

    private async Task<DbConnection> Connection()
    {
        await using var db = New();
        await db.Sites.CountAsync(Ct);
        return db.Database.GetDbConnection();
    }

    /// <summary>The last command with which something was read.</summary>
    private sealed class Heard : Microsoft.EntityFrameworkCore.Diagnostics.DbCommandInterceptor
    {
        public DbCommand? Last { get; private set; }

        public override ValueTask<Microsoft.EntityFrameworkCore.Diagnostics.InterceptionResult<DbDataReader>> ReaderExecutingAsync(
            DbCommand command,
            Microsoft.EntityFrameworkCore.Diagnostics.CommandEventData eventData,
            Microsoft.EntityFrameworkCore.Diagnostics.InterceptionResult<DbDataReader> result,
            CancellationToken cancellationToken = default
        )
        {
            Last = command;
            return new(result);
        }
    }
}
