using System.Collections.Immutable;

namespace Nippers.Core.Fluids;

/// <summary>A change of this compartment's oil that is past.</summary>
/// <param name="OnBoard">Litres on board when it was found; null when its level was not read.</param>
/// <param name="FilterLitres">Litres that went out with the filter, 0 when it stayed.</param>
/// <param name="Drained">Litres that ran out.</param>
public readonly record struct PastChange(decimal? OnBoard, decimal FilterLitres, decimal Drained);

/// <summary>What ran out, held against what should have.</summary>
public enum DrainBalance
{
    /// <summary>About as much as was expected.</summary>
    Ok,

    /// <summary>Less: it is still in there, or the stick read wrong. No leak follows from it.</summary>
    NotAllOut,

    /// <summary>More: fuel, coolant, or a fill of another hand.</summary>
    Gained,

    /// <summary>The level was not read, or was below low: nobody knows what was on board.</summary>
    Unknown,
}

/// <summary>What is in the compartment now, held against its mark.</summary>
public enum FillBalance
{
    /// <summary>At its mark, as far as figures can say.</summary>
    Ok,

    /// <summary>Above it, whatever stayed inside: no start before it is taken out.</summary>
    Over,

    /// <summary>Below it, whatever stayed inside: no start.</summary>
    Under,

    /// <summary>The figures leave both open: it settles and the stick is read before any start.</summary>
    Unclear,
}

/// <summary>A change of oil as it was measured, all volumes in litres.</summary>
public sealed record BalanceInput
{
    /// <summary>Capacity with filter, above 0; of a hydraulic system what the tank takes at a change.</summary>
    public required decimal Capacity { get; init; }

    /// <summary>Litres between the marks of the stick, 0 or more.</summary>
    public required decimal BetweenMarks { get; init; }

    /// <summary>Litres in the filter that is changed; 0 when it stays.</summary>
    public decimal FilterLitres { get; init; }

    /// <summary>Changes before this one, oldest first.</summary>
    public ImmutableArray<PastChange> History { get; init; } = [];

    /// <summary>Where the level was found: 0 is the low mark, 1 the high one; null when it was not read.</summary>
    public decimal? Found { get; init; }

    /// <summary>Litres on board after the last change.</summary>
    public decimal LastFull { get; init; }

    /// <summary>Litres topped up since.</summary>
    public decimal TopUps { get; init; }

    /// <summary>Litres that ran out.</summary>
    public decimal Drained { get; init; }

    /// <summary>Litres that went in.</summary>
    public decimal Filled { get; init; }

    /// <summary>The filter was filled before it was fitted.</summary>
    public bool PreFilled { get; init; }

    /// <summary>The engine has run with the new filter since.</summary>
    public bool HasRun { get; init; }
}

/// <summary>What a change of oil comes to: what stayed in, what is missing, and whether it may be started.</summary>
/// <param name="Residue">Litres that never drain.</param>
/// <param name="OnBoardFound">Litres on board as found; null when unknown.</param>
/// <param name="ExpectedOut">Litres that should run out; null when unknown.</param>
/// <param name="Out">What did, against that.</param>
/// <param name="Loss">Litres used or lost since the last change; null when unknown.</param>
/// <param name="Low">Least litres on board now.</param>
/// <param name="High">Most litres on board now.</param>
/// <param name="Mark">Litres on board at the mark that counts now.</param>
/// <param name="Fill">What is on board, against that.</param>
/// <param name="TakeOut">Litres to take out before any start; 0 unless <see cref="FillBalance.Over"/>.</param>
/// <remarks>Rules 6. Decimal, so that a figure that lies just on its border lies on it.</remarks>
public sealed record FluidBalance(
    decimal Residue,
    decimal? OnBoardFound,
    decimal? ExpectedOut,
    DrainBalance Out,
    decimal? Loss,
    decimal Low,
    decimal High,
    decimal Mark,
    FillBalance Fill,
    decimal TakeOut
)
{
    /// <summary>As many changes are looked back on.</summary>
    public const int PastChanges = 5;

    /// <summary>So many changes at least are known before they teach anything.</summary>
    public const int FewestChanges = 2;
    private const decimal ResidueShare = 0.03m;
    private const decimal AwayShare = 0.05m;
    private const decimal AwayLitres = 0.5m;
    private const decimal OverShare = 0.1m;

    /// <summary>Reckons a change.</summary>
    /// <exception cref="ArgumentOutOfRangeException">A volume lies outside its range.</exception>
    public static FluidBalance Of(BalanceInput change)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(change.Capacity);
        ArgumentOutOfRangeException.ThrowIfNegative(change.BetweenMarks);
        ArgumentOutOfRangeException.ThrowIfNegative(change.FilterLitres);
        var residue = ResidueOf(change.Capacity, change.History);
        decimal? onBoard = change.Found is { } found and >= 0 ? change.Capacity - (1 - found) * change.BetweenMarks : null;
        var expected = onBoard - change.FilterLitres - residue;
        var away = Math.Max(AwayShare * change.Capacity, AwayLitres);
        var ran =
            expected is not { } due ? DrainBalance.Unknown
            : due - change.Drained > away ? DrainBalance.NotAllOut
            : change.Drained - due > away ? DrainBalance.Gained
            : DrainBalance.Ok;
        decimal? loss = onBoard is { } had ? Math.Max(0, change.LastFull + change.TopUps - had) : null;
        var low = residue + change.Filled + (change.PreFilled ? change.FilterLitres : 0);
        var high = low + (ran == DrainBalance.NotAllOut ? expected!.Value - change.Drained : 0);
        var mark = change.Capacity - (change.HasRun || change.PreFilled ? 0 : change.FilterLitres);
        var most = mark + OverShare * change.BetweenMarks;
        var least = mark - change.BetweenMarks;
        var fill =
            low > most ? FillBalance.Over
            : high < least ? FillBalance.Under
            : low >= least && high <= most && ran != DrainBalance.Unknown ? FillBalance.Ok
            : FillBalance.Unclear;
        return new(residue, onBoard, expected, ran, loss, low, high, mark, fill, fill == FillBalance.Over ? low - mark : 0);
    }

    /// <summary>Litres of a compartment that never drain: as its last changes say, else a usual share.</summary>
    /// <param name="capacity">Capacity with filter, litres.</param>
    /// <param name="history">Changes before, oldest first.</param>
    public static decimal ResidueOf(decimal capacity, IEnumerable<PastChange> history)
    {
        var known = history
            .TakeLast(PastChanges)
            .Where(x => x.OnBoard is not null)
            .Select(x => x.OnBoard!.Value - x.FilterLitres - x.Drained)
            .Order()
            .ToList();
        if (known.Count < FewestChanges)
            return ResidueShare * capacity;
        var middle = (known[(known.Count - 1) / 2] + known[known.Count / 2]) / 2;
        return Math.Max(0, middle);
    }
}
