using System.Security.Claims;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.People;
using Nippers.App.Units;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Account;

/// <summary>Chooses one's own units: for everything, and for single quantities apart.</summary>
public sealed class UnitsModel(PeopleBook people, Words words) : NippersPage
{
    /// <summary>What was chosen and refused; null before.</summary>
    public PersonUnits? Typed { get; private set; }

    public void OnGet() { }

    public async Task<IActionResult> OnPost(string? units, string[] apart, CancellationToken ct)
    {
        var chosen = string.Join(',', apart.Where(x => !string.IsNullOrEmpty(x)).Prepend(units ?? ""));
        var outcome = await people.ChooseUnits(User.FindFirstValue(ClaimTypes.NameIdentifier) ?? "", chosen, Actor, ct);
        if (outcome.Done)
            return Done("/units", words["Units.Chosen"]);
        Typed = PersonUnits.Of(chosen);
        Refuse(outcome.Refusals);
        return Page();
    }
}
