using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Queries;

namespace Nippers.App.Defects;

/// <summary>Grades defects up and down, and defers them. Down from a stop takes a technician's reason and a planner's.</summary>
public sealed class GradeDefect(NippersDb db, UnitOfWork writes, DefectService book)
{
    /// <summary>Grades up, or gives a milder grade that is no step down from a stop.</summary>
    public Task<Outcome<DefectRow>> Set(
        long id,
        DefectGrade to,
        string? reason,
        string? limitHours,
        string? limitDays,
        Actor actor,
        CancellationToken ct
    ) =>
        Change(
            id,
            actor,
            (defect, facts, today) =>
            {
                var refusals = new List<Refusal>();
                if (to == defect.Grade)
                    refusals.Add(Refusals.GradeSame());
                if (defect.Grade == DefectGrade.Stop)
                    refusals.Add(Refusals.StopNotDownAlone());
                if (!Typed.IsReason(reason, "reason", out var unreasoned))
                    refusals.Add(unreasoned);
                var limit =
                    to == DefectGrade.Limit
                        ? DefectService.ReadLimit(limitHours, limitDays, DefectService.LastHours(facts), today, refusals)
                        : (null, null);
                if (refusals.Count > 0)
                    return refusals;
                Regrade(defect, facts, to, limit, to > defect.Grade ? DefectAct.GradedUp : DefectAct.GradedDown, reason!, actor);
                return refusals;
            },
            ct
        );

    /// <summary>A technician asks for a stop to be graded down.</summary>
    public Task<Outcome<DefectRow>> AskDown(long id, DefectGrade to, string? reason, Actor actor, CancellationToken ct) =>
        Change(
            id,
            actor,
            (defect, facts, _) =>
            {
                var refusals = new List<Refusal>();
                if (defect.Grade != DefectGrade.Stop || to == DefectGrade.Stop)
                    refusals.Add(Refusals.GradeNotAStop());
                else if (!DefectRules.MayGoDown(defect.Safety))
                    refusals.Add(Refusals.GradeNeverDown());
                if (!Typed.IsReason(reason, "reason", out var unreasoned))
                    refusals.Add(unreasoned);
                if (refusals.Count > 0)
                    return refusals;
                (defect.DownTo, defect.DownBy, defect.DownReason) = (to, actor.Name, reason!.Trim());
                book.Note(defect, facts.Machine.Unit, DefectAct.DownAsked, reason, actor, DefectGrade.Stop, to);
                return refusals;
            },
            ct
        );

    /// <summary>A planner, not the one who asked, agrees or not.</summary>
    public Task<Outcome<DefectRow>> DecideDown(
        long id,
        bool agreed,
        string? reason,
        string? limitHours,
        string? limitDays,
        Actor actor,
        CancellationToken ct
    ) =>
        Change(
            id,
            actor,
            (defect, facts, today) =>
            {
                var refusals = new List<Refusal>();
                if (defect.DownTo is not { } to)
                {
                    refusals.Add(Refusals.NothingAsked());
                    return refusals;
                }

                if (actor.Role != Roles.Planner)
                    refusals.Add(Refusals.PlannerNeeded());
                if (!DefectRules.MayReturn(defect.DownBy!, actor.Name))
                    refusals.Add(Refusals.SecondPersonNeeded(defect.DownBy));
                if (!Typed.IsReason(reason, "reason", out var unreasoned))
                    refusals.Add(unreasoned);
                var limit =
                    agreed && to == DefectGrade.Limit
                        ? DefectService.ReadLimit(limitHours, limitDays, DefectService.LastHours(facts), today, refusals)
                        : (null, null);
                if (refusals.Count > 0)
                    return refusals;
                (defect.DownTo, defect.DownBy, defect.DownReason) = (null, null, null);
                if (agreed)
                    Regrade(defect, facts, to, limit, DefectAct.GradedDown, reason!, actor);
                else
                    book.Note(defect, facts.Machine.Unit, DefectAct.DownRefused, reason!, actor, defect.Grade, to);
                return refusals;
            },
            ct
        );

    /// <summary>A planner puts a limit off, with a reason.</summary>
    public Task<Outcome<DefectRow>> Defer(
        long id,
        string? reason,
        string? limitHours,
        string? limitDays,
        Actor actor,
        CancellationToken ct
    ) =>
        Change(
            id,
            actor,
            (defect, facts, today) =>
            {
                var refusals = new List<Refusal>();
                if (actor.Role != Roles.Planner)
                    refusals.Add(Refusals.PlannerNeeded());
                if (defect.Grade == DefectGrade.Stop)
                    refusals.Add(Refusals.StopNotDeferred());
                if (!Typed.IsReason(reason, "reason", out var unreasoned))
                    refusals.Add(unreasoned);
                var limit = DefectService.ReadLimit(limitHours, limitDays, DefectService.LastHours(facts), today, refusals);
                if (refusals.Count > 0)
                    return refusals;
                (defect.LimitHours, defect.LimitOn) = limit;
                defect.ClockFrom = writes.Now;
                book.Note(defect, facts.Machine.Unit, DefectAct.Deferred, reason!, actor);
                return refusals;
            },
            ct
        );

    private void Regrade(
        DefectRow defect,
        MachineFacts facts,
        DefectGrade to,
        (MeterHours? Hours, DateOnly? On) limit,
        DefectAct act,
        string reason,
        Actor actor
    )
    {
        var from = defect.Grade;
        defect.Grade = to;
        (defect.LimitHours, defect.LimitOn) = limit;
        defect.ClockFrom = writes.Now;
        book.Note(defect, facts.Machine.Unit, act, reason, actor, from, to);
    }

    private Task<Outcome<DefectRow>> Change(
        long id,
        Actor actor,
        Func<DefectRow, MachineFacts, DateOnly, List<Refusal>> change,
        CancellationToken ct
    ) =>
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
                var facts = (await db.FactsOf(defect.Machine.Unit, writes.Now, ct))!;
                var refusals = change(defect, facts, LocalDay.Of(writes.Now, facts.Zone));
                return refusals.Count > 0 ? Outcome<DefectRow>.Refused(refusals) : await book.Saved(defect, ct);
            },
            ct
        );
}
