using System.Collections.Immutable;
using Nippers.Core.Defects;
using Nippers.Core.Fluids;
using Nippers.Core.Parts;
using Nippers.Core.Walk;

namespace Nippers.Core.Jobs;

/// <summary>What stands against an answer, or comes of it.</summary>
public enum StepRemark
{
    /// <summary>Something that the step asks for is missing.</summary>
    Missing,

    /// <summary>The old seal is not seen off, or the seat not wiped: two seals leak.</summary>
    SealOrSeat,

    /// <summary>The filter is too long or too short.</summary>
    FitLength,

    /// <summary>Its outer diameter is off.</summary>
    FitOuter,

    /// <summary>Its seal is of another diameter.</summary>
    FitSeal,

    /// <summary>Its thread is another one.</summary>
    FitThread,

    /// <summary>It was filled though the position says dry.</summary>
    FilledThoughDry,

    /// <summary>Fewer points than there are.</summary>
    PointsMissing,

    /// <summary>Far more litres than the compartment holds: refused.</summary>
    TooMuch,

    /// <summary>More than 5 % over or short, and nobody says why.</summary>
    AsksWhy,

    /// <summary>A sealed place holds less than it should: a leak, topped up or not.</summary>
    Leak,

    /// <summary>Less came out than was in it: some is still in there, or the stick was read wrong.</summary>
    NotAllOut,

    /// <summary>More came out than was in it: fuel, coolant, or a fill that nobody wrote down.</summary>
    Gained,

    /// <summary>More is in it now than its mark allows: refused until it is taken out.</summary>
    Over,

    /// <summary>Less is in it now than its low mark: refused until it is filled.</summary>
    Under,

    /// <summary>The litres do not say whether it stands at its mark: the stick is read before any start.</summary>
    Unclear,

    /// <summary>
    /// By what is on record it is over or under, and the record is said to be wrong: two people write, the stick decides.
    /// </summary>
    RecordWrong,

    /// <summary>Milky or gritty.</summary>
    BadLook,

    /// <summary>Above the high mark.</summary>
    AboveHigh,

    /// <summary>Flakes or chunks.</summary>
    Metal,

    /// <summary>Pressure came too late, or not.</summary>
    PressureLate,

    /// <summary>Touched things that are not home.</summary>
    NotHome,

    /// <summary>A name is needed: qualified people only.</summary>
    NameNeeded,

    /// <summary>A lot of water.</summary>
    Water,

    /// <summary>A battery at rest stands low.</summary>
    VoltsLow,

    /// <summary>A fault was seen.</summary>
    Fault,

    /// <summary>A figure lies outside the machine's limits.</summary>
    OutsideLimit,
}

/// <summary>What an answer came to.</summary>
/// <param name="Accepted">Whether the step is done with it.</param>
/// <param name="Remarks">What stands against it when not accepted; what comes of it when accepted.</param>
public sealed record StepResult(bool Accepted, ImmutableArray<StepRemark> Remarks)
{
    /// <summary>What makes a defect.</summary>
    public bool MakesDefect =>
        Accepted
        && Remarks.Any(x =>
            x
                is StepRemark.Leak
                    or StepRemark.Gained
                    or StepRemark.BadLook
                    or StepRemark.Metal
                    or StepRemark.PressureLate
                    or StepRemark.VoltsLow
                    or StepRemark.Fault
                    or StepRemark.OutsideLimit
                    or StepRemark.Water
        );
}

/// <summary>Judges answers to steps.</summary>
/// <remarks>Rules 5, 6 and 10.</remarks>
public static class StepJudge
{
    /// <summary>Drained, filled and totalled litres may be off by this share before they ask why.</summary>
    public const double LitresShare = 0.05;

    /// <summary>More than this many times what the compartment holds is no fill but a slip of the pen.</summary>
    public const double TooMuchTimes = 1.5;

    /// <summary>Without a capacity on record no single figure may be above this, litres.</summary>
    public const double MostLitres = 1000;

    // Rules 7: one battery of a set, after hours at rest.
    private const double BatteryFault = 12.2;
    private const double Tolerance = 1e-9;

    /// <summary>Judges one answer.</summary>
    /// <param name="step">The step as the card holds it.</param>
    /// <param name="answer">The answer; of the kind that the step asks for.</param>
    /// <param name="touched">Touched list: what must be home by now. Others: not looked at.</param>
    /// <param name="filled">Level after a fill: litres that went in before.</param>
    /// <param name="change">The change of fluid that the step belongs to, this answer apart; null where it can't be reckoned.</param>
    /// <exception cref="ArgumentException">The answer is not of the kind that the step asks for.</exception>
    public static StepResult Judge(
        JobStep step,
        StepAnswer answer,
        IReadOnlyCollection<string>? touched = null,
        double filled = 0,
        BalanceInput? change = null
    )
    {
        if (answer.To(InputKindOf.Answer) != step.Input)
            throw new ArgumentException($"The answer does not fit a step that asks for {step.Input}.", nameof(answer));
        var cases = new Cases(step, touched, filled, change);
        if (step.Qualified && string.IsNullOrWhiteSpace(answer.Name))
            cases.Refused.Add(StepRemark.NameNeeded);
        answer.To(cases);
        if (step.NeedsWords && string.IsNullOrWhiteSpace(answer.Note))
            cases.Refused.Add(StepRemark.Missing);
        if (step.Parts.Any(x => answer.Ticked is not { } ticked || !ticked.Contains(x)))
            cases.Refused.Add(StepRemark.Missing);
        if (answer is IMetalAnswer { Metal: MetalFinding.Flakes or MetalFinding.Chunks })
            cases.Remarks.Add(StepRemark.Metal);
        if (answer is ILookAnswer { Look: FluidLook.Milky or FluidLook.Gritty })
            cases.Remarks.Add(StepRemark.BadLook);
        if (answer is IFaultAnswer { Fault: var fault } && !string.IsNullOrWhiteSpace(fault))
            cases.Remarks.Add(StepRemark.Fault);
        return cases.Refused.Count > 0 ? new(false, [.. cases.Refused]) : new(true, [.. cases.Remarks]);
    }

    /// <summary>Whether a finding stops the card: nothing runs until two people have said in writing why it may.</summary>
    public static bool Stops(StepAnswer answer, StepResult result) =>
        result.Accepted
        && result.Remarks.Any(x =>
            x is StepRemark.Metal or StepRemark.PressureLate or StepRemark.AboveHigh or StepRemark.Gained or StepRemark.RecordWrong
            || (x == StepRemark.BadLook && answer is ILookAnswer { Look: FluidLook.Milky })
            || (x == StepRemark.Fault && answer is IFaultAnswer { Grade: DefectGrade.Stop })
        );

    /// <summary>A change of fluid with the litres of one answer more.</summary>
    public static BalanceInput With(BalanceInput change, JobStep step, ILitresAnswer answer)
    {
        var litres = Math.Round((decimal)(answer.Litres ?? 0), 3);
        return step.Input == InputKind.Drained ? change with { Drained = litres } : change with { Filled = change.Filled + litres };
    }

    /// <summary>What a level answers in litres; null when the stick's litres are not on record.</summary>
    public static Dipstick? Stick(JobStep step, double level) =>
        step.BetweenMarks is { } litres and > 0 ? Dipstick.Of(level, 1, litres) : null;

    /// <summary>The share by which litres are off what was expected, negative when short; null when nothing was.</summary>
    public static double? Off(JobStep step, double litres) => step.Litres is { } expected and > 0 ? (litres - expected) / expected : null;

    private static bool TooMuch(JobStep step, double? litres) =>
        litres > (step.Capacity is { } capacity and > 0 ? capacity * TooMuchTimes : MostLitres) + Tolerance || litres < 0;

    /// <summary>Notes what stands against an answer, and what comes of it.</summary>
    private sealed class Cases(JobStep step, IReadOnlyCollection<string>? touched, double filled, BalanceInput? change)
        : IStepAnswerCases<bool>
    {
        public List<StepRemark> Refused { get; } = [];

        public List<StepRemark> Remarks { get; } = [];

        public bool Tick(TickAnswer answer) => Need(answer.Done);

        public bool Look(LookAnswer answer) => Need(answer.Ok || !string.IsNullOrWhiteSpace(answer.Fault));

        public bool Level(LevelStepAnswer answer)
        {
            if (!Need(answer.Level is not null))
                return false;
            if (TooMuch(step, answer.Litres))
                return Refuse(StepRemark.TooMuch);

            // Whatever the litres say: no engine is started on a level that stands above its mark, or below the lower one.
            if (step.BeforeRun)
                return answer.Level > 1 + Tolerance ? Refuse(StepRemark.Over) : answer.Level >= -Tolerance || Refuse(StepRemark.Under);
            if (filled > 0 && TotalIsOff(answer) && string.IsNullOrWhiteSpace(answer.Reason))
                Refuse(StepRemark.AsksWhy);
            if (answer.Level > 1 + Tolerance)
                Remarks.Add(StepRemark.AboveHigh);
            return true;
        }

        private bool TotalIsOff(LevelStepAnswer answer) =>
            change is not null
                ? FluidBalance.Of(With(change, step, answer)).Fill is FillBalance.Over or FillBalance.Under
                : step.Capacity is { } capacity and > 0
                    && Math.Abs(filled + (answer.Litres ?? 0) - capacity) > capacity * LitresShare + Tolerance;

        public bool Drained(DrainedAnswer answer)
        {
            if (!Need(answer.Litres is not null))
                return false;
            if (TooMuch(step, answer.Litres))
                return Refuse(StepRemark.TooMuch);

            if (step.Sealed && Off(step, answer.Litres!.Value) < -LitresShare - Tolerance)
                Remarks.Add(StepRemark.Leak);
            else if (change is null)
                AskWhy(answer.Litres!.Value, answer.Reason);
            else
                Out(FluidBalance.Of(With(change, step, answer)).Out, answer.Reason);
            return true;
        }

        // What did not come out is no leak: it may still be in there, and somebody has to say what they did about it.
        private void Out(DrainBalance ran, string? reason)
        {
            if (ran == DrainBalance.Gained)
                Remarks.Add(StepRemark.Gained);
            else if (ran == DrainBalance.NotAllOut && string.IsNullOrWhiteSpace(reason))
                Refuse(StepRemark.NotAllOut);
            else if (ran == DrainBalance.NotAllOut)
                Remarks.Add(StepRemark.NotAllOut);
        }

        public bool Fill(FillAnswer answer)
        {
            if (!Need(answer.Litres > 0))
                return false;
            if (TooMuch(step, answer.Litres))
                return Refuse(StepRemark.TooMuch);
            if (change is null)
            {
                AskWhy(answer.Litres!.Value, answer.Reason);
                return true;
            }

            switch (FluidBalance.Of(With(change, step, answer)).Fill)
            {
                case FillBalance.Over or FillBalance.Under when answer.RecordWrong && !string.IsNullOrWhiteSpace(answer.Reason):
                    Remarks.Add(StepRemark.RecordWrong);
                    break;
                case FillBalance.Over:
                    return Refuse(StepRemark.Over);
                case FillBalance.Under:
                    return Refuse(StepRemark.Under);
                case FillBalance.Unclear:
                    Remarks.Add(StepRemark.Unclear);
                    break;
            }

            return true;
        }

        public bool Magnet(MagnetAnswer answer) => Need(answer.Metal is not null);

        public bool Plug(PlugAnswer answer)
        {
            // A plug that is not home is an open drain.
            Counted(answer.Count, fewerAllowed: false);
            return Need(answer.SealNew && answer.Torqued);
        }

        // A fitting that takes no grease is a fault to write down.
        public bool Count(CountAnswer answer) => Counted(answer.Count, fewerAllowed: !string.IsNullOrWhiteSpace(answer.Fault));

        public bool Filter(FilterAnswer answer)
        {
            if (!answer.SealOff || !answer.SeatWiped)
                Refuse(StepRemark.SealOrSeat);
            foreach (var fault in FitCheck.Of(step.Size, answer.Size))
            {
                Refuse(
                    fault switch
                    {
                        FitFault.Length => StepRemark.FitLength,
                        FitFault.Outer => StepRemark.FitOuter,
                        FitFault.Seal => StepRemark.FitSeal,
                        _ => StepRemark.FitThread,
                    }
                );
            }

            Need(
                !string.IsNullOrWhiteSpace(answer.Part)
                    && answer.Written
                    && (step.Paper || (answer.Metal is not null && answer.SealOiled && answer.Turned))
                    && FitCheck.IsComplete(step.Size, answer.Size)
            );
            if (answer.Prefilled && step.Prefill == PrefillRule.Dry)
                Remarks.Add(StepRemark.FilledThoughDry);
            return true;
        }

        public bool Pressure(PressureAnswer answer)
        {
            if (Need(answer.Seconds is not null) && answer.Seconds > step.Seconds)
                Remarks.Add(StepRemark.PressureLate);
            return true;
        }

        public bool BeforeAfter(BeforeAfterAnswer answer) => Need(answer.Found is not null);

        public bool Volts(VoltsAnswer answer)
        {
            var volts = answer.Volts.IsDefault ? [] : answer.Volts;
            if (Need(volts.Length > 0 && volts.Length >= step.Points) && volts.Any(x => x < BatteryFault))
                Remarks.Add(StepRemark.VoltsLow);
            return true;
        }

        public bool Coolant(CoolantAnswer answer) => Need(answer.Share is not null);

        public bool Water(WaterAnswer answer)
        {
            if (Need(answer.Water is not null) && answer.Water == DrainAmount.Lot)
                Remarks.Add(StepRemark.Water);
            return true;
        }

        public bool Bottle(BottleAnswer answer) => Need(!string.IsNullOrWhiteSpace(answer.Bottle));

        public bool Touched(TouchedAnswer answer) =>
            touched is null || touched.All(x => !answer.Home.IsDefault && answer.Home.Contains(x)) || Refuse(StepRemark.NotHome);

        public bool Waste(WasteAnswer answer) => Need(!string.IsNullOrWhiteSpace(answer.Place));

        // One that could not be taken is a fault to write down, not a figure to make up.
        public bool Measured(MeasuredAnswer answer)
        {
            var figures = answer.Figures.IsDefault ? [] : answer.Figures;
            if (step.Figures.Zip(figures).Any(x => x.Second is { } figure && x.First.IsOutside(figure)))
                Remarks.Add(StepRemark.OutsideLimit);
            return Need(
                !string.IsNullOrWhiteSpace(answer.Fault) || (figures.Length == step.Figures.Length && figures.All(x => x is not null))
            );
        }

        private bool Need(bool given) => given || Refuse(StepRemark.Missing);

        private bool Refuse(StepRemark remark)
        {
            Refused.Add(remark);
            return false;
        }

        private void AskWhy(double litres, string? reason)
        {
            if (Off(step, litres) is { } off && Math.Abs(off) > LitresShare + Tolerance && string.IsNullOrWhiteSpace(reason))
                Refuse(StepRemark.AsksWhy);
        }

        private bool Counted(int? given, bool fewerAllowed)
        {
            if (given is not { } count)
                return Need(false);
            if (count > step.Points)
                return Refuse(StepRemark.TooMuch);
            return count == step.Points || fewerAllowed || Refuse(StepRemark.PointsMissing);
        }
    }
}

/// <summary>Which question an answer answers.</summary>
public sealed class InputKindOf : IStepAnswerCases<InputKind>
{
    private InputKindOf() { }

    /// <summary>Tells it: <c>answer.To(InputKindOf.Answer)</c>.</summary>
    public static InputKindOf Answer { get; } = new();

    /// <inheritdoc/>
    public InputKind Tick(TickAnswer answer) => InputKind.Tick;

    /// <inheritdoc/>
    public InputKind Look(LookAnswer answer) => InputKind.Look;

    /// <inheritdoc/>
    public InputKind Level(LevelStepAnswer answer) => InputKind.Level;

    /// <inheritdoc/>
    public InputKind Drained(DrainedAnswer answer) => InputKind.Drained;

    /// <inheritdoc/>
    public InputKind Magnet(MagnetAnswer answer) => InputKind.Magnet;

    /// <inheritdoc/>
    public InputKind Plug(PlugAnswer answer) => InputKind.Plug;

    /// <inheritdoc/>
    public InputKind Filter(FilterAnswer answer) => InputKind.Filter;

    /// <inheritdoc/>
    public InputKind Fill(FillAnswer answer) => InputKind.Fill;

    /// <inheritdoc/>
    public InputKind Pressure(PressureAnswer answer) => InputKind.Pressure;

    /// <inheritdoc/>
    public InputKind Count(CountAnswer answer) => InputKind.Count;

    /// <inheritdoc/>
    public InputKind BeforeAfter(BeforeAfterAnswer answer) => InputKind.BeforeAfter;

    /// <inheritdoc/>
    public InputKind Volts(VoltsAnswer answer) => InputKind.Volts;

    /// <inheritdoc/>
    public InputKind Coolant(CoolantAnswer answer) => InputKind.Coolant;

    /// <inheritdoc/>
    public InputKind Water(WaterAnswer answer) => InputKind.Water;

    /// <inheritdoc/>
    public InputKind Bottle(BottleAnswer answer) => InputKind.Bottle;

    /// <inheritdoc/>
    public InputKind Touched(TouchedAnswer answer) => InputKind.Touched;

    /// <inheritdoc/>
    public InputKind Waste(WasteAnswer answer) => InputKind.Waste;

    /// <inheritdoc/>
    public InputKind Measured(MeasuredAnswer answer) => InputKind.Measured;
}
