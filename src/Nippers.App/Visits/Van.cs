using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Visits;

namespace Nippers.App.Visits;

/// <summary>
/// Ticks a pick list into the van, and at the end what is used again out of it: what did not come back is asked for by name.
/// </summary>
/// <remarks>Rules 5.</remarks>
public sealed class Van(NippersDb db, UnitOfWork writes)
{
    private const int MostLines = 300;
    private const int LongestLine = 120;

    /// <summary>What of a visit's list is in the van, or was.</summary>
    public async Task<IReadOnlyList<VanLine>> Of(long visitId, CancellationToken ct) =>
        await db.VanLines.AsNoTracking().Where(x => x.VisitId == visitId).OrderBy(x => x.Words).ToListAsync(ct);

    /// <summary>Says what is in the van: what is named goes in, what is named no more was not there.</summary>
    /// <param name="visitId">The visit, planned or open.</param>
    /// <param name="lines">Lines of the list that are in, each with its words.</param>
    /// <param name="actor">Who loads it.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<VisitRow>> Load(
        long visitId,
        IReadOnlyCollection<(string Line, string Words, bool Returns)> lines,
        Actor actor,
        CancellationToken ct
    ) =>
        writes.Run(
            async () =>
            {
                var row = await db.Visits.SingleOrDefaultAsync(
                    x => x.Id == visitId && (x.State == VisitState.Planned || x.State == VisitState.Open),
                    ct
                );
                if (row is null)
                    return Outcome<VisitRow>.Refused(Refusals.NoSuchVisit());
                var known = await db.VanLines.Where(x => x.VisitId == visitId).ToDictionaryAsync(x => x.Line, StringComparer.Ordinal, ct);
                var wanted = lines.Where(x => x.Line.Length <= LongestLine).Take(MostLines).DistinctBy(x => x.Line).ToList();
                foreach (var (line, words, returns) in wanted.Where(x => !known.ContainsKey(x.Line)))
                {
                    db.VanLines.Add(
                        new()
                        {
                            VisitId = visitId,
                            Line = line,
                            Words = words,
                            Returns = returns,
                            InBy = actor.Name,
                            InAt = writes.Now,
                        }
                    );
                }

                db.VanLines.RemoveRange(known.Values.Where(x => x.OutAt is null && !wanted.Exists(y => y.Line == x.Line)));
                return Outcome<VisitRow>.Of(row);
            },
            ct
        );

    /// <summary>Says what came out of the van again.</summary>
    /// <param name="visitId">The visit.</param>
    /// <param name="lines">Lines that are back.</param>
    /// <param name="actor">Who unloads it.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<VisitRow>> Unload(long visitId, IReadOnlyCollection<string> lines, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db.Visits.SingleOrDefaultAsync(x => x.Id == visitId, ct);
                if (row is null)
                    return Outcome<VisitRow>.Refused(Refusals.NoSuchVisit());
                foreach (var line in await db.VanLines.Where(x => x.VisitId == visitId && x.Returns && x.OutAt == null).ToListAsync(ct))
                {
                    if (lines.Contains(line.Line))
                        (line.OutBy, line.OutAt) = (actor.Name, writes.Now);
                }

                return Outcome<VisitRow>.Of(row);
            },
            ct
        );
}
