using System.Collections.Immutable;
using System.Globalization;
using System.Text.Encodings.Web;
using System.Text.RegularExpressions;
using AngleSharp.Dom;
using AngleSharp.Html.Parser;
using Microsoft.AspNetCore.Html;
using Nippers.App.Kinds;
using Nippers.App.Walks;
using Nippers.Core.Walk;
using Nippers.Data.Fleet;
using Nippers.Tests;
using Nippers.Views.Text;
using Nippers.Views.Walks;
using Nippers.Web.Drawing;

namespace Nippers.Web.Tests;

/// <summary>Drawings: plans of every kind, hubs, the stick, printed codes, and whatever the demo's pages draw.</summary>
public sealed partial class PictureTests
{
    private readonly Words _words = EnglishWords.Make();

    private static string Text(IHtmlContent html)
    {
        using var writer = new StringWriter();
        html.WriteTo(writer, HtmlEncoder.Default);
        return writer.ToString();
    }

    private static IElement Svg(IHtmlContent html) => new HtmlParser().ParseDocument(Text(html)).QuerySelector("svg")!;

    private static double Number(IElement element, string name) => double.Parse(element.GetAttribute(name)!, CultureInfo.InvariantCulture);

    private static ImmutableArray<PlanStation> Walked(CheckList list, int done) =>
        [
            .. list.Stations.Select(
                (x, i) =>
                    new PlanStation(
                        x,
                        i + 1,
                        i < done ? 4
                            : i == done ? 2
                            : 0,
                        4,
                        0,
                        i == done,
                        i == done ? null : $"/walks/1/at/{x.Code}"
                    )
            ),
        ];

    public static TheoryData<string> Kinds() => [.. KindFolders.All.Select(x => x.Kind.Code)];

    [Theory]
    [MemberData(nameof(Kinds))]
    public void The_plan_of_a_kind_shows_its_stations_numbered_and_filled_as_far_as_they_are_done(string kind)
    {
        var list = StarterLists.All().Single(x => x.Kind == MachineKind.Of(kind)).Body;
        for (var done = 0; done <= list.Stations.Length; done++)
        {
            var svg = Svg(WalkPlan.Draw(list, Walked(list, done), kind, _words));

            Assert.Equal(list.Stations.Length, svg.QuerySelectorAll(".plan-box").Length);
            Assert.Equal(
                Enumerable.Range(1, list.Stations.Length).Select(x => x.ToString(CultureInfo.InvariantCulture)),
                svg.QuerySelectorAll(".plan-number").Select(x => x.TextContent)
            );
            var boxes = svg.QuerySelectorAll(".plan-box").Select(x => Number(x, "width")).ToList();
            var fills = svg.QuerySelectorAll(".plan-fill").Select(x => Number(x, "width")).ToList();
            Assert.Equal(Math.Min(done + 1, list.Stations.Length), fills.Count);
            Assert.Equal(done, fills.Count(x => Math.Abs(x - boxes[0]) < 0.01));
            Assert.Equal(done < list.Stations.Length ? 2 : 0, svg.QuerySelectorAll(".plan-jaw").Length);
            Assert.Equal(list.Stations.Length - (done < list.Stations.Length ? 1 : 0), svg.QuerySelectorAll("a").Length);
            AssertInside(svg);
        }
    }

    [Fact]
    public void No_two_stations_of_a_plan_stand_on_each_other()
    {
        foreach (var list in StarterLists.All())
        {
            var stations = list.Body.Stations;
            for (var i = 0; i < stations.Length; i++)
            {
                for (var j = i + 1; j < stations.Length; j++)
                {
                    var (dx, dy) = (Math.Abs(stations[i].X - stations[j].X), Math.Abs(stations[i].Y - stations[j].Y));
                    Assert.True(dx >= 30 || dy >= 26, $"{list.Code}: {stations[i].Code} and {stations[j].Code}");
                }
            }
        }
    }

    [Fact]
    public void Names_that_a_planner_typed_are_words_and_never_markup()
    {
        var list = StarterLists.All()[0].Body;
        var named = list.Stations[0] with { Name = "<script>alert(1)</script>\"'&" };
        list = list with { Stations = list.Stations.SetItem(0, named) };

        var text = Text(WalkPlan.Draw(list, Walked(list, 1), "<b>kind</b>", _words));

        Assert.DoesNotContain("<script>", text, StringComparison.Ordinal);
        Assert.DoesNotContain("<b>", text, StringComparison.Ordinal);
        Assert.Contains(named.Name, new HtmlParser().ParseDocument(text).Body!.TextContent, StringComparison.Ordinal);
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void A_compartment_is_lit_where_it_lies(string kind)
    {
        var list = StarterLists.All().Single(x => x.Kind == MachineKind.Of(kind)).Body;
        foreach (var place in list.Places)
        {
            var svg = Svg(WalkPlan.Lit(list, (place.X, place.Y), place.Compartment));
            var glow = svg.QuerySelector(".plan-glow")!;
            Assert.Equal((place.X, place.Y), (Number(glow, "cx"), Number(glow, "cy")));
            AssertInside(svg);
        }

        Assert.Null(Svg(WalkPlan.Lit(list, null, "nowhere")).QuerySelector(".plan-glow"));
    }

    [Fact]
    public void A_drawing_is_the_same_where_people_write_commas()
    {
        var list = StarterLists.All()[0].Body;
        var stations = Walked(list, 2);
        var british = Text(WalkPlan.Draw(list, stations, "x", _words));

        CultureInfo.CurrentCulture = new("de-DE");

        Assert.Equal(british, Text(WalkPlan.Draw(list, stations, "x", _words)));
        Assert.DoesNotContain(',', Svg(WalkPlan.Draw(list, stations, "x", _words)).QuerySelector(".plan-fill")!.GetAttribute("width")!);
    }

    [Theory]
    [InlineData("6 9 12", 110, 119, 66, 75, 110, 31)]
    [InlineData("6 3 12", 110, 119, 154, 75, 110, 31)]
    public void The_plugs_of_a_hub_stand_at_their_clock_hours(string hub, double dx, double dy, double lx, double ly, double fx, double fy)
    {
        var svg = Svg(HubPlugs.Draw(hub, _words));

        (double X, double Y) At(string plug) =>
            (Number(svg.QuerySelector(".hub-" + plug)!, "cx"), Number(svg.QuerySelector(".hub-" + plug)!, "cy"));
        Assert.Equal((dx, dy), At("drain"));
        Assert.Equal((lx, ly), At("level"));
        Assert.Equal((fx, fy), At("fill"));
        Assert.Equal(3, svg.QuerySelectorAll(".hub-name").Length);
    }

    [Theory]
    [InlineData("")]
    [InlineData("6")]
    [InlineData("6 9")]
    public void A_hub_whose_plugs_are_not_on_record_is_not_guessed(string hub) => Assert.Equal("", Text(HubPlugs.Draw(hub, _words)));

    [Fact]
    public void The_stick_answers_in_litres_that_shrink_towards_full_and_never_past_it()
    {
        var marks = DipstickMarks.Of(4, _words).ToList();

        Assert.Equal([115, 100, 75, 50, 25, 0, -20], marks.Select(x => x.Percent));
        Assert.Equal(["1.0", "2.0", "3.0", "4.0", "4.8"], marks.Skip(2).Select(x => Figure().Match(x.Answers).Value));
        Assert.DoesNotMatch(Figure(), marks[0].Answers);
        Assert.DoesNotMatch(Figure(), marks[1].Answers);
        Assert.All(DipstickMarks.Of((double?)null, _words), x => Assert.DoesNotMatch(Figure(), x.Answers));
        Assert.Equal(marks.Count, marks.Select(x => x.Name).Distinct().Count());
    }

    [Fact]
    public void A_printed_code_is_square_has_its_three_eyes_and_is_anothers_for_another_address()
    {
        var svg = Svg(Qr.Draw("http://nippers.local/walk/EX-04"));
        var size = int.Parse(svg.GetAttribute("viewBox")!.Split(' ')[2], CultureInfo.InvariantCulture);
        var dark = Module()
            .Matches(svg.QuerySelector("path")!.GetAttribute("d")!)
            .Select(x => (X: Int(x.Groups[1]), Y: Int(x.Groups[2])))
            .ToHashSet();

        // The quiet zone of four modules, then an eye of seven in three corners and none in the fourth.
        bool Eye(int x, int y) =>
            Enumerable.Range(0, 7).All(i => dark.Contains((x + i, y)) && dark.Contains((x, y + i)) && dark.Contains((x + 6, y + i)));
        Assert.All(dark, m => Assert.True(m.X >= 4 && m.Y >= 4 && m.X < size - 4 && m.Y < size - 4));
        Assert.True(Eye(4, 4) && Eye(size - 11, 4) && Eye(4, size - 11));
        Assert.False(Eye(size - 11, size - 11));
        Assert.Equal(Text(Qr.Draw("http://nippers.local/walk/EX-04")), Text(Qr.Draw("http://nippers.local/walk/EX-04")));
        Assert.NotEqual(Text(Qr.Draw("http://nippers.local/walk/EX-04")), Text(Qr.Draw("http://nippers.local/walk/EX-05")));

        static int Int(Group group) => int.Parse(group.Value, CultureInfo.InvariantCulture);
    }

    [Fact]
    public async Task Whatever_the_demos_pages_draw_holds_figures_has_a_name_and_no_size_below_nothing()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        var drawn = 0;
        foreach (var page in await Pages(mara))
        {
            foreach (var svg in (await mara.Read(page)).QuerySelectorAll("svg").Where(x => x.ParentElement?.Closest("svg") is null))
            {
                drawn++;
                var where = $"{page}: {svg.OuterHtml[..Math.Min(160, svg.OuterHtml.Length)]}";
                Assert.True(
                    svg.HasAttribute("aria-label") || svg.HasAttribute("aria-labelledby") || svg.GetAttribute("aria-hidden") == "true",
                    where
                );
                foreach (var shape in svg.QuerySelectorAll("*"))
                {
                    foreach (
                        var at in shape.Attributes.Where(x =>
                            x.Name
                                is "x"
                                    or "y"
                                    or "x1"
                                    or "x2"
                                    or "y1"
                                    or "y2"
                                    or "cx"
                                    or "cy"
                                    or "r"
                                    or "width"
                                    or "height"
                                    or "d"
                                    or "points"
                                    or "transform"
                        )
                    )
                    {
                        Assert.False(Broken().IsMatch(at.Value), $"{where}: {at.Name}={at.Value}");
                        if (at.Name is "r" or "width" or "height")
                            Assert.False(at.Value.StartsWith('-'), $"{where}: {at.Name}={at.Value}");
                    }
                }
            }
        }

        Assert.InRange(drawn, 40, 4000);
    }

    /// <summary>Pages that draw, and one of each further kind that they lead to.</summary>
    private static async Task<List<string>> Pages(Visitor visitor)
    {
        string[] from =
        [
            "/",
            "/walks",
            "/visits",
            "/defects",
            "/samples?part=Judged",
            "/samples?part=ToReview",
            "/machines/DZ-02",
            "/machines/DZ-02/items",
            "/machines/EX-04/walks",
            "/machines/DZ-01/visits",
            "/machines/EX-01/oil?c=engine",
            "/machines/EX-02/oil?c=final-drive-left",
            "/samples/fleet?kind=Engine&m=Si",
            "/machines/EX-04/label",
            "/walk/WL-01",
        ];
        var pages = from.ToList();
        foreach (var page in from)
        {
            var links = (await visitor.Read(page)).QuerySelectorAll("main a[href]").Select(x => x.GetAttribute("href")!);
            pages.AddRange(
                links
                    .Where(x => Numbered().IsMatch(x))
                    .GroupBy(x => Numbered().Match(x).Groups[1].Value)
                    .SelectMany(x => x.Distinct().Take(3))
            );
        }

        return [.. pages.Distinct()];
    }

    /// <summary>Every station's box and every lit place lies on the sheet.</summary>
    private static void AssertInside(IElement svg)
    {
        var sheet = svg.GetAttribute("viewBox")!.Split(' ').Select(x => double.Parse(x, CultureInfo.InvariantCulture)).ToArray();
        foreach (var box in svg.QuerySelectorAll(".plan-box, .plan-fill"))
        {
            Assert.InRange(Number(box, "x"), 0, sheet[2] - Number(box, "width"));
            Assert.InRange(Number(box, "y"), 0, sheet[3] - Number(box, "height"));
        }
    }

    [GeneratedRegex("NaN|Infinity|∞|undefined")]
    private static partial Regex Broken();

    [GeneratedRegex("^(/(?:samples|visits|walks|defects))/\\d+$")]
    private static partial Regex Numbered();

    [GeneratedRegex("\\d+\\.\\d")]
    private static partial Regex Figure();

    [GeneratedRegex("M(\\d+) (\\d+)h1v1h-1z")]
    private static partial Regex Module();
}
