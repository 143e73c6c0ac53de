using Microsoft.EntityFrameworkCore;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Core.Oil;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Oil;
using Nippers.Data.Programs;
using Nippers.Data.Queries;

namespace Nippers.App.Oil;

/// <summary>The oil in a compartment at some hours.</summary>
/// <param name="OilHours">Hours on it; null when the last change is not on record.</param>
/// <param name="AddedLitres">Litres added since.</param>
/// <param name="Fluid">Its name; empty when not known.</param>
public sealed record OilInIt(MeterHours? OilHours, double AddedLitres, string Fluid);

/// <summary>A compartment that is sampled.</summary>
/// <param name="Compartment">The program's compartment.</param>
/// <param name="Kind">Where the oil works.</param>
/// <param name="Item">The item that samples it.</param>
/// <param name="Own">What the machine's manual says of it; null when nothing was entered.</param>
public sealed record SampledPlace(ProgramCompartment Compartment, OilKind Kind, ProgramItem Item, MachineCompartment? Own)
{
    /// <summary>Hours between samples under the machine's duty; the reference hours where only the calendar counts.</summary>
    public double IntervalHours(Duty duty) => Item.ForDue().Interval(duty) ?? LimitSet.ReferenceHours(Kind);

    /// <summary>How it is drawn when its oil stays in.</summary>
    public DrawMethod Method => Drawing.MethodOf(Kind, Compartment.Traits.Split(' ').Contains("liveport"), drainsToday: false);
}

/// <summary>What judging oil needs to know of machines, fluids and limits.</summary>
public sealed class OilCatalog(NippersDb db)
{
    /// <summary>Where the oil of a compartment works; null where there is none to sample.</summary>
    public static OilKind? KindOf(ProgramCompartment compartment) =>
        compartment.Kind switch
        {
            CompartmentKind.Engine => OilKind.Engine,
            CompartmentKind.Hydraulic => OilKind.Hydraulic,
            CompartmentKind.Transmission => OilKind.Transmission,
            CompartmentKind.Gear => OilKind.Gear,
            CompartmentKind.Undercarriage or CompartmentKind.Attachment when compartment.Stream == "oil" => OilKind.Gear,
            _ => null,
        };

    /// <summary>Compartments of a machine that its program samples, in the order of the program.</summary>
    /// <param name="machine">With its compartments.</param>
    /// <param name="program">With items and compartments.</param>
    public static IReadOnlyList<SampledPlace> Places(Machine machine, ServiceProgram program)
    {
        var options = machine.OptionWords;
        return
        [
            .. program
                .Items.Where(x => x.Work == ItemWork.Sample && !x.Off && OptionRule.Holds(x.Needs, options))
                .OrderBy(x => x.Position)
                .Select(x => (Item: x, Place: program.Compartments.Find(c => c.Code == x.Compartment)))
                .Where(x => x.Place is not null && KindOf(x.Place) is not null)
                .Select(x => new SampledPlace(
                    x.Place!,
                    KindOf(x.Place!)!.Value,
                    x.Item,
                    machine.Compartments.Find(c => c.Code == x.Item.Compartment)
                )),
        ];
    }

    /// <summary>A machine with its compartments and its program; null when there is none such.</summary>
    public async Task<Machine?> Load(string unit, CancellationToken ct)
    {
        var machine = await db
            .Machines.AsNoTracking()
            .Include(x => x.Site)
            .Include(x => x.WalkList)
            .Include(x => x.Compartments)
            .SingleOrDefaultAsync(x => x.Unit == unit, ct);
        if (machine is not null)
            machine.Program = (await db.ProgramsWithItems([machine.ProgramId], ct))[machine.ProgramId];
        return machine;
    }

    /// <summary>The oil in a compartment at some hours.</summary>
    /// <param name="machine">The machine.</param>
    /// <param name="compartment">Code of the compartment.</param>
    /// <param name="lifeHours">Life hours.</param>
    /// <param name="exceptBatch">Work that is recorded together with the sample: it was drawn before the oil was changed.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<OilInIt> InIt(Machine machine, string compartment, MeterHours lifeHours, string? exceptBatch, CancellationToken ct)
    {
        var changed = await db
            .Completions.Where(x =>
                x.MachineId == machine.Id
                && x.LifeHours <= lifeHours
                && x.Batch != exceptBatch
                && db.ProgramItems.Any(i =>
                    i.ProgramId == machine.ProgramId && i.Code == x.ItemCode && i.Compartment == compartment && i.Work == ItemWork.Fluid
                )
            )
            .MaxAsync(x => (MeterHours?)x.LifeHours, ct);

        // Since new and never changed: it is the oil that it came with.
        changed ??= machine.History == History.SinceNew ? machine.CommissionedHours : null;
        var since = changed ?? MeterHours.Zero;
        var added = (
            await db
                .TopUps.Where(x =>
                    x.MachineId == machine.Id && x.Compartment == compartment && x.LifeHours >= since && x.LifeHours <= lifeHours
                )
                .Select(x => x.Litres)
                .ToListAsync(ct)
        ).Total();
        var fluid = await db
            .MachineCompartments.Where(x => x.MachineId == machine.Id && x.Code == compartment)
            .Select(x => x.Fluid)
            .FirstOrDefaultAsync(ct)
            ?? "";
        return new(changed is { } at ? lifeHours - at : null, Math.Round(added.Value, 2), fluid);
    }

    /// <summary>Grade and family of a fluid in a kind of place.</summary>
    public async Task<(string Grade, string Family)> GradeOf(string fluid, OilKind kind, CancellationToken ct)
    {
        var known = await db.NewOils.AsNoTracking().SingleOrDefaultAsync(x => x.Fluid == fluid, ct);
        var grade = known is { Grade.Length: > 0 } ? known.Grade : ViscosityGrade.Guess(fluid, kind) ?? "";
        return (grade, known is { Family.Length: > 0 } ? known.Family : grade);
    }

    /// <summary>Figures of a fluid when new.</summary>
    public async Task<NewOil> NewOf(string fluid, CancellationToken ct) =>
        await db.NewOils.AsNoTracking().SingleOrDefaultAsync(x => x.Fluid == fluid, ct) is { } row ? ToNew(row) : NewOil.Unknown;

    internal static NewOil ToNew(NewOilRow row) =>
        new(row.Viscosity, row.Tbn, row.Tan, row.Oxidation, row.Additives.Length == 0 ? null : OilCase.ReadValues(row.Additives));

    /// <summary>
    /// The limits that count: set for the compartment, else the fleet's own, else the starting ones as planners left them.
    /// </summary>
    public async Task<LimitSet> Limits(OilKind kind, string family, int? machineId, string compartment, CancellationToken ct)
    {
        var set = await db
            .OilLimits.AsNoTracking()
            .Where(x => (x.MachineId == null && x.Kind == kind) || (x.MachineId == machineId && x.Compartment == compartment))
            .ToListAsync(ct);
        var own = await db.FleetLimits.AsNoTracking().Where(x => x.Kind == kind && x.Family == family).ToListAsync(ct);
        return Limits(kind, set.Where(x => x.MachineId is null), own, set.Where(x => x.MachineId is not null));
    }

    internal static LimitSet Limits(
        OilKind kind,
        IEnumerable<LimitRow> defaults,
        IEnumerable<FleetLimitRow> own,
        IEnumerable<LimitRow> compartment
    )
    {
        var starting = Add(LimitSet.Starting(kind), defaults, LimitSource.Starting);
        var withOwn = starting.With(
            own.Where(x => Measurands.Parse(x.Measurand) is { } known && starting[known] is not null)
                .Select(x =>
                    KeyValuePair.Create(Measurands.Parse(x.Measurand)!.Value, new OilLimit(x.Watch, x.Act, LimitSource.Own, x.Values))
                )
        );
        return Add(withOwn, compartment, LimitSource.Compartment);
    }

    private static LimitSet Add(LimitSet limits, IEnumerable<LimitRow> rows, LimitSource source)
    {
        var list = rows.ToList();
        return limits.With(
            list.Where(x => Measurands.Parse(x.Measurand) is { } known && Measurands.Limited.Contains(known))
                .Select(x => KeyValuePair.Create(Measurands.Parse(x.Measurand)!.Value, new OilLimit(x.Watch, x.Act, source))),
            list.Where(x => x.Measurand == Measurand.Iso.Code()).Select(x => Iso4406Code.Parse(x.Target)).FirstOrDefault()
        );
    }

    /// <summary>
    /// Comparable values of the last earlier samples of a compartment, oldest first. Wear that does not compare is left out.
    /// </summary>
    public async Task<IReadOnlyList<EarlierSample>> Earlier(
        int machineId,
        string compartment,
        MeterHours lifeHours,
        long exceptId,
        CancellationToken ct
    )
    {
        var rows = await db
            .Judgements.AsNoTracking()
            .Join(
                db.Samples,
                x => x.SampleId,
                x => x.Id,
                (j, s) =>
                    new
                    {
                        j.Values,
                        j.WearCompares,
                        Sample = s,
                    }
            )
            .Where(x =>
                x.Sample.MachineId == machineId
                && x.Sample.Compartment == compartment
                && x.Sample.LifeHours <= lifeHours
                && x.Sample.Id != exceptId
                && !x.Sample.DrawnWrong
            )
            .OrderByDescending(x => x.Sample.LifeHours)
            .ThenByDescending(x => x.Sample.TakenAt)
            .Take(EarlierKept)
            .Select(x => new
            {
                x.Values,
                x.WearCompares,
                x.Sample.LifeHours,
            })
            .ToListAsync(ct);
        rows.Reverse();
        return [.. rows.Select(x => new EarlierSample(x.LifeHours.Value, Comparing(OilCase.ReadValues(x.Values), x.WearCompares)))];
    }

    /// <summary>Six values count; more samples than that are kept, since not every one has a value of everything.</summary>
    private const int EarlierKept = 12;

    private static Measures Comparing(Measures values, bool wear) =>
        wear ? values : Measures.Of(values.All.Where(x => !x.Measurand.IsWear()).Select(x => KeyValuePair.Create(x.Measurand, x.Value)));
}
