using System.Net;
using AngleSharp.Html.Dom;
using Nippers.Tests;

namespace Nippers.Web.Tests;

/// <summary>Who is there, when, and how far it is: what a plan by weeks goes by, as a planner enters it.</summary>
public sealed class CrewPageTests
{
    private const string Page = "/weeks/people";

    private static readonly string[] AwayFields = ["from", "to", "why"];

    private static string Form(string handler) => $"form[action$='handler={handler}']";

    private static async Task Done(Task<HttpResponseMessage> sent)
    {
        using var answer = await sent;
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
    }

    private static async Task<IHtmlDocument> Refused(Task<HttpResponseMessage> sent)
    {
        using var answer = await sent;
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        return await Visitor.Parse(answer);
    }

    [Fact]
    public async Task Somebody_is_away_from_a_day_to_a_day_until_it_is_taken_back()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        var before = await Away();

        // The days are the wrong way round: they stand there again, with the reason, at that person and no other.
        var page = await Refused(mara.Submit(Page, Form("Away"), ("from", "2026-12-09"), ("to", "2026-12-07"), ("why", "Crane ticket")));
        var form = page.QuerySelectorAll(Form("Away")).Single(x => x.QuerySelector(".wrong") is not null);
        Assert.Equal(
            ["2026-12-09", "2026-12-07", "Crane ticket"],
            AwayFields.Select(x => form.QuerySelector($"[name={x}]")!.GetAttribute("value"))
        );
        Assert.Equal(before, await Away());

        await Done(mara.Submit(Page, Form("Away"), ("from", "2026-12-07"), ("to", "2026-12-09"), ("why", "Crane ticket")));
        page = await mara.Read(Page);
        Assert.Equal(before + 1, page.QuerySelectorAll(Form("Back")).Length);
        Assert.Contains("Crane ticket", page.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        var made = page.QuerySelectorAll("li").Single(x => x.TextContent.Contains("Crane ticket", StringComparison.Ordinal));
        await Done(mara.Submit(page, Page, $"{Form("Back")}:has([value='{made.QuerySelector("[name=away]")!.GetAttribute("value")}'])"));
        Assert.Equal(before, await Away());

        async Task<int> Away() => (await mara.Read(Page)).QuerySelectorAll(Form("Back")).Length;
    }

    [Fact]
    public async Task A_machine_is_busy_until_it_is_said_to_be_free()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        var page = await Refused(mara.Submit(Page, Form("Busy"), ("unit", "WL-02"), ("from", "soon"), ("to", ""), ("why", "Ramp")));
        Assert.Equal("WL-02", ((IHtmlSelectElement)page.QuerySelector("#unit")!).Value);
        Assert.NotNull(page.QuerySelector(Form("Busy") + " .wrong"));

        await Done(mara.Submit(page, Page, Form("Busy"), ("from", "2026-12-02"), ("to", "2026-12-03")));
        var said = (await mara.Read(Page)).QuerySelector("#busy ul")!.TextContent;
        Assert.Contains("WL-02", said, StringComparison.Ordinal);
        Assert.Contains("Ramp", said, StringComparison.Ordinal);
        page = await mara.Read(Page);
        var made = page.QuerySelectorAll("#busy li").Single(x => x.TextContent.Contains("Ramp", StringComparison.Ordinal));
        await Done(mara.Submit(page, Page, $"{Form("Free")}:has([value='{made.QuerySelector("[name=busy]")!.GetAttribute("value")}'])"));
        Assert.DoesNotContain("Ramp", (await mara.Read(Page)).QuerySelector("#busy")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Roads_take_their_minutes_and_one_that_is_wrong_keeps_none_of_them()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        var roads = (await mara.Read(Page))
            .QuerySelectorAll(Form("Roads") + " input[name^=road]")
            .Select(x => x.GetAttribute("name")!)
            .ToList();
        Assert.True(roads.Count >= 2);
        var before = await Kept(roads[0]);

        var page = await Refused(mara.Submit(Page, Form("Roads"), (roads[0], "33"), (roads[1], "an hour")));
        Assert.Equal("33", page.QuerySelector("#" + roads[0])!.GetAttribute("value"));
        Assert.NotEmpty(page.GetElementById(roads[1] + "-wrong")!.TextContent);
        Assert.Equal(before, await Kept(roads[0]));

        await Done(mara.Submit(page, Page, Form("Roads"), (roads[1], "60")));
        Assert.Equal(("33", "60"), (await Kept(roads[0]), await Kept(roads[1])));

        async Task<string?> Kept(string road) => (await mara.Read(Page)).QuerySelector("#" + road)!.GetAttribute("value");
    }

    [Fact]
    public async Task Hours_of_a_day_that_has_not_so_many_are_refused_at_that_day_of_that_person()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        var page = await Refused(mara.Submit(Page, Form("Person"), ("hours0", "7.5"), ("hours1", "25")));
        var form = page.QuerySelectorAll(Form("Person")).Single(x => x.QuerySelector(".wrong") is not null);
        Assert.Equal("25", form.QuerySelector("[name=hours1]")!.GetAttribute("value"));
        Assert.Equal("7.5", form.QuerySelector("[name=hours0]")!.GetAttribute("value"));
        var id = form.QuerySelector("[name=id]")!.GetAttribute("value");

        await Done(mara.Submit(page, Page, $"{Form("Person")}:has([value='{id}'])", ("hours1", "6")));
        Assert.Equal(
            "6",
            (await mara.Read(Page)).QuerySelector($"{Form("Person")}:has([value='{id}']) [name=hours1]")!.GetAttribute("value")
        );
    }

    [Fact]
    public async Task A_technician_reads_the_plan_and_enters_nobody()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        Assert.Equal(HttpStatusCode.OK, (await tam.Get("/weeks")).StatusCode);
        Assert.NotEqual(HttpStatusCode.OK, (await tam.Get(Page)).StatusCode);
    }
}
