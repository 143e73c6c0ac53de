using System.Globalization;
using System.Text;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Html;
using Nippers.App.Visits;
using Nippers.Views.Text;

namespace Nippers.Web.Drawing;

/// <summary>
/// The rail: days from today along one line; above it the visits proposed, each as high as it holds items, below it the
/// days on which the naive rule would go.
/// </summary>
public static class VisitRail
{
    private const int Width = 960;
    private const int Height = 132;
    private const int Rail = 78;
    private const int Left = 12;
    private const int Tallest = 58;

    /// <summary>Draws the rail of a machine.</summary>
    public static IHtmlContent Draw(VisitProposal proposal, Words words)
    {
        var svg = new StringBuilder();
        var scale = (Width - 2.0 * Left) / Math.Max(1, proposal.Horizon);
        double X(int day) => Left + day * scale;
        var most = Math.Max(1, proposal.Visits.Count == 0 ? 1 : proposal.Visits.Max(x => x.Items.Count));
        var about = words["Rail.About", proposal.Unit, proposal.Visits.Count, proposal.Naive.Visits.Length, proposal.Horizon];
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg class=\"rail\" viewBox=\"0 0 {Width} {Height}\" role=\"img\" aria-label=\"{HtmlEncoder.Default.Encode(about)}\"><title>{HtmlEncoder.Default.Encode(about)}</title>"
        );
        svg.Append(CultureInfo.InvariantCulture, $"<path class=\"rail-line\" d=\"M{Left} {Rail}H{Width - Left}\"/>");
        var month = new DateOnly(proposal.Now.Today.Year, proposal.Now.Today.Month, 1).AddMonths(1);
        for (; month.DayNumber - proposal.Now.Today.DayNumber <= proposal.Horizon; month = month.AddMonths(1))
        {
            var x = X(month.DayNumber - proposal.Now.Today.DayNumber);
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<path class=\"rail-month\" d=\"M{x:0.#} {Rail - 5}v10\"/><text class=\"rail-date\" x=\"{x + 3:0.#}\" y=\"{Height - 4}\">{HtmlEncoder.Default.Encode(month.ToString("MMM", CultureInfo.CurrentCulture))}</text>"
            );
        }

        foreach (var visit in proposal.Naive.Visits)
            svg.Append(CultureInfo.InvariantCulture, $"<path class=\"rail-naive\" d=\"M{X(visit.Day):0.#} {Rail + 3}v16\"/>");
        foreach (var visit in proposal.Visits)
        {
            var (x, tall) = (X(visit.Day), 16 + (Tallest - 16.0) * visit.Items.Count / most);

            // A stem with a split head: our pegs, seen from the visit's side.
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<path class=\"rail-stem\" d=\"M{x:0.#} {Rail}v{-tall:0.#}\"/><path class=\"rail-head\" d=\"M{x - 6:0.#} {Rail - tall:0.#}h12l-4 -9h-4z\"/>"
            );
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"rail-count\" x=\"{x + 8:0.#}\" y=\"{Rail - tall + 3:0.#}\">{visit.Items.Count}</text>"
            );
        }

        svg.Append("</svg>");
        return new HtmlString(svg.ToString());
    }
}

/// <summary>A hub from outside: its plugs at their clock hours when it stands at its mark.</summary>
public static class HubPlugs
{
    private static readonly string[] Names = ["drain", "level", "fill"];

    /// <summary>Draws a hub; nothing when its plugs are not on record.</summary>
    public static IHtmlContent Draw(string hub, Words words)
    {
        var hours = hub.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(x => int.Parse(x, CultureInfo.InvariantCulture)).ToArray();
        if (hours.Length != Names.Length)
            return HtmlString.Empty;
        var about = HtmlEncoder.Default.Encode(words["Hub.About", hours[0], hours[1], hours[2]]);
        var svg = new StringBuilder(
            string.Create(
                CultureInfo.InvariantCulture,
                $"<svg class=\"hub\" viewBox=\"0 0 220 150\" role=\"img\" aria-label=\"{about}\"><title>{about}</title><circle class=\"hub-case\" cx=\"110\" cy=\"75\" r=\"58\"/><path class=\"hub-oil\" d=\"M52 75a58 58 0 0 0 116 0z\"/><circle class=\"hub-case\" cx=\"110\" cy=\"75\" r=\"16\"/>"
            )
        );
        for (var i = 0; i < Names.Length; i++)
        {
            var angle = hours[i] * Math.PI / 6;
            var (x, y) = (110 + 44 * Math.Sin(angle), 75 - 44 * Math.Cos(angle));
            var right = x >= 110;
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<circle class=\"hub-plug hub-{Names[i]}\" cx=\"{x:0.#}\" cy=\"{y:0.#}\" r=\"7\"/><path class=\"hub-lead\" d=\"M{x + (right ? 7 : -7):0.#} {y:0.#}H{(right ? 174 : 46)}\"/>"
            );
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"hub-name\" x=\"{(right ? 177 : 43)}\" y=\"{y + 4:0.#}\" text-anchor=\"{(right ? "start" : "end")}\">{HtmlEncoder.Default.Encode(words["Hub." + Names[i]])}</text>"
            );
        }

        return new HtmlString(svg.Append("</svg>").ToString());
    }
}
