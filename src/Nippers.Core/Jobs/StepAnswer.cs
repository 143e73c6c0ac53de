using System.Collections.Immutable;
using Nippers.Core.Fluids;
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

/// <summary>An answer to a step of a job card, as it was given.</summary>
public sealed record StepAnswer
{
    /// <summary>Done.</summary>
    public bool Done { get; init; }

    /// <summary>Level: 0 at low, 1 at high.</summary>
    public double? Level { get; init; }

    /// <summary>Litres: drained, filled, added.</summary>
    public double? Litres { get; init; }

    /// <summary>How the fluid looks.</summary>
    public FluidLook? Look { get; init; }

    /// <summary>Metal found.</summary>
    public MetalFinding? Metal { get; init; }

    /// <summary>Water found.</summary>
    public DrainAmount? Water { get; init; }

    /// <summary>How many of the points.</summary>
    public int? Count { get; init; }

    /// <summary>Figures: before and after, volts, share.</summary>
    public ImmutableArray<double>? Figures { get; init; }

    /// <summary>Part number fitted.</summary>
    public string? Part { get; init; }

    /// <summary>Its make.</summary>
    public string? Make { get; init; }

    /// <summary>What it measures.</summary>
    public FilterSize? Size { get; init; }

    /// <summary>The old seal came off with the old filter.</summary>
    public bool SealOff { get; init; }

    /// <summary>The seat is wiped.</summary>
    public bool SeatWiped { get; init; }

    /// <summary>Seal oiled; new plug seal.</summary>
    public bool SealNew { get; init; }

    /// <summary>Turned after contact as the position says; plug torqued and striped.</summary>
    public bool Turned { get; init; }

    /// <summary>Date and hours written on it.</summary>
    public bool Written { get; init; }

    /// <summary>Filled before it went on.</summary>
    public bool Prefilled { get; init; }

    /// <summary>What of the touched list is home.</summary>
    public ImmutableArray<string> Home { get; init; } = [];

    /// <summary>Why a figure is off, in words.</summary>
    public string? Reason { get; init; }

    /// <summary>A fault, in words.</summary>
    public string? Fault { get; init; }

    /// <summary>The qualified person who did it.</summary>
    public string? Name { get; init; }

    /// <summary>Code on a sample bottle; where waste went.</summary>
    public string? Mark { get; init; }

    /// <summary>Words added to it.</summary>
    public string? Note { get; init; }
}

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

    /// <summary>Short by more than 5 % without a known top-up: a leak.</summary>
    Leak,

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
                    or StepRemark.BadLook
                    or StepRemark.Metal
                    or StepRemark.PressureLate
                    or StepRemark.VoltsLow
                    or StepRemark.Fault
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
    /// <param name="answer">The answer.</param>
    /// <param name="touched">Touched list: what must be home by now. Others: not looked at.</param>
    /// <param name="filled">Level after a fill: litres that went in before.</param>
    public static StepResult Judge(JobStep step, StepAnswer answer, IReadOnlyCollection<string>? touched = null, double filled = 0)
    {
        var refuse = ImmutableArray.CreateBuilder<StepRemark>();
        var remarks = ImmutableArray.CreateBuilder<StepRemark>();
        if (step.Qualified && string.IsNullOrWhiteSpace(answer.Name))
            refuse.Add(StepRemark.NameNeeded);
        switch (step.Input)
        {
            case InputKind.Tick:
                if (!answer.Done)
                    refuse.Add(StepRemark.Missing);
                break;
            case InputKind.Look:
                if (!answer.Done && string.IsNullOrWhiteSpace(answer.Fault))
                    refuse.Add(StepRemark.Missing);
                break;
            case InputKind.Level:
                Level(step, answer, filled, refuse, remarks);
                break;
            case InputKind.Drained:
                Drained(step, answer, refuse, remarks);
                break;
            case InputKind.Magnet:
                if (answer.Metal is null)
                    refuse.Add(StepRemark.Missing);
                break;
            case InputKind.Plug:
                Counted(step, answer, refuse);
                if (!answer.SealNew || !answer.Turned)
                    refuse.Add(StepRemark.Missing);
                break;
            case InputKind.Filter:
                Filter(step, answer, refuse, remarks);
                break;
            case InputKind.Fill:
                Filled(step, answer, refuse);
                break;
            case InputKind.Pressure:
                if (answer.Figures is not { Length: 1 } seconds)
                    refuse.Add(StepRemark.Missing);
                else if (seconds[0] > step.Seconds)
                    remarks.Add(StepRemark.PressureLate);
                break;
            case InputKind.Count:
                Counted(step, answer, refuse, remarks);
                break;
            case InputKind.BeforeAfter:
                if (answer.Figures is not { Length: > 0 })
                    refuse.Add(StepRemark.Missing);
                break;
            case InputKind.Volts:
                if (answer.Figures is not { Length: > 0 } volts || volts.Length < step.Points)
                    refuse.Add(StepRemark.Missing);
                else if (volts.Any(x => x < BatteryFault))
                    remarks.Add(StepRemark.VoltsLow);
                break;
            case InputKind.Coolant:
                if (answer.Figures is not { Length: > 0 })
                    refuse.Add(StepRemark.Missing);
                break;
            case InputKind.Water:
                if (answer.Water is null)
                    refuse.Add(StepRemark.Missing);
                else if (answer.Water == DrainAmount.Lot)
                    remarks.Add(StepRemark.Water);
                break;
            case InputKind.Bottle:
                if (string.IsNullOrWhiteSpace(answer.Mark))
                    refuse.Add(StepRemark.Missing);
                break;
            case InputKind.Touched:
                if (touched is not null && touched.Any(x => !answer.Home.Contains(x)))
                    refuse.Add(StepRemark.NotHome);
                break;
            case InputKind.Waste:
                if (string.IsNullOrWhiteSpace(answer.Mark))
                    refuse.Add(StepRemark.Missing);
                break;
        }

        if (answer.Metal is MetalFinding.Flakes or MetalFinding.Chunks)
            remarks.Add(StepRemark.Metal);
        if (answer.Look is FluidLook.Milky or FluidLook.Gritty)
            remarks.Add(StepRemark.BadLook);
        if (!string.IsNullOrWhiteSpace(answer.Fault))
            remarks.Add(StepRemark.Fault);
        return refuse.Count > 0 ? new(false, refuse.ToImmutable()) : new(true, remarks.ToImmutable());
    }

    /// <summary>What a level answers in litres; null when the stick's litres are not on record.</summary>
    public static Dipstick? Stick(JobStep step, double level) =>
        step.BetweenMarks is { } litres and > 0 ? Dipstick.Of(level, 1, litres) : null;

    /// <summary>The share by which litres are off what was expected, negative when short; null when nothing was.</summary>
    public static double? Off(JobStep step, double litres) => step.Litres is { } expected and > 0 ? (litres - expected) / expected : null;

    private static void Level(
        JobStep step,
        StepAnswer answer,
        double filled,
        ImmutableArray<StepRemark>.Builder refuse,
        ImmutableArray<StepRemark>.Builder remarks
    )
    {
        if (answer.Level is not { } level)
        {
            refuse.Add(StepRemark.Missing);
            return;
        }

        if (TooMuch(step, answer.Litres))
            refuse.Add(StepRemark.TooMuch);
        else if (
            filled > 0
            && step.Capacity is { } capacity and > 0
            && Math.Abs(filled + (answer.Litres ?? 0) - capacity) > capacity * LitresShare + Tolerance
            && string.IsNullOrWhiteSpace(answer.Reason)
        )
        {
            refuse.Add(StepRemark.AsksWhy);
        }

        if (level > 1 + Tolerance)
            remarks.Add(StepRemark.AboveHigh);
    }

    private static void Drained(
        JobStep step,
        StepAnswer answer,
        ImmutableArray<StepRemark>.Builder refuse,
        ImmutableArray<StepRemark>.Builder remarks
    )
    {
        if (answer.Litres is not { } litres)
        {
            refuse.Add(StepRemark.Missing);
            return;
        }

        if (TooMuch(step, litres))
            refuse.Add(StepRemark.TooMuch);
        else if (Off(step, litres) is { } off)
        {
            // A known top-up says that it was low before: what is missing has its explanation.
            if (off < -LitresShare - Tolerance && step.ToppedUp <= 0)
                remarks.Add(StepRemark.Leak);
            else if (Math.Abs(off) > LitresShare + Tolerance && string.IsNullOrWhiteSpace(answer.Reason))
                refuse.Add(StepRemark.AsksWhy);
        }
    }

    private static void Filled(JobStep step, StepAnswer answer, ImmutableArray<StepRemark>.Builder refuse)
    {
        if (answer.Litres is not { } litres)
            refuse.Add(StepRemark.Missing);
        else if (litres <= 0)
            refuse.Add(StepRemark.Missing);
        else if (TooMuch(step, litres))
            refuse.Add(StepRemark.TooMuch);
        else if (Off(step, litres) is { } off && Math.Abs(off) > LitresShare + Tolerance && string.IsNullOrWhiteSpace(answer.Reason))
            refuse.Add(StepRemark.AsksWhy);
    }

    private static void Filter(
        JobStep step,
        StepAnswer answer,
        ImmutableArray<StepRemark>.Builder refuse,
        ImmutableArray<StepRemark>.Builder remarks
    )
    {
        if (!answer.SealOff || !answer.SeatWiped)
            refuse.Add(StepRemark.SealOrSeat);
        var size = answer.Size ?? new();
        foreach (var fault in FitCheck.Of(step.Size, size))
        {
            refuse.Add(
                fault switch
                {
                    FitFault.Length => StepRemark.FitLength,
                    FitFault.Outer => StepRemark.FitOuter,
                    FitFault.Seal => StepRemark.FitSeal,
                    _ => StepRemark.FitThread,
                }
            );
        }

        if (
            string.IsNullOrWhiteSpace(answer.Part)
            || answer.Metal is null
            || !answer.SealNew
            || !answer.Turned
            || !answer.Written
            || !FitCheck.IsComplete(step.Size, size)
        )
            refuse.Add(StepRemark.Missing);
        if (answer.Prefilled && step.Prefill == PrefillRule.Dry)
            remarks.Add(StepRemark.FilledThoughDry);
    }

    private static void Counted(
        JobStep step,
        StepAnswer answer,
        ImmutableArray<StepRemark>.Builder refuse,
        ImmutableArray<StepRemark>.Builder? remarks = null
    )
    {
        if (answer.Count is not { } count)
            refuse.Add(StepRemark.Missing);
        else if (count > step.Points)
            refuse.Add(StepRemark.TooMuch);
        else if (count < step.Points)
        {
            // A fitting that takes no grease is a fault to write down; a plug that is not home is an open drain.
            if (remarks is null)
                refuse.Add(StepRemark.PointsMissing);
            else if (string.IsNullOrWhiteSpace(answer.Fault))
                refuse.Add(StepRemark.PointsMissing);
        }
    }

    private static bool TooMuch(JobStep step, double? litres) =>
        litres > (step.Capacity is { } capacity and > 0 ? capacity * TooMuchTimes : MostLitres) + Tolerance || litres < 0;
}
