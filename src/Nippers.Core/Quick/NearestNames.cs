namespace Nippers.Core.Quick;

/// <summary>Offers names like one that does not exist.</summary>
public static class NearestNames
{
    /// <summary>The nearest names, nearest first, then by name.</summary>
    /// <param name="typed">What was typed.</param>
    /// <param name="names">Names that exist.</param>
    /// <param name="most">How many at most.</param>
    /// <returns>Only names that share something: at most half of the longer one's letters differ.</returns>
    public static IReadOnlyList<string> Of(string typed, IEnumerable<string> names, int most = 3)
    {
        var wanted = Bare(typed);
        return
        [
            .. names
                .Select(name => (Name: name, Distance: Distance(wanted, Bare(name)), Longest: Math.Max(wanted.Length, Bare(name).Length)))
                .Where(x => x.Distance * 2 <= x.Longest)
                .OrderBy(x => x.Distance)
                .ThenBy(x => x.Name, StringComparer.Ordinal)
                .Take(most)
                .Select(x => x.Name),
        ];
    }

    /// <summary>Letters and digits in capitals: people leave out the dash and the leading zero.</summary>
    private static string Bare(string name) => string.Concat(name.Where(char.IsLetterOrDigit)).ToUpperInvariant();

    /// <summary>Edits between two names: a letter more, less or other, or two neighbours swapped (optimal string alignment).</summary>
    private static int Distance(string a, string b)
    {
        var edits = new int[a.Length + 1, b.Length + 1];
        for (var i = 0; i <= a.Length; i++)
            edits[i, 0] = i;
        for (var j = 0; j <= b.Length; j++)
            edits[0, j] = j;
        for (var i = 1; i <= a.Length; i++)
        {
            for (var j = 1; j <= b.Length; j++)
            {
                var least = Math.Min(Math.Min(edits[i - 1, j], edits[i, j - 1]) + 1, edits[i - 1, j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1));
                if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                    least = Math.Min(least, edits[i - 2, j - 2] + 1);
                edits[i, j] = least;
            }
        }

        return edits[a.Length, b.Length];
    }
}
