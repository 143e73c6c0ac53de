using System.Globalization;
using System.Text;
using Microsoft.AspNetCore.Html;
using Nippers.App.Walks;
using Nippers.Core.Hours;
using Nippers.Views.Text;

namespace Nippers.Web.Drawing;

/// <summary>A measure over machine hours with its limits, small.</summary>
public static class MeasureLine
{
    private const double Width = 560;
    private const double Height = 96;
    private const double Edge = 8;

    public static IHtmlContent Draw(MeasureSeries series, Words words)
    {
        var points = series.Points;
        if (points.Count < 2)
            return HtmlString.Empty;
        var check = series.Check;
        var values = points.Select(x => x.Value).Concat(new[] { check.Low, check.High }.OfType<double>()).ToList();
        var (least, most) = (values.Min(), values.Max());
        var room = Math.Max((most - least) * 0.12, 0.5);
        (least, most) = (least - room, most + room);
        double first = points[0].LifeHours.Value,
            last = Math.Max(first + 1, points[^1].LifeHours.Value);
        double X(MeterHours hours) => Edge + (Width - 2 * Edge) * (hours.Value - first) / (last - first);
        double Y(double value) => Height - Edge - (Height - 2 * Edge) * (value - least) / (most - least);

        var svg = new StringBuilder(2048);
        var label = words[
            "Measure.Label",
            words.Say(check.Name),
            Words.Measure(points[0].Value, check.Unit),
            Words.Measure(points[^1].Value, check.Unit),
            words.MeasureUnit(check.Unit),
            points.Count
        ];
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<svg class="line" viewBox="0 0 {N(Width)} {N(Height)}" role="img" aria-label="{System.Net.WebUtility.HtmlEncode(label)}">"""
        );
        foreach (var limit in new[] { check.Low, check.High }.OfType<double>())
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"""<path class="line-limit" d="M{N(Edge)} {N(Y(limit))} H{N(Width - Edge)}"/><text class="line-text" x="{N(Width - Edge)}" y="{N(Y(limit) - 4)}" text-anchor="end">{Words.Measure(limit, check.Unit)}</text>"""
            );
        }

        svg.Append("<polyline class=\"line-run\" points=\"");
        foreach (var point in points)
            svg.Append(CultureInfo.InvariantCulture, $"{N(X(point.LifeHours))},{N(Y(point.Value))} ");
        svg.Append("\"/>");
        foreach (var point in points)
            svg.Append(
                CultureInfo.InvariantCulture,
                $"""<circle class="line-dot" cx="{N(X(point.LifeHours))}" cy="{N(Y(point.Value))}" r="3"/>"""
            );
        svg.Append("</svg>");
        return new HtmlString(svg.ToString());
    }

    private static string N(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);
}
