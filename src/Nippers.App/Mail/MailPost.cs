using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Mail;

namespace Nippers.App.Mail;

/// <summary>Carries what is laid out to the mail server, stops first, and tries again, ever later, what is not taken.</summary>
/// <remarks>
/// A message has one identifier however often it is tried, so that where a server took it and its word was lost, the one who
/// gets it sees that it is the same.
/// </remarks>
public sealed class MailPost(NippersDb db, UnitOfWork writes, IMailLine line)
{
    /// <summary>Longest wait until a message is tried again: a stop may be among them.</summary>
    public static readonly TimeSpan LongestWait = TimeSpan.FromMinutes(5);

    /// <summary>What was not taken for so long is given up, and shown.</summary>
    public static readonly TimeSpan GivenUpAfter = TimeSpan.FromDays(3);

    private static readonly TimeSpan FirstWait = TimeSpan.FromSeconds(15);
    private const int MostDoublings = 5;
    private const int AtOnce = 100;
    private const int MostFaults = 3;

    /// <summary>When to try again after so many failures.</summary>
    public static TimeSpan WaitAfter(int failures) =>
        TimeSpan.FromTicks(Math.Min(LongestWait.Ticks, FirstWait.Ticks << Math.Clamp(failures - 1, 0, MostDoublings)));

    /// <summary>One round.</summary>
    /// <param name="atOnce">Do not wait for the time of the next try: somebody pressed the button.</param>
    /// <param name="ct">Cancels.</param>
    /// <returns>How many were taken.</returns>
    public async Task<int> Run(bool atOnce, CancellationToken ct)
    {
        var now = writes.Now;
        var server = await db.MailServers.AsNoTracking().SingleOrDefaultAsync(ct);
        if (server is not { On: true } || (!atOnce && server.NextTryAt > now))
            return 0;
        var waiting = await db
            .Mail.AsNoTracking()
            .Where(x => x.State == MailState.Waiting && (atOnce || x.NextTryAt == null || x.NextTryAt <= now))
            .OrderBy(x => x.Kind)
            .ThenBy(x => x.Id)
            .Take(AtOnce)
            .ToListAsync(ct);
        var sent = 0;
        var faults = 0;
        foreach (var mail in waiting)
        {
            // Asked outside of a transaction: a slow server must not hold up the people here.
            if (await IsLate(mail, ct))
            {
                await Settle(mail, null, ct);
                continue;
            }

            var answer = await line.Send(server, mail, ct);
            await Settle(mail, answer, ct);
            faults += answer is { Fault: not null, Final: false } ? 1 : 0;

            // A server that does not answer would be waited for with each of them.
            if (answer.Server || faults == MostFaults)
                break;
            sent += answer.Fault is null ? 1 : 0;
        }

        return sent;
    }

    /// <summary>Whether somebody acknowledged the stop before the next of the list was told: then they need not be.</summary>
    private async Task<bool> IsLate(MailRow mail, CancellationToken ct) =>
        mail is { Kind: MailKind.StopAgain, StoppageId: { } stop }
        && await db.Stoppages.AnyAsync(x => x.Id == stop && (x.To != null || x.AcknowledgedAt != null), ct);

    private async Task Settle(MailRow mail, MailAnswer? answer, CancellationToken ct) =>
        await writes.Run(
            async () =>
            {
                var now = writes.Now;
                var row = await db.Mail.SingleOrDefaultAsync(x => x.Id == mail.Id, ct);
                var server = await db.MailServers.SingleOrDefaultAsync(ct);
                if (row is not { State: MailState.Waiting } || server is null)
                    return Outcome<Nothing>.Of(Nothing.Special);
                if (answer is null)
                {
                    row.State = MailState.Dropped;
                    return Outcome<Nothing>.Of(Nothing.Special);
                }

                if (!answer.Server)
                    row.Attempts++;
                (row.LastFault, row.NextTryAt) = (answer.Fault ?? "", null);
                if (answer.Fault is null)
                {
                    (row.State, row.SentAt) = (MailState.Sent, now);
                    if (row is { Kind: MailKind.Stop or MailKind.StopAgain, StoppageId: { } stop })
                        await db
                            .Stoppages.Where(x => x.Id == stop && x.SentAt == null)
                            .ExecuteUpdateAsync(x => x.SetProperty(s => s.SentAt, now), ct);
                }
                else if (answer.Final || now - row.MadeAt > GivenUpAfter)
                    row.State = MailState.Refused;
                else if (!answer.Server)
                    row.NextTryAt = now + WaitAfter(row.Attempts);
                if (answer.Server)
                {
                    server.Failures++;
                    server.LastFault = answer.Fault!;
                    server.NextTryAt = now + WaitAfter(server.Failures);
                    server.FailingSince ??= now;
                }
                else
                    (server.Failures, server.LastFault, server.NextTryAt, server.FailingSince) = (0, "", null, null);

                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );
}
