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
    private readonly DateTimeOffset? _ranUntil;
    private readonly Dictionary<string, StepResult> _results = new(StringComparer.Ordinal);

    private readonly Dictionary<string, int> _place = new(StringComparer.Ordinal);
    private readonly int[] _boundary;

    /// <summary>Derives the state of a card.</summary>
    /// <param name="steps">Its steps in order.</param>
    /// <param name="answers">Answers by step code.</param>
    /// <param name="at">When each was given.</param>
    /// <param name="left">Items left undone.</param>
    /// <param name="ranUntil">It came warm: when it stood still. Null when it came cold.</param>
    public JobState(
        ImmutableArray<JobStep> steps,
        IReadOnlyDictionary<string, StepAnswer> answers,
        IReadOnlyDictionary<string, DateTimeOffset> at,
        IReadOnlySet<string> left,
        DateTimeOffset? ranUntil = null
    )
    {
        (Steps, _answers, _at, _left, _ranUntil) = (steps, answers, at, left, ranUntil);
        _boundary = new int[steps.Length];
        for (var (i, last) = (0, -1); i < steps.Length; i++)
        {
            _place[steps[i].Code] = i;
            _boundary[i] = last;
            if (steps[i].IsBoundary)
                last = i;
        }

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

    /// <summary>Whether a step belongs to an item that was left, or is done for such steps alone.</summary>
    public bool IsLeft(JobStep step) =>
        !IsDone(step)
        && (
            (step.Item.Length > 0 && _left.Contains(step.Item) && !ClosesWhatIsOpen(step))
            || (
                step.For.Length > 0
                && !StandsOpen(step)
                && step.For.All(x => _place.TryGetValue(x, out var at) && !IsDone(x) && IsLeft(Steps[at]))
            )
        );

    // A hood or a pan that was opened is shut, whatever became of the work that it was opened for.
    private bool StandsOpen(JobStep shut) =>
        shut.Between == CardBetween.Shut && Steps.Any(x => x.Between == CardBetween.Open && shut.After.Contains(x.Code) && IsDone(x.Code));

    /// <summary>Whether a step is neither done nor left.</summary>
    public bool IsOpen(JobStep step) => !IsDone(step) && !IsLeft(step);

    /// <summary>What an answer came to; null without one.</summary>
    public StepResult? ResultOf(JobStep step) => _results.GetValueOrDefault(step.Code);

    /// <summary>The answer of a step; null without one.</summary>
    public StepAnswer? AnswerOf(JobStep step) => _answers.GetValueOrDefault(step.Code);

    /// <summary>Litres that a step's answer holds: drained, filled or added; 0 without any.</summary>
    public double LitresOf(JobStep step) => AnswerOf(step) is ILitresAnswer { Litres: { } litres } ? litres : 0;

    /// <summary>The next step that can be done; null when all are.</summary>
    public JobStep? Next => Steps.FirstOrDefault(x => IsOpen(x) && BlockedBy(x).IsEmpty);

    /// <summary>The state in which the machine is by what was recorded.</summary>
    public MachineState Now
    {
        get
        {
            var last = Steps.LastOrDefault(x => x.IsBoundary && IsDone(x));
            return last is null ? MachineState.Off : LeadsTo(last) ?? MachineState.Off;
        }
    }

    /// <summary>Steps that must be done first.</summary>
    /// <remarks>
    /// What comes before it; the change of the machine's state that leads to it; and before such a change, all that was to be done
    /// in the state before.
    /// </remarks>
    public ImmutableArray<JobStep> BlockedBy(JobStep step)
    {
        if (!_place.TryGetValue(step.Code, out var at))
            return [];
        IEnumerable<JobStep> before = Steps.Where(x => step.After.Contains(x.Code) && IsOpen(x));
        if (step.IsBoundary)
            before = before.Concat(Steps.Take(at).Where(IsOpen));
        else if (_boundary[at] >= 0 && IsOpen(Steps[_boundary[at]]))
            before = before.Append(Steps[_boundary[at]]);
        else if (HasPassed(step) && Now != step.State)
            before = before.Append(Steps.FirstOrDefault(x => IsOpen(x) && LeadsTo(x) == step.State) ?? Steps[Math.Max(0, _boundary[at])]);

        // Before anybody takes a lock off or starts it: what was opened is shut and filled, whatever the card's own order says.
        if (step.Input == InputKind.Touched)
            before = before.Concat(Unfilled.Concat(OpenDrains.Select(x => x.Step)).Where(x => _place[x.Code] < at));
        return [.. before.Distinct()];
    }

    /// <summary>
    /// Whether a step that nobody has answered stands where the machine was before its state changed: it was taken up again. What was
    /// answered there can be put right in any state, else its card would never go on.
    /// </summary>
    public bool HasPassed(JobStep step) =>
        step is { IsBoundary: false, State: not null } && IsOpen(step) && !_answers.ContainsKey(step.Code) && IsBehind(step);

    /// <summary>Whether the machine has changed its state since a step's place on the card.</summary>
    public bool IsBehind(JobStep step) => Steps.Skip(_place[step.Code] + 1).Any(x => x.IsBoundary && IsDone(x));

    private static MachineState? LeadsTo(JobStep boundary) =>
        boundary.Between switch
        {
            CardBetween.Isolate => MachineState.Isolated,
            CardBetween.Start => MachineState.Running,
            CardBetween.Clear or CardBetween.Move => MachineState.Moving,
            CardBetween.Release or CardBetween.Stop => MachineState.Off,
            _ => null,
        };

    /// <summary>Circuits that are open: opened, and nothing recorded that shuts them.</summary>
    public IEnumerable<RunningClock> OpenDrains =>
        Steps.Where(x => x.Opens.Length > 0 && IsDone(x) && !ShutAgain(x)).Select(x => new RunningClock(x, _at.GetValueOrDefault(x.Code)));

    /// <summary>Waits that run: settling, warming up, cooling down; begun, and what they are for is not done.</summary>
    public IEnumerable<RunningClock> Settling =>
        Steps
            .Where(x => x.Wait > 0 && x.Opens.Length == 0 && IsDone(x) && IsWaitedFor(x))
            .Select(x => new RunningClock(x, _at.GetValueOrDefault(x.Code)));

    private bool IsWaitedFor(JobStep wait) =>
        wait.Between == CardBetween.None
            ? Steps.Any(x => x.Item == wait.Item && x.After.Contains(wait.Code) && IsOpen(x))
            : Steps.Skip(_place[wait.Code] + 1).FirstOrDefault(x => x.Between == CardBetween.None) is { } next && IsOpen(next);

    /// <summary>Fills that are owed: the drain was opened, and nothing is recorded in.</summary>
    public IEnumerable<JobStep> Unfilled =>
        Steps.Where(x => x.Fills.Length > 0 && !IsDone(x) && Steps.Any(y => y.Opens == x.Fills && IsDone(y)));

    /// <summary>Circuits that an item opened and that are not shut: they have to be, the item left or not.</summary>
    public IEnumerable<string> StandsOpen(string item) => OpenDrains.Where(x => x.Step.Item == item).Select(x => x.Step.Opens);

    // What was opened is shut and filled again, whatever becomes of its item.
    private bool ClosesWhatIsOpen(JobStep step) =>
        (step.Shuts.Length > 0 || step.Fills.Length > 0)
        && step.Input != InputKind.Filter
        && Steps.Any(x => x.Opens.Length > 0 && (x.Opens == step.Shuts || x.Opens == step.Fills) && IsDone(x));

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

    internal const double QuickShare = 0.4;

    /// <summary>What stands in the way of closing, worst first.</summary>
    public IEnumerable<(CloseFault Fault, JobStep Step)> CloseFaults
    {
        get
        {
            foreach (var drain in OpenDrains)
                yield return (CloseFault.OpenDrain, drain.Step);
            foreach (var fill in Unfilled)
                yield return (CloseFault.Unfilled, fill);
            foreach (var step in Steps.Where(x => x.Item.Length == 0 && x.Defect is null && IsOpen(x)))
                yield return (step.Input == InputKind.Touched ? CloseFault.NotHome : CloseFault.CardStep, step);
            foreach (var step in Steps.Where(x => x.Item.Length > 0 && OutcomeOf(x.Item) == ItemOutcome.Open && !IsDone(x)))
                yield return (CloseFault.OpenItem, step);
        }
    }

    /// <summary>What is off or open by now, and has to be home before the next lock comes off.</summary>
    public ImmutableArray<string> OpenNow =>
        [
            .. Steps
                .Skip(1 + Steps.ToList().FindLastIndex(x => x.Input == InputKind.Touched && IsDone(x)))
                .Where(IsOff)
                .Select(x => x.Touches)
                .Concat(Steps.Where(x => x.PutsBack && IsOpen(x)).SelectMany(x => x.Parts))
                .Distinct(StringComparer.Ordinal),
        ];

    // What a step of its own recorded home is not asked for once more: ticks that say nothing new are ticked blind.
    private bool IsOff(JobStep step) =>
        step.Touches.Length > 0 && _answers.ContainsKey(step.Code) && !(step.Input == InputKind.Filter && IsDone(step)) && !PutHome(step);

    private bool PutHome(JobStep drain) =>
        drain.Opens.Length > 0
        && ShutAgain(drain)
        && Steps.Where(x => x.Shuts == drain.Opens).All(x => x.Input is InputKind.Plug or InputKind.Tick);

    /// <summary>
    /// What may be off or open of an item that is being left: what its steps take off in the lockout that holds now, and that
    /// nobody recorded. Whoever began without recording it is asked.
    /// </summary>
    public ImmutableArray<string> MayBeOff(string item) =>
        [
            .. Steps
                .Where(x =>
                    x.Item == item
                    && x.Touches.Length > 0
                    && x.State == Now
                    && !_answers.ContainsKey(x.Code)
                    && !HasPassed(x)
                    && (_boundary[_place[x.Code]] < 0 || IsDone(Steps[_boundary[_place[x.Code]]]))
                )
                .Select(x => x.Touches)
                .Distinct(StringComparer.Ordinal),
        ];

    /// <summary>What must be home at a start: all that earlier steps touched since the start before.</summary>
    public ImmutableArray<string> TouchedBefore(JobStep start)
    {
        var at = _place[start.Code];
        var from = at - 1;
        while (from >= 0 && Steps[from].Input != InputKind.Touched)
            from--;
        return [.. Steps.Skip(from + 1).Take(at - from - 1).Where(IsOff).Select(x => x.Touches).Distinct(StringComparer.Ordinal)];
    }

    /// <summary>
    /// When the wait is over that a step comes after: before it the stick does not read true, the oil has not run out. Null where
    /// nothing has to be waited for. What is looked at while it drains is not held up by it; of warmth the gauge decides, not the clock.
    /// </summary>
    public DateTimeOffset? TrueFrom(JobStep step) =>
        step.Input is InputKind.Magnet or InputKind.Filter
            ? null
            : Steps
                .Where(x => x.Wait > 0 && IsDone(x) && _at.ContainsKey(x.Code) && step.After.Contains(x.Code))
                .Select(x => (DateTimeOffset?)_at[x.Code].AddMinutes(x.Wait))
                .Max();

    /// <summary>
    /// When the engine last ran by what was recorded; null when it has not run since the card was begun, and while it runs.
    /// </summary>
    public DateTimeOffset? LastRan =>
        Now is MachineState.Running or MachineState.Moving
            ? null
            : Steps
                .Where(x => x.Between == CardBetween.Stop && IsDone(x) && _at.ContainsKey(x.Code))
                .Select(x => (DateTimeOffset?)_at[x.Code])
                .Append(_ranUntil)
                .Max();

    /// <summary>
    /// Steps that are done in one go, beginning with this one: what is done in the cab up to the lockout that follows it, and things
    /// that are merely done, one right after the other. This one alone when it is none of them.
    /// </summary>
    public ImmutableArray<JobStep> Go(JobStep step)
    {
        if (!IsOpen(step) || !(step.InCab || IsPlainTick(step)))
            return [step];
        var go = ImmutableArray.CreateBuilder<JobStep>();
        foreach (var next in Steps.Skip(_place[step.Code]))
        {
            var last = go.Count == 0 ? null : go[^1];
            var locks = step.InCab && next is { Between: CardBetween.Isolate, TickEach: false } && last is { Between: CardBetween.Stop };

            // What settles begins to when it is locked out: nobody has to say so.
            var settles = last is { Between: CardBetween.Isolate } && next is { Input: InputKind.Tick, Still: true, Parts.IsEmpty: true };
            var fits =
                last is { Between: CardBetween.Isolate } ? settles
                : step.InCab ? next.InCab || locks
                : IsPlainTick(next);
            if (!fits || !IsOpen(next) || BlockedBy(next).Any(x => !go.Contains(x)))
                break;
            go.Add(next);
            if (settles)
                break;
        }

        return go.Count == 0 ? [step] : go.ToImmutable();
    }

    private static bool IsPlainTick(JobStep step) =>
        step.Input == InputKind.Tick
        && step is { Wait: 0, TickEach: false, Opens: "" }
        && !(step.NeedsWords || step.Qualified || step.Cool || step.IsBoundary || step.InCab);

    /// <summary>
    /// Looks that can be taken together with this one: in the same state, all of them ready, none that needs a name or a tick of its
    /// own. This one is not among them.
    /// </summary>
    public ImmutableArray<JobStep> Beside(JobStep step) =>
        IsPlainLook(step) && IsOpen(step)
            ?
            [
                .. CardBand
                    .Of(Steps)
                    .First(x => x.Steps.Contains(step))
                    .Steps.Where(x => x.Code != step.Code && IsPlainLook(x) && IsOpen(x) && BlockedBy(x).IsEmpty),
            ]
            : [];

    // What is looked at after a run is answered by itself, as is what is driven: each for its own reason.
    private static bool IsPlainLook(JobStep step) =>
        step is { Input: InputKind.Look, Qualified: false, Parts.IsEmpty: true, Defect: null, State: MachineState.Isolated }
        && step.Item.Length > 0;

    /// <summary>
    /// When the coolant may be opened: a cooling time after the last stop, or after it came warm. Null when the engine has not run,
    /// or while it runs.
    /// </summary>
    /// <param name="step">The step that opens it.</param>
    /// <param name="minutes">Minutes that it takes to cool.</param>
    public DateTimeOffset? CoolFrom(JobStep step, int minutes) => step.Cool ? LastRan?.AddMinutes(minutes) : null;

    /// <summary>
    /// Whether what has to be warm is cold by the clock: the card stood for a night, or the work before took long. Drained then, oil
    /// leaves its dirt behind.
    /// </summary>
    /// <param name="step">The step.</param>
    /// <param name="minutes">Minutes that warmth lasts.</param>
    /// <param name="now">Now.</param>
    public bool IsColdBy(JobStep step, int minutes, DateTimeOffset now) =>
        step.Heat == StepHeat.Warm && LastRan is { } ran && now - ran > TimeSpan.FromMinutes(minutes);

    /// <summary>Litres recorded into an item's compartment before a step.</summary>
    public double FilledBefore(JobStep step) =>
        step.Input != InputKind.Level
            ? 0
            : Steps.Take(_place[step.Code]).Where(x => x.Item == step.Item && (x.Input == InputKind.Fill || x.BeforeRun)).Sum(LitresOf);

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
            Filled = Exactly(others.Where(x => x.Input == InputKind.Fill || x.BeforeRun).Sum(LitresOf)),
            PreFilled = others.Exists(x => AnswerOf(x) is FilterAnswer { Prefilled: true }),
            HasRun = step is { Input: InputKind.Level, BeforeRun: false },
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

    private bool ShutAgain(JobStep drain)
    {
        var shuts = Steps.Where(x => x.Shuts == drain.Opens).ToList();
        return shuts.Count > 0 && shuts.TrueForAll(IsDone);
    }
}
