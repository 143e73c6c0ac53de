using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Globalization;
using System.Reflection;
using CsvHelper;
using CsvHelper.Configuration;
using Nippers.Data.Fleet;

namespace Nippers.App.Kinds;

/// <summary>A kind of machine that ships: a folder of tables beside this file.</summary>
/// <param name="Kind">Its code: the folder's name.</param>
/// <param name="Facts">What kind.csv says: <c>name</c>, <c>place</c> among the kinds, and what the demo asks.</param>
public sealed record KindFolder(MachineKind Kind, IReadOnlyDictionary<string, string> Facts)
{
    /// <summary>What it is called.</summary>
    public string Name => Facts["name"];

    /// <summary>Its place in lists of kinds.</summary>
    public int Place => int.Parse(Facts["place"], CultureInfo.InvariantCulture);
}

/// <summary>
/// Reads the folders of kinds. A new kind is a new folder: kind.csv, plan.csv, stations.csv, postures.csv, checks.csv, items.csv,
/// compartments.csv and places.csv.
/// </summary>
/// <remarks>
/// The folder named shared holds lines that several kinds use. A kind takes one by writing its code alone; any column that
/// the kind fills in as well replaces the shared one, and a single dash empties it. What is only in one kind stands whole in
/// its folder.
/// </remarks>
public static class KindFolders
{
    private const string Root = "Kinds/";
    private const string Shared = "shared";

    private static readonly CsvConfiguration Shape = new(CultureInfo.InvariantCulture)
    {
        Delimiter = ";",
        PrepareHeaderForMatch = x => x.Header.ToUpperInvariant(),
    };

    private sealed record Fact(string Key, string Text);

    private static readonly Lazy<ImmutableArray<KindFolder>> Found = new(() =>
        [
            .. typeof(KindFolders)
                .Assembly.GetManifestResourceNames()
                .Where(x => x.StartsWith(Root, StringComparison.Ordinal) && x.EndsWith("/kind.csv", StringComparison.Ordinal))
                .Select(x => x.Split('/')[1])
                .Select(x => new KindFolder(
                    MachineKind.Of(x),
                    Read<Fact>(typeof(KindFolders).Assembly, x, "kind").ToDictionary(f => f.Key, f => f.Text, StringComparer.Ordinal)
                ))
                .OrderBy(x => x.Place),
        ]
    );

    /// <summary>All kinds that ship, in their order.</summary>
    public static ImmutableArray<KindFolder> All => Found.Value;

    /// <summary>The folder of a kind; null for a kind that a planner made.</summary>
    public static KindFolder? Find(MachineKind kind) => All.FirstOrDefault(x => x.Kind == kind);

    /// <summary>A table of a kind; empty when its folder has none.</summary>
    public static IReadOnlyList<T> Rows<T>(KindFolder kind, string table) => Read<T>(typeof(KindFolders).Assembly, kind.Kind.Code, table);

    /// <summary>The same out of another assembly that ships tables under the same names.</summary>
    public static IReadOnlyList<T> Rows<T>(Assembly assembly, KindFolder kind, string table) => Read<T>(assembly, kind.Kind.Code, table);

    /// <summary>A table that all kinds share.</summary>
    public static IReadOnlyList<T> SharedRows<T>(string table) => Read<T>(typeof(KindFolders).Assembly, Shared, table);

    // The tables are read over and over, by every plan drawn and every fleet made, and never change.
    private static readonly ConcurrentDictionary<(Assembly, string Folder, string Table, Type Row), object> Kept = new();

    private static IReadOnlyList<T> Read<T>(Assembly assembly, string folder, string table) =>
        (IReadOnlyList<T>)Kept.GetOrAdd((assembly, folder, table, typeof(T)), _ => Parse<T>(assembly, folder, table));

    private static List<T> Parse<T>(Assembly assembly, string folder, string table)
    {
        if (Lines(assembly, folder, table) is not { } own)
            return [];
        var shared = folder == Shared ? null : Lines(assembly, Shared, table);
        var byCode = shared?.Rows.ToDictionary(x => x[0], StringComparer.Ordinal);
        using var merged = new StringWriter();
        using (var csv = new CsvWriter(merged, Shape, leaveOpen: true))
        {
            Write(csv, own.Header);
            foreach (var row in own.Rows)
                Write(csv, Merge(row, byCode?.GetValueOrDefault(row[0]), own.Header.Length, $"{folder}/{table}.csv"));
        }

        using var reader = new CsvReader(new StringReader(merged.ToString()), Shape);
        return [.. reader.GetRecords<T>()];
    }

    internal static IEnumerable<string> Merge(string[] row, string[]? shared, int columns, string place)
    {
        if (shared is null && row.Length == 1 && columns > 1)
            throw new InvalidDataException($"{place}: {row[0]} is not among the shared lines, and nothing else is told of it.");
        for (var i = 0; i < columns; i++)
        {
            var own = i < row.Length ? row[i] : "";
            yield return own == "-" ? ""
            : own.Length > 0 || shared is null || i >= shared.Length ? own
            : shared[i];
        }
    }

    private static (string[] Header, List<string[]> Rows)? Lines(Assembly assembly, string folder, string table)
    {
        using var stream = assembly.GetManifestResourceStream($"{Root}{folder}/{table}.csv");
        if (stream is null)
            return null;
        using var parser = new CsvParser(new StreamReader(stream), Shape);
        var rows = new List<string[]>();
        while (parser.Read())
            rows.Add(parser.Record!);
        return (rows[0], rows[1..]);
    }

    private static void Write(CsvWriter csv, IEnumerable<string> fields)
    {
        foreach (var field in fields)
            csv.WriteField(field);
        csv.NextRecord();
    }
}
