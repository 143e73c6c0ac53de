using Microsoft.AspNetCore.Mvc;
using Nippers.App.Work;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>Takes recorded work back, with a reason.</summary>
public sealed class VoidWorkModel(VoidWork work, Words words) : NippersPage
{
    public string Unit { get; private set; } = "";

    public IActionResult OnGet(string unit) => LocalRedirect(MachineUrls.One(unit));

    public async Task<IActionResult> OnPost(string unit, string batch, string? item, string? reason, CancellationToken ct)
    {
        Unit = unit;
        var outcome = await work.Run(unit, batch, item, reason, Actor, ct);
        if (outcome.Done)
            return Done(MachineUrls.One(unit), words["Batch.Undone", unit]);
        Refuse(outcome.Refusals);
        return Page();
    }
}
