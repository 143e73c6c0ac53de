using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Nippers.Core.Fluids;
using Nippers.Core.Parts;

namespace Nippers.Core.Jobs;

/// <summary>What kind of work an item of a program is; decides the steps it brings to a job card.</summary>
public enum ItemWork
{
    /// <summary>Look at it, try it.</summary>
    Check,

    /// <summary>Read a level and put right.</summary>
    Level,

    /// <summary>Grease its points.</summary>
    Grease,

    /// <summary>Drain a fluid and fill anew, its filters too.</summary>
    Fluid,

    /// <summary>Change filters.</summary>
    Filter,

    /// <summary>Change an element of the air cleaner, or a cab filter: nothing is sealed with oil.</summary>
    Element,

    /// <summary>Draw a sample.</summary>
    Sample,

    /// <summary>Let water and dirt out.</summary>
    Water,

    /// <summary>Clean it.</summary>
    Clean,

    /// <summary>Measure and set the tension of a track or belt.</summary>
    Tension,

    /// <summary>Batteries: rest voltage of each.</summary>
    Battery,

    /// <summary>Coolant: share and freeze point.</summary>
    Coolant,

    /// <summary>Tighten to a torque.</summary>
    Torque,

    /// <summary>Measure it.</summary>
    Measure,

    /// <summary>Try it with the machine running and moved: brakes, cut-outs, alarms.</summary>
    Try,

    /// <summary>Try it with the key on and the engine off: stop buttons, lamps.</summary>
    KeyOn,
}

/// <summary>What is entered at a step.</summary>
public enum InputKind
{
    /// <summary>That it was done.</summary>
    Tick,

    /// <summary>OK, or a fault in words.</summary>
    Look,

    /// <summary>Where a fluid stands between its marks, how it looks, and what was added.</summary>
    Level,

    /// <summary>Litres that came out, and how they look.</summary>
    Drained,

    /// <summary>What was on the magnet.</summary>
    Magnet,

    /// <summary>Plugs home: how many of how many, new seal, torque, stripe.</summary>
    Plug,

    /// <summary>A filter changed: what the old one held, seal, seat, fit, turn, date.</summary>
    Filter,

    /// <summary>Litres that went in.</summary>
    Fill,

    /// <summary>Seconds until the pressure was up.</summary>
    Pressure,

    /// <summary>How many of how many points.</summary>
    Count,

    /// <summary>A figure before and after.</summary>
    BeforeAfter,

    /// <summary>Volts of each battery.</summary>
    Volts,

    /// <summary>Coolant share and freeze point.</summary>
    Coolant,

    /// <summary>Water from a bowl or tank.</summary>
    Water,

    /// <summary>A bottle, and how it was drawn.</summary>
    Bottle,

    /// <summary>Everything touched, each ticked home.</summary>
    Touched,

    /// <summary>Where waste went.</summary>
    Waste,

    /// <summary>Figures, each with its name and unit.</summary>
    Measured,
}

/// <summary>What is known of a compartment before its fluid is changed, all in litres.</summary>
/// <param name="Capacity">Capacity with filter.</param>
/// <param name="BetweenMarks">Between the marks of its stick.</param>
/// <param name="FilterLitres">What goes out with the filters of the change; 0 when they stay.</param>
/// <param name="TopUps">Topped up since.</param>
/// <param name="History">The changes before, oldest first.</param>
public sealed record ChangeFacts(
    decimal Capacity,
    decimal BetweenMarks,
    decimal FilterLitres,
    decimal TopUps,
    ImmutableArray<PastChange> History
);

/// <summary>A figure that a step asks for.</summary>
/// <param name="Code">Code under which it is kept; a check's where a walk measures the same.</param>
/// <param name="Name">What is measured.</param>
/// <param name="Unit">Its unit, as people write it; empty for a count.</param>
/// <param name="Low">The machine's own lower limit; null for none.</param>
/// <param name="High">The machine's own upper limit; null for none.</param>
/// <param name="Last">What it was when it was last measured; null for never.</param>
public sealed record AskedFigure(string Code, string Name, string Unit, double? Low = null, double? High = null, double? Last = null)
{
    /// <summary>Whether a figure lies outside the machine's limits; never where none were entered.</summary>
    public bool IsOutside(double figure) => figure < Low || figure > High;
}

/// <summary>A step of a job card, as the card was made.</summary>
public sealed record JobStep
{
    /// <summary>Name on the card: item, a dot, what is done.</summary>
    public required string Code { get; init; }

    /// <summary>What it is of what the card puts between; none for a step of an item, a defect or the card.</summary>
    public CardBetween Between { get; init; }

    /// <summary>The state in which it is done; null when that does not matter.</summary>
    public MachineState? State { get; init; }

    /// <summary>How warm the machine has to be; null when that does not matter.</summary>
    public StepHeat? Heat { get; init; }

    /// <summary>Nothing may run during its wait.</summary>
    public bool Still { get; init; }

    /// <summary>Circuit that it opens; empty for none.</summary>
    public string Opens { get; init; } = "";

    /// <summary>Circuit that it shuts.</summary>
    public string Shuts { get; init; } = "";

    /// <summary>Circuit that it fills.</summary>
    public string Fills { get; init; } = "";

    /// <summary>Litres that its vessel needs room for; null where nobody knows, and for what opens nothing.</summary>
    public double? Room { get; init; }

    /// <summary>It opens the coolant: only cold, by the clock and by a hand.</summary>
    public bool Cool { get; init; }

    /// <summary>The level without which nothing is started.</summary>
    public bool BeforeRun { get; init; }

    /// <summary>A paper element: nothing is screwed on or oiled.</summary>
    public bool Paper { get; init; }

    /// <summary>What it consists of; all of it is done when the step is.</summary>
    public ImmutableArray<string> Parts { get; init; } = [];

    /// <summary>Every part is ticked by itself: the first lockout of a card, and what is opened only cold.</summary>
    public bool TickEach { get; init; }

    /// <summary>Its parts are off until it is done: an item that was left had taken them off, and nobody had recorded it.</summary>
    public bool PutsBack { get; init; }

    /// <summary>It is done with words beside it: why.</summary>
    public bool NeedsWords { get; init; }

    /// <summary>Code of a step that another person must have answered than who answers this one; empty for none.</summary>
    public string Besides { get; init; } = "";

    /// <summary>Codes of the steps for which it is done; when all of them are left, so is it. Empty: it is always done.</summary>
    public ImmutableArray<string> For { get; init; } = [];

    /// <summary>What is entered.</summary>
    [JsonPropertyName("ask")]
    public required InputKind Input { get; init; }

    /// <summary>What is done, in words.</summary>
    public required string Words { get; init; }

    /// <summary>Item it belongs to; empty for the card's own steps.</summary>
    public string Item { get; init; } = "";

    /// <summary>Compartment; empty for none.</summary>
    public string Compartment { get; init; } = "";

    /// <summary>Minutes of hands.</summary>
    public double Minutes { get; init; }

    /// <summary>Minutes of the table where the machine's own past says otherwise; null where they are the same.</summary>
    public double? Table { get; init; }

    /// <summary>Minutes of hands as the table has them.</summary>
    [JsonIgnore]
    public double TableMinutes => Table ?? Minutes;

    /// <summary>Minutes that pass by themselves.</summary>
    public double Wait { get; init; }

    /// <summary>Codes of steps that come before.</summary>
    public ImmutableArray<string> After { get; init; } = [];

    /// <summary>What must be open.</summary>
    public string Access { get; init; } = "";

    /// <summary>How the machine must stand.</summary>
    public string Posture { get; init; } = "";

    /// <summary>The caution that belongs to it.</summary>
    public string Caution { get; init; } = "";

    /// <summary>What it takes off or opens, to be ticked home before the engine starts.</summary>
    public string Touches { get; init; } = "";

    /// <summary>Only for people qualified for it: needs a name.</summary>
    public bool Qualified { get; init; }

    /// <summary>Drain: litres expected. Fill: litres to pour. Level after the run: expected top-up.</summary>
    public double? Litres { get; init; }

    /// <summary>Litres that the compartment holds.</summary>
    public double? Capacity { get; init; }

    /// <summary>What a change of fluid is held against; null where nobody entered its capacity and its stick.</summary>
    public ChangeFacts? Change { get; init; }

    /// <summary>A hub or a drive that uses no oil: what is missing there has leaked.</summary>
    public bool Sealed { get; init; }

    /// <summary>The vessel under a drain, and what it holds.</summary>
    public string Vessel { get; init; } = "";

    /// <summary>Litres of that vessel.</summary>
    public double? VesselLitres { get; init; }

    /// <summary>The fluid that goes in.</summary>
    public string Fluid { get; init; } = "";

    /// <summary>Waste stream of what comes out: oil, coolant or fuel.</summary>
    public string Stream { get; init; } = "";

    /// <summary>How many points there are.</summary>
    public int Points { get; init; }

    /// <summary>Figures that it asks for.</summary>
    public ImmutableArray<AskedFigure> Figures { get; init; } = [];

    /// <summary>Litres between the marks of the stick; null when not known.</summary>
    public double? BetweenMarks { get; init; }

    /// <summary>Torque as the machine's data say; empty when they do not.</summary>
    public string Torque { get; init; } = "";

    /// <summary>Longest seconds to pressure; null when not held.</summary>
    public double? Seconds { get; init; }

    /// <summary>Unit of a figure.</summary>
    public string Unit { get; init; } = "";

    /// <summary>Code of the filter position.</summary>
    public string Position { get; init; } = "";

    /// <summary>What the position asks for.</summary>
    public FilterSize Size { get; init; } = new();

    /// <summary>Part number that belongs there.</summary>
    public string Part { get; init; } = "";

    /// <summary>Part numbers that may stand in for it.</summary>
    public ImmutableArray<string> Alternates { get; init; } = [];

    /// <summary>The maker's word on pre-filling.</summary>
    public PrefillRule Prefill { get; init; }

    /// <summary>How far it is turned.</summary>
    public TurnRule Turn { get; init; }

    /// <summary>Plug positions of a hub, clock hours: drain, level, fill. Empty for none.</summary>
    public string Hub { get; init; } = "";

    /// <summary>Words under it: why, or how.</summary>
    public string Why { get; init; } = "";

    /// <summary>Whether metal here stops the machine: engine and hubs.</summary>
    public bool MetalStops { get; init; }

    /// <summary>Number of the defect that it repairs.</summary>
    public long? Defect { get; init; }

    /// <summary>Somebody stands by while it runs: its vessel is too small to be left alone.</summary>
    [JsonIgnore]
    public bool Attended => Opens.Length > 0 && Vessel.Length > 0 && Room * VesselReserve > VesselLitres;

    /// <summary>It changes the state or the position of the machine: all before it is over first.</summary>
    [JsonIgnore]
    public bool IsBoundary =>
        Between
            is CardBetween.Isolate
                or CardBetween.Release
                or CardBetween.Start
                or CardBetween.Clear
                or CardBetween.Stop
                or CardBetween.Move;

    /// <summary>It is done in the cab, one after the other: nobody taps a screen while it runs or moves.</summary>
    [JsonIgnore]
    public bool InCab => Between is CardBetween.Start or CardBetween.WarmUp or CardBetween.Clear or CardBetween.Move or CardBetween.Stop;

    /// <summary>A vessel holds what comes out this many times.</summary>
    public const double VesselReserve = 1.1;
}
