using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Walks;

/// <summary>A walk: its plan and its stations while it is open, what it found when it is over.</summary>
public sealed class OneModel(WalkViews views) : NippersPage
{
    public WalkContext Walk { get; private set; } = null!;

    public async Task<IActionResult> OnGet(long id, CancellationToken ct)
    {
        if (await views.Walk(id, ct) is not { } walk)
            return NotFound();
        Walk = walk;
        return Page();
    }
}
