using System.Globalization;

namespace Nippers.App;

/// <summary>Turns what people type into figures, or into the refusal that stands beside the field.</summary>
internal static class Typed
{
    private const int Decimals = 3;

    /// <summary>A number that has to be there.</summary>
    public static double? Number(string? text, string field, double least, double most, List<Refusal> refusals)
    {
        if (!string.IsNullOrWhiteSpace(text)) return Optional(text, field, least, most, refusals);
        refusals.Add(new(field, "needed"));
        return null;
    }

    /// <summary>A number, or nothing.</summary>
    public static double? Optional(string? text, string field, double least, double most, List<Refusal> refusals)
    {
        if (string.IsNullOrWhiteSpace(text)) return null;
        if (text.Contains(',', StringComparison.Ordinal))
        {
            refusals.Add(new(field, "decimalComma"));
            return null;
        }

        if (!double.TryParse(text.Trim(), NumberStyles.AllowDecimalPoint | NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number))
        {
            refusals.Add(new(field, "notANumber"));
            return null;
        }

        if (number >= least && number <= most) return Math.Round(number, Decimals);
        refusals.Add(new(field, "between", least, most));
        return null;
    }

    /// <summary>A whole number, or nothing.</summary>
    public static int? Whole(string? text, string field, int least, int most, List<Refusal> refusals)
    {
        if (string.IsNullOrWhiteSpace(text)) return null;
        if (int.TryParse(text.Trim(), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number) && number >= least && number <= most) return number;
        refusals.Add(new(field, "wholeBetween", least, most));
        return null;
    }

    /// <summary>Money with two decimals, as cents; nothing is nothing.</summary>
    public static int? Cents(string? text, string field, List<Refusal> refusals) =>
        Optional(text, field, 0, 1_000_000, refusals) is { } money ? (int)Math.Round(money * 100) : null;

    /// <summary>Words, cut of blanks around them.</summary>
    public static string Words(string? text, string field, int longest, List<Refusal> refusals, bool needed = false)
    {
        var words = (text ?? "").Trim();
        if (needed && words.Length == 0) refusals.Add(new(field, "needed"));
        if (words.Length > longest) refusals.Add(new(field, "tooLong", longest));
        return words;
    }
}
