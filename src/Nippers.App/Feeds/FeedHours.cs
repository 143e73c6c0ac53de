using Microsoft.EntityFrameworkCore;
using Nippers.Core.Feeds;
using Nippers.Core.Hours;
using Nippers.Data;
using Nippers.Data.Feeds;
using Nippers.Data.Records;

namespace Nippers.App.Feeds;

/// <summary>Hours with which a walk or a card may begin, for a look at the dash instead of typing.</summary>
/// <param name="Shown">What the dash should show.</param>
/// <param name="At">When the feed said so.</param>
public sealed record OfferedHours(MeterHours Shown, DateTimeOffset At);

/// <summary>A tank that is nearly empty.</summary>
/// <param name="Percent">What is left.</param>
/// <param name="At">When the feed said so.</param>
public sealed record LowTank(double Percent, DateTimeOffset At);

/// <summary>What a machine's feed offers instead of typing.</summary>
/// <remarks>Rules 15.</remarks>
public sealed class FeedHours(NippersDb db)
{
    /// <summary>The hours that are offered; null where there are none fresh enough, or something speaks against them.</summary>
    /// <param name="machineId">The machine.</param>
    /// <param name="now">Now.</param>
    /// <param name="most">How old they may be.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<OfferedHours?> Offer(int machineId, DateTimeOffset now, TimeSpan most, CancellationToken ct)
    {
        var row = await db.FeedMachines.AsNoTracking().FirstOrDefaultAsync(x => x.MachineId == machineId, ct);
        if (
            row is not { Away: FeedAway.Nothing, Hours: { } hours, HoursAt: { } at, OffsetHours: { } offset }
            || !FeedAge.Fits(at, now, most)
        )
            return null;
        var life = hours + offset;
        var last = await db
            .Readings.Where(x => x.MachineId == machineId && x.State == ReadingState.Accepted)
            .OrderByDescending(x => x.At)
            .ThenByDescending(x => x.LifeHours)
            .Select(x => (MeterHours?)x.LifeHours)
            .FirstOrDefaultAsync(ct);

        // Somebody has read more since: the dash is ahead of what the feed knew.
        if (last is { } read && life < read.Value)
            return null;
        var swaps = (await db.MeterChanges.AsNoTracking().Where(x => x.MachineId == machineId).ToListAsync(ct)).Select(x => new MeterSwap(
            x.At,
            x.OldFinalHours,
            x.NewStartHours
        ));
        var shown = Math.Round(life - new MeterOffsets(swaps).At(now).Value, 1);
        return MeterHours.TryOf(shown, out var offered) == HoursFault.None ? new(offered, at) : null;
    }

    /// <summary>Fuel and exhaust fluid, where less than a tenth is left by what the feed said within a day.</summary>
    public async Task<(LowTank? Fuel, LowTank? Def)> Low(int machineId, DateTimeOffset now, CancellationToken ct)
    {
        var row = await db.FeedMachines.AsNoTracking().FirstOrDefaultAsync(x => x.MachineId == machineId, ct);
        LowTank? Of(double? percent, DateTimeOffset? at) =>
            percent < LowPercent && at is { } said && FeedAge.Fits(said, now, FeedAge.ForWalk) ? new(percent.Value, said) : null;
        return (Of(row?.FuelPercent, row?.FuelAt), Of(row?.DefPercent, row?.DefAt));
    }

    private const double LowPercent = 10;

    /// <summary>
    /// Where a reading comes from: what was offered and left as it was is the feed's, and no reading of the dash against which the
    /// feed could be held.
    /// </summary>
    public static ReadingSource SourceOf(OfferedHours? offered, MeterHours shown, ReadingSource typed) =>
        offered is not null && offered.Shown == shown ? ReadingSource.Feed : typed;
}
