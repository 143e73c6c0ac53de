using System.Collections.Immutable;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Core.Walk;
using Nippers.Views.Walks;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.WalkLists;

/// <summary>A walk list: its plan and its checks, station by station.</summary>
public sealed class OneModel(ChangeWalkList lists) : NippersPage
{
    public WalkListPage List { get; private set; } = null!;

    /// <summary>The plan with its stations, none of them begun.</summary>
    public ImmutableArray<PlanStation> Plan =>
        [
            .. List.Body.Stations.Select(
                (x, i) => new PlanStation(x, i + 1, 0, List.Body.Checks.Count(c => c.Station == x.Code), 0, false, $"#station-{x.Code}")
            ),
        ];

    /// <summary>Checks of a station in the order of the walk.</summary>
    public IEnumerable<WalkCheck> At(Station station) => List.Body.Checks.Where(x => x.Station == station.Code).OrderBy(x => x.Engine);

    public async Task<IActionResult> OnGet(string code, CancellationToken ct)
    {
        if (await lists.One(code, ct) is not { } list)
            return NotFound();
        List = list;
        return Page();
    }
}
