using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Queries;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>Keeps how a machine was left in the evening.</summary>
/// <remarks>Rules 7, "Parking for tomorrow".</remarks>
public sealed class LeaveMachine(NippersDb db, UnitOfWork writes)
{
    private const int LongestNote = 300;

    /// <summary>Keeps the card.</summary>
    /// <param name="unit">The machine.</param>
    /// <param name="typed">The card as it was ticked: <c>done</c>, <c>note</c>.</param>
    /// <param name="actor">Who parked it.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<ParkingRow>> Run(string unit, TypedFields typed, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await db.FactsOf(unit, writes.Now, ct) is not { } facts)
                    return Outcome<ParkingRow>.Refused(Refusals.NoSuchUnit("unit", unit, Array.Empty<string>()));
                if (facts.Machine.Retired)
                    return Outcome<ParkingRow>.Refused(Refusals.MachineRetired());
                var refusals = new List<Refusal>();
                var row = Read(facts.Machine.Id, typed, LocalDay.Of(writes.Now, facts.Zone), writes.Now, actor, refusals);
                if (refusals.Count > 0)
                    return Outcome<ParkingRow>.Refused(refusals);
                db.Parkings.Add(row);
                writes.Audit(actor, "machine.evening", facts.Machine.Unit, row.MachineId, null, new { row.Done, row.Note });
                return Outcome<ParkingRow>.Of(row);
            },
            ct
        );

    /// <summary>Reads a card; what stands against it goes to the refusals.</summary>
    public static ParkingRow Read(int machineId, TypedFields typed, DateOnly on, DateTimeOffset at, Actor actor, List<Refusal> refusals)
    {
        var done = typed.Picks<ParkingLine>("done");
        if (done.Count == 0)
            refusals.Add(Refusals.ParkingEmpty("done"));
        return new()
        {
            MachineId = machineId,
            On = on,
            At = at,
            By = actor.Name,
            Done = ParkingCard.Write(done),
            Note = Typed.Words(typed["note"], "note", LongestNote, refusals),
        };
    }
}
