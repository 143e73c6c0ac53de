using System.Collections.Immutable;
using Nippers.Core.Defects;
using Nippers.Core.Fluids;

namespace Nippers.Core.Walk;

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

    /// <summary>Below the low mark and topped up, for the second time in so few hours.</summary>
    ToppedUpAgain,

    /// <summary>Coolant above its mark.</summary>
    CoolantHigh,

    /// <summary>Hydraulic oil above its glass, in its level position.</summary>
    AboveGlass,

    /// <summary>Brake fluid below low, topped up or not: it went somewhere.</summary>
    BrakeFluidLow,

    /// <summary>Read on a slope: used for nothing.</summary>
    NotLevel,

    /// <summary>A red lamp or a word to stop is shown.</summary>
    RedLamp,

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

    /// <summary>A code is shown that stops the machine until a technician has looked.</summary>
    CodesStop,

    /// <summary>All codes shown are known already.</summary>
    CodesKnown,

    /// <summary>Taken in the wrong posture.</summary>
    WrongPosture,

    /// <summary>Left out.</summary>
    LeftOut,

    /// <summary>Right at the mark for cold: the machine may be started, and the level is read when it is warm.</summary>
    ColdMark,
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

/// <summary>What is known beside an answer, and changes what it means.</summary>
/// <remarks>Rules 7.</remarks>
public sealed record CheckContext
{
    /// <summary>Hours within which a second top-up of what was below low asks where it went.</summary>
    public const int AgainHours = 50;

    /// <summary>Nothing is known.</summary>
    public static CheckContext Nothing { get; } = new();

    /// <summary>Codes that are open, graded defects already; one that stops the machine is never passed for that.</summary>
    public IReadOnlySet<FaultCode> KnownCodes { get; init; } = ImmutableHashSet<FaultCode>.Empty;

    /// <summary>Parameter numbers that stop the machine besides those of <see cref="CodeMeanings"/>.</summary>
    public IReadOnlySet<int> StopSpns { get; init; } = ImmutableHashSet<int>.Empty;

    /// <summary>What somebody has said that codes of this machine mean, by code.</summary>
    public IReadOnlyDictionary<string, string> Meanings { get; init; } = ImmutableDictionary<string, string>.Empty;

    /// <summary>A fill or top-up explains a level above high.</summary>
    public bool Explained { get; init; }

    /// <summary>The same was topped up within <see cref="AgainHours"/>.</summary>
    public bool ToppedUpBefore { get; init; }

    /// <summary>The machine stands on a slope.</summary>
    public bool Slope { get; init; }

    /// <summary>Its hubs hold wet brakes.</summary>
    public bool WetBrakes { get; init; }
}

/// <summary>Judges answers.</summary>
/// <remarks>Rules 7.</remarks>
public static class CheckJudge
{
    /// <summary>Judges an answer to a check.</summary>
    /// <param name="check">The check, with the machine's own limits applied.</param>
    /// <param name="answer">The answer; see <see cref="Fits"/>.</param>
    /// <param name="around">What is known beside it; nothing when left out.</param>
    /// <exception cref="ArgumentException">The answer does not fit the check's kind.</exception>
    public static CheckResult Judge(WalkCheck check, CheckAnswer answer, CheckContext? around = null)
    {
        if (!Fits(check, answer))
            throw new ArgumentException($"The answer does not fit a check of kind {check.Kind}.", nameof(answer));
        around ??= CheckContext.Nothing;
        var result = answer.To(new Cases(check, around));

        // What the fluid looks like is true in any position; where it stands is not.
        if (result.Reason is not (CheckReason.Milky or CheckReason.Gritty))
        {
            if (answer.WrongPosture && answer is LevelAnswer or MeasureAnswer)
                return new(CheckOutcome.NotUsed, CheckReason.WrongPosture, Value: result.Value);
            if (around.Slope && answer is LevelAnswer)
                return new(CheckOutcome.NotUsed, CheckReason.NotLevel, Value: result.Value);
        }

        return result.Grade is { } grade ? result with { Grade = DefectRules.GradeOf(grade, check.Safety) } : result;
    }

    /// <summary>
    /// Whether an answer is of a kind that a check can have. A fault can be seen at any check, and any can be left out.
    /// </summary>
    public static bool Fits(WalkCheck check, CheckAnswer answer) =>
        answer switch
        {
            SeenAnswer or LeftOutAnswer => true,
            LevelAnswer => check.Kind == CheckKind.Level,
            MeasureAnswer measure => check.Kind == CheckKind.Measure && !measure.Figures.IsDefaultOrEmpty,
            PointsAnswer points => check.Kind is CheckKind.Count or CheckKind.Grease && !points.Points.IsDefault,
            DrainAnswer => check.Kind == CheckKind.Drain,
            CodesAnswer codes => check.Kind == CheckKind.Code && (codes.Red ? !codes.Codes.IsDefault : !codes.Codes.IsDefaultOrEmpty),
            _ => false,
        };

    private sealed class Cases(WalkCheck check, CheckContext around) : ICheckAnswerCases<CheckResult>
    {
        public CheckResult Seen(SeenAnswer answer) =>
            answer.Ok ? new(CheckOutcome.Ok, CheckReason.Ok) : new(CheckOutcome.Fault, CheckReason.Faulty, check.Grade);

        public CheckResult LeftOut(LeftOutAnswer answer) => new(CheckOutcome.LeftOut, CheckReason.LeftOut);

        private static DefectGrade Higher(DefectGrade one, DefectGrade other) => one > other ? one : other;

        public CheckResult Drain(DrainAnswer answer) =>
            answer.Most switch
            {
                DrainAmount.None => new(CheckOutcome.Ok, CheckReason.Ok, Value: 0),
                DrainAmount.Little => new(CheckOutcome.Watch, CheckReason.WaterLittle, Value: 1),
                _ => new CheckResult(CheckOutcome.Fault, CheckReason.WaterLot, check.Grade, 2),
            };

        public CheckResult Level(LevelAnswer answer)
        {
            double? add = check.MarkLitres is { } marks ? Dipstick.Of(answer.Level, 1, marks).AddLitres : null;
            CheckResult Fault(CheckReason reason, DefectGrade grade) => new(CheckOutcome.Fault, reason, grade, answer.Level, add);

            if (answer.Look == FluidLook.Milky)
                return Fault(CheckReason.Milky, DefectGrade.Stop);
            if (answer.Look == FluidLook.Gritty)
                return Fault(CheckReason.Gritty, DefectGrade.Stop);
            if (check.Sealed && answer.Added > 0)
                return Fault(
                    CheckReason.SealedLeak,
                    around.WetBrakes || (answer.Level < 0 && !BroughtAbove(answer))
                        ? DefectGrade.Stop
                        : Higher(check.Grade, DefectGrade.Limit)
                );
            if (answer is { Cold: true, Level: >= 0 } && check.ReadWarm)
                return new(CheckOutcome.NotUsed, CheckReason.ColdMark, Value: answer.Level);
            if (answer.Level > 1)
                return TooFull();
            if (answer.Level >= 0)
                return new(CheckOutcome.Ok, CheckReason.WithinLimits, Value: answer.Level, AddLitres: add);
            if (check.FluidIs == FluidUse.BrakeFluid)
                return Fault(CheckReason.BrakeFluidLow, DefectGrade.Stop);
            if (answer is { Added: > 0, After: LevelAfter.Above })
                return Fault(CheckReason.AboveHigh, check.Grade);
            return BroughtAbove(answer) ? ToppedUp() : Fault(CheckReason.BelowLow, NeedsItsLevel ? DefectGrade.Stop : check.Grade);

            CheckResult TooFull() =>
                check.FluidIs switch
                {
                    FluidUse.Coolant => new(CheckOutcome.Watch, CheckReason.CoolantHigh, Value: answer.Level),
                    FluidUse.Hydraulics => new(CheckOutcome.Watch, CheckReason.AboveGlass, Value: answer.Level),
                    FluidUse.EngineOil when !around.Explained && answer.Added is null or <= 0 => Fault(
                        CheckReason.AboveHighUnexplained,
                        DefectGrade.Stop
                    ),
                    _ => Fault(CheckReason.AboveHigh, check.Grade),
                };

            // What uses a little is watched, and asks why when it comes again so soon. What is closed has lost it somewhere.
            CheckResult ToppedUp() =>
                check.FluidIs switch
                {
                    FluidUse.EngineOil or FluidUse.Coolant or FluidUse.Hydraulics or FluidUse.Transmission when around.ToppedUpBefore =>
                        Fault(CheckReason.ToppedUpAgain, Higher(check.Grade, DefectGrade.Limit)),
                    FluidUse.Axle or FluidUse.Hub or FluidUse.SwingDrive or FluidUse.Compressor => Fault(
                        CheckReason.SealedLeak,
                        Higher(check.Grade, DefectGrade.Limit)
                    ),
                    _ => new(CheckOutcome.Watch, CheckReason.ToppedUp, Value: answer.Level, AddLitres: add),
                };
        }

        private bool NeedsItsLevel => check.FluidIs is not (FluidUse.Other or FluidUse.BrakeFluid);

        // Read again, or so much added that it must be: without either nobody knows.
        private bool BroughtAbove(LevelAnswer answer) =>
            answer.After is { } after
                ? after != LevelAfter.Below
                : check.MarkLitres is { } marks && answer.Added is { } added && answer.Level + added / marks >= 0;

        public CheckResult Measure(MeasureAnswer answer)
        {
            var value = answer.Figures.Average();
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

        public CheckResult Points(PointsAnswer answer)
        {
            double good = answer.Points.Count(x => x == PointState.Good);
            if (answer.Points.Any(x => x is PointState.Bad or PointState.Seized))
            {
                var reason = check.Kind == CheckKind.Grease ? CheckReason.GreaseRefused : CheckReason.PointsBad;
                return new(CheckOutcome.Fault, reason, check.Grade, good);
            }

            return answer.Points.Any(x => x is PointState.Open or PointState.Later)
                ? new(CheckOutcome.Unfinished, CheckReason.PointsLeft, Value: good)
                : new(CheckOutcome.Ok, CheckReason.Ok, Value: good);
        }

        public CheckResult Codes(CodesAnswer answer) =>
            answer.Red ? new(CheckOutcome.Fault, CheckReason.RedLamp, DefectGrade.Stop, answer.Codes.Length)
            : answer.Codes.Any(x => Stops(x, answer))
                ? new(CheckOutcome.Fault, CheckReason.CodesStop, DefectGrade.Stop, answer.Codes.Length)
            : answer.Codes.All(around.KnownCodes.Contains) ? new(CheckOutcome.Watch, CheckReason.CodesKnown, Value: answer.Codes.Length)
            : new(CheckOutcome.Fault, CheckReason.CodesShown, check.Grade, answer.Codes.Length);

        private bool Stops(FaultCode code, CodesAnswer answer) =>
            CodeMeanings.Stops(
                code,
                around.StopSpns,
                answer is { Codes.Length: 1, Meaning: { } said } ? said : around.Meanings.GetValueOrDefault(code.ToString())
            );
    }
}
