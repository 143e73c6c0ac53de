using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Records;

namespace Nippers.App.Readings;

/// <summary>A meter taken off and another put on, as entered.</summary>
public sealed record ReplaceMeterInput(string Unit, string? OldFinalText, string? NewStartText, string? AtText, string? Note, string? Key);

/// <summary>Records a replaced meter: the old one's last figure is a reading, and life hours go on from it.</summary>
public sealed class ReplaceMeter(NippersDb db, UnitOfWork writes, LogReading log)
{
    public Task<Outcome<MeterChange>> Run(ReplaceMeterInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await writes.Again(actor, input.Key, input, _ => Task.FromResult(Nothing.Special), ct) is { } again)
                    return Outcome<MeterChange>.Refused(again.Done ? [Refusals.AlreadyDone()] : again.Refusals);
                var entered = new LogReadingInput(input.Unit, input.OldFinalText, input.AtText, ReadingSource.MeterChange);
                var validated = await log.Validate(entered, ct);
                var refusals = validated.Refusals.Select(x => x.Field == "hours" ? x with { Field = "oldFinal" } : x).ToList();
                if (HoursInput.Read("newStart", input.NewStartText, out var newStart) is { } fault)
                    refusals.Add(fault);
                if (validated.Judgement?.After is { } after)
                    refusals.Add(Refusals.ReadingsAfterSwap(after.Hours, after.At));
                if (validated.Facts?.Offsets.LastSwapAt >= validated.At)
                    refusals.Add(Refusals.LaterSwap());
                if (refusals.Count > 0)
                    return Outcome<MeterChange>.Refused(refusals);

                await log.Keep(validated, entered, actor, ct, confirmed: true);
                var change = new MeterChange
                {
                    MachineId = validated.Facts!.Machine.Id,
                    At = validated.At,
                    OldFinalHours = validated.Shown,
                    NewStartHours = newStart,
                    Note = input.Note?.Trim() ?? "",
                    By = actor.Name,
                    EnteredAt = writes.Now,
                };
                db.MeterChanges.Add(change);
                writes.Audit(
                    actor,
                    "meter.replace",
                    input.Unit,
                    change.MachineId,
                    new { meter = validated.Shown.Value },
                    new { meter = newStart.Value, at = validated.At }
                );
                writes.Remember(actor, input.Key, "done");
                await writes.RefreshStatus([change.MachineId], ct);
                return Outcome<MeterChange>.Of(change);
            },
            ct
        );
}
