using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.People;
using Nippers.Data.Fleet;
using Nippers.Data.People;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages;

/// <summary>The places that the bar at the thumb has no room for, and what belongs to the person.</summary>
public sealed class MoreModel(SettingsView view, UserManager<NippersUser> users, SignInManager<NippersUser> signIn, Words words)
    : NippersPage
{
    public IReadOnlyList<Site> Sites { get; private set; } = [];

    public async Task OnGet(CancellationToken ct) => Sites = await view.Sites(ct);

    /// <summary>Keeps whose machines come first for the person.</summary>
    public async Task<IActionResult> OnPostSite(int? site, CancellationToken ct)
    {
        Sites = await view.Sites(ct);
        if (await users.GetUserAsync(User) is not { } person)
            return LocalRedirect("/sign-in");
        person.SiteId = Sites.FirstOrDefault(x => x.Id == site)?.Id;
        await users.UpdateAsync(person);
        await signIn.RefreshSignInAsync(person);
        return Done("/more", words["Account.SiteKept"]);
    }
}
