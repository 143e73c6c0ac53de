using System.Security.Claims;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.People;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Account;

/// <summary>Chooses one's own units.</summary>
public sealed class UnitsModel(PeopleBook people, Words words) : NippersPage
{
    public void OnGet() { }

    public async Task<IActionResult> OnPost(string? units, CancellationToken ct)
    {
        var outcome = await people.ChooseUnits(User.FindFirstValue(ClaimTypes.NameIdentifier) ?? "", units, Actor, ct);
        if (outcome.Done)
            return Done("/units", words["Units.Chosen"]);
        Refuse(outcome.Refusals);
        return Page();
    }
}
