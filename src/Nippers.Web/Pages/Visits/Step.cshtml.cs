using Microsoft.AspNetCore.Mvc;
using Nippers.App.Visits;
using Nippers.Core.Defects;
using Nippers.Core.Jobs;
using Nippers.Core.Walk;
using Nippers.Web.Hosting;
using Nippers.Web.Text;

namespace Nippers.Web.Pages.Visits;

/// <summary>A step's answer as the form posts it.</summary>
public sealed class StepPost
{
    public bool Done { get; set; }
    public string? Level { get; set; }
    public string? Litres { get; set; }
    public FluidLook? Look { get; set; }
    public MetalFinding? Metal { get; set; }
    public DrainAmount? Water { get; set; }
    public string? Count { get; set; }
    public List<string?> Figures { get; set; } = [];
    public string? Part { get; set; }
    public string? Make { get; set; }
    public string? LengthMm { get; set; }
    public string? OuterMm { get; set; }
    public string? SealMm { get; set; }
    public string? Thread { get; set; }
    public bool SealOff { get; set; }
    public bool SeatWiped { get; set; }
    public bool SealNew { get; set; }
    public bool Turned { get; set; }
    public bool Written { get; set; }
    public bool Prefilled { get; set; }
    public List<string> Home { get; set; } = [];
    public string? Reason { get; set; }
    public string? Fault { get; set; }
    public DefectGrade? FaultGrade { get; set; }
    public string? Name { get; set; }
    public string? Mark { get; set; }
    public string? Note { get; set; }
    public bool NotInCatalogue { get; set; }
    public int Revision { get; set; }

    /// <summary>Ticked on the card itself: back there.</summary>
    public bool ToCard { get; set; }

    /// <summary>The form filled in from what is kept, and from what the catalogue says belongs here.</summary>
    public static StepPost Of(JobStep step, StepAnswer? answer, int revision) =>
        answer is null
            ? new() { Part = step.Part, Revision = revision }
            : new()
            {
                Done = answer.Done,
                Level = Text(answer.Level * 100),
                Litres = Text(answer.Litres),
                Look = answer.Look,
                Metal = answer.Metal,
                Water = answer.Water,
                Count = answer.Count?.ToString(System.Globalization.CultureInfo.InvariantCulture),
                Figures = [.. answer.Figures?.Select(x => Text(x)) ?? []],
                Part = answer.Part,
                Make = answer.Make,
                LengthMm = Text(answer.Size?.LengthMm),
                OuterMm = Text(answer.Size?.OuterMm),
                SealMm = Text(answer.Size?.SealMm),
                Thread = answer.Size?.Thread,
                SealOff = answer.SealOff,
                SeatWiped = answer.SeatWiped,
                SealNew = answer.SealNew,
                Turned = answer.Turned,
                Written = answer.Written,
                Prefilled = answer.Prefilled,
                Home = [.. answer.Home],
                Reason = answer.Reason,
                Fault = answer.Fault,
                Name = answer.Name,
                Mark = answer.Mark,
                Note = answer.Note,
                Revision = revision,
            };

    public StepInput ToInput(string code, IReadOnlyList<byte[]> photos) =>
        new()
        {
            Code = code,
            Done = Done,
            Level = Level,
            Litres = Litres,
            Look = Look,
            Metal = Metal,
            Water = Water,
            Count = Count,
            Figures = Figures,
            Part = Part,
            Make = Make,
            LengthMm = LengthMm,
            OuterMm = OuterMm,
            SealMm = SealMm,
            Thread = Thread,
            SealOff = SealOff,
            SeatWiped = SeatWiped,
            SealNew = SealNew,
            Turned = Turned,
            Written = Written,
            Prefilled = Prefilled,
            Home = Home,
            Reason = Reason,
            Fault = Fault,
            FaultGrade = FaultGrade,
            Name = Name,
            Mark = Mark,
            Note = Note,
            NotInCatalogue = NotInCatalogue,
            Photos = photos,
            Revision = Revision,
        };

    private static string? Text(double? value) => value?.ToString("0.###", System.Globalization.CultureInfo.InvariantCulture);
}

/// <summary>One step of a job card: what to do, its caution, and what is entered.</summary>
public sealed class StepModel(VisitViews views, SaveStep save, Words words) : NippersPage
{
    public JobContext Job { get; private set; } = null!;

    public JobStep Step { get; private set; } = null!;

    public StepPost Post { get; private set; } = new();

    /// <summary>Kept, but the step is not done with it.</summary>
    public StepResult? Result { get; private set; }

    public int At => Job.Card.Steps.IndexOf(Step);

    public JobStep? Before => At > 0 ? Job.Card.Steps[At - 1] : null;

    public JobStep? After => At + 1 < Job.Card.Steps.Length ? Job.Card.Steps[At + 1] : null;

    /// <summary>Code of a bottle that was prepared for it.</summary>
    public string? Prepared { get; private set; }

    public async Task<IActionResult> OnGet(long id, string code, [FromQuery] string? mark, CancellationToken ct)
    {
        if (!await Load(id, code, ct))
            return NotFound();
        Post = StepPost.Of(Step, Job.State.AnswerOf(Step), Job.Rows.TryGetValue(code, out var row) ? row.Revision : 0);
        if (Step.Input == InputKind.Bottle)
            Post.Mark ??= mark;
        Result = Job.State.ResultOf(Step);
        return Page();
    }

    public async Task<IActionResult> OnPost(long id, string code, StepPost post, List<IFormFile>? photo, CancellationToken ct)
    {
        var outcome = await save.Run(id, post.ToInput(code, await PhotoUploads.Read(photo, ct)), Actor, ct);
        if (!await Load(id, code, ct))
            return NotFound();
        Post = post;
        if (!outcome.Done)
        {
            Refuse(outcome.Refusals);
            return Page();
        }

        var saved = outcome.Value!;
        if (!saved.Result.Accepted)
        {
            Result = saved.Result;
            Post = StepPost.Of(Step, Job.State.AnswerOf(Step), Job.Rows[code].Revision);
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }

        // On to the next step that can be done; what came of this one is said there.
        if (post.ToCard)
            return LocalRedirect($"{VisitUrls.One(id)}#phase-{(int)Step.Phase}");
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

    private async Task<bool> Load(long id, string code, CancellationToken ct)
    {
        if (await views.Job(id, ct) is not { } job || job.StepOf(code) is not { } step)
            return false;
        (Job, Step) = (job, step);
        Prepared = await views.Prepared(job, step, ct);
        return true;
    }
}
