using Microsoft.AspNetCore.Mvc;
using Nippers.App.Machines;
using Nippers.App.Readings;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>Records a replaced service meter.</summary>
public sealed class MeterModel(ReplaceMeter replace, MachineView view, Words words) : NippersPage
{
    public string Unit { get; private set; } = "";

    public string? OldFinal { get; private set; }

    public string? NewStart { get; private set; } = "0.0";

    public string? At { get; private set; }

    public string? Note { get; private set; }

    public async Task<IActionResult> OnGet(string unit, CancellationToken ct)
    {
        Unit = unit;
        return await view.Meter(unit, null, ct) is null ? NotFound() : Page();
    }

    public async Task<IActionResult> OnPost(string unit, string? oldFinal, string? newStart, string? at, string? note, CancellationToken ct)
    {
        (Unit, OldFinal, NewStart, At, Note) = (unit, oldFinal, newStart, at, note);
        var outcome = await replace.Run(new(unit, oldFinal, newStart, at, note, Key), Actor, ct);
        if (outcome.Done)
            return Done(
                MachineUrls.One(unit),
                words["Meter.Done", unit, Words.Hours(outcome.Value!.NewStartHours.Value), Words.Hours(outcome.Value.OldFinalHours.Value)]
            );
        if (await view.Meter(unit, null, ct) is not { } meter)
            return NotFound();
        Refuse(outcome.Refusals, meter.Zone);
        return Page();
    }
}
