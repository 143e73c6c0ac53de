using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Queries;
using Nippers.Data.Visits;

namespace Nippers.App.Parts;

/// <summary>What planned visits take of a part at a site, and what its shelf holds.</summary>
/// <param name="PartId">The part.</param>
/// <param name="SiteId">The site.</param>
/// <param name="Needed">Pieces.</param>
/// <param name="First">The day of the first visit that takes one.</param>
/// <param name="OnShelf">Pieces.</param>
public sealed record ShelfNeed(int PartId, int SiteId, int Needed, DateOnly First, int OnShelf);

/// <summary>Holds visits against the shelves of their sites.</summary>
internal static class ShelfNeeds
{
    /// <summary>What some visits take, in two questions.</summary>
    public static async Task<IReadOnlyList<ShelfNeed>> Of(NippersDb db, IQueryable<VisitRow> visits, CancellationToken ct)
    {
        var needed = await visits
            .Join(
                db.VisitItems,
                x => x.Id,
                x => x.VisitId,
                (v, i) =>
                    new
                    {
                        v.MachineId,
                        v.Machine.SiteId,
                        v.On,
                        i.ItemCode,
                    }
            )
            .Join(
                db.FilterPositions.Where(x => x.PartId != null),
                x => new { x.MachineId, x.ItemCode },
                x => new { x.MachineId, x.ItemCode },
                (x, p) =>
                    new
                    {
                        Part = p.PartId!.Value,
                        x.SiteId,
                        x.On,
                    }
            )
            .GroupBy(x => new { x.Part, x.SiteId })
            .Select(g => new
            {
                g.Key.Part,
                g.Key.SiteId,
                Count = g.Count(),
                First = g.Min(x => x.On),
            })
            .ToListAsync(ct);
        if (needed.Count == 0)
            return [];
        var shelves = (await db.ShelvesOf(needed.Select(x => x.Part), ct)).ToDictionary(x => (x.PartId, x.SiteId), x => x.Count);
        return [.. needed.Select(x => new ShelfNeed(x.Part, x.SiteId, x.Count, x.First, shelves.GetValueOrDefault((x.Part, x.SiteId))))];
    }
}
