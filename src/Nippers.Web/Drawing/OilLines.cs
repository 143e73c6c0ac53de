using System.Globalization;
using System.Text;
using Microsoft.AspNetCore.Html;
using Nippers.App.Oil;
using Nippers.Core.Oil;
using Nippers.Views.Text;

namespace Nippers.Web.Drawing;

/// <summary>One measurand of a compartment over machine hours, with its borders, oil changes and top-ups.</summary>
public static class OilTrend
{
    private const int TickWidth = 24;
    private const double Width = 1080;
    private const double Height = 270;
    private const double Left = 46;
    private const double Right = 12;
    private const double Top = 14;
    private const double Bottom = 46;

    /// <summary>Draws the trend.</summary>
    /// <param name="measurand">What is drawn.</param>
    /// <param name="points">Samples, oldest first.</param>
    /// <param name="events">What happened to the oil.</param>
    /// <param name="limit">Borders; null when the measurand has none of two numbers.</param>
    /// <param name="chosen">The sample that is looked at.</param>
    /// <param name="heading">Where it is heading: hours and value; null when nowhere.</param>
    /// <param name="words">The words.</param>
    public static IHtmlContent Draw(
        Measurand measurand,
        IReadOnlyList<SamplePoint> points,
        IReadOnlyList<OilEvent> events,
        OilLimit? limit,
        long? chosen,
        (double Hours, double Value)? heading,
        Words words
    )
    {
        var shown = points.Where(x => x.Values[measurand] is not null).ToList();
        if (shown.Count == 0)
            return HtmlString.Empty;
        var first = shown[0].Hours;
        var last = Math.Max(Math.Max(shown[^1].Hours, heading?.Hours ?? 0), first + 1);
        var most = Math.Max(shown.Max(x => x.Values[measurand]!.Value), Math.Max(heading?.Value ?? 0, limit?.Watch * 1.15 ?? 0));
        if (limit is not null && most > limit.Watch)
            most = Math.Max(most, limit.Act * 1.1);
        var least = Math.Min(0, shown.Min(x => x.Values[measurand]!.Value));
        if (limit is null)
            (least, most) = (shown.Min(x => x.Values[measurand]!.Value) * 0.9, most * 1.05);
        if (most <= least)
            most = least + 1;
        double X(double hours) => Left + (Width - Left - Right) * (hours - first) / (last - first);
        double Y(double value) => Height - Bottom - (Height - Top - Bottom) * (value - least) / (most - least);

        var svg = new StringBuilder(4096);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<svg class="oil-line" viewBox="0 0 {N(Width)} {N(Height)}" role="img" aria-label="{Text(words["Trend.Label", words["Measurand." + measurand], shown.Count, SampleWords.Figure(shown[^1].Values[measurand]!.Value)])}">"""
        );
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<path class="ol-axis" d="M{N(Left)} {N(Top)} V{N(Height - Bottom)} H{N(Width - Right)}"/>"""
        );
        foreach (var value in Ticks(least, most))
            svg.Append(
                CultureInfo.InvariantCulture,
                $"""<text class="ol-text" x="{N(Left - 6)}" y="{N(Y(value) + 4)}" text-anchor="end">{Text(SampleWords.Figure(value))}</text>"""
            );
        foreach (var hours in Ticks(first, last, 6))
        {
            // A figure at the end of the line would run off the sheet.
            var anchor = X(hours) > Width - Right - TickWidth ? "end" : "middle";
            svg.Append(CultureInfo.InvariantCulture, $"""<path class="ol-axis" d="M{N(X(hours))} {N(Height - Bottom)} v5"/>""");
            svg.Append(
                CultureInfo.InvariantCulture,
                $"""<text class="ol-text" x="{N(X(hours))}" y="{N(Height - Bottom + 18)}" text-anchor="{anchor}">{Text(Words.Whole(hours))}</text>"""
            );
        }

        if (limit is not null)
        {
            foreach (var (value, css, key) in new[] { (limit.Watch, "watch", "Rake.Watch"), (limit.Act, "act", "Rake.Act") })
            {
                if (value > most)
                    continue;
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"""<path class="rake-{css}" d="M{N(Left)} {N(Y(value))} H{N(Width - Right)}"/><text class="rake-border rake-border-{css}" x="{N(Left + 6)}" y="{N(Y(value) - 5)}">{Text(words[key])} {Text(SampleWords.Figure(value))}</text>"""
                );
            }
        }

        foreach (var change in events.Where(x => x.Hours >= first && x.Hours <= last))
        {
            if (change.Kind == OilEventKind.Change)
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"""<path class="ol-change" d="M{N(X(change.Hours))} {N(Top)} V{N(Height - Bottom)}"/>"""
                );
            else if (change.Kind == OilEventKind.TopUp)
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"""<path class="ol-topup" d="M{N(X(change.Hours))} {N(Height - Bottom - 10)} v10 m-4 -5 h8"/>"""
                );
        }

        svg.Append("<polyline class=\"ol-run\" points=\"");
        foreach (var point in shown)
            svg.Append(CultureInfo.InvariantCulture, $"{N(X(point.Hours))},{N(Y(point.Values[measurand]!.Value))} ");
        svg.Append("\"/>");
        if (heading is { } goal)
            svg.Append(
                CultureInfo.InvariantCulture,
                $"""<path class="ol-heading" d="M{N(X(shown[^1].Hours))} {N(Y(shown[^1].Values[measurand]!.Value))} L{N(X(goal.Hours))} {N(Y(goal.Value))}"/>"""
            );
        foreach (var point in shown)
        {
            if (point.Id == chosen)
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"""<circle class="ol-here" cx="{N(X(point.Hours))}" cy="{N(Y(point.Values[measurand]!.Value))}" r="14"/>"""
                );
            svg.Append(Drop.Shape(X(point.Hours), Y(point.Values[measurand]!.Value), point.Assessment, point.NotTrue));
        }

        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<text class="ol-text" x="{N(Width - Right)}" y="{N(Height - 6)}" text-anchor="end">{Text(words["Trend.Axis"])}</text></svg>"""
        );
        return new HtmlString(svg.ToString());
    }

    /// <summary>Round numbers between two ends.</summary>
    internal static IEnumerable<double> Ticks(double from, double to, int about = 4)
    {
        var raw = (to - from) / about;
        if (!(raw > 0))
            yield break;
        var power = Math.Pow(10, Math.Floor(Math.Log10(raw)));
        var step = new[] { 1, 2, 2.5, 5, 10 }.Select(x => x * power).First(x => x >= raw * 0.999);
        for (var at = Math.Ceiling(from / step) * step; at <= to + step * 1e-6; at += step)
            yield return Math.Round(at, 6);
    }

    private static string N(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);

    private static string Text(string text) => System.Net.WebUtility.HtmlEncode(text);
}

/// <summary>The oil of a compartment on one line of time: samples, changes, top-ups, defects and repairs, intervals.</summary>
public static class OilTimeline
{
    private const double Width = 1080;
    private const double Left = 128;
    private const double Right = 20;
    private const double Lane = 40;
    private const double Top = 12;

    private static readonly (string Key, OilEventKind[] Kinds)[] Lanes =
    [
        ("Changes", [OilEventKind.Change]),
        ("TopUps", [OilEventKind.TopUp]),
        ("Defects", [OilEventKind.Defect, OilEventKind.Repair, OilEventKind.Metal]),
        ("Drains", [OilEventKind.Drain]),
    ];

    /// <summary>Draws the line.</summary>
    public static IHtmlContent Draw(IReadOnlyList<SamplePoint> samples, IReadOnlyList<OilEvent> events, double hoursNow, Words words)
    {
        if (samples.Count == 0 && events.Count == 0)
            return HtmlString.Empty;
        var first = samples
            .Select(x => x.Hours)
            .Concat(events.Where(x => x.Kind == OilEventKind.Change).Select(x => x.Hours))
            .DefaultIfEmpty(hoursNow)
            .Min();
        first = Math.Min(first, hoursNow - 1);
        double X(double hours) => Left + (Width - Left - Right) * (Math.Clamp(hours, first, hoursNow) - first) / (hoursNow - first);
        var lanes = Lanes.Where(x => events.Any(y => x.Kinds.Contains(y.Kind) && y.Hours >= first)).ToList();
        var height = Top + Lane * (lanes.Count + 1) + 34;
        var svg = new StringBuilder(4096);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<svg class="oil-line oil-time" viewBox="0 0 {N(Width)} {N(height)}" role="img" aria-label="{Text(words["Timeline.Label", samples.Count, events.Count(x => x.Kind == OilEventKind.Change)])}">"""
        );
        Row(svg, Top, words["Timeline.Samples"]);
        foreach (var point in samples)
            svg.Append(Drop.Shape(X(point.Hours), Top + Lane / 2, point.Assessment, point.NotTrue));
        for (var i = 0; i < lanes.Count; i++)
        {
            var y = Top + Lane * (i + 1);
            Row(svg, y, words["Timeline." + lanes[i].Key]);
            foreach (var at in events.Where(x => lanes[i].Kinds.Contains(x.Kind) && x.Hours >= first))
                Mark(svg, X(at.Hours), y + Lane / 2, at);
        }

        var foot = Top + Lane * (lanes.Count + 1);
        foreach (var change in events.Where(x => x.Kind == OilEventKind.Change && x.Hours >= first))
            svg.Append(CultureInfo.InvariantCulture, $"""<path class="ol-change" d="M{N(X(change.Hours))} {N(Top)} V{N(foot)}"/>""");
        foreach (var hours in OilTrend.Ticks(first, hoursNow, 7))
            svg.Append(
                CultureInfo.InvariantCulture,
                $"""<path class="ol-axis" d="M{N(X(hours))} {N(foot)} v5"/><text class="ol-text" x="{N(X(hours))}" y="{N(foot + 18)}" text-anchor="middle">{Text(Words.Whole(hours))}</text>"""
            );
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<path class="tape-now" d="M{N(X(hoursNow) - 9)} {N(Top - 8)} q9 2 9 12 q0 -10 9 -12 z M{N(X(hoursNow))} {N(Top + 4)} V{N(foot)}"/></svg>"""
        );
        return new HtmlString(svg.ToString());
    }

    private static void Row(StringBuilder svg, double y, string name) =>
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<path class="ol-lane" d="M{N(Left)} {N(y + Lane)} H{N(Width - Right)}"/><text class="ol-name" x="0" y="{N(y + Lane / 2 + 5)}">{Text(name)}</text>"""
        );

    private static void Mark(StringBuilder svg, double x, double y, OilEvent at)
    {
        svg.Append(
            at.Kind switch
            {
                OilEventKind.Change => Path("ol-changed", $"M{N(x - 7)} {N(y - 6)} h14 l-7 12 z"),
                OilEventKind.TopUp => Path("ol-topup", $"M{N(x)} {N(y - 7)} v14 m-7 -7 h14"),
                OilEventKind.Defect => Path("plan-fault", $"M{N(x - 7)} {N(y + 6)} l7 -13 l7 13 z"),
                OilEventKind.Repair => Path("ol-repair", $"M{N(x - 6)} {N(y)} l4 5 l8 -10"),
                OilEventKind.Metal => Path("ol-metal", $"M{N(x - 6)} {N(y - 5)} h12 v10 h-12 z M{N(x - 2)} {N(y - 5)} v10"),
                _ =>
                    $"""<text class="ol-interval" x="{N(x)}" y="{N(y + 5)}" text-anchor="middle">{Text(Words.Whole(at.Figure ?? 0))}</text>""",
            }
        );
    }

    private static string Path(string css, string d) => $"""<path class="{css}" d="{d}"/>""";

    private static string N(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);

    private static string Text(string text) => System.Net.WebUtility.HtmlEncode(text);
}

/// <summary>One compartment of each machine on a common scale: the last value solid, earlier ones as marks.</summary>
public static class FleetSpread
{
    private const double Width = 520;
    private const double Height = 34;

    /// <summary>Draws a line of the comparison.</summary>
    /// <param name="place">The compartment.</param>
    /// <param name="most">Where the scale ends.</param>
    /// <param name="limit">Borders; null for none.</param>
    /// <param name="label">What it says.</param>
    public static IHtmlContent Draw(FleetPlace place, double most, OilLimit? limit, string label)
    {
        double X(double value) => 4 + (Width - 16) * Math.Clamp(value / most, 0, 1);
        var svg = new StringBuilder(512);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<svg class="spread" viewBox="0 0 {N(Width)} {N(Height)}" role="img" aria-label="{System.Net.WebUtility.HtmlEncode(label)}"><path class="ol-lane" d="M4 {N(Height / 2)} H{N(Width - 12)}"/>"""
        );
        if (limit is not null)
            svg.Append(
                CultureInfo.InvariantCulture,
                $"""<path class="rake-watch" d="M{N(X(limit.Watch))} 0 V{N(Height)}"/><path class="rake-act" d="M{N(X(limit.Act))} 0 V{N(Height)}"/>"""
            );
        foreach (var (_, _, value) in place.Values.SkipLast(1))
            svg.Append(CultureInfo.InvariantCulture, $"""<path class="ghost" d="M{N(X(value))} {N(Height / 2 - 8)} v16"/>""");
        var grade = limit?.Grade(place.Last) ?? 0;
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<circle class="tine tine-{grade}" cx="{N(X(place.Last))}" cy="{N(Height / 2)}" r="{(grade == 0 ? 6 : 8)}"/></svg>"""
        );
        return new HtmlString(svg.ToString());
    }

    private static string N(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);
}
