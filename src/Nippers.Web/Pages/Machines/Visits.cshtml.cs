using Microsoft.AspNetCore.Mvc;
using Nippers.App.Visits;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>The visits of a machine: proposed over the horizon, beside what the naive rule would cost, planned and done.</summary>
public sealed class VisitsModel(VisitViews views) : NippersPage
{
    public MachineVisits Visits { get; private set; } = null!;

    public async Task<IActionResult> OnGet(string unit, CancellationToken ct)
    {
        if (await views.OfMachine(unit, ct) is not { } visits)
            return NotFound();
        Visits = visits;
        return Page();
    }
}
