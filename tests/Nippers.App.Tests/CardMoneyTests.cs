using Microsoft.EntityFrameworkCore;
using Nippers.App.Exchange;
using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Data.Visits;
using Nippers.Tests;
using static Nippers.App.Tests.CardRig;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>What closed cards teach of minutes, and what a visit costs beside parts, fluids and labour.</summary>
public sealed class CardMoneyTests
{
    private static readonly string[] Items = [Tension, "engine-oil-sample"];

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    /// <summary>Works a card through, each answer so many minutes after the one before.</summary>
    private static async Task<long> Worked(Fleet fleet, int hours, double pace, params string[] items)
    {
        var on = DateOnly.FromDateTime(fleet.Clock.GetUtcNow().UtcDateTime);
        var id = (await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(null, new(Unit, $"{on:yyyy-MM-dd}", items), Fleet.Tam, Ct))).Id;
        await Ok<OpenCard, VisitRow>(fleet, x => x.Run(id, $"{hours}", true, StepHeat.Cold, Fleet.Tam, Ct));
        while ((await Job(fleet, id)) is { State.Next: { } next } job)
        {
            if (job.State.TrueFrom(next) is { } over && over > fleet.Clock.GetUtcNow())
                fleet.Clock.Advance(over - fleet.Clock.GetUtcNow());
            fleet.Clock.Advance(TimeSpan.FromMinutes(next.TableMinutes * pace));
            Assert.True((await Keep(fleet, id, new(next.Code, Calm(job, next).With("mark", $"b-{id}")))).Result.Accepted, next.Code);
        }

        return id;
    }

    private static async Task<JobStep> Belts(Fleet fleet)
    {
        var sheet = (await fleet.Do<VisitProposals, VisitProposal?>(x => x.Of(Unit, Ct)))!.Sheet;
        return CardMaking.Make(sheet, [Tension], [], StepHeat.Cold).Steps.Single(x => x.Code == "belts.tension");
    }

    [Fact]
    public async Task A_machine_teaches_its_own_minutes_and_forgets_them_with_the_card()
    {
        await using var fleet = await Ready();
        var table = await Belts(fleet);
        Assert.Null(table.Table);
        var last = 0L;
        for (var i = 0; i < StepTimes.Least; i++)
        {
            Assert.Equal(table.Minutes, (await Belts(fleet)).Minutes);
            await Close(fleet, last = await Worked(fleet, 356 + i * 10, 1.5, Tension));
            fleet.Clock.Advance(TimeSpan.FromDays(1));
        }

        var learnt = await Belts(fleet);
        Assert.Equal((table.Minutes * 1.5, table.Minutes), (learnt.Minutes, learnt.TableMinutes));
        var cost = (await fleet.Do<VisitProposals, VisitProposal?>(x => x.Of(Unit, Ct)))!.Sheet.CostOf(Tension);
        Assert.Equal(learnt.Minutes, cost.Minutes);

        await Ok<CloseVisit, VisitRow>(fleet, x => x.Reopen(last, "another machine", Fleet.Tam, Ct));

        Assert.Equal((table.Minutes, null), ((await Belts(fleet)).Minutes, (await Belts(fleet)).Table));
        Assert.False(await fleet.Ask(db => db.StepMinutes.AnyAsync(Ct)));
    }

    [Fact]
    public async Task What_was_learnt_moves_house_with_the_cards()
    {
        await using var fleet = await Ready();
        for (var i = 0; i < StepTimes.Least; i++)
        {
            await Close(fleet, await Worked(fleet, 356 + i * 10, 1.5, Tension));
            fleet.Clock.Advance(TimeSpan.FromDays(1));
        }

        var kept = await fleet.Ask(db => db.StepMinutes.Select(x => x.Steps).SingleAsync(Ct));
        using var file = new MemoryStream();
        await fleet.Do<ExportFleet>(x => x.Run(file, null, Ct));
        await using var other = await Fleet.Empty();
        file.Position = 0;
        Assert.Empty((await other.Do<ImportFleet, Outcome<ImportedFleet>>(x => x.Run(file, Fleet.Tam, null, Ct))).Refusals);

        Assert.Equal(kept, await other.Ask(db => db.StepMinutes.Select(x => x.Steps).SingleAsync(Ct)));
    }

    [Fact]
    public async Task A_card_from_paper_teaches_nothing()
    {
        await using var fleet = await Ready();
        for (var i = 0; i < StepTimes.Least; i++)
        {
            var id = await Worked(fleet, 356 + i * 10, 1.5, Tension);
            await fleet.Ask(db => db.Steps.Where(x => x.VisitId == id).ExecuteUpdateAsync(x => x.SetProperty(y => y.Paper, true), Ct));
            await Close(fleet, id);
            fleet.Clock.Advance(TimeSpan.FromDays(1));
        }

        Assert.Null((await Belts(fleet)).Table);
    }

    [Fact]
    public async Task What_went_in_after_a_filter_is_what_goes_in_the_next_time()
    {
        var top = StarterCards.Input("starter-crawler-excavator", 1000, 0);
        double? Litres(JobInput input) => JobCardMaker.Make(input).Steps.Single(x => x.Code == "hydraulic-return.top").Litres;
        Assert.Equal(1.4, Litres(top));

        Assert.Equal(2.1, Litres(top with { Tops = new Dictionary<string, double> { ["hydraulic-return.top"] = 2.1 } }));
        await using var fleet = await Ready();
        foreach (var (day, litres, known) in new[] { (1, 2.0, 0), (2, 3.0, 1), (3, 2.2, 1) })
        {
            await fleet.Ask(async db =>
            {
                var visit = db
                    .Visits.Add(
                        new()
                        {
                            MachineId = await db.Machines.Select(x => x.Id).SingleAsync(Ct),
                            State = VisitState.Closed,
                            On = new(2026, 2, day),
                            PlannedBy = "Mara Quill",
                        }
                    )
                    .Entity;
                await db.SaveChangesAsync(Ct);
                db.Steps.Add(
                    new()
                    {
                        VisitId = visit.Id,
                        Code = "hydraulic-return.top",
                        By = "Tam Ollery",
                        Answer = JobContext.WriteAnswer(new FillAnswer(litres)),
                    }
                );
                return await db.SaveChangesAsync(Ct);
            });
            Assert.Equal(known, (await Tops()).Count);
        }

        Assert.Equal(2.2, (await Tops())["hydraulic-return.top"]);
        async Task<IReadOnlyDictionary<string, double>> Tops() =>
            (await fleet.Do<VisitProposals, VisitProposal?>(x => x.Of(Unit, Ct)))!.Sheet.Input.Tops;
    }

    private static async Task Enter(Fleet fleet, string? haulage = null, string? labFee = null, string? downtime = null)
    {
        var shop = await fleet.Ask(db => db.Shop.AsNoTracking().SingleAsync(Ct));
        await Ok<WorkshopService, Shop>(fleet, x => x.Save(
                new()
                {
                    Version = shop.Version,
                    Currency = "£",
                    Labour = "60",
                    CallOut = "140",
                    Haulage = haulage,
                    LabFee = labFee,
                    Downtime = downtime,
                    Vessels = "Pan; 30; oil",
                    Fluids = "15W-40; 4.00",
                },
                Mara,
                Ct
            ));
    }

    [Theory]
    [InlineData(null, null, null, false, 140, 0, 0)]
    [InlineData("380", "28", null, false, 140, 0, 28)]
    [InlineData("380", null, null, true, 0, 380, 0)]
    [InlineData(null, null, null, true, 0, 0, 0)]
    [InlineData("380", "28", "60", true, 0, 380, 28)]
    public async Task A_visit_costs_what_the_shop_entered(
        string? haulage,
        string? labFee,
        string? downtime,
        bool hauled,
        double callOut,
        double hauls,
        double lab
    )
    {
        await using var fleet = await Ready();
        await Enter(fleet, haulage, labFee, downtime);

        var draft = await Ok<PlanVisit, VisitDraft>(fleet, x => x.Draft(new(Unit, "2026-03-20", Items, Hauled: hauled), Ct));

        var money = draft.Visit.Money;
        Assert.Equal((callOut, hauls, lab), (money.CallOut, money.Haulage, money.Lab));
        Assert.Equal(downtime is null ? 0 : draft.Elapsed, money.Downtime, 1e-6);
        Assert.Equal(money.Parts + money.Fluids + money.Labour + callOut + hauls + lab + money.Downtime, money.Whole, 1e-6);
    }

    [Fact]
    public async Task A_visit_that_was_planned_hauled_is_shown_hauled()
    {
        await using var fleet = await Ready();
        await Enter(fleet, haulage: "380");
        var id = (await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(null, new(Unit, "2026-03-20", Items, Hauled: true), Fleet.Tam, Ct))).Id;

        var money = (await fleet.Do<VisitViews, PlannedVisitPage?>(x => x.Planned(id, Ct)))!.Draft.Visit.Money;

        Assert.Equal((0, 380), (money.CallOut, money.Haulage));
        Assert.Equal((await Row(fleet, id)).PlannedCost, Money.Of(money.Whole));
    }

    [Fact]
    public async Task What_was_planned_and_what_it_came_to_are_the_same_sum()
    {
        await using var fleet = await Ready();
        await Enter(fleet, "380", "28", "60");
        var id = await Worked(fleet, 356, 1.2, Items);
        var times = await fleet.Ask(db => db.Steps.Where(x => x.VisitId == id).Select(x => x.At).ToListAsync(Ct));

        var closed = await Close(fleet, id);

        Assert.Equal((closed.LabCost, new Money(2800)), (closed.RealLabCost!.Value, closed.LabCost));
        Assert.Equal(Money.Of((times.Max() - times.Min()).TotalHours * 60), closed.RealDowntimeCost);
        Assert.Equal(
            closed.RealPartsCost + closed.RealFluidsCost + closed.RealLabourCost + new Money(2800 + 14000) + closed.RealDowntimeCost,
            closed.RealCost
        );
        Assert.Equal(closed.RealCost - closed.RealDowntimeCost, closed.RealPaid);

        await Ok<CloseVisit, VisitRow>(fleet, x => x.Reopen(id, "another machine", Fleet.Tam, Ct));
        var again = await Row(fleet, id);
        Assert.Equal((null, null, null), (again.RealLabCost, again.RealDowntimeCost, again.RealCost));
    }

    [Fact]
    public async Task Two_people_are_both_paid_and_the_machine_stands_no_longer_for_it()
    {
        await using var fleet = await Ready();
        await Enter(fleet, "380", "28", "60");
        var draft = await Ok<PlanVisit, VisitDraft>(fleet, x => x.Draft(new(Unit, null, [Tension]), Ct));
        var both = await Ok<PlanVisit, VisitDraft>(fleet, x => x.Draft(new(Unit, null, [Tension], TwoPeople: true), Ct));
        var (one, two) = (draft.Visit.Money, both.Visit.Money);
        Assert.True(one.Labour > 0);
        Assert.Equal((2 * one.Labour, 2 * one.Minutes), (two.Labour, two.Minutes));
        Assert.Equal((draft.Elapsed, one.Downtime), (both.Elapsed, two.Downtime));

        // What is closed is reckoned alike: as long as it took, and both of them.
        var ids = new List<Money>();
        foreach (var people in new[] { false, true })
        {
            var id = await Worked(fleet, people ? 366 : 356, 1.2, Tension);
            await fleet.Ask(db => db.Visits.Where(x => x.Id == id).ExecuteUpdateAsync(x => x.SetProperty(v => v.TwoPeople, people), Ct));
            ids.Add((await Close(fleet, id)).RealLabourCost!.Value);
            fleet.Clock.Advance(TimeSpan.FromDays(1));
        }

        Assert.Equal(ids[0] + ids[0], ids[1]);
    }

    [Fact]
    public void A_machine_stands_by_day_and_nobody_counts_the_night()
    {
        var zone = TimeZoneInfo.FindSystemTimeZoneById("Pacific/Auckland");
        DateTimeOffset[] answered = [At("15T20:00"), At("15T23:30"), At("16T01:00"), At("16T19:00"), At("16T19:45")];

        Assert.Equal(300 + 45, CardTimes.Stood(answered, zone));
        Assert.Equal(0, CardTimes.Stood([], zone));
        static DateTimeOffset At(string of) => DateTimeOffset.Parse($"2026-06-{of}:00Z", System.Globalization.CultureInfo.InvariantCulture);
    }

    [Theory]
    [InlineData("haulage")]
    [InlineData("labFee")]
    [InlineData("downtime")]
    public async Task What_is_no_money_is_refused_beside_its_field(string field)
    {
        await using var fleet = await Ready();
        var before = await fleet.Ask(db => db.Shop.AsNoTracking().SingleAsync(Ct));

        var outcome = await fleet.Do<WorkshopService, Outcome<Shop>>(x =>
            x.Save(
                new()
                {
                    Version = before.Version,
                    Haulage = field == "haulage" ? "-1" : null,
                    LabFee = field == "labFee" ? "much" : null,
                    Downtime = field == "downtime" ? "1e99" : null,
                },
                Mara,
                Ct
            )
        );

        Assert.Equal(field, Assert.Single(outcome.Refusals).Field);
        Assert.Equal(before.Version, (await fleet.Ask(db => db.Shop.AsNoTracking().SingleAsync(Ct))).Version);
    }
}
