using System.Security.Claims;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.People;
using Nippers.App.Weeks;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Account;

/// <summary>One's own calendar link: made, shown once, ended.</summary>
public sealed class CalendarModel(Calendars calendars, PublicAddress address, Words words) : NippersPage
{
    /// <summary>When the link was made; null while there is none.</summary>
    public DateTimeOffset? MadeAt { get; private set; }

    /// <summary>The link that was just made: it is seen this once.</summary>
    public string? Made { get; private set; }

    private string UserId => User.FindFirstValue(ClaimTypes.NameIdentifier) ?? "";

    public async Task OnGet(CancellationToken ct) => MadeAt = await calendars.MadeAt(UserId, ct);

    public async Task<IActionResult> OnPostMake(CancellationToken ct)
    {
        var made = await calendars.Make(UserId, Actor, ct);
        Refuse(made.Refusals);
        if (made.Value is { } secret)
            Made = (await address.Get(ct) ?? "") + CalendarFeed.Path.Replace("{secret}", secret, StringComparison.Ordinal);
        MadeAt = await calendars.MadeAt(UserId, ct);
        return Page();
    }

    public async Task<IActionResult> OnPostRevoke(CancellationToken ct)
    {
        await calendars.Revoke(UserId, Actor, ct);
        return Done("/calendar", words["Calendar.Revoked"]);
    }
}
