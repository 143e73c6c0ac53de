using Microsoft.EntityFrameworkCore;
using Nippers.Core.Oil;
using Nippers.Data;
using Nippers.Data.Oil;

namespace Nippers.App.Oil;

/// <summary>When limits were last derived by this process: a fleet with too few values has no rows that would tell.</summary>
public sealed class LimitsDerived
{
    /// <summary>ms since 1970 UTC; 0 for never.</summary>
    public DateTimeOffset At { get; set; }
}

/// <summary>Derives the fleet's own limits now and then; pages read the derived rows and never look through all samples.</summary>
public sealed class FleetLimits(NippersDb db, UnitOfWork writes, LimitsDerived derivedAt)
{
    /// <summary>How long derived limits are good for.</summary>
    public static readonly TimeSpan GoodFor = TimeSpan.FromHours(12);

    /// <summary>Derives them when they are older than that.</summary>
    public async Task<bool> RefreshStale(CancellationToken ct)
    {
        var oldest = writes.Now - GoodFor;
        if (derivedAt.At > oldest || await db.FleetLimits.AnyAsync(x => x.ComputedAt > oldest, ct))
            return false;
        await Derive(ct);
        return true;
    }

    /// <summary>Derives them now.</summary>
    public async Task<int> Derive(CancellationToken ct)
    {
        var values = new Dictionary<(OilKind Kind, string Family, Measurand Measurand), List<double>>();
        var rows = db
            .Judgements.AsNoTracking()
            .Join(
                db.Samples,
                x => x.SampleId,
                x => x.Id,
                (j, s) =>
                    new
                    {
                        j.Values,
                        j.WearCompares,
                        s.Kind,
                        s.Family,
                        s.VoidedAt,
                        s.DrawnWrong,
                        s.Fluid,
                    }
            )
            .Where(x => !x.DrawnWrong && x.WearCompares && x.Family != "");
        await foreach (var row in rows.AsAsyncEnumerable().WithCancellation(ct))
        {
            foreach (var (measurand, value) in OilCase.ReadValues(row.Values).All)
            {
                if (!Measurands.Limited.Contains(measurand))
                    continue;
                var key = (row.Kind, row.Family, measurand);
                if (!values.TryGetValue(key, out var list))
                    values[key] = list = [];
                list.Add(value);
            }
        }

        var defaults = await db.OilLimits.AsNoTracking().Where(x => x.MachineId == null).ToListAsync(ct);
        var now = writes.Now;
        var derived = new List<FleetLimitRow>();
        foreach (var (key, list) in values)
        {
            var starting = OilCatalog.Limits(key.Kind, defaults.Where(x => x.Kind == key.Kind), [], []);
            if (starting[key.Measurand] is not { } limit || LimitSet.OwnFleet(list, limit) is not { } own)
                continue;
            derived.Add(
                new()
                {
                    Kind = key.Kind,
                    Family = key.Family,
                    Measurand = key.Measurand.Code(),
                    Watch = own.Watch,
                    Act = own.Act,
                    Values = own.Values,
                    ComputedAt = now,
                }
            );
        }

        await writes.Run(
            async () =>
            {
                await db.FleetLimits.ExecuteDeleteAsync(ct);
                db.FleetLimits.AddRange(derived);
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );
        derivedAt.At = now;
        return derived.Count;
    }
}
