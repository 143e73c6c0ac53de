namespace Nippers.Core.Oil;

/// <summary>How far an interval between oil changes may grow by analysis.</summary>
/// <param name="BaseHours">The interval of the program.</param>
/// <param name="StepHours">What is added at a time.</param>
/// <param name="CapHours">Never more than this.</param>
/// <remarks>Rules 10.</remarks>
public sealed record DrainRule(double BaseHours, double StepHours, double CapHours);

/// <summary>A signed sample, as the drain interval sees it.</summary>
/// <param name="Assessment">As signed.</param>
/// <param name="Late">Taken later than its window allows.</param>
/// <param name="Tbn">Base number, mg KOH/g; null when not measured.</param>
/// <param name="OilHours">Hours on the oil; null when not known.</param>
public sealed record DrainSample(Assessment Assessment, bool Late, double? Tbn = null, double? OilHours = null);

/// <summary>Why an interval stays or changes.</summary>
public enum DrainReason
{
    /// <summary>Raised: three steady samples running.</summary>
    Earned,

    /// <summary>Back to base: a sample said act or stop.</summary>
    BadSample,

    /// <summary>Back to base: a sample was missed by more than its window.</summary>
    MissedSample,

    /// <summary>Stays: fewer than three steady samples at this interval.</summary>
    TooFew,

    /// <summary>Stays: one of the last three was late.</summary>
    LateSample,

    /// <summary>Stays: a sample of the last three was not steady.</summary>
    NotSteady,

    /// <summary>Stays: the fluid is not one that the program approves for it, or something else was topped up.</summary>
    NotApproved,

    /// <summary>Stays: the base number would fall to half of new.</summary>
    BaseNumber,

    /// <summary>Stays: it is at its cap.</summary>
    AtCap,
}

/// <summary>What follows for an interval.</summary>
/// <param name="Hours">The interval from now on.</param>
/// <param name="Reason">Why.</param>
public sealed record DrainStep(double Hours, DrainReason Reason);

/// <summary>The interval between oil changes, by analysis.</summary>
/// <remarks>Rules 10.</remarks>
public static class DrainAdvice
{
    /// <summary>Steady samples running that earn a step.</summary>
    public const int Needed = 3;

    private const double LeastTbnShare = 0.5;

    /// <summary>What follows from the last sample.</summary>
    /// <param name="rule">Base, step and cap.</param>
    /// <param name="currentHours">The interval now.</param>
    /// <param name="kind">Where the oil works.</param>
    /// <param name="sinceCurrent">Signed samples since this interval began, oldest first; the last one is the reason to ask.</param>
    /// <param name="approved">The fluid is approved for it and nothing else was topped up.</param>
    /// <param name="newTbn">Base number of new oil; needed for an engine.</param>
    public static DrainStep After(
        DrainRule rule,
        double currentHours,
        OilKind kind,
        IReadOnlyList<DrainSample> sinceCurrent,
        bool approved,
        double? newTbn
    )
    {
        if (sinceCurrent.Count > 0 && sinceCurrent[^1].Assessment >= Assessment.Act)
            return new(rule.BaseHours, DrainReason.BadSample);
        if (sinceCurrent.Count < Needed)
            return new(currentHours, DrainReason.TooFew);
        var last = sinceCurrent.TakeLast(Needed).ToList();
        if (last.Exists(x => x.Assessment != Assessment.Normal))
            return new(currentHours, DrainReason.NotSteady);
        if (last.Exists(x => x.Late))
            return new(currentHours, DrainReason.LateSample);
        if (!approved)
            return new(currentHours, DrainReason.NotApproved);
        if (currentHours >= rule.CapHours)
            return new(currentHours, DrainReason.AtCap);
        var next = Math.Min(currentHours + rule.StepHours, rule.CapHours);
        if (kind == OilKind.Engine && !(ProjectedTbn(last[^1], newTbn, next) > LeastTbnShare * newTbn))
            return new(currentHours, DrainReason.BaseNumber);
        return new(next, DrainReason.Earned);
    }

    /// <summary>What follows from a sample that nobody took within its window.</summary>
    public static DrainStep Missed(DrainRule rule) => new(rule.BaseHours, DrainReason.MissedSample);

    /// <summary>Base number at the end of an interval: the straight line from new oil through the sample.</summary>
    /// <returns>mg KOH/g; null when it can't be told.</returns>
    public static double? ProjectedTbn(DrainSample sample, double? newTbn, double hours) =>
        sample is { Tbn: { } tbn, OilHours: > 0 and var on } && newTbn is { } fresh ? fresh - (fresh - tbn) / on * hours : null;
}
