using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.Kinds;
using Nippers.App.Languages;
using Nippers.App.Machines;
using Nippers.App.Readings;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Fleet;

namespace Nippers.Demo;

/// <summary>
/// What Mara made herself a few weeks ago: a slipform machine from the cold planer, with checks of its own, in both languages, and the
/// first machine of it. Made as a planner makes it, through the same doors.
/// </summary>
internal static class DemoOwnKind
{
    private const string Name = "Slipform machine";
    private const string Unit = "SF-01";
    private static readonly Actor Mara = new("Mara Quill", Roles.Planner);

    // What a planer has under it, and a slipform machine has not.
    private static readonly string[] NotOnIt = ["teeth", "tooth-holders", "ejectors", "holder-wear", "drum-interlock", "drive-belt"];

    private static readonly (WalkCheckInput Check, string Spanish)[] Own =
    [
        (
            new()
            {
                Code = "mould",
                Name = "Mould and side plates: cracks, pins, lift",
                Station = "drum",
                Kind = CheckKind.Look,
                Grade = DefectGrade.Limit,
                Caution = "Nobody under the mould or reaching into it: it hangs on hydraulics until its locks are in.",
            },
            "Molde y placas laterales: grietas, pasadores, izaje"
        ),
        (
            new()
            {
                Code = "vibrators",
                Name = "Vibrators: hoses and leads whole, none hangs on the mould",
                Station = "drum",
                Kind = CheckKind.Look,
            },
            "Vibradores: mangueras y cables enteros, ninguno cuelga del molde"
        ),
        (
            new()
            {
                Code = "line-sensors",
                Name = "Line sensors, height and steering: wands free, arms locked, leads whole",
                Station = "left",
                Kind = CheckKind.Look,
                Grade = DefectGrade.Limit,
            },
            "Sensores de línea, altura y dirección: varillas libres, brazos trabados, cables enteros"
        ),
        (
            new()
            {
                Code = "augers",
                Name = "Spreading auger and its guards: worn flights, bolts, mesh shut",
                Station = "drum",
                Kind = CheckKind.Look,
                Grade = DefectGrade.Limit,
            },
            "Sinfín repartidor y sus guardas: hélices gastadas, pernos, malla cerrada"
        ),
        (
            new()
            {
                Code = "line-lost",
                Name = "A wand moved off the line, travel lever in neutral: the stand shows it",
                Station = "cab",
                Kind = CheckKind.Test,
                Engine = EngineState.Running,
                Grade = DefectGrade.Stop,
                Caution = "Travel lever in neutral, park brake on. Whoever moves the wand is clear of tracks and mould, and in sight.",
            },
            "Una varilla fuera de la línea, palanca de marcha en neutro: el puesto lo muestra"
        ),
    ];

    private static readonly (string Text, string Spanish)[] Words =
    [
        (Name, "Máquina de moldes deslizantes"),
        (
            "Nobody under the mould or reaching into it: it hangs on hydraulics until its locks are in.",
            "Nadie debajo del molde ni con las manos en él: cuelga de la hidráulica hasta poner sus trabas."
        ),
        (
            "Travel lever in neutral, park brake on. Whoever moves the wand is clear of tracks and mould, and in sight.",
            "Palanca de marcha en neutro, freno puesto. Quien mueve la varilla está lejos de orugas y molde, y a la vista."
        ),
    ];

    /// <summary>Makes it in a fleet that is there.</summary>
    public static async Task Make(IServiceProvider services, DateOnly today, CancellationToken ct)
    {
        var kind = Done(await services.GetRequiredService<KindCatalog>().Copy(MachineKind.Of("cold-planer"), Name, Mara, ct));
        var (list, program) = (kind.Lists[0].Code, kind.Programs[0].Code);
        var lists = services.GetRequiredService<ChangeWalkList>();
        var inputs = NotOnIt.Select(x => new WalkCheckInput { OldCode = x, Remove = true }).Concat(Own.Select(x => x.Check));
        foreach (var input in inputs)
        {
            var version = (await lists.One(list, ct))!.List.Version;
            Done(await lists.SaveCheck(list, version, input, Mara, ct));
        }

        Done(
            await services
                .GetRequiredService<PhraseBook>()
                .Save(
                    "es",
                    [.. Own.Select(x => (x.Check.Name!, (string?)x.Spanish)), .. Words.Select(x => (x.Text, (string?)x.Spanish))],
                    Mara,
                    ct
                )
        );
        Done(
            await services
                .GetRequiredService<SaveMachine>()
                .Run(
                    new()
                    {
                        Unit = Unit,
                        Kind = kind.Kind,
                        Make = "Brennock",
                        Model = "BS 2",
                        Serial = "BS20-09",
                        Site = await services
                            .GetRequiredService<NippersDb>()
                            .Machines.Where(x => x.Unit == "CP-01")
                            .Select(x => x.Site.Name)
                            .SingleAsync(ct),
                        Program = program,
                        CommissionedOn = today.AddDays(-24).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
                        CommissionedHours = "4.2",
                        PlannedHoursPerDay = "3",
                    },
                    Mara,
                    ct
                )
        );
        Done(
            await services.GetRequiredService<LogReading>().Run(new(Unit, "61.5", At: DemoDatabase.MorningOf(today).AddDays(-1)), Mara, ct)
        );
    }

    private static T Done<T>(Outcome<T> outcome)
        where T : class =>
        outcome.Done ? outcome.Value! : throw new InvalidOperationException($"The demo's own kind was refused: {outcome.Refusals[0]}");
}
