using System.Globalization;
using System.Xml.Linq;
using CsvHelper;
using CsvHelper.Configuration;
using Nippers.App.Languages;

namespace Nippers.Tests;

/// <summary>
/// A language that nobody speaks: each text of English between brackets, a third longer. What a page shows outside brackets is not
/// said through a language. Its code is a real one, for a page has to name a language that there is.
/// </summary>
internal static class PseudoLanguage
{
    public const string Code = "eo";
    public const char Begins = '⟦';
    public const char Ends = '⟧';

    /// <summary>The folder of the sources.</summary>
    public static readonly string Root = FindRoot();

    /// <summary>The words of pages in English, by their keys.</summary>
    public static readonly IReadOnlyDictionary<string, string> English = XDocument
        .Load(Path.Combine(Root, "src/Nippers.Views/Text/Words.resx"))
        .Root!.Elements("data")
        .ToDictionary(x => (string)x.Attribute("name")!, x => (string)x.Element("value")!);

    private static readonly Lazy<Language> Made = new(Make);

    /// <summary>Adds it from a file, as any language is added.</summary>
    public static Language Add() => Made.Value;

    private static Language Make()
    {
        var folder = Directory.CreateTempSubdirectory("nippers-language-").FullName;
        var path = Path.Combine(folder, Code + ".csv");
        using (var csv = new CsvWriter(new StreamWriter(path), new CsvConfiguration(CultureInfo.InvariantCulture) { Delimiter = ";" }))
        {
            void Line(string text, string said)
            {
                csv.WriteField(text);
                csv.WriteField(said);
                csv.NextRecord();
            }

            Line("text", "said");
            Line("@Language.Name", "Pseudo");
            Line("@Language.Culture", "eo");
            Line("@Language.Decimal", ".");
            Line("@Language.Group", ",");
            Line("@Language.Months", "1 2 3 4 5 6 7 8 9 10 11 12");
            foreach (var (key, text) in English)
                Line("@" + key, key.StartsWith("Format.", StringComparison.Ordinal) ? text : Longer(text));
            foreach (var text in AllLanguages.Find("es")!.Texts)
                Line(text, Longer(text));
        }

        var added = AllLanguages.Add(path);
        Directory.Delete(folder, recursive: true);
        return added;
    }

    private static string FindRoot()
    {
        var at = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(at, "Nippers.slnx")))
            at = Path.GetDirectoryName(at)!;
        return at;
    }

    /// <summary>A text as this language says it.</summary>
    public static string Longer(string text) => Begins + text + string.Concat(Enumerable.Repeat(" ~~~~~", (text.Length + 8) / 18)) + Ends;
}
