using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Fluids;
using Nippers.Data;
using Nippers.Data.Fleet;

namespace Nippers.App.People;

/// <summary>What is expected at a site, as entered.</summary>
public sealed record SiteInput(
    string Name,
    string? LowC,
    string? HighC,
    IReadOnlyCollection<DayOfWeek> Days,
    string? ShiftFrom,
    string? ShiftTo,
    string? Contact = null,
    bool StopsEachWalk = false
);

/// <summary>Sites: the first one is named at setup, more are added in settings.</summary>
public sealed class FirstSite(NippersDb db, UnitOfWork writes)
{
    private const int LongestContact = 120;

    /// <summary>Names the site that an empty installation starts with, inside the caller's transaction.</summary>
    public async Task Name(string name, string timeZone, Actor actor, CancellationToken ct)
    {
        var site = await db.Sites.OrderBy(x => x.Id).FirstAsync(ct);
        (site.Name, site.TimeZone) = (name, timeZone);
        writes.Audit(actor, "site.name", name, null, null, new { name, timeZone });
    }

    /// <summary>Adds a site.</summary>
    public Task<Outcome<Nothing>> Add(string? name, string? timeZone, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                var text = name?.Trim() ?? "";
                if (text.Length == 0)
                    refusals.Add(Refusals.Needed("siteName"));
                else if (await db.Sites.AnyAsync(x => x.Name == text, ct))
                    refusals.Add(Refusals.SiteTaken(text));
                if (!TimeZoneInfo.TryFindSystemTimeZoneById(timeZone ?? "", out _))
                    refusals.Add(Refusals.NoSuchZone());
                if (refusals.Count > 0)
                    return Outcome<Nothing>.Refused(refusals);
                db.Sites.Add(new() { Name = text, TimeZone = timeZone! });
                writes.Audit(actor, "site.add", text, null, null, new { text, timeZone });
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Keeps what is expected at a site: its weather, and when it works.</summary>
    public Task<Outcome<Nothing>> Expect(SiteInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var site = await db.Sites.SingleOrDefaultAsync(x => x.Name == input.Name, ct);
                if (site is null)
                    return Outcome<Nothing>.Refused(Refusals.NoSuchSite(""));
                var refusals = new List<Refusal>();
                var low = Degrees(input.LowC, "lowC", refusals);
                var high = Degrees(input.HighC, "highC", refusals);
                if ((low is null) != (high is null) && refusals.Count == 0)
                    refusals.Add(Refusals.Needed(low is null ? "lowC" : "highC"));
                if (low >= high)
                    refusals.Add(Refusals.HighAboveLow());
                var (from, to) = (Clock(input.ShiftFrom, "shiftFrom", refusals), Clock(input.ShiftTo, "shiftTo", refusals));
                if (from >= to)
                    refusals.Add(Refusals.ShiftBackwards());
                var contact = Typed.Words(input.Contact, "contact", LongestContact, refusals);
                if (input.Days.Count == 0)
                    refusals.Add(Refusals.DaysNeeded());
                if (refusals.Count > 0)
                    return Outcome<Nothing>.Refused(refusals);
                var before = new
                {
                    site.LowC,
                    site.HighC,
                    site.WorkDays,
                    site.ShiftFrom,
                    site.ShiftTo,
                };
                (site.LowC, site.HighC, site.ShiftFrom, site.ShiftTo) = (low, high, from!.Value, to!.Value);
                (site.Contact, site.StopsEachWalk) = (contact, input.StopsEachWalk);
                site.WorkDays = input.Days.Aggregate(0, (bits, day) => bits | (1 << (int)day));
                writes.Audit(
                    actor,
                    "site.expect",
                    site.Name,
                    null,
                    before,
                    new
                    {
                        low,
                        high,
                        site.WorkDays,
                        from,
                        to,
                        contact,
                        input.StopsEachWalk,
                    }
                );
                await writes.RefreshStatus(await db.Machines.Where(x => x.SiteId == site.Id).Select(x => x.Id).ToListAsync(ct), ct);
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    private static int? Degrees(string? text, string field, List<Refusal> refusals) =>
        Typed.Temperature(text, field, FluidRange.Coldest, FluidRange.Warmest, refusals) is { } celsius ? (int)Math.Round(celsius) : null;

    /// <summary>A site by its name; null when there is none.</summary>
    public Task<Site?> Find(string name, CancellationToken ct) => db.Sites.AsNoTracking().SingleOrDefaultAsync(x => x.Name == name, ct);

    private static int? Clock(string? text, string field, List<Refusal> refusals)
    {
        if (TimeOnly.TryParseExact(text?.Trim(), "HH:mm", CultureInfo.InvariantCulture, DateTimeStyles.None, out var time))
            return time.Hour * 60 + time.Minute;
        refusals.Add(Refusals.NotATime(field));
        return null;
    }
}
