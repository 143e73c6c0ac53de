using Nippers.Core.Hours;

namespace Nippers.Core.Tests;

public sealed class HoursTests
{
    private static readonly DateTimeOffset Start = new(2026, 3, 1, 6, 0, 0, TimeSpan.Zero);

    private static MeterRecord Record(params (double Day, double Hours)[] readings) =>
        new([.. readings.Select(x => Reading.Of(Start.AddDays(x.Day), x.Hours))], [], 6, DateOnly.FromDateTime(Start.DateTime), default);

    [Fact]
    public void A_new_meter_is_judged_in_life_hours_and_corrected_in_its_own()
    {
        // Life 5,000 at the swap; the new meter began at 0.
        var judgement = ReadingJudge.Judge(
            Record((0, 4990), (2, 5000), (3, 5008.2)),
            Start.AddDays(4),
            new(612),
            Start.AddDays(4),
            offset: new(50_000)
        );
        Assert.Equal(ReadingCode.TooFast, judgement.Code);
        Assert.Contains(new MeterHours(162), judgement.DidYouMean);
    }

    [Theory]
    [InlineData(0, 0)]
    [InlineData(10, 4_990)]
    [InlineData(20, 4_990 - 250)]
    public void Offsets_count_from_each_swap_on(int day, int tenths)
    {
        DateTimeOffset At(int d) => Start.AddDays(d);
        var offsets = new MeterOffsets([new(At(15), new(50), new(300)), new(At(10), new(5000), new(10))]);
        Assert.Equal(new MeterHours(tenths), offsets.At(At(day)));
        Assert.Equal(At(15), offsets.LastSwapAt);
    }

    [Theory]
    [InlineData(0, 100.0, true)]
    [InlineData(0, 125.0, true)]
    [InlineData(0, 125.1, false)]
    [InlineData(1, 99.9, false)]
    [InlineData(1, 149.0, true)]
    [InlineData(1, 149.1, false)]
    [InlineData(4, 200.0, true)]
    [InlineData(4, 200.1, false)]
    public void Work_on_a_past_day_fits_between_the_readings_around_it(int day, double hours, bool fits)
    {
        var record = Record((0, 100), (5, 200));
        var from = Start.AddDays(day);
        var range = HoursOnDay.Range(record, from, from.AddDays(1));
        Assert.Equal(new MeterHours(1000), range.Least);
        Assert.Equal(fits, range.Holds(MeterHours.Of(hours)));
    }

    [Fact]
    public void Without_readings_a_past_day_is_bounded_by_commissioning_alone()
    {
        var record = Record() with { CommissionedHours = new(400) };
        var range = HoursOnDay.Range(record, DateTimeOffset.UnixEpoch, DateTimeOffset.UnixEpoch.AddDays(1));
        Assert.False(range.Holds(new(399)));
        Assert.True(range.Holds(new(9_999_999)));
    }

    [Fact]
    public void The_site_decides_the_day()
    {
        var late = new DateTimeOffset(2026, 7, 1, 23, 30, 0, TimeSpan.Zero);
        Assert.Equal(new DateOnly(2026, 7, 1), LocalDay.Of(late));
        Assert.Equal(new DateOnly(2026, 7, 2), LocalDay.Of(late, TimeZoneInfo.FindSystemTimeZoneById("Europe/London")));
    }

    [Fact]
    public void An_open_parked_span_ends_at_the_first_later_reading_with_more_hours()
    {
        var record = Record((0, 100), (3, 100), (5, 100.4), (6, 108));
        var span = new ParkedSpan(Start.AddDays(1));
        Assert.Equal(Start.AddDays(5), span.Resolve(record.Readings.AsSpan(), default).To);
    }

    [Fact]
    public void Nothing_is_projected_while_parked_and_dates_move_on_by_the_parked_days()
    {
        var parked = Record((0, 100), (8, 148)) with { Parked = [new(Start.AddDays(9), Start.AddDays(19))] };
        var during = UsePerDay.Estimate(parked, Start.AddDays(12));
        Assert.True(during.ParkedAt(Start.AddDays(12)));
        Assert.Null(during.Project(154, Start.AddDays(12)));
        Assert.Equal(154, during.HoursNow(Start.AddDays(12)), 1e-6);

        var after = UsePerDay.Estimate(parked, Start.AddDays(20));
        Assert.Equal(DateOnly.FromDateTime(Start.AddDays(8 + 10 + 2).DateTime), after.Project(160, Start.AddDays(20))!.Typical);
    }

    [Fact]
    public void Hours_that_would_take_more_than_a_century_have_no_date()
    {
        var use = UsePerDay.Estimate(Record((0, 100), (8, 100.5)), Start.AddDays(8));
        Assert.Null(use.Project(999_999, Start.AddDays(8)));
    }

    [Fact]
    public void The_evidence_holds_every_interval_that_was_weighed()
    {
        var record = Record((0, 100), (1, 108), (3, 120), (4, 120));
        var evidence = UsePerDay.Evidence(record, Start.AddDays(5));
        Assert.Equal([8, 12, 0], evidence.Select(x => x.Hours));
        Assert.True(evidence.Select(x => x.Weight).SequenceEqual(evidence.Select(x => x.Weight).Order()));
    }
}
