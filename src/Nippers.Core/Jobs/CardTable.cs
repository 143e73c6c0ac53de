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
        int Opens,
        int Shuts,
        int Fills,
        int Vessel,
        int Stream,
        long Litres,
        long Room,
        bool Attended,
        bool Still
    );

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
        foreach (var step in given.Steps)
        {
            var vessel = step.Drain is null ? -1 : Vessel(step.Drain.Vessel);
            var litres = step.Drain is null ? 0 : (long)(step.Drain.Litres * Fine);
            var room = step.Drain is null ? 0 : (long)(step.Drain.Litres * Reserve * Fine);
            var attended = vessel >= 0 && room > Capacity[vessel];
            rows.Add(
                new(
                    step.Code,
                    attended ? step.Hands + step.Wait : step.Hands,
                    attended ? 0 : step.Wait,
                    step.State,
                    step.Heat,
                    Number(postures, step.Posture),
                    Access(step.Access),
                    [
                        .. step.After.Select(x =>
                            byCode.TryGetValue(x, out var at)
                                ? at
                                : throw new ArgumentException($"there is no step '{x}' before {step.Code}")
                        ),
                    ],
                    Number(circuits, step.Drain?.Circuit),
                    Number(circuits, step.Shut),
                    Number(circuits, step.Fill),
                    vessel,
                    Number(streams, step.Drain?.Stream),
                    litres,
                    room,
                    attended,
                    step.Still
                )
            );
        }

        Steps = [.. rows];
        Circuits = circuits.Count;
        Postures = [.. postures];
        HasFill = [.. Enumerable.Range(0, Circuits).Select(x => rows.Exists(y => y.Fills == x))];
        Hanging = [.. postures.Select(given.Hanging.Contains)];
        Tail = Tails();
    }

    /// <summary>Most steps of a card.</summary>
    public const int MostSteps = 128;

    private const int MostAccesses = 30;
    private const decimal Reserve = 1.1m;

    public CardCase Given { get; }
    public int Count { get; }
    public Row[] Steps { get; }
    public int Circuits { get; }
    public ImmutableArray<string> Postures { get; }
    public bool[] HasFill { get; }
    public bool[] Hanging { get; }
    public long[] Capacity { get; }

    /// <summary>Minutes that pass at least from the start of a step until all that comes after it is over.</summary>
    public int[] Tail { get; }

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
