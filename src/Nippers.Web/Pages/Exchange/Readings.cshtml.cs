using Microsoft.AspNetCore.Mvc;
using Nippers.App.Exchange;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Exchange;

/// <summary>Readings from a CSV: shown row by row, then all or nothing.</summary>
[RequestSizeLimit(ReadingsImport.LargestFile * 2)]
public sealed class ReadingsModel(ReadingsImport import, Words words) : NippersPage
{
    /// <summary>Refused rows shown, the first of them.</summary>
    public const int MostRefused = 200;

    /// <summary>Other rows shown.</summary>
    public const int MostOthers = 50;

    public ImportPreview? Preview { get; private set; }

    public string? DraftId { get; private set; }

    public string? FileName { get; private set; }

    public IActionResult OnGet() => LocalRedirect("/exchange");

    public async Task<IActionResult> OnPost(IFormFile? file, CancellationToken ct)
    {
        if (await ReadText(file, ReadingsImport.LargestFile, ct) is not { } text)
            return Page();
        FileName = Path.GetFileName(file!.FileName);
        Preview = await import.Preview(text, ct);
        if (Preview.CanApply)
            DraftId = await import.SaveDraft(FileName, text, Actor, ct);
        else
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    public async Task<IActionResult> OnPostApply(string draft, CancellationToken ct)
    {
        var outcome = await import.Apply(draft, Actor, ct);
        if (outcome.Done)
            return Done("/exchange", words["Import.Done", outcome.Value!.Accepted, outcome.Value.Unconfirmed, outcome.Value.Unchanged]);
        Refuse(outcome.Refusals);
        return Page();
    }
}
