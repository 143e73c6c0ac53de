using System.Collections.Immutable;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data.Fleet;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>What a walk asks when it is begun, and what it is when it is signed off: the same with a database and without.</summary>
public static class WalkRules
{
    private const int LongestNote = 1000;

    /// <summary>The round that some rounds of a walk make up.</summary>
    public static WalkRound RoundOf(StartWalkInput input) =>
        input.Parts is null ? input.Round
        : input.Parts.Contains(WalkPart.Ordinary) ? WalkRound.Whole
        : WalkRound.Second;

    /// <summary>Codes of the checks that a walk asks, in its order.</summary>
    /// <param name="list">The machine's list.</param>
    /// <param name="machine">The machine with its site.</param>
    /// <param name="input">The walk as it is begun.</param>
    /// <param name="last">Life hours at which the checks of longer cadences were last made.</param>
    /// <param name="life">Life hours now.</param>
    /// <param name="engineOff">The machine is out of service: nothing with key, start or movement is asked.</param>
    public static List<string> Asked(
        CheckList list,
        Machine machine,
        StartWalkInput input,
        IReadOnlyDictionary<string, MeterHours> last,
        MeterHours life,
        bool engineOff
    )
    {
        var round = RoundOf(input);
        var due = WalkRoute
            .Due(list, machine.OptionWords, input.Parts is null ? round : WalkRound.Whole, last, life, machine.Site.StopsEachWalk)
            .Concat(list.Checks.Where(x => x.Cadence == Cadence.OnSign && input.OnSign.Contains(x.Code)))
            .Where(x =>
                input.Parts is not { } parts || parts.Contains(WalkMinutes.PartOf(x)) || (round == WalkRound.Whole && x.IsSafetyCritical)
            )
            .Where(x => !engineOff || x.Engine == EngineState.Off)
            .Concat(list.Checks.Where(x => input.Asked.Contains(x.Code)))
            .DistinctBy(x => x.Code);
        return [.. WalkRoute.Steps(list, due).SelectMany(x => x.Checks).Select(x => x.Code)];
    }

    /// <summary>
    /// Whether saying of an open defect that it is as before, or worse, answers the check that found it: one that is looked at or tried and
    /// that this walk asks. Then nobody is asked twice.
    /// </summary>
    public static bool AnsweredByDefect(CheckList list, WalkRow walk, string check) =>
        check.Length > 0
        && walk.State == WalkState.Open
        && walk.Checks.Split(' ').Contains(check)
        && list.Checks.Any(x => x.Code == check && x.Kind is CheckKind.Look or CheckKind.Test);

    /// <summary>What is due, in the rounds in which it is offered, each with how long it takes.</summary>
    /// <param name="list">The list.</param>
    /// <param name="due">Checks of it that are due.</param>
    /// <param name="share">How this machine's own walks go against the usual time; one where nobody knows.</param>
    public static List<WalkOffer> Offers(CheckList list, ImmutableArray<WalkCheck> due, double share = 1) =>
        [
            .. due.GroupBy(WalkMinutes.PartOf)
                .OrderBy(x => x.Key)
                .Select(x => new WalkOffer(
                    x.Key,
                    x.Count(),
                    Math.Max(1, (int)Math.Round(WalkMinutes.Honest(WalkRoute.Steps(list, x)) * share / 60))
                )),
        ];

    /// <summary>What stands against a walk by how the machine was parked: whether it still stands so, and its heater's cord.</summary>
    /// <param name="parked">How it was left; null when nobody said, or it was walked since.</param>
    /// <param name="input">The walk as it is begun.</param>
    public static IEnumerable<Refusal> AgainstParking(ParkingRow? parked, StartWalkInput input)
    {
        if (parked is null || !string.IsNullOrWhiteSpace(input.LateOn) || RoundOf(input) == WalkRound.Second)
            yield break;
        if (input.AsParked is null)
            yield return Refusals.ParkedNeeded("asParked");
        if (parked.Has(ParkingLine.Heater) && !input.HeaterOut)
            yield return Refusals.HeaterNeeded("heaterOut");
    }

    /// <summary>What stands against signing a walk off.</summary>
    public static List<Refusal> AgainstSigning(WalkContext walk, FinishInput input)
    {
        var refusals = new List<Refusal>();
        if (input.Note?.Length > LongestNote)
            refusals.Add(Refusals.TooLong("note", LongestNote));
        if (walk.FaultsWithoutDefect.ToList() is { Count: > 0 } unwritten)
            refusals.Add(Refusals.FaultsUnwritten(unwritten.Select(x => x.Name).ToList()));
        if (walk.Answers.Values.All(x => x is LeftOutAnswer))
            refusals.Add(Refusals.NothingLookedAt());
        var open = Open(walk).Count;
        if (open > 0 && string.IsNullOrWhiteSpace(input.LeftOut))
            refusals.Add(Refusals.LeftOutNeeded(open));
        return refusals;
    }

    /// <summary>Signs a walk off: what is left gets its reason, and the row its figures.</summary>
    /// <param name="walk">The walk; <see cref="AgainstSigning"/> has nothing against it.</param>
    /// <param name="input">Why the rest was left out, and words for the record.</param>
    /// <param name="by">Who signs.</param>
    /// <param name="at">When.</param>
    /// <returns>Its answers and what they come to, by check code.</returns>
    public static (Dictionary<string, CheckAnswer> Answers, Dictionary<string, CheckResult> Results) Sign(
        WalkContext walk,
        FinishInput input,
        string by,
        DateTimeOffset at
    )
    {
        var row = walk.Row;
        var answers = new Dictionary<string, CheckAnswer>(walk.Answers, StringComparer.Ordinal);

        // A check that was begun keeps what was found; the reason says why the rest of it is missing.
        foreach (var check in Open(walk))
        {
            var why = input.LeftOut!.Trim();
            answers[check.Code] = answers.TryGetValue(check.Code, out var begun) ? begun with { Note = why } : new LeftOutAnswer(why);
        }

        foreach (var check in walk.Checks.Where(x => !walk.IsDone(x) && walk.IsForbidden(x)))
            answers.TryAdd(check.Code, new LeftOutAnswer(LeftOutAnswer.StopFound));

        var results = walk.Checks.ToDictionary(x => x.Code, x => walk.Judge(x, answers[x.Code]), StringComparer.Ordinal);
        row.NotChecked = row.Round == WalkRound.Whole ? walk.NotChecked.Count() : 0;
        row.HonestSeconds = (int)WalkMinutes.Honest(walk.Steps, x => answers[x.Code] is not LeftOutAnswer);
        row.State = WalkState.Finished;
        row.FinishedAt = at;
        row.FinishedBy = by;
        row.Note = input.Note?.Trim() ?? "";
        row.Answered = walk.Checks.Count(x => answers[x.Code] is not LeftOutAnswer);
        row.LeftOut = walk.Checks.Length - row.Answered;
        row.Faults = results.Values.Count(x => x.Outcome == CheckOutcome.Fault);
        var codes = WalkChecks.Codes(row, walk.List);
        row.Answers = PackedAnswers.Pack(codes, answers);
        row.Checks = WalkChecks.Pack(codes, walk.List);
        return (answers, results);
    }

    private static List<WalkCheck> Open(WalkContext walk) => [.. walk.Checks.Where(x => !walk.IsDone(x) && !walk.IsForbidden(x))];
}
