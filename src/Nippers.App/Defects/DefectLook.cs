using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Data.Defects;

namespace Nippers.App.Defects;

/// <summary>What a second look does to a defect: the same with a database and without.</summary>
public static class DefectLook
{
    /// <summary>Raises a defect by what was found at its check, and opens one that was thought repaired.</summary>
    /// <param name="defect">The defect.</param>
    /// <param name="grade">What the finding asks for; null for nothing.</param>
    /// <param name="hours">Life hours.</param>
    /// <param name="today">Date at the site.</param>
    /// <param name="now">Now.</param>
    public static void Hold(DefectRow defect, DefectGrade? grade, MeterHours hours, DateOnly today, DateTimeOffset now)
    {
        if (grade is { } found && found > defect.Grade)
            DefectService.RaiseTo(defect, found, hours, today, now);
        if (defect.State == DefectState.Repaired)
            defect.State = DefectState.Open;
    }

    /// <summary>Raises a defect by one grade, because somebody says that it got worse.</summary>
    public static void Worse(DefectRow defect, MeterHours hours, DateOnly today, DateTimeOffset now) =>
        Hold(defect, DefectRules.Worse(defect.Grade), hours, today, now);

    /// <summary>A fix that did not hold, found again.</summary>
    public static DefectRow FoundAgain(
        DefectRow fix,
        string? words,
        string by,
        MeterHours hours,
        DateOnly today,
        DateTimeOffset now,
        long walkId
    )
    {
        fix.LookAgainHours = null;
        var found = new DefectRow
        {
            MachineId = fix.MachineId,
            Place = fix.Place,
            PlaceName = fix.PlaceName,
            Words = string.IsNullOrWhiteSpace(words) ? fix.Words : words.Trim(),
            Grade = fix.FoundGrade,
            FoundGrade = fix.FoundGrade,
            Safety = fix.Safety,
            Part = fix.Part,
            By = by,
            At = now,
            On = today,
            LifeHours = hours,
            ClockFrom = now,
            WalkId = walkId,
            CheckCode = fix.CheckCode,
            RepeatOf = fix.Id,
        };
        DefectService.RaiseTo(found, found.Grade, found.LifeHours, found.On, now);
        return found;
    }
}
