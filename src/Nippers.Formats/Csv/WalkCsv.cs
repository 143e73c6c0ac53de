using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;

namespace Nippers.Formats.Csv;

/// <summary>A finished walk as a line of CSV; see docs/formats/csv.md.</summary>
public sealed record WalkCsvRow(
    string Unit,
    string On,
    string Started,
    string Finished,
    string FinishedBy,
    double Hours,
    string Round,
    int Checks,
    int Answered,
    int Faults,
    int LeftOut,
    bool Late,
    string Verdict
);

/// <summary>A defect as a line of CSV; see docs/formats/csv.md.</summary>
public sealed record DefectCsvRow(
    string Unit,
    long Number,
    string On,
    string Place,
    string Words,
    string Grade,
    string State,
    string By,
    double LifeHours,
    double? LimitLifeHours,
    string LimitOn,
    long? RepeatOf,
    string RepairedBy,
    string Repaired,
    string Repair,
    int? Minutes,
    string Parts,
    string ReturnedBy,
    string Returned
);

/// <summary>Writes records as CSV: RFC 4180, a header of their names in camel case.</summary>
public static class RecordCsv
{
    /// <summary>Writes records. Texts that a spreadsheet would take for a formula are defused.</summary>
    public static async Task Write<T>(TextWriter to, IAsyncEnumerable<T> rows, CancellationToken ct)
    {
        var columns = typeof(T).GetConstructors()[0].GetParameters().Select(x => typeof(T).GetProperty(x.Name!)!).ToArray();
        await using var csv = new CsvWriter(
            to,
            new CsvConfiguration(CultureInfo.InvariantCulture) { InjectionOptions = InjectionOptions.Escape, NewLine = "\r\n" },
            leaveOpen: true
        );
        foreach (var column in columns)
            csv.WriteField(char.ToLowerInvariant(column.Name[0]) + column.Name[1..]);
        await csv.NextRecordAsync();
        await foreach (var row in rows.WithCancellation(ct))
        {
            foreach (var column in columns)
                csv.WriteField(Text(column.GetValue(row)));
            await csv.NextRecordAsync();
        }
    }

    private static string Text(object? value) =>
        value switch
        {
            null => "",
            bool flag => flag ? "true" : "false",
            IFormattable number => number.ToString(null, CultureInfo.InvariantCulture),
            _ => value.ToString() ?? "",
        };
}
