using System.Text.RegularExpressions;
using System.Xml.Linq;
using Nippers.App.Oil;
using Nippers.App.Parts;
using Nippers.App.Programs;
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
using Nippers.Data.Fleet;
using Nippers.Data.Oil;
using Nippers.Data.Parts;
using Nippers.Data.Records;
using Nippers.Data.Visits;
using Nippers.Data.Walks;
using Nippers.Formats.Lab;
using Nippers.Web.Drawing;
using Nippers.Web.Pages.Machines;

namespace Nippers.Web.Tests;

/// <summary>Every word on a screen comes from the resource file, and nothing lies in it unused.</summary>
public sealed partial class WordsTests
{
    internal static readonly string Root = FindRoot();

    private static readonly HashSet<string> Words =
    [
        .. XDocument
            .Load(Path.Combine(Root, "src/Nippers.Web/Text/Words.resx"))
            .Root!.Elements("data")
            .Select(x => (string)x.Attribute("name")!),
    ];

    private static IEnumerable<string> Sources(params string[] folders) =>
        folders
            .SelectMany(folder => Directory.EnumerateFiles(Path.Combine(Root, folder), "*.cs*", SearchOption.AllDirectories))
            .Where(file => !file.Contains("/obj/", StringComparison.Ordinal) && !file.Contains("/bin/", StringComparison.Ordinal))
            .Select(File.ReadAllText);

    [Fact]
    public void Every_key_that_is_used_has_words()
    {
        var used = Sources("src/Nippers.Web")
            .SelectMany(text => Key().Matches(text).Select(x => x.Groups[1].Value))
            .Where(key => !key.EndsWith('.'))
            .ToHashSet();
        var plural = Sources("src/Nippers.Web")
            .SelectMany(text => PluralKey().Matches(text).Select(x => x.Groups[1].Value))
            .SelectMany(key => new[] { key + ".one", key + ".other" });
        Assert.Equal([], Lacking(used.Concat(plural)));
    }

    [Fact]
    public void Every_refusal_has_words()
    {
        var codes = Sources("src/Nippers.App", "src/Nippers.Web", "src/Nippers.Formats")
            .SelectMany(text => RefusalCode().Matches(text).Select(x => x.Groups[1].Value))
            .Concat(Enum.GetValues<HoursFault>().Where(x => x != HoursFault.None).Select(x => "hours" + x))
            .Where(x => x != "hours");
        Assert.Equal([], Lacking(codes.Select(code => "Refused." + code)));
    }

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
                    .Concat(Names<JobPhase>())
                    .Concat(Names<ItemOutcome>())
                    .Concat(Names<CloseFault>())
                    .Concat(Names<VisitState>())
                    .Concat(Names<MetalFinding>())
                    .Concat(Names<PrefillRule>())
                    .Concat(Names<TurnRule>())
                    .Concat(Names<PartKind>())
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

    [Fact]
    public void Nothing_lies_unused()
    {
        var text = string.Concat(
            Sources("src/Nippers.Web", "src/Nippers.App", "src/Nippers.Core", "src/Nippers.Data", "src/Nippers.Formats")
        );
        bool Used(string key)
        {
            var stem =
                key.EndsWith(".one", StringComparison.Ordinal) ? key[..^4]
                : key.EndsWith(".other", StringComparison.Ordinal) ? key[..^6]
                : key;
            var last = stem[(stem.LastIndexOf('.') + 1)..];
            if (stem.StartsWith("Refused.hours", StringComparison.Ordinal))
                last = stem["Refused.hours".Length..];
            if (stem.StartsWith("Audit.defect.", StringComparison.Ordinal))
                last = char.ToUpperInvariant(last[0]) + last[1..];
            else if (stem.StartsWith("Audit.", StringComparison.Ordinal))
                last = stem["Audit.".Length..];
            return text.Contains($"\"{stem}\"", StringComparison.Ordinal)
                || text.Contains($"\"{last}\"", StringComparison.Ordinal)
                || Regex.IsMatch(text, $@"\b{Regex.Escape(last.Split('=')[^1])}\b");
        }

        Assert.Equal([], Words.Where(key => !Used(key)).Order());
    }

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

    [GeneratedRegex("""(?:new(?:\(| Refusal\()"[a-zA-Z]*", |Refused\("[a-zA-Z]*", |FaultException\()"([a-zA-Z]+)"(?=[,)])""")]
    private static partial Regex RefusalCode();
}
