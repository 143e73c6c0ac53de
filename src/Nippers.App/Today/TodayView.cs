using System.Collections.Immutable;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Kinds;
using Nippers.App.Parts;
using Nippers.App.Statuses;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Oil;
using Nippers.Data.Visits;

namespace Nippers.App.Today;

/// <summary>What to show; empty fields do not filter.</summary>
public sealed record TodayFilter(string? Site = null, MachineKind? Kind = null, DueStatus? Status = null, string? Look = null, int Page = 1)
{
    /// <summary>Only machines with unconfirmed readings.</summary>
    public const string Unconfirmed = "unconfirmed";

    /// <summary>Only machines whose meter has not been read for long.</summary>
    public const string Stale = "stale";

    /// <summary>Only machines out of service.</summary>
    public const string Stopped = "stopped";

    /// <summary>Only machines on which walks were missed.</summary>
    public const string Missed = "missed";
}

/// <summary>What walks and defects say of a machine.</summary>
/// <param name="Answer">May it run.</param>
/// <param name="Defects">Defects that stand.</param>
/// <param name="WalkedOn">Date of the last finished walk.</param>
/// <param name="MissedWalks">Days of the last week that it worked without one.</param>
public sealed record TodayCondition(RunAnswer Answer, int Defects, DateOnly? WalkedOn, int MissedWalks, bool Untold);

/// <summary>A machine on Today: its standing held against now.</summary>
public sealed record TodayMachine(
    string Unit,
    MachineKind Kind,
    string Make,
    string Model,
    string Site,
    MachineNow Now,
    MeterHours OffsetHours,
    int Unconfirmed,
    int DailyOpen,
    ImmutableArray<DueGroup> Groups,
    IReadOnlyDictionary<string, string> ItemNames,
    TodayCondition Condition,
    string? KindName
)
{
    /// <summary>The group that presses most.</summary>
    public DueGroup? First => Groups.FirstOrDefault();

    public DueStatus Status => First?.Status ?? DueStatus.NotDue;

    public bool Parked => Now.Use.ParkedAt(Now.Now);
}

/// <summary>Machines by standing over the whole selection, not the page alone.</summary>
/// <param name="All">All of them.</param>
/// <param name="Overdue">Something is overdue.</param>
/// <param name="Due">Something is due, nothing overdue.</param>
/// <param name="Coming">Something is coming, nothing due.</param>
/// <param name="Unconfirmed">A reading waits for a person.</param>
/// <param name="Stale">The meter was not read for long.</param>
/// <param name="Stopped">Out of service, or not checked.</param>
/// <param name="Missed">A walk was missed lately.</param>
/// <param name="ToWalk">Nobody has walked round it today, and it is in service.</param>
/// <param name="Untold">Out of service, and nobody was told.</param>
public sealed record TodayCounts(
    int All,
    int Overdue,
    int Due,
    int Coming,
    int Unconfirmed,
    int Stale,
    int Stopped,
    int Missed,
    int ToWalk,
    int Untold
);

/// <summary>What waits for a person this morning, beside the machines' own counts, in the order in which a shift deals with it.</summary>
/// <param name="CardsOpen">Job cards that are being worked through.</param>
/// <param name="Visits">Visits planned for today or before.</param>
/// <param name="ToJudge">Samples whose results nobody has judged.</param>
/// <param name="PartsMissing">Parts that the next seven days' visits need and their sites' shelves do not hold.</param>
/// <param name="Days">The next seven days, with the minutes of hands-on work that are planned on each.</param>
public sealed record Morning(int CardsOpen, int Visits, int ToJudge, int PartsMissing, IReadOnlyList<PlannedDay> Days);

/// <summary>A day and the minutes of hands-on work that are planned on it.</summary>
public sealed record PlannedDay(DateOnly On, int Minutes, int Visits);

public sealed record TodayPage(
    IReadOnlyList<TodayMachine> Machines,
    TodayCounts Counts,
    Morning Morning,
    IReadOnlyList<string> Sites,
    IReadOnlyList<KindChoice> Kinds,
    int Matching,
    int Pages,
    TodayFilter Filter,
    DateTimeOffset Now,
    TimeZoneInfo Zone
);

/// <summary>Reads Today from the standing rows: a bounded number of queries whatever the fleet's size.</summary>
public sealed class TodayView(NippersDb db, Standings standings, TimeProvider clock)
{
    /// <summary>Machines on one page.</summary>
    public const int PageSize = 25;

    private const int WeekDays = 7;

    // A visit that was missed longer ago than this waits for another date, not for a part.
    private const int LateDays = 14;

    /// <summary>Today.</summary>
    /// <param name="filter">What to show.</param>
    /// <param name="ct">Cancels.</param>
    /// <param name="ownSite">The site whose machines come first; null for none.</param>
    public async Task<TodayPage> Run(TodayFilter filter, CancellationToken ct, int? ownSite = null)
    {
        var now = clock.GetUtcNow();
        await standings.RefreshStale(now, ct);

        var fleet = db.Statuses.AsNoTracking().Where(x => !x.Machine.Retired);
        if (filter.Site is { } site)
            fleet = fleet.Where(x => x.Machine.Site.Name == site);
        if (filter.Kind is { } kind)
            fleet = fleet.Where(x => x.Machine.Kind == kind);

        var sites = await db.Sites.AsNoTracking().OrderBy(x => x.Name).Select(x => new { x.Name, x.TimeZone }).ToListAsync(ct);
        var zone = TimeZoneInfo.FindSystemTimeZoneById(
            (sites.FirstOrDefault(x => x.Name == filter.Site) ?? sites.FirstOrDefault())?.TimeZone ?? "UTC"
        );
        var today = LocalDay.Of(now, zone);
        var counts = await fleet
            .GroupBy(_ => 1)
            .Select(g => new TodayCounts(
                g.Count(),
                g.Count(x => x.Worst == DueStatus.Overdue),
                g.Count(x => x.Worst == DueStatus.Due),
                g.Count(x => x.Worst == DueStatus.Coming),
                g.Count(x => x.Unconfirmed > 0),
                g.Count(x => x.Stale && !x.Parked),
                g.Count(x => x.OutOfService || x.CardOpen || x.NotChecked > 0),
                g.Count(x => x.MissedWalks > 0),
                g.Count(x => x.WalkedOn != today && !x.Parked && !x.OutOfService && !x.CardOpen),
                g.Count(x => x.Untold)
            ))
            .SingleOrDefaultAsync(ct)
            ?? new(0, 0, 0, 0, 0, 0, 0, 0, 0, 0);

        if (filter.Status is { } standing)
            fleet = fleet.Where(x => x.Worst == standing);
        fleet = filter.Look switch
        {
            TodayFilter.Unconfirmed => fleet.Where(x => x.Unconfirmed > 0),
            TodayFilter.Stopped => fleet.Where(x => x.OutOfService || x.CardOpen || x.NotChecked > 0),
            TodayFilter.Missed => fleet.Where(x => x.MissedWalks > 0),
            TodayFilter.Stale => fleet.Where(x => x.Stale && !x.Parked),
            _ => fleet,
        };

        var matching = filter is { Status: null, Look: null } ? counts.All : await fleet.CountAsync(ct);
        var pages = Math.Max(1, (matching + PageSize - 1) / PageSize);
        var page = Math.Clamp(filter.Page, 1, pages);

        // Ordered by what an index holds, then read: to sort thousands of whole rows takes longer than all else.
        var ordered = ownSite is null
            ? fleet.OrderByDescending(x => x.OutOfService)
            : fleet.OrderByDescending(x => x.Machine.SiteId == ownSite).ThenByDescending(x => x.OutOfService);
        var ids = await ordered
            .ThenByDescending(x => x.Worst)
            .ThenBy(x => x.Urgency)
            .ThenBy(x => x.MachineId)
            .Skip((page - 1) * PageSize)
            .Take(PageSize)
            .Select(x => x.MachineId)
            .ToListAsync(ct);
        var found = await db
            .Statuses.AsNoTracking()
            .Where(x => ids.Contains(x.MachineId))
            .Select(x => new
            {
                Row = x,
                x.Machine.Unit,
                x.Machine.Kind,
                x.Machine.Make,
                x.Machine.Model,
                Site = x.Machine.Site.Name,
                x.Machine.Site.TimeZone,
                x.Machine.ProgramId,
                x.Machine.Program.ComingDays,
                KindName = x.Machine.WalkList!.Name,
            })
            .ToDictionaryAsync(x => x.Row.MachineId, ct);
        var rows = ids.Where(found.ContainsKey).Select(x => found[x]).ToList();
        var names = await db.ItemNames([.. rows.Select(x => x.ProgramId).Distinct()], ct);
        var wear = await db.WearNames([.. rows.Select(x => x.Row.MachineId)], ct);

        var machines = new List<TodayMachine>(rows.Count);
        foreach (var row in rows)
        {
            var (use, dues) = StatusCodec.Decode(row.Row);
            var at = new MachineNow(use, now, TimeZoneInfo.FindSystemTimeZoneById(row.TimeZone));
            machines.Add(
                new(
                    row.Unit,
                    row.Kind,
                    row.Make,
                    row.Model,
                    row.Site,
                    at,
                    row.Row.OffsetHours,
                    row.Row.Unconfirmed,
                    row.Row.DailyOpen,
                    Urgency(at.Stand(dues.Service, row.ComingDays), use),
                    wear[row.Row.MachineId].Any() ? Merged(names[row.ProgramId], wear[row.Row.MachineId]) : names[row.ProgramId],
                    new(row.Row.Answer, row.Row.Defects, row.Row.WalkedOn, row.Row.MissedWalks, row.Row.Untold),
                    row.KindName
                )
            );
        }

        return new(
            machines,
            counts,
            await MorningOf(filter.Site, today, ct),
            [.. sites.Select(x => x.Name)],
            await KindCatalog.Choices(db, ct),
            matching,
            pages,
            filter with
            {
                Page = page,
            },
            now,
            zone
        );
    }

    private async Task<Morning> MorningOf(string? site, DateOnly today, CancellationToken ct)
    {
        var visits = db.Visits.Where(x => site == null || x.Machine.Site.Name == site);
        var samples = db.Samples.Where(x => site == null || x.Machine.Site.Name == site);

        // One question for all of them, asked of any one row.
        var counts = await db
            .Sites.OrderBy(x => x.Id)
            .Take(1)
            .Select(_ => new
            {
                Open = visits.Count(x => x.State == VisitState.Open),
                Planned = visits.Count(x => x.State == VisitState.Planned && x.On <= today),
                ToJudge = samples.Count(x => x.State == SampleState.Reported),
            })
            .SingleOrDefaultAsync(ct);
        var until = today.AddDays(WeekDays);
        var planned = visits.Where(x => x.State == VisitState.Planned && x.On < until);
        var days = await planned
            .Where(x => x.On >= today)
            .GroupBy(x => x.On)
            .Select(g => new PlannedDay(g.Key, g.Sum(x => x.HandsMinutes), g.Count()))
            .ToListAsync(ct);
        var late = today.AddDays(-LateDays);
        return new(
            counts?.Open ?? 0,
            counts?.Planned ?? 0,
            counts?.ToJudge ?? 0,
            counts is { Planned: 0 } && days.Count == 0 ? 0 : await Missing(planned.Where(x => x.On >= late), ct),
            [.. Enumerable.Range(0, WeekDays).Select(x => today.AddDays(x)).Select(x => days.Find(y => y.On == x) ?? new(x, 0, 0))]
        );
    }

    /// <summary>How many parts of some visits the shelves of their sites do not hold.</summary>
    private async Task<int> Missing(IQueryable<VisitRow> visits, CancellationToken ct) =>
        (await ShelfNeeds.Of(db, visits, ct)).Sum(x => Math.Max(0, x.Needed - x.OnShelf));

    private static Dictionary<string, string> Merged(
        IReadOnlyDictionary<string, string> names,
        IEnumerable<(string Code, string Name)> more
    )
    {
        var all = new Dictionary<string, string>(names, StringComparer.Ordinal);
        foreach (var (code, name) in more)
            all[code] = name;
        return all;
    }

    /// <summary>Groups of standings, the most pressing first.</summary>
    public static ImmutableArray<DueGroup> Urgency(IEnumerable<ItemStatus> items, UsePerDay use) =>
        [.. DueGroup.Of(items).OrderByDescending(x => x.Status).ThenBy(x => x.Urgency(use.HoursPerDay))];
}

/// <summary>Small questions that several views ask.</summary>
public static class NameQueries
{
    /// <summary>Item names by code, for some programs.</summary>
    public static async Task<Dictionary<int, IReadOnlyDictionary<string, string>>> ItemNames(
        this NippersDb db,
        IReadOnlyCollection<int> programIds,
        CancellationToken ct
    )
    {
        var programs = await db.KeptPrograms(programIds, ct);
        return programs.ToDictionary(
            x => x.Key,
            IReadOnlyDictionary<string, string> (x) =>
                x.Value.Items.ToDictionary(item => item.Code, item => item.Name, StringComparer.Ordinal)
        );
    }

    /// <summary>Units in use.</summary>
    public static Task<List<string>> Units(this NippersDb db, CancellationToken ct) =>
        db.Machines.AsNoTracking().Where(x => !x.Retired).OrderBy(x => x.Unit).Select(x => x.Unit).ToListAsync(ct);
}
