using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.Core;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Queries;

namespace Nippers.App.Defects;

/// <summary>What all changes of defects share: the history line, the time out of service, the audit row.</summary>
public sealed class DefectService(NippersDb db, UnitOfWork writes)
{
    /// <summary>Life hours last read; commissioning hours where nothing was.</summary>
    public static MeterHours LastHours(MachineFacts facts) =>
        facts.Record.Readings.IsEmpty ? facts.Record.CommissionedHours : facts.Record.Readings[^1].Hours;

    /// <summary>Finds a defect with its machine, for changing it.</summary>
    public Task<DefectRow?> Find(long id, CancellationToken ct) =>
        db.Defects.Include(x => x.Machine).SingleOrDefaultAsync(x => x.Id == id, ct);

    /// <summary>Adds a line to a defect's history, and its audit row. The defect must have been saved.</summary>
    /// <param name="defect">The defect.</param>
    /// <param name="unit">Its machine.</param>
    /// <param name="act">What happened.</param>
    /// <param name="words">Words of it.</param>
    /// <param name="actor">Who.</param>
    /// <param name="from">Grade before.</param>
    /// <param name="to">Grade after.</param>
    /// <param name="walkId">The walk on which it was said.</param>
    /// <param name="answer">What was found, packed.</param>
    public void Note(
        DefectRow defect,
        string unit,
        DefectAct act,
        string words,
        Actor actor,
        DefectGrade? from = null,
        DefectGrade? to = null,
        long? walkId = null,
        string answer = ""
    )
    {
        db.DefectEvents.Add(
            new()
            {
                DefectId = defect.Id,
                At = writes.Now,
                By = actor.Name,
                Act = act,
                Words = words.Trim(),
                From = from,
                To = to,
                LimitHours = defect.LimitHours,
                LimitOn = defect.LimitOn,
                WalkId = walkId,
                Answer = answer,
            }
        );
        writes.Audit(
            actor,
            $"defect.{WireName.Of(act)}",
            string.Create(CultureInfo.InvariantCulture, $"{unit} #{defect.Id}"),
            defect.MachineId,
            from is null ? null : new { grade = from },
            new
            {
                defect.State,
                defect.Grade,
                words,
                defect.LimitHours,
                defect.LimitOn,
            }
        );
    }

    /// <summary>Opens or closes the time out of service as the defect now stands.</summary>
    public async Task Stoppage(DefectRow defect, CancellationToken ct)
    {
        var open = await db.Stoppages.FirstOrDefaultAsync(x => x.DefectId == defect.Id && x.To == null, ct);
        var stops = defect.Stands && defect.Grade == DefectGrade.Stop;
        if (stops && open is null)
            db.Stoppages.Add(
                new()
                {
                    MachineId = defect.MachineId,
                    DefectId = defect.Id,
                    From = writes.Now,
                    Contact = await db.Machines.Where(x => x.Id == defect.MachineId).Select(x => x.Site.Contact).SingleAsync(ct),
                }
            );
        if (!stops && open is not null)
            open.To = writes.Now;
    }

    /// <summary>Raises a grade that a finding asks for; one that waits gets the limit that raised defects get.</summary>
    internal static void RaiseTo(DefectRow defect, DefectGrade to, MeterHours hours, DateOnly today, DateTimeOffset now)
    {
        defect.Grade = to;
        (defect.LimitHours, defect.LimitOn) =
            to == DefectGrade.Limit
                ? ((MeterHours?)(hours + MeterHours.Of(DefectClock.RaisedHours)), (DateOnly?)today.AddDays(DefectClock.RaisedDays))
                : (null, null);
        defect.ClockFrom = now;
        (defect.DownTo, defect.DownBy, defect.DownReason) = (null, null, null);
    }

    /// <summary>Saves the change and brings the machine's standing up to date with it.</summary>
    /// <param name="defect">The defect, changed.</param>
    /// <param name="ct">Cancels.</param>
    /// <param name="facts">Facts of its machine as of now, where the caller has read them in this turn.</param>
    public async Task<Outcome<DefectRow>> Saved(DefectRow defect, CancellationToken ct, MachineFacts? facts = null)
    {
        defect.Version++;
        await Stoppage(defect, ct);
        if (facts is null)
            await writes.RefreshStatus([defect.MachineId], ct);
        else
            await writes.RefreshStatus(facts, ct);
        return Outcome<DefectRow>.Of(defect);
    }

    /// <summary>Reads a limit of hours and days from now; at least one is needed.</summary>
    internal static (MeterHours? Hours, DateOnly? On) ReadLimit(
        string? hours,
        string? days,
        MeterHours last,
        DateOnly today,
        List<Refusal> refusals
    )
    {
        var more = Typed.Hours(hours, "limitHours", refusals);
        if (more is { Tenths: < 1 or > 20_000 })
            refusals.Add(Refusals.Between("limitHours", 0.1, 2000));
        var until = last + more;
        DateOnly? on = Typed.Whole(days, "limitDays", 0, 365, refusals) is { } later ? today.AddDays(later) : null;
        if (until is null && on is null && !refusals.Exists(x => x.Field is "limitHours" or "limitDays"))
            refusals.Add(Refusals.LimitNeeded());
        return (until, on);
    }
}
