using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Data.Walks;
using Nippers.Views.Text;
using Nippers.Views.Walks;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Walks;

/// <summary>The end of a walk: what was found, what was left out and why, and the sign-off.</summary>
public sealed class EndModel(WalkViews views, FinishWalk finish, Words words) : NippersPage
{
    public WalkContext Walk { get; private set; } = null!;

    public string? LeftOut { get; private set; }

    public string? Note { get; private set; }

    public async Task<IActionResult> OnGet(long id, CancellationToken ct)
    {
        if (await views.Walk(id, ct) is not { } walk)
            return NotFound();
        Walk = walk;
        if (walk.Row.State != WalkState.Open)
            return LocalRedirect(WalkUrls.One(id));
        return IsHtmx ? await Shown<SignOffPart, SignOff>(new(walk)) : Page();
    }

    public async Task<IActionResult> OnPost(long id, string? leftOut, string? note, CancellationToken ct)
    {
        (LeftOut, Note) = (leftOut, note);
        var outcome = await finish.Run(id, new(leftOut, note), Actor, ct);
        if (outcome.Done)
            return Done(WalkUrls.One(id), words["Walk.Finished"]);
        if (await views.Walk(id, ct) is not { } walk)
            return NotFound();
        Walk = walk;
        Refuse(outcome.Refusals);
        return Page();
    }
}
