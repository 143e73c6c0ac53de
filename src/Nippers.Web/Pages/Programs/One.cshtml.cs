using Microsoft.AspNetCore.Mvc;
using Nippers.App.Programs;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Programs;

/// <summary>One program: its numbers and its items by compartment.</summary>
public sealed class OneModel(ProgramViews views) : NippersPage
{
    public ProgramPage Found { get; private set; } = null!;

    public async Task<IActionResult> OnGet(string code, CancellationToken ct)
    {
        if (await views.One(code, ct) is not { } found)
            return NotFound();
        Found = found;
        return Page();
    }
}
