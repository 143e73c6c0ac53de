using Microsoft.AspNetCore.Mvc;
using Nippers.App.Visits;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Visits;

/// <summary>What to take along, on one sheet.</summary>
public sealed class TakeModel(VisitViews views) : NippersPage
{
    public PlannedVisitPage Planned { get; private set; } = null!;

    public async Task<IActionResult> OnGet(long id, CancellationToken ct)
    {
        if (await views.Planned(id, ct) is not { } planned)
            return NotFound();
        Planned = planned;
        return Page();
    }
}
