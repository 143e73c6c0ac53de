using System.Text;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Exchange;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Exchange;

/// <summary>Accepted readings as CSV, streamed.</summary>
public sealed class ExportReadingsModel(ExportFleet export) : NippersPage
{
    public async Task<IActionResult> OnGet([FromQuery] string? unit, CancellationToken ct)
    {
        Response.ContentType = "text/csv; charset=utf-8";
        Response.Headers.ContentDisposition = "attachment; filename=readings.csv";
        await using var writer = new StreamWriter(Response.Body, new UTF8Encoding(false));
        await export.Readings(writer, string.IsNullOrEmpty(unit) ? null : unit, ct);
        return new EmptyResult();
    }
}
