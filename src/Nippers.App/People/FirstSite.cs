using Microsoft.EntityFrameworkCore;
using Nippers.Data;

namespace Nippers.App.People;

/// <summary>Sites: the first one is named at setup, more are added in settings.</summary>
public sealed class FirstSite(NippersDb db, Writes writes)
{
    /// <summary>Names the site that an empty installation starts with.</summary>
    public Task<Outcome<Nothing>> Rename(string name, string timeZone, Actor actor, CancellationToken ct) => writes.Run(
        async () =>
        {
            var site = await db.Sites.OrderBy(x => x.Id).FirstAsync(ct);
            (site.Name, site.TimeZone) = (name, timeZone);
            writes.Audit(actor, "site.name", name, null, null, new { name, timeZone });
            return Outcome<Nothing>.Of(Nothing.Special);
        },
        ct);

    /// <summary>Adds a site.</summary>
    public Task<Outcome<Nothing>> Add(string? name, string? timeZone, Actor actor, CancellationToken ct) => writes.Run(
        async () =>
        {
            var refusals = new List<Refusal>();
            var text = name?.Trim() ?? "";
            if (text.Length == 0) refusals.Add(new("siteName", "needed"));
            else if (await db.Sites.AnyAsync(x => x.Name == text, ct)) refusals.Add(new("siteName", "siteTaken", text));
            if (!TimeZoneInfo.TryFindSystemTimeZoneById(timeZone ?? "", out _)) refusals.Add(new("zone", "noSuchZone"));
            if (refusals.Count > 0) return Outcome<Nothing>.Refused(refusals);
            db.Sites.Add(new() { Name = text, TimeZone = timeZone! });
            writes.Audit(actor, "site.add", text, null, null, new { text, timeZone });
            return Outcome<Nothing>.Of(Nothing.Special);
        },
        ct);
}
