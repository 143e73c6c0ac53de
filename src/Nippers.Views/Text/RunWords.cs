using System.Globalization;
using Nippers.App.Defects;
using Nippers.Core.Defects;
using Nippers.Core.Hours;

namespace Nippers.Views.Text;

/// <summary>Says whether a machine may run, and what a defect's clock says.</summary>
public static class RunWords
{
    /// <summary>"No stop found", "Run until 5,462.6 h or 4 Dec", "Out of service". Nothing says that a machine is fit.</summary>
    /// <param name="answer">The answer.</param>
    /// <param name="offsetHours">Life hours less what the meter shows.</param>
    /// <param name="words">The words.</param>
    /// <param name="today">Today, for leaving out this year.</param>
    /// <param name="looked">When somebody last walked round it today; null when nobody has: then nothing is known.</param>
    /// <param name="zone">Zone of the site.</param>
    public static string Say(
        RunAnswer answer,
        MeterHours offsetHours,
        Words words,
        DateOnly? today = null,
        DateTimeOffset? looked = null,
        TimeZoneInfo? zone = null
    ) =>
        answer switch
        {
            { RunStatus: RunStatus.OutOfService, CardOpen: true, StopStands: true } => words["Run.StopToo", Card(answer, words)],
            { RunStatus: RunStatus.OutOfService, CardOpen: true } => Card(answer, words),
            { RunStatus: RunStatus.OutOfService } => words["Run.Not"],
            { RunStatus: RunStatus.NotChecked } => words["Run.NotChecked"],
            { RunStatus: RunStatus.NoStopFound } => looked is { } at
                ? words["Run.May", TimeZoneInfo.ConvertTime(at, zone ?? TimeZoneInfo.Utc).ToString("HH:mm", CultureInfo.InvariantCulture)]
                : words["Walks.NotYet"],
            { UntilHours: { } hours, UntilOn: { } on } => words[
                "Run.UntilBoth",
                Words.Hours(Shown(hours, offsetHours)),
                words.Date(on, today)
            ],
            { UntilHours: { } hours } => words["Run.UntilHours", Words.Hours(Shown(hours, offsetHours))],
            _ => words["Run.UntilDate", words.Date(answer.UntilOn!.Value, today)],
        };

    private static string Card(RunAnswer answer, Words words) =>
        answer switch
        {
            { CardBy: { } by, CardOff: { } off } => words["Run.CardOff", by, Each(off)],
            { CardBy: { } by } => words["Run.CardOpenBy", by],
            _ => words["Run.CardOpen"],
        };

    private static List<string> Each(string off) => [.. off.Split('\n')];

    /// <summary>Why a machine on which a job card is open does not run: who holds it, and what is off or open.</summary>
    public static string Held(RunAnswer answer, string unit, Words words)
    {
        var card = answer switch
        {
            { CardBy: { } by, CardOff: { } off } => words["Stop.CardOff", unit, by, Each(off)],
            { CardBy: { } by } => words["Stop.CardOpenBy", unit, by],
            _ => words["Stop.CardOpen", unit],
        };
        return answer.StopStands ? words["Stop.StandsToo", card] : card;
    }

    /// <summary>The same in three words, for a row of a list: nothing is left out that comes first.</summary>
    public static string Brief(RunAnswer answer, MeterHours offsetHours, Words words, DateOnly? today = null) =>
        answer switch
        {
            { RunStatus: RunStatus.OutOfService, CardOpen: true, StopStands: true } => words["Run.Brief.StopToo", CardBrief(answer, words)],
            { RunStatus: RunStatus.OutOfService, CardOpen: true } => CardBrief(answer, words),
            { RunStatus: RunStatus.RunUntil, UntilHours: { } hours, UntilOn: { } on } => words[
                "Run.Brief.Both",
                Words.Hours(Shown(hours, offsetHours)),
                words.Date(on, today)
            ],
            { RunStatus: RunStatus.RunUntil, UntilHours: { } hours } => words["Run.Brief.Hours", Words.Hours(Shown(hours, offsetHours))],
            { RunStatus: RunStatus.RunUntil, UntilOn: { } on } => words["Run.Brief.Date", words.Date(on, today)],
            _ => Say(answer, offsetHours, words, today),
        };

    private static string CardBrief(RunAnswer answer, Words words) =>
        answer switch
        {
            { CardBy: { } by, CardOff: { } off } => words.Plural("Run.Brief.CardOff", Each(off).Count, by),
            { CardBy: { } by } => words["Run.Brief.CardBy", by],
            _ => words["Run.Brief.Card"],
        };

    /// <summary>The tone of an answer.</summary>
    public static string Css(RunStatus verdict) =>
        verdict switch
        {
            RunStatus.OutOfService or RunStatus.NotChecked => "is-overdue",
            RunStatus.RunUntil => "is-due",
            _ => "is-notdue",
        };

    /// <summary>The tone of a grade.</summary>
    public static string Css(DefectGrade grade) =>
        grade switch
        {
            DefectGrade.Stop => "is-overdue",
            DefectGrade.Limit => "is-due",
            DefectGrade.NextService => "is-coming",
            _ => "is-notdue",
        };

    /// <summary>What a defect's clock says: "18 h left, to 4 Dec", "at the next service".</summary>
    public static string Clock(DefectLine line, Words words)
    {
        var defect = line.Defect;
        if (defect.State == Data.Defects.DefectState.Repaired)
            return words["Clock.WaitsReturn"];
        if (defect.Grade == DefectGrade.Stop)
            return words["Clock.Stop"];
        var hours = line.HoursLeft is { } left ? words[left < 0 ? "Left.HoursPast" : "Left.Hours", Words.Distance(left)] : null;
        var days = line.DaysLeft is { } d
            ? d == 0
                ? words["Clock.Today"]
                : words.Plural("Left.Days", d)
            : null;
        return (hours, days) switch
        {
            ({ } h, { } dd) => words["Clock.Both", h, dd],
            ({ } h, null) => h,
            (null, { } dd) => dd,
            _ => words["Clock." + defect.Grade],
        };
    }

    private static double Shown(MeterHours life, MeterHours offsetHours) => (life - offsetHours).Clamped.Value;
}
