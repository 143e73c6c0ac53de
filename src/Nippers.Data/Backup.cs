using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Nippers.Data;

/// <summary>Copies databases: whole, looked through, and on the disk before anybody is told that they are there.</summary>
public static class Backup
{
    private const string Half = ".part";

    /// <summary>Writes a whole and consistent copy while the database is in use. A broken copy leaves nothing behind.</summary>
    /// <param name="db">The database.</param>
    /// <param name="to">Where the copy goes. What stands there is replaced, in one step.</param>
    /// <param name="ct">Cancels.</param>
    /// <exception cref="SqliteException">The copy could not be written.</exception>
    /// <exception cref="InvalidDataException">What was copied is not whole.</exception>
    public static Task BackUp(this NippersDb db, string to, CancellationToken ct) =>
        Copy(((SqliteConnection)db.Database.GetDbConnection()).DataSource, to, ct);

    /// <summary>Copies a database file, with what stands in its write-ahead log, through SQLite.</summary>
    /// <param name="from">The database. It is only read.</param>
    /// <param name="to">Where the copy goes. What stands there is replaced, in one step.</param>
    /// <param name="ct">Cancels.</param>
    /// <exception cref="SqliteException">It could not be read or written.</exception>
    /// <exception cref="InvalidDataException">It is not a whole database of Nippers.</exception>
    public static async Task Copy(string from, string to, CancellationToken ct)
    {
        var half = to + Half;
        try
        {
            Remove(half);
            await using (var source = Open(from, SqliteOpenMode.ReadOnly))
            await using (var target = Open(half, SqliteOpenMode.ReadWriteCreate))
            {
                await source.OpenAsync(ct);
                await target.OpenAsync(ct);
                source.BackupDatabase(target);

                // One file holds it all: a copy that has a log beside it is easily parted from it.
                await using var journal = target.CreateCommand();
                journal.CommandText = "PRAGMA journal_mode = DELETE";
                await journal.ExecuteScalarAsync(ct);
            }

            if (!await IsWhole(half, ct))
                throw new InvalidDataException(from);
            await using (var written = new FileStream(half, FileMode.Open, FileAccess.ReadWrite))
                written.Flush(flushToDisk: true);
            File.Move(half, to, overwrite: true);
        }
        finally
        {
            Remove(half);
        }
    }

    /// <summary>Whether a file is a whole database of Nippers: opened, looked through page by page, and with its tables.</summary>
    public static async Task<bool> IsWhole(string file, CancellationToken ct)
    {
        try
        {
            await using var connection = Open(file, SqliteOpenMode.ReadOnly);
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

    /// <summary>
    /// Puts a backup in a database's place. The old one is kept beside it. Whenever it breaks off, one of the two stands there
    /// whole.
    /// </summary>
    /// <param name="from">The backup.</param>
    /// <param name="database">The database. Nobody may have it open.</param>
    /// <param name="kept">Where the old one goes.</param>
    /// <param name="ct">Cancels.</param>
    /// <returns>Whether there was an old one.</returns>
    /// <exception cref="SqliteException">The backup could not be read, or there is no room for it.</exception>
    /// <exception cref="InvalidDataException">The backup is not a whole database of Nippers.</exception>
    public static async Task<bool> Restore(string from, string database, string kept, CancellationToken ct)
    {
        var taken = database + ".restored";
        try
        {
            await Copy(from, taken, ct);
            var old = File.Exists(database);
            if (old)
            {
                await Keep(database, kept, ct);
                await Settle(database, ct);

                // Its log belongs to the old one; what stood in it is in the copy that was just made.
                Remove(database + "-wal");
                Remove(database + "-shm");
            }

            File.Move(taken, database, overwrite: true);
            return old;
        }
        finally
        {
            Remove(taken);
        }
    }

    private static async Task Keep(string database, string kept, CancellationToken ct)
    {
        try
        {
            await Copy(database, kept, ct);
        }
        catch (Exception fault) when (fault is SqliteException or InvalidDataException)
        {
            // A database that is broken is kept as it lies, log and all: somebody may yet read something out of it.
            foreach (var end in (string[])["", "-wal", "-shm"])
            {
                if (File.Exists(database + end))
                    File.Copy(database + end, kept + end);
            }
        }
    }

    /// <summary>Brings the log of a database into it, so that the file alone is whole when its log goes.</summary>
    private static async Task Settle(string database, CancellationToken ct)
    {
        try
        {
            await using var connection = Open(database, SqliteOpenMode.ReadWrite);
            await connection.OpenAsync(ct);
            await using var command = connection.CreateCommand();
            command.CommandText = "PRAGMA wal_checkpoint(TRUNCATE)";
            await command.ExecuteScalarAsync(ct);
        }
        catch (SqliteException)
        {
            // A broken one is kept beside as it lies; nothing of it is needed here.
        }
    }

    private static void Remove(string file)
    {
        File.Delete(file);
        File.Delete(file + "-journal");
    }

    private static SqliteConnection Open(string file, SqliteOpenMode mode) =>
        new(
            new SqliteConnectionStringBuilder
            {
                DataSource = file,
                Mode = mode,
                Pooling = false,
            }.ToString()
        );
}
