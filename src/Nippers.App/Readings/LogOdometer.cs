using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Machines;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Queries;
using Nippers.Data.Records;

namespace Nippers.App.Readings;

/// <summary>A reading of an odometer, as entered.</summary>
/// <param name="Unit">The machine.</param>
/// <param name="KmText">What was typed.</param>
/// <param name="AtText">Date and time at the site; empty: now.</param>
/// <param name="Confirmed">The person says that it really shows an unusual figure.</param>
/// <param name="Key">Makes a repeat harmless.</param>
/// <param name="At">The instant where it is known, and nothing was typed; null: now.</param>
public sealed record OdometerInput(string Unit, string? KmText, string? AtText, bool Confirmed, string? Key, DateTimeOffset? At = null);

/// <summary>What an odometer showed.</summary>
/// <param name="ToConfirm">Unusual, and nobody has said yet that it really shows so.</param>
public sealed record OdometerLine(long Id, DateTimeOffset At, double Km, string By, string? DecidedBy, bool ToConfirm);

/// <summary>The odometer of a machine as its page shows it.</summary>
/// <param name="Unit">The machine.</param>
/// <param name="Zone">Where it stands.</param>
/// <param name="KmNow">Kilometres now, estimated; null without an odometer.</param>
/// <param name="PerDay">Kilometres a calendar day.</param>
/// <param name="Lines">The newest readings, newest first; those to confirm before all.</param>
/// <param name="Last">The reading that it is reckoned from; null where there is none since it came to us.</param>
public sealed record OdometerPage(
    string Unit,
    TimeZoneInfo Zone,
    double? KmNow,
    double PerDay,
    IReadOnlyList<OdometerLine> Lines,
    Reading? Last
);

/// <summary>Logs what odometers show, judged as service meters are.</summary>
public sealed class LogOdometer(NippersDb db, UnitOfWork writes)
{
    private const int Shown = 20;

    /// <summary>The odometer of a machine; null when there is no such machine.</summary>
    public async Task<OdometerPage?> Page(string unit, CancellationToken ct)
    {
        var now = writes.Now;
        if (await db.FactsOf(unit, now, ct) is not { } facts)
            return null;
        var use = facts.Odometer is { } odometer ? UsePerDay.Estimate(odometer.Record, now) : null;
        var lines = await db
            .OdometerReadings.AsNoTracking()
            .Where(x => x.MachineId == facts.Machine.Id)
            .OrderByDescending(x => x.ToConfirm)
            .ThenByDescending(x => x.At)
            .ThenByDescending(x => x.Id)
            .Take(Shown)
            .ToListAsync(ct);
        return new(
            unit,
            facts.Zone,
            use?.HoursNow(now),
            use?.HoursPerDay ?? 0,
            [.. lines.Select(x => new OdometerLine(x.Id, x.At, x.KmTenths / 10.0, x.By, x.DecidedBy, x.ToConfirm))],
            facts.Odometer is { Record.Readings: { IsEmpty: false } readings } ? readings[^1] : null
        );
    }

    /// <summary>Logs a reading.</summary>
    public Task<Outcome<OdometerRow>> Run(OdometerInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await writes.Again(actor, input.Key, input, Kept, ct) is { } again)
                    return again;
                var now = writes.Now;
                if (await db.FactsOf(input.Unit, now, ct) is not { } facts)
                    return Outcome<OdometerRow>.Refused(Refusals.NoSuchUnit("unit", input.Unit, Array.Empty<string>()));
                if (facts.Odometer is not { } odometer)
                    return Outcome<OdometerRow>.Refused(Refusals.NoOdometer(input.Unit));
                var at = string.IsNullOrWhiteSpace(input.AtText)
                    ? input.At?.ToUniversalTime() ?? now
                    : LocalTime.Parse(input.AtText, facts.Zone);
                var refusals = new List<Refusal>();
                if (at is null)
                    refusals.Add(Refusals.NotATime("at"));
                var validated = at is { } read ? Validate(facts, odometer, input.KmText, read, now, input.Confirmed, refusals) : null;
                if (refusals.Count > 0)
                    return Outcome<OdometerRow>.Refused(refusals);
                var row = await Keep(validated!, actor, ct);
                writes.Remember(actor, input.Key, row.Id.ToString(CultureInfo.InvariantCulture));
                await writes.RefreshStatus([row.MachineId], ct);
                return Outcome<OdometerRow>.Of(row);

                Task<OdometerRow> Kept(string earlier) =>
                    db.OdometerReadings.WithVoided().FirstAsync(x => x.Id == long.Parse(earlier, CultureInfo.InvariantCulture), ct);
            },
            ct
        );

    /// <summary>A reading that may stand.</summary>
    internal sealed record Validated(Machine Machine, DateTimeOffset At, MeterHours Shown, Judgement Judged);

    /// <summary>Judges a reading; null, and why, where it may not stand.</summary>
    /// <param name="facts">The machine's.</param>
    /// <param name="odometer">Its odometer.</param>
    /// <param name="text">What was typed.</param>
    /// <param name="at">When it was read.</param>
    /// <param name="now">Now.</param>
    /// <param name="confirmed">Somebody says that it really shows an unusual figure.</param>
    /// <param name="refusals">Takes what is wrong.</param>
    internal static Validated? Validate(
        MachineFacts facts,
        Odometer odometer,
        string? text,
        DateTimeOffset at,
        DateTimeOffset now,
        bool confirmed,
        List<Refusal> refusals
    )
    {
        var before = refusals.Count;
        var km = Typed.Number(text, "km", 0, SaveMachine.MostKm, refusals);
        var validated = Validate(facts, odometer, MeterHours.Of(km ?? 0), at, now, confirmed, refusals, asFarAsRead: km is not null);
        return refusals.Count > before ? null : validated;
    }

    /// <summary>The same of a figure that has been read already.</summary>
    /// <param name="facts">The machine's.</param>
    /// <param name="odometer">Its odometer.</param>
    /// <param name="shown">What it shows.</param>
    /// <param name="at">When it was read.</param>
    /// <param name="now">Now.</param>
    /// <param name="confirmed">Somebody says that it really shows an unusual figure.</param>
    /// <param name="refusals">Takes what is wrong.</param>
    /// <param name="asFarAsRead">Without, the figure could not be read, and only its time is looked at.</param>
    internal static Validated? Validate(
        MachineFacts facts,
        Odometer odometer,
        MeterHours shown,
        DateTimeOffset at,
        DateTimeOffset now,
        bool confirmed,
        List<Refusal> refusals,
        bool asFarAsRead = true
    )
    {
        if (LocalDay.Of(at, facts.Zone) < facts.Machine.CommissionedOn)
        {
            refusals.Add(Refusals.BeforeCommissioning("at", facts.Machine.CommissionedOn));
            return null;
        }

        if (!asFarAsRead)
            return null;
        var judged = ReadingJudge.Judge(odometer.Record, at, shown, now, limits: MeterLimits.Kilometres);
        var refusal =
            judged.Before is null && shown < odometer.Record.CommissionedHours
                ? Refusals.KmBackward(
                    shown.Value,
                    odometer.Record.CommissionedHours.Value,
                    LocalDay.StartOf(facts.Machine.CommissionedOn, facts.Zone)
                )
                : Against(judged, shown, confirmed);
        if (refusal is null)
            return new(facts.Machine, at, shown, judged);
        refusals.Add(refusal);
        return null;
    }

    /// <summary>Keeps a reading that may stand, in the caller's transaction; one that is there already is that one.</summary>
    /// <param name="reading">The reading.</param>
    /// <param name="actor">Who read it.</param>
    /// <param name="ct">Cancels.</param>
    /// <param name="unasked">Nobody was asked whether an unusual figure is really shown: it waits for somebody who says so.</param>
    internal async Task<OdometerRow> Keep(Validated reading, Actor actor, CancellationToken ct, bool unasked = false)
    {
        if (reading.Judged.Code == ReadingCode.Duplicate)
        {
            return await db.OdometerReadings.FirstAsync(
                x => x.MachineId == reading.Machine.Id && x.At == reading.At && x.KmTenths == reading.Shown.Tenths,
                ct
            );
        }

        var row = new OdometerRow
        {
            MachineId = reading.Machine.Id,
            At = reading.At,
            KmTenths = reading.Shown.Tenths,
            By = actor.Name,
            EnteredAt = writes.Now,
            DecidedBy = reading.Judged.Code == ReadingCode.Check && !unasked ? actor.Name : null,
            ToConfirm = reading.Judged.Code == ReadingCode.Check && unasked,
        };
        db.OdometerReadings.Add(row);
        writes.Audit(actor, "odometer.log", reading.Machine.Unit, row.MachineId, null, new { at = row.At, km = reading.Shown.Value });
        await db.SaveChangesAsync(ct);
        return row;
    }

    /// <summary>Says of a reading that waits for it that the odometer really shows so.</summary>
    public Task<Outcome<OdometerRow>> Confirm(string unit, long id, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db
                    .OdometerReadings.Where(x => x.Id == id && x.ToConfirm && db.Machines.Any(m => m.Id == x.MachineId && m.Unit == unit))
                    .SingleOrDefaultAsync(ct);
                if (row is null || await db.FactsOf(unit, writes.Now, ct) is not { Odometer: { } odometer })
                    return Outcome<OdometerRow>.Refused(Refusals.OdometerGone());

                // What was read since may speak against it.
                var judged = ReadingJudge.Judge(odometer.Record, row.At, new(row.KmTenths), writes.Now, limits: MeterLimits.Kilometres);
                if (Against(judged, new(row.KmTenths), confirmed: true) is { } refusal)
                    return Outcome<OdometerRow>.Refused(refusal with { Field = "" });
                (row.ToConfirm, row.DecidedBy) = (false, actor.Name);
                writes.Audit(actor, "odometer.confirm", unit, row.MachineId, null, new { km = row.KmTenths / 10.0 });
                await db.SaveChangesAsync(ct);
                await writes.RefreshStatus([row.MachineId], ct);
                return Outcome<OdometerRow>.Of(row);
            },
            ct
        );

    /// <summary>Takes a reading out that was entered in error.</summary>
    public Task<Outcome<OdometerRow>> Void(string unit, long id, string? reason, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db
                    .OdometerReadings.Where(x => x.Id == id && db.Machines.Any(m => m.Id == x.MachineId && m.Unit == unit))
                    .SingleOrDefaultAsync(ct);
                if (row is null)
                    return Outcome<OdometerRow>.Refused(Refusals.OdometerGone());
                var refusals = new List<Refusal>();
                var why = Typed.Words(reason, "reason", 200, refusals, needed: true);
                if (refusals.Count > 0)
                    return Outcome<OdometerRow>.Refused(refusals);
                (row.VoidedAt, row.VoidedBy, row.VoidReason) = (writes.Now, actor.Name, why);
                writes.Audit(actor, "odometer.void", unit, row.MachineId, new { km = row.KmTenths / 10.0 }, new { reason = why });
                await db.SaveChangesAsync(ct);
                await writes.RefreshStatus([row.MachineId], ct);
                return Outcome<OdometerRow>.Of(row);
            },
            ct
        );

    internal static Refusal? Against(Judgement judged, MeterHours shown, bool confirmed) =>
        judged.Code switch
        {
            ReadingCode.Future => Refusals.Future("at"),
            ReadingCode.Backward => Refusals.KmBackward(shown.Value, judged.Before!.Value.Hours.Value, judged.Before.Value.At),
            ReadingCode.TooFast => Refusals.KmTooFast(shown.Value, judged.Before!.Value.Hours.Value, judged.Before.Value.At),
            ReadingCode.BeyondNext => Refusals.KmBeyondNext(shown.Value, judged.After!.Value.Hours.Value, judged.After.Value.At),
            ReadingCode.Check when !confirmed => Refusals.KmUnusual(Math.Round(judged.Expected!.Value)),
            _ => null,
        };
}
