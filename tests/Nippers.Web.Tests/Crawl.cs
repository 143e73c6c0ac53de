using System.Net;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Routing;
using Microsoft.AspNetCore.Routing.Template;

namespace Nippers.Web.Tests;

/// <summary>A page that was come to by links from the first one.</summary>
/// <param name="Path">Its address.</param>
/// <param name="Route">Its route, as the table of access has it.</param>
/// <param name="Status">What it was answered with.</param>
/// <param name="Page">What it says; null where that is no page.</param>
public sealed record Reached(string Path, string Route, HttpStatusCode Status, IHtmlDocument? Page);

/// <summary>Follows pages from the first one, a few of each route, as somebody who may see what his role may.</summary>
public static class Crawl
{
    private static readonly List<(TemplateMatcher Matcher, string Route, int Fixed)> Routes =
    [
        .. AccessTests.Routes.Select(x =>
        {
            var template = TemplateParser.Parse(x);
            return (new TemplateMatcher(template, []), x, template.Segments.Count(s => s.IsSimple && s.Parts[0].IsLiteral));
        }),
    ];

    /// <summary>The pages, as they are come to.</summary>
    /// <param name="visitor">Who follows.</param>
    /// <param name="role">The role that is: what is closed to it is not asked for.</param>
    /// <param name="ofARoute">How many pages of one route.</param>
    public static async IAsyncEnumerable<Reached> Pages(Visitor visitor, string role, int ofARoute)
    {
        var (left, seen) = (new Queue<string>(["/"]), new HashSet<string>(StringComparer.Ordinal));
        var ofRoute = new Dictionary<string, int>();
        while (left.TryDequeue(out var path))
        {
            if (RouteOf(path) is not { } route || !seen.Add(path) || route is "sign-out" || Closed(route, role))
                continue;
            if ((ofRoute[route] = ofRoute.GetValueOrDefault(route) + 1) > ofARoute)
                continue;
            using var answer = await visitor.Get(path);
            var isPage = answer is { StatusCode: HttpStatusCode.OK, Content.Headers.ContentType.MediaType: "text/html" };
            var page = isPage ? await Visitor.Parse(answer) : null;
            foreach (var offer in page?.All ?? Enumerable.Empty<IElement>())
            {
                if (Link(offer, path) is { } to)
                    left.Enqueue(to);
            }

            yield return new(path, route, answer.StatusCode, page);
        }
    }

    /// <summary>Whether a route is closed to a role.</summary>
    public static bool Closed(string route, string role) =>
        (role != "planner" && AccessTests.IsFor(route, "planner")) || (role == "operator" && AccessTests.IsFor(route, "technician"));

    /// <summary>Where an element leads; null where it does not, or out of the application.</summary>
    public static string? Link(IElement element, string page) =>
        (element.LocalName == "a" ? element.GetAttribute("href") : element.GetAttribute("hx-get")) is { } link
            ? AddressOf(link, page)
            : null;

    /// <summary>An address of this application without what stands behind its mark; null for another's.</summary>
    public static string? AddressOf(string link, string page)
    {
        var whole = new Uri(new Uri("http://nippers" + page), link);
        return whole.Host == "nippers" && whole.Scheme == "http" ? whole.PathAndQuery : null;
    }

    /// <summary>The route of an address; null where there is none.</summary>
    public static string? RouteOf(string address)
    {
        var path = new PathString(Uri.UnescapeDataString(address.Split('?')[0]));
        return Routes
            .Where(x => x.Matcher.TryMatch(path, new RouteValueDictionary()))
            .OrderByDescending(x => x.Fixed)
            .Select(x => x.Route)
            .FirstOrDefault();
    }
}
