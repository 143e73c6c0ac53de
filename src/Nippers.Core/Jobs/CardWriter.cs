using System.Collections.Immutable;

namespace Nippers.Core.Jobs;

/// <summary>What the card puts between steps by itself.</summary>
public enum CardBetween
{
    /// <summary>Nothing: a step of an item, a defect or the card.</summary>
    None,

    /// <summary>Locked out.</summary>
    Isolate,

    /// <summary>The locks come off.</summary>
    Release,

    /// <summary>The engine starts.</summary>
    Start,

    /// <summary>People clear, about to move.</summary>
    Clear,

    /// <summary>Stopped.</summary>
    Stop,

    /// <summary>Until it is warm.</summary>
    WarmUp,

    /// <summary>Until it is cold.</summary>
    CoolDown,

    /// <summary>Driven into another position.</summary>
    Move,

    /// <summary>Opened for work.</summary>
    Open,

    /// <summary>Shut again.</summary>
    Shut,

    /// <summary>A vessel emptied.</summary>
    Empty,
}

/// <summary>Writes a card from the order that was found: its steps with what lies between as steps of their own.</summary>
internal sealed class CardWriter(JobInput input, List<JobStep> steps, CardSequence sequence)
{
    private readonly Dictionary<string, JobStep> _steps = steps.ToDictionary(x => x.Code, StringComparer.Ordinal);
    private readonly Dictionary<string, string> _codes = [];
    private readonly HashSet<string> _taken = [.. input.Taken];

    public JobCard Write()
    {
        foreach (var step in steps)
            _codes[step.Code] = Free(step.Code);
        var written = ImmutableArray.CreateBuilder<JobStep>();
        var placed = ImmutableArray.CreateBuilder<PlacedStep>();
        var opens = new Dictionary<string, JobStep>(StringComparer.Ordinal);
        for (var i = 0; i < sequence.Order.Length; i++)
        {
            var at = sequence.Order[i];
            var step = _steps.TryGetValue(at.Code, out var own) ? Own(own, opens) : Between(at, i, opens);
            if (step.Between == CardBetween.Open)
                opens[step.Access] = step;
            written.Add(step);
            placed.Add(new(step.Code, at.Start, at.End));
        }

        return new(written.ToImmutable(), placed.ToImmutable(), sequence.Hands, sequence.Elapsed, sequence.Lockouts);
    }

    private string Free(string code)
    {
        var free = code;
        for (var n = 2; !_taken.Add(free); n++)
            free = $"{code}-{n}";
        return free;
    }

    private JobStep Own(JobStep step, Dictionary<string, JobStep> opens)
    {
        var after = step.After.Select(x => _codes[x]);
        if (step.Access.Length > 0 && opens.TryGetValue(step.Access, out var open))
            after = after.Append(open.Code);
        return step with { Code = _codes[step.Code], After = [.. after] };
    }

    private JobStep Between(PlacedStep at, int place, Dictionary<string, JobStep> opens)
    {
        var parts = at.Code[CardSequencer.Between.Length..].Split(':', 2);
        var (word, of) = (parts[0], parts.Length > 1 ? parts[1] : "");
        var kind = Enum.Parse<CardBetween>(word, ignoreCase: true);
        var code = Free(of.Length == 0 ? $"between.{word}" : $"between.{word}-{of.Replace(':', '-')}");
        var step = Between(kind, code, at.End - at.Start);
        switch (kind)
        {
            case CardBetween.Open or CardBetween.Shut:
                var access = JobCardMaker.AccessOf(input, of);
                var open = opens.GetValueOrDefault(of);
                return Planned(step, kind == CardBetween.Open ? access.OpenWhole : access.ShutWhole) with
                {
                    Words = kind == CardBetween.Open ? access.Open : access.Shut,
                    Access = of,
                    Caution = access.Caution,
                    For = kind == CardBetween.Open ? Users(of, place) : open?.For ?? [],
                    After = kind == CardBetween.Open || open is null ? [] : [open.Code, .. open.For],
                };
            case CardBetween.Move:
                var mark = of.StartsWith("mark:", StringComparison.Ordinal);
                var move = input.Moves.FirstOrDefault(x => x.Code == (mark ? "mark" : of)) ?? new(of, of, false, [], "");
                var hub = mark ? input.Places.GetValueOrDefault(of[5..]) : null;
                return Planned(step, input.Between.FirstOrDefault(x => x.Code == word)?.Minutes) with
                {
                    Words = move.Words.Replace("{place}", hub?.Name ?? "", StringComparison.Ordinal),
                    Parts = move.Parts,
                    Posture = of,
                    Hub = hub?.Hub ?? "",
                    Caution = move.Caution,
                };
            default:
                var rule = input.Between.FirstOrDefault(x => x.Code == word) ?? new(word, word, 0, [], "");
                return Planned(step, rule.Minutes) with
                {
                    Words = rule.Words.Replace("{vessel}", of, StringComparison.Ordinal),
                    Parts = rule.Parts,
                    TickEach = kind == CardBetween.Isolate && code == "between.isolate",
                    Vessel = kind == CardBetween.Empty ? of : "",
                    Caution = rule.Caution,
                };
        }
    }

    // What the table has stands on the step where the machine's own past says otherwise.
    private static JobStep Planned(JobStep step, int? table) =>
        step.Wait > 0 || table is null || table == (int)step.Minutes ? step : step with { Table = table };

    /// <summary>A step of what lies between, without its words.</summary>
    public static JobStep Between(CardBetween kind, string code, int minutes)
    {
        var waits = kind is CardBetween.WarmUp or CardBetween.CoolDown;
        return new()
        {
            Code = code,
            Between = kind,
            State = StateOf(kind),
            Input = kind is CardBetween.Release or CardBetween.Start ? InputKind.Touched : InputKind.Tick,
            Words = "",
            Minutes = waits ? 0 : minutes,
            Wait = waits ? minutes : 0,
        };
    }

    /// <summary>Steps for which something is opened: those that follow and need it, until it is shut.</summary>
    private ImmutableArray<string> Users(string access, int place) =>
        [
            .. sequence
                .Order.Skip(place + 1)
                .TakeWhile(x => x.Code != $"{CardSequencer.Between}shut:{access}")
                .Where(x => _steps.TryGetValue(x.Code, out var step) && step.Access == access)
                .Select(x => _codes[x.Code]),
        ];

    /// <summary>The state in which it is done; that from which it leads away, where it changes the state.</summary>
    private static MachineState? StateOf(CardBetween kind) =>
        kind switch
        {
            CardBetween.Isolate or CardBetween.Start or CardBetween.CoolDown => MachineState.Off,
            CardBetween.Release or CardBetween.Open or CardBetween.Shut => MachineState.Isolated,
            CardBetween.Clear or CardBetween.WarmUp => MachineState.Running,
            CardBetween.Move => MachineState.Moving,
            _ => null,
        };
}
