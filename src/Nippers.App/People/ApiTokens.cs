using System.Security.Cryptography;
using System.Text;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.People;

namespace Nippers.App.People;

/// <summary>A token just made: the only time that its text is seen.</summary>
public sealed record MadeToken(ApiToken Token, string Text);

/// <summary>Bearer tokens of the API. Only hashes are kept.</summary>
public sealed class ApiTokens(NippersDb db, UnitOfWork writes, WriteGate gate)
{
    private const string Prefix = "nip_";
    private const int SecretBytes = 24;

    /// <summary>Last use is written down at most this often, so that reading the API does not write all the time.</summary>
    private static readonly TimeSpan UseNoted = TimeSpan.FromMinutes(10);

    public Task<List<ApiToken>> List(CancellationToken ct) =>
        db.ApiTokens.AsNoTracking().OrderBy(x => x.RevokedAt != null).ThenBy(x => x.Name).ToListAsync(ct);

    public Task<Outcome<MadeToken>> Make(string? name, string? role, Actor actor, CancellationToken ct) =>
        writes.Run(
            () =>
            {
                if (string.IsNullOrWhiteSpace(name))
                    return Task.FromResult(Outcome<MadeToken>.Refused(Refusals.Needed("name")));
                if (role is null || !Roles.All.Contains(role))
                    return Task.FromResult(Outcome<MadeToken>.Refused(Refusals.NoSuchRole()));
                var text = Prefix + Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(SecretBytes));
                var token = new ApiToken
                {
                    Name = name.Trim(),
                    Role = role,
                    Hash = Hash(text),
                    MadeBy = actor.Name,
                    MadeAt = writes.Now,
                };
                db.ApiTokens.Add(token);
                writes.Audit(actor, "token.make", token.Name, null, null, new { token.Name, token.Role });
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

    /// <summary>Who stands behind a token; null when it is unknown or revoked.</summary>
    public async Task<Actor?> Find(string text, CancellationToken ct)
    {
        if (!text.StartsWith(Prefix, StringComparison.Ordinal))
            return null;
        var hash = Hash(text);
        var token = await db.ApiTokens.AsNoTracking().SingleOrDefaultAsync(x => x.Hash == hash && x.RevokedAt == null, ct);
        if (token is null)
            return null;
        if (token.UsedAt is null || writes.Now - token.UsedAt > UseNoted)
        {
            // For a planner's eyes alone: it waits for nobody, and nobody's call fails by it.
            using var turn = await gate.TryEnter(TimeSpan.Zero, ct);
            if (turn is not null)
                await Note(token.Id, ct);
        }

        return new("api: " + token.Name, token.Role);
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
