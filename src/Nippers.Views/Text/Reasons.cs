using Nippers.Core.Service;
using Nippers.Data.Fleet;

namespace Nippers.Views.Text;

/// <summary>Says how a due point and its standing were reached, from the very figures they were computed with.</summary>
public static class Reasons
{
    public static string Of(ItemStatus stand, Machine machine, MachineNow now, Words words)
    {
        var point = stand.Point;
        var program = machine.Program;
        if (point.Basis == DueBasis.Finished)
            return words["Why.Finished", Words.Hours(point.BaseHours)];
        if (point.Basis == DueBasis.NoRecord)
            return words["Why.NoRecord"];

        var said = new List<string> { words["Why.Base." + point.Basis, Words.Hours(point.BaseHours), words.Date(point.BaseOn)] };
        if (point.DueHours is { } due)
        {
            var rule = point.Basis is DueBasis.BreakIn or DueBasis.Called ? point.Basis.ToString() : point.IntervalBasis.ToString();
            said.Add(words["Why.Hours." + rule, Words.Whole(point.IntervalHours ?? 0), Words.Hours(due), program.CreditPercent]);
            said.Add(words["Why.Now", Words.Hours(now.Hours), Words.Whole(point.WindowHours)]);
        }

        if (point.DueOn is { } on)
            said.Add(words["Why.Calendar", point.IntervalMonths, words.Date(on), point.WindowDays]);
        if (point.Km is { } km && stand.KmLeft is { } left)
            said.Add(
                words[
                    "Why.Km",
                    Words.Whole(km.Interval),
                    Kilometres(km.Base),
                    Kilometres(km.Due),
                    Kilometres(km.Window),
                    Kilometres(km.Due - left),
                    Kilometres(km.PerDay)
                ]
            );
        said.Add(words["Why.Status." + stand.Status, program.ComingDays]);
        if (stand.Projected is not null)
            said.Add(
                words[
                    "Why.Dates",
                    now.Use.HoursPerDay.ToString("0.00", System.Globalization.CultureInfo.CurrentCulture),
                    now.Use.Sigma.ToString("0.0", System.Globalization.CultureInfo.CurrentCulture)
                ]
            );
        return string.Join(' ', said);
    }

    private static string Kilometres(double km) => Words.Whole(Math.Round(km));
}
