using Microsoft.AspNetCore.Mvc;
using Nippers.App.Oil;
using Nippers.Data.Oil;
using Nippers.Formats.Lab;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Samples;

/// <summary>Results from a laboratory's file: columns mapped once, every row shown, then taken in.</summary>
[RequestSizeLimit(LabImport.LargestFile * 2)]
public sealed class ImportModel(LabImport import, Labs labs, Words words) : NippersPage
{
    /// <summary>Rows shown; those that can't be read come first.</summary>
    public const int MostShown = 200;

    /// <summary>Units that a column may be in.</summary>
    public static IReadOnlyList<string> Units { get; } = ["ppm", "mg/kg", "%", "cSt", "mm2/s", "A/cm", "mg KOH/g", "per ml", "per 100 ml"];

    public IReadOnlyList<LabRow> Labs { get; private set; } = [];

    public int? Lab { get; private set; }

    public string? Draft { get; private set; }

    public string? FileName { get; private set; }

    public LabImportPreview? Preview { get; private set; }

    public async Task OnGet(CancellationToken ct) => Labs = await labs.List(ct);

    public async Task<IActionResult> OnPost(int? lab, IFormFile? file, CancellationToken ct)
    {
        (Lab, Labs) = (lab, await labs.List(ct));
        if (await ReadText(file, LabImport.LargestFile, ct) is not { } text)
            return Page();
        FileName = Path.GetFileName(file!.FileName);
        Draft = await import.SaveDraft(FileName, text, Actor, ct);
        return await Show(null, ct);
    }

    /// <summary>Looks again with other columns.</summary>
    public Task<IActionResult> OnPostMap(
        int? lab,
        string draft,
        string? fileName,
        string[] header,
        string[] field,
        string[] unit,
        CancellationToken ct
    )
    {
        (Lab, Draft, FileName) = (lab, draft, fileName);
        return Show(Columns(header, field, unit), ct);
    }

    public async Task<IActionResult> OnPostApply(
        int? lab,
        string draft,
        string? fileName,
        string[] header,
        string[] field,
        string[] unit,
        CancellationToken ct
    )
    {
        (Lab, Draft, FileName) = (lab, draft, fileName);
        var columns = Columns(header, field, unit);
        var outcome = await import.Apply(lab, draft, columns, Actor, ct);
        if (!outcome.Done)
        {
            Refuse(outcome.Refusals);
            return await Show(columns, ct);
        }

        var done = outcome.Value!;
        return Done(
            "/samples?part=ToReview",
            words[
                done.Left > 0 ? "LabImport.DonePartly" : "LabImport.Done",
                done.Matched,
                done.Corrections,
                done.Unchanged,
                done.Unmatched,
                done.Unreadable,
                done.Left
            ]
        );
    }

    private static List<LabColumn> Columns(string[] header, string[] field, string[] unit) =>
        [.. header.Select((x, i) => new LabColumn(x, i < field.Length ? field[i] ?? "" : "", i < unit.Length ? unit[i] ?? "" : ""))];

    private async Task<IActionResult> Show(IReadOnlyList<LabColumn>? columns, CancellationToken ct)
    {
        var outcome = await import.Preview(Lab, Draft ?? "", columns, Actor, ct);
        if (outcome.Done)
        {
            Preview = outcome.Value;
            if (Preview!.Fault is not null)
                Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        }
        else
        {
            Labs = await labs.List(ct);
            Refuse(outcome.Refusals);
        }

        return Page();
    }
}
