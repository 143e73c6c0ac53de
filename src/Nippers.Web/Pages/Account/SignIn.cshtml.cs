using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Nippers.Data.People;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Account;

/// <summary>Signs somebody in.</summary>
public sealed class SignInModel(SignInManager<NippersUser> people, WebSettings settings) : NippersPage
{
    [BindProperty(SupportsGet = true)]
    public string? ReturnUrl { get; set; }

    public string? UserName { get; private set; }

    public IReadOnlyList<OfferedAccount> Offered => settings.Offered;

    public IActionResult OnGet() => User.Identity?.IsAuthenticated == true ? LocalRedirect(Back(ReturnUrl, "/")) : Page();

    public async Task<IActionResult> OnPost(string? userName, string? password)
    {
        UserName = userName;
        var signedIn = await people.PasswordSignInAsync(userName ?? "", password ?? "", isPersistent: true, lockoutOnFailure: true);
        if (signedIn.Succeeded)
            return LocalRedirect(Back(ReturnUrl, "/"));
        Refuse([new("", signedIn.IsLockedOut ? "lockedOut" : "signIn")]);
        return Page();
    }
}
