using System.Collections.Immutable;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Statuses;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Queries;
using Nippers.Data.Visits;
using Nippers.Data.Walks;

namespace Nippers.App.Phones;

/// <summary>Puts together what a phone holds.</summary>
/// <remarks>Rules 12.</remarks>
public sealed class PhoneKits(NippersDb db, Standings standings, TimeProvider clock)
{
    // The window of readings that a phone holds, days; a fault this many days back is told beside its check.
    private const int ReadingDays = 90;
    private const int PastDays = 30;

    /// <summary>Most machines that a phone holds.</summary>
    public const int Most = 200;

    private static readonly MeterHours LongItem = MeterHours.Of(500);

    /// <summary>All that a phone holds.</summary>
    /// <param name="works">Whether its holder may work on machines: open cards are for nobody else.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<PhoneKit> All(bool works, CancellationToken ct)
    {
        var ids = await db
            .Machines.Where(x => !x.Retired)
            .OrderBy(x => x.Site.Name)
            .ThenBy(x => x.Unit)
            .Select(x => x.Id)
            .Take(Most)
            .ToListAsync(ct);
        var phrases = await db
            .Phrases.OrderBy(x => x.Language)
            .ThenBy(x => x.Text)
            .Select(x => new KitPhrase(x.Language, x.Text, x.Said))
            .ToListAsync(ct);
        return await Of(ids, works, ct) with { Phrases = phrases };
    }

    /// <summary>A walk as a phone goes on with it, with the lists that it needs; null when it is not open.</summary>
    public async Task<(PhoneWalk Walk, IReadOnlyList<KitList> Lists)?> Walk(long id, CancellationToken ct)
    {
        if (await WalkContext.Load(db, id, ct) is not { Row: { State: WalkState.Open } row } walk)
            return null;
        var kit = await Of([row.MachineId], cards: false, ct);
        var lists = kit.Lists.Where(x => x.Version != row.VersionId).Append(new(row.VersionId, walk.ListName, walk.List));
        return (
            new()
            {
                Id = row.Id,
                Batch = row.Batch,
                Machine = kit.Machines[0],
                Version = row.VersionId,
                Round = row.Round,
                On = row.On,
                StartedAt = row.StartedAt,
                StartedBy = row.StartedBy,
                Late = row.Late,
                LifeHours = row.LifeHours,
                ShownHours = row.ShownHours,
                ParkedAt = row.ParkedAt,
                Weather = row.Weather,
                Ground = row.Ground,
                Checks = row.Checks,
                Rows = walk.Rows.ToDictionary(x => x.Key, x => new KitAnswer(x.Value.Revision, x.Value.By, x.Value.At, x.Value.Answer)),
                SpokenOf = [.. walk.SpokenOf],
                Found = walk.Found,
            },
            [.. lists]
        );
    }

    /// <summary>A job card as a phone goes on with it; null when it is not open.</summary>
    public async Task<KitCard?> Card(long id, CancellationToken ct) =>
        (await Cards(db.Visits.Where(x => x.Id == id && x.State == VisitState.Open), ct)).Values.SingleOrDefault();

    private async Task<Dictionary<int, KitCard>> Cards(IQueryable<VisitRow> open, CancellationToken ct)
    {
        var visits = await open.AsNoTracking().AsSplitQuery().Include(x => x.Items).OrderBy(x => x.Id).ToListAsync(ct);
        var ids = visits.Select(x => x.Id).ToList();
        var rows = (await db.Steps.AsNoTracking().Where(x => ids.Contains(x.VisitId)).ToListAsync(ct)).ToLookup(x => x.VisitId);
        var numbers = visits
            .SelectMany(x => CardMaking.Read(x.Card).Steps)
            .SelectMany(x => x.Alternates.Append(x.Part))
            .Where(x => x.Length > 0)
            .ToHashSet(StringComparer.Ordinal);
        var parts = (await db.Parts.AsNoTracking().Where(x => numbers.Contains(x.Number)).ToListAsync(ct)).ToDictionary(
            x => x.Number,
            x => new KitPart(x.Make, x.Size),
            StringComparer.Ordinal
        );
        return visits
            .GroupBy(x => x.MachineId)
            .Select(x => x.Last())
            .ToDictionary(
                x => x.MachineId,
                x => new KitCard
                {
                    Visit = x.Id,
                    Card = x.Card,
                    Rows = rows[x.Id]
                        .ToDictionary(r => r.Code, r => new KitAnswer(r.Revision, r.By, r.At, r.Answer), StringComparer.Ordinal),
                    Left = [.. x.Items.Where(i => i.State == VisitItemState.Left).Select(i => i.ItemCode)],
                    OpenedAt = x.OpenedAt ?? x.PlannedAt,
                    CameWarm = x.CameWarm,
                    HeldBy = x.HeldBy,
                    Rules = CardRules.Shipped,
                    Parts = parts,
                    On = x.On,
                    LifeHours = x.LifeHours,
                }
            );
    }

    private async Task<PhoneKit> Of(List<int> ids, bool cards, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        await standings.RaisePassed(now, ct);
        var facts = await db.FactsOf(ids, now, new(ReadingDays, LongItem), ct);
        var lists = await Lists(ct);
        var open = (
            await db
                .Defects.AsNoTracking()
                .Where(x => ids.Contains(x.MachineId) && (x.State == DefectState.Open || x.State == DefectState.Repaired))
                .OrderByDescending(x => x.Grade)
                .ThenBy(x => x.LimitHours)
                .ThenBy(x => x.Id)
                .ToListAsync(ct)
        ).ToLookup(x => x.MachineId);
        var since = DateOnly.FromDateTime(now.UtcDateTime).AddDays(-PastDays);
        var closed = (
            await db
                .Defects.AsNoTracking()
                .Where(x => ids.Contains(x.MachineId) && x.State == DefectState.Closed)
                .Where(x => x.LookAgainHours != null || (x.CheckCode != "" && x.On >= since))
                .OrderByDescending(x => x.Id)
                .ToListAsync(ct)
        ).ToLookup(x => x.MachineId);
        var done = await db.ChecksLastDone(ids, ct);
        var own = (await db.MachineChecks.AsNoTracking().Where(x => ids.Contains(x.MachineId)).ToListAsync(ct)).ToLookup(x => x.MachineId);
        var toppedUp = (
            await db
                .TopUps.Where(x => ids.Contains(x.MachineId))
                .GroupBy(x => new { x.MachineId, x.Compartment })
                .Select(g => new
                {
                    g.Key.MachineId,
                    g.Key.Compartment,
                    Last = g.Max(x => x.LifeHours),
                })
                .ToListAsync(ct)
        ).ToLookup(x => x.MachineId);
        var run = await db.RunFactsOf(ids, ct);
        var greased = facts.Select(x => lists.For(x.Machine)).Distinct().SelectMany(x => x?.ToList().Checks ?? []);
        var grease = await db.GreaseOf(ids, greased, DateOnly.FromDateTime(now.UtcDateTime), ct);
        var codes = await db.CodesOf(ids, ct);
        List<int> stopSpns = [.. (await db.StopSpns(ct)).Order()];
        var pace = await db.PaceOf(ids, since, ct);
        var parkedSince = now - ParkingCard.Holds;
        var parkings = (
            await db.Parkings.AsNoTracking().Where(x => ids.Contains(x.MachineId) && x.At >= parkedSince).OrderBy(x => x.At).ToListAsync(ct)
        ).ToLookup(x => x.MachineId);
        var worked = cards ? await Cards(db.Visits.Where(x => ids.Contains(x.MachineId) && x.State == VisitState.Open), ct) : [];
        var last = await LastWalks(ids, ct);
        var statuses = await db.Statuses.AsNoTracking().Where(x => ids.Contains(x.MachineId)).ToDictionaryAsync(x => x.MachineId, ct);
        var machines = new List<KitMachine>();
        foreach (var fact in facts.OrderBy(x => x.Machine.Site.Name).ThenBy(x => x.Machine.Unit))
        {
            var machine = fact.Machine;
            var version = lists.For(machine);
            var walked = last.GetValueOrDefault(machine.Id);
            var topUps = toppedUp[machine.Id].ToDictionary(x => x.Compartment, x => x.Last, StringComparer.Ordinal);
            var readings = fact.Record.Readings;
            var from = Math.Max(0, readings.Count(x => x.At < now.AddDays(-ReadingDays)) - 1);
            machines.Add(
                new()
                {
                    Id = machine.Id,
                    Unit = machine.Unit,
                    Kind = machine.Kind.Code,
                    Make = machine.Make,
                    Model = machine.Model,
                    Site = new(
                        machine.Site.Name,
                        machine.Site.TimeZone,
                        machine.Site.Contact,
                        machine.Site.StopsEachWalk,
                        machine.Site.ShiftFrom,
                        machine.Site.ShiftTo,
                        machine.Site.WorkDays
                    ),
                    Options = machine.Options,
                    CommissionedOn = machine.CommissionedOn,
                    CommissionedHours = machine.CommissionedHours,
                    PlannedHoursPerDay = machine.PlannedHoursPerDay,
                    Km = fact.Odometer is { } odometer ? Math.Round(UsePerDay.Estimate(odometer.Record, now).HoursNow(now)) : null,
                    At = now,
                    FirstReading = readings.IsEmpty ? null : readings[from],
                    Readings = KitMachine.Steps(readings[from..]),
                    Parked = [.. fact.Record.Parked.Select(x => new KitParked(x.From, x.To))],
                    Offset = fact.Offsets.At(now),
                    List = version?.Id,
                    Done = done.GetValueOrDefault(machine.Id) ?? [],
                    Own = [.. own[machine.Id]],
                    Defects = [.. open[machine.Id]],
                    LookAgain = [.. closed[machine.Id].Where(x => x.LookAgainHours is not null)],
                    Lately = [.. closed[machine.Id].Where(x => x.CheckCode.Length > 0 && x.On >= since)],
                    ToppedUp = topUps,
                    Filled = Filled(fact, topUps),
                    Facts = run.GetValueOrDefault(machine.Id, RunFacts.Nothing),
                    Last = walked is null ? null : new(walked.On, walked.VersionId, walked.Checks, walked.Answers),
                    Parking =
                        parkings[machine.Id].LastOrDefault() is { } left
                        && ParkingCard.Stands(left.At, statuses.GetValueOrDefault(machine.Id)?.WalkedAt, now)
                            ? new(left.At, left.By, left.Done, left.Note)
                            : null,
                    Grease = (grease.GetValueOrDefault(machine.Id) ?? GreaseMemory.Of([])).ToDictionary(
                        x => x.Key,
                        IReadOnlyList<GreaseMemory> (x) => [.. x]
                    ),
                    Codes = codes[machine.Id].ToDictionary(x => x.Code, x => x.Meaning),
                    StopSpns = stopSpns,
                    Pace = pace.GetValueOrDefault(machine.Id, 1),
                    WalkedAt = statuses.GetValueOrDefault(machine.Id)?.WalkedAt,
                    WalkedOn = statuses.GetValueOrDefault(machine.Id)?.WalkedOn,
                    Card = worked.GetValueOrDefault(machine.Id),
                    Compartments = machine.Program.Compartments.ToDictionary(x => x.Code, x => x.Name),
                }
            );
        }

        var needed = machines.SelectMany(x => new[] { x.List, x.Last?.Version }).OfType<int>().ToHashSet();
        return new(
            now,
            [.. lists.Versions.Where(x => needed.Contains(x.Id)).Select(x => new KitList(x.Id, x.List.Name, x.ToList()))],
            machines
        );
    }

    /// <summary>Compartments by the life hours at which they were last filled: a top-up, or an oil change.</summary>
    private static Dictionary<string, MeterHours> Filled(MachineFacts facts, Dictionary<string, MeterHours> toppedUp)
    {
        var filled = new Dictionary<string, MeterHours>(toppedUp, StringComparer.Ordinal);
        foreach (var item in facts.Machine.Program.Items.Where(x => x.EveryHours > LongItem && x.Compartment.Length > 0))
        {
            if (facts.LastDone.GetValueOrDefault(item.Code) is not { } change)
                continue;
            if (!filled.TryGetValue(item.Compartment, out var known) || known < change.Hours)
                filled[item.Compartment] = change.Hours;
        }

        return filled;
    }

    private async Task<Dictionary<int, WalkRow>> LastWalks(List<int> ids, CancellationToken ct)
    {
        var last = await db
            .Machines.Where(x => ids.Contains(x.Id))
            .Select(m =>
                db.Walks.Where(x => x.MachineId == m.Id && x.State == WalkState.Finished && x.Round == WalkRound.Whole)
                    .OrderByDescending(x => x.On)
                    .ThenByDescending(x => x.Id)
                    .Select(x => (long?)x.Id)
                    .FirstOrDefault()
            )
            .ToListAsync(ct);
        var walks = last.OfType<long>().ToList();
        return await db.Walks.AsNoTracking().Where(x => walks.Contains(x.Id)).ToDictionaryAsync(x => x.MachineId, ct);
    }

    private sealed record ListBook(List<WalkListVersion> Versions)
    {
        /// <summary>The newest body of the list that a machine is walked by; see <see cref="WalkQueries.ListOf"/>.</summary>
        public WalkListVersion? For(Machine machine)
        {
            var lists = machine.WalkListId is { } own
                ? Versions.Where(x => x.ListId == own)
                : Versions.Where(x => x.List.Kind == machine.Kind).OrderBy(x => x.List.Starter).ThenBy(x => x.ListId);
            return lists.FirstOrDefault(x => x.Version == x.List.Version);
        }
    }

    private async Task<ListBook> Lists(CancellationToken ct) =>
        new(await db.WalkListVersions.AsNoTracking().Include(x => x.List).ToListAsync(ct));
}
