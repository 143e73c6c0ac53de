using Microsoft.AspNetCore.Mvc;
using Nippers.App.Exchange;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Exchange;

/// <summary>Visits, filter log, shelves, waste or samples as CSV, streamed.</summary>
public sealed class ExportServiceModel(ExportVisits export, OilExport samples) : NippersPage
{
    private const string Samples = "samples";

    public async Task<IActionResult> OnGet(string what, [FromQuery] string? unit, CancellationToken ct) =>
        what == Samples ? await Csv("samples.csv", to => samples.SamplesCsv(to, string.IsNullOrEmpty(unit) ? null : unit, ct))
        : ExportVisits.Names.Contains(what)
            ? await Csv($"{what}.csv", to => export.Csv(what, to, string.IsNullOrEmpty(unit) ? null : unit, ct))
        : NotFound();
}
