using Microsoft.AspNetCore.Mvc;
using Nippers.App.Exchange;
using Nippers.App.People;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Exchange;

/// <summary>The whole fleet as a file, streamed. Who has taken it out is written down first.</summary>
public sealed class ExportFleetModel(ExportFleet export, SettingsView notes) : NippersPage
{
    public async Task<IActionResult> OnGet(CancellationToken ct)
    {
        await notes.Note(Actor, "fleet.export", "", null, null, ct);
        Response.ContentType = "application/json";
        Response.Headers.ContentDisposition = "attachment; filename=fleet.nippers.json";
        await export.Run(Response.Body, null, ct);
        return new EmptyResult();
    }
}
