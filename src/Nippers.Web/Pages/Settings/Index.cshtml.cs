using System.Globalization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.Backups;
using Nippers.App.People;
using Nippers.Data.Fleet;
using Nippers.Data.People;
using Nippers.Views.Text;
using Nippers.Web.Hosting;
using Nippers.Web.Pages.Account;

namespace Nippers.Web.Pages.Settings;

/// <summary>People, API tokens and sites.</summary>
public sealed class IndexModel(
    UserManager<NippersUser> users,
    ApiTokens tokens,
    FirstSite sites,
    SettingsView view,
    PeopleBook book,
    PublicAddress address,
    App.Backups.Backups backups,
    BackupNews news,
    WebSettings settings,
    Words words
) : NippersPage
{
    public IReadOnlyList<Person> People { get; private set; } = [];

    public IReadOnlyList<ApiToken> Tokens { get; private set; } = [];

    public IReadOnlyList<Site> Sites { get; private set; } = [];

    public string? NewToken { get; private set; }

    /// <summary>What was typed of a token; what is usual before anything was.</summary>
    public TokenInput TokenTyped { get; private set; } = NewTokenForm;

    /// <summary>Now, for which tokens are past their day.</summary>
    public DateTimeOffset Now => settings.Clock.GetUtcNow();

    /// <summary>Where people reach it; null while nobody said so.</summary>
    public string? Address { get; private set; }

    /// <summary>What was typed of it and refused; null shows what is kept.</summary>
    public string? AddressTyped { get; private set; }

    /// <summary>How this browser reached it: offered, never taken by itself.</summary>
    public string ReachedAt => $"{Request.Scheme}://{Request.Host}";

    private static readonly TokenInput NewTokenForm = new(
        null,
        Roles.Operator,
        [TokenScopes.Read],
        ApiTokens.UsualDays.ToString(CultureInfo.InvariantCulture)
    );

    public MadeCode? NewCode { get; private set; }

    public BackupState Backups { get; private set; } = null!;

    /// <summary>What was typed of backups and refused; null shows what is kept.</summary>
    public BackupInput? BackupTyped { get; private set; }

    /// <summary>A demo makes none.</summary>
    public bool MakesBackups => settings.Offered.Count == 0;

    /// <summary>Why the last backup could not be made; null when it could.</summary>
    public string? BackupFault => news.Fault;

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

    public async Task<IActionResult> OnPostSwitch(string? userName, bool on, CancellationToken ct)
    {
        var done = await book.Switch(userName, on, Actor, ct);
        return done.Done
            ? Done("/settings", words[on ? "Settings.PersonOn" : "Settings.PersonOff", done.Value!.FullName])
            : await Again(done.Refusals, ct);
    }

    public async Task<IActionResult> OnPostRole(string? userName, string? role, CancellationToken ct)
    {
        var done = await book.SetRole(userName, role, Actor, ct);
        return done.Done
            ? Done("/settings", words["Settings.RoleSet", done.Value!.FullName, words["Role." + role]])
            : await Again(done.Refusals, ct);
    }

    public async Task<IActionResult> OnPostCode(string? userName, CancellationToken ct)
    {
        var made = await book.MakeCode(userName, Actor, ct);
        if (!made.Done)
            return await Again(made.Refusals, ct);
        NewCode = made.Value;
        await Load(ct);
        return Page();
    }

    public async Task<IActionResult> OnPostBackups(string? folder, string? second, string? secondMinutes, CancellationToken ct)
    {
        var saved = await backups.Save(new(folder, second, secondMinutes), Actor, ct);
        if (saved.Done)
            return Done("/settings", words["Backups.Saved"]);
        BackupTyped = new(folder, second, secondMinutes);
        return await Again(saved.Refusals, ct);
    }

    public async Task<IActionResult> OnPostAddress(string? publicAddress, CancellationToken ct)
    {
        var saved = await address.Save(publicAddress, Actor, ct);
        if (saved.Done)
            return Done("/settings#address", words["Address.Saved"]);
        AddressTyped = publicAddress;
        return await Again(saved.Refusals, ct);
    }

    public async Task<IActionResult> OnPostToken(string? name, string? role, string[] scopes, string? days, CancellationToken ct)
    {
        TokenTyped = new(name, role, scopes, days);
        var made = await tokens.Make(TokenTyped, Actor, ct);
        if (!made.Done)
            return await Again(made.Refusals, ct);
        TokenTyped = NewTokenForm;
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
        Address = await address.Get(ct);
        Tokens = await tokens.List(ct);
        Sites = await view.Sites(ct);
        People = await book.All(ct);
        Backups = await backups.State(ct);
    }
}
