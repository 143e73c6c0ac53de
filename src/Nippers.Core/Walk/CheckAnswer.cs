using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Nippers.Core.Defects;
using Nippers.Core.Fluids;

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

/// <summary>An answer to a check, as it was given.</summary>
public sealed record CheckAnswer
{
    /// <summary>OK, works, or no codes; null when the check is answered by figures.</summary>
    [JsonPropertyName("sound")]
    public bool? Ok { get; init; }

    /// <summary>Level: 0 at low, 1 at high.</summary>
    public double? Level { get; init; }

    /// <summary>Level: litres added.</summary>
    public double? Added { get; init; }

    /// <summary>Level: how the fluid looks.</summary>
    public FluidLook? Look { get; init; }

    /// <summary>Measure: the figures.</summary>
    public ImmutableArray<double>? Figures { get; init; }

    /// <summary>Count and grease: state of each point.</summary>
    public ImmutableArray<PointState>? Points { get; init; }

    /// <summary>Drain: what came out.</summary>
    public DrainAmount? Drained { get; init; }

    /// <summary>Code: the codes shown.</summary>
    public ImmutableArray<FaultCode>? Codes { get; init; }

    /// <summary>Read in the wrong posture: kept, not used.</summary>
    public bool WrongPosture { get; init; }

    /// <summary>What must hold was ticked.</summary>
    public bool Ticked { get; init; }

    /// <summary>Why it was left out; null when it was not.</summary>
    public string? LeftOut { get; init; }

    /// <summary>Words added to it.</summary>
    public string? Note { get; init; }

    /// <summary>Seen sound and nothing else said.</summary>
    public static CheckAnswer Plain { get; } = new() { Ok = true };
}

/// <summary>What an answer came to.</summary>
public enum CheckOutcome
{
    /// <summary>As it should be.</summary>
    Ok,

    /// <summary>Passes, and is worth looking at again.</summary>
    Watch,

    /// <summary>Fails.</summary>
    Fault,

    /// <summary>Kept, but there is no limit to hold it against.</summary>
    NotJudged,

    /// <summary>Kept, but taken in the wrong posture: used for nothing.</summary>
    NotUsed,

    /// <summary>Some points are still to be reached.</summary>
    Unfinished,

    /// <summary>Left out, with the reason.</summary>
    LeftOut,
}

/// <summary>Why an answer came to what it did.</summary>
public enum CheckReason
{
    /// <summary>Seen sound.</summary>
    Ok,

    /// <summary>Seen faulty.</summary>
    Faulty,

    /// <summary>Below the low mark.</summary>
    BelowLow,

    /// <summary>Below the low mark, and topped up.</summary>
    ToppedUp,

    /// <summary>Above the high mark after a fill or top-up.</summary>
    AboveHigh,

    /// <summary>Above the high mark, and nothing explains it: fuel or coolant in the oil.</summary>
    AboveHighUnexplained,

    /// <summary>Milky.</summary>
    Milky,

    /// <summary>Gritty.</summary>
    Gritty,

    /// <summary>A sealed hub or drive needed oil.</summary>
    SealedLeak,

    /// <summary>Below the least that passes.</summary>
    UnderLimit,

    /// <summary>Above the most that passes.</summary>
    OverLimit,

    /// <summary>Near the least that passes.</summary>
    NearLimit,

    /// <summary>Within limits.</summary>
    WithinLimits,

    /// <summary>No limit is entered.</summary>
    NoLimit,

    /// <summary>Points missing or bad.</summary>
    PointsBad,

    /// <summary>Fittings that take none or are seized.</summary>
    GreaseRefused,

    /// <summary>Points still to be reached.</summary>
    PointsLeft,

    /// <summary>A little water was drained.</summary>
    WaterLittle,

    /// <summary>A lot of water was drained.</summary>
    WaterLot,

    /// <summary>Codes are shown.</summary>
    CodesShown,

    /// <summary>All codes shown are known already.</summary>
    CodesKnown,

    /// <summary>Taken in the wrong posture.</summary>
    WrongPosture,

    /// <summary>Left out.</summary>
    LeftOut,
}

/// <summary>What to do about a track's sag.</summary>
public enum SagAdvice
{
    /// <summary>Nothing.</summary>
    None,

    /// <summary>Too loose: pump grease in.</summary>
    GreaseIn,

    /// <summary>Too tight: let grease out slowly, standing clear.</summary>
    GreaseOut,
}

/// <summary>A judged answer, with the figure it was judged by.</summary>
/// <param name="Outcome">What it came to.</param>
/// <param name="Reason">Why.</param>
/// <param name="Grade">Grade of the defect it asks for; null when it asks for none.</param>
/// <param name="Value">The figure: mean of those entered, count, or level.</param>
/// <param name="AddLitres">Level: litres to add to high; null without marks.</param>
/// <param name="Advice">Track sag: what to do.</param>
public sealed record CheckResult(
    CheckOutcome Outcome,
    CheckReason Reason,
    DefectGrade? Grade = null,
    double? Value = null,
    double? AddLitres = null,
    SagAdvice Advice = SagAdvice.None
);

/// <summary>Judges answers.</summary>
/// <remarks>Rules 7.</remarks>
public static class CheckJudge
{
    /// <summary>Judges an answer to a check.</summary>
    /// <param name="check">The check, with the machine's own limits applied.</param>
    /// <param name="answer">The answer; it must hold what the check's kind asks for.</param>
    /// <param name="knownCodes">Codes that are open defects of the machine already.</param>
    /// <param name="explained">A fill or top-up since the last walk explains a level above high.</param>
    /// <exception cref="ArgumentException">The answer does not fit the check's kind.</exception>
    public static CheckResult Judge(WalkCheck check, CheckAnswer answer, IReadOnlySet<FaultCode>? knownCodes = null, bool explained = false)
    {
        if (answer.LeftOut is not null)
            return new(CheckOutcome.LeftOut, CheckReason.LeftOut);
        var result = check.Kind switch
        {
            CheckKind.Level when answer.Level is { } level => Level(check, answer, level, explained),
            CheckKind.Measure when answer.Figures is { Length: > 0 } figures => Measure(check, figures.Average()),
            CheckKind.Count or CheckKind.Grease when answer.Points is { } points => Points(check, points),
            CheckKind.Drain when answer.Drained is { } drained => drained switch
            {
                DrainAmount.None => new(CheckOutcome.Ok, CheckReason.Ok, Value: 0),
                DrainAmount.Little => new(CheckOutcome.Watch, CheckReason.WaterLittle, Value: 1),
                _ => new CheckResult(CheckOutcome.Fault, CheckReason.WaterLot, check.Grade, 2),
            },
            CheckKind.Code when answer.Codes is { Length: > 0 } codes => Codes(check, codes, knownCodes),
            _ when answer.Ok is { } sound => sound
                ? new(CheckOutcome.Ok, CheckReason.Ok)
                : new(CheckOutcome.Fault, CheckReason.Faulty, check.Grade),
            _ => throw new ArgumentException($"The answer does not fit a check of kind {check.Kind}.", nameof(answer)),
        };
        if (
            answer.WrongPosture
            && check.Kind is CheckKind.Level or CheckKind.Measure
            && result.Reason is not (CheckReason.Milky or CheckReason.Gritty)
        )
        {
            return new(CheckOutcome.NotUsed, CheckReason.WrongPosture, Value: result.Value);
        }

        return result.Grade is { } grade ? result with { Grade = DefectRules.GradeOf(grade, check.Safety) } : result;
    }

    private static CheckResult Level(WalkCheck check, CheckAnswer answer, double level, bool explained)
    {
        double? add = check.MarkLitres is { } marks ? Dipstick.Of(level, 1, marks).AddLitres : null;
        CheckResult Fault(CheckReason reason, DefectGrade grade) => new(CheckOutcome.Fault, reason, grade, level, add);

        if (answer.Look == FluidLook.Milky)
            return Fault(CheckReason.Milky, DefectGrade.Stop);
        if (answer.Look == FluidLook.Gritty)
            return Fault(CheckReason.Gritty, DefectGrade.Stop);
        if (check.Sealed && answer.Added > 0)
            return Fault(CheckReason.SealedLeak, check.Grade);
        if (level > 1)
            return explained || answer.Added > 0
                ? Fault(CheckReason.AboveHigh, check.Grade)
                : Fault(CheckReason.AboveHighUnexplained, DefectGrade.Stop);
        if (level >= 0)
            return new(CheckOutcome.Ok, CheckReason.WithinLimits, Value: level, AddLitres: add);
        var after = check.MarkLitres is { } litres && answer.Added is { } added ? level + added / litres : level;
        return after >= 0
            ? new(CheckOutcome.Watch, CheckReason.ToppedUp, Value: level, AddLitres: add)
            : Fault(CheckReason.BelowLow, check.Grade);
    }

    private static CheckResult Measure(WalkCheck check, double value)
    {
        SagAdvice Advice(bool loose) =>
            !check.Sag ? SagAdvice.None
            : loose ? SagAdvice.GreaseIn
            : SagAdvice.GreaseOut;
        if (value < check.Low)
            return new(CheckOutcome.Fault, CheckReason.UnderLimit, check.Grade, value, Advice: Advice(loose: false));
        if (value > check.High)
            return new(CheckOutcome.Fault, CheckReason.OverLimit, check.Grade, value, Advice: Advice(loose: true));
        if (check.Low is null && check.High is null && check.WatchBelow is null)
            return new(CheckOutcome.NotJudged, CheckReason.NoLimit, Value: value);
        return value < check.WatchBelow
            ? new(CheckOutcome.Watch, CheckReason.NearLimit, Value: value)
            : new(CheckOutcome.Ok, CheckReason.WithinLimits, Value: value);
    }

    private static CheckResult Points(WalkCheck check, ImmutableArray<PointState> points)
    {
        double good = points.Count(x => x == PointState.Good);
        if (points.Any(x => x is PointState.Bad or PointState.Seized))
        {
            return new(
                CheckOutcome.Fault,
                check.Kind == CheckKind.Grease ? CheckReason.GreaseRefused : CheckReason.PointsBad,
                check.Grade,
                good
            );
        }

        return points.Any(x => x is PointState.Open or PointState.Later)
            ? new(CheckOutcome.Unfinished, CheckReason.PointsLeft, Value: good)
            : new(CheckOutcome.Ok, CheckReason.Ok, Value: good);
    }

    private static CheckResult Codes(WalkCheck check, ImmutableArray<FaultCode> codes, IReadOnlySet<FaultCode>? known) =>
        codes.All(code => known?.Contains(code) == true)
            ? new(CheckOutcome.Watch, CheckReason.CodesKnown, Value: codes.Length)
            : new(CheckOutcome.Fault, CheckReason.CodesShown, check.Grade, codes.Length);
}

/// <summary>A fault code as SAE J1939-73 writes it.</summary>
/// <param name="Spn">Suspect parameter number, 0 to 524287.</param>
/// <param name="Fmi">Failure mode identifier, 0 to 31.</param>
public readonly record struct FaultCode(int Spn, int Fmi)
{
    /// <summary>Largest parameter number.</summary>
    public const int LargestSpn = 524_287;

    /// <summary>Largest failure mode.</summary>
    public const int LargestFmi = 31;

    /// <summary>Reads <c>100/1</c>, <c>100-1</c>, <c>100 1</c> or <c>SPN 100 FMI 1</c>.</summary>
    /// <returns>Null when it is no code.</returns>
    public static FaultCode? Parse(string? text)
    {
        var words = (text ?? "")
            .ToUpperInvariant()
            .Replace("SPN", " ", StringComparison.Ordinal)
            .Replace("FMI", " ", StringComparison.Ordinal)
            .Split([' ', '/', '-', ':', '.'], StringSplitOptions.RemoveEmptyEntries);
        return
            words.Length == 2
            && int.TryParse(
                words[0],
                System.Globalization.NumberStyles.None,
                System.Globalization.CultureInfo.InvariantCulture,
                out var spn
            )
            && spn <= LargestSpn
            && int.TryParse(
                words[1],
                System.Globalization.NumberStyles.None,
                System.Globalization.CultureInfo.InvariantCulture,
                out var fmi
            )
            && fmi <= LargestFmi
            ? new(spn, fmi)
            : null;
    }

    /// <summary>The parameters whose public meaning Nippers tells.</summary>
    public static ImmutableArray<int> KnownSpns { get; } = [97, 100, 107, 110, 111, 168, 177, 1761];

    /// <summary>The code as <c>100/1</c>.</summary>
    public override string ToString() => string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{Spn}/{Fmi}");
}
