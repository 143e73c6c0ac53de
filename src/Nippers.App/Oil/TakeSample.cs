using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Readings;
using Nippers.App.Work;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using Nippers.Core.Oil;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Oil;
using Nippers.Data.Queries;

namespace Nippers.App.Oil;

/// <summary>A sample that was taken, as entered.</summary>
public sealed record TakeSampleInput
{
    public required string Unit { get; init; }

    /// <summary>Code of the item that samples.</summary>
    public required string Item { get; init; }
    public string? Hours { get; init; }

    /// <summary>What the form had filled in.</summary>
    public string? OfferedHours { get; init; }

    /// <summary>Day on which it was drawn; empty for today.</summary>
    public string? DateText { get; init; }

    /// <summary>The person says that unusual hours are right.</summary>
    public bool Confirmed { get; init; }

    /// <summary>What is written on the bottle; empty: a new code is given out.</summary>
    public string? Bottle { get; init; }
    public DrawMethod? Method { get; init; }
    public DrawState? Engine { get; init; }

    /// <summary>Litres added since the last change; empty: what is on record.</summary>
    public string? AddedLitres { get; init; }

    /// <summary>It was drawn from the bottom, after a top-up, or got dirty.</summary>
    public bool DrawnWrong { get; init; }
    public string? Note { get; init; }
    public string? Key { get; init; }
}

/// <summary>Keeps a sample that was taken by itself, and its item as done. And takes it back.</summary>
public sealed class TakeSample(NippersDb db, UnitOfWork writes, RecordWork work, OilCatalog book, JudgeSample judge)
{
    private const int LongestBottle = 24;
    private const int LongestNote = 500;
    private const double MostLitres = 5000;

    /// <summary>The hour that stands for a day on which nobody wrote the time down.</summary>
    private const int NoonHour = 12;

    public Task<Outcome<SampleRow>> Run(TakeSampleInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (
                    await writes.AgainById(
                        actor,
                        Prefixed(input.Key),
                        input,
                        kept => db.Samples.WithVoided().SingleAsync(x => x.Id == kept, ct),
                        ct
                    ) is
                    { } again
                )
                    return again;

                var machine = await book.Load(input.Unit, ct);
                if (machine is null)
                    return Outcome<SampleRow>.Refused(Refusals.NoSuchUnit("unit", input.Unit, Array.Empty<string>()));
                var place = OilCatalog.Places(machine, machine.Program).FirstOrDefault(x => x.Item.Code == input.Item);
                if (place is null)
                    return Outcome<SampleRow>.Refused(Refusals.NoSuchItem("item", input.Item));
                var refusals = new List<Refusal>();
                if (input.Method is null)
                    refusals.Add(Refusals.Needed("method"));
                if (input.Engine is null)
                    refusals.Add(Refusals.Needed("engine"));
                var added = Typed.Volume(input.AddedLitres, "addedLitres", 0, MostLitres, refusals);
                var note = Typed.Words(input.Note, "note", LongestNote, refusals);
                var (bottle, prepared) = await Bottle(input.Bottle, machine.Id, place, refusals, ct);
                if (refusals.Count > 0)
                    return Outcome<SampleRow>.Refused(refusals);

                var facts = (await db.FactsOf(input.Unit, writes.Now, ct))!;
                var latest = Latest(facts, place);
                var done = await work.Do(
                    new(
                        input.Unit,
                        [input.Item],
                        input.Hours,
                        input.DateText,
                        note,
                        OfferedHours: input.OfferedHours,
                        Confirmed: input.Confirmed
                    ),
                    actor,
                    ct
                );
                if (!done.Done)
                    return Outcome<SampleRow>.Refused(done.Refusals);
                var completion = await db.Completions.SingleAsync(x => x.Batch == done.Value!.Batch, ct);
                var row = await Make(
                    machine,
                    place,
                    bottle,
                    completion.LifeHours,
                    completion.DoneOn,
                    completion.Batch,
                    completion.LifeHours.Value > latest,
                    actor.Name,
                    ct
                );
                if (completion.DoneOn < LocalDay.Of(writes.Now, facts.Zone))
                    row.TakenAt = LocalTime.StartOf(completion.DoneOn, facts.Zone).AddHours(NoonHour);
                (row.Method, row.Engine, row.Note) = (input.Method, input.Engine, note);
                row.DrawnWrong = input.DrawnWrong || !Drawing.Suits(input.Method!.Value, input.Engine!.Value);
                if (added is { } litres)
                    row.AddedLitres = litres;
                db.Samples.Add(row);
                await db.SaveChangesAsync(ct);
                if (prepared is not null)
                    prepared.SampleId = row.Id;
                writes.Remember(actor, Prefixed(input.Key), row.Id.ToString(CultureInfo.InvariantCulture));
                writes.Audit(
                    actor,
                    "sample.take",
                    Subject(input.Unit, row),
                    machine.Id,
                    null,
                    new
                    {
                        row.Bottle,
                        row.Compartment,
                        hours = row.LifeHours.Value,
                        row.Method,
                        row.Engine,
                        row.DrawnWrong,
                    }
                );
                return Outcome<SampleRow>.Of(row);
            },
            ct
        );

    /// <summary>Takes a sample back: its bottle was broken, or it never was. Its item is due again.</summary>
    public Task<Outcome<SampleRow>> Void(long id, string? reason, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db.Samples.Include(x => x.Machine).SingleOrDefaultAsync(x => x.Id == id, ct);
                if (row is null)
                    return Outcome<SampleRow>.Refused(Refusals.NoSuchSample());
                if (row.SignedAs is not null)
                    return Outcome<SampleRow>.Refused(Refusals.SampleSigned(row.SignedBy));
                if (!Typed.IsReason(reason, "reason", out var unreasoned))
                    return Outcome<SampleRow>.Refused(unreasoned);
                (row.VoidedAt, row.VoidedBy, row.VoidReason) = (writes.Now, actor.Name, reason.Trim());
                row.Version++;
                await db
                    .Completions.Where(x => x.MachineId == row.MachineId && x.Batch == row.Batch && x.ItemCode == row.ItemCode)
                    .ExecuteUpdateAsync(
                        x =>
                            x.SetProperty(m => m.VoidedAt, writes.Now)
                                .SetProperty(m => m.VoidedBy, actor.Name)
                                .SetProperty(m => m.VoidReason, reason.Trim()),
                        ct
                    );
                writes.Audit(
                    actor,
                    "sample.void",
                    Subject(row.Machine.Unit, row),
                    row.MachineId,
                    new { row.Bottle, row.State },
                    new { reason }
                );
                await db.SaveChangesAsync(ct);
                await SendSamples.Settle(db, row.ConsignmentId, ct);
                await judge.After(row, ct);
                await writes.RefreshStatus([row.MachineId], ct);
                return Outcome<SampleRow>.Of(row);
            },
            ct
        );

    /// <summary>Takes samples back whose work was undone, inside the caller's transaction.</summary>
    internal async Task Withdraw(IQueryable<SampleRow> samples, string by, string reason, CancellationToken ct)
    {
        var rows = await samples.ToListAsync(ct);
        foreach (var row in rows)
            (row.VoidedAt, row.VoidedBy, row.VoidReason) = (writes.Now, by, reason);
        await db.SaveChangesAsync(ct);
        foreach (var row in rows)
        {
            await SendSamples.Settle(db, row.ConsignmentId, ct);
            await judge.After(row, ct);
        }
    }

    /// <summary>A sample's row from what is known of the machine at some hours.</summary>
    internal async Task<SampleRow> Make(
        Machine machine,
        SampledPlace place,
        string bottle,
        MeterHours lifeHours,
        DateOnly on,
        string batch,
        bool late,
        string by,
        CancellationToken ct
    )
    {
        var oil = await book.InIt(machine, place.Compartment.Code, lifeHours, batch, ct);
        var (grade, family) = await book.GradeOf(oil.Fluid, place.Kind, ct);
        return new()
        {
            MachineId = machine.Id,
            Compartment = place.Compartment.Code,
            ItemCode = place.Item.Code,
            Bottle = bottle,
            On = on,
            TakenAt = writes.Now,
            LifeHours = lifeHours,
            OilHours = oil.OilHours,
            AddedLitres = new Litres(oil.AddedLitres),
            Fluid = oil.Fluid,
            By = by,
            Batch = batch,
            Kind = place.Kind,
            Grade = grade,
            Family = family,
            Late = late,
        };
    }

    /// <summary>Life hours up to which the sample of a place is taken within its window; null where it is not due by hours.</summary>
    internal static double? Latest(MachineFacts facts, SampledPlace place)
    {
        var point = facts.Due(place.Item);
        return point.DueHours + point.WindowHours;
    }

    internal static string Subject(string unit, SampleRow row) => $"{unit} {row.Bottle}";

    /// <summary>Reads what is written on a bottle: a code that was given out, or another laboratory's own mark.</summary>
    /// <returns>The mark, and the prepared bottle when it is one.</returns>
    private async Task<(string Bottle, BottleRow? Prepared)> Bottle(
        string? text,
        int machineId,
        SampledPlace place,
        List<Refusal> refusals,
        CancellationToken ct
    )
    {
        var typed = Typed.Words(text, "bottle", LongestBottle, refusals).ToUpperInvariant();
        if (typed.Length == 0)
        {
            var fresh = await Bottles.New(db, machineId, place.Compartment.Code, place.Item.Code, writes.Now, "", ct);
            return (fresh.Code, fresh);
        }

        var (mark, fault) = Bottles.ReadMark(typed);
        if (fault is not null)
            refusals.Add(new("bottle", fault, typed));
        else if (await db.Samples.AnyAsync(x => x.Bottle == mark, ct))
            refusals.Add(Refusals.BottleTaken("bottle", mark));
        var prepared = await db.Bottles.SingleOrDefaultAsync(x => x.Code == mark, ct);
        if (prepared is not null && (prepared.MachineId != machineId || prepared.Compartment != place.Compartment.Code))
        {
            var unit = await db.Machines.Where(x => x.Id == prepared.MachineId).Select(x => x.Unit).SingleAsync(ct);
            refusals.Add(Refusals.BottleOther(mark, unit, prepared.Compartment));
        }

        return (mark, prepared);
    }

    /// <summary>Recording work under the same key would answer this question with its own outcome.</summary>
    private static string? Prefixed(string? key) => string.IsNullOrWhiteSpace(key) ? null : "sample-" + key;
}
