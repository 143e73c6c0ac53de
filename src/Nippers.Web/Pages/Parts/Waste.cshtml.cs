using Microsoft.AspNetCore.Mvc;
using Nippers.App.Parts;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Parts;

/// <summary>Used oil, coolant, fuel and filters: by month and kind, and each batch with where it went.</summary>
public sealed class WasteModel(PartViews views, PartCatalog book, Words words) : NippersPage
{
    protected override bool ChangesNeedWork => true;

    public WasteLog Log { get; private set; } = null!;

    public async Task OnGet(CancellationToken ct) => Log = await views.Waste(ct);

    public async Task<IActionResult> OnPost(string? stream, string? amount, string? place, string? on, string? key, CancellationToken ct)
    {
        var outcome = await book.LogWaste(stream, amount, place, on, key, Actor, ct);
        if (outcome.Done)
            return Done("/waste", words["Waste.Kept"]);
        Log = await views.Waste(ct);
        Refuse(outcome.Refusals);
        return Page();
    }
}
