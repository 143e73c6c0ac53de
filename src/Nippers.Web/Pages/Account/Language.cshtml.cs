using System.Security.Claims;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Languages;
using Nippers.App.People;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Account;

/// <summary>Chooses one's own language.</summary>
public sealed class LanguageModel(PeopleBook people, Words words) : NippersPage
{
    /// <summary>Two letters of the language that was chosen; empty for the browser's.</summary>
    public string Chosen => (HttpContext.Items[typeof(PersonChoices)] as PersonChoices)?.Language ?? "";

    public void OnGet() { }

    public async Task<IActionResult> OnPost(string? language, CancellationToken ct)
    {
        var outcome = await people.ChooseLanguage(User.FindFirstValue(ClaimTypes.NameIdentifier) ?? "", language, Actor, ct);
        if (outcome.Done)
        {
            // What is said of it is said in the language that was chosen.
            if (AllLanguages.Find(language) is { } chosen)
                AllLanguages.Use(chosen);
            return Done("/language", words["Languages.Chosen"]);
        }

        Refuse(outcome.Refusals);
        return Page();
    }
}
