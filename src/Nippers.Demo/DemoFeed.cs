using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.Feeds;
using Nippers.Core.Feeds;
using Nippers.Data;
using Nippers.Data.Records;

namespace Nippers.Demo;

/// <summary>The feed of five machines that the stand-in beside the demo tells of, as if it had been there for weeks.</summary>
internal static class DemoFeed
{
    private static readonly Actor By = new("Mara Quill", Roles.Planner);

    // The meter of this one was replaced, and nobody has said so yet.
    private const string Replaced = "DZ-01";
    private const double OtherMeter = 41.3;

    /// <summary>Asks it once, and holds what it says against the last readings of each machine.</summary>
    /// <param name="services">The demo's, with its fleet.</param>
    /// <param name="standIns">Where the stand-ins are; null where there are none.</param>
    /// <param name="ct">Gives up.</param>
    public static async Task Make(IServiceProvider services, string? standIns, CancellationToken ct)
    {
        if (standIns is null)
            return;
        Demonstrated.Sure(
            await services
                .GetRequiredService<FeedBook>()
                .Save(new(null, 0, "Ulmar Remote", standIns + "/feed/v1/fleet", null, true, true), By, ct)
        );
        await services.GetRequiredService<FeedRound>().Run(true, ct);
        var db = services.GetRequiredService<NippersDb>();
        var rows = await db.FeedMachines.AsNoTracking().Where(x => x.MachineId != null && x.Hours != null).ToListAsync(ct);
        foreach (var row in rows)
        {
            var unit = await db.Machines.Where(x => x.Id == row.MachineId).Select(x => x.Unit).SingleAsync(ct);
            var readings = await db
                .Readings.Where(x => x.MachineId == row.MachineId && x.State == ReadingState.Accepted)
                .OrderByDescending(x => x.At)
                .Take(FeedOffset.Last)
                .ToListAsync(ct);
            if (readings.Count == 0)
                continue;
            var ahead = readings[0].LifeHours.Value - row.Hours!.Value;
            foreach (var reading in readings)
            {
                // The last reading of the one is away from all that were before.
                var away = unit == Replaced && reading == readings[0] ? OtherMeter : 0;
                db.FeedPairs.Add(
                    new()
                    {
                        FeedMachineId = row.Id,
                        ReadingId = reading.Id,
                        FeedHours = reading.LifeHours.Value - ahead + away,
                    }
                );
            }

            await db.SaveChangesAsync(ct);
            Demonstrated.Sure(await services.GetRequiredService<FeedBook>().Link(row.Id, unit, By, ct));
        }
    }
}
