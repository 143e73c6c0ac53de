using System.Globalization;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;

namespace Nippers.App.Readings;

/// <summary>Reads the dates and times that people type, at the site.</summary>
public static class LocalTime
{
    private static readonly string[] Formats = ["yyyy-MM-ddTHH:mm", "yyyy-MM-ddTHH:mm:ss", "yyyy-MM-dd HH:mm", "yyyy-MM-dd"];

    /// <summary>A date and time at the site, as an instant.</summary>
    /// <returns>Null when the text is no time, or one that the clocks skipped in spring.</returns>
    public static DateTimeOffset? Parse(string? text, TimeZoneInfo zone)
    {
        if (!DateTime.TryParseExact(text?.Trim(), Formats, CultureInfo.InvariantCulture, DateTimeStyles.None, out var local))
            return null;
        if (!Years.Hold(DateOnly.FromDateTime(local)))
            return null;
        return zone.IsInvalidTime(local) ? null : new DateTimeOffset(local, zone.GetUtcOffset(local)).ToUniversalTime();
    }

    /// <summary>A date.</summary>
    /// <returns>Null when the text is none, or one of a year that no record is of.</returns>
    public static DateOnly? ParseDate(string? text) =>
        DateOnly.TryParseExact(text?.Trim(), "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date)
        && Years.Hold(date)
            ? date
            : null;

    /// <summary>The instant at which a date begins at the site.</summary>
    public static DateTimeOffset StartOf(DateOnly date, TimeZoneInfo zone) => LocalDay.StartOf(date, zone);
}
