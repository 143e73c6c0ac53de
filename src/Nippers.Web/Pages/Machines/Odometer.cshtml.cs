using Microsoft.AspNetCore.Mvc;
using Nippers.App.Readings;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>The odometer of a machine: a new reading, and the newest ones.</summary>
public sealed class OdometerModel(LogOdometer log, Words words) : NippersPage
{
    public OdometerPage Now { get; private set; } = null!;

    public string? Km { get; private set; }

    public string? At { get; private set; }

    /// <summary>What was typed is unusual, and is asked for once more.</summary>
    public bool Asks { get; private set; }

    public Task<IActionResult> OnGet(string unit, CancellationToken ct) => Show(unit, ct);

    public async Task<IActionResult> OnPost(string unit, string? km, string? at, bool confirmed, CancellationToken ct)
    {
        (Km, At) = (km, at);
        var outcome = await log.Run(new(unit, km, at, confirmed, Key), Actor, ct);
        if (outcome.Done)
            return Done(MachineUrls.One(unit, "odometer"), words["Odometer.Done", Words.Hours(outcome.Value!.KmTenths / 10.0)]);
        Asks = outcome.Refusals.Any(x => x.Code == "kmUnusual");
        return await Shown(unit, outcome.Refusals, ct);
    }

    public async Task<IActionResult> OnPostConfirm(string unit, long id, CancellationToken ct)
    {
        if (!User.MayWork())
            return Forbid();
        var outcome = await log.Confirm(unit, id, Actor, ct);
        return outcome.Done
            ? Done(MachineUrls.One(unit, "odometer"), words["Odometer.Done", Words.Hours(outcome.Value!.KmTenths / 10.0)])
            : await Shown(unit, outcome.Refusals, ct);
    }

    public async Task<IActionResult> OnPostVoid(string unit, long id, string? reason, CancellationToken ct)
    {
        if (!User.MayWork())
            return Forbid();
        var outcome = await log.Void(unit, id, reason, Actor, ct);
        return outcome.Done
            ? Done(MachineUrls.One(unit, "odometer"), words["Odometer.Out", Words.Hours(outcome.Value!.KmTenths / 10.0)])
            : await Shown(unit, outcome.Refusals, ct);
    }

    private async Task<IActionResult> Shown(string unit, IReadOnlyList<App.Refusal> refusals, CancellationToken ct)
    {
        var page = await Show(unit, ct);
        if (page is not NotFoundResult)
            Refuse(refusals, Now.Zone);
        return page;
    }

    private async Task<IActionResult> Show(string unit, CancellationToken ct)
    {
        if (await log.Page(unit, ct) is not { } now)
            return NotFound();
        Now = now;
        return Page();
    }
}
