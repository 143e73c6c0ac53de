using Microsoft.EntityFrameworkCore;
using Nippers.App.Parts;
using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Core.Walk;
using Nippers.Data.Parts;
using Nippers.Data.Queries;
using Nippers.Data.Visits;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>A loader whose manual and parts book are entered, and cards on it worked through.</summary>
internal static class CardRig
{
    internal const string Unit = "WL-01";
    internal const string EngineOil = "engine-oil";
    internal const string Fuel = "fuel-secondary";
    internal const string Tension = "belts";

    internal static readonly Actor Mara = new("Mara Quill", Roles.Planner);

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    /// <summary>A loader whose manual and parts book are entered.</summary>
    internal static async Task<Fleet> Ready()
    {
        var fleet = await Fleet.WithLoader();
        await Ok<MachineData, Nothing>(fleet, x =>
            x.Save(
                Unit,
                new([new("engine", "24.5", "15W-40", "1.4", "1", "68 Nm", "", "22 mm", "8", "")], null, null, null, null, null),
                Fleet.Tam,
                Ct
            )
        );
        await Ok<WorkshopService, Shop>(fleet, x => x.Save(
                new()
                {
                    Currency = "£",
                    Labour = "60",
                    CallOut = "140",
                    DrainHot = false,
                    Vessels = "Pan; 30; oil",
                    Fluids = "15W-40; 4.00",
                },
                Mara,
                Ct
            ));
        foreach (var (number, item, length) in new[] { ("UM7-110", EngineOil, "174"), ("UM7-122", Fuel, "168") })
        {
            await Ok<PartCatalog, PartRow>(fleet, x => x.Save(
                    new()
                    {
                        Number = number,
                        Name = item,
                        Make = "Ulmar",
                        LengthMm = length,
                        OuterMm = "93",
                        SealMm = "71",
                        Thread = "M24x1.5",
                        Price = "20",
                    },
                    Fleet.Tam,
                    Ct
                ));
            await Ok<PartCatalog, StockMove>(fleet, x => x.Move(number, "Yard", StockMoveKind.Receipt, "2", null, null, Fleet.Tam, Ct));
            await Ok<PartCatalog, FilterPosition>(fleet, x => x.SavePosition(
                    Unit,
                    new()
                    {
                        Code = item,
                        Name = item,
                        Item = item,
                        Part = number,
                        LengthMm = length,
                        OuterMm = "93",
                        SealMm = "71",
                        Thread = "M24x1.5",
                        Litres = item == EngineOil ? "1.4" : "0",
                    },
                    Fleet.Tam,
                    Ct
                ));
        }

        return fleet;
    }

    /// <summary>Code of the first thing that stands against it.</summary>
    internal static async Task<string> RefusedWith<TCase, T>(Fleet fleet, Func<TCase, Task<Outcome<T>>> use)
        where TCase : notnull
        where T : class
    {
        var outcome = await fleet.Do(use);
        Assert.False(outcome.Done);
        return outcome.Refusals[0].Code;
    }

    /// <summary>Enters the litres between the marks of the engine's dipstick: with them its changes have a balance.</summary>
    internal static Task EnterStick(Fleet fleet) =>
        fleet.Ask(async db =>
        {
            var machine = await db.Machines.SingleAsync(x => x.Unit == Unit, Ct);
            var check = (await db.ListOf(machine, Ct))!.ToList().Checks.First(x => x.Compartment == "engine");
            db.MachineChecks.Add(
                new()
                {
                    MachineId = machine.Id,
                    CheckCode = check.Code,
                    MarkLitres = new Litres(4),
                }
            );
            return await db.SaveChangesAsync(Ct);
        });

    internal static async Task<long> Planned(Fleet fleet, params string[] items) =>
        (await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(null, new(Unit, "2026-03-16", items), Fleet.Tam, Ct))).Id;

    internal static async Task<long> Opened(Fleet fleet, params string[] items)
    {
        var id = await Planned(fleet, items);
        await Ok<OpenCard, VisitRow>(fleet, x => x.Run(id, "356", false, StepHeat.Cold, Fleet.Tam, Ct));
        return id;
    }

    internal static Task<JobContext> Job(Fleet fleet, long id) => fleet.Do<VisitViews, JobContext>(async x => (await x.Job(id, Ct))!);

    internal static Task<SavedStep> Keep(Fleet fleet, long id, StepInput input, Actor? by = null) =>
        Ok<SaveStep, SavedStep>(fleet, x => x.Run(id, input, by ?? Fleet.Tam, Ct));

    /// <summary>What a calm day answers.</summary>
    internal static TypedFields Calm(JobContext job, JobStep step)
    {
        var form = TypedFields
            .None.With("done", true)
            .With("name", step.Qualified ? "Gil Rennard" : null)
            .With("note", step.NeedsWords ? "looked at, paste of the first hours" : null)
            .WithAll("ticked", step.Parts);
        return step.Input switch
        {
            InputKind.Tick or InputKind.Look => form,
            InputKind.Level => form.With("level", 100)
                .With("litres", step.Code.EndsWith("recheck", StringComparison.Ordinal) ? "1.4" : null),
            InputKind.Drained => form.With("litres", "23.1"),
            InputKind.Fill => form.With("litres", "23.1"),
            InputKind.Magnet => form.With("metal", MetalFinding.FinePaste),
            InputKind.Water => form.With("water", DrainAmount.None),
            InputKind.Plug => form.With("count", step.Points).With("sealNew", true).With("turned", true),
            InputKind.Count => form.With("count", step.Points),
            InputKind.Pressure => form.WithAll("figures", ["4"]),
            InputKind.Volts => form.WithAll("figures", ["12.7", "12.7"]),
            InputKind.Measured => form.WithAll("figures", step.Figures.Select(_ => "12")),
            InputKind.BeforeAfter => form.WithAll("figures", ["40", "35"]),
            InputKind.Coolant => form.WithAll("figures", ["50"]),
            InputKind.Filter => form.With("metal", MetalFinding.FinePaste)
                .With("part", step.Part)
                .With("sealOff", true)
                .With("seatWiped", true)
                .With("sealNew", true)
                .With("turned", true)
                .With("written", true),
            InputKind.Bottle => form.With("mark", "b-1"),
            InputKind.Touched => form.WithAll("home", job.State.TouchedBefore(step)),
            InputKind.Waste => form.With("mark", "Tideway"),
        };
    }

    /// <summary>Does what is left of a card, or up to a step.</summary>
    internal static async Task Through(Fleet fleet, long id, string? upTo = null, bool waits = true)
    {
        while (true)
        {
            var job = await Job(fleet, id);
            if (job.State.Next is not { } next)
                return;
            if ((waits || next.Code != upTo) && job.State.TrueFrom(next) is { } over && over > fleet.Clock.GetUtcNow())
                fleet.Clock.Advance(over - fleet.Clock.GetUtcNow());
            if (next.Code == upTo)
                return;
            var by = next.Besides.Length > 0 ? Fleet.Bea : null;
            Assert.True((await Keep(fleet, id, new(next.Code, Calm(job, next)), by)).Result.Accepted, next.Code);
        }
    }

    internal static async Task<VisitRow> Close(Fleet fleet, long id) =>
        await Ok<CloseVisit, VisitRow>(fleet, async x => await x.Run(id, new("95", "calm", (await Row(fleet, id)).Version), Fleet.Tam, Ct));

    internal static Task<VisitRow> Row(Fleet fleet, long id) =>
        fleet.Ask(db => db.Visits.AsNoTracking().Include(x => x.Items).SingleAsync(x => x.Id == id, Ct));
}
