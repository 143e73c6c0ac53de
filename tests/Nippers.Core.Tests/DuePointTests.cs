using Nippers.Core.Hours;
using Nippers.Core.Service;

namespace Nippers.Core.Tests;

public sealed class DuePointTests
{
    private static readonly DueMachine New = new(History.SinceNew, new(2026, 1, 1), default);
    private static readonly DueSettings Grid = new();

    private static ServiceItem Every(double hours, IntervalBasis? school = null, DutyFactor factor = DutyFactor.Whole) =>
        new("oil", MeterHours.Of(hours), DutyFactor: factor, IntervalBasis: school);

    private static Completion Done(double hours) => new("oil", new(2026, 2, 1), MeterHours.Of(hours));

    [Theory]
    [InlineData(250, 500)]
    [InlineData(225, 500)]
    [InlineData(224.9, 250)]
    [InlineData(274, 500)]
    [InlineData(474.9, 500)]
    [InlineData(475, 750)]
    public void Work_on_the_grid_counts_from_a_tenth_of_the_interval_early(double done, double due) =>
        Assert.Equal(due, DuePoint.Of(Every(250), New, Done(done), Grid).DueHours);

    [Theory]
    [InlineData(210, 40.0)]
    [InlineData(100, null)]
    [InlineData(250, null)]
    [InlineData(225, null)]
    public void Work_that_came_too_early_to_count_says_by_how_much(double done, double? early) =>
        Assert.Equal(early, DuePoint.Of(Every(250), New, Done(done), Grid).TooEarlyBy);

    [Fact]
    public void The_item_may_follow_another_school_than_its_program() =>
        Assert.Equal(460, DuePoint.Of(Every(250, IntervalBasis.Floating), New, Done(210), Grid).DueHours);

    [Fact]
    public void A_quarter_of_an_odd_interval_stays_exact_on_the_grid()
    {
        var item = Every(12.5, factor: DutyFactor.Quarter);
        Assert.Equal(3.125, DuePoint.Of(item, New with { Duty = Duty.Severe }, null, Grid).DueHours);
        Assert.Equal(12.5, DuePoint.Of(item, New, null, Grid).DueHours);
    }

    [Fact]
    public void A_program_may_take_early_work_for_more_or_for_nothing()
    {
        Assert.Equal(500, DuePoint.Of(Every(250), New, Done(200), Grid with { CreditPercent = 20 }).DueHours);
        Assert.Equal(250, DuePoint.Of(Every(250), New, Done(249.9), Grid with { CreditPercent = 0 }).DueHours);
    }

    [Theory]
    [InlineData(50, 250)]
    [InlineData(230, 500)]
    public void After_a_break_in_the_item_joins_the_grid(double first, double next)
    {
        var item = new ServiceItem("oil", new(2500), FirstAtHours: MeterHours.Of(first));
        var point = DuePoint.Of(item, New, null, Grid);
        Assert.Equal((DueBasis.BreakIn, first), (point.Basis, point.DueHours));
        Assert.Equal(next, Repeats.Of(point, 600).First());
        Assert.Equal(next, DuePoint.Of(item, New, Done(first), Grid).DueHours);
    }

    [Fact]
    public void Bought_used_and_unknown_an_item_has_no_record_not_a_guess()
    {
        var point = DuePoint.Of(Every(250), New with { History = History.Unknown }, null, Grid);
        Assert.Equal(DueBasis.NoRecord, point.Basis);
        Assert.Null(point.DueHours);
    }

    [Fact]
    public void The_last_completion_has_the_highest_hours_then_the_latest_date()
    {
        var last = LastDone.Of([Done(100), new("oil", new(2026, 3, 1), new(1000)), Done(50)]);
        Assert.Equal(new DateOnly(2026, 3, 1), last["oil"].On);
    }

    [Fact]
    public void Items_that_fall_due_together_are_one_service_named_after_the_longest()
    {
        var now = new MachineNow(
            UsePerDay.Estimate(
                new([Reading.Of(DateTimeOffset.UnixEpoch.AddDays(20_500), 480)], [], 6, New.CommissionedOn, default),
                DateTimeOffset.UnixEpoch.AddDays(20_500)
            ),
            DateTimeOffset.UnixEpoch.AddDays(20_500)
        );
        var items = new[] { Every(250), new ServiceItem("filter", new(5000)), new ServiceItem("coolant", EveryMonths: 36) };
        var groups = DueGroup.Of(
            now.Stand(items.Select(x => DuePoint.Of(x, New, x.EveryHours is null ? null : Done(250) with { ItemCode = x.Code }, Grid)))
        );
        var service = Assert.Single(groups, x => x.DueHours == 500);
        Assert.Equal((2, 500d, DueStatus.Due), (service.Items.Length, service.LongestInterval, service.Status));
        Assert.Equal(-480 + 500, service.HoursLeft!.Value, 1e-6);
    }

    [Fact]
    public void First_services_together_are_a_break_in_not_a_tier()
    {
        var now = new MachineNow(
            UsePerDay.Estimate(new([], [], 6, New.CommissionedOn, default), DateTimeOffset.UnixEpoch.AddDays(20_460)),
            DateTimeOffset.UnixEpoch.AddDays(20_460)
        );
        var items = new[]
        {
            new ServiceItem("oil", new(2500), FirstAtHours: new(500)),
            new ServiceItem("belts", new(2500), FirstAtHours: new(500)),
            new ServiceItem("filter", new(500)),
        };
        Assert.True(Assert.Single(DueGroup.Of(now.Stand(items[..2].Select(x => DuePoint.Of(x, New, null, Grid))))).IsBreakIn);
        var mixed = Assert.Single(DueGroup.Of(now.Stand(items.Select(x => DuePoint.Of(x, New, null, Grid)))));
        Assert.Equal((false, 50d), (mixed.IsBreakIn, mixed.LongestInterval));
    }

    [Theory]
    [InlineData("", true)]
    [InlineData(null, true)]
    [InlineData("ripper", true)]
    [InlineData("!winch", true)]
    [InlineData("winch", false)]
    [InlineData("ripper !linkage=sealed", true)]
    [InlineData("ripper linkage=greased", false)]
    public void Options_switch_items_on_and_off(string? rule, bool holds) =>
        Assert.Equal(holds, OptionRule.Holds(rule, new HashSet<string> { "ripper", "ac" }));

    [Theory]
    [InlineData("", true)]
    [InlineData("ripper hot", true)]
    [InlineData("ripper !hot", false)]
    [InlineData("!winch hot", true)]
    [InlineData("winch hot", false)]
    [InlineData("!ripper hot", false)]
    [InlineData("ripper cold", false)]
    [InlineData("ripper !cold", true)]
    public void Words_of_the_work_hold_beside_those_of_the_machine(string rule, bool holds)
    {
        var (machine, work) = (new HashSet<string> { "ripper" }, new HashSet<string> { "hot" });
        Assert.Equal(holds, OptionRule.Holds(rule, machine, work));
        Assert.Equal(holds, OptionRule.Holds(rule, work, machine));
        Assert.Equal(holds, OptionRule.Holds(rule, new HashSet<string> { "ripper", "hot" }));
    }

    [Theory]
    [InlineData("winch", true)]
    [InlineData("winch=big", false)]
    [InlineData("linkage", false)]
    [InlineData("linkage=sealed", true)]
    [InlineData("turbo", false)]
    public void Only_known_options_are_options(string word, bool known) => Assert.Equal(known, MachineOptions.Knows(word));
}
