using Nippers.Data.Feeds;
using Nippers.Views.Text;

namespace Nippers.Web.Pages.Machines;

/// <summary>What is said of a machine's feed.</summary>
public static class FeedWords
{
    private const int Percent = 100;

    /// <summary>What it said last.</summary>
    public static string Last(FeedMachineRow row, TimeZoneInfo zone, Words w)
    {
        if (row is not { Hours: { } hours, HoursAt: { } at })
            return w["Feeds.Nothing", w.Time(row.SeenAt, zone)];
        var parts = new List<string> { w["Feeds.Last", Words.Hours(hours), w.Time(at, zone)] };
        if (IdleShare(row) is { } idle)
            parts.Add(w["Feeds.Idle", Words.Whole(Math.Round(idle * Percent))]);
        if (row is { FuelPercent: { } fuel, FuelAt: not null })
            parts.Add(w["Feeds.Fuel", Words.Whole(Math.Round(fuel))]);
        if (row is { DefPercent: { } def, DefAt: not null })
            parts.Add(w["Feeds.Def", Words.Whole(Math.Round(def))]);
        return string.Join(w["Format.Semicolon"], parts);
    }

    /// <summary>How far its hours are believed, and how that was reached.</summary>
    public static string Offset(FeedMachineRow row, Words w) =>
        row.OffsetHours is { } offset
            ? w.Plural("Feeds.Offset", row.Pairs, Words.Hours(Math.Abs(offset)), w[offset < 0 ? "Feeds.Behind" : "Feeds.Ahead"])
            : w.Plural("Feeds.Learning", row.Pairs, Core.Feeds.FeedOffset.Least);

    /// <summary>What does not fit.</summary>
    public static string Away(FeedMachineRow row, TimeZoneInfo zone, Words w) =>
        w[
            row.Away == FeedAway.Leap ? "Feeds.AwayLeap" : "Feeds.AwayDash",
            w.Time(row.AwayAt ?? row.SeenAt, zone),
            Words.Hours(Math.Abs(row.AwayHours)),
            w[row.AwayHours < 0 ? "Feeds.Less" : "Feeds.More"]
        ];

    private static double? IdleShare(FeedMachineRow row) =>
        row is { IdleHours: { } idle, Hours: > 0 and { } hours } && idle <= hours ? idle / hours : null;
}
