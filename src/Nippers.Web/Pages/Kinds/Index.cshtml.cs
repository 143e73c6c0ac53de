using Nippers.App.Kinds;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Kinds;

/// <summary>The kinds of machines, each with its walk lists and programs.</summary>
public sealed class IndexModel(KindCatalog catalog) : NippersPage
{
    public IReadOnlyList<KindLine> Kinds { get; private set; } = [];

    public async Task OnGet(CancellationToken ct) => Kinds = await catalog.All(ct);
}
