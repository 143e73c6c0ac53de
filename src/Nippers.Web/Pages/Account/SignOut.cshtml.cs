using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Nippers.Data.People;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Account;

public sealed class SignOutModel(SignInManager<NippersUser> people) : NippersPage
{
    public IActionResult OnGet() => LocalRedirect("/");

    public async Task<IActionResult> OnPost()
    {
        await people.SignOutAsync();
        return LocalRedirect("/sign-in");
    }
}
