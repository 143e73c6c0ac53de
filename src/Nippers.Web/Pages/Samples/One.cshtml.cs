using Microsoft.AspNetCore.Mvc;
using Nippers.App.Defects;
using Nippers.App.Oil;
using Nippers.Core.Defects;
using Nippers.Core.Jobs;
using Nippers.Core.Oil;
using Nippers.Data.Oil;
using Nippers.Views.Text;
using Nippers.Web.Drawing;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Samples;

/// <summary>A sample: the verdict in words, the rake, trends, patterns, and the signature that lets it act.</summary>
public sealed class OneModel(SampleViews views, ReviewSample sign, TakeSample take, SendSamples send, NewOils newOils, Words words)
    : NippersPage
{
    protected override bool ChangesNeedWork => true;

    public SamplePage Sample { get; private set; } = null!;

    /// <summary>The measurand whose trend is shown.</summary>
    public Measurand Tine { get; private set; }

    /// <summary>
    /// What was found by hand: flakes and chunks in used filters since the sample before, and defects that stand open here. No
    /// figure clears them.
    /// </summary>
    public IReadOnlyList<OilEvent> Metal
    {
        get
        {
            var hours = Sample.Sample.LifeHours.Value;
            var since = Sample.History.Where(x => x.Hours < hours).Select(x => x.Hours).DefaultIfEmpty(0).Max();
            var mended = Sample.Events.Where(x => x.Kind == OilEventKind.Repair).Select(x => x.DefectId).ToHashSet();
            return
            [
                .. Sample.Events.Where(x => x.Kind == OilEventKind.Metal && x.Words != nameof(MetalFinding.FinePaste) && x.Hours > since),
                .. Sample.Events.Where(x =>
                    x.Kind == OilEventKind.Defect && x.DefectId != Sample.Sample.DefectId && !mended.Contains(x.DefectId)
                ),
            ];
        }
    }

    public SignedActions? Offer => Sample.Offer;

    public Assessment? Chosen { get; private set; }

    public string? Said { get; private set; }

    public DefectGrade? Defect { get; private set; }

    public string? DefectWords { get; private set; }

    public string? LimitHours { get; private set; } = UsualLimit.Hours;

    public string? LimitDays { get; private set; } = UsualLimit.Days;

    public bool SameFluid { get; private set; }

    public bool NotTrue { get; private set; }

    public IReadOnlyList<SuggestedWork> Work { get; private set; } = [];

    /// <summary>Where the trend is heading; null when nowhere in particular.</summary>
    public (double Hours, double Value)? Heading =>
        Sample.Judgement?.Findings.FirstOrDefault(x => x.Kind == FindingKind.Heading && x.Measurand == Tine) is { } heading
            ? (Sample.Case!.Sample.MachineHours + Sample.Case.Sample.IntervalHours, heading.Value)
            : null;

    public async Task<IActionResult> OnGet(long id, [FromQuery] string? tine, CancellationToken ct)
    {
        if (!await Load(id, tine, ct))
            return NotFound();
        var judgement = Sample.Judgement;
        Work = Offer?.Work ?? [];
        if (judgement is null)
            return Page();
        Defect = judgement.Assessment switch
        {
            Assessment.Critical => DefectGrade.Stop,
            Assessment.Act => DefectGrade.NextService,
            _ => null,
        };
        DefectWords = Proposed(judgement);
        return Page();
    }

    public async Task<IActionResult> OnPostSign(
        long id,
        [FromQuery] string? tine,
        int version,
        Assessment? verdict,
        [FromForm(Name = "words")] string? said,
        DefectGrade? defect,
        string? defectWords,
        string? limitHours,
        string? limitDays,
        string[] dueNow,
        bool sameFluid,
        bool notTrue,
        CancellationToken ct
    )
    {
        var input = new SignInput
        {
            Version = version,
            Assessment = verdict,
            Words = said,
            Defect = defect,
            DefectWords = defectWords,
            LimitHours = defect == DefectGrade.Limit ? limitHours : null,
            LimitDays = defect == DefectGrade.Limit ? limitDays : null,
            DueNow = dueNow,
            SameFluid = sameFluid,
            NotTrue = notTrue,
        };
        var outcome = await sign.Run(id, input, Actor, ct);
        if (outcome.Done)
            return Done(SampleWords.One(id), SaidOf(outcome.Value!));
        if (!await Load(id, tine, ct))
            return NotFound();
        (Chosen, Said, Defect, DefectWords, LimitHours, LimitDays, SameFluid, NotTrue) = (
            verdict,
            said,
            defect,
            defectWords,
            limitHours,
            limitDays,
            sameFluid,
            notTrue
        );
        Work = [.. (Offer?.Work ?? []).Select(x => x with { Ticked = dueNow.Contains(x.Item.Code) })];
        Refuse(outcome.Refusals, Sample.Zone);
        return Page();
    }

    public async Task<IActionResult> OnPostVoid(long id, string? reason, CancellationToken ct)
    {
        var outcome = await take.Void(id, reason, Actor, ct);
        return outcome.Done
            ? Done(SampleWords.One(id), words["Sample.VoidDone", outcome.Value!.Bottle])
            : await Again(id, outcome.Refusals, ct);
    }

    public async Task<IActionResult> OnPostTakeBack(long id, CancellationToken ct)
    {
        var outcome = await send.TakeBack(id, Actor, ct);
        return outcome.Done
            ? Done(SampleWords.One(id), words["Sample.TakenBack", outcome.Value!.Bottle])
            : await Again(id, outcome.Refusals, ct);
    }

    public async Task<IActionResult> OnPostReference(long id, CancellationToken ct)
    {
        var outcome = await newOils.FromSample(id, Actor, ct);
        return outcome.Done
            ? Done(SampleWords.One(id), words["NewOils.Taken", outcome.Value!.Fluid])
            : await Again(id, outcome.Refusals, ct);
    }

    public string TineUrl(Measurand measurand) => $"{SampleWords.One(Sample.Sample.Id)}?tine={measurand.Code()}#trend";

    /// <summary>A figure as the laboratory gave it; a dash for what is derived.</summary>
    public string Given(Measurand measurand)
    {
        var code = measurand switch
        {
            Measurand.TanRise => Measurand.Tan,
            Measurand.Viscosity => Sample.Case!.Sample.Grade?.Measured ?? Measurand.V100,
            _ => measurand,
        };
        if (measurand == Measurand.Iso)
            return Sample.Report?.Iso ?? "";
        return OilCase.ReadFigures(Sample.Report!.Figures).TryGetValue(code.Code(), out var text)
            ? SampleWords.AsGiven(code, text, words)
            : "–";
    }

    /// <summary>What a correction changed.</summary>
    public IEnumerable<string> Changed(ReportRow old, ReportRow now)
    {
        var (before, after) = (OilCase.ReadFigures(old.Figures), OilCase.ReadFigures(now.Figures));
        return before
            .Keys.Union(after.Keys)
            .Where(x => before.GetValueOrDefault(x) != after.GetValueOrDefault(x) && Measurands.Parse(x) is not null)
            .Select(x =>
                words[
                    "Sample.Was",
                    words["Measurand." + Measurands.Parse(x)!.Value],
                    before.GetValueOrDefault(x, "–"),
                    after.GetValueOrDefault(x, "–")
                ]
            );
    }

    private string Proposed(OilJudgement judgement)
    {
        var patterns = judgement.Patterns.Select(x => words["Pattern." + x.Code]).ToList();
        return patterns.Count > 0
            ? words["Sign.DefectProposed", patterns, Sample.Sample.Bottle]
            : words["Sign.DefectPlain", Sample.Sample.Bottle];
    }

    private string SaidOf(SignedSample signed)
    {
        var verdict = words.Of(signed.Sample.SignedAs!.Value);
        return signed.Drain is { Reason: DrainReason.Earned or DrainReason.BadSample } drain
            ? words["Sign.DoneDrain", verdict, Words.Whole(drain.Hours)]
            : words["Sign.Done", verdict];
    }

    private async Task<bool> Load(long id, string? tine, CancellationToken ct)
    {
        if (await views.One(id, ct) is not { } sample)
            return false;
        Sample = sample;
        var judged = Rake.Order.Where(x => sample.Judgement?.LimitGrades[(int)x] is not null).ToList();
        var asked = Measurands.Parse(tine);
        Tine =
            asked is { } known && judged.Contains(known)
                ? known
                : judged.OrderByDescending(x => sample.Judgement?.Reach(x) ?? 0).FirstOrDefault();
        return true;
    }

    private async Task<IActionResult> Again(long id, IReadOnlyList<App.Refusal> refusals, CancellationToken ct)
    {
        if (!await Load(id, null, ct))
            return NotFound();
        Refuse(refusals, Sample.Zone);
        return Page();
    }
}
