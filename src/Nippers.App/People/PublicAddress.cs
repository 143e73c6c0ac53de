using Microsoft.EntityFrameworkCore;
using Nippers.Data;

namespace Nippers.App.People;

/// <summary>Where people reach this installation; printed codes lead there.</summary>
public sealed class PublicAddress(NippersDb db, UnitOfWork writes)
{
    /// <summary>Scheme and host, without a last slash; null while nobody said so.</summary>
    public async Task<string?> Get(CancellationToken ct) =>
        await db.Installations.Select(x => x.PublicAddress).SingleOrDefaultAsync(ct) is { Length: > 0 } address ? address : null;

    /// <summary>Keeps it; empty takes it away.</summary>
    public Task<Outcome<Nothing>> Save(string? typed, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                var address = Typed.Words(typed, "publicAddress", 200, refusals).TrimEnd('/');
                if (refusals.Count == 0 && !Fits(address))
                    refusals.Add(Refusals.NotPublicAddress());
                if (refusals.Count > 0)
                    return Outcome<Nothing>.Refused(refusals);
                var row = await db.Installations.SingleOrDefaultAsync(ct);
                var before = row?.PublicAddress ?? "";
                if (row is null)
                    db.Installations.Add(row = new());
                row.PublicAddress = address;
                var subject = address.Length > 0 ? address : before;
                writes.Audit(actor, "site.address", subject, null, new { address = before }, new { address });
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    private static bool Fits(string address) =>
        address.Length == 0
        || (
            Uri.TryCreate(address, UriKind.Absolute, out var uri)
            && uri.Scheme is ("http" or "https")
            && uri is { UserInfo: "", Query: "", Fragment: "", Host.Length: > 0, AbsolutePath: "/" }
            && address == uri.GetLeftPart(UriPartial.Authority)
        );
}
