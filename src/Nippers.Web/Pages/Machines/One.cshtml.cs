using Microsoft.AspNetCore.Mvc;
using Nippers.App.Machines;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>A machine: its tape, its items, its readings, its history.</summary>
public sealed class OneModel(MachineView view) : NippersPage
{
    /// <summary>How far ahead the tape can look, hours.</summary>
    public static IReadOnlyList<int> Aheads { get; } = [250, 600, 1200, 2400];

    public MachinePage Machine { get; private set; } = null!;

    public int Ahead { get; private set; } = Aheads[1];

    public async Task<IActionResult> OnGet(string unit, [FromQuery] int? ahead, CancellationToken ct)
    {
        if (ahead is { } hours && Aheads.Contains(hours))
            Ahead = hours;
        var machine = await view.Run(unit, ct);
        if (machine is null)
            return NotFound();
        Machine = machine;
        return Page();
    }
}
