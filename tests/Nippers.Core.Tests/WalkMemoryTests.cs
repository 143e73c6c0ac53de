using System.Collections.Immutable;
using CsCheck;
using Nippers.Core.Defects;
using Nippers.Core.Walk;

namespace Nippers.Core.Tests;

/// <summary>What a walk remembers: codes of a display, fittings that refuse, drainings, cold marks, its own pace.</summary>
public sealed class WalkMemoryTests
{
    [Theory]
    [InlineData("E361(2)", "E361(2)")]
    [InlineData(" e 361 (2) ", "E361(2)")]
    [InlineData("P0420", "P0420")]
    [InlineData("F-12.3", "F-12.3")]
    [InlineData("100/1", "100/1")]
    [InlineData("SPN 100 FMI 1", "100/1")]
    [InlineData("100", null)]
    [InlineData("oil", null)]
    [InlineData("", null)]
    [InlineData("SPN 100", null)]
    [InlineData("600000/1", null)]
    [InlineData("E361<2>", null)]
    [InlineData("E12345678901234567", null)]
    public void A_code_is_the_standards_or_what_the_display_shows(string typed, string? read)
    {
        Assert.Equal(read, FaultCode.Parse(typed)?.ToString());
        Assert.Equal(read, FaultCode.Parse(FaultCode.Parse(typed)?.ToString())?.ToString());
    }

    [Fact]
    public void Codes_in_one_line_are_read_one_by_one_and_a_known_one_of_a_display_is_watched()
    {
        var known = FaultCode.ParseAll("97/1, E361(2), nothing").ToHashSet();
        Assert.Equal(["97/1", "E361(2)"], known.Select(x => x.ToString()).Order(StringComparer.Ordinal));
        var check = new WalkCheck
        {
            Code = "codes",
            Name = "codes",
            Station = "cab",
            Kind = CheckKind.Code,
            Grade = DefectGrade.Limit,
        };
        CheckOutcome Of(bool red, params string[] codes) =>
            CheckJudge
                .Judge(check, new CodesAnswer([.. codes.Select(x => FaultCode.Parse(x)!.Value)], red), new() { KnownCodes = known })
                .Outcome;
        Assert.Equal(CheckOutcome.Watch, Of(false, "e361(2)"));
        Assert.Equal(CheckOutcome.Watch, Of(false, "E361(2)", "97-1"));
        Assert.Equal(CheckOutcome.Fault, Of(false, "E361(2)", "E362(2)"));
        Assert.Equal(CheckOutcome.Fault, Of(true, "E361(2)"));
    }

    [Theory]
    [InlineData(DrainAmount.None, CheckOutcome.Ok)]
    [InlineData(DrainAmount.Little, CheckOutcome.Watch)]
    [InlineData(DrainAmount.Lot, CheckOutcome.Fault)]
    public void A_bowl_drained_until_it_runs_clear_is_judged_by_the_most_that_came_out(DrainAmount most, CheckOutcome outcome)
    {
        var check = new WalkCheck
        {
            Code = "bowl",
            Name = "bowl",
            Station = "engine",
            Kind = CheckKind.Drain,
        };
        Assert.Equal(outcome, CheckJudge.Judge(check, new DrainAnswer(most)).Outcome);
        Assert.Equal(outcome, CheckJudge.Judge(check, new DrainAnswer(most, [DrainAmount.None])).Outcome);
        Assert.Equal(outcome, CheckJudge.Judge(check, new DrainAnswer(DrainAmount.None, [most, DrainAmount.None])).Outcome);
    }

    [Theory]
    [InlineData(EngineState.Running, 0.4, FluidLook.Clear, CheckOutcome.NotUsed)]
    [InlineData(EngineState.Running, 1.2, FluidLook.Clear, CheckOutcome.NotUsed)]
    [InlineData(EngineState.Running, -0.2, FluidLook.Clear, CheckOutcome.Fault)]
    [InlineData(EngineState.Running, 0.4, FluidLook.Milky, CheckOutcome.Fault)]
    [InlineData(EngineState.Off, 0.4, FluidLook.Clear, CheckOutcome.Ok)]
    public void A_cold_mark_permits_the_start_and_is_never_the_reading(
        EngineState engine,
        double level,
        FluidLook look,
        CheckOutcome outcome
    )
    {
        var check = new WalkCheck
        {
            Code = "transmission-level",
            Name = "transmission",
            Station = "engine",
            Kind = CheckKind.Level,
            Engine = engine,
            Fluid = FluidUse.Transmission,
        };
        Assert.Equal(outcome, CheckJudge.Judge(check, new LevelAnswer(level, look, Cold: true)).Outcome);
        Assert.Equal(engine == EngineState.Running, check.ReadWarm);
    }

    private static WalkCheck Greased(params string[] points) =>
        new()
        {
            Code = "grease-boom",
            Name = "boom",
            Station = "work",
            Kind = CheckKind.Grease,
            Points = [.. points],
        };

    [Fact]
    public void A_fitting_that_refuses_is_remembered_by_its_name_over_the_last_ten_days_of_greasing()
    {
        var check = Greased("Foot, left", "Foot, right *");
        var kept = new List<(string Key, DateOnly On)>();
        for (var day = 1; day <= 14; day++)
        {
            ImmutableArray<PointState> states =
            [
                day is 2 or 12 ? PointState.Bad : PointState.Good,
                day is 6 or 9 ? PointState.Seized : PointState.Good,
            ];
            kept.AddRange(GreaseMemory.Kept(check, states).Select(x => (x.Key, new DateOnly(2026, 3, day))));
        }

        var memory = GreaseMemory.Of(kept)["grease-boom"].OrderBy(x => x.Point).ToList();
        Assert.Equal([new GreaseMemory("Foot, left", 1, 10), new("Foot, right", 2, 10)], memory);
        Assert.Empty(GreaseMemory.Of(kept)["grease-joint"]);
        Assert.Empty(GreaseMemory.Of([]));
    }

    [Fact]
    public void What_is_remembered_never_says_more_refusals_than_days_whatever_the_order() =>
        Gen.Select(Gen.Int[0, 3], Gen.Int[1, 40])
            .List[1, 60]
            .Sample(days =>
            {
                var check = Greased("one");
                var kept = days.SelectMany(x =>
                        GreaseMemory
                            .Kept(check, [x.Item1 == 0 ? PointState.Bad : PointState.Good])
                            .Select(k => (k.Key, new DateOnly(2026, 1, 1).AddDays(x.Item2)))
                    )
                    .ToList();
                var refused = days.Where(x => x.Item1 == 0).Select(x => x.Item2).Distinct().ToHashSet();
                var last = days.Select(x => x.Item2).Distinct().OrderDescending().Take(GreaseMemory.MostDays).ToList();
                var memory = GreaseMemory.Of(kept)[check.Code].SingleOrDefault();
                Assert.Equal((last.Count(refused.Contains), last.Count), (memory?.Refused ?? 0, memory?.Days ?? last.Count));
                kept.Reverse();
                Assert.Equal(memory, GreaseMemory.Of(kept)[check.Code].SingleOrDefault());
            });

    [Fact]
    public void A_machines_own_minutes_need_five_honest_walks_and_a_hasty_one_is_none_of_them()
    {
        Assert.Equal(1, WalkMinutes.OwnShare([(800, 1000), (800, 1000), (800, 1000), (800, 1000)]));
        Assert.Equal(0.8, WalkMinutes.OwnShare(Enumerable.Repeat((800.0, 1000.0), 5)), 1e-6);
        Assert.Equal(1, WalkMinutes.OwnShare(Enumerable.Repeat((300.0, 1000.0), 20)));
        Assert.Equal(
            0.8,
            WalkMinutes.OwnShare([.. Enumerable.Repeat((800.0, 1000.0), 5), .. Enumerable.Repeat((100.0, 1000.0), 20)]),
            1e-6
        );
        Assert.Equal(1.2, WalkMinutes.OwnShare([(800, 1000), (1100, 1000), (1200, 1000), (1300, 1000), (90_000, 1000)]), 1e-6);
    }

    [Fact]
    public void No_walks_bring_the_offered_minutes_far_from_what_is_meant() =>
        Gen.Select(Gen.Double[1, 100_000], Gen.Double[1, 10_000])
            .List[0, 40]
            .Sample(walks => Assert.InRange(WalkMinutes.OwnShare(walks), 0.6, 2));

    [Theory]
    [InlineData(-1, null, false)]
    [InlineData(0, null, true)]
    [InlineData(14, null, true)]
    [InlineData(14, 20, true)]
    [InlineData(14, 13, false)]
    [InlineData(96, null, true)]
    [InlineData(97, null, false)]
    public void A_machine_stands_as_it_was_left_until_somebody_walks_it_or_days_go_by(int hoursAgo, int? walkedHoursAgo, bool stands)
    {
        var now = new DateTimeOffset(2026, 3, 16, 6, 0, 0, TimeSpan.Zero);
        DateTimeOffset? walked = walkedHoursAgo is { } ago ? now.AddHours(-ago) : null;
        Assert.Equal(stands, ParkingCard.Stands(now.AddHours(-hoursAgo), walked, now));
    }

    [Fact]
    public void The_evenings_card_has_the_lines_that_the_machine_has_and_keeps_them_in_order()
    {
        static CheckList List(params string[] compartments) =>
            new(
                [],
                [],
                [],
                [
                    .. compartments.Select(x => new WalkCheck
                    {
                        Code = x,
                        Name = x,
                        Station = "left",
                        Compartment = x,
                    }),
                ]
            );
        Assert.Contains(ParkingLine.Tracks, ParkingCard.Of(List("tracks"), ImmutableHashSet<string>.Empty));
        Assert.DoesNotContain(ParkingLine.Tracks, ParkingCard.Of(List("wheels"), ImmutableHashSet<string>.Empty));
        Assert.DoesNotContain(ParkingLine.Lamp, ParkingCard.Of(List("wheels"), ImmutableHashSet<string>.Empty));
        Assert.Contains(ParkingLine.Lamp, ParkingCard.Of(List("wheels"), ImmutableHashSet.Create("aftertreatment=def")));
        Assert.DoesNotContain(ParkingLine.Fuel, ParkingCard.Of(List("wheels"), ImmutableHashSet.Create("drive=electric")));
        var kept = ParkingCard.Write([ParkingLine.Heater, ParkingLine.Level, ParkingLine.Heater]);
        Assert.Equal([ParkingLine.Level, ParkingLine.Heater], ParkingCard.Read(kept));
        Assert.Empty(ParkingCard.Read("Nonsense 99"));
    }
}
