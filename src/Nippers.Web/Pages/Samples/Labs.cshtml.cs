using Microsoft.AspNetCore.Mvc;
using Nippers.App.Oil;
using Nippers.Data.Oil;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Samples;

/// <summary>The laboratories that samples go to.</summary>
public sealed class LabsModel(Labs labs, Words words) : NippersPage
{
    public IReadOnlyList<LabRow> List { get; private set; } = [];

    public int? Id { get; private set; }

    public int Version { get; private set; }

    public string? Name { get; private set; }

    public string? Address { get; private set; }

    public bool Usual { get; private set; }

    public bool OwnNetwork { get; private set; }

    public async Task<IActionResult> OnGet([FromQuery] int? edit, CancellationToken ct)
    {
        List = await labs.List(ct);
        if (edit is null || List.FirstOrDefault(x => x.Id == edit) is not { } lab)
            return Page();
        (Id, Version, Name, Address, Usual, OwnNetwork) = (lab.Id, lab.Version, lab.Name, lab.Url, lab.Usual, lab.OwnNetwork);
        return Page();
    }

    public async Task<IActionResult> OnPost(
        int? id,
        int version,
        string? name,
        string? url,
        string? token,
        bool usual,
        bool ownNetwork,
        CancellationToken ct
    )
    {
        if (!User.MayPlan())
            return Forbid();
        var outcome = await labs.Save(new(id, version, name, url, token, usual, ownNetwork), Actor, ct);
        if (outcome.Done)
            return Done("/samples/labs", words["Labs.Saved", outcome.Value!.Name]);
        (List, Id, Version, Name, Address, Usual, OwnNetwork) = (await labs.List(ct), id, version, name, url, usual, ownNetwork);
        Refuse(outcome.Refusals);
        return Page();
    }
}
