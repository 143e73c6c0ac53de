using Microsoft.AspNetCore.Mvc;
using Nippers.App.Exchange;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Exchange;

/// <summary>Accepted readings as CSV, streamed.</summary>
public sealed class ExportReadingsModel(ExportFleet export) : NippersPage
{
    public Task<IActionResult> OnGet([FromQuery] string? unit, CancellationToken ct) =>
        Csv("readings.csv", to => export.Readings(to, string.IsNullOrEmpty(unit) ? null : unit, ct));
}
