using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.Core.Jobs;
using Nippers.Core.Walk;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Visits;

/// <summary>One step of a job card: what to do, its caution, and what is entered.</summary>
public sealed class StepModel(VisitViews views, WalkViews walks, SaveStep save, TimeProvider clock, Words words) : NippersPage
{
    public JobContext Job { get; private set; } = null!;

    public JobStep Step { get; private set; } = null!;

    /// <summary>What stands in the form: what was typed and refused, or what is kept.</summary>
    public TypedFields Fields { get; private set; } = TypedFields.None;

    /// <summary>Revision to send back with the next answer.</summary>
    public int Revision { get; private set; }

    /// <summary>Kept, but the step is not done with it.</summary>
    public StepResult? Result { get; private set; }

    public DateTimeOffset Now => clock.GetUtcNow();

    public int At => Job.Card.Steps.IndexOf(Step);

    public JobStep? Before => At > 0 ? Job.Card.Steps[At - 1] : null;

    public JobStep? After => At + 1 < Job.Card.Steps.Length ? Job.Card.Steps[At + 1] : null;

    /// <summary>Code of a bottle that was prepared for it.</summary>
    public string? Prepared { get; private set; }

    /// <summary>Fittings of its item that refused grease on the last walks.</summary>
    public IReadOnlyList<GreaseMemory> Grease { get; private set; } = [];

    public async Task<IActionResult> OnGet(long id, string code, [FromQuery] string? mark, CancellationToken ct)
    {
        if (!await Load(id, code, ct))
            return NotFound();
        FromKept();
        if (Step.Input == InputKind.Bottle && Fields["mark"] is null)
            Fields = Fields.With("mark", mark);
        if (Step.Input == InputKind.Waste && Fields["mark"] is null)
            Fields = Fields.With("mark", await views.LastWaste(Job, ct));
        Result = Job.State.ResultOf(Step);
        return Page();
    }

    public async Task<IActionResult> OnPost(
        long id,
        string code,
        [FromForm] int revision,
        [FromForm] bool toCard,
        [FromForm] List<string>? go,
        List<IFormFile>? photo,
        CancellationToken ct
    )
    {
        var typed = Request.TypedFields();
        var input = new StepInput(code, typed, revision) { Photos = await PhotoUploads.Read(photo, ct) };
        var outcome = await save.Run(id, input, go?.Skip(1) ?? [], typed, Actor, ct);
        if (!await Load(id, code, ct))
            return NotFound();
        (Fields, Revision) = (typed, revision);
        if (!outcome.Done)
        {
            Refuse(outcome.Refusals);
            return Page();
        }

        var saved = outcome.Value!;
        if (!saved.Result.Accepted)
        {
            Result = saved.Result;
            FromKept();
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }

        // On to the next step that can be done; what came of this one is said there.
        if (toCard)
            return LocalRedirect($"{VisitUrls.One(id)}#band-{CardBand.Of(Job.Card.Steps).TakeWhile(x => !x.Steps.Contains(Step)).Count()}");
        var to =
            Job.State.Next is { } next
            && Job
                .Card.Steps.Skip(At + 1)
                .FirstOrDefault(x => !Job.State.IsDone(x) && !Job.State.IsLeft(x) && Job.State.BlockedBy(x).IsEmpty)
                is var after
                ? VisitUrls.Step(id, (after ?? next).Code)
                : VisitUrls.One(id, "end");
        return saved.DefectId is { } defect ? Done(to, words["Step.MadeDefect", defect]) : LocalRedirect(to);
    }

    private void FromKept()
    {
        Fields = StepForm.Write(Step, Job.State.AnswerOf(Step));
        Revision = Job.Rows.TryGetValue(Step.Code, out var row) ? row.Revision : 0;
    }

    private async Task<bool> Load(long id, string code, CancellationToken ct)
    {
        if (await views.Job(id, ct) is not { } job || job.StepOf(code) is not { } step)
            return false;
        (Job, Step) = (job, step);
        Prepared = await views.Prepared(job, step, ct);
        Grease = await walks.GreaseOf(job.Row.Machine, step.Item, ct);
        return true;
    }
}
