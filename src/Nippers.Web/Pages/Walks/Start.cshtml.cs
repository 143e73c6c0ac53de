using System.Collections.Immutable;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Feeds;
using Nippers.App.Walks;
using Nippers.Core.Feeds;
using Nippers.Core.Hours;
using Nippers.Views.Text;
using Nippers.Views.Walks;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Walks;

/// <summary>The start of a walk on a machine; the printed code on the machine leads here.</summary>
public sealed class StartModel(WalkViews views, StartWalk start, FeedHours feeds, Words words, TimeProvider clock) : NippersPage
{
    public WalkStart Start { get; private set; } = null!;

    public StartWalkInput Input { get; private set; } = null!;

    /// <summary>Exhaust fluid that is nearly out; null where it is not, or nobody knows.</summary>
    public LowTank? Def { get; private set; }

    /// <summary>Hours that the machine's feed offers for a look instead of typing; null for none.</summary>
    public OfferedHours? Offered { get; private set; }

    public ImmutableArray<MeterHours> DidYouMean { get; private set; } = [];

    public async Task<IActionResult> OnGet(string unit, CancellationToken ct)
    {
        Input = new() { Unit = unit };
        if (!await Load(unit, ct))
            return NotFound();
        Input = Input with { Hours = Offered?.Shown.ToString() };
        return Page();
    }

    public async Task<IActionResult> OnPost(string unit, CancellationToken ct)
    {
        Input = StartWalkInput.Of(unit, Request.TypedFields()) with { AtForm = true };
        var outcome = await start.Run(Input, Actor, ct);
        if (outcome.Done)
        {
            var walk = outcome.Value!;
            var said =
                walk.Resumed ? "Walk.Resumed"
                : walk.Judgement?.Code == ReadingCode.Check ? "Walk.StartedUnconfirmed"
                : "Walk.Started";
            return Done(WalkUrls.One(walk.WalkId), words[said, unit]);
        }

        if (!await Load(unit, ct))
            return NotFound();
        DidYouMean = outcome.Value?.Judgement?.DidYouMean ?? [];
        Refuse(outcome.Refusals, Start.Zone);
        return Page();
    }

    private async Task<bool> Load(string unit, CancellationToken ct)
    {
        if (await views.Start(unit, ct) is not { } found)
            return false;
        Start = found;
        Offered = await feeds.Offer(found.Machine.Id, clock.GetUtcNow(), FeedAge.ForWalk, ct);
        (_, Def) = await feeds.Low(found.Machine.Id, clock.GetUtcNow(), ct);
        return true;
    }
}
