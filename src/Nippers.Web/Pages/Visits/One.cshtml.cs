using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.Feeds;
using Nippers.App.Visits;
using Nippers.Core.Feeds;
using Nippers.Core.Jobs;
using Nippers.Data.Visits;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Visits;

/// <summary>A visit: planned with what to take along, open with its card, or closed with what it recorded.</summary>
public sealed class OneModel(
    VisitViews views,
    PlanVisit plan,
    OpenCard open,
    LeaveItem leave,
    HandOver hand,
    Van van,
    CloseVisit close,
    FeedHours feeds,
    Words words,
    TimeProvider clock
) : NippersPage
{
    protected override bool ChangesNeedWork => true;

    public PlannedVisitPage? Planned { get; private set; }

    public ClosedVisitPage? Recorded { get; private set; }

    public VisitRow Visit { get; private set; } = null!;

    public IReadOnlyList<(string Code, string Name)> Addable { get; private set; } = [];

    /// <summary>What was typed as hours and refused.</summary>
    public string? Hours { get; private set; }

    /// <summary>Hours that the machine's feed offers for a look instead of typing; null for none.</summary>
    public OfferedHours? Offered { get; private set; }

    /// <summary>How the machine comes, as it was said when something else was refused.</summary>
    public StepHeat? Heat { get; private set; }

    /// <summary>The item that was to be left when something was refused; it stays open on the page.</summary>
    public string? Leaving { get; private set; }

    /// <summary>What of its pick list is in the van, or was.</summary>
    public IReadOnlyList<VanLine> Van { get; private set; } = [];

    /// <summary>People to whom the machine can be handed.</summary>
    public IReadOnlyList<string> People { get; private set; } = [];

    public Task<IActionResult> OnGet(long id, CancellationToken ct) => Show(id, ct);

    public async Task<IActionResult> OnPostOpen(long id, string? hours, bool confirmed, StepHeat? heat, CancellationToken ct)
    {
        (Hours, Heat) = (hours, heat);
        return await Act(id, await open.Run(id, hours, confirmed, heat, Actor, ct), "Visit.Opened", ct);
    }

    public async Task<IActionResult> OnPostHand(long id, string? handTo, string? handWords, CancellationToken ct) =>
        await Act(id, await hand.Give(id, handTo, handWords, Actor, ct), "Visit.Handed", ct);

    public async Task<IActionResult> OnPostTakeOver(long id, bool lockOn, string? tried, CancellationToken ct) =>
        await Act(id, await hand.Take(id, new(lockOn, tried), Actor, ct), "Visit.TakenOver", ct);

    public async Task<IActionResult> OnPostLoad(long id, List<string>? line, CancellationToken ct)
    {
        if (await views.Planned(id, ct) is not { } planned)
            return NotFound();
        var lines = TakeLines.All(planned.Draft.Take, words).Where(x => line?.Contains(x.Line) == true).ToList();
        return await Act(id, await van.Load(id, lines, Actor, ct), "Van.Loaded", ct);
    }

    public async Task<IActionResult> OnPostUnload(long id, List<string>? line, CancellationToken ct) =>
        await Act(id, await van.Unload(id, line ?? [], Actor, ct), "Van.Unloaded", ct);

    public async Task<IActionResult> OnPostCancel(long id, string? reason, CancellationToken ct) =>
        await Act(id, await plan.Cancel(id, reason, Actor, ct), "Visit.WasCancelled", ct);

    public async Task<IActionResult> OnPostLeave(
        long id,
        string item,
        string? leaveReason,
        string? leaveWords,
        List<string>? leaveOff,
        CancellationToken ct
    )
    {
        Leaving = item;
        return await Act(id, await leave.Run(id, item, leaveReason, leaveWords, leaveOff, Actor, ct), "Visit.ItemLeft", ct);
    }

    public async Task<IActionResult> OnPostTakeUp(long id, string item, CancellationToken ct) =>
        await Act(id, await leave.TakeUp(id, item, Actor, ct), "Visit.ItemTakenUp", ct);

    public async Task<IActionResult> OnPostAdd(long id, string? item, CancellationToken ct) =>
        await Act(id, await open.Add(id, item, Actor, ct), "Visit.ItemAdded", ct);

    public async Task<IActionResult> OnPostReopen(long id, string? reason, CancellationToken ct) =>
        await Act(id, await close.Reopen(id, reason, Actor, ct), "Visit.Reopened", ct);

    public async Task<IActionResult> OnGetPhoto(long id, long photo, bool small, CancellationToken ct)
    {
        if (await views.Photo(id, photo, ct) is not { } found)
            return NotFound();
        Response.Headers.CacheControl = "private,max-age=31536000,immutable";
        return File(small ? found.Small : found.Whole, "image/jpeg");
    }

    private async Task<IActionResult> Act<T>(long id, Outcome<T> outcome, string said, CancellationToken ct)
        where T : class
    {
        if (outcome.Done)
            return Done(VisitUrls.One(id), words[said]);
        Refuse(outcome.Refusals);
        return await Show(id, ct);
    }

    private async Task<IActionResult> Show(long id, CancellationToken ct)
    {
        // A card is read with its visit, once.
        var state = await views.StateOf(id, ct);
        if (state is VisitState.Open or VisitState.Closed)
            Recorded = await views.Closed(id, ct);
        if ((Recorded?.Job.Row ?? await views.Find(id, ct)) is not { } visit)
            return NotFound();
        Visit = visit;

        // Somebody has opened it just now.
        if (visit.State is VisitState.Open or VisitState.Closed)
            Recorded ??= await views.Closed(id, ct);
        if (visit.State == VisitState.Planned)
        {
            Planned = await views.Planned(id, ct);
            Offered = await feeds.Offer(visit.MachineId, clock.GetUtcNow(), FeedAge.ForCard, ct);
        }

        Van = await van.Of(id, ct);
        if (visit.State == VisitState.Open)
            (Addable, People) = (await views.Addable(Recorded!.Job, ct), await hand.People(ct));
        return Page();
    }
}
