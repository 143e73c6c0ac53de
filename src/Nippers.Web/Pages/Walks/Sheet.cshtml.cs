using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Walks;

/// <summary>A walk on paper, for where no phone goes; it is entered afterwards as a late sheet.</summary>
public sealed class SheetModel(WalkViews views) : NippersPage
{
    public WalkSheet Sheet { get; private set; } = null!;

    public async Task<IActionResult> OnGet(string unit, CancellationToken ct)
    {
        if (await views.Sheet(unit, ct) is not { } sheet)
            return NotFound();
        Sheet = sheet;
        return Page();
    }
}
