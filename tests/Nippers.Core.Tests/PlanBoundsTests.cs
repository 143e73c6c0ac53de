using Nippers.Core.Walk;

namespace Nippers.Core.Tests;

/// <summary>What a plan may hold: a part of 1e17 is drawn for ever.</summary>
public sealed class PlanBoundsTests
{
    private static CheckList With(double x = 10, double width = 20, double angle = 0, int parts = 1, int stations = 1, double at = 10) =>
        new(
            [.. Enumerable.Range(0, stations).Select(i => new Station($"s{i}", "Station", at, 10))],
            [],
            [.. Enumerable.Repeat(new PlanPart(PlanShape.Wheel, x, 10, width, 20, angle), parts)],
            []
        );

    [Fact]
    public void What_lies_on_the_plan_fits() =>
        Assert.True(PlanBounds.Fits(With(x: 320, width: 320, angle: 359, parts: PlanBounds.MostParts, stations: PlanBounds.MostStations)));

    public static TheoryData<CheckList> Strays =>
        [
            With(x: 1e17),
            With(x: -1),
            With(x: double.NaN),
            With(width: 1e17),
            With(width: 0),
            With(width: double.PositiveInfinity),
            With(angle: 360),
            With(angle: -1),
            With(at: 321),
            With(at: double.NaN),
            With(parts: PlanBounds.MostParts + 1),
            With(stations: PlanBounds.MostStations + 1),
            With() with
            {
                Places = [new("engine", 1e17, 0)],
            },
        ];

    [Theory]
    [MemberData(nameof(Strays))]
    public void What_does_not_is_refused(CheckList list) => Assert.False(PlanBounds.Fits(list));
}
