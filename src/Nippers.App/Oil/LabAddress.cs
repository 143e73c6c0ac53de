using System.Net;
using System.Net.Sockets;

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

    /// <summary>Whether its text alone says that it lies inside a network; a name is looked up when it is spoken to.</summary>
    public static bool SaysInside(string text) =>
        Uri.TryCreate(text, UriKind.Absolute, out var address)
        && (address.IsLoopback || (IPAddress.TryParse(address.Host.Trim('[', ']'), out var ip) && IsInside(ip)));

    /// <summary>
    /// Whether an address is of this machine, of a private network, of the link, or of nobody: where things listen that trust
    /// whoever reaches them.
    /// </summary>
    public static bool IsInside(IPAddress address)
    {
        if (address.IsIPv4MappedToIPv6)
            address = address.MapToIPv4();
        if (IPAddress.IsLoopback(address))
            return true;
        var bytes = address.GetAddressBytes();
        return address.AddressFamily == AddressFamily.InterNetwork
            ? bytes[0] is 0 or 10 or 127 or >= 224
                || (bytes[0] == 100 && bytes[1] is >= 64 and < 128)
                || (bytes[0] == 169 && bytes[1] == 254)
                || (bytes[0] == 172 && bytes[1] is >= 16 and < 32)
                || (bytes[0] == 192 && bytes[1] == 168)
                || (bytes[0] == 198 && bytes[1] is 18 or 19)
            : address.IsIPv6LinkLocal
                || address.IsIPv6SiteLocal
                || address.IsIPv6Multicast
                || address.IsIPv6UniqueLocal
                || address.Equals(IPAddress.IPv6Any)
                || IsTunnelled(bytes);
    }

    // Addresses that carry one of the older kind inside them: 64:ff9b::/96, 2002::/16, 2001::/32 and ::/96.
    private static bool IsTunnelled(byte[] bytes) =>
        (bytes[0] == 0 && bytes[1] == 0x64 && bytes[2] == 0xff && bytes[3] == 0x9b)
        || (bytes[0] == 0x20 && bytes[1] == 0x02)
        || (bytes[0] == 0x20 && bytes[1] == 0x01 && bytes[2] == 0 && bytes[3] == 0)
        || bytes.Take(12).All(x => x == 0);
}
