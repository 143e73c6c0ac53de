using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.People;
using Nippers.App.Units;
using Nippers.Data.Fleet;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Settings;

/// <summary>What is expected at a site: its weather until the next change of fluids, and when it works.</summary>
public sealed class SiteModel(FirstSite sites, Words words) : NippersPage
{
    public Site Site { get; private set; } = null!;

    public SiteInput Input { get; private set; } = null!;

    public async Task<IActionResult> OnGet([FromQuery] string name, CancellationToken ct)
    {
        if (await sites.Find(name, ct) is not { } site)
            return NotFound();
        Site = site;
        Input = new(
            site.Name,
            Quantities.TypedTemperature(site.LowC),
            Quantities.TypedTemperature(site.HighC),
            [.. site.Working.Days],
            Clock(site.ShiftFrom),
            Clock(site.ShiftTo),
            site.Contact,
            site.StopsEachWalk
        );
        return Page();
    }

    public async Task<IActionResult> OnPost(
        [FromQuery] string name,
        string? lowC,
        string? highC,
        DayOfWeek[] days,
        string? shiftFrom,
        string? shiftTo,
        string? contact,
        bool stopsEachWalk,
        CancellationToken ct
    )
    {
        if (await sites.Find(name, ct) is not { } site)
            return NotFound();
        Site = site;
        Input = new(name, lowC, highC, days, shiftFrom, shiftTo, contact, stopsEachWalk);
        var outcome = await sites.Expect(Input, Actor, ct);
        if (outcome.Done)
            return Done("/settings", words["Site.Saved", name]);
        Refuse(outcome.Refusals);
        return Page();
    }

    private static string Clock(int minutes) => new TimeOnly(minutes / 60, minutes % 60).ToString("HH:mm", CultureInfo.InvariantCulture);
}
