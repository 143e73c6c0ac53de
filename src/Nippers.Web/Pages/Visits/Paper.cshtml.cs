using Microsoft.AspNetCore.Mvc;
using Nippers.App.Visits;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Visits;

/// <summary>The job card on paper, with boxes to tick and lines to write on; it comes back by entering its steps.</summary>
public sealed class PaperModel(VisitViews views) : NippersPage
{
    public JobContext Job { get; private set; } = null!;

    public async Task<IActionResult> OnGet(long id, CancellationToken ct)
    {
        if (await views.Job(id, ct) is not { } job)
            return NotFound();
        Job = job;
        return Page();
    }
}
