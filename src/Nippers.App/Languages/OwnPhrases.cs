using System.Collections.Frozen;

namespace Nippers.App.Languages;

/// <summary>Words of a fleet's own lists, programs and kinds in other languages, as its planners entered them.</summary>
public sealed class OwnPhrases
{
    private static readonly AsyncLocal<OwnPhrases?> Chosen = new();
    private readonly FrozenDictionary<(string Language, string Text), string> _said;

    /// <summary>Of rows: language, text, what is said for it.</summary>
    public OwnPhrases(IEnumerable<(string Language, string Text, string Said)> rows) =>
        _said = rows.ToFrozenDictionary(x => (x.Language, x.Text), x => x.Said);

    /// <summary>A fleet that has none.</summary>
    public static OwnPhrases None { get; } = new([]);

    /// <summary>Those of the fleet whose work is at hand.</summary>
    public static OwnPhrases Current => Chosen.Value ?? None;

    /// <summary>Whether there are none.</summary>
    public bool IsEmpty => _said.Count == 0;

    /// <summary>What follows is said with these.</summary>
    public static void Use(OwnPhrases phrases) => Chosen.Value = phrases;

    /// <summary>What is said for a text; null where nobody entered it.</summary>
    public string? Find(string language, string text) => _said.GetValueOrDefault((language, text));
}
