using System.Globalization;
using Nippers.Core.Defects;

namespace Nippers.App.Defects;

/// <summary>The limit that a form offers and that a finding without one gets: the same as a raised defect's, rules 8.</summary>
public static class UsualLimit
{
    /// <summary>Hours, as typed.</summary>
    public static string Hours { get; } = DefectClock.RaisedHours.ToString(CultureInfo.InvariantCulture);

    /// <summary>Days, as typed.</summary>
    public static string Days { get; } = DefectClock.RaisedDays.ToString(CultureInfo.InvariantCulture);
}
