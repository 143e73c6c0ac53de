using Microsoft.AspNetCore.Mvc;
using Nippers.App.Oil;
using Nippers.App.Visits;
using Nippers.Views.Text;
using Nippers.Web.Hosting;
using Nippers.Web.Pages.Machines;
using Nippers.Web.Pages.Visits;

namespace Nippers.Web.Pages.Samples;

/// <summary>Where a scanned or typed code leads: the sample, or the form that takes it.</summary>
public sealed class FindModel(SampleQueues tray, VisitViews visits) : NippersPage
{
    public string? Code { get; private set; }

    public async Task<IActionResult> OnGet([FromQuery] string? code, CancellationToken ct)
    {
        Code = code;
        if (string.IsNullOrWhiteSpace(code))
            return Page();
        var (mark, fault) = Bottles.ReadMark(code);
        var (sample, bottle, unit) = await tray.Find(code, ct);
        if (sample is not null)
            return LocalRedirect(SampleWords.One(sample.Id));

        // A card that is open for it is where its sample is drawn.
        if (bottle is not null && await visits.StepOf(bottle, ct) is { } step)
            return LocalRedirect($"{VisitUrls.Step(step.Visit, step.Step)}?mark={Uri.EscapeDataString(bottle.Code)}");
        if (bottle is not null)
            return LocalRedirect(
                $"{MachineUrls.One(unit, "samples/take")}?item={Uri.EscapeDataString(bottle.ItemCode)}&bottle={Uri.EscapeDataString(bottle.Code)}"
            );
        Refuse([new("code", fault ?? "bottleUnknown", mark)]);
        return Page();
    }
}
