using Nippers.App.Defects;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>Reads an answer for a check out of what came in; null when it can't, with what is wrong among the refusals.</summary>
public delegate CheckAnswer? AnswerReader(WalkCheck check, List<Refusal> refusals);

/// <summary>An answer that came in.</summary>
/// <param name="Check">Code of the check.</param>
/// <param name="Read">Gives the answer.</param>
/// <param name="Revision">Revision that the person had on the screen; 0 for none.</param>
public sealed record AnswerInput(string Check, AnswerReader Read, int Revision = 0)
{
    /// <summary>An answer that is one already.</summary>
    public AnswerInput(string check, CheckAnswer answer, int revision = 0)
        : this(check, (_, _) => answer, revision) { }

    /// <summary>An answer as it was typed.</summary>
    public AnswerInput(string check, TypedFields typed, int revision = 0)
        : this(check, (asked, refusals) => CheckForm.Read(asked, typed, refusals), revision) { }
}

/// <summary>An answer that was kept, and what it came to.</summary>
public sealed record SavedAnswer(WalkCheck Check, CheckAnswer Answer, CheckResult Result, int Revision, string By);

/// <summary>Keeps one answer of an open walk, as it is given. Two phones on one walk notice each other.</summary>
public sealed class SaveAnswer(NippersDb db, UnitOfWork writes, DefectNotes notes)
{
    /// <summary>Codes of steps that are ticked, not answered, begin with this.</summary>
    public const string StepPrefix = "step:";

    public Task<Outcome<SavedAnswer>> Run(long walkId, AnswerInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var walk = await WalkContext.Load(db, walkId, ct);
                if (walk is null)
                    return Outcome<SavedAnswer>.Refused(Refusals.NoSuchWalk());
                return await Keep(walk, input, actor, ct);
            },
            ct
        );

    /// <summary>
    /// Says OK of all looks of a station that are left: none that is safety-critical, that has an open defect, or that failed in the last
    /// 30 days. The record keeps that it was said at once.
    /// </summary>
    public Task<Outcome<Nothing>> AllOk(long walkId, string step, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var walk = await WalkContext.Load(db, walkId, ct);
                if (walk is null)
                    return Outcome<Nothing>.Refused(Refusals.NoSuchWalk());
                if (walk.Row.State != WalkState.Open)
                    return Outcome<Nothing>.Refused(Refusals.WalkNotOpen());
                if (walk.Steps.FirstOrDefault(x => x.Code == step && x.Kind == StepKind.Station) is not { } station)
                    return Outcome<Nothing>.Refused(Refusals.NoSuchStep());
                foreach (var check in station.Checks.Where(walk.MayBeSaidAtOnce))
                {
                    db.WalkAnswers.Add(
                        new()
                        {
                            WalkId = walkId,
                            Code = check.Code,
                            By = actor.Name,
                            At = writes.Now,
                            Answer = PackedAnswers.WriteOne(CheckAnswer.OkAtOnce),
                            Revision = 1,
                        }
                    );
                }

                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Ticks a step between stations, or takes the tick off.</summary>
    public Task<Outcome<Nothing>> Tick(long walkId, string step, bool done, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var walk = await WalkContext.Load(db, walkId, ct);
                if (walk is null)
                    return Outcome<Nothing>.Refused(Refusals.NoSuchWalk());
                if (walk.Row.State != WalkState.Open)
                    return Outcome<Nothing>.Refused(Refusals.WalkNotOpen());
                if (!walk.Steps.Any(x => x.Code == step && x.Kind != StepKind.Station))
                    return Outcome<Nothing>.Refused(Refusals.NoSuchStep());
                var code = StepPrefix + step;
                var row = await db.WalkAnswers.FindAsync([walkId, code], ct);
                if (row is null)
                    db.WalkAnswers.Add(
                        row = new()
                        {
                            WalkId = walkId,
                            Code = code,
                            By = actor.Name,
                            Answer = "",
                        }
                    );
                row.By = actor.Name;
                row.At = writes.Now;
                row.Answer = done ? "done" : "";
                row.Revision++;
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Keeps an answer inside the caller's transaction.</summary>
    internal async Task<Outcome<SavedAnswer>> Keep(WalkContext walk, AnswerInput input, Actor actor, CancellationToken ct)
    {
        if (walk.Row.State != WalkState.Open)
            return Outcome<SavedAnswer>.Refused(Refusals.WalkNotOpen());
        var check = walk.Checks.FirstOrDefault(x => x.Code == input.Check);
        if (check is null)
            return Outcome<SavedAnswer>.Refused(Refusals.NoSuchCheck("", input.Check));

        var refusals = new List<Refusal>();
        var answer = input.Read(check, refusals);
        if (answer is not null)
            refusals.AddRange(AnswerRules.Of(check, answer).Where(x => !refusals.Exists(y => y.Field == x.Field)).ToList());
        if (answer is null || refusals.Count > 0)
            return Outcome<SavedAnswer>.Refused(refusals);

        var result = walk.Judge(check, answer);
        var row = await db.WalkAnswers.FindAsync([walk.Row.Id, check.Code], ct);
        var text = PackedAnswers.WriteOne(answer);
        if (row is not null && row.Revision != input.Revision && row.Answer != text)
        {
            return new(new SavedAnswer(check, answer, result, row.Revision, row.By), [Refusals.AnsweredMeanwhile(row.By)]);
        }

        if (row is null)
            db.WalkAnswers.Add(
                row = new()
                {
                    WalkId = walk.Row.Id,
                    Code = check.Code,
                    By = actor.Name,
                    Answer = text,
                }
            );
        row.Answer = text;
        row.By = actor.Name;
        row.At = writes.Now;
        row.Revision++;
        await notes.HoldAgainst(walk, check, answer, result, actor, ct);
        return Outcome<SavedAnswer>.Of(new(check, answer, result, row.Revision, actor.Name));
    }
}
