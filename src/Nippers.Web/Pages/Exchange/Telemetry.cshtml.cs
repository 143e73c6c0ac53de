using Microsoft.AspNetCore.Mvc;
using Nippers.App.Feeds;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Exchange;

/// <summary>What machines say of themselves, from a CSV: taken whole, or refused with each line that is wrong.</summary>
[RequestSizeLimit(TelemetryImport.LargestFile * 2)]
public sealed class TelemetryModel(TelemetryImport import, Words words) : NippersPage
{
    /// <summary>Refused lines shown, the first of them.</summary>
    public const int MostRefused = 200;

    /// <summary>What came of the file; null when none was sent.</summary>
    public TelemetryTaken? Taken { get; private set; }

    public string FileName { get; private set; } = "";

    public IActionResult OnGet() => LocalRedirect("/exchange");

    public async Task<IActionResult> OnPost(IFormFile? file, CancellationToken ct)
    {
        if (await ReadText(file, TelemetryImport.LargestFile, ct) is not { } text)
            return Page();
        FileName = Path.GetFileName(file!.FileName);
        Taken = await import.Run(FileName, text, Actor, ct);
        if (Taken is { Done: true, Doubted.Count: 0 })
            return Done("/exchange", words["Telemetry.Done", Taken.Taken, Taken.Old]);
        if (!Taken.Done)
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
