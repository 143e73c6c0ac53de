using System.Collections.Concurrent;
using System.Collections.Frozen;
using System.Globalization;
using System.Text.RegularExpressions;
using CsvHelper;
using CsvHelper.Configuration;

namespace Nippers.App.Languages;

/// <summary>
/// A language of the screens, as its file has it: the words of pages by their keys, and words that are data by their English.
/// </summary>
/// <remarks>
/// A file has two columns, <c>text</c> and <c>said</c>. A text that begins with @ is the key of words of a page. Any other is an
/// English text of lists, programs, kinds or cards, whole or with places in braces: what fills a place is said in this language
/// too. <c>@Language.Name</c> is what its own people call it and <c>@Language.Culture</c> how it writes dates and numbers.
/// </remarks>
public sealed partial class Language
{
    private const string Settings = "Language.";

    // Texts with places are looked for one by one, so what was found is kept; what people type passes here too, hence the bound.
    private const int MostKept = 20_000;

    private sealed record Pattern(Regex Shape, string Said, int Letters);

    private readonly FrozenDictionary<string, string> _words;
    private readonly FrozenDictionary<string, string> _texts;
    private readonly Pattern[] _patterns;
    private readonly ConcurrentDictionary<string, string> _kept = new(StringComparer.Ordinal);

    private Language(string code, Dictionary<string, string> words, Dictionary<string, string> texts)
    {
        Code = code;
        Name = words["Language.Name"];
        Culture = Made(words);
        DueWords = words.GetValueOrDefault("Language.Due", "").Split(' ', StringSplitOptions.RemoveEmptyEntries);
        DefectWords = words.GetValueOrDefault("Language.Defect", "").Split(' ', StringSplitOptions.RemoveEmptyEntries);
        _words = words.Where(x => !x.Key.StartsWith(Settings, StringComparison.Ordinal)).ToFrozenDictionary(StringComparer.Ordinal);
        _texts = texts.ToFrozenDictionary(StringComparer.Ordinal);
        _patterns =
        [
            .. texts
                .Where(x => x.Key.Contains('{', StringComparison.Ordinal))
                .Select(x => new Pattern(ShapeOf(x.Key), x.Value, Place().Replace(x.Key, "").Length))
                .OrderByDescending(x => x.Letters),
        ];
    }

    /// <summary>Its two letters: <c>es</c>.</summary>
    public string Code { get; }

    /// <summary>What its own people call it.</summary>
    public string Name { get; }

    /// <summary>How it writes dates and numbers.</summary>
    public CultureInfo Culture { get; }

    /// <summary>What the quick line takes for the list of what is due.</summary>
    public IReadOnlyList<string> DueWords { get; }

    /// <summary>What the quick line takes between a unit and what is wrong.</summary>
    public IReadOnlyList<string> DefectWords { get; }

    /// <summary>Keys of the words of pages that it has.</summary>
    public IEnumerable<string> Keys => _words.Keys;

    /// <summary>English texts of data that it has.</summary>
    public IEnumerable<string> Texts => _texts.Keys;

    /// <summary>English, in which everything that ships is written.</summary>
    public static Language English { get; } =
        new("en", new() { ["Language.Name"] = "English", ["Language.Culture"] = "en-GB" }, new(StringComparer.Ordinal));

    /// <summary>Reads a language's file.</summary>
    /// <param name="code">Its two letters.</param>
    /// <param name="file">The file, UTF-8.</param>
    /// <exception cref="InvalidDataException">It lacks its name or culture, or says a text twice.</exception>
    public static Language Read(string code, Stream file)
    {
        using var csv = new CsvParser(new StreamReader(file), new CsvConfiguration(CultureInfo.InvariantCulture) { Delimiter = ";" });
        var words = new Dictionary<string, string>(StringComparer.Ordinal);
        var texts = new Dictionary<string, string>(StringComparer.Ordinal);
        csv.Read();
        while (csv.Read())
        {
            if (csv.Record is not [var text, var said])
                throw new InvalidDataException($"{code}.csv, line {csv.RawRow}: two columns are needed.");
            if (!(text.StartsWith('@') ? words.TryAdd(text[1..], said) : texts.TryAdd(text, said)))
                throw new InvalidDataException($"{code}.csv, line {csv.RawRow}: {text} is there twice.");
        }

        if (!words.ContainsKey("Language.Name") || !words.ContainsKey("Language.Culture"))
            throw new InvalidDataException($"{code}.csv has neither its name nor its culture.");
        return new(code, words, texts);
    }

    /// <summary>The words of a key of pages; null where this language has none.</summary>
    public string? Word(string key) => _words.GetValueOrDefault(key);

    /// <summary>
    /// Words that are data, in this language: what a planner entered for them here, what ships, or the words themselves.
    /// </summary>
    public string Say(string? text)
    {
        if (string.IsNullOrEmpty(text))
            return "";
        if (Known(text) is { } known)
            return known;
        if (_patterns.Length == 0)
            return text;
        if (_kept.TryGetValue(text, out var kept))
            return kept;
        var made = Fill(text);
        if (made is not null && OwnPhrases.Current.IsEmpty && _kept.Count < MostKept)
            _kept[text] = made;
        return made ?? text;
    }

    /// <summary>Whether its file has a text, whole or with places that this one fills.</summary>
    public bool Ships(string text) => _texts.ContainsKey(text) || _patterns.Any(x => x.Shape.IsMatch(text));

    private string? Fill(string text)
    {
        foreach (var pattern in _patterns)
        {
            if (pattern.Shape.Match(text) is { Success: true } found)
                return Place().Replace(pattern.Said, place => Say(found.Groups["p" + place.Groups[1].Value].Value));
        }

        // A place and what is wrong there stand in one line: the place may hold colons of its own.
        for (
            var at = text.LastIndexOf(": ", StringComparison.Ordinal);
            at > 0;
            at = text.LastIndexOf(": ", at - 1, StringComparison.Ordinal)
        )
        {
            if (Known(text[..at]) is { } place)
                return place + ": " + Say(text[(at + 2)..]);
        }

        return null;
    }

    private string? Known(string text) => OwnPhrases.Current.Find(Code, text) ?? _texts.GetValueOrDefault(text);

    private static Regex ShapeOf(string text)
    {
        var shape = new System.Text.StringBuilder("^");
        var at = 0;
        foreach (Match place in Place().Matches(text))
        {
            shape.Append(Regex.Escape(text[at..place.Index])).Append("(?<p").Append(place.Groups[1].Value).Append(">.*?)");
            at = place.Index + place.Length;
        }

        return new(shape.Append(Regex.Escape(text[at..])).Append('$').ToString(), RegexOptions.CultureInvariant | RegexOptions.Singleline);
    }

    // A phone carries the dates and numbers of few cultures, and a server's come from its system: what the file says holds on both.
    private static CultureInfo Made(Dictionary<string, string> words)
    {
        var culture = new CultureInfo(words["Language.Culture"]);
        if (words.TryGetValue("Language.Decimal", out var point) && words.TryGetValue("Language.Group", out var group))
        {
            culture.NumberFormat.NumberDecimalSeparator = culture.NumberFormat.PercentDecimalSeparator = point;
            culture.NumberFormat.NumberGroupSeparator = culture.NumberFormat.PercentGroupSeparator = group;
        }

        if (words.TryGetValue("Language.Months", out var months))
        {
            culture.DateTimeFormat.AbbreviatedMonthNames = culture.DateTimeFormat.AbbreviatedMonthGenitiveNames = [
                .. months.Split(' '),
                "",
            ];
        }

        return culture;
    }

    [GeneratedRegex(@"\{(\w+)\}")]
    private static partial Regex Place();
}
