using System.Text.RegularExpressions;
using AngleSharp;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Languages;
using Nippers.Tests;

namespace Nippers.Web.Tests;

/// <summary>Everything that a page says is said in the language of whom it is for.</summary>
public sealed partial class LanguageTests
{
    private const int PerShape = 3;
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static readonly string[] SaidAttributes = ["aria-label", "title", "placeholder", "alt", "data-sure", "data-words", "data-lost"];

    [Fact]
    public async Task No_page_says_anything_outside_its_language()
    {
        PseudoLanguage.Add();
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara", PseudoLanguage.Code);
        var own = await TypedByPeople(app);
        var (seen, waits) = (new Dictionary<string, int>(), new Queue<string>(["/"]));
        var known = new HashSet<string>(["/"]);
        var found = new SortedDictionary<string, string>(StringComparer.Ordinal);
        while (waits.TryDequeue(out var path))
        {
            var shape = Shape().Replace(path.Split('?')[0], "/*");
            if (seen.TryGetValue(shape, out var times) && times >= PerShape)
                continue;
            using var answer = await mara.Get(path);
            if (answer.Content.Headers.ContentType?.MediaType != "text/html")
                continue;
            seen[shape] = times + 1;
            var page = await Visitor.Parse(answer);
            foreach (var (text, at) in Said(page))
            {
                if (Rest(text, own) is { Length: > 0 } rest)
                    found.TryAdd(rest, $"{path} in {at.Clone(deep: false).ToHtml()}: {text.Trim()}");
            }

            foreach (var link in page.QuerySelectorAll("a[href]").Select(x => x.GetAttribute("href")!))
            {
                var to = link.Split('#')[0];
                if (to.StartsWith('/') && known.Add(to))
                    waits.Enqueue(to);
            }
        }

        Assert.True(seen.Count > 60, $"Only {seen.Count} kinds of pages were found.");
        Assert.True(found.Count == 0, string.Join('\n', found.Select(x => $"{x.Key}   << {x.Value}")));
    }

    private static IEnumerable<(string Text, IElement At)> Said(IHtmlDocument page) =>
        page.Descendants<IText>()
            .Where(x => x.ParentElement is { } at && at.Closest("script, style, textarea, code, [lang='']") is null)
            .Select(x => (x.Text, x.ParentElement!))
            .Concat(
                page.All.Where(x => !x.Matches(".qr-code, #folder, #second"))
                    .SelectMany(x => SaidAttributes.Select(x.GetAttribute).OfType<string>().Select(text => (text, x)))
            );

    private static string Rest(string text, IReadOnlyList<string> own)
    {
        for (var before = ""; before != text; )
            (before, text) = (text, Bracketed().Replace(BottleCode().Replace(text, " "), " "));
        if (!Letters().IsMatch(text))
            return "";
        foreach (var typed in own)
        {
            if (text.Contains(typed, StringComparison.Ordinal))
                text = Regex.Replace(text, $@"(?<!\p{{L}}){Regex.Escape(typed)}(?!\p{{L}})", " ");
        }

        return Letters().IsMatch(text) ? Blanks().Replace(text, " ").Trim() : "";
    }

    /// <summary>
    /// What people of the demo typed stands as they typed it: every short text of the database that is no word of a list, a program or a
    /// card, and names of days.
    /// </summary>
    private static async Task<IReadOnlyList<string>> TypedByPeople(DemoApp app)
    {
        string[] notTyped = ["WalkLists", "WalkListVersions", "Programs", "ProgramItems", "ProgramCompartments", "Steps", "Phrases"];
        var days = PseudoLanguage.Add().Culture.DateTimeFormat;
        var typed = new HashSet<string>(
            [
                "Nippers", "Pseudo", "English", "Español", "kPa", "cSt", "mg KOH/g", "ppm", .. days.DayNames, .. days.AbbreviatedDayNames, .. days.MonthGenitiveNames, .. days.MonthNames,
            ],
            StringComparer.Ordinal
        );
        await app.Ask(async db =>
        {
            var columns = await db
                .Database.SqlQueryRaw<string>(
                    """
                    SELECT m.name || '.' || c.name AS Value FROM sqlite_master m JOIN pragma_table_info(m.name) c
                    WHERE m.type = 'table' AND c.type = 'TEXT'
                    """
                )
                .ToListAsync(Ct);
            foreach (var column in columns.Select(x => x.Split('.')).Where(x => !notTyped.Contains(x[0])))
            {
                var values = await db
                    .Database.SqlQueryRaw<string>(
                        $"""SELECT DISTINCT "{column[1]}" AS Value FROM "{column[0]}" WHERE length("{column[1]}") BETWEEN 2 AND 300"""
                    )
                    .ToListAsync(Ct);
                typed.UnionWith(values);
            }

            typed.UnionWith(await db.Programs.Where(x => !x.Starter).Select(x => x.Name).ToListAsync(Ct));
            typed.UnionWith((await db.Shop.SingleAsync(Ct)).Vessels.Split('\n').Select(x => x.Split(';')[0]));
            typed.UnionWith((await db.Defects.Select(x => x.PlaceName).ToListAsync(Ct)).SelectMany(x => x.Split(": ")));
            return true;
        });
        typed.RemoveWhere(x => x.Length < 2);
        typed.ExceptWith(AllLanguages.Find("es")!.Texts);
        return [.. typed.OrderByDescending(x => x.Length)];
    }

    [GeneratedRegex("/[^/]*[0-9][^/]*")]
    private static partial Regex Shape();

    [GeneratedRegex("[A-Z0-9]{3}-[A-Z0-9]{3}")]
    private static partial Regex BottleCode();

    [GeneratedRegex("⟦[^⟦⟧]*⟧")]
    private static partial Regex Bracketed();

    [GeneratedRegex(@"\p{L}{3,}")]
    private static partial Regex Letters();

    [GeneratedRegex(@"\s+")]
    private static partial Regex Blanks();
}
