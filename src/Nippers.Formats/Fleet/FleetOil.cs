using System.Text.Json;

namespace Nippers.Formats.Fleet;

/// <summary>A laboratory. Its token stays where it is.</summary>
public sealed record FleetLab(string Name, bool Usual, long Cursor, string? Url = null, JsonElement? Columns = null) : FleetRecord;

/// <summary>A fluid's grade and its figures when new.</summary>
public sealed record FleetNewOil(
    string Fluid,
    string Source,
    string By,
    string At,
    string? Grade = null,
    string? Family = null,
    double? Viscosity = null,
    double? Tbn = null,
    double? Tan = null,
    double? Oxidation = null,
    JsonElement? Additives = null
) : FleetRecord;

/// <summary>A limit that a planner set: for a kind of place, or for a compartment of a machine.</summary>
public sealed record FleetOilLimit(
    string Kind,
    string Measurand,
    double? Watch = null,
    double? Act = null,
    string? Unit = null,
    string? Compartment = null,
    string? Target = null
) : FleetRecord;

/// <summary>Samples that went to a laboratory together. Its number is its place in the file.</summary>
public sealed record FleetConsignment(string Lab, string Made, string By, string State, int Attempts, string? Handed = null) : FleetRecord;

/// <summary>
/// A sample with what was reported and signed. Its number is its place in the file; visit, consignment and defect are numbers
/// too.
/// </summary>
public sealed record FleetSample(
    string Unit,
    string Compartment,
    string Item,
    string Bottle,
    string On,
    string Taken,
    double LifeHours,
    double AddedLitres,
    string By,
    string Batch,
    string Kind,
    string State,
    double? OilHours = null,
    string? Fluid = null,
    string? Grade = null,
    string? Family = null,
    string? Method = null,
    string? Engine = null,
    bool? DrawnWrong = null,
    bool? Late = null,
    string? Note = null,
    long? Visit = null,
    string? Lab = null,
    long? Consignment = null,
    string? Sent = null,
    string? Reported = null,
    string? Advised = null,
    string? Verdict = null,
    string? SignedBy = null,
    string? SignedAt = null,
    string? SignedWords = null,
    long? Defect = null,
    IReadOnlyList<FleetReport>? Reports = null,
    JsonElement? Case = null,
    string? VoidedAt = null,
    string? VoidedBy = null,
    string? VoidReason = null
) : FleetRecord;

/// <summary>What a laboratory reported of a sample.</summary>
public sealed record FleetReport(
    string Received,
    string Source,
    JsonElement Figures,
    string? By = null,
    string? Lab = null,
    string? LabNumber = null,
    string? Iso = null,
    string? Comment = null,
    string? Replaced = null
);

/// <summary>A code that was given out for a bottle.</summary>
public sealed record FleetBottle(string Code, string Unit, string Compartment, string Item, string Prepared, string By, long? Sample = null)
    : FleetRecord;

/// <summary>An item that is due before its interval is over.</summary>
public sealed record FleetCall(
    string Unit,
    string Item,
    string Reason,
    string At,
    string On,
    double? DueHours = null,
    long? Sample = null,
    long? AfterDefect = null,
    string? VoidedAt = null
) : FleetRecord;

/// <summary>A change of the interval between oil changes.</summary>
public sealed record FleetDrainChange(
    string Unit,
    string Compartment,
    string On,
    double LifeHours,
    double FromHours,
    double ToHours,
    string Reason,
    string By,
    string At,
    long? Sample = null
) : FleetRecord;

/// <summary>A test of a coolant.</summary>
public sealed record FleetCoolantTest(
    string Unit,
    string On,
    double LifeHours,
    bool Laboratory,
    double WantedPercent,
    double RefillPercent,
    string By,
    string At,
    double? SharePercent = null,
    double? FreezeC = null,
    double? Ph = null,
    string? Inhibitor = null,
    double? ChloridePpm = null,
    double? SulphatePpm = null,
    string? Note = null,
    string? VoidedAt = null,
    string? VoidedBy = null,
    string? Batch = null
) : FleetRecord;

/// <summary>Results that no bottle belongs to.</summary>
public sealed record FleetLooseResult(
    string Bottle,
    string Why,
    string Received,
    JsonElement Result,
    string Digest,
    string? Lab = null,
    string? Settled = null,
    string? SettledBy = null,
    long? Sample = null
) : FleetRecord;
