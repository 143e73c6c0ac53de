using Microsoft.AspNetCore.Mvc;
using Nippers.App.Kinds;
using Nippers.Data.Fleet;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Kinds;

/// <summary>Makes an own kind from another, walk list and program alike.</summary>
public sealed class CopyModel(KindCatalog catalog, Words words) : NippersPage
{
    public KindLine From { get; private set; } = null!;

    public string? NewName { get; private set; }

    public async Task<IActionResult> OnGet(MachineKind kind, CancellationToken ct)
    {
        if (await catalog.One(kind, ct) is not { } from)
            return NotFound();
        From = from;
        return Page();
    }

    public async Task<IActionResult> OnPost(MachineKind kind, [FromForm] string? name, CancellationToken ct)
    {
        var outcome = await catalog.Copy(kind, name, Actor, ct);
        if (outcome.Done)
            return Done("/kinds", words["Kinds.Copied", outcome.Value!.Name]);
        if (await catalog.One(kind, ct) is not { } from)
            return NotFound();
        (From, NewName) = (from, name);
        Refuse(outcome.Refusals);
        return Page();
    }
}
