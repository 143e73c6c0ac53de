using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using Nippers.App;
using Nippers.App.People;
using Nippers.Data.People;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Account;

/// <summary>The first planner's account, on an empty installation alone.</summary>
public sealed class SetupModel(
    UserManager<NippersUser> users,
    SignInManager<NippersUser> people,
    FirstSite sites,
    SetupCode code,
    UnitOfWork writes
) : NippersPage
{
    public string? FullName { get; private set; }

    public string? UserName { get; private set; }

    public string? Site { get; private set; } = "Yard";

    public string? Zone { get; private set; } = TimeZoneInfo.Local.Id;

    public static IEnumerable<string> Zones =>
        TimeZoneInfo.GetSystemTimeZones().Select(x => x.Id).Where(x => x.Contains('/', StringComparison.Ordinal));

    public async Task<IActionResult> OnGet(CancellationToken ct) => await users.Users.AnyAsync(ct) ? NotFound() : Page();

    public async Task<IActionResult> OnPost(
        string? fullName,
        string? userName,
        string? password,
        string? site,
        string? zone,
        string? setupCode,
        CancellationToken ct
    )
    {
        if (await users.Users.AnyAsync(ct))
            return NotFound();
        (FullName, UserName, Site, Zone) = (fullName, userName, site, zone);
        var refusals = new List<Refusal>();
        if (string.IsNullOrWhiteSpace(fullName))
            refusals.Add(App.Refusals.Needed("fullName"));
        if (string.IsNullOrWhiteSpace(site))
            refusals.Add(App.Refusals.Needed("site"));
        if (!TimeZoneInfo.TryFindSystemTimeZoneById(zone ?? "", out _))
            refusals.Add(App.Refusals.NoSuchZone());
        if (!code.Is(setupCode))
            refusals.Add(App.Refusals.SetupCodeWrong());
        if (refusals.Count > 0)
        {
            Refuse(refusals);
            return Page();
        }

        // The account and its site are one: two who come at once make one planner.
        var kept = await writes.Run(() => Make(fullName!.Trim(), userName?.Trim() ?? "", password ?? "", site!.Trim(), zone!, ct), ct);
        if (!kept.Done)
        {
            if (kept.Refusals[0].Code == "alreadyDone")
                return NotFound();
            Refuse(kept.Refusals);
            return Page();
        }

        await people.PasswordSignInAsync(userName!.Trim(), password!, isPersistent: true, lockoutOnFailure: false);
        return LocalRedirect("/machines/new");
    }

    private async Task<Outcome<Nothing>> Make(
        string fullName,
        string userName,
        string password,
        string site,
        string zone,
        CancellationToken ct
    )
    {
        if (await users.Users.AnyAsync(ct))
            return Outcome<Nothing>.Refused(App.Refusals.AlreadyDone());
        var made = await Hosting.People.Add(users, userName, fullName, Roles.Planner, password);
        if (!made.Succeeded)
            return Outcome<Nothing>.Refused([.. PersonRefusals.Of(made)]);
        await sites.Name(site, zone, new(fullName, Roles.Planner), ct);
        return Outcome<Nothing>.Of(Nothing.Special);
    }
}

/// <summary>What Identity says of an account, as refusals beside their fields.</summary>
public static class PersonRefusals
{
    public static IEnumerable<Refusal> Of(IdentityResult result) =>
        result
            .Errors.Select(x =>
                x.Code switch
                {
                    "DuplicateUserName" => App.Refusals.UserNameTaken(),
                    "InvalidUserName" => App.Refusals.UserNameShape(),
                    KnownPeople.FullNameTaken => App.Refusals.FullNameTaken(),
                    KnownPeople.FullNameLong => App.Refusals.TooLong("fullName", KnownPeople.LongestFullName),
                    KnownPeople.UserNameLong => App.Refusals.TooLong("userName", KnownPeople.LongestUserName),
                    GuardedPasswords.Code => App.Refusals.PasswordCommon(),
                    "PasswordMismatch" => App.Refusals.PasswordMismatch(),
                    _ => App.Refusals.PasswordShort(),
                }
            )
            .DistinctBy(x => x.Code);
}
