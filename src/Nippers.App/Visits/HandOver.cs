using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Visits;

namespace Nippers.App.Visits;

/// <summary>Takes a machine over from who holds its locks.</summary>
/// <param name="LockOn">The person's own lock and tag are on.</param>
/// <param name="Tried">A holder who is away: how they were tried, and who tells them.</param>
public sealed record TakeOverInput(bool LockOn, string? Tried);

/// <summary>
/// Hands a machine that is worked on to another person: by name, with what they must know. It stays with who holds it until the
/// other's own lock is on.
/// </summary>
/// <remarks>Rules 5: overnight the locks stay, or are handed over by name.</remarks>
public sealed class HandOver(NippersDb db, UnitOfWork writes)
{
    /// <summary>People to whom it can be handed: everybody who may work on machines.</summary>
    public async Task<IReadOnlyList<string>> People(CancellationToken ct) =>
        await db
            .Users.Where(x =>
                db.UserRoles.Any(r => r.UserId == x.Id && db.Roles.Any(role => role.Id == r.RoleId && role.Name != Roles.Operator))
            )
            .Select(x => x.FullName)
            .OrderBy(x => x)
            .ToListAsync(ct);

    /// <summary>Hands it to a person.</summary>
    public Task<Outcome<VisitRow>> Give(long visitId, string? to, string? words, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await Find(visitId, ct);
                if (row is null)
                    return Outcome<VisitRow>.Refused(Refusals.CardNotOpen());
                if (row.HeldBy != actor.Name)
                    return Outcome<VisitRow>.Refused(Refusals.NotHolder(row.HeldBy));
                var refusals = new List<Refusal>();
                var said = Typed.Words(words, "handWords", 300, refusals);
                if (string.IsNullOrWhiteSpace(to))
                    refusals.Add(Refusals.Needed("handTo"));
                else if (to == actor.Name || !(await People(ct)).Contains(to))
                    refusals.Add(Refusals.NoSuchPerson("handTo"));
                if (refusals.Count > 0)
                    return Outcome<VisitRow>.Refused(refusals);
                (row.HandedTo, row.HandedWords) = (to, said);
                row.Version++;
                writes.Audit(
                    actor,
                    "visit.hand",
                    PlanVisit.Subject(row.Machine.Unit, visitId),
                    row.MachineId,
                    null,
                    new { to, words = said }
                );
                return Outcome<VisitRow>.Of(row);
            },
            ct
        );

    /// <summary>Takes it over: whom it was handed to, or a planner who says how the holder was tried.</summary>
    public Task<Outcome<VisitRow>> Take(long visitId, TakeOverInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await Find(visitId, ct);
                if (row is null)
                    return Outcome<VisitRow>.Refused(Refusals.CardNotOpen());
                var refusals = new List<Refusal>();
                var tried = Typed.Words(input.Tried, "tried", 300, refusals);
                if (row.HandedTo != actor.Name && actor.Role != Roles.Planner)
                    return Outcome<VisitRow>.Refused(Refusals.NotHandedToYou(row.HeldBy));
                if (row.HandedTo != actor.Name && tried.Length == 0)
                    refusals.Add(Refusals.OwnerTriedNeeded() with { Field = "tried" });
                if (!input.LockOn)
                    refusals.Add(Refusals.OwnLockNeeded("lockOn"));
                if (refusals.Count > 0)
                    return Outcome<VisitRow>.Refused(refusals);
                var from = row.HeldBy;
                (row.HeldBy, row.HandedTo, row.HandedWords) = (actor.Name, null, "");
                row.Version++;
                writes.Audit(
                    actor,
                    "visit.take",
                    PlanVisit.Subject(row.Machine.Unit, visitId),
                    row.MachineId,
                    new { heldBy = from },
                    new { heldBy = actor.Name, tried }
                );
                await db.SaveChangesAsync(ct);
                await writes.RefreshStatus([row.MachineId], ct);
                return Outcome<VisitRow>.Of(row);
            },
            ct
        );

    private Task<VisitRow?> Find(long visitId, CancellationToken ct) =>
        db.Visits.Include(x => x.Machine).SingleOrDefaultAsync(x => x.Id == visitId && x.State == VisitState.Open, ct);
}
