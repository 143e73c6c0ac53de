using System.Diagnostics;
using System.Reflection;
using System.Runtime.CompilerServices;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Nippers.App;
using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Core.Walk;
using Nippers.Data.Visits;
using Nippers.Views.Cards;
using Nippers.Views.Text;
using Nippers.Views.Walks;
using Nippers.Web.Hosting;

namespace Nippers.Web.Tests;

/// <summary>Which room may know which, and the command line.</summary>
public sealed partial class HouseTests
{
    private static readonly Dictionary<string, string[]> Knows = new()
    {
        ["Nippers.Core"] = [],
        ["Nippers.Data"] = ["Nippers.Core"],
        ["Nippers.Formats"] = ["Nippers.Core"],
        ["Nippers.App"] = ["Nippers.Core", "Nippers.Data", "Nippers.Formats"],
        ["Nippers.Weeks"] = ["Nippers.Core"],
        ["Nippers.StandIns"] = ["Nippers.Core", "Nippers.Formats"],
        ["Nippers.Views"] = ["Nippers.App", "Nippers.Core", "Nippers.Data"],
        ["Nippers.Web"] = ["Nippers.App", "Nippers.Core", "Nippers.Data", "Nippers.Formats", "Nippers.Views", "Nippers.Weeks"],
        ["Nippers.Demo"] =
        [
            "Nippers.App",
            "Nippers.Core",
            "Nippers.Data",
            "Nippers.Formats",
            "Nippers.StandIns",
            "Nippers.Views",
            "Nippers.Web",
        ],
    };

    private static readonly string[] Rooted = ["src", "tests", "bench"];

    public static TheoryData<string> Rooms() => [.. Knows.Keys];

    [Theory]
    [MemberData(nameof(Rooms))]
    public void Arrows_run_one_way(string room)
    {
        var known = Assembly
            .Load(room)
            .GetReferencedAssemblies()
            .Select(x => x.Name!)
            .Where(x => x.StartsWith("Nippers", StringComparison.Ordinal));
        Assert.Empty(known.Except(Knows[room]));
    }

    [Fact]
    public void The_core_knows_the_base_library_alone() =>
        Assert.All(Assembly.Load("Nippers.Core").GetReferencedAssemblies(), x =>
            Assert.StartsWith("System", x.Name, StringComparison.Ordinal)
        );

    [Fact]
    public void No_page_asks_the_database_itself()
    {
        var pages = typeof(NippersPage).Assembly.GetTypes().Where(x => x.IsSubclassOf(typeof(NippersPage)));
        Assert.DoesNotContain(pages, page =>
            page.GetConstructors().SelectMany(x => x.GetParameters()).Any(x => x.ParameterType == typeof(Data.NippersDb))
        );
    }

    [Fact]
    public void No_endpoint_and_nothing_on_the_way_to_one_asks_the_database_itself()
    {
        // What starts the program may: it makes, copies and describes the database.
        var asking = typeof(NippersPage)
            .Assembly.GetTypes()
            .Where(x => x.Namespace?.StartsWith("Nippers.Web", StringComparison.Ordinal) == true && x.Namespace != "Nippers.Web.Commands")
            .SelectMany(x =>
                x.GetMethods(
                        BindingFlags.Public
                            | BindingFlags.NonPublic
                            | BindingFlags.Static
                            | BindingFlags.Instance
                            | BindingFlags.DeclaredOnly
                    )
                    .Cast<MethodBase>()
                    .Concat(x.GetConstructors(BindingFlags.Public | BindingFlags.NonPublic | BindingFlags.Instance))
            )
            .Where(x => x.GetParameters().Any(p => p.ParameterType == typeof(Data.NippersDb)))
            .Select(x => $"{x.DeclaringType!.Name}.{x.Name}");
        Assert.Equal([], asking);
    }

    [Fact]
    public async Task Every_kind_of_question_has_its_fields()
    {
        foreach (var input in Enum.GetValues<InputKind>().Where(x => x is not (InputKind.Tick or InputKind.Look or InputKind.Touched)))
        {
            var step = new JobStep
            {
                Code = "s",
                Input = input,
                Words = "The step",
                Points = 2,
                Figures = [new("edge-height", "Edge", "mm")],
            };
            var card = new KeptCard([step], [], new Dictionary<string, string>(), new Dictionary<string, string>());
            var job = JobContext.Of(new() { PlannedBy = "" }, card, new Dictionary<string, StepRow>(), new HashSet<string>());
            var html = await ScreenHtml.Of<StepAsk, StepFields>(
                new(new Words(), "Tam", true),
                new(job, step, TypedFields.None, Prefix: "s7.")
            );
            Assert.Contains("name=\"s7.", html, StringComparison.Ordinal);
            Assert.DoesNotContain("name=\"l", html, StringComparison.Ordinal);
        }

        Assert.All(Enum.GetValues<CheckKind>(), x => Assert.NotEmpty(CheckQuestion.Of(x).Buttons));
    }

    // A text that must not be broken may run over; what stands around it may not.
    private static int Bare(string line) => line.Length - Math.Max(0, line.LastIndexOf('"') - line.IndexOf('"'));

    [Fact]
    public void A_page_has_one_block_a_line_and_no_line_is_longer_than_140_columns()
    {
        var pages = Directory
            .EnumerateFiles(Path.Combine(WordsTests.Root, "src", "Nippers.Web", "Pages"), "*.cshtml", SearchOption.AllDirectories)
            .SelectMany(x => File.ReadLines(x).Select(line => (Page: Path.GetFileName(x), Line: line.Trim(), Width: Bare(line))))
            .ToList();
        Assert.InRange(pages.Count, 8000, 100_000);
        Assert.Equal([], pages.Where(x => x.Width > 140).Select(x => $"{x.Page}: {x.Line}"));
        Assert.Equal([], pages.Where(x => Blocks().Count(x.Line) > 1).Select(x => $"{x.Page}: {x.Line}"));

        // What is opened for a statement stands on lines of its own.
        Assert.Equal([], pages.Where(x => x.Line.StartsWith("{<", StringComparison.Ordinal)).Select(x => $"{x.Page}: {x.Line}"));
    }

    [GeneratedRegex("<(div|p|ul|ol|li|section|header|nav|main|article|form|fieldset|legend|table|thead|tbody|tr|td|th|dl|dt|dd|h[1-6])\\b")]
    private static partial Regex Blocks();

    [Fact]
    public void A_page_with_forms_of_several_names_says_of_each_where_it_goes()
    {
        // A form that does not goes to the address of the page, which after another form was refused is that form's.
        var pages = Directory
            .EnumerateFiles(Path.Combine(WordsTests.Root, "src", "Nippers.Web", "Pages"), "*.cshtml", SearchOption.AllDirectories)
            .Where(x => File.Exists(x + ".cs") && NamedHandler().IsMatch(File.ReadAllText(x + ".cs")))
            .ToList();
        Assert.True(pages.Count > 10, $"{pages.Count} were found");
        Assert.Equal(
            [],
            pages.SelectMany(x =>
                PostForm()
                    .Matches(File.ReadAllText(x))
                    .Where(form =>
                        !form.Value.Contains("action=", StringComparison.Ordinal)
                        && !form.Value.Contains("asp-page-handler", StringComparison.Ordinal)
                    )
                    .Select(form => $"{Path.GetFileName(x)}: {form.Value}")
            )
        );
    }

    [GeneratedRegex("Task<IActionResult> OnPost[A-Z]")]
    private static partial Regex NamedHandler();

    [GeneratedRegex("<form method=\"post\"[^>]*>")]
    private static partial Regex PostForm();

    [Fact]
    public void No_line_of_code_is_longer_than_140_columns()
    {
        var root = new DirectoryInfo(WordsTests.Root);
        var sources = Rooted
            .SelectMany(x => Directory.EnumerateFiles(Path.Combine(root.FullName, x), "*.cs", SearchOption.AllDirectories))
            .Where(x => !x.Contains("/obj/", StringComparison.Ordinal) && !x.Contains("/Migrations/", StringComparison.Ordinal))
            .ToList();
        Assert.NotEmpty(sources);
        Assert.Equal(
            [],
            sources.SelectMany(x =>
                File.ReadLines(x).Where(line => Bare(line) > 140).Select(line => $"{Path.GetFileName(x)}: {line.Trim()}")
            )
        );
    }

    // Two numbers a hair apart are rounded to different places when a half lies between them: a distance is compared, not the places.
    [Theory]
    [InlineData(@"DateTime(Offset)?\.(UtcNow|Now|Today)\b|TimeProvider\.System\b")]
    [InlineData(@"Assert\.Equal\([^;]*,\s*\d+\s*\);")]
    public void No_test_reads_the_wall_clock_or_compares_rounded_numbers(string what)
    {
        var forbidden = new Regex(what);
        var tests = new DirectoryInfo(Path.GetDirectoryName(Here())!).Parent!;
        var sources = tests
            .EnumerateFiles("*.cs", SearchOption.AllDirectories)
            .Where(x => !x.FullName.Contains("/obj/", StringComparison.Ordinal))
            .ToList();
        Assert.Contains(sources, x => x.Name == "HouseTests.cs");
        Assert.Equal(
            [],
            sources.SelectMany(x => forbidden.Matches(File.ReadAllText(x.FullName)).Select(match => $"{x.Name}: {match.Value}"))
        );

        static string Here([CallerFilePath] string file = "") => file;
    }

    private static Task<(int Code, string Out, string Error)> Run(params string[] args) => Run("Nippers.Web", args);

    private static async Task<(int Code, string Out, string Error)> Run(string room, string[] args)
    {
        using var process = Process.Start(
            new ProcessStartInfo("dotnet", [Path.Combine(AppContext.BaseDirectory, room + ".dll"), .. args])
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            }
        )!;
        var output = process.StandardOutput.ReadToEndAsync(TestContext.Current.CancellationToken);
        var error = process.StandardError.ReadToEndAsync(TestContext.Current.CancellationToken);
        await process.WaitForExitAsync(TestContext.Current.CancellationToken);
        return (process.ExitCode, await output, await error);
    }

    [Fact]
    public async Task The_command_line_evaluates_exports_imports_backs_up_and_restores()
    {
        var folder = Directory.CreateTempSubdirectory("nippers-cli-").FullName;
        string In(string name) => Path.Combine(folder, name);

        await File.WriteAllTextAsync(
            In("use.json"),
            """[{"name":"u","asOf":"2026-03-09T06:00:00Z","plannedHoursPerDay":5,"readings":[{"at":"2026-03-01T06:00:00Z","hours":100},{"at":"2026-03-09T06:00:00Z","hours":148}]}]""",
            TestContext.Current.CancellationToken
        );
        var evaluated = await Run("evaluate", "use", In("use.json"));
        Assert.Equal(0, evaluated.Code);
        Assert.Equal(6, (double)JsonNode.Parse(evaluated.Out)![0]!["hoursPerDay"]!, 1e-6);

        await File.WriteAllTextAsync(In("bad.json"), """[{"name":"u"}]""", TestContext.Current.CancellationToken);
        var bad = await Run("evaluate", "use", In("bad.json"));
        Assert.Equal((2, ""), (bad.Code, bad.Out));
        Assert.Contains("case 0 (u)", bad.Error, StringComparison.Ordinal);

        Assert.Equal(0, (await Run("Nippers.Demo", ["export", "--demo", "--today", "2026-03-16", In("a.nippers.json")])).Code);
        // A file made beforehand, as by mktemp, is an empty database and no obstacle.
        await File.WriteAllBytesAsync(In("a.db"), [], TestContext.Current.CancellationToken);
        Assert.Equal(0, (await Run("import", "--db", In("a.db"), In("a.nippers.json"))).Code);
        Assert.Equal(0, (await Run("export", "--db", In("a.db"), In("b.nippers.json"))).Code);
        Assert.Equal(
            await File.ReadAllTextAsync(In("a.nippers.json"), TestContext.Current.CancellationToken),
            await File.ReadAllTextAsync(In("b.nippers.json"), TestContext.Current.CancellationToken)
        );

        var twice = await Run("import", "--db", In("a.db"), In("a.nippers.json"));
        Assert.Equal(1, twice.Code);
        Assert.Contains("BL-01 is here already", twice.Error, StringComparison.Ordinal);

        Assert.Equal(0, (await Run("backup", "--db", In("a.db"), In("c.db"))).Code);
        Assert.Equal(1, (await Run("restore", "--db", In("a.db"), In("a.nippers.json"))).Code);
        Assert.Equal(0, (await Run("restore", "--db", In("a.db"), In("c.db"))).Code);
        Assert.Contains("22 machines", (await Run("rebuild", "--db", In("a.db"))).Error, StringComparison.Ordinal);
        Directory.Delete(folder, recursive: true);
    }
}
