using Microsoft.AspNetCore.Mvc;
using Nippers.App.Exchange;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Exchange;

/// <summary>Brings a fleet file in.</summary>
[RequestSizeLimit(512L << 20)]
[RequestFormLimits(MultipartBodyLengthLimit = 512L << 20)]
public sealed class ImportFleetModel(ImportFleet import, Words words) : NippersPage
{
    public IActionResult OnGet() => LocalRedirect("/exchange");

    public async Task<IActionResult> OnPost(IFormFile? file, CancellationToken ct)
    {
        if (file is null)
        {
            Refuse([App.Refusals.FileNeeded()]);
            return Page();
        }

        await using var stream = file.OpenReadStream();
        var outcome = await import.Run(stream, Actor, null, ct);
        if (outcome.Done)
        {
            var x = outcome.Value!;
            return Done("/", words["Exchange.Imported", x.Machines, x.Readings, x.Completions]);
        }

        Refuse(outcome.Refusals);
        return Page();
    }
}
