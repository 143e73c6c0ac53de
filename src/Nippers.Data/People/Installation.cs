using System.Globalization;

namespace Nippers.Data.People;

/// <summary>What is known of this installation as a whole. There is one row, or none while nothing was said.</summary>
public sealed class Installation
{
    public int Id { get; set; }

    /// <summary>
    /// Where people reach it from outside, scheme and host alone, without a last slash; empty while nobody said so. Printed codes
    /// lead there: what a request calls it is never taken for it.
    /// </summary>
    public string PublicAddress { get; set; } = "";

    /// <summary>
    /// Parameter numbers of fault codes that stop a machine besides those that Nippers knows, with blanks between them: not all makers
    /// number the same thing alike.
    /// </summary>
    public string StopSpns { get; set; } = "";

    /// <summary>The same, read.</summary>
    public static IReadOnlySet<int> Spns(string? said) =>
        (said ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(x => int.Parse(x, CultureInfo.InvariantCulture)).ToHashSet();
}
