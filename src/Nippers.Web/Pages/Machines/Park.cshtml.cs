using Microsoft.AspNetCore.Mvc;
using Nippers.App.Machines;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>Parks a machine or puts it back to work.</summary>
public sealed class ParkModel(ParkMachine park, Words words) : NippersPage
{
    public string Unit { get; private set; } = "";

    public IActionResult OnGet(string unit) => LocalRedirect(MachineUrls.One(unit));

    public async Task<IActionResult> OnPost(string unit, string? to, string? reason, CancellationToken ct)
    {
        Unit = unit;
        var outcome = to == "work" ? await park.Unpark(unit, Actor, ct) : await park.Park(unit, null, reason, Actor, ct);
        if (outcome.Done)
            return Done(MachineUrls.One(unit), words[to == "work" ? "Park.IsBack" : "Park.IsParked", unit]);
        Refuse(outcome.Refusals);
        return Page();
    }
}
