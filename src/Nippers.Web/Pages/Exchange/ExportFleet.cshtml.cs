using Microsoft.AspNetCore.Mvc;
using Nippers.App.Exchange;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Exchange;

/// <summary>The whole fleet as a file, streamed.</summary>
public sealed class ExportFleetModel(ExportFleet export) : NippersPage
{
    public async Task<IActionResult> OnGet(CancellationToken ct)
    {
        Response.ContentType = "application/json";
        Response.Headers.ContentDisposition = "attachment; filename=fleet.nippers.json";
        await export.Run(Response.Body, null, ct);
        return new EmptyResult();
    }
}
