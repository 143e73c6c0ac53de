using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Oil;
using Nippers.App.Readings;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Service;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Queries;
using Nippers.Data.Walks;

namespace Nippers.App.Statuses;

/// <summary>Derives standing rows and keeps them fresh.</summary>
public sealed class StatusKeeper(NippersDb db, DefectClocks clocks, DrainWatch drains)
{
    /// <summary>Use per day ages by the clock alone; a row older than this is derived anew before it is shown.</summary>
    public static readonly TimeSpan GoodFor = TimeSpan.FromHours(1);

    private const int Batch = 200;

    private const int WeekDays = 7;

    /// <summary>Due points of a machine from its facts, and from the wear of its parts.</summary>
    public static MachineDues DuesOf(MachineFacts facts, IEnumerable<WornPart> worn)
    {
        var points = facts.Items.ToLookup(item => item.IsDaily, item => facts.Due(item));
        return new([.. points[false], .. worn.Select(x => WearPoints.ToPoint(x, facts)).OfType<DuePoint>()], [.. points[true]]);
    }

    /// <summary>The standing row of a machine from its facts, its worn parts, its open defects and its walks of the last week.</summary>
    private static MachineStatusRow Derive(
        MachineFacts facts,
        IEnumerable<WornPart> worn,
        IReadOnlyCollection<DefectRow> defects,
        IReadOnlyDictionary<DateOnly, DateTimeOffset?> walked,
        RunFacts run,
        DateTimeOffset now
    )
    {
        var use = UsePerDay.Estimate(facts.Record, now);
        var dues = DuesOf(facts, worn);
        var answer = RunAnswer.Of(defects.Select(x => x.Clock));
        DateOnly? walkedOn = walked.Count > 0 ? walked.Keys.Max() : null;
        var at = new MachineNow(use, now, facts.Zone);
        var coming = facts.Machine.Program.ComingDays;
        var service = at.Stand(dues.Service, coming);
        var worst = service.IsEmpty ? DueStatus.NotDue : service.Max(x => x.Status);
        var groups = DueGroup.Of(service);
        return new MachineStatusRow
        {
            MachineId = facts.Machine.Id,
            ComputedAt = now,
            LastAt = use.Last.At,
            LastHours = use.Last.Hours,
            OffsetHours = facts.Offsets.At(now),
            HasReading = use.HasReading,
            HoursPerDay = use.HoursPerDay,
            Sigma = use.Sigma,
            RateSigma = use.RateSigma,
            Basis = use.Basis,
            CoveredDays = use.CoveredDays,
            Stale = use.Stale,
            Parked = use.ParkedAt(now),
            Unconfirmed = facts.Unconfirmed,
            Worst = worst == DueStatus.Finished ? DueStatus.NotDue : worst,
            Overdue = service.Count(x => x.Status == DueStatus.Overdue),
            Due = service.Count(x => x.Status == DueStatus.Due && !x.NoRecord),
            Coming = service.Count(x => x.Status == DueStatus.Coming),
            NoRecord = service.Count(x => x.NoRecord),
            DailyOpen = at.Stand(dues.Daily, coming).Count(x => x.Status >= DueStatus.Due),
            Urgency = groups.IsEmpty ? double.MaxValue : groups.Where(x => x.Status == worst).Min(x => x.Urgency(use.HoursPerDay)),
            OutOfService = answer.RunStatus == RunStatus.OutOfService,
            Defects = defects.Count,
            DefectLimitHours = answer.UntilHours,
            DefectLimitOn = answer.UntilOn,
            Untold = defects.Any(x => x is { Grade: DefectGrade.Stop, ToldAt: null }),
            CardOpen = run.CardOpen,
            CardBy = run.CardBy,
            CardOff = run.CardOff,
            NotChecked = run.NotChecked,
            WalkedOn = walkedOn,
            WalkedAt = walkedOn is { } day ? walked[day] : null,
            MissedWalks = Missed(facts, walked.Keys.ToHashSet(), at.Today).Count,
            SamplesDue = SamplesDue(facts, service),
            Points = StatusCodec.Encode(dues, use),
        };
    }

    private static int SamplesDue(MachineFacts facts, IEnumerable<ItemStatus> service)
    {
        var samples = facts.Items.Where(x => x.Work == ItemWork.Sample).Select(x => x.Code).ToHashSet(StringComparer.Ordinal);
        return service.Count(x => x.Status >= DueStatus.Due && x.Status != DueStatus.Finished && samples.Contains(x.Point.ItemCode));
    }

    /// <summary>
    /// Derives the rows of some machines and saves them. Runs inside the caller's transaction; <see cref="Standings"/> has its own.
    /// </summary>
    /// <param name="machineIds">The machines.</param>
    /// <param name="now">Now.</param>
    /// <param name="ct">Cancels.</param>
    /// <param name="raise">Raise defects whose limit has passed. Not while a file comes in: what it says is kept as it says it,
    /// and the first look afterwards raises.</param>
    /// <param name="known">Facts of the one machine, where the caller has them with all that it has just changed.</param>
    public async Task Refresh(
        IReadOnlyCollection<int> machineIds,
        DateTimeOffset now,
        CancellationToken ct,
        bool raise = true,
        MachineFacts? known = null
    )
    {
        foreach (var batch in machineIds.Chunk(Batch))
        {
            var fell = raise && await drains.FallBack(batch, now, ct);
            var machines = known is not null && !fell ? [known] : await db.FactsOf(batch, now, ct);
            var defects = await clocks.Apply(machines, now, ct, raise);
            var worn = await db.WornParts(batch, ct);
            var walks = await WalkDays(batch, now, ct);
            var run = await db.RunFactsOf(batch, ct);
            var kept = await db.Statuses.Where(x => batch.Contains(x.MachineId)).ToDictionaryAsync(x => x.MachineId, ct);
            foreach (var facts in machines)
            {
                var row = Derive(
                    facts,
                    worn[facts.Machine.Id],
                    [.. defects[facts.Machine.Id]],
                    walks[facts.Machine.Id].GroupBy(x => x.On).ToDictionary(x => x.Key, x => x.Max(y => y.At)),
                    run.GetValueOrDefault(facts.Machine.Id, RunFacts.Nothing),
                    now
                );
                if (kept.TryGetValue(row.MachineId, out var old))
                    db.Entry(old).CurrentValues.SetValues(row);
                else
                    db.Statuses.Add(row);
            }

            await db.SaveChangesAsync(ct);
        }
    }

    /// <summary>Machines whose rows are missing or older than <see cref="GoodFor"/>, or will be so much later.</summary>
    internal static IQueryable<int> Stale(NippersDb db, DateTimeOffset now, TimeSpan ahead = default)
    {
        var oldest = now - GoodFor + ahead;
        return db
            .Machines.Where(m => !m.Retired)
            .Select(m => m.Id)
            .Except(db.Statuses.Where(s => s.ComputedAt > oldest && s.ComputedAt <= now).Select(s => s.MachineId));
    }

    /// <summary>
    /// Derives those of some machines whose rows are old, or on which a limit has passed. Runs inside the caller's transaction.
    /// </summary>
    /// <returns>How many were.</returns>
    internal async Task<int> RefreshAged(
        IReadOnlyCollection<int> machineIds,
        DateTimeOffset now,
        CancellationToken ct,
        TimeSpan ahead = default
    )
    {
        var among = db.Machines.Where(x => machineIds.Contains(x.Id)).Select(x => x.Id);
        var stale = await Stale(db, now, ahead).Where(x => machineIds.Contains(x)).ToListAsync(ct);
        stale = [.. stale.Union(await clocks.Passed(now, ct, among))];
        if (stale.Count > 0)
            await Refresh(stale, now, ct);
        return stale.Count;
    }

    /// <summary>Working days, of the last few, on which a machine worked and nobody walked round it; today is not over.</summary>
    public static IReadOnlyList<DateOnly> Missed(MachineFacts facts, IReadOnlySet<DateOnly> walked, DateOnly today, int days = WeekDays)
    {
        var working = facts.Machine.Site.Working;
        var from = walked.Count > 0 ? walked.Min() : today;
        return MissedWalks.Of(
            Enumerable.Range(1, days).Select(back => today.AddDays(-back)).Where(day => day >= from && working.Works(day)),
            walked,
            day => HoursOnDay.Worked(facts.Record, LocalTime.StartOf(day, facts.Zone), LocalTime.StartOf(day.AddDays(1), facts.Zone))
        );
    }

    /// <summary>The same for several machines.</summary>
    public async Task<IReadOnlyList<(MachineFacts Facts, IReadOnlyList<DateOnly> Days)>> MissedOf(
        IReadOnlyCollection<int> machineIds,
        DateTimeOffset now,
        CancellationToken ct
    )
    {
        var missed = new List<(MachineFacts, IReadOnlyList<DateOnly>)>();
        foreach (var batch in machineIds.Chunk(Batch))
        {
            var walks = await WalkDays(batch, now, ct);
            foreach (var facts in await db.FactsOf(batch, now, ct))
            {
                var walked = walks[facts.Machine.Id].Select(x => x.On).ToHashSet();
                missed.Add((facts, Missed(facts, walked, LocalDay.Of(now, facts.Zone))));
            }
        }

        return missed;
    }

    /// <summary>Days with a finished walk in the last weeks.</summary>
    private async Task<ILookup<int, (DateOnly On, DateTimeOffset? At)>> WalkDays(int[] machineIds, DateTimeOffset now, CancellationToken ct)
    {
        var since = DateOnly.FromDateTime(now.UtcDateTime).AddDays(-WeekDays - 7);
        return (
            await db
                .Walks.Where(x =>
                    machineIds.Contains(x.MachineId)
                    && x.On >= since
                    && x.State == WalkState.Finished
                    && x.Round == WalkRound.Whole
                    && x.Answered > 0
                )
                .Select(x => new
                {
                    x.MachineId,
                    x.On,
                    x.FinishedAt,
                })
                .ToListAsync(ct)
        ).ToLookup(x => x.MachineId, x => (x.On, x.FinishedAt));
    }
}
