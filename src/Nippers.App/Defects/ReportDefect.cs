using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Queries;

namespace Nippers.App.Defects;

/// <summary>A defect as it is reported, from a check, a page or the quick line.</summary>
public sealed record DefectInput
{
    public required string Unit { get; init; }

    /// <summary>Code of a walk station or compartment; empty: not said.</summary>
    public string? Place { get; init; }

    /// <summary>The exact thing there, in words; empty for none.</summary>
    public string? Part { get; init; }

    /// <summary>What it is on, as the person tapped it. A check knows its own.</summary>
    public MachinePart? On { get; init; }

    /// <summary>The words decide where nobody could be asked: what speaks for the graver part counts.</summary>
    public bool PartBySaying { get; init; }
    public string? Words { get; init; }

    /// <summary>One of the usual faults of the check, as it was tapped; what was typed stands behind it.</summary>
    public string? Usual { get; init; }
    public DefectGrade? Grade { get; init; }

    /// <summary>A person chooses the grade: nothing is chosen beforehand, unless only a stop is left.</summary>
    public bool ChoosesGrade { get; init; }
    public string? LimitHours { get; init; }
    public string? LimitDays { get; init; }

    /// <summary>The walk and the check that found it.</summary>
    public long? WalkId { get; init; }
    public string? Check { get; init; }

    /// <summary>Fault code, SPN/FMI.</summary>
    public string? Code { get; init; }

    /// <summary>Fixed on the spot: what was done; empty when it was not.</summary>
    public string? Fixed { get; init; }
    public string? Minutes { get; init; }
    public string? Parts { get; init; }
    public string? LookAgainHours { get; init; }

    /// <summary>Photos as uploaded.</summary>
    public IReadOnlyList<byte[]> Photos { get; init; } = [];

    /// <summary>Photos that were taken in already, with the answer that the defect came of.</summary>
    public IReadOnlyList<EncodedPhoto> Encoded { get; init; } = [];
    public string? Key { get; init; }
}

/// <summary>
/// Takes a defect in: graded, placed, linked to an earlier one at the same place, and stopping the machine at once where it must.
/// </summary>
public sealed class ReportDefect(NippersDb db, UnitOfWork writes, DefectService book)
{
    internal const int MostPhotos = 6;

    public Task<Outcome<DefectRow>> Run(DefectInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await writes.AgainById(actor, input.Key, input, id => db.Defects.SingleAsync(x => x.Id == id, ct), ct) is { } again)
                    return again;

                var outcome = await Add(input, actor, ct);
                if (outcome.Done)
                    writes.Remember(actor, input.Key, outcome.Value!.Id.ToString(CultureInfo.InvariantCulture));
                return outcome;
            },
            ct
        );

    /// <summary>The same inside the caller's transaction.</summary>
    /// <param name="input">What is reported.</param>
    /// <param name="actor">Who reports.</param>
    /// <param name="ct">Cancels.</param>
    /// <param name="walk">The walk on which it was found, where the caller has it.</param>
    internal async Task<Outcome<DefectRow>> Add(DefectInput input, Actor actor, CancellationToken ct, WalkContext? walk = null)
    {
        var facts = await db.FactsOf(input.Unit, writes.Now, ct);
        if (facts is null)
            return Outcome<DefectRow>.Refused(Refusals.NoSuchUnit("unit", input.Unit, Array.Empty<string>()));
        var refusals = new List<Refusal>();
        var ground = new DefectGround(
            facts.Machine.Id,
            DefectService.LastHours(facts),
            writes.Now,
            LocalDay.Of(writes.Now, facts.Zone),
            (await db.ListOf(facts.Machine, ct))?.ToList(),
            facts.Machine.Program.Compartments.ToDictionary(x => x.Code, x => x.Name, StringComparer.Ordinal)
        );
        if (walk is null && input is { WalkId: { } id, Check.Length: > 0 })
            walk = await WalkContext.Load(db, id, ct);
        var row = DefectDraft.Of(input, ground, walk, actor, refusals);
        List<EncodedPhoto> photos = [.. input.Encoded];
        if (input.Photos.Count > MostPhotos)
            refusals.Add(Refusals.PhotosTooMany(MostPhotos));
        foreach (var photo in input.Photos.Take(MostPhotos))
        {
            var encoded = Photos.Encode(photo);
            if (encoded.Done)
                photos.Add(encoded.Value!);
            else
                refusals.AddRange(encoded.Refusals);
        }

        if (row is null || refusals.Count > 0)
            return Outcome<DefectRow>.Refused(refusals);
        row.RepeatOf = await EarlierAt(row.MachineId, row.Place, row.LifeHours, row.On, ct);
        db.Defects.Add(row);
        await db.SaveChangesAsync(ct);
        var answer = input.WalkId is { } walkId && row.CheckCode.Length > 0 ? await AnswerOf(walkId, row.CheckCode, ct) : "";
        book.Note(row, facts.Machine.Unit, DefectAct.Found, row.Words, actor, to: row.Grade, walkId: input.WalkId, answer: answer);
        AddPhotos(row.Id, photos, actor);
        if (row.RepairWords is { } done)
            book.Note(row, facts.Machine.Unit, DefectAct.Repaired, done, actor);

        return await book.Saved(row, ct, facts);
    }

    private async Task<string> AnswerOf(long walkId, string check, CancellationToken ct) =>
        await db.WalkAnswers.Where(x => x.WalkId == walkId && x.Code == check).Select(x => x.Answer).FirstOrDefaultAsync(ct) ?? "";

    internal void AddPhotos(long defectId, IEnumerable<EncodedPhoto> photos, Actor actor)
    {
        foreach (var photo in photos)
        {
            db.DefectPhotos.Add(
                new()
                {
                    DefectId = defectId,
                    At = writes.Now,
                    By = actor.Name,
                    Width = photo.Width,
                    Height = photo.Height,
                    Bytes = new() { Whole = photo.Whole, Small = photo.Small },
                }
            );
        }
    }

    private async Task<long?> EarlierAt(int machineId, string place, MeterHours hours, DateOnly today, CancellationToken ct)
    {
        var last = await db
            .Defects.AsNoTracking()
            .Where(x => x.MachineId == machineId && x.Place == place && x.State != DefectState.Voided)
            .OrderByDescending(x => x.At)
            .ThenByDescending(x => x.Id)
            .FirstOrDefaultAsync(ct);
        if (last is null)
            return null;
        var on = last.RepairedAt is { } at ? DateOnly.FromDateTime(at.UtcDateTime) : last.On;
        return DefectRules.IsRepeat((last.RepairedHours ?? last.LifeHours), on, hours, today) ? last.Id : null;
    }
}
