using Microsoft.EntityFrameworkCore;
using Nippers.Core.Hours;
using Nippers.Data;
using Nippers.Data.Queries;
using Nippers.Data.Records;

namespace Nippers.App.Readings;

/// <summary>Confirms an unconfirmed reading, or voids any with a reason.</summary>
public sealed class DecideReading(NippersDb db, UnitOfWork writes)
{
    /// <summary>A person says that the meter really showed this. It must still fit its accepted neighbours.</summary>
    public Task<Outcome<ReadingRow>> Confirm(string unit, long id, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await Find(unit, id, ct);
                if (row is null)
                    return Outcome<ReadingRow>.Refused(Refusals.ReadingGone());
                if (row.State != ReadingState.Unconfirmed)
                    return Outcome<ReadingRow>.Refused(Refusals.ReadingDecided(row.DecidedBy));

                var at = row.At;
                var facts = (await db.FactsOf(unit, at, ct))!;
                var offset = facts.Offsets.At(row.At);
                var judgement = ReadingJudge.Judge(facts.Record, at, row.ShownHours, writes.Now, offset);
                if (LogReading.Words(judgement, row.ShownHours, offset) is { } refusal)
                    return Outcome<ReadingRow>.Refused(refusal with { Field = "" });

                row.State = ReadingState.Accepted;
                row.LifeHours = row.ShownHours + offset;
                row.DecidedBy = actor.Name;
                writes.Audit(
                    actor,
                    "reading.confirm",
                    unit,
                    row.MachineId,
                    new { state = ReadingState.Unconfirmed },
                    new { row.State, hours = row.ShownHours.Value }
                );
                await writes.RefreshStatus([row.MachineId], ct);
                return Outcome<ReadingRow>.Of(row);
            },
            ct
        );

    /// <summary>Takes a reading out of every calculation; it stays on record with the reason.</summary>
    public Task<Outcome<ReadingRow>> Void(string unit, long id, string? reason, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (!Typed.IsReason(reason, "reason", out var unreasoned))
                    return Outcome<ReadingRow>.Refused(unreasoned);
                var row = await Find(unit, id, ct);
                if (row is null)
                    return Outcome<ReadingRow>.Refused(Refusals.ReadingGone());
                if (row.State == ReadingState.Voided)
                    return Outcome<ReadingRow>.Refused(Refusals.ReadingDecided(row.DecidedBy));

                writes.Audit(actor, "reading.void", unit, row.MachineId, new { row.State, hours = row.ShownHours.Value }, new { reason });
                row.State = ReadingState.Voided;
                row.DecidedBy = actor.Name;
                row.Reason = reason.Trim();
                await writes.RefreshStatus([row.MachineId], ct);
                return Outcome<ReadingRow>.Of(row);
            },
            ct
        );

    /// <summary>Whether somebody entered a reading themselves.</summary>
    public Task<bool> EnteredBy(long id, Actor actor, CancellationToken ct) =>
        db.Readings.AnyAsync(x => x.Id == id && x.By == actor.Name, ct);

    private Task<ReadingRow?> Find(string unit, long id, CancellationToken ct) =>
        db
            .Readings.Where(x => x.Id == id)
            .Join(db.Machines.Where(m => m.Unit == unit), r => r.MachineId, m => m.Id, (r, m) => r)
            .SingleOrDefaultAsync(ct);
}
