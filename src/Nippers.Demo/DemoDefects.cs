using NetVips;
using Nippers.App.Defects;
using Nippers.App.Exchange;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Data.Defects;
using Nippers.Formats.Fleet;

namespace Nippers.Demo;

/// <summary>The scenario's defects: every situation that the clocks know.</summary>
/// <param name="today">The date the scenario ends on.</param>
/// <param name="walkOf">Number of a unit's walk some days back; null when there was none.</param>
internal sealed class DemoDefects(DateOnly today, IReadOnlyDictionary<string, Func<int, MeterHours>> life, Func<string, int, long?> walkOf)
{
    /// <summary>What walks found: unit, days back, check and what it made of the machine.</summary>
    public static IReadOnlyList<(string Unit, int Back, string Check, RunStatus RunStatus)> Found { get; } =
    [
        ("DZ-01", 1, "brake-service", RunStatus.OutOfService),
        ("DZ-02", 6, "engine-leaks", RunStatus.NoStopFound),
        ("EX-01", 3, "engine-hoses", RunStatus.NoStopFound),
        ("EX-02", 9, "final-left", RunStatus.NoStopFound),
        ("EX-05", 2, "coupler", RunStatus.OutOfService),
        ("TL-02", 5, "rubber-right", RunStatus.NoStopFound),
        ("WL-02", 30, "tyres-left", RunStatus.RunUntil),
    ];

    private const string Tam = "Tam Ollery";
    private const string Wenna = "Wenna Pask";
    private const string Mara = "Mara Quill";
    private const string Ines = "Ines Varrow";
    private const string Col = "Col Hartwick";
    private const string Bea = "Bea Lund";

    private static readonly Lazy<EncodedPhoto> Drawn = new(Draw);

    private readonly List<FleetDefect> _records = [];

    /// <summary>All of them, in the order of the fleet file.</summary>
    public IReadOnlyList<FleetDefect> Records()
    {
        // The fleet file wants them unit by unit, each unit's oldest first.
        Closed(
            "BL-01",
            "hydraulic:work-hoses",
            "Hoses on boom and arms: chafed to the wire, wet, bulged",
            "Backhoe hose chafed at the swing post",
            DefectGrade.Limit,
            51,
            Col,
            Tam,
            "Sleeve on, hose turned",
            40,
            "Sleeve 25 mm"
        );
        Closed(
            "BL-01",
            "structure:doors-rear",
            "Doors, hood and guards shut, latched, bolts there",
            "Hood latch hangs",
            DefectGrade.NextService,
            34,
            Bea,
            Wenna,
            "New latch",
            15,
            "Latch"
        );
        Stop(
            "DZ-01",
            "structure:brake-service",
            "Service brake holds",
            "brake-service",
            "Left brake drags and smells hot",
            SafetyPart.Brakes,
            1,
            Col,
            photo: true
        );
        Open(
            "DZ-02",
            "engine:engine-leaks",
            "Engine bay: oil, fuel, coolant where it was dry",
            "engine-leaks",
            "Weeps at the valve cover, oil every other day",
            DefectGrade.NextService,
            6,
            Bea
        );
        Open(
            "DZ-03",
            "winch:rope",
            "Winch: rope",
            "",
            "Two broken wires in the outer layer, near the hook",
            DefectGrade.Limit,
            3,
            Wenna,
            hours: 40,
            days: 10
        );
        Fixed(
            "EX-01",
            "engine:engine-hoses",
            "Coolant and intake hoses soft, swollen, clamps loose",
            "engine-hoses",
            "Intake clamp loose",
            "Clamp tightened",
            3,
            Ines
        );
        Open(
            "EX-02",
            "work:boom-foot",
            "Boom, arm and bucket: boom foot",
            "",
            "Hairline in the paint at the boom foot, dye check found no crack",
            DefectGrade.Watch,
            40,
            Tam
        );
        Open(
            "EX-02",
            "tracks:final-left",
            "Left final drive wet or packed with clay",
            "final-left",
            "Salt crust at the left final drive's seal",
            DefectGrade.NextService,
            9,
            Ines
        );
        var first = Closed(
            "EX-03",
            "hydraulic:swivel-hose",
            "Hydraulic system: swivel hose",
            "Swivel hose weeps at its crimp",
            DefectGrade.Limit,
            35,
            Bea,
            Tam,
            "Fitting tightened",
            20,
            ""
        );
        var second = Closed(
            "EX-03",
            "hydraulic:swivel-hose",
            "Hydraulic system: swivel hose",
            "Swivel hose weeps again",
            DefectGrade.Limit,
            21,
            Bea,
            Wenna,
            "New O-ring",
            35,
            "O-ring",
            repeatOf: first
        );
        Open(
            "EX-03",
            "hydraulic:swivel-hose",
            "Hydraulic system: swivel hose",
            "",
            "Swivel hose weeps at the same crimp, third time",
            DefectGrade.Limit,
            2,
            Bea,
            hours: 30,
            days: 7,
            repeatOf: second
        );
        Open(
            "EX-04",
            "fuel:fuel-bowl",
            "Water separator bowl",
            "fuel-bowl",
            "Water in the bowl again, tank cap seal hard",
            DefectGrade.NextService,
            4,
            Ines
        );
        Repaired(
            "EX-05",
            "attachment:coupler",
            "Coupler: lock home, safety pin in, play",
            "Safety pin of the coupler missing",
            SafetyPart.Coupler,
            2,
            Col,
            Tam,
            "New pin and clip fitted, lock tested three times"
        );
        Open(
            "TL-02",
            "tracks:rubber-right",
            "Right track: cuts, missing lugs, cords showing",
            "rubber-right",
            "Cut in the right track, no cord showing",
            DefectGrade.Watch,
            5,
            Wenna
        );
        Closed(
            "WL-01",
            "cab:glass",
            "Glass, mirrors and cameras clean and whole",
            "Right mirror broken",
            DefectGrade.NextService,
            60,
            Ines,
            Tam,
            "New mirror",
            10,
            "Mirror"
        );
        Deferred(
            "WL-02",
            "wheels:tyres-left",
            "Left tyres inside and out: cuts, cords, stones",
            "Sidewall cut, front left, cord not showing",
            30,
            Bea
        );
        return _records;
    }

    private MeterHours Life(string unit, int back) => life[unit](back);

    private DefectRow New(
        string unit,
        string place,
        string name,
        string check,
        string words,
        DefectGrade grade,
        int back,
        string by,
        SafetyPart safety = SafetyPart.None
    )
    {
        var at = At(back, 6.9);
        return new()
        {
            Place = place,
            PlaceName = name,
            Words = words,
            Grade = grade,
            FoundGrade = grade,
            Safety = safety,
            Part = safety != SafetyPart.None ? MachineParts.Of(safety) : MachineParts.Proposed(words).FirstOrDefault(),
            By = by,
            At = at,
            On = today.AddDays(-back),
            LifeHours = Life(unit, back),
            ClockFrom = at,
            CheckCode = check,
            ToldWhom = grade == DefectGrade.Stop ? Mara : null,
            ToldBy = grade == DefectGrade.Stop ? by : null,
            ToldAt = grade == DefectGrade.Stop ? at.AddMinutes(4) : null,
            Version = 1,
        };
    }

    private void Open(
        string unit,
        string place,
        string name,
        string check,
        string words,
        DefectGrade grade,
        int back,
        string by,
        int? hours = null,
        int? days = null,
        long? repeatOf = null
    )
    {
        var row = New(unit, place, name, check, words, grade, back, by);
        row.LimitHours = hours is { } h ? row.LifeHours + MeterHours.Of(h) : null;
        row.LimitOn = days is { } d ? row.On.AddDays(d) : null;
        Add(unit, row, [Event(row, DefectAct.Found, by, words, row.At, to: grade)], repeatOf: repeatOf);
    }

    private long Closed(
        string unit,
        string place,
        string name,
        string words,
        DefectGrade grade,
        int back,
        string by,
        string repairer,
        string done,
        int minutes,
        string parts,
        long? repeatOf = null
    )
    {
        var row = New(unit, place, name, "", words, grade, back, by);
        if (grade == DefectGrade.Limit)
            (row.LimitHours, row.LimitOn) = (row.LifeHours + new MeterHours(500), row.On.AddDays(14));
        Repair(unit, row, back - 4, repairer, done, minutes, parts);
        row.State = DefectState.Closed;
        Add(
            unit,
            row,
            [
                Event(row, DefectAct.Found, by, words, row.At, to: grade),
                Event(row, DefectAct.Repaired, repairer, done, row.RepairedAt!.Value),
            ],
            repeatOf: repeatOf
        );
        return _records.Count;
    }

    private void Fixed(string unit, string place, string name, string check, string words, string done, int back, string by)
    {
        var row = New(unit, place, name, check, words, DefectGrade.NextService, back, by);
        Repair(unit, row, back, by, done, 5, "");
        row.State = DefectState.Closed;
        row.LookAgainHours = row.LifeHours + new MeterHours(50);
        Add(unit, row, [Event(row, DefectAct.Found, by, words, row.At, to: row.Grade), Event(row, DefectAct.Repaired, by, done, row.At)]);
    }

    private void Stop(
        string unit,
        string place,
        string name,
        string check,
        string words,
        SafetyPart safety,
        int back,
        string by,
        bool photo
    )
    {
        var row = New(unit, place, name, check, words, DefectGrade.Stop, back, by, safety);
        Add(
            unit,
            row,
            [Event(row, DefectAct.Found, by, words, row.At, to: DefectGrade.Stop)],
            [new() { From = row.At }],
            photo ? [Picture(row)] : []
        );
    }

    private void Repaired(
        string unit,
        string place,
        string name,
        string words,
        SafetyPart safety,
        int back,
        string by,
        string repairer,
        string done
    )
    {
        var row = New(unit, place, name, "coupler", words, DefectGrade.Stop, back, by, safety);
        Repair(unit, row, 1, repairer, done, 30, "Pin and clip");
        row.State = DefectState.Repaired;
        Add(
            unit,
            row,
            [
                Event(row, DefectAct.Found, by, words, row.At, to: DefectGrade.Stop),
                Event(row, DefectAct.Repaired, repairer, done, row.RepairedAt!.Value),
            ],
            [new() { From = row.At }],
            [Picture(row)]
        );
    }

    private void Deferred(string unit, string place, string name, string words, int back, string by)
    {
        var row = New(unit, place, name, "tyres-left", words, DefectGrade.Limit, back, by);
        (row.LimitHours, row.LimitOn) = (row.LifeHours + new MeterHours(500), row.On.AddDays(14));
        var found = Event(row, DefectAct.Found, by, words, row.At, to: DefectGrade.Limit);
        row.ClockFrom = At(back - 12, 9);
        (row.LimitHours, row.LimitOn) = (Life(unit, 0) + new MeterHours(300), today.AddDays(6));
        Add(
            unit,
            row,
            [
                found,
                Event(
                    row,
                    DefectAct.Deferred,
                    Mara,
                    "Tyre ordered, comes on the next barge. Looked at with Tam: cord not showing.",
                    row.ClockFrom
                ),
            ]
        );
    }

    private void Repair(string unit, DefectRow row, int back, string by, string words, int minutes, string parts)
    {
        row.RepairedBy = by;
        row.RepairedAt = At(back, 15);
        row.RepairedHours = MeterHours.Most(row.LifeHours, Life(unit, back));
        row.RepairWords = words;
        row.RepairMinutes = minutes;
        row.RepairParts = parts.Length > 0 ? parts : null;
    }

    private static DefectEvent Event(DefectRow row, DefectAct act, string by, string words, DateTimeOffset at, DefectGrade? to = null) =>
        new()
        {
            At = at,
            By = by,
            Act = act,
            Words = words,
            To = to,
            LimitHours = row.LimitHours,
            LimitOn = row.LimitOn,
        };

    private void Add(
        string unit,
        DefectRow row,
        IReadOnlyList<DefectEvent> events,
        IReadOnlyList<Stoppage>? stoppages = null,
        IReadOnlyList<DefectPhoto>? photos = null,
        long? repeatOf = null
    ) => _records.Add(FleetMapping.ToRecord(row, unit, WalkOf(unit, row), repeatOf, events, _ => null, stoppages ?? [], photos ?? []));

    private long? WalkOf(string unit, DefectRow row) =>
        Found.FirstOrDefault(x => x.Unit == unit && x.Check == row.CheckCode && today.AddDays(-x.Back) == row.On)
            is { Unit: not null } found
            ? walkOf(unit, found.Back)
            : null;

    private DateTimeOffset At(int back, double hour) =>
        new DateTimeOffset(today.AddDays(-back).ToDateTime(TimeOnly.MinValue), TimeSpan.Zero).AddHours(hour);

    private static DefectPhoto Picture(DefectRow row) =>
        new()
        {
            At = row.At,
            By = row.By,
            Width = Drawn.Value.Width,
            Height = Drawn.Value.Height,
            Bytes = new() { Whole = Drawn.Value.Whole, Small = Drawn.Value.Small },
        };

    /// <summary>A drawn stand-in for a photo: a casting, a dark stain, a crack of light.</summary>
    private static EncodedPhoto Draw()
    {
        using var ground = Image
            .Black(1200, 900, bands: 3)
            .NewFromImage(148, 139, 122)
            .Copy(interpretation: Enums.Interpretation.Srgb)
            .Cast(Enums.BandFormat.Uchar);
        using var drawn = ground.Mutate(x =>
        {
            x.DrawRect([92, 96, 98], 180, 140, 840, 620, true);
            x.DrawRect([120, 124, 126], 220, 180, 760, 540, true);
            for (var bolt = 0; bolt < 6; bolt++)
                x.DrawCircle([60, 62, 64], 280 + bolt * 128, 240, 30, true);
            x.DrawCircle([58, 44, 36], 640, 520, 150, true);
            x.DrawCircle([44, 33, 28], 690, 570, 90, true);
            for (var i = 0; i < 9; i++)
                x.DrawLine([214, 203, 180], 420 + i, 400, 860 + i, 640 + i * 2);
        });
        return Photos.Encode(drawn.JpegsaveBuffer(q: 90)).Value!;
    }
}
