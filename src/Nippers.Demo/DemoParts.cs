using Nippers.App.Exchange;
using Nippers.App.Kinds;
using Nippers.Core.Numbers;
using Nippers.Core.Parts;
using Nippers.Data.Fleet;
using Nippers.Data.Parts;
using Nippers.Data.Visits;
using Nippers.Formats.Fleet;

namespace Nippers.Demo;

/// <summary>The scenario's workshop, catalogue, shelves, and what the manuals say. All invented.</summary>
internal static class DemoParts
{
    private sealed record Place(
        string Item,
        string Name,
        PartKind Kind,
        double Length,
        double Outer,
        double Seal,
        string Thread,
        double Litres,
        int Cents,
        TurnRule Turn,
        PrefillRule Prefill,
        int Number
    );

    // Measures are those of a large machine, a small one has two thirds of them.
    private static IReadOnlyList<Place> Places(DemoMachine x) =>
        KindFolders.Rows<Place>(typeof(DemoParts).Assembly, KindFolders.Find(x.Kind)!, "demo-parts");

    private const string QuarneList = "Quarne Filters, cross list of this spring";

    private static bool IsSmall(DemoMachine x) => KindFolders.Find(x.Kind)!.Facts["size"] == "small";

    private static string Number(DemoMachine x, Place place) => $"{x.Make[..2].ToUpperInvariant()}{(IsSmall(x) ? 2 : 7)}-{place.Number}";

    private static double Scale(DemoMachine x) =>
        (IsSmall(x) ? 0.66 : 1)
        * x.Make switch
        {
            "Torvane" => 1,
            "Brennock" => 0.96,
            _ => 1.05,
        };

    private static double Size(double mm, DemoMachine x) => Math.Round(mm * Scale(x), 1);

    /// <summary>The workshop's settings.</summary>
    public static FleetShop Shop() => FleetMapping.ToRecord(Settings, Fluids);

    /// <summary>The same as rows.</summary>
    public static Shop Settings { get; } =
        new()
        {
            Currency = "£",
            LabourPerHour = new Money(5800),
            CallOutCost = new Money(14000),
            HaulageCost = new Money(38000),
            LabFee = new Money(2800),
            DowntimePerHour = new Money(6500),
            PailLitres = 20,
            Vessels =
                "Pan A; 30; oil\nPan B; 30; oil\nSmall pan; 12; oil\nHub pan; 8; oil\nDrum trolley; 250; oil\nCoolant tub; 60; coolant\nFuel can; 25; fuel",
        };

    public static IReadOnlyList<FluidRow> Fluids { get; } =
    [
        new() { Name = "10W-30", PerLitre = new Money(430) },
        new() { Name = "15W-40", PerLitre = new Money(390) },
        new() { Name = "HV 32", PerLitre = new Money(360) },
        new() { Name = "HV 46", PerLitre = new Money(340) },
        new() { Name = "75W-80", PerLitre = new Money(690) },
        new() { Name = "80W-90", PerLitre = new Money(480) },
        new() { Name = "SAE 10W", PerLitre = new Money(410) },
        new() { Name = "SAE 30", PerLitre = new Money(400) },
        new() { Name = "SAE 50", PerLitre = new Money(440) },
        new() { Name = "ISO VG 46", PerLitre = new Money(460) },
        new() { Name = "Glycol, half", PerLitre = new Money(310) },
    ];

    /// <summary>What is expected outside until the next change, by the season of a date.</summary>
    public static (int Low, int High) Weather(DateOnly today) => today.Month is >= 5 and <= 9 ? (4, 29) : (-7, 16);

    /// <summary>Filter positions of a machine.</summary>
    public static List<FilterPosition> Positions(DemoMachine x) =>
        [
            .. Places(x)
                .Select(p => new FilterPosition
                {
                    Code = p.Item,
                    Name = p.Name,
                    ItemCode = p.Item,
                    Part = Part(x, p),
                    LengthMm = Size(p.Length, x),
                    OuterMm = Size(p.Outer, x),
                    SealMm = p.Seal > 0 ? Size(p.Seal, x) : null,
                    Thread = p.Thread,
                    Litres = new Litres(Math.Round(p.Litres * (IsSmall(x) ? 0.35 : 1), 1)),
                    Prefill = p.Prefill,
                    Turn = p.Turn,
                }),
        ];

    /// <summary>The catalogue: each maker's parts, and Quarne's that stand in for some.</summary>
    public static IReadOnlyList<PartRow> Catalogue { get; } =
    [
        .. DemoCast
            .Machines.SelectMany(x => Places(x).SelectMany(p => new[] { Part(x, p), Quarne(x, p) }))
            .OfType<PartRow>()
            .DistinctBy(x => x.Number)
            .OrderBy(x => x.Number, StringComparer.Ordinal),
    ];

    /// <summary>What may stand in for what.</summary>
    public static IEnumerable<FleetAlternate> Alternates(DateOnly today) =>
        DemoCast
            .Machines.SelectMany(x =>
                Places(x).Where(p => Quarne(x, p) is not null).Select(p => (Part: Number(x, p), Other: Quarne(x, p)!.Number))
            )
            .Distinct()
            .OrderBy(x => x.Part, StringComparer.Ordinal)
            .ThenBy(x => x.Other, StringComparer.Ordinal)
            .Select(x =>
                FleetMapping.ToRecord(
                    new PartAlternate
                    {
                        SaysWho = QuarneList,
                        By = "Tam Ollery",
                        On = today.AddDays(-210),
                    },
                    x.Part,
                    x.Other
                )
            );

    /// <summary>What the manual says of compartments.</summary>
    public static IEnumerable<MachineCompartment> Compartments(DemoMachine x)
    {
        var small = IsSmall(x);
        yield return new()
        {
            Code = "engine",
            CapacityLitres = new(small ? 8.2 : 24.5),
            Fluid = "15W-40",
            FilterLitres = new(small ? 0.5 : 1.4),
            PlugTorque = small ? "45 Nm" : "68 Nm",
            PlugSeal = small ? "UM-S18" : "TV-S24",
            Socket = small ? "17 mm" : "22 mm",
            PressureSeconds = 8,
        };
        yield return new()
        {
            Code = "hydraulic",
            CapacityLitres = new(small ? 46 : 220),
            Fluid = "HV 46",
            DrainHours = x.Unit == DemoSamples.EarnedUnit ? DemoSamples.EarnedHours : null,
            FilterLitres = new(small ? 1 : 2.8),
            PlugTorque = small ? "60 Nm" : "95 Nm",
            Socket = small ? "19 mm" : "27 mm",
        };
        yield return new()
        {
            Code = "cooling",
            CapacityLitres = new(small ? 7 : 32),
            Fluid = "Glycol, half",
        };
        yield return new()
        {
            Code = "transmission",
            CapacityLitres = new(46),
            Fluid = x.Unit == "DZ-01" ? "SAE 30" : "SAE 10W",
            FilterLitres = new Litres(1.9),
            PlugTorque = "80 Nm",
            Socket = "24 mm",
        };
        yield return new()
        {
            Code = "axle-front",
            CapacityLitres = new(28),
            Fluid = "80W-90",
            DrainPoints = 3,
            PlugTorque = "70 Nm",
            Socket = "22 mm",
        };
        yield return new()
        {
            Code = "axle-rear",
            CapacityLitres = new(26),
            Fluid = "80W-90",
            DrainPoints = 3,
            PlugTorque = "70 Nm",
            Socket = "22 mm",
        };
        yield return new()
        {
            Code = "swing-drive",
            CapacityLitres = new(small ? 1.1 : 6),
            Fluid = "80W-90",
            PlugTorque = "55 Nm",
            Socket = "19 mm",
        };
        foreach (var side in new[] { "left", "right" })
        {
            yield return new()
            {
                Code = "final-drive-" + side,
                CapacityLitres = new(small ? 0.9 : 5.2),
                Fluid = "80W-90",
                PlugTorque = "50 Nm",
                Socket = "10 mm hexagon",
                PlugSeal = "TV-S20",
                Hub = "6 3 12",
                DrainPoints = 1,
            };
        }

        yield return new()
        {
            Code = "pivot-shaft",
            CapacityLitres = new(11),
            Fluid = "80W-90",
            DrainPoints = 2,
            PlugTorque = "60 Nm",
            Socket = "19 mm",
        };
        yield return new()
        {
            Code = "winch",
            CapacityLitres = new Litres(13.5),
            Fluid = "80W-90",
            PlugTorque = "70 Nm",
            Socket = "22 mm",
        };
        foreach (var (code, litres, fluid) in OfOneKind)
        {
            yield return new()
            {
                Code = code,
                CapacityLitres = new(litres),
                Fluid = fluid,
                PlugTorque = "60 Nm",
                Socket = "19 mm",
                Hub = code.StartsWith("hub", StringComparison.Ordinal) || code == "drum-gearbox" ? "6 3 12" : "",
            };
        }
    }

    // What stands on one kind of machine alone, litres.
    private static readonly (string Code, double Litres, string Fluid)[] OfOneKind =
    [
        ("drum-left", 7.5, "SAE 50"),
        ("drum-right", 7.5, "SAE 50"),
        ("drum-gearbox", 18, "80W-90"),
        ("pump-drive", 4.5, "80W-90"),
        ("conveyor-drive-left", 3.2, "80W-90"),
        ("conveyor-drive-right", 3.2, "80W-90"),
        ("auger-drive", 6, "80W-90"),
        ("compressor", 34, "ISO VG 46"),
        ("rotation", 5, "80W-90"),
        ("steering", 42, "HV 46"),
        ("hub-front-left", 4, "80W-90"),
        ("hub-front-right", 4, "80W-90"),
        ("chain-case", 12, "80W-90"),
        ("gearbox", 11, "75W-80"),
        ("axle-middle", 14, "80W-90"),
    ];

    private static PartRow Part(DemoMachine x, Place p) =>
        new()
        {
            Number = Number(x, p),
            Name = p.Name,
            Make = x.Make,
            Kind = p.Kind,
            LengthMm = Size(p.Length, x),
            OuterMm = Size(p.Outer, x),
            SealMm = p.Seal > 0 ? Size(p.Seal, x) : null,
            Thread = p.Thread,
            Price = new Money((int)Math.Round(p.Cents * (IsSmall(x) ? 0.6 : 1))),
        };

    /// <summary>Quarne makes oil and fuel filters and air elements; a little shorter here and there, as such parts are.</summary>
    private static PartRow? Quarne(DemoMachine x, Place p)
    {
        if (p.Number is not (110 or 121 or 122 or 131))
            return null;
        var like = Part(x, p);
        like.Number = $"QN {(IsSmall(x) ? 3 : 8)}{x.Make.Length}{p.Number}";
        like.Make = "Quarne";
        like.LengthMm = Math.Round(like.LengthMm!.Value * 0.99, 1);
        like.Price = new((int)(like.Price.Cents * 0.74));
        return like;
    }
}
