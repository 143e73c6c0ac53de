using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Oil;
using Nippers.Formats.Lab;

namespace Nippers.App.Oil;

/// <summary>What came back from a laboratory: its text, or the code of what went wrong.</summary>
public sealed record LabReply(string? Text, string? Fault);

/// <summary>The line to a laboratory.</summary>
public interface ILabClient
{
    /// <summary>Hands a list over. The same reference twice is the same list.</summary>
    Task<LabReply> Send(LabRow lab, string order, CancellationToken ct);

    /// <summary>Asks for results since a place.</summary>
    Task<LabReply> Ask(LabRow lab, long cursor, CancellationToken ct);
}

/// <summary>
/// Carries lists to laboratories and brings results back, and tries again later, and ever later, when a laboratory does not
/// answer. Nothing is lost in between.
/// </summary>
public sealed class LabOutbox(NippersDb db, UnitOfWork writes, TakeResults results, ILabClient line)
{
    /// <summary>Who stands behind what comes in by itself.</summary>
    public const string Name = "Laboratory";

    /// <summary>Between two questions that went well, while results are out.</summary>
    public static readonly TimeSpan AskEvery = TimeSpan.FromSeconds(60);

    /// <summary>Between two questions when none are out: laboratories correct what they sent.</summary>
    public static readonly TimeSpan AskForCorrectionsEvery = TimeSpan.FromHours(6);

    private static readonly TimeSpan FirstWait = TimeSpan.FromSeconds(15);
    private static readonly TimeSpan LongestWait = TimeSpan.FromHours(3);
    private const int MostDoublings = 12;

    /// <summary>When to try again after so many failures.</summary>
    public static TimeSpan WaitAfter(int failures) =>
        TimeSpan.FromTicks(Math.Min(LongestWait.Ticks, FirstWait.Ticks << Math.Clamp(failures - 1, 0, MostDoublings)));

    /// <summary>One round: hands over what waits, asks for what is out.</summary>
    /// <param name="atOnce">Do not wait for the time of the next try: somebody pressed the button.</param>
    /// <param name="ct">Cancels.</param>
    /// <returns>How many results came in.</returns>
    public async Task<int> Round(bool atOnce, CancellationToken ct)
    {
        var taken = 0;
        var faults = new List<Exception>();
        foreach (var lab in await db.Labs.AsNoTracking().Where(x => x.Url != "").OrderBy(x => x.Id).ToListAsync(ct))
        {
            try
            {
                taken += await Round(lab, atOnce, ct);
            }
            catch (Exception fault) when (fault is not OperationCanceledException)
            {
                // One that breaks keeps the others from nothing; what broke is told when all had their turn.
                faults.Add(fault);
                db.ChangeTracker.Clear();
            }
        }

        return faults.Count == 0 ? taken : throw new AggregateException(faults);
    }

    private async Task<int> Round(LabRow lab, bool atOnce, CancellationToken ct)
    {
        var waiting = await db
            .Consignments.AsNoTracking()
            .Where(x =>
                x.LabId == lab.Id && x.State == ConsignmentState.Waiting && (atOnce || x.NextTryAt == null || x.NextTryAt <= writes.Now)
            )
            .OrderBy(x => x.Id)
            .ToListAsync(ct);
        foreach (var box in waiting)
            await HandOver(lab, box, ct);
        return await Collect(lab, atOnce, ct);
    }

    private async Task HandOver(LabRow lab, ConsignmentRow box, CancellationToken ct)
    {
        // Asked outside of a transaction: a slow laboratory must not hold up the people here.
        var order = await SendSamples.OrderOf(db, box, ct);
        var reply = await line.Send(lab, LabMessages.Write(order), ct);

        // A page of some gateway is no laboratory that has the list.
        if (reply is { Fault: null, Text: var text } && !LabMessages.HasTaken(text ?? "", order.Samples.Count))
            reply = new(null, "labShape");
        await writes.Run(
            async () =>
            {
                var row = await db.Consignments.SingleAsync(x => x.Id == box.Id, ct);

                // Taken back, or the laboratory's address removed, while it was on its way.
                if (row.State != ConsignmentState.Waiting)
                    return Outcome<ConsignmentRow>.Of(row);
                row.Attempts++;
                if (reply.Fault is null)
                {
                    (row.State, row.HandedAt, row.NextTryAt, row.LastFault) = (ConsignmentState.HandedOver, writes.Now, null, "");
                    await db
                        .Labs.Where(x => x.Id == lab.Id && x.Failures == 0)
                        .ExecuteUpdateAsync(x => x.SetProperty(m => m.NextAskAt, (DateTimeOffset?)null), ct);
                }
                else
                {
                    (row.LastFault, row.NextTryAt) = (reply.Fault, (writes.Now + WaitAfter(row.Attempts)));
                }

                return Outcome<ConsignmentRow>.Of(row);
            },
            ct
        );
    }

    private async Task<int> Collect(LabRow lab, bool atOnce, CancellationToken ct)
    {
        if (!atOnce && lab.NextAskAt > writes.Now)
            return 0;
        if (!await db.Consignments.AnyAsync(x => x.LabId == lab.Id && x.State != ConsignmentState.Waiting, ct))
            return 0;
        var reply = await line.Ask(lab, lab.Cursor, ct);
        var answer = reply.Text is { } text ? LabMessages.ReadAnswer(text) : null;
        var fault = reply.Fault ?? answer?.Fault;
        var fates = new List<ResultFate>();
        var kept = 0;
        var origin = new ResultOrigin(ReportSource.Online, lab.Id, Name);
        if (fault is null)
        {
            kept = await writes.InTurns(
                answer!.Results,
                async result =>
                {
                    fates.Add((await results.Keep(result, origin, ct)).Fate);
                    results.LetGo();
                },
                ct
            );
        }

        await writes.Run(
            async () =>
            {
                var row = await db.Labs.SingleAsync(x => x.Id == lab.Id, ct);
                if (fault is not null)
                {
                    row.Failures++;
                    (row.LastFault, row.NextAskAt) = (fault, (writes.Now + WaitAfter(row.Failures)));
                    return Outcome<LabRow>.Of(row);
                }

                foreach (var (bottle, why, detail) in answer!.Broken)
                {
                    var broken = new LabResult(bottle, new Dictionary<string, string>()) { Comment = detail };
                    await results.SetAside(broken, why, origin, ct);
                }

                await db.SaveChangesAsync(ct);

                // The place moves when all before it are kept: what is left comes again, and what came already is unchanged then.
                if (kept < answer.Results.Count)
                {
                    row.Failures++;
                    row.NextAskAt = writes.Now + WaitAfter(row.Failures);
                    return Outcome<LabRow>.Of(row);
                }

                var wait = await db.Consignments.AnyAsync(x => x.LabId == lab.Id && x.State == ConsignmentState.HandedOver, ct)
                    ? AskEvery
                    : AskForCorrectionsEvery;

                // What it found is kept whatever it says of places: a repeat does no harm, and a bad sample is not held back.
                if (!LabMessages.CanFollow(lab.Cursor, answer.Cursor, answer.Results.Count + answer.Broken.Count))
                {
                    row.Failures++;
                    (row.LastFault, row.NextAskAt) = ("labCursor", writes.Now + WaitAfter(row.Failures));
                    return Outcome<LabRow>.Of(row);
                }

                (row.Failures, row.LastFault, row.Cursor, row.NextAskAt) = (0, "", answer.Cursor, writes.Now + wait);
                return Outcome<LabRow>.Of(row);
            },
            ct
        );
        return fates.Take(kept).Count(x => x is ResultFate.Matched or ResultFate.Correction);
    }
}
