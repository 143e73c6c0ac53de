using Nippers.App.Weeks;
using Nippers.Views.Text;
using Nippers.Web.Pages.Visits;

namespace Nippers.Web.Pages.Weeks;

/// <summary>What a plan changes of another, in words.</summary>
internal static class WeekChanges
{
    /// <summary>One sentence: what it costs more or less, and how many jobs moved, came and went.</summary>
    /// <param name="change">The change.</param>
    /// <param name="plan">The plan.</param>
    /// <param name="other">What it is held against.</param>
    /// <param name="w">Words.</param>
    public static string Against(WeekChange change, FleetPlan plan, string other, Words w)
    {
        var money = VisitWords.Money(Math.Abs(change.Cost), plan.Currency, w);
        string?[] says =
        [
            Math.Abs(change.Cost) < 0.5 ? w["Weeks.SameCost"]
            : change.Cost < 0 ? w["Weeks.Cheaper", money]
            : w["Weeks.Dearer", money],
            change.Moved.Count > 0 ? w.Plural("Weeks.MovedCount", change.Moved.Count) : null,
            change.New.Count > 0 ? w.Plural("Weeks.NewCount", change.New.Count) : null,
            change.Gone.Count > 0 ? w.Plural("Weeks.GoneCount", change.Gone.Count) : null,
        ];
        return w["Weeks.Against", other, string.Join(" · ", says.OfType<string>())];
    }
}
