using System.Globalization;
using System.Security.Claims;
using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.Mail;
using Nippers.App.People;
using Nippers.Data.Mail;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Settings;

/// <summary>Messages: through which server, to whom first and next, and what became of them.</summary>
public sealed class MailModel(MailBook book, MailPost post, PeopleBook people, Words words) : NippersPage
{
    private const string Place = "/settings/mail";
    private const int UsualPort = 587;

    public MailPage Shown { get; private set; } = null!;

    /// <summary>The server as it is kept, or as it was typed and refused.</summary>
    public MailServerInput Input { get; private set; } = null!;

    public IReadOnlyList<Person> People { get; private set; } = [];

    public TimeZoneInfo Zone { get; private set; } = TimeZoneInfo.Utc;

    public async Task OnGet(CancellationToken ct)
    {
        await Load(ct);
        Input = Shown.Server is { } server
            ? new(
                server.Version,
                server.Host,
                server.Port.ToString(CultureInfo.InvariantCulture),
                server.Security,
                server.User,
                null,
                server.From,
                server.OwnNetwork,
                server.On
            )
            : new(0, null, UsualPort.ToString(CultureInfo.InvariantCulture), MailSecurity.StartTls, null, null, null, false, true);
    }

    public async Task<IActionResult> OnPost(MailServerInput input, CancellationToken ct)
    {
        var outcome = await book.SaveServer(input, Actor, ct);
        if (outcome.Done)
            return Done(Place, words[outcome.Value!.On ? "MailPage.SavedOn" : "MailPage.SavedOff"]);
        await Load(ct);
        Input = input;
        Refuse(outcome.Refusals);
        return Page();
    }

    public async Task<IActionResult> OnPostAdd(
        int siteId,
        string? contactUser,
        string? contactName,
        string? contactAddress,
        string? contactLanguage,
        CancellationToken ct
    )
    {
        var input = new ContactInput(contactUser, contactName, contactAddress, contactLanguage);
        return await After(await book.AddContact(siteId, input, Actor, ct), "MailPage.ListSaved", ct);
    }

    public async Task<IActionResult> OnPostContact(int id, bool takeOut, CancellationToken ct) =>
        await After(await book.ChangeContact(id, takeOut, Actor, ct), "MailPage.ListSaved", ct);

    public async Task<IActionResult> OnPostAgain(long id, CancellationToken ct) =>
        await After(await book.Again(id, Actor, ct), "MailPage.WillTry", ct);

    public async Task<IActionResult> OnPostNow(CancellationToken ct) =>
        Done(Place, words.Plural("MailPage.WentNow", await post.Run(atOnce: true, ct)));

    private async Task<IActionResult> After<T>(Outcome<T> outcome, string said, CancellationToken ct)
        where T : class
    {
        if (outcome.Done)
            return Done(Place, words[said]);
        await OnGet(ct);
        Refuse(outcome.Refusals);
        return Page();
    }

    private async Task Load(CancellationToken ct)
    {
        Shown = await book.Load(ct);
        People = await people.All(ct);
        Zone = await people.ZoneOf(User.FindFirstValue(ClaimTypes.NameIdentifier) ?? "", ct);
    }
}
