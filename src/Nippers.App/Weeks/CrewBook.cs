using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Readings;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Programs;
using Nippers.Data.Weeks;

namespace Nippers.App.Weeks;

/// <summary>Somebody who may be planned for.</summary>
/// <param name="UserId">Their account.</param>
/// <param name="Name">The name that stands behind records.</param>
/// <param name="Site">Where their days begin and end.</param>
/// <param name="Off">Not planned for.</param>
/// <param name="Minutes">Minutes of each day of the week, Sunday first.</param>
/// <param name="Subjects">What they are qualified for, by kind of place.</param>
/// <param name="Away">Days on which they are not there.</param>
/// <param name="Version">Version of what was said of them; 0 while nobody said anything and their site's own days hold.</param>
public sealed record CrewMember(
    string UserId,
    string Name,
    Site Site,
    bool Off,
    IReadOnlyList<int> Minutes,
    IReadOnlyList<CompartmentKind> Subjects,
    IReadOnlyList<AwayRow> Away,
    int Version
);

/// <summary>Somebody's days as entered: hours of each day of the week, Sunday first.</summary>
public sealed record CrewInput(
    string UserId,
    string? Site,
    bool Planned,
    IReadOnlyList<string?> Hours,
    IReadOnlyList<CompartmentKind> Subjects,
    int Version
);

/// <summary>A machine that must work on some days.</summary>
public sealed record BusyMachine(long Id, string Unit, DateOnly From, DateOnly To, string Why);

/// <summary>What the plan by weeks is told of people, roads and machines that must work.</summary>
public sealed record CrewPage(
    IReadOnlyList<CrewMember> People,
    IReadOnlyList<Site> Sites,
    IReadOnlyList<RoadRow> Roads,
    IReadOnlyList<BusyMachine> Busy,
    IReadOnlyList<string> Units
);

/// <summary>Keeps who is there on which days and qualified for what, how far it is between sites, and when machines must work.</summary>
public sealed class CrewBook(NippersDb db, UnitOfWork writes)
{
    /// <summary>Minutes that are taken between two sites where nobody said how far it is.</summary>
    public const int UnsaidRoad = 45;

    private const int WeekDays = 7;
    private const int DayMinutes = 24 * 60;
    private const int LongestDay = 16;
    private const int LongestRoad = 600;
    private const int LongestWhy = 120;
    private const int LongestAway = 400;

    public async Task<CrewPage> Load(CancellationToken ct)
    {
        var sites = await db.Sites.AsNoTracking().OrderBy(x => x.Name).ToListAsync(ct);
        return new(
            await People(sites, ct),
            sites,
            await db.Roads.AsNoTracking().ToListAsync(ct),
            await db
                .Busy.Join(db.Machines, x => x.MachineId, m => m.Id, (x, m) => new { x, m.Unit })
                .OrderBy(x => x.x.From)
                .ThenBy(x => x.Unit)
                .Select(x => new BusyMachine(x.x.Id, x.Unit, x.x.From, x.x.To, x.x.Why))
                .ToListAsync(ct),
            await Units(ct)
        );
    }

    /// <summary>Machines that may be planned for.</summary>
    public async Task<IReadOnlyList<string>> Units(CancellationToken ct) =>
        await db.Machines.Where(x => !x.Retired).OrderBy(x => x.Unit).Select(x => x.Unit).ToListAsync(ct);

    /// <summary>Technicians and planners who can sign in, by name. Planners are planned for once somebody gave them days.</summary>
    public async Task<IReadOnlyList<CrewMember>> People(IReadOnlyList<Site> sites, CancellationToken ct)
    {
        var now = writes.Now;
        var users = await db
            .Users.AsNoTracking()
            .OrderBy(x => x.FullName)
            .Select(x => new
            {
                x.Id,
                x.FullName,
                x.SiteId,
                x.LockoutEnd,
                Role = db.UserRoles.Where(r => r.UserId == x.Id).Join(db.Roles, r => r.RoleId, r => r.Id, (_, r) => r.Name).Min(),
            })
            .ToListAsync(ct);
        var crew = await db.Crew.AsNoTracking().ToDictionaryAsync(x => x.UserId, StringComparer.Ordinal, ct);
        var away = (await db.Away.AsNoTracking().OrderBy(x => x.From).ToListAsync(ct)).ToLookup(x => x.UserId, StringComparer.Ordinal);
        return
        [
            .. users
                .Where(x => x.Role is Roles.Technician or Roles.Planner && !(x.LockoutEnd > now) && sites.Count > 0)
                .Select(x =>
                {
                    var row = crew.GetValueOrDefault(x.Id);
                    var site = sites.FirstOrDefault(s => s.Id == (row?.SiteId ?? x.SiteId)) ?? sites[0];
                    return new CrewMember(
                        x.Id,
                        x.FullName,
                        site,
                        row?.Off ?? x.Role == Roles.Planner,
                        row is null ? SiteDays(site) : ReadMinutes(row.Minutes),
                        row is null ? [] : ReadSubjects(row.Subjects),
                        [.. away[x.Id]],
                        row?.Version ?? 0
                    );
                }),
        ];
    }

    /// <summary>Keeps somebody's days.</summary>
    public Task<Outcome<CrewRow>> Save(CrewInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                var (sites, person) = await Person(input.UserId, ct);
                if (person is null)
                    return Outcome<CrewRow>.Refused(Refusals.NoSuchPerson());
                if (person.Version != input.Version)
                    return Outcome<CrewRow>.Refused(Refusals.ChangedMeanwhile());
                var site = sites.FirstOrDefault(x => x.Name == input.Site);
                if (site is null)
                    refusals.Add(Refusals.NoSuchSite("site"));
                var minutes = new int[WeekDays];
                for (var day = 0; day < WeekDays; day++)
                {
                    var hours = Typed.Number(input.Hours.ElementAtOrDefault(day), "hours" + day, 0, LongestDay, refusals);
                    minutes[day] = (int)Math.Round((hours ?? 0) * 60);
                }

                if (refusals.Count > 0)
                    return Outcome<CrewRow>.Refused(refusals);
                var row = await db.Crew.SingleOrDefaultAsync(x => x.UserId == input.UserId, ct);
                row ??= db.Crew.Add(new() { UserId = input.UserId, Minutes = "" }).Entity;
                (row.SiteId, row.Off) = (site!.Id, !input.Planned);
                row.Minutes = string.Join(' ', minutes.Select(x => x.ToString(CultureInfo.InvariantCulture)));
                row.Subjects = string.Join(' ', input.Subjects.Where(Enum.IsDefined).Distinct());
                row.Version++;
                writes.Audit(actor, "crew.save", person.Name, null, new { person.Minutes, person.Subjects }, new { minutes, row.Subjects });
                return Outcome<CrewRow>.Of(row);
            },
            ct
        );

    /// <summary>Keeps that somebody is not there on some days.</summary>
    public Task<Outcome<AwayRow>> AddAway(string? userId, string? from, string? to, string? why, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                var (_, person) = await Person(userId ?? "", ct);
                if (person is null)
                    return Outcome<AwayRow>.Refused(Refusals.NoSuchPerson());
                var days = Days(from, to, refusals);
                var words = Typed.Words(why, "why", LongestWhy, refusals);
                if (refusals.Count > 0)
                    return Outcome<AwayRow>.Refused(refusals);
                var row = db
                    .Away.Add(
                        new()
                        {
                            UserId = person.UserId,
                            From = days.From,
                            To = days.To,
                            Why = words,
                        }
                    )
                    .Entity;
                writes.Audit(
                    actor,
                    "crew.away",
                    person.Name,
                    null,
                    null,
                    new
                    {
                        row.From,
                        row.To,
                        row.Why,
                    }
                );
                return Outcome<AwayRow>.Of(row);
            },
            ct
        );

    /// <summary>Takes back that somebody is not there.</summary>
    public Task<Outcome<Nothing>> RemoveAway(long id, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await db.Away.SingleOrDefaultAsync(x => x.Id == id, ct) is not { } row)
                    return Outcome<Nothing>.Refused(Refusals.ChangedMeanwhile());
                var (_, person) = await Person(row.UserId, ct);
                db.Away.Remove(row);
                writes.Audit(actor, "crew.back", person?.Name ?? "", null, new { row.From, row.To }, null);
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Keeps how far it is between sites: minutes by the numbers of both, the lower first; an empty one is taken out.</summary>
    public Task<Outcome<Nothing>> SaveRoads(IReadOnlyDictionary<string, string?> minutes, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                var sites = await db.Sites.OrderBy(x => x.Id).Select(x => new { x.Id, x.Name }).ToListAsync(ct);
                var kept = await db.Roads.ToListAsync(ct);
                var before = kept.ToDictionary(x => $"{x.FromId}-{x.ToId}", x => x.Minutes);
                foreach (var from in sites)
                {
                    foreach (var to in sites.Where(x => x.Id > from.Id))
                    {
                        var key = string.Create(CultureInfo.InvariantCulture, $"{from.Id}-{to.Id}");
                        if (!minutes.TryGetValue(key, out var text))
                            continue;
                        var row = kept.Find(x => x.FromId == from.Id && x.ToId == to.Id);
                        if (string.IsNullOrWhiteSpace(text))
                        {
                            if (row is not null)
                                db.Roads.Remove(row);
                            continue;
                        }

                        if (Typed.Whole(text, "road" + key, 1, LongestRoad, refusals) is not { } far)
                            continue;
                        row ??= db.Roads.Add(new() { FromId = from.Id, ToId = to.Id }).Entity;
                        row.Minutes = far;
                    }
                }

                if (refusals.Count > 0)
                    return Outcome<Nothing>.Refused(refusals);
                writes.Audit(actor, "roads.save", "", null, before, minutes);
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Keeps that a machine must work on some days.</summary>
    public Task<Outcome<BusyRow>> AddBusy(string? unit, string? from, string? to, string? why, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                var machine = await db
                    .Machines.Where(x => x.Unit == unit && !x.Retired)
                    .Select(x => new { x.Id, x.Unit })
                    .SingleOrDefaultAsync(ct);
                if (machine is null)
                    refusals.Add(Refusals.NoSuchUnit("unit", unit ?? "", Array.Empty<string>()));
                var days = Days(from, to, refusals);
                var words = Typed.Words(why, "why", LongestWhy, refusals);
                if (refusals.Count > 0)
                    return Outcome<BusyRow>.Refused(refusals);
                var row = db
                    .Busy.Add(
                        new()
                        {
                            MachineId = machine!.Id,
                            From = days.From,
                            To = days.To,
                            Why = words,
                            By = actor.Name,
                        }
                    )
                    .Entity;
                writes.Audit(
                    actor,
                    "machine.busy",
                    machine.Unit,
                    machine.Id,
                    null,
                    new
                    {
                        row.From,
                        row.To,
                        row.Why,
                    }
                );
                return Outcome<BusyRow>.Of(row);
            },
            ct
        );

    /// <summary>Takes back that a machine must work.</summary>
    public Task<Outcome<Nothing>> RemoveBusy(long id, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await db.Busy.SingleOrDefaultAsync(x => x.Id == id, ct) is not { } row)
                    return Outcome<Nothing>.Refused(Refusals.ChangedMeanwhile());
                db.Busy.Remove(row);
                var unit = await db.Machines.Where(x => x.Id == row.MachineId).Select(x => x.Unit).SingleAsync(ct);
                writes.Audit(actor, "machine.free", unit, row.MachineId, new { row.From, row.To }, null);
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>A site's own days: its shift on each day on which it works.</summary>
    private static int[] SiteDays(Site site) =>
        [.. Enumerable.Range(0, WeekDays).Select(day => site.Working.Days.Contains((DayOfWeek)day) ? ShiftOf(site) : 0)];

    /// <summary>Minutes of a site's shift, which may go past midnight.</summary>
    private static int ShiftOf(Site site) => (site.ShiftTo - site.ShiftFrom + DayMinutes) % DayMinutes;

    private static int[] ReadMinutes(string text) =>
        [.. text.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(x => int.Parse(x, CultureInfo.InvariantCulture))];

    private static CompartmentKind[] ReadSubjects(string text) =>
        [.. text.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(Enum.Parse<CompartmentKind>)];

    private static (DateOnly From, DateOnly To) Days(string? from, string? to, List<Refusal> refusals)
    {
        var first = LocalTime.ParseDate(from);
        var last = string.IsNullOrWhiteSpace(to) ? first : LocalTime.ParseDate(to);
        if (first is null)
            refusals.Add(Refusals.NotADate("from"));
        if (last is null && !string.IsNullOrWhiteSpace(to))
            refusals.Add(Refusals.NotADate("to"));
        if (first is { } a && last is { } b && (b < a || b.DayNumber - a.DayNumber > LongestAway))
            refusals.Add(Refusals.DaysTurned("to"));
        return (first ?? default, last ?? default);
    }

    private async Task<(List<Site> Sites, CrewMember? Person)> Person(string userId, CancellationToken ct)
    {
        var sites = await db.Sites.AsNoTracking().OrderBy(x => x.Name).ToListAsync(ct);
        return (sites, (await People(sites, ct)).FirstOrDefault(x => x.UserId == userId));
    }
}
