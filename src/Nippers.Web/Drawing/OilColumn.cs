using System.Globalization;
using System.Text;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Html;
using Nippers.Core.Fluids;
using Nippers.Views.Text;

namespace Nippers.Web.Drawing;

/// <summary>Draws the oil of a change as two columns: what was in it and where that went, and what is in it now, up to the mark.</summary>
public static class OilColumn
{
    private const double Height = 150;
    private const double Top = 12;
    private const double Width = 40;
    private const double FirstX = 110;
    private const double SecondX = 170;

    // Names of thin layers would stand on each other.
    private const double Line = 16;

    /// <summary>Draws a balance.</summary>
    /// <param name="change">The change.</param>
    /// <param name="balance">What it comes to.</param>
    /// <param name="words">Words.</param>
    public static IHtmlContent Draw(BalanceInput change, FluidBalance balance, Words words)
    {
        var most = Math.Max(Math.Max(change.Capacity, balance.OnBoardFound ?? 0), Math.Max(balance.High, change.Drained + balance.Residue));
        string Litres(decimal litres) => words.Volume((double)Math.Round(litres, 1));
        double Y(decimal litres) => Top + Height - (double)(litres / most) * Height;
        var about = HtmlEncoder.Default.Encode(
            words["Balance.About", Litres(change.Drained), Litres(change.Filled), Litres(balance.Residue), Litres(balance.Mark)]
        );
        var svg = new StringBuilder(
            $"<svg class=\"oil\" viewBox=\"0 0 320 190\" role=\"img\" aria-label=\"{about}\"><title>{about}</title>"
        );

        void Column(double x, bool right, params (decimal Litres, string Kind)[] layers)
        {
            var (from, above) = (0m, double.MaxValue);
            foreach (var (litres, kind) in layers.Where(layer => layer.Litres > 0))
            {
                var (bottom, top) = (Y(from), Y(from + litres));
                above = Math.Min((bottom + top) / 2 + 4, above - Line);
                from += litres;
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"<rect class=\"oil-{kind}\" x=\"{x}\" y=\"{top:0.#}\" width=\"{Width}\" height=\"{bottom - top:0.#}\"/>"
                );
                var (at, anchor) = right ? (x + Width + 6, "start") : (x - 6, "end");
                var name = Encoded("Balance.Part." + kind, Litres(litres));
                svg.Append(CultureInfo.InvariantCulture, $"<text x=\"{at}\" y=\"{above:0.#}\" text-anchor=\"{anchor}\">{name}</text>");
            }
        }

        string Encoded(string name, params object[] values) => HtmlEncoder.Default.Encode(words[name, values]);

        var still = balance.High - balance.Low;
        Column(FirstX, false, (balance.Residue, "rest"), (change.FilterLitres, "filter"), (still, "open"), (change.Drained, "out"));
        Column(SecondX, true, (balance.Low - change.Filled, "rest"), (still, "open"), (change.Filled, "in"));
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<path class=\"oil-mark\" d=\"M{SecondX - 8} {Y(balance.Mark):0.#}H{SecondX + Width + 8}\"/>"
        );
        foreach (var (x, name) in new[] { (FirstX, "Balance.Was"), (SecondX, "Balance.Is") })
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<rect class=\"oil-case\" x=\"{x}\" y=\"{Top}\" width=\"{Width}\" height=\"{Height}\"/>"
            );
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"oil-name\" x=\"{x + Width / 2}\" y=\"182\" text-anchor=\"middle\">{Encoded(name)}</text>"
            );
        }

        return new HtmlString(svg.Append("</svg>").ToString());
    }
}
