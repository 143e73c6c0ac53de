using Nippers.Core.Oil;
using Nippers.Core.Quick;

namespace Nippers.Core.Tests;

public sealed class QuickLineTests
{
    private static readonly string[] Units = ["EX-01", "EX-04", "DZ-02", "WL 7"];

    [Theory]
    [InlineData("EX-04 5412.6", "EX-04", "5412.6")]
    [InlineData("ex4 5412.6", "EX-04", "5412.6")]
    [InlineData("  ex04   5412.6 h ", "EX-04", "5412.6 h")]
    [InlineData("EX-04 5412,6", "EX-04", "5412,6")]
    [InlineData("EX-04 -3", "EX-04", "-3")]
    [InlineData("EX-04 1e308", "EX-04", "1e308")]
    [InlineData("WL 7 120", "WL 7", "120")]
    [InlineData("EX-99 120", "EX-99", "120")]
    public void A_unit_and_hours_log_hours(string line, string unit, string hours) =>
        Assert.Equal(new QuickCommand.LogHours(unit, hours), QuickLine.Parse(line, Units));

    [Theory]
    [InlineData("dz2", "DZ-02")]
    [InlineData("WL 7", "WL 7")]
    [InlineData("EX-99", "EX-99")]
    public void A_unit_alone_opens_it(string line, string unit) =>
        Assert.Equal(new QuickCommand.OpenMachine(unit), QuickLine.Parse(line, Units));

    [Theory]
    [InlineData("K7M-4P", false)]
    [InlineData("k7m 4p", false)]
    [InlineData("http://yard.invalid/samples/find?code=K7M-4P", false)]
    [InlineData("K7N-4P", true)]
    public void A_code_of_a_bottle_opens_it_as_typed_or_as_a_scanner_types_it(string typed, bool slip)
    {
        // The last character of the real code is worked out; the cases leave it away.
        var last = BottleCode.Read("K7M-4P?")![^1];
        var read = Assert.IsType<QuickCommand.OpenBottle>(QuickLine.Parse(typed + last, Units));
        Assert.Equal(slip, read.Slip);
        Assert.Equal((slip ? "K7N-4P" : "K7M-4P") + last, read.Code);
    }

    [Fact]
    public void A_unit_with_a_slip_is_asked_about_though_it_looks_like_a_code()
    {
        string[] units = ["EXC-104"];
        Assert.Equal(new QuickCommand.OpenMachine("EXC-104"), QuickLine.Parse("exc-104", units));
        Assert.Equal(new QuickCommand.OpenMachine("EXC-109"), QuickLine.Parse("EXC-109", units));
    }

    [Fact]
    public void The_rest_is_said_plainly()
    {
        Assert.IsType<QuickCommand.OpenDue>(QuickLine.Parse("Due", Units));
        Assert.IsType<QuickCommand.Blank>(QuickLine.Parse("  ", Units));
        Assert.IsType<QuickCommand.Blank>(QuickLine.Parse(null, Units));
        Assert.IsType<QuickCommand.NotUnderstood>(QuickLine.Parse("EX-04 guard loose", Units));
    }

    [Theory]
    [InlineData("EX-40", new[] { "EX-04", "EX-01" })]
    [InlineData("DX-02", new[] { "DZ-02" })]
    [InlineData("crane", new string[0])]
    public void Names_that_are_near_are_offered_nearest_first(string typed, string[] near) =>
        Assert.Equal(near, NearestNames.Of(typed, Units).Take(near.Length));

    [Fact]
    public void The_words_of_every_language_that_is_spoken_here_are_known()
    {
        var said = new QuickWords(["due", "toca"], ["defect", "defecto", "falla"]);
        Assert.IsType<QuickCommand.OpenDue>(QuickLine.Parse("Toca", Units, said));
        Assert.IsType<QuickCommand.OpenDue>(QuickLine.Parse("due", Units, said));
        Assert.Equal(new QuickCommand.ReportDefect("EX-04", "guarda floja"), QuickLine.Parse("ex4 Falla guarda floja", Units, said));
        Assert.IsType<QuickCommand.NotUnderstood>(QuickLine.Parse("EX-04 falla guarda floja", Units));
    }
}
