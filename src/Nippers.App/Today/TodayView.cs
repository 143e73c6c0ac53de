using System.Collections.Immutable;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Kinds;
using Nippers.App.Statuses;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Fleet;

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
public sealed record TodayCounts(int All, int Overdue, int Due, int Coming, int Unconfirmed, int Stale, int Stopped, int Missed);

public sealed record TodayPage(
    IReadOnlyList<TodayMachine> Machines,
    TodayCounts Counts,
    IReadOnlyList<string> Sites,
    IReadOnlyList<KindChoice> Kinds,
    int Matching,
    int Pages,
    TodayFilter Filter,
    DateTimeOffset Now,
    TimeZoneInfo Zone
);

/// <summary>Reads Today from the standing rows: a bounded number of queries whatever the fleet's size.</summary>
public sealed class TodayView(NippersDb db, StatusKeeper keeper, TimeProvider clock)
{
    /// <summary>Machines on one page.</summary>
    public const int PageSize = 25;

    public async Task<TodayPage> Run(TodayFilter filter, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        await keeper.RefreshStale(now, ct);

        var fleet = db.Statuses.AsNoTracking().Where(x => !x.Machine.Retired);
        if (filter.Site is { } site)
            fleet = fleet.Where(x => x.Machine.Site.Name == site);
        if (filter.Kind is { } kind)
            fleet = fleet.Where(x => x.Machine.Kind == kind);

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
                g.Count(x => x.MissedWalks > 0)
            ))
            .SingleOrDefaultAsync(ct)
            ?? new(0, 0, 0, 0, 0, 0, 0, 0);

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

        var matching = await fleet.CountAsync(ct);
        var pages = Math.Max(1, (matching + PageSize - 1) / PageSize);
        var page = Math.Clamp(filter.Page, 1, pages);
        var rows = await fleet
            .OrderByDescending(x => x.OutOfService)
            .ThenByDescending(x => x.Worst)
            .ThenBy(x => x.Urgency)
            .ThenBy(x => x.MachineId)
            .Skip((page - 1) * PageSize)
            .Take(PageSize)
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
            .ToListAsync(ct);
        var names = await db.ItemNames([.. rows.Select(x => x.ProgramId).Distinct()], ct);
        var wear = await db.WearNames([.. rows.Select(x => x.Row.MachineId)], ct);
        var sites = await db.Sites.AsNoTracking().OrderBy(x => x.Name).Select(x => new { x.Name, x.TimeZone }).ToListAsync(ct);

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

        var zone = TimeZoneInfo.FindSystemTimeZoneById(
            (sites.FirstOrDefault(x => x.Name == filter.Site) ?? sites.FirstOrDefault())?.TimeZone ?? "UTC"
        );
        return new(
            machines,
            counts,
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
        var items = await db
            .ProgramItems.AsNoTracking()
            .Where(x => programIds.Contains(x.ProgramId))
            .Select(x => new
            {
                x.ProgramId,
                x.Code,
                x.Name,
            })
            .ToListAsync(ct);
        return items
            .GroupBy(x => x.ProgramId)
            .ToDictionary(
                x => x.Key,
                IReadOnlyDictionary<string, string> (x) => x.ToDictionary(item => item.Code, item => item.Name, StringComparer.Ordinal)
            );
    }

    /// <summary>Units in use.</summary>
    public static Task<List<string>> Units(this NippersDb db, CancellationToken ct) =>
        db.Machines.AsNoTracking().Where(x => !x.Retired).OrderBy(x => x.Unit).Select(x => x.Unit).ToListAsync(ct);
}
