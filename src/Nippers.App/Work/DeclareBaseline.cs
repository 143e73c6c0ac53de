using Nippers.App.Readings;
using Nippers.Core.Hours;
using Nippers.Data;
using Nippers.Data.Queries;
using Nippers.Data.Records;

namespace Nippers.App.Work;

/// <summary>What somebody says of an item's past.</summary>
/// <param name="Unit">The machine.</param>
/// <param name="Items">Items it is said of.</param>
/// <param name="HoursText">Meter hours at which it is said to have been done.</param>
/// <param name="DateText">The date.</param>
/// <param name="SaidBy">Who says so.</param>
/// <param name="Note">Words.</param>
/// <param name="Key">Makes a repeat harmless.</param>
public sealed record BaselineInput(
    string Unit,
    IReadOnlyCollection<string> Items,
    string? HoursText,
    string? DateText,
    string? SaidBy,
    string? Note,
    string? Key = null
);

/// <summary>Declares a baseline: it counts as a completion, and says on whose word.</summary>
public sealed class DeclareBaseline(NippersDb db, UnitOfWork writes)
{
    public Task<Outcome<Nothing>> Run(BaselineInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await writes.Again(actor, input.Key, input, _ => Task.FromResult(Nothing.Special), ct) is { } again)
                    return again;
                var facts = await db.FactsOf(input.Unit, writes.Now, ct);
                if (facts is null)
                    return Outcome<Nothing>.Refused(Refusals.NoSuchUnit("unit", input.Unit, Array.Empty<string>()));

                var refusals = new List<Refusal>();
                var fault = HoursInput.Read("hours", input.HoursText, out var shown);
                if (fault is not null)
                    refusals.Add(fault);
                var on = LocalTime.ParseDate(input.DateText);
                if (on is null)
                    refusals.Add(Refusals.NotADate("on"));
                else if (on > LocalDay.Of(writes.Now, facts.Zone))
                    refusals.Add(Refusals.DateInFuture("on"));
                if (string.IsNullOrWhiteSpace(input.SaidBy))
                    refusals.Add(Refusals.SaidByNeeded());
                if (input.Items.Count == 0)
                    refusals.Add(Refusals.NoItems());
                var known = facts.Items.Select(x => x.Code).ToHashSet(StringComparer.Ordinal);
                if (input.Items.FirstOrDefault(x => !known.Contains(x)) is { } stranger)
                    refusals.Add(Refusals.NoSuchItem("items", stranger));

                var offset = on is { } day ? facts.Offsets.At(LocalTime.StartOf(day.AddDays(1), facts.Zone)) : MeterHours.Zero;
                var life = shown + offset;
                var now = UsePerDay.Estimate(facts.Record, writes.Now).HoursNow(writes.Now);
                if (fault is null && (life < MeterHours.Zero || life.Value > now + 1))
                    refusals.Add(Refusals.BaselineAhead(shown, MeterHours.Of(Math.Max(0, now - offset.Value))));
                if (refusals.Count > 0)
                    return Outcome<Nothing>.Refused(refusals);

                var batch = Guid.NewGuid().ToString("N");
                foreach (var code in input.Items.Distinct(StringComparer.Ordinal))
                {
                    db.Completions.Add(
                        new CompletionRow
                        {
                            MachineId = facts.Machine.Id,
                            ItemCode = code,
                            Kind = CompletionKind.Baseline,
                            DoneOn = on!.Value,
                            LifeHours = life,
                            ShownHours = shown,
                            Note = input.Note?.Trim() ?? "",
                            By = actor.Name,
                            SaidBy = input.SaidBy!.Trim(),
                            EnteredAt = writes.Now,
                            Batch = batch,
                        }
                    );
                }

                writes.Audit(
                    actor,
                    "baseline.declare",
                    input.Unit,
                    facts.Machine.Id,
                    null,
                    new
                    {
                        on,
                        hours = shown.Value,
                        items = input.Items,
                        input.SaidBy,
                    }
                );
                writes.Remember(actor, input.Key, batch);
                await writes.RefreshStatus([facts.Machine.Id], ct);
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );
}
