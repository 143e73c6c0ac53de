using Microsoft.EntityFrameworkCore;
using Nippers.App.Readings;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Oil;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Queries;

namespace Nippers.App.Defects;

/// <summary>A repair as entered.</summary>
/// <param name="Words">What was done.</param>
/// <param name="Hours">The meter then; empty: as last read.</param>
/// <param name="Minutes">Minutes of hands.</param>
/// <param name="Parts">Parts used.</param>
/// <param name="LookAgainHours">Look again after so many hours.</param>
/// <param name="OwnerRemoved">A lock or tag: who had put it there took it off.</param>
/// <param name="OwnerTried">A lock or tag whose owner is away: how the owner was tried, and who tells them.</param>
public sealed record RepairInput(
    string? Words,
    string? Hours,
    string? Minutes,
    string? Parts,
    string? LookAgainHours,
    bool OwnerRemoved = false,
    string? OwnerTried = null
);

/// <summary>Closes defects. A stop takes two people: who repaired it, and who returns the machine to service.</summary>
public sealed class RepairDefect(NippersDb db, UnitOfWork writes, DefectService book)
{
    internal const int MostMinutes = 6000;

    /// <summary>Says that a defect was repaired.</summary>
    public Task<Outcome<DefectRow>> Repair(long id, RepairInput input, Actor actor, CancellationToken ct) =>
        writes.Run(() => Mend(id, input, actor, ct), ct);

    /// <summary>The same inside the caller's transaction.</summary>
    internal async Task<Outcome<DefectRow>> Mend(long id, RepairInput input, Actor actor, CancellationToken ct)
    {
        var defect = await book.Find(id, ct);
        if (defect is null)
            return Outcome<DefectRow>.Refused(Refusals.NoSuchDefect());
        if (defect.State != DefectState.Open)
            return Outcome<DefectRow>.Refused(Refusals.DefectNotOpen());
        if (actor.Role == Roles.Operator)
            return Outcome<DefectRow>.Refused(Refusals.TechnicianNeeded());
        var facts = (await db.FactsOf(defect.Machine.Unit, writes.Now, ct))!;
        var refusals = new List<Refusal>();
        if (!Typed.IsSaid(input.Words, "words", out var unsaid))
            refusals.Add(unsaid);
        var minutes = Typed.Whole(input.Minutes, "minutes", 0, MostMinutes, refusals);

        // The meter at the repair: what was last read unless another figure is given, which must not lie before the defect.
        var hours = DefectService.LastHours(facts);
        var offset = facts.Offsets.At(writes.Now);
        if (!string.IsNullOrWhiteSpace(input.Hours))
        {
            if (HoursInput.Read("hours", input.Hours, out var shown) is { } fault)
                refusals.Add(fault);
            else if (shown + offset < defect.LifeHours)
                refusals.Add(Refusals.RepairBeforeDefect((defect.LifeHours - offset).Clamped));
            else if (shown + offset > hours + new MeterHours(240))
                refusals.Add(Refusals.RepairFarAhead((hours - offset).Clamped));
            else
                hours = (shown + offset);
        }

        MeterHours? again = null;
        if (!string.IsNullOrWhiteSpace(input.LookAgainHours))
        {
            if (HoursInput.Read("lookAgainHours", input.LookAgainHours, out var more) is { } fault)
                refusals.Add(fault);
            else
                again = more;
        }

        // A lock or tag is its owner's. Owner away: the site's responsible person, after trying to reach the owner.
        var tried = Typed.Words(input.OwnerTried, "ownerTried", Typed.LongestWords, refusals);
        if (defect.Safety == SafetyPart.Notice && !input.OwnerRemoved)
        {
            if (actor.Role != Roles.Planner)
                refusals.Add(Refusals.TagOfAnother());
            else if (tried.Length == 0)
                refusals.Add(Refusals.OwnerTriedNeeded());
        }

        if (refusals.Count > 0)
            return Outcome<DefectRow>.Refused(refusals);
        defect.State = defect.Grade == DefectGrade.Stop ? DefectState.Repaired : DefectState.Closed;
        defect.RepairedBy = actor.Name;
        defect.RepairedAt = writes.Now;
        defect.RepairedHours = hours;
        defect.RepairWords = tried.Length > 0 ? $"{input.Words!.Trim()} · {tried}" : input.Words!.Trim();
        defect.RepairMinutes = minutes;
        defect.RepairParts = string.IsNullOrWhiteSpace(input.Parts) ? null : input.Parts.Trim();
        defect.LookAgainHours = again is { } later ? hours + later : null;
        (defect.DownTo, defect.DownBy, defect.DownReason) = (null, null, null);
        book.Note(defect, defect.Machine.Unit, DefectAct.Repaired, defect.RepairWords, actor);

        // A sample waits for this repair: it is due so many hours after it.
        foreach (var call in await db.WorkRequests.Where(x => x.AfterDefectId == id).ToListAsync(ct))
        {
            (call.DueHours, call.At, call.On) = (
                hours + MeterHours.Of(OilJudge.HoursAfterRepair),
                writes.Now,
                LocalDay.Of(writes.Now, facts.Zone)
            );
        }

        return await book.Saved(defect, ct);
    }

    /// <summary>A second person returns the machine to service, or sends the repair back.</summary>
    public Task<Outcome<DefectRow>> Release(long id, bool returned, string? words, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var defect = await book.Find(id, ct);
                if (defect is null)
                    return Outcome<DefectRow>.Refused(Refusals.NoSuchDefect());
                if (defect.State != DefectState.Repaired)
                    return Outcome<DefectRow>.Refused(Refusals.DefectNotRepaired());
                if (actor.Role == Roles.Operator)
                    return Outcome<DefectRow>.Refused(Refusals.TechnicianNeeded());
                if (returned && !DefectRules.MayReturn(defect.RepairedBy!, actor.Name))
                    return Outcome<DefectRow>.Refused(Refusals.SecondPersonNeeded(defect.RepairedBy));
                if (!Typed.IsSaid(words, "returnWords", out var unsaid))
                    return Outcome<DefectRow>.Refused(unsaid);
                if (returned)
                {
                    defect.State = DefectState.Closed;
                    (defect.ReturnedBy, defect.ReturnedAt, defect.ReturnWords) = (actor.Name, writes.Now, words.Trim());
                    book.Note(defect, defect.Machine.Unit, DefectAct.Returned, words, actor);
                }
                else
                {
                    defect.State = DefectState.Open;
                    defect.LookAgainHours = null;
                    book.Note(defect, defect.Machine.Unit, DefectAct.Reopened, words, actor);
                }

                return await book.Saved(defect, ct);
            },
            ct
        );
}
