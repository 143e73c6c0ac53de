using System.Text.Json.Nodes;
using CsCheck;
using Nippers.Core.Service;
using Nippers.Formats.Evaluate;

namespace Nippers.Core.Tests;

/// <summary>Which visits to make: against exact optima, against the rules read a second time, and against chance.</summary>
public sealed class VisitPlannerTests
{
    private const double TogetherWithin = 1.02;

    private static readonly JsonArray Cases = JsonNode
        .Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "Fixtures", "visit.json")))!
        .AsArray();

    private static readonly Gen<VisitItem> Items = Gen.Select(
            Gen.Int[0, 90],
            Gen.Int[0, 12],
            Gen.Int[0, 12],
            Gen.Int[26, 200],
            Gen.Int[0, 900],
            Gen.Bool
        )
        .Select(
            (due, early, late, every, cost, grid) =>
                new VisitItem("", due, early, late, every, cost, grid ? IntervalBasis.Fixed : IntervalBasis.Floating)
        );

    private static readonly Gen<List<VisitItem>> Machines = Items
        .List[1, 9]
        .Select(list => list.Select((x, i) => x with { Code = $"i{i}" }).ToList());

    [Fact]
    public void Worked_cases_cost_no_less_than_their_optimum_and_together_within_two_percent_of_it()
    {
        double ours = 0,
            best = 0;
        foreach (var given in Cases.Select(x => x!.AsObject()))
        {
            var result = JsonNode.Parse(Evaluator.Run("visit", new JsonArray(given.DeepClone()).ToJsonString()).Json!)![0]!;
            var (items, horizon, callOut) = Read(given);
            var name = (string)given["name"]!;
            var cost = (double)result["cost"]!;
            var optimum = (double)given["expect"]!["cost"]!;

            Assert.True(cost >= optimum - 0.01, $"{name}: {cost} is below {optimum}");
            Check(name, items, horizon, callOut, VisitPlanner.Propose(items, horizon, callOut), cost);
            Assert.Equal((double)given["expect"]!["naive"]!["cost"]!, (double)result["naive"]!["cost"]!, 1e-2);
            ours += cost;
            best += optimum;
        }

        Assert.True(ours <= best * TogetherWithin, $"{ours} against {best}");
    }

    [Fact]
    public void Any_plan_keeps_the_rules_and_says_its_true_cost() =>
        Machines.Sample(items =>
        {
            var plan = VisitPlanner.Propose(items, 120, 150);
            Check("chance", items, 120, 150, plan, plan.Cost);
        });

    /// <summary>Work of every day or two has a window longer than its interval; its turns must not run into each other.</summary>
    [Fact]
    public void Windows_wider_than_an_interval_still_lead_to_a_plan_that_keeps_the_rules() =>
        Gen.Select(Gen.Int[0, 20], Gen.Int[0, 15], Gen.Int[0, 15], Gen.Int[1, 14], Gen.Int[0, 900], Gen.Bool)
            .Select(
                (due, early, late, every, cost, grid) =>
                    new VisitItem("", due, early, late, every, cost, grid ? IntervalBasis.Fixed : IntervalBasis.Floating)
            )
            .List[1, 4]
            .Select(list => list.Select((x, i) => x with { Code = $"i{i}" }).ToList())
            .Sample(
                items =>
                {
                    var plan = VisitPlanner.Propose(items, 40, 150);
                    Check("chance", items, 40, 150, plan, plan.Cost);
                    Assert.True(plan.Cost <= VisitPlanner.Naive(items, 40, 150).Cost + 1e-6);
                },
                iter: 60
            );

    [Theory]
    [InlineData(1, 12, IntervalBasis.Fixed)]
    [InlineData(1, 0, IntervalBasis.Floating)]
    [InlineData(7, 7, IntervalBasis.Fixed)]
    [InlineData(7, 30, IntervalBasis.Floating)]
    public void An_item_that_may_be_later_than_its_next_turn_is_done_each_turn(int every, int late, IntervalBasis basis)
    {
        List<VisitItem> items = [new("often", 3, 12, late, every, 20, basis), new("seldom", 24, 3, 0, 30, 400, IntervalBasis.Fixed)];
        var plan = VisitPlanner.Propose(items, 90, 300);
        Check("often", items, 90, 300, plan, plan.Cost);
        Assert.NotEmpty(VisitPlanner.Naive(items, 90, 300).Visits);
    }

    [Fact]
    public void No_plan_costs_more_than_going_each_time() =>
        Machines.Sample(items => VisitPlanner.Propose(items, 120, 150).Cost <= VisitPlanner.Naive(items, 120, 150).Cost + 1e-6);

    [Fact]
    public void Where_a_quick_look_would_end_above_going_each_time_the_plan_begins_there()
    {
        // Nine kinds, so that only the cheapest way to each day is kept.
        List<VisitItem> items =
        [
            new("i0", 86, 4, 2, 66, 348, IntervalBasis.Floating),
            new("i1", 49, 0, 4, 92, 427, IntervalBasis.Fixed),
            new("i2", 34, 11, 3, 193, 528, IntervalBasis.Floating),
            new("i3", 69, 8, 3, 88, 348, IntervalBasis.Floating),
            new("i4", 2, 12, 0, 123, 559, IntervalBasis.Fixed),
            new("i5", 34, 8, 6, 138, 571, IntervalBasis.Fixed),
            new("i6", 80, 10, 1, 42, 301, IntervalBasis.Floating),
            new("i7", 23, 0, 4, 150, 787, IntervalBasis.Floating),
            new("i8", 11, 2, 5, 63, 453, IntervalBasis.Floating),
        ];

        Assert.True(VisitPlanner.Propose(items, 120, 150).Cost <= VisitPlanner.Naive(items, 120, 150).Cost);
    }

    [Fact]
    public void Items_that_fall_due_alike_stay_together()
    {
        List<VisitItem> items =
        [
            .. Enumerable.Range(0, 30).Select(i => new VisitItem($"i{i}", 20 + i % 3 * 2, 5, 5, 60, 40, IntervalBasis.Fixed)),
        ];

        var plan = VisitPlanner.Propose(items, 60, 140);

        Assert.Equal(30, Assert.Single(plan.Visits).Items.Length);
    }

    [Fact]
    public void What_is_past_due_is_done_at_the_first_visit_and_a_strict_item_never_late()
    {
        List<VisitItem> items = [new("past", 0, 0, 3, 60, 100, IntervalBasis.Fixed), new("strict", 2, 0, 0, 365, 10, IntervalBasis.Fixed)];

        var plan = VisitPlanner.Propose(items, 30, 500);

        var visit = Assert.Single(plan.Visits);
        Assert.Equal(2, visit.Day);
        Assert.Equal(100 * 10 * 2 / 60.0, plan.Lateness, 1e-6);
    }

    [Fact]
    public void Fixed_days_that_come_too_late_are_no_plan()
    {
        List<VisitItem> items = [new("a", 10, 2, 2, 100, 50, IntervalBasis.Floating)];

        Assert.Null(VisitPlanner.PlanOf(items, [20], 60, 10));
        Assert.Equal(10 + 50 * 2 / 100.0, VisitPlanner.PlanOf(items, [8], 60, 10)!.Cost, 1e-6);
    }

    [Fact]
    public void Nothing_due_is_no_visit() =>
        Assert.Empty(VisitPlanner.Propose([new("far", 200, 5, 5, 300, 10, IntervalBasis.Fixed)], 60, 100).Visits);

    /// <summary>Reads the rules a second time: each turn in its window, forced when it has come, and the cost added up anew.</summary>
    private static void Check(string name, List<VisitItem> items, int horizon, double callOut, VisitPlan plan, double said)
    {
        var cost = plan.Visits.Length * callOut;
        Assert.Equal(plan.Visits.Length, plan.Visits.Select(x => x.Day).Distinct().Count());
        foreach (var item in items)
        {
            var due = item.DueDay;
            foreach (var visit in plan.Visits)
            {
                var here = visit.Items.Any(x => x.Code == item.Code);
                if (due <= visit.Day)
                    Assert.True(here, $"{name}: {item.Code} has come by day {visit.Day} and is not done");
                if (!here)
                    continue;
                Assert.True(visit.Day >= due - item.EarlyDays, $"{name}: {item.Code} on day {visit.Day} is before its window");
                cost +=
                    item.Cost * Math.Max(0, due - visit.Day) / item.EveryDays
                    + 10 * item.Cost * Math.Max(0, visit.Day - due) / item.EveryDays;
                Assert.True(
                    visit.Day <= due + item.LateDays || due + item.LateDays > horizon,
                    $"{name}: {item.Code} on day {visit.Day} is late"
                );
                due = (item.IntervalBasis == IntervalBasis.Fixed ? due : visit.Day) + item.EveryDays;
            }

            Assert.True(due + item.LateDays > horizon, $"{name}: {item.Code} of day {due} is never done");
        }

        Assert.Equal(cost, said, 0.001);
    }

    private static (List<VisitItem> Items, int Horizon, double CallOut) Read(JsonObject given) =>
        (
            [
                .. given["items"]!
                    .AsArray()
                    .Select(x => new VisitItem(
                        (string)x!["code"]!,
                        (int)x["dueDay"]!,
                        (int)x["earlyDays"]!,
                        (int)x["lateDays"]!,
                        (int)x["everyDays"]!,
                        (double)x["cost"]!,
                        (string)x["school"]! == "grid" ? IntervalBasis.Fixed : IntervalBasis.Floating
                    )),
            ],
            (int)given["horizonDays"]!,
            (double)given["callOut"]!
        );
}
