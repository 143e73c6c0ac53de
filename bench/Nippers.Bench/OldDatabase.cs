using System.Globalization;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Nippers.Data;

namespace Nippers.Bench;

/// <summary>Databases of the first shape with what a newer one holds: what a server finds that was not renewed for long.</summary>
internal static class OldDatabase
{
    /// <summary>Makes one.</summary>
    /// <param name="newer">Where the newer one stands.</param>
    /// <param name="old">Where it is made.</param>
    /// <param name="ct">Cancels.</param>
    /// <returns>Rows of each table that both have.</returns>
    public static async Task<IReadOnlyDictionary<string, long>> Make(string newer, string old, CancellationToken ct)
    {
        var options = new DbContextOptionsBuilder<NippersDb>();
        NippersDb.Configure(options, old);
        await using (var db = new NippersDb(options.Options))
            await db.GetService<IMigrator>().MigrateAsync("First", ct);
        SqliteConnection.ClearAllPools();
        await using var connection = new SqliteConnection($"Data Source={old};Pooling=False");
        await connection.OpenAsync(ct);
        await Do(connection, "PRAGMA foreign_keys = OFF", ct);
        await Do(connection, $"ATTACH '{newer}' AS newer", ct);
        var columns = await Pairs(
            connection,
            """
            SELECT t.name, group_concat('"' || o.name || '"')
            FROM main.sqlite_master t JOIN pragma_table_info(t.name, 'main') o JOIN pragma_table_info(t.name, 'newer') n ON n.name = o.name
            WHERE t.type = 'table' AND t.name NOT LIKE 'sqlite%' AND t.name NOT LIKE '\_\_%' ESCAPE '\'
            GROUP BY t.name
            """,
            ct
        );
        foreach (var (table, names) in columns)
            await Do(connection, $"INSERT OR IGNORE INTO main.\"{table}\" ({names}) SELECT {names} FROM newer.\"{table}\"", ct);
        return await Rows(connection, columns.Keys, ct);
    }

    /// <summary>Rows of some tables of a database.</summary>
    public static async Task<IReadOnlyDictionary<string, long>> Rows(string file, IEnumerable<string> tables, CancellationToken ct)
    {
        await using var connection = new SqliteConnection($"Data Source={file};Pooling=False");
        await connection.OpenAsync(ct);
        return await Rows(connection, tables, ct);
    }

    private static async Task<IReadOnlyDictionary<string, long>> Rows(
        SqliteConnection connection,
        IEnumerable<string> tables,
        CancellationToken ct
    )
    {
        var rows = new SortedDictionary<string, long>(StringComparer.Ordinal);
        foreach (var table in tables)
            rows[table] = long.Parse(
                (await Pairs(connection, $"SELECT 'n', count(*) FROM main.\"{table}\"", ct))["n"],
                CultureInfo.InvariantCulture
            );
        return rows;
    }

    private static async Task<SortedDictionary<string, string>> Pairs(SqliteConnection connection, string question, CancellationToken ct)
    {
        var found = new SortedDictionary<string, string>(StringComparer.Ordinal);
        await using var command = Command(connection, question);
        await using var reader = await command.ExecuteReaderAsync(ct);
        while (await reader.ReadAsync(ct))
            found[reader.GetString(0)] = reader.GetString(1);
        return found;
    }

    private static async Task Do(SqliteConnection connection, string text, CancellationToken ct)
    {
        await using var command = Command(connection, text);
        await command.ExecuteNonQueryAsync(ct);
    }

#pragma warning disable CA2100 // Names of tables of one's own.
    private static SqliteCommand Command(SqliteConnection connection, string text) => new(text, connection);
#pragma warning restore CA2100
}
