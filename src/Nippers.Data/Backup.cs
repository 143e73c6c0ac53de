using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Nippers.Data;

/// <summary>Copies a database while it is in use.</summary>
public static class Backup
{
    /// <summary>Writes a whole and consistent copy.</summary>
    public static async Task BackUp(this NippersDb db, string to, CancellationToken ct)
    {
        await db.Database.OpenConnectionAsync(ct);
        try
        {
            await using var target = new SqliteConnection(
                new SqliteConnectionStringBuilder { DataSource = to, Pooling = false }.ToString()
            );
            await target.OpenAsync(ct);
            ((SqliteConnection)db.Database.GetDbConnection()).BackupDatabase(target);
        }
        finally
        {
            await db.Database.CloseConnectionAsync();
        }
    }
}
