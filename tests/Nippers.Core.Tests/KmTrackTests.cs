using Nippers.Core.Hours;
using Nippers.Core.Service;

namespace Nippers.Core.Tests;

/// <summary>Kilometres as a third track beside hours and months.</summary>
public sealed class KmTrackTests
{
    private static readonly DateOnly Start = new(2026, 1, 1);
    private static readonly DateTimeOffset Epoch = new(2026, 1, 1, 0, 0, 0, TimeSpan.Zero);
    private static readonly DueMachine New = new(History.SinceNew, Start, default);
    private static readonly DueSettings Grid = new();
    private static readonly DueSettings Floating = new(IntervalBasis.Floating);

    /// <summary>A truck that drives 200 km a day from 1000 km on, read every tenth day.</summary>
    private static Odometer Truck(int days) =>
        new(
            new(
                [.. Enumerable.Range(1, days / 10).Select(x => Reading.Of(Epoch.AddDays(x * 10), 1000 + x * 2000))],
                [],
                200,
                Start,
                MeterHours.Of(1000)
            )
        );

    private static ItemStatus Stand(ServiceItem item, Odometer? odometer, int day, Completion? last = null, DueSettings? settings = null)
    {
        var now = Epoch.AddDays(day);
        var use = UsePerDay.Estimate(new([Reading.Of(now, day * 6)], [], 6, Start, default), now);
        var point = DuePoint.Of(
            item,
            New,
            last,
            settings ?? Grid,
            odometer is null
                ? null
                : (every, from, basis) =>
                    KmTrack.Of(
                        every,
                        odometer.At(from is { } on ? LocalDay.StartOf(on.AddDays(1), TimeZoneInfo.Utc) : null),
                        basis,
                        settings ?? Grid,
                        odometer,
                        now
                    )
        );
        return new MachineNow(use, now).Stand(point);
    }

    private static ServiceItem Every(int km, int? months = null, bool strict = false) =>
        new("a", EveryKm: km, EveryMonths: months, Strict: strict);

    [Theory]
    [InlineData(0, 1000)]
    [InlineData(5, 2000)]
    [InlineData(10, 3000)]
    [InlineData(25, 6000)]
    [InlineData(400, 21000)]
    public void Kilometres_of_a_day_lie_on_the_line_between_the_readings(int day, double km) =>
        Assert.Equal(km, Truck(100).At(Epoch.AddDays(day)), 1e-6);

    [Theory]
    [InlineData(IntervalBasis.Fixed, 0, 15_000, 15_000)]
    [InlineData(IntervalBasis.Fixed, 13_499, 15_000, 15_000)]
    [InlineData(IntervalBasis.Fixed, 13_500, 15_000, 30_000)]
    [InlineData(IntervalBasis.Fixed, 16_400, 15_000, 30_000)]
    [InlineData(IntervalBasis.Fixed, 28_500, 15_000, 45_000)]
    [InlineData(IntervalBasis.Floating, 16_400, 15_000, 31_400)]
    public void Due_on_the_grid_or_a_whole_interval_after(IntervalBasis basis, double done, int every, double due)
    {
        var track = KmTrack.Of(every * 1000L, done, basis, Grid, Truck(100), Epoch.AddDays(100));
        Assert.Equal(due, track.Due, 1e-6);
        Assert.Equal((1500, every), (track.Window, track.Interval));
    }

    [Fact]
    public void A_window_is_never_narrower_than_a_hundred_kilometres_and_severe_duty_halves()
    {
        Assert.Equal(KmTrack.LeastWindow, KmTrack.Of(500_000, 0, IntervalBasis.Fixed, Grid, Truck(100), Epoch).Window);
        Assert.Equal(7_500_000, (Every(15_000) with { DutyFactor = DutyFactor.Half }).KmMilli(Duty.Severe));
        Assert.Equal(15_000_000, (Every(15_000) with { DutyFactor = DutyFactor.Half }).KmMilli(Duty.Normal));
        Assert.Null(new ServiceItem("b").KmMilli(Duty.Normal));
    }

    // 200 km a day from 1000: day 70 is 15 000 km.
    [Theory]
    [InlineData(10, false, DueStatus.NotDue)]
    [InlineData(45, false, DueStatus.Coming)]
    [InlineData(65, false, DueStatus.Due)]
    [InlineData(75, false, DueStatus.Due)]
    [InlineData(75, true, DueStatus.Overdue)]
    [InlineData(80, false, DueStatus.Overdue)]
    public void It_stands_by_its_kilometres(int day, bool strict, DueStatus status)
    {
        var stand = Stand(Every(15_000, strict: strict), Truck(day), day);
        Assert.Equal(status, stand.Status);
        Assert.True(stand.KmDecides);
        Assert.Equal(15_000 - (1000 + 200 * day), stand.KmLeft!.Value, 1e-3);
        Assert.Equal((200.0 * day) / 14_000, stand.Used!.Value, 1e-6);
        Assert.Equal(Start.AddDays(Math.Max(day, 70)), stand.DueOn);
    }

    [Theory]
    [InlineData(1, false)]
    [InlineData(6, true)]
    public void Kilometres_or_months_whichever_come_first(int months, bool byKm)
    {
        var stand = Stand(Every(15_000, months), Truck(40), 40);
        Assert.Equal(byKm, stand.KmDecides);
        Assert.Equal(byKm ? Start.AddDays(70) : Start.AddMonths(months), stand.DueOn);
        Assert.Equal(byKm ? DueStatus.Coming : DueStatus.Overdue, stand.Status);
    }

    [Fact]
    public void Work_done_counts_from_the_kilometres_of_its_day()
    {
        var stand = Stand(Every(15_000), Truck(100), 100, new("a", Start.AddDays(64), MeterHours.Of(384)), Floating);
        Assert.Equal(1000 + 65 * 200 + 15_000, stand.Point.Km!.Due, 1e-6);
        Assert.Equal(DueBasis.Completion, stand.Point.Basis);
    }

    [Fact]
    public void Of_kilometres_alone_without_an_odometer_it_is_due_now_and_with_months_it_goes_by_them()
    {
        var bare = Stand(Every(15_000), null, 10);
        Assert.Equal((DueStatus.Due, true), (bare.Status, bare.NoRecord));
        var dated = Stand(Every(15_000, 12), null, 10);
        Assert.Equal((DueStatus.NotDue, Start.AddMonths(12)), (dated.Status, dated.DueOn!.Value));
        Assert.Null(dated.KmLeft);
    }

    [Fact]
    public void A_parked_truck_gets_no_nearer_and_is_no_date()
    {
        var parked = Truck(40) with { };
        var still = new Odometer(parked.Record with { Parked = [new(Epoch.AddDays(40), null)] });
        var stand = Stand(Every(15_000), still, 60);
        Assert.Equal((15_000 - 9000, DueStatus.NotDue), (stand.KmLeft!.Value, stand.Status));
        Assert.Null(stand.DueOn);
        Assert.Null(stand.FirstDate);
        Assert.False(stand.KmDecides);
    }

    [Theory]
    [InlineData(9500, 8, ReadingCode.Ok)]
    [InlineData(9700, 8, ReadingCode.Check)]
    [InlineData(9900, 8, ReadingCode.Check)]
    [InlineData(9901, 8, ReadingCode.TooFast)]
    [InlineData(8999.9, 8, ReadingCode.Backward)]
    [InlineData(9000, 0, ReadingCode.Duplicate)]
    [InlineData(9300, -24, ReadingCode.BeyondNext)]
    [InlineData(14_500, 24 * 20, ReadingCode.Check)]
    public void An_odometer_is_judged_as_a_meter_is(double km, int hours, ReadingCode code)
    {
        var judged = ReadingJudge.Judge(
            Truck(40).Record,
            Epoch.AddDays(40).AddHours(hours),
            MeterHours.Of(km),
            Epoch.AddDays(80),
            limits: MeterLimits.Kilometres
        );
        Assert.Equal(code, judged.Code);
    }

    [Fact]
    public void On_the_grid_nothing_runs_more_than_a_tenth_past_its_interval()
    {
        var chance = new Random(7);
        for (var i = 0; i < 2000; i++)
        {
            var (every, done) = (chance.Next(1, 200_000), chance.NextDouble() * 900_000);
            var track = KmTrack.Of(every * 1000L, done, IntervalBasis.Fixed, Grid, Truck(20), Epoch.AddDays(20));
            Assert.InRange(track.Due - done, 0.0999 * every, 1.1001 * every + 1e-6);
            Assert.Equal(0, Math.Abs(track.Due / every - Math.Round(track.Due / every)), 1e-6);
        }
    }
}
