using Microsoft.AspNetCore.Mvc;
using Nippers.App.Defects;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Walk;
using Nippers.Data.Walks;
using Nippers.Views.Text;
using Nippers.Views.Walks;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Walks;

/// <summary>One station of a walk: its checks as big buttons, each answer kept as it is given.</summary>
public sealed class StepModel(WalkViews views, SaveAnswer save, ReportDefect report, DefectNotes notes, Words words) : NippersPage
{
    public WalkContext Walk { get; private set; } = null!;

    public WalkStep Step { get; private set; } = null!;

    // On the page of the whole walk a tap answers with its station, and with all of them once a stop was found.
    private bool OnePage => Request.HasFormContentType && Request.Form["view"] == StationCard.One;

    /// <summary>The check whose form is open on a page without scripts.</summary>
    public CheckCard? Card { get; private set; }

    public FaultForm? Fault { get; private set; }

    /// <summary>The steps before and after this one.</summary>
    public WalkStep? Before => At > 0 ? Walk.Steps[At - 1] : null;

    public WalkStep? After => At + 1 < Walk.Steps.Length ? Walk.Steps[At + 1] : null;

    public int At => Walk.Steps.IndexOf(Step);

    public async Task<IActionResult> OnGet(long id, string step, [FromQuery] string? edit, [FromQuery] string? view, CancellationToken ct)
    {
        if (!await Load(id, step, ct))
            return NotFound();
        if (Walk.Row.State != WalkState.Open)
            return LocalRedirect(WalkUrls.One(id));
        if (edit is not null && Step.Checks.FirstOrDefault(x => x.Code == edit) is { } check)
        {
            Card = new(Walk, step, check, Editing: true, OnePage: view == StationCard.One);
            if (IsHtmx)
                return await Shown<CheckPart, CheckCard>(Card);
        }

        return Page();
    }

    public async Task<IActionResult> OnPostAnswer(
        long id,
        string step,
        [FromForm] string? check,
        [FromForm] int revision,
        CancellationToken ct
    )
    {
        var typed = Request.TypedFields();
        var outcome = await save.Run(id, new(check ?? "", typed, revision), Actor, ct);
        if (!(outcome.Value?.Walk is { } after && outcome.Done ? Take(after, step) : await Load(id, step, ct)))
            return NotFound();
        if (Step.Checks.FirstOrDefault(x => x.Code == check) is not { } asked)
            return NotFound();
        if (outcome.Done)
            return await Saved(asked);
        Refuse(outcome.Refusals);
        Card = new(Walk, step, asked, typed, OnePage: OnePage);
        return IsHtmx ? await Shown<CheckPart, CheckCard>(Card) : Page();
    }

    public async Task<IActionResult> OnPostTick(long id, string step, bool done, CancellationToken ct)
    {
        var outcome = await save.Tick(id, step, done, Actor, ct);
        if (!await Load(id, step, ct))
            return NotFound();
        if (outcome.Done && IsHtmx && OnePage)
            return await SavedStation();
        if (outcome.Done)
            return LocalRedirect(
                done && After is not null ? WalkUrls.Step(id, After.Code)
                : done ? WalkUrls.One(id, "end")
                : WalkUrls.Step(id, step)
            );
        Refuse(outcome.Refusals);
        return Page();
    }

    public async Task<IActionResult> OnPostFault(
        long id,
        string step,
        string check,
        [FromForm(Name = "words")] string? said,
        string? usual,
        DefectGrade? grade,
        string? limitHours,
        string? limitDays,
        string? fixedWords,
        string? minutes,
        string? parts,
        string? lookAgainHours,
        List<IFormFile>? photo,
        CancellationToken ct
    )
    {
        if (!await Load(id, step, ct))
            return NotFound();
        if (Step.Checks.FirstOrDefault(x => x.Code == check) is not { } found)
            return NotFound();
        var input = new DefectInput
        {
            Unit = Walk.Row.Machine.Unit,
            Words = said,
            Usual = usual,
            Grade = grade,
            ChoosesGrade = true,
            LimitHours = limitHours,
            LimitDays = limitDays,
            WalkId = id,
            Check = check,
            Fixed = fixedWords,
            Minutes = minutes,
            Parts = parts,
            LookAgainHours = lookAgainHours,
            Photos = await PhotoUploads.Read(photo, ct),
            Key = Key,
        };
        var outcome = await report.Run(input, Actor, ct);
        await Load(id, step, ct);
        var card = new CheckCard(Walk, step, found, OnePage: OnePage);
        if (outcome.Done)
            return await Saved(found);
        Refuse(outcome.Refusals);
        Card = card;
        Fault = new(card, input);
        ViewData[nameof(FaultForm)] = Fault;
        return IsHtmx ? await Shown<CheckPart, CheckCard>(card) : Page();
    }

    public async Task<IActionResult> OnPostAgain(
        long id,
        string step,
        long defect,
        Again again,
        string? check,
        string? note,
        CancellationToken ct
    )
    {
        var outcome = await notes.LookedAgain(defect, id, again, note, Actor, ct);
        if (!await Load(id, step, ct))
            return NotFound();
        var asked = Step.Checks.FirstOrDefault(x => x.Code == check);
        if (outcome.Done && IsHtmx && OnePage && asked is null)
            return await SavedStation();
        if (outcome.Done)
            return IsHtmx && asked is not null
                ? await Saved(asked)
                : Done($"{WalkUrls.Step(id, step)}{(asked is null ? "" : "#check-" + asked.Code)}", words["Again.Did." + again]);
        Refuse(outcome.Refusals);
        return Page();
    }

    public async Task<IActionResult> OnPostAllOk(long id, string step, CancellationToken ct)
    {
        var outcome = await save.AllOk(id, step, Actor, ct);
        if (!await Load(id, step, ct))
            return NotFound();
        if (outcome.Done)
            return IsHtmx && OnePage ? await SavedStation() : LocalRedirect(WalkUrls.Step(id, step));
        Refuse(outcome.Refusals);
        return Page();
    }

    public async Task<IActionResult> OnPostPhoto(long id, string step, string? check, List<IFormFile>? photo, CancellationToken ct)
    {
        var photos = await PhotoUploads.Read(photo, ct);
        var outcome = await save.Photo(id, check ?? "", photos.Count > 0 ? photos[0] : null, Actor, ct);
        if (!await Load(id, step, ct))
            return NotFound();
        if (Step.Checks.FirstOrDefault(x => x.Code == check) is not { } asked)
            return NotFound();
        if (outcome.Done)
            return await Saved(asked);
        Refuse(outcome.Refusals);
        Card = new(Walk, step, asked, OnePage: OnePage);
        return IsHtmx ? await Shown<CheckPart, CheckCard>(Card) : Page();
    }

    /// <summary>Answers with the check as it now stands; on one page with all of it, when that has just found a stop.</summary>
    private async Task<IActionResult> Saved(WalkCheck check)
    {
        if (!IsHtmx)
            return LocalRedirect($"{WalkUrls.Step(Walk.Row.Id, Step.Code)}#check-{check.Code}");
        return OnePage && JustStopped
            ? await AllSteps()
            : await Shown<CheckSavedPart, CheckCard>(new(Walk, Step.Code, check, OnePage: OnePage));
    }

    private async Task<IActionResult> SavedStation() =>
        JustStopped ? await AllSteps() : await Shown<StationSavedPart, StationCard>(new(Walk, Step, OnePage: true));

    // The page that was tapped still asks for keys and starts.
    private bool JustStopped => Walk.StopFound && Request.Form["stopped"] != "true";

    private async Task<IActionResult> AllSteps()
    {
        Response.Headers["HX-Retarget"] = "#walk-steps";
        Response.Headers["HX-Reswap"] = "outerHTML";
        return await Shown<StepsSavedPart, StepsCard>(new(Walk, Step.Code));
    }

    private async Task<bool> Load(long id, string step, CancellationToken ct) => await views.Walk(id, ct) is { } walk && Take(walk, step);

    private bool Take(WalkContext walk, string step)
    {
        if (walk.Steps.FirstOrDefault(x => x.Code == step) is not { } found)
            return false;
        (Walk, Step) = (walk, found);
        return true;
    }
}
