using CsCheck;
using Nippers.Core.Jobs;

namespace Nippers.Core.Tests;

/// <summary>In which order hands go through a card, and how much time overlapping saves.</summary>
public sealed class JobOrderTests
{
    private static OrderStep Step(
        string code,
        JobPhase phase,
        double hands,
        double wait = 0,
        string after = "",
        string access = "",
        double? vessel = null,
        double drain = 0,
        string named = ""
    ) => new(code, phase, hands, wait, [.. after.Split(' ', StringSplitOptions.RemoveEmptyEntries)], access, "", vessel, drain, named);

    private static double Start(JobOrder order, string code) => order.Order.Single(x => x.Code == code).Start;

    private static double End(JobOrder order, string code) => order.Order.Single(x => x.Code == code).End;

    [Fact]
    public void Filters_are_changed_while_oil_runs_out()
    {
        var order = JobOrder.Of(
            [
                Step("filter", JobPhase.Meanwhile, 8),
                Step("drain", JobPhase.Drain, 4, 20, vessel: 30, drain: 24),
                Step("plug", JobPhase.Refill, 3, after: "drain"),
            ],
            false
        );

        Assert.Equal(["drain", "filter", "plug"], order.Order.Select(x => x.Code));
        Assert.Equal((15, 27, 35), (order.HandsOnMinutes, order.ElapsedMinutes, order.SerialMinutes));
    }

    [Fact]
    public void The_slowest_drain_goes_first()
    {
        var order = JobOrder.Of(
            [Step("quick", JobPhase.Drain, 2, 5, vessel: 9, drain: 8), Step("slow", JobPhase.Drain, 2, 40, vessel: 300, drain: 220)],
            false
        );

        Assert.Equal(["slow", "quick"], order.Order.Select(x => x.Code));
    }

    [Fact]
    public void One_stays_with_a_drain_whose_vessel_is_too_small()
    {
        // 24 L want 26.4.
        var alone = JobOrder.Of(
            [Step("drain", JobPhase.Drain, 4, 20, vessel: 26.4, drain: 24), Step("grease", JobPhase.Meanwhile, 10)],
            false
        );
        var watched = JobOrder.Of(
            [Step("drain", JobPhase.Drain, 4, 20, vessel: 26, drain: 24), Step("grease", JobPhase.Meanwhile, 10)],
            false
        );
        var none = JobOrder.Of([Step("drain", JobPhase.Drain, 4, 20, drain: 24), Step("grease", JobPhase.Meanwhile, 10)], false);

        Assert.Equal(4, Start(alone, "grease"));
        Assert.Equal(24, Start(watched, "grease"));
        Assert.Equal(24, Start(none, "grease"));
    }

    [Fact]
    public void Two_drains_never_run_into_one_pan()
    {
        var order = JobOrder.Of(
            [
                Step("a", JobPhase.Drain, 2, 30, vessel: 30, drain: 20, named: "pan"),
                Step("b", JobPhase.Drain, 2, 10, vessel: 30, drain: 20, named: "pan"),
            ],
            false
        );

        Assert.True(Start(order, "b") >= End(order, "a"));
    }

    [Fact]
    public void One_at_a_time_never_has_two_waits_open()
    {
        OrderStep[] steps =
        [
            Step("a", JobPhase.Drain, 2, 30, vessel: 30, drain: 20),
            Step("b", JobPhase.Drain, 2, 10, vessel: 30, drain: 20),
        ];

        Assert.True(Start(JobOrder.Of(steps, false), "b") < End(JobOrder.Of(steps, false), "a"));
        Assert.True(Start(JobOrder.Of(steps, true), "b") >= End(JobOrder.Of(steps, true), "a"));
    }

    [Fact]
    public void What_shares_access_stands_together()
    {
        var order = JobOrder.Of(
            [
                Step("a", JobPhase.Meanwhile, 5, access: "belly-pan"),
                Step("b", JobPhase.Meanwhile, 5),
                Step("c", JobPhase.Meanwhile, 5, access: "belly-pan"),
                Step("d", JobPhase.Meanwhile, 5),
                Step("e", JobPhase.Meanwhile, 5, access: "belly-pan"),
            ],
            false
        );
        var pan = order.Order.Select((x, i) => (x.Code, i)).Where(x => x.Code is "a" or "c" or "e").Select(x => x.i).ToList();

        Assert.Equal(2, pan.Max() - pan.Min());
    }

    [Fact]
    public void Nobody_starts_the_engine_while_something_runs_out_or_settles()
    {
        var order = JobOrder.Of([Step("drain", JobPhase.Drain, 2, 45, vessel: 30, drain: 20), Step("start", JobPhase.Start, 1)], false);

        Assert.Equal(47, Start(order, "start"));
    }

    [Theory]
    [InlineData("a a", "twice")]
    [InlineData("a after:x", "not there")]
    [InlineData("a after:b|b after:a", "waits")]
    public void A_card_that_cannot_be_ordered_is_refused(string what, string because)
    {
        OrderStep[] steps = what switch
        {
            "a a" => [Step("a", JobPhase.Drain, 1), Step("a", JobPhase.Drain, 1)],
            "a after:x" => [Step("a", JobPhase.Drain, 1, after: "x")],
            _ => [Step("a", JobPhase.Drain, 1, after: "b"), Step("b", JobPhase.Drain, 1, after: "a")],
        };

        Assert.Contains(because, Assert.Throws<ArgumentException>(() => JobOrder.Of(steps, false)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Any_order_keeps_what_comes_before_and_hands_do_one_thing_at_a_time() =>
        Gen.Select(Gen.Int[1, 12], Gen.Int[0, 15], Gen.Int[0, 40], Gen.Int[0, 4])
            .Array[1, 40]
            .Sample(raw =>
            {
                // A step comes after one before it in the list whose phase is not later.
                var steps = raw.Select((x, i) => Step($"s{i}", (JobPhase)x.Item1, x.Item2, x.Item3)).ToArray();
                for (var i = 1; i < steps.Length; i++)
                {
                    var before = Array.FindLastIndex(steps, i - 1, x => x.Phase <= steps[i].Phase);
                    if (before >= 0 && raw[i].Item4 > 2)
                        steps[i] = steps[i] with { After = [$"s{before}"] };
                }

                var order = JobOrder.Of(steps, false);
                var at = order.Order.ToDictionary(x => x.Code);
                var held = order
                    .Order.Select(x => (x.Start, End: x.Start + steps.Single(s => s.Code == x.Code).HandsOnMinutes))
                    .OrderBy(x => x.Start)
                    .ThenBy(x => x.End)
                    .ToList();

                Assert.Equal(steps.Length, order.Order.Length);
                Assert.All(steps, step => Assert.All(step.After, b => Assert.True(at[step.Code].Start >= at[b].End - 1e-9)));
                Assert.All(held.Zip(held.Skip(1)), x => Assert.True(x.Second.Start >= x.First.End - 1e-9));
                Assert.True(order.ElapsedMinutes <= order.SerialMinutes + 1e-9 && order.ElapsedMinutes >= order.HandsOnMinutes - 1e-9);
            });
}
