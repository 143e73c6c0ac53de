using Nippers.Core.Hours;

namespace Nippers.Core.Tests;

public sealed class MeterHoursTests
{
    [Theory]
    [InlineData("5412.6", 54126)]
    [InlineData(" 5412 ", 54120)]
    [InlineData("5412.6 h", 54126)]
    [InlineData("0", 0)]
    [InlineData("0.0", 0)]
    [InlineData("999999.9", 9_999_999)]
    [InlineData("5412.60", 54126)]
    public void What_a_person_types_is_read_to_the_tenth(string text, int tenths)
    {
        Assert.Equal(HoursFault.None, MeterHours.TryParse(text, out var hours));
        Assert.Equal(tenths, hours.Tenths);
    }

    [Theory]
    [InlineData(null, HoursFault.Empty)]
    [InlineData("  ", HoursFault.Empty)]
    [InlineData("h", HoursFault.Empty)]
    [InlineData("abc", HoursFault.NotANumber)]
    [InlineData("1e308", HoursFault.NotANumber)]
    [InlineData("54 12", HoursFault.NotANumber)]
    [InlineData("5412.6.1", HoursFault.NotANumber)]
    [InlineData("5412,65", HoursFault.TooFine)]
    [InlineData("54,12.6", HoursFault.NotANumber)]
    [InlineData("5,4,1", HoursFault.NotANumber)]
    [InlineData("5412.65", HoursFault.TooFine)]
    [InlineData("-3", HoursFault.Negative)]
    [InlineData("1000000", HoursFault.TooLarge)]
    [InlineData("99999999999999999999999999999999999", HoursFault.TooLarge)]
    public void Bad_hours_say_what_is_wrong(string? text, HoursFault fault)
    {
        Assert.Equal(fault, MeterHours.TryParse(text, out var hours));
        Assert.Equal(default, hours);
    }

    [Theory]
    [InlineData(double.NaN, HoursFault.NotANumber)]
    [InlineData(-0.1, HoursFault.Negative)]
    [InlineData(double.PositiveInfinity, HoursFault.TooLarge)]
    [InlineData(1e308, HoursFault.TooLarge)]
    public void Numbers_that_no_meter_shows_are_no_hours(double number, HoursFault fault) =>
        Assert.Equal(fault, MeterHours.TryOf(number, out _));

    [Fact]
    public void Hours_print_with_a_dot_whatever_the_culture() => Assert.Equal("5412.6", new MeterHours(54126).ToString());
}
