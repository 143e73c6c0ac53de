using System.Collections.Immutable;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Data;
using Nippers.Data.Parts;
using Nippers.Data.Visits;

namespace Nippers.App.Visits;

/// <summary>The workshop's money, time and vessels, as entered.</summary>
public sealed record ShopInput
{
    public int Version { get; init; }
    public string? Currency { get; init; }
    public string? Labour { get; init; }
    public string? CallOut { get; init; }
    public string? Haulage { get; init; }
    public string? LabFee { get; init; }
    public string? Downtime { get; init; }
    public string? CareHours { get; init; }
    public string? HorizonDays { get; init; }
    public string? PailLitres { get; init; }

    /// <summary>
    /// The plan by weeks: days ahead, percent of a day kept for breakdowns, money a minute by road, money for moving a job that was
    /// announced, days until a missing part comes.
    /// </summary>
    public string? PlanDays { get; init; }
    public string? ReservePercent { get; init; }
    public string? RoadPerMinute { get; init; }
    public string? MovingCost { get; init; }
    public string? PartsDays { get; init; }
    public bool OneAtATime { get; init; }
    public bool DrainHot { get; init; }
    public string? Vessels { get; init; }

    /// <summary>Fluids and their prices, a line each: name; price per litre.</summary>
    public string? Fluids { get; init; }
}

/// <summary>The workshop's settings with what they say of fluids.</summary>
public sealed record ShopPage(Shop Shop, IReadOnlyList<FluidRow> Fluids)
{
    public ImmutableArray<Vessel> Vessels => WorkshopService.ReadVessels(Shop.Vessels) ?? [];

    /// <summary>Money for minutes of hands.</summary>
    public double Labour(double minutes) => minutes / 60 * Shop.LabourPerHour.Value;

    /// <summary>Money for bottles at the laboratory.</summary>
    public double Lab(int bottles) => bottles * Shop.LabFee.Value;

    /// <summary>Money for minutes in which a machine stands; 0 where nobody entered what that costs.</summary>
    public double Downtime(double minutes) => minutes / 60 * Shop.DowntimePerHour.Value;

    /// <summary>Money for litres of a fluid; 0 when nobody entered its price.</summary>
    public double PriceOf(string fluid, double litres) => (Fluids.FirstOrDefault(x => x.Name == fluid)?.PerLitre.Value ?? 0) * litres;
}

/// <summary>Reads and saves the workshop's settings.</summary>
public sealed class WorkshopService(NippersDb db, UnitOfWork writes)
{
    private static readonly string[] Streams = ["oil", "coolant", "fuel"];
    private const int LongestList = 4000;
    private const double MostVessel = 5000;

    public async Task<ShopPage> Load(CancellationToken ct) => new(await TheShop(db, ct) ?? new(), await Fluids(db).ToListAsync(ct));

    private static readonly Func<NippersDb, CancellationToken, Task<Shop?>> TheShop = EF.CompileAsyncQuery(
        (NippersDb db, CancellationToken _) => db.Shop.AsNoTracking().SingleOrDefault()
    );

    private static readonly Func<NippersDb, IAsyncEnumerable<FluidRow>> Fluids = EF.CompileAsyncQuery(
        (NippersDb db) => db.Fluids.AsNoTracking().OrderBy(x => x.Name).AsQueryable()
    );

    public Task<Outcome<Shop>> Save(ShopInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                var shop = await db.Shop.SingleOrDefaultAsync(ct);
                if ((shop?.Version ?? 0) != input.Version)
                    return Outcome<Shop>.Refused(Refusals.ChangedMeanwhile());
                var currency = Typed.Words(input.Currency, "currency", 8, refusals);
                var labour = Typed.Money(input.Labour, "labour", refusals) ?? Money.Zero;
                var callOut = Typed.Money(input.CallOut, "callOut", refusals) ?? Money.Zero;
                var haulage = Typed.Money(input.Haulage, "haulage", refusals) ?? Money.Zero;
                var labFee = Typed.Money(input.LabFee, "labFee", refusals) ?? Money.Zero;
                var downtime = Typed.Money(input.Downtime, "downtime", refusals) ?? Money.Zero;
                var care = Typed.Whole(input.CareHours, "careHours", 10, 200, refusals) ?? 60;
                var horizon = Typed.Whole(input.HorizonDays, "horizonDays", 30, 400, refusals) ?? 180;
                var pail = (int)Math.Round(Typed.Volume(input.PailLitres, "pailLitres", 1, 1000, refusals)?.Value ?? 20);
                var (planDays, reserve, partsDays) = (
                    Typed.Whole(input.PlanDays, "planDays", 7, 56, refusals) ?? 28,
                    Typed.Whole(input.ReservePercent, "reservePercent", 0, 80, refusals) ?? 25,
                    Typed.Whole(input.PartsDays, "partsDays", 0, 120, refusals) ?? 5
                );
                var road = Typed.Money(input.RoadPerMinute, "roadPerMinute", refusals) ?? Money.Zero;
                var moving = Typed.Money(input.MovingCost, "movingCost", refusals) ?? Money.Zero;
                var vessels = Typed.Words(input.Vessels, "vessels", LongestList, refusals);
                if (ReadVessels(vessels) is null)
                    refusals.Add(Refusals.VesselLines());
                var fluids = ReadFluids(Typed.Words(input.Fluids, "fluids", LongestList, refusals));
                if (fluids is null)
                    refusals.Add(Refusals.FluidLines());
                if (refusals.Count > 0)
                    return Outcome<Shop>.Refused(refusals);

                shop ??= db.Shop.Add(new()).Entity;
                var before = new
                {
                    shop.LabourPerHour,
                    shop.CallOutCost,
                    shop.HaulageCost,
                    shop.LabFee,
                    shop.DowntimePerHour,
                    shop.CareHours,
                    shop.HorizonDays,
                    shop.PlanDays,
                    shop.ReservePercent,
                };
                (shop.Currency, shop.LabourPerHour, shop.CallOutCost, shop.CareHours, shop.HorizonDays, shop.PailLitres) = (
                    currency,
                    labour,
                    callOut,
                    care,
                    horizon,
                    pail
                );
                (shop.HaulageCost, shop.LabFee, shop.DowntimePerHour) = (haulage, labFee, downtime);
                (shop.PlanDays, shop.ReservePercent, shop.PartsDays) = (planDays, reserve, partsDays);
                (shop.RoadPerMinute, shop.MovingCost) = (road, moving);
                (shop.OneAtATime, shop.DrainHot, shop.Vessels) = (input.OneAtATime, input.DrainHot, vessels);
                shop.Version++;
                var kept = await db.Fluids.ToDictionaryAsync(x => x.Name, StringComparer.Ordinal, ct);
                foreach (var (name, price) in fluids!)
                {
                    if (kept.Remove(name, out var row))
                        row.PerLitre = price;
                    else
                        db.Fluids.Add(new() { Name = name, PerLitre = price });
                }

                db.Fluids.RemoveRange(kept.Values);
                writes.Audit(
                    actor,
                    "shop.save",
                    "",
                    null,
                    before,
                    new
                    {
                        shop.LabourPerHour,
                        shop.CallOutCost,
                        shop.HaulageCost,
                        shop.LabFee,
                        shop.DowntimePerHour,
                        shop.CareHours,
                        shop.HorizonDays,
                        shop.PlanDays,
                        shop.ReservePercent,
                    }
                );
                return Outcome<Shop>.Of(shop);
            },
            ct
        );

    /// <summary>Vessels of the lines; null when one can't be read.</summary>
    internal static ImmutableArray<Vessel>? ReadVessels(string lines)
    {
        var vessels = ImmutableArray.CreateBuilder<Vessel>();
        foreach (var cells in Lines(lines, 3))
        {
            if (
                cells is null
                || Typed.Cell(cells[1], MostVessel) is not { } litres
                || litres <= 0
                || !Streams.Contains(cells[2])
                || vessels.Any(x => x.Name == cells[0])
            )
                return null;
            vessels.Add(new(cells[0], litres, cells[2]));
        }

        return vessels.ToImmutable();
    }

    private static Dictionary<string, Money>? ReadFluids(string lines)
    {
        var fluids = new Dictionary<string, Money>(StringComparer.Ordinal);
        foreach (var cells in Lines(lines, 2))
        {
            if (cells is null || Typed.Cell(cells[1], 10_000) is not { } price || !fluids.TryAdd(cells[0], Money.Of(price)))
                return null;
        }

        return fluids;
    }

    /// <summary>Cells of each line; null for a line that has not so many.</summary>
    private static IEnumerable<string[]?> Lines(string text, int cells) =>
        text.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
            .Select(line => line.Split(';', StringSplitOptions.TrimEntries))
            .Select(line => line.Length == cells && line.All(x => x.Length > 0) ? line : null);
}
