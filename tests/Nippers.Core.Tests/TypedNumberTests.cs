using CsCheck;
using Nippers.Core.Numbers;

namespace Nippers.Core.Tests;

/// <summary>Numbers as people type them.</summary>
public sealed class TypedNumberTests
{
    [Theory]
    [InlineData("5412.6", 1, 5412.6)]
    [InlineData("5412,6", 1, 5412.6)]
    [InlineData("5,412.6", 1, 5412.6)]
    [InlineData("5.412,6", 1, 5412.6)]
    [InlineData("1,234,567.8", 1, 1234567.8)]
    [InlineData("1.234.567,8", 1, 1234567.8)]
    [InlineData("5,412", 1, 5412)] // tenths at the finest: three digits are no decimals
    [InlineData("0,125", 3, 0.125)] // no group of thousands begins with zero
    [InlineData("1,5", 3, 1.5)]
    [InlineData("-1,5", 3, -1.5)]
    [InlineData(" 12 ", 3, 12)]
    [InlineData("1,234,567", 3, 1234567)]
    public void A_number_is_read_where_it_can_mean_one_thing_only(string typed, int decimals, double expected)
    {
        Assert.Equal(NumberFault.None, TypedNumber.TryParse(typed, decimals, out var value));
        Assert.Equal((decimal)expected, value);
    }

    [Theory]
    [InlineData(null, NumberFault.Empty)]
    [InlineData("  ", NumberFault.Empty)]
    [InlineData("1,500", NumberFault.Ambiguous)]
    [InlineData("12,34,5", NumberFault.NotANumber)]
    [InlineData("1,23.4", NumberFault.NotANumber)]
    [InlineData("1.23,4.5", NumberFault.NotANumber)]
    [InlineData("1e5", NumberFault.NotANumber)]
    [InlineData("NaN", NumberFault.NotANumber)]
    [InlineData("--3", NumberFault.NotANumber)]
    [InlineData(",", NumberFault.NotANumber)]
    [InlineData("३", NumberFault.NotANumber)]
    public void Anything_else_says_what_is_wrong(string? typed, NumberFault fault)
    {
        Assert.Equal(fault, TypedNumber.TryParse(typed, 3, out var value));
        Assert.Equal(0, value);
    }

    [Fact]
    public void A_number_written_with_a_comma_is_the_one_written_with_a_dot() =>
        Gen.Int[0, 9_999_999]
            .Sample(hours =>
            {
                var dot = (hours / 10m).ToString("0.0", System.Globalization.CultureInfo.InvariantCulture);
                Assert.Equal(NumberFault.None, TypedNumber.TryParse(dot.Replace('.', ','), 1, out var value));
                Assert.Equal(hours / 10m, value);
            });

    [Fact]
    public void No_text_makes_the_reader_throw() =>
        Gen.String[Gen.Char["0123456789,.+- e\u00a0x"], 0, 14]
            .Sample(text =>
            {
                var fault = TypedNumber.TryParse(text, 3, out var value);
                Assert.True(fault == NumberFault.None || value == 0);
            });
}
