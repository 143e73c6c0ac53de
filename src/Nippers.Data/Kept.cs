using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using Microsoft.EntityFrameworkCore.Storage.ValueConversion;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;

namespace Nippers.Data;

/// <summary>An instant is kept as milliseconds since 1970-01-01 UTC: it sorts and compares in SQL as it is.</summary>
internal sealed class InstantConverter()
    : ValueConverter<DateTimeOffset, long>(at => at.ToUnixTimeMilliseconds(), ms => DateTimeOffset.FromUnixTimeMilliseconds(ms));

/// <summary>Hours are kept as a whole number of tenths.</summary>
internal sealed class HoursConverter() : ValueConverter<MeterHours, int>(hours => hours.Tenths, tenths => new(tenths));

/// <summary>Money is kept as whole hundredths.</summary>
internal sealed class MoneyConverter() : ValueConverter<Money, long>(money => money.Cents, cents => new(cents));

/// <summary>A volume is kept in litres.</summary>
internal sealed class LitresConverter() : ValueConverter<Litres, double>(litres => litres.Value, value => new(value));

/// <summary>Names columns by the unit in which they are kept, as who reads the file itself sees no types.</summary>
internal static class KeptNames
{
    private const string At = "At";
    private const string Hours = "Hours";

    /// <summary><c>EnteredAt</c> becomes <c>EnteredMs</c>, <c>LifeHours</c> becomes <c>LifeTenths</c>.</summary>
    public static void Apply(ModelBuilder builder)
    {
        foreach (var property in builder.Model.GetEntityTypes().SelectMany(x => x.GetDeclaredProperties()))
        {
            if (
                property.DeclaringType.ClrType.Assembly != typeof(NippersDb).Assembly
                || property.PropertyInfo?.DeclaringType is not { } row
            )
                continue;
            if (row.Assembly == typeof(NippersDb).Assembly && Name(property) is { } name)
                property.SetColumnName(name);
        }
    }

    private static string? Name(IMutableProperty property)
    {
        var type = Nullable.GetUnderlyingType(property.ClrType) ?? property.ClrType;
        if (type == typeof(DateTimeOffset))
            return (property.Name.Length > At.Length ? Bare(property.Name, At) : property.Name) + "Ms";
        if (type == typeof(Money))
            return property.Name + "Cents";
        return type == typeof(MeterHours) ? Bare(property.Name, Hours) + "Tenths" : null;
    }

    private static string Bare(string name, string end) => name.EndsWith(end, StringComparison.Ordinal) ? name[..^end.Length] : name;
}
