namespace Nippers.Core.Oil;

/// <summary>
/// Short codes for bottles: five characters and a check character. Any one wrong character and any two swapped neighbours are
/// noticed, and one that a smudge has made unreadable is found again.
/// </summary>
/// <remarks>
/// The sum of place times value over all six characters is divisible by 31, a prime, with places 1 to 6. The alphabet has
/// 31 signs and none of 0, 1, I, O and U, which are taken for others on a greasy label.
/// </remarks>
public static class BottleCode
{
    private const string Alphabet = "23456789ABCDEFGHJKLMNPQRSTVWXYZ";
    private const int DataLength = 5;
    private const int Length = DataLength + 1;
    private const char Smudge = '?';
    private const string InAddress = "code=";

    // Spreads running numbers, so that bottles of one box do not differ in one character only. Coprime to 31.
    private const long Spread = 11_412_613;
    private const long Shift = 7_654_321;

    /// <summary>How many codes there are.</summary>
    public static long Count { get; } = (long)Math.Pow(Alphabet.Length, DataLength);

    /// <summary>The code of a running number.</summary>
    /// <param name="number">From 0; numbers beyond <see cref="Count"/> begin again.</param>
    /// <exception cref="ArgumentOutOfRangeException">The number is negative.</exception>
    public static string Of(long number)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(number);
        var rest = (number % Count * Spread + Shift) % Count;
        var values = new int[Length];
        for (var i = DataLength - 1; i >= 0; i--)
        {
            values[i] = (int)(rest % Alphabet.Length);
            rest /= Alphabet.Length;
        }

        var sum = Sum(values);
        values[DataLength] = Enumerable.Range(0, Alphabet.Length).First(x => (sum + Length * x) % Alphabet.Length == 0);
        return Write(values);
    }

    /// <summary>
    /// Reads a code as typed or scanned: capitals or not, with blanks or dashes, and with one <c>?</c> for what can't be read.
    /// </summary>
    /// <param name="text">The text.</param>
    /// <returns>The code as it is printed; null when it is none, or when a character is wrong.</returns>
    public static string? Read(string? text)
    {
        var signs = (text ?? "").ToUpperInvariant().Where(x => !char.IsWhiteSpace(x) && x != '-').ToArray();
        if (signs.Length != Length || signs.Count(x => x == Smudge) > 1)
            return null;
        var values = new int[Length];
        var lost = -1;
        for (var i = 0; i < Length; i++)
        {
            if (signs[i] == Smudge)
            {
                lost = i;
                continue;
            }

            values[i] = Alphabet.IndexOf(signs[i], StringComparison.Ordinal);
            if (values[i] < 0)
                return null;
        }

        if (lost >= 0)
        {
            var sum = Sum(values);
            values[lost] = Enumerable.Range(0, Alphabet.Length).First(x => (sum + (lost + 1) * x) % Alphabet.Length == 0);
        }

        return Sum(values) == 0 ? Write(values) : null;
    }

    /// <summary>What a scanner that types gives: the code alone, or the address on the label that ends with it.</summary>
    /// <returns>The code in capitals, right or wrong; null for nothing.</returns>
    public static string? Scanned(string? text)
    {
        var typed = (text ?? "").Trim();
        var at = typed.LastIndexOf(InAddress, StringComparison.OrdinalIgnoreCase);
        if (at >= 0)
            typed = typed[(at + InAddress.Length)..];
        return typed.Length == 0 ? null : typed.ToUpperInvariant();
    }

    /// <summary>
    /// Whether a text has the shape of a code, right or wrong: then a wrong one is a slip and not another laboratory's bottle.
    /// </summary>
    public static bool HasShape(string? text)
    {
        var signs = (text ?? "").Trim();
        return signs.Length == Length + 1
            && signs[3] == '-'
            && signs.Where(x => x != '-').All(x => char.IsAsciiLetterOrDigit(x) || x == Smudge);
    }

    private static int Sum(int[] values)
    {
        var sum = 0;
        for (var i = 0; i < Length; i++)
            sum += (i + 1) * values[i];
        return sum % Alphabet.Length;
    }

    private static string Write(int[] values)
    {
        var signs = values.Select(x => Alphabet[x]).ToArray();
        return $"{new string(signs, 0, 3)}-{new string(signs, 3, 3)}";
    }
}
