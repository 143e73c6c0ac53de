using System.Globalization;
using Nippers.Core.Numbers;

namespace Nippers.Formats;

/// <summary>Instants and dates as files write them; of other years than <see cref="Years"/> they are none.</summary>
public static class Iso
{
    private const string Seconds = "yyyy-MM-dd'T'HH:mm:ss'Z'";
    private const string Milliseconds = "yyyy-MM-dd'T'HH:mm:ss.fff'Z'";
    private const string Date = "yyyy-MM-dd";

    /// <summary>An instant in UTC; milliseconds only where there are any.</summary>
    public static string Instant(DateTimeOffset at) =>
        at.UtcDateTime.ToString(at.Millisecond == 0 ? Seconds : Milliseconds, CultureInfo.InvariantCulture);

    /// <summary>Reads what <see cref="Instant"/> writes.</summary>
    public static bool TryInstant(string? text, out DateTimeOffset at) =>
        DateTimeOffset.TryParseExact(text, [Seconds, Milliseconds], CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out at)
        && Years.Hold(at);

    /// <summary>A date.</summary>
    public static string Day(DateOnly date) => date.ToString(Date, CultureInfo.InvariantCulture);

    /// <summary>Reads what <see cref="Day"/> writes.</summary>
    public static bool TryDay(string? text, out DateOnly date) =>
        DateOnly.TryParseExact(text, Date, CultureInfo.InvariantCulture, DateTimeStyles.None, out date) && Years.Hold(date);
}
