using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>Takes a top-up back; the undo after it was typed leads here.</summary>
public sealed class VoidTopUpModel(LogTopUp topUps, Words words) : NippersPage
{
    public string Unit { get; private set; } = "";

    public IActionResult OnGet(string unit) => LocalRedirect(MachineUrls.One(unit));

    public async Task<IActionResult> OnPost(string unit, long id, CancellationToken ct)
    {
        Unit = unit;
        var outcome = await topUps.Void(unit, id, Actor, ct);
        if (outcome.Done)
            return Done(MachineUrls.One(unit), words["TopUp.Voided", unit]);
        Refuse(outcome.Refusals);
        return Page();
    }
}
