using System.Security.Cryptography;
using System.Text;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.People;

namespace Nippers.App.People;

/// <summary>A token just made: the only time that its text is seen.</summary>
public sealed record MadeToken(ApiToken Token, string Text);

/// <summary>A token, as asked for.</summary>
/// <param name="Name">What it is for.</param>
/// <param name="Role">What the rules take its holder for.</param>
/// <param name="Scopes">What it may do, of <see cref="TokenScopes.All"/>.</param>
/// <param name="Days">For how many days, as typed; empty for <see cref="ApiTokens.UsualDays"/>.</param>
public sealed record TokenInput(string? Name, string? Role, IReadOnlyList<string>? Scopes, string? Days = null);

/// <summary>Who stands behind a token.</summary>
public sealed record TokenHolder(Actor Actor, IReadOnlyList<string> Scopes);

/// <summary>Bearer tokens of the API. Only hashes are kept.</summary>
public sealed class ApiTokens(NippersDb db, UnitOfWork writes, WriteGate gate)
{
    private const string Prefix = "nip_";
    private const int SecretBytes = 24;

    /// <summary>Days for which a token is good when nobody says otherwise, and at most.</summary>
    public const int UsualDays = 365;
    private const int MostDays = 1825;

    /// <summary>Last use is written down at most this often, so that reading the API does not write all the time.</summary>
    private static readonly TimeSpan UseNoted = TimeSpan.FromMinutes(10);

    public Task<List<ApiToken>> List(CancellationToken ct) =>
        db.ApiTokens.AsNoTracking().OrderBy(x => x.RevokedAt != null).ThenBy(x => x.Name).ToListAsync(ct);

    /// <summary>Makes one.</summary>
    /// <param name="input">What was typed.</param>
    /// <param name="actor">Who makes it.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<MadeToken>> Make(TokenInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            () =>
            {
                var refusals = new List<Refusal>();
                var name = Typed.Words(input.Name, "name", 60, refusals, needed: true);
                if (input.Role is not { } role || !Roles.All.Contains(role))
                {
                    refusals.Add(Refusals.NoSuchRole());
                    role = Roles.Operator;
                }

                var scopes = TokenScopes.All.Where(x => input.Scopes?.Contains(x) == true).ToList();
                if (scopes.Count == 0 || input.Scopes!.Except(scopes).Any())
                    refusals.Add(Refusals.TokenScope());
                var days = Typed.Whole(input.Days, "days", 1, MostDays, refusals) ?? UsualDays;
                if (refusals.Count > 0)
                    return Task.FromResult(Outcome<MadeToken>.Refused(refusals));
                var text = Prefix + Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(SecretBytes));
                var token = new ApiToken
                {
                    Name = name,
                    Role = role,
                    Scopes = string.Join(' ', scopes),
                    Hash = Hash(text),
                    MadeBy = actor.Name,
                    MadeAt = writes.Now,
                    ExpiresAt = writes.Now.AddDays(days),
                };
                db.ApiTokens.Add(token);
                writes.Audit(
                    actor,
                    "token.make",
                    token.Name,
                    null,
                    null,
                    new
                    {
                        token.Name,
                        token.Role,
                        token.Scopes,
                        days,
                    }
                );
                return Task.FromResult(Outcome<MadeToken>.Of(new(token, text)));
            },
            ct
        );

    public Task<Outcome<Nothing>> Revoke(int id, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var token = await db.ApiTokens.SingleOrDefaultAsync(x => x.Id == id && x.RevokedAt == null, ct);
                if (token is null)
                    return Outcome<Nothing>.Refused(Refusals.TokenGone());
                token.RevokedAt = writes.Now;
                writes.Audit(actor, "token.revoke", token.Name, null, new { token.Name, token.Role }, null);
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Who stands behind a token, and what it may; null when it is unknown, revoked or past its day.</summary>
    public async Task<TokenHolder?> Find(string text, CancellationToken ct)
    {
        if (!text.StartsWith(Prefix, StringComparison.Ordinal))
            return null;
        var hash = Hash(text);
        var token = await db.ApiTokens.AsNoTracking().SingleOrDefaultAsync(x => x.Hash == hash && x.RevokedAt == null, ct);
        if (token is null || token.ExpiresAt <= writes.Now)
            return null;
        if (token.UsedAt is null || writes.Now - token.UsedAt > UseNoted)
        {
            // For a planner's eyes alone: it waits for nobody, and nobody's call fails by it.
            using var turn = await gate.TryEnter(TimeSpan.Zero, ct);
            if (turn is not null)
                await Note(token.Id, ct);
        }

        return new(new("api: " + token.Name, token.Role), token.Scopes.Split(' ', StringSplitOptions.RemoveEmptyEntries));
    }

    private async Task Note(int token, CancellationToken ct)
    {
        var now = writes.Now;
        try
        {
            await db.ApiTokens.Where(x => x.Id == token).ExecuteUpdateAsync(x => x.SetProperty(t => t.UsedAt, now), ct);
        }
        catch (SqliteException fault) when (StorageFaults.Of(fault) is not null)
        {
            // It is noted at the next call.
        }
    }

    private static string Hash(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)));
}
