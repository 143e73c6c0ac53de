using System.Globalization;

namespace Nippers.App;

/// <summary>What somebody typed and ticked in a form, by the name of the field. Nothing of it is read yet.</summary>
public sealed class TypedFields
{
    private readonly IReadOnlyDictionary<string, IReadOnlyList<string?>> _values;

    public TypedFields(IReadOnlyDictionary<string, IReadOnlyList<string?>> values) => _values = values;

    /// <summary>An empty form.</summary>
    public static TypedFields None { get; } = new(new Dictionary<string, IReadOnlyList<string?>>());

    /// <summary>What stands in a field; null when it is not there or nothing stands in it.</summary>
    public string? this[string name] => All(name) is [{ Length: > 0 } text, ..] ? text : null;

    /// <summary>What stands in each of several fields of one name, in their order.</summary>
    public IReadOnlyList<string?> All(string name) => _values.GetValueOrDefault(name) ?? [];

    /// <summary>All of it, in the order of the names.</summary>
    internal IEnumerable<KeyValuePair<string, IReadOnlyList<string?>>> ByName => _values.OrderBy(x => x.Key, StringComparer.Ordinal);

    /// <summary>Whether nothing is typed or ticked anywhere.</summary>
    public bool IsEmpty => _values.Values.All(x => x.All(string.IsNullOrWhiteSpace));

    /// <summary>Whether all that is typed here stands in another form too.</summary>
    public bool StandsIn(TypedFields other) =>
        _values.All(x => x.Value.All(string.IsNullOrWhiteSpace) || x.Value.SequenceEqual(other.All(x.Key)));

    /// <summary>The fields whose names begin with a prefix, without it.</summary>
    public TypedFields Within(string prefix) =>
        new(
            _values
                .Where(x => x.Key.StartsWith(prefix, StringComparison.Ordinal))
                .ToDictionary(x => x.Key[prefix.Length..], x => x.Value, StringComparer.Ordinal)
        );

    /// <summary>Whether a box is ticked.</summary>
    public bool Has(string name) => this[name] == "true";

    /// <summary>Whether a choice or figure stands in a field.</summary>
    public bool Is(string name, object? value) =>
        value is not null && string.Equals(this[name], Text(value), StringComparison.OrdinalIgnoreCase);

    /// <summary>The choice made; null for none, or for one that there is not.</summary>
    public T? Pick<T>(string name)
        where T : struct, Enum => Enum.TryParse<T>(this[name], ignoreCase: true, out var value) && Enum.IsDefined(value) ? value : null;

    /// <summary>The choices made in a field of several; those that there are not left out.</summary>
    public IReadOnlyList<T> Picks<T>(string name)
        where T : struct, Enum =>
        [
            .. All(name)
                .Select(x => Enum.TryParse<T>(x, ignoreCase: true, out var value) && Enum.IsDefined(value) ? value : (T?)null)
                .OfType<T>(),
        ];

    /// <summary>The same form with a field filled in; null and false leave it empty.</summary>
    public TypedFields With(string name, object? value) => WithAll(name, value is null or false ? [] : [Text(value)]);

    /// <summary>The same form with several fields of one name.</summary>
    public TypedFields WithAll(string name, IEnumerable<string?> values)
    {
        var list = values.ToList();
        var all = new Dictionary<string, IReadOnlyList<string?>>(_values, StringComparer.Ordinal);
        if (list.Count > 0)
            all[name] = list;
        else
            all.Remove(name);
        return new(all);
    }

    private static string Text(object value) =>
        value switch
        {
            true => "true",
            double number => number.ToString("0.###", CultureInfo.InvariantCulture),
            IFormattable figure => figure.ToString(null, CultureInfo.InvariantCulture),
            _ => value.ToString() ?? "",
        };
}
