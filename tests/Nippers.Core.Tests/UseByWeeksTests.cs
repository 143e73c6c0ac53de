using CsCheck;
using Nippers.Core.Hours;

namespace Nippers.Core.Tests;

/// <summary>Rules 2: work comes and goes by weeks, and dates know it.</summary>
public sealed class UseByWeeksTests
{
    private static readonly DateTimeOffset Now = new(2026, 3, 16, 6, 0, 0, TimeSpan.Zero);

    /// <summary>Read each morning for so many days before now; hours of the day that lies so many days back.</summary>
    private static MeterRecord Read(int days, Func<int, double> hoursOf, double planned = 5)
    {
        var life = 1000.0;
        var readings = new List<Reading> { new(Now.AddDays(-days), MeterHours.Of(life)) };
        for (var back = days; back >= 1; back--)
        {
            life += hoursOf(back);
            readings.Add(new(Now.AddDays(1 - back), MeterHours.Of(life)));
        }

        return new([.. readings], [], planned, DateOnly.FromDateTime(Now.AddDays(-days - 10).UtcDateTime), default);
    }

    [Theory]
    [InlineData(10, 0)] // no block is covered
    [InlineData(19, 0)]
    [InlineData(20, 1)] // 19.6 days are enough for one
    [InlineData(28, 1)]
    [InlineData(47, 1)]
    [InlineData(48, 2)]
    [InlineData(168, 6)]
    [InlineData(400, 6)] // never more than six
    public void A_block_counts_when_enough_of_its_days_are_covered(int days, int blocks) =>
        Assert.Equal(blocks, UsePerDay.BlockMeans(Read(days, _ => 5), Now).Length);

    [Fact]
    public void Means_of_blocks_are_told_newest_first()
    {
        var means = UsePerDay.BlockMeans(Read(84, back => back <= 28 ? 2
                : back <= 56 ? 4
                : 6), Now);
        Assert.Equal([2, 4, 6], means.Select(x => Math.Round(x, 6)));
    }

    [Fact]
    public void Even_work_still_expects_that_weeks_may_change()
    {
        // Six blocks alike: S = 0, regime = 2 (0.2 u)^2 / 7; a day scatters by a quarter of u at least.
        var use = UsePerDay.Estimate(Read(200, _ => 5), Now);
        Assert.Equal(5, use.HoursPerDay, 1e-6);
        Assert.Equal(1.25, use.Sigma, 1e-6);
        Assert.True(use.RateSigma > Math.Sqrt(2.0 / 7));
        Assert.True(use.RateSigma < Math.Sqrt(2.0 / 7) + 0.05);
    }

    [Fact]
    public void Without_a_block_the_expectation_stands_alone()
    {
        var use = UsePerDay.Estimate(Read(10, _ => 5), Now);
        Assert.True(use.RateSigma >= 1); // 2 (0.2 x 5)^2 / 2 = 1
    }

    [Fact]
    public void Weeks_that_come_and_go_widen_the_dates_and_days_that_scatter_evenly_do_not()
    {
        var even = UsePerDay.Estimate(Read(168, back => back % 2 == 0 ? 8 : 2), Now);
        var weeks = UsePerDay.Estimate(Read(168, back => (back - 1) / 28 % 2 == 0 ? 8 : 2), Now);
        Assert.True(weeks.RateSigma > 2 * even.RateSigma);
        var (calm, wide) = (even.Project(2000, Now)!, weeks.Project(2000, Now)!);
        Assert.True(
            wide.Late is null || wide.Late.Value.DayNumber - wide.Early.DayNumber > calm.Late!.Value.DayNumber - calm.Early.DayNumber
        );
    }

    [Theory]
    [InlineData(179, true)]
    [InlineData(181, false)]
    public void Half_a_year_is_remembered_and_no_more(int back, bool counts)
    {
        var busy = UsePerDay.Estimate(Read(220, day => day == back ? 20 : 4), Now);
        Assert.Equal(counts, busy.HoursPerDay > UsePerDay.Estimate(Read(220, _ => 4), Now).HoursPerDay + 1e-9);
    }

    [Fact]
    public void What_lies_sixty_days_back_counts_half()
    {
        var evidence = UsePerDay.Evidence(Read(120, _ => 5), Now);
        Assert.Equal(0.5, evidence.Single(x => x.To == Now.AddDays(-59) && x.From == Now.AddDays(-60)).Weight, 1e-2);
    }

    [Fact]
    public void Parked_weeks_count_in_no_block()
    {
        var record = Read(168, back => back is > 28 and <= 56 ? 0 : 5);
        var parked = record with { Parked = [new(Now.AddDays(-56), Now.AddDays(-28))] };
        Assert.Equal(6, UsePerDay.BlockMeans(record, Now).Length);
        Assert.Equal(5, UsePerDay.BlockMeans(parked, Now).Length);
        Assert.True(UsePerDay.Estimate(parked, Now).RateSigma < UsePerDay.Estimate(record, Now).RateSigma);
    }

    [Fact]
    public void Early_typical_and_late_stand_in_order_whatever_the_weeks_were() =>
        Gen.Select(Gen.Double[0.5, 14].Array[7], Gen.Int[3, 200], Gen.Double[1, 3000])
            .Sample(
                (weeks, days, ahead) =>
                {
                    var record = Read(days, back => Math.Round(weeks[back / 28 % weeks.Length], 1));
                    var use = UsePerDay.Estimate(record, Now);
                    if (use.Project(use.Last.Hours.Value + ahead, Now) is not { } dates)
                        return;
                    Assert.True(dates.Early <= dates.Typical);
                    Assert.True(dates.Late is null || dates.Typical <= dates.Late);
                }
            );

    [Fact]
    public void Hours_to_show_are_those_that_were_read_until_they_are_a_day_old()
    {
        var use = UsePerDay.Estimate(Read(30, _ => 5), Now);
        Assert.Equal(use.Last.Hours.Value, use.HoursToShow(Now.AddHours(24)));
        Assert.Equal(use.HoursNow(Now.AddHours(25)), use.HoursToShow(Now.AddHours(25)));
        var never = UsePerDay.Estimate(new([], [], 5, new(2026, 3, 1), default), Now);
        Assert.Equal(never.HoursNow(Now), never.HoursToShow(Now));
    }
}
