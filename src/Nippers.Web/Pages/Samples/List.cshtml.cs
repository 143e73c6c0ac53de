using Microsoft.AspNetCore.Mvc;
using Nippers.App.Oil;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Samples;

/// <summary>A plain list of bottles for those who write by hand: of a consignment, or of what lies ready.</summary>
public sealed class ListModel(SampleQueues tray) : NippersPage
{
    public IReadOnlyList<TrayLine> Lines { get; private set; } = [];

    public async Task OnGet([FromQuery] long? box, CancellationToken ct) => Lines = await tray.PaperList(box, ct);
}
