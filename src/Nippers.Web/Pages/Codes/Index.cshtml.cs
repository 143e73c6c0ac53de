using Microsoft.AspNetCore.Mvc;
using Nippers.App.Feeds;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Codes;

/// <summary>Fault codes that feeds tell of: those first that nobody has looked at.</summary>
public sealed class IndexModel(FeedCodes codes) : NippersPage
{
    public IReadOnlyList<FeedCodeLine> Lines { get; private set; } = [];

    /// <summary>The machine whose codes are shown alone; null for all.</summary>
    public string? Unit { get; private set; }

    public async Task OnGet([FromQuery] string? unit, CancellationToken ct)
    {
        Unit = string.IsNullOrWhiteSpace(unit) ? null : unit;
        Lines = await codes.All(Unit, ct);
    }
}
