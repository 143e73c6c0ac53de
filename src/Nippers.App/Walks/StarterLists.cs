using System.Globalization;
using Nippers.Core.Defects;
using Nippers.Core.Walk;
using Nippers.Data.Fleet;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>A walk list that ships, with its body.</summary>
public sealed record StarterList(string Code, string Name, MachineKind Kind, CheckList Body);

/// <summary>
/// Check lists for the six kinds, and a compactor as an example of a kind that a planner adds. Written from general
/// trade knowledge as tables, so that a mended line is mended for every kind that has it.
/// </summary>
public static class StarterLists
{
    private static readonly (MachineKind Kind, char Letter, string Code, string Name)[] Kinds =
    [
        (MachineKind.CrawlerExcavator, 'E', "walk-crawler-excavator", "Crawler excavator"),
        (MachineKind.MiniExcavator, 'M', "walk-mini-excavator", "Mini excavator"),
        (MachineKind.CrawlerDozer, 'D', "walk-crawler-dozer", "Crawler dozer"),
        (MachineKind.WheelLoader, 'L', "walk-wheel-loader", "Wheel loader"),
        (MachineKind.CompactTrackLoader, 'C', "walk-compact-track-loader", "Compact track loader"),
        (MachineKind.BackhoeLoader, 'B', "walk-backhoe-loader", "Backhoe loader"),
        (MachineKind.Other, 'R', "walk-compactor", "Compactor"),
    ];

    private sealed record CheckLine(
        string Code,
        string Name,
        string Kinds,
        string Station,
        CheckKind Kind,
        Cadence Cadence,
        EngineState Engine,
        string Posture,
        DefectGrade Grade,
        string Safety,
        string Needs,
        string Compartment,
        string Item,
        string Truth,
        string Tick,
        string Wait,
        string Caution,
        string Figure,
        string Points
    );

    private sealed record WordLine(string Code, string Text);

    private sealed record PostureLine(string Kinds, string Code, string Name, string Words);

    private sealed record StationLine(string Kinds, string Code, string Name, double X, double Y, StationHeight Height);

    private sealed record PartLine(string Kinds, PlanShape Shape, double X, double Y, double Width, double Height, double Angle);

    private sealed record PlaceLine(string Kinds, string Compartment, double X, double Y);

    private static readonly Lazy<List<PlaceLine>> Places = new(() => Tables.Read<PlaceLine>("Walks.places"));

    /// <summary>Where a compartment lies on the plan of a kind; null where that is not known.</summary>
    public static (double X, double Y)? PlaceOf(MachineKind kind, string compartment)
    {
        var letter = Kinds.First(x => x.Kind == kind).Letter;
        return Places.Value.Find(x => x.Compartment == compartment && x.Kinds.Contains(letter, StringComparison.Ordinal)) is { } place
            ? (place.X, place.Y)
            : null;
    }

    /// <summary>All of them.</summary>
    public static IReadOnlyList<StarterList> All()
    {
        var words = Tables.Read<WordLine>("Walks.words").ToDictionary(x => x.Code, x => x.Text, StringComparer.Ordinal);
        var (checks, postures, stations, parts) = (
            Tables.Read<CheckLine>("Walks.checks"),
            Tables.Read<PostureLine>("Walks.postures"),
            Tables.Read<StationLine>("Walks.stations"),
            Tables.Read<PartLine>("Walks.parts")
        );
        return
        [
            .. Kinds.Select(kind =>
            {
                bool Has(string kinds) => kinds.Contains(kind.Letter, StringComparison.Ordinal);
                return new StarterList(
                    kind.Code,
                    kind.Name,
                    kind.Kind,
                    new(
                        [.. stations.Where(x => Has(x.Kinds)).Select(x => new Station(x.Code, x.Name, x.X, x.Y, x.Height))],
                        [.. postures.Where(x => Has(x.Kinds)).Select(x => new Posture(x.Code, x.Name, x.Words))],
                        [.. parts.Where(x => Has(x.Kinds)).Select(x => new PlanPart(x.Shape, x.X, x.Y, x.Width, x.Height, x.Angle))],
                        [.. checks.Where(x => Has(x.Kinds)).Select(x => ToCheck(x, words))]
                    )
                );
            }),
        ];
    }

    /// <summary>
    /// Rows of all of them for an empty database; the same wherever they are made, so that a fleet file that carries them fits.
    /// </summary>
    public static IEnumerable<WalkListVersion> Rows() =>
        All()
            .Select(x => new WalkListVersion
            {
                List = new WalkList
                {
                    Code = x.Code,
                    Name = x.Name,
                    Kind = x.Kind,
                    Starter = true,
                    Version = 1,
                },
                Version = 1,
                AtMs = 0,
                By = "Nippers",
                Body = ListJson.Write(x.Body),
            });

    private static WalkCheck ToCheck(CheckLine line, Dictionary<string, string> words)
    {
        var figure = line.Figure.Length > 0 ? line.Figure.Split('|') : ["", "", "", "", "1", ""];
        static double? Number(string text) => text.Length > 0 ? double.Parse(text, CultureInfo.InvariantCulture) : null;
        return new WalkCheck
        {
            Code = line.Code,
            Name = line.Name,
            Station = line.Station,
            Kind = line.Kind,
            Cadence = line.Cadence,
            Engine = line.Engine,
            Posture = line.Posture,
            Grade = line.Grade,
            Safety = line.Safety.Length > 0 ? Enum.Parse<SafetyPart>(line.Safety) : SafetyPart.None,
            Needs = line.Needs,
            Compartment = line.Compartment,
            Item = line.Item,
            Truth = line.Truth.Length > 0 ? words[line.Truth] : "",
            AsksTick = line.Tick == "yes",
            WaitMinutes = line.Wait.Length > 0 ? int.Parse(line.Wait, CultureInfo.InvariantCulture) : 0,
            Caution = line.Caution.Length > 0 ? words["c-" + line.Caution] : "",
            Unit = figure[0],
            Low = Number(figure[1]),
            WatchBelow = Number(figure[2]),
            High = Number(figure[3]),
            Figures = figure[4].Length > 0 ? int.Parse(figure[4], CultureInfo.InvariantCulture) : 1,
            Sag = figure[5] == "sag",
            Wear = figure[5] == "wear",
            Sealed = figure[5] == "sealed",
            Points = line.Points.Length > 0 ? [.. line.Points.Split('|')] : [],
        };
    }
}
