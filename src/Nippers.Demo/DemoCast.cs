using Nippers.Core.Service;
using Nippers.Data.Fleet;

namespace Nippers.Demo;

/// <summary>What a machine of the scenario goes through beside ordinary work.</summary>
[Flags]
internal enum Story
{
    None = 0,

    /// <summary>Bought used, weeks ago, without papers.</summary>
    NoRecord = 1,

    /// <summary>Commissioned days ago; its first service is open.</summary>
    JustNew = 2,

    /// <summary>Its meter was replaced.</summary>
    MeterReplaced = 4,

    /// <summary>This morning's reading has two digits swapped.</summary>
    SwappedDigits = 8,

    /// <summary>The service at its last grid point was left undone.</summary>
    ServiceMissed = 16,

    /// <summary>Stands parked.</summary>
    Parked = 32,

    /// <summary>Nobody has read its meter for more than two weeks.</summary>
    Unread = 64,

    /// <summary>Yesterday's walk was too quick to have looked.</summary>
    QuickWalk = 128,

    /// <summary>Its engine has begun to use oil.</summary>
    ThirstyEngine = 256,

    /// <summary>Water keeps coming in its fuel bowl.</summary>
    WaterInFuel = 512,

    /// <summary>This morning's walk is open.</summary>
    WalkOpen = 1024,

    /// <summary>Nobody has walked round it yet this morning.</summary>
    NotWalkedYet = 2048,

    /// <summary>A bottle was filled yesterday and waits on the tray.</summary>
    BottleFilled = 4096,
}

/// <summary>One machine of the scenario.</summary>
/// <param name="FinalHours">Life hours it has when the scenario ends, today.</param>
/// <param name="Tidal">How far the tide governs its day, 0 to 1.</param>
/// <param name="Slip">How far services slip, in shares of the interval: before and after the grid point.</param>
/// <param name="Ends">How it stands on the last morning, on every date alike.</param>
/// <param name="KmPerHour">Kilometres that its odometer counts in an hour of its meter; 0 for a machine without one.</param>
/// <param name="MissedFrom">Life hours from which services of 200 h and more are left undone.</param>
internal sealed record DemoMachine(
    string Unit,
    MachineKind Kind,
    string Make,
    string Model,
    string Serial,
    string Site,
    string Program,
    double FinalHours,
    double Planned,
    double Tidal,
    (double Early, double Late) Slip,
    string Options,
    Duty Duty = Duty.Normal,
    Story Story = Story.None,
    string Note = "",
    double MissedFrom = double.MaxValue,
    DueStatus Ends = DueStatus.Coming,
    double KmPerHour = 0
);

/// <summary>The scenario's people, places and machines. All invented.</summary>
internal static class DemoCast
{
    public const string Zone = "Europe/London";
    public const string NorthBank = "North Bank";
    public const string ClayPit = "Clay Pit";
    public const string LandingYard = "Landing Yard";

    /// <summary>Who is told when a machine stops at a site.</summary>
    public static string ContactOf(string site) => site == LandingYard ? "Bea Lund, radio 4" : "Mara Quill, radio 1";

    /// <summary>The own program of the dozers: counted from work done, not from a grid.</summary>
    public const string DozerProgram = "pellow-dozers";

    public static readonly string[] Operators = ["Ines Varrow", "Col Hartwick", "Bea Lund"];
    public static readonly string[] Technicians = ["Tam Ollery", "Wenna Pask"];

    /// <summary>Days before today on which the tide broke in and nothing ran for a week.</summary>
    public const int FloodStart = 64;

    public const int FloodDays = 7;

    private const string Excavator = "starter-crawler-excavator";
    private const string Loader = "starter-wheel-loader";
    private const string TrackLoader = "starter-compact-track-loader";

    public static readonly DemoMachine[] Machines =
    [
        new(
            "EX-01",
            MachineKind.Of("crawler-excavator"),
            "Torvane",
            "T 24",
            "TV24-1187",
            NorthBank,
            Excavator,
            3107.3,
            6,
            0.7,
            (-0.06, 0.03),
            "ac aftertreatment=def attachment=none linkage=greased",
            Story: Story.NotWalkedYet
        ),
        new(
            "EX-02",
            MachineKind.Of("crawler-excavator"),
            "Torvane",
            "T 30 LR",
            "TV30-0412",
            NorthBank,
            Excavator,
            6893.2,
            6,
            1,
            (-0.02, 0.08),
            "ac aftertreatment=dpf attachment=none linkage=greased",
            Duty.Severe,
            Story.WalkOpen,
            Note: "Long reach, 18 m. Works below the tide line."
        ),
        new(
            "EX-03",
            MachineKind.Of("crawler-excavator"),
            "Brennock",
            "B 210",
            "BK210-7734",
            ClayPit,
            Excavator,
            4233.7,
            6.5,
            0.1,
            (0, 0),
            "aftertreatment=none attachment=breaker linkage=greased",
            Story: Story.NoRecord,
            Note: "Bought used. No record before 4,010 h.",
            Ends: DueStatus.Due
        ),
        new(
            "EX-04",
            MachineKind.Of("crawler-excavator"),
            "Torvane",
            "T 24",
            "TV24-1203",
            NorthBank,
            Excavator,
            4537.4,
            8,
            0.6,
            (-0.05, 0.05),
            "ac aftertreatment=def attachment=none linkage=greased",
            Story: Story.SwappedDigits | Story.ServiceMissed | Story.WaterInFuel | Story.NotWalkedYet,
            MissedFrom: 4465,
            Ends: DueStatus.Overdue
        ),
        new(
            "EX-05",
            MachineKind.Of("mini-excavator"),
            "Ulmar",
            "U 3",
            "UM03-2290",
            LandingYard,
            "starter-mini-excavator",
            1498.6,
            3.5,
            0.2,
            (-0.1, 0.04),
            "aftertreatment=none attachment=auger coupler linkage=greased volts=12",
            MissedFrom: 1440,
            Ends: DueStatus.Due
        ),
        new(
            "DZ-01",
            MachineKind.Of("crawler-dozer"),
            "Brennock",
            "BD 6",
            "BD6-0551",
            ClayPit,
            DozerProgram,
            3612.4,
            5,
            0.2,
            (-0.04, 0.06),
            "ac aftertreatment=dpf attachment=none linkage=greased"
        ),
        new(
            "DZ-02",
            MachineKind.Of("crawler-dozer"),
            "Brennock",
            "BD 8",
            "BD8-0098",
            ClayPit,
            "starter-crawler-dozer",
            8583.8,
            6.5,
            0.2,
            (-0.03, 0.07),
            "ac aftertreatment=def attachment=none linkage=greased ripper",
            Duty.Severe,
            Story.ServiceMissed | Story.ThirstyEngine,
            "Ripper for the hard clay.",
            8430,
            Ends: DueStatus.Overdue
        ),
        new(
            "DZ-03",
            MachineKind.Of("crawler-dozer"),
            "Ulmar",
            "UD 5",
            "UD5-3310",
            NorthBank,
            DozerProgram,
            2290.8,
            5.5,
            0.5,
            (-0.05, 0.05),
            "ac aftertreatment=dpf attachment=none linkage=greased winch",
            Story: Story.QuickWalk | Story.NotWalkedYet
        ),
        new(
            "WL-01",
            MachineKind.Of("wheel-loader"),
            "Torvane",
            "TL 15",
            "TL15-0870",
            LandingYard,
            Loader,
            4466.1,
            6,
            0.2,
            (-0.06, 0.05),
            "ac aftertreatment=def attachment=none linkage=greased",
            Story: Story.NotWalkedYet,
            MissedFrom: 4440,
            Ends: DueStatus.Due
        ),
        new(
            "WL-02",
            MachineKind.Of("wheel-loader"),
            "Torvane",
            "TL 15",
            "TL15-0911",
            ClayPit,
            Loader,
            7741.5,
            7,
            0.1,
            (-0.04, 0.06),
            "ac aftertreatment=dpf attachment=none linkage=greased",
            Story: Story.MeterReplaced,
            MissedFrom: 7700,
            Ends: DueStatus.Due
        ),
        new(
            "WL-03",
            MachineKind.Of("wheel-loader"),
            "Ulmar",
            "UL 12",
            "UL12-1456",
            ClayPit,
            Loader,
            4966.4,
            8,
            0.1,
            (-0.05, 0.05),
            "ac aftertreatment=def attachment=none linkage=sealed",
            Story: Story.Unread,
            MissedFrom: 4890,
            Ends: DueStatus.Due
        ),
        new(
            "TL-01",
            MachineKind.Of("compact-track-loader"),
            "Ulmar",
            "UT 90",
            "UT90-0733",
            LandingYard,
            TrackLoader,
            2163.9,
            4,
            0.3,
            (-0.08, 0.03),
            "aftertreatment=none attachment=grapple linkage=greased volts=12",
            Story: Story.Parked,
            Ends: DueStatus.NotDue
        ),
        new(
            "TL-02",
            MachineKind.Of("compact-track-loader"),
            "Ulmar",
            "UT 90",
            "UT90-0802",
            NorthBank,
            TrackLoader,
            47.6,
            5.2,
            0,
            (0, 0),
            "aftertreatment=dpf attachment=none linkage=greased volts=12",
            Story: Story.JustNew | Story.NotWalkedYet,
            Ends: DueStatus.Due
        ),
        new(
            "BL-01",
            MachineKind.Of("backhoe-loader"),
            "Brennock",
            "BB 4",
            "BB4-6120",
            LandingYard,
            "starter-backhoe-loader",
            2872.7,
            3.5,
            0.2,
            (-0.05, 0.08),
            "ac aftertreatment=dpf attachment=none linkage=greased",
            Story: Story.BottleFilled
        ),
        new(
            "CP-01",
            MachineKind.Of("cold-planer"),
            "Brennock",
            "BP 100",
            "BP100-0217",
            LandingYard,
            "starter-cold-planer",
            1912.4,
            4,
            0.1,
            (-0.05, 0.05),
            "aftertreatment=def attachment=none"
        ),
        new(
            "DR-01",
            MachineKind.Of("crawler-drill-rig"),
            "Torvane",
            "TR 90",
            "TR90-0058",
            ClayPit,
            "starter-crawler-drill-rig",
            3388.6,
            5,
            0,
            (-0.05, 0.05),
            "aftertreatment=dpf attachment=none dust=dry",
            Note: "Rock for the toe of the embankment."
        ),
        new(
            "HT-01",
            MachineKind.Of("rigid-haul-truck"),
            "Torvane",
            "TH 40",
            "TH40-0316",
            ClayPit,
            "starter-rigid-haul-truck",
            5216.9,
            8,
            0.1,
            (-0.05, 0.05),
            "ac aftertreatment=def attachment=none brakes=wet firesystem",
            Story: Story.NotWalkedYet
        ),
        new(
            "PV-01",
            MachineKind.Of("asphalt-paver"),
            "Brennock",
            "BV 6",
            "BV6-1140",
            LandingYard,
            "starter-asphalt-paver",
            2417.7,
            4,
            0,
            (-0.05, 0.05),
            "aftertreatment=dpf attachment=none heat=gas gear=tracks",
            Story: Story.NotWalkedYet
        ),
        new(
            "RC-01",
            MachineKind.Of("compactor"),
            "Ulmar",
            "UR 12",
            "UR12-2075",
            NorthBank,
            "starter-compactor",
            2689.3,
            5,
            0.3,
            (-0.05, 0.05),
            "aftertreatment=dpf attachment=none"
        ),
        new(
            "SL-01",
            MachineKind.Of("small-loader"),
            "Ulmar",
            "US 7",
            "US7-0411",
            LandingYard,
            "starter-small-loader",
            1607.2,
            3,
            0.1,
            (-0.05, 0.05),
            "aftertreatment=none attachment=none gear=tracks linkage=greased volts=12"
        ),
        new(
            "TH-01",
            MachineKind.Of("telehandler"),
            "Brennock",
            "BT 17",
            "BT17-0933",
            LandingYard,
            "starter-telehandler",
            3043.8,
            4,
            0.1,
            (-0.05, 0.05),
            "ac aftertreatment=def attachment=none boom=chains brakes=wet linkage=greased stabilisers sway"
        ),
        new(
            "TT-01",
            MachineKind.Of("road-tipper-truck"),
            "Torvane",
            "TT 26",
            "TT26-0519",
            LandingYard,
            "starter-road-tipper-truck",
            4812.5,
            6,
            0,
            (-0.05, 0.05),
            "ac aftertreatment=def attachment=none",
            KmPerHour: 31
        ),
    ];
}
