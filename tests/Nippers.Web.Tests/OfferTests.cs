using System.Net;
using AngleSharp.Dom;

namespace Nippers.Web.Tests;

/// <summary>
/// Nobody is offered what he is refused: every link of a page leads where its reader may go, and every form is one that he may send.
/// </summary>
public sealed class OfferTests(AppFixture fixture) : IClassFixture<AppFixture>
{
    private const int OfARoute = 6;
    private const int FewestPages = 150;

    [Theory]
    [InlineData("ines", "operator")]
    [InlineData("tam", "technician")]
    [InlineData("mara", "planner")]
    public async Task A_page_offers_its_reader_nothing_that_he_is_refused(string who, string role)
    {
        using var visitor = await Visitor.As(fixture.App, who);
        var forms = await HandlerTests.Decided();
        var (wrong, read) = (new SortedSet<string>(StringComparer.Ordinal), 0);
        await foreach (var reached in Crawl.Pages(visitor, role, OfARoute))
        {
            if (reached.Status == HttpStatusCode.NotFound)
                wrong.Add($"{reached.Path}: nothing is there");
            if (reached.Page is not { } page)
                continue;
            read++;
            foreach (var offer in page.All)
            {
                if (Crawl.Link(offer, reached.Path) is { } to && Crawl.RouteOf(to) is { } there && Crawl.Closed(there, role))
                    wrong.Add($"{reached.Route}: a link to {there}");
                if (Sends(offer, reached.Path) is { } form && Refuses(form, role, forms) is { } handler)
                    wrong.Add($"{reached.Route}: a form to {handler}");
            }
        }

        Assert.True(wrong.Count == 0, string.Join('\n', wrong));
        Assert.True(read > FewestPages, $"{read} pages read");
    }

    /// <summary>Where an element posts to; null where it does not.</summary>
    private static string? Sends(IElement element, string page)
    {
        // A list that is a form for those who may send it has no button for the others.
        var posts =
            element.LocalName == "form"
            && string.Equals(element.GetAttribute("method"), "post", StringComparison.OrdinalIgnoreCase)
            && element.QuerySelectorAll("button:not([type=button]):not([formaction])").Length > 0;
        var to = element.GetAttribute("hx-post")
            ?? element.GetAttribute("formaction")
            ?? (posts ? element.GetAttribute("action") ?? "" : null);
        return to is null ? null
            : to.Length == 0 ? page
            : Crawl.AddressOf(to, page);
    }

    private static string? Refuses(string form, string role, Dictionary<string, string> decided)
    {
        if (Crawl.RouteOf(form) is not { } route)
            return null;
        var handler = System.Text.RegularExpressions.Regex.Match(form, "[?&]handler=([^&]+)").Groups[1].Value;
        var name = decided.Keys.FirstOrDefault(x =>
            string.Equals(x, $"/{route} {(handler.Length == 0 ? "-" : handler)}", StringComparison.OrdinalIgnoreCase)
        );
        var least = name is null ? "nobody: there is none" : decided[name];
        return least is "anyone" or "operator" || least == role || (least == "technician" && role == "planner")
            ? null
            : $"/{route} {handler} ({least})";
    }
}
