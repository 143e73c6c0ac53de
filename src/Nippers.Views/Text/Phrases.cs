using Nippers.Core.Service;

namespace Nippers.Views.Text;

/// <summary>How standings are said: hours first, dates second.</summary>
public static class Phrases
{
    /// <summary>"18 h left", "34 h past", "due on 4 Dec", "no record".</summary>
    public static string Left(ItemStatus item, Words words)
    {
        if (item.Status == DueStatus.Finished)
            return words["Left.Finished"];
        if (item.NoRecord)
            return words["Left.NoRecord"];
        if (item is { KmLeft: { } km } && (item.KmDecides || item is { HoursLeft: null, DaysLeft: null }))
            return words[km < 0 ? "Left.KmPast" : "Left.Km", Words.Whole(Math.Round(Math.Abs(km)))];
        if (item.CalendarDecides || item.HoursLeft is null)
            return Days(item.DaysLeft!.Value, words);
        return Hours(item.HoursLeft.Value, words);
    }

    /// <summary>The same for a group, with its name: "34 h past, 250 h service".</summary>
    public static string Left(DueGroup group, Words words) => words["Left.Group", Distance(group, words), Name(group, null, words)];

    /// <summary>Hours or days that are left for a group, whichever presses first.</summary>
    public static string Distance(DueGroup group, Words words) =>
        Left(
            group
                .Items.OrderBy(x => x.CalendarDecides ? x.DaysLeft : null)
                .ThenByDescending(x => x.Status)
                .First(x => x.Status == group.Status),
            words
        );

    /// <summary>What a group is called: its only item, or the service of its longest interval.</summary>
    public static string Name(DueGroup group, IReadOnlyDictionary<string, string>? names, Words words)
    {
        if (group.NoRecord)
            return words.Plural("Group.Items", group.Items.Length);
        if (group.Items.Length == 1 && names is not null && names.TryGetValue(group.Items[0].Point.ItemCode, out var name))
            return words.Say(name);
        if (group is { IsBreakIn: true, DueHours: { } first })
            return words["Group.BreakIn", Words.Whole(first)];
        return group.LongestInterval is { } hours ? words["Group.Service", Words.Whole(hours)]
            : group.LongestKm is { } km ? words["Group.ServiceKm", Words.Whole(km)]
            : words.Plural("Group.ByDate", group.Items.Length);
    }

    /// <summary>Option words of a rule, as people call them: "ripper, not: winch".</summary>
    public static string Needs(string needs, Words words) =>
        string.Join(
            words["Format.Comma"],
            needs
                .Split(' ', StringSplitOptions.RemoveEmptyEntries)
                .Select(x => x.StartsWith('!') ? words["WalkLists.Not", words["Option." + x[1..]]] : words["Option." + x])
        );

    /// <summary>The word of a standing, no record apart.</summary>
    public static string Of(ItemStatus item, Words words) => item.NoRecord ? words["Left.NoRecord"] : words.Of(item.Status);

    /// <summary>Class of a standing's tone; the shape says the same.</summary>
    public static string Css(DueStatus standing) => "is-" + standing.ToString().ToLowerInvariant();

    private static string Hours(double left, Words words) => words[left < 0 ? "Left.HoursPast" : "Left.Hours", Words.Distance(left)];

    private static string Days(int left, Words words) =>
        left == 0 ? words["Left.Today"]
        : left < 0 ? words.Plural("Left.DaysPast", -left)
        : words.Plural("Left.Days", left);
}
