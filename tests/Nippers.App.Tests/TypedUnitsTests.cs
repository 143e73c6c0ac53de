using System.Globalization;
using Nippers.App.Units;

namespace Nippers.App.Tests;

/// <summary>A figure may be typed with its unit, whatever the field's is.</summary>
public sealed class TypedUnitsTests
{
    [Theory]
    [InlineData("1 qt", 0.946)]
    [InlineData("1 gal", 3.785)]
    [InlineData("5gal", 18.927)]
    [InlineData("1 pt", 0.473)]
    [InlineData("1,5 L", 1.5)]
    [InlineData("1.5 l", 1.5)]
    [InlineData("750 ml", 0.75)]
    [InlineData("2", 2)]
    [InlineData("2,5", 2.5)]
    public void A_volume_is_kept_in_litres(string typed, double litres)
    {
        var refusals = new List<Refusal>();
        Assert.Equal(litres, Typed.Volume(typed, "added", 0, 100, refusals)!.Value.Value, 1e-2);
        Assert.Empty(refusals);
    }

    [Theory]
    [InlineData("7/8 in", 22.225)]
    [InlineData("1 1/2 in", 38.1)]
    [InlineData("3 in", 76.2)]
    [InlineData("3\"", 76.2)]
    [InlineData("2 cm", 20)]
    [InlineData("12,5 mm", 12.5)]
    [InlineData("12.5", 12.5)]
    public void A_length_is_kept_in_millimetres(string typed, double millimetres)
    {
        var refusals = new List<Refusal>();
        Assert.Equal(millimetres, Typed.Length(typed, "lengthMm", 1, 1000, refusals)!.Value, 1e-3);
        Assert.Empty(refusals);
    }

    [Theory]
    [InlineData("-4 F", -20)]
    [InlineData("-4 °F", -20)]
    [InlineData("-20 C", -20)]
    [InlineData("-20", -20)]
    public void A_temperature_is_kept_in_degrees_celsius(string typed, double celsius) =>
        Assert.Equal(celsius, Typed.Temperature(typed, "freeze", -80, 10, [])!.Value, 1e-3);

    [Theory]
    [InlineData("51 psi", "bar", 3.516, true)]
    [InlineData("350 kPa", "bar", 3.5, true)]
    [InlineData("3.5 bar", "bar", 3.5, false)]
    [InlineData("1 3/4 in", "mm", 44.45, true)]
    [InlineData("100 lbft", "Nm", 135.582, true)]
    [InlineData("100 ft-lb", "Nm", 135.582, true)]
    [InlineData("100 lbf ft", "Nm", 135.582, true)]
    [InlineData("25 inH2O", "kPa", 6.227, true)]
    [InlineData("24.6 V", "V", 24.6, false)]
    [InlineData("24.6", "V", 24.6, false)]
    public void A_measure_is_kept_in_its_checks_unit(string typed, string unit, double figure, bool other)
    {
        var refusals = new List<Refusal>();
        var read = TypedUnits.Read(typed, unit, "f", refusals);
        Assert.Equal((figure, other), (Math.Round(read.Figure!.Value, 3), read.OtherUnit));
        Assert.Empty(refusals);
    }

    [Theory]
    [InlineData("3 psi", "mm")]
    [InlineData("3 furlongs", "mm")]
    [InlineData("psi", "bar")]
    [InlineData("3 psi", "V")]
    [InlineData("three mm", "mm")]
    [InlineData("7/0 in", "mm")]
    [InlineData("1/2/3 in", "mm")]
    [InlineData("1 2 in", "mm")]
    [InlineData("- in", "mm")]
    public void What_is_no_figure_of_that_unit_is_refused_once(string typed, string unit)
    {
        var refusals = new List<Refusal>();
        Assert.Null(TypedUnits.Read(typed, unit, "f", refusals).Figure);
        Assert.Equal(("f", "notANumber"), (Assert.Single(refusals).Field, refusals[0].Code));
    }

    [Theory]
    [InlineData("30 gal", "between")]
    [InlineData("-1 qt", "between")]
    [InlineData("3 mm", "notANumber")]
    [InlineData("1,250 qt", "decimalComma")]
    public void Limits_hold_in_whatever_unit_it_is_typed(string typed, string code)
    {
        var refusals = new List<Refusal>();
        Assert.Null(Typed.Volume(typed, "added", 0, 100, refusals));
        Assert.Equal(code, Assert.Single(refusals).Code);
    }

    [Fact]
    public void Every_unit_is_read_in_every_other_of_its_quantity_and_comes_back()
    {
        var pairs = 0;
        foreach (var from in TypedUnits.All)
        {
            foreach (var to in TypedUnits.All.Where(x => TypedUnits.Of(x)!.GetType() == TypedUnits.Of(from)!.GetType()))
            {
                var there = TypedUnits.Read($"40 {from}", to, "f", []).Figure!.Value;
                var back = TypedUnits.Read(string.Create(CultureInfo.InvariantCulture, $"{there} {to}"), from, "f", []).Figure!.Value;

                // A thousandth of a large unit is many of a small one.
                var thousandth = Math.Abs(
                    TypedUnits.Read($"1001 {to}", from, "f", []).Figure!.Value - TypedUnits.Read($"1000 {to}", from, "f", []).Figure!.Value
                );
                Assert.InRange(back, 40 - 0.001 * thousandth - 0.001, 40 + 0.001 * thousandth + 0.001);
                pairs++;
            }
        }

        Assert.Equal(25 + 36 + 25 + 25 + 16, pairs);
    }

    [Theory]
    [InlineData("metric")]
    [InlineData("us")]
    public void What_a_field_shows_is_read_back_as_it_was_kept_in_any_choice_of_units(string code)
    {
        using var units = PersonUnits.As(code);
        for (var kept = 1; kept < 4000; kept += 7)
        {
            var (litres, celsius, mm) = (kept / 20.0, kept / 100.0 - 20, kept / 5.0);
            Assert.Equal(litres, Typed.Volume(Quantities.Typed(new Core.Numbers.Litres(litres)), "f", 0, 500, [])!.Value.Value, 1e-9);
            Assert.Equal(Math.Round(mm, 1), Typed.Length(Quantities.TypedLength(mm), "f", 0, 1000, [])!.Value, 1e-9);
            Assert.Equal(
                Math.Round(celsius, 1),
                Typed.Temperature(Quantities.TypedTemperature(Math.Round(celsius, 1)), "f", -80, 60, [])!.Value,
                1e-9
            );
        }

        // A unit that is typed goes before the person's: nothing is converted twice.
        Assert.Equal(0.946, Typed.Volume("1 qt", "f", 0, 100, [])!.Value.Value, 1e-2);
        Assert.Equal(1, Typed.Volume("1 L", "f", 0, 100, [])!.Value.Value, 1e-2);
        Assert.Equal(25.4, Typed.Length("1 in", "f", 0, 100, [])!.Value, 1e-3);
        Assert.Equal(100, Typed.Temperature("212 F", "f", 0, 100, [])!.Value, 1e-3);
    }

    public static TheoryData<string, string, string> Everywhere()
    {
        var all = new TheoryData<string, string, string>();
        var lists = new[] { "bar", "psi", "kPa", "inH2O", "mm", "in", "cm", "m", "Nm", "L", "gal", "C", "V", "min", "" };
        var typed = new[] { "0", "0.3", "3.5", "12", "24.6", "51", "118.5" };
        foreach (var person in new[] { "metric", "us", "us,bar,kpa", "metric,psi,lbft,f,in,gal" })
        {
            foreach (var list in lists)
            {
                foreach (var figure in typed)
                    all.Add(person, list, figure);
            }
        }

        return all;
    }

    [Theory]
    [MemberData(nameof(Everywhere))]
    public void What_is_typed_into_the_field_of_a_measure_is_read_there_again(string person, string list, string typed)
    {
        using var units = PersonUnits.As(person);
        var refusals = new List<Refusal>();
        var kept = TypedUnits.Read(typed, list, "f", refusals);
        Assert.Empty(refusals);
        Assert.Equal(typed, Measures.Field(kept.Figure, list));

        // The words that are kept beside it say its unit, so that somebody with other units reads the same figure.
        using var other = PersonUnits.As(person.StartsWith("us", StringComparison.Ordinal) ? "metric" : "us");
        Assert.Equal(kept.Figure!.Value, TypedUnits.Read(kept.Typed, list, "f", refusals).Figure!.Value, 1e-2);
        Assert.Empty(refusals);
    }

    [Theory]
    [InlineData("us", "bar", "51", 3.516, "51 psi")]
    [InlineData("us", "bar", "3.5 bar", 3.5, "3.5 bar")]
    [InlineData("us,bar", "bar", "3.5", 3.5, "3.5 bar")]
    [InlineData("us", "kPa", "25", 6.227, "25 inH2O")]
    [InlineData("us", "mm", "7/8", 22.225, "7/8 in")]
    [InlineData("us", "V", "24.6", 24.6, "24.6 V")]
    [InlineData("metric", "psi", "3.5", 50.763, "3.5 bar")]
    [InlineData("metric,psi", "bar", "51", 3.516, "51 psi")]
    public void A_figure_without_a_unit_is_of_the_persons(string person, string list, string typed, double figure, string kept)
    {
        using var units = PersonUnits.As(person);
        var read = TypedUnits.Read(typed, list, "f", []);
        Assert.Equal((figure, kept), (Math.Round(read.Figure!.Value, 3), read.Typed));
    }

    [Theory]
    [InlineData("metric", "metric")]
    [InlineData("us", "us")]
    [InlineData("us,bar", "us,bar")]
    [InlineData("us,nm,bar,kpa", "us,bar,kpa,nm")]
    [InlineData("us,psi", "us")]
    [InlineData("metric,gal,f,in,psi,inh2o,lbft", "metric,gal,f,in,psi,inh2o,lbft")]
    public void Units_of_single_quantities_stand_behind_the_base(string chosen, string code)
    {
        Assert.Equal(code, PersonUnits.Exactly(chosen)!.Code);
        Assert.Equal(PersonUnits.Of(chosen), PersonUnits.Of(code));
    }

    [Theory]
    [InlineData("")]
    [InlineData(null)]
    [InlineData("bar")]
    [InlineData("us,")]
    [InlineData("us,furlongs")]
    [InlineData("US")]
    public void What_is_no_choice_of_units_is_none(string? chosen) => Assert.Null(PersonUnits.Exactly(chosen));

    [Theory]
    [InlineData("metric", null, null)]
    [InlineData("us", "30", "290.1")]
    public void Limits_of_a_machine_are_said_in_the_persons_unit(string person, string? within, string? most)
    {
        using var units = PersonUnits.As(person);
        var refusals = new List<Refusal>();
        Assert.Null(TypedUnits.Optional(" ", "bar", "low", 0, 20, refusals));
        Assert.Equal(within is null ? 3 : 2.068, TypedUnits.Optional(within ?? "3", "bar", "low", 0, 20, refusals));
        Assert.Empty(refusals);
        Assert.Null(TypedUnits.Optional("1000", "bar", "low", 0, 20, refusals));
        Assert.Equal(most ?? "20", string.Create(CultureInfo.InvariantCulture, $"{Assert.Single(refusals).Args[1]}"));
    }

    [Fact]
    public void Units_are_those_of_the_work_at_hand_and_given_back_after_it()
    {
        using (PersonUnits.As("us"))
        {
            Assert.Equal(PersonUnits.Us, PersonUnits.Current);
            using (PersonUnits.As(null))
                Assert.Equal(PersonUnits.Metric, PersonUnits.Current);
            Assert.Equal(PersonUnits.Us, PersonUnits.Current);
        }

        Assert.Equal(PersonUnits.Metric, PersonUnits.Current);
        Assert.Equal(PersonUnits.Metric, PersonUnits.Of("furlongs"));
    }
}
