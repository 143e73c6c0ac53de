using Microsoft.EntityFrameworkCore;
using Nippers.App.Oil;
using Nippers.Data;
using Nippers.Data.Feeds;
using Nippers.Formats.Feeds;

namespace Nippers.App.Feeds;

/// <summary>The line to a feed.</summary>
public interface IFeedLine
{
    /// <summary>Asks for a page.</summary>
    /// <param name="feed">The feed, with its token.</param>
    /// <param name="url">The page: the feed's own, or one that it named on the same host.</param>
    /// <param name="ct">Cancels.</param>
    Task<LabReply> Ask(FeedRow feed, string url, CancellationToken ct);
}

/// <summary>Asks feeds what their machines do, every quarter of an hour, and ever later where one does not answer.</summary>
public sealed class FeedRound(NippersDb db, UnitOfWork writes, FeedIntake intake, IFeedLine line)
{
    /// <summary>Between two questions that went well.</summary>
    public static readonly TimeSpan Every = TimeSpan.FromMinutes(15);

    /// <summary>Most pages of a feed that are followed.</summary>
    public const int MostPages = 50;

    /// <summary>One round.</summary>
    /// <param name="atOnce">Do not wait for the time of the next question: somebody pressed the button.</param>
    /// <param name="ct">Cancels.</param>
    /// <returns>How many machines were heard of.</returns>
    public async Task<int> Run(bool atOnce, CancellationToken ct)
    {
        var heard = 0;
        var faults = new List<Exception>();
        var now = writes.Now;
        var due = await db
            .Feeds.AsNoTracking()
            .Where(x => x.On && (atOnce || x.NextAskAt == null || x.NextAskAt <= now))
            .OrderBy(x => x.Id)
            .ToListAsync(ct);
        foreach (var feed in due)
        {
            try
            {
                heard += await Run(feed, ct);
            }
            catch (Exception fault) when (fault is not OperationCanceledException)
            {
                // One that breaks keeps the others from nothing; what broke is told when all had their turn.
                faults.Add(fault);
                db.ChangeTracker.Clear();
            }
        }

        return faults.Count == 0 ? heard : throw new AggregateException(faults);
    }

    private async Task<int> Run(FeedRow feed, CancellationToken ct)
    {
        var heard = 0;
        string? fault = null;
        string? next = feed.Url;
        var seen = new HashSet<string>(StringComparer.Ordinal);
        while (next is { } asked)
        {
            if (!seen.Add(asked) || seen.Count > MostPages)
            {
                fault = "feedNext";
                break;
            }

            var reply = await line.Ask(feed, asked, ct);
            var page = reply.Text is { } text ? FeedMessages.Read(text) : null;
            fault = reply.Fault ?? page?.Fault;
            if (fault is not null)
                break;

            // What came is kept page by page: the next one may not come.
            heard += await Keep(feed, page!, ct);
            (next, fault) = NextOf(feed, asked, page!.Next);
        }

        await writes.Run(
            async () =>
            {
                var row = await db.Feeds.SingleOrDefaultAsync(x => x.Id == feed.Id, ct);
                if (row is null || row.Url != feed.Url)
                    return Outcome<Nothing>.Of(Nothing.Special);
                if (fault is null)
                    (row.Failures, row.LastFault, row.NextAskAt, row.AnsweredAt) = (0, "", writes.Now + Every, writes.Now);
                else
                {
                    row.Failures++;
                    (row.LastFault, row.NextAskAt) = (fault, writes.Now + LabOutbox.WaitAfter(row.Failures));
                }

                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );
        return heard;
    }

    /// <summary>The next page, on the feed's own host alone: its token goes nowhere else.</summary>
    private static (string? Next, string? Fault) NextOf(FeedRow feed, string asked, string? said)
    {
        if (string.IsNullOrWhiteSpace(said))
            return (null, null);
        return
            Uri.TryCreate(new Uri(asked), said, out var next)
            && next.GetLeftPart(UriPartial.Authority) == new Uri(feed.Url).GetLeftPart(UriPartial.Authority)
            && next.UserInfo.Length == 0
            ? (next.AbsoluteUri, null)
            : (null, "feedNext");
    }

    private async Task<int> Keep(FeedRow feed, FeedPage page, CancellationToken ct)
    {
        var kept = await writes.InTurns(
            page.Reports,
            async report =>
            {
                if (report.Id.Length > 0)
                    await intake.Take(await Find(feed.Id, report, ct), report, ct);
            },
            ct
        );
        await writes.InTurns(
            page.Broken,
            async broken =>
            {
                if (await db.FeedMachines.FirstOrDefaultAsync(x => x.FeedId == feed.Id && x.Equipment == broken.Id, ct) is { } row)
                    (row.SeenAt, row.LastFault) = (writes.Now, broken.Fault);
            },
            ct
        );
        return kept;
    }

    /// <summary>The machine of a report; a new one is ours by its number or its serial number, where there is just one such.</summary>
    private async Task<FeedMachineRow> Find(int feed, FeedReport report, CancellationToken ct)
    {
        if (await db.FeedMachines.FirstOrDefaultAsync(x => x.FeedId == feed && x.Equipment == report.Id, ct) is { } row)
            return row;
        var ours = await db
            .Machines.Where(x =>
                !x.Retired
                && (x.Unit == report.Id || (report.Serial != "" && x.Serial == report.Serial))
                && !db.FeedMachines.Any(f => f.MachineId == x.Id)
            )
            .Select(x => x.Id)
            .OrderBy(x => x)
            .Take(2)
            .ToListAsync(ct);
        var added = db
            .FeedMachines.Add(
                new()
                {
                    FeedId = feed,
                    Equipment = report.Id,
                    MachineId = ours.Count == 1 ? ours[0] : null,
                }
            )
            .Entity;

        // A page may name it twice.
        await db.SaveChangesAsync(ct);
        return added;
    }
}
