using System.Globalization;
using System.Text.RegularExpressions;
using CsvHelper;
using CsvHelper.Configuration;
using Nippers.Core.Oil;

namespace Nippers.Formats.Lab;

/// <summary>How one column of a laboratory's file is read.</summary>
/// <param name="Header">Its heading.</param>
/// <param name="Field">One of <see cref="LabCsv.Fields"/> or the short name of a measurand; empty: left out.</param>
/// <param name="Unit">One of <see cref="LabCsv.UnitsOf"/>; empty: that of the measurand.</param>
public sealed record LabColumn(string Header, string Field, string Unit);

/// <summary>A row of a laboratory's file.</summary>
/// <param name="Line">Line in the file, the header being 1.</param>
/// <param name="Result">What it says.</param>
/// <param name="Fault">Code of what is wrong; null when it can be read.</param>
/// <param name="Detail">The heading of the column that is wrong.</param>
public sealed record LabCsvRow(int Line, LabResult Result, string? Fault, string Detail);

/// <summary>A laboratory's file, cut into cells.</summary>
/// <param name="Header">Its headings.</param>
/// <param name="Rows">Line and cells.</param>
/// <param name="Fault">Code of what is wrong with the whole file; null when it can be read.</param>
/// <param name="Detail">Where.</param>
/// <param name="DecimalCommas">Its numbers are written with decimal commas.</param>
public sealed record LabCsvFile(
    IReadOnlyList<string> Header,
    IReadOnlyList<(int Line, string[] Cells)> Rows,
    string? Fault,
    string Detail = "",
    bool DecimalCommas = false
);

/// <summary>Files of laboratories: any headings, mapped once per laboratory.</summary>
public static partial class LabCsv
{
    private const double PpmInPercent = 10_000;
    private const double MlInHundred = 100;

    /// <summary>What a column can be besides a measurand.</summary>
    public static IReadOnlyList<string> Fields { get; } =
    ["bottle", "unit", "compartment", "machineHours", "oilHours", "labNumber", "comment", "glycol", "iso", "p4", "p6", "p14"];

    private static readonly string[] Counts = ["p4", "p6", "p14"];

    private static readonly string[] Worded = ["bottle", "unit", "compartment", "labNumber", "comment", "iso"];

    /// <summary>Headings by what they mean, in letters and digits alone.</summary>
    private static readonly Dictionary<string, string> Names = new[]
    {
        "Fe: iron",
        "Cu: copper",
        "Pb: lead",
        "Al: aluminium aluminum",
        "Cr: chromium chrome",
        "Sn: tin",
        "Ni: nickel",
        "Si: silicon",
        "Na: sodium",
        "K: potassium",
        "Ca: calcium",
        "Zn: zinc",
        "P: phosphorus",
        "Mg: magnesium",
        "B: boron",
        "Mo: molybdenum",
        "Ba: barium",
        "water: water",
        "fuel: fuel fueldilution",
        "soot: soot sootcontent sootloading",
        "oxidation: oxidation",
        "nitration: nitration",
        "pq: pq pqindex ferrousindex",
        "tan: tan an acidnumber totalacidnumber",
        "tbn: tbn bn basenumber totalbasenumber",
        "v40: viscosity40 visc40 v40 viscosityat40c",
        "v100: viscosity100 visc100 v100 viscosityat100c",
        "bottle: bottle bottleno bottlenumber sample sampleid",
        "unit: unit unitno machine",
        "compartment: compartment component",
        "machineHours: machinehours hours",
        "oilHours: oilhours hoursonoil",
        "labNumber: labno labnumber",
        "comment: comment remarks",
        "glycol: glycol",
        "iso: iso iso4406 isocode",
        "p4: 4um p4",
        "p6: 6um p6",
        "p14: 14um p14",
    }
        .Select(x => x.Split(": "))
        .SelectMany(x => x[1].Split(' '), (x, name) => (Field: x[0], Name: name))
        .ToDictionary(x => x.Name, x => x.Field, StringComparer.Ordinal);

    /// <summary>Units that a field may come in, the first being its own.</summary>
    public static IReadOnlyList<string> UnitsOf(string field)
    {
        if (Counts.Contains(field))
            return ["per ml", "per 100 ml"];
        if (Measurands.Parse(field) is not { } measurand || !Measurands.Reported.Contains(measurand))
            return [];
        return measurand switch
        {
            Measurand.Water or Measurand.Fuel or Measurand.Soot => ["%", "ppm", "mg/kg"],
            Measurand.V40 or Measurand.V100 => ["cSt", "mm2/s"],
            Measurand.Oxidation or Measurand.Nitration => ["A/cm"],
            Measurand.Tan or Measurand.Tbn => ["mg KOH/g"],
            Measurand.Pq => [],
            _ => ["ppm", "mg/kg", "%"],
        };
    }

    /// <summary>Cuts a file into cells. Commas, semicolons and tabs are fine, and a byte order mark.</summary>
    public static LabCsvFile Cut(string text)
    {
        using var csv = new CsvReader(
            new StringReader(text.TrimStart('\uFEFF')),
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                TrimOptions = TrimOptions.Trim,
                DetectDelimiter = true,
                DetectDelimiterValues = [",", ";", "\t"],
                DetectColumnCountChanges = false,
                MissingFieldFound = null,
                BadDataFound = args => throw new BadDataException(args.Field, args.RawRecord, args.Context),
            }
        );
        try
        {
            if (!csv.Read() || !csv.ReadHeader())
                return new([], [], "csvEmpty");
            var header = csv.HeaderRecord!.ToList();
            var rows = new List<(int, string[])>();
            while (csv.Read())
                rows.Add((csv.Parser.RawRow, [.. Enumerable.Range(0, header.Count).Select(x => csv.GetField(x) ?? "")]));
            return rows.Count == 0
                ? new(header, [], "csvEmpty")
                : new(header, rows, null, DecimalCommas: csv.Parser.Delimiter != "," && WritesDecimalCommas(rows));
        }
        catch (BadDataException)
        {
            return new([], [], "csvBadData", csv.Parser.RawRow.ToString(CultureInfo.InvariantCulture));
        }
    }

    /// <summary>
    /// Whether numbers are written with decimal commas: no number with a point, and at least one whose comma can't stand for thousands.
    /// A file with 1,234 alone could mean either and is left to be asked about.
    /// </summary>
    private static bool WritesDecimalCommas(List<(int Line, string[] Cells)> rows)
    {
        var cells = rows.SelectMany(x => x.Cells).ToList();
        return !cells.Exists(x => WithPoint().IsMatch(x)) && cells.Exists(x => WithCertainComma().IsMatch(x));
    }

    /// <summary>Guesses what a heading means: <c>Iron (ppm)</c>, <c>Visc 40C cSt</c>. Nothing is guessed twice.</summary>
    public static IReadOnlyList<LabColumn> Guess(IReadOnlyList<string> header)
    {
        var taken = new HashSet<string>(StringComparer.Ordinal);
        return
        [
            .. header.Select(x =>
            {
                var (field, unit) = GuessOne(x);
                return field.Length > 0 && taken.Add(field) ? new LabColumn(x, field, unit) : new LabColumn(x, "", "");
            }),
        ];
    }

    private static (string Field, string Unit) GuessOne(string heading)
    {
        var lower = heading
            .Trim()
            .ToLowerInvariant()
            .Replace("mm²/s", "mm2/s", StringComparison.Ordinal)
            .Replace("mgkoh/g", "mg koh/g", StringComparison.Ordinal)
            .Replace('µ', 'u')
            .Replace('μ', 'u');
        string[] units = ["mg/kg", "mm2/s", "mg koh/g", "per 100 ml", "per ml", "ppm", "cst", "a/cm", "%"];
        var unit = Array.Find(units, x => lower.Contains(x, StringComparison.Ordinal)) ?? "";
        var bare = NotMeant().Replace(unit.Length > 0 ? lower.Replace(unit, "", StringComparison.Ordinal) : lower, "");
        var name = NotLetters().Replace(bare, "");
        var field = Names.GetValueOrDefault(name)
            ?? Measurands.Reported.Select(x => x.Code()).FirstOrDefault(x => string.Equals(x, name, StringComparison.OrdinalIgnoreCase))
            ?? (name.EndsWith('c') ? Names.GetValueOrDefault(name[..^1]) : null)
            ?? "";
        var own = UnitsOf(field);
        return (
            field,
            own.FirstOrDefault(x => string.Equals(x, unit, StringComparison.OrdinalIgnoreCase)) ?? (own.Count > 0 ? own[0] : "")
        );
    }

    /// <summary>Reads the rows by a mapping.</summary>
    /// <param name="file">The file, without fault.</param>
    /// <param name="columns">How its columns are read; headings that it does not have are ignored.</param>
    public static IReadOnlyList<LabCsvRow> Read(LabCsvFile file, IReadOnlyList<LabColumn> columns)
    {
        var mapped = columns
            .Where(x => x.Field.Length > 0)
            .Select(x => (Column: x, At: file.Header.ToList().IndexOf(x.Header)))
            .Where(x => x.At >= 0)
            .ToList();
        string Cell(LabColumn column, string cell) => file.DecimalCommas && !Worded.Contains(column.Field) ? cell.Replace(',', '.') : cell;
        return
        [
            .. file.Rows.Select(row => ReadRow(row.Line, mapped.Select(x => (x.Column, Cell: Cell(x.Column, row.Cells[x.At]))).ToList())),
        ];
    }

    private static LabCsvRow ReadRow(int line, List<(LabColumn Column, string Cell)> cells)
    {
        var figures = new Dictionary<string, string>(StringComparer.Ordinal);
        var counts = new double?[Counts.Length];
        string Text(string field) => cells.Find(x => x.Column.Field == field).Cell?.Trim() ?? "";
        var result = new LabResult(Text("bottle"), figures)
        {
            Unit = Text("unit"),
            Compartment = Text("compartment"),
            LabNumber = Text("labNumber"),
            Comment = Text("comment"),
        };
        foreach (var (column, cell) in cells)
        {
            if (column.Field is "machineHours" or "oilHours")
            {
                if (cell.Length == 0)
                    continue;
                if (!double.TryParse(cell, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var hours))
                    return new(line, result, "notANumber", column.Header);
                result = column.Field == "machineHours" ? result with { MachineHours = hours } : result with { OilHours = hours };
                continue;
            }

            if (column.Field == "iso")
            {
                if (cell.Length == 0)
                    continue;
                if (Iso4406Code.Parse(cell) is not { } code)
                    return new(line, result, "labIso", column.Header);
                result = result with { Iso = code.ToString() };
                continue;
            }

            var count = Array.IndexOf(Counts, column.Field);
            if (count < 0 && Measurands.Parse(column.Field) is null)
                continue;
            var (figure, fault) = LabFigure.Read(cell, count < 0 ? Measurands.Parse(column.Field)!.Value : Measurand.Fe, Factor(column));
            if (fault is not null)
                return new(line, result, fault, column.Header);
            if (figure is null)
                continue;
            if (count >= 0)
                counts[count] = figure.Below ? 0 : figure.Value;
            else
                figures[column.Field] = figure.ToString();
        }

        if (result.Iso.Length == 0 && counts.All(x => x is not null))
            result = result with { Iso = Iso4406Code.OfCounts(counts[0]!.Value, counts[1]!.Value, counts[2]!.Value).ToString() };
        return new(line, result, result.Fault, "");
    }

    private static double Factor(LabColumn column)
    {
        if (Counts.Contains(column.Field))
            return column.Unit == "per 100 ml" ? 1 / MlInHundred : 1;
        var inPercent = UnitsOf(column.Field) is { Count: > 0 } units && units[0] == "%";
        return (inPercent, column.Unit) switch
        {
            (true, "ppm" or "mg/kg") => 1 / PpmInPercent,
            (false, "%") => PpmInPercent,
            _ => 1,
        };
    }

    [GeneratedRegex(@"^<?\s*-?[0-9]+\.[0-9]+$")]
    private static partial Regex WithPoint();

    [GeneratedRegex(@"^<?\s*-?(0,[0-9]+|[0-9]+,([0-9]{1,2}|[0-9]{4,}))$")]
    private static partial Regex WithCertainComma();

    // How a share was reckoned, and by which public method: no other measurand.
    [GeneratedRegex(@"\b(m/m|w/w|v/v|wt|weight|mass|vol|by)\b|\b(astm\s*)?d\s*[0-9]{3,5}\b|\bastm\b")]
    private static partial Regex NotMeant();

    [GeneratedRegex("[^a-z0-9]")]
    private static partial Regex NotLetters();
}
