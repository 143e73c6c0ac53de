using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.Feeds;
using Nippers.App.Walks;
using Nippers.Views.Text;
using Nippers.Views.Walks;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>The card by which a machine is left in the evening.</summary>
public sealed class EveningModel(WalkViews views, LeaveMachine leave, FeedHours feeds, Words words, TimeProvider clock) : NippersPage
{
    public EveningCard Card { get; private set; } = null!;

    /// <summary>Fuel that is nearly out; null where it is not, or nobody knows.</summary>
    public LowTank? Fuel { get; private set; }

    public TimeZoneInfo Zone { get; private set; } = TimeZoneInfo.Utc;

    public Task<IActionResult> OnGet(string unit, CancellationToken ct) => Load(unit, TypedFields.None, ct);

    public async Task<IActionResult> OnPost(string unit, CancellationToken ct)
    {
        var typed = Request.TypedFields();
        var outcome = await leave.Run(unit, typed, Actor, ct);
        if (outcome.Done)
            return Done("/", words["Evening.Did", unit]);
        Refuse(outcome.Refusals);
        return await Load(unit, typed, ct);
    }

    private async Task<IActionResult> Load(string unit, TypedFields typed, CancellationToken ct)
    {
        if (await views.Evening(unit, ct) is not var (machine, list))
            return NotFound();
        Card = EveningCard.Of(machine, list, typed, MachineUrls.One(machine.Unit, "evening"));
        (Fuel, _) = await feeds.Low(machine.Id, clock.GetUtcNow(), ct);
        Zone = TimeZoneInfo.FindSystemTimeZoneById(machine.Site.TimeZone);
        return Page();
    }
}
