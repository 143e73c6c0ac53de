using Microsoft.AspNetCore.Mvc;
using Nippers.App.Oil;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>What there is to draw from a machine, in the order to do it.</summary>
public sealed class SamplesModel(SampleViews views) : NippersPage
{
    public DrawPage Draws { get; private set; } = null!;

    public async Task<IActionResult> OnGet(string unit, CancellationToken ct)
    {
        if (await views.Draws(unit, ct) is not { } draws)
            return NotFound();
        Draws = draws;
        return Page();
    }
}
