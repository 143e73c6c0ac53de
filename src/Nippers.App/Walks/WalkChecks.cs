using System.Globalization;
using Nippers.Core.Walk;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>
/// Which checks a walk holds. An open walk names them; a finished one keeps their places in its list's version as
/// ranges, which is a fortieth of the length and there are hundreds of thousands of them.
/// </summary>
public static class WalkChecks
{
    private const char Packed = '#';

    /// <summary>Codes of a walk's checks in the order of the walk.</summary>
    /// <param name="row">The walk.</param>
    /// <param name="list">The list at the walk's version.</param>
    public static IReadOnlyList<string> Codes(WalkRow row, CheckList list) => Codes(row.Checks, list);

    /// <summary>The same of what a walk keeps.</summary>
    public static IReadOnlyList<string> Codes(string kept, CheckList list) =>
        kept.StartsWith(Packed)
            ? InOrder(list, Ranges.Read(kept[1..], list.Checks.Length).Select(at => list.Checks[at]))
            : kept.Split(' ', StringSplitOptions.RemoveEmptyEntries);

    /// <summary>
    /// The short form of some checks of a list; their names where one of them is not in it, or where they stand in another order
    /// than the walk's.
    /// </summary>
    public static string Pack(IReadOnlyList<string> codes, CheckList list)
    {
        var places = list.Checks.Select((check, at) => (check.Code, at)).ToDictionary(x => x.Code, x => x.at, StringComparer.Ordinal);
        return codes.All(places.ContainsKey) && InOrder(list, codes.Select(x => list.Checks[places[x]])).SequenceEqual(codes)
            ? Packed + Ranges.Write(codes.Select(x => places[x]).Order())
            : string.Join(' ', codes);
    }

    private static List<string> InOrder(CheckList list, IEnumerable<WalkCheck> checks) =>
        [.. WalkRoute.Steps(list, checks).SelectMany(x => x.Checks).Select(x => x.Code)];
}

/// <summary>Whole numbers as ranges: <c>0-3,7</c>.</summary>
internal static class Ranges
{
    public static string Write(IEnumerable<int> ordered)
    {
        var ranges = new List<(int From, int To)>();
        foreach (var number in ordered)
        {
            if (ranges.Count > 0 && ranges[^1].To + 1 == number)
                ranges[^1] = (ranges[^1].From, number);
            else
                ranges.Add((number, number));
        }

        return string.Join(',', ranges.Select(x => x.From == x.To ? Text(x.From) : $"{Text(x.From)}-{Text(x.To)}"));
    }

    /// <exception cref="System.Text.Json.JsonException">A range is none, or reaches past the count.</exception>
    public static IEnumerable<int> Read(string text, int count)
    {
        foreach (var range in text.Split(',', StringSplitOptions.RemoveEmptyEntries))
        {
            var ends = range.Split('-');
            if (
                ends.Length > 2
                || !int.TryParse(ends[0], NumberStyles.None, CultureInfo.InvariantCulture, out var from)
                || !int.TryParse(ends[^1], NumberStyles.None, CultureInfo.InvariantCulture, out var to)
                || to >= count
            )
            {
                throw new System.Text.Json.JsonException($"range {range}");
            }

            for (var at = from; at <= to; at++)
                yield return at;
        }
    }

    private static string Text(int number) => number.ToString(CultureInfo.InvariantCulture);
}
