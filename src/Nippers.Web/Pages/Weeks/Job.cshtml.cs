using System.Security.Claims;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Weeks;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Weeks;

/// <summary>One job of the plan: what is in it, why it stands where it does or nowhere, and putting it elsewhere.</summary>
public sealed class JobModel(WeekViews views) : NippersPage
{
    public WeekJobPage Job { get; private set; } = null!;

    public async Task<IActionResult> OnGet([FromQuery] string? code, CancellationToken ct)
    {
        if (await views.Job(User.MayPlan() ? User.FindFirstValue(ClaimTypes.NameIdentifier) : null, code ?? "", ct) is not { } job)
            return NotFound();
        Job = job;
        return Page();
    }
}
