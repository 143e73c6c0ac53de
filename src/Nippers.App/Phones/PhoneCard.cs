using System.Collections.Immutable;
using Nippers.App.Units;
using Nippers.App.Visits;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Parts;
using Nippers.Data.Visits;

namespace Nippers.App.Phones;

/// <summary>A part as a phone knows it.</summary>
public sealed record KitPart(string Make, FilterSize Size);

/// <summary>An open job card as a phone holds it.</summary>
public sealed record KitCard
{
    /// <summary>Number of its visit.</summary>
    public required long Visit { get; init; }

    /// <summary>The card as it is kept.</summary>
    public required string Card { get; init; }

    /// <summary>Answers that the server has, by step.</summary>
    public IReadOnlyDictionary<string, KitAnswer> Rows { get; init; } = ImmutableDictionary<string, KitAnswer>.Empty;

    /// <summary>Items that are left.</summary>
    public IReadOnlyList<string> Left { get; init; } = [];
    public DateTimeOffset OpenedAt { get; init; }
    public bool CameWarm { get; init; }
    public string? HeldBy { get; init; }
    public required CardRules Rules { get; init; }

    /// <summary>Parts that belong on it, and those that may stand in for them, by number.</summary>
    public IReadOnlyDictionary<string, KitPart> Parts { get; init; } = ImmutableDictionary<string, KitPart>.Empty;
    public DateOnly On { get; init; }
    public MeterHours LifeHours { get; init; }
}

/// <summary>
/// A job card on a phone: what the server has of it, and behind that what was answered on this phone, in order. It judges with
/// the rules that the server judges with; what only the server knows (parts in the catalogue, bottles on other cards) it says when
/// it is sent.
/// </summary>
/// <remarks>Rules 5 and 12.</remarks>
public sealed class PhoneCardBook
{
    private readonly VisitRow _row;
    private readonly Actor _actor;
    private readonly Dictionary<string, StepRow> _rows;
    private readonly IReadOnlySet<string> _left;
    private readonly CardRules _rules;
    private readonly IReadOnlyDictionary<string, KitPart> _parts;
    private KeptCard _card;

    /// <summary>Opens a card.</summary>
    /// <param name="machine">The machine, with its card.</param>
    /// <param name="actor">Who holds the phone.</param>
    /// <exception cref="ArgumentException">The machine has no open card.</exception>
    public PhoneCardBook(KitMachine machine, Actor actor)
    {
        var kit = machine.Card ?? throw new ArgumentException("no open card", nameof(machine));
        (_actor, _rules, _parts) = (actor, kit.Rules, kit.Parts);
        _card = CardMaking.Read(kit.Card);
        _left = kit.Left.ToHashSet(StringComparer.Ordinal);
        _rows = kit.Rows.ToDictionary(
            x => x.Key,
            x => Row(kit.Visit, x.Key, x.Value.Revision, x.Value.By, x.Value.At, x.Value.Answer),
            StringComparer.Ordinal
        );
        _row = new()
        {
            Id = kit.Visit,
            MachineId = machine.Id,
            Machine = machine.ToMachine(),
            State = VisitState.Open,
            On = kit.On,
            LifeHours = kit.LifeHours,
            PlannedBy = "",
            OpenedAt = kit.OpenedAt,
            CameWarm = kit.CameWarm,
            HeldBy = kit.HeldBy,
        };
    }

    /// <summary>The card as it stands.</summary>
    public JobContext Context => JobContext.Of(_row, _card, _rows, _left, _rules);

    /// <summary>Puts an answer into the card, and what was done with it in one go.</summary>
    /// <returns>What stands against it, and what the step came to; no result where it was not read.</returns>
    public (List<Refusal> Refusals, StepResult? Result) Take(PhoneEntry entry)
    {
        using var units = PersonUnits.As(entry.Units);
        var (refusals, result) = Take(entry.Step, entry.Typed, entry.Corrected);
        foreach (var more in result is { Accepted: true } ? entry.Typed.All("go").OfType<string>().Skip(1) : [])
        {
            if (Take(more, entry.Typed, entry.Corrected).Refusals.Count > 0)
                break;
        }

        return (refusals, result);
    }

    private (List<Refusal> Refusals, StepResult? Result) Take(string code, TypedFields typed, DateTimeOffset at)
    {
        var job = Context;
        if (job.StepOf(code) is not { } step)
            return ([Refusals.NoSuchStep()], null);
        if (job.Closed(step) is { } closed)
            return ([closed], null);
        var refusals = new List<Refusal>();
        var answer = job.Read(step, (one, wrong) => StepForm.Read(one, typed, wrong), at, _actor, refusals);
        if (answer is FilterAnswer { Part: { } number } filter && _parts.TryGetValue(number, out var part))
            answer = SaveStep.Known(step, filter, part.Make, part.Size, refusals);
        if (refusals.Count > 0)
            return (refusals, null);
        var judged = job.Judge(step, answer);
        if (judged.Value is not { } result)
            return ([.. judged.Refusals], null);
        if (StepJudge.Stops(answer, result))
            _card = _card with { Steps = job.StoppedAt(step) };
        if (step.Between == CardBetween.Isolate && result.Accepted)
            _row.HeldBy = _actor.Name;
        _rows[code] = Row(
            _row.Id,
            code,
            (_rows.GetValueOrDefault(code)?.Revision ?? 0) + 1,
            _actor.Name,
            at,
            JobContext.WriteAnswer(answer)
        );
        return ([], result);
    }

    private static StepRow Row(long visit, string code, int revision, string by, DateTimeOffset at, string answer) =>
        new()
        {
            VisitId = visit,
            Code = code,
            Revision = revision,
            By = by,
            At = at,
            Answer = answer,
        };
}
