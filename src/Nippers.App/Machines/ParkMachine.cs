using Microsoft.EntityFrameworkCore;
using Nippers.App.Readings;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Queries;

namespace Nippers.App.Machines;

/// <summary>Parks a machine, or puts it back to work: while parked nothing is projected.</summary>
public sealed class ParkMachine(NippersDb db, UnitOfWork writes)
{
    /// <summary>Parks from an instant on.</summary>
    public Task<Outcome<ParkedRow>> Park(string unit, string? fromText, string? reason, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var facts = await db.FactsOf(unit, writes.Now, ct);
                if (facts is null)
                    return Outcome<ParkedRow>.Refused(Refusals.NoSuchUnit("unit", unit, Array.Empty<string>()));
                if (await Open(facts, ct) is not null)
                    return Outcome<ParkedRow>.Refused(Refusals.AlreadyParked());
                var from = string.IsNullOrWhiteSpace(fromText) ? writes.Now : LocalTime.Parse(fromText, facts.Zone);
                if (from is null)
                    return Outcome<ParkedRow>.Refused(Refusals.NotATime("from"));
                if (from > writes.Now)
                    return Outcome<ParkedRow>.Refused(Refusals.Future("from"));

                // An earlier span that a reading has already ended is closed at that reading, so that only one is ever open.
                foreach (var ended in await db.Parked.Where(x => x.MachineId == facts.Machine.Id && x.To == null).ToListAsync(ct))
                {
                    ended.To = ended.ToSpan().Resolve(facts.Record.Readings.AsSpan(), facts.Record.CommissionedHours).To;
                }

                var row = new ParkedRow
                {
                    MachineId = facts.Machine.Id,
                    From = from.Value,
                    Reason = reason?.Trim() ?? "",
                    By = actor.Name,
                };
                db.Parked.Add(row);
                writes.Audit(actor, "machine.park", unit, row.MachineId, null, new { from, row.Reason });
                await writes.RefreshStatus([row.MachineId], ct);
                return Outcome<ParkedRow>.Of(row);
            },
            ct
        );

    /// <summary>Ends the open span now.</summary>
    public Task<Outcome<ParkedRow>> Unpark(string unit, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var facts = await db.FactsOf(unit, writes.Now, ct);
                if (facts is null)
                    return Outcome<ParkedRow>.Refused(Refusals.NoSuchUnit("unit", unit, Array.Empty<string>()));
                if (await Open(facts, ct) is not { } row)
                    return Outcome<ParkedRow>.Refused(Refusals.NotParked());
                row.To = writes.Now;
                writes.Audit(actor, "machine.unpark", unit, row.MachineId, new { from = row.From }, new { to = writes.Now });
                await writes.RefreshStatus([row.MachineId], ct);
                return Outcome<ParkedRow>.Of(row);
            },
            ct
        );

    private async Task<ParkedRow?> Open(MachineFacts facts, CancellationToken ct)
    {
        var open = await db.Parked.Where(x => x.MachineId == facts.Machine.Id && x.To == null).ToListAsync(ct);
        return open.FirstOrDefault(x => x.ToSpan().Resolve(facts.Record.Readings.AsSpan(), facts.Record.CommissionedHours).To is null);
    }
}
