using Microsoft.AspNetCore.Mvc;
using Nippers.App.Exchange;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Exchange;

/// <summary>Finished walks as CSV, streamed.</summary>
public sealed class ExportWalksModel(ExportFleet export) : NippersPage
{
    public Task<IActionResult> OnGet([FromQuery] string? unit, CancellationToken ct) =>
        Csv("walks.csv", to => export.WalksCsv(to, string.IsNullOrEmpty(unit) ? null : unit, ct));
}
