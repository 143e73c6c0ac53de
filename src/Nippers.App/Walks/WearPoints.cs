using System.Collections.Immutable;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Queries;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>A wear part of a machine: its measures, and when they reach its limit.</summary>
/// <param name="CheckCode">Code of the check that measures it.</param>
/// <param name="Name">Its name.</param>
/// <param name="New">Its measure when new.</param>
/// <param name="Limit">Its limit.</param>
/// <param name="Measures">Measures since it was new, oldest first.</param>
/// <param name="LimitAt">Life hours at which it reaches its limit; null when it cannot be said.</param>
public sealed record WornPart(
    string CheckCode,
    string Name,
    double New,
    double Limit,
    ImmutableArray<WearMeasure> Measures,
    double? LimitAt
)
{
    /// <summary>Worn share by the last measure.</summary>
    public double? Share => Measures.Length > 0 ? WearPart.Share(New, Measures[^1].Value, Limit) : null;
}

/// <summary>Wear parts of machines, for their pages and their due lists.</summary>
public static class WearPoints
{
    /// <summary>What a wear part's code begins with on due lists.</summary>
    public const string Prefix = "wear:";

    private const double Window = 25;

    private sealed record Point(int MachineId, string CheckCode, MeterHours LifeHours, double Value);

    private static readonly Func<NippersDb, List<int>, IAsyncEnumerable<MachineCheck>> Wearing = EF.CompileAsyncQuery(
        (NippersDb db, List<int> ids) =>
            db
                .MachineChecks.AsNoTracking()
                .Where(x => ids.Contains(x.MachineId) && x.New != null && (x.Low != null || x.High != null))
                .OrderBy(x => x.CheckCode)
                .AsQueryable()
    );

    /// <summary>Wear parts of some machines, by what was entered of them as new and as limit; two queries however many.</summary>
    public static async Task<ILookup<int, WornPart>> WornParts(this NippersDb db, IReadOnlyCollection<int> machineIds, CancellationToken ct)
    {
        var own = await Wearing(db, [.. machineIds]).ToListAsync(ct);
        if (own.Count == 0)
            return Array.Empty<(int Id, WornPart Part)>().ToLookup(x => x.Id, x => x.Part);
        var codes = own.Select(x => x.CheckCode).Distinct().ToList();
        var points = (
            await db
                .Measures.AsNoTracking()
                .Where(x => machineIds.Contains(x.MachineId) && x.Used && codes.Contains(x.CheckCode))
                .OrderBy(x => x.At)
                .Select(x => new Point(x.MachineId, x.CheckCode, x.LifeHours, x.Value))
                .ToListAsync(ct)
        ).ToLookup(x => (x.MachineId, x.CheckCode));
        return own.Select(mine =>
            {
                ImmutableArray<WearMeasure> measures =
                [
                    .. points[(mine.MachineId, mine.CheckCode)]
                        .Where(x => x.LifeHours >= (mine.NewAtHours ?? MeterHours.Zero))
                        .Select(x => new WearMeasure(x.LifeHours, x.Value)),
                ];
                var limit = (mine.Low ?? mine.High)!.Value;
                return (
                    mine.MachineId,
                    Part: new WornPart(mine.CheckCode, mine.Name, mine.New!.Value, limit, measures, WearPart.LimitAt(measures, limit))
                );
            })
            .ToLookup(x => x.MachineId, x => x.Part);
    }

    /// <summary>Names of wear parts as they stand on due lists, per machine.</summary>
    public static async Task<ILookup<int, (string Code, string Name)>> WearNames(
        this NippersDb db,
        IReadOnlyCollection<int> machineIds,
        CancellationToken ct
    ) =>
        (
            await db
                .MachineChecks.AsNoTracking()
                .Where(x => machineIds.Contains(x.MachineId) && x.New != null)
                .Select(x => new
                {
                    x.MachineId,
                    x.CheckCode,
                    x.Name,
                })
                .ToListAsync(ct)
        ).ToLookup(x => x.MachineId, x => (Prefix + x.CheckCode, x.Name));

    /// <summary>A worn part as a point of the due list; null when its limit cannot be projected.</summary>
    public static DuePoint? ToPoint(WornPart part, MachineFacts facts) =>
        part.LimitAt is not { } at || at > MeterHours.Max.Value
            ? null
            : new DuePoint
            {
                ItemCode = Prefix + part.CheckCode,
                Basis = DueBasis.Wear,
                IntervalBasis = IntervalBasis.Floating,
                DueHours = Math.Round(at, 1),
                BaseHours = part.Measures[0].Hours.Value,
                BaseOn = facts.Machine.CommissionedOn,
                WindowHours = Window,
            };
}
