using System.Collections.Immutable;
using Nippers.App.Exchange;
using Nippers.App.Kinds;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using Nippers.Core.Service;
using Nippers.Core.Walk;
using Nippers.Data.Walks;
using Nippers.Formats.Fleet;

namespace Nippers.Demo;

/// <summary>Walks round one machine of the scenario: what its crew answered each morning, measured and topped up.</summary>
internal sealed class WalkLife
{
    private const double CheckSeconds = 9;
    private const double Sag = 32;

    private readonly DemoMachine _cast;
    private readonly CheckList _list;
    private readonly string _listCode;
    private static readonly HashSet<string> NoOptions = [];
    private readonly CheckList _mine;
    private readonly Dictionary<string, MeterHours> _last = new(StringComparer.Ordinal);
    private readonly List<(WalkRow Walk, List<MeasureRow> Measures, List<string> Done, List<WalkAnswerRow> Open)> _walks = [];
    private readonly List<(TopUpRow TopUp, int Walk)> _topUps = [];
    private readonly Dictionary<string, MachineCheck> _own;
    private readonly Dictionary<string, List<WalkCheck>> _routes = new(StringComparer.Ordinal);

    public WalkLife(DemoMachine cast, double startHours)
    {
        _cast = cast;
        var starter = Lists.Single(x => x.Kind == cast.Kind);
        var options = cast.Options.Split(' ').ToHashSet(StringComparer.Ordinal);
        _listCode = starter.Code;
        _list = starter.Body;
        _mine = _list with { Checks = [.. _list.Checks.Where(x => OptionRule.Holds(x.Needs, options)).Select(x => x with { Needs = "" })] };
        _own = Limits(startHours).ToDictionary(x => x.CheckCode, StringComparer.Ordinal);
    }

    private static IReadOnlyList<StarterList> Lists { get; } = StarterLists.All();

    /// <summary>What the machine's own manual says of its checks.</summary>
    public IReadOnlyCollection<MachineCheck> Own => _own.Values;

    /// <summary>Walks so far.</summary>
    public int Count => _walks.Count;

    /// <summary>Place of the walk of a day among this machine's; null when there was none.</summary>
    public int? PlaceOf(DateOnly day) => _walks.FindIndex(x => x.Walk.On == day) is >= 0 and var at ? at + 1 : null;

    /// <summary>Walks once.</summary>
    /// <param name="day">The day.</param>
    /// <param name="back">Days before the scenario's end.</param>
    /// <param name="start">When it began.</param>
    /// <param name="life">Life hours.</param>
    /// <param name="shown">What the meter showed.</param>
    /// <param name="by">Who.</param>
    /// <param name="open">It was begun and is not over.</param>
    /// <returns>Batch of what it completed.</returns>
    public string Walk(DateOnly day, int back, DateTimeOffset start, MeterHours life, MeterHours shown, string by, bool open)
    {
        var story = DemoDefects
            .Found.Where(x => x.Unit == _cast.Unit && x.Back == back)
            .Select(x => x.Check)
            .ToHashSet(StringComparer.Ordinal);
        var due = WalkRoute.Due(_mine, NoOptions, WalkRound.Whole, _last, life);
        if (story.Count > 0)
            due = [.. _mine.Checks.Where(x => due.Contains(x) || story.Contains(x.Code))];
        var checks = Route(due);
        var quick = _cast.Story.HasFlag(Story.QuickWalk) && back == 1;
        var found = DemoDefects.Found.Where(x => x.Unit == _cast.Unit && x.Back == back && checks.Exists(c => c.Code == x.Check)).ToList();
        var answers = new Dictionary<string, CheckAnswer>(StringComparer.Ordinal);
        var measures = new List<MeasureRow>();
        var done = new List<string>();
        var batch = $"walk-{_cast.Unit}-{day:yyyyMMdd}";
        foreach (var check in open ? checks.Take(checks.Count * 2 / 5) : checks)
        {
            var answer = found.Exists(x => x.Check == check.Code) ? new SeenAnswer(false) : Answer(check, day, life.Value);
            answers[check.Code] = answer;
            if (open)
                continue;
            if (check.Kind is CheckKind.Measure or CheckKind.Drain)
            {
                var value = CheckJudge.Judge(check, answer, new CheckContext { Explained = true }).Value!.Value;
                measures.Add(
                    new()
                    {
                        CheckCode = check.Code,
                        Value = Math.Round(value, 2),
                        Used = true,
                    }
                );
            }

            if (WalkRoute.IntervalHours(check.Cadence) is not null)
            {
                done.Add(check.Code);
                _last[check.Code] = life;
            }

            if (answer is LevelAnswer { Added: { } litres })
                _topUps.Add(
                    (
                        new()
                        {
                            Compartment = check.Compartment,
                            Litres = new Litres(litres),
                            At = start,
                            LifeHours = life,
                            By = by,
                        },
                        _walks.Count
                    )
                );
        }

        var seconds = quick ? 88 : checks.Count * Chance.Between(CheckSeconds - 2, CheckSeconds + 6, "pace", _cast.Unit, day.DayNumber);
        var row = new WalkRow
        {
            State = open ? WalkState.Open : WalkState.Finished,
            On = day,
            StartedAt = start,
            FinishedAt = open ? null : start.AddSeconds((long)seconds),
            StartedBy = by,
            FinishedBy = open ? null : by,
            LifeHours = life,
            ShownHours = shown,
            Weather = Chance.Of("rain", "", day.DayNumber) < 0.4 ? Weather.Rain : Weather.Dry,
            Ground = Chance.Of("mud", _cast.Unit, day.DayNumber) < 0.3 ? Ground.Mud : Ground.Level,
            Checks = string.Join(' ', checks.Select(x => x.Code)),
            Due = checks.Count,
            Answered = open ? 0 : checks.Count,
            Answers = open ? "" : PackedAnswers.Pack([.. checks.Select(x => x.Code)], answers),
            Batch = batch,
            Faults = found.Count,
            RunStatus =
                open ? null
                : found.Count > 0 ? found.Max(x => x.RunStatus)
                : RunStatus.NoStopFound,
            UntilOn = found.Exists(x => x.RunStatus == RunStatus.RunUntil) ? day.AddDays(14) : null,
        };
        var rows = open
            ? answers
                .Select(x => new WalkAnswerRow
                {
                    Code = x.Key,
                    Revision = 1,
                    By = by,
                    At = start,
                    Answer = System.Text.Json.JsonSerializer.Serialize(x.Value, ListJson.Options),
                })
                .ToList()
            : [];
        if (open)
            rows.Add(
                new()
                {
                    Code = SaveAnswer.StepPrefix + "isolate",
                    Revision = 1,
                    By = by,
                    At = start,
                    Answer = "done",
                }
            );
        _walks.Add((row, measures, done, rows));
        return batch;
    }

    public IEnumerable<FleetWalk> Records() =>
        _walks.Select(x =>
            FleetMapping.ToRecord(x.Walk, _cast.Unit, _listCode, 1, WalkChecks.Codes(x.Walk, _list), x.Open, x.Measures, x.Done, [])
        );

    /// <summary>Top-ups, each with the number of its walk.</summary>
    /// <param name="before">Walks of the machines that stand before this one in the file.</param>
    public IEnumerable<FleetTopUp> TopUps(int before) =>
        _topUps.Select(x => FleetMapping.ToRecord(x.TopUp, _cast.Unit, before + x.Walk + 1));

    /// <summary>Litres added to a compartment between two life hours.</summary>
    public double Added(string compartment, MeterHours from, MeterHours to) =>
        Math.Round(
            _topUps
                .Where(x => x.TopUp.Compartment == compartment && x.TopUp.LifeHours >= from && x.TopUp.LifeHours <= to)
                .Sum(x => x.TopUp.Litres.Value),
            2
        );

    /// <summary>The checks in the order of the walk. Few sets of checks fall due together, so each is laid out once.</summary>
    private List<WalkCheck> Route(ImmutableArray<WalkCheck> due)
    {
        var key = string.Join(' ', due.Select(x => x.Code));
        if (_routes.TryGetValue(key, out var known))
            return known;
        return _routes[key] = [
            .. WalkRoute
                .Steps(_mine, due)
                .SelectMany(x => x.Checks)
                .Select(x => CheckLimits.Apply(x, _own.GetValueOrDefault(x.Code)?.ToLimits())),
        ];
    }

    private CheckAnswer Answer(WalkCheck check, DateOnly day, double hours)
    {
        double Between(double from, double to) => Chance.Between(from, to, check.Code, _cast.Unit, day.DayNumber);
        switch (check.Kind)
        {
            case CheckKind.Level:
                var thirsty =
                    check.Code == "engine-oil-level" && _cast.Story.HasFlag(Story.ThirstyEngine) && hours > _cast.FinalHours - 120;
                var low =
                    !check.Sealed && (thirsty ? _walks.Count % 3 == 0 : Chance.Of("low", _cast.Unit + check.Code, day.DayNumber) < 0.025);
                return new LevelAnswer(
                    low ? 0 : Math.Round(Between(0.4, 1), 2),
                    check.Compartment == "engine" ? FluidLook.Dark : FluidLook.Clear,
                    low && check.MarkLitres is { } marks ? Math.Round(marks * Between(0.7, 0.95) * 2) / 2 : null
                )
                {
                    Ticked = check.AsksTick,
                };
            case CheckKind.Measure:
                var value = Value(check, day, hours);
                return new MeasureAnswer([
                    .. Enumerable.Range(0, check.Figures).Select(i => Math.Round(value + (check.Figures > 1 ? (i - 1) * 2 : 0), 1)),
                ])
                {
                    Ticked = check.AsksTick,
                };
            case CheckKind.Count or CheckKind.Grease:
                return new PointsAnswer([.. check.Points.Select(_ => PointState.Good)]) { Ticked = check.AsksTick };
            case CheckKind.Drain:
                var wet =
                    _cast.Story.HasFlag(Story.WaterInFuel) && _cast.FinalHours - hours < 220
                        ? _walks.Count % 3 == 0
                        : Chance.Of("bowl", _cast.Unit, day.DayNumber) < 0.02;
                return new DrainAnswer(wet ? DrainAmount.Little : DrainAmount.None);
            default:
                return CheckAnswer.Plain;
        }
    }

    /// <summary>A measure that wears, loosens and is set again.</summary>
    private double Value(WalkCheck check, DateOnly day, double hours)
    {
        double Between(double from, double to) => Chance.Between(from, to, check.Code, _cast.Unit, day.DayNumber);
        var own = _own.GetValueOrDefault(check.Code);
        if (check.Sag)
            return Math.Round(Sag + hours % 300 / 300 * 12 + Between(-1.5, 1.5));
        if (check.Wear && own is { New: { } asNew, NewAtHours: { } from } && (own.Low ?? own.High) is { } limit)
        {
            return Math.Round(asNew + (limit - asNew) * (hours - from.Value) / WearHours + Between(-0.6, 0.6), 1);
        }

        return check.Unit switch
        {
            "bar" => Math.Round((check.Low ?? 3.5) + Between(0.02, 0.35), 2),
            "V" => Math.Round((check.Low ?? 24.4) + Between(0.5, 1.1), 1),
            "kPa" => Math.Round(2.4 + hours % 500 / 500 * 2.6 + Between(0, 0.4), 1),
            "mm" when check.Code.StartsWith("adjuster", StringComparison.Ordinal) => Math.Round(
                Math.Max(12, 90 - hours % 2000 / 2000 * 60)
            ),
            _ => Math.Round(11 + Between(-1, 1), 1),
        };
    }

    private const double WearHours = 1900;
    private const double NewEdge = 32;
    private const double WornEdge = 13;
    private const double EdgeAge = 1500;

    /// <summary>Height of a cutting edge that was new some time before the story ends, mm.</summary>
    public static double EdgeHeight(DemoMachine cast, double hours) =>
        Math.Round(NewEdge - (NewEdge - WornEdge) * Math.Max(0, hours - Math.Max(0, cast.FinalHours - EdgeAge)) / WearHours, 1);

    /// <summary>Litres between the marks of an engine's stick.</summary>
    public static double EngineMarks(DemoMachine cast) => KindFolders.Find(cast.Kind)!.Facts["size"] == "small" ? 1.5 : 4;

    private IEnumerable<MachineCheck> Limits(double startHours)
    {
        var folder = KindFolders.Find(_cast.Kind)!;
        var small = folder.Facts["size"] == "small";
        foreach (var check in _list.Checks)
        {
            var row = new MachineCheck { CheckCode = check.Code, Name = check.Name };
            if (
                check.Kind == CheckKind.Level
                && check.Code is "engine-oil-level" or "hydraulic-level" or "transmission-level" or "coolant-level"
            )
            {
                row.MarkLitres = new Litres(
                    check.Code switch
                    {
                        "engine-oil-level" => EngineMarks(_cast),
                        "hydraulic-level" => small ? 4 : 12,
                        "coolant-level" => 2,
                        _ => 3,
                    }
                );
                row.Note = "Manual";
            }
            else if (check.Sag)
            {
                (row.Low, row.High) = (20, 50);
                row.Method = Enum.Parse<SagMethod>(folder.Facts["sag"]);
            }
            else if (check.Code.StartsWith("pressure-", StringComparison.Ordinal))
            {
                (row.Low, row.High) = (3.4, 4.0);
                row.Note = "20.5 R25, no ballast";
            }
            else if (check.Wear)
            {
                (row.New, row.Low) =
                    check.Unit == "mm" && check.Code.StartsWith("tread", StringComparison.Ordinal) ? (38, 8)
                    : check.Code == "tooth-length" ? (190, 95)
                    : (NewEdge, WornEdge);
                row.NewAtHours = MeterHours.Of(Math.Max(0, Math.Max(startHours, _cast.FinalHours - EdgeAge)));
            }
            else
            {
                continue;
            }

            yield return row;
        }
    }
}
