using System.Collections.Immutable;
using Nippers.Core.Defects;

namespace Nippers.Core.Walk;

/// <summary>What is entered at a check.</summary>
/// <remarks>Rules 7.</remarks>
public enum CheckKind
{
    /// <summary>OK, or a fault.</summary>
    Look,

    /// <summary>Where a fluid stands between low and high, and what was added.</summary>
    Level,

    /// <summary>One or more figures with a unit, held against limits.</summary>
    Measure,

    /// <summary>n of N sound, present or tight.</summary>
    Count,

    /// <summary>A count of grease fittings, each purged, taking none or seized.</summary>
    Grease,

    /// <summary>Works or does not.</summary>
    Test,

    /// <summary>Water or dirt drained from a bowl.</summary>
    Drain,

    /// <summary>Fault codes by SPN and FMI.</summary>
    Code,
}

/// <summary>How often a check is made.</summary>
public enum Cadence
{
    /// <summary>On every walk.</summary>
    EveryWalk,

    /// <summary>On the walk, and a second time in the shift.</summary>
    TwiceAShift,

    /// <summary>Every 50 h.</summary>
    Every50Hours,

    /// <summary>Every 250 h.</summary>
    Every250Hours,

    /// <summary>When a lamp, gauge or smell says so; offered, never due.</summary>
    OnSign,
}

/// <summary>The engine state a check needs, in the order of the walk.</summary>
public enum EngineState
{
    /// <summary>Off and cold, isolated.</summary>
    Off,

    /// <summary>Key on, engine off.</summary>
    KeyOn,

    /// <summary>Running.</summary>
    Running,
}

/// <summary>How high a station is.</summary>
public enum StationHeight
{
    /// <summary>From the ground.</summary>
    Ground,

    /// <summary>In the engine bay, from the ground.</summary>
    EngineBay,

    /// <summary>On top of the machine: three points of contact.</summary>
    OnTop,

    /// <summary>In the cab.</summary>
    Cab,
}

/// <summary>A simple part that a machine's plan is drawn from.</summary>
public enum PlanShape
{
    /// <summary>A frame or hood.</summary>
    Body,

    /// <summary>A crawler track.</summary>
    Track,

    /// <summary>A wheel with its tyre.</summary>
    Wheel,

    /// <summary>A cab, glazed.</summary>
    Cab,

    /// <summary>A boom, arm or push arm.</summary>
    Arm,

    /// <summary>A bucket; its open side faces away from the machine.</summary>
    Bucket,

    /// <summary>A dozer blade.</summary>
    Blade,

    /// <summary>A roller drum.</summary>
    Drum,

    /// <summary>A swing bearing or joint.</summary>
    Joint,
}

/// <summary>A part on the plan. The plan is 320 wide and 240 high, the machine faces right.</summary>
/// <param name="Shape">What it is.</param>
/// <param name="X">Left edge, 0 to 320.</param>
/// <param name="Y">Upper edge, 0 to 240.</param>
/// <param name="Width">Width, above zero.</param>
/// <param name="Height">Height, above zero.</param>
/// <param name="Angle">Turned about its centre, degrees.</param>
public sealed record PlanPart(PlanShape Shape, double X, double Y, double Width, double Height, double Angle = 0);

/// <summary>A place on the machine where the walk stops.</summary>
/// <param name="Code">Short name, unique in its list.</param>
/// <param name="Name">What people call it.</param>
/// <param name="X">On the plan, 0 to 320.</param>
/// <param name="Y">On the plan, 0 to 240.</param>
/// <param name="Height">How high it is.</param>
public sealed record Station(string Code, string Name, double X, double Y, StationHeight Height = StationHeight.Ground);

/// <summary>How the machine stands for some checks.</summary>
/// <param name="Code">Short name.</param>
/// <param name="Name">For example <c>for levels</c>.</param>
/// <param name="Words">What to do to stand so, with its cautions.</param>
/// <param name="After">What to do when its checks are made; empty for nothing.</param>
/// <param name="Caution">What is heeded at each of its checks; empty for nothing of its own.</param>
public sealed record Posture(string Code, string Name, string Words, string After = "", string Caution = "")
{
    /// <summary>Code of the position in which levels are read.</summary>
    public const string Levels = "levels";

    /// <summary>Code of the position of a raised track, which is read by its hang.</summary>
    public const string Hang = "hang";
}

/// <summary>What a level is of, as far as it matters to what its reading means.</summary>
/// <remarks>Rules 7.</remarks>
public enum FluidUse
{
    /// <summary>Fuel, washer water and the like.</summary>
    Other,

    /// <summary>Engine oil.</summary>
    EngineOil,

    /// <summary>Coolant.</summary>
    Coolant,

    /// <summary>Transmission and converter oil.</summary>
    Transmission,

    /// <summary>Hydraulic oil.</summary>
    Hydraulics,

    /// <summary>Axle and differential oil.</summary>
    Axle,

    /// <summary>Hub and final drive oil.</summary>
    Hub,

    /// <summary>Swing drive oil.</summary>
    SwingDrive,

    /// <summary>Compressor oil.</summary>
    Compressor,

    /// <summary>Brake fluid.</summary>
    BrakeFluid,
}

/// <summary>What usually is wrong at a check, to be tapped.</summary>
/// <param name="Words">In the crew's words.</param>
/// <param name="Least">Grade at least.</param>
public sealed record UsualFault(string Words, DefectGrade Least);

/// <summary>One check of a list.</summary>
/// <remarks>Rules 7. Limits that belong to one machine (its sag, its tyres) stand with the machine and go before these.</remarks>
public sealed record WalkCheck
{
    /// <summary>Short name, unique in its list.</summary>
    public required string Code { get; init; }

    /// <summary>What it is, in the crew's words.</summary>
    public required string Name { get; init; }

    /// <summary>Code of its station.</summary>
    public required string Station { get; init; }

    /// <summary>What is entered.</summary>
    public CheckKind Kind { get; init; }

    /// <summary>How often.</summary>
    public Cadence Cadence { get; init; }

    /// <summary>The engine state it needs.</summary>
    public EngineState Engine { get; init; }

    /// <summary>Code of the posture it needs; empty: any.</summary>
    public string Posture { get; init; } = "";

    /// <summary>The grade when it fails.</summary>
    public DefectGrade Grade { get; init; } = DefectGrade.NextService;

    /// <summary>Safety-critical part; fails as a stop.</summary>
    public SafetyPart Safety { get; init; }

    /// <summary>Option rule; empty: on every machine.</summary>
    public string Needs { get; init; } = "";

    /// <summary>Code of the compartment it looks at; empty for none.</summary>
    public string Compartment { get; init; } = "";

    /// <summary>Code of the service item that it does on the way; empty for none.</summary>
    public string Item { get; init; } = "";

    /// <summary>What must hold for the answer to be true; empty for nothing special.</summary>
    public string Truth { get; init; } = "";

    /// <summary>The truth is asked for with a tick.</summary>
    public bool AsksTick { get; init; }

    /// <summary>Minutes to wait first; 0 for none.</summary>
    public int WaitMinutes { get; init; }

    /// <summary>The caution that belongs here; empty for none.</summary>
    public string Caution { get; init; } = "";

    /// <summary>Unit of the figures.</summary>
    public string Unit { get; init; } = "";

    /// <summary>Least that passes; null without.</summary>
    public double? Low { get; init; }

    /// <summary>Below this, and not below <see cref="Low"/>, it is watched; null without.</summary>
    public double? WatchBelow { get; init; }

    /// <summary>Most that passes; null without.</summary>
    public double? High { get; init; }

    /// <summary>How many figures are entered at least and averaged; 1 or more.</summary>
    public int Figures { get; init; } = 1;

    /// <summary>Track sag: told, and read, by the machine's own method.</summary>
    public bool Sag { get; init; }

    /// <summary>A wear part: its figures are projected to <see cref="Low"/> or <see cref="High"/>, whichever it wears towards.</summary>
    public bool Wear { get; init; }

    /// <summary>Level: litres between the marks; null when nobody entered them.</summary>
    public double? MarkLitres { get; init; }

    /// <summary>Level: a sealed hub or drive, where any top-up is a leak.</summary>
    public bool Sealed { get; init; }

    /// <summary>Level: read in a glass, where nothing is wiped or pulled.</summary>
    public bool Glass { get; init; }

    /// <summary>Level: what is in it; null goes by the compartment.</summary>
    public FluidUse? Fluid { get; init; }

    /// <summary>What usually is wrong here, in the crew's words.</summary>
    public ImmutableArray<UsualFault> Faults { get; init; } = [];

    /// <summary>The part it guards; null goes by what it is and where.</summary>
    public MachinePart? Part { get; init; }

    /// <summary>A level that is read warm, with the engine running: a mark for cold only permits the start.</summary>
    public bool ReadWarm => Kind == CheckKind.Level && Engine == EngineState.Running;

    /// <summary>Most figures that are averaged: under a string one dip more may be taken than is asked for.</summary>
    public int MostFigures => Sag && Figures > 1 ? Figures + 1 : Figures;

    /// <summary>Whether the machine does not run while nobody has made this check.</summary>
    public bool IsSafetyCritical => Safety != SafetyPart.None;

    /// <summary>What a level is of.</summary>
    public FluidUse FluidIs =>
        Fluid
        ?? Compartment switch
        {
            "engine" => FluidUse.EngineOil,
            "cooling" => FluidUse.Coolant,
            "transmission" => FluidUse.Transmission,
            "hydraulic" => FluidUse.Hydraulics,
            "swing-drive" => FluidUse.SwingDrive,
            "compressor" => FluidUse.Compressor,
            "brakes" => FluidUse.BrakeFluid,
            var code when code.StartsWith("axle", StringComparison.Ordinal) => FluidUse.Axle,
            var code when code.StartsWith("final-drive", StringComparison.Ordinal) || code.StartsWith("hub", StringComparison.Ordinal) =>
                FluidUse.Hub,
            _ => FluidUse.Other,
        };

    /// <summary>Count and grease: the points, each with its side. A trailing star marks one that people forget.</summary>
    public ImmutableArray<string> Points { get; init; } = [];

    /// <summary>A point's name without its star.</summary>
    public static string PointName(string point) => point.TrimEnd('*').TrimEnd();

    /// <summary>Whether people forget a point.</summary>
    public static bool IsForgotten(string point) => point.EndsWith('*');
}

/// <summary>What is walked on a kind of machine: the stations round it, its postures, its plan and its checks.</summary>
/// <param name="Stations">In the order of the walk, one way round.</param>
/// <param name="Postures">In the order in which they are taken.</param>
/// <param name="Parts">The plan.</param>
/// <param name="Checks">The checks, in the order in which they are asked at a station.</param>
public sealed record CheckList(
    ImmutableArray<Station> Stations,
    ImmutableArray<Posture> Postures,
    ImmutableArray<PlanPart> Parts,
    ImmutableArray<WalkCheck> Checks
)
{
    /// <summary>Where compartments lie on the plan; default in lists that were made before they were told.</summary>
    public ImmutableArray<PlanPlace> Places { get; init; }

    /// <summary>
    /// What is tried with the key on comes before the lockout. What is seen on the way, at the first station, still comes before the
    /// key: somebody's lock may hang there.
    /// </summary>
    public bool KeyFirst { get; init; }

    /// <summary>How the sag of a track is measured on this kind; null where nobody said, or where it has none.</summary>
    public SagMethod? Sag { get; init; }
}

/// <summary>Where a compartment lies on the plan.</summary>
/// <param name="Compartment">Its code.</param>
/// <param name="X">Across, 0 to 320.</param>
/// <param name="Y">Down, 0 to 240.</param>
public sealed record PlanPlace(string Compartment, double X, double Y);

/// <summary>How a track's sag is measured.</summary>
/// <remarks>Rules 7.</remarks>
public enum SagMethod
{
    /// <summary>Mean of the dips under a string over the shoes.</summary>
    Dips,

    /// <summary>Hang of the raised track at its lowest point.</summary>
    Hang,

    /// <summary>Gap at the middle roller with the track lifted clear.</summary>
    Gap,
}

/// <summary>What one machine's own manual, tyres or setup say of a check. What is null stays as the list has it.</summary>
/// <param name="Low">Least that passes.</param>
/// <param name="WatchBelow">Below this it is watched.</param>
/// <param name="High">Most that passes.</param>
/// <param name="New">Wear part: its measure when new.</param>
/// <param name="MarkLitres">Litres between the marks.</param>
/// <param name="Method">How the sag is measured.</param>
/// <param name="Note">For example the tyre fitted and its ballast.</param>
public sealed record CheckLimits(
    double? Low = null,
    double? WatchBelow = null,
    double? High = null,
    double? New = null,
    double? MarkLitres = null,
    SagMethod? Method = null,
    string Note = ""
)
{
    /// <summary>A check with the machine's own limits in place of the list's.</summary>
    public static WalkCheck Apply(WalkCheck check, CheckLimits? own) =>
        own is null
            ? check
            : check with
            {
                Low = own.Low ?? check.Low,
                WatchBelow = own.WatchBelow ?? check.WatchBelow,
                High = own.High ?? check.High,
                MarkLitres = own.MarkLitres ?? check.MarkLitres,
                Figures = check.Sag && own.Method is { } method && method != SagMethod.Dips ? 1 : check.Figures,
                Posture = check.Sag && own.Method == SagMethod.Hang ? Posture.Hang : check.Posture,
            };
}
