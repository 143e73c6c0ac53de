using System.Collections.Concurrent;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Programs;
using Nippers.Data.Visits;
using Nippers.Data.Walks;

namespace Nippers.Data.Queries;

/// <summary>What stands against a machine beside its defects.</summary>
/// <param name="CardOpen">A job card is open on it.</param>
/// <param name="NotChecked">Safety-critical checks that its last walk left out and that nobody has made since.</param>
/// <param name="Walk">That walk.</param>
/// <param name="CardBy">Who holds its locks while the card is open.</param>
/// <param name="CardOff">What is off or open on it meanwhile, a line each.</param>
public sealed record RunFacts(bool CardOpen, int NotChecked, long? Walk, string? CardBy = null, string? CardOff = null)
{
    /// <summary>Nothing does.</summary>
    public static RunFacts Nothing { get; } = new(false, 0, null);

    /// <summary>May it run, with the clocks of its open defects.</summary>
    public RunAnswer Answer(IEnumerable<DefectClock> open) => RunAnswer.Of(open, CardOpen, CardBy, NotChecked, CardOff);
}

/// <summary>Questions about walks.</summary>
public static class WalkQueries
{
    private const int GreaseDays = 120;
    private const int PaceDays = 60;
    private const int PaceWalks = 20;

    /// <summary>Kinds that planners made: those of their own walk lists.</summary>
    public static async Task<IReadOnlyList<(Fleet.MachineKind Kind, string Name)>> OwnKinds(this NippersDb db, CancellationToken ct)
    {
        var lists = await db
            .WalkLists.AsNoTracking()
            .Where(x => !x.Starter && x.Kind != Fleet.MachineKind.Other)
            .OrderBy(x => x.Id)
            .Select(x => new { x.Kind, x.Name })
            .ToListAsync(ct);
        return [.. lists.Select(x => (x.Kind, x.Name))];
    }

    /// <summary>The newest body of the list that a machine is walked by; null when its kind has none.</summary>
    public static async Task<WalkListVersion?> ListOf(this NippersDb db, Machine machine, CancellationToken ct)
    {
        var lists = machine.WalkListId is { } own
            ? db.WalkLists.Where(x => x.Id == own)
            : db.WalkLists.Where(x => x.Kind == machine.Kind).OrderBy(x => x.Starter).ThenBy(x => x.Id).Take(1);
        var found = await lists
            .Join(
                db.WalkListVersions,
                x => new { x.Id, x.Version },
                x => new { Id = x.ListId, x.Version },
                (l, v) =>
                    new
                    {
                        v.Id,
                        List = l,
                        v.At,
                        v.By,
                    }
            )
            .AsNoTracking()
            .FirstOrDefaultAsync(ct);
        return found is null
            ? null
            : new()
            {
                Id = found.Id,
                ListId = found.List.Id,
                List = found.List,
                Version = found.List.Version,
                At = found.At,
                By = found.By,
                Body = "",
                Known = await db.BodyOf(found.Id, ct),
            };
    }

    // A body is never changed. Its text is long, and each answer on a walk needs one: reading it from the file was much of its time.
    private const int MostBodies = 300;
    private static readonly ConcurrentDictionary<(string File, int Version), CheckList> Bodies = new();

    /// <summary>The list at a version.</summary>
    public static async Task<CheckList> BodyOf(this NippersDb db, int version, CancellationToken ct)
    {
        var key = (db.Database.GetConnectionString() ?? "", version);
        if (Bodies.TryGetValue(key, out var known))
            return known;
        var list = ListJson.Read(await db.WalkListVersions.Where(x => x.Id == version).Select(x => x.Body).SingleAsync(ct));

        // What a transaction has written may never have been: its number is then given to another body.
        if (db.Database.CurrentTransaction is not null)
            return list;
        if (Bodies.Count >= MostBodies)
            Bodies.Clear();
        return Bodies[key] = list;
    }

    /// <summary>What a machine's own manual says of checks, by check code.</summary>
    public static async Task<Dictionary<string, MachineCheck>> ChecksOf(this NippersDb db, int machineId, CancellationToken ct) =>
        await OwnChecks(db, machineId).ToDictionaryAsync(x => x.CheckCode, StringComparer.Ordinal, ct);

    private static readonly Func<NippersDb, int, IAsyncEnumerable<MachineCheck>> OwnChecks = EF.CompileAsyncQuery(
        (NippersDb db, int machineId) => db.MachineChecks.AsNoTracking().Where(x => x.MachineId == machineId)
    );

    /// <summary>Life hours at which the checks of longer cadences were last made, by check code.</summary>
    public static async Task<Dictionary<string, MeterHours>> ChecksLastDone(this NippersDb db, int machineId, CancellationToken ct) =>
        (await db.ChecksLastDone([machineId], ct)).GetValueOrDefault(machineId) ?? [];

    /// <summary>
    /// The same of some machines: one look into the index for each check that was ever made, however long the history is.
    /// </summary>
    public static async Task<Dictionary<int, Dictionary<string, MeterHours>>> ChecksLastDone(
        this NippersDb db,
        IReadOnlyCollection<int> machineIds,
        CancellationToken ct
    )
    {
        var ids = JsonSerializer.Serialize(machineIds);
        var found = await db.Plain(
            $"""
            WITH RECURSIVE Made(Id, Code) AS (
                SELECT m.value, (SELECT MIN(a.CheckCode) FROM ChecksDone a WHERE a.MachineId = m.value) FROM json_each({ids}) m
                UNION ALL
                SELECT Id, (SELECT MIN(b.CheckCode) FROM ChecksDone b WHERE b.MachineId = Id AND b.CheckCode > Code)
                FROM Made WHERE Code IS NOT NULL)
            SELECT Id AS MachineId, Code AS CheckCode, (
                SELECT c.LifeTenths FROM ChecksDone c WHERE c.MachineId = Made.Id AND c.CheckCode = Made.Code AND NOT c.Voided
                ORDER BY c.LifeTenths DESC LIMIT 1) AS LifeTenths
            FROM Made WHERE Code IS NOT NULL
            """,
            x => new CheckPoint(x.GetInt32(0), x.GetString(1), x.IsDBNull(2) ? null : x.GetInt32(2)),
            ct
        );
        return found
            .Where(x => x.LifeTenths is not null)
            .GroupBy(x => x.MachineId)
            .ToDictionary(
                x => x.Key,
                x => x.ToDictionary(y => y.CheckCode, y => new MeterHours(y.LifeTenths!.Value), StringComparer.Ordinal)
            );
    }

    // Null where all that were made are voided.
    private sealed record CheckPoint(int MachineId, string CheckCode, int? LifeTenths);

    /// <summary>Defects that stand against a machine, the gravest first.</summary>
    public static Task<List<DefectRow>> OpenDefects(this NippersDb db, int machineId, CancellationToken ct) =>
        db
            .Defects.AsNoTracking()
            .Where(x => x.MachineId == machineId && (x.State == DefectState.Open || x.State == DefectState.Repaired))
            .OrderByDescending(x => x.Grade)
            .ThenBy(x => x.LimitHours)
            .ThenBy(x => x.Id)
            .ToListAsync(ct);

    /// <summary>What stands against some machines beside their defects; those against which nothing does are left out.</summary>
    public static async Task<Dictionary<int, RunFacts>> RunFactsOf(
        this NippersDb db,
        IReadOnlyCollection<int> machineIds,
        CancellationToken ct
    )
    {
        var cards = await db
            .Visits.Where(x => machineIds.Contains(x.MachineId) && x.State == VisitState.Open)
            .GroupBy(x => x.MachineId)
            .Select(x => new
            {
                x.Key,
                By = x.Max(v => v.HeldBy),
                Off = x.Max(v => v.StandsOpen),
            })
            .ToDictionaryAsync(x => x.Key, ct);
        var walks = await db
            .Walks.Where(x =>
                machineIds.Contains(x.MachineId)
                && x.NotChecked > 0
                && x.State == WalkState.Finished
                && !db.Walks.Any(y =>
                    y.MachineId == x.MachineId
                    && y.State == WalkState.Finished
                    && y.Round == WalkRound.Whole
                    && y.Answered > 0
                    && (y.On > x.On || (y.On == x.On && y.Id > x.Id))
                )
            )
            .Select(x => new
            {
                x.MachineId,
                x.Id,
                x.NotChecked,
            })
            .ToListAsync(ct);
        return cards
            .Keys.Concat(walks.Select(x => x.MachineId))
            .Distinct()
            .ToDictionary(
                id => id,
                id => new RunFacts(
                    cards.ContainsKey(id),
                    walks.Find(x => x.MachineId == id)?.NotChecked ?? 0,
                    walks.Find(x => x.MachineId == id)?.Id,
                    cards.GetValueOrDefault(id)?.By,
                    cards.GetValueOrDefault(id)?.Off is { Length: > 0 } off ? off : null
                )
            );
    }

    /// <summary>What stands against a machine beside its defects.</summary>
    public static async Task<RunFacts> RunFactsOf(this NippersDb db, int machineId, CancellationToken ct) =>
        (await db.RunFactsOf([machineId], ct)).GetValueOrDefault(machineId, RunFacts.Nothing);

    /// <summary>May a machine run: its open defects, an open job card, and what its last walk left unchecked.</summary>
    public static async Task<RunAnswer> RunAnswerOf(this NippersDb db, int machineId, CancellationToken ct) =>
        (await db.RunFactsOf(machineId, ct)).Answer((await db.OpenDefects(machineId, ct)).Select(x => x.Clock));

    /// <summary>Fixed on the spot and to be looked at again by now.</summary>
    public static Task<List<DefectRow>> LookAgain(this NippersDb db, int machineId, MeterHours lifeHours, CancellationToken ct) =>
        db
            .Defects.AsNoTracking()
            .Where(x =>
                x.MachineId == machineId && x.LookAgainHours != null && x.LookAgainHours <= lifeHours && x.State == DefectState.Closed
            )
            .OrderBy(x => x.Id)
            .ToListAsync(ct);

    /// <summary>How a machine was left, when nobody has walked round it since; null otherwise.</summary>
    public static async Task<ParkingRow?> ParkingOf(this NippersDb db, int machineId, DateTimeOffset now, CancellationToken ct)
    {
        var last = await db
            .Parkings.AsNoTracking()
            .Where(x => x.MachineId == machineId)
            .OrderByDescending(x => x.At)
            .Select(x => new
            {
                Row = x,
                WalkedAt = db
                    .Walks.Where(w => w.MachineId == machineId && w.State != WalkState.Voided && w.Round == WalkRound.Whole)
                    .Max(w => (DateTimeOffset?)w.StartedAt),
            })
            .FirstOrDefaultAsync(ct);
        return last is not null && ParkingCard.Stands(last.Row.At, last.WalkedAt, now) ? last.Row : null;
    }

    /// <summary>Fittings of some machines' checks that refused grease on the last days before one, by machine.</summary>
    public static async Task<Dictionary<int, ILookup<string, GreaseMemory>>> GreaseOf(
        this NippersDb db,
        IReadOnlyCollection<int> machineIds,
        IEnumerable<WalkCheck> checks,
        DateOnly on,
        CancellationToken ct
    )
    {
        var keys = GreaseMemory.Keys(checks).ToList();
        if (keys.Count == 0)
            return [];

        // Greasing every 50 h is seldom: ten of its days lie months apart.
        var since = on.AddDays(-GreaseDays);
        var kept = await db
            .Measures.Where(x => machineIds.Contains(x.MachineId) && keys.Contains(x.CheckCode))
            .Where(x => x.Used && x.On >= since && x.On <= on)
            .Select(x => new
            {
                x.MachineId,
                x.CheckCode,
                x.On,
            })
            .ToListAsync(ct);
        return kept.GroupBy(x => x.MachineId).ToDictionary(x => x.Key, x => GreaseMemory.Of(x.Select(y => (y.CheckCode, y.On))));
    }

    /// <summary>What codes of some machines' displays mean, as somebody has said.</summary>
    public static async Task<ILookup<int, MachineCode>> CodesOf(
        this NippersDb db,
        IReadOnlyCollection<int> machineIds,
        CancellationToken ct
    ) =>
        (await db.MachineCodes.AsNoTracking().Where(x => machineIds.Contains(x.MachineId)).OrderBy(x => x.Code).ToListAsync(ct)).ToLookup(
            x => x.MachineId
        );

    /// <summary>How a machine's last walks went against what they take as they are meant.</summary>
    public static async Task<double> PaceOf(this NippersDb db, int machineId, DateOnly on, CancellationToken ct) =>
        (await db.PaceOf([machineId], on.AddDays(-PaceDays), ct)).GetValueOrDefault(machineId, 1);

    /// <summary>The same of some machines, by walks since a day.</summary>
    public static async Task<Dictionary<int, double>> PaceOf(
        this NippersDb db,
        IReadOnlyCollection<int> machineIds,
        DateOnly since,
        CancellationToken ct
    )
    {
        var walks = await db
            .Walks.Where(x => machineIds.Contains(x.MachineId) && x.On >= since && x.State == WalkState.Finished && !x.Late)
            .Where(x => x.HonestSeconds > 0 && x.FinishedAt != null)
            .OrderByDescending(x => x.On)
            .Take(PaceWalks * machineIds.Count)
            .Select(x => new
            {
                x.MachineId,
                x.StartedAt,
                x.FinishedAt,
                x.HonestSeconds,
            })
            .ToListAsync(ct);
        return walks
            .GroupBy(x => x.MachineId)
            .ToDictionary(
                x => x.Key,
                x => WalkMinutes.OwnShare(x.Select(y => ((y.FinishedAt!.Value - y.StartedAt).TotalSeconds, (double)y.HonestSeconds)))
            );
    }

    /// <summary>Measures of some checks that count, oldest first.</summary>
    public static Task<List<MeasureRow>> MeasuresOf(
        this NippersDb db,
        int machineId,
        IReadOnlyCollection<string> checkCodes,
        CancellationToken ct
    ) =>
        db
            .Measures.AsNoTracking()
            .Where(x => x.MachineId == machineId && x.Used && checkCodes.Contains(x.CheckCode))
            .OrderBy(x => x.At)
            .ToListAsync(ct);

    private sealed record LastFigure(string Code, double? Figure);

    /// <summary>The last figure of some checks that counts, by code; those never measured are left out.</summary>
    public static async Task<Dictionary<string, double>> LastMeasuresOf(
        this NippersDb db,
        int machineId,
        IReadOnlyCollection<string> checkCodes,
        CancellationToken ct
    )
    {
        var list = JsonSerializer.Serialize(checkCodes);
        var last = await db.Plain(
            $"""
            SELECT c.value AS Code, (
                SELECT m.Value FROM Measures m
                WHERE m.MachineId = {machineId} AND m.CheckCode = c.value AND m.Used
                ORDER BY m.AtMs DESC LIMIT 1) AS Figure
            FROM json_each({list}) c
            """,
            x => new LastFigure(x.GetString(0), x.IsDBNull(1) ? null : x.GetDouble(1)),
            ct
        );
        return last.Where(x => x.Figure is not null).ToDictionary(x => x.Code, x => x.Figure!.Value, StringComparer.Ordinal);
    }

    /// <summary>Compartments of a program, in order.</summary>
    public static Task<List<ProgramCompartment>> ProgramContents(this NippersDb db, int programId, CancellationToken ct) =>
        db.ProgramCompartments.AsNoTracking().Where(x => x.ProgramId == programId).OrderBy(x => x.Position).ToListAsync(ct);

    /// <summary>The open walk of a round on a machine.</summary>
    public static Task<WalkRow?> OpenWalk(this NippersDb db, int machineId, WalkRound round, CancellationToken ct) =>
        db.Walks.FirstOrDefaultAsync(x => x.MachineId == machineId && x.Round == round && x.State == WalkState.Open, ct);
}
