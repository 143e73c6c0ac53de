using System.Globalization;
using System.Net;
using System.Text.Json;
using System.Text.RegularExpressions;
using AngleSharp;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
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
        await SayOwnTexts(app);
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

    [Fact]
    public async Task A_person_chooses_and_else_the_browser_says()
    {
        await using var app = await DemoApp.Start();
        using var nobody = new Visitor(app);
        Assert.Equal("en", (await nobody.Read("/sign-in")).DocumentElement.GetAttribute("lang"));
        using var tam = await Visitor.As(app, "tam", "de-DE, es-PE;q=0.8, en;q=0.5");
        Assert.Equal("es", (await tam.Read("/")).DocumentElement.GetAttribute("lang"));
        Assert.Equal("Hoy · Nippers", (await tam.Read("/")).Title);

        var wrong = await Visitor.Parse(await tam.Submit("/language", "main form", ("language", "tlh")));
        Assert.Equal("Elija uno de los idiomas.", wrong.QuerySelector("#language-wrong")!.TextContent.Trim());
        Assert.Equal(HttpStatusCode.Redirect, (await tam.Submit("/language", "main form", ("language", "en"))).StatusCode);
        Assert.Equal("Today · Nippers", (await tam.Read("/")).Title);
        Assert.Equal("en", (await tam.Read("/language")).QuerySelector("input[name=language][checked]")!.GetAttribute("value"));
        using var again = await Visitor.As(app, "tam", "es");
        Assert.Equal("Today · Nippers", (await again.Read("/")).Title);
        await tam.Submit("/language", "main form", ("language", ""));
        Assert.Equal("Hoy · Nippers", (await again.Read("/")).Title);
        using var mara = await Visitor.As(app, "mara");
        Assert.Equal("Today · Nippers", (await mara.Read("/")).Title);
        Assert.Equal(2, await app.Ask(db => db.Audit.CountAsync(x => x.What == "person.language", Ct)));
    }

    [Theory]
    [InlineData("/programs/starter-wheel-loader/item?item=engine-oil", "main form", "/programs/starter-wheel-loader/item?handler=preview")]
    [InlineData("/walk-lists/walk-wheel-loader/check?check=engine-oil-level", "main form", null)]
    [InlineData("/walk-lists/walk-wheel-loader/positions", "main form", null)]
    [InlineData("/walk-lists/walk-wheel-loader/plan", "main form", null)]
    public async Task A_form_sent_back_as_it_stands_in_Spanish_changes_no_word_of_a_list(string path, string form, string? preview)
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara", "es");
        Task<List<string>> Kept() =>
            app.Ask(async db =>
                (
                    await db
                        .WalkListVersions.Where(x => x.Version == x.List.Version)
                        .OrderBy(x => x.ListId)
                        .Select(x => x.Body)
                        .ToListAsync(Ct)
                )
                    .Concat(await db.Programs.SelectMany(x => x.Items).OrderBy(x => x.Id).Select(x => x.Name + x.Caution).ToListAsync(Ct))
                    .ToList()
            );
        var before = await Kept();
        using var answer = await mara.Submit(path, form);
        if (preview is null)
            Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        else
            await mara.Submit(await Visitor.Parse(answer), path, form);
        Assert.Equal(before, await Kept());
    }

    [Fact]
    public async Task A_planner_sees_what_lacks_a_language_and_enters_it()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        using var ines = await Visitor.As(app, "ines", "es");
        await mara.Submit("/kinds/wheel-loader/copy", "main form", ("name", "Log stacker"));
        await mara.Submit(
            "/walk-lists/walk-log-stacker/check",
            "main form",
            ("code", "grapple-teeth"),
            ("name", "Grapple teeth and pins"),
            ("station", "ground"),
            ("faults", "tine bent: N")
        );
        const string page = "/languages/es";
        var lacking = await mara.Read(page);
        var texts = lacking
            .QuerySelectorAll("input[name=text]")
            .Select(x => x.GetAttribute("value")!)
            .Zip(lacking.QuerySelectorAll("textarea[name=said]").Select(x => x.TextContent.Trim()))
            .Where(x => x.Second.Length == 0)
            .Select(x => x.First)
            .ToList();
        var (said, saved) = await Phrases(app);
        Assert.Contains("Log stacker", texts);
        Assert.Contains("Grapple teeth and pins", texts);
        Assert.DoesNotContain("Engine oil", texts);
        Assert.Equal(
            texts.Count.ToString(CultureInfo.InvariantCulture),
            lacking.QuerySelector("[data-lacking]")!.GetAttribute("data-lacking")
        );
        Assert.Contains(
            $"{texts.Count} texts",
            (await mara.Read("/kinds")).QuerySelector("[data-lacking=es]")!.TextContent,
            StringComparison.Ordinal
        );
        Assert.Contains(
            "Grapple teeth and pins",
            (await ines.Read("/walk-lists/walk-log-stacker")).Body!.TextContent,
            StringComparison.Ordinal
        );

        // Too long is refused beside its field, with nothing of the rest kept and nothing typed lost.
        var fields = texts.SelectMany(x =>
            new[]
            {
                ("text", x),
                (
                    "said",
                    x == "Log stacker" ? "Apiladora de troncos"
                    : x.StartsWith("Grapple", StringComparison.Ordinal) ? new string('x', 2001)
                    : ""
                ),
            }
        );
        var refused = await Visitor.Parse(await mara.Submit(page, "main form", [.. fields]));
        Assert.NotEmpty(refused.QuerySelectorAll("[id^=said-][id$=-wrong]"));
        Assert.Contains("Apiladora de troncos", refused.QuerySelectorAll("textarea").Select(x => x.TextContent));
        Assert.Equal((said, saved), await Phrases(app));

        var good = texts.SelectMany(x =>
            new[] { ("text", x), ("said", x.StartsWith("Grapple", StringComparison.Ordinal) ? "Dientes y pasadores de la garra" : "") }
        );
        Assert.Equal(HttpStatusCode.Redirect, (await mara.Submit(page, "main form", [.. good])).StatusCode);
        Assert.Contains(
            "Dientes y pasadores de la garra",
            (await ines.Read("/walk-lists/walk-log-stacker")).Body!.TextContent,
            StringComparison.Ordinal
        );
        Assert.Contains(
            "Grapple teeth and pins",
            (await mara.Read("/walk-lists/walk-log-stacker")).Body!.TextContent,
            StringComparison.Ordinal
        );
        Assert.Equal(
            (texts.Count - 1).ToString(CultureInfo.InvariantCulture),
            (await mara.Read(page)).QuerySelector("[data-lacking]")!.GetAttribute("data-lacking")
        );
        Assert.Equal((said + 1, saved + 1), await Phrases(app));

        // Taken out again, the text stands as it was typed.
        await mara.Submit(page, "main form", ("text", "Grapple teeth and pins"), ("said", ""));
        Assert.Contains(
            "Grapple teeth and pins",
            (await ines.Read("/walk-lists/walk-log-stacker")).Body!.TextContent,
            StringComparison.Ordinal
        );
        Assert.Equal(HttpStatusCode.NotFound, (await mara.Get("/languages/tlh")).StatusCode);
    }

    private static async Task<(int Said, int Saved)> Phrases(DemoApp app) =>
        (await app.Ask(db => db.Phrases.CountAsync(Ct)), await app.Ask(db => db.Audit.CountAsync(x => x.What == "phrase.save", Ct)));

    [Fact]
    public async Task What_a_phone_keeps_for_everybody_says_it_in_each_language()
    {
        await using var app = await DemoApp.Start();
        using var nobody = new Visitor(app);
        var shell = await nobody.Read("/phone");
        var words = JsonDocument.Parse(shell.QuerySelector("#shell-words")!.TextContent).RootElement;
        Assert.Equal("Sin red", words.GetProperty("es").GetProperty("Phone.NoNetwork").GetString());
        Assert.Equal("No network", words.GetProperty("en").GetProperty("Phone.NoNetwork").GetString());
        Assert.All(shell.QuerySelectorAll("[data-word]"), x =>
            Assert.Equal(words.GetProperty("en").GetProperty(x.GetAttribute("data-word")!).GetString(), x.TextContent.Trim())
        );
    }

    [Theory]
    [InlineData("GET", "/phone")]
    [InlineData("HEAD", "/phone")]
    [InlineData("GET", "/worker.js")]
    [InlineData("GET", "/phone/kit")]
    [InlineData("GET", "/phone/walks/1")]
    [InlineData("GET", "/phone/nothing")]
    [InlineData("POST", "/phone/entries")]
    public async Task What_a_phone_asks_in_the_background_gives_nobody_another_key_for_forms(string method, string path)
    {
        await using var app = await DemoApp.Start();
        using var client = new HttpClient(new HttpClientHandler { UseCookies = false, AllowAutoRedirect = false });
        using var request = new HttpRequestMessage(new(method), new Uri(app.Address, path));
        using var answer = await client.SendAsync(request, Ct);
        Assert.False(answer.Headers.Contains("Set-Cookie"));
    }

    /// <summary>What planners of the demo made themselves, said in the made-up language as they would say it on their page.</summary>
    private static async Task SayOwnTexts(DemoApp app)
    {
        await using var scope = app.Services.CreateAsyncScope();
        var book = scope.ServiceProvider.GetRequiredService<PhraseBook>();
        var texts = await book.Texts(AllLanguages.Find(PseudoLanguage.Code)!, Ct);
        var said = await book.Save(
            PseudoLanguage.Code,
            [.. texts.Select(x => (x.Text, (string?)PseudoLanguage.Longer(x.Text)))],
            new("Mara Quill", Roles.Planner),
            Ct
        );
        Assert.True(said.Done);
    }

    private static IEnumerable<(string Text, IElement At)> Said(IHtmlDocument page)
    {
        // Compartments on a plan go by their codes, as the lines of the form beside it do.
        var texts = page.Descendants<IText>().Where(x => x.ParentElement?.Closest("[data-moves=places]") is null);
        foreach (var text in texts)
        {
            if (text.ParentElement is { } at && at.Closest("script, style, textarea, code, [lang='']") is null)
                yield return (text.Text, at);
        }
        foreach (var at in page.All.Where(x => !x.Matches(".qr-code, #folder, [data-moves=places]")))
        {
            foreach (var said in SaidAttributes.Select(at.GetAttribute).OfType<string>())
                yield return (said, at);
        }
    }

    private static string Rest(string text, IReadOnlyList<string> own)
    {
        string before;
        do
        {
            before = text;
            text = Bracketed().Replace(BottleCode().Replace(text, " "), " ");
        } while (before != text);
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
                "Nippers",
                "Pseudo",
                "English",
                "Español",
                "kPa",
                "cSt",
                "mg KOH/g",
                "ppm",
                "Another filter in the right box",
                .. days.DayNames,
                .. days.AbbreviatedDayNames,
                .. days.MonthGenitiveNames,
                .. days.MonthNames,
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
                var question = string.Format(
                    CultureInfo.InvariantCulture,
                    """SELECT DISTINCT "{1}" AS Value FROM "{0}" WHERE length("{1}") BETWEEN 2 AND 1000""",
                    column[0],
                    column[1]
                );
                var values = await db.Database.SqlQueryRaw<string>(question).ToListAsync(Ct);
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
