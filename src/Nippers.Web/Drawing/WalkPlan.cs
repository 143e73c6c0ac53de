using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using Microsoft.AspNetCore.Html;
using Nippers.Core.Walk;
using Nippers.Views.Text;
using Nippers.Views.Walks;

namespace Nippers.Web.Drawing;

/// <summary>
/// The walk plan: the machine from above, stations numbered along a dashed path, a station filling as its checks are
/// done. Drawn from simple parts, so that a kind which a planner adds draws itself.
/// </summary>
public static class WalkPlan
{
    private const int Width = 320;
    private const int Height = 240;
    private const int Box = 30;
    private const int BoxHeight = 26;

    /// <summary>Draws a plan.</summary>
    /// <param name="list">The list: its parts and the order of its stations.</param>
    /// <param name="stations">The stations of this walk, in the order of the path.</param>
    /// <param name="name">What is drawn, for the title.</param>
    /// <param name="words">The words.</param>
    public static IHtmlContent Draw(CheckList list, ImmutableArray<PlanStation> stations, string name, Words words)
    {
        var svg = new StringBuilder(4096);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<svg class="plan" viewBox="0 0 {Width} {Height}" role="group" aria-label="{Text(words["Plan.Label", name, stations.Count(x => x.Done == x.Checks), stations.Length])}">"""
        );
        foreach (var part in list.Parts)
            Part(svg, part);
        if (stations.Length > 1)
        {
            svg.Append("""<polyline class="plan-path" points=" """);
            foreach (var at in stations)
                svg.Append(CultureInfo.InvariantCulture, $"{N(at.Station.X)},{N(at.Station.Y)} ");
            svg.Append("\"/>");
        }

        foreach (var at in stations)
            Station(svg, at, words);
        svg.Append("</svg>");
        return new HtmlString(svg.ToString());
    }

    /// <summary>
    /// Draws a plan on which stations are moved, by hand or by the arrow keys: the script writes where they are into the lines of the
    /// form beside it.
    /// </summary>
    /// <param name="list">The list.</param>
    /// <param name="words">The words.</param>
    public static IHtmlContent MovableStations(CheckList list, Words words) => Movable(list, words["WalkLists.MoveStations"], svg =>
        {
            foreach (var (station, at) in list.Stations.Select((x, i) => (x, i)))
            {
                Moves(svg, "stations", station.Code, $"{at + 1} {words.Say(station.Name)}", station.X, station.Y);
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"""<rect class="plan-target" x="{N(-Box / 2.0)}" y="{N(-BoxHeight / 2.0)}" width="{Box}" height="{BoxHeight}"/><rect class="plan-box" x="{N(-Box / 2.0)}" y="{N(-BoxHeight / 2.0)}" width="{Box}" height="{BoxHeight}"/><text class="plan-number" y="5">{at + 1}</text></g>"""
                );
            }
        });

    /// <summary>The same for the places where compartments lie.</summary>
    public static IHtmlContent MovablePlaces(CheckList list, Words words) => Movable(list, words["WalkLists.MovePlaces"], svg =>
        {
            foreach (var place in list.Places)
            {
                Moves(svg, "places", place.Compartment, place.Compartment, place.X, place.Y);
                svg.Append(
                    """<circle class="plan-target" r="13"/><path class="plan-drop" d="M0 -12 C4 -5 8 -1 8 4 A8 7 0 0 1 -8 4 C-8 -1 -4 -5 0 -12 z"/></g>"""
                );
            }
        });

    private static HtmlString Movable(CheckList list, string label, Action<StringBuilder> things)
    {
        var svg = new StringBuilder(4096);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<svg class="plan" viewBox="0 0 {Width} {Height}" role="group" aria-label="{Text(label)}" data-plan>"""
        );
        foreach (var part in list.Parts)
            Part(svg, part);
        things(svg);
        svg.Append("</svg>");
        return new HtmlString(svg.ToString());
    }

    private static void Moves(StringBuilder svg, string field, string code, string name, double x, double y) =>
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<g role="button" tabindex="0" aria-label="{Text(name)}" data-moves="{field}" data-code="{Text(code)}" data-x="{N(x)}" data-y="{N(y)}" transform="translate({N(x)} {N(y)})"><title>{Text(name)}</title>"""
        );

    /// <summary>Draws the machine with one place lit.</summary>
    /// <param name="list">The list: its parts.</param>
    /// <param name="at">The place; null lights nothing.</param>
    /// <param name="label">What it says.</param>
    public static IHtmlContent Lit(CheckList list, (double X, double Y)? at, string label)
    {
        var svg = new StringBuilder(2048);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<svg class="plan" viewBox="0 0 {Width} {Height}" role="img" aria-label="{Text(label)}">"""
        );
        foreach (var part in list.Parts)
            Part(svg, part);
        if (at is var (x, y))
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"""<circle class="plan-glow" cx="{N(x)}" cy="{N(y)}" r="24"/><path class="plan-drop" transform="translate({N(x)} {N(y)}) scale(1.25)" d="M0 -12 C4 -5 8 -1 8 4 A8 7 0 0 1 -8 4 C-8 -1 -4 -5 0 -12 z"/>"""
            );
        }

        svg.Append("</svg>");
        return new HtmlString(svg.ToString());
    }

    private static void Station(StringBuilder svg, PlanStation at, Words words)
    {
        var (x, y) = (at.Station.X - Box / 2.0, at.Station.Y - BoxHeight / 2.0);
        var label = words["Plan.Station", at.Number, at.Station.Name, at.Done, at.Checks];
        if (at.Href is not null)
            svg.Append(CultureInfo.InvariantCulture, $"""<a href="{Text(at.Href)}" aria-label="{Text(label)}">""");
        svg.Append(CultureInfo.InvariantCulture, $"<g><title>{Text(label)}</title>");

        // The target is larger than the box: gloves.
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<rect class="plan-target" x="{N(x - 6)}" y="{N(y - 8)}" width="{Box + 12}" height="{BoxHeight + 16}"/>"""
        );
        svg.Append(CultureInfo.InvariantCulture, $"""<rect class="plan-box" x="{N(x)}" y="{N(y)}" width="{Box}" height="{BoxHeight}"/>""");
        var share = at.Checks == 0 ? 0 : at.Done / (double)at.Checks;
        if (share > 0)
            svg.Append(
                CultureInfo.InvariantCulture,
                $"""<rect class="plan-fill" x="{N(x)}" y="{N(y)}" width="{N(Box * share)}" height="{BoxHeight}"/>"""
            );
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<text class="{(share >= 0.6 ? "plan-number plan-number-on" : "plan-number")}" x="{N(at.Station.X)}" y="{N(at.Station.Y + 5)}">{at.Number}</text>"""
        );
        if (at.Here)
        {
            // The jaws close on where you are.
            svg.Append(
                CultureInfo.InvariantCulture,
                $"""<path class="plan-jaw" d="M{N(at.Station.X - 13)} {N(y - 14)} q13 2 13 14 q0 -12 13 -14 z"/>"""
            );
            svg.Append(
                CultureInfo.InvariantCulture,
                $"""<path class="plan-jaw" d="M{N(at.Station.X - 13)} {N(y + BoxHeight + 14)} q13 -2 13 -14 q0 12 13 14 z"/>"""
            );
        }

        if (at.Faults > 0)
            svg.Append(CultureInfo.InvariantCulture, $"""<path class="plan-fault" d="M{N(x + Box - 5)} {N(y + 5)} l8 -13 l8 13 z"/>""");
        svg.Append(at.Href is null ? "</g>" : "</g></a>");
    }

    private static void Part(StringBuilder svg, PlanPart part)
    {
        var (x, y, w, h) = (part.X, part.Y, part.Width, part.Height);
        var turn =
            part.Angle == 0
                ? ""
                : string.Create(CultureInfo.InvariantCulture, $""" transform="rotate({N(part.Angle)} {N(x + w / 2)} {N(y + h / 2)})" """);
        string Rect(string css, double radius, double inset = 0) =>
            string.Create(
                CultureInfo.InvariantCulture,
                $"""<rect class="{css}" x="{N(x + inset)}" y="{N(y + inset)}" width="{N(Math.Max(1, w - 2 * inset))}" height="{N(Math.Max(1, h - 2 * inset))}" rx="{N(radius)}"{turn}/>"""
            );
        switch (part.Shape)
        {
            case PlanShape.Track:
                svg.Append(Rect("plan-dark", 9));
                Stripes(svg, x + 8, y + 3, w - 16, h - 6, 8);
                break;
            case PlanShape.Wheel:
                svg.Append(Rect("plan-dark", 5));
                Stripes(svg, x + 5, y + 2, w - 10, h - 4, 6);
                break;
            case PlanShape.Drum:
                svg.Append(Rect("plan-body", 4));
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"""<path class="plan-line" d="M{N(x + w * 0.25)} {N(y)} v{N(h)} M{N(x + w * 0.5)} {N(y)} v{N(h)} M{N(x + w * 0.75)} {N(y)} v{N(h)}"/>"""
                );
                break;
            case PlanShape.Cab:
                svg.Append(Rect("plan-glass", 6));
                svg.Append(Rect("plan-line", 4, 6));
                break;
            case PlanShape.Bucket:
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"""<path class="plan-metal" d="M{N(x)} {N(y + h * 0.12)} L{N(x + w)} {N(y)} V{N(y + h)} L{N(x)} {N(y + h * 0.88)} z"{turn}/>"""
                );
                for (var tooth = 0; tooth < 5; tooth++)
                {
                    var at = part.Angle == 180 ? x - 5 : x + w;
                    svg.Append(
                        CultureInfo.InvariantCulture,
                        $"""<rect class="plan-metal" x="{N(at)}" y="{N(y + h * (0.08 + tooth * 0.19))}" width="5" height="{N(Math.Max(2, h * 0.07))}"/>"""
                    );
                }

                break;
            case PlanShape.Blade:
                svg.Append(Rect("plan-metal", 3));
                break;
            case PlanShape.Arm:
                svg.Append(Rect("plan-metal", 5));
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"""<path class="plan-line" d="M{N(x + 6)} {N(y + h / 2)} h{N(Math.Max(0, w - 12))}"/>"""
                );
                break;
            case PlanShape.Joint:
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"""<circle class="plan-metal" cx="{N(x + w / 2)}" cy="{N(y + h / 2)}" r="{N(Math.Min(w, h) / 2)}"/>"""
                );
                break;
            default:
                svg.Append(Rect("plan-body", 12));
                break;
        }
    }

    private static void Stripes(StringBuilder svg, double x, double y, double width, double height, double step)
    {
        svg.Append("""<path class="plan-shoe" d=" """);
        for (var at = x; at <= x + width; at += step)
            svg.Append(CultureInfo.InvariantCulture, $"M{N(at)} {N(y)} v{N(height)} ");
        svg.Append("\"/>");
    }

    private static string N(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);

    private static string Text(string text) => System.Net.WebUtility.HtmlEncode(text);
}
