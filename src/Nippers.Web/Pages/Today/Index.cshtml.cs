using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.WebUtilities;
using Nippers.App.Feeds;
using Nippers.App.Mail;
using Nippers.App.Today;
using Nippers.Core.Service;
using Nippers.Data.Fleet;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Today;

/// <summary>Today: every machine with its hours, its tape and what presses.</summary>
public sealed class IndexModel(TodayView view, PersonView person, MailBook mail, FeedCodes codes) : NippersPage
{
    public TodayPage Today { get; private set; } = null!;

    /// <summary>What the person who looks is told.</summary>
    public PersonNews News { get; private set; } = PersonNews.None;

    /// <summary>Messages do not go out: said to who can mend it.</summary>
    public bool MailFails { get; private set; }

    /// <summary>Fault codes that nobody has looked at: said to who may look.</summary>
    public int Codes { get; private set; }

    public async Task OnGet(
        [FromQuery] string? site,
        [FromQuery] MachineKind? kind,
        [FromQuery] DueStatus? standing,
        [FromQuery] string? look,
        [FromQuery(Name = "page-at")] int? at,
        CancellationToken ct
    )
    {
        Today = await view.Run(new(string.IsNullOrEmpty(site) ? null : site, kind, standing, look, at ?? 1), ct, User.OwnSite());
        News = await person.Run(Actor.Name, ct);
        if (User.MayWork())
            Codes = await codes.Unseen(ct);
        MailFails = User.MayPlan() && await mail.Fails(ct);
    }

    /// <summary>This list with another standing.</summary>
    public string With(DueStatus? standing, string? look) => Address(standing, look, null);

    /// <summary>Another page of this list.</summary>
    public string PageUrl(int at) => Address(Today.Filter.Status, Today.Filter.Look, at);

    private string Address(DueStatus? standing, string? look, int? at) =>
        QueryHelpers.AddQueryString(
            "/",
            new Dictionary<string, string?>
            {
                ["site"] = Today.Filter.Site,
                ["kind"] = Today.Filter.Kind?.ToString(),
                ["standing"] = standing?.ToString().ToLowerInvariant(),
                ["look"] = look,
                ["page-at"] = at?.ToString(System.Globalization.CultureInfo.InvariantCulture),
            }.Where(x => !string.IsNullOrEmpty(x.Value))
        );
}
