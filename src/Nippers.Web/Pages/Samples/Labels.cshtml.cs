using Microsoft.AspNetCore.Mvc;
using Nippers.App.Oil;
using Nippers.App.People;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Samples;

/// <summary>Labels of bottles, for a sheet or one by one.</summary>
public sealed class LabelsModel(SampleQueues tray, PublicAddress address) : NippersPage
{
    public IReadOnlyList<BottleLabel> Labels { get; private set; } = [];

    /// <summary>Where codes lead; null while settings name no address.</summary>
    public string? Address { get; private set; }

    public async Task OnGet([FromQuery] string[] code, CancellationToken ct) =>
        (Labels, Address) = (await tray.Labels(code, ct), await address.Get(ct));

    /// <summary>What the printed code opens.</summary>
    public string AddressOf(string code) => $"{Address}/samples/find?code={Uri.EscapeDataString(code)}";
}
