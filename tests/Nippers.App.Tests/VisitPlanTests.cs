using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Machines;
using Nippers.App.Visits;
using Nippers.Core.Defects;
using Nippers.Core.Jobs;
using Nippers.Core.Service;
using Nippers.Data.Defects;
using Nippers.Data.Visits;
using static Nippers.App.Tests.CardRig;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>Which visits are offered, what they are called, and which are made in one.</summary>
public sealed class VisitPlanTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    public static TheoryData<string, Func<VisitItem, VisitItem>, int, double> Changes =>
        new()
        {
            { "the day", x => x with { DueDay = x.DueDay + 20 }, 180, 140 },
            { "the window before", x => x with { EarlyDays = 0 }, 180, 140 },
            { "the window after", x => x with { LateDays = 0 }, 180, 140 },
            { "how often", x => x with { EveryDays = x.EveryDays * 2 }, 180, 140 },
            { "its cost", x => x with { Cost = x.Cost * 9 }, 180, 140 },
            { "its name", x => x with { Code = x.Code + "-2" }, 180, 140 },
            { "the horizon", x => x, 60, 140 },
            { "going there", x => x, 180, 0 },
        };

    [Theory]
    [MemberData(nameof(Changes))]
    public void A_plan_that_is_kept_is_made_anew_when_anything_of_it_differs(
        string what,
        Func<VisitItem, VisitItem> change,
        int horizon,
        double callOut
    )
    {
        var kept = new PlansKept();
        List<VisitItem> Items() =>
            [
                new("oil", 12, 10, 5, 40, 200, IntervalBasis.Floating),
                new("fuel", 19, 10, 5, 80, 90, IntervalBasis.Floating),
                new("belts", 45, 20, 10, 160, 60, IntervalBasis.Floating),
            ];
        var first = kept.Of(1, Items(), 180, 140);
        Assert.Same(first.Chosen, kept.Of(1, Items(), 180, 140).Chosen);

        List<VisitItem> other = [.. Items().Select(change)];
        var anew = kept.Of(1, other, horizon, callOut);
        Assert.True(!ReferenceEquals(first.Chosen, anew.Chosen), what);
        Assert.Equivalent(VisitPlanner.Propose(other, horizon, callOut), anew.Chosen, strict: true);
        Assert.Equivalent(VisitPlanner.Naive(other, horizon, callOut), anew.Naive, strict: true);
        Assert.NotSame(anew.Chosen, kept.Of(2, other, horizon, callOut).Chosen);
    }

    [Theory]
    [InlineData("250:60 250:40 2000:10", 250.0)]
    [InlineData("250:60 500:60 2000:10", 500.0)]
    [InlineData("250:30 2000:60", 2000.0)]
    [InlineData("500:0 250:0", 500.0)]
    [InlineData("250:50 500:25", 500.0)]
    [InlineData("250:51 500:25", 250.0)]
    [InlineData(":90 250:5", 250.0)]
    [InlineData(":90", null)]
    [InlineData("", null)]
    public void A_visit_is_named_by_its_work_and_not_by_one_filter(string items, double? name) =>
        Assert.Equal(
            name,
            VisitName.HoursOf(
                items
                    .Split(' ', StringSplitOptions.RemoveEmptyEntries)
                    .Select(x => x.Split(':'))
                    .Select(x =>
                        (
                            x[0].Length == 0 ? (double?)null : double.Parse(x[0], System.Globalization.CultureInfo.InvariantCulture),
                            double.Parse(x[1], System.Globalization.CultureInfo.InvariantCulture)
                        )
                    )
            )
        );

    // Two visits, each of one item that comes every 100 days.
    [Theory]
    [InlineData(5, 200, 140, 1)]
    [InlineData(7, 200, 140, 1)]
    [InlineData(8, 200, 140, 2)]
    [InlineData(5, 4000, 140, 2)]
    [InlineData(5, 4000, 300, 1)]
    public void Two_visits_within_a_week_are_joined_when_that_costs_less(int apart, double cost, double callOut, int visits)
    {
        VisitCandidate Candidate(string code, int day) =>
            new(code, code, new(code, day, 0, 0, 100, cost, IntervalBasis.Floating), new(cost, 0, 10, 0), null);
        var candidates = new[] { Candidate("a", 10), Candidate("b", 10 + apart) };
        PlannedVisit Visit(VisitCandidate x) => new(x.Plan.DueDay, [new(x.Code, x.Plan.DueDay, 0, 0)]);

        var joined = VisitProposals.Joined(candidates.Select(Visit), candidates.ToDictionary(x => x.Code), callOut);

        Assert.Equal(visits, joined.Count);
        Assert.Equal("a b", string.Join(' ', joined.SelectMany(x => x.Items).Select(x => x.Code).Order()));
        Assert.Equal(10, joined[0].Day);
    }

    [Fact]
    public void What_comes_twice_within_a_week_is_not_joined_into_one_turn()
    {
        var item = new VisitCandidate("a", "a", new("a", 1, 0, 0, 5, 1, IntervalBasis.Floating), new(1, 0, 1, 0), null);
        PlannedVisit Visit(int day) => new(day, [new("a", day, 0, 0)]);
        Assert.Equal(2, VisitProposals.Joined([Visit(1), Visit(6)], new Dictionary<string, VisitCandidate> { ["a"] = item }, 500).Count);
    }

    [Fact]
    public async Task A_stop_is_offered_for_a_visit_today_and_takes_its_time_on_the_card()
    {
        await using var fleet = await Ready();
        var stop = await Ok<ReportDefect, DefectRow>(fleet, x => x.Run(
                new()
                {
                    Unit = Unit,
                    On = MachinePart.Other,
                    Words = "rear axle breather blocked, oil at the seal",
                    Grade = DefectGrade.Stop,
                },
                Fleet.Tam,
                Ct
            ));
        var code = VisitProposals.DefectPrefix + stop.Id;

        var proposal = (await fleet.Do<VisitProposals, VisitProposal?>(x => x.Of(Unit, Ct)))!;

        var stopped = proposal.Candidates.Single(x => x.Code == code);
        Assert.Equal(0, stopped.Plan.DueDay);
        Assert.Equal(JobCardMaker.DefectMinutes, stopped.Cost.Minutes, 1e-9);
        Assert.Equal(proposal.Sheet.Shop.Labour(JobCardMaker.DefectMinutes), stopped.Cost.Labour, 1e-9);
        Assert.True(proposal.Visits[0].Money.Minutes >= JobCardMaker.DefectMinutes);
        Assert.Contains(proposal.Visits[0].Items, x => x.Candidate.Code == code);
        var without = await Ok<PlanVisit, VisitDraft>(fleet, x => x.Draft(new(Unit, "2026-03-20", [EngineOil]), Ct));
        var with = await Ok<PlanVisit, VisitDraft>(fleet, x => x.Draft(new(Unit, "2026-03-20", [EngineOil, code]), Ct));
        Assert.True(with.Visit.Money.Minutes >= without.Visit.Money.Minutes + 20);
    }

    [Theory]
    [InlineData("Service brake holds", "drags", "Service brake holds: drags")]
    [InlineData("", "drags", "drags")]
    public void A_repair_is_named_by_its_place_and_words(string place, string words, string name) =>
        Assert.Equal(name, VisitProposals.NameOf(place, words));

    [Fact]
    public async Task A_visit_that_no_interval_names_says_what_it_is_for()
    {
        await using var fleet = await Ready();
        var defect = await Ok<ReportDefect, DefectRow>(fleet, x => x.Run(
                new()
                {
                    Unit = Unit,
                    On = MachinePart.Other,
                    Words = "locker hinge squeaks",
                    Grade = DefectGrade.NextService,
                },
                Fleet.Tam,
                Ct
            ));
        var code = VisitProposals.DefectPrefix + defect.Id;
        var repair = await Plan(18, code);
        var dated = await fleet.Ask(db =>
            db.ProgramItems.FirstAsync(
                x =>
                    db.Machines.Any(m => m.Unit == Unit && m.ProgramId == x.ProgramId)
                    && x.EveryHours == null
                    && x.EveryMonths != null
                    && x.Needs == "",
                Ct
            )
        );
        var wear = await Plan(19, dated.Code, code);
        var service = await Plan(20, EngineOil);

        var lines = (await fleet.Do<VisitViews, VisitList>(x => x.List(new(), Ct))).Lines.ToDictionary(x => x.Visit.Id);

        Assert.Equal(0, lines[repair].Items);
        Assert.Equal(["locker hinge squeaks"], lines[repair].Names);
        Assert.Equal(1, lines[wear].Items);
        Assert.Equal(["locker hinge squeaks", dated.Name], lines[wear].Names);
        Assert.Empty(lines[service].Names);
        Assert.True(lines[service].Visit.NameHours > 0);
        var machine = (await fleet.Do<VisitViews, MachineVisits?>(x => x.OfMachine(Unit, Ct)))!.Visits.ToDictionary(x => x.Visit.Id);
        Assert.Equal(lines[wear].Names, machine[wear].Names);

        async Task<long> Plan(int day, params string[] codes) =>
            (await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(null, new(Unit, $"2026-03-{day}", codes), Mara, Ct))).Id;
    }

    [Fact]
    public async Task Nobody_drives_to_a_parked_machine_for_its_battery_alone()
    {
        await using var fleet = await Ready();
        bool Drives(VisitProposal proposal) =>
            proposal.Visits.Any(x => x.Items.All(i => i.Candidate.Code == "batteries" || i.CoveredBy is not null));
        await Ok<ParkMachine, Nippers.Data.Fleet.ParkedRow>(fleet, x => x.Park(Unit, null, "winter", Fleet.Tam, Ct));

        var proposal = (await fleet.Do<VisitProposals, VisitProposal?>(x => x.Of(Unit, Ct)))!;

        Assert.True(proposal.Candidates.Single(x => x.Code == "batteries").Joins);
        Assert.False(Drives(proposal));
        Assert.DoesNotContain(proposal.Plan.Visits.SelectMany(x => x.Items), x => x.Code == "batteries");
    }
}
