using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Visits;
using Nippers.Data;
using Nippers.Data.Queries;

namespace Nippers.App.Parts;

/// <summary>What proposed visits take of a part.</summary>
/// <param name="Pieces">How many.</param>
/// <param name="First">The first day on which one is needed.</param>
/// <param name="Units">For which machines.</param>
public sealed record PartNeed(int Pieces, DateOnly First, SortedSet<string> Units);

/// <summary>What each machine's proposed visits take, kept while nothing is done on it.</summary>
public sealed class NeedsKept : IDisposable
{
    /// <summary>One at a time: two who ask would work out the same.</summary>
    internal SemaphoreSlim One { get; } = new(1, 1);

    public void Dispose() => One.Dispose();

    /// <summary>What one machine needs.</summary>
    /// <param name="Key">What it was worked out from: its newest work, and what is fitted where.</param>
    /// <param name="At">When.</param>
    /// <param name="Parts">Parts, with the day of the visit that takes each.</param>
    internal sealed record Kept((long? Done, int Fitted, long Parts) Key, DateTimeOffset At, IReadOnlyList<(int Part, DateOnly On)> Parts);

    internal ConcurrentDictionary<int, Kept> Machines { get; } = [];
}

/// <summary>
/// Works out which parts the next visits take. Proposals of a whole fleet take seconds, so they are kept by machine, and only
/// those on which something was done are worked out while somebody waits. The rest ages in the background: a shelf list may be
/// an hour behind the meters, not behind the work.
/// </summary>
public sealed class PartNeeds(NippersDb db, VisitProposals proposals, NeedsKept kept, TimeProvider clock)
{
    /// <summary>Days ahead for which parts are wanted on the shelf.</summary>
    public const int Days = 60;

    private const int AtOnce = 50;
    private static readonly TimeSpan GoodFor = TimeSpan.FromHours(1);

    // Renewed before a page would have to.
    private static readonly TimeSpan RenewAfter = TimeSpan.FromMinutes(40);

    /// <summary>What the fleet's proposed visits of the next days take, by part.</summary>
    public async Task<Dictionary<int, PartNeed>> All(CancellationToken ct)
    {
        var machines = await Renew(GoodFor, ct);
        var needs = new Dictionary<int, PartNeed>();
        foreach (var (id, unit) in machines)
        {
            foreach (var (part, on) in kept.Machines[id].Parts)
            {
                if (!needs.TryGetValue(part, out var need))
                    need = new(0, on, new(StringComparer.Ordinal));
                need.Units.Add(unit);
                needs[part] = need with { Pieces = need.Pieces + 1, First = on < need.First ? on : need.First };
            }
        }

        return needs;
    }

    /// <summary>Works out anew what will soon be too old, so that no page waits for it.</summary>
    public Task Renew(CancellationToken ct) => Renew(RenewAfter, ct);

    private async Task<List<(int Id, string Unit)>> Renew(TimeSpan goodFor, CancellationToken ct)
    {
        await kept.One.WaitAsync(ct);
        try
        {
            return await RenewAlone(goodFor, ct);
        }
        finally
        {
            kept.One.Release();
        }
    }

    private async Task<List<(int Id, string Unit)>> RenewAlone(TimeSpan goodFor, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        var rows = await db
            .Machines.Where(x => !x.Retired && db.FilterPositions.Any(p => p.MachineId == x.Id && p.PartId != null))
            .Select(x => new
            {
                x.Id,
                x.Unit,
                Done = db.Completions.Where(c => c.MachineId == x.Id).Max(c => (DateTimeOffset?)c.EnteredAt),
                Fitted = db.FilterPositions.Count(p => p.MachineId == x.Id && p.PartId != null),
                Parts = db.FilterPositions.Where(p => p.MachineId == x.Id).Sum(p => (long?)p.PartId * p.Id) ?? 0,
            })
            .ToListAsync(ct);
        var old = rows.Select(x => (x.Id, Key: (x.Done?.ToUnixTimeMilliseconds(), x.Fitted, x.Parts)))
            .Where(x => !kept.Machines.TryGetValue(x.Id, out var last) || last.Key != x.Key || now < last.At || now - last.At >= goodFor)
            .ToDictionary(x => x.Id, x => x.Key);
        foreach (var some in old.Keys.Chunk(AtOnce))
        {
            foreach (var proposal in await proposals.Of(await db.FactsOf(some, now, ct), ct))
            {
                var id = proposal.Sheet.Facts.Machine.Id;
                kept.Machines[id] = new(old[id], now, [.. PartsOf(proposal)]);
            }
        }

        return [.. rows.Where(x => kept.Machines.ContainsKey(x.Id)).Select(x => (x.Id, x.Unit))];
    }

    private static IEnumerable<(int Part, DateOnly On)> PartsOf(VisitProposal proposal)
    {
        foreach (var visit in proposal.Visits.Where(x => x.Day <= Days))
        {
            var codes = visit.Items.Where(x => x.CoveredBy is null).Select(x => x.Candidate.Code).ToHashSet(StringComparer.Ordinal);
            foreach (var part in proposal.Sheet.Positions.Where(x => codes.Contains(x.ItemCode)).Select(x => x.PartId).OfType<int>())
                yield return (part, visit.On);
        }
    }
}
