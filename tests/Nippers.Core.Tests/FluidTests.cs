using CsCheck;
using Nippers.Core.Fluids;
using Nippers.Core.Hours;

namespace Nippers.Core.Tests;

public sealed class FluidTests
{
    [Fact]
    public void A_stick_never_answers_past_high() =>
        Gen.Select(Gen.Double[-1, 2], Gen.Double[-1, 3], Gen.Double[0.1, 50])
            .Sample(
                (reading, target, marks) =>
                {
                    var answer = Dipstick.Of(reading, target, marks);
                    Assert.True(answer.AddLitres >= 0 && answer.DrainLitres >= 0);
                    Assert.True(reading > 1 ? answer.AddLitres == 0 : reading + answer.AddLitres / marks <= Math.Max(1, reading) + 1e-9);
                    Assert.True(answer.AddLitres == 0 || answer.DrainLitres == 0);
                }
            );

    [Fact]
    public void What_is_drained_and_replaced_reaches_the_share_wanted() =>
        Gen.Select(Gen.Double[1, 80], Gen.Double[0, 1], Gen.Double[0, 1], Gen.Double[0, 1])
            .Sample(
                (volume, share, wanted, refill) =>
                {
                    if (Coolant.Replace(volume, share, wanted, refill) is not { } litres)
                        return;
                    Assert.InRange(litres, 0, volume);
                    Assert.Equal(wanted, (share * (volume - litres) + refill * litres) / volume, 1e-6);
                }
            );

    [Fact]
    public void Pails_hold_what_is_drained_and_a_tenth() =>
        Gen.Select(Gen.Double[0, 60].Array[0, 6], Gen.Double[5, 25])
            .Sample(
                (drains, pail) =>
                {
                    var pails = Fill.Pails(drains, pail);
                    Assert.True(pails * pail >= drains.Sum() * 1.1 - 1e-6);
                    Assert.True((pails - 1) * pail < drains.Sum() * 1.1 || pails == 0);
                }
            );

    private static Gen<decimal> Litres(int most) => Gen.Int[0, most * 10].Select(x => x / 10m);

    private static readonly Gen<BalanceInput> Changes = Gen.Select(
        Gen.Select(Litres(200), Litres(20), Litres(5), Litres(200), Litres(200)),
        Gen.Int[-5, 15],
        Gen.Select(Litres(200), Litres(200), Litres(5)).Array[0, 7],
        Gen.Bool,
        Gen.Bool,
        (x, found, past, prefilled, run) =>
            new BalanceInput
            {
                Capacity = x.Item1 + 10,
                BetweenMarks = x.Item2 + 0.1m,
                FilterLitres = x.Item3,
                History = [.. past.Select((p, i) => new PastChange(i == 2 ? null : p.Item1, p.Item3, p.Item2))],
                Found = found > 12 ? null : found / 10m,
                LastFull = x.Item1 + 10,
                Drained = x.Item4,
                Filled = x.Item5,
                PreFilled = prefilled,
                HasRun = run,
            }
    );

    [Fact]
    public void What_is_too_much_is_taken_out_and_then_stands_at_the_mark() =>
        Changes.Sample(change =>
        {
            var balance = FluidBalance.Of(change);
            Assert.Equal(balance.Fill == FillBalance.Over, balance.TakeOut > 0);
            Assert.True(balance.Residue >= 0 && balance.Low <= balance.High);
            Assert.Equal(balance.Out == DrainBalance.Unknown, balance.ExpectedOut is null);
            Assert.Equal(balance.Out == DrainBalance.NotAllOut, balance.High > balance.Low);
            var after = FluidBalance.Of(change with { Filled = change.Filled - balance.TakeOut });
            Assert.True(balance.TakeOut == 0 || (after.Fill != FillBalance.Over && after.Low == after.Mark));

            // However much goes in, it never turns from over to under.
            var more = FluidBalance.Of(change with { Filled = change.Filled + 1000 });
            Assert.True(more.Fill == FillBalance.Over && more.Out == balance.Out && more.Loss == balance.Loss);
        });

    [Theory]
    [InlineData(-0.1, null)]
    [InlineData(0, 0.0)]
    [InlineData(26.5, -13.0)]
    [InlineData(60.1, null)]
    public void A_freeze_point_lies_on_its_line_or_nowhere(double percent, double? celsius) =>
        Assert.Equal(celsius, Coolant.FreezePoint(percent));

    [Fact]
    public void Volumes_that_cannot_be_are_thrown_out()
    {
        Assert.Throws<ArgumentOutOfRangeException>(() => Fill.Of(5, 6, false));
        Assert.Throws<ArgumentOutOfRangeException>(() => Dipstick.Of(0.5, 1, 0));
        Assert.Throws<ArgumentOutOfRangeException>(() => Fill.Pails([1], 0));
        Assert.Throws<ArgumentOutOfRangeException>(() => Coolant.Replace(0, 0.2, 0.5, 0.5));
    }

    private static TopUp At(double hours, double litres) => new(MeterHours.Of(hours), litres);

    // Records from 600 h; changed at 1000 h: four stretches of 100 h before, 1 L each.
    private static readonly TopUp[] Habit = [At(650, 1), At(750, 1), At(850, 1), At(950, 1)];

    [Theory]
    [InlineData(1, 1100, 24.0, 1.0, ConsumptionSign.None)]
    [InlineData(1.9, 1100, 24.0, 1.9, ConsumptionSign.None)]
    [InlineData(2, 1100, 24.0, 2.0, ConsumptionSign.TwiceOwnMedian)]
    [InlineData(2.4, 1100, 24.0, 2.4, ConsumptionSign.TwiceOwnMedian)]
    [InlineData(2.5, 1100, 24.0, 2.5, ConsumptionSign.TenthOfSump)]
    [InlineData(9, 1100, null, 9.0, ConsumptionSign.TwiceOwnMedian)]
    [InlineData(1, 1020, 24.0, null, ConsumptionSign.None)]
    public void Consumption_is_flagged_at_twice_its_habit_or_above_a_tenth_of_the_sump(
        double litres,
        double now,
        double? sump,
        double? per100,
        ConsumptionSign sign
    )
    {
        var use = Consumption.Of([.. Habit, At(1010, litres)], MeterHours.Of(1000), MeterHours.Of(600), now, sump);
        Assert.Equal((per100, sign), (use.LitresPer100Hours is { } rate ? Math.Round(rate, 6) : null, use.Sign));
        Assert.Equal((litres, 1.0), (use.Litres, use.OwnMedian));
    }

    [Fact]
    public void What_was_added_before_the_change_does_not_count_and_a_short_record_has_no_habit()
    {
        var use = Consumption.Of([At(990, 8), At(1050, 1)], MeterHours.Of(1000), MeterHours.Of(900), 1100, 24);
        Assert.Equal((1.0, null, ConsumptionSign.None), (use.Litres, use.OwnMedian, use.Sign));
    }

    [Theory]
    [InlineData("2026-03-01 2026-03-10", false)]
    [InlineData("2026-03-01 2026-03-10 2026-03-30", true)]
    [InlineData("2026-02-28 2026-03-10 2026-03-30", false)]
    [InlineData("2026-03-10 2026-03-30 2026-04-01", false)]
    public void Water_three_times_in_thirty_days_points_at_the_supply(string days, bool points) =>
        Assert.Equal(
            points,
            FuelWater.PointsAtSupply(
                days.Split(' ').Select(x => DateOnly.Parse(x, System.Globalization.CultureInfo.InvariantCulture)),
                new(2026, 3, 30)
            )
        );
}
