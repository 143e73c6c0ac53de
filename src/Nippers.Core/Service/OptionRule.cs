namespace Nippers.Core.Service;

/// <summary>Whether an item belongs on a machine, by the machine's options.</summary>
/// <remarks>
/// A rule is a list of words parted by blanks, all of which must hold: <c>ripper</c> (the option is fitted),
/// <c>!winch</c> (it is not), <c>linkage=greased</c> (the option has that value). An empty rule always holds. Rules 3.
/// </remarks>
public static class OptionRule
{
    /// <summary>Whether a rule holds for a set of options.</summary>
    /// <param name="rule">The rule, possibly empty.</param>
    /// <param name="options">Option words of the machine, <c>name</c> or <c>name=value</c>.</param>
    /// <param name="more">Words that hold beside them; null for none.</param>
    public static bool Holds(string? rule, IReadOnlySet<string> options, IReadOnlySet<string>? more = null)
    {
        foreach (var word in (rule ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var wanted = word[0] != '!';
            var name = wanted ? word : word[1..];
            if ((options.Contains(name) || more?.Contains(name) == true) != wanted)
                return false;
        }

        return true;
    }
}
