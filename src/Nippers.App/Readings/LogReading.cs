using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Hours;
using Nippers.Core.Quick;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Queries;
using Nippers.Data.Records;

namespace Nippers.App.Readings;

/// <summary>A reading as it was entered.</summary>
/// <param name="Unit">The machine.</param>
/// <param name="HoursText">What was typed.</param>
/// <param name="AtText">Date and time at the site; empty: now.</param>
/// <param name="Source">Where it came from.</param>
/// <param name="Key">Makes a repeat harmless.</param>
/// <param name="Replaces">An unconfirmed reading that this one corrects; it is voided.</param>
/// <param name="At">The instant, when the caller has one; goes before <paramref name="AtText"/>.</param>
public sealed record LogReadingInput(
    string Unit,
    string? HoursText,
    string? AtText = null,
    ReadingSource Source = ReadingSource.Form,
    string? Key = null,
    long? Replaces = null,
    DateTimeOffset? At = null
);

/// <summary>What the judge said, and the row when one was kept.</summary>
/// <param name="Judgement">The judgement; null when the input could not be judged.</param>
/// <param name="ReadingId">The reading kept; null for a duplicate.</param>
/// <param name="Shown">What the meter showed.</param>
/// <param name="OffsetHours">Life hours less meter hours.</param>
/// <param name="Repeat">It had been done before under this key.</param>
public sealed record LoggedReading(Judgement? Judgement, long? ReadingId, MeterHours Shown, MeterHours OffsetHours, bool Repeat = false);

/// <summary>What a reading was judged to be, before anything is kept.</summary>
public sealed record ValidatedReading(
    MachineFacts? Facts,
    MeterHours Shown,
    DateTimeOffset At,
    Judgement? Judgement,
    IReadOnlyList<Refusal> Refusals
)
{
    public MeterHours OffsetHours => Facts?.Offsets.At(At) ?? MeterHours.Zero;
}

/// <summary>Logs one meter reading: judged by Core, saved with its audit row, standing brought up to date.</summary>
public sealed class LogReading(NippersDb db, UnitOfWork writes)
{
    /// <summary>Judges without keeping anything.</summary>
    /// <param name="input">The reading.</param>
    /// <param name="ct">Cancels.</param>
    /// <param name="known">The machine's facts as of now, where the caller has them.</param>
    public async Task<ValidatedReading> Validate(LogReadingInput input, CancellationToken ct, MachineFacts? known = null)
    {
        var refusals = new List<Refusal>();
        if (HoursInput.Read("hours", input.HoursText, out var shown) is { } fault)
            refusals.Add(fault);

        var now = writes.Now;
        var timeZone = known?.Machine.Site.TimeZone
            ?? await db.Machines.Where(x => x.Unit == input.Unit).Select(x => x.Site.TimeZone).SingleOrDefaultAsync(ct);
        if (timeZone is null)
        {
            var near = NearestNames.Of(input.Unit, await db.Machines.Where(x => !x.Retired).Select(x => x.Unit).ToListAsync(ct));
            return new(null, shown, now, null, [Refusals.NoSuchUnitOrNear("unit", input.Unit, near), .. refusals]);
        }

        var zone = TimeZoneInfo.FindSystemTimeZoneById(timeZone);
        var at = input.At ?? (string.IsNullOrWhiteSpace(input.AtText) ? now : LocalTime.Parse(input.AtText, zone));
        if (at is null)
            refusals.Add(Refusals.NotATime("at"));
        if (refusals.Count > 0)
            return new(null, shown, at ?? now, null, refusals);

        var facts = known is not null && at >= now ? known : (await db.FactsOf(input.Unit, at < now ? at.Value : now, ct))!;
        var judgement = Judge(facts.Machine, facts.Record, facts.Offsets.At(at!.Value), shown, at.Value, now, refusals);
        return new(facts, shown, at.Value, judgement, refusals);
    }

    /// <summary>Judges a figure that is one, with a database or without.</summary>
    /// <param name="machine">The machine with its site.</param>
    /// <param name="record">Its readings.</param>
    /// <param name="offset">Life hours less meter hours then.</param>
    /// <param name="shown">What the meter showed.</param>
    /// <param name="at">When.</param>
    /// <param name="now">Now.</param>
    /// <param name="refusals">Takes what stands against it.</param>
    public static Judgement Judge(
        Machine machine,
        MeterRecord record,
        MeterHours offset,
        MeterHours shown,
        DateTimeOffset at,
        DateTimeOffset now,
        List<Refusal> refusals
    )
    {
        if (LocalDay.Of(at, TimeZoneInfo.FindSystemTimeZoneById(machine.Site.TimeZone)) < machine.CommissionedOn)
            refusals.Add(Refusals.BeforeCommissioning("at", machine.CommissionedOn));
        var judgement = ReadingJudge.Judge(record, at, shown, now, offset);
        if (judgement.Before is null && shown + offset < machine.CommissionedHours)
            refusals.Add(Refusals.BelowCommissioning(record.CommissionedHours));
        if (shown + offset < MeterHours.Zero || shown + offset > MeterHours.Max)
            refusals.Add(Refusals.HoursTooLarge("hours", MeterHours.Max));
        if (refusals.Count == 0 && Words(judgement, shown, offset) is { } refusal)
            refusals.Add(refusal);
        return judgement;
    }

    /// <summary>Logs a reading.</summary>
    public Task<Outcome<LoggedReading>> Run(LogReadingInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await writes.Again(actor, input.Key, input, Repeated, ct) is { } again)
                    return again;

                if (input.Replaces is { } replaced && await VoidReplaced(replaced, input.Unit, actor, ct) is { } gone)
                    return Outcome<LoggedReading>.Refused(gone);
                var validated = await Validate(input, ct);
                if (validated.Refusals.Count > 0)
                    return new(new LoggedReading(validated.Judgement, null, validated.Shown, validated.OffsetHours), validated.Refusals);

                var row = await Keep(validated, input, actor, ct);
                writes.Remember(actor, input.Key, row?.Id.ToString(CultureInfo.InvariantCulture) ?? "");
                return Outcome<LoggedReading>.Of(new(validated.Judgement, row?.Id, validated.Shown, validated.OffsetHours));
            },
            ct
        );

    // A reading that said nothing new was not kept, and has no number.
    private static Task<LoggedReading> Repeated(string earlier) =>
        Task.FromResult(
            new LoggedReading(
                null,
                long.TryParse(earlier, CultureInfo.InvariantCulture, out var kept) ? kept : null,
                default,
                new MeterHours(0),
                Repeat: true
            )
        );

    /// <summary>Keeps a validated reading inside the caller's transaction; null for a duplicate.</summary>
    /// <param name="validated">What <see cref="Validate"/> gave, without refusals.</param>
    /// <param name="input">The input.</param>
    /// <param name="actor">Who.</param>
    /// <param name="ct">Cancels.</param>
    /// <param name="confirmed">The person says that the meter really shows an unusual figure.</param>
    internal async Task<ReadingRow?> Keep(
        ValidatedReading validated,
        LogReadingInput input,
        Actor actor,
        CancellationToken ct,
        bool confirmed = false
    )
    {
        if (validated.Judgement!.Code == ReadingCode.Duplicate)
            return null;
        var unconfirmed = validated.Judgement.Code == ReadingCode.Check && !confirmed;
        if (unconfirmed && await Waiting(validated, ct) is { } waiting)
            return waiting;
        var row = new ReadingRow
        {
            MachineId = validated.Facts!.Machine.Id,
            At = validated.At,
            ShownHours = validated.Shown,
            LifeHours = validated.Shown + validated.OffsetHours,
            State = unconfirmed ? ReadingState.Unconfirmed : ReadingState.Accepted,
            Source = input.Source,
            By = actor.Name,
            EnteredAt = writes.Now,
            DecidedBy = confirmed && validated.Judgement.Code == ReadingCode.Check ? actor.Name : null,
        };
        db.Readings.Add(row);
        writes.Audit(
            actor,
            "reading.log",
            validated.Facts.Machine.Unit,
            row.MachineId,
            null,
            new
            {
                at = validated.At,
                hours = validated.Shown.Value,
                row.State,
            }
        );

        // Facts around an instant that is past hold what was known of the machine then. Where none was said they are those of this turn.
        if ((input.At is not null || !string.IsNullOrWhiteSpace(input.AtText)) && row.At < writes.Now)
            await writes.RefreshStatus([row.MachineId], ct);
        else
            await writes.RefreshStatus(
                unconfirmed
                    ? validated.Facts with
                    {
                        Unconfirmed = validated.Facts.Unconfirmed + 1,
                    }
                    : validated.Facts.With(new Reading(row.At, row.LifeHours)),
                ct
            );
        return row;
    }

    /// <summary>The same unusual reading, entered before and still waiting for a person.</summary>
    private Task<ReadingRow?> Waiting(ValidatedReading validated, CancellationToken ct)
    {
        var (machine, at, shown) = (validated.Facts!.Machine.Id, validated.At, validated.Shown);
        return db.Readings.FirstOrDefaultAsync(
            x => x.MachineId == machine && x.State == ReadingState.Unconfirmed && x.At == at && x.ShownHours == shown,
            ct
        );
    }

    private async Task<Refusal?> VoidReplaced(long id, string unit, Actor actor, CancellationToken ct)
    {
        var row = await db
            .Readings.Where(x => x.Id == id && x.State == ReadingState.Unconfirmed)
            .Join(db.Machines.Where(m => m.Unit == unit), r => r.MachineId, m => m.Id, (r, m) => r)
            .SingleOrDefaultAsync(ct);
        if (row is null)
            return Refusals.ReadingGone();
        row.State = ReadingState.Voided;
        row.DecidedBy = actor.Name;
        row.Reason = ReadingReasons.Corrected;
        writes.Audit(actor, "reading.void", unit, row.MachineId, new { hours = row.ShownHours.Value }, new { row.Reason });
        await db.SaveChangesAsync(ct);
        return null;
    }

    internal static Refusal? Words(Judgement judgement, MeterHours shown, MeterHours offset)
    {
        MeterHours Shows(Reading reading) => (reading.Hours - offset).Clamped;
        return judgement.Code switch
        {
            ReadingCode.Future => Refusals.Future("at"),
            ReadingCode.Backward => Refusals.Backward(shown, Shows(judgement.Before!.Value), judgement.Before.Value.At),
            ReadingCode.TooFast => Refusals.TooFast(shown, Shows(judgement.Before!.Value), judgement.Before.Value.At),
            ReadingCode.BeyondNext => Refusals.BeyondNext(shown, Shows(judgement.After!.Value), judgement.After.Value.At),
            _ => null,
        };
    }
}

/// <summary>Reasons that Nippers itself writes when it voids a reading for someone.</summary>
public static class ReadingReasons
{
    public const string Corrected = "corrected on entry";
    public const string Undone = "undone";
}
