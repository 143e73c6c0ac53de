using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Nippers.App.Kinds;
using Nippers.App.Languages;
using Nippers.App.Programs;
using Nippers.App.Walks;
using Nippers.Core.Jobs;
using Nippers.Core.Walk;
using Nippers.Tests;

namespace Nippers.App.Tests;

/// <summary>A language's file says everything, and nothing else.</summary>
public sealed partial class LanguageFileTests
{
    private static readonly Language Spanish = AllLanguages.Find("es")!;

    private static IReadOnlyDictionary<string, string> English => PseudoLanguage.English;

    /// <summary>Words that are the same in both languages, and formats.</summary>
    private static readonly Regex Alike = SameInBoth();

    private static Language Read(string text) => Language.Read("xx", () => new MemoryStream(Encoding.UTF8.GetBytes(text))).Whole();

    private const string Head = "text;said\n@Language.Name;X\n@Language.Culture;es-MX\n";

    [Fact]
    public void It_has_each_word_of_the_pages_with_the_same_places_and_no_other()
    {
        Assert.Equal([], English.Keys.Except(Spanish.Keys));
        Assert.Equal([], Spanish.Keys.Except(English.Keys));
        static string Places(string text) => string.Join(' ', Place().Matches(text).Select(x => x.Value).Distinct().Order());
        Assert.Equal([], English.Keys.Where(x => Places(English[x]) != Places(Spanish.Word(x)!)));
        Assert.Equal(
            [],
            English.Keys.Where(x => English[x].Length > 0 && string.IsNullOrWhiteSpace(Spanish.Word(x)) && English[x].Trim().Length > 0)
        );
        Assert.Equal(
            [],
            English.Keys.Where(x =>
                English[x] == Spanish.Word(x) && !Alike.IsMatch(x) && Letters().IsMatch(Place().Replace(English[x], ""))
            )
        );
    }

    [Fact]
    public void It_has_all_words_of_lists_programs_and_kinds_that_ship()
    {
        var lists = StarterLists
            .All()
            .SelectMany(x =>
                x.Body.Stations.Select(s => s.Name)
                    .Concat(x.Body.Postures.SelectMany(p => new[] { p.Name, p.Words, p.After, p.Caution }))
                    .Concat(x.Body.Checks.SelectMany(c => new[] { c.Name, c.Truth, c.Caution }))
                    .Concat(x.Body.Checks.SelectMany(c => c.Points.Select(WalkCheck.PointName)))
                    .Concat(x.Body.Checks.SelectMany(c => c.Faults.Select(f => f.Words)))
                    .Append(x.Name)
            );
        var programs = StarterPrograms
            .All()
            .SelectMany(x =>
                x.Items.SelectMany(i => new[] { i.Name, i.Caution }).Concat(x.Compartments.Select(c => c.Name)).Append(x.Name)
            );
        Assert.Equal([], Lacking(lists.Concat(programs).Concat(KindFolders.All.Select(x => x.Name))));
    }

    [Theory]
    [MemberData(nameof(Programs))]
    public void It_has_all_words_of_every_card_of_every_program_that_ships(string program)
    {
        var words = StarterCards
            .Tiers.SelectMany(tier =>
                Enumerable.Range(0, StarterCards.Options.Length).Select(set => StarterCards.Input(program, tier, set))
            )
            .SelectMany(input => JobCardMaker.Make(input).Steps)
            .SelectMany(step => new[] { step.Words, step.Why, step.Caution }.Concat(step.Parts).Append(step.Touches));
        Assert.Equal([], Lacking(words));
    }

    public static TheoryData<string> Programs => [.. StarterPrograms.All().Select(x => x.Code)];

    // What fills a place is data as well; the parts of a machine that are typed by a planner stand as they are.
    private static IEnumerable<string> Lacking(IEnumerable<string> texts) =>
        texts.Where(x => x.Length > 0 && !Spanish.Ships(x)).Distinct().Order(StringComparer.Ordinal);

    [Fact]
    public void Nothing_in_it_is_said_of_what_is_not_there()
    {
        // What the command line's own package says of its two words.
        string[] packaged = ["Show help and usage information", "Show version information", "{0}, starter"];
        IEnumerable<string> Files(string folder, string shape) =>
            Directory
                .EnumerateFiles(Path.Combine(PseudoLanguage.Root, folder), shape, SearchOption.AllDirectories)
                .Where(x => !x.Contains("/Languages/", StringComparison.Ordinal) && !x.Contains("/bin/", StringComparison.Ordinal));
        var written = Files("src/Nippers.App", "*.csv")
            .Concat(Files("src/Nippers.Web/Commands", "*.cs"))
            .Concat(Files("src/Nippers.Web", "Program.cs"))
            .Concat(Files("src/Nippers.Demo", "Program.cs"))
            .Concat(Files("src/Nippers.Core/Walk", "CodeMeanings.cs"))
            .Concat(Files("src/Nippers.App/Feeds", "FeedCodes.cs"))
            .Select(File.ReadAllText)
            .Append(string.Join('\n', packaged))
            .ToList();
        bool There(string text) =>
            written.Exists(x => x.Contains(text, StringComparison.Ordinal))
            || Place().Split(text).Where(x => x.Length > 2).All(piece => written.Exists(x => x.Contains(piece, StringComparison.Ordinal)));
        Assert.Equal([], Spanish.Texts.Where(text => !There(text)));
    }

    [Fact]
    public void What_codes_mean_is_said_of_each() =>
        Assert.Equal(
            [],
            CodeMeanings
                .All.Select(x => x.Words)
                .Concat(Enumerable.Range(0, FaultCode.LargestFmi + 1).Select(CodeMeanings.Mode).OfType<string>())
                .Where(x => !Spanish.Ships(x))
        );

    [Theory]
    [InlineData(
        "There is no database /srv/fleet.db. With --new it is made.",
        "No hay ninguna base de datos /srv/fleet.db. Con --new se crea."
    )]
    [InlineData("fleet.db is in use by another Nippers. Stop it first.", "fleet.db lo usa otro Nippers. Deténgalo primero.")]
    [InlineData("Imported: 3 machines, 40 readings, 5 completions.", "Traído: 3 máquinas, 40 lecturas, 5 trabajos hechos.")]
    [InlineData("Nippers is at http://localhost:5000/ (Ctrl+C stops it)", "Nippers está en http://localhost:5000/ (Ctrl+C lo detiene)")]
    public void Lines_of_the_console_are_said_with_what_fills_them(string line, string said) => Assert.Equal(said, Spanish.Say(line));

    [Theory]
    [InlineData("Engine oil: change", null)]
    [InlineData("Final drive, left: fill slowly", "Mando final, izquierdo: llenar despacio")]
    [InlineData("Engine oil filter: change", "Filtro de aceite de motor: cambio")]
    [InlineData("dipstick and cap of Engine", "varilla y tapa de Motor")]
    [InlineData("Wheel loader, starter", "Cargador de ruedas, de partida")]
    [InlineData("Engine bay: weeps at the valve cover", "Compartimiento del motor: weeps at the valve cover")]
    [InlineData(
        "2.5 L came out, 4 L expected, of a place that uses none: it leaks somewhere.",
        "Salieron 2.5 L, se esperaban 4 L, de un lugar que no gasta nada: pierde por algún lado."
    )]
    [InlineData("Left guard loose, wire off", "Left guard loose, wire off")]
    [InlineData("", "")]
    [InlineData(null, "")]
    public void What_fills_a_place_is_said_too_and_what_people_typed_stands(string? text, string? said) =>
        Assert.Equal(said ?? "Aceite de motor: cambio", Spanish.Say(text));

    [Fact]
    public void Dates_and_numbers_are_as_its_file_has_them_whatever_the_system_knows()
    {
        Assert.Equal("1,234.5", 1234.5.ToString("N1", Spanish.Culture));
        Assert.Equal("4 dic 2026", new DateOnly(2026, 12, 4).ToString("d MMM yyyy", Spanish.Culture));
        Assert.Equal("9 sep", new DateOnly(2026, 9, 9).ToString("d MMM", Spanish.Culture));
        Assert.Equal(CultureInfo.InvariantCulture.NumberFormat.NumberDecimalSeparator, Spanish.Culture.NumberFormat.NumberDecimalSeparator);
    }

    [Theory]
    [InlineData("es", "es")]
    [InlineData("es-PE", "es")]
    [InlineData("ES", "es")]
    [InlineData("en-US", "en")]
    [InlineData("fr", null)]
    [InlineData("", null)]
    [InlineData(null, null)]
    public void A_browsers_word_finds_its_language(string? asked, string? found) => Assert.Equal(found, AllLanguages.Find(asked)?.Code);

    [Theory]
    [InlineData("text;said\nHood open;Capó abierto\n")]
    [InlineData(Head + "Hood open;a\nHood open;b\n")]
    [InlineData(Head + "Hood open\n")]
    public void A_file_that_is_none_is_refused(string text) => Assert.Throws<InvalidDataException>(() => Read(text));

    [Fact]
    public void A_longer_text_with_places_goes_before_a_shorter()
    {
        var made = Read(Head + "{0}: change;corto {0}\n{0} of the filter: change;largo {0}\nhood;capó\n");
        Assert.Equal("largo capó", made.Say("hood of the filter: change"));
        Assert.Equal("corto capó", made.Say("hood: change"));
        Assert.Equal("capó", made.Say("hood"));
        Assert.Null(made.Word("Nav.Today"));
    }

    [Fact]
    public void What_was_kept_of_a_text_with_places_does_not_hide_what_a_planner_enters_for_what_fills_it()
    {
        Assert.Equal("Grapple teeth: cambio", Spanish.Say("Grapple teeth: change"));
        OwnPhrases.Use(new([("es", "Grapple teeth", "Dientes de la garra")]));
        Assert.Equal("Dientes de la garra: cambio", Spanish.Say("Grapple teeth: change"));
        OwnPhrases.Use(OwnPhrases.None);
        Assert.Equal("Grapple teeth: cambio", Spanish.Say("Grapple teeth: change"));
    }

    [Fact]
    public void Whatever_is_typed_comes_back_in_no_time()
    {
        foreach (
            var text in new[]
            {
                new string('a', 5_000),
                string.Concat(Enumerable.Repeat(": change", 120)),
                string.Concat(Enumerable.Repeat(" L came out, ", 75)),
            }
        )
            Assert.True(Spanish.Say(text).Length > 0);
    }

    [GeneratedRegex(@"\{\w+\}")]
    private static partial Regex Place();

    [GeneratedRegex(@"\p{L}{3,}")]
    private static partial Regex Letters();

    [GeneratedRegex(
        @"^(Format\.|Short\.|Unit|Minutes\.|Cost\.(Min|Real)|Walk\.Minutes|Step\.MinutesAndWait|Duty\.Normal|Grade\.0|Assessment\.Normal|Measurand\.Zn|Quick\.Placeholder)"
    )]
    private static partial Regex SameInBoth();
}
