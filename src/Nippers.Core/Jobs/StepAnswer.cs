using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Nippers.Core.Defects;
using Nippers.Core.Parts;
using Nippers.Core.Walk;

namespace Nippers.Core.Jobs;

/// <summary>Metal on a magnet or in a used filter.</summary>
/// <remarks>
/// Rules 10: fine paste is normal; flakes or chunks are looked into by a named person. A low laboratory figure never clears them.
/// </remarks>
public enum MetalFinding
{
    /// <summary>Nothing.</summary>
    Clean,

    /// <summary>Fine paste, as wear makes it.</summary>
    FinePaste,

    /// <summary>Flakes.</summary>
    Flakes,

    /// <summary>Chunks.</summary>
    Chunks,

    /// <summary>The filter was never changed before: the factory's own.</summary>
    NeverChanged,
}

/// <summary>
/// An answer to a step of a job card, as it was given: one kind for each kind of question. It is the same in a form, in the
/// database and in a file; <c>kind</c> says there which it is. What is missing in one is judged, not refused: it is kept, and
/// the step is not done with it.
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(TickAnswer), "tick")]
[JsonDerivedType(typeof(LookAnswer), "look")]
[JsonDerivedType(typeof(LevelStepAnswer), "level")]
[JsonDerivedType(typeof(DrainedAnswer), "drained")]
[JsonDerivedType(typeof(MagnetAnswer), "magnet")]
[JsonDerivedType(typeof(PlugAnswer), "plug")]
[JsonDerivedType(typeof(FilterAnswer), "filter")]
[JsonDerivedType(typeof(FillAnswer), "fill")]
[JsonDerivedType(typeof(PressureAnswer), "pressure")]
[JsonDerivedType(typeof(CountAnswer), "count")]
[JsonDerivedType(typeof(BeforeAfterAnswer), "beforeAfter")]
[JsonDerivedType(typeof(VoltsAnswer), "volts")]
[JsonDerivedType(typeof(CoolantAnswer), "coolant")]
[JsonDerivedType(typeof(WaterAnswer), "water")]
[JsonDerivedType(typeof(BottleAnswer), "bottle")]
[JsonDerivedType(typeof(TouchedAnswer), "touched")]
[JsonDerivedType(typeof(WasteAnswer), "waste")]
[JsonDerivedType(typeof(MeasuredAnswer), "measured")]
public abstract record StepAnswer
{
    private protected StepAnswer() { }

    /// <summary>The qualified person who did it.</summary>
    public string? Name { get; init; }

    /// <summary>Words added to it.</summary>
    public string? Note { get; init; }

    /// <summary>Parts of the step that were ticked; null for none.</summary>
    public ImmutableArray<string>? Ticked { get; init; }

    /// <summary>Hands the answer to the case of its kind.</summary>
    public abstract T To<T>(IStepAnswerCases<T> cases);
}

/// <summary>An answer that counts in the oil that came out or went in.</summary>
public interface ILitresAnswer
{
    /// <summary>Litres drained, filled or added; null for none.</summary>
    double? Litres { get; }
}

/// <summary>An answer that can say why it is not what was expected, or why it came early.</summary>
public interface IReasonAnswer
{
    /// <summary>Why; null when nobody says.</summary>
    string? Reason { get; }
}

/// <summary>An answer that says how a fluid looks.</summary>
public interface ILookAnswer
{
    /// <summary>How it looks; null when nobody says.</summary>
    FluidLook? Look { get; }
}

/// <summary>An answer that says what metal was found.</summary>
public interface IMetalAnswer
{
    /// <summary>The finding; null when nobody says.</summary>
    MetalFinding? Metal { get; }
}

/// <summary>An answer in which a fault can be told in words.</summary>
public interface IFaultAnswer
{
    /// <summary>The fault; null when there is none.</summary>
    string? Fault { get; }

    /// <summary>How grave it is; null leaves it to the list.</summary>
    DefectGrade? Grade { get; }
}

/// <summary>That it was done.</summary>
/// <param name="Done">Whether it was.</param>
public sealed record TickAnswer(bool Done) : StepAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Tick(this);
}

/// <summary>Looked at: OK, or a fault in words.</summary>
/// <param name="Ok">As it should be.</param>
/// <param name="Fault">What is wrong; null when nothing is.</param>
/// <param name="Grade">How grave; null leaves it to the list.</param>
public sealed record LookAnswer(bool Ok, string? Fault = null, DefectGrade? Grade = null) : StepAnswer, IFaultAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Look(this);
}

/// <summary>A level read on the card, and what was added.</summary>
/// <param name="Level">0 at low, 1 at high; null when it was not read.</param>
/// <param name="Look">How the fluid looks; null when nobody says.</param>
/// <param name="Litres">Litres added; null for none.</param>
/// <param name="Reason">Why the total is off.</param>
public sealed record LevelStepAnswer(double? Level, FluidLook? Look = null, double? Litres = null, string? Reason = null)
    : StepAnswer,
        ILitresAnswer,
        ILookAnswer,
        IReasonAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Level(this);
}

/// <summary>Litres that came out.</summary>
/// <param name="Litres">How many; null when nobody measured.</param>
/// <param name="Look">How it looks; null when nobody says.</param>
/// <param name="Reason">Why they are off.</param>
public sealed record DrainedAnswer(double? Litres, FluidLook? Look = null, string? Reason = null)
    : StepAnswer,
        ILitresAnswer,
        ILookAnswer,
        IReasonAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Drained(this);
}

/// <summary>What was on the magnet.</summary>
/// <param name="Metal">The finding; null when nobody says.</param>
public sealed record MagnetAnswer(MetalFinding? Metal) : StepAnswer, IMetalAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Magnet(this);
}

/// <summary>Plugs home.</summary>
/// <param name="Count">How many.</param>
/// <param name="SealNew">Each with a new seal.</param>
/// <param name="Torqued">Each torqued and striped.</param>
public sealed record PlugAnswer(int? Count, bool SealNew, bool Torqued) : StepAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Plug(this);
}

/// <summary>A filter changed.</summary>
public sealed record FilterAnswer : StepAnswer, IMetalAnswer
{
    /// <summary>Part number fitted.</summary>
    public string? Part { get; init; }

    /// <summary>Who made the part that was fitted; null when nobody wrote it down.</summary>
    public string? Make { get; init; }

    /// <summary>What it measures.</summary>
    public FilterSize Size { get; init; } = new();

    /// <summary>What the old one held.</summary>
    public MetalFinding? Metal { get; init; }

    /// <summary>The old seal came off with the old filter.</summary>
    public bool SealOff { get; init; }

    /// <summary>The seat was wiped and is free of the old seal.</summary>
    public bool SeatWiped { get; init; }

    /// <summary>The new seal is oiled.</summary>
    public bool SealOiled { get; init; }

    /// <summary>Turned after contact as the position says.</summary>
    public bool Turned { get; init; }

    /// <summary>Date and hours written on it.</summary>
    public bool Written { get; init; }

    /// <summary>Filled before it went on.</summary>
    public bool Prefilled { get; init; }

    /// <summary>Why a part that is not listed was fitted.</summary>
    public string? Reason { get; init; }

    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Filter(this);
}

/// <summary>Litres that went in.</summary>
/// <param name="Litres">How many; null when nobody measured.</param>
/// <param name="Reason">Why they are off.</param>
/// <param name="RecordWrong">The capacity or the marks on record are wrong: two people say so, and the dipstick decides.</param>
public sealed record FillAnswer(double? Litres, string? Reason = null, bool RecordWrong = false) : StepAnswer, ILitresAnswer, IReasonAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Fill(this);
}

/// <summary>Seconds until the pressure was up.</summary>
/// <param name="Seconds">How many; null when nobody counted.</param>
public sealed record PressureAnswer(double? Seconds) : StepAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Pressure(this);
}

/// <summary>Points done, of those there are.</summary>
/// <param name="Count">How many.</param>
/// <param name="Fault">Which is not, and why.</param>
/// <param name="Grade">How grave that is; null leaves it to the list.</param>
public sealed record CountAnswer(int? Count, string? Fault = null, DefectGrade? Grade = null) : StepAnswer, IFaultAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Count(this);
}

/// <summary>A figure before and after.</summary>
/// <param name="Found">As found.</param>
/// <param name="Left">As left; null when it was left as found.</param>
public sealed record BeforeAfterAnswer(double? Found, double? Left = null) : StepAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.BeforeAfter(this);
}

/// <summary>Volts of each battery at rest.</summary>
/// <param name="Volts">One figure a battery.</param>
public sealed record VoltsAnswer(ImmutableArray<double> Volts) : StepAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Volts(this);
}

/// <summary>Coolant read.</summary>
/// <param name="Share">Share of concentrate, percent.</param>
public sealed record CoolantAnswer(double? Share) : StepAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Coolant(this);
}

/// <summary>Water from a bowl or tank.</summary>
/// <param name="Water">How much; null when nobody says.</param>
public sealed record WaterAnswer(DrainAmount? Water) : StepAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Water(this);
}

/// <summary>A sample drawn.</summary>
/// <param name="Bottle">Code on the bottle.</param>
public sealed record BottleAnswer(string? Bottle) : StepAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Bottle(this);
}

/// <summary>Everything touched, looked over before a start.</summary>
/// <param name="Home">What of it is home.</param>
public sealed record TouchedAnswer(ImmutableArray<string> Home) : StepAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Touched(this);
}

/// <summary>Waste handed over.</summary>
/// <param name="Place">Where it went.</param>
public sealed record WasteAnswer(string? Place) : StepAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Waste(this);
}

/// <summary>Figures measured, each in its unit.</summary>
/// <param name="Figures">One for each that the step asks for, in its order; null for one that could not be taken.</param>
/// <param name="Fault">What is wrong; null when nothing is.</param>
/// <param name="Grade">How grave that is; null leaves it to the list.</param>
public sealed record MeasuredAnswer(ImmutableArray<double?> Figures, string? Fault = null, DefectGrade? Grade = null)
    : StepAnswer,
        IFaultAnswer
{
    /// <inheritdoc/>
    public override T To<T>(IStepAnswerCases<T> cases) => cases.Measured(this);
}

/// <summary>
/// Something that is said or done for every kind of answer. A kind added to <see cref="StepAnswer"/> adds a case here, and
/// whatever forgets it does not compile.
/// </summary>
public interface IStepAnswerCases<out T>
{
    /// <summary>That it was done.</summary>
    T Tick(TickAnswer answer);

    /// <summary>Looked at: OK, or a fault in words.</summary>
    T Look(LookAnswer answer);

    /// <summary>A level read on the card, and what was added.</summary>
    T Level(LevelStepAnswer answer);

    /// <summary>Litres that came out.</summary>
    T Drained(DrainedAnswer answer);

    /// <summary>What was on the magnet.</summary>
    T Magnet(MagnetAnswer answer);

    /// <summary>Plugs home.</summary>
    T Plug(PlugAnswer answer);

    /// <summary>A filter changed.</summary>
    T Filter(FilterAnswer answer);

    /// <summary>Litres that went in.</summary>
    T Fill(FillAnswer answer);

    /// <summary>Seconds until the pressure was up.</summary>
    T Pressure(PressureAnswer answer);

    /// <summary>Points done, of those there are.</summary>
    T Count(CountAnswer answer);

    /// <summary>A figure before and after.</summary>
    T BeforeAfter(BeforeAfterAnswer answer);

    /// <summary>Volts of each battery at rest.</summary>
    T Volts(VoltsAnswer answer);

    /// <summary>Coolant read.</summary>
    T Coolant(CoolantAnswer answer);

    /// <summary>Water from a bowl or tank.</summary>
    T Water(WaterAnswer answer);

    /// <summary>A sample drawn.</summary>
    T Bottle(BottleAnswer answer);

    /// <summary>Everything touched, looked over before a start.</summary>
    T Touched(TouchedAnswer answer);

    /// <summary>Waste handed over.</summary>
    T Waste(WasteAnswer answer);

    /// <summary>Figures measured.</summary>
    T Measured(MeasuredAnswer answer);
}
