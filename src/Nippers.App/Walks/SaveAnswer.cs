using Microsoft.EntityFrameworkCore;
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
    /// <summary>It was given on a phone: of two answers the later counts, and both are on record.</summary>
    public bool LaterCounts { get; init; }

    /// <summary>An answer that is one already.</summary>
    public AnswerInput(string check, CheckAnswer answer, int revision = 0)
        : this(check, (_, _) => answer, revision) { }

    /// <summary>An answer as it was typed.</summary>
    public AnswerInput(string check, TypedFields typed, int revision = 0)
        : this(check, (asked, refusals) => CheckForm.Read(asked, typed, refusals), revision) { }
}

/// <summary>An answer that was kept, and what it came to.</summary>
/// <param name="Check">The check.</param>
/// <param name="Answer">The answer that stands.</param>
/// <param name="Result">What it comes to.</param>
/// <param name="Revision">Revision of the answer.</param>
/// <param name="By">Who gave it.</param>
/// <param name="Walk">The walk with it; null where more than the answer changed, and the walk has to be read again.</param>
public sealed record SavedAnswer(
    WalkCheck Check,
    CheckAnswer Answer,
    CheckResult Result,
    int Revision,
    string By,
    WalkContext? Walk = null
);

/// <summary>Keeps one answer of an open walk, as it is given. Two phones on one walk notice each other.</summary>
public sealed class SaveAnswer(NippersDb db, UnitOfWork writes, DefectNotes notes)
{
    /// <summary>Codes of steps that are ticked, not answered, begin with this.</summary>
    public const string StepPrefix = "step:";

    /// <summary>The step that is ticked once the photo is taken that a walk asks for.</summary>
    public const string PhotoStep = "photo";

    /// <summary>Keeps an answer. The walk is read before its turn to write comes: only one writes at a time, and all wait for it.</summary>
    public async Task<Outcome<SavedAnswer>> Run(long walkId, AnswerInput input, Actor actor, CancellationToken ct) =>
        await WalkContext.Load(db, walkId, ct) is { } walk
            ? await writes.Run(async () => await Over(walkId, ct) ?? await Keep(walk, input, actor, ct), ct, readBefore: true)
            : Outcome<SavedAnswer>.Refused(Refusals.NoSuchWalk());

    /// <summary>A refusal when the walk was signed off or voided since it was read.</summary>
    private async Task<Outcome<SavedAnswer>?> Over(long walkId, CancellationToken ct) =>
        await db.Walks.AnyAsync(x => x.Id == walkId && x.State == WalkState.Open, ct)
            ? null
            : Outcome<SavedAnswer>.Refused(Refusals.WalkNotOpen());

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

    /// <summary>Keeps a photo of what was found right, where the walk asks for one by chance.</summary>
    public Task<Outcome<Nothing>> Photo(long walkId, string check, byte[]? photo, Actor actor, CancellationToken ct)
    {
        // A picture takes long to read, and everybody would wait for it.
        var encoded = photo is null ? null : Photos.Encode(photo);
        return writes.Run(
            async () =>
            {
                var walk = await WalkContext.Load(db, walkId, ct);
                if (walk is null)
                    return Outcome<Nothing>.Refused(Refusals.NoSuchWalk());
                if (walk.Row.State != WalkState.Open)
                    return Outcome<Nothing>.Refused(Refusals.WalkNotOpen());
                if (walk.Checks.FirstOrDefault(x => x.Code == check) is not { } asked || !walk.AsksPhoto(asked))
                    return Outcome<Nothing>.Refused(Refusals.PhotoNotAsked());
                if (encoded is null)
                    return Outcome<Nothing>.Refused(Refusals.PhotoNeeded());
                if (!encoded.Done)
                    return Outcome<Nothing>.Refused(encoded.Refusals);
                db.WalkPhotos.Add(
                    new()
                    {
                        WalkId = walkId,
                        CheckCode = check,
                        By = actor.Name,
                        At = writes.Now,
                        Width = encoded.Value!.Width,
                        Height = encoded.Value.Height,
                        Whole = encoded.Value.Whole,
                        Small = encoded.Value.Small,
                    }
                );
                db.WalkAnswers.Add(
                    new()
                    {
                        WalkId = walkId,
                        Code = StepPrefix + PhotoStep,
                        By = actor.Name,
                        At = writes.Now,
                        Answer = "done",
                        Revision = 1,
                    }
                );
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );
    }

    /// <summary>What a code means is known from now on at this machine.</summary>
    private async Task Explain(int machineId, string code, string meaning, Actor actor, CancellationToken ct)
    {
        var known = await db.MachineCodes.FindAsync([machineId, code], ct);
        if (known is null)
            db.MachineCodes.Add(
                known = new()
                {
                    MachineId = machineId,
                    Code = code,
                    Meaning = meaning,
                    By = actor.Name,
                }
            );
        (known.Meaning, known.By, known.At) = (meaning, actor.Name, writes.Now);
    }

    /// <summary>Keeps on record which of two answers counts.</summary>
    /// <returns>Whether the one that comes in was given before the one that stands.</returns>
    private bool Earlier(WalkContext walk, WalkAnswerRow standing, WalkCheck check, string text, Actor actor)
    {
        var earlier = standing.At > writes.Now;
        var (came, stood) = (
            new
            {
                actor.Name,
                at = writes.Now,
                answer = text,
            },
            new
            {
                Name = standing.By,
                at = standing.At,
                answer = standing.Answer,
            }
        );
        var subject = $"{walk.Row.Machine.Unit} {check.Code}";
        writes.Audit(actor, "walk.answer.later", subject, walk.Row.MachineId, earlier ? came : stood, earlier ? stood : came);
        return earlier;
    }

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
        if (row is not null && input.LaterCounts && row.Answer != text && Earlier(walk, row, check, text, actor))
            return Outcome<SavedAnswer>.Of(new(check, PackedAnswers.ReadOne(row.Answer), result, row.Revision, row.By));
        if (row is not null && !input.LaterCounts && row.Revision != input.Revision && row.Answer != text)
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
        if (answer is CodesAnswer { Meaning: { } meaning, Codes: [var code] })
            await Explain(walk.Row.MachineId, code.ToString(), meaning, actor, ct);
        var held = await notes.HoldAgainst(walk, check, answer, result, actor, ct);
        return Outcome<SavedAnswer>.Of(new(check, answer, result, row.Revision, actor.Name, held ? null : walk.With(row)));
    }
}
