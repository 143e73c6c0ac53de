using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.Readings;
using Nippers.Data.Records;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>Confirms a reading, or voids it with a reason. Operators may take back only what they entered themselves.</summary>
public sealed class ReadingsModel(DecideReading decide, Words words) : NippersPage
{
    public string Unit { get; private set; } = "";

    public IActionResult OnGet(string unit) => LocalRedirect(MachineUrls.One(unit));

    public async Task<IActionResult> OnPost(string unit, long id, string act, string? reason, CancellationToken ct)
    {
        Unit = unit;
        var confirm = act == "confirm";
        if (!confirm && !User.MayWork() && !await decide.EnteredBy(id, Actor, ct))
            return Forbid();
        Outcome<ReadingRow> outcome = confirm ? await decide.Confirm(unit, id, Actor, ct) : await decide.Void(unit, id, reason, Actor, ct);
        if (outcome.Done)
            return Done(
                MachineUrls.One(unit),
                words[confirm ? "Reading.Confirmed" : "Reading.Voided", Words.Hours(outcome.Value!.ShownHours.Value), unit]
            );
        Refuse(outcome.Refusals);
        return Page();
    }
}
