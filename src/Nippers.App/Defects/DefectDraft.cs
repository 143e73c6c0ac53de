using Nippers.App.Readings;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data.Defects;

namespace Nippers.App.Defects;

/// <summary>What is known of a machine where a defect is written down.</summary>
/// <param name="MachineId">The machine.</param>
/// <param name="Hours">Life hours last read.</param>
/// <param name="Now">Now.</param>
/// <param name="Today">Date at the site.</param>
/// <param name="List">Its walk list; null without one.</param>
/// <param name="Compartments">Names of its compartments, by code.</param>
public sealed record DefectGround(
    int MachineId,
    MeterHours Hours,
    DateTimeOffset Now,
    DateOnly Today,
    CheckList? List,
    IReadOnlyDictionary<string, string> Compartments
);

/// <summary>Reads a defect out of what was reported, and holds it to its floor: the same with a database and without.</summary>
public static class DefectDraft
{
    private const int LongestPart = 80;
    private const string WholeMachine = "machine";

    /// <summary>The grade at least that a fault of a check has.</summary>
    /// <param name="check">The check.</param>
    /// <param name="found">What its answer was judged to be; null when it was not answered.</param>
    /// <param name="words">What is said of it, the usual fault first.</param>
    public static DefectGrade Floor(WalkCheck check, CheckResult? found, string words)
    {
        var spoken = MachineParts.Said(words).FirstOrDefault();
        var usual = check.Faults.FirstOrDefault(x => words.StartsWith(x.Words, StringComparison.OrdinalIgnoreCase));
        return new[]
        {
            spoken?.Least ?? DefectGrade.Watch,
            found?.Grade ?? DefectGrade.Watch,
            usual?.Least ?? DefectGrade.Watch,
            DefectRules.GradeOf(check.Grade, SafetyOf(check, spoken)),
        }.Max();
    }

    /// <summary>What is said of a fault: the usual fault that was tapped, and what was typed behind it.</summary>
    public static string Words(string? usual, string? typed) =>
        string.Join(": ", new[] { usual?.Trim(), typed?.Trim() }.Where(x => x is { Length: > 0 }));

    /// <summary>A defect as it was reported; null when something stands against it.</summary>
    /// <param name="input">What was reported.</param>
    /// <param name="ground">What is known of the machine.</param>
    /// <param name="walk">The walk on which it was found; null for elsewhere.</param>
    /// <param name="actor">Who reports.</param>
    /// <param name="refusals">Takes what stands against it.</param>
    public static DefectRow? Of(DefectInput input, DefectGround ground, WalkContext? walk, Actor actor, List<Refusal> refusals)
    {
        var check = input.Check is { Length: > 0 } code ? ground.List?.Checks.FirstOrDefault(x => x.Code == code) : null;
        if (input.Check is { Length: > 0 } && check is null)
            refusals.Add(Refusals.NoSuchCheck("check", input.Check));
        var words = Words(input.Usual, input.Words);
        if (!Typed.IsSaid(words, "words", out var unsaid))
            refusals.Add(unsaid);
        var part = (input.Part ?? "").Trim();
        if (part.Length > LongestPart)
            refusals.Add(Refusals.TooLong("part", LongestPart));

        MachinePart? on =
            check is not null ? MachineParts.Of(check)
            : input.On is { } tapped && Enum.IsDefined(tapped) ? tapped
            : input.PartBySaying ? MachineParts.Proposed(words).FirstOrDefault()
            : null;
        if (on is null)
            refusals.Add(Refusals.PartNeeded());
        var (safety, least) = check is null
            ? Spoken(on ?? MachinePart.Other, words)
            : (
                SafetyOf(check, MachineParts.Said(words).FirstOrDefault()),
                Floor(check, walk?.Checks.FirstOrDefault(x => x.Code == check.Code) is { } asked ? walk.ResultOf(asked) : null, words)
            );
        var grade = input.Grade is { } chosen && !(input.PartBySaying && check is null && chosen < least) ? chosen : least;
        if (input is { ChoosesGrade: true, Grade: null } && least != DefectGrade.Stop)
            refusals.Add(Refusals.GradeNeeded());
        if (grade < least && safety != SafetyPart.None)
            refusals.Add(Refusals.GradeSafety());
        else if (grade < least && (least == DefectGrade.Stop || actor.Role == Roles.Operator))
            refusals.Add(Refusals.GradeBelowCheck());

        (MeterHours? Hours, DateOnly? On) limit =
            grade == DefectGrade.Limit
                ? DefectService.ReadLimit(input.LimitHours, input.LimitDays, ground.Hours, ground.Today, refusals)
                : (null, null);
        var place = PlaceOf(ground, check, input.Place, part, refusals);
        var minutes = Typed.Whole(input.Minutes, "minutes", 0, RepairDefect.MostMinutes, refusals);
        MeterHours? again = null;
        if (!string.IsNullOrWhiteSpace(input.LookAgainHours))
        {
            if (HoursInput.Read("lookAgainHours", input.LookAgainHours, out var hours) is { } fault)
                refusals.Add(fault);
            else
                again = hours;
        }

        if (refusals.Count > 0)
            return null;
        var row = new DefectRow
        {
            MachineId = ground.MachineId,
            Place = place.Key,
            PlaceName = place.Name,
            Words = words,
            Grade = grade,
            FoundGrade = grade,
            Safety = safety,
            Part = on!.Value,
            By = actor.Name,
            At = ground.Now,
            On = ground.Today,
            LifeHours = ground.Hours,
            LimitHours = limit.Hours,
            LimitOn = limit.On,
            ClockFrom = ground.Now,
            WalkId = input.WalkId,
            CheckCode = check?.Code ?? "",
            Code = input.Code ?? CodesOf(check, walk),
        };
        if (string.IsNullOrWhiteSpace(input.Fixed))
            return row;
        // An operator's word does not end a limit: somebody who may work on the machine looks first.
        var looks = grade == DefectGrade.Limit && actor.Role == Roles.Operator;
        row.State = grade == DefectGrade.Stop || looks ? DefectState.Repaired : DefectState.Closed;
        row.RepairedBy = actor.Name;
        row.RepairedAt = ground.Now;
        row.RepairedHours = ground.Hours;
        row.RepairWords = input.Fixed.Trim();
        row.RepairMinutes = minutes;
        row.RepairParts = string.IsNullOrWhiteSpace(input.Parts) ? null : input.Parts.Trim();
        row.LookAgainHours = again is { } more ? ground.Hours + more : null;
        return row;
    }

    /// <summary>The codes that the check's answer named: once the defect is graded they are known.</summary>
    private static string CodesOf(WalkCheck? check, WalkContext? walk) =>
        check is not null && walk?.Answers.GetValueOrDefault(check.Code) is CodesAnswer { Codes: { IsDefaultOrEmpty: false } codes }
            ? string.Join(", ", codes)
            : "";

    private static SafetyPart SafetyOf(WalkCheck check, SpokenPart? spoken) =>
        check.Safety != SafetyPart.None ? check.Safety : spoken?.Safety ?? SafetyPart.None;

    private static (SafetyPart Safety, DefectGrade Least) Spoken(MachinePart on, string words)
    {
        var spoken = MachineParts.Floor(on, words);
        return (spoken.Safety, spoken.Least);
    }

    private static (string Key, string Name) PlaceOf(
        DefectGround ground,
        WalkCheck? check,
        string? place,
        string part,
        List<Refusal> refusals
    )
    {
        if (check is not null)
        {
            var at = check.Compartment.Length > 0 ? check.Compartment : check.Station;
            return ($"{at}:{check.Code}", check.Name);
        }

        var tail = part.Length > 0 ? ":" + Slug(part) : "";
        if (string.IsNullOrWhiteSpace(place))
            return (WholeMachine + tail, part);
        var name = ground.Compartments.GetValueOrDefault(place) ?? ground.List?.Stations.FirstOrDefault(x => x.Code == place)?.Name;
        if (name is null)
        {
            refusals.Add(Refusals.NoSuchPlace("place"));
            return ("", "");
        }

        return (place + tail, part.Length > 0 ? $"{name}: {part}" : name);
    }

    private static string Slug(string words) =>
        string.Join('-', words.ToLowerInvariant().Split([' ', ',', '.', ':', ';'], StringSplitOptions.RemoveEmptyEntries));
}
