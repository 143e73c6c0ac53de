using System.Data.Common;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Storage;

namespace Nippers.Data.Queries;

/// <summary>
/// Questions in SQL whose rows are read as they come. EF Core makes the text of such a question anew at each request when it maps
/// the rows itself, which takes longer than SQLite does.
/// </summary>
public static class PlainSql
{
    /// <summary>Rows of a question.</summary>
    /// <param name="db">The database; its transaction is the question's.</param>
    /// <param name="sql">The question; what it holds in braces becomes parameters.</param>
    /// <param name="row">Makes one of the row on which the reader stands.</param>
    /// <param name="ct">Cancels.</param>
    public static async Task<List<T>> Plain<T>(this NippersDb db, FormattableString sql, Func<DbDataReader, T> row, CancellationToken ct)
    {
        var raw = db.GetService<IRawSqlCommandBuilder>().Build(sql.Format, sql.GetArguments()!, db.Model);
        var asked = new RelationalCommandParameterObject(
            db.GetService<IRelationalConnection>(),
            raw.ParameterValues,
            readerColumns: null,
            db,
            db.GetService<IRelationalCommandDiagnosticsLogger>(),
            CommandSource.FromSqlQuery
        );
        await using var rows = await raw.RelationalCommand.ExecuteReaderAsync(asked, ct);
        var found = new List<T>();
        while (await rows.ReadAsync(ct))
            found.Add(row(rows.DbDataReader));
        return found;
    }
}
