using System.Collections.Immutable;

namespace Nippers.Core.Walk;

/// <summary>A fitting that would not take grease on some of the last days on which it was tried.</summary>
/// <param name="Point">The fitting.</param>
/// <param name="Refused">Days on which it took none or was seized.</param>
/// <param name="Days">Days on which its group was greased, <see cref="MostDays"/> at most.</param>
/// <remarks>Rules 7: what a fitting does is remembered as its own.</remarks>
public sealed record GreaseMemory(string Point, int Refused, int Days)
{
    /// <summary>Days that are remembered.</summary>
    public const int MostDays = 10;

    /// <summary>Stands between a check's code and the name of its fitting; no code holds it.</summary>
    public const char Mark = '#';

    /// <summary>Under what a fitting's refusals are kept; with no fitting, what its check greased.</summary>
    public static string Key(string check, string point) => check + Mark + WalkCheck.PointName(point);

    /// <summary>All under which something may be kept of some checks.</summary>
    public static IEnumerable<string> Keys(IEnumerable<WalkCheck> checks) =>
        checks.Where(x => x.Kind == CheckKind.Grease).SelectMany(x => x.Points.Append("").Select(point => Key(x.Code, point))).Distinct();

    /// <summary>The check that a key belongs to.</summary>
    public static string CheckOf(string key) => key.Split(Mark)[0];

    /// <summary>What is kept of an answer: how many fittings took grease, and each that took none.</summary>
    /// <param name="check">A check that greases.</param>
    /// <param name="states">What came of its fittings, in the check's order.</param>
    public static IEnumerable<(string Key, double Value)> Kept(WalkCheck check, ImmutableArray<PointState> states)
    {
        yield return (Key(check.Code, ""), states.Count(x => x == PointState.Good));
        for (var i = 0; i < Math.Min(states.Length, check.Points.Length); i++)
        {
            if (states[i] is PointState.Bad or PointState.Seized)
                yield return (Key(check.Code, check.Points[i]), states[i] == PointState.Seized ? 2 : 1);
        }
    }

    /// <summary>Fittings of a machine that refused lately, by check code; those that always took are left out.</summary>
    /// <param name="kept">What was kept, with the day of each, in any order.</param>
    public static ILookup<string, GreaseMemory> Of(IEnumerable<(string Key, DateOnly On)> kept)
    {
        var all = kept.ToList();
        var days = all.Where(x => x.Key.EndsWith(Mark))
            .GroupBy(x => CheckOf(x.Key), StringComparer.Ordinal)
            .ToDictionary(
                x => x.Key,
                x => x.Select(y => y.On).Distinct().OrderDescending().Take(MostDays).ToHashSet(),
                StringComparer.Ordinal
            );
        return all.Where(x => !x.Key.EndsWith(Mark) && x.Key.Contains(Mark, StringComparison.Ordinal))
            .GroupBy(x => x.Key, StringComparer.Ordinal)
            .Select(x =>
            {
                var of = days.GetValueOrDefault(CheckOf(x.Key), []);
                var refused = x.Select(y => y.On).Distinct().Count(of.Contains);
                return (Check: CheckOf(x.Key), Memory: new GreaseMemory(x.Key.Split(Mark)[1], refused, of.Count));
            })
            .Where(x => x.Memory.Refused > 0)
            .ToLookup(x => x.Check, x => x.Memory, StringComparer.Ordinal);
    }
}
