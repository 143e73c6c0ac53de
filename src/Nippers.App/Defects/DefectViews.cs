using Microsoft.EntityFrameworkCore;
using Nippers.App.Kinds;
using Nippers.App.Statuses;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Feeds;
using Nippers.Data.Fleet;
using Nippers.Data.Mail;
using Nippers.Data.Programs;
using Nippers.Data.Queries;

namespace Nippers.App.Defects;

/// <summary>Which defects to show; empty fields do not filter.</summary>
public sealed record DefectFilter(
    string? Site = null,
    MachineKind? Kind = null,
    string? Unit = null,
    DefectGrade? Grade = null,
    bool Closed = false,
    int Page = 1
);

/// <summary>A defect on a list, with what its clock says now.</summary>
/// <param name="HoursLeft">To its limit, by the hours estimated now; null without a limit of hours.</param>
/// <param name="DaysLeft">To its limit; null without a date.</param>
public sealed record DefectLine(
    DefectRow Defect,
    string Unit,
    string Site,
    int Photos,
    double? HoursLeft,
    int? DaysLeft,
    MeterHours OffsetHours,
    DateOnly Today
);

public sealed record DefectList(
    IReadOnlyList<DefectLine> Lines,
    IReadOnlyDictionary<DefectGrade, int> Counts,
    int Closed,
    int Matching,
    int Pages,
    DefectFilter Filter,
    IReadOnlyList<string> Sites,
    IReadOnlyList<KindChoice> Kinds
);

/// <summary>A defect with its history.</summary>
/// <param name="WalkedAt">When somebody walked round the machine today; null when nobody has.</param>
/// <param name="Contact">Whom the site wants told of a stop; empty when nobody was named.</param>
/// <param name="Check">The check that found it, as it is asked now; null for one that no check found.</param>
/// <param name="Findings">What was found, by the line of its history.</param>
/// <param name="Stop">Who was told; null where no stop stands.</param>
/// <param name="FeedCodes">What the machine's feed said of its codes, the last first.</param>
public sealed record DefectPage(
    DefectLine Line,
    Machine Machine,
    IReadOnlyList<DefectEvent> Events,
    IReadOnlyList<DefectPhoto> Photos,
    DefectRow? Earlier,
    IReadOnlyList<DefectRow> Later,
    RunAnswer Answer,
    TimeZoneInfo Zone,
    DateTimeOffset? WalkedAt,
    string Contact,
    WalkCheck? Check,
    IReadOnlyDictionary<long, CheckAnswer> Findings,
    StopNews? Stop,
    IReadOnlyList<FeedCodeRow> FeedCodes
);

/// <summary>Who was told of a stop that stands, and who sees to it.</summary>
/// <param name="AcknowledgedBy">Who; null while nobody has said so.</param>
/// <param name="AcknowledgedAt">When.</param>
/// <param name="Messages">Messages to the site's list and to those who chose it, in order.</param>
/// <param name="IsOn">Messages go out at all.</param>
/// <param name="HasList">Somebody is on the site's list.</param>
public sealed record StopNews(
    string? AcknowledgedBy,
    DateTimeOffset? AcknowledgedAt,
    IReadOnlyList<StopMessage> Messages,
    bool IsOn,
    bool HasList
);

/// <summary>A message of a stop.</summary>
/// <param name="Name">To whom.</param>
/// <param name="State">Where it is.</param>
/// <param name="At">When it went, or was written.</param>
/// <param name="Fault">Why it has not gone: a code of a refusal; empty for none.</param>
public sealed record StopMessage(string Name, MailState State, DateTimeOffset At, string Fault);

/// <summary>Places a defect can have on a machine.</summary>
public sealed record DefectPlaces(string Unit, IReadOnlyList<Station> Stations, IReadOnlyList<ProgramCompartment> Compartments);

/// <summary>Reads defects for pages.</summary>
public sealed class DefectViews(NippersDb db, Standings standings, TimeProvider clock)
{
    private const int PageSize = 40;

    /// <summary>Defects by clock: what stops, what runs out soonest, what waits for the next service, what is watched.</summary>
    public async Task<DefectList> List(DefectFilter filter, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        await standings.RaisePassed(now, ct);
        var all = db.Defects.AsNoTracking();
        if (filter.Unit is { } unit)
            all = all.Where(x => x.Machine.Unit == unit);
        if (filter.Site is { } site)
            all = all.Where(x => x.Machine.Site.Name == site);
        if (filter.Kind is { } kind)
            all = all.Where(x => x.Machine.Kind == kind);
        var standing = all.Where(x => x.State == DefectState.Open || x.State == DefectState.Repaired);
        var counts = await standing
            .GroupBy(x => x.Grade)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(x => x.Key, x => x.Count, ct);
        var closed = await all.CountAsync(x => x.State == DefectState.Closed, ct);
        var shown = filter.Closed ? all.Where(x => x.State == DefectState.Closed) : standing;
        if (filter.Grade is { } grade)
            shown = shown.Where(x => x.Grade == grade);
        var matching = await shown.CountAsync(ct);
        var pages = Math.Max(1, (matching + PageSize - 1) / PageSize);
        var page = Math.Clamp(filter.Page, 1, pages);

        var ordered = filter.Closed
            ? shown.OrderByDescending(x => x.RepairedAt).ThenByDescending(x => x.Id)
            : shown
                .OrderByDescending(x => x.Grade)
                .ThenBy(x =>
                    db.Statuses.Where(s => s.MachineId == x.MachineId).Select(s => x.LimitHours - s.LastHours).FirstOrDefault()
                    ?? MeterHours.Max
                )
                .ThenBy(x => x.LimitOn)
                .ThenBy(x => x.Id);
        var rows = await ordered
            .Skip((page - 1) * PageSize)
            .Take(PageSize)
            .Select(x => new
            {
                Row = x,
                x.Machine.Unit,
                x.Machine.Site.Name,
                x.Machine.Site.TimeZone,
                Photos = db.DefectPhotos.Count(p => p.DefectId == x.Id),
                Status = db.Statuses.FirstOrDefault(s => s.MachineId == x.MachineId),
            })
            .ToListAsync(ct);
        return new(
            [.. rows.Select(x => Line(x.Row, x.Unit, x.Name, x.TimeZone, x.Photos, x.Status, now))],
            counts,
            closed,
            matching,
            pages,
            filter with
            {
                Page = page,
            },
            await db.Sites.OrderBy(x => x.Name).Select(x => x.Name).ToListAsync(ct),
            await KindCatalog.Choices(db, ct)
        );
    }

    /// <summary>One defect.</summary>
    public async Task<DefectPage?> One(long id, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        await standings.RaisePassed(now, ct);
        var row = await db
            .Defects.AsNoTracking()
            .Include(x => x.Machine)
                .ThenInclude(x => x.Site)
            .SingleOrDefaultAsync(x => x.Id == id, ct);
        if (row is null)
            return null;
        var standing = await db.Statuses.AsNoTracking().FirstOrDefaultAsync(x => x.MachineId == row.MachineId, ct);
        var photos = await db.DefectPhotos.AsNoTracking().Where(x => x.DefectId == id).OrderBy(x => x.Id).ToListAsync(ct);
        var events = await db.DefectEvents.AsNoTracking().Where(x => x.DefectId == id).OrderBy(x => x.At).ThenBy(x => x.Id).ToListAsync(ct);
        var zone = TimeZoneInfo.FindSystemTimeZoneById(row.Machine.Site.TimeZone);
        var check =
            row.CheckCode.Length > 0
                ? (await db.ListOf(row.Machine, ct))?.ToList().Checks.FirstOrDefault(x => x.Code == row.CheckCode)
                : null;
        var own = check is null ? null : (await db.ChecksOf(row.MachineId, ct)).GetValueOrDefault(check.Code)?.ToLimits();
        return new(
            Line(row, row.Machine.Unit, row.Machine.Site.Name, row.Machine.Site.TimeZone, photos.Count, standing, now),
            row.Machine,
            events,
            photos,
            row.RepeatOf is { } earlier ? await db.Defects.AsNoTracking().SingleOrDefaultAsync(x => x.Id == earlier, ct) : null,
            await db.Defects.AsNoTracking().Where(x => x.RepeatOf == id).OrderBy(x => x.Id).ToListAsync(ct),
            await db.RunAnswerOf(row.MachineId, ct),
            zone,
            standing?.WalkedOn == LocalDay.Of(now, zone) ? standing.WalkedAt : null,
            row.Machine.Site.Contact,
            check is null ? null : CheckLimits.Apply(check, own),
            events.Where(x => x.Answer.Length > 0).ToDictionary(x => x.Id, x => PackedAnswers.ReadOne(x.Answer)),
            row is { Stands: true, Grade: DefectGrade.Stop } ? await NewsOf(row, ct) : null,
            row.Code.Length > 0
                ? await db.FeedCodes.AsNoTracking().Where(x => x.DefectId == id).OrderByDescending(x => x.Id).ToListAsync(ct)
                : []
        );
    }

    private async Task<StopNews> NewsOf(DefectRow defect, CancellationToken ct)
    {
        var stop = await db
            .Stoppages.AsNoTracking()
            .Where(x => x.DefectId == defect.Id && x.To == null)
            .Select(x => new
            {
                x.Id,
                x.AcknowledgedBy,
                x.AcknowledgedAt,
            })
            .FirstOrDefaultAsync(ct);
        var messages = stop is null
            ? []
            : await db
                .Mail.AsNoTracking()
                .Where(x => x.StoppageId == stop.Id)
                .OrderBy(x => x.Id)
                .Select(x => new StopMessage(x.Name, x.State, x.SentAt ?? x.MadeAt, x.LastFault))
                .ToListAsync(ct);
        var told = await db
            .Sites.Where(x => x.Id == defect.Machine.SiteId)
            .Select(x => new { On = db.MailServers.Any(m => m.On), List = db.SiteContacts.Any(c => c.SiteId == x.Id) })
            .SingleAsync(ct);
        return new(stop?.AcknowledgedBy, stop?.AcknowledgedAt, messages, told.On, told.List);
    }

    /// <summary>A photo's bytes.</summary>
    public Task<byte[]?> Photo(long defectId, long photoId, bool small, CancellationToken ct) =>
        db
            .DefectPhotos.Where(x => x.Id == photoId && x.DefectId == defectId)
            .Select(x => small ? x.Bytes.Small : x.Bytes.Whole)
            .SingleOrDefaultAsync(ct);

    /// <summary>Where on a machine a defect can be; null for an unknown unit.</summary>
    public async Task<DefectPlaces?> Places(string unit, CancellationToken ct)
    {
        var machine = await db.Machines.AsNoTracking().SingleOrDefaultAsync(x => x.Unit == unit, ct);
        if (machine is null)
            return null;
        var list = (await db.ListOf(machine, ct))?.ToList();
        var compartments = await db
            .ProgramCompartments.AsNoTracking()
            .Where(x => x.ProgramId == machine.ProgramId)
            .OrderBy(x => x.Position)
            .ToListAsync(ct);
        return new(
            unit,
            list is null ? [] : [.. list.Stations],
            [.. compartments.Where(x => OptionRule.Holds(x.Needs, machine.OptionWords))]
        );
    }

    private static DefectLine Line(
        DefectRow row,
        string unit,
        string site,
        string zone,
        int photos,
        Data.Fleet.MachineStatusRow? standing,
        DateTimeOffset now
    )
    {
        var today = LocalDay.Of(now, TimeZoneInfo.FindSystemTimeZoneById(zone));
        double? left =
            row.LimitHours is { } limit && standing is not null ? limit.Value - StatusCodec.Decode(standing).Use.HoursNow(now) : null;
        return new(
            row,
            unit,
            site,
            photos,
            left,
            row.LimitOn?.DayNumber - today.DayNumber,
            standing?.OffsetHours ?? MeterHours.Zero,
            today
        );
    }
}
