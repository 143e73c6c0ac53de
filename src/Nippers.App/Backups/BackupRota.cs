using System.Globalization;

namespace Nippers.App.Backups;

/// <summary>Which of the nightly backups stay: the newest of each of the last days, weeks and months on which there is one.</summary>
public static class BackupRota
{
    /// <summary>Days of which one stays.</summary>
    public const int Days = 7;

    /// <summary>Weeks, from Monday, of which one stays.</summary>
    public const int Weeks = 4;

    /// <summary>Months of which one stays.</summary>
    public const int Months = 12;

    /// <summary>Those that stay, of all that there are.</summary>
    /// <param name="made">When each was made, local time.</param>
    public static IReadOnlySet<DateTime> Stay(IEnumerable<DateTime> made)
    {
        var newestFirst = made.OrderDescending().ToList();
        return Newest(newestFirst, x => x.Date, Days)
            .Concat(Newest(newestFirst, x => ISOWeek.GetYear(x) * 100 + ISOWeek.GetWeekOfYear(x), Weeks))
            .Concat(Newest(newestFirst, x => x.Year * 100 + x.Month, Months))
            .ToHashSet();
    }

    private static IEnumerable<DateTime> Newest<T>(IEnumerable<DateTime> newestFirst, Func<DateTime, T> period, int most) =>
        newestFirst.GroupBy(period).Take(most).Select(x => x.First());
}
