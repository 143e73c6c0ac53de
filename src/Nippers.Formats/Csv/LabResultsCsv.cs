using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;
using Nippers.Core.Oil;

namespace Nippers.Formats.Csv;

/// <summary>A sample as a line of <see cref="LabResultsCsv"/>.</summary>
public sealed record LabResultsRow(
    string Bottle,
    string Unit,
    string Compartment,
    string SampledOn,
    double MachineHours,
    double? OilHours,
    double AddedLitres,
    double AddedGallons,
    string Fluid,
    string State,
    string Advised,
    string Verdict,
    IReadOnlyDictionary<string, string> Figures,
    string Iso
);

/// <summary>Samples with their figures as CSV; see docs/formats/csv.md. Read back by the import of a laboratory's file.</summary>
public static class LabResultsCsv
{
    private static readonly string[] Fixed =
    [
        "bottle",
        "unit",
        "compartment",
        "sampledOn",
        "machineHours",
        "oilHours",
        "addedLitres",
        "addedGallons",
        "fluid",
        "state",
        "advised",
        "verdict",
    ];

    private static readonly string[] Measured = [.. Measurands.Reported.Select(x => x.Code()), Measurand.Glycol.Code()];

    /// <summary>Writes the rows. Texts that a spreadsheet would take for a formula are defused.</summary>
    public static async Task Write(TextWriter to, IAsyncEnumerable<LabResultsRow> rows, CancellationToken ct)
    {
        await using var csv = new CsvWriter(
            to,
            new CsvConfiguration(CultureInfo.InvariantCulture) { InjectionOptions = InjectionOptions.Escape, NewLine = "\r\n" },
            leaveOpen: true
        );
        foreach (var column in Fixed.Concat(Measured).Append("iso"))
            csv.WriteField(column);
        await csv.NextRecordAsync();
        await foreach (var row in rows.WithCancellation(ct))
        {
            foreach (
                var text in new[]
                {
                    row.Bottle,
                    row.Unit,
                    row.Compartment,
                    row.SampledOn,
                    Number(row.MachineHours),
                    Number(row.OilHours),
                    Number(row.AddedLitres),
                    Number(row.AddedGallons),
                    row.Fluid,
                    row.State,
                    row.Advised,
                    row.Verdict,
                }
            )
                csv.WriteField(text);
            foreach (var code in Measured)
                csv.WriteField(row.Figures.GetValueOrDefault(code, ""));
            csv.WriteField(row.Iso);
            await csv.NextRecordAsync();
        }
    }

    private static string Number(double? number) => number?.ToString(CultureInfo.InvariantCulture) ?? "";
}
