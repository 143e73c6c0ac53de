using Microsoft.EntityFrameworkCore;
using Nippers.App.Visits;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Core.Parts;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Parts;
using Nippers.Data.Visits;
using Nippers.Tests;

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
                LabourPerHour = new Money(5800),
                CallOutCost = new Money(14000),
            }
        );
        foreach (var place in Places)
            db.Parts.Add(
                new()
                {
                    Number = $"BIG-{place.ToUpperInvariant()}",
                    Name = place,
                    Price = new Money(2000),
                    Version = 1,
                }
            );
        await db.SaveChangesAsync(ct);
        var parts = await db.Parts.ToDictionaryAsync(x => x.Name, x => x.Id, ct);
        var site = (await db.Sites.FirstAsync(ct)).Id;
        var learnt = Learnt();
        db.StepMinutes.AddRange(machines.Select(x => new StepMinutesRow { MachineId = x.Id, Steps = learnt }));
        await db.SaveChangesAsync(ct);
        await using var transaction = await db.Database.BeginTransactionAsync(ct);
        using var positions = new BulkRows<FilterPosition>(db);
        using var log = new BulkRows<FilterLogRow>(db);
        using var stock = new BulkRows<StockMove>(db);
        using var visits = new BulkRows<VisitRow>(db);
        foreach (var machine in machines)
        {
            foreach (var place in Places)
                positions.Add(
                    new()
                    {
                        MachineId = machine.Id,
                        Code = place,
                        Name = place,
                        ItemCode = place,
                        PartId = parts[place],
                        Thread = "",
                        Prefill = PrefillRule.Dry,
                        Turn = TurnRule.ThreeQuarters,
                        Litres = new Litres(1.0),
                    }
                );
            for (var i = 1; i <= Visits; i++)
            {
                var at = start.AddDays(45 * i);
                var (day, life) = (DateOnly.FromDateTime(at.UtcDateTime), new MeterHours(45 * i * (30 + machine.Id % 40)));
                visits.Add(
                    new()
                    {
                        MachineId = machine.Id,
                        State = VisitState.Closed,
                        On = day,
                        NameHours = 250,
                        PlannedBy = "Mara Quill",
                        PlannedAt = at,
                        Note = "",
                        HandsMinutes = 240,
                        ElapsedMinutes = 260,
                        SavedMinutes = 60,
                        RealMinutes = 280,
                        PartsCost = new Money(9000),
                        FluidsCost = new Money(12000),
                        LabourCost = new Money(24000),
                        CallOutCost = new Money(14000),
                        WasteCost = new Money(0),
                        RealPartsCost = new Money(9000),
                        RealFluidsCost = new Money(12000),
                        RealLabourCost = new Money(27000),
                        Card = "",
                        ProgramVersion = 1,
                        LifeHours = life,
                        ShownHours = life,
                        ClosedBy = "Tam Ollery",
                        ClosedAt = at,
                        Version = 3,
                    }
                );
                foreach (var place in Places)
                {
                    log.Add(
                        new()
                        {
                            MachineId = machine.Id,
                            Position = place,
                            PositionName = place,
                            State = 0,
                            Part = $"BIG-{place.ToUpperInvariant()}",
                            Make = "",
                            On = day,
                            LifeHours = life,
                            By = "Tam Ollery",
                            EnteredAt = at,
                            Words = "",
                            Batch = $"v{machine.Id}-{i}",
                        }
                    );
                    stock.Add(
                        new()
                        {
                            PartId = parts[place],
                            SiteId = site,
                            Quantity = i % 10 == 0 ? 10 : -1,
                            Kind = i % 10 == 0 ? StockMoveKind.Receipt : StockMoveKind.Issue,
                            At = at,
                            By = "Tam Ollery",
                            Note = "",
                        }
                    );
                }
            }
        }

        await transaction.CommitAsync(ct);
    }

    /// <summary>Minutes of every step of a large card, as some closed cards would have taught them.</summary>
    private static string Learnt()
    {
        var steps = JobCardMaker.Make(StarterCards.Input("starter-crawler-excavator", 2000, 0)).Steps;
        return CardTimes.Write(
            StepTimes.Learn(
                Enumerable.Repeat(steps.Where(x => x.Minutes > 0).Select(x => (StepTimes.KeyOf(x), x.Minutes)), StepTimes.Least)
            )
        );
    }
}
