using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Text.Json;
using Nippers.App.Kinds;
using Nippers.App.Visits;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Oil;
using Nippers.Core.Service;
using Nippers.Core.Walk;
using Nippers.Data.Fleet;
using Nippers.Data.Parts;
using Nippers.Data.Programs;
using Nippers.Data.Queries;
using Nippers.Data.Records;
using Nippers.Formats.Fleet;

namespace Nippers.Demo;

/// <summary>The scenario's visits: what was done on cards in the last months, one card half done, one visit planned.</summary>
/// <param name="today">The date the scenario ends on.</param>
internal sealed class DemoVisits(DateOnly today)
{
    /// <summary>The machine whose card is open.</summary>
    public const string OpenUnit = "DZ-02";

    /// <summary>The machine with a visit planned.</summary>
    public const string PlannedUnit = "EX-04";

    /// <summary>Running number of the first bottle of a card.</summary>
    public const int FirstBottle = 5000;

    private const string LeftUnit = "WL-01";
    private const int CardDays = 200;
    private const int VisitTenths = 2000;
    private const string WastePlace = "TIDEWAY WASTE OILS, SANN QUAY";

    private static readonly ConcurrentDictionary<string, (JobCard Card, JsonElement Kept)> Cards = new(StringComparer.Ordinal);

    private readonly List<FleetVisit> _visits = [];
    private readonly List<FleetFilterLog> _log = [];
    private readonly List<FleetStock> _stock = [];
    private readonly List<FleetWaste> _waste = [];
    private readonly List<FleetOnBoard> _onBoard = [];
    private readonly Dictionary<(string Unit, string Item, string Batch), (string Mark, long Visit, string Taken)> _bottles = [];
    private readonly Dictionary<(string Part, string Site), int> _used = [];
    private int _bottle = FirstBottle;

    /// <summary>The visits of all machines and what they recorded, in the order of the fleet file.</summary>
    public IEnumerable<FleetRecord> Records(IEnumerable<MachineLife> machines)
    {
        foreach (var life in machines)
            OfMachine(life.Cast, life, life.Program);
        return
        [
            .. _visits,
            .. _log,
            .. Shelves().OrderBy(x => x.At, StringComparer.Ordinal),
            .. _waste.OrderBy(x => x.Entered, StringComparer.Ordinal),
            .. _onBoard,
        ];
    }

    /// <summary>Bottles that were filled on cards: by machine, item and batch.</summary>
    public IReadOnlyDictionary<(string Unit, string Item, string Batch), (string Mark, long Visit, string Taken)> Bottles => _bottles;

    private void OfMachine(DemoMachine cast, MachineLife life, ServiceProgram program)
    {
        var sheet = SheetOf(cast, life, program);
        var positions = DemoParts.Positions(cast).ToLookup(x => x.ItemCode);
        var log = new List<FleetFilterLog>();
        var visits = new List<FleetVisit>();
        foreach (var batch in life.Batches.OrderBy(x => x[0].EnteredAt))
        {
            var row = batch[0];
            var codes = batch.Select(x => x.ItemCode).ToList();
            if (
                row.Kind != CompletionKind.Work
                || !codes.Exists(code => program.Items.Find(x => x.Code == code) is { EveryHours.Tenths: >= VisitTenths })
            )
                continue;
            long? number = null;
            if (today.DayNumber - row.DoneOn.DayNumber <= CardDays)
            {
                number = _visits.Count + visits.Count + 1;
                visits.Add(Closed(cast, life, sheet, batch, number.Value));
            }

            foreach (var position in codes.SelectMany(x => positions[x]))
            {
                var stand =
                    Chance.Of("stand-in", cast.Unit + position.Code, row.DoneOn.DayNumber) < 0.15 && Alternate(position) is { } other
                        ? other
                        : position.Part!;
                log.Add(
                    new(
                        cast.Unit,
                        position.Code,
                        position.Name,
                        "fitted",
                        stand.Number,
                        Day(row.DoneOn),
                        row.LifeHours.Value,
                        row.By,
                        At(row.EnteredAt),
                        row.Batch,
                        stand.Make,
                        number,
                        Chance.Of("metal", cast.Unit + position.Code, row.DoneOn.DayNumber) < 0.3 ? "finePaste" : "clean"
                    )
                );
                Take(stand.Number, cast.Site, row, number);
            }
        }

        _visits.AddRange(visits);
        if (cast.Unit == PlannedUnit)
            Planned(cast, life, sheet);
        if (cast.Unit == OpenUnit)
            Open(cast, life, sheet, log);
        _log.AddRange(log.OrderBy(x => x.Entered, StringComparer.Ordinal));
    }

    private static PartRow? Alternate(FilterPosition position) =>
        DemoParts.Catalogue.FirstOrDefault(x =>
            x.Make == "Quarne" && x.Name == position.Name && Math.Abs(x.LengthMm!.Value - position.LengthMm!.Value * 0.99) < 0.11
        );

    private void Take(string part, string site, CompletionRow row, long? visit)
    {
        _used[(part, site)] = _used.GetValueOrDefault((part, site)) + 1;
        _stock.Add(new(part, site, -1, "issue", At(row.EnteredAt), row.By, null, visit));
    }

    /// <summary>Shelves that were filled so that what was used is used, and a few pieces are left; not of everything enough.</summary>
    private IEnumerable<FleetStock> Shelves()
    {
        foreach (var part in DemoParts.Catalogue)
        {
            foreach (var site in new[] { DemoCast.ClayPit, DemoCast.LandingYard, DemoCast.NorthBank })
            {
                var used = _used.GetValueOrDefault((part.Number, site));
                if (used == 0)
                    continue;
                var left = part.Number.EndsWith("-121", StringComparison.Ordinal)
                    ? 0
                    : (int)Chance.Between(0.4, 4.4, "shelf", part.Number + site, 0);
                var early = used / 2 + 1;
                yield return new(part.Number, site, early, "receipt", At(today.AddDays(-430), 9), "Wenna Pask", "Opening stock");
                if (used + left - early > 0)
                    yield return new(
                        part.Number,
                        site,
                        used + left - early,
                        "receipt",
                        At(today.AddDays(-190), 10),
                        "Wenna Pask",
                        "Delivery"
                    );
            }
        }

        foreach (var row in _stock)
            yield return row;
    }

    /// <summary>A visit that was closed: its card made anew from its items and answered as a calm day would.</summary>
    private FleetVisit Closed(DemoMachine cast, MachineLife life, ServiceSheet sheet, List<CompletionRow> batch, long number)
    {
        var row = batch[0];
        var codes = batch.Select(x => x.ItemCode).ToList();
        var (card, kept) = CardOf(cast, sheet, codes);
        var pace = Chance.Between(0.9, 1.35, "pace", cast.Unit, row.DoneOn.DayNumber);
        var real = (int)(card.Elapsed * pace);
        var start = row.EnteredAt.AddMinutes(-Math.Max(6 * 60, real + 10));
        var answers = Answers(cast, card, codes, start, row.By, card.Steps.Length, row.LifeHours.Value, pace);
        var lab = Lab(card);
        var costs = codes.Select(sheet.CostOf).ToList();
        double Money(double money) => Math.Round(money, 2);
        var (parts, fluids) = (Money(costs.Sum(x => x.Parts)), Money(costs.Sum(x => x.Fluids)));
        Record(cast, card, answers, row, number);
        var items = codes.Select(x => new FleetVisitItem(x, "done")).ToList();
        if (
            cast.Unit == LeftUnit
            && life.Batches.All(x =>
                x[0].EnteredAt <= row.EnteredAt || x[0].Batch.StartsWith("walk", StringComparison.Ordinal) || x.Count < 6
            )
            && sheet.Facts.Items.FirstOrDefault(x => x.Code == "cab-recirculation") is { } left
            && !codes.Contains(left.Code)
        )
        {
            items.Add(new(left.Code, "left", "wrongPart", "Came in the wrong size"));
        }

        return new(
            cast.Unit,
            "closed",
            Day(row.DoneOn),
            NameHours(sheet, codes),
            "Mara Quill",
            At(row.EnteredAt.AddDays(-4)),
            [.. items.OrderBy(x => x.Item, StringComparer.Ordinal)],
            [],
            card.Hands,
            card.Elapsed,
            card.OneAfterAnother - card.Elapsed,
            parts,
            fluids,
            Money(card.Hands / 60.0 * 58),
            DemoParts.Settings.CallOutCost.Value,
            0,
            null,
            kept,
            1,
            [.. answers.OrderBy(x => x.Code, StringComparer.Ordinal)],
            Chance.Of("quote", cast.Unit, row.DoneOn.DayNumber) < 0.2 ? Math.Round((parts + fluids + 140 + real) * 1.25 / 10) * 10 : null,
            row.By,
            At(start),
            row.ShownHours.Value,
            row.LifeHours.Value,
            row.By,
            At(row.EnteredAt),
            row.Batch,
            real,
            parts,
            fluids,
            Money(real / 60.0 * 58),
            Lab: lab,
            Downtime: Standing(card.Elapsed),
            RealLab: lab,
            RealDowntime: Standing(real)
        );
    }

    private static double? Lab(JobCard card) =>
        card.Steps.Count(x => x.Input == InputKind.Bottle) is > 0 and var bottles ? bottles * DemoParts.Settings.LabFee.Value : null;

    private static double Standing(double minutes) => Math.Round(minutes / 60 * DemoParts.Settings.DowntimePerHour.Value, 2);

    /// <summary>The card of some items on a machine, and as it is kept. The same items give the same card, so each is made once.</summary>
    private static (JobCard Card, JsonElement Kept) CardOf(DemoMachine cast, ServiceSheet sheet, List<string> codes) =>
        Cards.GetOrAdd($"{cast.Unit} {string.Join(' ', codes)}", _ =>
        {
            var card = CardMaking.Make(sheet, codes, [], StepHeat.Cold);
            return (
                card,
                Json(
                    CardMaking.Write(
                        CardMaking.Keep(
                            sheet,
                            card,
                            codes,
                            sheet.Facts.Items.ToDictionary(x => x.Code, x => x.Name, StringComparer.Ordinal)
                        )
                    )
                )
            );
        });

    private void Planned(DemoMachine cast, MachineLife life, ServiceSheet sheet)
    {
        var (codes, _) = Due(sheet, life);
        if (codes.Count == 0)
            return;
        var card = CardMaking.Make(sheet, codes, [], StepHeat.Cold);
        var costs = codes.Select(sheet.CostOf).ToList();
        _visits.Add(
            new(
                cast.Unit,
                "planned",
                Day(today.AddDays(1)),
                NameHours(sheet, codes),
                "Mara Quill",
                At(today.AddDays(-1), 15),
                [.. codes.Order(StringComparer.Ordinal).Select(x => new FleetVisitItem(x, "planned"))],
                [],
                card.Hands,
                card.Elapsed,
                card.OneAfterAnother - card.Elapsed,
                Math.Round(costs.Sum(x => x.Parts), 2),
                Math.Round(costs.Sum(x => x.Fluids), 2),
                Math.Round(card.Hands / 60.0 * 58, 2),
                DemoParts.Settings.CallOutCost.Value,
                0,
                "Between two tides: on the hard by noon.",
                Lab: Lab(card),
                Downtime: Standing(card.Elapsed)
            )
        );
    }

    /// <summary>A card that was begun yesterday: oil is out, the plug is not in, and a fuel filter did not fit.</summary>
    private void Open(DemoMachine cast, MachineLife life, ServiceSheet sheet, List<FleetFilterLog> log)
    {
        var (codes, hours) = Due(sheet, life);
        if (!codes.Contains("engine-oil") && sheet.ItemOf("engine-oil") is not null)
            codes.Add("engine-oil");
        if (!codes.Contains("fuel-secondary") && sheet.ItemOf("fuel-secondary") is not null)
            codes.Add("fuel-secondary");
        var card = CardMaking.Make(sheet, codes, [], StepHeat.Cold);
        var kept = CardMaking.Keep(sheet, card, codes, sheet.Facts.Items.ToDictionary(x => x.Code, x => x.Name, StringComparer.Ordinal));
        var start = Moment(today.AddDays(-1), 13.5);
        var drained = card.Steps.ToList().FindIndex(x => x.Code == "engine-oil.drain");
        var answers = Answers(cast, card, codes, start, "Wenna Pask", Math.Max(drained + 1, 8), cast.FinalHours).ToList();
        if (card.Steps.FirstOrDefault(x => x.Item == "fuel-secondary" && x.Input == InputKind.Filter) is { } filter)
        {
            var wrong = filter.Size with { LengthMm = Math.Round(filter.Size.LengthMm!.Value * 0.91, 1) };
            var answer = ((FilterAnswer)Answer(cast, filter, 0, cast.FinalHours)) with
            {
                Size = wrong,
                Note = "Another filter in the right box",
            };
            answers.RemoveAll(x => x.Code == filter.Code);
            answers.Add(new(filter.Code, "Tam Ollery", At(start.AddMinutes(95)), Json(JobContext.WriteAnswer(answer))));
            log.Add(
                new(
                    cast.Unit,
                    filter.Position,
                    filter.Words,
                    "refused",
                    filter.Part,
                    Day(today.AddDays(-1)),
                    hours,
                    "Tam Ollery",
                    At(start.AddMinutes(95)),
                    null,
                    cast.Make,
                    _visits.Count + 1,
                    null,
                    string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{wrong.LengthMm} / {filter.Size.LengthMm} mm")
                )
            );
        }

        _visits.Add(
            new(
                cast.Unit,
                "open",
                Day(today.AddDays(-1)),
                NameHours(sheet, codes),
                "Mara Quill",
                At(today.AddDays(-2), 15),
                [.. codes.Order(StringComparer.Ordinal).Select(x => new FleetVisitItem(x, "planned"))],
                [],
                card.Hands,
                card.Elapsed,
                card.OneAfterAnother - card.Elapsed,
                Math.Round(codes.Sum(x => sheet.CostOf(x).Parts), 2),
                Math.Round(codes.Sum(x => sheet.CostOf(x).Fluids), 2),
                Math.Round(card.Hands / 60.0 * 58, 2),
                DemoParts.Settings.CallOutCost.Value,
                0,
                null,
                Json(CardMaking.Write(kept)),
                1,
                [.. answers.OrderBy(x => x.Code, StringComparer.Ordinal)],
                null,
                "Wenna Pask",
                At(start),
                hours,
                hours,
                HeldBy: "Wenna Pask",
                HandedTo: "Tam Ollery",
                HandedWords: "Engine oil is out since half past two. The fuel filter in its box is another one."
            )
        );
    }

    /// <summary>What is due by now, daily care left out, at the hours last lived.</summary>
    private static (List<string> Codes, double Hours) Due(ServiceSheet sheet, MachineLife life)
    {
        var facts = sheet.Facts;
        var now = facts.Record.Readings[^1].At;
        var at = new MachineNow(UsePerDay.Estimate(facts.Record, now), now, facts.Zone);
        return (
            [.. facts.Items.Where(x => !x.IsDaily && at.Stand(facts.Due(x)).Status >= DueStatus.Due).Select(x => x.Code)],
            life.LifeHours(1).Value
        );
    }

    private static int NameHours(ServiceSheet sheet, List<string> codes) =>
        (int)(
            VisitName.HoursOf(codes.Select(x => (sheet.ItemOf(x)?.ForDue().Interval(sheet.Facts.Machine.Duty), sheet.CostOf(x).Minutes)))
            ?? 0
        );

    private static ServiceSheet SheetOf(DemoMachine cast, MachineLife life, ServiceProgram program)
    {
        var (low, high) = DemoParts.Weather(new DateOnly(2026, 1, 1));
        var machine = life.Entity();
        machine.Program = program;
        machine.Site = new Site
        {
            Name = cast.Site,
            TimeZone = DemoCast.Zone,
            LowC = low,
            HighC = high,
        };
        var facts = new MachineFacts(machine, life.Known(), new MeterOffsets([]), life.LastDone, new Dictionary<string, ItemOrder>(), 0);
        return new(
            facts,
            new(DemoParts.Settings, DemoParts.Fluids),
            DemoParts.Positions(cast),
            Array.Empty<(int, string)>().ToLookup(x => x.Item1, x => x.Item2),
            new Dictionary<string, double> { ["engine"] = WalkLife.EngineMarks(cast) },
            new Dictionary<string, double> { ["engine"] = 1 },
            PastChanges.None,
            new Dictionary<string, (double? Low, double? High, double? Last)>(),
            LearntMinutes.None,
            Enum.Parse<SagMethod>(KindFolders.Find(cast.Kind)!.Facts["sag"])
        );
    }

    private List<FleetStep> Answers(
        DemoMachine cast,
        JobCard card,
        List<string> codes,
        DateTimeOffset start,
        string by,
        int count,
        double hours,
        double pace = 1
    )
    {
        // A step is answered when hands are off it.
        var times = card.Order.Zip(card.Steps).ToDictionary(x => x.First.Code, x => (x.First.Start + x.Second.Minutes) * pace);
        var answers = new Dictionary<string, StepAnswer>(StringComparer.Ordinal);
        foreach (var step in card.Steps.Take(count))
            answers[step.Code] = Answer(cast, step, codes.Count, hours);
        var state = new JobState(card.Steps, answers, new Dictionary<string, DateTimeOffset>(), ImmutableHashSet<string>.Empty);
        foreach (var step in card.Steps.Take(count).Where(x => x.Input == InputKind.Touched))
            answers[step.Code] = new TouchedAnswer(state.TouchedBefore(step)) { Ticked = step.Parts };
        return
        [
            .. answers.Select(x => new FleetStep(x.Key, by, At(start.AddMinutes(times[x.Key])), Json(JobContext.WriteAnswer(x.Value)))),
        ];
    }

    // Where a level stands when it is found, as a share of its marks.
    private const double FoundAt = 0.75;
    private const double BeforeRun = 0.95;

    private StepAnswer Answer(DemoMachine cast, JobStep step, int salt, double hours)
    {
        var share = Chance.Between(0.965, 1.02, step.Code, cast.Unit, salt);
        StepAnswer answer = step.Input switch
        {
            InputKind.Tick => new TickAnswer(true),
            InputKind.Look => new LookAnswer(true),
            InputKind.Level => new LevelStepAnswer(
                step.BeforeRun ? BeforeRun
                    : step.Litres is null ? FoundAt
                    : 1,
                FluidLook.Dark,
                step.Litres is > 0 ? Math.Round(step.Litres.Value, 1) : null
            ),
            InputKind.Drained => new DrainedAnswer(
                Math.Round(((step.Litres ?? 10) - (double)(step.Change?.BetweenMarks ?? 0) * (1 - FoundAt)) * share, 1),
                FluidLook.Dark
            ),
            InputKind.Fill => new FillAnswer(Math.Round(step.Litres ?? 10, 1)),
            InputKind.Magnet => new MagnetAnswer(MetalFinding.FinePaste),
            InputKind.Plug => new PlugAnswer(step.Points, true, true),
            InputKind.Filter => new FilterAnswer
            {
                Part = step.Part,
                Make = cast.Make,
                Size = step.Size,
                SealOff = true,
                SeatWiped = true,
                SealOiled = true,
                Turned = true,
                Written = true,
                Metal = MetalFinding.Clean,
            },
            InputKind.Pressure => new PressureAnswer(Math.Round(Chance.Between(2, 5, step.Code, cast.Unit, salt))),
            InputKind.Count => new CountAnswer(step.Points),
            InputKind.BeforeAfter => new BeforeAfterAnswer(38, 35) { Note = "mm" },
            InputKind.Volts => new VoltsAnswer([.. Enumerable.Repeat(12.7, Math.Max(1, step.Points))]),
            InputKind.Coolant => new CoolantAnswer(50),
            InputKind.Water => new WaterAnswer(DrainAmount.None),
            InputKind.Bottle => new BottleAnswer(BottleCode.Of(_bottle++)),
            InputKind.Touched => new TouchedAnswer([]),
            InputKind.Waste => new WasteAnswer(WastePlace),
            InputKind.Measured => new MeasuredAnswer([.. step.Figures.Select(x => (double?)Figure(cast, x, hours))]),
        };
        return answer with { Name = step.Qualified ? "Gil Rennard" : null, Ticked = step.Parts.IsEmpty ? null : step.Parts };
    }

    /// <summary>A figure of a card; what walks measure too wears as they find it.</summary>
    private static double Figure(DemoMachine cast, AskedFigure asked, double hours) =>
        asked.Unit switch
        {
            "Nm" => 450,
            "bar" => Math.Round(3.6 + Chance.Between(-0.1, 0.1, asked.Code, cast.Unit, (int)hours), 1),
            "mm" when asked.Code == "edge-height" => WalkLife.EdgeHeight(cast, hours),
            "mm" when asked.Code.StartsWith("lash", StringComparison.Ordinal) => 0.4,
            "mm" => Math.Round(180 - hours / 100 % 40, 1),
            _ => 0,
        };

    /// <summary>What closing writes: waste, fluids on board, samples.</summary>
    private void Record(DemoMachine cast, JobCard card, List<FleetStep> answers, CompletionRow row, long number)
    {
        var byCode = answers.ToDictionary(x => x.Code, x => JobContext.ReadAnswer(x.Answer.GetRawText()), StringComparer.Ordinal);
        foreach (var stream in card.Steps.Where(x => x.Input == InputKind.Drained).GroupBy(x => x.Stream.Length > 0 ? x.Stream : "oil"))
        {
            _waste.Add(
                new(
                    Day(row.DoneOn),
                    stream.Key,
                    Math.Round(stream.Sum(x => (byCode[x.Code] as ILitresAnswer)?.Litres ?? 0), 1),
                    WastePlace,
                    row.By,
                    At(row.EnteredAt),
                    cast.Unit,
                    number,
                    row.Batch
                )
            );
        }

        if (card.Steps.Count(x => x.Input == InputKind.Filter) is > 0 and var filters)
            _waste.Add(new(Day(row.DoneOn), "filters", filters, WastePlace, row.By, At(row.EnteredAt), cast.Unit, number, row.Batch));
        foreach (
            var fill in card.Steps.Where(x =>
                x.Input == InputKind.Fill && x.Fluid.Length > 0 && x.Code.EndsWith(".fill", StringComparison.Ordinal)
            )
        )
        {
            _onBoard.Add(
                new(
                    cast.Unit,
                    fill.Compartment,
                    fill.Fluid,
                    (byCode[fill.Code] as FillAnswer)?.Litres ?? 0,
                    Day(row.DoneOn),
                    row.LifeHours.Value,
                    row.Batch,
                    number
                )
            );
        }

        foreach (var step in card.Steps.Where(x => x.Input == InputKind.Bottle))
        {
            var taken = answers.First(x => x.Code == step.Code);
            _bottles[(cast.Unit, step.Item, row.Batch)] = (((BottleAnswer)byCode[step.Code]).Bottle!, number, taken.At);
        }
    }

    private static JsonElement Json(string text) => JsonSerializer.Deserialize<JsonElement>(text);

    private static string Day(DateOnly day) => Formats.Iso.Day(day);

    private static string At(DateTimeOffset at) => Formats.Iso.Instant(at.AddMilliseconds(-at.Millisecond));

    private static string At(DateOnly day, double hour) => At(Moment(day, hour));

    private static DateTimeOffset Moment(DateOnly day, double hour) =>
        new DateTimeOffset(day.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero).AddHours(hour);
}
