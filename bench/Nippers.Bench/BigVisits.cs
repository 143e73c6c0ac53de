using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Fleet;

namespace Nippers.Bench;

/// <summary>Five years of visits in the big database: parts, positions, filter log, shelves, closed visits without their cards.</summary>
internal static class BigVisits
{
    private const int Visits = 40;

    private static readonly string[] Places =
    [
        "engine-oil",
        "fuel-primary",
        "fuel-secondary",
        "air-primary",
        "air-safety",
        "hydraulic-return",
    ];

    public static async Task Make(NippersDb db, IReadOnlyList<Machine> machines, DateTimeOffset start, CancellationToken ct)
    {
        db.Shop.Add(
            new()
            {
                Currency = "£",
                LabourCentsPerHour = 5800,
                CallOutCents = 14000,
            }
        );
        foreach (var place in Places)
            db.Parts.Add(
                new()
                {
                    Number = $"BIG-{place.ToUpperInvariant()}",
                    Name = place,
                    PriceCents = 2000,
                    Version = 1,
                }
            );
        await db.SaveChangesAsync(ct);
        var parts = await db.Parts.ToDictionaryAsync(x => x.Name, x => x.Id, ct);
        var site = (await db.Sites.FirstAsync(ct)).Id;
        await using var transaction = await db.Database.BeginTransactionAsync(ct);
        using var positions = new BulkRows(
            db,
            "FilterPositions",
            "MachineId",
            "Code",
            "Name",
            "ItemCode",
            "PartId",
            "Thread",
            "Prefill",
            "Turn",
            "Litres"
        );
        using var log = new BulkRows(
            db,
            "FilterLog",
            "MachineId",
            "Position",
            "PositionName",
            "State",
            "Part",
            "Make",
            "On",
            "LifeTenths",
            "By",
            "EnteredMs",
            "Words",
            "Batch"
        );
        using var stock = new BulkRows(db, "StockMoves", "PartId", "SiteId", "Quantity", "Kind", "AtMs", "By", "Note");
        using var visits = new BulkRows(
            db,
            "Visits",
            "MachineId",
            "State",
            "On",
            "NameHours",
            "PlannedBy",
            "PlannedMs",
            "Note",
            "HandsMinutes",
            "ElapsedMinutes",
            "SavedMinutes",
            "RealMinutes",
            "PartsCents",
            "FluidsCents",
            "LabourCents",
            "CallOutCents",
            "WasteCents",
            "RealPartsCents",
            "RealFluidsCents",
            "RealLabourCents",
            "Card",
            "ProgramVersion",
            "LifeTenths",
            "ShownTenths",
            "ClosedBy",
            "ClosedMs",
            "Version"
        );
        foreach (var machine in machines)
        {
            foreach (var place in Places)
                positions.Add(machine.Id, place, place, place, parts[place], "", "Dry", "ThreeQuarters", 1.0);
            for (var i = 1; i <= Visits; i++)
            {
                var at = start.AddDays(45 * i);
                var (day, life) = (
                    at.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture),
                    45 * i * (30 + machine.Id % 40)
                );
                visits.Add(
                    machine.Id,
                    2,
                    day,
                    250,
                    "Mara Quill",
                    at.ToUnixTimeMilliseconds(),
                    "",
                    240,
                    260,
                    60,
                    280,
                    9000,
                    12000,
                    24000,
                    14000,
                    0,
                    9000,
                    12000,
                    27000,
                    "",
                    1,
                    life,
                    life,
                    "Tam Ollery",
                    at.ToUnixTimeMilliseconds(),
                    3
                );
                foreach (var place in Places)
                {
                    log.Add(
                        machine.Id,
                        place,
                        place,
                        0,
                        $"BIG-{place.ToUpperInvariant()}",
                        "",
                        day,
                        life,
                        "Tam Ollery",
                        at.ToUnixTimeMilliseconds(),
                        "",
                        $"v{machine.Id}-{i}"
                    );
                    stock.Add(
                        parts[place],
                        site,
                        i % 10 == 0 ? 10 : -1,
                        i % 10 == 0 ? 0 : 1,
                        at.ToUnixTimeMilliseconds(),
                        "Tam Ollery",
                        ""
                    );
                }
            }
        }

        await transaction.CommitAsync(ct);
    }
}
