using Microsoft.AspNetCore.Mvc;
using Nippers.App.Exchange;
using Nippers.App.Kinds;
using Nippers.App.People;
using Nippers.Data.Fleet;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Kinds;

/// <summary>A kind as a file that another Nippers reads. Who has taken it out is written down first.</summary>
public sealed class FileModel(ExportFleet export, KindCatalog catalog, SettingsView notes) : NippersPage
{
    public async Task<IActionResult> OnGet(MachineKind kind, CancellationToken ct)
    {
        if (await catalog.One(kind, ct) is null)
            return NotFound();
        await notes.Note(Actor, "kind.export", kind.Code, null, null, ct);
        Response.ContentType = "application/json";
        Response.Headers.ContentDisposition = $"attachment; filename={kind.Code}.nippers.json";
        await export.Kind(Response.Body, kind, ct);
        return new EmptyResult();
    }
}
