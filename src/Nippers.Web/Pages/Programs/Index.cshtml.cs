using Nippers.App.Programs;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Programs;

/// <summary>All programs.</summary>
public sealed class IndexModel(ProgramViews views) : NippersPage
{
    public IReadOnlyList<ProgramLine> Programs { get; private set; } = [];

    public async Task OnGet(CancellationToken ct) => Programs = await views.List(ct);
}
