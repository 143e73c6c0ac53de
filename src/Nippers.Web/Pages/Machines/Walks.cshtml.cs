using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>Looking back on a machine's walks: the strip, measures over time, wear, what it uses up, availability.</summary>
public sealed class WalksModel(WalkViews views) : NippersPage
{
    public MachineWalks Walks { get; private set; } = null!;

    public async Task<IActionResult> OnGet(string unit, [FromQuery] long? before, CancellationToken ct)
    {
        if (await views.OfMachine(unit, before, ct) is not { } walks)
            return NotFound();
        Walks = walks;
        return Page();
    }
}
