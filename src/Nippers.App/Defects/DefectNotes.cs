using Nippers.Core.Hours;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Queries;

namespace Nippers.App.Defects;

/// <summary>What is added to a defect without changing how grave it is.</summary>
public sealed class DefectNotes(NippersDb db, UnitOfWork writes, DefectService book, ReportDefect report)
{
    /// <summary>Adds words, photos, or both.</summary>
    public Task<Outcome<DefectRow>> Add(long id, string? words, IReadOnlyList<byte[]> photos, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var defect = await book.Find(id, ct);
                if (defect is null)
                    return Outcome<DefectRow>.Refused(Refusals.NoSuchDefect());
                if (string.IsNullOrWhiteSpace(words) && photos.Count == 0)
                    return Outcome<DefectRow>.Refused(Refusals.WordsNeeded("words"));
                if (words?.Length > DefectService.LongestWords)
                    return Outcome<DefectRow>.Refused(Refusals.TooLong("words", DefectService.LongestWords));
                if (photos.Count > ReportDefect.MostPhotos)
                    return Outcome<DefectRow>.Refused(Refusals.PhotosTooMany(ReportDefect.MostPhotos));
                var encoded = photos.Select(Photos.Encode).ToList();
                if (encoded.SelectMany(x => x.Refusals).Take(1).ToList() is { Count: > 0 } refused)
                    return Outcome<DefectRow>.Refused(refused);
                report.AddPhotos(defect.Id, encoded.Select(x => x.Value!), actor);
                book.Note(defect, defect.Machine.Unit, photos.Count > 0 ? DefectAct.Photo : DefectAct.Said, words ?? "", actor);
                return await book.Saved(defect, ct);
            },
            ct
        );

    /// <summary>
    /// Takes a defect that was entered in error out, with a reason. Its reporter or a technician may, unless it stops the
    /// machine: that a planner must.
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
                if (string.IsNullOrWhiteSpace(reason))
                    return Outcome<DefectRow>.Refused(Refusals.ReasonNeeded("reason"));
                if (defect is { Stands: true, Grade: Core.Defects.DefectGrade.Stop } && actor.Role != Roles.Planner)
                    return Outcome<DefectRow>.Refused(Refusals.PlannerNeeded());
                if (actor.Role == Roles.Operator && defect.By != actor.Name)
                    return Outcome<DefectRow>.Refused(Refusals.TechnicianNeeded());
                defect.State = DefectState.Voided;
                defect.LookAgainHours = null;
                (defect.VoidedBy, defect.VoidReason) = (actor.Name, reason.Trim());
                book.Note(defect, defect.Machine.Unit, DefectAct.Voided, reason, actor);
                return await book.Saved(defect, ct);
            },
            ct
        );

    /// <summary>
    /// Looked at again on a walk: a watch or a limit as before, or a fix that held. A fix that did not hold is found again.
    /// </summary>
    public Task<Outcome<DefectRow>> LookedAgain(long id, long walkId, bool sound, string? words, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var defect = await book.Find(id, ct);
                if (defect is null)
                    return Outcome<DefectRow>.Refused(Refusals.NoSuchDefect());
                var walk = await db.Walks.FindAsync([walkId], ct);
                if (walk is null || walk.MachineId != defect.MachineId || walk.State != Data.Walks.WalkState.Open)
                    return Outcome<DefectRow>.Refused(Refusals.WalkNotOpen());
                if (defect.Stands)
                {
                    book.Note(defect, defect.Machine.Unit, DefectAct.SeenAgain, words ?? "", actor);
                    return await book.Saved(defect, ct);
                }

                defect.LookAgainHours = null;
                book.Note(defect, defect.Machine.Unit, DefectAct.LookedAgain, words ?? "", actor);
                if (sound)
                    return await book.Saved(defect, ct);

                var facts = (await db.FactsOf(defect.Machine.Unit, writes.Now, ct))!;
                var again = new DefectRow
                {
                    MachineId = defect.MachineId,
                    Place = defect.Place,
                    PlaceName = defect.PlaceName,
                    Words = string.IsNullOrWhiteSpace(words) ? defect.Words : words.Trim(),
                    Grade = defect.FoundGrade,
                    FoundGrade = defect.FoundGrade,
                    Safety = defect.Safety,
                    By = actor.Name,
                    At = writes.Now,
                    On = LocalDay.Of(writes.Now, facts.Zone),
                    LifeHours = DefectService.LastHours(facts),
                    ClockFrom = writes.Now,
                    WalkId = walkId,
                    CheckCode = defect.CheckCode,
                    RepeatOf = defect.Id,
                };
                if (again.Grade == Core.Defects.DefectGrade.Limit)
                    (again.LimitHours, again.LimitOn) = (
                        again.LifeHours + MeterHours.Of(Core.Defects.DefectClock.RaisedHours),
                        again.On.AddDays(Core.Defects.DefectClock.RaisedDays)
                    );
                db.Defects.Add(again);
                await db.SaveChangesAsync(ct);
                book.Note(again, defect.Machine.Unit, DefectAct.Found, again.Words, actor, to: again.Grade);
                return await book.Saved(again, ct);
            },
            ct
        );
}
