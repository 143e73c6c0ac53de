using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;
using Nippers.Core.Hours;

namespace Nippers.Formats.Csv;

/// <summary>A row of a readings CSV as it stood, unjudged.</summary>
/// <param name="Line">Line in the file, the header being 1.</param>
/// <param name="Hours">What the meter showed; kilometres in a file of odometers.</param>
public sealed record ReadingsCsvRow(int Line, string Unit, string At, string Hours);

/// <summary>Rows of a readings CSV, or what is wrong with the whole file.</summary>
/// <param name="Rows">The rows.</param>
/// <param name="Fault">Code of what is wrong, with its words at the screens; null when the file can be read.</param>
/// <param name="Detail">The header found, or the line that can't be read.</param>
/// <param name="Odometers">It holds kilometres, not hours.</param>
public sealed record ReadingsCsvFile(IReadOnlyList<ReadingsCsvRow> Rows, string? Fault, string? Detail, bool Odometers = false);

/// <summary>What an odometer showed, as a line of CSV.</summary>
public sealed record OdometerCsvRow(string Unit, string At, double Km);

/// <summary>Readings as CSV: RFC 4180, header <c>unit,at,hours</c>, or <c>unit,at,km</c> for odometers; see docs/formats/csv.md.</summary>
public static class ReadingsCsv
{
    /// <summary>The header.</summary>
    public const string Header = "unit,at,hours";

    /// <summary>The header of a file of odometers.</summary>
    public const string OdometerHeader = "unit,at,km";

    private const string Kilometres = "km";
    private static readonly string[] Columns = Header.Split(',');

    /// <summary>Reads a file's text. A byte order mark, any line ends and quotes are fine; columns may stand in any order.</summary>
    public static ReadingsCsvFile Read(string text)
    {
        using var csv = CsvFiles.Open(text);
        try
        {
            if (!csv.Read() || !csv.ReadHeader())
                return new([], "csvEmpty", null);
            var header = csv.HeaderRecord!.Select(x => x.ToLowerInvariant()).ToList();
            // Hours go first: a file that has both is one of meters, as it was before there were odometers.
            var odometers = header.Contains(Kilometres) && !header.Contains(Columns[^1]);
            var at = (odometers ? [.. Columns[..^1], Kilometres] : Columns).Select(column => header.IndexOf(column)).ToArray();
            if (at.Any(i => i < 0))
                return new([], "csvHeader", string.Join(",", csv.HeaderRecord!.Take(8)));

            var rows = new List<ReadingsCsvRow>();
            while (csv.Read())
                rows.Add(new(csv.Parser.RawRow, csv.GetField(at[0]) ?? "", csv.GetField(at[1]) ?? "", csv.GetField(at[2]) ?? ""));
            return rows.Count == 0 ? new([], "csvEmpty", null) : new(rows, null, null, odometers);
        }
        catch (BadDataException)
        {
            return new([], "csvBadData", csv.Parser.RawRow.ToString(CultureInfo.InvariantCulture));
        }
    }

    /// <summary>Writes readings. Texts that a spreadsheet would take for a formula are defused.</summary>
    public static async Task Write(TextWriter to, IAsyncEnumerable<(string Unit, DateTimeOffset At, MeterHours Hours)> readings)
    {
        await using var csv = new CsvWriter(
            to,
            new CsvConfiguration(CultureInfo.InvariantCulture) { InjectionOptions = InjectionOptions.Escape, NewLine = "\r\n" },
            leaveOpen: true
        );
        foreach (var column in Columns)
            csv.WriteField(column);
        await csv.NextRecordAsync();
        await foreach (var (unit, at, hours) in readings)
        {
            csv.WriteField(unit);
            csv.WriteField(Iso.Instant(at));
            csv.WriteField(hours.ToString());
            await csv.NextRecordAsync();
        }
    }
}
