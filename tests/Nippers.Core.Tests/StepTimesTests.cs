using CsCheck;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;

namespace Nippers.Core.Tests;

/// <summary>Minutes of steps, learnt from when they were answered.</summary>
public sealed class StepTimesTests
{
    private static readonly DateTimeOffset Start = new(2026, 3, 16, 8, 0, 0, TimeSpan.Zero);

    private static JobStep Step(string code, double minutes, double wait = 0, params string[] after) =>
        new()
        {
            Code = code,
            Input = InputKind.Tick,
            Words = code,
            Minutes = minutes,
            Wait = wait,
            After = [.. after],
        };

    private static AnsweredStep At(JobStep step, double minute, string by = "Tam", bool counts = true) =>
        new(step, by, Start.AddMinutes(minute), counts);

    private static Dictionary<string, double> Took(params AnsweredStep[] answers) =>
        StepTimes.Of(answers).ToDictionary(x => x.Key, x => Math.Round(x.Minutes, 3), StringComparer.Ordinal);

    [Fact]
    public void A_step_took_from_the_answer_before_it_and_nobody_knows_of_the_first() =>
        Assert.Equal(new() { ["b"] = 7 }, Took(At(Step("a", 5), 0), At(Step("b", 5), 7)));

    [Fact]
    public void What_runs_by_itself_is_not_hands() =>
        Assert.Equal(
            new() { ["drained"] = 3, ["belts"] = 8 },
            Took(At(Step("drain", 4, 20), 0), At(Step("belts", 8), 8), At(Step("drained", 2, 0, "drain"), 23))
        );

    [Fact]
    public void Who_stays_while_the_engine_warms_up_does_not_work()
    {
        var warm = Step("between.warmup", 0, 10) with { Between = CardBetween.WarmUp };

        Assert.Equal(6, Took(At(warm, 0), At(Step("sample", 5), 16))["sample"]);
    }

    [Fact]
    public void What_is_entered_together_shares_its_time_as_the_table_has_it() =>
        Assert.Equal(
            new() { ["a"] = 10, ["b"] = 20 },
            Took(At(Step("start", 1), 0), At(Step("a", 4), 29.5), At(Step("b", 8), 29.8), At(Step("tick", 0), 30))
        );

    [Fact]
    public void Two_people_work_beside_each_other() =>
        Assert.Equal(
            new() { ["b"] = 10, ["d"] = 6 },
            Took(At(Step("a", 5), 0), At(Step("c", 5), 5, "Wenna"), At(Step("b", 8), 10), At(Step("d", 5), 11, "Wenna"))
        );

    [Theory]
    [InlineData(30, true)]
    [InlineData(31, false)]
    public void Of_a_time_far_above_the_tables_nobody_knows_what_else_was_done(double minutes, bool known) =>
        Assert.Equal(known, Took(At(Step("a", 5), 0), At(Step("b", 5), minutes)).ContainsKey("b"));

    [Fact]
    public void What_came_from_paper_or_was_put_right_later_teaches_nothing() =>
        Assert.Equal(new() { ["c"] = 4 }, Took(At(Step("a", 5), 0), At(Step("b", 5), 6, counts: false), At(Step("c", 5), 10)));

    [Theory]
    [InlineData(0.35, false)]
    [InlineData(0.45, true)]
    public void A_card_that_was_ticked_in_one_go_afterwards_teaches_nothing(double pace, bool teaches)
    {
        var steps = Enumerable.Range(0, 8).Select(i => At(Step($"s-{i}", 10), i * 10 * pace)).ToArray();

        Assert.Equal(teaches ? 7 : 0, Took(steps).Count);
    }

    [Fact]
    public void A_drain_that_was_stood_by_teaches_nothing_of_one_that_is_not()
    {
        var attended = Step("drain", 24) with { Opens = "engine", Vessel = "Can", VesselLitres = 10, Room = 30 };

        Assert.Empty(Took(At(Step("a", 5), 0), At(attended, 25)));
    }

    [Fact]
    public void Lockouts_belong_together_wherever_they_stand_and_each_hood_by_itself() =>
        Assert.Equal(
            ["+isolate", "+isolate", "+open:hood", "oil.drain"],
            new[]
            {
                Step("between.isolate", 6) with
                {
                    Between = CardBetween.Isolate,
                },
                Step("between.isolate-2", 6) with
                {
                    Between = CardBetween.Isolate,
                },
                Step("between.open-hood", 2) with
                {
                    Between = CardBetween.Open,
                    Access = "hood",
                },
                Step("oil.drain", 4),
            }.Select(StepTimes.KeyOf)
        );

    private static LearntMinutes Learnt(params double[] minutes) => StepTimes.Learn(minutes.Select(x => new[] { ("a", x) }));

    [Theory]
    [InlineData(12, new double[] { 9, 9 }, 12)]
    [InlineData(12, new double[] { 9, 10, 30 }, 10)]
    [InlineData(12, new double[] { 9, 10, 11, 12 }, 11)]
    [InlineData(12, new double[] { 20, 20, 20, 20, 5, 5, 5, 5, 5, 5 }, 20)]
    [InlineData(12, new double[] { 0.2, 0.2, 0.2 }, 4)]
    [InlineData(10, new double[] { 0.2, 0.2, 0.2 }, 4)]
    [InlineData(0, new double[] { 0.2, 0.2, 0.2 }, 0)]
    public void The_middle_of_the_newest_counts_from_three_on_and_never_less_than_a_third_of_the_table(
        int table,
        double[] newestFirst,
        int planned
    ) => Assert.Equal(planned, Learnt(newestFirst).Of("a", table));

    [Fact]
    public void What_was_never_timed_takes_what_the_table_says() => Assert.Equal(12, Learnt(1, 1, 1).Of("b", 12));

    [Fact]
    public void No_minutes_come_from_nowhere() =>
        Gen.Select(Gen.Int[0, 12].List[1, 12], Gen.Int[0, 60].List[1, 12])
            .Sample(
                (planned, gaps) =>
                {
                    var at = 0.0;
                    var answers = planned.Zip(gaps).Select((x, i) => At(Step($"s-{i}", x.First), at += x.Second)).ToArray();
                    var all = StepTimes.Of(answers).ToList();
                    Assert.All(all, x => Assert.True(x.Minutes > 0));
                    Assert.True(all.Sum(x => x.Minutes) <= at + 1e-6);
                }
            );

    [Theory]
    [InlineData(new double[] { 3 }, 3)]
    [InlineData(new double[] { 9, 1, 5 }, 5)]
    [InlineData(new double[] { 4, 1, 3, 2 }, 2.5)]
    public void The_middle_lies_in_the_middle(double[] values, double middle) => Assert.Equal(middle, Median.Of(values));

    [Fact]
    public void There_is_no_middle_of_nothing() => Assert.Throws<InvalidOperationException>(() => Median.Of([]));
}
