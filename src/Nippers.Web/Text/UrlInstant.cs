namespace Nippers.Web.Text;

/// <summary>Instants in addresses: milliseconds since 1970-01-01 UTC, as a figure needs no escaping there.</summary>
public static class UrlInstant
{
    /// <summary>The instant that an address names; null without one, or for a figure that no calendar holds.</summary>
    public static DateTimeOffset? Read(long? ms) =>
        ms is { } figure
        && figure >= DateTimeOffset.MinValue.ToUnixTimeMilliseconds()
        && figure <= DateTimeOffset.MaxValue.ToUnixTimeMilliseconds()
            ? DateTimeOffset.FromUnixTimeMilliseconds(figure)
            : null;

    /// <summary>An instant as an address names it.</summary>
    public static long Write(DateTimeOffset at) => at.ToUnixTimeMilliseconds();
}
