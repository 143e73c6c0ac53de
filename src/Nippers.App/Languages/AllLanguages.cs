using System.Collections.Immutable;
using System.Globalization;

namespace Nippers.App.Languages;

/// <summary>The languages that can be chosen, and the one of whom the work at hand is done for.</summary>
public static class AllLanguages
{
    private const string Folder = "Languages/";
    private static ImmutableArray<Language> _all = [Language.English, .. Shipped()];

    /// <summary>English first, then each file that ships or was added.</summary>
    public static ImmutableArray<Language> All => _all;

    /// <summary>The language of a word in settings or of a browser; null where there is none such.</summary>
    /// <param name="code">Two letters, or more with a dash: <c>es</c>, <c>es-PE</c>.</param>
    public static Language? Find(string? code) =>
        code is null ? null : _all.FirstOrDefault(x => x.Code.Equals(code.Split('-')[0], StringComparison.OrdinalIgnoreCase));

    /// <summary>Adds a language beside those that ship: a file is all it takes.</summary>
    /// <param name="path">The file; its name without the ending is the language's code.</param>
    /// <exception cref="InvalidDataException">It is no language's file.</exception>
    public static Language Add(string path)
    {
        var whole = File.ReadAllBytes(path);
        var added = Language.Read(Path.GetFileNameWithoutExtension(path), () => new MemoryStream(whole)).Whole();
        ImmutableInterlocked.Update(ref _all, all => [.. all.Where(x => x.Code != added.Code), added]);
        return added;
    }

    /// <summary>Whether a text is one of those that ship, in English or in any language of theirs.</summary>
    public static bool Ships(string text) => _all.Any(x => x.Ships(text));

    /// <summary>That of the culture at hand; English for a culture of none of them.</summary>
    public static Language Current
    {
        get
        {
            var culture = CultureInfo.CurrentUICulture.Name;
            foreach (var language in _all)
            {
                if (language.Culture.Name == culture)
                    return language;
            }

            return Language.English;
        }
    }

    /// <summary>What follows is said in a language: words, dates and numbers.</summary>
    public static void Use(Language language) => CultureInfo.CurrentCulture = CultureInfo.CurrentUICulture = language.Culture;

    private static IEnumerable<Language> Shipped() =>
        typeof(Language)
            .Assembly.GetManifestResourceNames()
            .Where(x => x.StartsWith(Folder, StringComparison.Ordinal))
            .Order(StringComparer.Ordinal)
            .Select(x => Language.Read(Path.GetFileNameWithoutExtension(x), () => typeof(Language).Assembly.GetManifestResourceStream(x)!));
}
