using System.Collections.Immutable;
using Nippers.Core.Fluids;
using Nippers.Core.Jobs;
using Nippers.Data;
using Nippers.Data.Queries;

namespace Nippers.App.Visits;

/// <summary>A part to take along.</summary>
/// <param name="Number">Part number; empty when the position has none on record.</param>
/// <param name="For">Where it goes.</param>
/// <param name="Quantity">How many.</param>
/// <param name="Alternates">Numbers that may stand in.</param>
/// <param name="Here">On the shelf at the machine's site; null when the catalogue does not hold it.</param>
/// <param name="Elsewhere">On shelves of other sites.</param>
public sealed record TakePart(
    string Number,
    string Name,
    IReadOnlyList<string> For,
    int Quantity,
    IReadOnlyList<string> Alternates,
    int? Here,
    int Elsewhere
)
{
    /// <summary>How many are missing at the site.</summary>
    public int Missing => Math.Max(0, Quantity - (Here ?? 0));
}

/// <summary>A fluid to take along.</summary>
public sealed record TakeFluid(string Fluid, double Litres, int Pails, IReadOnlyList<string> For, IReadOnlyList<FluidNeed> Warned);

/// <summary>Room for what is drained, by waste stream.</summary>
public sealed record TakePails(string Stream, double Litres, int Pails);

/// <summary>A plug with its socket and torque.</summary>
public sealed record TakeTool(string Place, string Socket, string Torque, int Plugs, string Seal);

/// <summary>Everything to take along to a visit.</summary>
/// <param name="PailLitres">What one of the shop's pails holds.</param>
/// <param name="Unknown">Compartments that are drained and whose capacity nobody entered.</param>
public sealed record TakeList(
    IReadOnlyList<TakePart> Parts,
    IReadOnlyList<TakeFluid> Fluids,
    IReadOnlyList<TakePails> Pails,
    double PailLitres,
    IReadOnlyList<TakeTool> Tools,
    int Bottles,
    IReadOnlyList<string> Unknown
)
{
    /// <summary>What is taken along besides.</summary>
    public required IReadOnlyList<Gear> Gear { get; init; }

    /// <summary>Vessels for what runs out.</summary>
    public required IReadOnlyList<TakeVessel> Vessels { get; init; }

    public bool AnyMissing => Parts.Any(x => x.Missing > 0);

    /// <summary>Puts together what the items of a visit need.</summary>
    /// <param name="db">The database.</param>
    /// <param name="sheet">The machine.</param>
    /// <param name="items">Items of the visit.</param>
    /// <param name="steps">Steps of its card.</param>
    /// <param name="ct">Cancels.</param>
    public static async Task<TakeList> Of(
        NippersDb db,
        ServiceSheet sheet,
        IReadOnlyCollection<string> items,
        ImmutableArray<JobStep> steps,
        CancellationToken ct
    )
    {
        var machine = sheet.Facts.Machine;
        var jobs = sheet.JobItems(items);
        var codes = jobs.Select(x => x.Code).ToHashSet(StringComparer.Ordinal);
        var changed = jobs.Where(x => x.Work == ItemWork.Fluid).Select(x => x.Compartment).Distinct().ToList();
        var positions = sheet.Positions.Where(x => codes.Contains(x.ItemCode)).ToList();
        var partIds = positions.Where(x => x.PartId is not null).Select(x => x.PartId!.Value).Distinct().ToList();
        var shelves = (await db.ShelvesOf(partIds, ct)).ToLookup(x => x.PartId);
        var parts = positions
            .GroupBy(x => x.Part?.Number ?? "")
            .OrderBy(x => x.Key.Length == 0)
            .ThenBy(x => x.Key, StringComparer.Ordinal)
            .Select(group =>
            {
                var part = group.First().Part;
                var shelf = part is null ? [] : shelves[part.Id];
                return new TakePart(
                    group.Key,
                    part?.Name ?? "",
                    [.. group.Select(x => x.Name)],
                    group.Count(),
                    part is null ? [] : [.. sheet.Alternates[part.Id].Order(StringComparer.Ordinal)],
                    part is null ? null : shelf.Where(x => x.SiteId == machine.SiteId).Sum(x => x.Count),
                    shelf.Where(x => x.SiteId != machine.SiteId).Sum(x => x.Count)
                );
            })
            .ToList();

        var needs = changed.Where(sheet.Fluids.ContainsKey).Select(x => sheet.Fluids[x]).ToList();
        var own = machine.Compartments.ToDictionary(x => x.Code, StringComparer.Ordinal);
        var pail = sheet.Shop.Shop.PailLitres;
        return new(
            parts,
            FluidsOf(needs, TopUps(sheet, steps, changed), pail),
            [
                .. needs
                    .Where(x => x.Litres > 0)
                    .GroupBy(x => x.Stream)
                    .Select(x => new TakePails(x.Key, x.Sum(y => y.Litres ?? 0), Fill.Pails(x.Select(y => y.Litres ?? 0), pail))),
            ],
            pail,
            [
                .. needs
                    .Where(x => own.ContainsKey(x.Compartment))
                    .Select(x => (Need: x, Own: own[x.Compartment]))
                    .Select(x => new TakeTool(x.Need.Name, x.Own.Socket, x.Own.PlugTorque, x.Own.DrainPoints, x.Own.PlugSeal)),
            ],
            steps.Count(x => x.Input == InputKind.Bottle),
            [.. needs.Where(x => x.Litres is null).Select(x => x.Name)]
        )
        {
            Gear = [.. JobGear.Of(steps).Concat(codes.SelectMany(JobTables.GearOf)).Distinct().Order()],
            Vessels = JobGear.Vessels(steps),
        };
    }

    /// <summary>What goes in besides whole fills: what a filter and the draw-off before it took.</summary>
    private static List<(FluidNeed Need, double Litres)> TopUps(ServiceSheet sheet, ImmutableArray<JobStep> steps, List<string> changed) =>
        [
            .. steps
                .Where(x => x is { Input: InputKind.Fill, Litres: > 0 } && !changed.Contains(x.Compartment))
                .Where(x => sheet.Fluids.ContainsKey(x.Compartment))
                .Select(x => (sheet.Fluids[x.Compartment], x.Litres!.Value)),
        ];

    private static List<TakeFluid> FluidsOf(List<FluidNeed> needs, List<(FluidNeed Need, double Litres)> topUps, double pail) =>
        [
            .. needs
                .Where(x => x.Litres > 0)
                .Select(x => (Need: x, Litres: x.Litres!.Value))
                .Concat(topUps)
                .GroupBy(x => x.Need.Choice.Take)
                .Select(x => new TakeFluid(
                    x.Key,
                    x.Sum(y => y.Litres),
                    Fill.Pails(x.Select(y => y.Litres / Reserve), pail),
                    [.. x.Select(y => y.Need.Name).Distinct()],
                    [.. x.Select(y => y.Need).Distinct().Where(y => !y.Choice.Covers || y.Choice.InLeaves)]
                )),
        ];

    // What is bought needs no room to slosh: Pails adds a tenth for what is drained.
    private const double Reserve = 1.1;
}
