using CsCheck;
using Nippers.Core.Oil;

namespace Nippers.Core.Tests;

public sealed class OilTests
{
    private static OilSample Sample(OilKind kind, params (Measurand Measurand, double Value)[] results) =>
        new()
        {
            Kind = kind,
            IntervalHours = LimitSet.ReferenceHours(kind),
            MachineHours = 4000,
            OilHours = LimitSet.ReferenceHours(kind),
            SumpLitres = 20,
            Results = Measures.Of(results.Select(x => KeyValuePair.Create(x.Measurand, x.Value))),
        };

    private static OilJudgement Judge(OilSample sample, params EarlierSample[] earlier) =>
        OilJudge.Judge(sample, LimitSet.Starting(sample.Kind), earlier);

    private static EarlierSample Before(double hours, Measurand measurand, double value) =>
        new(hours, Measures.Of([new(measurand, value)]));

    private static readonly Gen<OilSample> Samples =
        from kind in Gen.Enum<OilKind>()
        from values in Gen.Double[0, 3].Array[Measurands.Limited.Length]
        from hours in Gen.Double[1, 3000]
        from added in Gen.Double[0, 60]
        select Sample(
            kind,
            [
                .. Measurands
                    .Limited.Where(x => LimitSet.Starting(kind)[x] is not null && x != Measurand.TanRise)
                    .Select((x, i) => (x, values[i] * LimitSet.Starting(kind)[x]!.Watch)),
            ]
        ) with
        {
            OilHours = hours,
            AddedLitres = added,
        };

    [Fact]
    public void More_of_anything_never_makes_a_milder_grade() =>
        Gen.Select(Samples, Gen.Int[0, Measurands.Limited.Length - 1], Gen.Double[1, 3])
            .Sample(
                (sample, which, times) =>
                {
                    var measurand = Measurands.Limited[which];
                    if (sample.Results[measurand] is not { } value)
                        return;
                    var worse = Judge(sample with { Results = sample.Results.With(measurand, value * times) });
                    Assert.True(worse.LimitGrades[(int)measurand] >= Judge(sample).LimitGrades[(int)measurand]);
                }
            );

    [Fact]
    public void Added_oil_never_makes_wear_look_smaller_and_touches_nothing_else() =>
        Samples.Sample(sample =>
        {
            var (with, without) = (Judge(sample).Values, Judge(sample with { AddedLitres = 0 }).Values);
            foreach (var (measurand, value) in without.All)
            {
                if (measurand.IsWear())
                    Assert.True(with[measurand] >= value);
                else
                    Assert.Equal(value, with[measurand]);
            }
        });

    [Fact]
    public void Young_oil_is_scaled_to_twice_at_most_and_old_or_hydraulic_oil_never() =>
        Samples.Sample(sample =>
        {
            var judged = Judge(sample);
            Assert.InRange(judged.Ageing, 1, 2);
            if (sample.Kind == OilKind.Hydraulic || sample.OilHours >= LimitSet.ReferenceHours(sample.Kind))
                Assert.Equal(1, judged.Ageing);
            Assert.Equal(sample.OilHours < 0.2 * LimitSet.ReferenceHours(sample.Kind), judged.Doubts.HasFlag(SampleDoubts.TooEarly));
        });

    [Fact]
    public void A_verdict_is_never_milder_than_the_worst_grade() =>
        Samples.Sample(sample =>
        {
            var judged = Judge(sample);
            Assert.True((int)judged.Assessment >= (judged.Grades.Max() ?? 0));
            Assert.All(judged.Grades.Zip(judged.LimitGrades), x => Assert.True(x.First >= x.Second || x.Second is null));
        });

    [Fact]
    public void A_pattern_shows_only_figures_that_were_measured() =>
        Samples.Sample(sample =>
        {
            var judged = Judge(sample);
            Assert.All(judged.Patterns, x => Assert.All(x.Evidence, y => Assert.NotNull(judged.Values[y])));
            Assert.All(judged.Patterns, x => Assert.NotEmpty(x.Evidence));
        });

    [Fact]
    public void One_wild_value_does_not_move_a_slope() =>
        Gen.Select(Gen.Double[-1, 1], Gen.Double[-1e4, 1e4], Gen.Int[0, 5])
            .Sample(
                (slope, wild, at) =>
                {
                    var points = Enumerable.Range(0, 6).Select(x => (Hours: 1000.0 + 250 * x, Value: slope * 250 * x)).ToList();
                    points[at] = points[at] with { Value = wild };
                    Assert.Equal(slope, Trend.Slope(points)!.Value, 1e-9);
                }
            );

    [Fact]
    public void Points_at_the_same_hours_give_no_slope() => Assert.Null(Trend.Slope([(100, 1), (100, 5)]));

    [Fact]
    public void Wear_that_is_climbing_to_its_limit_is_watched_before_it_is_there()
    {
        var judged = Judge(Sample(OilKind.Engine, (Measurand.Fe, 70)), Before(3500, Measurand.Fe, 10), Before(3750, Measurand.Fe, 40));
        Assert.Empty(judged.Findings);

        judged = Judge(
            Sample(OilKind.Engine, (Measurand.Fe, 74)) with
            {
                IntervalHours = 700,
            },
            Before(3500, Measurand.Fe, 14),
            Before(3750, Measurand.Fe, 44)
        );
        var heading = Assert.Single(judged.Findings);
        Assert.Equal("heading:Fe", heading.ToString());
        Assert.Equal(74 + 0.12 * 700, heading.Value, 1e-6);
        Assert.Equal((0, 1), (judged.LimitGrades[(int)Measurand.Fe], judged.Grades[(int)Measurand.Fe]));
        Assert.Equal(Assessment.Watch, judged.Assessment);
    }

    [Fact]
    public void A_method_that_does_not_see_half_the_limit_says_nothing()
    {
        var coarse = Judge(Sample(OilKind.Hydraulic, (Measurand.Water, 0.1)) with { Below = [Measurand.Water] });
        Assert.Null(coarse.LimitGrades[(int)Measurand.Water]);
        Assert.True(coarse.Doubts.HasFlag(SampleDoubts.Coarse));

        var fine = Judge(Sample(OilKind.Hydraulic, (Measurand.Water, 0.02)) with { Below = [Measurand.Water] });
        Assert.Equal((0, 0.0), (fine.LimitGrades[(int)Measurand.Water], fine.Values[Measurand.Water]));
        Assert.Equal(SampleDoubts.None, fine.Doubts);
    }

    [Fact]
    public void Oil_added_to_a_sump_of_unknown_size_is_said_and_not_corrected()
    {
        var judged = Judge(Sample(OilKind.Gear, (Measurand.Fe, 100)) with { SumpLitres = null, AddedLitres = 3 });
        Assert.Equal((SampleDoubts.NoSump, 100.0), (judged.Doubts, judged.Values[Measurand.Fe]));
    }

    [Theory]
    [InlineData(OilKind.Engine, "15W-40", "SAE 15W-40", 100, 12.5, 16.3)]
    [InlineData(OilKind.Hydraulic, "HV 46", "ISO VG 46", 40, 41.4, 50.6)]
    [InlineData(OilKind.Gear, "80W-90", "GEAR 80W-90", 100, 13.5, 18.5)]
    [InlineData(OilKind.Transmission, "SAE 30", "SAE 30", 100, 9.3, 12.5)]
    [InlineData(OilKind.Hydraulic, "SAE 10W", "SAE 10W", 100, null, null)]
    [InlineData(OilKind.Engine, "Seaward long life", null, 0, null, null)]
    public void A_fluids_name_tells_its_grade_where_it_holds_one(
        OilKind kind,
        string fluid,
        string? grade,
        int celsius,
        double? low,
        double? high
    )
    {
        Assert.Equal(grade, ViscosityGrade.Guess(fluid, kind));
        if (grade is null)
            return;
        var read = ViscosityGrade.Of(grade);
        Assert.Equal(celsius, read.TemperatureC);
        Assert.Equal(low, read.Band?.Low);
        if (high is { } edge)
            Assert.Equal(edge, read.Band!.High, 1e-6);
        Assert.Equal(high is null, read.Band is null);
    }

    [Theory]
    [InlineData(0, 0.0, 1.0)]
    [InlineData(100, 99.0, 1.0)]
    [InlineData(100, 1000.0, 1.5)]
    [InlineData(100, 0.0, 0.5)]
    public void Own_limits_need_a_hundred_values_and_stay_near_the_starting_ones(int count, double value, double share)
    {
        var starting = new OilLimit(100, 200);
        var own = LimitSet.OwnFleet([.. Enumerable.Repeat(value, count)], starting);
        if (count < LimitSet.FewestValues)
        {
            Assert.Null(own);
            return;
        }

        Assert.Equal((LimitSource.Own, count), (own!.Source, own.Values));
        Assert.Equal(Math.Clamp(value, 50, 150), own.Watch);
        Assert.True(own.Act >= 1.25 * own.Watch && own.Act <= 300);
        if (value is 0 or 1000)
            Assert.Equal(share * 200, own.Act);
    }

    [Fact]
    public void A_code_reads_back_and_says_how_far_it_is_off()
    {
        Assert.Equal(new Iso4406Code(22, 13, 9), Iso4406Code.Parse(" 22/13/9"));
        Assert.Equal("22/13/9", new Iso4406Code(22, 13, 9).ToString());
        Assert.Equal(4, new Iso4406Code(22, 13, 9).Above(new(18, 16, 13)));
        foreach (var wrong in new[] { "", "22/13", "22/13/30", "a/b/c", "-1/3/4", null })
            Assert.Null(Iso4406Code.Parse(wrong));
        Assert.Throws<ArgumentOutOfRangeException>(() => Iso4406Code.ScaleNumber(-1));
        Assert.Throws<ArgumentOutOfRangeException>(() => Iso4406Code.ScaleNumber(double.NaN));
    }

    [Fact]
    public void A_reach_crosses_one_at_watch_and_two_at_act() =>
        Samples.Sample(sample =>
        {
            var judged = Judge(sample);
            foreach (var measurand in Measurands.Limited)
            {
                if (judged.LimitGrades[(int)measurand] is not { } grade)
                    continue;
                var reach = judged.Reach(measurand)!.Value;
                Assert.Equal(
                    grade,
                    reach >= 2 ? 2
                        : reach >= 1 ? 1
                        : 0
                );
            }
        });

    [Fact]
    public void A_base_number_and_a_viscosity_reach_their_borders_too()
    {
        var fresh = new NewOil(Viscosity: 14.5, Tbn: 10);
        foreach (var (tbn, viscosity, grade) in new[] { (9.0, 14.0, 0), (4.9, 13.0, 1), (2.4, 11.0, 2) })
        {
            var judged = Judge(
                Sample(OilKind.Engine, (Measurand.Tbn, tbn), (Measurand.Viscosity, viscosity)) with
                {
                    Grade = ViscosityGrade.Of("SAE 15W-40"),
                    New = fresh,
                }
            );
            foreach (var measurand in new[] { Measurand.Tbn, Measurand.Viscosity })
            {
                Assert.Equal(grade, judged.LimitGrades[(int)measurand]);
                Assert.Equal(grade, (int)Math.Min(2, Math.Floor(judged.Reach(measurand)!.Value)));
            }
        }
    }

    [Fact]
    public void Two_strong_figures_make_a_pattern_surer()
    {
        Assert.Equal(
            Sureness.Likely,
            Judge(Sample(OilKind.Engine, (Measurand.Si, 16), (Measurand.Al, 8))).Patterns.Single(x => x.Code == "dirt").Sure
        );
        Assert.Equal(
            Sureness.Sure,
            Judge(Sample(OilKind.Engine, (Measurand.Si, 40), (Measurand.Al, 31))).Patterns.Single(x => x.Code == "dirt").Sure
        );
    }

    [Fact]
    public void What_was_not_measured_satisfies_no_condition()
    {
        // Sealant needs iron, aluminium and chromium seen and low; here only silicon was measured.
        Assert.Empty(Judge(Sample(OilKind.Engine, (Measurand.Si, 40))).Patterns);
    }

    private static readonly DrainRule Rule = new(2000, 500, 4000);

    private static DrainSample Steady(double hours = 500) => new(Assessment.Normal, false, 8, hours);

    [Fact]
    public void An_interval_grows_by_steps_to_its_cap_and_falls_at_once()
    {
        Assert.Equal(
            new(2500, DrainReason.Earned),
            DrainAdvice.After(Rule, 2000, OilKind.Hydraulic, [Steady(), Steady(), Steady()], true, null)
        );
        Assert.Equal(
            new(4000, DrainReason.Earned),
            DrainAdvice.After(Rule, 3800, OilKind.Hydraulic, [Steady(), Steady(), Steady()], true, null)
        );
        Assert.Equal(
            new(4000, DrainReason.AtCap),
            DrainAdvice.After(Rule, 4000, OilKind.Hydraulic, [Steady(), Steady(), Steady()], true, null)
        );
        Assert.Equal(new(2000, DrainReason.TooFew), DrainAdvice.After(Rule, 2000, OilKind.Hydraulic, [Steady(), Steady()], true, null));
        Assert.Equal(
            new(2000, DrainReason.NotApproved),
            DrainAdvice.After(Rule, 2000, OilKind.Hydraulic, [Steady(), Steady(), Steady()], false, null)
        );
        Assert.Equal(
            new(2500, DrainReason.LateSample),
            DrainAdvice.After(Rule, 2500, OilKind.Hydraulic, [Steady(), Steady() with { Late = true }, Steady()], true, null)
        );
        Assert.Equal(
            new(2500, DrainReason.NotSteady),
            DrainAdvice.After(Rule, 2500, OilKind.Hydraulic, [Steady(), new(Assessment.Watch, false), Steady()], true, null)
        );
        Assert.Equal(
            new(2000, DrainReason.BadSample),
            DrainAdvice.After(Rule, 3500, OilKind.Hydraulic, [Steady(), Steady(), new(Assessment.Act, false)], true, null)
        );
        Assert.Equal(new(2000, DrainReason.MissedSample), DrainAdvice.Missed(Rule));
    }

    [Theory]
    [InlineData(8.0, 10.0, true)]
    [InlineData(6.9, 10.0, false)]
    [InlineData(null, 10.0, false)]
    [InlineData(8.0, null, false)]
    public void An_engine_earns_hours_only_on_its_base_number(double? tbn, double? fresh, bool earns)
    {
        // From 250 to 400 h: 10 falls to 6.8 on the first line, to 5.04 by 6.9 ... which is above 5 only just.
        var last = new DrainSample(Assessment.Normal, false, tbn, 250);
        var step = DrainAdvice.After(new(250, 150, 500), 250, OilKind.Engine, [Steady(250), Steady(250), last], true, fresh);
        var projected = DrainAdvice.ProjectedTbn(last, fresh, 400);
        Assert.Equal(projected > 5, step.Reason == DrainReason.Earned);
        Assert.Equal(earns || projected > 5, step.Hours > 250);
    }

    [Fact]
    public void An_interval_never_leaves_base_and_cap() =>
        Gen.Select(Gen.Enum<Assessment>().Array[0, 8], Gen.Bool, Gen.Int[0, 8])
            .Sample(
                (verdicts, approved, steps) =>
                {
                    var current = Math.Min(2000 + 500 * steps, 4000);
                    var step = DrainAdvice.After(
                        Rule,
                        current,
                        OilKind.Hydraulic,
                        [.. verdicts.Select(x => new DrainSample(x, false))],
                        approved,
                        null
                    );
                    Assert.InRange(step.Hours, 2000, 4000);
                    Assert.True(step.Hours <= current + 500);
                    if (verdicts.LastOrDefault() >= Assessment.Act)
                        Assert.Equal(2000, step.Hours);
                }
            );

    [Theory]
    [InlineData(Assessment.Normal, 500.0)]
    [InlineData(Assessment.Watch, 250.0)]
    [InlineData(Assessment.Act, 50.0)]
    [InlineData(Assessment.Critical, null)]
    public void The_next_sample_comes_by_the_verdict(Assessment verdict, double? hours) =>
        Assert.Equal(hours, OilJudge.NextSampleHours(verdict, 500));

    [Fact]
    public void A_bottles_code_survives_a_smudge_and_tells_a_slip() =>
        Gen.Select(Gen.Long[0, 1_000_000], Gen.Int[0, 5], Gen.Int[1, 30])
            .Sample(
                (number, place, other) =>
                {
                    const string alphabet = "23456789ABCDEFGHJKLMNPQRSTVWXYZ";
                    var code = BottleCode.Of(number);
                    Assert.Equal(code, BottleCode.Read(code.ToLowerInvariant().Replace("-", " ", StringComparison.Ordinal)));
                    Assert.True(BottleCode.HasShape(code));
                    var signs = code.Replace("-", "", StringComparison.Ordinal).ToCharArray();

                    var smudged = (char[])signs.Clone();
                    smudged[place] = '?';
                    Assert.Equal(code, BottleCode.Read(new string(smudged)));

                    var wrong = (char[])signs.Clone();
                    wrong[place] = alphabet[(alphabet.IndexOf(signs[place], StringComparison.Ordinal) + other) % alphabet.Length];
                    Assert.Null(BottleCode.Read(new string(wrong)));

                    if (place == 5 || signs[place] == signs[place + 1])
                        return;
                    var swapped = (char[])signs.Clone();
                    (swapped[place], swapped[place + 1]) = (swapped[place + 1], swapped[place]);
                    Assert.Null(BottleCode.Read(new string(swapped)));
                }
            );

    [Fact]
    public void Running_numbers_give_codes_that_are_all_different_and_do_not_look_alike()
    {
        var codes = Enumerable.Range(0, 5000).Select(x => BottleCode.Of(x)).ToList();
        Assert.Equal(codes.Count, codes.Distinct().Count());
        Assert.All(codes.Zip(codes.Skip(1)), x => Assert.True(x.First.Zip(x.Second).Count(y => y.First != y.Second) >= 3));
        Assert.Equal(BottleCode.Of(3), BottleCode.Of(BottleCode.Count + 3));
        foreach (var wrong in new[] { "", "K7M", "K7M-4P0", "??M-4PX", null })
            Assert.Null(BottleCode.Read(wrong));
    }

    [Fact]
    public void Running_machines_are_sampled_first_and_a_drain_stream_last()
    {
        var order = Drawing.Order([
            new("a", DrawMethod.DrainStream),
            new("b", DrawMethod.Tube),
            new("c", DrawMethod.LivePort),
            new("d", DrawMethod.Tube),
        ]);
        Assert.Equal(["c", "b", "d", "a"], order.Select(x => x.Item));
        Assert.Equal(DrawMethod.LivePort, Drawing.MethodOf(OilKind.Gear, livePort: true, drainsToday: true));
        Assert.Equal(DrawMethod.DrainStream, Drawing.MethodOf(OilKind.Gear, livePort: false, drainsToday: true));
        Assert.Equal(DrawMethod.Tube, Drawing.MethodOf(OilKind.Engine, livePort: false, drainsToday: true));
        Assert.False(Drawing.Suits(DrawMethod.Tube, DrawState.Running));
        Assert.False(Drawing.Suits(DrawMethod.LivePort, DrawState.Cold));
        Assert.True(Drawing.Suits(DrawMethod.DrainStream, DrawState.Warm));
    }

    [Theory]
    [InlineData(50.0, null, 9.0, null, null, null, -10, 0, false, false)]
    [InlineData(38.0, null, 9.0, null, null, null, -10, 1, false, false)]
    [InlineData(25.0, null, 9.0, null, null, null, -15, 2, false, false)]
    [InlineData(50.0, null, 9.0, Inhibitor.Low, null, null, -10, 1, true, false)]
    [InlineData(50.0, null, 9.0, Inhibitor.High, null, null, -10, 1, false, false)]
    [InlineData(50.0, null, 6.9, Inhibitor.Low, null, null, -10, 2, false, true)]
    [InlineData(50.0, null, null, null, 120.0, null, -10, 2, false, true)]
    [InlineData(50.0, -6.0, null, null, null, 90.0, -10, 2, false, false)]
    public void A_coolant_is_judged_and_gets_conditioner_only_on_a_tests_word(
        double? share,
        double? freeze,
        double? ph,
        Inhibitor? inhibitor,
        double? chloride,
        double? sulphate,
        int low,
        int worst,
        bool conditioner,
        bool change
    )
    {
        var judged = CoolantJudge.Judge(new(share, freeze, ph, inhibitor, chloride, sulphate), low, 30, 50, 100);
        Assert.Equal((worst, conditioner, change), (judged.Worst, judged.Conditioner, judged.Change));
    }

    [Fact]
    public void A_thin_coolant_gets_its_litres_and_a_spoiled_one_does_not()
    {
        Assert.Equal(30 * 0.25 / 0.75, CoolantJudge.Judge(new(25), -15, 30, 50, 100).ReplaceLitres!.Value, 1e-9);
        Assert.Null(CoolantJudge.Judge(new(25, Ph: 6), -15, 30, 50, 100).ReplaceLitres);
        Assert.Null(CoolantJudge.Judge(new(25), -15, null, 50, 100).ReplaceLitres);
        Assert.Null(CoolantJudge.Judge(new(50), -15, 30, 50, 100).ReplaceLitres);
    }

    [Fact]
    public void Another_oils_additives_are_told_and_a_likeness_needs_two()
    {
        var fresh = new NewOil(Additives: Measures.Of([new(Measurand.Ca, 2800), new(Measurand.Zn, 1200), new(Measurand.B, 20)]));
        Assert.Equal(
            [Measurand.Ca, Measurand.B],
            OilJudge.WrongAdditives(Measures.Of([new(Measurand.Ca, 1000), new(Measurand.Zn, 1000), new(Measurand.B, 240)]), fresh).ToArray()
        );
        Assert.True(OilJudge.IsLike(Measures.Of([new(Measurand.Ca, 2500), new(Measurand.Zn, 1000)]), fresh));
        Assert.False(OilJudge.IsLike(Measures.Of([new(Measurand.Ca, 2500)]), fresh));
        Assert.False(OilJudge.IsLike(Measures.Of([new(Measurand.Ca, 2500), new(Measurand.Zn, 1000)]), NewOil.Unknown));
    }

    [Fact]
    public void What_a_pattern_asks_for_stands_in_its_line_of_the_table()
    {
        Assert.Equal(["air-ejector", "air-primary", OilPatterns.ChangeOfFluid], OilPatterns.AsksFor("dirt", OilKind.Engine));
        Assert.Equal(["transmission-filter"], OilPatterns.AsksFor("friction", OilKind.Transmission));
        Assert.Empty(OilPatterns.AsksFor("friction", OilKind.Engine));
        Assert.Empty(OilPatterns.AsksFor("sealant", OilKind.Engine));
        Assert.Empty(OilPatterns.AsksFor("no such pattern", OilKind.Engine));
        Assert.Equal(["coolant"], OilPatterns.Codes.Where(OilPatterns.ActsAlways));
        Assert.Equal(["wrongFluid"], OilPatterns.Codes.Where(x => OilPatterns.Least(x) > Assessment.Normal));
        Assert.Equal(Assessment.Watch, OilPatterns.Least("wrongFluid"));
    }
}
