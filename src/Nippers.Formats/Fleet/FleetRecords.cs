using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Nippers.Formats.Fleet;

/// <summary>One record of a fleet file. Hours are what JSON numbers give; the importer checks them.</summary>
public abstract record FleetRecord;

/// <summary>A site.</summary>
public sealed record FleetSite(string Name, string TimeZone) : FleetRecord;

/// <summary>A program with its compartments and items.</summary>
public sealed record FleetProgram(
    string Code, string Name, string Kind, string School, int CreditPercent, int WindowPercent, double LeastWindowHours, int ComingDays, bool Starter,
    IReadOnlyList<FleetCompartment> Compartments, IReadOnlyList<FleetItem> Items) : FleetRecord;

/// <summary>A compartment of a program.</summary>
public sealed record FleetCompartment(string Code, string Name, string Kind, string? Needs = null);

/// <summary>An item of a program.</summary>
public sealed record FleetItem(
    string Code, string Name, string Compartment, bool Once, double DutyFactor, bool Strict, int Points, bool Qualified, bool Off,
    double? EveryHours = null, int? EveryMonths = null, double? FirstAtHours = null, string? School = null, string? Needs = null, string? Caution = null);

/// <summary>A machine with what is its own.</summary>
public sealed record FleetMachine(
    string Unit, string Kind, string Make, string Model, string Site, string Program, string History, string CommissionedOn,
    double CommissionedHours, string Duty, double PlannedHoursPerDay, bool Retired,
    IReadOnlyList<FleetMachineCompartment> Compartments, IReadOnlyList<FleetParked> Parked, IReadOnlyList<FleetMeterChange> MeterChanges,
    string? Serial = null, string? Note = null, string? Options = null) : FleetRecord;

/// <summary>What a machine's own manual says of a compartment.</summary>
public sealed record FleetMachineCompartment(string Code, double? CapacityLitres = null, string? Fluid = null);

/// <summary>A parked span.</summary>
public sealed record FleetParked(string From, string By, string? To = null, string? Reason = null);

/// <summary>A replaced meter.</summary>
public sealed record FleetMeterChange(
    string At, double OldFinal, double NewStart, string By, string Entered, string? Note = null, string? VoidedAt = null, string? VoidedBy = null, string? VoidReason = null);

/// <summary>A reading: what the meter showed, and life hours.</summary>
public sealed record FleetReading(
    string Unit, string At, double Hours, double LifeHours, string State, string Source, string By, string Entered, string? DecidedBy = null, string? Reason = null) : FleetRecord;

/// <summary>Work done, or a baseline.</summary>
public sealed record FleetCompletion(
    string Unit, string Item, string Kind, string On, double Hours, double LifeHours, string By, string Entered, string Batch,
    string? Note = null, string? SaidBy = null, string? VoidedAt = null, string? VoidedBy = null, string? VoidReason = null) : FleetRecord;

/// <summary>How records are written: camel case, nothing for what is null.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    RespectRequiredConstructorParameters = true,
    RespectNullableAnnotations = true,
    UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow)]
[JsonSerializable(typeof(FleetSite))]
[JsonSerializable(typeof(FleetProgram))]
[JsonSerializable(typeof(FleetMachine))]
[JsonSerializable(typeof(FleetReading))]
[JsonSerializable(typeof(FleetCompletion))]
internal sealed partial class FleetJson : JsonSerializerContext
{
    /// <summary>Leaves letters such as é as they are, so that a person can read the file.</summary>
    public static FleetJson Plain { get; } = new(new JsonSerializerOptions
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    });
}

/// <summary>The sections of a fleet file, in the order in which they stand.</summary>
public static class FleetSections
{
    /// <summary>Says what the file is.</summary>
    public const string Format = "nippers-fleet";

    /// <summary>The newest version that this program reads, and the one that it writes.</summary>
    public const int Version = 1;

    internal static readonly string[] Order = ["sites", "programs", "machines", "readings", "completions"];

    internal static int IndexOf(FleetRecord record) => record switch
    {
        FleetSite => 0,
        FleetProgram => 1,
        FleetMachine => 2,
        FleetReading => 3,
        FleetCompletion => 4,
        _ => throw new ArgumentOutOfRangeException(nameof(record)),
    };
}
