using System.Security.Claims;
using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.Feeds;
using Nippers.App.People;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Settings;

/// <summary>Feeds of machines: where they are, which machine is which, and what does not fit.</summary>
public sealed class FeedsModel(FeedBook book, FeedRound round, PeopleBook people, Words words) : NippersPage
{
    private const string Place = "/settings/feeds";

    /// <summary>Which page of machines is asked for.</summary>
    [FromQuery(Name = "page-at")]
    public int At { get; set; } = 1;

    public FeedsPage Shown { get; private set; } = null!;

    /// <summary>The feed that is changed, or what was typed and refused.</summary>
    public FeedInput Input { get; private set; } = new(null, 0, null, null, null, false, true);

    public TimeZoneInfo Zone { get; private set; } = TimeZoneInfo.Utc;

    public async Task OnGet([FromQuery] int? edit, CancellationToken ct)
    {
        await Load(ct);
        if (Shown.Feeds.FirstOrDefault(x => x.Id == edit) is { } feed)
            Input = new(feed.Id, feed.Version, feed.Name, feed.Url, null, feed.OwnNetwork, feed.On);
    }

    public async Task<IActionResult> OnPost(FeedInput input, CancellationToken ct)
    {
        var outcome = await book.Save(input, Actor, ct);
        if (outcome.Done)
            return Done(Place, words["Feeds.Saved", outcome.Value!.Name]);
        await Load(ct);
        Input = input;
        Refuse(outcome.Refusals);
        return Page();
    }

    public async Task<IActionResult> OnPostLink(int id, string? unit, CancellationToken ct) =>
        await After(await book.Link(id, unit, Actor, ct), ct);

    public async Task<IActionResult> OnPostReplaced(int id, CancellationToken ct) => await After(await book.Replaced(id, Actor, ct), ct);

    public async Task<IActionResult> OnPostStops(string? stopSpns, CancellationToken ct) =>
        await After(await book.SaveStopSpns(stopSpns, Actor, ct), ct);

    public async Task<IActionResult> OnPostNow(CancellationToken ct) =>
        Done(Place, words.Plural("Feeds.Heard", await round.Run(atOnce: true, ct)));

    private async Task<IActionResult> After<T>(Outcome<T> outcome, CancellationToken ct)
        where T : class
    {
        if (outcome.Done)
            return Done(Place, words["Feeds.Said"]);
        await Load(ct);
        Refuse(outcome.Refusals);
        return Page();
    }

    private async Task Load(CancellationToken ct)
    {
        Shown = await book.Load(At, ct);
        Zone = await people.ZoneOf(User.FindFirstValue(ClaimTypes.NameIdentifier) ?? "", ct);
    }
}
