using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Parts;
using Nippers.App.People;
using Nippers.App.Statuses;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Oil;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Feeds;
using Nippers.Data.Fleet;
using Nippers.Data.Mail;
using Nippers.Data.People;
using Nippers.Data.Visits;
using Nippers.Data.Walks;

namespace Nippers.App.Mail;

/// <summary>
/// Looks what people have to be told, writes it and lays it out to be sent. It goes by what stands in the database and by what was
/// told: however often it looks, and whenever it was killed, nothing is told twice and nothing is left out.
/// </summary>
/// <remarks>Rules 13.</remarks>
public sealed class MailRound(
    NippersDb db,
    UnitOfWork writes,
    Standings standings,
    StatusKeeper keeper,
    PublicAddress address,
    IMailWriter writer
)
{
    /// <summary>How long the next of a site's list is spared while nobody acknowledges a stop.</summary>
    public static readonly TimeSpan TurnEvery = TimeSpan.FromMinutes(15);

    /// <summary>How long what was written is kept.</summary>
    public const int KeepDays = 90;

    // What is older than this is no news, whatever hindered it.
    private static readonly TimeSpan News = TimeSpan.FromDays(1);
    private static readonly TimeSpan SampleNews = TimeSpan.FromDays(7);

    // A limit that is nearer than this is told in the morning: a shift's work.
    private const double NearHours = 10;

    // Less than this is a rounding, or an engine turned over to try it.
    private const double LeastRun = 0.2;

    // A planned visit that was missed longer ago waits for a day, not for a part.
    private const int LateDays = 14;
    private const int PartDays = 28;

    private sealed record Person(MailReader Reader, MailPerson Choice, int? SiteId, TimeZoneInfo Zone)
    {
        public bool Hears(int site) => Choice.AllSites || SiteId is null || SiteId == site;
    }

    private sealed record Stop(Stoppage Row, DefectRow Defect, Machine Machine, Site Site, bool ByClock = false);

    /// <summary>One round.</summary>
    /// <returns>How many messages it laid out.</returns>
    public async Task<int> Run(CancellationToken ct)
    {
        var server = await db.MailServers.AsNoTracking().SingleOrDefaultAsync(ct);
        if (server is not { On: true })
            return 0;
        var now = writes.Now;
        await standings.RaisePassed(now, ct);
        var people = await People(ct);
        var lists = await Lists(people, ct);
        var drafts = new List<MailDraft>();
        await Stops(server, people, lists, drafts, ct);
        foreach (var ran in await Ran(ct))
        {
            // At once to who is nearest, whatever they chose: somebody's hands may be in it.
            var near = lists[ran.SiteId].Take(1);
            var chosen = people.Where(x => x.Choice.Stops == MailWhen.AtOnce && x.Hears(ran.SiteId)).Select(x => x.Reader);
            drafts.AddRange(near.Concat(chosen).DistinctBy(x => x.Who).Select(x => new MailDraft(x, MailKind.Ran, [ran], [ran.What])));
        }

        var samples = await Samples(server, ct);
        foreach (var sample in samples)
        {
            drafts.AddRange(
                people
                    .Where(x => x.Choice.Samples == MailWhen.AtOnce && x.Hears(sample.SiteId))
                    .Select(x => new MailDraft(x.Reader, MailKind.Sample, [sample], [sample.What]))
            );
        }

        var morning = people
            .Where(x => LocalDay.Of(now, x.Zone) is var day && x.Choice.MorningOn != day && MinuteOf(now, x.Zone) >= x.Choice.MorningAt)
            .ToList();
        if (morning.Count > 0)
            await Mornings(morning, samples, drafts, ct);
        await LeaveOutTold(drafts, ct);
        return drafts.Count + morning.Count == 0 ? 0 : await Keep(drafts, morning, ct);
    }

    private static int MinuteOf(DateTimeOffset at, TimeZoneInfo zone) => (int)TimeZoneInfo.ConvertTime(at, zone).TimeOfDay.TotalMinutes;

    private async Task<List<Person>> People(CancellationToken ct)
    {
        var now = writes.Now;
        var sites = await db.Sites.AsNoTracking().OrderBy(x => x.Name).ToListAsync(ct);
        var rows = await db
            .MailPeople.AsNoTracking()
            .Join(db.Users.AsNoTracking(), x => x.UserId, x => x.Id, (choice, user) => new { choice, user })
            .ToListAsync(ct);
        // Who was switched off is told nothing.
        return
        [
            .. rows.Where(x => x.choice.Address.Length > 0 && !PeopleBook.IsOff(x.user.LockoutEnd, now))
                .Select(x => new Person(
                    Reader(x.user, x.choice.Address),
                    x.choice,
                    x.user.SiteId,
                    TimeZoneInfo.FindSystemTimeZoneById((sites.Find(s => s.Id == x.user.SiteId) ?? sites[0]).TimeZone)
                )),
        ];
    }

    internal static MailReader Reader(NippersUser user, string address) =>
        new(user.Id, user.Id, user.FullName, address, user.Language, user.Units);

    /// <summary>Each site's list, those of it who can be reached, in order.</summary>
    private async Task<ILookup<int, MailReader>> Lists(List<Person> people, CancellationToken ct)
    {
        var rows = await db.SiteContacts.AsNoTracking().OrderBy(x => x.SiteId).ThenBy(x => x.Turn).ThenBy(x => x.Id).ToListAsync(ct);
        return rows.Select(x =>
                (
                    x.SiteId,
                    Reader: x.UserId is null
                        ? new MailReader(x.Address.ToLowerInvariant(), null, x.Name, x.Address, x.Language, "")
                        : people.Find(p => p.Choice.UserId == x.UserId)?.Reader
                )
            )
            .Where(x => x.Reader is { Address.Length: > 0 })
            .ToLookup(x => x.SiteId, x => x.Reader!);
    }

    private async Task Stops(
        MailServerRow server,
        List<Person> people,
        ILookup<int, MailReader> lists,
        List<MailDraft> drafts,
        CancellationToken ct
    )
    {
        var now = writes.Now;
        var since = now - News;
        var stops = await db
            .Stoppages.AsNoTracking()
            .Where(x => x.From >= server.Since && (x.To == null || x.To >= since))
            .Join(
                db.Defects.AsNoTracking().Include(x => x.Machine).ThenInclude(x => x.Site),
                x => x.DefectId,
                x => x.Id,
                (stop, defect) => new { stop, defect }
            )
            .ToListAsync(ct);
        if (stops.Count == 0)
            return;
        var ids = stops.Select(x => x.stop.Id).ToList();
        var turns = (
            await db
                .Mail.AsNoTracking()
                .Where(x => x.Turn != null && x.StoppageId != null && ids.Contains(x.StoppageId.Value))
                .Select(x => new
                {
                    x.StoppageId,
                    x.Turn,
                    x.State,
                    x.SentAt,
                    x.MadeAt,
                    x.Attempts,
                    x.Name,
                })
                .ToListAsync(ct)
        ).ToLookup(x => x.StoppageId!.Value);
        var defects = stops.Where(x => x.stop.To == null).Select(x => x.defect.Id).ToList();
        var lines = (
            await db
                .DefectEvents.AsNoTracking()
                .Where(x => defects.Contains(x.DefectId) && (x.Act == DefectAct.Worse || x.Act == DefectAct.Raised))
                .ToListAsync(ct)
        ).ToLookup(x => (x.DefectId, x.Act));
        var told = await Told([.. ids.Select(FirstKey)], people, lists, ct);
        foreach (var one in stops)
        {
            var stop = new Stop(
                one.stop,
                one.defect,
                one.defect.Machine,
                one.defect.Machine.Site,
                lines[(one.defect.Id, DefectAct.Raised)].Any(x => x.To == DefectGrade.Stop && x.At == one.stop.From)
            );
            var key = FirstKey(stop.Row.Id);
            var list = lists[stop.Site.Id].ToList();
            var choosers = people.Where(x => x.Choice.Stops == MailWhen.AtOnce && x.Hears(stop.Site.Id)).Select(x => x.Reader).ToList();
            if (stop.Row.To is not null)
            {
                // Where it was opened again meanwhile, a stop of its own says so.
                if (stop.Defect is not { Stands: true, Grade: DefectGrade.Stop })
                    await Over(stop, told[key], drafts, ct);
                continue;
            }

            // Who was written to at its turn, so that the next knows who was before.
            var before = turns[stop.Row.Id].OrderBy(x => x.Turn).ToList();
            if (list.Count > 0 && stop.Row.AcknowledgedAt is null && stop.Defect.State == DefectState.Open)
            {
                var last = before.LastOrDefault();
                var next = last?.Turn + 1 ?? 0;
                var due = last switch
                {
                    null => true,
                    { State: MailState.Sent } => now - last.SentAt >= TurnEvery,

                    // Nobody got that one: the next is told without waiting, until all of the list were tried.
                    { State: MailState.Refused } => next < list.Count || now - last.MadeAt >= TurnEvery,

                    // That one is put off, not the server: nobody else waits for it.
                    { State: MailState.Waiting, Attempts: > 0 } => now - last.MadeAt >= TurnEvery,
                    { State: MailState.Dropped } => now - last.MadeAt >= TurnEvery,
                    _ => false,
                };
                if (due)
                {
                    var to = list[next % list.Count];
                    var names = before.Where(x => x.State == MailState.Sent).Select(x => x.Name).Distinct().ToList();
                    drafts.Add(
                        new(
                            to,
                            next == 0 ? MailKind.Stop : MailKind.StopAgain,
                            [ThingOf(stop, key) with { Told = names }],
                            [TurnKey(stop.Row.Id, next), key],
                            stop.Row.Id,
                            next
                        )
                    );
                }
            }

            foreach (var to in choosers)
                drafts.Add(new(to, MailKind.Stop, [ThingOf(stop, key)], [key], stop.Row.Id));
            foreach (var line in lines[(stop.Defect.Id, DefectAct.Worse)].Where(x => x.At > stop.Row.From && x.At >= since))
            {
                var what = Key($"worse-{line.Id}");
                foreach (var to in told[key].Concat(choosers).Concat(list.Take(1)).DistinctBy(x => x.Who))
                    drafts.Add(new(to, MailKind.Worse, [ThingOf(stop, what) with { Worse = line.Words }], [what], stop.Row.Id));
            }
        }
    }

    private async Task Over(Stop stop, IEnumerable<MailReader> told, List<MailDraft> drafts, CancellationToken ct)
    {
        var what = Key($"over-{stop.Row.Id}");
        var end =
            stop.Defect.State == DefectState.Voided ? StopEnd.Voided
            : stop.Defect.State == DefectState.Closed ? StopEnd.Returned
            : StopEnd.GradedDown;
        var readers = told.ToList();
        if (readers.Count == 0)
            return;
        var thing = ThingOf(stop, what) with
        {
            End = end,
            EndedBy = end switch
            {
                StopEnd.Returned => stop.Defect.ReturnedBy ?? stop.Defect.RepairedBy ?? "",
                StopEnd.Voided => stop.Defect.VoidedBy ?? "",
                _ => "",
            },
            StillStopped = await db.Defects.AnyAsync(
                x =>
                    x.MachineId == stop.Machine.Id
                    && x.Grade == DefectGrade.Stop
                    && (x.State == DefectState.Open || x.State == DefectState.Repaired),
                ct
            ),
        };
        drafts.AddRange(readers.Select(x => new MailDraft(x, MailKind.Over, [thing], [what], stop.Row.Id)));
    }

    private static StopThing ThingOf(Stop stop, string what) =>
        new(
            what,
            stop.Site.Id,
            stop.Site.Name,
            stop.Defect.Id,
            stop.Machine.Unit,
            $"{stop.Machine.Make} {stop.Machine.Model}",
            stop.Defect.PlaceName,
            stop.Defect.Words,
            stop.ByClock ? DefectClocks.ClockName : stop.Defect.By,
            stop.Row.From,
            stop.Site.TimeZone
        );

    private static string FirstKey(long stoppage) => Key($"stop-{stoppage}");

    private static string TurnKey(long stoppage, int turn) => Key($"stop-{stoppage}-{turn}");

    private static string Key(FormattableString text) => text.ToString(CultureInfo.InvariantCulture);

    /// <summary>Who was told some things, as they are reached now.</summary>
    private async Task<ILookup<string, MailReader>> Told(
        List<string> keys,
        List<Person> people,
        ILookup<int, MailReader> lists,
        CancellationToken ct
    )
    {
        var readers = people
            .Select(x => x.Reader)
            .Concat(lists.SelectMany(x => x))
            .DistinctBy(x => x.Who)
            .ToDictionary(x => x.Who, StringComparer.Ordinal);
        return (await db.MailTold.AsNoTracking().Where(x => keys.Contains(x.What)).Select(x => new { x.What, x.Who }).ToListAsync(ct))
            .Where(x => readers.ContainsKey(x.Who))
            .ToLookup(x => x.What, x => readers[x.Who]);
    }

    /// <summary>Machines whose feed's hours grow though they are out of service, on an open card, or not walked round today.</summary>
    private async Task<List<RanThing>> Ran(CancellationToken ct)
    {
        var now = writes.Now;
        var since = now - News;
        var rows = await db
            .FeedMachines.AsNoTracking()
            .Where(x => x.MachineId != null && x.Away == FeedAway.Nothing && x.Hours != null && x.HoursAt >= since)
            .Join(
                db.Statuses.Where(x => !x.Machine.Retired),
                x => x.MachineId,
                x => x.MachineId,
                (feed, status) =>
                    new
                    {
                        feed.Id,
                        feed.Hours,
                        status.MachineId,
                        status.OutOfService,
                        status.CardOpen,
                        status.WalkedOn,
                        status.Machine.Unit,
                        status.Machine.Make,
                        status.Machine.Model,
                        status.Machine.SiteId,
                        status.Machine.Site.Name,
                        status.Machine.Site.TimeZone,
                        StoppedAt = db
                            .Stoppages.Where(s => s.MachineId == status.MachineId && s.To == null)
                            .Max(s => (DateTimeOffset?)s.From),
                        OpenedAt = db
                            .Visits.Where(v => v.MachineId == status.MachineId && v.State == VisitState.Open)
                            .Max(v => (DateTimeOffset?)v.OpenedAt),
                        Walking = db.Walks.Any(w => w.MachineId == status.MachineId && w.State == WalkState.Open && !w.Late),
                    }
            )
            .ToListAsync(ct);
        var ran = new List<RanThing>();
        foreach (var row in rows)
        {
            var zone = TimeZoneInfo.FindSystemTimeZoneById(row.TimeZone);
            var today = LocalDay.Of(now, zone);
            (RanThough Though, DateTimeOffset From)? why =
                row is { CardOpen: true, OpenedAt: { } opened } ? (RanThough.Card, opened)
                : row is { OutOfService: true, StoppedAt: { } stopped } ? (RanThough.Stopped, stopped)
                : row is { OutOfService: false, CardOpen: false, Walking: false } && row.WalkedOn != today
                    ? (RanThough.NotWalked, Readings.LocalTime.StartOf(today, zone))
                : null;
            if (why is not var (though, from))
                continue;
            var first = await db
                .FeedPoints.Where(x => x.FeedMachineId == row.Id && x.At >= from)
                .OrderBy(x => x.At)
                .Select(x => new { x.At, x.Hours })
                .FirstOrDefaultAsync(ct);
            var grown = first is null ? 0 : row.Hours!.Value - first.Hours;
            if (grown < (though == RanThough.NotWalked ? MissedWalks.LeastWork : LeastRun))
                continue;
            ran.Add(
                new(
                    Key($"ran-{row.MachineId}-{though}-{today:yyyyMMdd}"),
                    row.SiteId,
                    row.Name,
                    row.Unit,
                    $"{row.Make} {row.Model}",
                    though,
                    grown,
                    first!.At,
                    row.TimeZone
                )
            );
        }

        return ran;
    }

    private async Task<List<SampleThing>> Samples(MailServerRow server, CancellationToken ct)
    {
        var since = writes.Now - SampleNews;
        since = since > server.Since ? since : server.Since;
        var rows = await db
            .Samples.AsNoTracking()
            .Where(x => x.ReportedAt >= since && x.VoidedAt == null && (x.SignedAs ?? x.Advised) >= Assessment.Act)
            .Select(x => new
            {
                x.Id,
                x.Compartment,
                x.Bottle,
                x.On,
                x.SignedBy,
                Verdict = x.SignedAs ?? x.Advised,
                x.Machine.Unit,
                x.Machine.Make,
                x.Machine.Model,
                x.Machine.SiteId,
                Site = x.Machine.Site.Name,
                Name = x.Machine.Program.Compartments.Where(c => c.Code == x.Compartment).Select(c => c.Name).FirstOrDefault(),
            })
            .OrderBy(x => x.Id)
            .ToListAsync(ct);
        return
        [
            .. rows.Select(x => new SampleThing(
                Key($"sample-{x.Id}-{x.Verdict}"),
                x.SiteId,
                x.Site,
                x.Id,
                x.Unit,
                $"{x.Make} {x.Model}",
                x.Name ?? x.Compartment,
                x.Bottle,
                x.Verdict!.Value,
                x.SignedBy,
                x.On
            )),
        ];
    }

    private async Task Mornings(List<Person> people, List<SampleThing> samples, List<MailDraft> drafts, CancellationToken ct)
    {
        var now = writes.Now;
        bool Any(Func<MailPerson, MailWhen> kind) => people.Exists(x => kind(x.Choice) != MailWhen.Never);
        var stops = Any(x => x.Stops) ? await Standing(ct) : [];
        var limits = Any(x => x.Limits) ? await Near(ct) : [];
        var walks = Any(x => x.Walks) ? await Missed(ct) : [];
        var stock = Any(x => x.Stock) ? await Missing(ct) : [];
        foreach (var person in people)
        {
            var things = new List<MailThing>();
            if (person.Choice.Stops != MailWhen.Never)
            {
                // While nobody sees to it, it is said anew each morning.
                var day = LocalDay.Of(now, person.Zone);
                things.AddRange(stops.Select(x => x with { What = Key($"{x.What}-{day:yyyyMMdd}") }));
            }

            if (person.Choice.Samples == MailWhen.Morning)
                things.AddRange(samples);
            if (person.Choice.Limits != MailWhen.Never)
                things.AddRange(limits);
            if (person.Choice.Walks != MailWhen.Never)
                things.AddRange(walks);
            if (person.Choice.Stock != MailWhen.Never)
                things.AddRange(stock);
            things.RemoveAll(x => !person.Hears(x.SiteId));
            if (things.Count > 0)
                drafts.Add(new(person.Reader, MailKind.Morning, things, [.. things.Select(x => x.What)]));
        }
    }

    /// <summary>Stops that stand, and that nobody has acknowledged.</summary>
    private async Task<List<StopThing>> Standing(CancellationToken ct) =>
        [
            .. (
                await db
                    .Stoppages.AsNoTracking()
                    .Where(x => x.To == null && x.AcknowledgedAt == null)
                    .Join(
                        db.Defects.AsNoTracking().Include(x => x.Machine).ThenInclude(x => x.Site),
                        x => x.DefectId,
                        x => x.Id,
                        (stop, defect) => new { stop, defect }
                    )
                    .Where(x => x.defect.State == DefectState.Open)
                    .OrderBy(x => x.stop.From)
                    .ToListAsync(ct)
            ).Select(x => ThingOf(new(x.stop, x.defect, x.defect.Machine, x.defect.Machine.Site), Key($"stands-{x.stop.Id}"))),
        ];

    private async Task<List<LimitThing>> Near(CancellationToken ct)
    {
        var day = DateOnly.FromDateTime(writes.Now.UtcDateTime).AddDays(2);
        var rows = await db
            .Defects.AsNoTracking()
            .Where(x => x.State == DefectState.Open && x.Grade == DefectGrade.Limit && !x.Machine.Retired)
            .Select(x => new
            {
                x.Id,
                x.Words,
                x.LimitOn,
                x.LimitHours,
                x.Machine.Unit,
                x.Machine.SiteId,
                x.Machine.Site.Name,
                x.Machine.Site.TimeZone,
                Last = db.Statuses.Where(s => s.MachineId == x.MachineId).Select(s => (MeterHours?)s.LastHours).FirstOrDefault(),
            })
            .Where(x => x.LimitOn < day || x.LimitHours != null)
            .ToListAsync(ct);
        return
        [
            .. rows.Select(x =>
                    (
                        Row: x,
                        Left: x is { LimitHours: { } limit, Last: { } last } ? (limit - last).Value : (double?)null,
                        Near: x.LimitOn <= LocalDay.Of(writes.Now, TimeZoneInfo.FindSystemTimeZoneById(x.TimeZone)).AddDays(1)
                    )
                )
                .Where(x => x.Near || x.Left <= NearHours)
                .Select(x => new LimitThing(
                    Key($"limit-{x.Row.Id}-{x.Row.LimitOn:yyyyMMdd}-{x.Row.LimitHours?.Tenths}"),
                    x.Row.SiteId,
                    x.Row.Name,
                    x.Row.Id,
                    x.Row.Unit,
                    x.Row.Words,
                    x.Row.LimitOn,
                    x.Left
                )),
        ];
    }

    private async Task<List<WalkThing>> Missed(CancellationToken ct)
    {
        var now = writes.Now;
        await standings.RefreshStale(now, ct);
        var ids = await db.Statuses.Where(x => x.MissedWalks > 0 && !x.Machine.Retired).Select(x => x.MachineId).ToListAsync(ct);
        return
        [
            .. (await keeper.MissedOf(ids, now, ct)).SelectMany(x =>
                x.Days.Select(day => new WalkThing(
                    Key($"walk-{x.Facts.Machine.Id}-{day:yyyyMMdd}"),
                    x.Facts.Machine.SiteId,
                    x.Facts.Machine.Site.Name,
                    x.Facts.Machine.Unit,
                    day
                ))
            ),
        ];
    }

    private async Task<List<StockThing>> Missing(CancellationToken ct)
    {
        var today = DateOnly.FromDateTime(writes.Now.UtcDateTime);
        var (from, until) = (today.AddDays(-LateDays), today.AddDays(PartDays));
        var needs = await ShelfNeeds.Of(db, db.Visits.Where(x => x.State == VisitState.Planned && x.On >= from && x.On <= until), ct);
        var ids = needs.Select(x => x.PartId).Distinct().ToList();
        var ordered = (await db.PartOrders.AsNoTracking().Where(x => ids.Contains(x.PartId)).ToListAsync(ct)).ToLookup(x =>
            (x.PartId, x.SiteId)
        );
        var parts = await db.Parts.AsNoTracking().Where(x => ids.Contains(x.Id)).ToDictionaryAsync(x => x.Id, ct);
        var sites = await db.Sites.AsNoTracking().ToDictionaryAsync(x => x.Id, x => x.Name, ct);
        return
        [
            .. needs
                .Select(x =>
                    (
                        Need: x,
                        Here: Math.Max(0, x.OnShelf)
                            + ordered[(x.PartId, x.SiteId)].Where(o => o.ExpectedOn <= x.First).Sum(o => o.Quantity)
                    )
                )
                .Where(x => x.Here < x.Need.Needed)
                .OrderBy(x => x.Need.First)
                .ThenBy(x => parts[x.Need.PartId].Number, StringComparer.Ordinal)
                .Select(x => new StockThing(
                    Key($"stock-{x.Need.SiteId}-{x.Need.PartId}-{x.Need.First:yyyyMMdd}"),
                    x.Need.SiteId,
                    sites[x.Need.SiteId],
                    parts[x.Need.PartId].Number,
                    parts[x.Need.PartId].Name,
                    x.Need.Needed,
                    x.Here,
                    x.Need.First
                )),
        ];
    }

    /// <summary>Takes out what their readers were told before, and what one message would tell that another of this round tells.</summary>
    private async Task LeaveOutTold(List<MailDraft> drafts, CancellationToken ct)
    {
        var keys = drafts.SelectMany(x => x.Keys).Distinct().ToList();
        var told = (await db.MailTold.AsNoTracking().Where(x => keys.Contains(x.What)).Select(x => new { x.Who, x.What }).ToListAsync(ct))
            .Select(x => (x.Who, x.What))
            .ToHashSet();
        var kept = new List<MailDraft>();
        foreach (var draft in drafts)
        {
            // The first key stands for the message; what of a morning was told is left out of it.
            var news = draft.Keys.Where(x => !told.Contains((draft.To.Who, x))).ToList();
            if (news.Count == 0 || (draft.Kind != MailKind.Morning && news[0] != draft.Keys[0]))
                continue;
            kept.Add(
                draft with
                {
                    Keys = news,
                    Things = draft.Kind == MailKind.Morning ? [.. draft.Things.Where(x => news.Contains(x.What))] : draft.Things,
                }
            );
            told.UnionWith(news.Select(x => (draft.To.Who, x)));
        }

        drafts.Clear();
        drafts.AddRange(kept);
    }

    private async Task<int> Keep(List<MailDraft> drafts, List<Person> morning, CancellationToken ct)
    {
        var now = writes.Now;
        var at = await address.Get(ct);
        var zones = await Zones(ct);
        var written = new List<(MailDraft Draft, MailText Text)>();
        foreach (var draft in drafts)
        {
            // A day is said as it is where the thing is.
            var zone = draft.Things.Count > 0 ? zones[draft.Things[0].SiteId] : TimeZoneInfo.Utc;
            written.Add((draft, await writer.Write(draft, at, LocalDay.Of(now, zone))));
        }

        var kept = 0;
        await writes.Run(
            async () =>
            {
                // What has changed while it was written is looked at again in the next round.
                var stops = written.Where(x => x.Draft.Turn is not null).Select(x => x.Draft.Stoppage!.Value).ToList();
                var settled = await db
                    .Stoppages.Where(x => stops.Contains(x.Id) && (x.To != null || x.AcknowledgedAt != null))
                    .Select(x => x.Id)
                    .ToListAsync(ct);
                foreach (var (draft, text) in written.Where(x => x.Draft.Turn is null || !settled.Contains(x.Draft.Stoppage!.Value)))
                {
                    Lay(db, draft, text, now);
                    kept++;
                }

                foreach (var person in morning)
                {
                    var row = await db.MailPeople.SingleAsync(x => x.UserId == person.Choice.UserId, ct);
                    row.MorningOn = LocalDay.Of(now, person.Zone);
                }

                if (morning.Count > 0)
                {
                    var old = now.AddDays(-KeepDays);
                    await db.Mail.Where(x => x.MadeAt < old && x.State != MailState.Waiting).ExecuteDeleteAsync(ct);
                }

                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );
        return kept;
    }

    private async Task<Dictionary<int, TimeZoneInfo>> Zones(CancellationToken ct) =>
        (await db.Sites.AsNoTracking().Select(x => new { x.Id, x.TimeZone }).ToListAsync(ct)).ToDictionary(
            x => x.Id,
            x => TimeZoneInfo.FindSystemTimeZoneById(x.TimeZone)
        );

    /// <summary>Lays a message out to be sent, and remembers what it tells.</summary>
    internal static MailRow Lay(NippersDb db, MailDraft draft, MailText text, DateTimeOffset now)
    {
        var mail = db
            .Mail.Add(
                new()
                {
                    Kind = draft.Kind,
                    State = MailState.Waiting,
                    Address = draft.To.Address,
                    Name = draft.To.Name,
                    UserId = draft.To.UserId,
                    StoppageId = draft.Stoppage,
                    Turn = draft.Turn,
                    MadeAt = now,
                    Subject = text.Subject,
                    Text = text.Text,
                    Html = text.Html,
                }
            )
            .Entity;
        db.MailTold.AddRange(
            draft.Keys.Select(x => new MailTold
            {
                Who = draft.To.Who,
                What = x,
                Mail = mail,
            })
        );
        return mail;
    }
}
