using CsCheck;
using Nippers.App.Units;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.Core.Jobs;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>What is typed and read in other units than those that are kept.</summary>
public sealed class QuantityTests
{
    private static readonly PersonUnits Gallons = PersonUnits.Us;

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Fact]
    public void Litres_are_typed_and_shown_as_they_are_kept() =>
        Gen.Double[0, 10_000].Sample(litres => Quantities.Kept(litres).Value == litres && Quantities.Shown(new(litres)) == litres);

    [Fact]
    public void What_is_shown_in_gallons_and_typed_again_is_the_same_oil() =>
        In(Gallons, () =>
            Gen.Double[0.01, 10_000]
                .Sample(litres => Math.Abs(Quantities.Kept(Quantities.Shown(new(litres))).Value - litres) <= 0.0005 + litres * 1e-12)
        );

    [Fact]
    public void A_limit_is_said_in_the_units_of_who_typed()
    {
        var refusals = new List<Refusal>();
        In(Gallons, () => Assert.Null(Typed.Volume("100", "litres", 0, 200, refusals)));
        var refused = Assert.Single(refusals);
        Assert.Equal(("litres", "between"), (refused.Field, refused.Code));
        Assert.Equal(52.8, Math.Round((double)refused.Args[1]!, 1));
        Assert.Equal(200 / 3.785411784, In(Gallons, () => Quantities.Shown(new(200))), 1e-9);
    }

    [Theory]
    [InlineData("")]
    [InlineData("some")]
    [InlineData("1,000")]
    public void Text_that_is_no_volume_is_none_in_any_units(string text)
    {
        var refusals = new List<Refusal>();
        Assert.Null(In(Gallons, () => Typed.Volume(text, "litres", 0, 200, refusals)));
        Assert.Equal(text.Length == 0 ? 0 : 1, refusals.Count);
    }

    [Fact]
    public void A_step_filled_in_gallons_is_kept_in_litres_and_shown_in_gallons_again() => In(Gallons, () =>
        {
            var step = new JobStep
            {
                Code = "engine-oil.fill",
                Input = InputKind.Fill,
                Words = "Fill",
            };
            var refusals = new List<Refusal>();
            var answer = StepForm.Read(step, TypedFields.None.With("litres", 6.5), refusals);
            Assert.Empty(refusals);
            Assert.Equal(24.605, Assert.IsType<FillAnswer>(answer).Litres!.Value);
            Assert.Equal("6.5", StepForm.Write(step, answer)["litres"]);
        });

    [Theory]
    [InlineData(-40, -40)]
    [InlineData(32, 0)]
    [InlineData(113, 45)]
    public void Weather_typed_in_fahrenheit_is_kept_in_celsius(double typed, double celsius) => In(Gallons, () =>
        {
            var refusals = new List<Refusal>();
            var kept = Typed.Temperature($"{typed}", "lowC", -60, 60, refusals);
            Assert.Empty(refusals);
            Assert.Equal(celsius, kept!.Value, 1e-9);
            Assert.Equal($"{typed}", Quantities.TypedTemperature(kept));
        });

    [Fact]
    public void A_filter_measured_in_inches_is_kept_in_millimetres_and_comes_back_in_inches() => In(Gallons, () =>
        {
            var step = new JobStep
            {
                Code = "engine-oil.filter",
                Input = InputKind.Filter,
                Words = "Filter",
            };
            var refusals = new List<Refusal>();
            var answer = StepForm.Read(step, TypedFields.None.With("lengthMm", 5.5), refusals);
            Assert.Empty(refusals);
            Assert.Equal(139.7, Assert.IsType<FilterAnswer>(answer).Size.LengthMm!.Value, 1e-6);
            Assert.Equal("5.5", StepForm.Write(step, answer)["lengthMm"]);
            var tooSmall = Assert.IsType<FilterAnswer>(answer) with { Size = new(0.5, null, null, "") };
            var refused = Assert.Single(StepRules.Of(step, tooSmall));
            Assert.Equal(("lengthMm", "between", 0.0394), (refused.Field, refused.Code, Math.Round((double)refused.Args[0]!, 4)));
        });

    [Fact]
    public async Task A_top_up_in_gallons_is_kept_in_litres()
    {
        await using var fleet = await Fleet.WithLoader();
        PersonUnits.Current = Gallons;
        var kept = await Ok<LogTopUp, LoggedTopUp>(fleet, x => x.Run("WL-01", "2", "engine", null, Fleet.Tam, Ct));
        Assert.Equal(7.571, kept.Litres);
    }

    private static void In(PersonUnits units, Action work) => In(units, () =>
        {
            work();
            return true;
        });

    private static T In<T>(PersonUnits units, Func<T> work)
    {
        var before = PersonUnits.Current;
        PersonUnits.Current = units;
        try
        {
            return work();
        }
        finally
        {
            PersonUnits.Current = before;
        }
    }
}
