using Microsoft.EntityFrameworkCore;
using Nippers.Core.Oil;
using Nippers.Data;
using Nippers.Data.Oil;
using Nippers.Formats.Lab;

namespace Nippers.App.Oil;

/// <summary>Sends samples to a laboratory: a list that is handed over in the background, or goes with the box on paper.</summary>
public sealed class SendSamples(NippersDb db, UnitOfWork writes)
{
    public Task<Outcome<ConsignmentRow>> Run(IReadOnlyCollection<long> ids, int? labId, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var lab = await db.Labs.SingleOrDefaultAsync(x => x.Id == labId, ct);
                if (lab is null)
                    return Outcome<ConsignmentRow>.Refused(Refusals.LabNeeded());
                if (ids.Count == 0)
                    return Outcome<ConsignmentRow>.Refused(Refusals.NoneChosen());
                var rows = await db.Samples.Include(x => x.Machine).Where(x => ids.Contains(x.Id)).ToListAsync(ct);
                if (rows.Find(x => x.State != SampleState.Taken) is { } gone)
                    return Outcome<ConsignmentRow>.Refused(Refusals.SampleNotTaken(gone.Bottle));
                if (rows.Count != ids.Count)
                    return Outcome<ConsignmentRow>.Refused(Refusals.NoSuchSample());

                // A laboratory without an interface gets its list with the box; there is nothing to hand over.
                var box = new ConsignmentRow
                {
                    LabId = lab.Id,
                    MadeAt = writes.Now,
                    By = actor.Name,
                    State = lab.Url.Length > 0 ? ConsignmentState.Waiting : ConsignmentState.HandedOver,
                };
                db.Consignments.Add(box);
                await db.SaveChangesAsync(ct);
                foreach (var row in rows)
                {
                    (row.State, row.LabId, row.ConsignmentId, row.SentAt) = (SampleState.Sent, lab.Id, box.Id, writes.Now);
                    row.Version++;
                    writes.Audit(
                        actor,
                        "sample.send",
                        TakeSample.Subject(row.Machine.Unit, row),
                        row.MachineId,
                        null,
                        new { lab = lab.Name, consignment = box.Id }
                    );
                }

                return Outcome<ConsignmentRow>.Of(box);
            },
            ct
        );

    /// <summary>Takes samples back that were marked as sent and were not: they lie on the bench still.</summary>
    public Task<Outcome<SampleRow>> TakeBack(long id, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db.Samples.Include(x => x.Machine).SingleOrDefaultAsync(x => x.Id == id, ct);
                if (row is null)
                    return Outcome<SampleRow>.Refused(Refusals.NoSuchSample());
                if (row.State != SampleState.Sent)
                    return Outcome<SampleRow>.Refused(Refusals.SampleNotSent());
                var box = row.ConsignmentId;
                (row.State, row.LabId, row.ConsignmentId, row.SentAt) = (SampleState.Taken, null, null, null);
                row.Version++;
                await db.SaveChangesAsync(ct);
                await Settle(db, box, ct);
                writes.Audit(actor, "sample.takeBack", TakeSample.Subject(row.Machine.Unit, row), row.MachineId, null, null);
                return Outcome<SampleRow>.Of(row);
            },
            ct
        );

    /// <summary>A consignment of which nothing is out any more is not waited for.</summary>
    internal static async Task Settle(NippersDb db, long? consignment, CancellationToken ct)
    {
        if (consignment is not { } id || await db.Samples.AnyAsync(x => x.ConsignmentId == id && x.State == SampleState.Sent, ct))
            return;
        if (await db.Consignments.FindAsync([id], ct) is { } box)
            box.State = ConsignmentState.Answered;
    }

    /// <summary>The list of a consignment as the laboratory takes it.</summary>
    internal static async Task<LabOrder> OrderOf(NippersDb db, ConsignmentRow box, CancellationToken ct)
    {
        var rows = await db
            .Samples.AsNoTracking()
            .Where(x => x.ConsignmentId == box.Id)
            .OrderBy(x => x.Id)
            .Select(x => new
            {
                Sample = x,
                x.Machine.Unit,
                Litres = db
                    .MachineCompartments.Where(c => c.MachineId == x.MachineId && c.Code == x.Compartment)
                    .Select(c => c.CapacityLitres)
                    .FirstOrDefault(),
            })
            .ToListAsync(ct);
        return new(
            "NIP-" + box.Id.ToString(System.Globalization.CultureInfo.InvariantCulture),
            [
                .. rows.Select(x => new LabOrderLine(
                    x.Sample.Bottle,
                    x.Unit,
                    x.Sample.Compartment,
                    KindWord(x.Sample.Kind),
                    Formats.Iso.Day(x.Sample.On),
                    x.Sample.LifeHours.Value,
                    x.Sample.OilHours?.Value,
                    x.Sample.AddedLitres.Value,
                    x.Litres?.Value,
                    x.Sample.Fluid,
                    x.Sample.Grade
                )),
            ]
        );
    }

    private static string KindWord(OilKind kind) => kind.ToString().ToLowerInvariant();
}
