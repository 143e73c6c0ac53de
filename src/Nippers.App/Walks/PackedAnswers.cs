using System.Text.Json;
using Nippers.Core.Walk;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>
/// The answers of a finished walk as one short text. Most are "sound" and nothing else, said of one check or of a station at
/// once: those are kept as ranges of their places in the walk, the others each as it was given.
/// </summary>
public static class PackedAnswers
{
    private sealed record Packed(string? S, Dictionary<string, CheckAnswer>? A, string? O = null);

    /// <summary>Packs answers.</summary>
    /// <param name="codes">Codes of the walk's checks, in order.</param>
    /// <param name="answers">The answers.</param>
    public static string Pack(IReadOnlyList<string> codes, IReadOnlyDictionary<string, CheckAnswer> answers)
    {
        string Same(CheckAnswer wanted) =>
            Ranges.Write(Enumerable.Range(0, codes.Count).Where(i => answers.TryGetValue(codes[i], out var answer) && answer == wanted));
        var (plain, atOnce) = (Same(CheckAnswer.Plain), Same(CheckAnswer.OkAtOnce));
        var others = answers
            .Where(x => x.Value != CheckAnswer.Plain && x.Value != CheckAnswer.OkAtOnce)
            .OrderBy(x => x.Key, StringComparer.Ordinal)
            .ToDictionary(x => x.Key, x => x.Value);
        return JsonSerializer.Serialize(
            new Packed(plain.Length > 0 ? plain : null, others.Count > 0 ? others : null, atOnce.Length > 0 ? atOnce : null),
            ListJson.Options
        );
    }

    /// <summary>Reads one answer.</summary>
    /// <exception cref="JsonException">The text is none.</exception>
    public static CheckAnswer ReadOne(string text) => ListJson.ReadKind<CheckAnswer>(text);

    /// <summary>One answer as it is kept.</summary>
    public static string WriteOne(CheckAnswer answer) => JsonSerializer.Serialize(answer, ListJson.Options);

    /// <summary>Unpacks what <see cref="Pack"/> gave.</summary>
    /// <exception cref="JsonException">The text is not a packed walk.</exception>
    public static Dictionary<string, CheckAnswer> Unpack(IReadOnlyList<string> codes, string text)
    {
        var answers = new Dictionary<string, CheckAnswer>(StringComparer.Ordinal);
        if (text.Length == 0)
            return answers;
        var packed = ListJson.ReadKind<Packed>(text);
        foreach (var at in Ranges.Read(packed.S ?? "", codes.Count))
            answers[codes[at]] = CheckAnswer.Plain;
        foreach (var at in Ranges.Read(packed.O ?? "", codes.Count))
            answers[codes[at]] = CheckAnswer.OkAtOnce;
        foreach (var (code, answer) in packed.A ?? [])
            answers[code] = answer;
        return answers;
    }
}
