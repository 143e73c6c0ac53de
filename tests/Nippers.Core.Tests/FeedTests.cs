using CsCheck;
using Nippers.Core.Feeds;
using Nippers.Core.Walk;
using Nippers.Formats.Csv;
using Nippers.Formats.Feeds;

namespace Nippers.Core.Tests;

/// <summary>How feed and dash are held against each other, and what of a feed can be read.</summary>
public sealed class FeedTests
{
    private static readonly DateTimeOffset Start = new(2026, 3, 1, 6, 0, 0, TimeSpan.Zero);

    private static FeedPair Pair(double day, double dash, double feed) => new(Start.AddDays(day), dash, feed);

    /// <summary>A pair a day of 8 h, the dash ahead by these.</summary>
    private static FeedFit Fit(params double[] ahead) => FeedOffset.Of(ahead.Select((x, i) => Pair(i, 100 + i * 8 + x, 100 + i * 8)));

    [Theory]
    [InlineData(new double[] { }, null, 0)]
    [InlineData(new[] { 50.0 }, null, 1)]
    [InlineData(new[] { 50.0, 50.1 }, null, 2)]
    [InlineData(new[] { 50.0, 50.1, 49.9 }, 50.0, 3)]
    [InlineData(new[] { 50.0, 50.2, 50.2, 50.4 }, 50.2, 4)]
    [InlineData(new[] { -812.3, -812.3, -812.2 }, -812.3, 3)]
    // The middle bears one that was read wrong among the first three.
    [InlineData(new[] { 50.0, 500.0, 50.0 }, 50.0, 3)]
    // The last nine alone count: it has drifted by a tenth a day.
    [InlineData(new[] { 50.0, 50.1, 50.2, 50.3, 50.4, 50.5, 50.6, 50.7, 50.8, 50.9, 51.0 }, 50.6, 9)]
    public void Three_pairs_are_needed_and_the_middle_of_the_last_nine_counts(double[] ahead, double? hours, int pairs)
    {
        var fit = Fit(ahead);
        Assert.Equal(hours, fit.Hours is { } x ? Math.Round(x, 6) : null);
        Assert.Equal(pairs, fit.Pairs);
        Assert.Null(fit.Away);
        Assert.Equal(hours is not null, fit.Counts);
    }

    [Theory]
    // 8 h since the last pair: half an hour and eight hundredths.
    [InlineData(0.58, 8, false)]
    [InlineData(0.59, 8, true)]
    [InlineData(-0.58, 8, false)]
    [InlineData(-0.6, 8, true)]
    // Parked for long: half an hour alone.
    [InlineData(0.5, 0, false)]
    [InlineData(0.6, 0, true)]
    // 400 h without a look at the dash: four hours more.
    [InlineData(4.5, 400, false)]
    [InlineData(4.6, 400, true)]
    public void A_pair_away_by_more_than_half_an_hour_and_a_hundredth_is_shown(double by, double since, bool away)
    {
        var fit = FeedOffset.Of([Pair(0, 150, 100), Pair(1, 158, 108), Pair(2, 166, 116), Pair(9, 166 + since + by, 116 + since)]);
        Assert.Equal(away, fit.Away is not null);
        Assert.Equal(!away, fit.Counts);
        Assert.Equal(50, fit.Hours!.Value + (away ? 0 : -Math.Round(fit.Hours.Value - 50, 6)), 1e-6);
        if (away)
            Assert.Equal(by, fit.AwayBy, 1e-6);
    }

    [Fact]
    public void What_is_away_stays_away_until_a_pair_fits_again()
    {
        Assert.Equal(Start.AddDays(4), Fit(50, 50, 50, 71, 71).Away!.Value.At);
        Assert.Null(Fit(50, 50, 50, 71, 50).Away);
        Assert.Equal(50, Fit(50, 50, 50, 71, 50).Hours);

        // Said to be replaced, it begins anew with what came since.
        Assert.Equal(71, FeedOffset.Of([Pair(3, 195, 124), Pair(4, 203, 132), Pair(5, 211, 140)]).Hours);
    }

    [Fact]
    public void Whatever_the_order_and_the_difference_pairs_that_agree_are_believed() =>
        Gen.Select(Gen.Double[-5000, 5000], Gen.Int[3, 30], Gen.Int[0, 1000])
            .Sample(
                (ahead, count, seed) =>
                {
                    var pairs = Enumerable.Range(0, count).Select(i => Pair(i, 6000 + i * 8 + ahead, 6000 + i * 8)).ToArray();
                    new Random(seed).Shuffle(pairs);
                    var fit = FeedOffset.Of(pairs);
                    return fit.Counts && Math.Abs(fit.Hours!.Value - ahead) < 1e-6 && fit.Pairs == Math.Min(count, FeedOffset.Last);
                }
            );

    [Theory]
    [InlineData(0, 100.0)]
    [InlineData(59, 100.0)]
    [InlineData(-60, 100.0)]
    [InlineData(61, 101.0)]
    [InlineData(-61, null)]
    public void A_reading_goes_with_the_report_nearest_to_it_within_an_hour(int minutes, double? feed)
    {
        var pairs = FeedOffset.Pair([(Start.AddMinutes(minutes), 150)], [(Start.AddMinutes(121), 101), (Start, 100)]);
        Assert.Equal(feed, pairs.Count == 0 ? null : pairs[0].Feed);
        Assert.Empty(FeedOffset.Pair([(Start, 150)], []));
    }

    [Theory]
    [InlineData(0, true, true)]
    [InlineData(59, true, true)]
    [InlineData(60, true, false)]
    [InlineData(24 * 60 - 1, true, false)]
    [InlineData(24 * 60, false, false)]
    [InlineData(-1, false, false)]
    public void A_report_is_fresh_for_a_walk_for_a_day_and_for_a_card_for_an_hour(int minutesOld, bool walk, bool card)
    {
        Assert.Equal(walk, FeedAge.Fits(Start, Start.AddMinutes(minutesOld), FeedAge.ForWalk));
        Assert.Equal(card, FeedAge.Fits(Start, Start.AddMinutes(minutesOld), FeedAge.ForCard));
    }

    private const string Whole = """
        {"Fleet":{"Equipment":[
          {"EquipmentHeader":{"EquipmentID":"EX-01","SerialNumber":"K7"},
           "CumulativeOperatingHours":{"Hour":5412.6,"Datetime":"2026-03-16T06:45:00Z"},
           "CumulativeIdleHours":{"Hour":"1690.2","Datetime":"2026-03-16T06:45:00Z"},
           "FuelRemaining":{"Percent":64,"Datetime":"2026-03-16T07:45:00+01:00"},
           "DEFRemaining":{"Percent":8.5,"Datetime":"2026-03-16T06:45:00Z"},
           "FaultCodes":[{"Spn":100,"Fmi":1},{"Spn":"110","Fmi":0},{"Spn":100,"Fmi":1}]},
          {"equipmentHeader":{"serialNumber":77},"cumulativeOperatingHours":null},
          {"EquipmentHeader":{"EquipmentID":"BAD"},"CumulativeOperatingHours":{"Hour":-1,"Datetime":"2026-03-16T06:45:00Z"}},
          7],
         "Links":[{"Rel":"next","Href":"/feed?page=2"}]}}
        """;

    [Fact]
    public void A_page_is_read_and_what_cannot_be_is_told_by_its_number()
    {
        var page = FeedMessages.Read(Whole);
        Assert.Null(page.Fault);
        Assert.Equal("/feed?page=2", page.Next);
        Assert.Equal([("BAD", "feedFigure"), ("", "feedShape")], page.Broken);
        var first = page.Reports[0];
        Assert.Equal(("EX-01", "K7"), (first.Id, first.Serial));
        var at = new DateTimeOffset(2026, 3, 16, 6, 45, 0, TimeSpan.Zero);
        Assert.Equal(
            (new FeedFigure(5412.6, at), new FeedFigure(1690.2, at), new FeedFigure(64, at), new FeedFigure(8.5, at)),
            (first.Hours, first.Idle, first.Fuel, first.Def)
        );
        Assert.Equal([new FaultCode(100, 1), new FaultCode(110, 0)], first.Codes!);

        // Capitals as one likes, a number for a text, and a serial number for want of another.
        Assert.Equal(("77", "77", null, null), (page.Reports[1].Id, page.Reports[1].Serial, page.Reports[1].Hours, page.Reports[1].Codes));
    }

    [Theory]
    [InlineData("")]
    [InlineData("<html>Back soon</html>")]
    [InlineData("{}")]
    [InlineData("[]")]
    [InlineData("""{"Fleet":{"Equipment":{}}}""")]
    [InlineData("""{"Fleet":{"Equipment":[{"EquipmentHeader":{"Equ""")]
    public void What_is_no_page_is_a_fault_and_never_thrown(string text) =>
        Assert.Equal(("feedShape", 0), (FeedMessages.Read(text).Fault, FeedMessages.Read(text).Reports.Count));

    [Theory]
    [InlineData("""{"Hour":"NaN","Datetime":"2026-03-16T06:45:00Z"}""")]
    [InlineData("""{"Hour":1e300,"Datetime":"2026-03-16T06:45:00Z"}""")]
    [InlineData("""{"Hour":12}""")]
    [InlineData("""{"Hour":12,"Datetime":"soon"}""")]
    [InlineData("""{"Datetime":"2026-03-16T06:45:00Z"}""")]
    [InlineData("12")]
    public void Hours_that_are_none_spoil_their_machine(string hours) =>
        Assert.Equal(
            (null, "feedFigure"),
            FeedMessages.ReadOne($$"""{"EquipmentHeader":{"EquipmentID":"A"},"CumulativeOperatingHours":{{hours}}}""")
        );

    [Theory]
    [InlineData("""[{"Spn":100}]""")]
    [InlineData("""[{"Spn":600000,"Fmi":1}]""")]
    [InlineData("""[{"Spn":100,"Fmi":32}]""")]
    [InlineData("""[{"Spn":100.5,"Fmi":1}]""")]
    [InlineData("7")]
    public void Codes_that_are_none_spoil_their_machine(string codes) =>
        Assert.Equal((null, "feedCodes"), FeedMessages.ReadOne($$"""{"EquipmentHeader":{"EquipmentID":"A"},"FaultCodes":{{codes}}}"""));

    [Fact]
    public void Half_a_file_and_any_byte_changed_is_read_or_refused_and_never_thrown() =>
        Gen.Select(Gen.Int[0, Whole.Length - 1], Gen.Char[' ', '~'], Gen.Bool)
            .Sample(
                (at, put, cut) =>
                {
                    var page = FeedMessages.Read(cut ? Whole[..at] : Whole[..at] + put + Whole[(at + 1)..]);
                    return page.Fault is not null
                        || page.Reports.All(x => x.Hours is null || (x.Hours.Value.Value is >= 0 and <= 999_999.9));
                }
            );

    [Theory]
    [InlineData("WL-01,2026-03-01T06:30:00Z,12.5,3,64,71,100/1 97/15", null, "")]
    [InlineData("WL-01,2026-03-01T06:30:00+02:00,12.5,,,,", null, "")]
    [InlineData("WL-01,2026-03-01T06:30:00Z,,3,64,71,none", "needed", "hours")]
    [InlineData("WL-01,yesterday,12.5,3,64,71,none", "notAnInstant", "at")]
    [InlineData("WL-01,06:30,12.5,3,64,71,none", "notAnInstant", "at")]
    [InlineData("WL-01,0001-01-01T00:00:00Z,12.5,3,64,71,none", "notAnInstant", "at")]
    [InlineData("WL-01,2026-03-01T06:30:00Z,-1,3,64,71,none", "feedFigure", "hours")]
    [InlineData("WL-01,2026-03-01T06:30:00Z,1e17,3,64,71,none", "feedFigure", "hours")]
    [InlineData("WL-01,2026-03-01T06:30:00Z,1000000,3,64,71,none", "feedFigure", "hours")]
    [InlineData("WL-01,2026-03-01T06:30:00Z,NaN,3,64,71,none", "feedFigure", "hours")]
    [InlineData("WL-01,2026-03-01T06:30:00Z,12.5,3,101,71,none", "feedFigure", "fuel")]
    [InlineData("WL-01,2026-03-01T06:30:00Z,12.5,3,64,full,none", "feedFigure", "def")]
    [InlineData("WL-01,2026-03-01T06:30:00Z,12.5,3,64,71,100", "feedCodes", "codes")]
    [InlineData("WL-01,2026-03-01T06:30:00Z,12.5,3,64,71,100/1 rubbish", "feedCodes", "codes")]
    public void A_line_of_a_file_is_a_report_or_says_which_column_is_wrong(string line, string? fault, string field)
    {
        var file = TelemetryCsv.Read("\uFEFF" + TelemetryCsv.Header + "\r\n" + line + "\r\n");
        var row = Assert.Single(file.Rows);
        Assert.Equal((2, "WL-01", fault, field, fault is null), (row.Line, row.Unit, row.Fault, row.Field, row.Report is not null));
    }

    [Fact]
    public void Columns_may_be_left_out_and_an_empty_field_of_codes_is_not_none()
    {
        var few = Assert.Single(TelemetryCsv.Read("at,Hours,unit\n2026-03-01T06:30:00Z,12.5,EX-04\n").Rows).Report!;
        Assert.Equal(("EX-04", 12.5, null, null), (few.Id, few.Hours!.Value.Value, few.Fuel, few.Codes));
        Assert.Empty(TelemetryCsv.Read("unit,at,hours,codes\nEX-04,2026-03-01T06:30:00Z,1,None\n").Rows[0].Report!.Codes!);
        Assert.Null(TelemetryCsv.Read("unit,at,hours,codes\nEX-04,2026-03-01T06:30:00Z,1,\n").Rows[0].Report!.Codes);
    }

    [Theory]
    [InlineData("", "csvEmpty")]
    [InlineData("unit,at,hours\n", "csvEmpty")]
    [InlineData("unit,hours\nEX-04,1\n", "csvHeader")]
    [InlineData("unit,at,hours\n\"EX-04,1\n", "csvBadData")]
    public void A_file_that_is_none_says_so(string text, string fault) => Assert.Equal(fault, TelemetryCsv.Read(text).Fault);

    [Fact]
    public void A_file_has_a_most_of_rows()
    {
        var line = "EX-04,2026-03-01T06:30:00Z,1\n";
        string Of(int rows) => "unit,at,hours\n" + string.Concat(Enumerable.Repeat(line, rows));
        Assert.Equal(TelemetryCsv.MostRows, TelemetryCsv.Read(Of(TelemetryCsv.MostRows)).Rows.Count);
        Assert.Equal("tooManyRows", TelemetryCsv.Read(Of(TelemetryCsv.MostRows + 1)).Fault);
    }
}
