using Microsoft.EntityFrameworkCore;
using Nippers.Data;

namespace Nippers.App.People;

/// <summary>Whether anybody can sign in yet.</summary>
public sealed class Somebody(NippersDb db)
{
    public Task<bool> Exists(CancellationToken ct) => db.Users.AnyAsync(ct);
}
