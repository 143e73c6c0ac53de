using System.Net;
using AngleSharp.Dom;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Routing;
using Microsoft.AspNetCore.Routing.Template;

namespace Nippers.Web.Tests;

/// <summary>
/// Nobody is offered what he is refused: every link of a page leads where its reader may go, and every form is one that he may send.
/// Pages are followed from the first one, a few of each route.
/// </summary>
public sealed class OfferTests(AppFixture fixture) : IClassFixture<AppFixture>
{
    private const int OfARoute = 6;
    private const int FewestPages = 150;

    private static readonly List<(TemplateMatcher Matcher, string Route, int Fixed)> Routes =
    [
        .. AccessTests.Routes.Select(x =>
        {
            var template = TemplateParser.Parse(x);
            return (new TemplateMatcher(template, []), x, template.Segments.Count(s => s.IsSimple && s.Parts[0].IsLiteral));
        }),
    ];

    [Theory]
    [InlineData("ines", "operator")]
    [InlineData("tam", "technician")]
    [InlineData("mara", "planner")]
    public async Task A_page_offers_its_reader_nothing_that_he_is_refused(string who, string role)
    {
        using var visitor = await Visitor.As(fixture.App, who);
        var forms = await HandlerTests.Decided();
        var (left, seen, read, ofRoute) = (
            new Queue<string>(["/"]),
            new HashSet<string>(StringComparer.Ordinal),
            0,
            new Dictionary<string, int>()
        );
        var wrong = new SortedSet<string>(StringComparer.Ordinal);
        while (left.TryDequeue(out var path))
        {
            if (RouteOf(path) is not { } route || !seen.Add(path) || route is "sign-out")
                continue;
            if (Closed(route, role))
                continue;
            if ((ofRoute[route] = ofRoute.GetValueOrDefault(route) + 1) > OfARoute)
                continue;
            using var answer = await visitor.Get(path);
            if (answer.StatusCode == HttpStatusCode.NotFound)
                wrong.Add($"{path}: nothing is there");
            if (answer.StatusCode != HttpStatusCode.OK || answer.Content.Headers.ContentType?.MediaType != "text/html")
                continue;
            read++;
            foreach (var offer in (await Visitor.Parse(answer)).All)
            {
                if (Link(offer) is { } link && AddressOf(link, path) is { } to && RouteOf(to) is { } there)
                {
                    if (Closed(there, role))
                        wrong.Add($"{route}: a link to {there}");
                    left.Enqueue(to);
                }

                if (Sends(offer, path) is { } form && Refuses(form, role, forms) is { } handler)
                    wrong.Add($"{route}: a form to {handler}");
            }
        }

        Assert.True(wrong.Count == 0, string.Join('\n', wrong));
        Assert.True(read > FewestPages, $"{read} pages read");
    }

    private static bool Closed(string route, string role) =>
        (role != "planner" && AccessTests.IsFor(route, "planner")) || (role == "operator" && AccessTests.IsFor(route, "technician"));

    private static string? Link(IElement element) =>
        element.LocalName == "a" ? element.GetAttribute("href") : element.GetAttribute("hx-get");

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
            : AddressOf(to, page);
    }

    private static string? Refuses(string form, string role, Dictionary<string, string> decided)
    {
        if (RouteOf(form) is not { } route)
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

    /// <summary>An address of this application without what stands behind its mark; null for another's.</summary>
    private static string? AddressOf(string link, string page)
    {
        var whole = new Uri(new Uri("http://nippers" + page), link);
        return whole.Host == "nippers" && whole.Scheme == "http" ? whole.PathAndQuery : null;
    }

    private static string? RouteOf(string address)
    {
        var path = new PathString(Uri.UnescapeDataString(address.Split('?')[0]));
        return Routes
            .Where(x => x.Matcher.TryMatch(path, new RouteValueDictionary()))
            .OrderByDescending(x => x.Fixed)
            .Select(x => x.Route)
            .FirstOrDefault();
    }
}
