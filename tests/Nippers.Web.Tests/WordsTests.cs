using System.Globalization;
using System.Reflection;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using Nippers.App;
using Nippers.App.Oil;
using Nippers.App.Parts;
using Nippers.App.Programs;
using Nippers.App.Units;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Oil;
using Nippers.Core.Parts;
using Nippers.Core.Service;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.Oil;
using Nippers.Data.Parts;
using Nippers.Data.Programs;
using Nippers.Data.Records;
using Nippers.Data.Visits;
using Nippers.Data.Walks;
using Nippers.Formats.Lab;
using Nippers.Tests;
using Nippers.Web.Drawing;
using Nippers.Web.Pages.Machines;
using UnitsNet.Units;

namespace Nippers.Web.Tests;

/// <summary>Every word on a screen comes from the resource file, and nothing lies in it unused.</summary>
public sealed partial class WordsTests
{
    internal static readonly string Root = FindRoot();

    private static readonly HashSet<string> Words = [.. PseudoLanguage.English.Keys];

    private static readonly string[] Written = ["*.cs*", "*.razor"];

    private static IEnumerable<string> Sources(params string[] folders) =>
        folders
            .SelectMany(folder =>
                Written.SelectMany(x => Directory.EnumerateFiles(Path.Combine(Root, folder), x, SearchOption.AllDirectories))
            )
            .Where(file => !file.Contains("/obj/", StringComparison.Ordinal) && !file.Contains("/bin/", StringComparison.Ordinal))
            .Select(File.ReadAllText);

    [Fact]
    public void Every_key_that_is_used_has_words()
    {
        var used = Sources("src/Nippers.Web", "src/Nippers.Views")
            .SelectMany(text => Key().Matches(text).Select(x => x.Groups[1].Value))
            .Where(key => !key.EndsWith('.'))
            .ToHashSet();
        var plural = Sources("src/Nippers.Web", "src/Nippers.Views")
            .SelectMany(text => PluralKey().Matches(text).Select(x => x.Groups[1].Value))
            .SelectMany(key => new[] { key + ".one", key + ".other" });
        Assert.Equal([], Lacking(used.Concat(plural)));
    }

    /// <summary>Codes of refusals: each factory made use of once, and those that come from elsewhere.</summary>
    private static readonly Lazy<List<Refusal>> Made = new(() =>
        [
            .. typeof(Refusals)
                .GetMethods(BindingFlags.Public | BindingFlags.Static)
                .SelectMany(factory => new[] { 0, 1 }.Select(count => Make(factory, count))),
        ]
    );

    private static Refusal Make(MethodInfo factory, int count)
    {
        object? Sample(Type type) =>
            type == typeof(string) ? "x"
            : type == typeof(IReadOnlyList<string>) ? Enumerable.Repeat("x", count).ToList()
            : Nullable.GetUnderlyingType(type) is { } value ? (count == 0 ? null : Activator.CreateInstance(value))
            : type.IsValueType ? Activator.CreateInstance(type)
            : null;
        return (Refusal)factory.Invoke(null, [.. factory.GetParameters().Select(x => Sample(x.ParameterType))])!;
    }

    private static IEnumerable<string> RefusalCodes() =>
        Made
            .Value.Select(x => x.Code)
            .Concat(
                Sources("src/Nippers.App", "src/Nippers.Web", "src/Nippers.Views", "src/Nippers.Formats", "src/Nippers.Core")
                    .SelectMany(text => FaultCodes().Matches(text).SelectMany(x => x.Groups[1].Captures).Select(x => x.Value))
            )
            .Concat(Enum.GetValues<HoursFault>().Where(x => x != HoursFault.None).Select(x => "hours" + x))
            .Where(x => x != "hours");

    [Fact]
    public void Every_refusal_has_words_and_fills_all_their_places()
    {
        Assert.Equal([], Lacking(RefusalCodes().Select(code => "Refused." + code)));
        var words = XDocument
            .Load(Path.Combine(Root, "src/Nippers.Views/Text/Words.resx"))
            .Root!.Elements("data")
            .ToDictionary(x => (string)x.Attribute("name")!, x => (string)x.Element("value")!);
        Assert.All(Made.Value, made =>
        {
            var places = Place()
                .Matches(words["Refused." + made.Code])
                .Select(x => int.Parse(x.Groups[1].Value, CultureInfo.InvariantCulture));
            Assert.True(places.DefaultIfEmpty(-1).Max() < made.Args.Length, $"{made.Code} has a place that nothing fills");
        });
    }

    [Fact]
    public void A_refusal_is_made_by_its_factory_and_nowhere_else() =>
        Assert.Equal(
            [],
            Sources("src/Nippers.App", "src/Nippers.Web", "src/Nippers.Views")
                .Where(text => !text.Contains("public static class Refusals", StringComparison.Ordinal))
                .SelectMany(text => ByHand().Matches(text).Select(x => x.Value))
        );

    [Fact]
    public void Every_value_that_is_shown_has_a_name()
    {
        IEnumerable<string> Names<T>()
            where T : struct, Enum => Enum.GetValues<T>().Select(x => $"{typeof(T).Name}.{x}");
        Assert.Equal(
            [],
            Lacking(
                Names<DueStatus>()
                    .Concat(Names<IntervalBasis>())
                    .Concat(Enum.GetValues<IntervalBasis>().Select(x => $"IntervalBasis.Hint.{x}"))
                    .Concat(Names<Duty>())
                    .Concat(Names<DutyFactor>())
                    .Concat(Names<History>())
                    .Concat(Names<ReadingState>())
                    .Concat(Names<CheckKind>())
                    .Concat(Names<Cadence>())
                    .Concat(Names<EngineState>())
                    .Concat(Names<StationHeight>())
                    .Concat(Names<DefectGrade>())
                    .Concat(Names<SafetyPart>())
                    .Concat(Names<FluidLook>())
                    .Concat(Names<DrainAmount>())
                    .Concat(Names<SagMethod>())
                    .Concat(Names<Weather>())
                    .Concat(Names<Ground>())
                    .Concat(Names<WalkRound>())
                    .Concat(Names<WalkState>())
                    .Concat(Names<WalkDayState>())
                    .Concat(Names<DefectAct>())
                    .Concat(Names<DefectState>())
                    .Concat(Names<MachineState>())
                    .Concat(Names<StepHeat>())
                    .Concat(Names<Gear>())
                    .Concat(Names<ItemOutcome>())
                    .Concat(Names<CloseFault>())
                    .Concat(Names<VisitState>())
                    .Concat(Names<MetalFinding>())
                    .Concat(Names<PrefillRule>())
                    .Concat(Names<TurnRule>())
                    .Concat(Names<PartKind>())
                    .Concat(Names<CompartmentKind>())
                    .Concat(Names<StockMoveKind>())
                    .Concat(Names<ItemWork>())
                    .Concat(Names<StepRemark>())
                    .Concat(Names<OilKind>())
                    .Concat(Names<Assessment>())
                    .Concat(Names<LimitSource>())
                    .Concat(Names<DrawMethod>())
                    .Concat(Names<DrawState>())
                    .Concat(Names<Sureness>())
                    .Concat(Names<Inhibitor>())
                    .Concat(Names<CoolantMeasure>())
                    .Concat(Names<SampleQueue>())
                    .Concat(Names<ResultFate>())
                    .Concat(Names<NewOilSource>())
                    .Concat(Enum.GetValues<Measurand>().Select(x => $"Measurand.{x}"))
                    .Concat(Rake.Order.Select(x => $"Short.{x}"))
                    .Concat(OilPatterns.Codes.SelectMany(x => new[] { $"Pattern.{x}", $"Pattern.Look.{x}" }))
                    .Concat(Enum.GetValues<SampleDoubts>().Where(x => x != SampleDoubts.None).Select(x => $"Doubt.{x}"))
                    .Concat(Enum.GetValues<DrainReason>().Select(x => $"Sign.Drain.{x}"))
                    .Concat(Enum.GetValues<Assessment>().SelectMany(x => new[] { $"Assessment.Say.{x}", $"Sign.Next.{x}" }))
                    .Concat(LabCsv.Fields.Select(x => $"LabField.{x}"))
                    .Concat(Enum.GetValues<SampleState>().Select(x => $"Sample.State.{x}"))
                    .Concat(
                        Enum.GetValues<DrawMethod>()
                            .SelectMany(x =>
                                Enumerable.Range(1, TakeModel.StepsOf(x)).Select(i => $"Draw.{x}.{i}").Append($"Draw.Caution.{x}")
                            )
                    )
                    .Concat(PartCatalog.WasteStreams.Select(x => $"Stream.{x}"))
                    .Concat(LeaveItem.Reasons.Select(x => $"Leave.{x}"))
                    .Concat(VisitViews.Accesses.Select(x => $"Access.{x}"))
                    .Concat(ChangeProgram.CompartmentTraits.Select(x => $"Trait.{x}"))
                    .Concat(Enum.GetValues<InputKind>().Where(x => x is not (InputKind.Tick or InputKind.Look)).Select(x => $"Paper.{x}"))
                    .Concat(Enum.GetValues<CheckReason>().Where(x => x is not (CheckReason.WithinLimits)).Select(x => $"Result.{x}"))
                    .Concat(MachineOptions.All.SelectMany(x => x.Values.Select(v => $"Option.{x.Name}={v}").Prepend($"Option.{x.Name}")))
            )
        );
    }

    /// <summary>What names its unit by right: the units themselves, methods of standards, and lines that are formats.</summary>
    private static readonly string[] OwnUnit =
    [
        "Unit.",
        "UnitSign.",
        "Units.",
        "Format.Time",
        "Measurand.",
        "NewOil.GradeHint",
        "Reached.Band",
        "Compartment.FluidsHint",
        "Shop.Fluids",
        "Shop.VesselsHint",
        "Refused.vesselLines",
        "Labels.Help",
        "StepRemark.FitSeal",
        "Paper.",
        "Draw.",
        "Coolant.How",
        "Coolant.NoVolume",
    ];

    [Fact]
    public void No_sentence_names_a_unit_that_a_person_may_choose() =>
        Assert.Equal(
            [],
            PseudoLanguage
                .English.Where(x =>
                    !Array.Exists(OwnUnit, own => x.Key.StartsWith(own, StringComparison.Ordinal)) && NamedUnit().IsMatch(x.Value)
                )
                .Select(x => $"{x.Key}: {x.Value}")
        );

    [GeneratedRegex(@"\bL\b|\b[Ll]itres?\b|°C|\bmm\b")]
    private static partial Regex NamedUnit();

    [Fact]
    public void Nothing_lies_unused()
    {
        var idle = Words.Where(key => !IsUsed(key)).Order().ToList();
        Assert.True(idle.Count == 0, string.Join(", ", idle));
        Assert.All(
            ["Step.NobodyAsks", "Refused.nobodySays", "DueStatus.Never", "Nowhere.Overdue", "Audit.nobody.did", "Walks.Gone.one"],
            key => Assert.False(IsUsed(key), key)
        );
    }

    // A key is used when it stands in the code whole; or when its first part does with something put behind it, and its last part is
    // a value that can stand there: a member of an enum, a text of its own, or a cell of a table.
    private static readonly Lazy<HashSet<string>> Whole = new(() =>
        [
            .. Sources(
                    "src/Nippers.Web",
                    "src/Nippers.Views",
                    "src/Nippers.App",
                    "src/Nippers.Core",
                    "src/Nippers.Data",
                    "src/Nippers.Formats"
                )
                .SelectMany(text => Quoted().Matches(text).Select(x => x.Groups[1].Value)),
        ]
    );

    private static readonly Lazy<HashSet<string>> Behind = new(() =>
        [.. Whole.Value.Select(x => x.Split('{')[0]).Where(x => x.EndsWith('.')).Select(x => x[..^1])]
    );

    private static readonly Lazy<HashSet<string>> Values = new(() =>
        [
            .. Directory
                .EnumerateFiles(AppContext.BaseDirectory, "Nippers.*.dll")
                .Where(x => !x.EndsWith(".Tests.dll", StringComparison.Ordinal))
                .SelectMany(x => Assembly.Load(Path.GetFileNameWithoutExtension(x)).GetTypes())
                .Where(x => x.IsEnum)
                .SelectMany(Enum.GetNames),
            .. Whole.Value,
            // Units are another library's; those of metres and feet follow the choice of lengths.
            .. PersonUnits.Choices.SelectMany(x => x.Words.Select(word => word.Unit.ToString())),
            .. new[] { LengthUnit.Meter, LengthUnit.Foot }.Select(x => x.ToString()),
            .. Enum.GetNames<UnitsNet.Units.VolumeUnit>(),
            .. Enum.GetNames<UnitsNet.Units.TemperatureUnit>(),
            .. Enum.GetNames<UnitsNet.Units.LengthUnit>(),
            .. Directory
                .EnumerateFiles(Path.Combine(Root, "src"), "*.csv", SearchOption.AllDirectories)
                .SelectMany(File.ReadLines)
                .SelectMany(x => x.Split([';', ' ', '|', '!', '='])),
        ]
    );

    private static bool IsUsed(string key)
    {
        var one = key.EndsWith(".one", StringComparison.Ordinal) ? key[..^4] : null;
        var other = key.EndsWith(".other", StringComparison.Ordinal) && Words.Contains(key[..^5] + "one") ? key[..^6] : null;
        var stem = one ?? other ?? key;
        if (Whole.Value.Contains(stem) || Shown.Value.Contains(stem))
            return true;
        if (stem.StartsWith("Refused.", StringComparison.Ordinal))
            return Codes.Value.Contains(stem["Refused.".Length..]) || Whole.Value.Contains(stem["Refused.".Length..]);
        if (stem.StartsWith("Audit.", StringComparison.Ordinal))
        {
            var act = stem["Audit.".Length..];
            return Whole.Value.Contains(act)
                || (act.StartsWith("defect.", StringComparison.Ordinal) && Values.Value.Contains(char.ToUpperInvariant(act[7]) + act[8..]));
        }

        var parts = stem.Split('.');
        return Enumerable
            .Range(1, parts.Length - 1)
            .Any(i =>
                Behind.Value.Contains(string.Join('.', parts[..i]))
                && parts[i..]
                    .All(x => x.Split('=').All(y => Values.Value.Contains(y) || int.TryParse(y, CultureInfo.InvariantCulture, out _)))
            );
    }

    private static readonly Lazy<HashSet<string>> Codes = new(() => [.. RefusalCodes()]);

    /// <summary>Enums with their members: their values are shown by their names.</summary>
    private static readonly Lazy<HashSet<string>> Shown = new(() =>
        [
            .. Directory
                .EnumerateFiles(AppContext.BaseDirectory, "Nippers.*.dll")
                .SelectMany(x => Assembly.Load(Path.GetFileNameWithoutExtension(x)).GetTypes())
                .Where(x => x.IsEnum)
                .SelectMany(x => Enum.GetNames(x).Select(name => $"{x.Name}.{name}")),
        ]
    );

    private static IEnumerable<string> Lacking(IEnumerable<string> keys) => keys.Where(key => !Words.Contains(key)).Distinct().Order();

    private static string FindRoot()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder.FullName, "Nippers.slnx")))
            folder = folder.Parent!;
        return folder.FullName;
    }

    [GeneratedRegex("""(?:\bW|[wW]ords)\["([A-Z][^"]*)"(?=[,\]])""")]
    private static partial Regex Key();

    [GeneratedRegex("""Plural\("([^"]+)"(?=,)""")]
    private static partial Regex PluralKey();

    [GeneratedRegex("""FaultException\((?:"([a-zA-Z]+)"(?=[,)])|[^;"]*? \? "([a-zA-Z]+)" : "([a-zA-Z]+)")""")]
    private static partial Regex FaultCodes();

    [GeneratedRegex(
        """(?:new(?: Refusal)?\((?:"[a-zA-Z]*"|[a-zA-Z.]+(?:\([^()]*\))?), "(?!lab)[a-z]+[A-Z][a-zA-Z]*"|Refused\("[a-zA-Z]*", ")"""
    )]
    private static partial Regex ByHand();

    // Quotes stand in quotes on pages: each quote is looked at as if it opened.
    [GeneratedRegex("""\"(?=([A-Za-z][\w.=+-]*)[\"{])""")]
    private static partial Regex Quoted();

    [GeneratedRegex("""\{(\d+)""")]
    private static partial Regex Place();
}
