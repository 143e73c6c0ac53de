using System.Collections.Immutable;
using System.Globalization;
using System.Text.Encodings.Web;
using AngleSharp.Html.Parser;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data.Fleet;
using Nippers.Data.Programs;
using Nippers.Views.Text;
using Nippers.Web.Drawing;

namespace Nippers.Web.Tests;

/// <summary>The hour tape and the words that stand beside it.</summary>
public sealed class DrawingTests
{
    private static readonly DateTimeOffset Now = new(2026, 3, 16, 7, 30, 0, TimeSpan.Zero);
    private static readonly DueMachine New = new(History.SinceNew, new(2025, 6, 1), default);

    private readonly Words _words = EnglishWords.Make();

    private static MachineNow At(double hours, double perDay = 6, params ParkedSpan[] parked)
    {
        var readings = Enumerable.Range(0, 31).Select(day => Reading.Of(Now.AddDays(day - 30), hours - (30 - day) * perDay));
        return new(UsePerDay.Estimate(new([.. readings], [.. parked], perDay, New.CommissionedOn, default), Now), Now);
    }

    private static ItemStatus Item(
        MachineNow now,
        string code,
        double every,
        double? done,
        int? months = null,
        History history = History.SinceNew
    ) =>
        now.Stand(
            DuePoint.Of(
                new(code, every > 0 ? MeterHours.Of(every) : null, months),
                New with
                {
                    History = history,
                },
                done is { } at ? new(code, new(2026, 2, 1), MeterHours.Of(at)) : null,
                new()
            )
        );

    private AngleSharp.Dom.IElement Draw(MachineNow now, bool big, params ItemStatus[] items)
    {
        var html = HourTape.Draw(new("EX-04", now, Groups(items), [now.Hours - 20], 100, 500, big), _words);
        using var writer = new StringWriter();
        html.WriteTo(writer, HtmlEncoder.Default);
        return new HtmlParser().ParseDocument(writer.ToString()).QuerySelector("svg")!;
    }

    private static ImmutableArray<DueGroup> Groups(params ItemStatus[] items) => DueGroup.Of(items);

    private static double X(AngleSharp.Dom.IElement element) =>
        double.Parse(element.GetAttribute("x")!.TrimEnd('%'), CultureInfo.InvariantCulture);

    private static IEnumerable<AngleSharp.Dom.IElement> Pegs(AngleSharp.Dom.IElement tape, string css) =>
        tape.QuerySelectorAll("svg").Where(x => x.QuerySelector("." + css) is not null);

    [Fact]
    public void The_jaws_bite_at_hours_now_and_pegs_stand_at_their_hours()
    {
        var now = At(1000);
        var tape = Draw(now, true, Item(now, "oil", 500, 700));
        Assert.Equal(16.67, X(Assert.Single(tape.QuerySelectorAll("svg"), x => x.QuerySelector(".t-jaws") is not null)), 1e-2);
        Assert.Equal(16.67, X(Pegs(tape, "peg-due").First()), 1e-2);
        var repeat = Assert.Single(tape.QuerySelectorAll("svg"), x => x.QuerySelector(".t-guess") is not null);
        Assert.True(X(repeat) > 99.9);
    }

    [Theory]
    [InlineData(100, 400, "peg-overdue")]
    [InlineData(100, 1000, "peg-coming")]
    [InlineData(250, 760, "peg-due")]
    [InlineData(390, 1000, "peg-notdue")]
    public void Standing_has_a_shape_of_its_own(double every, double done, string css)
    {
        var now = At(1000, css == "peg-notdue" ? 1 : 6);
        Assert.NotEmpty(Pegs(Draw(now, false, Item(now, "oil", every, done)), css));
    }

    [Fact]
    public void The_four_shapes_are_told_apart_without_colour()
    {
        var shapes = new[] { DueStatus.NotDue, DueStatus.Coming, DueStatus.Due, DueStatus.Overdue }
            .Select(x =>
                (
                    HourTape.PegHeight(x, 1, true),
                    HourTape.PegShape(x, 20).Contains('z', StringComparison.Ordinal),
                    HourTape.PegShape(x, 20).Length,
                    x is DueStatus.Due or DueStatus.Overdue
                )
            )
            .ToList();
        Assert.Equal(4, shapes.Distinct().Count());
        Assert.True(HourTape.PegHeight(DueStatus.Due, 9, true) > HourTape.PegHeight(DueStatus.Due, 1, true));
    }

    [Fact]
    public void What_fell_due_before_the_tape_begins_stands_at_its_edge()
    {
        var now = At(1000);
        var off = Assert.Single(Pegs(Draw(now, false, Item(now, "oil", 100, 500)), "peg-overdue"));
        Assert.Equal("8", off.GetAttribute("x"));
    }

    [Fact]
    public void Items_that_fall_together_are_one_peg_with_their_count()
    {
        var now = At(1000);
        var tape = Draw(now, true, Item(now, "a", 250, 1000), Item(now, "b", 250, 1000), Item(now, "c", 250, 1000));
        Assert.Contains("3", tape.QuerySelectorAll(".t-count").Select(x => x.TextContent));
        Assert.NotEmpty(tape.QuerySelectorAll(".t-foot"));
        Assert.NotEmpty(tape.QuerySelectorAll(".t-bracket"));
        Assert.NotEmpty(tape.QuerySelectorAll(".peg-done"));
    }

    [Fact]
    public void A_parked_machine_has_no_calendar_and_says_so()
    {
        var now = At(1000, 6, new ParkedSpan(Now));
        var dates = Draw(now, true, Item(now, "oil", 500, 1000)).QuerySelectorAll(".t-date");
        Assert.Equal(_words["Tape.Parked"], Assert.Single(dates).TextContent);
    }

    [Fact]
    public void The_tape_reads_as_text()
    {
        var now = At(1000);
        var tape = Draw(now, false, Item(now, "oil", 100, 780));
        Assert.Equal("img", tape.GetAttribute("role"));
        Assert.Equal("Hour tape of EX-04", tape.QuerySelector("title")!.TextContent);
        Assert.Contains("1,000.0 life hours now, 6.0 hours a day", tape.QuerySelector("desc")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("h past", tape.QuerySelector("desc")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public void Nothing_stands_outside_the_tape_and_no_two_ids_are_the_same()
    {
        var now = At(200);
        var tape = Draw(now, true, Item(now, "oil", 50, null), Item(now, "filter", 250, null), Item(now, "coolant", 0, null, 36));
        foreach (var element in tape.QuerySelectorAll("[x], [x1], [x2]"))
        {
            foreach (var name in new[] { "x", "x1", "x2" })
            {
                if (element.GetAttribute(name) is { } at && at.EndsWith('%'))
                    Assert.InRange(double.Parse(at.TrimEnd('%'), CultureInfo.InvariantCulture), 0, 100);
            }
        }

        var ids = tape.QuerySelectorAll("[id]").Select(x => x.Id).ToList();
        Assert.Equal(ids.Distinct(), ids);
    }

    [Theory]
    [InlineData(500, 700.0, null, "at 1,000.0 h; the window is 50 h each side")]
    [InlineData(500, 700.0, 12, "By the calendar every 12 months: 1 Feb 2027, within 36 days")]
    [InlineData(500, null, null, "Never done; counted from commissioning at 0.0 h on 1 Jun 2025")]
    public void How_a_due_was_reached_names_the_figures_it_came_from(double every, double? done, int? months, string says)
    {
        var now = At(1000);
        var said = Reasons.Of(Item(now, "oil", every, done, months), Machine(), now, _words);
        Assert.Contains(says, said, StringComparison.Ordinal);
        Assert.DoesNotContain("Why.", said, StringComparison.Ordinal);
        Assert.DoesNotContain("{", said, StringComparison.Ordinal);
    }

    [Fact]
    public void An_item_without_a_record_says_that_nothing_is_taken_as_done()
    {
        var now = At(1000);
        var item = Item(now, "oil", 500, null, history: History.Unknown);
        Assert.Equal("no record", Phrases.Left(item, _words));
        Assert.Contains("nothing is taken as done", Reasons.Of(item, Machine(), now, _words), StringComparison.Ordinal);
        Assert.Equal("1 item", Phrases.Name(Groups(item)[0], null, _words));
    }

    [Theory]
    [InlineData(500, 500, null, "0.0 h left")]
    [InlineData(500, 700, null, "0.0 h left")]
    [InlineData(250, 760, null, "0.0 h left")]
    [InlineData(100, 840, null, "100 h past")]
    [InlineData(500, 1000, null, "500 h left")]
    [InlineData(0, 900, 1, "15 days past")]
    [InlineData(0, 900, 2, "16 days left")]
    public void What_is_left_is_said_in_hours_first_and_days_where_only_they_say(double every, double done, int? months, string says)
    {
        var now = At(1000);
        Assert.Equal(says, Phrases.Left(Item(now, "oil", every, done, months), _words));
    }

    [Theory]
    [InlineData(1, "1 machine")]
    [InlineData(0, "0 machines")]
    [InlineData(7, "7 machines")]
    public void Counts_have_their_own_words(int count, string says) => Assert.Equal(says, _words.Plural("Programs.Machines", count));

    [Fact]
    public void Refusals_tell_times_as_they_are_at_the_site()
    {
        var refusal = new App.Refusal(
            "hours",
            "backward",
            new MeterHours(1000),
            new MeterHours(1200),
            new DateTimeOffset(2026, 7, 1, 6, 30, 0, TimeSpan.Zero)
        );
        Assert.Contains(
            "100.0 h is below the 120.0 h read on 1 Jul 07:30",
            _words.Refused(refusal, TimeZoneInfo.FindSystemTimeZoneById("Europe/London")),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "Did you mean EX-01, EX-02?",
            _words.Refused(new("unit", "noSuchUnitNear", "EX-0", new List<string> { "EX-01", "EX-02" })),
            StringComparison.Ordinal
        );
    }

    private static Machine Machine() =>
        new()
        {
            Unit = "EX-04",
            Make = "Torvane",
            Model = "T 24",
            Program = new ServiceProgram { Code = "p", Name = "p" },
        };
}
