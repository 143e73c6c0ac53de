using Nippers.Core.Jobs;

namespace Nippers.Tests;

/// <summary>
/// Replays a card minute by minute as a person would live it, and says what is wrong with it. It knows the rules, and nothing of how
/// an order is found.
/// </summary>
internal sealed class CardChecker
{
    private readonly CardCase _card;
    private readonly List<string> _wrong = [];
    private readonly Dictionary<string, int> _ends = [];
    private readonly HashSet<string> _open = [];
    private readonly Dictionary<string, decimal> _content = [];
    private readonly Dictionary<string, string> _stream = [];
    private readonly List<(CardStep Step, int From, int To)> _waits = [];
    private readonly HashSet<string> _drained = [];
    private readonly HashSet<string> _unfilled = [];
    private MachineState _state = MachineState.Off;
    private string _posture;
    private int _now;
    private int _hands;
    private int _lockouts;
    private bool _hasRun;
    private bool _warmedUp;
    private int? _lastStop;
    private int? _lastWarmStop;

    private CardChecker(CardCase card) => (_card, _posture) = (card, card.Posture);

    /// <summary>What is wrong; empty for a sound card.</summary>
    public static IReadOnlyList<string> Check(CardCase card, CardSequence sequence)
    {
        var checker = new CardChecker(card);
        foreach (var placed in sequence.Order)
            checker.Live(placed);
        checker.End(sequence);
        return checker._wrong;
    }

    private void Must(bool holds, string what)
    {
        if (!holds)
            _wrong.Add($"{_now}: {what}");
    }

    private bool Runs => _state is MachineState.Running or MachineState.Moving;

    private bool Whole => _drained.Count == 0 && _unfilled.Count == 0;

    private void Live(PlacedStep placed)
    {
        Must(placed.Start >= _now, $"{placed.Code} begins at {placed.Start}, before hands are free");
        _now = Math.Max(_now, placed.Start);
        if (placed.Code.StartsWith('+'))
            LiveBetween(placed);
        else
            LiveStep(_card.Steps.Single(x => x.Code == placed.Code), placed);
    }

    private void LiveBetween(PlacedStep placed)
    {
        var parts = placed.Code.Split(':', 2);
        var minutes = _card.Minutes;
        void Takes(int expected, bool hands = true)
        {
            Must(placed.End - placed.Start == expected, $"{placed.Code} takes {placed.End - placed.Start} for {expected}");
            _hands += hands ? expected : 0;
        }

        switch (parts[0])
        {
            case "+isolate":
                Must(_state == MachineState.Off && !_card.Hanging.Contains(_posture), "isolated from " + _state);
                Takes(minutes.Isolate);
                (_state, _lockouts) = (MachineState.Isolated, _lockouts + 1);
                break;
            case "+release":
                Must(_state == MachineState.Isolated && Whole, "released with something open");
                Takes(minutes.Release);
                _state = MachineState.Off;
                break;
            case "+start":
                Must(_state == MachineState.Off && Whole, "started with something open");
                Must(!_card.Accesses.Any(x => x.MustBeShutToRun && _open.Contains(x.Code)), "started under something open");
                Must(!_waits.Exists(x => x.Step.Still && x.To > placed.Start), "started into a still wait");
                Takes(minutes.Start);
                (_state, _hasRun, _warmedUp) = (MachineState.Running, true, false);
                break;
            case "+clear":
                Must(_state == MachineState.Running && _open.Count == 0, "cleared with something open");
                Takes(minutes.Clear);
                _state = MachineState.Moving;
                break;
            case "+stop":
                Must(Runs, "stopped what stands");
                Takes(minutes.Stop);
                _lastStop = placed.End;
                if (_warmedUp)
                    _lastWarmStop = placed.End;
                (_state, _warmedUp) = (MachineState.Off, false);
                break;
            case "+warmUp":
                Must(_state == MachineState.Running, "warmed up while " + _state);
                Takes(minutes.WarmUp, hands: false);
                _warmedUp = true;
                break;
            case "+coolDown":
                Must(!Runs, "cooled down while running");
                break;
            case "+move":
                Must(_state == MachineState.Moving, "moved while " + _state);
                Takes(minutes.Move);
                _posture = parts[1];
                break;
            case "+open":
                Must(_state == MachineState.Isolated && _open.Add(parts[1]), placed.Code);
                Takes(_card.Accesses.Single(x => x.Code == parts[1]).Open);
                break;
            case "+shut":
                Must(_state == MachineState.Isolated && _open.Remove(parts[1]), placed.Code);
                Must(!_waits.Exists(x => x.Step.Access == parts[1] && x.To > placed.Start), placed.Code + " on a wait");
                Takes(_card.Accesses.Single(x => x.Code == parts[1]).Shut);
                break;
            case "+empty":
                Must(
                    !_waits.Exists(x => x.Step.Drain?.Vessel == parts[1] && x.To > placed.Start),
                    placed.Code + " while something runs in"
                );
                Takes(minutes.Empty);
                _content[parts[1]] = 0;
                break;
            default:
                Must(false, "nobody knows " + placed.Code);
                break;
        }

        _now = placed.End;
    }

    private void LiveStep(CardStep step, PlacedStep placed)
    {
        Must(step.State is null || step.State == _state, $"{step.Code} done while {_state}");
        Must(step.Posture is null || step.Posture == _posture, $"{step.Code} done in {_posture}");
        Must(step.Access is null || _open.Contains(step.Access), $"{step.Code} done with {step.Access} shut");
        Must(step.After.All(x => _ends.TryGetValue(x, out var end) && end <= placed.Start), $"{step.Code} done before what it comes after");
        Must(step.Heat != StepHeat.Warm || IsWarm(placed.Start), $"{step.Code} not warm");
        Must(step.Heat != StepHeat.Cold || IsCold(placed.Start), $"{step.Code} not cold");
        var (hands, wait) = (step.Hands, step.Wait);
        if (step.Drain is { } drain)
        {
            var holds = _card.Vessels.Single(x => x.Code == drain.Vessel).Litres;
            var room = drain.Litres * 1.1m;
            var content = _content.GetValueOrDefault(drain.Vessel);
            Must(!_waits.Exists(x => x.Step.Drain?.Vessel == drain.Vessel && x.To > placed.Start), $"{step.Code} into a vessel at work");
            Must(content == 0 || _stream[drain.Vessel] == drain.Stream, $"{step.Code} mixes streams");
            Must(room > holds ? content == 0 : content + room <= holds, $"{step.Code} runs over");
            if (room > holds)
                (hands, wait) = (hands + wait, 0);
            (_content[drain.Vessel], _stream[drain.Vessel]) = (content + drain.Litres, drain.Stream);
            _drained.Add(drain.Circuit);
        }

        var free = placed.Start + hands;
        Must(placed.End == free + wait, $"{step.Code} ends at {placed.End} for {free + wait}");
        if (wait > 0)
        {
            Must(!_card.OneAtATime || _waits.TrueForAll(x => x.To <= free), $"{step.Code} waits while another does");
            Must(!step.Still || !Runs, $"{step.Code} is to stand still while it runs");
            _waits.Add((step, free, placed.End));
        }

        if (step.Shut is { } shut && _drained.Remove(shut) && _card.Steps.Any(x => x.Fill == shut))
            _unfilled.Add(shut);
        if (step.Fill is { } fill)
        {
            Must(!_drained.Contains(fill), $"{step.Code} fills what is open");
            _unfilled.Remove(fill);
        }

        Must(_ends.TryAdd(step.Code, placed.End), step.Code + " done twice");
        (_now, _hands) = (free, _hands + hands);
    }

    private bool IsWarm(int at) =>
        (Runs && _warmedUp)
        || (_lastWarmStop is { } stop && at <= stop + _card.Minutes.WarmLasts)
        || (_card.Heat == StepHeat.Warm && at <= _card.Minutes.WarmLasts);

    private bool IsCold(int at) =>
        !Runs
        && (
            _lastStop is { } stop ? at >= stop + _card.Minutes.CoolDown
            : _card.Heat == StepHeat.Cold ? !_hasRun
            : at >= _card.Minutes.CoolDown
        );

    private void End(CardSequence sequence)
    {
        Must(_ends.Count == _card.Steps.Length, "steps left out");
        Must(_state == MachineState.Off && _open.Count == 0 && Whole, "left with something open");
        var elapsed = Math.Max(_now, _ends.Values.DefaultIfEmpty().Max());
        Must(sequence.Elapsed == elapsed, $"elapsed {sequence.Elapsed} for {elapsed}");
        Must(sequence.Hands == _hands, $"hands {sequence.Hands} for {_hands}");
        Must(sequence.Lockouts == _lockouts, $"lockouts {sequence.Lockouts} for {_lockouts}");
    }
}
