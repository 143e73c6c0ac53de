using System.Globalization;
using System.Net.Mail;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Languages;
using Nippers.App.Oil;
using Nippers.App.People;
using Nippers.Core.Hours;
using Nippers.Data;
using Nippers.Data.Mail;

namespace Nippers.App.Mail;

/// <summary>The mail server, as entered.</summary>
public sealed record MailServerInput(
    int Version,
    string? Host,
    string? Port,
    MailSecurity? Security,
    string? User,
    string? Password,
    string? From,
    bool OwnNetwork,
    bool On
);

/// <summary>Of what somebody wants to be told, as entered.</summary>
public sealed record MailChoiceInput(
    int Version,
    string? Address,
    bool AllSites,
    string? MorningAt,
    MailWhen? Stops,
    MailWhen? Samples,
    MailWhen? Limits,
    MailWhen? Walks,
    MailWhen? Stock
);

/// <summary>Somebody for a site's list, as entered.</summary>
/// <param name="User">A user's name to sign in with; empty for somebody who does not.</param>
/// <param name="Name">Their name, where they don't sign in.</param>
/// <param name="Address">Their address, where they don't sign in.</param>
/// <param name="Language">In which they read, where they don't sign in.</param>
public sealed record ContactInput(string? User, string? Name, string? Address, string? Language);

/// <summary>Somebody on a site's list, as it is shown.</summary>
/// <param name="Id">The row.</param>
/// <param name="Name">Their name.</param>
/// <param name="Address">Their address; empty while they have named none, and get nothing.</param>
public sealed record SiteContact(int Id, string Name, string Address);

/// <summary>A site with its list.</summary>
public sealed record SiteContacts(int SiteId, string Site, IReadOnlyList<SiteContact> List);

/// <summary>The page of messages.</summary>
/// <param name="Server">The server; null while none is named.</param>
/// <param name="Sites">Each site's list.</param>
/// <param name="Latest">Messages, newest first.</param>
/// <param name="Waiting">How many wait.</param>
/// <param name="Refused">How many were given up lately.</param>
/// <param name="Address">Where Nippers is reached; null while nobody said so.</param>
public sealed record MailPage(
    MailServerRow? Server,
    IReadOnlyList<SiteContacts> Sites,
    IReadOnlyList<MailRow> Latest,
    int Waiting,
    int Refused,
    string? Address
);

/// <summary>Who is told, of what and through which server.</summary>
public sealed class MailBook(
    NippersDb db,
    UnitOfWork writes,
    ISecrets secrets,
    IMailWriter writer,
    PublicAddress address,
    PeopleBook people
)
{
    /// <summary>When the morning's message goes unless somebody says otherwise, minutes after midnight.</summary>
    public const int UsualMorning = 6 * 60;

    private const int LongestAddress = 200;
    private const int LongestName = 80;
    private const int MostContacts = 20;
    private const int Latest = 50;
    private const int OwnLatest = 20;

    private static readonly TimeSpan FailsAfter = TimeSpan.FromMinutes(5);

    // A stop that an operator's phone found before its shift went home is told, though mail was switched on since.
    private static readonly TimeSpan Before = TimeSpan.FromHours(12);

    /// <summary>The page.</summary>
    public async Task<MailPage> Load(CancellationToken ct)
    {
        var sites = await db.Sites.AsNoTracking().OrderBy(x => x.Name).Select(x => new { x.Id, x.Name }).ToListAsync(ct);
        var contacts = (
            await db
                .SiteContacts.AsNoTracking()
                .OrderBy(x => x.Turn)
                .ThenBy(x => x.Id)
                .Select(x => new
                {
                    x.SiteId,
                    x.Id,
                    x.UserId,
                    Name = x.UserId == null ? x.Name : db.Users.Where(u => u.Id == x.UserId).Select(u => u.FullName).First(),
                    Address = x.UserId == null
                        ? x.Address
                        : db.MailPeople.Where(p => p.UserId == x.UserId).Select(p => p.Address).FirstOrDefault(),
                })
                .ToListAsync(ct)
        ).ToLookup(x => x.SiteId, x => new SiteContact(x.Id, x.Name, x.Address ?? ""));
        var since = writes.Now.AddDays(-7);
        return new(
            await db.MailServers.AsNoTracking().SingleOrDefaultAsync(ct),
            [.. sites.Select(x => new SiteContacts(x.Id, x.Name, [.. contacts[x.Id]]))],
            await db.Mail.AsNoTracking().OrderByDescending(x => x.Id).Take(Latest).ToListAsync(ct),
            await db.Mail.CountAsync(x => x.State == MailState.Waiting, ct),
            await db.Mail.CountAsync(x => x.State == MailState.Refused && x.MadeAt >= since, ct),
            await address.Get(ct)
        );
    }

    /// <summary>Names the server, switches messages on or off.</summary>
    public Task<Outcome<MailServerRow>> SaveServer(MailServerInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db.MailServers.SingleOrDefaultAsync(ct);
                if ((row?.Version ?? 0) != input.Version)
                    return Outcome<MailServerRow>.Refused(Refusals.ChangedMeanwhile());
                var refusals = new List<Refusal>();
                var host = Typed.Words(input.Host, "host", LongestAddress, refusals, needed: true);
                if (host.Length > 0 && Uri.CheckHostName(host) == UriHostNameType.Unknown)
                    refusals.Add(Refusals.NotAHost());
                else if (host.Length > 0 && !input.OwnNetwork && LabAddress.SaysInside($"http://{Bracketed(host)}/"))
                    refusals.Add(Refusals.InsideNetwork() with { Field = "host" });
                var port = Typed.Whole(input.Port, "port", 1, 65535, refusals);
                if (port is null && !refusals.Exists(x => x.Field == "port"))
                    refusals.Add(Refusals.Needed("port"));
                var security = input.Security ?? MailSecurity.StartTls;
                if (input.Security is null || !Enum.IsDefined(security))
                    refusals.Add(Refusals.ChooseOne("security"));
                var user = Typed.Words(input.User, "user", LongestAddress, refusals);
                var password = Typed.Words(input.Password, "password", LongestAddress, refusals);

                // A name and a password are not said where everybody on the way can read them.
                if (user.Length > 0 && security == MailSecurity.Open && !input.OwnNetwork)
                    refusals.Add(Refusals.OpenPassword());
                var from = Address(input.From, "from", refusals);
                if (refusals.Count > 0)
                    return Outcome<MailServerRow>.Refused(refusals);
                var before = row is null
                    ? null
                    : new
                    {
                        row.Host,
                        row.Port,
                        row.Security,
                        row.User,
                        row.From,
                        row.OwnNetwork,
                        row.On,
                    };
                if (row is null)
                    db.MailServers.Add(row = new() { Host = host, From = from });

                // No other server gets the password that was given for this one.
                if (row.Host != host || row.Port != port || row.User != user || security < row.Security)
                    row.Password = "";
                if (password.Length > 0)
                    row.Password = secrets.Hide(password);
                if (input.On && !row.On)
                    row.Since = writes.Now - Before;
                (row.Host, row.Port, row.Security, row.User, row.From) = (host, port!.Value, security, user, from);
                (row.OwnNetwork, row.On) = (input.OwnNetwork, input.On);
                (row.Failures, row.LastFault, row.NextTryAt, row.FailingSince) = (0, "", null, null);
                row.Version++;
                writes.Audit(
                    actor,
                    "mail.server",
                    host,
                    null,
                    before,
                    new
                    {
                        host,
                        port,
                        security,
                        user,
                        from,
                        input.OwnNetwork,
                        input.On,
                        newPassword = password.Length > 0,
                    }
                );
                return Outcome<MailServerRow>.Of(row);
            },
            ct
        );

    /// <summary>What somebody chose; what is usual while they chose nothing.</summary>
    public async Task<MailPerson> Choice(string userId, CancellationToken ct) =>
        await db.MailPeople.AsNoTracking().SingleOrDefaultAsync(x => x.UserId == userId, ct) ?? Usual(userId);

    /// <summary>The last messages to somebody.</summary>
    public async Task<IReadOnlyList<MailRow>> Own(string userId, CancellationToken ct) =>
        await db.Mail.AsNoTracking().Where(x => x.UserId == userId).OrderByDescending(x => x.Id).Take(OwnLatest).ToListAsync(ct);

    /// <summary>One message; null when there is none such.</summary>
    public Task<MailRow?> One(long id, CancellationToken ct) => db.Mail.AsNoTracking().SingleOrDefaultAsync(x => x.Id == id, ct);

    /// <summary>What goes wrong with messages, for a planner: nobody must believe that people are told who are not.</summary>
    public async Task<bool> Fails(CancellationToken ct)
    {
        var (late, since) = (writes.Now - FailsAfter, writes.Now.AddDays(-1));
        return await db.MailServers.AnyAsync(
            x => x.On && (x.FailingSince <= late || db.Mail.Any(m => m.State == MailState.Refused && m.MadeAt >= since)),
            ct
        );
    }

    /// <summary>Whether messages go out at all.</summary>
    public Task<bool> IsOn(CancellationToken ct) => db.MailServers.AnyAsync(x => x.On, ct);

    /// <summary>Keeps of what somebody wants to be told, and when.</summary>
    public Task<Outcome<MailPerson>> Choose(string userId, MailChoiceInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await db.Users.SingleOrDefaultAsync(x => x.Id == userId, ct) is not { } user)
                    return Outcome<MailPerson>.Refused(Refusals.NoSuchPerson());
                var row = await db.MailPeople.SingleOrDefaultAsync(x => x.UserId == userId, ct);
                if ((row?.Version ?? 0) != input.Version)
                    return Outcome<MailPerson>.Refused(Refusals.ChangedMeanwhile());
                var refusals = new List<Refusal>();
                var mail = string.IsNullOrWhiteSpace(input.Address) ? "" : Address(input.Address, "address", refusals);
                if (
                    !TimeOnly.TryParseExact(
                        input.MorningAt?.Trim(),
                        "HH:mm",
                        CultureInfo.InvariantCulture,
                        DateTimeStyles.None,
                        out var morning
                    )
                )
                    refusals.Add(Refusals.NotATime("morningAt"));
                foreach (var (name, when, soon) in Kinds(input))
                {
                    if (when is not { } chosen || !Enum.IsDefined(chosen) || (!soon && chosen == MailWhen.AtOnce))
                        refusals.Add(Refusals.ChooseOne(name));
                }

                if (refusals.Count > 0)
                    return Outcome<MailPerson>.Refused(refusals);
                if (row is null)
                    db.MailPeople.Add(row = Usual(userId));
                (row.Address, row.AllSites) = (mail, input.AllSites);
                (row.Stops, row.Samples) = (input.Stops!.Value, input.Samples!.Value);
                (row.Limits, row.Walks, row.Stock) = (input.Limits!.Value, input.Walks!.Value, input.Stock!.Value);
                var minutes = (int)morning.ToTimeSpan().TotalMinutes;
                if (row.MorningAt != minutes || row.Version == 0)
                    row.MorningOn = await BegunOn(user.Id, minutes, ct);
                row.MorningAt = minutes;
                row.Version++;
                writes.Audit(
                    actor,
                    "mail.choose",
                    user.UserName!,
                    null,
                    null,
                    new
                    {
                        address = mail,
                        row.AllSites,
                        row.MorningAt,
                        row.Stops,
                        row.Samples,
                        row.Limits,
                        row.Walks,
                        row.Stock,
                    }
                );
                return Outcome<MailPerson>.Of(row);
            },
            ct
        );

    /// <summary>Today, when its hour has gone by already: the first message comes tomorrow. Null when it is still to come.</summary>
    private async Task<DateOnly?> BegunOn(string userId, int minutes, CancellationToken ct)
    {
        var local = TimeZoneInfo.ConvertTime(writes.Now, await people.ZoneOf(userId, ct));
        return local.TimeOfDay.TotalMinutes >= minutes ? DateOnly.FromDateTime(local.DateTime) : null;
    }

    /// <summary>Sends somebody a message by which they see whether messages arrive.</summary>
    public async Task<Outcome<MailRow>> Try(string userId, Actor actor, CancellationToken ct)
    {
        var user = await db.Users.AsNoTracking().SingleOrDefaultAsync(x => x.Id == userId, ct);
        var choice = await Choice(userId, ct);
        if (user is null || choice.Address.Length == 0)
            return Outcome<MailRow>.Refused(Refusals.Needed("address"));
        if (!await IsOn(ct))
            return Outcome<MailRow>.Refused(Refusals.MailIsOff());
        var draft = new MailDraft(MailRound.Reader(user, choice.Address), MailKind.Trial, [], []);
        var text = await writer.Write(draft, await address.Get(ct), LocalDay.Of(writes.Now, TimeZoneInfo.Utc));
        return await writes.Run(
            () =>
            {
                writes.Audit(actor, "mail.try", user.UserName!, null, null, new { choice.Address });
                return Task.FromResult(Outcome<MailRow>.Of(MailRound.Lay(db, draft, text, writes.Now)));
            },
            ct
        );
    }

    /// <summary>Puts somebody at the end of a site's list.</summary>
    public Task<Outcome<SiteContactRow>> AddContact(int siteId, ContactInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var site = await db.Sites.SingleOrDefaultAsync(x => x.Id == siteId, ct);
                if (site is null)
                    return Outcome<SiteContactRow>.Refused(Refusals.NoSuchSite(""));
                var refusals = new List<Refusal>();
                var there = await db.SiteContacts.Where(x => x.SiteId == siteId).ToListAsync(ct);
                if (there.Count >= MostContacts)
                    refusals.Add(Refusals.Between("contactName", 0, MostContacts));
                var row = new SiteContactRow { SiteId = siteId, Turn = there.Count > 0 ? there.Max(x => x.Turn) + 1 : 0 };
                string name;
                if (!string.IsNullOrWhiteSpace(input.User))
                {
                    var user = await db.Users.SingleOrDefaultAsync(x => x.UserName == input.User.Trim(), ct);
                    if (user is null)
                        return Outcome<SiteContactRow>.Refused(Refusals.NoSuchPerson());
                    if (there.Exists(x => x.UserId == user.Id))
                        refusals.Add(Refusals.CodeTaken("contactUser", user.FullName));
                    (row.UserId, name) = (user.Id, user.FullName);
                }
                else
                {
                    name = row.Name = Typed.Words(input.Name, "contactName", LongestName, refusals, needed: true);
                    row.Address = Address(input.Address, "contactAddress", refusals);
                    if (AllLanguages.Find(input.Language ?? "en") is not { } language)
                        refusals.Add(Refusals.NoSuchLanguage() with { Field = "contactLanguage" });
                    else
                        row.Language = language.Code;
                    if (row.Address.Length > 0 && there.Exists(x => x.Address.Equals(row.Address, StringComparison.OrdinalIgnoreCase)))
                        refusals.Add(Refusals.CodeTaken("contactAddress", row.Address));
                }

                if (refusals.Count > 0)
                    return Outcome<SiteContactRow>.Refused(refusals);
                db.SiteContacts.Add(row);
                writes.Audit(
                    actor,
                    "mail.list",
                    site.Name,
                    null,
                    null,
                    new
                    {
                        name,
                        row.Address,
                        row.Turn,
                    }
                );
                return Outcome<SiteContactRow>.Of(row);
            },
            ct
        );

    /// <summary>Moves somebody of a site's list one place up, or takes them out.</summary>
    /// <param name="id">Whom.</param>
    /// <param name="takeOut">Take out; otherwise move up.</param>
    /// <param name="actor">Who does.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<Nothing>> ChangeContact(int id, bool takeOut, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db.SiteContacts.SingleOrDefaultAsync(x => x.Id == id, ct);
                if (row is null)
                    return Outcome<Nothing>.Refused(Refusals.ChangedMeanwhile());
                var list = await db.SiteContacts.Where(x => x.SiteId == row.SiteId).OrderBy(x => x.Turn).ThenBy(x => x.Id).ToListAsync(ct);
                var at = list.IndexOf(row);
                list.RemoveAt(at);
                if (takeOut)
                    db.SiteContacts.Remove(row);
                else
                    list.Insert(Math.Max(0, at - 1), row);
                for (var turn = 0; turn < list.Count; turn++)
                    list[turn].Turn = turn;
                var name = row.UserId is null
                    ? row.Name
                    : await db.Users.Where(x => x.Id == row.UserId).Select(x => x.FullName).SingleAsync(ct);
                writes.Audit(
                    actor,
                    "mail.list",
                    await db.Sites.Where(x => x.Id == row.SiteId).Select(x => x.Name).SingleAsync(ct),
                    null,
                    null,
                    new
                    {
                        name,
                        takeOut,
                        row.Turn,
                    }
                );
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Has a message tried again that was given up.</summary>
    public Task<Outcome<Nothing>> Again(long id, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db.Mail.SingleOrDefaultAsync(x => x.Id == id && x.State == MailState.Refused, ct);
                if (row is null)
                    return Outcome<Nothing>.Refused(Refusals.ChangedMeanwhile());
                (row.State, row.NextTryAt, row.MadeAt) = (MailState.Waiting, null, writes.Now);
                writes.Audit(actor, "mail.again", row.Address, null, null, new { row.Subject });
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    private static MailPerson Usual(string userId) =>
        new()
        {
            UserId = userId,
            Address = "",
            MorningAt = UsualMorning,
            Stops = MailWhen.AtOnce,
            Samples = MailWhen.AtOnce,
            Limits = MailWhen.Morning,
            Walks = MailWhen.Morning,
            Stock = MailWhen.Morning,
        };

    private static IEnumerable<(string Name, MailWhen? When, bool Soon)> Kinds(MailChoiceInput x) =>
        [
            ("stops", x.Stops, true),
            ("samples", x.Samples, true),
            ("limits", x.Limits, false),
            ("walks", x.Walks, false),
            ("stock", x.Stock, false),
        ];

    private static string Bracketed(string host) => host.Contains(':', StringComparison.Ordinal) && host[0] != '[' ? $"[{host}]" : host;

    /// <summary>Reads an address; one with a name, a line's end or without a place is none.</summary>
    private static string Address(string? text, string field, List<Refusal> refusals)
    {
        var typed = Typed.Words(text, field, LongestAddress, refusals, needed: true);
        if (typed.Length == 0 || (MailAddress.TryCreate(typed, out var read) && read.Address == typed && read.DisplayName.Length == 0))
            return typed;
        refusals.Add(Refusals.NotAMailAddress(field));
        return "";
    }
}
