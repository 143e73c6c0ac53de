using System.Collections.Concurrent;
using System.Data;
using System.Data.Common;
using System.Runtime.CompilerServices;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using SQLitePCL;

namespace Nippers.Data;

/// <summary>
/// Keeps connections open from one context to the next, and on each the statements of what was asked: SQLite reads the text of a question
/// once per connection, and not at each page. Nothing of an answer is kept. Lives as long as the host; whatever is kept is closed with it.
/// </summary>
/// <param name="file">The database file.</param>
public sealed class KeptConnections(string file) : IDisposable
{
    /// <summary>Most connections kept; more are opened where more are needed at once, and closed after use.</summary>
    public const int Most = 8;

    /// <summary>Most texts kept on one connection; then all are forgotten, as texts that differ each time would fill the memory.</summary>
    public const int MostTexts = 500;

    private static readonly ConditionalWeakTable<DbConnection, KeptStatements> Statements = [];

    private readonly string _text = NippersDb.ConnectionString(file);
    private readonly ConcurrentStack<SqliteConnection> _free = new();
    private volatile bool _closed;

    /// <summary>Connections that wait for the next context.</summary>
    public int Free => _free.Count;

    /// <summary>A connection for one context, which gives it back.</summary>
    public SqliteConnection Take()
    {
        if (_free.TryPop(out var free))
            return free;
        var made = new SqliteConnection(_text);
        Statements.Add(made, new());

        // EF Core adds its functions to the connections that it makes itself, and to those that its options name.
        using var first = new NippersDb(NippersDb.Configure(new DbContextOptionsBuilder<NippersDb>(), made).Options);
        _ = first.Database.GetDbConnection();
        return made;
    }

    /// <summary>Takes a connection back when its context has ended.</summary>
    public void Give(SqliteConnection connection)
    {
        if (_closed || _free.Count >= Most || !IsAsNew(connection))
        {
            Close(connection);
            return;
        }

        _free.Push(connection);
        if (_closed)
            Dispose();
    }

    /// <summary>Closes what waits; what is given back later is closed then.</summary>
    public void Dispose()
    {
        _closed = true;
        while (_free.TryPop(out var connection))
            Close(connection);
    }

    // As it was when it was opened: nothing half read, no transaction under way, and what points nowhere still refused (a migration that
    // fails may leave that off).
    private static bool IsAsNew(SqliteConnection connection) =>
        connection.State == ConnectionState.Open
        && Statements.TryGetValue(connection, out var kept)
        && !kept.IsAsked
        && raw.sqlite3_get_autocommit(connection.Handle) != 0
        && raw.sqlite3_db_config(connection.Handle, raw.SQLITE_DBCONFIG_ENABLE_FKEY, -1, out var refused) == raw.SQLITE_OK
        && refused == 1;

    private static void Close(SqliteConnection connection)
    {
        if (Statements.TryGetValue(connection, out var kept))
            kept.Clear();
        connection.Dispose();
    }

    // Only what is read: what is written carries pictures and files, and SQLite would hold them until the next.
    private static bool IsRead(string text)
    {
        var words = text.AsSpan().TrimStart();
        return words.StartsWith("SELECT", StringComparison.Ordinal) || words.StartsWith("WITH", StringComparison.Ordinal);
    }

    /// <summary>Asks with the statements of a connection that is kept; those of others are as ever.</summary>
    internal sealed class Commands : DbCommandInterceptor
    {
        public static readonly Commands Instance = new();

        public override DbCommand CommandInitialized(CommandEndEventData eventData, DbCommand result) =>
            result is SqliteCommand { Connection: { } connection } asked
            && Statements.TryGetValue(connection, out var kept)
            && connection.State == ConnectionState.Open
            && IsRead(asked.CommandText)
                ? kept.For(asked)
                : result;
    }
}

/// <summary>The statements of one connection, by their text. One context at a time has it, as it has the connection.</summary>
internal sealed class KeptStatements
{
    private readonly Dictionary<string, KeptCommand> _byText = new(StringComparer.Ordinal);

    /// <summary>Somebody has not read to the end, and has not said that he will not.</summary>
    public bool IsAsked => _byText.Values.Any(x => x.IsLent);

    /// <summary>A command that asks the same, whose text may have been read before; the given one where that is in use.</summary>
    public SqliteCommand For(SqliteCommand asked)
    {
        if (!_byText.TryGetValue(asked.CommandText, out var kept) || kept.IsGone)
        {
            if (_byText.Count >= KeptConnections.MostTexts)
                Clear();
            kept = new(asked.CommandText, asked.Connection!) { CommandTimeout = asked.CommandTimeout };
            if (!kept.IsReadThrough())
                return asked;
            _byText[asked.CommandText] = kept;
        }

        if (kept.IsLent)
            return asked;
        kept.Lend(asked);
        asked.Dispose();
        return kept;
    }

    /// <summary>Forgets all; what is lent is gone when it comes back.</summary>
    public void Clear()
    {
        foreach (var kept in _byText.Values)
            kept.Forget();
        _byText.Clear();
    }
}

/// <summary>A command that is disposed of by whoever asked with it, and is there for the next.</summary>
internal sealed class KeptCommand : SqliteCommand
{
    private bool _isForgotten;

    public KeptCommand(string text, SqliteConnection connection)
        : base(text, connection) { }

    /// <summary>Somebody asks with it.</summary>
    public bool IsLent { get; private set; }

    /// <summary>Its connection was closed, or its text is no longer kept.</summary>
    public bool IsGone { get; private set; }

    /// <summary>Has SQLite read the text. What it does not understand is said where the question is asked, and not here.</summary>
    public bool IsReadThrough()
    {
        try
        {
            Prepare();
            return true;
        }
        catch (SqliteException)
        {
            base.Dispose(true);
            return false;
        }
    }

    public void Lend(SqliteCommand asked)
    {
        IsLent = true;
        Transaction = asked.Transaction;
        CommandTimeout = asked.CommandTimeout;
        foreach (SqliteParameter parameter in asked.Parameters)
            Parameters.Add(parameter);
    }

    public void Forget()
    {
        _isForgotten = true;
        if (!IsLent)
            Dispose();
    }

    protected override void Dispose(bool disposing)
    {
        // Whoever asked is done. A connection that is closed comes again, for those that nobody asks with.
        if (disposing && IsLent)
        {
            IsLent = false;
            Parameters.Clear();
            Transaction = null;
            if (!_isForgotten && DataReader is null)
                return;
        }

        IsGone = true;
        base.Dispose(disposing);
    }
}
