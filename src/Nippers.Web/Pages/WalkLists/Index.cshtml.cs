using Nippers.App.Walks;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.WalkLists;

/// <summary>The walk lists.</summary>
public sealed class IndexModel(ChangeWalkList lists) : NippersPage
{
    public IReadOnlyList<WalkListLine> Lists { get; private set; } = [];

    public async Task OnGet(CancellationToken ct) => Lists = await lists.All(ct);
}
