using System.Collections.Immutable;
using Nippers.Core.Fluids;

namespace Nippers.Core.Jobs;

/// <summary>What came of an item of a card.</summary>
public enum ItemOutcome
{
    /// <summary>Some of its steps are open.</summary>
    Open,

    /// <summary>All of them are done.</summary>
    Done,

    /// <summary>Left undone, with a reason; it stays due.</summary>
    Left,
}

/// <summary>A drain or a settling that is running.</summary>
/// <param name="Step">The step.</param>
/// <param name="Since">Begun.</param>
public sealed record RunningClock(JobStep Step, DateTimeOffset Since)
{
    /// <summary>When its time is over.</summary>
    public DateTimeOffset Over => Since.AddMinutes(Step.Wait);
}

/// <summary>Why a card can't be closed.</summary>
public enum CloseFault
{
    /// <summary>A drain is open: its plugs are not recorded home.</summary>
    OpenDrain,

    /// <summary>A compartment was drained and is not recorded filled.</summary>
    Unfilled,

    /// <summary>Something touched is not recorded home.</summary>
    NotHome,

    /// <summary>A step of the card itself is open: isolation, tools, waste.</summary>
    CardStep,

    /// <summary>An item is neither done nor left with a reason.</summary>
    OpenItem,
}

/// <summary>Where a card stands: what is done, what runs, what stands in the way.</summary>
/// <remarks>Rules 5: no refill before its plug is recorded shut; no start before every opened compartment is recorded filled.</remarks>
public sealed class JobState
{
    private readonly IReadOnlyDictionary<string, StepAnswer> _answers;
    private readonly IReadOnlyDictionary<string, DateTimeOffset> _at;
    private readonly IReadOnlySet<string> _left;
    private readonly Dictionary<string, StepResult> _results = new(StringComparer.Ordinal);

    // The table of steps ends with it.
    private const string LastStep = "card.isolation-off";

    /// <summary>Derives the state of a card.</summary>
    /// <param name="steps">Its steps in order.</param>
    /// <param name="answers">Answers by step code.</param>
    /// <param name="at">When each was given.</param>
    /// <param name="left">Items left undone.</param>
    public JobState(
        ImmutableArray<JobStep> steps,
        IReadOnlyDictionary<string, StepAnswer> answers,
        IReadOnlyDictionary<string, DateTimeOffset> at,
        IReadOnlySet<string> left
    )
    {
        (Steps, _answers, _at, _left) = (steps, answers, at, left);
        foreach (var step in steps)
        {
            if (answers.TryGetValue(step.Code, out var answer))
                _results[step.Code] = StepJudge.Judge(
                    step,
                    answer,
                    step.Input == InputKind.Touched ? TouchedBefore(step) : null,
                    FilledBefore(step),
                    ChangeBefore(step)
                );
        }
    }

    /// <summary>The steps in order.</summary>
    public ImmutableArray<JobStep> Steps { get; }

    /// <summary>Whether a step is done.</summary>
    public bool IsDone(JobStep step) => IsDone(step.Code);

    /// <summary>Whether a step belongs to an item that was left.</summary>
    public bool IsLeft(JobStep step) => step.Item.Length > 0 && _left.Contains(step.Item) && !IsDone(step);

    /// <summary>What an answer came to; null without one.</summary>
    public StepResult? ResultOf(JobStep step) => _results.GetValueOrDefault(step.Code);

    /// <summary>The answer of a step; null without one.</summary>
    public StepAnswer? AnswerOf(JobStep step) => _answers.GetValueOrDefault(step.Code);

    /// <summary>Litres that a step's answer holds: drained, filled or added; 0 without any.</summary>
    public double LitresOf(JobStep step) => AnswerOf(step) is ILitresAnswer { Litres: { } litres } ? litres : 0;

    /// <summary>The next step that can be done; null when all are.</summary>
    public JobStep? Next => Steps.FirstOrDefault(x => !IsDone(x) && !IsLeft(x) && BlockedBy(x).IsEmpty);

    /// <summary>Steps that must be done first.</summary>
    public ImmutableArray<JobStep> BlockedBy(JobStep step)
    {
        var before = Steps.Where(x => step.After.Contains(x.Code) && !IsDone(x) && !IsLeft(x));

        // The locks come off last: whatever is left to do is done with the machine locked out.
        if (step.Code == LastStep)
            before = before.Concat(Steps.Where(x => x.Code != LastStep && !IsDone(x) && !IsLeft(x)));

        // Before any start: what was opened is filled, whatever the card's own order says.
        if (step.Input == InputKind.Touched)
            before = before.Concat(Unfilled.Concat(OpenDrains.Select(x => x.Step)).Where(x => Steps.IndexOf(x) < Steps.IndexOf(step)));
        return [.. before.Distinct()];
    }

    /// <summary>Drains that are open: begun, and their plugs not home.</summary>
    public IEnumerable<RunningClock> OpenDrains =>
        Steps.Where(x => IsDrain(x) && IsDone(x) && !PlugOf(x, IsDone)).Select(x => new RunningClock(x, _at.GetValueOrDefault(x.Code)));

    /// <summary>Settlings that run: begun, and nobody looked again.</summary>
    public IEnumerable<RunningClock> Settling =>
        Steps
            .Where(x => x.Wait > 0 && !IsDrain(x) && IsDone(x) && Steps.Any(y => y.After.Contains(x.Code) && !IsDone(y) && !IsLeft(y)))
            .Select(x => new RunningClock(x, _at.GetValueOrDefault(x.Code)));

    /// <summary>Fills that are owed: the drain was opened, and nothing is recorded in.</summary>
    public IEnumerable<JobStep> Unfilled =>
        Steps.Where(x =>
            x.Input == InputKind.Fill
            && !IsDone(x)
            && Steps.Any(y => y.Item == x.Item && (IsDrain(y) || y.Input == InputKind.Drained) && IsDone(y))
        );

    /// <summary>Whether an item may still be left: nothing of it stands open.</summary>
    public bool CanLeave(string item) => !OpenDrains.Any(x => x.Step.Item == item) && !Unfilled.Any(x => x.Item == item);

    /// <summary>What came of an item.</summary>
    public ItemOutcome OutcomeOf(string item)
    {
        if (_left.Contains(item))
            return ItemOutcome.Left;
        return Steps.Where(x => x.Item == item).All(IsDone) ? ItemOutcome.Done : ItemOutcome.Open;
    }

    /// <summary>Minutes of hands of the steps that were done.</summary>
    public double HandsDone => Steps.Where(IsDone).Sum(x => x.Minutes);

    /// <summary>Whether a card was worked in so few minutes that somebody should ask how.</summary>
    public bool TooQuick(int minutes) => minutes < HandsDone * QuickShare;

    private const double QuickShare = 0.4;

    /// <summary>What stands in the way of closing, worst first.</summary>
    public IEnumerable<(CloseFault Fault, JobStep Step)> CloseFaults
    {
        get
        {
            foreach (var drain in OpenDrains)
                yield return (CloseFault.OpenDrain, drain.Step);
            foreach (var fill in Unfilled)
                yield return (CloseFault.Unfilled, fill);
            foreach (var step in Steps.Where(x => x.Item.Length == 0 && x.Defect is null && !IsDone(x)))
                yield return (step.Input == InputKind.Touched ? CloseFault.NotHome : CloseFault.CardStep, step);
            foreach (var step in Steps.Where(x => x.Item.Length > 0 && OutcomeOf(x.Item) == ItemOutcome.Open && !IsDone(x)))
                yield return (CloseFault.OpenItem, step);
        }
    }

    /// <summary>What must be home at a start: all that earlier steps touched since the start before.</summary>
    public ImmutableArray<string> TouchedBefore(JobStep start)
    {
        var at = Steps.IndexOf(start);
        var from = at - 1;
        while (from >= 0 && Steps[from].Input != InputKind.Touched)
            from--;
        return
        [
            .. Steps
                .Skip(from + 1)
                .Take(at - from - 1)
                .Where(x => x.Touches.Length > 0 && IsDone(x))
                .Select(x => x.Touches)
                .Distinct(StringComparer.Ordinal),
        ];
    }

    /// <summary>
    /// When a wait is over that a level is read after: before it the stick does not read true. Null where nothing has to be waited for.
    /// </summary>
    public DateTimeOffset? TrueFrom(JobStep step) =>
        step.Input != InputKind.Level
            ? null
            : Steps
                .Where(x => x.Wait > 0 && step.After.Contains(x.Code) && IsDone(x) && _at.ContainsKey(x.Code))
                .Select(x => (DateTimeOffset?)_at[x.Code].AddMinutes(x.Wait))
                .Max();

    /// <summary>Litres recorded into an item's compartment before a step.</summary>
    public double FilledBefore(JobStep step) =>
        step.Input != InputKind.Level
            ? 0
            : Steps.Take(Steps.IndexOf(step)).Where(x => x.Item == step.Item && x.Input == InputKind.Fill).Sum(LitresOf);

    /// <summary>The change of fluid that a step belongs to, with what the other steps of it say; null where it can't be reckoned.</summary>
    public BalanceInput? ChangeBefore(JobStep step)
    {
        if (step.Change is not { } known)
            return null;
        var others = Steps.Where(x => x.Item == step.Item && x.Code != step.Code).ToList();
        var found = others.Find(x => x.Code.EndsWith(".found", StringComparison.Ordinal));
        return new()
        {
            Capacity = known.Capacity,
            BetweenMarks = known.BetweenMarks,
            FilterLitres = known.FilterLitres,
            History = known.History,
            Found = found is not null && AnswerOf(found) is LevelStepAnswer { Level: { } level } ? Exactly(level) : null,

            // A change ends at the mark: its card is not closed before.
            LastFull = known.Capacity,
            TopUps = known.TopUps,
            Drained = Exactly(others.Where(x => x.Input == InputKind.Drained).Sum(LitresOf)),
            Filled = Exactly(others.Where(x => x.Input == InputKind.Fill).Sum(LitresOf)),
            PreFilled = others.Exists(x => AnswerOf(x) is FilterAnswer { Prefilled: true }),
            HasRun = step.Input == InputKind.Level,
        };
    }

    /// <summary>The balance of a change as a step's answer leaves it; null before it is answered, and where it can't be reckoned.</summary>
    public FluidBalance? BalanceOf(JobStep step) =>
        ChangeBefore(step) is { } change && AnswerOf(step) is ILitresAnswer answer
            ? FluidBalance.Of(StepJudge.With(change, step, answer))
            : null;

    // As it was typed: doubles have no tenth of a litre.
    private static decimal Exactly(double figure) => Math.Round((decimal)figure, 3);

    private bool IsDone(string code) => _results.TryGetValue(code, out var result) && result.Accepted;

    private static bool IsDrain(JobStep step) => step.Input == InputKind.Tick && step.Stream.Length > 0;

    private bool PlugOf(JobStep drain, Func<JobStep, bool> done) =>
        Steps.Where(x => x.Item == drain.Item && x.Input == InputKind.Plug).All(done);
}
