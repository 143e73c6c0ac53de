using System.Collections.Immutable;

namespace Nippers.Core.Jobs;

/// <summary>The phases of a job card, in the order in which hands reach them.</summary>
/// <remarks>Rules 5.</remarks>
public enum JobPhase
{
    /// <summary>Look it over as found, park, isolate, tag, clean before anything opens.</summary>
    Arrive = 1,

    /// <summary>What reads true only cold and standing.</summary>
    Cold,

    /// <summary>Running and warm: samples from live ports, levels that want it running, leak look.</summary>
    Run,

    /// <summary>Stop; let off trapped pressure.</summary>
    Stop,

    /// <summary>Samples with the engine off, levels as found.</summary>
    Sample,

    /// <summary>Drains, slowest first.</summary>
    Drain,

    /// <summary>Filters, belts, batteries, grease, while oil runs out.</summary>
    Meanwhile,

    /// <summary>Plugs home, filling, priming.</summary>
    Refill,

    /// <summary>Everything touched is home; start, look, stop.</summary>
    Start,

    /// <summary>What is turned to its mark by driving.</summary>
    Rounds,

    /// <summary>Settle, look again, top up.</summary>
    Settle,

    /// <summary>Shut, mark, reset, count, sign.</summary>
    Close,
}

/// <summary>A step as far as its place in the order goes.</summary>
/// <param name="Code">Its name on the card.</param>
/// <param name="Phase">Its phase.</param>
/// <param name="HandsOnMinutes">Minutes of hands; 0 or more.</param>
/// <param name="WaitMinutes">Minutes that pass by themselves afterwards; 0 or more.</param>
/// <param name="After">Steps that must be over, their waits too.</param>
/// <param name="Access">What must be open for it; empty for nothing.</param>
/// <param name="Posture">How the machine must stand; empty when it does not matter.</param>
/// <param name="VesselLitres">What its vessel holds, litres; null when none is needed.</param>
/// <param name="DrainLitres">What runs into it, litres.</param>
/// <param name="Vessel">Name of the vessel: two that share one never run together. Empty for a vessel of its own.</param>
public sealed record OrderStep(
    string Code,
    JobPhase Phase,
    double HandsOnMinutes,
    double WaitMinutes,
    ImmutableArray<string> After,
    string Access = "",
    string Posture = "",
    double? VesselLitres = null,
    double DrainLitres = 0,
    string Vessel = ""
)
{
    /// <summary>What a vessel must hold more than what is drained, before anyone may walk away from it.</summary>
    public const double VesselReserve = 1.1;

    /// <summary>Whether somebody has to stay with it while it runs: its vessel is too small, or there is none.</summary>
    public bool Attended => DrainLitres > 0 && !(VesselLitres >= DrainLitres * VesselReserve - 1e-9);

    /// <summary>Minutes of a person.</summary>
    public double Held => HandsOnMinutes + (Attended ? WaitMinutes : 0);

    /// <summary>Hands and wait.</summary>
    public double Whole => HandsOnMinutes + WaitMinutes;
}

/// <summary>When a step is begun and when it is over, its wait too. Minutes from the start of the card.</summary>
public sealed record OrderedStep(string Code, double Start, double End);

/// <summary>The order of a job card for one pair of hands.</summary>
/// <param name="Order">In the order in which hands reach them.</param>
/// <param name="HandsOnMinutes">Minutes of hands, those spent watching a drain too.</param>
/// <param name="ElapsedMinutes">From the first to the last.</param>
/// <param name="SerialMinutes">What it would take one after another, each wait waited out.</param>
public sealed record JobOrder(ImmutableArray<OrderedStep> Order, double HandsOnMinutes, double ElapsedMinutes, double SerialMinutes)
{
    // Hands go through these blocks one after another. Within a block, what is ready goes on while something runs or settles.
    private static int Block(JobPhase phase) =>
        phase switch
        {
            JobPhase.Arrive or JobPhase.Cold => 0,
            JobPhase.Run => 1,
            JobPhase.Stop => 2,
            JobPhase.Sample => 3,
            JobPhase.Drain or JobPhase.Meanwhile or JobPhase.Refill => 4,
            JobPhase.Start => 5,
            JobPhase.Rounds => 6,
            _ => 7,
        };

    /// <summary>Nothing may still be open when the engine starts or the machine moves.</summary>
    private static bool NeedsAllOver(JobPhase phase) => phase is JobPhase.Run or JobPhase.Start or JobPhase.Rounds;

    /// <summary>Orders steps.</summary>
    /// <param name="steps">Steps, their codes unique, none after itself by whatever way.</param>
    /// <param name="oneAtATime">Never two waits at once: one compartment, one filter at a time.</param>
    /// <exception cref="ArgumentException">A code is there twice, a step waits for one that is not there, or they wait for each
    /// other.</exception>
    public static JobOrder Of(IReadOnlyList<OrderStep> steps, bool oneAtATime)
    {
        var byCode = new Dictionary<string, int>(steps.Count, StringComparer.Ordinal);
        for (var i = 0; i < steps.Count; i++)
        {
            if (!byCode.TryAdd(steps[i].Code, i))
                throw new ArgumentException($"{steps[i].Code} is there twice.", nameof(steps));
        }

        var before = new int[steps.Count][];
        for (var i = 0; i < steps.Count; i++)
        {
            var step = steps[i];
            before[i] =
            [
                .. step.After.Select(code =>
                    byCode.TryGetValue(code, out var at)
                        ? at
                        : throw new ArgumentException($"{step.Code} comes after {code}, which is not there.", nameof(steps))
                ),
            ];
        }

        return new Hands(steps, before, oneAtATime).Run();
    }

    /// <summary>One pair of hands at work.</summary>
    private sealed class Hands(IReadOnlyList<OrderStep> steps, int[][] before, bool oneAtATime)
    {
        private readonly double?[] _ends = new double?[steps.Count];
        private readonly List<OrderedStep> _order = new(steps.Count);
        private readonly (JobPhase Phase, string Access, string Posture)[] _group = [.. steps.Select(x => (x.Phase, x.Access, x.Posture))];
        private double _now;
        private double _lastWait;
        private double _lastEnd;
        private int _last = -1;

        public JobOrder Run()
        {
            var longest = LongestOfGroups();
            foreach (var block in Enumerable.Range(0, steps.Count).GroupBy(i => Block(steps[i].Phase)).OrderBy(x => x.Key))
            {
                var left = block.ToList();
                if (left.Exists(i => NeedsAllOver(steps[i].Phase)))
                    _now = Math.Max(_now, _lastEnd);
                while (left.Count > 0)
                {
                    var next = Next(left, longest);
                    if (next < 0)
                        throw new ArgumentException(
                            $"{steps[left[0]].Code} waits for a step that waits for it, or for one of a later phase.",
                            nameof(steps)
                        );
                    Do(next);
                    left.Remove(next);
                }
            }

            return new([.. _order], steps.Sum(x => x.Held), _order.Count == 0 ? 0 : _lastEnd, steps.Sum(x => x.Whole));
        }

        /// <summary>The longest wait within what shares phase, access and posture: that group goes first.</summary>
        private Dictionary<(JobPhase, string, string), double> LongestOfGroups() =>
            steps
                .Select((x, i) => (Group: _group[i], x.WaitMinutes))
                .GroupBy(x => x.Group)
                .ToDictionary(x => x.Key, x => x.Max(y => y.WaitMinutes));

        /// <summary>
        /// The next step: what is ready soonest; of those, by phase, what stays at the open access, then longest wait first.
        /// </summary>
        private int Next(List<int> left, Dictionary<(JobPhase, string, string), double> longest)
        {
            var (best, rank) = (-1, default((double, int, int, double, double, int)));
            foreach (var i in left)
            {
                if (ReadyAt(i) is not { } ready)
                    continue;
                var step = steps[i];
                var stays = _last >= 0 && _group[_last] == _group[i] ? 0 : 1;
                var its = (Math.Max(ready, _now), (int)step.Phase, stays, -longest[_group[i]], -step.WaitMinutes, i);
                if (best < 0 || its.CompareTo(rank) < 0)
                    (best, rank) = (i, its);
            }

            return best;
        }

        private double? ReadyAt(int i)
        {
            var ready = 0.0;
            foreach (var b in before[i])
            {
                if (_ends[b] is not { } end)
                    return null;
                ready = Math.Max(ready, end);
            }

            var step = steps[i];
            if (oneAtATime && step.WaitMinutes > 0)
                ready = Math.Max(ready, _lastWait);
            if (step.Vessel.Length > 0)
            {
                for (var j = 0; j < steps.Count; j++)
                {
                    if (j != i && steps[j].Vessel == step.Vessel && _ends[j] is { } end)
                        ready = Math.Max(ready, end);
                }
            }

            return ready;
        }

        private void Do(int i)
        {
            var step = steps[i];
            var start = Math.Max(_now, ReadyAt(i)!.Value);
            var end = start + step.Whole;
            _now = start + step.Held;
            _ends[i] = end;
            if (step.WaitMinutes > 0)
                _lastWait = Math.Max(_lastWait, end);
            _lastEnd = Math.Max(_lastEnd, end);
            _last = i;
            _order.Add(new(step.Code, start, end));
        }
    }
}
