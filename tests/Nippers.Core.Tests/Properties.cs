using System.Collections.Immutable;
using CsCheck;
using Nippers.Core.Hours;
using Nippers.Core.Service;

namespace Nippers.Core.Tests;

/// <summary>What holds for every input, tried on many.</summary>
public sealed class Properties
{
    private static readonly DateOnly Commissioned = new(2025, 1, 1);
    private static readonly DateTimeOffset Start = new DateTimeOffset(2025, 1, 2, 6, 0, 0, TimeSpan.Zero);

    private static readonly DutyFactor[] Factors = [DutyFactor.Whole, DutyFactor.Half, DutyFactor.Quarter];

    private static readonly Gen<ServiceItem> AnItem = Gen.Select(
            Gen.Int[1, 20_000],
            Gen.Int[0, 2].Select(i => Factors[i]),
            Gen.Bool,
            Gen.Int[0, 24]
        )
        .Select(
            (hours, factor, strict, months) =>
                new ServiceItem("x", new MeterHours(hours), months > 0 ? months : null, DutyFactor: factor, Strict: strict)
        );

    private static readonly Gen<ImmutableArray<Reading>> Readings = Gen.Select(Gen.Int[1, 3 * 1440], Gen.Int[0, 1000])
        .Array[1, 60]
        .Select(steps =>
        {
            var (at, hours) = (Start, 1000);
            var list = new List<Reading>();
            foreach (var (minutes, share) in steps)
            {
                at = at.AddMinutes(minutes);
                hours += (int)(minutes / 6.0 * share / 1000);
                list.Add(new(at, new MeterHours(hours)));
            }

            return list.ToImmutableArray();
        });

    [Fact]
    public void On_the_grid_every_due_is_a_multiple_and_ahead_of_the_work() =>
        Gen.Select(AnItem, Gen.Int[0, 300_000], Gen.Bool)
            .Sample(
                (item, done, severe) =>
                {
                    var machine = new DueMachine(History.SinceNew, Commissioned, default, severe ? Duty.Severe : Duty.Normal);
                    var point = DuePoint.Of(item, machine, new("x", Commissioned, new(done)), new());
                    var interval = item.IntervalMilli(machine.Duty)!.Value;
                    var due = (long)Math.Round(point.DueHours!.Value * 1000);
                    return due % interval == 0 && due > done * 100L && due - done * 100L <= interval * 1.1 + 1;
                }
            );

    [Fact]
    public void A_completion_never_makes_an_item_due_earlier() =>
        Gen.Select(
                AnItem,
                Gen.Int[0, 200_000],
                Gen.Int[0, 100_000],
                Gen.Bool.Select(grid => grid ? IntervalBasis.Fixed : IntervalBasis.Floating)
            )
            .Sample(
                (item, first, more, school) =>
                {
                    var machine = new DueMachine(History.SinceNew, Commissioned, default);
                    var settings = new DueSettings(school);
                    var before = DuePoint.Of(item, machine, new("x", Commissioned.AddDays(10), new(first)), settings);
                    var after = DuePoint.Of(item, machine, new("x", Commissioned.AddDays(40), new(first + more)), settings);
                    var never = DuePoint.Of(item, machine, null, settings);
                    return after.DueHours >= before.DueHours && before.DueHours >= never.DueHours && !(after.DueOn < before.DueOn);
                }
            );

    [Fact]
    public void Accepted_readings_stay_in_order_whatever_is_entered_in_whatever_order() =>
        Gen.Select(Readings, Gen.Int[0, 4_000_000].Array[1, 12])
            .Sample(
                (truth, seeds) =>
                {
                    var accepted = truth;
                    var now = truth[^1].At.AddDays(1);
                    foreach (var seed in seeds)
                    {
                        // A reading swapped with its neighbour, or one at a chance time and height.
                        var i = seed % truth.Length;
                        var at = seed % 2 == 0 ? truth[i].At : Start.AddMilliseconds(seed * 100L);
                        var shown = truth[(i + 1) % truth.Length].Hours;
                        if (at > now)
                            continue;
                        var judgement = ReadingJudge.Judge(new(accepted, [], 6, Commissioned, default), at, shown, now);
                        if (judgement.Code == ReadingCode.Ok)
                            accepted = [.. accepted.Add(new(at, shown)).Order()];
                    }

                    return accepted.Zip(accepted.Skip(1)).All(x => x.First.At <= x.Second.At && x.First.Hours <= x.Second.Hours);
                }
            );

    [Fact]
    public void Corrections_are_ok_themselves_and_never_more_than_three() =>
        Gen.Select(Readings, Gen.Int[0, 9_999_999])
            .Sample(
                (readings, typed) =>
                {
                    var record = new MeterRecord(readings, [], 6, Commissioned, default);
                    var at = readings[^1].At.AddHours(20);
                    var offers = ReadingJudge.Judge(record, at, new(typed), at).DidYouMean;
                    return offers.Length <= 3 && offers.All(x => ReadingJudge.Judge(record, at, x, at).Code == ReadingCode.Ok);
                }
            );

    [Fact]
    public void Projections_are_ordered_early_typical_late() =>
        Gen.Select(Readings, Gen.Double[0, 20_000], Gen.Double[0, 24])
            .Sample(
                (readings, ahead, planned) =>
                {
                    var asOf = readings[^1].At.AddDays(1);
                    var use = UsePerDay.Estimate(new(readings, [], planned, Commissioned, default), asOf);
                    var dates = use.Project(readings[^1].Hours.Value + ahead, asOf);
                    return dates is null || (dates.Early <= dates.Typical && !(dates.Late < dates.Typical));
                }
            );

    [Fact]
    public void More_hours_are_never_reached_sooner() =>
        Gen.Select(Readings, Gen.Double[0, 3000], Gen.Double[0, 3000])
            .Sample(
                (readings, near, more) =>
                {
                    var asOf = readings[^1].At;
                    var use = UsePerDay.Estimate(new(readings, [], 5, Commissioned, default), asOf);
                    var (a, b) = (
                        use.Project(readings[^1].Hours.Value + near, asOf),
                        use.Project(readings[^1].Hours.Value + near + more, asOf)
                    );
                    return a is null || b is null || (a.Early <= b.Early && a.Typical <= b.Typical && !(b.Late < a.Late));
                }
            );
}
