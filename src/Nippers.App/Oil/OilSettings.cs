using Microsoft.EntityFrameworkCore;
using Nippers.Core.Hours;
using Nippers.Core.Oil;
using Nippers.Data;
using Nippers.Data.Oil;

namespace Nippers.App.Oil;

/// <summary>One limit as entered; empty texts take the next source down.</summary>
public sealed record LimitInput(string Measurand, string? Watch, string? Act);

/// <summary>Limits as entered, for a kind of place or for one compartment.</summary>
public sealed record LimitsInput(OilKind Kind, string? Unit, string? Compartment, IReadOnlyList<LimitInput> Limits, string? Target);

/// <summary>A sample whose advice would change.</summary>
public sealed record ChangedAdvice(
    long SampleId,
    string Unit,
    string Compartment,
    string Bottle,
    DateOnly On,
    Assessment Before,
    Assessment After
);

/// <summary>Limits of a place with where they come from.</summary>
/// <param name="Set">What counts.</param>
/// <param name="Below">What counts where nothing is entered here.</param>
/// <param name="Entered">What is entered here.</param>
public sealed record LimitsPage(
    OilKind Kind,
    string? Unit,
    string? Compartment,
    string Name,
    LimitSet Set,
    LimitSet Below,
    IReadOnlyList<LimitRow> Entered
);

/// <summary>What a change of limits would do, before it is kept.</summary>
/// <param name="Looked">How many samples were looked at.</param>
/// <param name="Changed">Those whose advice would change.</param>
public sealed record LimitsPreview(int Looked, IReadOnlyList<ChangedAdvice> Changed);

/// <summary>Reads and changes limits: what verdicts would change is shown before they are kept.</summary>
public sealed class OilLimits(NippersDb db, UnitOfWork writes, OilCatalog book, JudgeSample judge)
{
    private const double Most = 1_000_000;
    private const int LookBackDays = 365;
    private const int MostLooked = 2000;

    public async Task<LimitsPage?> Page(OilKind kind, string? unit, string? compartment, CancellationToken ct)
    {
        if (unit is null)
        {
            var defaults = await db.OilLimits.AsNoTracking().Where(x => x.MachineId == null && x.Kind == kind).ToListAsync(ct);
            return new(kind, null, null, "", OilCatalog.Limits(kind, defaults, [], []), LimitSet.Starting(kind), defaults);
        }

        var machine = await book.Load(unit, ct);
        var place = machine is null
            ? null
            : OilCatalog.Places(machine, machine.Program).FirstOrDefault(x => x.Compartment.Code == compartment);
        if (place is null)
            return null;
        var (_, family) = await book.GradeOf(place.Own?.Fluid ?? "", place.Kind, ct);
        var entered = await db
            .OilLimits.AsNoTracking()
            .Where(x => x.MachineId == machine!.Id && x.Compartment == compartment)
            .ToListAsync(ct);
        return new(
            place.Kind,
            unit,
            compartment,
            place.Compartment.Name,
            await book.Limits(place.Kind, family, machine!.Id, compartment!, ct),
            await book.Limits(place.Kind, family, null, "", ct),
            entered
        );
    }

    /// <summary>What would change; nothing is kept.</summary>
    public async Task<Outcome<LimitsPreview>> Preview(LimitsInput input, CancellationToken ct)
    {
        var (rows, machineId, refusals) = await Read(input, ct);
        return refusals.Count > 0
            ? Outcome<LimitsPreview>.Refused(refusals)
            : Outcome<LimitsPreview>.Of(await Compare(input, rows, machineId, ct));
    }

    /// <summary>Keeps them, and advises anew on samples that nobody has signed.</summary>
    public Task<Outcome<LimitsPreview>> Save(LimitsInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var (rows, machineId, refusals) = await Read(input, ct);
                if (refusals.Count > 0)
                    return Outcome<LimitsPreview>.Refused(refusals);
                var preview = await Compare(input, rows, machineId, ct);
                var old = await db
                    .OilLimits.Where(x =>
                        machineId == null
                            ? x.MachineId == null && x.Kind == input.Kind
                            : x.MachineId == machineId && x.Compartment == input.Compartment
                    )
                    .ToListAsync(ct);
                db.OilLimits.RemoveRange(old);
                await db.SaveChangesAsync(ct);
                db.OilLimits.AddRange(rows);
                writes.Audit(
                    actor,
                    "oilLimits.save",
                    input.Unit is null ? input.Kind.ToString() : $"{input.Unit} {input.Compartment}",
                    machineId,
                    old.Select(x => new
                    {
                        x.Measurand,
                        x.Watch,
                        x.Act,
                        x.Target,
                    }),
                    rows.Select(x => new
                    {
                        x.Measurand,
                        x.Watch,
                        x.Act,
                        x.Target,
                    })
                );
                await db.SaveChangesAsync(ct);
                await judge.Anew(
                    db.Samples.Where(x =>
                        machineId == null ? x.Kind == input.Kind : x.MachineId == machineId && x.Compartment == input.Compartment
                    ),
                    ct
                );
                return Outcome<LimitsPreview>.Of(preview);
            },
            ct
        );

    private async Task<LimitsPreview> Compare(LimitsInput input, List<LimitRow> rows, int? machineId, CancellationToken ct)
    {
        var since = DateOnly.FromDateTime(writes.Now.UtcDateTime).AddDays(-LookBackDays);
        var samples = await db
            .Samples.AsNoTracking()
            .Where(x =>
                x.Advised != null
                && x.On >= since
                && (machineId == null ? x.Kind == input.Kind : x.MachineId == machineId && x.Compartment == input.Compartment)
            )
            .OrderByDescending(x => x.On)
            .ThenByDescending(x => x.Id)
            .Take(MostLooked)
            .Join(
                db.Judgements,
                x => x.Id,
                x => x.SampleId,
                (s, j) =>
                    new
                    {
                        Sample = s,
                        s.Machine.Unit,
                        j.Whole,
                    }
            )
            .ToListAsync(ct);
        var own = (await db.FleetLimits.AsNoTracking().Where(x => x.Kind == input.Kind).ToListAsync(ct)).ToLookup(
            x => x.Family,
            StringComparer.Ordinal
        );
        var set = await db.OilLimits.AsNoTracking().Where(x => x.Kind == input.Kind).ToListAsync(ct);
        var defaults = machineId is null ? rows : set.Where(x => x.MachineId is null).ToList();
        var changed = new List<ChangedAdvice>();
        foreach (var x in samples)
        {
            var compartment = machineId is null
                ? set.Where(y => y.MachineId == x.Sample.MachineId && y.Compartment == x.Sample.Compartment)
                : rows;
            var after = (OilCase.Read(x.Whole) with { Limits = OilCatalog.Limits(input.Kind, defaults, own[x.Sample.Family], compartment) })
                .Judge()
                .Assessment;
            if (after != x.Sample.Advised)
                changed.Add(new(x.Sample.Id, x.Unit, x.Sample.Compartment, x.Sample.Bottle, x.Sample.On, x.Sample.Advised!.Value, after));
        }

        return new(samples.Count, changed);
    }

    private async Task<(List<LimitRow> Rows, int? MachineId, List<Refusal> Refusals)> Read(LimitsInput input, CancellationToken ct)
    {
        var refusals = new List<Refusal>();
        int? machineId = null;
        if (input.Unit is { } unit)
        {
            machineId = await db.Machines.Where(x => x.Unit == unit).Select(x => (int?)x.Id).SingleOrDefaultAsync(ct);
            if (machineId is null)
                refusals.Add(Refusals.NoSuchUnit("", unit, Array.Empty<string>()));
        }

        var rows = new List<LimitRow>();
        foreach (var entered in input.Limits)
        {
            if (Measurands.Parse(entered.Measurand) is not { } measurand || !Measurands.Limited.Contains(measurand))
                continue;
            var watch = Typed.Optional(entered.Watch, $"watch-{entered.Measurand}", 0, Most, refusals);
            var act = Typed.Optional(entered.Act, $"act-{entered.Measurand}", 0, Most, refusals);
            if (watch is null && act is null)
                continue;
            if (watch is null || act is null)
                refusals.Add(Refusals.LimitsBoth(watch is null ? $"watch-{entered.Measurand}" : $"act-{entered.Measurand}"));
            else if (watch <= 0)
                refusals.Add(Refusals.AboveZero($"watch-{entered.Measurand}"));
            else if (act <= watch)
                refusals.Add(Refusals.ActAboveWatch($"act-{entered.Measurand}"));
            else
                rows.Add(
                    new()
                    {
                        Kind = input.Kind,
                        MachineId = machineId,
                        Compartment = input.Compartment ?? "",
                        Measurand = entered.Measurand,
                        Watch = watch.Value,
                        Act = act.Value,
                    }
                );
        }

        if (!string.IsNullOrWhiteSpace(input.Target))
        {
            if (Iso4406Code.Parse(input.Target) is { } target)
                rows.Add(
                    new()
                    {
                        Kind = input.Kind,
                        MachineId = machineId,
                        Compartment = input.Compartment ?? "",
                        Measurand = Measurand.Iso.Code(),
                        Target = target.ToString(),
                    }
                );
            else
                refusals.Add(Refusals.LabIso("target"));
        }

        return (rows, machineId, refusals);
    }
}

/// <summary>A fluid's figures when new, as entered.</summary>
public sealed record NewOilInput(
    int Version,
    string? Grade,
    string? Family,
    string? Viscosity,
    string? Tbn,
    string? Tan,
    string? Oxidation,
    IReadOnlyDictionary<string, string?> Additives,
    NewOilSource Source
);

/// <summary>A fluid with what is known of it when new.</summary>
public sealed record FluidPage(string Fluid, NewOilRow? Row, int Compartments);

/// <summary>Reads and keeps figures of new oils.</summary>
public sealed class NewOils(NippersDb db, UnitOfWork writes, OilCatalog book, JudgeSample judge)
{
    public async Task<IReadOnlyList<FluidPage>> List(CancellationToken ct)
    {
        var used = await db
            .MachineCompartments.Where(x => x.Fluid != "")
            .GroupBy(x => x.Fluid)
            .Select(x => new { x.Key, Count = x.Count() })
            .ToDictionaryAsync(x => x.Key, x => x.Count, ct);
        var rows = await db.NewOils.AsNoTracking().ToDictionaryAsync(x => x.Fluid, StringComparer.Ordinal, ct);
        var priced = await db.Fluids.Select(x => x.Name).ToListAsync(ct);
        return
        [
            .. used
                .Keys.Union(rows.Keys)
                .Union(priced)
                .Order(StringComparer.Ordinal)
                .Select(x => new FluidPage(x, rows.GetValueOrDefault(x), used.GetValueOrDefault(x))),
        ];
    }

    public async Task<FluidPage?> One(string fluid, CancellationToken ct) => (await List(ct)).FirstOrDefault(x => x.Fluid == fluid);

    public Task<Outcome<NewOilRow>> Save(string fluid, NewOilInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                if (await One(fluid, ct) is null)
                    return Outcome<NewOilRow>.Refused(Refusals.NoSuchFluid(fluid));
                var row = await db.NewOils.SingleOrDefaultAsync(x => x.Fluid == fluid, ct);
                if ((row?.Version ?? 0) != input.Version)
                    return Outcome<NewOilRow>.Refused(Refusals.ChangedMeanwhile());
                var grade = Typed.Words(input.Grade, "grade", 30, refusals);
                var family = Typed.Words(input.Family, "family", 40, refusals);
                var viscosity = Typed.Optional(input.Viscosity, "viscosity", 0.5, 5000, refusals);
                var tbn = Typed.Optional(input.Tbn, "tbn", 0, 100, refusals);
                var tan = Typed.Optional(input.Tan, "tan", 0, 50, refusals);
                var oxidation = Typed.Optional(input.Oxidation, "oxidation", 0, 200, refusals);
                var additives = new Dictionary<Measurand, double>();
                foreach (var measurand in Measurands.Additives)
                {
                    if (
                        Typed.Optional(input.Additives.GetValueOrDefault(measurand.Code()), measurand.Code(), 0, 20_000, refusals) is
                        { } ppm
                    )
                        additives[measurand] = ppm;
                }

                if (refusals.Count > 0)
                    return Outcome<NewOilRow>.Refused(refusals);
                if (row is null)
                    db.NewOils.Add(row = new() { Fluid = fluid });
                var before = new
                {
                    row.Grade,
                    row.Family,
                    row.Viscosity,
                    row.Tbn,
                    row.Tan,
                    row.Oxidation,
                    row.Additives,
                };
                (row.Grade, row.Family, row.Viscosity, row.Tbn, row.Tan, row.Oxidation, row.Source) = (
                    grade,
                    family,
                    viscosity,
                    tbn,
                    tan,
                    oxidation,
                    input.Source
                );
                row.Additives = additives.Count == 0 ? "" : OilCase.WriteValues(Measures.Of(additives));
                (row.By, row.At) = (actor.Name, writes.Now);
                row.Version++;
                writes.Audit(
                    actor,
                    "newOil.save",
                    fluid,
                    null,
                    before,
                    new
                    {
                        row.Grade,
                        row.Family,
                        row.Viscosity,
                        row.Tbn,
                        row.Tan,
                        row.Oxidation,
                        row.Additives,
                        row.Source,
                    }
                );
                await Follow(fluid, ct);
                return Outcome<NewOilRow>.Of(row);
            },
            ct
        );

    /// <summary>Takes the figures of a reference sample: new oil that was drawn from the drum and measured.</summary>
    public Task<Outcome<NewOilRow>> FromSample(long sampleId, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var sample = await db.Samples.AsNoTracking().SingleOrDefaultAsync(x => x.Id == sampleId, ct);
                var report = await db.Reports.AsNoTracking().SingleOrDefaultAsync(x => x.SampleId == sampleId && x.ReplacedAt == null, ct);
                if (sample is null || report is null)
                    return Outcome<NewOilRow>.Refused(Refusals.SampleNotReported());
                if (sample.Fluid.Length == 0)
                    return Outcome<NewOilRow>.Refused(Refusals.NoFluid());
                if (!(sample.OilHours <= ReferenceHours))
                    return Outcome<NewOilRow>.Refused(Refusals.OilNotNew(ReferenceHours));
                var (figures, _) = OilCase.Numbers(report.Figures);
                var row = await db.NewOils.SingleOrDefaultAsync(x => x.Fluid == sample.Fluid, ct);
                if (row is null)
                    db.NewOils.Add(
                        row = new()
                        {
                            Fluid = sample.Fluid,
                            Grade = sample.Grade,
                            Family = sample.Family,
                        }
                    );
                var grade = sample.Grade.Length > 0 ? ViscosityGrade.Of(sample.Grade) : null;
                row.Viscosity = (grade is null ? null : figures[grade.Measured]) ?? row.Viscosity;
                (row.Tbn, row.Tan, row.Oxidation) = (
                    figures[Measurand.Tbn] ?? row.Tbn,
                    figures[Measurand.Tan] ?? row.Tan,
                    figures[Measurand.Oxidation] ?? row.Oxidation
                );
                var additives = Measurands
                    .Additives.Where(x => figures[x] is not null)
                    .Select(x => KeyValuePair.Create(x, figures[x]!.Value))
                    .ToList();
                if (additives.Count > 0)
                    row.Additives = OilCase.WriteValues(Measures.Of(additives));
                (row.Source, row.By, row.At) = (NewOilSource.ReferenceSample, actor.Name, writes.Now);
                row.Version++;
                writes.Audit(actor, "newOil.fromSample", sample.Fluid, null, null, new { sample.Bottle });
                await Follow(sample.Fluid, ct);
                return Outcome<NewOilRow>.Of(row);
            },
            ct
        );

    /// <summary>Samples of the fluid that nobody has signed follow what is known of it now.</summary>
    private async Task Follow(string fluid, CancellationToken ct)
    {
        await db.SaveChangesAsync(ct);
        foreach (var sample in await db.Samples.Where(x => x.Fluid == fluid && x.State != SampleState.Judged).ToListAsync(ct))
        {
            (sample.Grade, sample.Family) = await book.GradeOf(fluid, sample.Kind, ct);
        }

        await db.SaveChangesAsync(ct);
        await judge.Anew(db.Samples.Where(x => x.Fluid == fluid), ct);
    }

    /// <summary>Oil of at most these hours passes for new.</summary>
    public static readonly MeterHours ReferenceHours = new(100);
}

/// <summary>A laboratory, as entered.</summary>
public sealed record LabInput(int? Id, int Version, string? Name, string? Url, string? Token, bool Usual, bool OwnNetwork = false);

/// <summary>Reads and keeps laboratories.</summary>
public sealed class Labs(NippersDb db, UnitOfWork writes, ISecrets secrets)
{
    public async Task<IReadOnlyList<LabRow>> List(CancellationToken ct) =>
        await db.Labs.AsNoTracking().OrderByDescending(x => x.Usual).ThenBy(x => x.Name).ToListAsync(ct);

    public Task<Outcome<LabRow>> Save(LabInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                var row = input.Id is { } id ? await db.Labs.SingleOrDefaultAsync(x => x.Id == id, ct) : null;
                if (input.Id is not null && (row is null || row.Version != input.Version))
                    return Outcome<LabRow>.Refused(Refusals.ChangedMeanwhile());
                var name = Typed.Words(input.Name, "name", 60, refusals, needed: true);
                var url = Typed.Words(input.Url, "url", 200, refusals).TrimEnd('/');
                var token = Typed.Words(input.Token, "token", 200, refusals);
                if (!LabAddress.Fits(url))
                    refusals.Add(Refusals.NotAnAddress());
                else if (!input.OwnNetwork && LabAddress.SaysInside(url))
                    refusals.Add(Refusals.InsideNetwork());
                if (await db.Labs.AnyAsync(x => x.Name == name && x.Id != (input.Id ?? 0), ct))
                    refusals.Add(Refusals.CodeTaken("name", name));
                if (refusals.Count > 0)
                    return Outcome<LabRow>.Refused(refusals);
                if (row is null)
                    db.Labs.Add(row = new() { Name = name });
                if (input.Usual)
                    await db.Labs.Where(x => x.Id != row.Id).ExecuteUpdateAsync(x => x.SetProperty(m => m.Usual, false), ct);
                var before = new
                {
                    row.Name,
                    row.Url,
                    row.OwnNetwork,
                };

                // Another address may be another machine, which counts from its own beginning. Without one, lists go with the box.
                // And no other machine gets the token that was given for this one.
                if (row.Url != url)
                    (row.Cursor, row.Token) = (0, "");
                if (url.Length == 0)
                    await db
                        .Consignments.Where(x => x.LabId == row.Id && x.State == ConsignmentState.Waiting)
                        .ExecuteUpdateAsync(x => x.SetProperty(m => m.State, ConsignmentState.HandedOver), ct);
                (row.Name, row.Url, row.Usual, row.NextAskAt, row.Failures, row.LastFault) = (name, url, input.Usual, null, 0, "");

                // A token is shown to nobody; left empty it stays, as long as the address does.
                if (token.Length > 0)
                    row.Token = secrets.Hide(token);
                row.OwnNetwork = input.OwnNetwork;
                row.Version++;
                writes.Audit(
                    actor,
                    "lab.save",
                    name,
                    null,
                    before,
                    new
                    {
                        row.Name,
                        row.Url,
                        row.OwnNetwork,
                        newToken = token.Length > 0,
                    }
                );
                return Outcome<LabRow>.Of(row);
            },
            ct
        );
}
