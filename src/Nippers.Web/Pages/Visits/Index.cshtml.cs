using Microsoft.AspNetCore.Mvc;
using Nippers.App.Visits;
using Nippers.Data.Visits;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Visits;

/// <summary>The visits of the fleet: open and planned, what is proposed, and what was closed.</summary>
public sealed class IndexModel(VisitViews views) : NippersPage
{
    public VisitList List { get; private set; } = null!;

    public async Task OnGet(
        [FromQuery] string? site,
        [FromQuery] string? unit,
        [FromQuery] VisitState? state,
        [FromQuery(Name = "p")] int page,
        CancellationToken ct
    ) => List = await views.List(new(site, unit, state, Math.Max(1, page)), ct);

    /// <summary>The list with another state or page.</summary>
    public string With(VisitState? state, int page = 1) =>
        $"/visits{QueryString.Create(
        new Dictionary<string, string?> { ["site"] = List.Filter.Site, ["unit"] = List.Filter.Unit, ["state"] = state?.ToString(), ["p"] = page > 1 ? page.ToString(System.Globalization.CultureInfo.InvariantCulture) : null }.Where(x => !string.IsNullOrEmpty(x.Value)))}";
}
