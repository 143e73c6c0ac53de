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

    /// <summary>What was typed and refused; null for none.</summary>
    public CrewInput? Crew { get; private set; }

    /// <summary>Whose fields the refusals belong to; empty for the roads, <c>busy</c> for machines.</summary>
    public string RefusedAt { get; private set; } = "";

    public IReadOnlyDictionary<string, string?> Roads { get; private set; } = new Dictionary<string, string?>();

    public (string? Who, string? From, string? To, string? Why) Days { get; private set; }

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
        if (saved.Done)
            return Done("/weeks/people", words["Weeks.PersonSaved"]);
        (Crew, RefusedAt) = (input, input.UserId);
        return await Again(saved.Refusals, ct);
    }

    public async Task<IActionResult> OnPostAway(string? id, string? from, string? to, string? why, CancellationToken ct)
    {
        var saved = await crew.AddAway(id, from, to, why, Actor, ct);
        if (saved.Done)
            return Done("/weeks/people", words["Weeks.AwaySaved"]);
        (Days, RefusedAt) = ((id, from, to, why), id + "-away");
        return await Again(saved.Refusals, ct);
    }

    public async Task<IActionResult> OnPostBack(long away, CancellationToken ct)
    {
        var gone = await crew.RemoveAway(away, Actor, ct);
        return gone.Done ? Done("/weeks/people", words["Weeks.AwayGone"]) : await Again(gone.Refusals, ct);
    }

    public async Task<IActionResult> OnPostRoads(CancellationToken ct)
    {
        Roads = Request
            .Form.Keys.Where(x => x.StartsWith("road", StringComparison.Ordinal))
            .ToDictionary(x => x[4..], x => (string?)Request.Form[x].ToString());
        var saved = await crew.SaveRoads(Roads, Actor, ct);
        return saved.Done ? Done("/weeks/people#roads", words["Weeks.RoadsSaved"]) : await Again(saved.Refusals, ct);
    }

    public async Task<IActionResult> OnPostBusy(string? unit, string? from, string? to, string? why, CancellationToken ct)
    {
        var saved = await crew.AddBusy(unit, from, to, why, Actor, ct);
        if (saved.Done)
            return Done("/weeks/people#busy", words["Weeks.BusySaved"]);
        (Days, RefusedAt) = ((unit, from, to, why), "busy");
        return await Again(saved.Refusals, ct);
    }

    public async Task<IActionResult> OnPostFree(long busy, CancellationToken ct)
    {
        var gone = await crew.RemoveBusy(busy, Actor, ct);
        return gone.Done ? Done("/weeks/people#busy", words["Weeks.BusyGone"]) : await Again(gone.Refusals, ct);
    }

    /// <summary>Hours of a day of somebody, as typed or as kept.</summary>
    public string? Hours(CrewMember member, int day) =>
        Crew is { } typed && typed.UserId == member.UserId
            ? typed.Hours.ElementAtOrDefault(day)
            : (member.Minutes[day] / 60.0).ToString("0.##", CultureInfo.InvariantCulture);

    private async Task<IActionResult> Again(IReadOnlyList<Refusal> refusals, CancellationToken ct)
    {
        Refuse(refusals);
        await Load(ct);
        return Page();
    }

    private async Task Load(CancellationToken ct) => Show = await crew.Load(ct);
}
