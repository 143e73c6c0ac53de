using Microsoft.AspNetCore.Mvc;
using Nippers.App.Oil;
using Nippers.Core.Oil;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Samples;

/// <summary>The same kind of compartment across the fleet: spread, own limits, who stands out.</summary>
public sealed class FleetModel(SampleViews views) : NippersPage
{
    /// <summary>Compartments shown, the highest first.</summary>
    public const int MostShown = 60;

    public FleetComparison Comparison { get; private set; } = null!;

    public async Task OnGet([FromQuery] OilKind kind, [FromQuery] string? m, [FromQuery] string? family, CancellationToken ct)
    {
        var measurand = Measurands.Parse(m) is { } known && LimitSet.Starting(kind)[known] is not null ? known : Measurand.Fe;
        Comparison = await views.Fleet(kind, measurand, family, ct);
    }
}
