using Microsoft.EntityFrameworkCore;
using Nippers.Data.People;

namespace Nippers.Data.Queries;

/// <summary>Questions about what machines tell by themselves that more than one place asks.</summary>
public static class FeedQueries
{
    /// <summary>Parameter numbers of fault codes that stop a machine besides those that Nippers knows.</summary>
    public static async Task<IReadOnlySet<int>> StopSpns(this NippersDb db, CancellationToken ct) =>
        Installation.Spns(await db.Installations.Select(x => x.StopSpns).SingleOrDefaultAsync(ct));
}
