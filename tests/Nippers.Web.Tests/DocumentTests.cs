using System.Text.RegularExpressions;
using System.Xml.Linq;
using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Parts;

namespace Nippers.Web.Tests;

/// <summary>What comments and documents point at is there, and the old words do not come back.</summary>
public sealed partial class DocumentTests
{
    private static readonly string Root = WordsTests.Root;

    private static readonly string[] Guides = ["docs/map.md", "docs/rules.md", "docs/glossary.md", "CONTRIBUTING.md", "README.md"];

    // Where a short name in a guide may stand.
    private static readonly string[] Homes =
    [
        "",
        "docs",
        "src",
        "src/Nippers.Web",
        "src/Nippers.Web/Pages",
        "src/Nippers.Views",
        "src/Nippers.App",
        "src/Nippers.Core",
        "src/Nippers.Data",
        "src/Nippers.App/Kinds/shared",
        "src/Nippers.Core/Oil/Tables",
    ];

    private static readonly string[] Gone =
    [
        "Standing",
        "ItemStanding",
        "School",
        "OilVerdict",
        "RunVerdict",
        "TrayPart",
        "LabCourier",
        "LabRounds",
        "LooseResultRow",
        "CallRow",
        "Pressing",
        "Writes",
        "DefectBook",
        "OilBook",
        "PartBook",
        "ShopBook",
        "StepAsk",
        "SignVerdict",
    ];

    private static IEnumerable<string> Files(string pattern, params string[] folders) =>
        folders
            .SelectMany(folder => Directory.EnumerateFiles(Path.Combine(Root, folder), pattern, SearchOption.AllDirectories))
            .Where(x =>
                !x.Contains("/obj/", StringComparison.Ordinal)
                && !x.Contains("/bin/", StringComparison.Ordinal)
                && !x.Contains("/node_modules/", StringComparison.Ordinal)
            );

    private static IEnumerable<string> Code() =>
        Files("*.cs", "src", "tests", "bench").Concat(Files("*.cshtml", "src")).Where(x => Path.GetFileName(x) != "DocumentTests.cs");

    private static IEnumerable<string> Documents() =>
        Files("*.md", "docs").Append(Path.Combine(Root, "README.md")).Append(Path.Combine(Root, "CONTRIBUTING.md"));

    [Fact]
    public void Every_rule_that_is_named_stands_in_the_rule_book()
    {
        var book = File.ReadAllText(Path.Combine(Root, "docs/rules.md"));
        var named = Code()
            .Concat(Documents())
            .SelectMany(file => Rule().Matches(File.ReadAllText(file)).Select(x => x.Groups[1].Value))
            .Distinct()
            .ToList();
        Assert.True(named.Count >= 9, "Rules are named all over the code.");
        Assert.Equal([], named.Where(x => !book.Contains($"<a id=\"rules-{x}\"></a>\n## {x}. ", StringComparison.Ordinal)));
    }

    [Fact]
    public void Every_decision_that_is_named_is_written_down_and_listed()
    {
        var written = Directory.GetFiles(Path.Combine(Root, "docs/decisions"), "0*.md").Select(x => Path.GetFileName(x)).ToList();
        var index = File.ReadAllText(Path.Combine(Root, "docs/decisions/README.md"));
        var named = Code()
            .Concat(Documents())
            .SelectMany(file =>
                Decision()
                    .Matches(File.ReadAllText(file))
                    .Select(x => int.Parse(x.Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture))
            )
            .Distinct();
        Assert.Equal([], named.Where(x => !written.Exists(w => w.StartsWith($"{x:0000}-", StringComparison.Ordinal))));
        Assert.Equal([], written.Where(x => !index.Contains($"({x})", StringComparison.Ordinal)));
    }

    [Fact]
    public void Every_file_that_a_document_names_is_there()
    {
        var lost = new List<string>();
        foreach (var file in Guides.Select(x => Path.Combine(Root, x)))
        {
            var text = File.ReadAllText(file);
            var names = Named()
                .Matches(text)
                .Select(x => x.Groups[1].Value)
                .Concat(Link().Matches(text).Select(x => x.Groups[1].Value))
                .Where(x => !x.Contains('*', StringComparison.Ordinal) && !x.Contains("://", StringComparison.Ordinal));
            var here = Path.GetDirectoryName(file)!;
            lost.AddRange(
                names
                    .Where(x =>
                        !Homes
                            .Select(home => Path.Combine(Root, home, x))
                            .Append(Path.Combine(here, x))
                            .Any(at => File.Exists(at) || Directory.Exists(at))
                    )
                    .Select(x => $"{Path.GetFileName(file)}: {x}")
            );
        }

        Assert.Equal([], lost);
    }

    [Fact]
    public void The_schema_on_paper_is_the_schema()
    {
        using var db = new NippersDb(new DbContextOptionsBuilder<NippersDb>().UseSqlite("Data Source=:memory:").Options);
        Assert.Equal(
            (db.Database.GenerateCreateScript() + ShelfTriggers.Sql).ReplaceLineEndings("\n"),
            File.ReadAllText(Path.Combine(Root, "docs/schema.sql"))
        );
    }

    /// <summary>Words that docs/glossary.md replaced. On a screen none may come back; in code none may name a type or a member.</summary>
    [Theory]
    [InlineData(@"\b[Ll]aborator(y|ies)\b")]
    [InlineData(@"\b[Tt]ake\w* (this (work|walk) |it )?back\b|\b[Tt]aken back\b")]
    [InlineData(@"\b[Cc]alled off\b|\b[Cc]all it off\b")]
    [InlineData(@"\b[Ll]eft undone\b|\b[Ll]eave it undone\b")]
    [InlineData(@"\b[Vv]erdict\b|\b[Ss]teady\b")]
    [InlineData(@"\b[Pp]ostures?\b|\bthe stick\b")]
    [InlineData(@"\b[Mm]ay run\b|\bDoes not run\b")]
    [InlineData(@"\b[Pp]ast due\b")]
    [InlineData(@"\bSchool\b|\b[Ff]ixed grid\b")]
    [InlineData(@"\bLooking back\b|\bAcross machines\b|\bExchange\b")]
    [InlineData(@"\b[Kk]ept aside\b|\b[Tt]ake along\b|\bon its day\b")]
    [InlineData(@"\b[Ss]tanding defects\b")]
    public void An_old_word_does_not_come_back_to_a_screen(string old)
    {
        var words = XDocument
            .Load(Path.Combine(Root, "src/Nippers.Views/Text/Words.resx"))
            .Root!.Elements("data")
            .Select(x => ((string)x.Attribute("name")!, Text: (string)x.Element("value")!));
        Assert.Equal([], words.Where(x => Regex.IsMatch(x.Text, old)));
    }

    [Fact]
    public void An_old_word_names_nothing_in_the_code()
    {
        var found = Code()
            .SelectMany(file => Declared().Matches(File.ReadAllText(file)).Select(x => x.Groups[1].Value))
            .ToHashSet(StringComparer.Ordinal);
        Assert.Contains("DueStatus", found);
        Assert.Equal([], Gone.Where(found.Contains));
    }

    [GeneratedRegex(@"\b[Rr]ules (\d+)\b")]
    private static partial Regex Rule();

    [GeneratedRegex(@"\bADR (\d+)\b")]
    private static partial Regex Decision();

    [GeneratedRegex(@"`([A-Za-z0-9_./-]+/[A-Za-z0-9_.-]+\.(?:cs|cshtml|csv|resx|md|sql|css))`")]
    private static partial Regex Named();

    [GeneratedRegex(@"\]\(([A-Za-z0-9_./-]+)\)")]
    private static partial Regex Link();

    [GeneratedRegex(@"\b(?:class|record|record struct|enum|interface|struct) ([A-Z]\w*)")]
    private static partial Regex Declared();
}
