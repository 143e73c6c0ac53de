using Microsoft.EntityFrameworkCore;
using Nippers.App.Readings;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Queries;
using Nippers.Data.Records;

namespace Nippers.App.Work;

/// <summary>Work done, as entered.</summary>
/// <param name="Unit">The machine.</param>
/// <param name="Items">Item codes that were done.</param>
/// <param name="HoursText">What the meter showed then.</param>
/// <param name="DateText">Date at the site; empty: today.</param>
/// <param name="Note">Words.</param>
/// <param name="SeenUpTo">Newest completion the person had on the screen; work recorded since by others on the same item stops
/// this.</param>
/// <param name="OfferedHours">What the form had filled in; hours changed by hand are taken as a meter reading too.</param>
/// <param name="Confirmed">The person says that unusual hours are right.</param>
/// <param name="Key">Makes a repeat harmless.</param>
public sealed record RecordWorkInput(
    string Unit,
    IReadOnlyCollection<string> Items,
    string? HoursText,
    string? DateText,
    string? Note,
    long SeenUpTo = long.MaxValue,
    string? OfferedHours = null,
    bool Confirmed = false,
    string? Key = null
);

/// <summary>How one item's due point moved.</summary>
public sealed record MovedDue(string ItemCode, string ItemName, DuePoint Before, DuePoint After);

/// <summary>Work that was recorded.</summary>
/// <param name="Batch">Joins the completions; voiding takes all of them back.</param>
/// <param name="Moves">How dues moved; empty when it had been recorded before under the same key.</param>
/// <param name="Judgement">The judge on the hours, when they were taken as a reading.</param>
public sealed record RecordedWork(string Batch, IReadOnlyList<MovedDue> Moves, Judgement? Judgement);

/// <summary>Records items done on a machine; the rest of the service stays due.</summary>
public sealed class RecordWork(NippersDb db, UnitOfWork writes, LogReading log)
{
    private const int LongestNote = 2000;

    public Task<Outcome<RecordedWork>> Run(RecordWorkInput input, Actor actor, CancellationToken ct) =>
        writes.Run(() => Do(input, actor, ct), ct);

    /// <summary>The same inside the caller's transaction.</summary>
    internal async Task<Outcome<RecordedWork>> Do(RecordWorkInput input, Actor actor, CancellationToken ct)
    {
        if (await writes.Again(actor, input.Key, input, x => Task.FromResult(new RecordedWork(x, [], null)), ct) is { } again)
            return again;

        var now = writes.Now;
        var refusals = new List<Refusal>();
        var first = await db.FactsOf(input.Unit, now, ct);
        if (first is null)
            return Outcome<RecordedWork>.Refused(Refusals.NoSuchUnit("unit", input.Unit, Array.Empty<string>()));

        var today = LocalDay.Of(now, first.Zone);
        var on = string.IsNullOrWhiteSpace(input.DateText) ? today : LocalTime.ParseDate(input.DateText);
        if (on is null)
            refusals.Add(Refusals.NotADate("on"));
        else if (on > today)
            refusals.Add(Refusals.DateInFuture("on"));
        else if (on < first.Machine.CommissionedOn)
            refusals.Add(Refusals.BeforeCommissioning("on", first.Machine.CommissionedOn));
        if (HoursInput.Read("hours", input.HoursText, out var shown) is { } fault)
            refusals.Add(fault);
        if (input.Items.Count == 0)
            refusals.Add(Refusals.NoItems());
        if (input.Note?.Length > LongestNote)
            refusals.Add(Refusals.TooLong("note", LongestNote));

        var known = first.Items.ToDictionary(x => x.Code, StringComparer.Ordinal);
        var strangers = input.Items.Where(code => !known.ContainsKey(code)).ToList();
        if (strangers.Count > 0)
            refusals.Add(Refusals.NoSuchItem("items", string.Join(", ", strangers)));
        if (refusals.Count > 0)
            return Outcome<RecordedWork>.Refused(refusals);

        if (await DoneMeanwhile(first.Machine.Id, input, ct) is { } taken)
            return Outcome<RecordedWork>.Refused(taken);

        var (hours, judgement, wrong) = await JudgeHours(input, first, on!.Value, today, shown, actor, ct);
        if (wrong is not null)
            return new(new RecordedWork("", [], judgement), [wrong]);

        var recorded = Add(input, first, on.Value, hours, shown, actor);
        writes.Remember(actor, input.Key, recorded);
        var moves = first.Items.Where(x => input.Items.Contains(x.Code)).Select(item => (item, Before: first.Due(item))).ToList();
        await writes.RefreshStatus([first.Machine.Id], ct);
        var after = (await db.FactsOf(input.Unit, now, ct))!;
        return Outcome<RecordedWork>.Of(
            new(recorded, [.. moves.Select(x => new MovedDue(x.item.Code, x.item.Name, x.Before, after.Due(x.item)))], judgement)
        );
    }

    private async Task<Refusal?> DoneMeanwhile(int machineId, RecordWorkInput input, CancellationToken ct)
    {
        var meanwhile = await db
            .Completions.Where(x => x.MachineId == machineId && x.Id > input.SeenUpTo && input.Items.Contains(x.ItemCode))
            .OrderByDescending(x => x.Id)
            .Select(x => new
            {
                x.By,
                x.ItemCode,
                x.EnteredAt,
            })
            .FirstOrDefaultAsync(ct);
        return meanwhile is null ? null : Refusals.DoneMeanwhile(meanwhile.ItemCode, meanwhile.By, meanwhile.EnteredAt);
    }

    /// <summary>Hours typed for today are a reading; others must fit between the readings around that day.</summary>
    private async Task<(MeterHours Life, Judgement? Judgement, Refusal? Refusal)> JudgeHours(
        RecordWorkInput input,
        MachineFacts facts,
        DateOnly on,
        DateOnly today,
        MeterHours shown,
        Actor actor,
        CancellationToken ct
    )
    {
        var (start, evening, now) = (LocalTime.StartOf(on, facts.Zone), LocalTime.StartOf(on.AddDays(1), facts.Zone), writes.Now);
        var end = evening < now ? evening : now;
        var offset = facts.Offsets.At(end);
        var life = (shown + offset).Clamped;

        if (on == today && input.HoursText?.Trim() != input.OfferedHours?.Trim())
        {
            var entered = new LogReadingInput(input.Unit, input.HoursText, Source: ReadingSource.Work);
            var validated = await log.Validate(entered, ct);
            if (validated.Refusals.Count > 0)
                return (life, validated.Judgement, validated.Refusals[0]);
            if (validated.Judgement!.Code == ReadingCode.Check && !input.Confirmed)
            {
                return (
                    life,
                    validated.Judgement,
                    Refusals.UnusualHours(shown, new MeterHours((int)Math.Round(validated.Judgement.Expected!.Value * 10)) - offset)
                );
            }

            await log.Keep(validated, entered, actor, ct, confirmed: input.Confirmed);
            return (life, validated.Judgement, null);
        }

        // An old day wants the readings of that day, which the facts of now need not hold.
        var around = on == today ? facts : (await db.FactsOf(input.Unit, start, ct))!;
        var range = HoursOnDay.Range(around.Record, start, end);
        return range.Holds(life)
            ? (life, null, null)
            : (life, null, Refusals.OutsideDay(shown, on, (range.Least - offset).Clamped, (range.Most - offset)?.Clamped));
    }

    private string Add(RecordWorkInput input, MachineFacts facts, DateOnly on, MeterHours life, MeterHours shown, Actor actor)
    {
        var batch = Guid.NewGuid().ToString("N");
        foreach (var item in facts.Items.Where(x => input.Items.Contains(x.Code)))
        {
            db.Completions.Add(
                new CompletionRow
                {
                    MachineId = facts.Machine.Id,
                    ItemCode = item.Code,
                    Kind = CompletionKind.Work,
                    DoneOn = on,
                    LifeHours = life,
                    ShownHours = shown,
                    Note = input.Note?.Trim() ?? "",
                    By = actor.Name,
                    EnteredAt = writes.Now,
                    Batch = batch,
                }
            );
        }

        writes.Audit(
            actor,
            "work.record",
            input.Unit,
            facts.Machine.Id,
            null,
            new
            {
                on,
                hours = shown.Value,
                items = input.Items,
                input.Note,
            }
        );
        return batch;
    }
}
