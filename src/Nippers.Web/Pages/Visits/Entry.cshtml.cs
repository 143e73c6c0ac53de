using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Data.Visits;
using Nippers.Views.Cards;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Visits;

/// <summary>A card that was worked on paper, entered in one pass.</summary>
public sealed class EntryModel(VisitViews views, EnterCard enter, TimeProvider clock, Words words) : NippersPage
{
    public JobContext Job { get; private set; } = null!;

    /// <summary>What was typed, where something was refused.</summary>
    public TypedFields Typed { get; private set; } = TypedFields.None;

    /// <summary>Steps that are kept and not done, with why.</summary>
    public IReadOnlyDictionary<string, StepResult> NotDone { get; private set; } = new Dictionary<string, StepResult>();

    public string From { get; private set; } = "";

    public string To { get; private set; } = "";

    /// <summary>Steps that are open, with their number on the paper.</summary>
    public IReadOnlyList<EntryLine> Lines =>
        [
            .. Job
                .Card.Steps.Select((x, i) => (Step: x, Number: i + 1))
                .Where(x => Job.State.IsOpen(x.Step))
                .Select(x => Line(x.Step, x.Number)),
        ];

    /// <summary>What the names of a step's fields begin with: its code, which stays when the card gets more steps.</summary>
    public static string Prefix(JobStep step) => step.Code + "|";

    private EntryLine Line(JobStep step, int number)
    {
        var prefix = Prefix(step);
        var typed = Typed.Within(prefix);
        if (typed.IsEmpty)
            typed = StepForm.Write(step, Job.State.AnswerOf(step)).With("part", null);
        var unknown = Refusals.Any(x => x.Code == "partUnknown" && x.Field == prefix + "part");
        return new(new(Job, step, typed, unknown, null, prefix), number, NotDone.GetValueOrDefault(step.Code));
    }

    public async Task<IActionResult> OnGet(long id, CancellationToken ct)
    {
        if (await views.Job(id, ct) is not { } job)
            return NotFound();
        if (job.Row.State != VisitState.Open)
            return LocalRedirect(VisitUrls.One(id));
        Job = job;
        var zone = TimeZoneInfo.FindSystemTimeZoneById(job.Row.Machine.Site.TimeZone);
        string Local(DateTimeOffset at) => TimeZoneInfo.ConvertTime(at, zone).ToString("yyyy-MM-ddTHH:mm", CultureInfo.InvariantCulture);
        (From, To) = (Local(job.Row.OpenedAt!.Value), Local(clock.GetUtcNow()));
        return Page();
    }

    public async Task<IActionResult> OnPost(long id, string? from, string? to, CancellationToken ct)
    {
        if (await views.Job(id, ct) is not { } job)
            return NotFound();
        Typed = Request.TypedFields();
        (From, To) = (from ?? "", to ?? "");
        var steps = job.Card.Steps.Select(x => new PaperStep(x.Code, Typed.Within(Prefix(x)))).ToList();
        var outcome = await enter.Run(id, from, to, steps, Actor, ct);
        if (!outcome.Done)
        {
            Job = job;
            Refuse(outcome.Refusals);
            return Page();
        }

        var entered = outcome.Value!;
        if (entered.Refused.Count + entered.NotDone.Count == 0)
            return Done(VisitUrls.One(id), words["Entry.Done", entered.Saved]);
        Job = (await views.Job(id, ct))!;
        NotDone = entered.NotDone;
        Refuse([
            .. Job
                .Card.Steps.Where(x => entered.Refused.ContainsKey(x.Code))
                .SelectMany(x => entered.Refused[x.Code].Select(r => r with { Field = Prefix(x) + r.Field })),
        ]);
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
