namespace Nippers.Formats.Csv;

/// <summary>A visit as a line of CSV; see docs/formats/csv.md. Money has two decimals.</summary>
public sealed record VisitCsvRow(
    string Unit,
    long Number,
    string On,
    string State,
    int NameHours,
    double? Hours,
    int Items,
    int Left,
    int PlannedMinutes,
    int? RealMinutes,
    double CallOut,
    double? Parts,
    double? Fluids,
    double? Labour,
    double? Quote,
    string ClosedBy,
    double? Laboratory,
    double Haulage,
    double? Downtime
);

/// <summary>A line of the filter log as CSV.</summary>
public sealed record FilterCsvRow(
    string Unit,
    string Position,
    string State,
    string Part,
    string Make,
    string On,
    double LifeHours,
    string OldHeld,
    string Words,
    string By,
    bool Voided
);

/// <summary>What is on a shelf, as CSV.</summary>
public sealed record StockCsvRow(string Part, string Name, string Make, string Site, int Pieces, double Price);

/// <summary>Waste, as CSV: a column for each unit, one of the volumes or the pieces filled in.</summary>
/// <param name="Litres">Litres; null for filters.</param>
/// <param name="Gallons">The same in gallons of the United States.</param>
/// <param name="Pieces">Filters.</param>
public sealed record WasteCsvRow(
    string On,
    string Stream,
    double? Litres,
    double? Gallons,
    double? Pieces,
    string Place,
    string Unit,
    string By
);
