using System.Collections.Immutable;
using Nippers.Core.Walk;

namespace Nippers.Core.Defects;

/// <summary>What a defect is on. Every defect names one.</summary>
/// <remarks>Rules 8.</remarks>
public enum MachinePart
{
    /// <summary>None of the others.</summary>
    Other,

    /// <summary>Service, secondary and parking brakes, and the swing's.</summary>
    Brakes,

    /// <summary>Steering and the joint.</summary>
    Steering,

    /// <summary>Boom, arms, frame: what carries.</summary>
    Structure,

    /// <summary>Roll-over frame, seat belt.</summary>
    FrameAndBelt,

    /// <summary>Stop buttons, isolators, lever lock, horn, alarms, mirrors, cameras, extinguisher.</summary>
    StopsAndAlarms,

    /// <summary>Coupler and attachment lock.</summary>
    Coupler,

    /// <summary>Tyres, rims, wheel nuts.</summary>
    TyresAndWheels,

    /// <summary>Hoses and lines.</summary>
    Hoses,

    /// <summary>Engine with its air, fuel and cooling.</summary>
    Engine,

    /// <summary>Transmission, axles, final drives, tracks.</summary>
    Drive,

    /// <summary>Pumps, valves, cylinders, oil.</summary>
    Hydraulics,

    /// <summary>Batteries, wiring, lamps, codes.</summary>
    Electrics,

    /// <summary>Cab, doors, guards, steps, glass.</summary>
    Body,
}

/// <summary>What words say of a defect: the part they speak of, and the grade below which it is not taken in.</summary>
/// <param name="Part">The part.</param>
/// <param name="Safety">The safety-critical thing that is meant; none when it is not one.</param>
/// <param name="Least">Grade at least.</param>
public sealed record SpokenPart(MachinePart Part, SafetyPart Safety, DefectGrade Least);

/// <summary>Which parts are safety-critical, and what part the words of a defect speak of.</summary>
/// <remarks>Rules 8.</remarks>
public static class MachineParts
{
    // Longer phrases stand for themselves: "fan belt" says nothing of the belt of a seat, "flat battery" nothing of a tyre.
    private static readonly ImmutableArray<(string Phrase, SpokenPart Spoken)> Phrases =
    [
        .. Spoken(MachinePart.Brakes, SafetyPart.Brakes, "brake", "braking", "pedal to the floor", "pedal goes", "pedal sinks"),
        .. Spoken(MachinePart.Brakes, SafetyPart.None, "pedal"),
        .. Spoken(MachinePart.Steering, SafetyPart.Steering, "steer", "articulation"),
        .. Spoken(MachinePart.Structure, SafetyPart.Structure, "crack", "broken weld", "bent boom", "bent arm", "bent frame"),
        .. Spoken(MachinePart.Structure, SafetyPart.None, "weld", "boom", "lift arm", "frame", "boss", "counterweight"),
        .. Spoken(MachinePart.FrameAndBelt, SafetyPart.RollOverFrame, "roll-over", "rollover", "rops", "fops"),
        .. Spoken(MachinePart.FrameAndBelt, SafetyPart.SeatBelt, "seat belt", "seatbelt", "belt buckle", "lap belt"),
        .. Spoken(MachinePart.FrameAndBelt, SafetyPart.None, "belt"),
        .. Spoken(MachinePart.StopsAndAlarms, SafetyPart.StopButton, "stop button", "emergency stop", "stop switch", "isolator"),
        .. Spoken(MachinePart.StopsAndAlarms, SafetyPart.ControlLock, "lever lock", "lock lever", "lock bar", "lockout lever"),
        .. Spoken(MachinePart.StopsAndAlarms, SafetyPart.Alarm, "horn", "alarm", "beeper", "mirror", "camera", "extinguisher"),
        .. Spoken(MachinePart.StopsAndAlarms, SafetyPart.Alarm, "load indicator", "fire system"),
        .. Spoken(MachinePart.Coupler, SafetyPart.Coupler, "coupler", "quick hitch", "attachment lock", "safety pin"),
        .. Spoken(MachinePart.TyresAndWheels, SafetyPart.WheelNuts, "wheel nut", "wheel stud", "lug nut"),
        .. Spoken(MachinePart.TyresAndWheels, SafetyPart.Tyre, "cord", "bulge", "flat tyre", "tyre flat", "tyre is flat", "puncture"),
        .. Spoken(MachinePart.TyresAndWheels, SafetyPart.None, "tyre", "wheel", "rim"),
        .. Spoken(MachinePart.Hoses, SafetyPart.HoseNearPerson, "chafed to the wire", "hose burst", "burst hose"),
        .. Spoken(MachinePart.Hoses, SafetyPart.None, "hose", "chafed"),
        .. Spoken(MachinePart.Engine, SafetyPart.FuelNearHeat, "smell of fuel", "fuel smell", "smells of fuel", "fuel leak"),
        .. Spoken(MachinePart.Engine, SafetyPart.None, DefectGrade.Stop, "milky", "gritty", "fire", "red lamp", "low oil pressure"),
        .. Spoken(MachinePart.Engine, SafetyPart.None, "engine", "smoke", "coolant", "overheat", "fuel", "exhaust", "turbo", "radiator"),
        .. Spoken(MachinePart.Engine, SafetyPart.None, "fan belt", "fan", "drive belt", "belt squeal", "noise"),
        .. Spoken(MachinePart.Drive, SafetyPart.None, "transmission", "axle", "final drive", "track", "roller", "sprocket", "idler", "hub"),
        .. Spoken(MachinePart.Hydraulics, SafetyPart.None, "hydraulic", "cylinder", "pump", "valve", "drifts"),
        .. Spoken(MachinePart.Electrics, SafetyPart.None, "battery", "flat battery", "battery flat", "lamp", "light", "fuse", "wiring"),
        .. Spoken(MachinePart.Electrics, SafetyPart.None, "brake light", "brake lamp", "alternator", "starter", "sensor", "code"),
        .. Spoken(MachinePart.Body, SafetyPart.None, "door", "guard", "glass", "window", "step", "handrail", "hood", "wiper", "seat"),
        .. Spoken(MachinePart.Body, SafetyPart.None, "cracked glass", "cracked window", "glass cracked", "window cracked", "cracked lens"),
        .. Spoken(MachinePart.Other, SafetyPart.Notice, "lockout tag", "locked out", "do not start tag"),
        .. Spanish,
    ];

    // Without accents, as they are typed in a hurry. What stops a machine counts in each language whatever the screen's is.
    private static IEnumerable<(string Phrase, SpokenPart Spoken)> Spanish =>
        [
            .. Spoken(MachinePart.Brakes, SafetyPart.Brakes, "freno", "frena", "pedal al piso", "pedal se va", "pedal se hunde"),
            .. Spoken(MachinePart.Steering, SafetyPart.Steering, "direccion", "volante", "articulacion"),
            .. Spoken(MachinePart.Structure, SafetyPart.Structure, "grieta", "agrietad", "fisura", "rajad", "soldadura rota"),
            .. Spoken(MachinePart.Structure, SafetyPart.Structure, "pluma doblada", "brazo doblado", "bastidor doblado", "chasis doblado"),
            .. Spoken(MachinePart.Structure, SafetyPart.None, "soldadura", "pluma", "brazo de levante", "bastidor", "chasis", "contrapeso"),
            .. Spoken(MachinePart.FrameAndBelt, SafetyPart.RollOverFrame, "antivuelco", "jaula"),
            .. Spoken(MachinePart.FrameAndBelt, SafetyPart.SeatBelt, "cinturon"),
            .. Spoken(MachinePart.StopsAndAlarms, SafetyPart.StopButton, "boton de paro", "paro de emergencia", "parada de emergencia"),
            .. Spoken(
                MachinePart.StopsAndAlarms,
                SafetyPart.StopButton,
                "interruptor de paro",
                "cable de paro",
                "aislador",
                "cortacorriente"
            ),
            .. Spoken(
                MachinePart.StopsAndAlarms,
                SafetyPart.ControlLock,
                "bloqueo de palancas",
                "palanca de bloqueo",
                "barra de seguridad"
            ),
            .. Spoken(
                MachinePart.StopsAndAlarms,
                SafetyPart.Alarm,
                "bocina",
                "claxon",
                "pito",
                "espejo",
                "camara",
                "extintor",
                "extinguidor"
            ),
            .. Spoken(MachinePart.StopsAndAlarms, SafetyPart.Alarm, "indicador de carga", "sistema contra incendio"),
            .. Spoken(
                MachinePart.Coupler,
                SafetyPart.Coupler,
                "acople",
                "enganche rapido",
                "traba del aditamento",
                "seguro del aditamento"
            ),
            .. Spoken(MachinePart.Coupler, SafetyPart.Coupler, "pasador de seguridad"),
            .. Spoken(MachinePart.TyresAndWheels, SafetyPart.WheelNuts, "tuerca de rueda", "tuercas de rueda", "tuerca de la rueda"),
            .. Spoken(
                MachinePart.TyresAndWheels,
                SafetyPart.WheelNuts,
                "tuercas de la rueda",
                "tuercas de las ruedas",
                "esparrago",
                "birlo"
            ),
            .. Spoken(
                MachinePart.TyresAndWheels,
                SafetyPart.Tyre,
                "lonas",
                "bulto",
                "ponchad",
                "pinchad",
                "llanta baja",
                "llanta sin aire"
            ),
            .. Spoken(MachinePart.TyresAndWheels, SafetyPart.Tyre, "llanta desinflada", "llanta reventada", "reventon"),
            .. Spoken(MachinePart.TyresAndWheels, SafetyPart.None, "llanta", "neumatico", "rueda", "rin"),
            .. Spoken(MachinePart.Hoses, SafetyPart.HoseNearPerson, "hasta la malla", "manguera reventada", "revento la manguera"),
            .. Spoken(MachinePart.Hoses, SafetyPart.None, "manguera", "rozad", "acople de manguera", "acople hidraulico"),
            .. Spoken(MachinePart.Engine, SafetyPart.FuelNearHeat, "olor a combustible", "huele a combustible", "fuga de combustible"),
            .. Spoken(MachinePart.Engine, SafetyPart.FuelNearHeat, "olor a diesel", "huele a diesel", "fuga de diesel"),
            .. Spoken(MachinePart.Engine, SafetyPart.None, DefectGrade.Stop, "lechos", "arenilla", "fuego", "incendio", "luz roja"),
            .. Spoken(MachinePart.Engine, SafetyPart.None, DefectGrade.Stop, "baja presion de aceite", "presion de aceite baja"),
            .. Spoken(MachinePart.Engine, SafetyPart.None, DefectGrade.Stop, "sin presion de aceite"),
            .. Spoken(
                MachinePart.Engine,
                SafetyPart.None,
                "motor",
                "humo",
                "refrigerante",
                "recalient",
                "combustible",
                "escape",
                "radiador"
            ),
            .. Spoken(MachinePart.Engine, SafetyPart.None, "ventilador", "correa", "ruido", "diesel"),
            .. Spoken(
                MachinePart.Drive,
                SafetyPart.None,
                "transmision",
                "eje",
                "mando final",
                "oruga",
                "rodillo",
                "rueda motriz",
                "rueda guia"
            ),
            .. Spoken(MachinePart.Drive, SafetyPart.None, "cubo", "diferencial", "cardan"),
            .. Spoken(MachinePart.Hydraulics, SafetyPart.None, "hidraulic", "cilindro", "bomba", "valvula", "se baja sola", "se va sola"),
            .. Spoken(
                MachinePart.Electrics,
                SafetyPart.None,
                "bateria",
                "luz",
                "luces",
                "faro",
                "foco",
                "fusible",
                "cableado",
                "alternador"
            ),
            .. Spoken(MachinePart.Electrics, SafetyPart.None, "luz de freno", "luces de freno", "direccional", "arranque", "codigo"),
            .. Spoken(
                MachinePart.Body,
                SafetyPart.None,
                "puerta",
                "guarda",
                "vidrio",
                "ventana",
                "parabrisas",
                "escalon",
                "baranda",
                "capo"
            ),
            .. Spoken(MachinePart.Body, SafetyPart.None, "limpiaparabrisas", "asiento", "vidrio rajado", "vidrio agrietado", "mica rajada"),
            .. Spoken(MachinePart.Body, SafetyPart.None, "parabrisas rajado", "parabrisas agrietado", "ventana rajada"),
            .. Spoken(MachinePart.Other, SafetyPart.Notice, "tarjeta de bloqueo", "candado puesto", "candado de otro", "no arrancar"),
        ];

    // Accents are typed or left out: both are the same word.
    private static string Bare(string words) => string.Create(words.Length, words, static (letters, from) =>
        {
            for (var i = 0; i < from.Length; i++)
            {
                letters[i] = from[i] switch
                {
                    'á' => 'a',
                    'é' => 'e',
                    'í' => 'i',
                    'ó' => 'o',
                    'ú' or 'ü' => 'u',
                    var other => other,
                };
            }
        });

    private static readonly ImmutableArray<(string Phrase, SpokenPart Spoken)> LongestFirst =
    [
        .. Phrases.OrderByDescending(x => x.Phrase.Length).ThenBy(x => x.Phrase, StringComparer.Ordinal),
    ];

    /// <summary>Whether a defect on a part stops the machine until a technician has looked.</summary>
    public static bool IsSafetyCritical(MachinePart part) => SafetyOf(part) != SafetyPart.None;

    /// <summary>The safety-critical thing that a part stands for when nothing closer is known of it.</summary>
    public static SafetyPart SafetyOf(MachinePart part) =>
        part switch
        {
            MachinePart.Brakes => SafetyPart.Brakes,
            MachinePart.Steering => SafetyPart.Steering,
            MachinePart.Structure => SafetyPart.Structure,
            MachinePart.FrameAndBelt => SafetyPart.SeatBelt,
            MachinePart.StopsAndAlarms => SafetyPart.StopButton,
            MachinePart.Coupler => SafetyPart.Coupler,
            _ => SafetyPart.None,
        };

    /// <summary>The part of a safety-critical thing.</summary>
    public static MachinePart Of(SafetyPart safety) =>
        safety switch
        {
            SafetyPart.Brakes => MachinePart.Brakes,
            SafetyPart.Steering => MachinePart.Steering,
            SafetyPart.Structure => MachinePart.Structure,
            SafetyPart.RollOverFrame or SafetyPart.SeatBelt => MachinePart.FrameAndBelt,
            SafetyPart.StopButton or SafetyPart.ControlLock or SafetyPart.Alarm => MachinePart.StopsAndAlarms,
            SafetyPart.Coupler => MachinePart.Coupler,
            SafetyPart.WheelNuts or SafetyPart.Tyre => MachinePart.TyresAndWheels,
            SafetyPart.HoseNearPerson => MachinePart.Hoses,
            SafetyPart.FuelNearHeat => MachinePart.Engine,
            _ => MachinePart.Other,
        };

    /// <summary>The part that a check guards: what it names, or goes by its safety-critical thing, or by its compartment.</summary>
    public static MachinePart Of(WalkCheck check) =>
        check.Part
        ?? (
            check.Safety != SafetyPart.None ? Of(check.Safety)
            : check.Code.Contains("hose", StringComparison.Ordinal) ? MachinePart.Hoses
            : OfCompartment(check.Compartment)
        );

    /// <summary>The part that a compartment belongs to.</summary>
    /// <param name="compartment">Its code.</param>
    public static MachinePart OfCompartment(string compartment) =>
        compartment switch
        {
            "engine" or "fuel" or "air" or "cooling" or "aftertreatment" => MachinePart.Engine,
            "hydraulic" => MachinePart.Hydraulics,
            "electrical" => MachinePart.Electrics,
            "wheels" => MachinePart.TyresAndWheels,
            "tracks" or "transmission" or "driveline" or "swing-drive" or "swing-bearing" or "pivot-shaft" => MachinePart.Drive,
            "cab" or "structure" => MachinePart.Body,
            var code when code.StartsWith("axle", StringComparison.Ordinal) => MachinePart.Drive,
            var code when code.StartsWith("final-drive", StringComparison.Ordinal) => MachinePart.Drive,
            _ => MachinePart.Other,
        };

    /// <summary>What the words of a defect speak of, gravest first; empty when they name no part.</summary>
    /// <param name="words">As somebody typed them.</param>
    public static ImmutableArray<SpokenPart> Said(string? words)
    {
        var left =
            $" {string.Join(' ', Bare((words ?? "").ToLowerInvariant()).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries))}";
        var said = ImmutableArray.CreateBuilder<SpokenPart>();
        foreach (var (phrase, spoken) in LongestFirst)
        {
            // Whatever a longer phrase has taken speaks for nothing else.
            for (var at = Start(left, phrase); at >= 0; at = Start(left, phrase))
            {
                left = string.Concat(left.AsSpan(0, at), new string('\u0001', phrase.Length), left.AsSpan(at + phrase.Length));
                said.Add(spoken);
            }
        }

        return [.. said.Distinct().OrderByDescending(x => x.Least).ThenBy(x => x.Part)];
    }

    /// <summary>The parts to offer for words, the likeliest first.</summary>
    public static ImmutableArray<MachinePart> Proposed(string? words) => [.. Said(words).Select(x => x.Part).Distinct()];

    /// <summary>All parts, those that the words speak of first and <see cref="MachinePart.Other"/> last.</summary>
    public static ImmutableArray<MachinePart> Offered(string? words) =>
        [.. Proposed(words).Concat(Enum.GetValues<MachinePart>().Skip(1)).Append(MachinePart.Other).Distinct()];

    /// <summary>The grade below which a defect is not taken in: of the part that was tapped and the words, the higher counts.</summary>
    public static SpokenPart Floor(MachinePart part, string? words)
    {
        var tapped = new SpokenPart(part, SafetyOf(part), DefectRules.GradeOf(DefectGrade.Watch, SafetyOf(part)));
        return Said(words).FirstOrDefault(x => x.Least > tapped.Least) is { } spoken
            ? tapped with
            {
                Safety = spoken.Safety,
                Least = spoken.Least,
            }
            : tapped;
    }

    // A phrase begins where a word begins: "cord" is not in "record".
    private static int Start(string text, string phrase)
    {
        for (var at = text.IndexOf(phrase, StringComparison.Ordinal); at >= 0; at = text.IndexOf(phrase, at + 1, StringComparison.Ordinal))
        {
            if (at == 0 || !char.IsLetterOrDigit(text[at - 1]))
                return at;
        }

        return -1;
    }

    private static IEnumerable<(string, SpokenPart)> Spoken(MachinePart part, SafetyPart safety, params string[] phrases) =>
        Spoken(part, safety, DefectRules.GradeOf(DefectGrade.Watch, safety), phrases);

    private static IEnumerable<(string, SpokenPart)> Spoken(
        MachinePart part,
        SafetyPart safety,
        DefectGrade least,
        params string[] phrases
    ) => phrases.Select(x => (x, new SpokenPart(part, safety, least)));
}
