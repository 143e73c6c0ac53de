using System.Net;
using AngleSharp.Html.Dom;
using Microsoft.EntityFrameworkCore;
using Nippers.Tests;

namespace Nippers.Web.Tests;

/// <summary>A part's page: its shelves, its orders, what may stand in for it.</summary>
public sealed class PartPageTests
{
    private const string Page = "/parts/TO7-110";
    private const string Store = "Clay Pit";

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static string Form(string handler) => $"form[action$='handler={handler}' i]";

    private static async Task<int> OnShelf(Visitor visitor) =>
        int.Parse(
            (await visitor.Read(Page)).QuerySelector($"[data-store='{Store}']")!.TextContent,
            System.Globalization.CultureInfo.InvariantCulture
        );

    [Fact]
    public async Task A_count_that_is_refused_is_a_count_when_it_is_sent_again()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        using var answer = await tam.Submit(
            Page,
            Form("move"),
            ("kind", "Count"),
            ("quantity", "3 boxes"),
            ("site", Store),
            ("note", "Rack 4")
        );
        var page = await Visitor.Parse(answer);
        Assert.NotEmpty(page.QuerySelector("#quantity-wrong")!.TextContent);
        Assert.Equal("3 boxes", page.QuerySelector("#quantity")!.GetAttribute("value"));
        Assert.Equal("Rack 4", page.QuerySelector("#note")!.GetAttribute("value"));
        Assert.True(page.QuerySelector("#quantity")!.HasAttribute("autofocus"));

        // What was chosen is not a receipt now, which would put three on top of what lies there.
        using var again = await tam.Submit(page, Page, Form("move"), ("quantity", "3"));
        Assert.Equal(HttpStatusCode.Redirect, again.StatusCode);
        Assert.Equal(3, await OnShelf(tam));
    }

    [Fact]
    public async Task What_is_ordered_comes_onto_its_shelf_once_or_is_taken_back()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        using var ines = await Visitor.As(app, "ines");
        var before = await OnShelf(tam);
        Assert.Null((await ines.Read(Page)).QuerySelector(Form("order")));

        var refused = await Visitor.Parse(
            await tam.Submit(Page, Form("order"), ("orderSite", "North Bank"), ("ordered", "0"), ("expected", "2020-01-01"))
        );
        Assert.Equal(["expected-wrong", "ordered-wrong"], refused.QuerySelectorAll(Form("order") + " .wrong").Select(x => x.Id!).Order());
        Assert.Equal("North Bank", ((IHtmlSelectElement)refused.QuerySelector("#orderSite")!).Value);
        Assert.Equal("2020-01-01", refused.QuerySelector("#expected")!.GetAttribute("value"));

        foreach (var pieces in new[] { "6", "2" })
            await Done(tam.Submit(Page, Form("order"), ("orderSite", Store), ("ordered", pieces), ("expected", "2026-12-04")));
        var page = await tam.Read(Page);
        Assert.Equal(before, await OnShelf(tam));
        await Done(tam.Submit(page, Page, Row(page, "6", "came")));
        Assert.Equal(before + 6, await OnShelf(tam));

        // It came: the same button on a page that was open elsewhere brings no second six.
        using var twice = await tam.Submit(page, Page, Row(page, "6", "came"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, twice.StatusCode);
        Assert.Equal(before + 6, await OnShelf(tam));

        page = await tam.Read(Page);
        await Done(tam.Submit(page, Page, Row(page, "2", "orderout")));
        Assert.Equal(before + 6, await OnShelf(tam));
        Assert.Empty((await tam.Read(Page)).QuerySelectorAll("[data-orders] li"));

        // The form of the order of so many pieces.
        static string Row(IHtmlDocument page, string pieces, string handler)
        {
            var row = page.QuerySelectorAll("[data-orders] li")
                .Single(x => x.TextContent.Trim().StartsWith(pieces, StringComparison.Ordinal));
            return $"{Form(handler)}:has([name=order][value='{row.QuerySelector("[name=order]")!.GetAttribute("value")}'])";
        }
    }

    [Fact]
    public async Task What_may_stand_in_has_somebody_who_says_so_and_is_taken_back()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var other = await app.Ask(db =>
            db.Parts.Where(x => x.Number != "TO7-110" && x.Kind == db.Parts.First(p => p.Number == "TO7-110").Kind)
                .OrderBy(x => x.Number)
                .Select(x => x.Number)
                .LastAsync(Ct)
        );
        var before = await Listed();
        var refused = await Visitor.Parse(await tam.Submit(Page, Form("alternate"), ("other", other), ("saysWho", "")));
        Assert.NotNull(refused.QuerySelector("#saysWho-wrong"));
        Assert.Equal(other, refused.QuerySelector("#other")!.GetAttribute("value"));

        await Done(tam.Submit(refused, Page, Form("alternate"), ("saysWho", "Parts desk")));
        Assert.Equal(before + 1, await Listed());
        await Done(tam.Submit(Page, $"form[action*='noalternate' i]:has([value='{other}'])"));
        Assert.Equal(before, await Listed());

        async Task<int> Listed() => (await tam.Read(Page)).QuerySelectorAll("form[action*='noalternate' i]").Length;
    }

    private static async Task Done(Task<HttpResponseMessage> sent)
    {
        using var answer = await sent;
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
    }
}
