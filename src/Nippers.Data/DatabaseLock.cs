namespace Nippers.Data;

/// <summary>
/// Held by whoever works on a database file for good: while it stands nothing replaces the file, and nobody else serves it. The
/// system lets go of it when the process ends, however it ends; the empty file beside the database says nothing by itself.
/// </summary>
public sealed class DatabaseLock : IDisposable
{
    private readonly FileStream _file;

    private DatabaseLock(FileStream file) => _file = file;

    /// <summary>Path of the lock of a database.</summary>
    public static string PathOf(string database) => database + ".lock";

    /// <summary>Takes it; null when another process has it.</summary>
    /// <param name="database">The database file. Its folder must be there.</param>
    /// <exception cref="UnauthorizedAccessException">The folder may not be written.</exception>
    public static DatabaseLock? TryTake(string database)
    {
        try
        {
            return new(new(PathOf(database), FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None));
        }
        catch (IOException fault) when (fault is not DirectoryNotFoundException)
        {
            return null;
        }
    }

    public void Dispose() => _file.Dispose();
}
