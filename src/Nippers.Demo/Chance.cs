using System.Text;

namespace Nippers.Demo;

/// <summary>Chance that depends on names and dates alone, so that yesterday's scenario and today's share their past.</summary>
internal static class Chance
{
    /// <summary>0 up to, not including, 1.</summary>
    public static double Of(string what, string unit, int day)
    {
        // FNV-1a, then the finisher of splitmix64.
        var hash = 14695981039346656037UL;
        foreach (var b in Encoding.UTF8.GetBytes($"{what}|{unit}|{day}"))
            hash = (hash ^ b) * 1099511628211UL;
        hash = (hash ^ (hash >> 30)) * 0xBF58476D1CE4E5B9UL;
        hash = (hash ^ (hash >> 27)) * 0x94D049BB133111EBUL;
        hash ^= hash >> 31;
        return (hash >> 11) / (double)(1UL << 53);
    }

    /// <summary>Between two numbers.</summary>
    public static double Between(double from, double to, string what, string unit, int day) => from + (to - from) * Of(what, unit, day);

    /// <summary>One of a list.</summary>
    public static T Pick<T>(IReadOnlyList<T> from, string what, string unit, int day) => from[(int)(Of(what, unit, day) * from.Count)];
}
