using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using Nippers.App;
using Nippers.App.People;
using Nippers.Data.Fleet;
using Nippers.Data.People;
using Nippers.Views.Text;
using Nippers.Web.Hosting;
using Nippers.Web.Pages.Account;

namespace Nippers.Web.Pages.Settings;

/// <summary>Somebody with an account.</summary>
public sealed record Person(string UserName, string FullName, string Role, bool Off);

/// <summary>People, API tokens and sites.</summary>
public sealed class IndexModel(
    UserManager<NippersUser> users,
    ApiTokens tokens,
    FirstSite sites,
    SettingsView view,
    TimeProvider clock,
    Words words
) : NippersPage
{
    public IReadOnlyList<Person> People { get; private set; } = [];

    public IReadOnlyList<ApiToken> Tokens { get; private set; } = [];

    public IReadOnlyList<Site> Sites { get; private set; } = [];

    public string? NewToken { get; private set; }

    public string? FullName { get; private set; }

    public string? UserName { get; private set; }

    public string? Role { get; private set; }

    public Task OnGet(CancellationToken ct) => Load(ct);

    public async Task<IActionResult> OnPostPerson(string? fullName, string? userName, string? role, string? password, CancellationToken ct)
    {
        (FullName, UserName, Role) = (fullName, userName, role);
        var refusals = new List<Refusal>();
        if (string.IsNullOrWhiteSpace(fullName))
            refusals.Add(App.Refusals.Needed("fullName"));
        if (role is null || !Roles.All.Contains(role))
            refusals.Add(App.Refusals.NoSuchRole());
        if (refusals.Count == 0)
            refusals.AddRange(
                PersonRefusals.Of(await Hosting.People.Add(users, userName?.Trim() ?? "", fullName!.Trim(), role!, password ?? ""))
            );
        if (refusals.Count == 0)
        {
            await view.Note(Actor, "person.add", userName!.Trim(), null, new { fullName, role }, ct);
            return Done("/settings", words["Settings.PersonAdded", fullName]);
        }

        return await Again(refusals, ct);
    }

    public async Task<IActionResult> OnPostSwitch(string userName, CancellationToken ct)
    {
        if (await users.FindByNameAsync(userName) is not { } person || person.UserName == User.Identity!.Name)
            return await Again([App.Refusals.NoSuchPerson()], ct);
        var off = person.LockoutEnd > clock.GetUtcNow().AddYears(1);
        await users.SetLockoutEndDateAsync(person, off ? null : DateTimeOffset.MaxValue);
        await users.UpdateSecurityStampAsync(person);
        await view.Note(Actor, off ? "person.on" : "person.off", userName, null, null, ct);
        return Done("/settings", words[off ? "Settings.PersonOn" : "Settings.PersonOff", person.FullName]);
    }

    public async Task<IActionResult> OnPostToken(string? name, string? role, CancellationToken ct)
    {
        var made = await tokens.Make(name, role, Actor, ct);
        if (!made.Done)
            return await Again(made.Refusals, ct);
        NewToken = made.Value!.Text;
        await Load(ct);
        return Page();
    }

    public async Task<IActionResult> OnPostRevoke(int id, CancellationToken ct)
    {
        var gone = await tokens.Revoke(id, Actor, ct);
        return gone.Done ? Done("/settings", words["Settings.Revoked"]) : await Again(gone.Refusals, ct);
    }

    public async Task<IActionResult> OnPostSite(string? siteName, string? zone, CancellationToken ct)
    {
        var added = await sites.Add(siteName, zone, Actor, ct);
        return added.Done ? Done("/settings", words["Settings.SiteAdded", siteName]) : await Again(added.Refusals, ct);
    }

    private async Task<IActionResult> Again(IReadOnlyList<Refusal> refusals, CancellationToken ct)
    {
        Refuse(refusals);
        await Load(ct);
        return Page();
    }

    private async Task Load(CancellationToken ct)
    {
        Tokens = await tokens.List(ct);
        Sites = await view.Sites(ct);
        var people = new List<Person>();
        foreach (var user in await users.Users.OrderBy(x => x.FullName).ToListAsync(ct))
        {
            people.Add(
                new(
                    user.UserName!,
                    user.FullName,
                    (await users.GetRolesAsync(user)).FirstOrDefault() ?? Roles.Operator,
                    user.LockoutEnd > clock.GetUtcNow().AddYears(1)
                )
            );
        }

        People = people;
    }
}
