using System.Globalization;
using Nippers.App.Kinds;
using Nippers.Core.Defects;
using Nippers.Core.Walk;
using Nippers.Data.Fleet;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>A walk list that ships, with its body.</summary>
public sealed record StarterList(string Code, string Name, MachineKind Kind, CheckList Body);

/// <summary>
/// The walk lists that ship, one for each folder of a kind. Written from general trade knowledge as tables, so that a mended line
/// is mended for every kind that has it.
/// </summary>
public static class StarterLists
{
    private sealed record CheckLine(
        string Code,
        string Name,
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
        string Points,
        string Faults
    );

    private sealed record WordLine(string Code, string Text);

    private sealed record PostureLine(string Code, string Name, string Words, string After, string Caution);

    private sealed record StationLine(string Code, string Name, double X, double Y, StationHeight Height);

    private sealed record PartLine(PlanShape Shape, double X, double Y, double Width, double Height, double Angle);

    private sealed record PlaceLine(string Compartment, double X, double Y);

    /// <summary>All of them.</summary>
    public static IReadOnlyList<StarterList> All() => Made.Value;

    private static readonly Lazy<IReadOnlyList<StarterList>> Made = new(Make);

    private static IReadOnlyList<StarterList> Make()
    {
        var words = KindFolders.SharedRows<WordLine>("truths").ToDictionary(x => x.Code, x => x.Text, StringComparer.Ordinal);
        return
        [
            .. KindFolders.All.Select(kind => new StarterList(
                "walk-" + kind.Kind.Code,
                kind.Name,
                kind.Kind,
                new(
                    [.. KindFolders.Rows<StationLine>(kind, "stations").Select(x => new Station(x.Code, x.Name, x.X, x.Y, x.Height))],
                    [
                        .. KindFolders
                            .Rows<PostureLine>(kind, "postures")
                            .Select(x => new Posture(x.Code, x.Name, x.Words, x.After, x.Caution)),
                    ],
                    [.. KindFolders.Rows<PartLine>(kind, "plan").Select(x => new PlanPart(x.Shape, x.X, x.Y, x.Width, x.Height, x.Angle))],
                    [.. KindFolders.Rows<CheckLine>(kind, "checks").Select(x => ToCheck(x, words))]
                )
                {
                    Places = [.. KindFolders.Rows<PlaceLine>(kind, "places").Select(x => new PlanPlace(x.Compartment, x.X, x.Y))],
                    KeyFirst = kind.Facts.GetValueOrDefault("keyFirst") == "yes",
                    Sag = kind.Facts.GetValueOrDefault("sag") is { } sag ? Enum.Parse<SagMethod>(sag) : null,
                }
            )),
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
                At = DateTimeOffset.UnixEpoch,
                By = "Nippers",
                Body = ListJson.Write(x.Body),
            });

    private static DefectGrade FloorOf(string letter) =>
        letter switch
        {
            "S" => DefectGrade.Stop,
            "L" => DefectGrade.Limit,
            "N" => DefectGrade.NextService,
            "W" => DefectGrade.Watch,
            _ => throw new InvalidDataException($"{letter} is no floor of a usual fault."),
        };

    private static WalkCheck ToCheck(CheckLine line, Dictionary<string, string> words)
    {
        var figure = line.Figure.Length > 0 ? line.Figure.Split('|') : ["", "", "", "", "1", ""];
        bool Flag(string name) => figure[5].Split(' ').Contains(name);
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
            Sag = Flag("sag"),
            Wear = Flag("wear"),
            Sealed = Flag("sealed"),
            Glass = Flag("glass"),
            Faults =
            [
                .. line
                    .Faults.Split('|', StringSplitOptions.RemoveEmptyEntries)
                    .Select(x => x.Split(':'))
                    .Select(x => new UsualFault(x[0], FloorOf(x[1]))),
            ],
            Points = line.Points.Length > 0 ? [.. line.Points.Split('|')] : [],
        };
    }
}
