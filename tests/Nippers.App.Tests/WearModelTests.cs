using CsCheck;
using Nippers.App.Oil;
using Nippers.Core.Oil;
using Nippers.Formats.Lab;
using Nippers.StandIns;

namespace Nippers.App.Tests;

/// <summary>The stand-in laboratory's oils, judged by the rules: what is wrong in one is found, and nothing else.</summary>
public sealed class WearModelTests
{
    private static LabOrderLine Line(OilKind kind, int number, double? hours = null, double added = 0) =>
        new(
            BottleCode.Of(number),
            $"EX-{number:00}",
            "place",
            kind.ToString().ToLowerInvariant(),
            "2026-03-16",
            4000,
            hours ?? LimitSet.ReferenceHours(kind),
            added,
            24,
            "oil",
            kind switch
            {
                OilKind.Engine => "SAE 15W-40",
                OilKind.Hydraulic => "ISO VG 46",
                OilKind.Gear => "GEAR 80W-90",
                _ => "SAE 30",
            }
        );

    private static OilJudgement Judge(LabOrderLine line, LabResult result)
    {
        var kind = Enum.Parse<OilKind>(line.Kind, ignoreCase: true);
        var grade = ViscosityGrade.Of(line.Grade);
        var (results, below) = OilCase.Numbers(OilCase.WriteFigures(result.Figures));
        return OilJudge.Judge(
            new()
            {
                Kind = kind,
                Grade = grade,
                SumpLitres = line.SumpLitres,
                IntervalHours = LimitSet.ReferenceHours(kind),
                MachineHours = line.MachineHours,
                OilHours = line.OilHours,
                AddedLitres = line.AddedLitres,
                Results = results.With(Measurand.Viscosity, results[grade.Measured]),
                Below = below,
                Iso = Iso4406Code.Parse(result.Iso),
                New = WearModel.New(kind, line.Grade),
            },
            LimitSet.Starting(kind),
            []
        );
    }

    [Theory]
    [InlineData(OilFault.Dirt, OilKind.Engine, "dirt")]
    [InlineData(OilFault.Dirt, OilKind.Gear, "dirt")]
    [InlineData(OilFault.Dirt, OilKind.Hydraulic, "dirtyOil")]
    [InlineData(OilFault.Coolant, OilKind.Engine, "coolant")]
    [InlineData(OilFault.Coolant, OilKind.Transmission, "coolant")]
    [InlineData(OilFault.SaltWater, OilKind.Gear, "saltWater")]
    [InlineData(OilFault.Fuel, OilKind.Engine, "fuel")]
    [InlineData(OilFault.Bearing, OilKind.Engine, "bearing")]
    [InlineData(OilFault.Gear, OilKind.Gear, "chips")]
    [InlineData(OilFault.Cooler, OilKind.Hydraulic, "cooler")]
    [InlineData(OilFault.Mixed, OilKind.Engine, "wrongFluid")]
    [InlineData(OilFault.Mixed, OilKind.Hydraulic, "wrongFluid")]
    [InlineData(OilFault.Thick, OilKind.Engine, "thick")]
    public void A_trouble_is_found_by_its_pattern_whatever_the_machine(OilFault fault, OilKind kind, string pattern) =>
        Gen.Int[0, 100_000]
            .Sample(number =>
            {
                var line = Line(kind, number);
                var judgement = Judge(line, WearModel.Report(line, fault));
                Assert.Contains(pattern, judgement.Patterns.Select(x => x.Code));
                Assert.NotEqual(Assessment.Normal, judgement.Assessment);
            });

    [Theory]
    [InlineData(OilKind.Engine)]
    [InlineData(OilKind.Hydraulic)]
    [InlineData(OilKind.Gear)]
    [InlineData(OilKind.Transmission)]
    public void A_sound_oil_carries_no_pattern_of_wear_or_dirt(OilKind kind) =>
        Gen.Int[0, 100_000]
            .Sample(number =>
            {
                var line = Line(kind, number);
                var judgement = Judge(line, WearModel.Report(line, OilFault.None));
                Assert.Empty(judgement.Patterns.Where(x => x.Code != "dirtyOil"));
                Assert.True(judgement.Assessment <= Assessment.Watch);
            });

    [Fact]
    public void The_same_bottle_gives_the_same_figures_and_another_seed_others()
    {
        var line = Line(OilKind.Engine, 7);
        Assert.Equal(WearModel.Report(line, OilFault.Dirt).Figures, WearModel.Report(line, OilFault.Dirt).Figures);
        Assert.NotEqual(WearModel.Report(line, OilFault.None).Figures, WearModel.Report(line, OilFault.None, seed: 1).Figures);
    }

    [Fact]
    public void Wear_grows_with_the_oils_hours_and_thins_with_what_is_added() =>
        Gen.Select(Gen.Int[0, 10_000], Gen.Double[30, 240], Gen.Double[1, 40])
            .Sample(
                (number, hours, added) =>
                {
                    static double Iron(LabOrderLine line) =>
                        double.Parse(
                            WearModel.Report(line, OilFault.Gear).Figures["Fe"],
                            System.Globalization.CultureInfo.InvariantCulture
                        );
                    Assert.True(Iron(Line(OilKind.Engine, number, hours)) <= Iron(Line(OilKind.Engine, number, hours + 10)));
                    Assert.True(Iron(Line(OilKind.Engine, number, hours, added)) <= Iron(Line(OilKind.Engine, number, hours)));
                }
            );

    [Fact]
    public void A_stronger_trouble_is_never_judged_milder() =>
        Gen.Select(Gen.Int[0, 10_000], Gen.Double[0.1, 1], Gen.Double[0, 2])
            .Sample(
                (number, weak, more) =>
                {
                    var line = Line(OilKind.Gear, number);
                    Assert.True(
                        Judge(line, WearModel.Report(line, OilFault.SaltWater, weak)).Assessment
                            <= Judge(line, WearModel.Report(line, OilFault.SaltWater, weak + more)).Assessment
                    );
                }
            );

    [Fact]
    public void About_one_place_in_so_many_has_a_trouble_of_its_own()
    {
        var places = Enumerable.Range(0, 4000).Select(x => $"EX-{x}").ToList();
        var troubled = places.Count(x => WearModel.SeededFault(x, "engine", 7, 20) != OilFault.None);
        Assert.InRange(troubled, 140, 260);
    }
}
