using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;

namespace Nippers.App;

/// <summary>Reads the tables that ship inside, semicolons between their columns.</summary>
internal static class Tables
{
    public static List<T> Read<T>(string resource)
    {
        using var stream = typeof(Tables).Assembly.GetManifestResourceStream(resource + ".csv")!;
        using var csv = new CsvReader(
            new StreamReader(stream),
            new CsvConfiguration(CultureInfo.InvariantCulture) { Delimiter = ";", PrepareHeaderForMatch = x => x.Header.ToUpperInvariant() }
        );
        return [.. csv.GetRecords<T>()];
    }
}
