using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Web.Hosting;
using Nippers.Web.Text;

namespace Nippers.Web.Pages.Walks;

/// <summary>A walk: its plan and its stations while it is open, what it found when it is over.</summary>
public sealed class OneModel(WalkViews views, VouchCheck vouch, Words words) : NippersPage
{
    public WalkContext Walk { get; private set; } = null!;

    public async Task<IActionResult> OnGet(long id, CancellationToken ct)
    {
        if (await views.Walk(id, ct) is not { } walk)
            return NotFound();
        Walk = walk;
        return Page();
    }

    public async Task<IActionResult> OnPostVouch(long id, [FromForm] string? check, [FromForm] string? said, CancellationToken ct)
    {
        var outcome = await vouch.Run(id, check, said, Actor, ct);
        if (outcome.Done)
            return Done(WalkUrls.One(id), words["Walk.DidVouch", Actor.Name]);
        if (await views.Walk(id, ct) is not { } walk)
            return NotFound();
        Walk = walk;
        Refuse(outcome.Refusals);
        return Page();
    }
}
