using System.Collections.Concurrent;

namespace Nippers.Demo.Tests;

/// <summary>The demo's story holds on every day of two years, whatever the weekday, the season and the clocks.</summary>
public sealed class StoryTests
{
    private static readonly DateOnly First = new(2026, 12, 1);
    private const int Months = 24;

    public static TheoryData<int, int> TwoYears() =>
        [.. Enumerable.Range(0, Months).Select(x => First.AddMonths(x)).Select(x => (x.Year, x.Month))];

    /// <summary>
    /// Visits and samples are told on every eleventh date, so that each weekday and each part of a month comes round, and on the
    /// dates that are odd: the ends of months and years, the leap day, the changes of the clock. NIPPERS_EVERY_DATE tells all.
    /// </summary>
    private static bool IsWhole(DateOnly date) =>
        EveryDate
        || date.DayNumber % 11 == 0
        || date.AddDays(1).Day == 1
        || Offset(date) != Offset(date.AddDays(-1))
        || Offset(date) != Offset(date.AddDays(1));

    private static readonly bool EveryDate = Environment.GetEnvironmentVariable("NIPPERS_EVERY_DATE") is { Length: > 0 };

    private static TimeSpan Offset(DateOnly day) => Zone.GetUtcOffset(day.ToDateTime(new TimeOnly(12, 0)));

    private static readonly TimeZoneInfo Zone = TimeZoneInfo.FindSystemTimeZoneById(DemoCast.Zone);

    [Theory]
    [MemberData(nameof(TwoYears))]
    public void Every_sentence_of_the_story_holds_on_every_day_of_a_month(int year, int month)
    {
        var broken = new ConcurrentBag<string>();
        Parallel.For(1, DateTime.DaysInMonth(year, month) + 1, day =>
        {
            foreach (var sentence in StoryDay.Broken(new(year, month, day), IsWhole(new(year, month, day))))
                broken.Add(sentence);
        });
        Assert.True(broken.IsEmpty, string.Join('\n', broken.Order(StringComparer.Ordinal)));
    }

    [Fact]
    public void The_two_years_hold_a_leap_day_four_changes_of_the_clock_two_ends_of_the_year_and_every_weekday()
    {
        var days = TwoYears()
            .SelectMany(x =>
                Enumerable
                    .Range(1, DateTime.DaysInMonth(x.Data.Item1, x.Data.Item2))
                    .Select(day => new DateOnly(x.Data.Item1, x.Data.Item2, day))
            )
            .ToList();
        Assert.Contains(new DateOnly(2028, 2, 29), days);
        Assert.Equal(4, days.Count(x => Offset(x) != Offset(x.AddDays(-1))));
        Assert.Equal(2, days.Count(x => x is { Month: 12, Day: 31 }));
        Assert.Equal(7, days.Select(x => x.DayOfWeek).Distinct().Count());
        Assert.Equal(731, days.Count);
    }

    [Fact]
    public async Task A_date_gives_the_same_file_each_time()
    {
        async Task<byte[]> File()
        {
            using var file = new MemoryStream();
            await DemoFleet.Write(new(2028, 2, 29), file);
            return file.ToArray();
        }

        Assert.Equal(await File(), await File());
    }
}
