using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.Data;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>A whole walk, made elsewhere and brought in at once.</summary>
/// <param name="Start">How it began.</param>
/// <param name="Answers">Its answers.</param>
/// <param name="Defects">The defects it found; each names its check.</param>
/// <param name="Finish">How it ended.</param>
public sealed record SubmitWalkInput(
    StartWalkInput Start,
    IReadOnlyList<AnswerInput> Answers,
    IReadOnlyList<DefectInput> Defects,
    FinishInput Finish
)
{
    /// <summary>The answers as they came, in words: what tells a repeat under a key from another walk.</summary>
    public string AnswersAsSent { get; init; } = "";
}

/// <summary>Takes a whole walk in: all of it or nothing. A repeat under the same key answers with the walk that was kept.</summary>
public sealed class SubmitWalk(
    NippersDb db,
    UnitOfWork writes,
    StartWalk start,
    SaveAnswer save,
    ReportDefect report,
    DefectNotes notes,
    FinishWalk finish
)
{
    public Task<Outcome<WalkRow>> Run(SubmitWalkInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (
                    await writes.AgainById(
                        actor,
                        input.Start.Key,
                        input with
                        {
                            Answers = [],
                        },
                        kept => db.Walks.Include(x => x.Machine).SingleAsync(x => x.Id == kept, ct),
                        ct
                    ) is
                    { } again
                )
                    return again;

                var begun = await start.Begin(input.Start, actor, ct);
                if (!begun.Done)
                    return Outcome<WalkRow>.Refused(begun.Refusals);
                if (begun.Value!.Resumed)
                    return Outcome<WalkRow>.Refused(Refusals.WalkOpen());

                var id = begun.Value.WalkId;
                var walk = (await WalkContext.Load(db, id, ct))!;
                foreach (var answer in input.Answers)
                {
                    var saved = await save.Keep(walk, answer, actor, ct);
                    if (!saved.Done)
                        return Outcome<WalkRow>.Refused(saved.Refusals);
                }

                await db.SaveChangesAsync(ct);
                foreach (var defect in input.Defects)
                {
                    var reported = await report.Add(defect with { Unit = input.Start.Unit, WalkId = id }, actor, ct);
                    if (!reported.Done)
                        return Outcome<WalkRow>.Refused(reported.Refusals);
                }

                var whole = (await WalkContext.Load(db, id, ct))!;
                foreach (var check in whole.FaultsWithoutDefect.Where(x => whole.Standing(x).Any()).ToList())
                    await notes.TakeForSame(whole, check, actor, ct);
                await db.SaveChangesAsync(ct);
                var finished = await finish.Finish((await WalkContext.Load(db, id, ct))!, input.Finish, actor, ct);
                if (finished.Done)
                    writes.Remember(actor, input.Start.Key, id.ToString(CultureInfo.InvariantCulture));
                return finished;
            },
            ct
        );
}

/// <summary>Reads walks for programs.</summary>
public sealed class WalkFeed(NippersDb db)
{
    private const int Most = 200;

    /// <summary>Walks of a machine, newest first; null for an unknown unit.</summary>
    public async Task<IReadOnlyList<WalkRow>?> Run(string unit, long? before, CancellationToken ct)
    {
        var id = await db.Machines.Where(x => x.Unit == unit).Select(x => (int?)x.Id).SingleOrDefaultAsync(ct);
        return id is null
            ? null
            : await db
                .Walks.AsNoTracking()
                .Where(x => x.MachineId == id && (before == null || x.Id < before))
                .OrderByDescending(x => x.Id)
                .Take(Most)
                .ToListAsync(ct);
    }
}
