using Microsoft.EntityFrameworkCore;
using Nippers.App.Readings;
using Nippers.Core.Feeds;
using Nippers.Core.Hours;
using Nippers.Data;
using Nippers.Data.Feeds;
using Nippers.Data.Queries;
using Nippers.Data.Records;
using Nippers.Formats.Feeds;

namespace Nippers.App.Feeds;

/// <summary>
/// Takes what a feed says of a machine: learns by how much it and the dash differ, and logs its hours where that is known and
/// nothing speaks against it. The same report twice is one.
/// </summary>
/// <remarks>Rules 15.</remarks>
public sealed class FeedIntake(NippersDb db, UnitOfWork writes, LogReading readings, FeedCodes codes)
{
    /// <summary>Who stands behind readings that came by themselves.</summary>
    public const string Name = "Feed";

    /// <summary>What a clock that is set by nobody may be ahead.</summary>
    public static readonly TimeSpan ClockSlack = TimeSpan.FromMinutes(5);

    // A reading each quarter of an hour tells nothing more of use than one in two hours.
    private const double LogEvery = 2;
    private static readonly TimeSpan LogAtLeast = TimeSpan.FromHours(20);
    private const double LeastGrowth = 0.1;

    // Rounding of a tenth, in both directions, and a clock that is a little late.
    private const double LeapSlack = 0.5;
    private const double BackSlack = 0.1;

    // As long as a phone may be without a network, and a little.
    private static readonly TimeSpan PointsFor = TimeSpan.FromDays(3);
    private const int MostPairs = 40;

    private static readonly Actor Itself = new(Name, Roles.Technician);

    /// <summary>Takes a report in the caller's turn.</summary>
    /// <param name="row">The machine in its feed; new ones are added by the caller.</param>
    /// <param name="report">What it says.</param>
    /// <param name="ct">Cancels.</param>
    public async Task Take(FeedMachineRow row, FeedReport report, CancellationToken ct)
    {
        var now = writes.Now;
        (row.SeenAt, row.LastFault) = (now, "");
        if (report.Serial.Length > 0)
            row.Serial = report.Serial;
        if (report.Fuel is { } fuel && IsNewer(fuel, row.FuelAt, now))
            (row.FuelPercent, row.FuelAt) = (fuel.Value, fuel.At);
        if (report.Def is { } def && IsNewer(def, row.DefAt, now))
            (row.DefPercent, row.DefAt) = (def.Value, def.At);
        if (report.Hours?.At > now + ClockSlack)
        {
            row.LastFault = "feedFuture";
            return;
        }

        // What comes late says nothing of the codes that are active now; hours that can't be believed make no code untrue.
        if (report.Codes is { } active && row.MachineId is { } coded && !(report.Hours?.At < row.HoursAt))
            await codes.Take(coded, active, report.Hours?.At ?? now, ct);
        if (report.Hours is not { } hours)
            return;

        // What comes late says nothing of now; a dash that was read then may be held against it.
        if (hours.At <= row.HoursAt)
        {
            await Point(row, hours, ct);
            return;
        }

        if (Leap(row, hours) is { } leap)
        {
            (row.Away, row.AwayAt, row.AwayHours) = (FeedAway.Leap, hours.At, leap);
            return;
        }

        if (row.Away == FeedAway.Leap)
            (row.Away, row.AwayAt, row.AwayHours) = (FeedAway.Nothing, null, 0);
        (row.Hours, row.HoursAt) = (hours.Value, hours.At);
        if (report.Idle is { } idle)
            row.IdleHours = idle.Value;
        await Point(row, hours, ct);
        if (row.MachineId is not { } machine)
            return;
        await Fit(row, ct);
        if (row is { Away: FeedAway.Nothing, OffsetHours: { } offset })
            await Log(row, machine, hours.At, hours.Value + offset, ct);
    }

    /// <summary>Holds feed and dash against each other anew: after a report, and after somebody said what was replaced.</summary>
    internal async Task Fit(FeedMachineRow row, CancellationToken ct)
    {
        await db.SaveChangesAsync(ct);
        await FindPairs(row, ct);
        var from = row.PairsFrom ?? DateTimeOffset.UnixEpoch;
        var pairs = await db
            .FeedPairs.Where(x => x.FeedMachineId == row.Id)
            .Join(
                db.Readings.Where(x => x.State == ReadingState.Accepted && x.At >= from),
                x => x.ReadingId,
                x => x.Id,
                (pair, reading) =>
                    new
                    {
                        reading.At,
                        reading.LifeHours,
                        pair.FeedHours,
                    }
            )
            .OrderByDescending(x => x.At)
            .Take(MostPairs)
            .ToListAsync(ct);
        var fit = FeedOffset.Of(pairs.Select(x => new FeedPair(x.At, x.LifeHours.Value, x.FeedHours)));
        (row.OffsetHours, row.Pairs) = (fit.Hours, fit.Pairs);
        if (row.Away != FeedAway.Leap)
            (row.Away, row.AwayAt, row.AwayHours) = fit.Away is { } away
                ? (FeedAway.Dash, away.At, fit.AwayBy)
                : (FeedAway.Nothing, (DateTimeOffset?)null, 0.0);
    }

    private static bool IsNewer(FeedFigure figure, DateTimeOffset? last, DateTimeOffset now) =>
        figure.At <= now + ClockSlack && !(figure.At <= last);

    /// <summary>By how much hours leapt that cannot; null when they go on as hours do.</summary>
    private static double? Leap(FeedMachineRow row, FeedFigure hours)
    {
        if (row is not { Hours: { } last, HoursAt: { } at })
            return null;
        var grown = hours.Value - last;
        return grown < -BackSlack || grown > (hours.At - at).TotalHours + LeapSlack ? grown : null;
    }

    private async Task Point(FeedMachineRow row, FeedFigure hours, CancellationToken ct)
    {
        // A row that is new has no number before it is saved.
        await db.SaveChangesAsync(ct);
        if (hours.At < writes.Now - PointsFor || await db.FeedPoints.AnyAsync(x => x.FeedMachineId == row.Id && x.At == hours.At, ct))
            return;
        db.FeedPoints.Add(
            new()
            {
                FeedMachineId = row.Id,
                At = hours.At,
                Hours = hours.Value,
            }
        );
        var old = writes.Now - PointsFor;
        await db.FeedPoints.Where(x => x.FeedMachineId == row.Id && x.At < old).ExecuteDeleteAsync(ct);
    }

    /// <summary>Finds readings of the dash to which the feed said something within an hour.</summary>
    private async Task FindPairs(FeedMachineRow row, CancellationToken ct)
    {
        var since = writes.Now - PointsFor;
        var read = await db
            .Readings.Where(x =>
                x.MachineId == row.MachineId
                && x.At >= since
                && x.State == ReadingState.Accepted
                && x.Source != ReadingSource.Feed
                && !db.FeedPairs.Any(p => p.FeedMachineId == row.Id && p.ReadingId == x.Id)
            )
            .Select(x => new
            {
                x.Id,
                x.At,
                x.LifeHours,
            })
            .ToListAsync(ct);
        if (read.Count == 0)
            return;
        var points = await db.FeedPoints.Where(x => x.FeedMachineId == row.Id).Select(x => new { x.At, x.Hours }).ToListAsync(ct);
        foreach (var one in read)
        {
            if (FeedOffset.Pair([(one.At, one.LifeHours.Value)], points.Select(x => (x.At, x.Hours))) is [var pair])
                db.FeedPairs.Add(
                    new()
                    {
                        FeedMachineId = row.Id,
                        ReadingId = one.Id,
                        FeedHours = pair.Feed,
                    }
                );
        }

        await db.SaveChangesAsync(ct);
    }

    private async Task Log(FeedMachineRow row, int machineId, DateTimeOffset at, double life, CancellationToken ct)
    {
        var last = await db
            .Readings.Where(x => x.MachineId == machineId && x.State == ReadingState.Accepted)
            .OrderByDescending(x => x.At)
            .ThenByDescending(x => x.LifeHours)
            .Select(x => new { x.At, x.LifeHours })
            .FirstOrDefaultAsync(ct);
        var grown = last is null ? double.MaxValue : life - last.LifeHours.Value;
        if (last is not null && (at <= last.At || grown < LeastGrowth || (grown < LogEvery && at - last.At < LogAtLeast)))
            return;
        var facts = (await db.FactsOf([machineId], writes.Now, ct)).Single();
        var shown = life - facts.Offsets.At(at).Value;
        if (MeterHours.TryOf(Math.Round(shown, 1), out var hours) != HoursFault.None)
        {
            row.LastFault = "feedFigure";
            return;
        }

        var input = new LogReadingInput(facts.Machine.Unit, hours.ToString(), Source: ReadingSource.Feed, At: at);
        var validated = await readings.Validate(input, ct);
        if (validated.Refusals.Count > 0)
            row.LastFault = "feedReading";
        else
            await readings.Keep(validated, input, Itself, ct);
    }
}
