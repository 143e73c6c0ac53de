using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Defects;
using Nippers.App.People;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Defects;

/// <summary>The tag that hangs on a machine out of service.</summary>
public sealed class TagModel(DefectViews views, PublicAddress address) : NippersPage
{
    public DefectPage Defect { get; private set; } = null!;

    /// <summary>What the code opens; null while settings name no address.</summary>
    public string? Address { get; private set; }

    public async Task<IActionResult> OnGet(long id, CancellationToken ct)
    {
        if (await views.One(id, ct) is not { } defect)
            return NotFound();
        Defect = defect;
        Address = await address.Get(ct) is { } at ? at + string.Create(CultureInfo.InvariantCulture, $"/defects/{id}") : null;
        return Page();
    }
}
