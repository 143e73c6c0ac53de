using Nippers.Core.Walk;
using Nippers.Data.Feeds;
using Nippers.Formats;
using Nippers.Formats.Fleet;

namespace Nippers.App.Exchange;

/// <summary>Codes that feeds told of, between rows and records.</summary>
public static partial class FleetMapping
{
    public static FleetFeedCode ToRecord(FeedCodeRow x, string unit, long? repeatOf, long? defect) =>
        new(
            unit,
            x.Code,
            Iso.Instant(x.Since),
            x.LifeHours.Value,
            x.Times,
            x.GoneAt is { } gone ? Iso.Instant(gone) : null,
            x.GoneHours?.Value,
            repeatOf,
            defect,
            x.LookedBy,
            x.LookedAt is { } looked ? Iso.Instant(looked) : null,
            x.LookedWords
        );

    /// <exception cref="FleetFaultException">It is no code, or came no time.</exception>
    public static FeedCodeRow ToRow(FleetFeedCode x, int machineId, string place)
    {
        if (FaultCode.Parse(x.Code) is null)
            throw Bad(place, "code");
        if (x.Times < 1)
            throw Bad(place, "times");
        return new()
        {
            MachineId = machineId,
            Code = x.Code,
            Since = Instant(x.Since, place, "since"),
            LifeHours = Hours(x.LifeHours, place, "lifeHours"),
            Times = x.Times,
            GoneAt = x.Gone is { } gone ? Instant(gone, place, "gone") : null,
            GoneHours = x.GoneHours is { } hours ? Hours(hours, place, "goneHours") : null,
            LookedBy = x.LookedBy,
            LookedAt = x.Looked is { } looked ? Instant(looked, place, "looked") : null,
            LookedWords = x.LookedWords,
        };
    }
}

public sealed partial class ImportFleet
{
    private sealed partial class Import
    {
        private readonly List<long> _codeIds = [];

        private async Task Take(FleetFeedCode record, string place)
        {
            if (!_machines.TryGetValue(record.Unit, out var machine))
                throw new FleetFaultException("fleetNoUnit", place, record.Unit);
            var row = FleetMapping.ToRow(record, machine.Id, place);
            row.RepeatOf = Number(record.RepeatOf, _codeIds, place, "repeatOf");
            row.DefectId = Number(record.Defect, _defectIds, place, "defect");
            db.FeedCodes.Add(row);
            await db.SaveChangesAsync(ct);
            _codeIds.Add(row.Id);
            db.ChangeTracker.Clear();
        }
    }
}
