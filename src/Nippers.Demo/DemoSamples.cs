using System.Text.Json;
using Nippers.App.Exchange;
using Nippers.App.Oil;
using Nippers.Core.Hours;
using Nippers.Core.Oil;
using Nippers.Core.Service;
using Nippers.Data.Oil;
using Nippers.Data.Programs;
using Nippers.Data.Records;
using Nippers.Formats.Fleet;
using Nippers.Formats.Lab;
using Nippers.StandIns;

namespace Nippers.Demo;

/// <summary>The scenario's samples: fourteen months of bottles, what the laboratory found, who signed what, and what it did.</summary>
/// <param name="today">The date the scenario ends on.</param>
/// <param name="cards">Bottles that were filled on cards.</param>
internal sealed class DemoSamples(
    DateOnly today,
    IReadOnlyDictionary<(string Unit, string Item, string Batch), (string Mark, long Visit, string Taken)> cards
)
{
    /// <summary>The machine whose hydraulic oil earned a longer interval.</summary>
    public const string EarnedUnit = "EX-01";

    /// <summary>That interval, tenths of an hour.</summary>
    public static readonly MeterHours EarnedHours = new(25_000);

    /// <summary>The machine whose earned interval was lost again.</summary>
    private const string LostUnit = "DZ-02";

    /// <summary>The laboratory that the stand-in plays.</summary>
    public const string LabName = "Sannet Oil Laboratory";

    private const string OtherLab = "Greyling Test House";
    private const int Seed = 7;
    private static readonly MeterHours BaseHours = new(20_000);
    private const int LateDays = 23;

    // Days on the tray, until the results are back, and until they are signed.
    private const double StillAhead = 20;
    private const int TrayDays = 2;
    private const int SentDays = 8;
    private const int ReportedDays = 11;
    private static readonly string[] Signers = ["Tam Ollery", "Wenna Pask"];

    private readonly List<FleetSample> _samples = [];
    private readonly List<FleetCall> _calls = [];
    private readonly List<FleetDrainChange> _drains = [];
    private readonly List<FleetCoolantTest> _coolant = [];
    private readonly SortedDictionary<int, int> _weeks = [];
    private int _bottle;
    private bool _late;

    private sealed record Drawn(
        CompletionRow Row,
        ProgramItem Item,
        OilKind Kind,
        string Compartment,
        string Mark,
        long? Visit,
        string Taken,
        MeterHours? OilHours,
        double Added,
        double? Sump,
        string Fluid,
        string Grade,
        double Interval
    );

    /// <summary>All records in the order of the fleet file.</summary>
    public IEnumerable<FleetRecord> Records(IReadOnlyList<MachineLife> machines)
    {
        foreach (var life in machines)
        {
            foreach (var batch in life.Batches.Where(x => x[0].Kind == CompletionKind.Work))
                _weeks.TryAdd(Week(batch[0].DoneOn), 0);
        }

        foreach (var week in _weeks.Keys.ToList())
            _weeks[week] = _weeks.Keys.Count(x => x <= week);
        foreach (var life in machines)
        {
            OfMachine(life.Cast, life, life.Program);
            Coolant(life.Cast, life, life.Program);
        }

        yield return new FleetLab(OtherLab, false, 0);
        yield return new FleetLab(LabName, true, 0);
        foreach (var fluid in DemoParts.Fluids.Select(x => x.Name).Order(StringComparer.Ordinal))
        {
            if (NewOf(fluid) is { } oil)
                yield return oil;
        }

        yield return new FleetOilLimit("hydraulic", "iso", Unit: "EX-02", Compartment: "hydraulic", Target: "18/16/14");
        foreach (var week in _weeks.Keys)
        {
            var sent = Sent(week);
            yield return new FleetConsignment(
                LabName,
                At(sent),
                "Wenna Pask",
                today.DayNumber - DateOnly.FromDateTime(Date(sent)).DayNumber > LateDays + 25 ? "answered" : "handedOver",
                1,
                At(sent.AddMinutes(1))
            );
        }

        foreach (var sample in _samples)
            yield return sample;
        foreach (var unit in new[] { "EX-01", "WL-03" })
        {
            yield return new FleetBottle(
                BottleCode.Of(_bottle++),
                unit,
                "engine",
                "engine-oil-sample",
                At(Moment(today.AddDays(-1), 15)),
                "Wenna Pask"
            );
        }

        foreach (var call in _calls.OrderBy(x => x.Unit, StringComparer.Ordinal).ThenBy(x => x.At, StringComparer.Ordinal))
            yield return call;
        foreach (var drain in _drains)
            yield return drain;
        foreach (var test in _coolant)
            yield return test;
        yield return new FleetLooseResult(
            "44-0187",
            "bottleUnknown",
            At(Moment(today.AddDays(-3), 11)),
            Json(JsonSerializer.Serialize(new LabResult("44-0187", new Dictionary<string, string> { ["Fe"] = "31", ["Si"] = "12" }))),
            "demo-44-0187",
            LabName
        );
    }

    private void OfMachine(DemoMachine cast, MachineLife life, ServiceProgram program)
    {
        var machine = life.Entity();
        var places = OilCatalog.Places(machine, program).ToDictionary(x => x.Item.Code, StringComparer.Ordinal);
        var earlier = places.Values.ToDictionary(
            x => x.Compartment.Code,
            _ => new List<(FleetSample Sample, EarlierSample Value, Assessment Assessment, DateTimeOffset SignedAt, int Number)>(),
            StringComparer.Ordinal
        );
        var rows = life
            .Batches.OrderBy(x => x[0].EnteredAt)
            .SelectMany(x =>
                x.Where(y => y.Kind == CompletionKind.Work && places.ContainsKey(y.ItemCode))
                    .OrderBy(y => y.ItemCode, StringComparer.Ordinal)
            );
        var all = rows.Select(x => Draw(cast, life, program, places[x.ItemCode], x)).OrderBy(x => x.Taken, StringComparer.Ordinal).ToList();
        foreach (var drawn in all)
        {
            var past = earlier[drawn.Compartment];
            var newest = all.FindLast(x => x.Compartment == drawn.Compartment && Back(x.Row) > SentDays) == drawn;
            var (sample, value, verdict, signed) = Make(cast, drawn, newest, [.. past.Select(x => x.Value)]);
            _samples.Add(sample);
            past.Add((sample, value, verdict, signed, _samples.Count));
        }

        foreach (var (compartment, past) in earlier.Where(x => x.Value.Count > 0))
        {
            var (sample, _, verdict, signed, number) = past[^1];
            if (sample.State == "judged" && verdict == Assessment.Watch && sample.DrawnWrong is null)
            {
                // A sample that was asked for early is still ahead, or its machine is overdue by the story anyway.
                var early = Math.Round(sample.LifeHours + places[sample.Item].IntervalHours(cast.Duty) / 2, 1);
                if (early >= cast.FinalHours + StillAhead || cast.Ends == DueStatus.Overdue)
                    _calls.Add(
                        new(
                            cast.Unit,
                            sample.Item,
                            "resample",
                            At(signed),
                            Formats.Iso.Day(DateOnly.FromDateTime(Date(signed))),
                            early,
                            number
                        )
                    );
            }

            if (compartment == "hydraulic" && cast.Unit is EarnedUnit or LostUnit)
                Drain(cast, [.. past.Where(x => x.Sample.State == "judged")]);
        }
    }

    /// <summary>One interval was earned; the other was earned and lost when dirt came in.</summary>
    private void Drain(
        DemoMachine cast,
        List<(FleetSample Sample, EarlierSample Value, Assessment Assessment, DateTimeOffset SignedAt, int Number)> judged
    )
    {
        void Change(int at, MeterHours from, MeterHours to, string reason) =>
            _drains.Add(
                new(
                    cast.Unit,
                    "hydraulic",
                    Formats.Iso.Day(DateOnly.FromDateTime(Date(judged[at].SignedAt))),
                    judged[at].Sample.LifeHours,
                    from.Value,
                    to.Value,
                    reason,
                    judged[at].Sample.SignedBy ?? Signers[0],
                    At(judged[at].SignedAt),
                    judged[at].Number
                )
            );
        if (judged.Count < DrainAdvice.Needed)
            return;
        Change(DrainAdvice.Needed - 1, BaseHours, EarnedHours, "earned");
        var bad = judged.FindIndex(DrainAdvice.Needed, x => x.Assessment >= Assessment.Act);
        if (cast.Unit == LostUnit && bad > 0)
            Change(bad, EarnedHours, BaseHours, "badSample");
    }

    private Drawn Draw(DemoMachine cast, MachineLife life, ServiceProgram program, SampledPlace place, CompletionRow row)
    {
        var compartment = place.Compartment.Code;
        var fluidItem = program.Items.FirstOrDefault(x => x.Compartment == compartment && x.ChangesFluid)?.Code;
        var changed = life
            .Batches.SelectMany(x => x)
            .Where(x => x.ItemCode == fluidItem && x.Batch != row.Batch && x.LifeHours <= row.LifeHours)
            .Select(x => (MeterHours?)x.LifeHours)
            .Max();
        var fluid = place.Own?.Fluid ?? "";
        var (mark, visit, taken) = cards.TryGetValue((cast.Unit, row.ItemCode, row.Batch), out var card)
            ? (card.Mark, (long?)card.Visit, card.Taken)
            : (BottleCode.Of(_bottle++), null, At(row.EnteredAt.AddHours(-2)));
        return new(
            row,
            place.Item,
            place.Kind,
            compartment,
            mark,
            visit,
            taken,
            changed is { } at ? row.LifeHours - at : null,
            life.Walking.Added(compartment, changed ?? MeterHours.Zero, row.LifeHours),
            place.Own?.CapacityLitres?.Value,
            fluid,
            ViscosityGrade.Guess(fluid, place.Kind) ?? "",
            place.IntervalHours(cast.Duty)
        );
    }

    private (FleetSample Sample, EarlierSample Value, Assessment Assessment, DateTimeOffset SignedAt) Make(
        DemoMachine cast,
        Drawn drawn,
        bool newest,
        List<EarlierSample> earlier
    )
    {
        var row = drawn.Row;
        var back = Back(row);
        var (fault, strength) = Fault(cast.Unit, drawn.Compartment, back, (int)row.LifeHours.Value);
        var line = new LabOrderLine(
            drawn.Mark,
            cast.Unit,
            drawn.Compartment,
            drawn.Kind.ToString().ToLowerInvariant(),
            Formats.Iso.Day(row.DoneOn),
            row.LifeHours.Value,
            drawn.OilHours?.Value,
            drawn.Added,
            drawn.Sump,
            drawn.Fluid,
            drawn.Grade
        );
        var result = WearModel.Report(line, fault, strength, Seed);
        var figures = OilCase.WriteFigures(result.Figures);
        var (results, below) = OilCase.Numbers(figures);
        var grade = ViscosityGrade.Of(drawn.Grade);
        var oil = new OilCase(
            new()
            {
                Kind = drawn.Kind,
                Grade = grade,
                SumpLitres = drawn.Sump,
                IntervalHours = drawn.Interval,
                MachineHours = row.LifeHours.Value,
                OilHours = drawn.OilHours?.Value,
                AddedLitres = drawn.Added,
                Results = results.With(Measurand.Viscosity, results[grade.Measured]),
                Below = below,
                Iso = Iso4406Code.Parse(result.Iso),
                New = WearModel.New(drawn.Kind, drawn.Grade),
            },
            LimitSet.Starting(drawn.Kind),
            [.. earlier.TakeLast(6)]
        );
        var judgement = oil.Judge();
        var mixed = fault == OilFault.Mixed;
        var harmless = fault == OilFault.Cooler && judgement.Assessment is Assessment.Watch or Assessment.Act;
        var state = StateOf(back, fault, newest && cast.Unit != LostUnit);
        var (sent, reported) = (
            Sent(Week(row.DoneOn)),
            Sent(Week(row.DoneOn)).AddMilliseconds((long)(Chance.Between(1.5, 2.5, "lab", drawn.Mark, 0) * 86_400_000))
        );
        var signedAt = reported.AddMilliseconds((long)(Chance.Between(0.1, 0.8, "sign", drawn.Mark, 0) * 86_400_000));
        var signed =
            harmless ? Assessment.Normal
            : mixed ? Assessment.Watch
            : judgement.Assessment;
        var words =
            harmless ? "New oil cooler. Copper alone, and it fades."
            : mixed ? "Bottles of engine and hydraulic oil were swapped. Drawn again."
            : "";
        var sample = new FleetSample(
            cast.Unit,
            drawn.Compartment,
            drawn.Item.Code,
            drawn.Mark,
            Formats.Iso.Day(row.DoneOn),
            drawn.Taken,
            row.LifeHours.Value,
            drawn.Added,
            row.By,
            row.Batch,
            FleetMapping.Word(drawn.Kind),
            FleetMapping.Word(state),
            drawn.OilHours?.Value,
            drawn.Fluid,
            drawn.Grade,
            drawn.Grade,
            drawn.Compartment is "engine" or "hydraulic" or "transmission" ? "livePort" : "tube",
            drawn.Compartment is "engine" or "hydraulic" or "transmission" ? "running" : "warm",
            mixed && state == SampleState.Judged ? true : null,
            null,
            null,
            drawn.Visit
        );
        if (state == SampleState.Taken)
            return (sample, new(0, Measures.None), Assessment.Normal, default);
        sample = sample with { Lab = LabName, Consignment = _weeks[Week(row.DoneOn)], Sent = At(sent) };
        if (state == SampleState.Sent)
            return (sample, new(0, Measures.None), Assessment.Normal, default);
        sample = sample with
        {
            Reported = At(reported),
            Advised = FleetMapping.Word(judgement.Assessment),
            Reports =
            [
                new(
                    At(reported),
                    "online",
                    Json(figures),
                    LabOutbox.Name,
                    LabName,
                    result.LabNumber,
                    result.Iso.Length > 0 ? result.Iso : null,
                    result.Comment
                ),
            ],
            Case = Json(oil.Write()),
        };
        if (state == SampleState.Judged)
        {
            sample = sample with
            {
                Verdict = FleetMapping.Word(signed),
                SignedBy = Chance.Pick(Signers, "signer", drawn.Mark, 0),
                SignedAt = At(signedAt),
                SignedWords = words.Length > 0 ? words : null,
            };
        }

        return (sample, mixed ? new(0, Measures.None) : new(row.LifeHours.Value, judgement.Values), signed, signedAt);
    }

    private int Back(CompletionRow row) => today.DayNumber - row.DoneOn.DayNumber;

    /// <summary>
    /// Where a bottle is so many days after it was filled; one of the older ones never came back, and the newest of each fault
    /// waits for a signature.
    /// </summary>
    private SampleState StateOf(int back, OilFault fault, bool newest)
    {
        if (back <= TrayDays)
            return SampleState.Taken;
        if (back <= SentDays)
            return SampleState.Sent;
        if (back <= ReportedDays || newest && fault is OilFault.SaltWater or OilFault.Fuel or OilFault.Dirt)
            return SampleState.Reported;
        if (_late || back is < LateDays or >= LateDays + 21 || fault != OilFault.None)
            return SampleState.Judged;
        _late = true;
        return SampleState.Sent;
    }

    /// <summary>What is wrong in an oil, and how far it has gone.</summary>
    private static (OilFault Fault, double Strength) Fault(string unit, string compartment, int back, int hours) =>
        (unit, compartment) switch
        {
            ("EX-02", "final-drive-left") when hours > 5800 => (OilFault.SaltWater, hours > 6300 ? 1.45 : 0.5),
            ("DZ-01", "engine") when hours > 3250 => (OilFault.Dirt, 1.3),
            ("WL-02", "engine") when hours > 7400 => (OilFault.Fuel, 1.25),
            ("WL-03", "hydraulic") when back < 330 => (
                OilFault.Cooler,
                back switch
                {
                    > 250 => 1.0,
                    > 170 => 0.75,
                    > 90 => 0.45,
                    _ => 0.2,
                }
            ),
            ("EX-04", "engine") when hours is > 4100 and < 4400 => (OilFault.Mixed, 1),
            (LostUnit, "hydraulic") when back is > 20 and < 150 => (OilFault.Dirt, back > 80 ? 1.25 : 0.3),
            (LostUnit, "engine") when back < 300 => (OilFault.Bearing, 0.62 * (1 - back / 300.0)),
            ("BL-01", "engine") when back < 60 => (OilFault.Thick, 0.75),
            _ => (OilFault.None, 0),
        };

    private void Coolant(DemoMachine cast, MachineLife life, ServiceProgram program)
    {
        if (!program.Items.Exists(x => x.Code == "coolant-test"))
            return;
        foreach (
            var row in life
                .Batches.SelectMany(x => x)
                .Where(x => x.ItemCode == "coolant-test" && x.Kind == CompletionKind.Work)
                .OrderBy(x => x.EnteredAt)
        )
        {
            var salty = cast.Unit == "EX-02";
            var share = Math.Round(
                salty
                    ? Chance.Between(36, 38.5, "share", cast.Unit, row.DoneOn.DayNumber)
                    : Chance.Between(47, 53, "share", cast.Unit, row.DoneOn.DayNumber)
            );
            _coolant.Add(
                new(
                    cast.Unit,
                    Formats.Iso.Day(row.DoneOn),
                    row.LifeHours.Value,
                    false,
                    50,
                    100,
                    row.By,
                    At(row.EnteredAt),
                    share,
                    null,
                    Math.Round(Chance.Between(8.1, 9.2, "ph", cast.Unit, row.DoneOn.DayNumber), 1),
                    salty ? "low" : "good",
                    salty ? 55 : null,
                    Batch: row.Batch
                )
            );
        }
    }

    private static FleetNewOil? NewOf(string fluid)
    {
        OilKind? kind = fluid switch
        {
            "10W-30" or "15W-40" => OilKind.Engine,
            "HV 32" or "HV 46" => OilKind.Hydraulic,
            "80W-90" => OilKind.Gear,
            "SAE 10W" or "SAE 30" => OilKind.Transmission,
            _ => null,
        };
        if (kind is not { } known)
            return null;
        var grade = ViscosityGrade.Guess(fluid, known)!;
        var oil = WearModel.New(known, grade);
        return new(
            fluid,
            "dataSheet",
            "Mara Quill",
            "2025-06-02T09:00:00Z",
            grade,
            null,
            oil.Viscosity,
            oil.Tbn,
            oil.Tan,
            oil.Oxidation,
            Json(OilCase.WriteValues(oil.Additives!))
        );
    }

    /// <summary>Boxes go on Mondays.</summary>
    private static int Week(DateOnly day) => (day.DayNumber + 6) / 7;

    private DateTimeOffset Sent(int week) => Moment(Earlier(DateOnly.FromDayNumber(week * 7), today.AddDays(-1)), 14);

    private static DateOnly Earlier(DateOnly one, DateOnly other) => one < other ? one : other;

    private static DateTime Date(DateTimeOffset at) => at.UtcDateTime;

    private static JsonElement Json(string text) => JsonSerializer.Deserialize<JsonElement>(text);

    private static string At(DateTimeOffset at) => Formats.Iso.Instant(at.AddMilliseconds(-at.Millisecond));

    private static DateTimeOffset Moment(DateOnly day, double hour) =>
        new DateTimeOffset(day.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero).AddHours(hour);
}
