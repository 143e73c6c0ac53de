using Microsoft.AspNetCore.Mvc;
using Nippers.App.Exchange;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Exchange;

/// <summary>Defects as CSV, streamed.</summary>
public sealed class ExportDefectsModel(ExportFleet export) : NippersPage
{
    public Task<IActionResult> OnGet([FromQuery] string? unit, CancellationToken ct) =>
        Csv("defects.csv", to => export.DefectsCsv(to, string.IsNullOrEmpty(unit) ? null : unit, ct));
}
