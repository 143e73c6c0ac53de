using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.WebUtilities;
using Nippers.App.Defects;
using Nippers.Core.Defects;
using Nippers.Data.Fleet;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Defects;

/// <summary>Defects by clock: what stops, what runs out soonest, what waits for the next service, what is watched.</summary>
public sealed class IndexModel(DefectViews views) : NippersPage
{
    public DefectList List { get; private set; } = null!;

    public async Task OnGet(
        [FromQuery] string? site,
        [FromQuery] MachineKind? kind,
        [FromQuery] string? unit,
        [FromQuery] DefectGrade? grade,
        [FromQuery] bool closed,
        [FromQuery(Name = "page-at")] int? at,
        CancellationToken ct
    ) => List = await views.List(new(Some(site), kind, Some(unit), grade, closed, at ?? 1), ct);

    /// <summary>This list with another grade, or the closed ones.</summary>
    public string With(DefectGrade? grade, bool closed, int? at = null) =>
        QueryHelpers.AddQueryString(
            "/defects",
            new Dictionary<string, string?>
            {
                ["site"] = List.Filter.Site,
                ["kind"] = List.Filter.Kind?.ToString(),
                ["unit"] = List.Filter.Unit,
                ["grade"] = grade?.ToString(),
                ["closed"] = closed ? "true" : null,
                ["page-at"] = at?.ToString(System.Globalization.CultureInfo.InvariantCulture),
            }.Where(x => !string.IsNullOrEmpty(x.Value))
        );

    private static string? Some(string? text) => string.IsNullOrWhiteSpace(text) ? null : text;
}
