namespace Nippers.Web.Hosting;

/// <summary>The way on from one page of a list to its others.</summary>
/// <param name="Says">Which page of how many; empty where it is not known how many there are.</param>
/// <param name="Before">Address of the page before; null on the first.</param>
/// <param name="After">Address of the page after; null on the last.</param>
public sealed record Pager(string Says, string? Before, string? After)
{
    /// <summary>Of a list that knows its pages.</summary>
    /// <param name="at">Which page, from 1.</param>
    /// <param name="pages">How many there are.</param>
    /// <param name="says">Which of how many, in words.</param>
    /// <param name="url">Address of a page.</param>
    public static Pager Of(int at, int pages, string says, Func<int, string> url) =>
        new(says, at > 1 ? url(at - 1) : null, at < pages ? url(at + 1) : null);
}
