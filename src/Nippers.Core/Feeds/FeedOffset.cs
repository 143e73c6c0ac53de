namespace Nippers.Core.Feeds;

/// <summary>What the dash of a machine and its feed said within an hour of each other.</summary>
/// <param name="At">When the dash was read.</param>
/// <param name="Dash">Life hours by the dash.</param>
/// <param name="Feed">Hours by the feed.</param>
public readonly record struct FeedPair(DateTimeOffset At, double Dash, double Feed)
{
    /// <summary>By how much the dash is ahead of the feed, hours; below zero when it is behind.</summary>
    public double Difference => Dash - Feed;
}

/// <summary>What is known of how a feed and a dash differ.</summary>
/// <param name="Hours">What has to be added to the feed's hours for life hours; null while too few pairs are known.</param>
/// <param name="Pairs">How many pairs it rests on.</param>
/// <param name="Away">The last pair, where it does not fit those before: one of the two was replaced or is wrong.</param>
/// <param name="AwayBy">By how much it does not, hours.</param>
public sealed record FeedFit(double? Hours, int Pairs, FeedPair? Away, double AwayBy)
{
    /// <summary>The feed's hours count: the difference is known, and nothing speaks against it.</summary>
    public bool Counts => Hours is not null && Away is null;
}

/// <summary>
/// Learns by how much a machine's feed and its dash differ. They count alike and began apart: a box that was built in later, a
/// dash that was replaced.
/// </summary>
/// <remarks>Rules 15.</remarks>
public static class FeedOffset
{
    /// <summary>So many pairs at least, before the feed is believed.</summary>
    public const int Least = 3;

    /// <summary>The last so many count.</summary>
    public const int Last = 9;

    /// <summary>How far apart in time the two of a pair may be.</summary>
    public static readonly TimeSpan Together = TimeSpan.FromHours(1);

    /// <summary>What a pair may differ by from those before: reading and rounding, hours.</summary>
    public const double Slack = 0.5;

    /// <summary>And of the hours since the last pair, for clocks that do not go alike, share.</summary>
    public const double SlackShare = 0.01;

    /// <summary>What the pairs say.</summary>
    /// <param name="pairs">In any order.</param>
    public static FeedFit Of(IEnumerable<FeedPair> pairs)
    {
        var fit = new List<FeedPair>();
        FeedPair? away = null;
        var by = 0.0;
        foreach (var pair in pairs.OrderBy(x => x.At).ThenBy(x => x.Feed))
        {
            if (fit.Count >= Least)
            {
                by = pair.Difference - Median(fit);
                var most = Slack + SlackShare * Math.Abs(pair.Feed - fit[^1].Feed);
                if (Math.Abs(by) > most + Rounding)
                {
                    away = pair;
                    continue;
                }
            }

            // A pair that fits again says that the one between was read wrong.
            (away, by) = (null, 0);
            fit.Add(pair);
        }

        return new(fit.Count >= Least ? Median(fit) : null, Math.Min(fit.Count, Last), away, by);
    }

    // Sums of tenths are not exact.
    private const double Rounding = 1e-6;

    private static double Median(List<FeedPair> pairs)
    {
        var last = pairs.TakeLast(Last).Select(x => x.Difference).Order().ToList();
        var middle = last.Count / 2;
        return last.Count % 2 == 1 ? last[middle] : (last[middle - 1] + last[middle]) / 2;
    }

    /// <summary>Pairs of readings and reports: each reading with the report nearest to it in time, within an hour.</summary>
    /// <param name="readings">What a person read, life hours.</param>
    /// <param name="reports">What the feed reported.</param>
    public static IReadOnlyList<FeedPair> Pair(
        IEnumerable<(DateTimeOffset At, double Hours)> readings,
        IEnumerable<(DateTimeOffset At, double Hours)> reports
    )
    {
        var byTime = reports.OrderBy(x => x.At).ToList();
        var times = byTime.ConvertAll(x => x.At);
        var pairs = new List<FeedPair>();
        foreach (var (at, hours) in readings)
        {
            var next = times.BinarySearch(at);
            next = next < 0 ? ~next : next;
            var nearest = new[] { next - 1, next }
                .Where(x => x >= 0 && x < byTime.Count)
                .OrderBy(x => (byTime[x].At - at).Duration())
                .Select(x => ((DateTimeOffset At, double Hours)?)byTime[x])
                .FirstOrDefault();
            if (nearest is { } report && (report.At - at).Duration() <= Together)
                pairs.Add(new(at, hours, report.Hours));
        }

        return pairs;
    }
}

/// <summary>For what a feed's hours are fresh enough.</summary>
/// <remarks>Rules 15.</remarks>
public static class FeedAge
{
    /// <summary>Up to this age a walk begins with them, and asks for a look only.</summary>
    public static readonly TimeSpan ForWalk = TimeSpan.FromHours(24);

    /// <summary>Up to this age a limit and a card go by them; else the dash is read.</summary>
    public static readonly TimeSpan ForCard = TimeSpan.FromHours(1);

    /// <summary>Whether a report from an instant is fresh enough; one from the future is not.</summary>
    public static bool Fits(DateTimeOffset at, DateTimeOffset now, TimeSpan most) => at <= now && now - at < most;
}
