using System.Collections.Immutable;

namespace Nippers.Core.Jobs;

/// <summary>A card with its names as numbers, for the search.</summary>
internal sealed class CardTable
{
    // Volumes in millionths of a litre: one and a tenth times a decimal stays exact.
    private const decimal Fine = 1_000_000m;

    /// <summary>A step, its names as numbers; -1 for none.</summary>
    public readonly record struct Row(
        string Code,
        int Hands,
        int Wait,
        MachineState? State,
        StepHeat? Heat,
        int Posture,
        int Access,
        ImmutableArray<int> After,
        UInt128 Before,
        int Opens,
        int Shuts,
        int Fills,
        int Vessel,
        int Stream,
        long Litres,
        long Room,
        bool Attended,
        bool Still,
        int Running
    );

    /// <summary>Cards of this search that are not needed any more.</summary>
    public Stack<CardState> GivenUp { get; } = new();

    /// <summary>Ways in which the step that is tried can be brought about.</summary>
    public List<CardState> Ways { get; } = [];

    public CardTable(CardCase given)
    {
        Given = given;
        Count = given.Steps.Length;
        var byCode = new Dictionary<string, int>(StringComparer.Ordinal);
        for (var i = 0; i < Count; i++)
        {
            if (!byCode.TryAdd(given.Steps[i].Code, i))
                throw new ArgumentException($"two steps are named '{given.Steps[i].Code}'");
        }

        if (Count > MostSteps)
            throw new ArgumentException($"more than {MostSteps} steps");
        if (given.Accesses.Length > MostAccesses)
            throw new ArgumentException($"more than {MostAccesses} accesses");
        var postures = new List<string> { given.Posture };
        var circuits = new List<string>();
        var streams = new List<string>();
        int Number(List<string> names, string? name)
        {
            if (name is null)
                return -1;
            var at = names.IndexOf(name);
            if (at >= 0)
                return at;
            names.Add(name);
            return names.Count - 1;
        }

        int Access(string? code) =>
            code is null ? -1
            : given.Accesses.ToList().FindIndex(x => x.Code == code) is var at and >= 0 ? at
            : throw new ArgumentException($"there is no access '{code}'");
        int Vessel(string code) =>
            given.Vessels.ToList().FindIndex(x => x.Code == code) is var at and >= 0
                ? at
                : throw new ArgumentException($"there is no vessel '{code}'");

        Capacity = [.. given.Vessels.Select(x => (long)(x.Litres * Fine))];
        var rows = new List<Row>();
        var waits = 0;
        foreach (var step in given.Steps)
        {
            var vessel = step.Drain is null ? -1 : Vessel(step.Drain.Vessel);
            var litres = step.Drain is null ? 0 : (long)(step.Drain.Litres * Fine);
            var room = step.Drain is null ? 0 : (long)(step.Drain.Litres * Reserve * Fine);
            var attended = vessel >= 0 && room > Capacity[vessel];
            ImmutableArray<int> after =
            [
                .. step.After.Select(x =>
                    byCode.TryGetValue(x, out var at) ? at : throw new ArgumentException($"there is no step '{x}' before {step.Code}")
                ),
            ];
            rows.Add(
                new(
                    step.Code,
                    attended ? step.Hands + step.Wait : step.Hands,
                    attended ? 0 : step.Wait,
                    step.State,
                    step.Heat,
                    Number(postures, step.Posture),
                    Access(step.Access),
                    after,
                    after.Aggregate(UInt128.Zero, (all, x) => all | UInt128.One << x),
                    Number(circuits, step.Drain?.Circuit),
                    Number(circuits, step.Shut),
                    Number(circuits, step.Fill),
                    vessel,
                    Number(streams, step.Drain?.Stream),
                    litres,
                    room,
                    attended,
                    step.Still,
                    step.Wait > 0 && !attended ? waits++ : -1
                )
            );
        }

        Steps = [.. rows];
        Waits = waits;
        Circuits = circuits.Count;
        Postures = [.. postures];
        HasFill = [.. Enumerable.Range(0, Circuits).Select(x => rows.Exists(y => y.Fills == x))];
        Hanging = [.. postures.Select(given.Hanging.Contains)];
        if (Circuits > MostCircuits || postures.Count > MostCircuits || streams.Count > MostCircuits)
            throw new ArgumentException($"more than {MostCircuits} circuits, postures or streams");
        Names = new(
            [.. postures.Select(x => "+move:" + x)],
            [.. given.Accesses.Select(x => "+open:" + x.Code)],
            [.. given.Accesses.Select(x => "+shut:" + x.Code)],
            [.. given.Vessels.Select(x => "+empty:" + x.Code)]
        );
        var kinds = new List<(MachineState?, StepHeat?, int, int)>();
        Kinds =
        [
            .. Steps.Select(x =>
            {
                if (x is not { Wait: 0, Vessel: < 0, Opens: < 0, Shuts: < 0, Fills: < 0 })
                    return -1;
                var asks = (x.State, x.Heat, x.Posture, x.Access);
                if (!kinds.Contains(asks))
                    kinds.Add(asks);
                return kinds.IndexOf(asks);
            }),
        ];
        Tail = Tails();
        ByTail = [.. Enumerable.Range(0, Count).OrderByDescending(x => Tail[x])];
        Before = Earlier();
        for (var i = 0; i < given.Accesses.Length; i++)
        {
            if (given.Accesses[i].MustBeShutToRun)
                MustBeShut |= 1u << i;
        }

        Needs = new UInt128[given.Accesses.Length];
        Into = new UInt128[Capacity.Length];
        Streams = new UInt128[Capacity.Length, streams.Count];
        After = new UInt128[Count];
        Postured = new UInt128[Postures.Length];
        Home = [.. Enumerable.Range(0, Circuits).Select(HomeOf)];
        for (var i = 0; i < Count; i++)
        {
            var bit = UInt128.One << i;
            ref var row = ref Steps[i];
            if (row.State is MachineState.Running or MachineState.Moving)
                Run |= bit;
            if (row.State == MachineState.Moving)
                Move |= bit;
            if (row.State == MachineState.Isolated)
                Isolated |= bit;
            if (row.State == MachineState.Off)
                Off |= bit;
            if (row.Heat == StepHeat.Cold)
                Cold |= bit;
            if (row.Access >= 0)
                Needs[row.Access] |= bit;
            if (row.Vessel >= 0)
            {
                Into[row.Vessel] |= bit;
                Streams[row.Vessel, row.Stream] |= bit;
            }

            foreach (var before in row.After)
                After[before] |= bit;
            All |= bit;
            if (row.Posture >= 0)
                Postured[row.Posture] |= bit;
            if (row.Heat == StepHeat.Warm)
                Warm |= bit;
        }
    }

    /// <summary>Most steps of a card.</summary>
    public const int MostSteps = 128;

    private const int MostAccesses = 30;
    private const int MostCircuits = 60;
    private const decimal Reserve = 1.1m;

    /// <summary>What lies between is called, by the number of what it is done to.</summary>
    public sealed record Between(
        ImmutableArray<string> Move,
        ImmutableArray<string> Open,
        ImmutableArray<string> Shut,
        ImmutableArray<string> Empty
    );

    public Between Names { get; }
    public CardCase Given { get; }
    public int Count { get; }
    public Row[] Steps { get; }

    /// <summary>
    /// Which steps ask the same of the machine and leave nothing behind but their minutes: a number each kind of them shares; -1 for
    /// a step of its own.
    /// </summary>
    public int[] Kinds { get; }

    /// <summary>How many steps have a wait; each knows its number among them.</summary>
    public int Waits { get; }
    public int Circuits { get; }
    public ImmutableArray<string> Postures { get; }
    public bool[] HasFill { get; }
    public bool[] Hanging { get; }
    public long[] Capacity { get; }

    /// <summary>Minutes that pass at least from the start of a step until all that comes after it is over.</summary>
    public int[] Tail { get; }

    /// <summary>Steps without which a circuit is not whole again: what shuts and fills it, and all that comes before those.</summary>
    public UInt128[] Home { get; }

    /// <summary>Accesses that are shut before it runs.</summary>
    public uint MustBeShut { get; }

    /// <summary>Every step.</summary>
    public UInt128 All { get; }

    /// <summary>Steps for which the engine runs.</summary>
    public UInt128 Run { get; }

    /// <summary>Steps for which it is driven or worked.</summary>
    public UInt128 Move { get; }

    /// <summary>Steps that are done locked out.</summary>
    public UInt128 Isolated { get; }

    /// <summary>Steps that want it cold.</summary>
    public UInt128 Cold { get; }

    /// <summary>Steps that need each access open.</summary>
    public UInt128[] Needs { get; }

    /// <summary>Steps that drain into each vessel.</summary>
    public UInt128[] Into { get; }

    /// <summary>Steps that drain each stream into each vessel.</summary>
    public UInt128[,] Streams { get; }

    /// <summary>Steps that come right after each step.</summary>
    public UInt128[] After { get; }

    /// <summary>Steps that are done off, and not locked out.</summary>
    public UInt128 Off { get; }

    /// <summary>Steps that want each posture.</summary>
    public UInt128[] Postured { get; }

    /// <summary>Steps that want it warm.</summary>
    public UInt128 Warm { get; }

    private UInt128[] Before { get; }

    private UInt128 HomeOf(int circuit)
    {
        return Of(x => x.Shuts == circuit) | Of(x => x.Fills == circuit);

        // Where several would do it, what comes before all of them.
        UInt128 Of(Func<Row, bool> does)
        {
            var all = Enumerable.Range(0, Count).Where(i => does(Steps[i])).Select(i => Before[i] | UInt128.One << i).ToList();
            return all.Count == 0 ? 0 : all.Aggregate((x, y) => x & y);
        }
    }

    /// <summary>All that comes before each step, at however many removes.</summary>
    private UInt128[] Earlier()
    {
        var before = new UInt128[Count];
        var known = new bool[Count];
        UInt128 Of(int step)
        {
            if (known[step])
                return before[step];
            known[step] = true;
            foreach (var one in Steps[step].After)
                before[step] |= Of(one) | UInt128.One << one;
            return before[step];
        }

        for (var step = 0; step < Count; step++)
            Of(step);
        return before;
    }

    /// <summary>The steps, those first after which the most is still to come.</summary>
    public int[] ByTail { get; }

    private int[] Tails()
    {
        var tail = new int[Count];
        var seen = new byte[Count];
        int Of(int step)
        {
            if (seen[step] == 2)
                return tail[step];
            if (seen[step] == 1)
                throw new CardImpossibleException($"{Steps[step].Code} comes after itself");
            seen[step] = 1;
            var longest = 0;
            for (var next = 0; next < Count; next++)
            {
                if (Steps[next].After.Contains(step))
                    longest = Math.Max(longest, Of(next));
            }

            seen[step] = 2;
            return tail[step] = longest + Steps[step].Hands + Steps[step].Wait;
        }

        for (var step = 0; step < Count; step++)
            Of(step);
        return tail;
    }
}
