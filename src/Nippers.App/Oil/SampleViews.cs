using Microsoft.EntityFrameworkCore;
using Nippers.App.Walks;
using Nippers.Core.Jobs;
using Nippers.Core.Oil;
using Nippers.Core.Service;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Oil;
using Nippers.Data.Queries;

namespace Nippers.App.Oil;

/// <summary>A sample on a line of time.</summary>
/// <param name="Values">Comparable values; none before results.</param>
public sealed record SamplePoint(
    long Id,
    string Bottle,
    DateOnly On,
    double Hours,
    double? OilHours,
    Assessment? Assessment,
    bool IsSigned,
    bool NotTrue,
    Measures Values
);

/// <summary>What happened to the oil of a compartment.</summary>
public enum OilEventKind
{
    Change,
    TopUp,
    Defect,
    Repair,
    Drain,
    Metal,
}

/// <summary>Something on the line of time of a compartment.</summary>
/// <param name="Figure">Litres of a top-up, the new interval of a drain change.</param>
/// <param name="Words">Words of a defect, code of a reason, name of a metal finding.</param>
/// <param name="DefectId">The defect.</param>
public sealed record OilEvent(OilEventKind Kind, double Hours, DateOnly? On, double? Figure, string Words, long? DefectId = null);

/// <summary>A sample with all that belongs to it.</summary>
/// <param name="History">Samples of the compartment, oldest first, this one among them.</param>
/// <param name="OtherOils">Compartments of the machine whose new oil its additives are like.</param>
/// <param name="Plan">The plan of its kind; null when there is none.</param>
/// <param name="Lit">Where the compartment lies on it; null when that is not known.</param>
public sealed record SamplePage(
    SampleRow Sample,
    Machine Machine,
    string Place,
    ReportRow? Report,
    IReadOnlyList<ReportRow> Replaced,
    OilCase? Case,
    OilJudgement? Judgement,
    IReadOnlyList<SamplePoint> History,
    IReadOnlyList<OilEvent> Events,
    IReadOnlyList<string> OtherOils,
    SignedActions? Offer,
    DefectRow? Defect,
    string? Lab,
    DuePoint? Next,
    TimeZoneInfo Zone,
    CheckList? Plan,
    (double X, double Y)? Lit
);

/// <summary>A compartment with its samples and its oil.</summary>
public sealed record CompartmentPage(
    Machine Machine,
    SampledPlace Place,
    LimitSet Limits,
    IReadOnlyList<SamplePoint> Samples,
    IReadOnlyList<OilEvent> Events,
    IReadOnlyList<DrainChangeRow> Drains,
    DrainRule? Rule,
    double? CurrentHours,
    DuePoint? Next,
    double HoursNow,
    OilInIt Oil,
    string Grade,
    DateOnly Today
);

/// <summary>One compartment of the fleet on a comparison.</summary>
public sealed record FleetPlace(string Unit, string Compartment, string Place, IReadOnlyList<(long Id, DateOnly On, double Value)> Values)
{
    public double Last => Values[^1].Value;
}

/// <summary>The same kind of compartment across the fleet.</summary>
public sealed record FleetComparison(
    OilKind Kind,
    Measurand Measurand,
    string? Family,
    IReadOnlyList<string> Families,
    IReadOnlyList<FleetPlace> Places,
    OilLimit? Limit,
    OilLimit? Starting,
    double? Median
);

/// <summary>A sample that can be drawn from a machine now.</summary>
public sealed record DrawLine(SampledPlace Place, ItemStatus Stand, string Fluid, string? Bottle, SamplePoint? Last);

/// <summary>What there is to draw from a machine, in the order to do it.</summary>
public sealed record DrawPage(Machine Machine, IReadOnlyList<DrawLine> Lines, double HoursShown, DateOnly Today);

/// <summary>Reads samples for pages.</summary>
public sealed class SampleViews(NippersDb db, OilCatalog book, ReviewSample sign, TimeProvider clock)
{
    private const int Shown = 40;
    private const int FleetDays = 400;
    private const int FleetValues = 3;

    public async Task<SamplePage?> One(long id, CancellationToken ct)
    {
        var sample = await db.Samples.AsNoTracking().WithVoided().Include(x => x.Machine).SingleOrDefaultAsync(x => x.Id == id, ct);
        if (sample is null)
            return null;
        var facts = (await db.FactsOf([sample.MachineId], clock.GetUtcNow(), ct)).Single();
        var machine = facts.Machine;
        var reports = await db.Reports.AsNoTracking().Where(x => x.SampleId == id).OrderByDescending(x => x.Id).ToListAsync(ct);
        var kept = await db.Judgements.AsNoTracking().SingleOrDefaultAsync(x => x.SampleId == id, ct);
        var oil = kept is null ? null : OilCase.Read(kept.Whole);
        var judgement = oil?.Judge();
        if (judgement is not null && sample.DrawnWrong)
            judgement = judgement with { Doubts = judgement.Doubts | SampleDoubts.DrawnWrong };
        var others = judgement is null ? [] : await OtherOils(sample, machine, oil!, ct);
        if (judgement is not null && others.Count > 0)
            judgement = judgement with { Doubts = judgement.Doubts | SampleDoubts.OtherOil };
        var item = facts.Items.FirstOrDefault(x => x.Code == sample.ItemCode);
        var plan = (await db.ListOf(machine, ct))?.ToList();
        return new(
            sample,
            machine,
            machine.Program.Compartments.Find(x => x.Code == sample.Compartment)?.Name ?? sample.Compartment,
            reports.Find(x => x.ReplacedAt is null),
            [.. reports.Where(x => x.ReplacedAt is not null)],
            oil,
            judgement,
            await Points(sample.MachineId, sample.Compartment, ct),
            await Events(machine, sample.Compartment, ct),
            others,
            judgement is not null && sample.VoidedAt is null ? await sign.Offer(facts, sample, judgement, ct) : null,
            sample.DefectId is { } defect ? await db.Defects.AsNoTracking().SingleOrDefaultAsync(x => x.Id == defect, ct) : null,
            sample.LabId is { } lab ? await db.Labs.Where(x => x.Id == lab).Select(x => x.Name).SingleOrDefaultAsync(ct) : null,
            item is null ? null : facts.Due(item),
            facts.Zone,
            plan,
            PlaceOf(plan, machine.Kind, sample.Compartment)
        );
    }

    /// <summary>Where a compartment lies on the plan; lists that were made before they told it lean on their kind's.</summary>
    private static (double X, double Y)? PlaceOf(CheckList? plan, MachineKind kind, string compartment)
    {
        var places = plan is { Places.IsDefault: false }
            ? plan.Places
            : StarterLists.All().FirstOrDefault(x => x.Kind == kind)?.Body.Places;
        return places?.FirstOrDefault(x => x.Compartment == compartment) is { } at ? (at.X, at.Y) : null;
    }

    public async Task<CompartmentPage?> Compartment(string unit, string compartment, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        var facts = await db.FactsOf(unit, now, ct);
        if (facts is null)
            return null;
        var machine = facts.Machine;
        machine.Compartments = await db.MachineCompartments.AsNoTracking().Where(x => x.MachineId == machine.Id).ToListAsync(ct);
        var place = OilCatalog.Places(machine, machine.Program).FirstOrDefault(x => x.Compartment.Code == compartment);
        if (place is null)
            return null;
        var last = Defects.DefectService.LastHours(facts);
        var oil = await book.InIt(machine, compartment, last, null, ct);
        var (grade, family) = await book.GradeOf(oil.Fluid, place.Kind, ct);
        var (rule, current) = ReviewSample.RuleOf(facts, compartment);
        return new(
            machine,
            place,
            await book.Limits(place.Kind, family, machine.Id, compartment, ct),
            await Points(machine.Id, compartment, ct),
            await Events(machine, compartment, ct),
            await db
                .DrainChanges.AsNoTracking()
                .Where(x => x.MachineId == machine.Id && x.Compartment == compartment)
                .OrderByDescending(x => x.At)
                .Take(Shown)
                .ToListAsync(ct),
            rule,
            current,
            facts.Due(place.Item),
            last.Value,
            oil,
            grade,
            Core.Hours.LocalDay.Of(now, facts.Zone)
        );
    }

    /// <summary>What there is to draw from a machine: running ones first.</summary>
    public async Task<DrawPage?> Draws(string unit, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        var facts = await db.FactsOf(unit, now, ct);
        if (facts is null)
            return null;
        var machine = facts.Machine;
        machine.Compartments = await db.MachineCompartments.AsNoTracking().Where(x => x.MachineId == machine.Id).ToListAsync(ct);
        var use = Core.Hours.UsePerDay.Estimate(facts.Record, now);
        var at = new MachineNow(use, now, facts.Zone);
        var places = OilCatalog.Places(machine, machine.Program);
        var order = Drawing.Order(places.Select(x => new Draw(x.Item.Code, x.Method)));
        var bottles = (await db.FreeBottles().AsNoTracking().Where(x => x.MachineId == machine.Id).ToListAsync(ct)).ToLookup(
            x => x.ItemCode,
            x => x.Code
        );
        var newest = (
            await db
                .Samples.AsNoTracking()
                .Where(x => x.MachineId == machine.Id)
                .GroupBy(x => x.Compartment)
                .Select(x => x.Max(y => y.Id))
                .ToListAsync(ct)
        ).ToHashSet();
        var last = (await db.Samples.AsNoTracking().Where(x => newest.Contains(x.Id)).ToListAsync(ct)).ToDictionary(
            x => x.Compartment,
            StringComparer.Ordinal
        );
        return new(
            machine,
            [
                .. order
                    .Select(x => places.First(y => y.Item.Code == x.Item))
                    .Select(x => new DrawLine(
                        x,
                        at.Stand(facts.Due(x.Item), machine.Program.ComingDays),
                        x.Own?.Fluid ?? "",
                        bottles[x.Item.Code].FirstOrDefault(),
                        last.TryGetValue(x.Compartment.Code, out var row) ? ToPoint(row, null) : null
                    )),
            ],
            Math.Max(0, at.Hours - facts.Offsets.At(now).Value),
            at.Today
        );
    }

    /// <summary>The same kind of compartment across machines: the last values of each.</summary>
    public async Task<FleetComparison> Fleet(OilKind kind, Measurand measurand, string? family, CancellationToken ct)
    {
        var since = DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime).AddDays(-FleetDays);
        var judged = db.Samples.Where(x => x.Kind == kind && x.On >= since && x.Advised != null && !x.DrawnWrong);
        var families = await judged
            .Where(x => x.Family != "")
            .GroupBy(x => x.Family)
            .OrderByDescending(x => x.Count())
            .ThenBy(x => x.Key)
            .Select(x => x.Key)
            .ToListAsync(ct);
        var chosen = family is not null && families.Contains(family) ? family : null;

        // Thousands of rows, of which the last few of each place are wanted: what else there is to know is asked of those alone.
        var rows = await judged
            .Where(x => chosen == null || x.Family == chosen)
            .Select(x => new
            {
                x.Id,
                x.MachineId,
                x.Compartment,
                x.LifeHours,
            })
            .ToListAsync(ct);
        var wanted = rows.GroupBy(x => (x.MachineId, x.Compartment))
            .SelectMany(x => x.OrderByDescending(y => y.LifeHours).Take(FleetValues))
            .ToList();
        var values = await db.ValuesOf(wanted.Select(x => x.Id), measurand.Code(), ct);
        var machineIds = wanted.Select(x => x.MachineId).Distinct().ToList();
        var machines = await db
            .Machines.AsNoTracking()
            .Where(x => machineIds.Contains(x.Id) && !x.Retired)
            .Select(x => new
            {
                x.Id,
                x.Unit,
                x.ProgramId,
            })
            .ToDictionaryAsync(x => x.Id, ct);
        var programs = machines.Values.Select(x => x.ProgramId).Distinct().ToList();
        var names = await db
            .ProgramCompartments.AsNoTracking()
            .Where(x => programs.Contains(x.ProgramId))
            .ToDictionaryAsync(x => (x.ProgramId, x.Code), x => x.Name, ct);
        var places = wanted
            .Where(x => machines.ContainsKey(x.MachineId))
            .GroupBy(x => (x.MachineId, x.Compartment))
            .Select(x => new FleetPlace(
                machines[x.Key.MachineId].Unit,
                x.Key.Compartment,
                names.GetValueOrDefault((machines[x.Key.MachineId].ProgramId, x.Key.Compartment), x.Key.Compartment),
                [
                    .. x.OrderBy(y => y.LifeHours)
                        .Where(y => values.ContainsKey(y.Id))
                        .Select(y => (y.Id, values[y.Id].On, values[y.Id].Value)),
                ]
            ))
            .Where(x => x.Values.Count > 0)
            .OrderByDescending(x => x.Last)
            .ThenBy(x => x.Unit, StringComparer.Ordinal)
            .ToList();
        var sorted = places.Select(x => x.Last).Order().ToArray();
        return new(
            kind,
            measurand,
            chosen,
            families,
            places,
            (await book.Limits(kind, chosen ?? families.FirstOrDefault() ?? "", null, "", ct))[measurand],
            LimitSet.Starting(kind)[measurand],
            sorted.Length > 0 ? LimitSet.Percentile(sorted, 0.5) : null
        );
    }

    private async Task<List<SamplePoint>> Points(int machineId, string compartment, CancellationToken ct)
    {
        var rows = await db
            .Samples.AsNoTracking()
            .Where(x => x.MachineId == machineId && x.Compartment == compartment)
            .OrderByDescending(x => x.LifeHours)
            .ThenByDescending(x => x.TakenAt)
            .Take(Shown)
            .Select(x => new { Sample = x, Values = db.Judgements.Where(j => j.SampleId == x.Id).Select(j => j.Values).FirstOrDefault() })
            .ToListAsync(ct);
        rows.Reverse();
        return [.. rows.Select(x => ToPoint(x.Sample, x.Values))];
    }

    private static SamplePoint ToPoint(SampleRow x, string? values) =>
        new(
            x.Id,
            x.Bottle,
            x.On,
            x.LifeHours.Value,
            x.OilHours?.Value,
            x.SignedAs ?? x.Advised,
            x.SignedAs is not null,
            x.DrawnWrong,
            values is null ? Measures.None : OilCase.ReadValues(values)
        );

    /// <summary>Changes, top-ups, defects and repairs, drain intervals and metal found, oldest first.</summary>
    private async Task<List<OilEvent>> Events(Machine machine, string compartment, CancellationToken ct)
    {
        var events = new List<OilEvent>();
        var changes = await db
            .Completions.AsNoTracking()
            .Where(x =>
                x.MachineId == machine.Id
                && db.ProgramItems.Any(i =>
                    i.ProgramId == machine.ProgramId && i.Code == x.ItemCode && i.Compartment == compartment && i.Work == ItemWork.Fluid
                )
            )
            .OrderByDescending(x => x.LifeHours)
            .Take(Shown)
            .Select(x => new { x.LifeHours, x.DoneOn })
            .ToListAsync(ct);
        events.AddRange(changes.Select(x => new OilEvent(OilEventKind.Change, x.LifeHours.Value, x.DoneOn, null, "")));
        var added = await db
            .TopUps.AsNoTracking()
            .Where(x => x.MachineId == machine.Id && x.Compartment == compartment)
            .OrderByDescending(x => x.LifeHours)
            .Take(Shown * 2)
            .ToListAsync(ct);
        events.AddRange(
            added.Select(x => new OilEvent(
                OilEventKind.TopUp,
                x.LifeHours.Value,
                DateOnly.FromDateTime(x.At.UtcDateTime),
                x.Litres.Value,
                ""
            ))
        );
        var inside = compartment + ":";
        var defects = await db
            .Defects.AsNoTracking()
            .Where(x =>
                x.MachineId == machine.Id && x.State != DefectState.Voided && (x.Place == compartment || x.Place.StartsWith(inside))
            )
            .OrderByDescending(x => x.At)
            .Take(Shown)
            .ToListAsync(ct);
        events.AddRange(defects.Select(x => new OilEvent(OilEventKind.Defect, x.LifeHours.Value, x.On, null, x.Words, x.Id)));
        events.AddRange(
            defects
                .Where(x => x.RepairedHours is not null)
                .Select(x => new OilEvent(OilEventKind.Repair, x.RepairedHours!.Value.Value, null, null, x.RepairWords ?? "", x.Id))
        );
        var metal = await db
            .FilterLog.AsNoTracking()
            .Where(x =>
                x.MachineId == machine.Id
                && (x.Metal == MetalFinding.Flakes || x.Metal == MetalFinding.Chunks || x.Metal == MetalFinding.FinePaste)
                && db.FilterPositions.Any(p =>
                    p.MachineId == x.MachineId
                    && p.Code == x.Position
                    && db.ProgramItems.Any(i => i.ProgramId == machine.ProgramId && i.Code == p.ItemCode && i.Compartment == compartment)
                )
            )
            .OrderByDescending(x => x.LifeHours)
            .Take(Shown)
            .ToListAsync(ct);
        events.AddRange(metal.Select(x => new OilEvent(OilEventKind.Metal, x.LifeHours.Value, x.On, null, x.Metal!.Value.ToString())));
        var drains = await db
            .DrainChanges.AsNoTracking()
            .Where(x => x.MachineId == machine.Id && x.Compartment == compartment)
            .OrderByDescending(x => x.At)
            .Take(Shown)
            .ToListAsync(ct);
        events.AddRange(
            drains.Select(x => new OilEvent(OilEventKind.Drain, x.LifeHours.Value, x.On, x.ToHours.Value, x.Reason.ToString()))
        );
        return [.. events.OrderBy(x => x.Hours)];
    }

    /// <summary>Compartments whose new oil a sample's additives are like, when they are not those of its own.</summary>
    private async Task<IReadOnlyList<string>> OtherOils(SampleRow sample, Machine machine, OilCase oil, CancellationToken ct)
    {
        if (OilJudge.WrongAdditives(oil.Sample.Results, oil.Sample.New).IsEmpty)
            return [];
        var own = await db
            .MachineCompartments.AsNoTracking()
            .Where(x => x.MachineId == machine.Id && x.Code != sample.Compartment && x.Fluid != "" && x.Fluid != sample.Fluid)
            .ToListAsync(ct);
        var fluids = own.Select(x => x.Fluid).ToList();
        var known = await db
            .NewOils.AsNoTracking()
            .Where(x => fluids.Contains(x.Fluid))
            .ToDictionaryAsync(x => x.Fluid, OilCatalog.ToNew, StringComparer.Ordinal, ct);
        return
        [
            .. own.Where(x => known.TryGetValue(x.Fluid, out var fresh) && OilJudge.IsLike(oil.Sample.Results, fresh))
                .Select(x => machine.Program.Compartments.Find(c => c.Code == x.Code)?.Name ?? x.Code),
        ];
    }
}
