namespace Nippers.App.Oil;

/// <summary>What may be the address of a laboratory's interface: a token goes there, and what comes from there is believed.</summary>
public static class LabAddress
{
    /// <summary>Whether it is http or https and nothing but a place: no user, no query, no fragment.</summary>
    /// <param name="text">The address; empty is none, and fits.</param>
    public static bool Fits(string text) =>
        text.Length == 0
        || (
            Uri.TryCreate(text, UriKind.Absolute, out var address)
            && address.Scheme is ("http" or "https")
            && address is { UserInfo: "", Query: "", Fragment: "", Host.Length: > 0 }
            && !text.Contains('?', StringComparison.Ordinal)
            && !text.Contains('#', StringComparison.Ordinal)
        );
}
