using System.Data.Common;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using Microsoft.EntityFrameworkCore.Storage;

namespace Nippers.Data;

/// <summary>
/// Inserts many rows of one kind through one prepared statement, inside the context's transaction. For files of a million rows.
/// Table, columns and how a value is kept come from the model: a column that is added to a row is written here too.
/// </summary>
/// <typeparam name="T">The row; its navigations are left out.</typeparam>
public sealed class BulkRows<T> : IDisposable
    where T : class
{
    private readonly DbCommand _command;
    private readonly IProperty[] _columns;
    private readonly Func<object?, object?>?[] _keep;

    /// <summary>Prepares the insert.</summary>
    /// <param name="db">The context; it must have a transaction.</param>
    /// <exception cref="InvalidOperationException">No transaction was begun.</exception>
    public BulkRows(NippersDb db)
    {
        var type = db.Model.FindEntityType(typeof(T))!;
        var table = StoreObjectIdentifier.Table(type.GetTableName()!);
        _columns = [.. type.GetProperties().Where(x => x.PropertyInfo is not null)];
        _keep = [.. _columns.Select(x => x.GetTypeMapping().Converter?.ConvertToProvider)];
        _command = db.Database.GetDbConnection().CreateCommand();
        _command.Transaction = (
            db.Database.CurrentTransaction ?? throw new InvalidOperationException("A transaction is needed.")
        ).GetDbTransaction();
        var names = string.Join(", ", _columns.Select(x => $"\"{x.GetColumnName(table)}\""));
        var places = string.Join(", ", _columns.Select((_, i) => $"$p{i}"));
#pragma warning disable CA2100 // Names come from the model, values go through parameters.
        _command.CommandText = $"INSERT INTO \"{table.Name}\" ({names}) VALUES ({places})";
#pragma warning restore CA2100
        for (var i = 0; i < _columns.Length; i++)
        {
            var parameter = _command.CreateParameter();
            parameter.ParameterName = $"$p{i}";
            _command.Parameters.Add(parameter);
        }

        _command.Prepare();
    }

    /// <summary>Inserts one row. A number that the database gives is given by it where the row has none.</summary>
    public void Add(T row)
    {
        for (var i = 0; i < _columns.Length; i++)
            _command.Parameters[i].Value = Kept(i, _columns[i].GetGetter().GetClrValue(row)) ?? DBNull.Value;
        _command.ExecuteNonQuery();
    }

    public void Dispose() => _command.Dispose();

    private object? Kept(int column, object? value)
    {
        if (_columns[column].IsPrimaryKey() && _columns[column].ValueGenerated != ValueGenerated.Never && value is 0 or 0L)
            return null;
        return value is not null && _keep[column] is { } keep ? keep(value) : value;
    }
}
