using Microsoft.AspNetCore.Mvc;
using Nippers.App.Oil;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Samples;

/// <summary>Labels of bottles, for a sheet or one by one.</summary>
public sealed class LabelsModel(SampleQueues tray) : NippersPage
{
    public IReadOnlyList<BottleLabel> Labels { get; private set; } = [];

    public async Task OnGet([FromQuery] string[] code, CancellationToken ct) => Labels = await tray.Labels(code, ct);

    /// <summary>What the printed code opens.</summary>
    public string AddressOf(string code) => $"{Request.Scheme}://{Request.Host}/samples/find?code={Uri.EscapeDataString(code)}";
}
