using Microsoft.AspNetCore.Mvc;
using Nippers.App.Machines;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>All machines, also those that are out of the fleet.</summary>
public sealed class IndexModel(MachineList list) : NippersPage
{
    private const int PageSize = 100;

    public IReadOnlyList<MachineLine> Machines { get; private set; } = [];

    public int Count { get; private set; }

    public int At { get; private set; } = 1;

    public int Pages => Math.Max(1, (Count + PageSize - 1) / PageSize);

    public async Task OnGet([FromQuery(Name = "page-at")] int? at, CancellationToken ct)
    {
        Count = await list.Count(ct);
        At = Math.Clamp(at ?? 1, 1, Pages);
        Machines = await list.Run((At - 1) * PageSize, PageSize, ct);
    }
}
