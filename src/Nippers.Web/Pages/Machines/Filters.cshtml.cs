using Microsoft.AspNetCore.Mvc;
using Nippers.App.Parts;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>The filters of a machine: positions, what is fitted since when, and the log that a buyer would want to see.</summary>
public sealed class FiltersModel(PartViews views) : NippersPage
{
    public FilterSheet Sheet { get; private set; } = null!;

    public async Task<IActionResult> OnGet(string unit, [FromQuery(Name = "p")] int page, CancellationToken ct)
    {
        if (await views.Filters(unit, Math.Max(1, page), ct) is not { } sheet)
            return NotFound();
        Sheet = sheet;
        return Page();
    }
}
