using Microsoft.Data.Sqlite;

namespace Nippers.Data;

/// <summary>What is wrong with the file or the disk, where a database says so.</summary>
public enum StorageFault
{
    /// <summary>Something else writes; in a moment it goes.</summary>
    Busy,

    /// <summary>The file, its folder or the disk may not be written.</summary>
    ReadOnly,

    /// <summary>The disk is full.</summary>
    Full,

    /// <summary>The file is not a whole database.</summary>
    Corrupt,

    /// <summary>The disk failed, or the file can't be opened.</summary>
    Unreadable,
}

/// <summary>Somebody else writes for too long already.</summary>
public sealed class DatabaseBusyException : Exception;

/// <summary>Reads what a fault of the database means.</summary>
public static class StorageFaults
{
    // Result codes of SQLite; sqlite.org/rescode.html.
    private const int Busy = 5;
    private const int Locked = 6;
    private const int ReadOnly = 8;
    private const int InputOutput = 10;
    private const int Corrupt = 11;
    private const int Full = 13;
    private const int CantOpen = 14;
    private const int NotADatabase = 26;

    /// <summary>What a fault says of the storage; null when it is about something else.</summary>
    /// <param name="fault">The fault, or one that holds it.</param>
    public static StorageFault? Of(Exception? fault) =>
        fault switch
        {
            null => null,
            DatabaseBusyException => StorageFault.Busy,
            SqliteException sqlite => sqlite.SqliteErrorCode switch
            {
                Busy or Locked => StorageFault.Busy,
                ReadOnly => StorageFault.ReadOnly,
                Full => StorageFault.Full,
                Corrupt or NotADatabase => StorageFault.Corrupt,
                InputOutput or CantOpen => StorageFault.Unreadable,
                _ => null,
            },
            _ => Of(fault.InnerException),
        };
}
