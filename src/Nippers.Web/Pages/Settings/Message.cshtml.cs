using System.Security.Claims;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Mail;
using Nippers.App.People;
using Nippers.Data.Mail;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Settings;

/// <summary>One message as it was written.</summary>
public sealed class MessageModel(MailBook book, PeopleBook people) : NippersPage
{
    public MailRow Mail { get; private set; } = null!;

    public TimeZoneInfo Zone { get; private set; } = TimeZoneInfo.Utc;

    public async Task<IActionResult> OnGet(long id, CancellationToken ct)
    {
        if (await book.One(id, ct) is not { } mail)
            return NotFound();
        Mail = mail;
        Zone = await people.ZoneOf(User.FindFirstValue(ClaimTypes.NameIdentifier) ?? "", ct);
        return Page();
    }
}
