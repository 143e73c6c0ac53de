using Nippers.Core.Oil;
using Nippers.Formats.Lab;

namespace Nippers.Core.Tests;

/// <summary>What laboratories write, read.</summary>
public sealed class LabFormatTests
{
    [Theory]
    [InlineData("45", 45.0, false, null)]
    [InlineData(" 4.5 ", 4.5, false, null)]
    [InlineData("<1", 1.0, true, null)]
    [InlineData("< 0.02", 0.02, true, null)]
    [InlineData("ND", 0.0, true, null)]
    [InlineData("1e2", 100.0, false, null)]
    [InlineData("nil", 0.0, true, null)]
    [InlineData("Trace", 0.0, true, null)]
    [InlineData("", null, false, null)]
    [InlineData("n/a", null, false, null)]
    [InlineData("-", null, false, null)]
    [InlineData("-3", null, false, "labNegative")]
    [InlineData("1,5", null, false, "decimalComma")]
    [InlineData("high", null, false, "notANumber")]
    [InlineData(">100", null, false, "notANumber")]
    [InlineData("NaN", null, false, "notANumber")]
    [InlineData("1e30", null, false, "labTooLarge")]
    public void A_figure_is_read_or_says_what_is_wrong(string text, double? value, bool below, string? fault)
    {
        var (figure, found) = LabFigure.Read(text, Measurand.Fe);
        Assert.Equal((value, fault), (figure?.Value, found));
        Assert.Equal(below, figure?.Below ?? false);
    }

    [Theory]
    [InlineData("positive", 1.0)]
    [InlineData("Not detected", 0.0)]
    [InlineData("trace", 1.0)]
    [InlineData("nil", 0.0)]
    [InlineData("0.3", 1.0)]
    [InlineData("0", 0.0)]
    [InlineData("<0.1", 0.0)]
    public void Glycol_is_found_or_not(string text, double value) =>
        Assert.Equal(value, LabFigure.Read(text, Measurand.Glycol).Figure!.Value);

    [Theory]
    [InlineData("Iron (ppm)", "Fe", "ppm")]
    [InlineData("Fe mg/kg", "Fe", "mg/kg")]
    [InlineData("Water ppm", "water", "ppm")]
    [InlineData("Water %", "water", "%")]
    [InlineData("Visc 40C cSt", "v40", "cSt")]
    [InlineData("Viscosity @ 100 °C (mm²/s)", "v100", "mm2/s")]
    [InlineData("4µm per 100 ml", "p4", "per 100 ml")]
    [InlineData("PQ Index", "pq", "")]
    [InlineData("TBN mg KOH/g", "tbn", "mg KOH/g")]
    [InlineData("TBN (mgKOH/g)", "tbn", "mg KOH/g")]
    [InlineData("Total Base Number", "tbn", "mg KOH/g")]
    [InlineData("TBN by ASTM D4739", "tbn", "mg KOH/g")]
    [InlineData("Soot % wt", "soot", "%")]
    [InlineData("Soot (wt %)", "soot", "%")]
    [InlineData("Soot content, % m/m", "soot", "%")]
    [InlineData("ISO 4406", "iso", "")]
    [InlineData("Bottle No.", "bottle", "")]
    [InlineData("Colour", "", "")]
    public void A_heading_is_guessed_with_its_unit(string heading, string field, string unit)
    {
        var column = Assert.Single(LabCsv.Guess([heading]));
        Assert.Equal((field, unit), (column.Field, column.Unit));
    }

    [Theory]
    [InlineData("Fe", "%", "0.002", "20")]
    [InlineData("Fe", "mg/kg", "<1", "<1")]
    [InlineData("water", "ppm", "300", "0.03")]
    [InlineData("water", "mg/kg", "<200", "<0.02")]
    [InlineData("v40", "mm2/s", "46.2", "46.2")]
    [InlineData("tbn", "mg KOH/g", "8.5", "8.5")]
    public void Units_are_turned_into_those_of_the_measurand(string field, string unit, string cell, string kept)
    {
        var file = LabCsv.Cut($"B;X\nK1;{cell}\n");
        var row = Assert.Single(LabCsv.Read(file, [new("B", "bottle", ""), new("X", field, unit)]));
        Assert.Equal((null, kept), (row.Fault, row.Result.Figures[field]));
    }

    [Fact]
    public void Counts_become_a_code_and_a_code_stands_as_it_is()
    {
        var columns = new LabColumn[]
        {
            new("B", "bottle", ""),
            new("a", "p4", "per ml"),
            new("b", "p6", "per ml"),
            new("c", "p14", "per ml"),
            new("i", "iso", ""),
        };
        var rows = LabCsv.Read(LabCsv.Cut("B,a,b,c,i\nK1,2500,640,80,\nK2,2500,640,80,20/18/15\nK3,2500,640,,\nK4,,,,20/18\n"), columns);
        Assert.Equal(["18/16/13", "20/18/15", "", ""], rows.Select(x => x.Result.Iso));
        Assert.Equal([null, null, "labNothing", "labIso"], rows.Select(x => x.Fault));
    }

    [Theory]
    [InlineData(";", "0,03", "12", true, "0.03")]
    [InlineData("\t", "12,5", "<0,02", true, "12.5")]
    [InlineData(";", "12,3456", "7", true, "12.3456")]
    [InlineData(";", "12,5", "4.5", false, "decimalComma")]
    [InlineData(";", "1,234", "7", false, "decimalComma")]
    [InlineData(";", "12", "7", false, "12")]
    [InlineData(",", "\"12,5\"", "7", false, "decimalComma")]
    public void Decimal_commas_are_read_where_they_can_mean_nothing_else(
        string delimiter,
        string first,
        string second,
        bool commas,
        string expected
    )
    {
        var file = LabCsv.Cut(
            string.Join(delimiter, "B", "X", "Y", "C")
                + "\n"
                + string.Join(delimiter, "K1", first, second, delimiter == "," ? "fine" : "fine, really")
                + "\n"
        );
        Assert.Equal(commas, file.DecimalCommas);
        var row = Assert.Single(
            LabCsv.Read(file, [new("B", "bottle", ""), new("X", "Fe", "ppm"), new("Y", "Cu", "ppm"), new("C", "comment", "")])
        );
        Assert.Equal(expected, row.Fault ?? row.Result.Figures["Fe"]);
        if (commas)
            Assert.Equal("fine, really", row.Result.Comment);
    }

    [Fact]
    public void A_heading_that_is_guessed_twice_counts_once() =>
        Assert.Equal(["Fe", ""], LabCsv.Guess(["Iron", "Fe"]).Select(x => x.Field));

    [Fact]
    public void An_order_goes_out_and_comes_back_and_rubbish_is_none()
    {
        var order = new LabOrder(
            "NIP-1",
            [new("K7M-4PX", "EX-04", "engine", "engine", "2026-03-16", 5412.6, 240, 1.5, 24.5, "15W-40", "SAE 15W-40")]
        );
        Assert.Equal(order.Samples, LabMessages.ReadOrder(LabMessages.Write(order))!.Samples);
        foreach (var rubbish in new[] { "", "[]", "{}", "{\"reference\":\"x\"}", "<html>" })
            Assert.Null(LabMessages.ReadOrder(rubbish));
    }

    [Fact]
    public void What_can_be_read_of_an_answer_is_taken_and_the_rest_told()
    {
        var answer = LabMessages.ReadAnswer(
            """{"results":[{"bottle":"A","figures":{"Fe":12,"Zz":3,"Cu":"<1","glycol":"0"},"iso":"18/16/13","comment":" ok "},{"bottle":"B","figures":{"Fe":-1}}],"cursor":7}"""
        );
        var good = Assert.Single(answer.Results);
        Assert.Equal(
            "Cu=<1 Fe=12 glycol=0",
            string.Join(' ', good.Figures.OrderBy(x => x.Key, StringComparer.Ordinal).Select(x => $"{x.Key}={x.Value}"))
        );
        Assert.Equal(("18/16/13", "ok", 7L), (good.Iso, good.Comment, answer.Cursor));
        Assert.Equal(("B", "labNegative", "Fe"), Assert.Single(answer.Broken));
    }
}
