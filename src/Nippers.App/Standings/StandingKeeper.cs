using Microsoft.EntityFrameworkCore;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Queries;

namespace Nippers.App.Standings;

/// <summary>Derives standing rows and keeps them fresh.</summary>
public sealed class StandingKeeper(NippersDb db)
{
    /// <summary>Use per day ages by the clock alone; a row older than this is derived anew before it is shown.</summary>
    public static readonly TimeSpan GoodFor = TimeSpan.FromHours(1);

    private const int Batch = 200;

    /// <summary>Due points of a machine from its facts.</summary>
    public static MachineDues DuesOf(MachineFacts facts)
    {
        var machine = facts.Machine.ForDue();
        var settings = facts.Machine.Program.ForDue();
        var points = facts.Items.ToLookup(item => item.IsDaily, item => DuePoint.Of(item.ForDue(), machine, facts.LastDone.GetValueOrDefault(item.Code), settings));
        return new([.. points[false]], [.. points[true]]);
    }

    /// <summary>The standing row of a machine from its facts.</summary>
    public static StandingRow Derive(MachineFacts facts, DateTimeOffset now)
    {
        var use = UsePerDay.Estimate(facts.Record, now);
        var dues = DuesOf(facts);
        var at = new MachineNow(use, now, facts.Zone);
        var coming = facts.Machine.Program.ComingDays;
        var service = at.Stand(dues.Service, coming);
        var worst = service.IsEmpty ? Standing.Clear : service.Max(x => x.Standing);
        var groups = DueGroup.Of(service);
        return new StandingRow
        {
            MachineId = facts.Machine.Id,
            ComputedMs = now.ToUnixTimeMilliseconds(),
            LastMs = use.Last.AtMs,
            LastTenths = use.Last.Hours.Tenths,
            OffsetTenths = facts.Offsets.TenthsAt(now.ToUnixTimeMilliseconds()),
            HasReading = use.HasReading,
            HoursPerDay = use.HoursPerDay,
            Sigma = use.Sigma,
            RateSigma = use.RateSigma,
            Basis = use.Basis,
            CoveredDays = use.CoveredDays,
            Stale = use.Stale,
            Parked = use.ParkedAt(now),
            Unconfirmed = facts.Unconfirmed,
            Worst = worst == Standing.Finished ? Standing.Clear : worst,
            Overdue = service.Count(x => x.Standing == Standing.Overdue),
            Due = service.Count(x => x.Standing == Standing.Due && !x.NoRecord),
            Coming = service.Count(x => x.Standing == Standing.Coming),
            NoRecord = service.Count(x => x.NoRecord),
            DailyOpen = at.Stand(dues.Daily, coming).Count(x => x.Standing >= Standing.Due),
            Pressing = groups.IsEmpty ? double.MaxValue : groups.Where(x => x.Standing == worst).Min(x => x.Pressing(use.HoursPerDay)),
            Points = StandingCodec.Encode(dues, use),
        };
    }

    /// <summary>Derives the rows of some machines and saves them. Runs inside the caller's transaction where there is one.</summary>
    public async Task Refresh(IReadOnlyCollection<int> machineIds, DateTimeOffset now, CancellationToken ct)
    {
        foreach (var batch in machineIds.Chunk(Batch))
        {
            var kept = await db.Standings.Where(x => batch.Contains(x.MachineId)).ToDictionaryAsync(x => x.MachineId, ct);
            foreach (var facts in await db.FactsOf(batch, now, ct))
            {
                var row = Derive(facts, now);
                if (kept.TryGetValue(row.MachineId, out var old)) db.Entry(old).CurrentValues.SetValues(row);
                else db.Standings.Add(row);
            }

            await db.SaveChangesAsync(ct);
        }
    }

    /// <summary>Derives all rows that are missing or older than <see cref="GoodFor"/>; cheap when there are none.</summary>
    public async Task<int> RefreshStale(DateTimeOffset now, CancellationToken ct)
    {
        var oldest = (now - GoodFor).ToUnixTimeMilliseconds();
        var newest = now.ToUnixTimeMilliseconds();
        var stale = await db.Machines
            .Where(m => !m.Retired && !db.Standings.Any(s => s.MachineId == m.Id && s.ComputedMs > oldest && s.ComputedMs <= newest))
            .Select(m => m.Id).ToListAsync(ct);
        if (stale.Count > 0) await Refresh(stale, now, ct);
        return stale.Count;
    }

    /// <summary>Derives every row anew.</summary>
    public async Task<int> Rebuild(DateTimeOffset now, CancellationToken ct)
    {
        var ids = await db.Machines.Select(x => x.Id).ToListAsync(ct);
        await Refresh(ids, now, ct);
        return ids.Count;
    }
}
