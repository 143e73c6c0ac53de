using Microsoft.AspNetCore.Mvc;
using Nippers.App.Defects;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Defects;

/// <summary>The tag that hangs on a machine out of service.</summary>
public sealed class TagModel(DefectViews views) : NippersPage
{
    public DefectPage Defect { get; private set; } = null!;

    public string Address => $"{Request.Scheme}://{Request.Host}/defects/{Defect.Line.Defect.Id}";

    public async Task<IActionResult> OnGet(long id, CancellationToken ct)
    {
        if (await views.One(id, ct) is not { } defect)
            return NotFound();
        Defect = defect;
        return Page();
    }
}
