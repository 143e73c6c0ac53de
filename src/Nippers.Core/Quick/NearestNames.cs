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
            .. names.Select(name => (Name: name, Distance: Distance(wanted, Bare(name)), Longest: Math.Max(wanted.Length, Bare(name).Length)))
                .Where(x => x.Distance * 2 <= x.Longest)
                .OrderBy(x => x.Distance)
                .ThenBy(x => x.Name, StringComparer.Ordinal)
                .Take(most)
                .Select(x => x.Name),
        ];
    }

    /// <summary>Letters and digits in capitals: people leave out the dash and the leading zero.</summary>
    private static string Bare(string name) => string.Concat(name.Where(char.IsLetterOrDigit)).ToUpperInvariant();

    /// <summary>Levenshtein's distance, with two rows.</summary>
    private static int Distance(string a, string b)
    {
        var above = Enumerable.Range(0, b.Length + 1).ToArray();
        var row = new int[b.Length + 1];
        for (var i = 1; i <= a.Length; i++)
        {
            row[0] = i;
            for (var j = 1; j <= b.Length; j++)
            {
                row[j] = Math.Min(Math.Min(row[j - 1], above[j]) + 1, above[j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1));
            }

            (above, row) = (row, above);
        }

        return above[b.Length];
    }
}
