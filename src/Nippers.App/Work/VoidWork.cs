using Microsoft.EntityFrameworkCore;
using Nippers.App.Oil;
using Nippers.Core.Jobs;
using Nippers.Data;

namespace Nippers.App.Work;

/// <summary>Takes recorded work or baselines back, with a reason; they stay on record.</summary>
public sealed class VoidWork(NippersDb db, UnitOfWork writes, TakeSample take)
{
    /// <summary>Voids a whole batch, or one item of it.</summary>
    public Task<Outcome<Nothing>> Run(string unit, string batch, string? itemCode, string? reason, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (!Typed.IsReason(reason, "reason", out var unreasoned))
                    return Outcome<Nothing>.Refused(unreasoned);
                var rows = await db
                    .Completions.Where(x => x.Batch == batch && (itemCode == null || x.ItemCode == itemCode))
                    .Where(x => db.Machines.Any(m => m.Id == x.MachineId && m.Unit == unit))
                    .ToListAsync(ct);
                if (rows.Count == 0)
                    return Outcome<Nothing>.Refused(Refusals.WorkGone());

                foreach (var row in rows)
                {
                    row.VoidedAt = writes.Now;
                    row.VoidedBy = actor.Name;
                    row.VoidReason = reason.Trim();
                }

                // A sample that was recorded with it was not taken either, and a coolant not tested.
                await take.Withdraw(
                    db.Samples.Where(x => x.Batch == batch && x.SignedAs == null && (itemCode == null || x.ItemCode == itemCode)),
                    actor.Name,
                    reason.Trim(),
                    ct
                );
                var codes = rows.Select(x => x.ItemCode).ToList();
                if (
                    await db.ProgramItems.AnyAsync(
                        x =>
                            x.Work == ItemWork.Coolant
                            && codes.Contains(x.Code)
                            && db.Machines.Any(m => m.Id == rows[0].MachineId && m.ProgramId == x.ProgramId),
                        ct
                    )
                )
                {
                    foreach (var test in await db.CoolantTests.Where(x => x.Batch == batch).ToListAsync(ct))
                        (test.VoidedAt, test.VoidedBy) = (writes.Now, actor.Name);
                }

                writes.Audit(
                    actor,
                    "work.void",
                    unit,
                    rows[0].MachineId,
                    new { items = rows.Select(x => x.ItemCode), hours = rows[0].ShownHours.Value },
                    new { reason }
                );
                await writes.RefreshStatus([rows[0].MachineId], ct);
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );
}
