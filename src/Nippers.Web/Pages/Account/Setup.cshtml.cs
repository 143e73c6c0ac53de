using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using Nippers.App;
using Nippers.App.People;
using Nippers.Data.People;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Account;

/// <summary>The first planner's account, on an empty installation alone.</summary>
public sealed class SetupModel(UserManager<NippersUser> users, SignInManager<NippersUser> people, FirstSite sites) : NippersPage
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
        if (refusals.Count == 0)
        {
            var made = await Hosting.People.Add(users, userName?.Trim() ?? "", fullName!.Trim(), Roles.Planner, password ?? "");
            refusals.AddRange(PersonRefusals.Of(made));
        }

        if (refusals.Count > 0)
        {
            Refuse(refusals);
            return Page();
        }

        await sites.Rename(site!.Trim(), zone!, new(fullName!.Trim(), Roles.Planner), ct);
        await people.PasswordSignInAsync(userName!.Trim(), password!, isPersistent: true, lockoutOnFailure: false);
        return LocalRedirect("/machines/new");
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
                    "PasswordMismatch" => App.Refusals.PasswordMismatch(),
                    _ => App.Refusals.PasswordShort(),
                }
            )
            .DistinctBy(x => x.Code);
}
