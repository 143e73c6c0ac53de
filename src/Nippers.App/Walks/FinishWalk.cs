using Microsoft.EntityFrameworkCore;
using Nippers.Core.Numbers;
using Nippers.Core.Service;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Queries;
using Nippers.Data.Records;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>The end of a walk, as entered.</summary>
/// <param name="LeftOut">Why everything that is still open was left out; empty when nothing is.</param>
/// <param name="Note">Words for the record.</param>
public sealed record FinishInput(string? LeftOut, string? Note);

/// <summary>
/// Signs a walk off: answers packed, measures and top-ups kept, service items that it did completed, and one plain answer.
/// </summary>
public sealed class FinishWalk(NippersDb db, UnitOfWork writes)
{
    /// <summary>Signs a walk off. It is read before its turn to write comes, and once more when somebody changed it meanwhile.</summary>
    public async Task<Outcome<WalkRow>> Run(long walkId, FinishInput input, Actor actor, CancellationToken ct)
    {
        var seen = await Stamp(walkId, ct);
        var walk = await WalkContext.Load(db, walkId, ct);
        return await writes.Run(
            async () =>
            {
                if (await Stamp(walkId, ct) != seen)
                {
                    db.ChangeTracker.Clear();
                    walk = await WalkContext.Load(db, walkId, ct);
                }

                return walk is null ? Outcome<WalkRow>.Refused(Refusals.NoSuchWalk()) : await Finish(walk, input, actor, ct);
            },
            ct,
            readBefore: true
        );
    }

    /// <summary>Differs when an answer, a defect or the walk's own state does.</summary>
    private Task<string?> Stamp(long walkId, CancellationToken ct) =>
        db
            .Walks.Where(x => x.Id == walkId)
            .Select(x =>
                (int)x.State
                + " "
                + db.WalkAnswers.Where(a => a.WalkId == walkId).Sum(a => a.Revision)
                + " "
                + db.Defects.Count(d => d.MachineId == x.MachineId)
                + " "
                + db.Defects.Where(d => d.MachineId == x.MachineId).Sum(d => d.Version)
            )
            .SingleOrDefaultAsync(ct);

    /// <summary>The same inside the caller's transaction.</summary>
    internal async Task<Outcome<WalkRow>> Finish(WalkContext walk, FinishInput input, Actor actor, CancellationToken ct)
    {
        var row = walk.Row;
        if (row.State == WalkState.Finished)
            return Outcome<WalkRow>.Refused(Refusals.WalkFinished(row.FinishedBy));
        if (row.State != WalkState.Open)
            return Outcome<WalkRow>.Refused(Refusals.WalkNotOpen());
        if (WalkRules.AgainstSigning(walk, input) is { Count: > 0 } refusals)
            return Outcome<WalkRow>.Refused(refusals);
        var (answers, results) = WalkRules.Sign(walk, input, actor.Name, writes.Now);
        Keep(walk, answers, results, actor);
        await db.WalkAnswers.Where(x => x.WalkId == row.Id).ExecuteDeleteAsync(ct);
        var facts = (await db.FactsOf(row.Machine.Unit, writes.Now, ct))!;
        var done = CompleteItems(walk, facts, results, actor);
        writes.Audit(
            actor,
            "walk.finish",
            row.Machine.Unit,
            row.MachineId,
            null,
            new
            {
                row.Id,
                row.On,
                row.Answered,
                row.LeftOut,
                row.Faults,
                items = done,
            }
        );

        // The machine's standing is derived with this walk in it; what it says of running is what the walk says.
        // Work that was called for is answered by it, which only the database can say.
        if (done.Exists(facts.Orders.ContainsKey))
            await writes.RefreshStatus([row.MachineId], ct);
        else
            await writes.RefreshStatus(facts.With(done.Select(x => new Completion(x, row.On, row.LifeHours))), ct);
        var answer = (await db.Statuses.FindAsync([row.MachineId], ct))!.Answer;
        (row.RunStatus, row.UntilHours, row.UntilOn) = (answer.RunStatus, answer.UntilHours, answer.UntilOn);
        return Outcome<WalkRow>.Of(row);
    }

    /// <summary>Keeps what is looked at over time in rows of its own.</summary>
    private void Keep(WalkContext walk, Dictionary<string, CheckAnswer> answers, Dictionary<string, CheckResult> results, Actor actor)
    {
        var row = walk.Row;
        foreach (var check in walk.Checks)
        {
            var (answer, result) = (answers[check.Code], results[check.Code]);
            if (answer is LeftOutAnswer)
                continue;
            if (check.Kind is CheckKind.Measure or CheckKind.Drain && result.Value is { } value)
                db.Measures.Add(ToMeasure(row, check.Code, value, used: result.Outcome != CheckOutcome.NotUsed));

            if (answer is PointsAnswer points && check.Kind == CheckKind.Grease)
            {
                foreach (var (key, took) in GreaseMemory.Kept(check, points.Points))
                    db.Measures.Add(ToMeasure(row, key, took, used: true));
            }

            if (answer is LevelAnswer { Added: { } litres } && check.Compartment.Length > 0)
            {
                db.TopUps.Add(
                    new()
                    {
                        MachineId = row.MachineId,
                        Compartment = check.Compartment,
                        Litres = new Litres(litres),
                        At = row.StartedAt,
                        LifeHours = row.LifeHours,
                        WalkId = row.Id,
                        By = actor.Name,
                    }
                );
            }

            if (
                WalkRoute.IntervalHours(check.Cadence) is not null
                && result.Outcome is not (CheckOutcome.Unfinished or CheckOutcome.NotUsed)
            )
            {
                db.ChecksDone.Add(
                    new()
                    {
                        WalkId = row.Id,
                        CheckCode = check.Code,
                        MachineId = row.MachineId,
                        LifeHours = row.LifeHours,
                    }
                );
            }
        }
    }

    private static MeasureRow ToMeasure(WalkRow walk, string code, double value, bool used) =>
        new()
        {
            MachineId = walk.MachineId,
            CheckCode = code,
            Value = value,
            At = walk.StartedAt,
            On = walk.On,
            LifeHours = walk.LifeHours,
            WalkId = walk.Id,
            Used = used,
        };

    /// <summary>
    /// Completes the service items that the walk did: every check that carries the item was made, and none of them failed.
    /// </summary>
    private List<string> CompleteItems(WalkContext walk, MachineFacts facts, Dictionary<string, CheckResult> results, Actor actor)
    {
        var row = walk.Row;
        var known = facts.Items.Select(x => x.Code).ToHashSet(StringComparer.Ordinal);
        var done = walk
            .Checks.Where(x => x.Item.Length > 0 && known.Contains(x.Item))
            .GroupBy(x => x.Item)
            .Where(g => g.All(x => results[x.Code].Outcome is CheckOutcome.Ok or CheckOutcome.Watch or CheckOutcome.NotJudged))
            .Select(g => g.Key)
            .ToList();
        foreach (var item in done)
        {
            db.Completions.Add(
                new()
                {
                    MachineId = row.MachineId,
                    ItemCode = item,
                    Kind = CompletionKind.Work,
                    DoneOn = row.On,
                    LifeHours = row.LifeHours,
                    ShownHours = row.ShownHours,
                    By = actor.Name,
                    EnteredAt = writes.Now,
                    Batch = row.Batch,
                }
            );
        }

        return done;
    }
}

/// <summary>
/// Takes a walk back, with a reason: its measures, top-ups and completions with it. Its defects stay: they are on the machine.
/// </summary>
public sealed class VoidWalk(NippersDb db, UnitOfWork writes)
{
    public Task<Outcome<WalkRow>> Run(long walkId, string? reason, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var walk = await db.Walks.Include(x => x.Machine).SingleOrDefaultAsync(x => x.Id == walkId, ct);
                if (walk is null)
                    return Outcome<WalkRow>.Refused(Refusals.NoSuchWalk());
                if (walk.State == WalkState.Voided)
                    return Outcome<WalkRow>.Refused(Refusals.WalkNotOpen());
                if (!Typed.IsReason(reason, "reason", out var unreasoned))
                    return Outcome<WalkRow>.Refused(unreasoned);
                if (actor.Role == Roles.Operator && walk.StartedBy != actor.Name && walk.FinishedBy != actor.Name)
                    return Outcome<WalkRow>.Refused(Refusals.TechnicianNeeded());

                if (walk.State == WalkState.Open)
                    await Pack(walk, ct);
                walk.State = WalkState.Voided;
                (walk.VoidedAt, walk.VoidedBy, walk.VoidReason) = (writes.Now, actor.Name, reason.Trim());
                var now = writes.Now;
                await db.Measures.Where(x => x.WalkId == walkId).ExecuteUpdateAsync(x => x.SetProperty(m => m.Used, false), ct);
                await db
                    .TopUps.Where(x => x.WalkId == walkId)
                    .ExecuteUpdateAsync(x => x.SetProperty(m => m.VoidedAt, now).SetProperty(m => m.VoidedBy, actor.Name), ct);
                await db.ChecksDone.Where(x => x.WalkId == walkId).ExecuteUpdateAsync(x => x.SetProperty(m => m.Voided, true), ct);
                await db
                    .Completions.Where(x => x.MachineId == walk.MachineId && x.Batch == walk.Batch)
                    .ExecuteUpdateAsync(
                        x =>
                            x.SetProperty(m => m.VoidedAt, now)
                                .SetProperty(m => m.VoidedBy, actor.Name)
                                .SetProperty(m => m.VoidReason, reason.Trim()),
                        ct
                    );
                writes.Audit(actor, "walk.void", walk.Machine.Unit, walk.MachineId, new { walk.Id, walk.On }, new { reason });
                await writes.RefreshStatus([walk.MachineId], ct);
                return Outcome<WalkRow>.Of(walk);
            },
            ct
        );

    /// <summary>What was answered until then stays on record.</summary>
    private async Task Pack(WalkRow walk, CancellationToken ct)
    {
        var context = (await WalkContext.Load(db, walk.Id, ct))!;
        var codes = WalkChecks.Codes(walk, context.List);
        walk.Answers = PackedAnswers.Pack(codes, context.Answers);
        walk.Checks = WalkChecks.Pack(codes, context.List);
        walk.Answered = context.Answers.Count;
        await db.WalkAnswers.Where(x => x.WalkId == walk.Id).ExecuteDeleteAsync(ct);
    }
}
