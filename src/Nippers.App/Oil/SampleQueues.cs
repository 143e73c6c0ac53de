using Microsoft.EntityFrameworkCore;
using Nippers.App.Statuses;
using Nippers.Core.Hours;
using Nippers.Core.Oil;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Oil;
using Nippers.Data.Queries;
using Nippers.Data.Visits;

namespace Nippers.App.Oil;

/// <summary>Where samples lie on the tray.</summary>
public enum SampleQueue
{
    ToTake,
    Taken,
    AtLab,
    Late,
    ToReview,
    Reviewed,
}

/// <summary>Which part of the tray to show.</summary>
public sealed record TrayFilter(SampleQueue Part = SampleQueue.ToTake, string? Site = null, string? Unit = null, int Page = 1);

/// <summary>A sample on the tray.</summary>
/// <param name="Zone">Time zone of the machine's site.</param>
public sealed record TrayLine(SampleRow Sample, string Unit, string Site, string Zone, string Place, string? Lab);

/// <summary>A sample that is to be taken.</summary>
/// <param name="Bottle">Code of a bottle that was prepared for it.</param>
/// <param name="Visit">The visit that takes it along.</param>
/// <param name="Called">A verdict called it.</param>
public sealed record DueSample(
    string Unit,
    string Site,
    string Item,
    string Name,
    string Place,
    ItemStatus Stand,
    DrawMethod Method,
    string? Bottle,
    long? Visit,
    DateOnly? VisitOn,
    bool Called
);

/// <summary>A consignment that waits to be handed over, or a laboratory that does not answer.</summary>
public sealed record LabTrouble(string Lab, string Fault, int Failures, DateTimeOffset? Next, int Waiting);

/// <summary>The tray.</summary>
/// <param name="Counts">How many lie in each part; judged ones are not counted.</param>
public sealed record Tray(
    TrayFilter Filter,
    IReadOnlyDictionary<SampleQueue, int> Counts,
    IReadOnlyList<TrayLine> Lines,
    IReadOnlyList<DueSample> Due,
    IReadOnlyList<UnmatchedResultRow> Unmatched,
    IReadOnlyList<LabTrouble> Troubles,
    IReadOnlyList<LabRow> Labs,
    IReadOnlyList<string> Sites,
    bool More,
    DateTimeOffset Now
)
{
    /// <summary>Days by the calendar of the sample's site since an instant; 0 for today.</summary>
    public int DaysSince(TrayLine line, DateTimeOffset at)
    {
        var zone = TimeZoneInfo.FindSystemTimeZoneById(line.Zone);
        return LocalDay.Of(Now, zone).DayNumber - LocalDay.Of(at, zone).DayNumber;
    }
}

/// <summary>A bottle's label.</summary>
/// <param name="Sample">What is known of it once it was taken; null before.</param>
public sealed record BottleLabel(string Code, string Unit, string Place, string Fluid, string Grade, SampleRow? Sample);

/// <summary>Reads the tray, labels and lists.</summary>
public sealed class SampleQueues(NippersDb db, TimeProvider clock)
{
    /// <summary>Days after sending from which a result is late.</summary>
    public const int LateDays = 14;

    private const int PageSize = 40;
    private const int MostMachines = 25;
    private const int MostLabels = 120;

    public async Task<Tray> Load(TrayFilter filter, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        var lateBefore = now.AddDays(-LateDays);
        var all = db.Samples.AsNoTracking();
        if (!string.IsNullOrEmpty(filter.Site))
            all = all.Where(x => x.Machine.Site.Name == filter.Site);
        if (!string.IsNullOrEmpty(filter.Unit))
            all = all.Where(x => x.Machine.Unit == filter.Unit);
        var open = await all.Where(x => x.State < SampleState.Judged)
            .GroupBy(x => new { x.State, Late = x.State == SampleState.Sent && x.SentAt < lateBefore })
            .Select(x => new
            {
                x.Key.State,
                x.Key.Late,
                Count = x.Count(),
            })
            .ToListAsync(ct);
        var (due, dueCount) = await Due(filter, now, ct);
        var counts = new Dictionary<SampleQueue, int>
        {
            [SampleQueue.ToTake] = dueCount,
            [SampleQueue.Taken] = open.Where(x => x.State == SampleState.Taken).Sum(x => x.Count),
            [SampleQueue.AtLab] = open.Where(x => x.State == SampleState.Sent && !x.Late).Sum(x => x.Count),
            [SampleQueue.Late] = open.Where(x => x.Late).Sum(x => x.Count),
            [SampleQueue.ToReview] = open.Where(x => x.State == SampleState.Reported).Sum(x => x.Count),
        };
        var lines = filter.Part == SampleQueue.ToTake ? [] : await Lines(Part(all, filter.Part, lateBefore), filter, ct);
        var labs = await db.Labs.AsNoTracking().OrderByDescending(x => x.Usual).ThenBy(x => x.Name).ToListAsync(ct);
        var waiting = await db.Consignments.AsNoTracking().Where(x => x.State == ConsignmentState.Waiting).ToListAsync(ct);
        return new(
            filter,
            counts,
            [.. lines.Take(PageSize)],
            due,
            await db
                .UnmatchedResults.AsNoTracking()
                .Where(x => x.SettledAt == null)
                .OrderByDescending(x => x.Id)
                .Take(PageSize)
                .ToListAsync(ct),
            [.. labs.Select(x => Trouble(x, waiting.Where(y => y.LabId == x.Id).ToList())).OfType<LabTrouble>()],
            labs,
            await db.Sites.OrderBy(x => x.Name).Select(x => x.Name).ToListAsync(ct),
            lines.Count > PageSize || (filter.Part == SampleQueue.ToTake && dueCount > filter.Page * MostMachines),
            now
        );
    }

    /// <summary>Labels of bottles, in the order asked for; codes that nobody gave out are left out.</summary>
    public async Task<IReadOnlyList<BottleLabel>> Labels(IReadOnlyCollection<string> codes, CancellationToken ct)
    {
        var wanted = codes.Select(x => Bottles.ReadMark(x).Mark).Distinct().Take(MostLabels).ToList();
        var samples = (
            await db.Samples.AsNoTracking().Include(x => x.Machine).Where(x => wanted.Contains(x.Bottle)).ToListAsync(ct)
        ).ToDictionary(x => x.Bottle, StringComparer.Ordinal);
        var bottles = (await db.Bottles.AsNoTracking().Where(x => wanted.Contains(x.Code)).ToListAsync(ct)).ToDictionary(
            x => x.Code,
            StringComparer.Ordinal
        );
        var ids = samples.Values.Select(x => x.MachineId).Concat(bottles.Values.Select(x => x.MachineId)).Distinct().ToList();
        var machines = await db
            .Machines.AsNoTracking()
            .Include(x => x.Compartments)
            .Where(x => ids.Contains(x.Id))
            .ToDictionaryAsync(x => x.Id, ct);
        var names = await PlaceNames([.. machines.Values.Select(x => x.ProgramId).Distinct()], ct);
        var labels = new List<BottleLabel>();
        foreach (var code in wanted)
        {
            var sample = samples.GetValueOrDefault(code);
            var (machineId, compartment) =
                sample is not null ? (sample.MachineId, sample.Compartment)
                : bottles.TryGetValue(code, out var bottle) ? (bottle.MachineId, bottle.Compartment)
                : (0, "");
            if (!machines.TryGetValue(machineId, out var machine))
                continue;
            var fluid = sample?.Fluid ?? machine.Compartments.Find(x => x.Code == compartment)?.Fluid ?? "";
            labels.Add(
                new(
                    code,
                    machine.Unit,
                    names.GetValueOrDefault((machine.ProgramId, compartment), compartment),
                    fluid,
                    sample?.Grade ?? "",
                    sample
                )
            );
        }

        return labels;
    }

    /// <summary>What a code leads to: a sample, or a bottle that waits for one.</summary>
    public async Task<(SampleRow? Sample, BottleRow? Bottle, string Unit)> Find(string? text, CancellationToken ct)
    {
        var (mark, fault) = Bottles.ReadMark(text ?? "");
        if (fault is not null)
            return (null, null, "");
        var sample = await db.Samples.AsNoTracking().Include(x => x.Machine).FirstOrDefaultAsync(x => x.Bottle == mark, ct);
        if (sample is not null)
            return (sample, null, sample.Machine.Unit);
        var bottle = await db.Bottles.AsNoTracking().SingleOrDefaultAsync(x => x.Code == mark, ct);
        return bottle is null
            ? (null, null, "")
            : (null, bottle, await db.Machines.Where(x => x.Id == bottle.MachineId).Select(x => x.Unit).SingleAsync(ct));
    }

    /// <summary>The list of a consignment, or of what lies ready, for those who write by hand.</summary>
    public async Task<IReadOnlyList<TrayLine>> PaperList(long? consignment, CancellationToken ct)
    {
        var rows = db.Samples.AsNoTracking();
        return await Lines(
            consignment is { } id ? rows.Where(x => x.ConsignmentId == id) : rows.Where(x => x.State == SampleState.Taken),
            new(SampleQueue.Taken),
            ct,
            MostLabels
        );
    }

    /// <summary>Samples, the newest first: of one unit, or of one state.</summary>
    public async Task<IReadOnlyList<TrayLine>> Newest(string? unit, SampleState? state, int most, CancellationToken ct) =>
        await Lines(
            db.Samples.AsNoTracking()
                .Where(x => (unit == null || x.Machine.Unit == unit) && (state == null || x.State == state))
                .OrderByDescending(x => x.TakenAt)
                .ThenByDescending(x => x.Id),
            new(),
            ct,
            most
        );

    internal async Task<Dictionary<(int Program, string Code), string>> PlaceNames(
        IReadOnlyCollection<int> programs,
        CancellationToken ct
    ) =>
        await db
            .ProgramCompartments.AsNoTracking()
            .Where(x => programs.Contains(x.ProgramId))
            .ToDictionaryAsync(x => (x.ProgramId, x.Code), x => x.Name, ct);

    private static IQueryable<SampleRow> Part(IQueryable<SampleRow> all, SampleQueue part, DateTimeOffset lateBefore) =>
        part switch
        {
            SampleQueue.Taken => all.Where(x => x.State == SampleState.Taken).OrderBy(x => x.TakenAt),
            SampleQueue.AtLab => all.Where(x => x.State == SampleState.Sent && x.SentAt >= lateBefore).OrderBy(x => x.SentAt),
            SampleQueue.Late => all.Where(x => x.State == SampleState.Sent && x.SentAt < lateBefore).OrderBy(x => x.SentAt),
            SampleQueue.ToReview => all.Where(x => x.State == SampleState.Reported)
                .OrderByDescending(x => x.Advised)
                .ThenBy(x => x.ReportedAt),
            _ => all.Where(x => x.State == SampleState.Judged).OrderByDescending(x => x.TakenAt),
        };

    private async Task<List<TrayLine>> Lines(IQueryable<SampleRow> rows, TrayFilter filter, CancellationToken ct, int most = PageSize + 1)
    {
        var page = await rows.Skip((Math.Max(1, filter.Page) - 1) * PageSize)
            .Take(most)
            .Select(x => new
            {
                Sample = x,
                x.Machine.Unit,
                x.Machine.ProgramId,
                Site = x.Machine.Site.Name,
                x.Machine.Site.TimeZone,
                Lab = db.Labs.Where(l => l.Id == x.LabId).Select(l => l.Name).FirstOrDefault(),
            })
            .ToListAsync(ct);
        var names = await PlaceNames([.. page.Select(x => x.ProgramId).Distinct()], ct);
        return
        [
            .. page.Select(x => new TrayLine(
                x.Sample,
                x.Unit,
                x.Site,
                x.TimeZone,
                names.GetValueOrDefault((x.ProgramId, x.Sample.Compartment), x.Sample.Compartment),
                x.Lab
            )),
        ];
    }

    /// <summary>Samples that are due, from the standing rows: the machines that press most first.</summary>
    private async Task<(List<DueSample> Due, int Machines)> Due(TrayFilter filter, DateTimeOffset now, CancellationToken ct)
    {
        var pressing = db
            .Statuses.AsNoTracking()
            .Where(x => x.SamplesDue > 0)
            .Join(db.Machines.Where(x => !x.Retired), x => x.MachineId, x => x.Id, (s, m) => new { Status = s, Machine = m });
        if (!string.IsNullOrEmpty(filter.Site))
            pressing = pressing.Where(x => x.Machine.Site.Name == filter.Site);
        if (!string.IsNullOrEmpty(filter.Unit))
            pressing = pressing.Where(x => x.Machine.Unit == filter.Unit);
        var count = await pressing.SumAsync(x => x.Status.SamplesDue, ct);
        if (filter.Part != SampleQueue.ToTake || count == 0)
            return ([], count);
        var rows = await pressing
            .OrderByDescending(x => x.Status.SamplesDue)
            .ThenBy(x => x.Machine.Unit)
            .Skip((Math.Max(1, filter.Page) - 1) * MostMachines)
            .Take(MostMachines)
            .Select(x => x.Status)
            .ToListAsync(ct);
        var ids = rows.Select(x => x.MachineId).ToList();
        var machines = await db
            .Machines.AsNoTracking()
            .Include(x => x.Site)
            .Include(x => x.Compartments)
            .Where(x => ids.Contains(x.Id))
            .ToDictionaryAsync(x => x.Id, ct);
        var programs = await db.ProgramsWithItems([.. machines.Values.Select(x => x.ProgramId).Distinct()], ct);
        var prepared = (await db.FreeBottles().AsNoTracking().Where(x => ids.Contains(x.MachineId)).ToListAsync(ct)).ToLookup(
            x => (x.MachineId, x.ItemCode),
            x => x.Code
        );
        var visits = (
            await db
                .VisitItems.AsNoTracking()
                .Join(
                    db.Visits.Where(x => ids.Contains(x.MachineId) && (x.State == VisitState.Planned || x.State == VisitState.Open)),
                    x => x.VisitId,
                    x => x.Id,
                    (i, v) =>
                        new
                        {
                            v.MachineId,
                            i.ItemCode,
                            v.Id,
                            v.On,
                        }
                )
                .ToListAsync(ct)
        ).ToLookup(x => (x.MachineId, x.ItemCode));
        var due = new List<DueSample>();
        foreach (var row in rows)
        {
            var machine = machines[row.MachineId];
            var program = programs[machine.ProgramId];
            var (use, dues) = StatusCodec.Decode(row);
            var at = new MachineNow(use, now, TimeZoneInfo.FindSystemTimeZoneById(machine.Site.TimeZone));
            var places = OilCatalog.Places(machine, program).ToDictionary(x => x.Item.Code, StringComparer.Ordinal);
            foreach (
                var stand in at.Stand([.. dues.Service.Where(x => places.ContainsKey(x.ItemCode))], program.ComingDays)
                    .Where(x => x.Status >= DueStatus.Due)
                    .OrderBy(x => places[x.Point.ItemCode].Method)
            )
            {
                var place = places[stand.Point.ItemCode];
                var visit = visits[(machine.Id, place.Item.Code)].OrderBy(x => x.On).FirstOrDefault();
                due.Add(
                    new(
                        machine.Unit,
                        machine.Site.Name,
                        place.Item.Code,
                        place.Item.Name,
                        place.Compartment.Name,
                        stand,
                        place.Method,
                        prepared[(machine.Id, place.Item.Code)].FirstOrDefault(),
                        visit?.Id,
                        visit?.On,
                        stand.Point.Basis == DueBasis.Called
                    )
                );
            }
        }

        return (due, count);
    }

    private static LabTrouble? Trouble(LabRow lab, List<ConsignmentRow> waiting)
    {
        var failed = waiting.Where(x => x.Attempts > 0).ToList();
        if (failed.Count == 0 && lab.Failures == 0)
            return null;
        var next = failed.Select(x => x.NextTryAt).Append(lab.Failures > 0 ? lab.NextAskAt : null).Where(x => x is not null).Min();
        return new(
            lab.Name,
            failed.Count > 0 ? failed[0].LastFault : lab.LastFault,
            Math.Max(lab.Failures, failed.Select(x => x.Attempts).DefaultIfEmpty(0).Max()),
            next is { } at ? at : null,
            waiting.Count
        );
    }
}
