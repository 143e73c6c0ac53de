using Microsoft.EntityFrameworkCore;
using Nippers.App.Statuses;
using Nippers.App.Visits;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Parts;
using Nippers.Data.Programs;
using Nippers.Data.Queries;
using Nippers.Data.Weeks;

namespace Nippers.App.Parts;

/// <summary>A part on the shelf.</summary>
/// <param name="Stores">Pieces by site, in the order of the sites.</param>
/// <param name="Need">Pieces that proposed visits of the next 60 days take.</param>
/// <param name="FirstNeed">The first of those visits.</param>
public sealed record PartLine(PartRow Part, IReadOnlyList<int> Stores, int Need, DateOnly? FirstNeed, IReadOnlyList<string> For)
{
    public int OnHand => Stores.Sum();

    /// <summary>How many will be missing.</summary>
    public int Missing => Math.Max(0, Need - OnHand);
}

/// <summary>The catalogue with its shelves.</summary>
public sealed record PartList(
    IReadOnlyList<PartLine> Lines,
    IReadOnlyList<string> Sites,
    int BelowNeed,
    string Search,
    bool OnlyShort,
    int Page,
    int Pages,
    string Currency
);

/// <summary>A part with its alternates, places and moves.</summary>
public sealed record PartPage(
    PartLine Line,
    IReadOnlyList<string> Sites,
    IReadOnlyList<PartAlternateView> Alternates,
    IReadOnlyList<PartPlace> Places,
    IReadOnlyList<StockMoveView> Moves,
    IReadOnlyList<FilterLogView> Refused,
    string Currency,
    IReadOnlyList<PartOrderView> Orders
);

/// <summary>Pieces that were ordered and are not here yet.</summary>
public sealed record PartOrderView(PartOrder Order, string Site);

/// <summary>A part that may stand in, and who says so.</summary>
public sealed record PartAlternateView(string Number, string Name, string SaysWho, string By, DateOnly On);

/// <summary>A place that a part goes to.</summary>
public sealed record PartPlace(string Unit, string Position, string Item);

public sealed record StockMoveView(StockMove Move, string Site);

/// <summary>A line of the filter log with its machine.</summary>
public sealed record FilterLogView(FilterLogRow Row, string Unit);

/// <summary>What is fitted at a position.</summary>
/// <param name="Fitted">The last filter fitted; null when none is on record.</param>
/// <param name="Hours">Hours in service.</param>
public sealed record FittedFilter(
    FilterPosition Position,
    string ItemName,
    IReadOnlyList<string> Alternates,
    FilterLogRow? Fitted,
    double? Hours
);

/// <summary>The filters of a machine: positions, what is fitted, and the log.</summary>
public sealed record FilterSheet(
    Machine Machine,
    IReadOnlyList<FittedFilter> Positions,
    IReadOnlyList<FilterLogRow> Log,
    int Page,
    int Pages,
    MeterHours OffsetHours
);

/// <summary>What a filter position is chosen from.</summary>
/// <param name="Items">Items of the machine's program that change filters.</param>
/// <param name="Parts">Numbers of the catalogue.</param>
public sealed record PositionChoices(IReadOnlyList<ProgramItem> Items, IReadOnlyList<string> Parts);

/// <summary>Waste of a month by kind.</summary>
public sealed record WasteMonth(DateOnly Month, IReadOnlyDictionary<string, double> Amounts);

public sealed record WasteLog(IReadOnlyList<WasteMonth> Months, IReadOnlyList<(WasteRow Row, string? Unit)> Rows);

/// <summary>Reads parts, filters and waste for pages.</summary>
public sealed class PartViews(NippersDb db, WorkshopService shop, PartNeeds wanted, TimeProvider clock)
{
    private const int PageSize = 50;
    private const int RecentMoves = 40;
    private const int WasteMonths = 14;

    /// <summary>The catalogue, what is short first.</summary>
    public async Task<PartList> List(string? search, bool onlyShort, int page, CancellationToken ct)
    {
        var words = (search ?? "").Trim();
        var sites = await db.Sites.AsNoTracking().OrderBy(x => x.Name).ToListAsync(ct);
        var needs = await wanted.All(ct);
        var parts = await db
            .Parts.AsNoTracking()
            .Where(x =>
                words == ""
                || EF.Functions.Like(x.Number, $"%{words}%")
                || EF.Functions.Like(x.Name, $"%{words}%")
                || EF.Functions.Like(x.Make, $"%{words}%")
            )
            .OrderBy(x => x.Number)
            .ToListAsync(ct);
        var shelves = (await db.ShelvesOf(parts.Select(x => x.Id), ct)).ToLookup(x => x.PartId);
        var lines = parts.Select(x => ToLine(x, sites, shelves[x.Id], needs)).ToList();
        var shown = lines
            .Where(x => !onlyShort || x.Missing > 0)
            .OrderByDescending(x => x.Missing > 0)
            .ThenBy(x => x.Part.Number, StringComparer.Ordinal)
            .ToList();
        var pages = Math.Max(1, (shown.Count + PageSize - 1) / PageSize);
        var at = Math.Clamp(page, 1, pages);
        return new(
            [.. shown.Skip((at - 1) * PageSize).Take(PageSize)],
            [.. sites.Select(x => x.Name)],
            lines.Count(x => x.Missing > 0),
            words,
            onlyShort,
            at,
            pages,
            (await shop.Load(ct)).Shop.Currency
        );
    }

    public async Task<PartPage?> Part(string number, CancellationToken ct)
    {
        var part = await db.Parts.AsNoTracking().SingleOrDefaultAsync(x => x.Number == number, ct);
        if (part is null)
            return null;
        var sites = await db.Sites.AsNoTracking().OrderBy(x => x.Name).ToListAsync(ct);
        var names = sites.ToDictionary(x => x.Id, x => x.Name);
        var alternates = await db
            .PartAlternates.Where(x => x.PartId == part.Id)
            .Join(db.Parts, x => x.OtherId, p => p.Id, (x, p) => new PartAlternateView(p.Number, p.Name, x.SaysWho, x.By, x.On))
            .ToListAsync(ct);
        var places = await db
            .FilterPositions.Where(x => x.PartId == part.Id)
            .Join(db.Machines.OrderBy(m => m.Unit), x => x.MachineId, m => m.Id, (x, m) => new PartPlace(m.Unit, x.Name, x.ItemCode))
            .ToListAsync(ct);
        var moves = await db
            .StockMoves.AsNoTracking()
            .Where(x => x.PartId == part.Id)
            .OrderByDescending(x => x.Id)
            .Take(RecentMoves)
            .ToListAsync(ct);
        var refused = await db
            .FilterLog.AsNoTracking()
            .Where(x => x.Part == number && x.State == FilterLogState.Refused)
            .OrderByDescending(x => x.Id)
            .Take(RecentMoves)
            .Join(db.Machines, x => x.MachineId, m => m.Id, (x, m) => new FilterLogView(x, m.Unit))
            .ToListAsync(ct);
        return new(
            ToLine(part, sites, await db.ShelvesOf([part.Id], ct), await wanted.All(ct)),
            [.. sites.Select(x => x.Name)],
            [.. alternates.OrderBy(x => x.Number, StringComparer.Ordinal)],
            places,
            [.. moves.Select(x => new StockMoveView(x, names[x.SiteId]))],
            refused,
            (await shop.Load(ct)).Shop.Currency,
            [
                .. (await db.PartOrders.AsNoTracking().Where(x => x.PartId == part.Id).OrderBy(x => x.ExpectedOn).ToListAsync(ct)).Select(
                    x => new PartOrderView(x, names[x.SiteId])
                ),
            ]
        );
    }

    /// <summary>Filters of a machine; null when there is none of that name.</summary>
    public async Task<FilterSheet?> Filters(string unit, int page, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        var machine = await db.Machines.AsNoTracking().SingleOrDefaultAsync(x => x.Unit == unit, ct);
        if (machine is null)
            return null;
        var standing = await db.Statuses.AsNoTracking().SingleOrDefaultAsync(x => x.MachineId == machine.Id, ct);
        var positions = await db
            .FilterPositions.AsNoTracking()
            .Where(x => x.MachineId == machine.Id)
            .Include(x => x.Part)
            .OrderBy(x => x.Code)
            .ToListAsync(ct);
        var partIds = positions.Select(x => x.PartId).OfType<int>().ToList();
        var alternates = (
            await db
                .PartAlternates.Where(x => partIds.Contains(x.PartId))
                .Join(db.Parts, x => x.OtherId, p => p.Id, (x, p) => new { x.PartId, p.Number })
                .ToListAsync(ct)
        ).ToLookup(x => x.PartId, x => x.Number);
        var fitted = (
            await db
                .FilterLog.AsNoTracking()
                .Where(x =>
                    x.MachineId == machine.Id
                    && x.State == FilterLogState.Fitted
                    && !db.FilterLog.Any(y =>
                        y.MachineId == x.MachineId
                        && y.Position == x.Position
                        && y.State == FilterLogState.Fitted
                        && (y.LifeHours > x.LifeHours || (y.LifeHours == x.LifeHours && y.Id > x.Id))
                    )
                )
                .ToListAsync(ct)
        ).ToDictionary(x => x.Position, StringComparer.Ordinal);
        var lines = await db.FilterLog.WithVoided().CountAsync(x => x.MachineId == machine.Id, ct);
        var pages = Math.Max(1, (lines + PageSize - 1) / PageSize);
        var at = Math.Clamp(page, 1, pages);
        var log = await db
            .FilterLog.AsNoTracking()
            .WithVoided()
            .Where(x => x.MachineId == machine.Id)
            .OrderByDescending(x => x.LifeHours)
            .ThenByDescending(x => x.Id)
            .Skip((at - 1) * PageSize)
            .Take(PageSize)
            .ToListAsync(ct);
        var hours = standing is null ? (double?)null : StatusCodec.Decode(standing).Use.HoursNow(now);
        var codes = positions.Select(x => x.ItemCode).ToList();
        var items = await db
            .ProgramItems.Where(x => x.ProgramId == machine.ProgramId && codes.Contains(x.Code))
            .ToDictionaryAsync(x => x.Code, x => x.Name, StringComparer.Ordinal, ct);
        return new(
            machine,
            [
                .. positions.Select(x => new FittedFilter(
                    x,
                    items.GetValueOrDefault(x.ItemCode, x.ItemCode),
                    x.PartId is { } id ? [.. alternates[id].Order(StringComparer.Ordinal)] : [],
                    fitted.GetValueOrDefault(x.Code),
                    hours is { } life && fitted.TryGetValue(x.Code, out var row) ? Math.Max(0, life - row.LifeHours.Value) : null
                )),
            ],
            log,
            at,
            pages,
            standing?.OffsetHours ?? MeterHours.Zero
        );
    }

    /// <summary>What a filter position of a machine is chosen from; null when there is no such machine.</summary>
    public async Task<PositionChoices?> Choices(string unit, CancellationToken ct)
    {
        var machine = await db.Machines.AsNoTracking().SingleOrDefaultAsync(x => x.Unit == unit, ct);
        if (machine is null)
            return null;
        var options = machine.OptionWords;
        var items = await db
            .ProgramItems.AsNoTracking()
            .Where(x => x.ProgramId == machine.ProgramId && !x.Off)
            .Where(x => x.Work == ItemWork.Filter || x.Work == ItemWork.Fluid || x.Work == ItemWork.Element)
            .OrderBy(x => x.Position)
            .ToListAsync(ct);
        return new(
            [.. items.Where(x => OptionRule.Holds(x.Needs, options))],
            await db.Parts.OrderBy(x => x.Number).Select(x => x.Number).ToListAsync(ct)
        );
    }

    /// <summary>Waste by month and kind, and its rows.</summary>
    public async Task<WasteLog> Waste(CancellationToken ct)
    {
        var today = DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime);
        var since = new DateOnly(today.Year, today.Month, 1).AddMonths(1 - WasteMonths);
        var rows = await db
            .Waste.AsNoTracking()
            .Where(x => x.On >= since)
            .OrderByDescending(x => x.On)
            .ThenByDescending(x => x.Id)
            .ToListAsync(ct);
        var last = rows.Take(PageSize).ToList();
        var of = last.Select(x => x.MachineId).OfType<int>().Distinct().ToList();
        var units = await db
            .Machines.Where(x => of.Contains(x.Id))
            .Select(x => new { x.Id, x.Unit })
            .ToDictionaryAsync(x => x.Id, x => x.Unit, ct);
        return new(
            [
                .. rows.GroupBy(x => new DateOnly(x.On.Year, x.On.Month, 1))
                    .OrderByDescending(x => x.Key)
                    .Select(x => new WasteMonth(
                        x.Key,
                        x.GroupBy(y => y.Stream).ToDictionary(y => y.Key, y => y.Sum(z => z.Amount), StringComparer.Ordinal)
                    )),
            ],
            [.. last.Select(x => (x, x.MachineId is { } id ? units.GetValueOrDefault(id) : null))]
        );
    }

    private static PartLine ToLine(PartRow part, List<Site> sites, IEnumerable<ShelfRow> shelves, Dictionary<int, PartNeed> needs)
    {
        var here = shelves.ToDictionary(x => x.SiteId, x => x.Count);
        var need = needs.GetValueOrDefault(part.Id);
        return new(
            part,
            [.. sites.Select(x => here.GetValueOrDefault(x.Id))],
            need?.Pieces ?? 0,
            need?.First,
            need is null ? [] : [.. need.Units]
        );
    }
}
