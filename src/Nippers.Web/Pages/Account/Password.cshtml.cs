using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Nippers.Data.People;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Account;

/// <summary>Changes one's own password.</summary>
public sealed class PasswordModel(UserManager<NippersUser> users, SignInManager<NippersUser> people, Words words) : NippersPage
{
    public void OnGet() { }

    public async Task<IActionResult> OnPost(string? current, string? password)
    {
        if (await users.GetUserAsync(User) is not { } user)
            return Challenge();
        var changed = await users.ChangePasswordAsync(user, current ?? "", password ?? "");
        if (!changed.Succeeded)
        {
            Refuse([.. PersonRefusals.Of(changed)]);
            return Page();
        }

        await people.RefreshSignInAsync(user);
        return Done("/", words["Password.Changed"]);
    }
}
