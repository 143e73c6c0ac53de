using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.Weeks;
using Nippers.Data.Programs;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Weeks;

/// <summary>Who is there on which days and qualified for what, how far it is between sites, and when machines must work.</summary>
public sealed class PeopleModel(CrewBook crew, Words words) : NippersPage
{
    public CrewPage Show { get; private set; } = null!;

    public Task OnGet(CancellationToken ct) => Load(ct);

    public async Task<IActionResult> OnPostPerson(
        string? id,
        string? site,
        bool planned,
        CompartmentKind[] subjects,
        int version,
        CancellationToken ct
    )
    {
        var hours = Enumerable.Range(0, 7).Select(day => (string?)Request.Form[string.Create(CultureInfo.InvariantCulture, $"hours{day}")]);
        var input = new CrewInput(id ?? "", site, planned, [.. hours], subjects, version);
        var saved = await crew.Save(input, Actor, ct);
        return saved.Done ? Done("/weeks/people", words["Weeks.PersonSaved"]) : await Again(saved.Refusals, ct);
    }

    public async Task<IActionResult> OnPostAway(string? id, string? from, string? to, string? why, CancellationToken ct)
    {
        var saved = await crew.AddAway(id, from, to, why, Actor, ct);
        return saved.Done ? Done("/weeks/people", words["Weeks.AwaySaved"]) : await Again(saved.Refusals, ct);
    }

    public async Task<IActionResult> OnPostBack(long away, CancellationToken ct)
    {
        var gone = await crew.RemoveAway(away, Actor, ct);
        return gone.Done ? Done("/weeks/people", words["Weeks.AwayGone"]) : await Again(gone.Refusals, ct);
    }

    public async Task<IActionResult> OnPostRoads(CancellationToken ct)
    {
        var roads = Request
            .Form.Keys.Where(x => x.StartsWith("road", StringComparison.Ordinal))
            .ToDictionary(x => x[4..], x => (string?)Request.Form[x].ToString());
        var saved = await crew.SaveRoads(roads, Actor, ct);
        return saved.Done ? Done("/weeks/people#roads", words["Weeks.RoadsSaved"]) : await Again(saved.Refusals, ct);
    }

    public async Task<IActionResult> OnPostBusy(string? unit, string? from, string? to, string? why, CancellationToken ct)
    {
        var saved = await crew.AddBusy(unit, from, to, why, Actor, ct);
        return saved.Done ? Done("/weeks/people#busy", words["Weeks.BusySaved"]) : await Again(saved.Refusals, ct);
    }

    public async Task<IActionResult> OnPostFree(long busy, CancellationToken ct)
    {
        var gone = await crew.RemoveBusy(busy, Actor, ct);
        return gone.Done ? Done("/weeks/people#busy", words["Weeks.BusyGone"]) : await Again(gone.Refusals, ct);
    }

    private async Task<IActionResult> Again(IReadOnlyList<Refusal> refusals, CancellationToken ct)
    {
        Refuse(refusals);
        await Load(ct);
        return Page();
    }

    private async Task Load(CancellationToken ct) => Show = await crew.Load(ct);
}
