using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace Nippers.Core.Walk;

/// <summary>How a fluid looks.</summary>
public enum FluidLook
{
    /// <summary>Clear.</summary>
    Clear,

    /// <summary>Dark, as worked oil is.</summary>
    Dark,

    /// <summary>Milky: water or coolant in it. A fault whatever the level.</summary>
    Milky,

    /// <summary>Gritty: dirt or metal in it. A fault whatever the level.</summary>
    Gritty,
}

/// <summary>What came of a point that is counted or greased.</summary>
public enum PointState
{
    /// <summary>Not come to yet.</summary>
    Open,

    /// <summary>OK, present, or purged with fresh grease.</summary>
    Good,

    /// <summary>Missing, loose, not resetting; a fitting that takes none.</summary>
    Bad,

    /// <summary>A fitting or joint that is seized.</summary>
    Seized,

    /// <summary>Reached only in another posture: stays on the list.</summary>
    Later,
}

/// <summary>Where a fluid stands when it is read again after topping up.</summary>
public enum LevelAfter
{
    /// <summary>Still below low.</summary>
    Below,

    /// <summary>Between the marks.</summary>
    Between,

    /// <summary>Above high: too much went in.</summary>
    Above,
}

/// <summary>What came out of a bowl.</summary>
public enum DrainAmount
{
    /// <summary>Nothing but fuel.</summary>
    None,

    /// <summary>A little water or dirt.</summary>
    Little,

    /// <summary>A lot.</summary>
    Lot,
}

/// <summary>
/// An answer to a check, as it was given: one kind of answer for each kind of question. It is the same in a form, in the
/// program's interface, in the database and in a file; <c>kind</c> says in all of them which it is.
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(SeenAnswer), "seen")]
[JsonDerivedType(typeof(LevelAnswer), "level")]
[JsonDerivedType(typeof(MeasureAnswer), "measure")]
[JsonDerivedType(typeof(PointsAnswer), "points")]
[JsonDerivedType(typeof(DrainAnswer), "drain")]
[JsonDerivedType(typeof(CodesAnswer), "codes")]
[JsonDerivedType(typeof(LeftOutAnswer), "leftOut")]
public abstract record CheckAnswer
{
    private protected CheckAnswer() { }

    /// <summary>What must hold was ticked.</summary>
    public bool Ticked { get; init; }

    /// <summary>Read in the wrong posture: kept, not used.</summary>
    public bool WrongPosture { get; init; }

    /// <summary>Words added to it.</summary>
    public string? Note { get; init; }

    /// <summary>Seen OK and nothing else said.</summary>
    public static CheckAnswer Plain { get; } = new SeenAnswer(true);

    /// <summary>Seen OK with all else that was left of its station.</summary>
    public static CheckAnswer OkAtOnce { get; } = new SeenAnswer(true, AtOnce: true);

    /// <summary>Hands the answer to the case of its kind.</summary>
    public abstract T To<T>(ICheckAnswerCases<T> cases);
}

/// <summary>Looked at or tried: OK, works, no codes; or not.</summary>
/// <param name="Ok">Whether it is as it should be.</param>
/// <param name="AtOnce">Said of a whole station at once.</param>
public sealed record SeenAnswer([property: JsonRequired, JsonIgnore(Condition = JsonIgnoreCondition.Never)] bool Ok, bool AtOnce = false)
    : CheckAnswer
{
    /// <inheritdoc/>
    public override T To<T>(ICheckAnswerCases<T> cases) => cases.Seen(this);
}

/// <summary>A level read.</summary>
/// <param name="Level">0 at low, 1 at high.</param>
/// <param name="Look">How the fluid looks.</param>
/// <param name="Added">Litres added after reading; null for none.</param>
/// <param name="After">Where it stands when read again after adding; null when nobody read again.</param>
/// <param name="InPosition">Above a glass: the machine does stand in its level position.</param>
/// <param name="Cold">Read at the mark for cold: enough to start, and never the reading itself.</param>
public sealed record LevelAnswer(
    [property: JsonRequired, JsonIgnore(Condition = JsonIgnoreCondition.Never)] double Level,
    [property: JsonRequired, JsonIgnore(Condition = JsonIgnoreCondition.Never)] FluidLook Look,
    double? Added = null,
    LevelAfter? After = null,
    bool InPosition = false,
    bool Cold = false
) : CheckAnswer
{
    /// <inheritdoc/>
    public override T To<T>(ICheckAnswerCases<T> cases) => cases.Level(this);
}

/// <summary>Something measured, in the check's unit.</summary>
/// <param name="Figures">One figure or several of the same thing; their mean is judged.</param>
/// <param name="Typed">As it was typed, where that was in another unit: <c>51 psi</c>; null when it was in the check's.</param>
public sealed record MeasureAnswer([property: JsonRequired] ImmutableArray<double> Figures, string? Typed = null) : CheckAnswer
{
    /// <inheritdoc/>
    public override T To<T>(ICheckAnswerCases<T> cases) => cases.Measure(this);
}

/// <summary>Points counted or greased.</summary>
/// <param name="Points">State of each, in the check's order.</param>
public sealed record PointsAnswer([property: JsonRequired] ImmutableArray<PointState> Points) : CheckAnswer
{
    /// <inheritdoc/>
    public override T To<T>(ICheckAnswerCases<T> cases) => cases.Points(this);
}

/// <summary>A bowl drained, as often as it took.</summary>
/// <param name="Drained">What came out the first time.</param>
/// <param name="Again">What came out each time after that; null or empty when it was drained once.</param>
public sealed record DrainAnswer(
    [property: JsonRequired, JsonIgnore(Condition = JsonIgnoreCondition.Never)] DrainAmount Drained,
    ImmutableArray<DrainAmount>? Again = null
) : CheckAnswer
{
    /// <summary>Each draining in turn.</summary>
    [JsonIgnore]
    public ImmutableArray<DrainAmount> All => Again is { IsDefaultOrEmpty: false } more ? [Drained, .. more] : [Drained];

    /// <summary>The most that came out at once: what comes clear afterwards takes nothing back.</summary>
    [JsonIgnore]
    public DrainAmount Most => All.Max();

    /// <summary>What came out last.</summary>
    [JsonIgnore]
    public DrainAmount Last => All[^1];

    /// <inheritdoc/>
    public override T To<T>(ICheckAnswerCases<T> cases) => cases.Drain(this);
}

/// <summary>Fault codes read from the display.</summary>
/// <param name="Codes">The codes shown; at least one, unless a red lamp is.</param>
/// <param name="Red">A red lamp or a word to stop stands on the display.</param>
/// <param name="Meaning">What the one code means, as the manual says; null when nobody looked, or for more codes than one.</param>
public sealed record CodesAnswer([property: JsonRequired] ImmutableArray<FaultCode> Codes, bool Red = false, string? Meaning = null)
    : CheckAnswer
{
    /// <inheritdoc/>
    public override T To<T>(ICheckAnswerCases<T> cases) => cases.Codes(this);
}

/// <summary>Not looked at.</summary>
/// <param name="Why">Why not.</param>
/// <param name="NotFitted">The machine does not have it: nothing is left unchecked.</param>
public sealed record LeftOutAnswer([property: JsonRequired] string Why, bool NotFitted = false) : CheckAnswer
{
    /// <summary>The reason that is written where a stop had been found: nobody turns a key after that.</summary>
    public const string StopFound = "stop-found";

    /// <inheritdoc/>
    public override T To<T>(ICheckAnswerCases<T> cases) => cases.LeftOut(this);
}

/// <summary>
/// Something that is said or done for every kind of answer. A kind added to <see cref="CheckAnswer"/> adds a case here, and
/// whatever forgets it does not compile.
/// </summary>
public interface ICheckAnswerCases<out T>
{
    /// <summary>Looked at or tried.</summary>
    T Seen(SeenAnswer answer);

    /// <summary>How full, and what the fluid looked like.</summary>
    T Level(LevelAnswer answer);

    /// <summary>A figure that was read off.</summary>
    T Measure(MeasureAnswer answer);

    /// <summary>Points counted or greased.</summary>
    T Points(PointsAnswer answer);

    /// <summary>A bowl drained.</summary>
    T Drain(DrainAnswer answer);

    /// <summary>Fault codes.</summary>
    T Codes(CodesAnswer answer);

    /// <summary>Nobody looked, with why.</summary>
    T LeftOut(LeftOutAnswer answer);
}
