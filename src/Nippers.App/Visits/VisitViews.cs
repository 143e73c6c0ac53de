using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Data;
using Nippers.Data.Oil;
using Nippers.Data.Parts;
using Nippers.Data.Queries;
using Nippers.Data.Visits;

namespace Nippers.App.Visits;

/// <summary>Which visits to show.</summary>
public sealed record VisitFilter(string? Site = null, string? Unit = null, VisitState? State = null, int Page = 1);

/// <summary>A visit on a list, without its card.</summary>
/// <param name="Visit">The visit, without its card.</param>
/// <param name="Unit">Unit number of the machine.</param>
/// <param name="Site">Where the machine works.</param>
/// <param name="Items">How many items it has.</param>
/// <param name="Left">How many of them were left undone.</param>
/// <param name="Names">What it is for where no interval names it: the defects that it repairs and its items; else empty.</param>
public sealed record VisitLine(VisitRow Visit, string Unit, string Site, int Items, int Left, IReadOnlyList<string> Names);

/// <summary>A proposed visit on a list.</summary>
public sealed record ProposedLine(string Unit, string Site, ProposedVisit Visit);

/// <summary>The visits of the fleet: what is open and planned, what is proposed, what was closed.</summary>
public sealed record VisitList(
    IReadOnlyList<VisitLine> Lines,
    IReadOnlyList<ProposedLine> Proposed,
    int Matching,
    int Pages,
    VisitFilter Filter,
    IReadOnlyList<string> Sites,
    DateOnly Today,
    string Currency
);

/// <summary>A planned visit with all that belongs to it.</summary>
public sealed record PlannedVisitPage(VisitRow Visit, VisitDraft Draft, bool Missed);

/// <summary>What a closed visit came to.</summary>
public sealed record ClosedVisitPage(
    JobContext Job,
    IReadOnlyList<FilterLogRow> Filters,
    IReadOnlyList<WasteRow> Waste,
    IReadOnlyList<SampleRow> Samples,
    IReadOnlyList<OnBoardRow> Fluids,
    IReadOnlyDictionary<string, string> Compartments,
    string Currency,
    TimeZoneInfo Zone,
    IReadOnlyList<FoundDefect> Found
);

/// <summary>A defect that a card found.</summary>
public sealed record FoundDefect(long Id, string Words, DefectGrade Grade, bool Open);

/// <summary>Visits of a machine with what they cost.</summary>
/// <param name="PerHour">Money a machine hour over the visits shown; null with fewer than two.</param>
public sealed record MachineVisits(VisitProposal Proposal, IReadOnlyList<VisitLine> Visits, double? PerHour, string Currency);

/// <summary>Reads visits for pages.</summary>
public sealed class VisitViews(NippersDb db, VisitProposals proposals, PlanVisit plan, WorkshopService shop, TimeProvider clock)
{
    private const int PageSize = 40;
    private const int Ahead = 30;
    private const int MostProposed = 25;
    private const int OnMachine = 30;

    private static readonly Func<NippersDb, long, CancellationToken, Task<VisitState?>> State = EF.CompileAsyncQuery(
        (NippersDb db, long id, CancellationToken _) => db.Visits.Where(x => x.Id == id).Select(x => (VisitState?)x.State).SingleOrDefault()
    );

    /// <summary>What may have to be opened for an item.</summary>
    public static IReadOnlyList<string> Accesses { get; } = [.. JobTables.Accesses.Select(x => x.Code)];

    /// <summary>Visits by date, what is open first; proposals of the next days for machines of the site that have none planned.</summary>
    public async Task<VisitList> List(VisitFilter filter, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        var query = db
            .Visits.AsNoTracking()
            .Where(x => filter.State == null ? x.State == VisitState.Planned || x.State == VisitState.Open : x.State == filter.State);
        if (filter.Site is { Length: > 0 } site)
            query = query.Where(x => x.Machine.Site.Name == site);
        if (filter.Unit is { Length: > 0 } unit)
            query = query.Where(x => x.Machine.Unit == unit);
        var matching = await query.CountAsync(ct);
        var pages = Math.Max(1, (matching + PageSize - 1) / PageSize);
        var page = Math.Clamp(filter.Page, 1, pages);
        var ordered = filter.State is VisitState.Closed or VisitState.Voided
            ? query.OrderByDescending(x => x.On).ThenByDescending(x => x.Id)
            : query.OrderByDescending(x => x.State).ThenBy(x => x.On).ThenBy(x => x.Id);
        return new(
            await Lines(ordered.Skip((page - 1) * PageSize).Take(PageSize), ct),
            filter.State is null && page == 1 ? await Proposed(filter, ct) : [],
            matching,
            pages,
            filter with
            {
                Page = page,
            },
            await db.Sites.OrderBy(x => x.Name).Select(x => x.Name).ToListAsync(ct),
            DateOnly.FromDateTime(now.UtcDateTime),
            (await shop.Load(ct)).Shop.Currency
        );
    }

    /// <summary>A planned visit; null when there is none, or when it is planned no longer.</summary>
    public async Task<PlannedVisitPage?> Planned(long id, CancellationToken ct)
    {
        var row = await db
            .Visits.AsNoTracking()
            .AsSplitQuery()
            .Include(x => x.Items)
            .Include(x => x.Machine.Site)
            .SingleOrDefaultAsync(x => x.Id == id && x.State == VisitState.Planned, ct);
        if (row is null)
            return null;
        var items = await ItemsOf(row, ct);

        // A day that is over cannot be planned for: what it comes to now is shown then.
        var missed = row.On < LocalDay.Of(clock.GetUtcNow(), TimeZoneInfo.FindSystemTimeZoneById(row.Machine.Site.TimeZone));
        var on = missed ? null : row.On.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        var draft = await plan.Draft(new(row.Machine.Unit, on, items, Hauled: row.Hauled, TwoPeople: row.TwoPeople), ct);
        return new(row, draft.Value!, missed);
    }

    /// <summary>Items and defects of a visit, as a choice holds them.</summary>
    public async Task<List<string>> ItemsOf(VisitRow row, CancellationToken ct) =>
        [
            .. row.Items.Select(x => x.ItemCode),
            .. (await db.VisitDefects.Where(x => x.VisitId == row.Id).Select(x => x.DefectId).ToListAsync(ct)).Select(x =>
                VisitProposals.DefectPrefix + x
            ),
        ];

    /// <summary>A visit with its items and its machine; null when there is none.</summary>
    public Task<VisitRow?> Find(long id, CancellationToken ct) =>
        db
            .Visits.AsNoTracking()
            .AsSplitQuery()
            .Include(x => x.Items)
            .Include(x => x.Machine)
                .ThenInclude(x => x.Site)
            .SingleOrDefaultAsync(x => x.Id == id, ct);

    /// <summary>Where a visit stands; null when there is none.</summary>
    public Task<VisitState?> StateOf(long id, CancellationToken ct) => State(db, id, ct);

    /// <summary>The step of an open card that waits for a prepared bottle; null where none does.</summary>
    public async Task<(long Visit, string Step)?> StepOf(BottleRow bottle, CancellationToken ct)
    {
        foreach (
            var id in await db
                .Visits.Where(x => x.MachineId == bottle.MachineId && x.State == VisitState.Open)
                .Select(x => x.Id)
                .ToListAsync(ct)
        )
        {
            if (
                await Job(id, ct) is { } job
                && job.Card.Steps.FirstOrDefault(x =>
                    x.Input == InputKind.Bottle && x.Item == bottle.ItemCode && !job.State.IsDone(x) && !job.State.IsLeft(x)
                )
                    is { } step
            )
                return (id, step.Code);
        }

        return null;
    }

    /// <summary>Where waste went the last time, from the machine's own site before any other; empty where nobody has said yet.</summary>
    public async Task<string> LastWaste(JobContext job, CancellationToken ct) =>
        await db
            .Waste.OrderByDescending(x => db.Machines.Any(m => m.Id == x.MachineId && m.SiteId == job.Row.Machine.SiteId))
            .ThenByDescending(x => x.Id)
            .Select(x => x.Place)
            .FirstOrDefaultAsync(ct)
        ?? "";

    /// <summary>Code of a bottle that was prepared for a step and is empty still.</summary>
    public Task<string?> Prepared(JobContext job, JobStep step, CancellationToken ct) =>
        step.Input != InputKind.Bottle
            ? Task.FromResult<string?>(null)
            : db.FreeBottles()
                .Where(x => x.MachineId == job.Row.MachineId && x.ItemCode == step.Item)
                .OrderByDescending(x => x.Id)
                .Select(x => x.Code)
                .FirstOrDefaultAsync(ct);

    /// <summary>The card of a visit; null when it has none.</summary>
    public Task<JobContext?> Job(long id, CancellationToken ct) => JobContext.Load(db, id, ct);

    /// <summary>What a card recorded.</summary>
    public async Task<ClosedVisitPage?> Closed(long id, CancellationToken ct)
    {
        var job = await JobContext.Load(db, id, ct);
        if (job is null)
            return null;
        return new(
            job,
            await db.FilterLog.AsNoTracking().Where(x => x.VisitId == id).OrderBy(x => x.Id).ToListAsync(ct),
            await db.Waste.AsNoTracking().Where(x => x.VisitId == id).OrderBy(x => x.Id).ToListAsync(ct),
            await db.Samples.AsNoTracking().Where(x => x.VisitId == id).OrderBy(x => x.Id).ToListAsync(ct),
            await db.OnBoard.AsNoTracking().Where(x => x.VisitId == id).OrderBy(x => x.Id).ToListAsync(ct),
            (await db.ProgramContents(job.Row.Machine.ProgramId, ct)).ToDictionary(x => x.Code, x => x.Name, StringComparer.Ordinal),
            (await shop.Load(ct)).Shop.Currency,
            TimeZoneInfo.FindSystemTimeZoneById(job.Row.Machine.Site.TimeZone),
            await Found(job, ct)
        );
    }

    /// <summary>Defects that a card found, gravest first.</summary>
    public async Task<IReadOnlyList<FoundDefect>> Found(JobContext job, CancellationToken ct)
    {
        var ids = job.Rows.Values.Select(x => x.DefectId).OfType<long>().ToHashSet();
        return ids.Count == 0
            ? []
            : await db
                .Defects.Where(x => ids.Contains(x.Id) && x.State != Data.Defects.DefectState.Voided)
                .OrderByDescending(x => x.Grade)
                .ThenBy(x => x.Id)
                .Select(x => new FoundDefect(x.Id, x.Words, x.Grade, x.State == Data.Defects.DefectState.Open))
                .ToListAsync(ct);
    }

    /// <summary>Items of the machine's program that are not on a card, for adding.</summary>
    public async Task<IReadOnlyList<(string Code, string Name)>> Addable(JobContext job, CancellationToken ct)
    {
        var machine = job.Row.Machine;
        var program = (await db.KeptPrograms([machine.ProgramId], ct))[machine.ProgramId];
        var there = job.Row.Items.Select(x => x.ItemCode).ToHashSet(StringComparer.Ordinal);
        return [.. program.ItemsOn(machine.OptionWords).Where(x => !x.IsDaily && !there.Contains(x.Code)).Select(x => (x.Code, x.Name))];
    }

    /// <summary>Proposals and visits of a machine; null when there is none of that name.</summary>
    public async Task<MachineVisits?> OfMachine(string unit, CancellationToken ct)
    {
        var proposal = await proposals.Of(unit, ct);
        if (proposal is null)
            return null;
        var visits = await Lines(
            db.Visits.Where(x => x.Machine.Unit == unit && x.State != VisitState.Voided)
                .OrderByDescending(x => x.State == VisitState.Open)
                .ThenByDescending(x => x.On)
                .ThenByDescending(x => x.Id)
                .Take(OnMachine),
            ct
        );
        var closed = visits.Select(x => x.Visit).Where(x => x.State == VisitState.Closed).OrderBy(x => x.LifeHours).ToList();
        double? perHour =
            closed.Count > 1 && closed[^1].LifeHours > closed[0].LifeHours
                ? closed.Skip(1).Select(x => x.RealCost ?? Money.Zero).Total().Value / (closed[^1].LifeHours - closed[0].LifeHours).Value
                : null;
        return new(proposal, visits, perHour, proposal.Sheet.Shop.Shop.Currency);
    }

    /// <summary>A photo of a finding; null when there is none.</summary>
    public Task<StepPhoto?> Photo(long visitId, long photoId, CancellationToken ct) =>
        db.StepPhotos.AsNoTracking().SingleOrDefaultAsync(x => x.Id == photoId && x.VisitId == visitId, ct);

    private async Task<List<ProposedLine>> Proposed(VisitFilter filter, CancellationToken ct)
    {
        var now = clock.GetUtcNow();

        // Only machines that may need one soon are worked out: their standing row says so.
        var ids = await db
            .Machines.Where(x =>
                !x.Retired
                && (filter.Site == null || filter.Site == "" || x.Site.Name == filter.Site)
                && (filter.Unit == null || filter.Unit == "" || x.Unit == filter.Unit)
                && !db.Visits.Any(v => v.MachineId == x.Id && (v.State == VisitState.Planned || v.State == VisitState.Open))
            )
            .Join(
                db.Statuses.Where(s => s.Overdue + s.Due + s.Coming + s.NoRecord > 0),
                m => m.Id,
                s => s.MachineId,
                (m, s) =>
                    new
                    {
                        m.Id,
                        s.Worst,
                        s.Urgency,
                    }
            )
            .OrderByDescending(x => x.Worst)
            .ThenBy(x => x.Urgency)
            .Take(MostProposed)
            .Select(x => x.Id)
            .ToListAsync(ct);
        var all = await proposals.Of(await db.FactsOf(ids, now, ct), ct);
        return
        [
            .. all.Where(x => x.Visits.Count > 0 && x.Visits[0].Day <= Ahead)
                .Select(x => new ProposedLine(x.Unit, x.Sheet.Facts.Machine.Site.Name, x.Visits[0]))
                .OrderBy(x => x.Visit.On)
                .ThenBy(x => x.Unit, StringComparer.Ordinal),
        ];
    }

    /// <summary>Lines of some visits, without their cards: a list of forty would read megabytes of them.</summary>
    private async Task<List<VisitLine>> Lines(IQueryable<VisitRow> visits, CancellationToken ct)
    {
        var found = await visits
            .Select(x => new
            {
                x.Id,
                x.Machine.Unit,
                Site = x.Machine.Site.Name,
                Items = x.Items.Count,
                Left = x.Items.Count(y => y.State == VisitItemState.Left),
            })
            .ToListAsync(ct);
        var ids = found.Select(x => x.Id).ToList();
        var rows = await db
            .Visits.AsNoTracking()
            .Where(x => ids.Contains(x.Id))
            .Select(VisitQueries.WithoutCard)
            .ToDictionaryAsync(x => x.Id, ct);
        var names = await Names([.. rows.Values.Where(x => x.NameHours is not > 0).Select(x => x.Id)], ct);
        return [.. found.Select(x => new VisitLine(rows[x.Id], x.Unit, x.Site, x.Items, x.Left, [.. names[x.Id]]))];
    }

    private sealed record NamedPart(long VisitId, string Name);

    /// <summary>What some visits are for: the defects that they repair, then their items as their program has them.</summary>
    private async Task<ILookup<long, string>> Names(List<long> ids, CancellationToken ct)
    {
        if (ids.Count == 0)
            return Array.Empty<NamedPart>().ToLookup(x => x.VisitId, x => x.Name);
        var defects = await (
            from part in db.VisitDefects
            where ids.Contains(part.VisitId)
            join defect in db.Defects on part.DefectId equals defect.Id
            orderby defect.Id
            select new
            {
                part.VisitId,
                defect.PlaceName,
                defect.Words,
            }
        ).ToListAsync(ct);
        var items = await (
            from part in db.VisitItems
            where ids.Contains(part.VisitId)
            join visit in db.Visits on part.VisitId equals visit.Id
            from item in db.ProgramItems.Where(x => x.ProgramId == visit.Machine.ProgramId && x.Code == part.ItemCode).DefaultIfEmpty()
            orderby item!.Position
            select new NamedPart(part.VisitId, item!.Name ?? part.ItemCode)
        ).ToListAsync(ct);
        return defects
            .Select(x => new NamedPart(x.VisitId, VisitProposals.NameOf(x.PlaceName, x.Words)))
            .Concat(items)
            .ToLookup(x => x.VisitId, x => x.Name);
    }
}
