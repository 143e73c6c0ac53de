using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Walks;

/// <summary>Which machines were walked, which were not, and where a walk is open.</summary>
public sealed class IndexModel(WalkViews views) : NippersPage
{
    public WalksOverview Walks { get; private set; } = null!;

    public async Task OnGet([FromQuery] string? site, [FromQuery(Name = "page-at")] int? at, CancellationToken ct) =>
        Walks = await views.Overview(string.IsNullOrEmpty(site) ? null : site, at ?? 1, ct);
}
