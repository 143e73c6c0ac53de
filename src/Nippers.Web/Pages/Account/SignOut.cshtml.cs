using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.People;
using Nippers.Data.People;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Account;

public sealed class SignOutModel(SignInManager<NippersUser> people, PeopleBook book) : NippersPage
{
    public IActionResult OnGet() => LocalRedirect("/");

    public async Task<IActionResult> OnPost(CancellationToken ct)
    {
        if (User.SessionId() is { } session)
            await book.EndSession(session, Sessions.Life, Actor, ct);
        await people.SignOutAsync();
        return LocalRedirect("/sign-in");
    }
}
