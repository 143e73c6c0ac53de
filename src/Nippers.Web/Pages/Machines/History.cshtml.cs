using Microsoft.AspNetCore.Mvc;
using Nippers.App.Machines;
using Nippers.Web.Hosting;
using Nippers.Web.Text;

namespace Nippers.Web.Pages.Machines;

/// <summary>Every reading of a machine, and who changed what.</summary>
public sealed class HistoryModel(MachineHistory history) : NippersPage
{
    public string Unit { get; private set; } = "";

    public HistoryPage History { get; private set; } = null!;

    public async Task<IActionResult> OnGet(string unit, [FromQuery] long? before, CancellationToken ct)
    {
        Unit = unit;
        if (await history.Run(unit, UrlInstant.Read(before), ct) is not { } found)
            return NotFound();
        History = found;
        return Page();
    }
}
