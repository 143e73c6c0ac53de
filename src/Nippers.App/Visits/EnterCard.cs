using System.Globalization;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Data;

namespace Nippers.App.Visits;

/// <summary>A step as it stands on the paper card.</summary>
/// <param name="Code">Its code.</param>
/// <param name="Typed">What was typed of it.</param>
public sealed record PaperStep(string Code, TypedFields Typed)
{
    /// <summary>Whether anything was typed or ticked: a step that nobody touched is not entered.</summary>
    public bool IsEmpty => Typed.IsEmpty;
}

/// <summary>What came of a paper card that was entered.</summary>
/// <param name="Saved">Steps that are done with it.</param>
/// <param name="Refused">What stands against the others, by step.</param>
/// <param name="NotDone">Steps that are kept and not done, with why.</param>
public sealed record EnteredCard(
    int Saved,
    IReadOnlyDictionary<string, IReadOnlyList<Refusal>> Refused,
    IReadOnlyDictionary<string, StepResult> NotDone
);

/// <summary>
/// Enters a card that was worked on paper, in one pass: its steps in their order, their times spread over the hours that it took as
/// they were planned. Every rule of the card holds; what does not do stays, with its reason.
/// </summary>
public sealed class EnterCard(NippersDb db, UnitOfWork writes, SaveStep save)
{
    private const string Form = "yyyy-MM-ddTHH:mm";

    /// <summary>Enters it.</summary>
    /// <param name="visitId">The visit.</param>
    /// <param name="from">When the work began, at the site.</param>
    /// <param name="to">When it ended, at the site.</param>
    /// <param name="steps">The steps, in the order of the card.</param>
    /// <param name="actor">Who enters it.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<Outcome<EnteredCard>> Run(
        long visitId,
        string? from,
        string? to,
        IReadOnlyList<PaperStep> steps,
        Actor actor,
        CancellationToken ct
    )
    {
        if (await JobContext.Load(db, visitId, ct) is not { IsOpen: true } job)
            return Outcome<EnteredCard>.Refused(Refusals.CardNotOpen());
        var refusals = new List<Refusal>();
        var zone = TimeZoneInfo.FindSystemTimeZoneById(job.Row.Machine.Site.TimeZone);
        var (begun, ended) = (Read(from, "from", zone, refusals), Read(to, "to", zone, refusals));
        if (ended < begun || ended > writes.Now)
            refusals.Add(Refusals.NotATime("to"));
        if (refusals.Count > 0)
            return Outcome<EnteredCard>.Refused(refusals);

        var whole = job.Card.Order.IsEmpty ? 1 : Math.Max(1, job.Card.Order.Max(x => x.End));
        var planned = job.Card.Order.ToDictionary(x => x.Code, x => x.Start / whole, StringComparer.Ordinal);
        var refused = new Dictionary<string, IReadOnlyList<Refusal>>(StringComparer.Ordinal);
        var notDone = new Dictionary<string, StepResult>(StringComparer.Ordinal);
        var saved = 0;
        foreach (var step in steps.Where(x => !x.IsEmpty))
        {
            writes.DoneAt(begun + (ended - begun) * planned.GetValueOrDefault(step.Code));
            if (await save.Run(visitId, now => ToEnter(now, step), actor, ct) is not { } outcome)
                continue;
            if (!outcome.Done)
                refused[step.Code] = outcome.Refusals;
            else if (!outcome.Value!.Result.Accepted)
                notDone[step.Code] = outcome.Value.Result;
            else
                saved++;
        }

        return Outcome<EnteredCard>.Of(new(saved, refused, notDone));
    }

    /// <summary>What is entered of a step as the card stands by then; null for nothing.</summary>
    private static StepInput? ToEnter(JobContext now, PaperStep step)
    {
        if (now.StepOf(step.Code) is not { } asked || now.State.IsDone(asked))
            return null;

        // What stood on the card and was not touched is not entered again: a filter that did not fit, for example.
        if (now.State.AnswerOf(asked) is { } answered && step.Typed.StandsIn(StepForm.Write(asked, answered)))
            return null;
        return new(step.Code, Whole(now, asked, step.Typed), Revision(now, asked)) { Paper = true };
    }

    private static int Revision(JobContext job, JobStep step) => job.Rows.GetValueOrDefault(step.Code)?.Revision ?? 0;

    // On paper each part has its own box, and was ticked there; the number that is printed is the one that was fitted.
    private static TypedFields Whole(JobContext job, JobStep step, TypedFields typed)
    {
        if (step.Input == InputKind.Filter && typed["part"] is null && step.Part.Length > 0)
            typed = typed.With("part", step.Part);
        if (!typed.Has("done") && step.Input is InputKind.Tick or InputKind.Touched)
            return typed;
        var all = typed.WithAll("ticked", step.Parts);
        return step.Input == InputKind.Touched ? all.WithAll("home", job.State.TouchedBefore(step)) : all;
    }

    private static DateTimeOffset Read(string? text, string field, TimeZoneInfo zone, List<Refusal> refusals)
    {
        if (
            DateTime.TryParseExact(text, Form, CultureInfo.InvariantCulture, DateTimeStyles.None, out var local)
            && Years.Hold(DateOnly.FromDateTime(local))
            && !zone.IsInvalidTime(local)
        )
            return new(TimeZoneInfo.ConvertTimeToUtc(local, zone), TimeSpan.Zero);
        refusals.Add(Refusals.NotATime(field));
        return default;
    }
}
