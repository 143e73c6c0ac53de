using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.People;
using Nippers.Data.People;
using Nippers.Web.Hosting;
using Nippers.Web.Text;

namespace Nippers.Web.Pages.Account;

/// <summary>
/// Signs somebody in. Who guesses learns nothing by the words or the time: neither whether a name is known nor whether it is locked.
/// </summary>
public sealed class SignInModel(
    SignInManager<NippersUser> people,
    UserManager<NippersUser> users,
    IPasswordHasher<NippersUser> hasher,
    SettingsView notes,
    WebSettings settings
) : NippersPage
{
    private const int LongestNoted = 60;

    // A password is held against this one where there is none to hold it against.
    private static string? _nobodys;

    [BindProperty(SupportsGet = true)]
    public string? ReturnUrl { get; set; }

    public string? UserName { get; private set; }

    /// <summary>The form that was sent when the session was over; null for none.</summary>
    public HeldForm? Held { get; private set; }

    /// <summary>Who has signed in now, who may send that form; null before.</summary>
    public string? Name { get; private set; }

    public IReadOnlyList<OfferedAccount> Offered => settings.Offered;

    public IActionResult OnGet() => User.Identity?.IsAuthenticated == true ? LocalRedirect(Back(ReturnUrl, "/")) : Page();

    public async Task<IActionResult> OnPost(string? userName, string? password, string? held, CancellationToken ct)
    {
        UserName = userName;
        Held = HeldForm.Read(held) is { } form && Url.IsLocalUrl(form.To) ? form : null;
        var name = userName ?? "";
        var user = await users.FindByNameAsync(name);
        var signedIn = Microsoft.AspNetCore.Identity.SignInResult.Failed;
        if (user is not null)
            signedIn = await people.PasswordSignInAsync(user, password ?? "", isPersistent: true, lockoutOnFailure: true);
        if (user is null || signedIn.IsLockedOut)
            hasher.VerifyHashedPassword(new(), _nobodys ??= hasher.HashPassword(new(), Guid.NewGuid().ToString()), password ?? "");
        var noted = name.Length > LongestNoted ? name[..LongestNoted] : name;
        if (signedIn.Succeeded)
        {
            await notes.Note(new(user!.FullName, Roles.Operator), "person.signIn", noted, null, null, ct);
            if (Held is null)
                return LocalRedirect(Back(ReturnUrl, "/"));

            // What is sent from this page is sent by who is in now.
            HttpContext.User = await people.CreateUserPrincipalAsync(user);
            Name = user.FullName;
            return Page();
        }

        await notes.Note(
            new("sign-in", Roles.Operator),
            signedIn.IsLockedOut ? "person.lockedOut" : "person.signInFailed",
            noted,
            null,
            new { from = HttpContext.Connection.RemoteIpAddress?.ToString() },
            ct
        );
        Refuse([App.Refusals.SignIn()]);
        return Page();
    }
}
