using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Views.Text;
using Nippers.Web.Hosting;
using Nippers.Web.Pages.Machines;

namespace Nippers.Web.Pages.Walks;

/// <summary>Takes a walk back, with a reason.</summary>
public sealed class VoidModel(WalkViews views, VoidWalk voids, Words words) : NippersPage
{
    public string Unit { get; private set; } = "";

    public long Id { get; private set; }

    public async Task<IActionResult> OnGet(long id, CancellationToken ct) => await Load(id, ct) ? Page() : NotFound();

    public async Task<IActionResult> OnPost(long id, string? reason, CancellationToken ct)
    {
        var outcome = await voids.Run(id, reason, Actor, ct);
        if (!await Load(id, ct))
            return NotFound();
        if (outcome.Done)
            return Done(MachineUrls.One(Unit, "walks"), words["Walk.Voided", Unit]);
        Refuse(outcome.Refusals);
        return Page();
    }

    private async Task<bool> Load(long id, CancellationToken ct)
    {
        (Id, Unit) = (id, await views.UnitOf(id, ct) ?? "");
        return Unit.Length > 0;
    }
}
