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
/// too. It begins with who it is: <c>@Language.Name</c> is what its own people call it and <c>@Language.Culture</c> how it writes dates
/// and numbers.
/// </remarks>
public sealed partial class Language
{
    private const string Settings = "@Language.";

    // Texts with places are looked for one by one, so what was found is kept; what people type passes here too, hence the bounds.
    private const int MostKept = 20_000;
    private const int LongestWithPlaces = 1_000;

    /// <summary>A text with places.</summary>
    /// <param name="Shape">Finds what fills them; most are never asked, and a phone makes hundreds of them slowly.</param>
    /// <param name="Piece">Its longest piece between places: a text without it is not of this shape, and that is seen at once.</param>
    /// <param name="Said">The same in the language.</param>
    /// <param name="Letters">How much of it is no place.</param>
    private sealed record Pattern(Lazy<Regex> Shape, string Piece, string Said, int Letters);

    private sealed record Contents(FrozenDictionary<string, string> Words, FrozenDictionary<string, string> Texts, Pattern[] Patterns)
    {
        public ConcurrentDictionary<string, string> Kept { get; } = new(StringComparer.Ordinal);
    }

    // Thousands of lines: a phone whose holder reads another language never opens them.
    private readonly Lazy<Contents> _contents;

    private Language(string code, Dictionary<string, string> settings, Func<Contents> contents)
    {
        Code = code;
        Name = settings["Name"];
        Culture = Made(settings);
        DueWords = settings.GetValueOrDefault("Due", "").Split(' ', StringSplitOptions.RemoveEmptyEntries);
        DefectWords = settings.GetValueOrDefault("Defect", "").Split(' ', StringSplitOptions.RemoveEmptyEntries);
        _contents = new(contents);
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
    public IEnumerable<string> Keys => _contents.Value.Words.Keys;

    /// <summary>English texts of data that it has.</summary>
    public IEnumerable<string> Texts => _contents.Value.Texts.Keys;

    /// <summary>English, in which everything that ships is written.</summary>
    public static Language English { get; } = new("en", new() { ["Name"] = "English", ["Culture"] = "en-GB" }, () => Split([], []));

    /// <summary>Reads a language's file: who it is at once, its words when they are first asked for.</summary>
    /// <param name="code">Its two letters.</param>
    /// <param name="open">Opens the file, UTF-8.</param>
    /// <exception cref="InvalidDataException">It does not begin with its name and culture.</exception>
    public static Language Read(string code, Func<Stream> open)
    {
        var settings = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var (text, said) in Lines(code, open).TakeWhile(x => x.Text.StartsWith(Settings, StringComparison.Ordinal)))
            settings[text[Settings.Length..]] = said;
        if (!settings.ContainsKey("Name") || !settings.ContainsKey("Culture"))
            throw new InvalidDataException($"{code}.csv does not begin with its name and culture.");
        return new(code, settings, () => Open(code, open));
    }

    /// <summary>Reads all of it now.</summary>
    /// <returns>This language.</returns>
    /// <exception cref="InvalidDataException">A line has not two columns, or a text is there twice.</exception>
    public Language Whole()
    {
        _ = _contents.Value;
        return this;
    }

    private static Contents Open(string code, Func<Stream> open)
    {
        var words = new Dictionary<string, string>(StringComparer.Ordinal);
        var texts = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var (text, said) in Lines(code, open).SkipWhile(x => x.Text.StartsWith(Settings, StringComparison.Ordinal)))
        {
            if (!(text.StartsWith('@') ? words.TryAdd(text[1..], said) : texts.TryAdd(text, said)))
                throw new InvalidDataException($"{code}.csv: {text} is there twice.");
        }

        return Split(words, texts);
    }

    private static Contents Split(Dictionary<string, string> words, Dictionary<string, string> texts) =>
        new(
            words.ToFrozenDictionary(StringComparer.Ordinal),
            texts.ToFrozenDictionary(StringComparer.Ordinal),
            [
                .. texts
                    .Where(x => x.Key.Contains('{', StringComparison.Ordinal))
                    .Select(x => new Pattern(
                        new(() => ShapeOf(x.Key)),
                        Place().Split(x.Key).Where((_, i) => i % 2 == 0).MaxBy(piece => piece.Length)!,
                        x.Value,
                        Place().Replace(x.Key, "").Length
                    ))
                    .OrderByDescending(x => x.Letters),
            ]
        );

    private static IEnumerable<(string Text, string Said)> Lines(string code, Func<Stream> open)
    {
        using var csv = new CsvParser(new StreamReader(open()), new CsvConfiguration(CultureInfo.InvariantCulture) { Delimiter = ";" });
        csv.Read();
        while (csv.Read())
        {
            if (csv.Record is not [var text, var said])
                throw new InvalidDataException($"{code}.csv, line {csv.RawRow}: two columns are needed.");
            yield return (text, said);
        }
    }

    /// <summary>The words of a key of pages; null where this language has none.</summary>
    public string? Word(string key) => _contents.Value.Words.GetValueOrDefault(key);

    /// <summary>
    /// Words that are data, in this language: what a planner entered for them here, what ships, or the words themselves.
    /// </summary>
    public string Say(string? text)
    {
        if (string.IsNullOrEmpty(text))
            return "";
        if (Known(text) is { } known)
            return known;
        var contents = _contents.Value;
        if (contents.Patterns.Length == 0 || text.Length > LongestWithPlaces)
            return text;

        // What a planner enters for what fills a place is not known to what was kept before.
        if (!OwnPhrases.Current.IsEmpty)
            return Fill(text) ?? text;
        if (contents.Kept.TryGetValue(text, out var kept))
            return kept;
        var made = Fill(text);
        if (made is not null && contents.Kept.Count < MostKept)
            contents.Kept[text] = made;
        return made ?? text;
    }

    /// <summary>Whether its file has a text, whole or with places that this one fills.</summary>
    public bool Ships(string text) => _contents.Value.Texts.ContainsKey(text) || _contents.Value.Patterns.Any(x => IsOf(x, text));

    private static bool IsOf(Pattern pattern, string text) =>
        text.Contains(pattern.Piece, StringComparison.Ordinal) && pattern.Shape.Value.IsMatch(text);

    private string? Fill(string text)
    {
        foreach (var pattern in _contents.Value.Patterns)
        {
            if (text.Contains(pattern.Piece, StringComparison.Ordinal) && pattern.Shape.Value.Match(text) is { Success: true } found)
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

    private string? Known(string text) => OwnPhrases.Current.Find(Code, text) ?? _contents.Value.Texts.GetValueOrDefault(text);

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
    private static CultureInfo Made(Dictionary<string, string> settings)
    {
        var culture = new CultureInfo(settings["Culture"]);
        if (settings.TryGetValue("Decimal", out var point) && settings.TryGetValue("Group", out var group))
        {
            culture.NumberFormat.NumberDecimalSeparator = culture.NumberFormat.PercentDecimalSeparator = point;
            culture.NumberFormat.NumberGroupSeparator = culture.NumberFormat.PercentGroupSeparator = group;
        }

        if (settings.TryGetValue("Months", out var months))
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
