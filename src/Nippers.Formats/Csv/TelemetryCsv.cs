using System.Globalization;
using CsvHelper;
using Nippers.Core.Numbers;
using Nippers.Core.Walk;
using Nippers.Formats.Feeds;

namespace Nippers.Formats.Csv;

/// <summary>A row of a telematics CSV.</summary>
/// <param name="Line">Line in the file, the header being 1.</param>
/// <param name="Unit">The machine, as it was written.</param>
/// <param name="Report">What it says; null when it can't be read.</param>
/// <param name="Fault">Code of what is wrong with it; null for nothing.</param>
/// <param name="Field">The column that is wrong.</param>
public sealed record TelemetryCsvRow(int Line, string Unit, FeedReport? Report, string? Fault, string Field);

/// <summary>Rows of a telematics CSV, or what is wrong with the whole file.</summary>
/// <param name="Rows">The rows.</param>
/// <param name="Fault">Code of what is wrong; null when the file can be read.</param>
/// <param name="Detail">The header found, or the line that can't be read.</param>
public sealed record TelemetryCsvFile(IReadOnlyList<TelemetryCsvRow> Rows, string? Fault, string? Detail);

/// <summary>What machines say of themselves as CSV, as a maker's pages give it out; see docs/formats/telematics.md.</summary>
public static class TelemetryCsv
{
    /// <summary>The columns; those behind the first three may be left out.</summary>
    public const string Header = "unit,at,hours,idle,fuel,def,codes";

    /// <summary>What stands in the column of codes when none is active. An empty field says nothing of codes.</summary>
    public const string NoCodes = "none";

    /// <summary>Most rows of a file.</summary>
    public const int MostRows = 5000;

    private const int Needed = 3;
    private static readonly string[] Columns = Header.Split(',');

    /// <summary>Reads a file's text.</summary>
    public static TelemetryCsvFile Read(string text)
    {
        using var csv = CsvFiles.Open(text);
        try
        {
            if (!csv.Read() || !csv.ReadHeader())
                return new([], "csvEmpty", null);
            var header = csv.HeaderRecord!.Select(x => x.ToLowerInvariant()).ToList();
            var at = Columns.ToDictionary(x => x, x => header.IndexOf(x), StringComparer.Ordinal);
            if (Columns.Take(Needed).Any(x => at[x] < 0))
                return new([], "csvHeader", string.Join(",", csv.HeaderRecord!.Take(8)));
            var rows = new List<TelemetryCsvRow>();
            while (csv.Read())
            {
                if (rows.Count == MostRows)
                    return new([], "tooManyRows", MostRows.ToString(CultureInfo.InvariantCulture));
                rows.Add(One(csv.Parser.RawRow, column => at[column] < 0 ? "" : csv.GetField(at[column]) ?? ""));
            }

            return rows.Count == 0 ? new([], "csvEmpty", null) : new(rows, null, null);
        }
        catch (BadDataException)
        {
            return new([], "csvBadData", csv.Parser.RawRow.ToString(CultureInfo.InvariantCulture));
        }
    }

    private static TelemetryCsvRow One(int line, Func<string, string> field)
    {
        var unit = field("unit");
        TelemetryCsvRow Wrong(string column, string fault) => new(line, unit, null, fault, column);
        if (
            field("at") is not { Length: > 10 } time
            || !DateTimeOffset.TryParse(time, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var at)
            || !Years.Hold(at)
        )
            return Wrong("at", "notAnInstant");
        var figures = new Dictionary<string, FeedFigure?>(StringComparer.Ordinal);
        foreach (var (column, most) in Figures)
        {
            if (field(column) is { Length: > 0 } said)
            {
                if (
                    !double.TryParse(said, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var value)
                    || !double.IsFinite(value)
                    || value > most
                )
                    return Wrong(column, "feedFigure");
                figures[column] = new(value, at.ToUniversalTime());
            }
        }

        if (!figures.TryGetValue("hours", out var hours))
            return Wrong("hours", "needed");
        IReadOnlyList<FaultCode>? codes = null;
        if (field("codes") is { Length: > 0 } written)
        {
            var words = written.Equals(NoCodes, StringComparison.OrdinalIgnoreCase)
                ? []
                : written.Split([' ', ';'], StringSplitOptions.RemoveEmptyEntries);
            var read = words.Select(FaultCode.Parse).ToList();
            if (words.Length > FeedMessages.MostCodes || read.Any(x => x is null))
                return Wrong("codes", "feedCodes");
            codes = [.. read.Select(x => x!.Value).Distinct()];
        }

        return new(
            line,
            unit,
            new(
                unit,
                "",
                hours,
                figures.GetValueOrDefault("idle"),
                figures.GetValueOrDefault("fuel"),
                figures.GetValueOrDefault("def"),
                codes
            ),
            null,
            ""
        );
    }

    private static readonly (string Column, double Most)[] Figures =
    [
        ("hours", FeedMessages.MostHours),
        ("idle", FeedMessages.MostHours),
        ("fuel", 100),
        ("def", 100),
    ];
}
