using System.Collections.Immutable;

namespace Nippers.Core.Jobs;

/// <summary>Puts steps into a card that is being worked on: what a finding, or something left undone, asks for.</summary>
/// <remarks>Rules 5: the card stops at a finding; what was opened is shut before a start, its item left or not.</remarks>
public sealed class CardSplice
{
    private readonly ImmutableArray<BetweenRule> _between;
    private readonly List<JobStep> _steps;
    private readonly HashSet<string> _taken;

    /// <summary>Begins with a card.</summary>
    /// <param name="steps">Its steps in order.</param>
    /// <param name="between">What lies between steps.</param>
    public CardSplice(ImmutableArray<JobStep> steps, ImmutableArray<BetweenRule> between)
    {
        (_steps, _between) = ([.. steps], between);
        _taken = _steps.Select(x => x.Code).ToHashSet(StringComparer.Ordinal);
    }

    /// <summary>The steps as they are now.</summary>
    public ImmutableArray<JobStep> Steps => [.. _steps];

    /// <summary>Code of the step in which a finding's finder writes why it may go on.</summary>
    public static string WhyOf(string found) => found + ".why";

    /// <summary>Code of the step in which a second person releases it.</summary>
    public static string ReleasedOf(string found) => found + ".released";

    /// <summary>
    /// Stops the card at a finding. What runs is stopped and locked out first; two people write before anything starts again, and
    /// what was still to be done running follows after a new start.
    /// </summary>
    /// <param name="found">The step at which it was found.</param>
    /// <param name="open">Whether a step is still to be done.</param>
    /// <param name="why">Words of the finder's step.</param>
    /// <param name="released">Words of the second person's.</param>
    /// <param name="passed">
    /// The machine's state now, where the finding stands in a state that has passed: it came as the correction of an old answer, and
    /// what runs by now stops for it. Null for a finding of this moment.
    /// </param>
    public void StopAt(JobStep found, Func<JobStep, bool> open, string why, string released, MachineState? passed = null)
    {
        if (_taken.Contains(WhyOf(found.Code)))
            return;
        var at = _steps.FindIndex(x => x.Code == found.Code);
        var state = passed ?? found.State;
        if (passed is not null)
            at = Math.Max(at, _steps.FindLastIndex(x => x.IsBoundary && !open(x)));
        JobStep[] two =
        [
            Written(WhyOf(found.Code), why, found),
            Written(ReleasedOf(found.Code), released, found) with
            {
                After = [WhyOf(found.Code)],
                Besides = WhyOf(found.Code),
            },
        ];
        if (state is not (MachineState.Running or MachineState.Moving))
        {
            Insert(at + 1, two);
            return;
        }

        var stop = _steps.FindIndex(at, x => x.Between == CardBetween.Stop);
        var rest = stop < 0 || _steps.Skip(at + 1).Take(stop - at - 1).Any(open);
        var next = _steps.FindIndex(Math.Max(at, stop), x => x.Between is CardBetween.Isolate or CardBetween.Start);
        if (!rest && next >= 0 && _steps[next].Between == CardBetween.Isolate)
            Insert(next + 1, two);
        else if (!rest)
            Insert(stop + 1, [Between(CardBetween.Isolate), .. two, Between(CardBetween.Release)]);
        else
            Insert(
                at + 1,
                [
                    Between(CardBetween.Stop),
                    Between(CardBetween.Isolate),
                    .. two,
                    Between(CardBetween.Release),
                    Between(CardBetween.Start),
                    .. state == MachineState.Moving ? [Between(CardBetween.Clear)] : Array.Empty<JobStep>(),
                ]
            );
    }

    /// <summary>
    /// Puts the closing of what was opened on the card, for an item that is left: a filter that does not fit leaves its housing
    /// open. It comes before the next change of the machine's state.
    /// </summary>
    /// <param name="circuit">The circuit that stands open.</param>
    /// <param name="item">The item that is left.</param>
    /// <param name="open">Whether a step is still to be done.</param>
    /// <param name="words">What is done.</param>
    /// <param name="part">What is ticked: that the old part is whole.</param>
    public void CloseInstead(string circuit, string item, Func<JobStep, bool> open, string words, string part)
    {
        var shuts = _steps.FindIndex(x => x.Shuts == circuit && x.Input == InputKind.Filter);
        if (shuts < 0)
            return;
        var old = _steps[shuts];
        var code = Free(item + ".close");
        _steps[shuts] = old with { Shuts = "" };
        for (var i = 0; i < _steps.Count; i++)
        {
            if (_steps[i].Fills == circuit)
                _steps[i] = _steps[i] with { After = _steps[i].After.Add(code) };
        }

        var at = _steps.FindIndex(shuts, x => x.IsBoundary && open(x));
        var fill = _steps.FindIndex(x => x.Fills == circuit);
        var place = new[] { at, fill }.Where(x => x >= 0).DefaultIfEmpty(_steps.Count).Min();
        Insert(
            place,
            [
                new()
                {
                    Code = code,
                    State = MachineState.Isolated,
                    Input = InputKind.Tick,
                    Words = words,
                    Compartment = old.Compartment,
                    Minutes = old.Minutes,
                    Access = old.Access,
                    Caution = old.Caution,
                    Shuts = circuit,
                    Parts = [part],
                    TickEach = true,
                },
            ]
        );
    }

    /// <summary>
    /// Puts on the card that what an item took off is back, for an item that is left: nobody had recorded that it was off. It comes
    /// before the next change of the machine's state.
    /// </summary>
    /// <param name="item">The item that is left.</param>
    /// <param name="things">What is off or open, by name.</param>
    /// <param name="open">Whether a step is still to be done.</param>
    /// <param name="words">What is done.</param>
    /// <param name="caution">Its caution.</param>
    /// <param name="now">The machine's state now.</param>
    public void PutBack(
        string item,
        ImmutableArray<string> things,
        Func<JobStep, bool> open,
        string words,
        string caution,
        MachineState now
    )
    {
        var back = new JobStep
        {
            Code = Free(item + ".back"),
            State = MachineState.Isolated,
            Input = InputKind.Tick,
            Words = words,
            Caution = caution,
            Parts = things,
            TickEach = true,
            PutsBack = true,
        };
        var from = Math.Max(_steps.FindIndex(x => x.Item == item), _steps.FindLastIndex(x => x.IsBoundary && !open(x)));
        if (now is not (MachineState.Running or MachineState.Moving))
        {
            var at = _steps.FindIndex(from + 1, x => x.IsBoundary && open(x));
            Insert(at < 0 ? _steps.Count : at, [back]);
            return;
        }

        // Nobody puts a hand there while it runs: in the next lockout, or in one of its own.
        var stop = _steps.FindIndex(from + 1, x => x.Between == CardBetween.Stop && open(x));
        var next = _steps.FindIndex(Math.Max(from, stop) + 1, x => x.Between is CardBetween.Isolate or CardBetween.Start);
        if (next >= 0 && _steps[next].Between == CardBetween.Isolate)
            Insert(next + 1, [back]);
        else
            Insert(stop < 0 ? _steps.Count : stop + 1, [Between(CardBetween.Isolate), back, Between(CardBetween.Release)]);
    }

    private static JobStep Written(string code, string words, JobStep found) =>
        new()
        {
            Code = code,
            Input = InputKind.Tick,
            Words = words,
            Compartment = found.Compartment,
            NeedsWords = true,
        };

    private JobStep Between(CardBetween kind)
    {
        var rule = _between.Single(x => string.Equals(x.Code, kind.ToString(), StringComparison.OrdinalIgnoreCase));
        return CardWriter.Between(kind, Free("between." + rule.Code), rule.Minutes) with
        {
            Words = rule.Words,
            Parts = rule.Parts,
            Caution = rule.Caution,
        };
    }

    private string Free(string code)
    {
        var free = code;
        for (var n = 2; _taken.Contains(free); n++)
            free = $"{code}-{n}";
        _taken.Add(free);
        return free;
    }

    private void Insert(int at, IEnumerable<JobStep> steps)
    {
        var all = steps.ToList();
        _steps.InsertRange(at, all);
        _taken.UnionWith(all.Select(x => x.Code));
    }
}
