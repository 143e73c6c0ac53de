using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Views.Walks;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>The code that is printed and stuck on a machine: it opens the machine's walk.</summary>
public sealed class LabelModel(WalkViews views) : NippersPage
{
    public WalkStart Machine { get; private set; } = null!;

    public string Address => $"{Request.Scheme}://{Request.Host}{WalkUrls.Start(Machine.Machine.Unit)}";

    public async Task<IActionResult> OnGet(string unit, CancellationToken ct)
    {
        if (await views.Start(unit, ct) is not { } machine)
            return NotFound();
        Machine = machine;
        return Page();
    }
}
