using System.Text;

namespace Nippers.App.People;

/// <summary>
/// Passwords that are guessed first: well-known words with figures and signs about them or in them, rows of keys, repeats, and a
/// person's own names.
/// </summary>
public static class CommonPasswords
{
    private const int ShortestName = 3;
    private const int LeastBesideName = 6;
    private const int LeastDistinct = 5;
    private const int LongestRepeat = 6;

    private static readonly string[] Rows =
    [
        "qwertyuiopasdfghjklzxcvbnm",
        "qwertzuiopasdfghjklyxcvbnm",
        "azertyuiopqsdfghjklmwxcvbn",
        "abcdefghijklmnopqrstuvwxyz",
        "12345678901234567890",
        "1qaz2wsx3edc4rfv5tgb6yhn7ujm",
    ];

    private static readonly HashSet<string> Words = Read();

    /// <summary>Whether a password is one of them.</summary>
    /// <param name="password">The password.</param>
    /// <param name="names">Names of the person: to sign in with, and in full.</param>
    public static bool Are(string password, params IEnumerable<string?> names)
    {
        var plain = password.ToLowerInvariant();
        if (plain.Distinct().Count() < LeastDistinct || IsRow(plain) || IsRepeat(plain))
            return true;
        var letters = Letters(plain);
        return letters.Length == 0 || IsMade(letters) || names.Any(x => IsName(plain, x));
    }

    // What is left when figures that stand for letters are read as such, and all other signs are taken away.
    private static string Letters(string plain)
    {
        var core = plain.Trim("0123456789 !?.,-_#*+$@".ToCharArray());
        var read = new StringBuilder(core.Length);
        foreach (var sign in core)
        {
            var letter = sign switch
            {
                '0' => 'o',
                '1' or '!' => 'i',
                '3' => 'e',
                '4' or '@' => 'a',
                '5' or '$' => 's',
                '7' => 't',
                _ => sign,
            };
            if (char.IsLetter(letter))
                read.Append(letter);
        }

        return read.ToString();
    }

    /// <summary>Whether it is one well-known word, the same again and again, or two of them.</summary>
    private static bool IsMade(string letters) =>
        Words.Contains(letters)
        || Enumerable.Range(1, letters.Length - 1).Any(x => Words.Contains(letters[..x]) && Words.Contains(letters[x..]));

    private static bool IsRow(string plain)
    {
        var back = new string([.. plain.Reverse()]);
        return Rows.Any(x => x.Contains(plain, StringComparison.Ordinal) || x.Contains(back, StringComparison.Ordinal));
    }

    private static bool IsRepeat(string plain) =>
        Enumerable
            .Range(1, Math.Min(LongestRepeat, plain.Length / 2))
            .Any(x => plain.Chunk(x).Select(part => new string(part)).All(part => plain.StartsWith(part, StringComparison.Ordinal)));

    private static bool IsName(string plain, string? name) =>
        (name ?? "")
            .ToLowerInvariant()
            .Split([' ', '.', '-', '_'], StringSplitOptions.RemoveEmptyEntries)
            .Where(x => x.Length >= ShortestName)
            .Any(x => plain.Contains(x, StringComparison.Ordinal) && plain.Length - x.Length < LeastBesideName);

    private static HashSet<string> Read()
    {
        using var stream = typeof(CommonPasswords).Assembly.GetManifestResourceStream("People.common-passwords")!;
        using var reader = new StreamReader(stream);
        return reader
            .ReadToEnd()
            .Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
            .ToHashSet(StringComparer.Ordinal);
    }
}
