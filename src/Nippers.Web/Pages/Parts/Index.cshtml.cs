using Microsoft.AspNetCore.Mvc;
using Nippers.App.Parts;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Parts;

/// <summary>The catalogue and its shelves; what the proposed visits of the next 60 days will miss stands first.</summary>
public sealed class IndexModel(PartViews views) : NippersPage
{
    public PartList List { get; private set; } = null!;

    public async Task OnGet(
        [FromQuery] string? q,
        [FromQuery(Name = "short")] bool onlyShort,
        [FromQuery(Name = "p")] int page,
        CancellationToken ct
    ) => List = await views.List(q, onlyShort, Math.Max(1, page), ct);
}
