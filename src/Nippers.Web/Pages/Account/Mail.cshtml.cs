using System.Globalization;
using System.Security.Claims;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Mail;
using Nippers.App.People;
using Nippers.Data.Mail;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Account;

/// <summary>Of what oneself is told by mail, and when.</summary>
public sealed class MailModel(MailBook book, PeopleBook people, Words words) : NippersPage
{
    /// <summary>What is chosen, or what was typed and refused.</summary>
    public MailPerson Choice { get; private set; } = null!;

    /// <summary>When the morning's message goes, as typed.</summary>
    public string? MorningAt { get; private set; }

    /// <summary>The last messages to oneself.</summary>
    public IReadOnlyList<MailRow> Own { get; private set; } = [];

    /// <summary>Messages go out at all.</summary>
    public bool IsOn { get; private set; }

    /// <summary>Where oneself is, for times.</summary>
    public TimeZoneInfo Zone { get; private set; } = TimeZoneInfo.Utc;

    private string UserId => User.FindFirstValue(ClaimTypes.NameIdentifier) ?? "";

    public async Task OnGet(CancellationToken ct)
    {
        await Load(ct);
        Choice = await book.Choice(UserId, ct);
        MorningAt = new TimeOnly(Choice.MorningAt / 60, Choice.MorningAt % 60).ToString("HH:mm", CultureInfo.InvariantCulture);
    }

    public async Task<IActionResult> OnPost(MailChoiceInput input, CancellationToken ct)
    {
        var outcome = await book.Choose(UserId, input, Actor, ct);
        if (outcome.Done)
            return Done("/mail", words["MailOwn.Saved"]);
        await Load(ct);
        MorningAt = input.MorningAt;
        Choice = new()
        {
            UserId = UserId,
            Version = input.Version,
            Address = input.Address ?? "",
            AllSites = input.AllSites,
            Stops = input.Stops ?? MailWhen.Never,
            Samples = input.Samples ?? MailWhen.Never,
            Limits = input.Limits ?? MailWhen.Never,
            Walks = input.Walks ?? MailWhen.Never,
            Stock = input.Stock ?? MailWhen.Never,
        };
        Refuse(outcome.Refusals);
        return Page();
    }

    public async Task<IActionResult> OnPostTry(CancellationToken ct)
    {
        var outcome = await book.Try(UserId, Actor, ct);
        if (outcome.Done)
            return Done("/mail", words["MailOwn.Tried", outcome.Value!.Address]);
        await OnGet(ct);
        Refuse(outcome.Refusals);
        return Page();
    }

    private async Task Load(CancellationToken ct)
    {
        (Own, IsOn) = (await book.Own(UserId, ct), await book.IsOn(ct));
        Zone = await people.ZoneOf(UserId, ct);
    }
}
