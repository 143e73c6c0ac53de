using Nippers.App.Oil;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Samples;

/// <summary>The fluids with what is known of them when new.</summary>
public sealed class FluidsModel(NewOils oils) : NippersPage
{
    public IReadOnlyList<FluidPage> List { get; private set; } = [];

    public async Task OnGet(CancellationToken ct) => List = await oils.List(ct);
}
