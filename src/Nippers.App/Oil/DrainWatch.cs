using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.Core.Jobs;
using Nippers.Core.Oil;
using Nippers.Data;
using Nippers.Data.Queries;

namespace Nippers.App.Oil;

/// <summary>
/// Takes an earned interval between oil changes back when the sample that should have been taken was missed by more than its
/// window.
/// </summary>
/// <remarks>Rules 10. It goes by hours that were read: an estimate must not take away what was earned.</remarks>
public sealed class DrainWatch(NippersDb db)
{
    /// <summary>Who stands behind it.</summary>
    public const string Name = "Nippers";

    /// <summary>Looks at some machines; cheap where none of them earned anything.</summary>
    /// <returns>Whether any interval fell back; facts loaded before are stale then.</returns>
    public async Task<bool> FallBack(IReadOnlyCollection<int> machineIds, DateTimeOffset now, CancellationToken ct)
    {
        var earned = await db
            .MachineCompartments.AsNoTracking()
            .Where(x => machineIds.Contains(x.MachineId) && x.DrainHours != null)
            .Select(x => new { x.MachineId, x.Code })
            .ToListAsync(ct);
        if (earned.Count == 0)
            return false;
        var fell = false;
        foreach (var facts in await db.FactsOf([.. earned.Select(x => x.MachineId).Distinct()], now, ct))
        {
            foreach (var compartment in earned.Where(x => x.MachineId == facts.Machine.Id).Select(x => x.Code))
            {
                var item = facts.Items.FirstOrDefault(x => x.Compartment == compartment && x.Work == ItemWork.Sample);
                var (rule, current) = ReviewSample.RuleOf(facts, compartment);
                if (item is null || rule is null)
                    continue;
                var point = facts.Due(item);
                if (!(DefectService.LastHours(facts).Value > point.DueHours + point.WindowHours))
                    continue;
                await ReviewSample.Change(db, now, facts, compartment, rule, current!.Value, DrainAdvice.Missed(rule), null, Name, ct);
                fell = true;
            }
        }

        if (fell)
            await db.SaveChangesAsync(ct);
        return fell;
    }
}
