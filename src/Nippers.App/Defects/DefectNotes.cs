using Microsoft.EntityFrameworkCore;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Queries;
using Nippers.Data.Walks;

namespace Nippers.App.Defects;

/// <summary>What is said of something that was found before.</summary>
public enum Again
{
    /// <summary>An open defect is as it was.</summary>
    AsBefore,

    /// <summary>An open defect got worse: one grade up, whoever says so.</summary>
    Worse,

    /// <summary>A fix holds.</summary>
    Holds,

    /// <summary>A fix did not hold: it is found again.</summary>
    DidNotHold,
}

/// <summary>What is said of a defect after it was found: words, photos, looks again, who was told, and that it never was one.</summary>
public sealed class DefectNotes(NippersDb db, UnitOfWork writes, DefectService book, ReportDefect report)
{
    /// <summary>Longest name of somebody who was told.</summary>
    internal const int LongestName = 80;

    /// <summary>Adds words, photos, or both.</summary>
    public Task<Outcome<DefectRow>> Add(
        long id,
        string? words,
        IReadOnlyList<byte[]> photos,
        string? key,
        Actor actor,
        CancellationToken ct
    ) =>
        writes.Run(
            async () =>
            {
                var defect = await book.Find(id, ct);
                if (defect is null)
                    return Outcome<DefectRow>.Refused(Refusals.NoSuchDefect());
                var body = new
                {
                    what = "defectNote",
                    id,
                    words,
                    photos,
                };
                if (await writes.Again(actor, key, body, _ => Task.FromResult(defect), ct) is { } again)
                    return again;
                if (string.IsNullOrWhiteSpace(words) && photos.Count == 0)
                    return Outcome<DefectRow>.Refused(Refusals.WordsNeeded("words"));
                if (Typed.TooLong(words, "words") is { } tooLong)
                    return Outcome<DefectRow>.Refused(tooLong);
                if (photos.Count > ReportDefect.MostPhotos)
                    return Outcome<DefectRow>.Refused(Refusals.PhotosTooMany(ReportDefect.MostPhotos));
                var encoded = photos.Select(Photos.Encode).ToList();
                if (encoded.SelectMany(x => x.Refusals).Take(1).ToList() is { Count: > 0 } refused)
                    return Outcome<DefectRow>.Refused(refused);
                report.AddPhotos(defect.Id, encoded.Select(x => x.Value!), actor);
                book.Note(defect, defect.Machine.Unit, photos.Count > 0 ? DefectAct.Photo : DefectAct.Said, words ?? "", actor);
                writes.Remember(actor, key, "");
                return await book.Saved(defect, ct);
            },
            ct
        );

    /// <summary>
    /// Voids a defect that was entered in error, with a reason. Its reporter or a technician may. A stop that another found, and
    /// whatever holds, steers, carries or locks, takes two people: the first asks here.
    /// </summary>
    public Task<Outcome<DefectRow>> Void(long id, string? reason, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var defect = await book.Find(id, ct);
                if (defect is null)
                    return Outcome<DefectRow>.Refused(Refusals.NoSuchDefect());
                if (defect.State == DefectState.Voided)
                    return Outcome<DefectRow>.Refused(Refusals.DefectNotOpen());
                if (!Typed.IsReason(reason, "reason", out var unreasoned))
                    return Outcome<DefectRow>.Refused(unreasoned);
                if (actor.Role == Roles.Operator && defect.By != actor.Name)
                    return Outcome<DefectRow>.Refused(Refusals.TechnicianNeeded());
                if (defect.Stands && DefectRules.VoidTakesTwo(defect.Grade, defect.Safety, defect.By == actor.Name))
                {
                    (defect.VoidAskedBy, defect.VoidAskReason) = (actor.Name, reason.Trim());
                    book.Note(defect, defect.Machine.Unit, DefectAct.VoidAsked, reason, actor);
                    return await book.Saved(defect, ct);
                }

                TakeOut(defect, reason, actor);
                return await book.Saved(defect, ct);
            },
            ct
        );

    /// <summary>A second person, who has looked, agrees that a defect was entered in error, or does not.</summary>
    public Task<Outcome<DefectRow>> DecideVoid(long id, bool agreed, string? words, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var defect = await book.Find(id, ct);
                if (defect is null)
                    return Outcome<DefectRow>.Refused(Refusals.NoSuchDefect());
                if (defect is not { Stands: true, VoidAskedBy: { } first })
                    return Outcome<DefectRow>.Refused(Refusals.NothingAsked());
                if (actor.Role == Roles.Operator)
                    return Outcome<DefectRow>.Refused(Refusals.TechnicianNeeded());
                if (agreed && !DefectRules.MayReturn(first, actor.Name))
                    return Outcome<DefectRow>.Refused(Refusals.SecondPersonNeeded(first));
                if (!Typed.IsSaid(words, "voidWords", out var unsaid))
                    return Outcome<DefectRow>.Refused(unsaid);
                if (agreed)
                    TakeOut(defect, defect.VoidAskReason!, actor, words);
                else
                    book.Note(defect, defect.Machine.Unit, DefectAct.VoidRefused, words, actor);
                (defect.VoidAskedBy, defect.VoidAskReason) = (null, null);
                return await book.Saved(defect, ct);
            },
            ct
        );

    private void TakeOut(DefectRow defect, string reason, Actor actor, string? words = null)
    {
        defect.State = DefectState.Voided;
        defect.LookAgainHours = null;
        (defect.VoidedBy, defect.VoidReason) = (actor.Name, reason.Trim());
        book.Note(defect, defect.Machine.Unit, DefectAct.Voided, words ?? reason, actor);
    }

    /// <summary>Says who was told of a stop, by voice.</summary>
    public Task<Outcome<DefectRow>> Told(long id, string? whom, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var defect = await book.Find(id, ct);
                if (defect is null)
                    return Outcome<DefectRow>.Refused(Refusals.NoSuchDefect());
                if (!defect.Stands)
                    return Outcome<DefectRow>.Refused(Refusals.DefectNotOpen());
                var refusals = new List<Refusal>();
                var name = Typed.Words(whom, "whom", LongestName, refusals, needed: true);
                if (refusals.Count > 0)
                    return Outcome<DefectRow>.Refused(refusals);
                (defect.ToldWhom, defect.ToldBy, defect.ToldAt) = (name, actor.Name, writes.Now);
                book.Note(defect, defect.Machine.Unit, DefectAct.Told, name, actor);
                return await book.Saved(defect, ct);
            },
            ct
        );

    /// <summary>Says that somebody sees to a stop: the others of its site's list are spared. Said once, it stands.</summary>
    public Task<Outcome<DefectRow>> Acknowledge(long id, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var defect = await book.Find(id, ct);
                if (defect is null)
                    return Outcome<DefectRow>.Refused(Refusals.NoSuchDefect());
                if (actor.Role == Roles.Operator)
                    return Outcome<DefectRow>.Refused(Refusals.TechnicianNeeded());
                var stop = await db.Stoppages.FirstOrDefaultAsync(x => x.DefectId == id && x.To == null, ct);
                if (stop is null || defect.State != DefectState.Open)
                    return Outcome<DefectRow>.Refused(Refusals.DefectNotOpen());
                if (stop.AcknowledgedAt is not null)
                    return Outcome<DefectRow>.Of(defect);
                (stop.AcknowledgedBy, stop.AcknowledgedAt) = (actor.Name, writes.Now);

                // Who sees to it knows of it.
                if (defect.ToldAt is null)
                    (defect.ToldWhom, defect.ToldBy, defect.ToldAt) = (actor.Name, actor.Name, writes.Now);
                book.Note(defect, defect.Machine.Unit, DefectAct.Acknowledged, "", actor);
                return await book.Saved(defect, ct);
            },
            ct
        );

    /// <summary>Names another part. What is on a safety-critical one stops the machine until a technician has looked.</summary>
    public Task<Outcome<DefectRow>> SetPart(long id, MachinePart part, string? reason, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var defect = await book.Find(id, ct);
                if (defect is null)
                    return Outcome<DefectRow>.Refused(Refusals.NoSuchDefect());
                if (defect.State != DefectState.Open)
                    return Outcome<DefectRow>.Refused(Refusals.DefectNotOpen());
                if (actor.Role == Roles.Operator)
                    return Outcome<DefectRow>.Refused(Refusals.TechnicianNeeded());
                if (!Enum.IsDefined(part))
                    return Outcome<DefectRow>.Refused(Refusals.PartNeeded());
                if (!Typed.IsReason(reason, "reason", out var unreasoned))
                    return Outcome<DefectRow>.Refused(unreasoned);
                var (from, spoken) = (defect.Grade, MachineParts.Floor(part, defect.Words));

                // What once was on something that holds or steers keeps what that asks: another name does not make it harmless.
                var keeps = !DefectRules.MayGoDown(defect.Safety) && spoken.Safety == SafetyPart.None;
                (defect.Part, defect.Safety) = (part, keeps ? defect.Safety : spoken.Safety);
                if (spoken.Least > from)
                {
                    var facts = (await db.FactsOf(defect.Machine.Unit, writes.Now, ct))!;
                    var today = LocalDay.Of(writes.Now, facts.Zone);
                    DefectService.RaiseTo(defect, spoken.Least, DefectService.LastHours(facts), today, writes.Now);
                }

                book.Note(defect, defect.Machine.Unit, DefectAct.PartChanged, reason, actor, from, defect.Grade);
                return await book.Saved(defect, ct);
            },
            ct
        );

    /// <summary>
    /// Holds a finding against the open defect of its check: what is worse, or of another kind, raises it, and its figures are
    /// added to it. A look says nothing of itself: there the person is asked whether it is the same.
    /// </summary>
    /// <returns>Whether a defect was changed by it.</returns>
    internal async Task<bool> HoldAgainst(
        WalkContext walk,
        WalkCheck check,
        CheckAnswer answer,
        CheckResult result,
        Actor actor,
        CancellationToken ct
    )
    {
        if (result.Outcome != CheckOutcome.Fault || answer is SeenAnswer || walk.Standing(check).FirstOrDefault() is not { } standing)
            return false;
        var text = PackedAnswers.WriteOne(answer);
        if (
            await db.DefectEvents.AnyAsync(
                x => x.DefectId == standing.Id && x.WalkId == walk.Row.Id && x.Act == DefectAct.FoundAgain && x.Answer == text,
                ct
            )
        )
            return false;
        var defect = (await book.Find(standing.Id, ct))!;
        var from = defect.Grade;
        DefectLook.Hold(defect, result.Grade, walk.Row.LifeHours, walk.Row.On, writes.Now);
        book.Note(
            defect,
            walk.Row.Machine.Unit,
            DefectAct.FoundAgain,
            answer.Note ?? "",
            actor,
            defect.Grade > from ? from : null,
            defect.Grade > from ? defect.Grade : null,
            walk.Row.Id,
            text
        );
        await book.Saved(defect, ct);
        return true;
    }

    /// <summary>
    /// A fault seen at a check with an open defect, by somebody who can't be asked whether it is the same: it is taken for the same, and
    /// kept in its history.
    /// </summary>
    internal async Task TakeForSame(WalkContext walk, WalkCheck check, Actor actor, CancellationToken ct)
    {
        var defect = (await book.Find(walk.Standing(check).First().Id, ct))!;
        book.Note(
            defect,
            walk.Row.Machine.Unit,
            DefectAct.SeenAgain,
            walk.Answers[check.Code].Note ?? "",
            actor,
            walkId: walk.Row.Id,
            answer: PackedAnswers.WriteOne(walk.Answers[check.Code])
        );
        await book.Saved(defect, ct);
    }

    /// <summary>
    /// Looked at again on a walk: a watch or a limit as before, or a fix that held. A fix that did not hold is found again.
    /// </summary>
    public Task<Outcome<DefectRow>> LookedAgain(long id, long walkId, Again again, string? words, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var defect = await book.Find(id, ct);
                if (defect is null)
                    return Outcome<DefectRow>.Refused(Refusals.NoSuchDefect());
                var walk = await db.Walks.FindAsync([walkId], ct);
                if (walk is null || walk.MachineId != defect.MachineId || walk.State != WalkState.Open)
                    return Outcome<DefectRow>.Refused(Refusals.WalkNotOpen());
                if (Typed.TooLong(words, "note") is { } tooLong)
                    return Outcome<DefectRow>.Refused(tooLong);
                if (defect.Stands != (again is Again.AsBefore or Again.Worse))
                    return Outcome<DefectRow>.Refused(Refusals.DefectNotOpen());
                var facts = (await db.FactsOf(defect.Machine.Unit, writes.Now, ct))!;
                if (again is Again.AsBefore or Again.Worse)
                    await AnswerCheck(walk, defect.CheckCode, actor, ct);
                if (again == Again.AsBefore)
                {
                    book.Note(defect, defect.Machine.Unit, DefectAct.SeenAgain, words ?? "", actor, walkId: walkId);
                    return await book.Saved(defect, ct);
                }

                if (again == Again.Worse)
                {
                    var from = defect.Grade;
                    DefectLook.Worse(defect, DefectService.LastHours(facts), LocalDay.Of(writes.Now, facts.Zone), writes.Now);
                    book.Note(defect, defect.Machine.Unit, DefectAct.Worse, words ?? "", actor, from, defect.Grade, walkId);
                    return await book.Saved(defect, ct);
                }

                defect.LookAgainHours = null;
                book.Note(defect, defect.Machine.Unit, DefectAct.LookedAgain, words ?? "", actor, walkId: walkId);
                if (again == Again.Holds)
                    return await book.Saved(defect, ct);

                var today = LocalDay.Of(writes.Now, facts.Zone);
                var found = DefectLook.FoundAgain(defect, words, actor.Name, DefectService.LastHours(facts), today, writes.Now, walkId);
                db.Defects.Add(found);
                await db.SaveChangesAsync(ct);
                book.Note(found, defect.Machine.Unit, DefectAct.Found, found.Words, actor, to: found.Grade, walkId: walkId);
                return await book.Saved(found, ct);
            },
            ct
        );

    /// <summary>What was said of the defect is the answer of its check, where nobody has given one.</summary>
    private async Task AnswerCheck(WalkRow walk, string check, Actor actor, CancellationToken ct)
    {
        if (!WalkRules.AnsweredByDefect(await db.BodyOf(walk.VersionId, ct), walk, check))
            return;
        if (await db.WalkAnswers.AnyAsync(x => x.WalkId == walk.Id && x.Code == check, ct))
            return;
        db.WalkAnswers.Add(
            new()
            {
                WalkId = walk.Id,
                Code = check,
                By = actor.Name,
                At = writes.Now,
                Answer = PackedAnswers.WriteOne(new SeenAnswer(false)),
                Revision = 1,
            }
        );
    }
}
