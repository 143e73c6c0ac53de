using System.Text.Json;
using CsCheck;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;

namespace Nippers.Core.Tests;

/// <summary>The types that figures are kept in.</summary>
public sealed class NumberTests
{
    [Theory]
    [InlineData(0, 0)]
    [InlineData(12.34, 1234)]
    [InlineData(0.1 + 0.2, 30)]
    [InlineData(19.999, 2000)]
    [InlineData(-1.5, -150)]
    public void Money_is_the_nearest_hundredth(double amount, int cents) => Assert.Equal(new Money(cents), Money.Of(amount));

    [Fact]
    public void Money_beyond_what_an_int_counts_is_still_exact() =>
        Assert.Equal(6_000_000_002, (Money.Of(30_000_000.01) + Money.Of(30_000_000.01)).Cents);

    [Fact]
    public void A_thousand_tenths_of_a_unit_are_a_hundred_units_of_money() =>
        Assert.Equal(Money.Of(100), Enumerable.Repeat(Money.Of(0.1), 1000).Total());

    [Fact]
    public void Nothing_comes_to_nothing() =>
        Assert.Equal((Money.Zero, Litres.Zero), (Array.Empty<Money>().Total(), Array.Empty<Litres>().Total()));

    [Fact]
    public void Money_is_written_with_two_decimals_and_a_dot() => Assert.Equal("1200.50", new Money(120_050).ToString());

    [Fact]
    public void Sums_of_money_do_not_hang_on_their_order() =>
        Gen.Int[-100_000, 100_000]
            .Array[0, 40]
            .Sample(cents =>
                cents.Select(x => new Money(x)).Total() == cents.OrderDescending().Select(x => new Money(x)).Total()
                && cents.Select(x => new Money(x)).Total().Cents == cents.Sum()
            );

    [Fact]
    public void What_is_ordered_as_figures_is_ordered_as_hours_money_and_litres() =>
        Gen.Select(Gen.Int[-5000, 5000], Gen.Int[-5000, 5000])
            .Sample(
                (a, b) =>
                {
                    var (one, other) = (new MeterHours(a), new MeterHours(b));
                    var (less, more) = (new Money(a), new Money(b));
                    var (low, high) = (new Litres(a / 8.0), new Litres(b / 8.0));
                    return (one < other) == a < b
                        && (one <= other) == a <= b
                        && (one > other) == a > b
                        && (one >= other) == a >= b
                        && (less < more) == a < b
                        && (less <= more) == a <= b
                        && (less > more) == a > b
                        && (less >= more) == a >= b
                        && (low < high) == a < b
                        && (low <= high) == a <= b
                        && (low > high) == a > b
                        && (low >= high) == a >= b
                        && Math.Sign(one.CompareTo(other)) == Math.Sign(a.CompareTo(b))
                        && Math.Sign(less.CompareTo(more)) == Math.Sign(a.CompareTo(b))
                        && Math.Sign(low.CompareTo(high)) == Math.Sign(a.CompareTo(b));
                }
            );

    [Fact]
    public void Hours_that_are_added_and_taken_off_again_are_the_same_hours() =>
        Gen.Select(Gen.Int[0, 9_999_999], Gen.Int[-50_000, 50_000])
            .Sample(
                (life, offset) =>
                {
                    var (hours, more) = (new MeterHours(life), new MeterHours(offset));
                    return hours + more - more == hours && hours - hours == MeterHours.Zero && (hours - more).Tenths == life - offset;
                }
            );

    [Theory]
    [InlineData(-3, 0)]
    [InlineData(0, 0)]
    [InlineData(9_999_999, 9_999_999)]
    [InlineData(10_000_001, 9_999_999)]
    public void A_meter_shows_nothing_below_zero_and_nothing_above_its_most(int tenths, int shown) =>
        Assert.Equal(new MeterHours(shown), new MeterHours(tenths).Clamped);

    [Fact]
    public void The_higher_and_the_lower_of_two_hours()
    {
        Assert.Equal(new MeterHours(7), MeterHours.Most(new(3), new(7)));
        Assert.Equal(new MeterHours(3), MeterHours.Least(new(3), new(7)));
    }

    [Fact]
    public void Hours_stand_in_JSON_as_a_number_of_hours()
    {
        Assert.Equal("5412.6", JsonSerializer.Serialize(new MeterHours(54_126)));
        Assert.Equal(new MeterHours(54_126), JsonSerializer.Deserialize<MeterHours>("5412.6"));
        Assert.Throws<JsonException>(() => JsonSerializer.Deserialize<MeterHours>("-1"));
    }

    [Theory]
    [InlineData("5")]
    [InlineData("12.25")]
    public void Litres_are_written_with_a_dot(string text) =>
        Assert.Equal(text, new Litres(double.Parse(text, System.Globalization.CultureInfo.InvariantCulture)).ToString());
}
