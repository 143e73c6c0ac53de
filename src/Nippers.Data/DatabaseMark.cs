using Microsoft.Data.Sqlite;

namespace Nippers.Data;

/// <summary>Marks a database file as a demo's, in its head: a copy of it is one too.</summary>
public static class DatabaseMark
{
    // "NipD", where SQLite keeps what kind of file it is: sqlite.org/pragma.html#pragma_application_id.
    private const long Demo = 0x4E697044;

    /// <summary>Whether a file is a database that a demo made. A file that can't be read is none.</summary>
    public static bool IsDemo(string file)
    {
        try
        {
            using var connection = Open(file, SqliteOpenMode.ReadOnly);
            using var command = connection.CreateCommand();
            command.CommandText = "PRAGMA application_id";
            return command.ExecuteScalar() is Demo;
        }
        catch (SqliteException)
        {
            return false;
        }
    }

    /// <summary>Marks a file, and makes it where there is none.</summary>
    /// <exception cref="SqliteException">It can't be written.</exception>
    public static void MarkDemo(string file)
    {
        using var connection = Open(file, SqliteOpenMode.ReadWriteCreate);
        using var command = connection.CreateCommand();
        command.CommandText = $"PRAGMA application_id = {Demo}";
        command.ExecuteNonQuery();
    }

    private static SqliteConnection Open(string file, SqliteOpenMode mode)
    {
        var connection = new SqliteConnection(
            new SqliteConnectionStringBuilder
            {
                DataSource = file,
                Mode = mode,
                Pooling = false,
            }.ToString()
        );
        connection.Open();
        return connection;
    }
}
