using System.Net.Sockets;
using Nippers.App;
using Nippers.Data;

namespace Nippers.Web.Commands;

/// <summary>Says in one line why a command could not do its work. A trace helps nobody at a console.</summary>
public static class Guard
{
    /// <summary>Exit code: it could not be done.</summary>
    public const int Failed = 1;

    /// <summary>Exit code: what was asked makes no sense here.</summary>
    public const int BadInput = 2;

    /// <summary>Runs a command's work; a fault of files, disk or network is a line and an exit code.</summary>
    /// <param name="database">The database that the command works on, for the words.</param>
    /// <param name="work">The work.</param>
    public static async Task<int> Run(string database, Func<Task<int>> work)
    {
        try
        {
            return await work();
        }
        catch (Exception fault) when (Words(fault, database) is not null)
        {
            return await FileCommands.Say(Failed, Words(fault, database)!);
        }
    }

    /// <summary>Runs work that nobody may do beside another: the database is held meanwhile.</summary>
    /// <param name="database">The database.</param>
    /// <param name="otherwise">What to do when somebody else holds it.</param>
    /// <param name="work">The work.</param>
    public static Task<int> Alone(string database, string otherwise, Func<Task<int>> work) => Run(database, async () =>
        {
            if (Path.GetDirectoryName(Path.GetFullPath(database)) is { } folder && !Directory.Exists(folder))
                return await FileCommands.Say(BadInput, $"There is no folder {folder}.");
            using var held = DatabaseLock.TryTake(database);
            return held is null ? await FileCommands.Say(Failed, $"{database} is in use by another Nippers. {otherwise}") : await work();
        });

    private static string? Words(Exception fault, string database) =>
        fault switch
        {
            NewerDatabaseException => $"{database} was made by a newer Nippers. Nothing was changed: start that one.",
            StrangeDatabaseException => $"{database} is a database, but not one of Nippers. Nothing was changed.",
            InvalidDataException => $"{fault.Message} is not a whole database of Nippers. Nothing was changed.",
            UnauthorizedAccessException => $"{database}, or a file beside it, may not be opened: {fault.Message}",
            _ when StorageFaults.Of(fault) is { } storage => storage switch
            {
                StorageFault.Busy => $"{database} is busy: something else writes to it. Try again.",
                StorageFault.ReadOnly => $"{database} may only be read. Nothing was changed.",
                StorageFault.Full => $"The disk is full; {database} was left as it was.",
                StorageFault.Corrupt => $"{database} is damaged, or is not a database. Nothing was changed: restore a backup.",
                _ => $"{database} can't be opened or read. Nothing was changed.",
            },
            IOException { InnerException: Microsoft.AspNetCore.Connections.AddressInUseException } =>
                "The port is taken: something listens there already. Choose another with --port.",
            IOException { InnerException: SocketException or null } => fault.Message,
            _ => null,
        };
}
