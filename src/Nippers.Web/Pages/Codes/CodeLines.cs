using Nippers.Data.Feeds;
using Nippers.Views.Text;

namespace Nippers.Web.Pages.Codes;

/// <summary>What is said of a code that a feed told of.</summary>
public static class CodeLines
{
    /// <summary>When it came, how often, and whether it is still there.</summary>
    public static string Course(FeedCodeRow row, TimeZoneInfo zone, Words w)
    {
        var parts = new List<string> { w["Codes.Since", w.Time(row.Since, zone)] };
        if (row.Times > 1)
            parts.Add(w["Codes.Times", row.Times]);
        parts.Add(row.GoneAt is { } gone ? w["Codes.Gone", w.Time(gone, zone)] : w["Codes.Active"]);
        return string.Join(w["Format.Semicolon"], parts);
    }
}
