using Nippers.Data;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>
/// A technician makes a safety-critical check that a finished walk had left out, and says so by name. Until somebody has, the
/// machine does not run.
/// </summary>
public sealed class VouchCheck(NippersDb db, UnitOfWork writes)
{
    private const int LongestWords = 300;

    /// <summary>Says that a check was made and is right; what is wrong is a defect.</summary>
    public Task<Outcome<LaterCheckRow>> Run(long walkId, string? check, string? words, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var walk = await WalkContext.Load(db, walkId, ct);
                if (walk is null)
                    return Outcome<LaterCheckRow>.Refused(Refusals.NoSuchWalk());
                if (walk.Row.State != WalkState.Finished)
                    return Outcome<LaterCheckRow>.Refused(Refusals.WalkNotOpen());
                if (actor.Role == Roles.Operator)
                    return Outcome<LaterCheckRow>.Refused(Refusals.TechnicianNeeded());
                var asked = walk.NotChecked.FirstOrDefault(x => x.Code == check);
                if (asked is null)
                    return Outcome<LaterCheckRow>.Refused(Refusals.NothingUnchecked());
                var refusals = new List<Refusal>();
                var said = Typed.Words(words, CheckForm.Field(asked, "vouch"), LongestWords, refusals);
                if (refusals.Count > 0)
                    return Outcome<LaterCheckRow>.Refused(refusals);
                var row = new LaterCheckRow
                {
                    WalkId = walkId,
                    CheckCode = asked.Code,
                    By = actor.Name,
                    At = writes.Now,
                    Words = said,
                };
                db.LaterChecks.Add(row);
                walk.Row.NotChecked = walk.NotChecked.Count() - 1;
                writes.Audit(
                    actor,
                    "walk.checkLater",
                    walk.Row.Machine.Unit,
                    walk.Row.MachineId,
                    null,
                    new { walk.Row.Id, check = asked.Code }
                );
                await writes.RefreshStatus([walk.Row.MachineId], ct);
                return Outcome<LaterCheckRow>.Of(row);
            },
            ct
        );
}
