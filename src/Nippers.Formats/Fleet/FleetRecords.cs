using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;

namespace Nippers.Formats.Fleet;

/// <summary>One record of a fleet file. Hours are what JSON numbers give; the importer checks them.</summary>
public abstract record FleetRecord;

/// <summary>A site.</summary>
/// <param name="Name">Its name.</param>
/// <param name="TimeZone">IANA zone.</param>
/// <param name="WorkDays">Working days, <c>monday</c> and so on.</param>
/// <param name="ShiftFrom">Start of the shift, <c>07:00</c>.</param>
/// <param name="ShiftTo">End of the shift.</param>
/// <param name="LowC">Expected low, degrees C.</param>
/// <param name="HighC">Expected high, degrees C.</param>
public sealed record FleetSite(
    string Name,
    string TimeZone,
    IReadOnlyList<string>? WorkDays = null,
    string? ShiftFrom = null,
    string? ShiftTo = null,
    int? LowC = null,
    int? HighC = null,
    string? Contact = null,
    bool? StopsEachWalk = null
) : FleetRecord;

/// <summary>The workshop: money, time, vessels, fluids. Money has two decimals.</summary>
public sealed record FleetShop(
    string Currency,
    double LabourPerHour,
    double CallOut,
    int CareHours,
    int HorizonDays,
    int PailLitres,
    bool OneAtATime,
    bool DrainHot,
    string Vessels,
    IReadOnlyList<FleetFluid> Fluids,
    double? Haulage = null,
    double? LabFee = null,
    double? DowntimePerHour = null,
    int? PlanDays = null,
    int? ReservePercent = null,
    int? PartsDays = null,
    double? RoadPerMinute = null,
    double? Moving = null
) : FleetRecord;

/// <summary>A fluid and its price per litre.</summary>
public sealed record FleetFluid(string Name, double PerLitre);

/// <summary>Words of an own list, program or kind in another language. Since version 3.</summary>
/// <param name="Language">Two letters.</param>
/// <param name="Text">The words as they stand in the list.</param>
/// <param name="Said">The same in the language.</param>
public sealed record FleetPhrase(string Language, string Text, string Said) : FleetRecord;

/// <summary>A part of the catalogue.</summary>
public sealed record FleetPart(
    string Number,
    string Name,
    string Kind,
    double Price,
    string? Make = null,
    double? LengthMm = null,
    double? OuterMm = null,
    double? SealMm = null,
    string? Thread = null
) : FleetRecord;

/// <summary>A part that may stand in for another.</summary>
public sealed record FleetAlternate(string Part, string Other, string SaysWho, string By, string On) : FleetRecord;

/// <summary>A filter position of a machine.</summary>
public sealed record FleetPosition(
    string Code,
    string Name,
    string Item,
    string Prefill,
    string Turn,
    double Litres,
    string? Part = null,
    double? LengthMm = null,
    double? OuterMm = null,
    double? SealMm = null,
    string? Thread = null
);

/// <summary>How a machine's fuel is bled.</summary>
public sealed record FleetBleed(string Method, string Points, int CrankSeconds, int RestSeconds, int Repeats);

/// <summary>
/// A visit with its card and answers. Its number is its place in the file; defects are numbers too. Money has two decimals.
/// </summary>
public sealed record FleetVisit(
    string Unit,
    string State,
    string On,
    int NameHours,
    string PlannedBy,
    string Planned,
    IReadOnlyList<FleetVisitItem> Items,
    IReadOnlyList<long> Defects,
    int HandsMinutes,
    int ElapsedMinutes,
    int SavedMinutes,
    double Parts,
    double Fluids,
    double Labour,
    double CallOut,
    double Waste,
    string? Note = null,
    JsonElement? Card = null,
    int? ProgramVersion = null,
    IReadOnlyList<FleetStep>? Steps = null,
    double? Quote = null,
    string? OpenedBy = null,
    string? Opened = null,
    double? Hours = null,
    double? LifeHours = null,
    string? ClosedBy = null,
    string? Closed = null,
    string? Batch = null,
    int? RealMinutes = null,
    double? RealParts = null,
    double? RealFluids = null,
    double? RealLabour = null,
    string? VoidedBy = null,
    string? VoidReason = null,
    bool? CameWarm = null,
    string? HeldBy = null,
    string? HandedTo = null,
    string? HandedWords = null,
    IReadOnlyList<FleetVanLine>? Van = null,
    bool? Hauled = null,
    double? Haulage = null,
    double? Lab = null,
    double? Downtime = null,
    double? RealLab = null,
    double? RealDowntime = null,
    bool? TwoPeople = null
) : FleetRecord;

/// <summary>A line of a visit's pick list that went into the van.</summary>
public sealed record FleetVanLine(
    string Line,
    string Words,
    string InBy,
    string In,
    bool? Returns = null,
    string? OutBy = null,
    string? Out = null
);

/// <summary>An item of a visit.</summary>
public sealed record FleetVisitItem(string Item, string State, string? Reason = null, string? Words = null, bool? Added = null);

/// <summary>An answer of a card, with its photos.</summary>
public sealed record FleetStep(
    string Code,
    string By,
    string At,
    JsonElement Answer,
    long? Defect = null,
    IReadOnlyList<FleetPhoto>? Photos = null,
    bool? Paper = null
);

/// <summary>A line of the filter log.</summary>
public sealed record FleetFilterLog(
    string Unit,
    string Position,
    string Name,
    string State,
    string Part,
    string On,
    double LifeHours,
    string By,
    string Entered,
    string? Batch = null,
    string? Make = null,
    long? Visit = null,
    string? Metal = null,
    string? Words = null,
    string? VoidedAt = null,
    string? VoidedBy = null
) : FleetRecord;

/// <summary>Parts that came to a store or left it.</summary>
public sealed record FleetStock(
    string Part,
    string Site,
    int Quantity,
    string Kind,
    string At,
    string By,
    string? Note = null,
    long? Visit = null
) : FleetRecord;

/// <summary>Waste that left.</summary>
public sealed record FleetWaste(
    string On,
    string Stream,
    double Amount,
    string Place,
    string By,
    string Entered,
    string? Unit = null,
    long? Visit = null,
    string? Batch = null,
    string? VoidedAt = null,
    string? VoidedBy = null
) : FleetRecord;

/// <summary>A fluid that came on board at a change.</summary>
public sealed record FleetOnBoard(
    string Unit,
    string Compartment,
    string Fluid,
    double Litres,
    string On,
    double LifeHours,
    string Batch,
    long? Visit = null,
    string? VoidedAt = null
) : FleetRecord;

/// <summary>A walk list with every version that was kept.</summary>
public sealed record FleetWalkList(string Code, string Name, string Kind, bool Starter, IReadOnlyList<FleetWalkListVersion> Versions)
    : FleetRecord;

/// <summary>One version of a walk list; its body is as docs/formats/fleet-file.md tells.</summary>
public sealed record FleetWalkListVersion(int Version, string At, string By, JsonElement Body);

/// <summary>What a machine's own manual says of a check.</summary>
public sealed record FleetLimit(
    string Check,
    string Name,
    double? Low = null,
    double? WatchBelow = null,
    double? High = null,
    double? New = null,
    double? NewAtHours = null,
    double? MarkLitres = null,
    string? Method = null,
    string? Note = null
);

/// <summary>A walk with its answers. Its number is its place in the file.</summary>
public sealed record FleetWalk(
    string Unit,
    string List,
    int ListVersion,
    string Round,
    string State,
    string On,
    string Started,
    string StartedBy,
    double Hours,
    double LifeHours,
    string Weather,
    string Ground,
    IReadOnlyList<string> Checks,
    int Answered,
    int Faults,
    int LeftOut,
    string Batch,
    JsonElement? Answers = null,
    IReadOnlyList<FleetOpenAnswer>? Open = null,
    IReadOnlyList<FleetMeasure>? Measures = null,
    IReadOnlyList<string>? Done = null,
    string? Finished = null,
    string? FinishedBy = null,
    bool? Late = null,
    string? Note = null,
    string? Verdict = null,
    double? UntilHours = null,
    string? UntilOn = null,
    string? VoidedAt = null,
    string? VoidedBy = null,
    string? VoidReason = null,
    int? NotChecked = null,
    int? HonestSeconds = null,
    IReadOnlyList<FleetLaterCheck>? Later = null,
    string? ParkedAt = null,
    IReadOnlyList<FleetWalkPhoto>? Photos = null
) : FleetRecord;

/// <summary>A photo of something that was found right, asked for by chance.</summary>
public sealed record FleetWalkPhoto(string Check, string At, string By, int Width, int Height, byte[] Whole, byte[] Small);

/// <summary>How a machine was left in an evening.</summary>
public sealed record FleetParking(string On, string At, string By, IReadOnlyList<string> Done, string? Note = null);

/// <summary>What a code on a machine's display means.</summary>
public sealed record FleetMachineCode(string Code, string Meaning, string By, string At);

/// <summary>
/// A fault code that a machine's feed told of. Its number is its place in the file: <c>repeatOf</c> is one of those, <c>defect</c> a
/// defect's.
/// </summary>
public sealed record FleetFeedCode(
    string Unit,
    string Code,
    string Since,
    double LifeHours,
    int Times,
    string? Gone = null,
    double? GoneHours = null,
    long? RepeatOf = null,
    long? Defect = null,
    string? LookedBy = null,
    string? Looked = null,
    string? LookedWords = null
) : FleetRecord;

/// <summary>A safety-critical check that a technician made after the walk that had left it out.</summary>
public sealed record FleetLaterCheck(string Check, string By, string At, string? Words = null);

/// <summary>An answer of a walk that is still open.</summary>
public sealed record FleetOpenAnswer(string Code, int Revision, string By, string At, string Answer);

/// <summary>A figure that a walk was judged by.</summary>
public sealed record FleetMeasure(string Check, double Value, bool? Unused = null);

/// <summary>Fluid added between services; <c>walk</c> is the walk's number.</summary>
public sealed record FleetTopUp(
    string Unit,
    string Compartment,
    double Litres,
    string At,
    double LifeHours,
    string By,
    long? Walk = null,
    string? VoidedAt = null,
    string? VoidedBy = null
) : FleetRecord;

/// <summary>
/// A defect with its history and photos. Its number is its place in the file, <c>walk</c> and <c>repeatOf</c> are numbers too.
/// </summary>
public sealed record FleetDefect(
    string Unit,
    string Place,
    string PlaceName,
    string Words,
    string Grade,
    string FoundGrade,
    string Safety,
    string State,
    string By,
    string At,
    string On,
    double LifeHours,
    string ClockFrom,
    int Version,
    IReadOnlyList<FleetDefectEvent> Events,
    IReadOnlyList<FleetStoppage> Stoppages,
    IReadOnlyList<FleetPhoto> Photos,
    double? LimitHours = null,
    string? LimitOn = null,
    long? Walk = null,
    string? Check = null,
    string? Code = null,
    long? RepeatOf = null,
    double? LookAgainHours = null,
    string? DownTo = null,
    string? DownBy = null,
    string? DownReason = null,
    string? RepairedBy = null,
    string? RepairedAt = null,
    double? RepairedHours = null,
    string? RepairWords = null,
    int? RepairMinutes = null,
    string? RepairParts = null,
    string? ReturnedBy = null,
    string? ReturnedAt = null,
    string? ReturnWords = null,
    string? VoidedBy = null,
    string? VoidReason = null,
    string? Part = null,
    string? VoidAskedBy = null,
    string? VoidAskReason = null,
    string? ToldWhom = null,
    string? ToldBy = null,
    string? ToldAt = null
) : FleetRecord;

/// <summary>A line of a defect's history.</summary>
public sealed record FleetDefectEvent(
    string At,
    string By,
    string Act,
    string? Words = null,
    string? From = null,
    string? To = null,
    double? LimitHours = null,
    string? LimitOn = null,
    long? Walk = null,
    string? Answer = null
);

/// <summary>A time out of service, who is told of it, when word was sent, and who sees to it.</summary>
public sealed record FleetStoppage(
    string From,
    string? To = null,
    string? Contact = null,
    string? Sent = null,
    string? AcknowledgedBy = null,
    string? Acknowledged = null
);

/// <summary>A photo, JPEG in base 64.</summary>
public sealed record FleetPhoto(string At, string By, int Width, int Height, byte[] Whole, byte[] Small);

/// <summary>A program with its compartments and items.</summary>
public sealed record FleetProgram(
    string Code,
    string Name,
    string Kind,
    [property: JsonPropertyName("school")] string IntervalBasis,
    int CreditPercent,
    int WindowPercent,
    double LeastWindowHours,
    int ComingDays,
    bool Starter,
    IReadOnlyList<FleetCompartment> Compartments,
    IReadOnlyList<FleetItem> Items
) : FleetRecord;

/// <summary>A compartment of a program.</summary>
public sealed record FleetCompartment(
    string Code,
    string Name,
    string Kind,
    string? Needs = null,
    string? Stream = null,
    string? Traits = null,
    int? DrainMinutes = null,
    int? SettleMinutes = null,
    string? Fluids = null,
    double? DrainStepHours = null,
    double? DrainCapHours = null,
    string? DrainFluids = null
);

/// <summary>An item of a program.</summary>
public sealed record FleetItem(
    string Code,
    string Name,
    string Compartment,
    bool Once,
    double DutyFactor,
    bool Strict,
    int Points,
    bool Qualified,
    bool Off,
    double? EveryHours = null,
    int? EveryMonths = null,
    double? FirstAtHours = null,
    [property: JsonPropertyName("school")] string? IntervalBasis = null,
    string? Needs = null,
    string? Caution = null,
    string? Work = null,
    int? Minutes = null,
    string? Covers = null,
    string? Access = null,
    int? EveryKm = null
);

/// <summary>A machine with what is its own.</summary>
public sealed record FleetMachine(
    string Unit,
    string Kind,
    string Make,
    string Model,
    string Site,
    string Program,
    string History,
    string CommissionedOn,
    double CommissionedHours,
    string Duty,
    double PlannedHoursPerDay,
    bool Retired,
    IReadOnlyList<FleetMachineCompartment> Compartments,
    IReadOnlyList<FleetParked> Parked,
    IReadOnlyList<FleetMeterChange> MeterChanges,
    string? Serial = null,
    string? Note = null,
    string? Options = null,
    string? WalkList = null,
    IReadOnlyList<FleetLimit>? Limits = null,
    IReadOnlyList<FleetPosition>? Positions = null,
    FleetBleed? Bleed = null,
    IReadOnlyList<FleetParking>? Parkings = null,
    IReadOnlyList<FleetMachineCode>? Codes = null,
    int? CommissionedKm = null,
    double? PlannedKmPerDay = null,
    IReadOnlyList<FleetOdometer>? Odometer = null
) : FleetRecord;

/// <summary>What a machine's odometer showed, kilometres.</summary>
public sealed record FleetOdometer(
    string At,
    double Km,
    string By,
    string Entered,
    string? DecidedBy = null,
    string? VoidedAt = null,
    string? VoidedBy = null,
    string? VoidReason = null,
    bool? ToConfirm = null
);

/// <summary>What a machine's own manual says of a compartment.</summary>
public sealed record FleetMachineCompartment(
    string Code,
    double? CapacityLitres = null,
    string? Fluid = null,
    double? FilterLitres = null,
    int? DrainPoints = null,
    string? PlugTorque = null,
    string? PlugSeal = null,
    string? Socket = null,
    double? PressureSeconds = null,
    string? Hub = null,
    double? DrainHours = null
);

/// <summary>A parked span.</summary>
public sealed record FleetParked(string From, string By, string? To = null, string? Reason = null);

/// <summary>A replaced meter.</summary>
public sealed record FleetMeterChange(
    string At,
    double OldFinal,
    double NewStart,
    string By,
    string Entered,
    string? Note = null,
    string? VoidedAt = null,
    string? VoidedBy = null,
    string? VoidReason = null
);

/// <summary>A reading: what the meter showed, and life hours.</summary>
public sealed record FleetReading(
    string Unit,
    string At,
    double Hours,
    double LifeHours,
    string State,
    string Source,
    string By,
    string Entered,
    string? DecidedBy = null,
    string? Reason = null
) : FleetRecord;

/// <summary>Work done, or a baseline.</summary>
public sealed record FleetCompletion(
    string Unit,
    string Item,
    string Kind,
    string On,
    double Hours,
    double LifeHours,
    string By,
    string Entered,
    string Batch,
    string? Note = null,
    string? SaidBy = null,
    string? VoidedAt = null,
    string? VoidedBy = null,
    string? VoidReason = null
) : FleetRecord;

/// <summary>How records are written: camel case, nothing for what is null.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    RespectRequiredConstructorParameters = true,
    RespectNullableAnnotations = true,
    UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow
)]
[JsonSerializable(typeof(FleetSite))]
[JsonSerializable(typeof(FleetProgram))]
[JsonSerializable(typeof(FleetMachine))]
[JsonSerializable(typeof(FleetReading))]
[JsonSerializable(typeof(FleetCompletion))]
[JsonSerializable(typeof(FleetWalkList))]
[JsonSerializable(typeof(FleetWalk))]
[JsonSerializable(typeof(FleetTopUp))]
[JsonSerializable(typeof(FleetDefect))]
[JsonSerializable(typeof(FleetFeedCode))]
[JsonSerializable(typeof(FleetShop))]
[JsonSerializable(typeof(FleetPhrase))]
[JsonSerializable(typeof(FleetPart))]
[JsonSerializable(typeof(FleetAlternate))]
[JsonSerializable(typeof(FleetVisit))]
[JsonSerializable(typeof(FleetFilterLog))]
[JsonSerializable(typeof(FleetStock))]
[JsonSerializable(typeof(FleetWaste))]
[JsonSerializable(typeof(FleetOnBoard))]
[JsonSerializable(typeof(FleetSample))]
[JsonSerializable(typeof(FleetLab))]
[JsonSerializable(typeof(FleetNewOil))]
[JsonSerializable(typeof(FleetOilLimit))]
[JsonSerializable(typeof(FleetConsignment))]
[JsonSerializable(typeof(FleetBottle))]
[JsonSerializable(typeof(FleetCall))]
[JsonSerializable(typeof(FleetDrainChange))]
[JsonSerializable(typeof(FleetCoolantTest))]
[JsonSerializable(typeof(FleetLooseResult))]
internal sealed partial class FleetJson : JsonSerializerContext
{
    /// <summary>Leaves letters such as é as they are, so that a person can read the file.</summary>
    public static FleetJson Plain { get; } =
        new(
            new JsonSerializerOptions
            {
                PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
                DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
                Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
            }
        );
}

/// <summary>The sections of a fleet file, in the order in which they stand.</summary>
public static class FleetSections
{
    /// <summary>Says what the file is.</summary>
    public const string Format = "nippers-fleet";

    /// <summary>The newest version that this program reads, and the one that it writes.</summary>
    public const int Version = 3;

    /// <summary>Since this version an answer says of which kind it is.</summary>
    public const int ClosedAnswers = 2;

    private static readonly (string Name, JsonTypeInfo Shape)[] All =
    [
        ("sites", FleetJson.Default.FleetSite),
        ("shop", FleetJson.Default.FleetShop),
        ("programs", FleetJson.Default.FleetProgram),
        ("walkLists", FleetJson.Default.FleetWalkList),
        ("phrases", FleetJson.Default.FleetPhrase),
        ("parts", FleetJson.Default.FleetPart),
        ("alternates", FleetJson.Default.FleetAlternate),
        ("machines", FleetJson.Default.FleetMachine),
        ("readings", FleetJson.Default.FleetReading),
        ("completions", FleetJson.Default.FleetCompletion),
        ("walks", FleetJson.Default.FleetWalk),
        ("topUps", FleetJson.Default.FleetTopUp),
        ("defects", FleetJson.Default.FleetDefect),
        ("feedCodes", FleetJson.Default.FleetFeedCode),
        ("visits", FleetJson.Default.FleetVisit),
        ("filterLog", FleetJson.Default.FleetFilterLog),
        ("stock", FleetJson.Default.FleetStock),
        ("waste", FleetJson.Default.FleetWaste),
        ("onBoard", FleetJson.Default.FleetOnBoard),
        ("labs", FleetJson.Default.FleetLab),
        ("newOils", FleetJson.Default.FleetNewOil),
        ("oilLimits", FleetJson.Default.FleetOilLimit),
        ("consignments", FleetJson.Default.FleetConsignment),
        ("samples", FleetJson.Default.FleetSample),
        ("bottles", FleetJson.Default.FleetBottle),
        ("calls", FleetJson.Default.FleetCall),
        ("drainChanges", FleetJson.Default.FleetDrainChange),
        ("coolantTests", FleetJson.Default.FleetCoolantTest),
        ("looseResults", FleetJson.Default.FleetLooseResult),
    ];

    internal static readonly string[] Order = [.. All.Select(x => x.Name)];

    private static readonly Dictionary<Type, int> Places = All.Select((x, i) => (x.Shape.Type, i)).ToDictionary(x => x.Type, x => x.i);

    /// <summary>How a section's records are read.</summary>
    internal static JsonTypeInfo ShapeOf(int section) => All[section].Shape;

    internal static int IndexOf(FleetRecord record) => Places[record.GetType()];
}
