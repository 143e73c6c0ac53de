using Microsoft.AspNetCore.Mvc;
using Nippers.App.Oil;
using Nippers.Core.Oil;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Samples;

/// <summary>Types in what a laboratory's letter says, or corrects it.</summary>
public sealed class ResultsModel(SampleViews views, TakeResults results, Words words) : NippersPage
{
    private IReadOnlyDictionary<string, string?> _values = new Dictionary<string, string?>();

    public SamplePage Sample { get; private set; } = null!;

    public string? Iso { get; private set; }

    public string? Comment { get; private set; }

    public string? LabNumber { get; private set; }

    public string? Value(string code) => _values.GetValueOrDefault(code);

    public async Task<IActionResult> OnGet(long id, CancellationToken ct)
    {
        if (await views.One(id, ct) is not { Sample.VoidedAt: null } sample)
            return NotFound();
        Sample = sample;
        if (sample.Report is not { } report)
            return Page();
        _values = OilCase.ReadFigures(report.Figures).ToDictionary(x => x.Key, x => (string?)x.Value, StringComparer.Ordinal);
        (Iso, Comment, LabNumber) = (report.Iso, report.Comment, report.LabNumber);
        return Page();
    }

    public async Task<IActionResult> OnPost(long id, string? iso, string? comment, string? labNumber, CancellationToken ct)
    {
        var form = await Request.ReadFormAsync(ct);
        _values = Measurands
            .Reported.Append(Measurand.Glycol)
            .ToDictionary(x => x.Code(), x => (string?)form[x.Code()], StringComparer.Ordinal);
        (Iso, Comment, LabNumber) = (iso, comment, labNumber);
        var outcome = await results.ByHand(id, _values, iso, comment, labNumber, Actor, ct);
        if (outcome.Done)
            return Done(SampleWords.One(id), words["Results.Saved", outcome.Value!.Bottle]);
        if (await views.One(id, ct) is not { } sample)
            return NotFound();
        Sample = sample;
        Refuse(outcome.Refusals);
        return Page();
    }
}
