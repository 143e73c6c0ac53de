using System.Collections.Concurrent;
using Nippers.Core.Service;

namespace Nippers.App.Visits;

/// <summary>
/// Keeps each machine's last plan of visits with all that it was worked out from. The search takes a millisecond and more a machine, and
/// between two readings asks the same all day; where anything of it differs it is made anew.
/// </summary>
public sealed class PlansKept
{
    private sealed record Kept(IReadOnlyList<VisitItem> Items, int Horizon, double CallOut, VisitPlan Chosen, VisitPlan Naive);

    private readonly ConcurrentDictionary<int, Kept> _machines = [];

    /// <summary>The plan of a machine, and that of the naive rule.</summary>
    /// <param name="machineId">The machine: one plan is kept of each.</param>
    /// <param name="items">What it is worked out from. It must not be changed afterwards.</param>
    /// <param name="horizonDays">Last day that is planned.</param>
    /// <param name="callOut">Going there, in money.</param>
    public (VisitPlan Chosen, VisitPlan Naive) Of(int machineId, IReadOnlyList<VisitItem> items, int horizonDays, double callOut)
    {
        if (
            _machines.TryGetValue(machineId, out var kept)
            && kept.Horizon == horizonDays
            && kept.CallOut.Equals(callOut)
            && kept.Items.SequenceEqual(items)
        )
            return (kept.Chosen, kept.Naive);
        kept = new(
            items,
            horizonDays,
            callOut,
            VisitPlanner.Propose(items, horizonDays, callOut),
            VisitPlanner.Naive(items, horizonDays, callOut)
        );
        _machines[machineId] = kept;
        return (kept.Chosen, kept.Naive);
    }
}
