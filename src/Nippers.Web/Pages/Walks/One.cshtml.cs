using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Data.Walks;
using Nippers.Views.Text;
using Nippers.Views.Walks;
using Nippers.Web.Hosting;

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
        if (walk.Row.State != WalkState.Open)
            Photos = await views.PhotosOf(id, ct);
        return Page();
    }

    /// <summary>Photos that the walk asked for by chance.</summary>
    public IReadOnlyList<long> Photos { get; private set; } = [];

    public async Task<IActionResult> OnGetPhoto(long id, long photo, bool small, CancellationToken ct)
    {
        if (await views.Photo(id, photo, ct) is not { } found)
            return NotFound();
        Response.Headers.CacheControl = "private,max-age=31536000,immutable";
        return File(small ? found.Small : found.Whole, "image/jpeg");
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
