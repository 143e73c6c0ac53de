using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Nippers.App.People;
using Nippers.Data;
using Nippers.Data.Visits;

namespace Nippers.App.Weeks;

/// <summary>A visit as a calendar has it.</summary>
/// <param name="Uid">The same for as long as the visit is planned.</param>
/// <param name="Sequence">How often it was changed.</param>
/// <param name="ChangedAt">When last.</param>
/// <param name="Begins">When it begins, by the way and the jobs before it.</param>
/// <param name="Ends">When it ends.</param>
/// <param name="Visit">The visit.</param>
/// <param name="Unit">The machine.</param>
/// <param name="Site">Where.</param>
/// <param name="NameHours">What the visit is called by; 0 when none has hours.</param>
/// <param name="Items">How many items are in it.</param>
/// <param name="Parts">Numbers of parts to take along, with how many.</param>
public sealed record CalendarVisit(
    string Uid,
    int Sequence,
    DateTimeOffset ChangedAt,
    DateTimeOffset Begins,
    DateTimeOffset Ends,
    long Visit,
    string Unit,
    string Site,
    int NameHours,
    int Items,
    IReadOnlyList<(string Number, int Pieces)> Parts
);

/// <summary>Somebody's calendar.</summary>
public sealed record PersonCalendar(string Name, PersonChoices Choices, IReadOnlyList<CalendarVisit> Visits);

/// <summary>Private links under which a person's visits are read by their calendar.</summary>
public sealed class Calendars(NippersDb db, UnitOfWork writes)
{
    // A calendar keeps what has been for a while.
    private const int PastDays = 30;
    private const int SecretBytes = 32;

    /// <summary>When a person's link was made; null while there is none.</summary>
    public Task<DateTimeOffset?> MadeAt(string userId, CancellationToken ct) =>
        db.CalendarLinks.Where(x => x.UserId == userId).Select(x => (DateTimeOffset?)x.MadeAt).SingleOrDefaultAsync(ct);

    /// <summary>Makes a person's link. One made before is good no longer. Its text is seen this once.</summary>
    public Task<Outcome<string>> Make(string userId, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var text = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(SecretBytes));
                var row = await db.CalendarLinks.SingleOrDefaultAsync(x => x.UserId == userId, ct);
                row ??= db.CalendarLinks.Add(new() { UserId = userId, Hash = "" }).Entity;
                (row.Hash, row.MadeAt) = (Hash(text), writes.Now);
                writes.Audit(actor, "calendar.make", actor.Name, null, null, null);
                return Outcome<string>.Of(text);
            },
            ct
        );

    /// <summary>Ends a person's link.</summary>
    public Task<Outcome<Nothing>> Revoke(string userId, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await db.CalendarLinks.SingleOrDefaultAsync(x => x.UserId == userId, ct) is { } row)
                {
                    db.CalendarLinks.Remove(row);
                    writes.Audit(actor, "calendar.revoke", actor.Name, null, null, null);
                }

                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>The calendar behind a link; null when there is none, or when its person can't sign in.</summary>
    public async Task<PersonCalendar?> Read(string secret, CancellationToken ct)
    {
        var hash = Hash(secret);
        var now = writes.Now;
        var user = await db
            .Users.AsNoTracking()
            .SingleOrDefaultAsync(x => db.CalendarLinks.Any(l => l.UserId == x.Id && l.Hash == hash), ct);
        if (user is null || PeopleBook.IsOff(user.LockoutEnd, now))
            return null;
        var since = DateOnly.FromDateTime(now.UtcDateTime).AddDays(-PastDays);
        var rows = await db
            .PlannedJobs.AsNoTracking()
            .Where(x => x.UserId == user.Id && x.On >= since && x.Visit.State != VisitState.Voided)
            .OrderBy(x => x.On)
            .ThenBy(x => x.Turn)
            .Select(x => new
            {
                Job = x,
                x.Visit.NameHours,
                x.Visit.MachineId,
                x.Visit.Machine.Unit,
                x.Visit.Machine.Site,
                Items = x.Visit.Items.Select(i => i.ItemCode).ToList(),
            })
            .ToListAsync(ct);
        var machines = rows.Select(x => x.MachineId).ToHashSet();
        var parts = (
            await db
                .FilterPositions.AsNoTracking()
                .Where(x => machines.Contains(x.MachineId) && x.Part != null)
                .Select(x => new
                {
                    x.MachineId,
                    x.ItemCode,
                    x.Part!.Number,
                })
                .ToListAsync(ct)
        ).ToLookup(x => x.MachineId);
        var sites = await db.Sites.AsNoTracking().OrderBy(x => x.Name).ToListAsync(ct);
        var roads = FleetJobs
            .Roads(sites, await db.Roads.AsNoTracking().ToListAsync(ct), null)
            .SelectMany(x => new[] { ((x.A, x.B), x.Minutes), ((x.B, x.A), x.Minutes) })
            .ToDictionary(x => x.Item1, x => x.Minutes);
        var crew = await db.Crew.AsNoTracking().SingleOrDefaultAsync(x => x.UserId == user.Id, ct);
        var home = sites.FirstOrDefault(x => x.Id == (crew?.SiteId ?? user.SiteId)) ?? sites[0];
        var visits = new List<CalendarVisit>();
        foreach (var day in rows.GroupBy(x => x.Job.On))
        {
            // A day goes on as it was planned: the way there, the job, the way to the next.
            var (at, minute) = (home.Name, home.ShiftFrom);
            foreach (var row in day)
            {
                minute += at == row.Site.Name ? 0 : roads.GetValueOrDefault((at, row.Site.Name), CrewBook.UnsaidRoad);
                at = row.Site.Name;
                var begins = Instant(day.Key, minute, home.TimeZone);
                minute += row.Job.Minutes;
                visits.Add(
                    new(
                        string.Create(
                            System.Globalization.CultureInfo.InvariantCulture,
                            $"visit-{row.Job.VisitId}-{row.Job.Part}{(row.Job.Helps ? "b" : "")}@nippers"
                        ),
                        row.Job.Sequence,
                        row.Job.ChangedAt,
                        begins,
                        begins.AddMinutes(row.Job.Minutes),
                        row.Job.VisitId,
                        row.Unit,
                        row.Site.Name,
                        row.NameHours,
                        row.Items.Count,
                        [
                            .. parts[row.MachineId]
                                .Where(x => row.Items.Contains(x.ItemCode))
                                .GroupBy(x => x.Number, StringComparer.Ordinal)
                                .OrderBy(x => x.Key, StringComparer.Ordinal)
                                .Select(x => (x.Key, x.Count())),
                        ]
                    )
                );
            }
        }

        return new(user.FullName, new(user.Units, user.Language), visits);
    }

    /// <summary>An instant of a site's day. An hour that the clock leaves out is the one after it.</summary>
    private static DateTimeOffset Instant(DateOnly on, int minute, string zone)
    {
        var local = on.ToDateTime(TimeOnly.MinValue).AddMinutes(minute);
        var there = TimeZoneInfo.FindSystemTimeZoneById(zone);
        if (there.IsInvalidTime(local))
            local = local.AddHours(1);
        return new DateTimeOffset(local, there.GetUtcOffset(local)).ToUniversalTime();
    }

    private static string Hash(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)));
}
