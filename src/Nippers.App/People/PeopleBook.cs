using System.Security.Cryptography;
using System.Text;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Languages;
using Nippers.App.Units;
using Nippers.Data;
using Nippers.Data.People;

namespace Nippers.App.People;

/// <summary>Somebody with an account.</summary>
/// <param name="UserName">Name to sign in with.</param>
/// <param name="FullName">Name that stands behind records.</param>
/// <param name="Role">What they may do.</param>
/// <param name="Off">Switched off: they can't sign in.</param>
public sealed record Person(string UserName, string FullName, string Role, bool Off);

/// <summary>How somebody reads.</summary>
/// <param name="Units">The word of their units.</param>
/// <param name="Language">Two letters of their language; empty for the browser's.</param>
public sealed record PersonChoices(string Units, string Language);

/// <summary>A code just made: the only time that its text is seen.</summary>
public sealed record MadeCode(string FullName, string Text);

/// <summary>
/// What planners do to accounts. Each is one transaction with its audit row, ends the person's sessions at once, and leaves at
/// least one planner who can sign in.
/// </summary>
public sealed class PeopleBook(NippersDb db, UnitOfWork writes, IPasswordHasher<NippersUser> hasher)
{
    /// <summary>How long a code is good for.</summary>
    public static readonly TimeSpan CodeGoodFor = TimeSpan.FromHours(24);

    // Without letters and digits that look like others.
    private const string Letters = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789";
    private const int CodeLength = 12;
    private const int MostTries = 5;

    /// <summary>Everybody, by name.</summary>
    public async Task<IReadOnlyList<Person>> All(CancellationToken ct)
    {
        var now = writes.Now;
        var rows = await db
            .Users.AsNoTracking()
            .OrderBy(x => x.FullName)
            .Select(x => new
            {
                x.UserName,
                x.FullName,
                x.LockoutEnd,
                Role = db.UserRoles.Where(r => r.UserId == x.Id).Join(db.Roles, r => r.RoleId, r => r.Id, (_, r) => r.Name).Min(),
            })
            .ToListAsync(ct);
        return [.. rows.Select(x => new Person(x.UserName!, x.FullName, x.Role ?? Roles.Operator, IsOff(x.LockoutEnd, now)))];
    }

    /// <summary>The zone in which somebody's times are told: of their own site, else of the first.</summary>
    public async Task<TimeZoneInfo> ZoneOf(string userId, CancellationToken ct)
    {
        var own = await db.Users.Where(x => x.Id == userId).Select(x => x.SiteId).SingleOrDefaultAsync(ct);
        var zone = await db.Sites.OrderByDescending(x => x.Id == own).ThenBy(x => x.Name).Select(x => x.TimeZone).FirstOrDefaultAsync(ct);
        return TimeZoneInfo.FindSystemTimeZoneById(zone ?? "UTC");
    }

    /// <summary>Switches an account off, or on again.</summary>
    public Task<Outcome<NippersUser>> Switch(string? userName, bool on, Actor actor, CancellationToken ct) =>
        Change(
            userName,
            actor,
            user =>
            {
                user.LockoutEnd = on ? null : DateTimeOffset.MaxValue;
                user.AccessFailedCount = 0;
                writes.Audit(actor, on ? "person.on" : "person.off", user.UserName!, null, null, null);
                return Task.CompletedTask;
            },
            ct
        );

    /// <summary>Gives somebody another role.</summary>
    public Task<Outcome<NippersUser>> SetRole(string? userName, string? role, Actor actor, CancellationToken ct) =>
        role is null || !Roles.All.Contains(role)
            ? Task.FromResult(Outcome<NippersUser>.Refused(Refusals.NoSuchRole()))
            : Change(
                userName,
                actor,
                async user =>
                {
                    var had = await db.UserRoles.Where(x => x.UserId == user.Id).ToListAsync(ct);
                    var names = await db.Roles.ToDictionaryAsync(x => x.Id, x => x.Name, ct);
                    db.UserRoles.RemoveRange(had);
                    db.UserRoles.Add(new() { UserId = user.Id, RoleId = names.Single(x => x.Value == role).Key });
                    writes.Audit(
                        actor,
                        "person.role",
                        user.UserName!,
                        null,
                        new { roles = had.Select(x => names[x.RoleId]) },
                        new { role }
                    );
                },
                ct
            );

    /// <summary>
    /// Makes a code with which somebody who has lost the password sets another, once. The old password holds until then; codes made
    /// before do not.
    /// </summary>
    public Task<Outcome<MadeCode>> MakeCode(string? userName, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await Find(userName, ct) is not { } user)
                    return Outcome<MadeCode>.Refused(Refusals.NoSuchPerson());
                var text = RandomNumberGenerator.GetString(Letters, CodeLength);
                db.ResetCodes.RemoveRange(await db.ResetCodes.Where(x => x.UserId == user.Id).ToListAsync(ct));
                db.ResetCodes.Add(
                    new()
                    {
                        UserId = user.Id,
                        Hash = Hash(text),
                        Until = writes.Now + CodeGoodFor,
                    }
                );
                writes.Audit(actor, "person.code", user.UserName!, null, null, null);
                return Outcome<MadeCode>.Of(new(user.FullName, text));
            },
            ct
        );

    /// <summary>
    /// Sets another password by a code. A wrong code, an old one and a name that nobody has get the same words; five wrong ones take
    /// the code away.
    /// </summary>
    /// <param name="userName">Whose.</param>
    /// <param name="code">The code as typed.</param>
    /// <param name="password">The new password.</param>
    /// <param name="judge">Says what is wrong with a password; empty for nothing.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<Outcome<NippersUser>> Reset(
        string? userName,
        string? code,
        string? password,
        Func<NippersUser, string, Task<IReadOnlyList<Refusal>>> judge,
        CancellationToken ct
    )
    {
        // Hashed whether or not anybody is found: the time tells nothing.
        var given = Hash((code ?? "").Replace(" ", "", StringComparison.Ordinal).ToUpperInvariant());
        var hashed = hasher.HashPassword(new(), password ?? "");
        var wrong = false;
        var outcome = await writes.Run(
            async () =>
            {
                var user = await Find(userName, ct);
                var row = user is null ? null : await db.ResetCodes.SingleOrDefaultAsync(x => x.UserId == user.Id, ct);
                if (
                    user is null
                    || row is null
                    || row.Until < writes.Now
                    || !CryptographicOperations.FixedTimeEquals(Encoding.ASCII.GetBytes(row.Hash), Encoding.ASCII.GetBytes(given))
                )
                {
                    wrong = true;
                    return Outcome<NippersUser>.Refused(Refusals.ResetCodeWrong());
                }

                if (await judge(user, password ?? "") is { Count: > 0 } refused)
                    return Outcome<NippersUser>.Refused([.. refused]);
                (user.PasswordHash, user.AccessFailedCount) = (hashed, 0);
                if (!IsOff(user.LockoutEnd, writes.Now))
                    user.LockoutEnd = null;
                End(user);
                db.ResetCodes.Remove(row);
                writes.Audit(new(user.FullName, Roles.Operator), "person.password", user.UserName!, null, null, null);
                return Outcome<NippersUser>.Of(user);
            },
            ct
        );
        if (wrong)
            await CountWrong(userName, ct);
        return outcome;
    }

    /// <summary>Ends one session: a copy of its cookie is worth nothing from now on.</summary>
    /// <param name="session">The session.</param>
    /// <param name="longest">How long a session can last at most: what was ended before that is forgotten.</param>
    /// <param name="actor">Whose it was.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<Nothing>> EndSession(string session, TimeSpan longest, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var old = writes.Now - longest;
                await db.EndedSessions.Where(x => x.At < old).ExecuteDeleteAsync(ct);
                if (!await db.EndedSessions.AnyAsync(x => x.Id == session, ct))
                    db.EndedSessions.Add(new() { Id = session, At = writes.Now });
                writes.Audit(actor, "person.signOut", actor.Name, null, null, null);
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Chooses the units in which a person reads and types.</summary>
    /// <param name="userId">Whose.</param>
    /// <param name="units">Their word: <c>metric</c>, <c>us</c>, and with commas the units of single quantities, <c>us,bar</c>.</param>
    /// <param name="actor">Who chooses.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<Nothing>> ChooseUnits(string userId, string? units, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await db.Users.SingleOrDefaultAsync(x => x.Id == userId, ct) is not { } user)
                    return Outcome<Nothing>.Refused(Refusals.NoSuchPerson());
                if (PersonUnits.Exactly(units) is not { } chosen)
                    return Outcome<Nothing>.Refused(Refusals.NoSuchUnits());
                writes.Audit(actor, "person.units", user.UserName!, null, new { user.Units }, new { Units = chosen.Code });
                user.Units = chosen.Code;
                await db.SaveChangesAsync(ct);
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Chooses the language in which a person reads.</summary>
    /// <param name="userId">Whose.</param>
    /// <param name="language">Its two letters; empty for the browser's.</param>
    /// <param name="actor">Who chooses.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<Nothing>> ChooseLanguage(string userId, string? language, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await db.Users.SingleOrDefaultAsync(x => x.Id == userId, ct) is not { } user)
                    return Outcome<Nothing>.Refused(Refusals.NoSuchPerson());
                if (language is not null and not "" && AllLanguages.All.All(x => x.Code != language))
                    return Outcome<Nothing>.Refused(Refusals.NoSuchLanguage());
                writes.Audit(actor, "person.language", user.UserName!, null, new { user.Language }, new { language });
                user.Language = language ?? "";
                await db.SaveChangesAsync(ct);
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Whether a session holds: its account has not changed since it began, and nobody has ended it.</summary>
    /// <param name="userId">Whose.</param>
    /// <param name="stamp">The account's stamp when it began.</param>
    /// <param name="session">The session.</param>
    /// <param name="ct">Cancels.</param>
    /// <returns>What the person chose where it does; null where it does not.</returns>
    public Task<PersonChoices?> Holds(string userId, string stamp, string session, CancellationToken ct) =>
        OfSession(db, userId, stamp, session, ct);

    // Every request asks it.
    private static readonly Func<NippersDb, string, string, string, CancellationToken, Task<PersonChoices?>> OfSession =
        EF.CompileAsyncQuery(
            (NippersDb db, string userId, string stamp, string session, CancellationToken _) =>
                db
                    .Users.Where(x => x.Id == userId && x.SecurityStamp == stamp && !db.EndedSessions.Any(e => e.Id == session))
                    .Select(x => new PersonChoices(x.Units, x.Language))
                    .FirstOrDefault()
        );

    private async Task CountWrong(string? userName, CancellationToken ct) =>
        await writes.Run(
            async () =>
            {
                if (
                    await Find(userName, ct) is { } user
                    && await db.ResetCodes.SingleOrDefaultAsync(x => x.UserId == user.Id, ct) is { } row
                )
                {
                    row.Wrong++;
                    if (row.Wrong >= MostTries)
                        db.ResetCodes.Remove(row);
                }

                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    private Task<Outcome<NippersUser>> Change(string? userName, Actor actor, Func<NippersUser, Task> change, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await Find(userName, ct) is not { } user || user.FullName == actor.Name)
                    return Outcome<NippersUser>.Refused(Refusals.NoSuchPerson());
                await change(user);
                End(user);
                await db.SaveChangesAsync(ct);
                return await APlannerRemains(ct) ? Outcome<NippersUser>.Of(user) : Outcome<NippersUser>.Refused(Refusals.LastPlanner());
            },
            ct
        );

    private async Task<bool> APlannerRemains(CancellationToken ct)
    {
        var planners = await db
            .Users.Where(x => db.UserRoles.Any(r => r.UserId == x.Id && db.Roles.Any(n => n.Id == r.RoleId && n.Name == Roles.Planner)))
            .Select(x => x.LockoutEnd)
            .ToListAsync(ct);
        return planners.Exists(x => !IsOff(x, writes.Now));
    }

    private Task<NippersUser?> Find(string? userName, CancellationToken ct)
    {
        var name = userName?.Trim().ToUpperInvariant();
        return db.Users.SingleOrDefaultAsync(x => x.NormalizedUserName == name, ct);
    }

    // Every session carries the stamp that it began with.
    private static void End(NippersUser user) =>
        (user.SecurityStamp, user.ConcurrencyStamp) = (Guid.NewGuid().ToString("N"), Guid.NewGuid().ToString());

    // A lockout after wrong passwords lasts minutes; being switched off has no end.
    internal static bool IsOff(DateTimeOffset? until, DateTimeOffset now) => until > now.AddYears(1);

    private static string Hash(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)));
}
