using System.Data.Common;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace Nippers.Data;

/// <summary>Inserts many rows through one prepared statement, inside the context's transaction. For files of a million rows.</summary>
public sealed class BulkRows : IDisposable
{
    private readonly DbCommand _command;

    /// <summary>Prepares the insert.</summary>
    /// <param name="db">The context; it must have a transaction.</param>
    /// <param name="table">Table, from code alone, never from input.</param>
    /// <param name="columns">Columns, likewise.</param>
    public BulkRows(NippersDb db, string table, params string[] columns)
    {
        _command = db.Database.GetDbConnection().CreateCommand();
        _command.Transaction = (
            db.Database.CurrentTransaction ?? throw new InvalidOperationException("A transaction is needed.")
        ).GetDbTransaction();
#pragma warning disable CA2100 // Names come from code, values go through parameters.
        _command.CommandText =
            $"INSERT INTO \"{table}\" ({string.Join(", ", columns.Select(x => $"\"{x}\""))}) VALUES ({string.Join(", ", columns.Select((_, i) => $"$p{i}"))})";
#pragma warning restore CA2100
        for (var i = 0; i < columns.Length; i++)
        {
            var parameter = _command.CreateParameter();
            parameter.ParameterName = $"$p{i}";
            _command.Parameters.Add(parameter);
        }

        _command.Prepare();
    }

    /// <summary>Inserts one row.</summary>
    public void Add(params ReadOnlySpan<object?> values)
    {
        for (var i = 0; i < values.Length; i++)
            _command.Parameters[i].Value = values[i] ?? DBNull.Value;
        _command.ExecuteNonQuery();
    }

    public void Dispose() => _command.Dispose();
}
