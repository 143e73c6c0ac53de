using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.People;
using Nippers.Data.People;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Account;

/// <summary>Changes one's own password.</summary>
public sealed class PasswordModel(UserManager<NippersUser> users, SignInManager<NippersUser> people, SettingsView notes, Words words)
    : NippersPage
{
    public void OnGet() { }

    public async Task<IActionResult> OnPost(string? current, string? password, CancellationToken ct)
    {
        if (await users.GetUserAsync(User) is not { } user)
            return Challenge();

        // A session left open is no place to try words one after the other.
        if (await users.IsLockedOutAsync(user))
        {
            Refuse([App.Refusals.PasswordMismatch()]);
            return Page();
        }

        var changed = await users.ChangePasswordAsync(user, current ?? "", password ?? "");
        if (!changed.Succeeded)
        {
            if (changed.Errors.Any(x => x.Code == "PasswordMismatch"))
                await users.AccessFailedAsync(user);
            Refuse([.. PersonRefusals.Of(changed)]);
            return Page();
        }

        await people.RefreshSignInAsync(user);
        await notes.Note(Actor, "person.password", user.UserName!, null, null, ct);
        return Done("/", words["Password.Changed"]);
    }
}
