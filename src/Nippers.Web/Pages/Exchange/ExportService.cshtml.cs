using Microsoft.AspNetCore.Mvc;
using Nippers.App.Exchange;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Exchange;

/// <summary>Visits, filter log, shelves or waste as CSV, streamed.</summary>
public sealed class ExportServiceModel(ExportVisits export) : NippersPage
{
    public async Task<IActionResult> OnGet(string what, [FromQuery] string? unit, CancellationToken ct) =>
        ExportVisits.Names.Contains(what) ? await Csv($"{what}.csv", to => export.Csv(what, to, string.IsNullOrEmpty(unit) ? null : unit, ct)) : NotFound();
}
