using Microsoft.AspNetCore.Html;
using QRCoder;

namespace Nippers.Web.Drawing;

/// <summary>A printed code that leads to an address.</summary>
public static class Qr
{
    /// <summary>Draws an address as SVG without a style, so that it prints and passes a strict policy.</summary>
    public static IHtmlContent Draw(string address)
    {
        using var generator = new QRCodeGenerator();
        using var data = generator.CreateQrCode(address, QRCodeGenerator.ECCLevel.M);
        var path = new System.Text.StringBuilder();
        var modules = data.ModuleMatrix;
        for (var y = 0; y < modules.Count; y++)
        {
            for (var x = 0; x < modules[y].Count; x++)
            {
                if (modules[y][x])
                    path.Append(System.Globalization.CultureInfo.InvariantCulture, $"M{x} {y}h1v1h-1z");
            }
        }

        return new HtmlString(
            $"""<svg class="qr-code" viewBox="0 0 {modules.Count} {modules.Count}" role="img" aria-label="{System.Net.WebUtility.HtmlEncode(address)}" shape-rendering="crispEdges"><path d="{path}"/></svg>"""
        );
    }
}
