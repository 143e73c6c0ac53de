using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Nippers.Core.Oil;
using Nippers.Formats.Lab;

namespace Nippers.StandIns;

/// <summary>Troubles that the stand-in can show in an oil.</summary>
public enum OilFault
{
    /// <summary>Nothing.</summary>
    None,

    /// <summary>Dust past a seal or an air cleaner.</summary>
    Dirt,

    /// <summary>Coolant.</summary>
    Coolant,

    /// <summary>Sea water.</summary>
    SaltWater,

    /// <summary>Fuel.</summary>
    Fuel,

    /// <summary>A plain bearing.</summary>
    Bearing,

    /// <summary>Gear teeth, in large pieces.</summary>
    Gear,

    /// <summary>Copper that a new cooler gives off; harmless.</summary>
    Cooler,

    /// <summary>Another oil than the label says.</summary>
    Mixed,

    /// <summary>Oil that was left in too long.</summary>
    Thick,
}

/// <summary>
/// A small model of what an oil carries: wear that grows with its hours and thins with what is added, and troubles on top. The
/// same bottle gives the same figures each time.
/// </summary>
public static class WearModel
{
    private static readonly Measurand[] Metals =
    [
        Measurand.Fe,
        Measurand.Cu,
        Measurand.Pb,
        Measurand.Al,
        Measurand.Cr,
        Measurand.Sn,
        Measurand.Ni,
    ];

    /// <summary>Figures of the model's oils when new.</summary>
    public static NewOil New(OilKind kind, string grade)
    {
        var band = ViscosityGrade.Of(grade).Band;
        double[] additives = kind switch
        {
            OilKind.Engine => [2400, 1220, 1080, 20, 60, 50],
            OilKind.Hydraulic => [60, 420, 340, 5, 2, 0],
            OilKind.Gear => [20, 25, 1400, 5, 210, 0],
            _ => [3100, 1250, 1120, 15, 5, 0],
        };
        Measurand[] which = [Measurand.Ca, Measurand.Zn, Measurand.P, Measurand.Mg, Measurand.B, Measurand.Mo];
        return new(
            band is null ? null : Math.Round((band.Low + band.High) / 2, 1),
            kind == OilKind.Engine ? 10 : null,
            kind switch
            {
                OilKind.Engine => 1.2,
                OilKind.Hydraulic => 0.5,
                OilKind.Gear => 0.9,
                _ => 1.1,
            },
            kind switch
            {
                OilKind.Engine => 5,
                OilKind.Hydraulic => 1,
                OilKind.Gear => 3,
                _ => 4,
            },
            Measures.Of(which.Select((x, i) => KeyValuePair.Create(x, additives[i])))
        );
    }

    /// <summary>What a laboratory would find.</summary>
    /// <param name="line">The bottle.</param>
    /// <param name="fault">The trouble in the oil.</param>
    /// <param name="strength">How far it has gone, 1 being plain to see.</param>
    /// <param name="seed">Another seed gives other figures.</param>
    public static LabResult Report(LabOrderLine line, OilFault fault, double strength = 1, int seed = 0)
    {
        var kind = Enum.Parse<OilKind>(line.Kind, ignoreCase: true);
        var place = new Dice($"{seed}|{line.Unit}|{line.Compartment}");
        var bottle = new Dice($"{seed}|{line.Bottle}");
        var limits = LimitSet.Starting(kind);
        var reference = LimitSet.ReferenceHours(kind);
        var age = kind == OilKind.Hydraulic ? 1 : 0.2 + 0.8 * Math.Min(1.15, (line.OilHours ?? reference) / reference);
        var thinning =
            line.SumpLitres is > 0 and var sump && line.AddedLitres > 0
                ? (1 - Math.Exp(-line.AddedLitres / sump)) * sump / line.AddedLitres
                : 1;
        var values = new Dictionary<Measurand, double>();
        foreach (var metal in Metals)
            values[metal] = limits[metal]!.Watch * place.Between(0.12, 0.36) * bottle.Between(0.88, 1.12) * age * thinning;
        foreach (var other in new[] { Measurand.Si, Measurand.Na, Measurand.K, Measurand.Pq })
            values[other] = limits[other]!.Watch * place.Between(0.15, 0.35) * bottle.Between(0.85, 1.15);
        values[Measurand.Water] = limits[Measurand.Water]!.Watch * bottle.Between(0.05, 0.25);
        var fresh = New(kind, line.Grade);
        values[Measurand.Oxidation] =
            fresh.Oxidation!.Value + limits[Measurand.Oxidation]!.Watch * 0.35 * Math.Min(2, age) * bottle.Between(0.9, 1.1);
        values[Measurand.Tan] = fresh.Tan!.Value + limits[Measurand.TanRise]!.Watch * 0.35 * Math.Min(2, age) * bottle.Between(0.9, 1.1);
        foreach (var (additive, ppm) in fresh.Additives!.All)
            values[additive] = ppm * bottle.Between(0.92, 1.06);
        if (kind == OilKind.Engine)
        {
            values[Measurand.Fuel] = bottle.Between(0.2, 0.9);
            values[Measurand.Soot] = 0.5 * age * bottle.Between(0.7, 1.2);
            values[Measurand.Nitration] = 7 * age * bottle.Between(0.8, 1.2);
            values[Measurand.Tbn] = Math.Max(1, 10 - 1.9 * age * bottle.Between(0.9, 1.1));
        }

        var grade = ViscosityGrade.Of(line.Grade);
        if (fresh.Viscosity is { } middle)
            values[grade.Measured] = middle * bottle.Between(0.975, 1.02);
        int[] iso = [17 + bottle.Next(2), 15 + bottle.Next(2), 11 + bottle.Next(2)];
        Apply(fault, Math.Max(0, strength), kind, limits, values, grade, iso);
        var figures = values.ToDictionary(x => x.Key.Code(), x => Text(x.Key, x.Value), StringComparer.Ordinal);
        if (fault == OilFault.Coolant && kind == OilKind.Engine && strength >= 1)
            figures[Measurand.Glycol.Code()] = "1";
        else if (kind == OilKind.Engine)
            figures[Measurand.Glycol.Code()] = "0";
        return new(line.Bottle, figures)
        {
            Unit = line.Unit,
            Compartment = line.Compartment,
            MachineHours = line.MachineHours,
            OilHours = line.OilHours,
            LabNumber = "T" + (bottle.Next(900_000) + 100_000).ToString(CultureInfo.InvariantCulture),
            Iso = kind is OilKind.Hydraulic or OilKind.Transmission ? $"{iso[0]}/{iso[1]}/{iso[2]}" : "",
            Comment = Comment(fault, strength),
        };
    }

    /// <summary>The trouble that a place has by itself: one in so many has one.</summary>
    public static OilFault SeededFault(string unit, string compartment, int seed, int oneIn)
    {
        var dice = new Dice($"fault|{seed}|{unit}|{compartment}");
        return dice.Next(oneIn) == 0 ? (OilFault)(1 + dice.Next(Enum.GetValues<OilFault>().Length - 1)) : OilFault.None;
    }

    private static void Apply(
        OilFault fault,
        double strength,
        OilKind kind,
        LimitSet limits,
        Dictionary<Measurand, double> values,
        ViscosityGrade grade,
        int[] iso
    )
    {
        // From what is there to so many times the watch limit at full strength.
        void To(Measurand measurand, double timesWatch)
        {
            if (limits[measurand] is { } limit)
                values[measurand] = values.GetValueOrDefault(measurand) + strength * timesWatch * limit.Watch;
        }

        void Visc(double by)
        {
            if (values.TryGetValue(grade.Measured, out var viscosity))
                values[grade.Measured] = viscosity * (1 + by * strength);
        }

        switch (fault)
        {
            case OilFault.Dirt:
                To(Measurand.Si, 1.6);
                To(Measurand.Al, 0.9);
                To(Measurand.Fe, 0.7);
                To(Measurand.Cr, 0.5);
                (iso[0], iso[1], iso[2]) = (iso[0] + 3, iso[1] + 3, iso[2] + 3);
                break;
            case OilFault.Coolant:
                To(Measurand.Na, 1.4);
                To(Measurand.K, 1.3);
                To(Measurand.Water, 0.8);
                break;
            case OilFault.SaltWater:
                To(Measurand.Na, 2.2);
                To(Measurand.Water, 1.8);
                To(Measurand.Fe, 0.5);
                break;
            case OilFault.Fuel:
                To(Measurand.Fuel, 1.5);
                Visc(-0.17);
                break;
            case OilFault.Bearing:
                To(Measurand.Pb, 1.3);
                To(Measurand.Sn, 0.9);
                To(Measurand.Cu, 0.8);
                break;
            case OilFault.Gear:
                To(Measurand.Fe, 1.4);
                To(Measurand.Pq, 2.2);
                break;
            case OilFault.Cooler:
                To(Measurand.Cu, 1.4);
                break;
            case OilFault.Thick:
                To(Measurand.Oxidation, 1.2);
                To(Measurand.Soot, 1.1);
                Visc(0.16);
                if (values.ContainsKey(Measurand.Tbn))
                    values[Measurand.Tbn] *= Math.Max(0.3, 1 - 0.5 * strength);
                break;
            case OilFault.Mixed:
                var other = kind == OilKind.Hydraulic ? OilKind.Engine : OilKind.Hydraulic;
                var otherOil = New(other, other == OilKind.Engine ? "SAE 15W-40" : "ISO VG 46");
                foreach (var (additive, ppm) in otherOil.Additives!.All)
                    values[additive] = ppm;
                if (values.ContainsKey(grade.Measured))
                    values[grade.Measured] = grade.Measured == Measurand.V100 ? 7.2 : 108;
                break;
        }
    }

    private static string Text(Measurand measurand, double value) =>
        measurand switch
        {
            Measurand.Water => value < 0.02 ? "<0.02" : Math.Round(value, 2).ToString(CultureInfo.InvariantCulture),
            Measurand.Fuel or Measurand.Soot => value < 0.3 ? "<0.3" : Math.Round(value, 1).ToString(CultureInfo.InvariantCulture),
            Measurand.Oxidation or Measurand.Nitration or Measurand.Tan or Measurand.Tbn or Measurand.V40 or Measurand.V100 => Math.Round(
                    value,
                    1
                )
                .ToString(CultureInfo.InvariantCulture),
            _ => value < 1 && !Measurands.Additives.Contains(measurand) ? "<1" : Math.Round(value).ToString(CultureInfo.InvariantCulture),
        };

    private static string Comment(OilFault fault, double strength) =>
        fault == OilFault.None || strength < 0.6
            ? "No remarks."
            : fault switch
            {
                OilFault.Dirt => "Dust has got in. Look at breathers and the air side.",
                OilFault.Coolant => "Coolant in the oil. Do not run it before the leak is found.",
                OilFault.SaltWater => "Salt and water. Look at seals and breathers.",
                OilFault.Fuel => "Fuel above the usual. Look at injection.",
                OilFault.Bearing => "Bearing metals are up. Resample and listen.",
                OilFault.Gear => "Large iron pieces. Look at the drain plug's magnet.",
                OilFault.Cooler => "Copper alone: often a new cooler giving off.",
                OilFault.Mixed => "Additives are not those of the oil on the label. Is it the right bottle?",
                _ => "The oil has aged beyond its time.",
            };

    /// <summary>Numbers that a text decides.</summary>
    private sealed class Dice(string text)
    {
        private ulong _state = BitConverter.ToUInt64(SHA256.HashData(Encoding.UTF8.GetBytes(text)));

        public double Between(double from, double to) => from + (to - from) * (Draw() >> 11) / (1UL << 53);

        public int Next(int below) => (int)(Draw() % (ulong)below);

        // SplitMix64.
        private ulong Draw()
        {
            var z = _state += 0x9E3779B97F4A7C15;
            z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9;
            z = (z ^ (z >> 27)) * 0x94D049BB133111EB;
            return z ^ (z >> 31);
        }
    }
}
