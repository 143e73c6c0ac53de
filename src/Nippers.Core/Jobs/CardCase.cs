using System.Collections.Immutable;

namespace Nippers.Core.Jobs;

/// <summary>The state of a machine that is worked on; it is always in just one.</summary>
/// <remarks>Rules 5.</remarks>
public enum MachineState
{
    /// <summary>Engine off, not isolated; key on where a step asks for it.</summary>
    Off,

    /// <summary>Locked out: isolator padlocked off, key in the worker's pocket.</summary>
    Isolated,

    /// <summary>Parked, engine running, nobody near what turns.</summary>
    Running,

    /// <summary>Running, people clear, driven or worked.</summary>
    Moving,
}

/// <summary>How warm the machine has to be.</summary>
public enum StepHeat
{
    /// <summary>Cooled down, or never run.</summary>
    Cold,

    /// <summary>Warmed up, and not long ago.</summary>
    Warm,
}

/// <summary>What runs out of a circuit in a step, and where it runs to.</summary>
/// <param name="Circuit">The circuit that is opened.</param>
/// <param name="Litres">How much comes out, litres.</param>
/// <param name="Vessel">The vessel it runs into.</param>
/// <param name="Stream">Its waste stream: one at a time in a vessel.</param>
public sealed record StepDrain(string Circuit, decimal Litres, string Vessel, string Stream);

/// <summary>A step as far as its place on the card goes. What is null does not matter to it.</summary>
public sealed record CardStep
{
    /// <summary>Its name on the card.</summary>
    public required string Code { get; init; }

    /// <summary>Minutes of a person, 0 or more.</summary>
    public int Hands { get; init; }

    /// <summary>Minutes that then run by themselves, 0 or more.</summary>
    public int Wait { get; init; }

    /// <summary>The state in which it is done.</summary>
    public MachineState? State { get; init; }

    /// <summary>How warm the machine is for it.</summary>
    public StepHeat? Heat { get; init; }

    /// <summary>How the machine stands for it.</summary>
    public string? Posture { get; init; }

    /// <summary>What must be open for it, until its wait is over.</summary>
    public string? Access { get; init; }

    /// <summary>Steps that must have ended, their waits too.</summary>
    public ImmutableArray<string> After { get; init; } = [];

    /// <summary>What it drains.</summary>
    public StepDrain? Drain { get; init; }

    /// <summary>The circuit that it shuts.</summary>
    public string? Shut { get; init; }

    /// <summary>The circuit that it fills.</summary>
    public string? Fill { get; init; }

    /// <summary>Nothing may run during its wait.</summary>
    public bool Still { get; init; }
}

/// <summary>Something that is opened for work.</summary>
/// <param name="Code">Its word.</param>
/// <param name="Open">Minutes to open.</param>
/// <param name="Shut">Minutes to shut.</param>
/// <param name="MustBeShutToRun">The engine does not start while it is open.</param>
public sealed record CardAccess(string Code, int Open, int Shut, bool MustBeShutToRun);

/// <summary>A vessel to drain into.</summary>
/// <param name="Code">Its name.</param>
/// <param name="Litres">What it holds, litres.</param>
public sealed record CardVessel(string Code, decimal Litres);

/// <summary>Minutes of what lies between the steps.</summary>
/// <param name="Isolate">Off to isolated.</param>
/// <param name="Release">Isolated to off.</param>
/// <param name="Start">Off to running.</param>
/// <param name="Stop">Running or moving to off.</param>
/// <param name="Clear">Running to moving.</param>
/// <param name="WarmUp">Until it is warm.</param>
/// <param name="CoolDown">After a stop, until it is cold.</param>
/// <param name="WarmLasts">After a stop, as long as it counts as warm.</param>
/// <param name="Move">Into another posture.</param>
/// <param name="Empty">A vessel emptied.</param>
public sealed record CardMinutes(
    int Isolate,
    int Release,
    int Start,
    int Stop,
    int Clear,
    int WarmUp,
    int CoolDown,
    int WarmLasts,
    int Move,
    int Empty
);

/// <summary>The steps of a card, before they are in order.</summary>
public sealed record CardCase
{
    /// <summary>The steps.</summary>
    public required ImmutableArray<CardStep> Steps { get; init; }

    /// <summary>What can be opened.</summary>
    public ImmutableArray<CardAccess> Accesses { get; init; } = [];

    /// <summary>What is there to drain into, empty.</summary>
    public ImmutableArray<CardVessel> Vessels { get; init; } = [];

    /// <summary>Minutes of what lies between.</summary>
    public required CardMinutes Minutes { get; init; }

    /// <summary>No wait begins while another runs.</summary>
    public bool OneAtATime { get; init; }

    /// <summary>How warm it comes.</summary>
    public StepHeat Heat { get; init; }

    /// <summary>How it stands.</summary>
    public string Posture { get; init; } = "";

    /// <summary>Postures in which something hangs on hydraulics alone: nobody locks a machine out like that.</summary>
    public ImmutableHashSet<string> Hanging { get; init; } = [];
}

/// <summary>A step in its place, one that was put between too: their codes begin with <see cref="CardSequencer.Between"/>.</summary>
/// <param name="Code">Its name.</param>
/// <param name="Start">Minutes from the start of the card.</param>
/// <param name="End">The same, its wait with it.</param>
public readonly record struct PlacedStep(string Code, int Start, int End);

/// <summary>A card in order.</summary>
/// <param name="Order">Its steps with what lies between, as hands reach them.</param>
/// <param name="Elapsed">Minutes until it is over, all waits too.</param>
/// <param name="Hands">Minutes of hands, what lies between too.</param>
/// <param name="Lockouts">How often it is isolated.</param>
public sealed record CardSequence(ImmutableArray<PlacedStep> Order, int Elapsed, int Hands, int Lockouts);

/// <summary>No order satisfies a card.</summary>
/// <param name="message">Why, as far as it is known.</param>
public sealed class CardImpossibleException(string message) : Exception(message);
