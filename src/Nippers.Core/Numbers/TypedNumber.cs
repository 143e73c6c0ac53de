using System.Globalization;

namespace Nippers.Core.Numbers;

/// <summary>Why a text is not a number.</summary>
public enum NumberFault
{
    /// <summary>It is one.</summary>
    None,

    /// <summary>Nothing was entered.</summary>
    Empty,

    /// <summary>Letters, an exponent, or signs that no number has.</summary>
    NotANumber,

    /// <summary>Its comma may part thousands as well as decimals.</summary>
    Ambiguous,
}

/// <summary>
/// Reads numbers as people type them: with a dot or a comma before the decimals, and with thousands parted where nothing else can
/// be meant.
/// </summary>
public static class TypedNumber
{
    private const int Group = 3;

    /// <summary>Reads a number.</summary>
    /// <param name="text">The text, possibly null. Blanks around it are forgiven.</param>
    /// <param name="decimals">The most decimals that the quantity has, 0 and up: with fewer than three, <c>5,412</c> can only
    /// part thousands.</param>
    /// <param name="value">The number, exact; zero when there is a fault.</param>
    /// <returns><see cref="NumberFault.None"/> when <paramref name="value"/> holds the number.</returns>
    public static NumberFault TryParse(string? text, int decimals, out decimal value)
    {
        value = 0;
        var typed = (text ?? "").Trim();
        if (typed.Length == 0)
            return NumberFault.Empty;
        var plain = WithDot(typed, decimals);
        if (plain is null)
            return NumberFault.Ambiguous;
        return decimal.TryParse(
            plain,
            NumberStyles.AllowDecimalPoint | NumberStyles.AllowLeadingSign,
            CultureInfo.InvariantCulture,
            out value
        )
            ? NumberFault.None
            : NumberFault.NotANumber;
    }

    /// <summary>
    /// The text with a dot before its decimals and nothing between thousands; itself where it is no number, null where it may be
    /// two.
    /// </summary>
    private static string? WithDot(string typed, int decimals)
    {
        var comma = typed.LastIndexOf(',');
        if (comma < 0)
            return typed;
        var dot = typed.LastIndexOf('.');
        if (dot > comma)
            return IsGrouped(typed[..dot], ',') ? typed.Replace(",", "", StringComparison.Ordinal) : typed;
        if (dot >= 0)
            return IsGrouped(typed[..comma], '.') && typed.IndexOf(',') == comma
                ? typed.Replace(".", "", StringComparison.Ordinal).Replace(',', '.')
                : typed;
        if (!IsGrouped(typed, ','))
            return typed.IndexOf(',') == comma ? typed.Replace(',', '.') : typed;
        if (decimals < Group || typed.IndexOf(',') != comma)
            return typed.Replace(",", "", StringComparison.Ordinal);
        return null;
    }

    /// <summary>Whether digits stand in groups of three after a first of one to three that does not begin with zero.</summary>
    private static bool IsGrouped(string whole, char separator)
    {
        var groups = whole.TrimStart('+', '-').Split(separator);
        return groups.Length > 1
            && groups[0].Length is > 0 and <= Group
            && groups[0][0] != '0'
            && groups.Skip(1).All(x => x.Length == Group)
            && groups.All(x => x.All(char.IsAsciiDigit));
    }
}
