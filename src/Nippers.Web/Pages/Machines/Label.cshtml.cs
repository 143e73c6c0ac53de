using Microsoft.AspNetCore.Mvc;
using Nippers.App.Machines;
using Nippers.App.People;
using Nippers.Views.Walks;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>The code that is printed and stuck on a machine: it opens the machine's walk.</summary>
public sealed class LabelModel(MachineList machines, PublicAddress address) : NippersPage
{
    public MachineLine Machine { get; private set; } = null!;

    /// <summary>What the code opens; null while settings name no address.</summary>
    public string? Address { get; private set; }

    public async Task<IActionResult> OnGet(string unit, CancellationToken ct)
    {
        if (await machines.One(unit, ct) is not { } machine)
            return NotFound();
        Machine = machine;
        Address = await address.Get(ct) is { } at ? at + WalkUrls.Start(machine.Unit) : null;
        return Page();
    }
}
