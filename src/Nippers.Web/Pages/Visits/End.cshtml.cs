using Microsoft.AspNetCore.Mvc;
using Nippers.App.Visits;
using Nippers.Data.Visits;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Visits;

/// <summary>Closes a card: what stands in the way, how long it took, and the sign-off.</summary>
public sealed class EndModel(VisitViews views, CloseVisit close, Words words) : NippersPage
{
    public JobContext Job { get; private set; } = null!;

    public string? Minutes { get; private set; }

    public string? Note { get; private set; }

    /// <summary>Defects that the card found: whoever signs sees them.</summary>
    public IReadOnlyList<FoundDefect> Found { get; private set; } = [];

    public async Task<IActionResult> OnGet(long id, CancellationToken ct)
    {
        if (await views.Job(id, ct) is not { } job)
            return NotFound();
        if (job.Row.State != VisitState.Open)
            return LocalRedirect(VisitUrls.One(id));
        Job = job;
        Note = job.Row.Note;
        Found = await views.Found(job, ct);
        return Page();
    }

    public async Task<IActionResult> OnPost(long id, string? minutes, string? note, int version, bool lockedOut, CancellationToken ct)
    {
        var outcome = await close.Run(id, new(minutes, note, version, lockedOut), Actor, ct);
        if (outcome.Done)
            return Done(VisitUrls.One(id), words["Visit.WasClosed", outcome.Value!.Machine.Unit]);
        if (await views.Job(id, ct) is not { } job)
            return NotFound();
        (Job, Minutes, Note, Found) = (job, minutes, note, await views.Found(job, ct));
        Refuse(outcome.Refusals);
        return Page();
    }
}
