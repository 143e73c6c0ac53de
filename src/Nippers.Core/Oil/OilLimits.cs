using System.Collections.Immutable;
using System.Globalization;

namespace Nippers.Core.Oil;

/// <summary>What kind of place the oil works in; decides limits and patterns.</summary>
public enum OilKind
{
    /// <summary>An engine's crankcase.</summary>
    Engine,

    /// <summary>A hydraulic tank.</summary>
    Hydraulic,

    /// <summary>Axles, final drives, swing drives.</summary>
    Gear,

    /// <summary>A transmission with its converter.</summary>
    Transmission,
}

/// <summary>Where a limit comes from.</summary>
public enum LimitSource
{
    /// <summary>The values that ship, or that a planner set for all compartments of the kind.</summary>
    Starting,

    /// <summary>The spread of this fleet's own samples.</summary>
    Own,

    /// <summary>Set by a planner for this one compartment.</summary>
    Compartment,
}

/// <summary>Two numbers at or above which a value is to be watched or acted on.</summary>
/// <param name="Watch">From here it is watched.</param>
/// <param name="Act">From here something is done.</param>
/// <param name="Source">Where they come from.</param>
/// <param name="Values">Own: how many values they rest on.</param>
public sealed record OilLimit(double Watch, double Act, LimitSource Source = LimitSource.Starting, int Values = 0)
{
    /// <summary>0, 1 watch or 2 act.</summary>
    public int Grade(double value) =>
        value >= Act ? 2
        : value >= Watch ? 1
        : 0;
}

/// <summary>The limits that judge one sample.</summary>
/// <remarks>Rules 10. The starting values stand in Tables/limits.csv beside this file.</remarks>
public sealed class LimitSet
{
    private static readonly ImmutableArray<ImmutableDictionary<Measurand, OilLimit>> Shipped = Read();
    private readonly ImmutableDictionary<Measurand, OilLimit> _limits;

    private LimitSet(ImmutableDictionary<Measurand, OilLimit> limits, Iso4406Code? target) => (_limits, Target) = (limits, target);

    /// <summary>Cleanliness that is aimed at; null when none is set.</summary>
    public Iso4406Code? Target { get; }

    /// <summary>The limit of a measurand; null when it has none in this kind of place.</summary>
    public OilLimit? this[Measurand measurand] => _limits.GetValueOrDefault(measurand);

    /// <summary>All limits there are, in the order of the measurands.</summary>
    public IEnumerable<(Measurand Measurand, OilLimit Limit)> All =>
        Enum.GetValues<Measurand>().Where(_limits.ContainsKey).Select(x => (x, _limits[x]));

    /// <summary>A set of given limits, for example those that judged an earlier sample.</summary>
    public static LimitSet Of(IEnumerable<KeyValuePair<Measurand, OilLimit>> limits, Iso4406Code? target) =>
        new(limits.ToImmutableDictionary(), target);

    /// <summary>The values that ship.</summary>
    public static LimitSet Starting(OilKind kind) => new(Shipped[(int)kind], kind == OilKind.Hydraulic ? new(18, 16, 13) : null);

    /// <summary>Hours of oil at which values compare.</summary>
    public static double ReferenceHours(OilKind kind) =>
        kind switch
        {
            OilKind.Engine => 250,
            OilKind.Gear => 1000,
            _ => 500,
        };

    /// <summary>The same with some limits replaced. Those of measurands that the kind does not know are taken in too.</summary>
    public LimitSet With(IEnumerable<KeyValuePair<Measurand, OilLimit>> limits, Iso4406Code? target = null) =>
        new(_limits.SetItems(limits), target ?? Target);

    /// <summary>Limits from the fleet's own values.</summary>
    /// <param name="values">Earlier values of the same kind of compartment and fluid family, flagged samples left out; any order.</param>
    /// <param name="starting">The starting limit, which holds them within bounds.</param>
    /// <returns>Null with fewer than <see cref="FewestValues"/>.</returns>
    public static OilLimit? OwnFleet(IReadOnlyCollection<double> values, OilLimit starting)
    {
        if (values.Count < FewestValues)
            return null;
        var sorted = values.Order().ToArray();
        var watch = Math.Clamp(Percentile(sorted, 0.90), LeastShare * starting.Watch, MostShare * starting.Watch);
        var act = Math.Clamp(Percentile(sorted, 0.98), LeastShare * starting.Act, MostShare * starting.Act);
        return new(watch, Math.Max(act, ActOverWatch * watch), LimitSource.Own, sorted.Length);
    }

    /// <summary>Values that own limits need.</summary>
    public const int FewestValues = 100;

    private const double LeastShare = 0.5;
    private const double MostShare = 1.5;
    private const double ActOverWatch = 1.25;

    /// <summary>A percentile by linear interpolation between order statistics.</summary>
    /// <param name="sorted">Values, smallest first, at least one.</param>
    /// <param name="share">0 to 1.</param>
    public static double Percentile(IReadOnlyList<double> sorted, double share)
    {
        var at = share * (sorted.Count - 1);
        var below = (int)Math.Floor(at);
        var above = Math.Min(below + 1, sorted.Count - 1);
        return sorted[below] + (at - below) * (sorted[above] - sorted[below]);
    }

    private static ImmutableArray<ImmutableDictionary<Measurand, OilLimit>> Read()
    {
        var kinds = Enum.GetValues<OilKind>().Select(_ => ImmutableDictionary.CreateBuilder<Measurand, OilLimit>()).ToArray();
        foreach (var cells in CoreTables.Read("limits"))
        {
            for (var i = 0; i < kinds.Length; i++)
            {
                if (cells[i + 1].Length == 0)
                    continue;
                var pair = cells[i + 1].Split('/');
                kinds[i].Add(Measurands.Parse(cells[0])!.Value, new(Number(pair[0]), Number(pair[1])));
            }
        }

        return [.. kinds.Select(x => x.ToImmutable())];
    }

    private static double Number(string text) => double.Parse(text, CultureInfo.InvariantCulture);
}

/// <summary>Reads the tables that ship inside: a heading, then lines of cells parted by semicolons.</summary>
internal static class CoreTables
{
    public static IEnumerable<string[]> Read(string name)
    {
        using var stream = typeof(CoreTables).Assembly.GetManifestResourceStream($"Oil.{name}.csv")!;
        using var reader = new StreamReader(stream);
        reader.ReadLine();
        while (reader.ReadLine() is { } line)
        {
            if (line.Length > 0)
                yield return line.Split(';');
        }
    }
}
