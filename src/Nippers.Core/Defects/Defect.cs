using System.Text.Json.Serialization;
using Nippers.Core.Hours;

namespace Nippers.Core.Defects;

/// <summary>What a defect means for the machine. Ordered from mild to grave.</summary>
/// <remarks>Rules 8.</remarks>
public enum DefectGrade
{
    /// <summary>Looked at on every walk.</summary>
    Watch,

    /// <summary>Done at the next visit.</summary>
    NextService,

    /// <summary>The machine works to a limit of hours or days, whichever comes first.</summary>
    Limit,

    /// <summary>The machine does not work until it is cleared.</summary>
    Stop,
}

/// <summary>The safety-critical parts; a check on one of them fails as <see cref="DefectGrade.Stop"/>.</summary>
/// <remarks>Rules 8.</remarks>
public enum SafetyPart
{
    /// <summary>Not safety-critical.</summary>
    None,

    /// <summary>Service, secondary and parking brakes.</summary>
    Brakes,

    /// <summary>Steering, with its lock and its emergency supply.</summary>
    Steering,

    /// <summary>Any emergency stop button.</summary>
    StopButton,

    /// <summary>Seat belt with its anchors.</summary>
    SeatBelt,

    /// <summary>Boom, arm, frame: what carries.</summary>
    Structure,

    /// <summary>Roll-over or falling-object frame and its bolts.</summary>
    RollOverFrame,

    /// <summary>Wheel nuts and studs.</summary>
    WheelNuts,

    /// <summary>Coupler and attachment lock.</summary>
    Coupler,

    /// <summary>Fuel that leaks near heat.</summary>
    FuelNearHeat,

    /// <summary>A chafed high-pressure hose near a person.</summary>
    HoseNearPerson,

    /// <summary>The lever or bar that keeps controls dead while somebody gets in or out.</summary>
    ControlLock,

    /// <summary>Travel alarm, horn, mirror, camera, load indicator, fire system or extinguisher, where it must be there.</summary>
    Alarm,

    /// <summary>Cord, bulge or no air in a tyre.</summary>
    Tyre,

    /// <summary>Another person's lock or tag.</summary>
    Notice,
}

/// <summary>What decides when a grade is raised.</summary>
/// <param name="Grade">The grade.</param>
/// <param name="LimitHours">Life hours to which it may wait; null without.</param>
/// <param name="LimitOn">Last day on which it may wait; null without.</param>
/// <remarks>Rules 8.</remarks>
public sealed record DefectClock(DefectGrade Grade, MeterHours? LimitHours = null, DateOnly? LimitOn = null)
{
    /// <summary>Hours that a raised defect gets.</summary>
    public const int RaisedHours = 50;

    /// <summary>Days that a raised defect gets.</summary>
    public const int RaisedDays = 14;

    /// <summary>Whether its limit has passed.</summary>
    /// <param name="lifeHours">Life hours last read. Not an estimate: a guess must not take a machine out of service.</param>
    /// <param name="today">The date where the machine stands.</param>
    /// <param name="visitSince">A service visit has been since it was found or raised.</param>
    public bool Passed(MeterHours lifeHours, DateOnly today, bool visitSince) =>
        Grade != DefectGrade.Stop
        && (
            lifeHours > LimitHours
            || today > LimitOn
            || (Grade == DefectGrade.NextService && LimitHours is null && LimitOn is null && visitSince)
        );

    /// <summary>The clock after its limit has passed: one grade up, and a limit of 50 h or 14 days unless it stops now.</summary>
    public DefectClock Raised(MeterHours lifeHours, DateOnly today) =>
        Grade switch
        {
            DefectGrade.Limit or DefectGrade.Stop => new(DefectGrade.Stop),
            _ => new(Grade + 1, new(lifeHours.Tenths + RaisedHours * 10), today.AddDays(RaisedDays)),
        };
}

/// <summary>Who may grade, defer and release what.</summary>
/// <remarks>Rules 8.</remarks>
public static class DefectRules
{
    /// <summary>Hours within which the same place counts as failing again.</summary>
    public const int RepeatHours = 500;

    /// <summary>Days within which the same place counts as failing again.</summary>
    public const int RepeatDays = 90;

    /// <summary>The grade that a failed check gives: safety-critical ones stop, whatever the list says.</summary>
    public static DefectGrade GradeOf(DefectGrade listed, SafetyPart safety) => safety == SafetyPart.None ? listed : DefectGrade.Stop;

    /// <summary>
    /// Whether grading a stop down is offered at all: not for what holds, steers, carries, locks, stops or warns. Such a defect
    /// can't be voided by one person either.
    /// </summary>
    public static bool MayGoDown(SafetyPart safety) => safety is SafetyPart.None or SafetyPart.FuelNearHeat or SafetyPart.HoseNearPerson;

    /// <summary>Whether voiding a defect takes the two people that clearing it takes.</summary>
    /// <param name="grade">Its grade.</param>
    /// <param name="safety">Its safety-critical part.</param>
    /// <param name="own">It is voided by who found it.</param>
    public static bool VoidTakesTwo(DefectGrade grade, SafetyPart safety, bool own) =>
        !MayGoDown(safety) || (grade == DefectGrade.Stop && !own);

    /// <summary>One grade up, as far as there is one: what anybody may say of a defect that got worse.</summary>
    public static DefectGrade Worse(DefectGrade grade) => grade == DefectGrade.Stop ? grade : grade + 1;

    /// <summary>Whether somebody may return a machine to service after a repair: never who repaired it.</summary>
    public static bool MayReturn(string repairedBy, string who) =>
        !string.Equals(repairedBy.Trim(), who.Trim(), StringComparison.OrdinalIgnoreCase);

    /// <summary>Whether a defect is a repeat of an earlier one at the same place.</summary>
    /// <param name="earlierHours">Life hours of the earlier one's repair, or of its finding while open.</param>
    /// <param name="earlierOn">Its date.</param>
    /// <param name="hours">Life hours now.</param>
    /// <param name="on">Today.</param>
    public static bool IsRepeat(MeterHours earlierHours, DateOnly earlierOn, MeterHours hours, DateOnly on) =>
        hours.Tenths - earlierHours.Tenths <= RepeatHours * 10 || on.DayNumber - earlierOn.DayNumber <= RepeatDays;
}

/// <summary>The one plain answer: may the machine run.</summary>
/// <param name="RunStatus">The answer.</param>
/// <param name="UntilHours">Life hours to which it may run.</param>
/// <param name="UntilOn">Last day on which it may run.</param>
/// <param name="CardOpen">It is out of service because somebody works on it.</param>
/// <param name="CardBy">Who holds its locks then; null where nobody says.</param>
/// <param name="CardOff">What is off or open on it then, a line each; null for nothing.</param>
/// <param name="StopStands">It is out of service by a stop defect, card or no card.</param>
/// <remarks>Rules 7.</remarks>
public sealed record RunAnswer(
    RunStatus RunStatus,
    MeterHours? UntilHours = null,
    DateOnly? UntilOn = null,
    bool CardOpen = false,
    string? CardBy = null,
    string? CardOff = null,
    bool StopStands = false
)
{
    /// <summary>The answer from a machine's open defects.</summary>
    /// <param name="open">Clocks of the defects that are open.</param>
    /// <param name="cardOpen">A job card is open on it: people have their hands in it.</param>
    /// <param name="cardBy">Who holds it then.</param>
    /// <param name="cardOff">What is off or open then.</param>
    /// <param name="unchecked">Safety-critical checks that were due on the last walk, and that nobody has made.</param>
    public static RunAnswer Of(
        IEnumerable<DefectClock> open,
        bool cardOpen = false,
        string? cardBy = null,
        int @unchecked = 0,
        string? cardOff = null
    )
    {
        MeterHours? hours = null;
        DateOnly? on = null;
        var stop = false;
        foreach (var clock in open)
        {
            stop |= clock.Grade == DefectGrade.Stop;
            if (clock.Grade != DefectGrade.Limit)
                continue;
            if (clock.LimitHours is { } h && (hours is null || h < hours))
                hours = h;
            if (clock.LimitOn is { } d && (on is null || d < on))
                on = d;
        }

        return cardOpen || stop ? Out(stop, cardOpen, cardBy, cardOff)
            : @unchecked > 0 ? new(RunStatus.NotChecked, hours, on)
            : hours is null && on is null ? new(RunStatus.NoStopFound)
            : new(RunStatus.RunUntil, hours, on);
    }

    /// <summary>Out of service. A stop does not hide the card, nor the card the stop: whoever comes to the machine needs both.</summary>
    /// <param name="stopStands">A stop defect stands.</param>
    /// <param name="cardOpen">A job card is open on it.</param>
    /// <param name="cardBy">Who holds it then.</param>
    /// <param name="cardOff">What is off or open then.</param>
    public static RunAnswer Out(bool stopStands, bool cardOpen, string? cardBy, string? cardOff) =>
        new(
            RunStatus.OutOfService,
            CardOpen: cardOpen,
            CardBy: cardOpen ? cardBy : null,
            CardOff: cardOpen ? cardOff : null,
            StopStands: stopStands
        );
}

/// <summary>May the machine run.</summary>
public enum RunStatus
{
    /// <summary>Nothing stands against it.</summary>
    [JsonStringEnumMemberName("mayRun")]
    NoStopFound,

    /// <summary>To a limit of hours or a date.</summary>
    [JsonStringEnumMemberName("mayRunUntil")]
    RunUntil,

    /// <summary>Out of service.</summary>
    [JsonStringEnumMemberName("doesNotRun")]
    OutOfService,

    /// <summary>A safety-critical check that was due has not been made: it does not run until it is.</summary>
    [JsonStringEnumMemberName("notChecked")]
    NotChecked,
}
