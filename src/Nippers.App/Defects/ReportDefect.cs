using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Readings;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Queries;

namespace Nippers.App.Defects;

/// <summary>A defect as it is reported, from a check, a page or the quick line.</summary>
public sealed record DefectInput
{
    public required string Unit { get; init; }

    /// <summary>Code of a walk station or compartment; empty: not said.</summary>
    public string? Place { get; init; }

    /// <summary>The exact thing there, in words; empty for none.</summary>
    public string? Part { get; init; }

    /// <summary>What it is on, as the person tapped it. A check knows its own.</summary>
    public MachinePart? On { get; init; }

    /// <summary>The words decide where nobody could be asked: what speaks for the graver part counts.</summary>
    public bool PartBySaying { get; init; }
    public string? Words { get; init; }

    /// <summary>One of the usual faults of the check, as it was tapped; what was typed stands behind it.</summary>
    public string? Usual { get; init; }
    public DefectGrade? Grade { get; init; }

    /// <summary>A person chooses the grade: nothing is chosen beforehand, unless only a stop is left.</summary>
    public bool ChoosesGrade { get; init; }
    public string? LimitHours { get; init; }
    public string? LimitDays { get; init; }

    /// <summary>The walk and the check that found it.</summary>
    public long? WalkId { get; init; }
    public string? Check { get; init; }

    /// <summary>Fault code, SPN/FMI.</summary>
    public string? Code { get; init; }

    /// <summary>Fixed on the spot: what was done; empty when it was not.</summary>
    public string? Fixed { get; init; }
    public string? Minutes { get; init; }
    public string? Parts { get; init; }
    public string? LookAgainHours { get; init; }

    /// <summary>Photos as uploaded.</summary>
    public IReadOnlyList<byte[]> Photos { get; init; } = [];

    /// <summary>Photos that were taken in already, with the answer that the defect came of.</summary>
    public IReadOnlyList<EncodedPhoto> Encoded { get; init; } = [];
    public string? Key { get; init; }
}

/// <summary>
/// Takes a defect in: graded, placed, linked to an earlier one at the same place, and stopping the machine at once where it must.
/// </summary>
public sealed class ReportDefect(NippersDb db, UnitOfWork writes, DefectService book)
{
    internal const int MostPhotos = 6;
    private const int LongestPart = 80;
    private const string WholeMachine = "machine";

    public Task<Outcome<DefectRow>> Run(DefectInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await writes.Earlier(actor, input.Key, ct) is { } earlier)
                {
                    var id = long.Parse(earlier, CultureInfo.InvariantCulture);
                    return Outcome<DefectRow>.Of(await db.Defects.SingleAsync(x => x.Id == id, ct));
                }

                var outcome = await Add(input, actor, ct);
                if (outcome.Done)
                    writes.Remember(actor, input.Key, outcome.Value!.Id.ToString(CultureInfo.InvariantCulture));
                return outcome;
            },
            ct
        );

    /// <summary>The same inside the caller's transaction.</summary>
    internal async Task<Outcome<DefectRow>> Add(DefectInput input, Actor actor, CancellationToken ct)
    {
        var facts = await db.FactsOf(input.Unit, writes.Now, ct);
        if (facts is null)
            return Outcome<DefectRow>.Refused(Refusals.NoSuchUnit("unit", input.Unit, Array.Empty<string>()));
        var today = LocalDay.Of(writes.Now, facts.Zone);
        var refusals = new List<Refusal>();
        var list = (await db.ListOf(facts.Machine, ct))?.ToList();
        var check = input.Check is { Length: > 0 } code ? list?.Checks.FirstOrDefault(x => x.Code == code) : null;
        if (input.Check is { Length: > 0 } && check is null)
            refusals.Add(Refusals.NoSuchCheck("check", input.Check));

        var words = string.Join(": ", new[] { input.Usual?.Trim(), input.Words?.Trim() }.Where(x => x is { Length: > 0 }));
        if (words.Length == 0)
            refusals.Add(Refusals.WordsNeeded("words"));
        else if (words.Length > DefectService.LongestWords)
            refusals.Add(Refusals.TooLong("words", DefectService.LongestWords));
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
        var (safety, least) = await Floor(input, check, on ?? MachinePart.Other, words, ct);
        var grade = input.Grade is { } chosen && !(input.PartBySaying && check is null && chosen < least) ? chosen : least;
        if (input is { ChoosesGrade: true, Grade: null } && least != DefectGrade.Stop)
            refusals.Add(Refusals.GradeNeeded());
        if (grade < least && safety != SafetyPart.None)
            refusals.Add(Refusals.GradeSafety());
        else if (grade < least && (least == DefectGrade.Stop || actor.Role == Roles.Operator))
            refusals.Add(Refusals.GradeBelowCheck());

        (MeterHours? Hours, DateOnly? On) limit =
            grade == DefectGrade.Limit ? DefectService.ReadLimit(input.LimitHours, input.LimitDays, facts, today, refusals) : (null, null);
        var place = PlaceOf(facts, list, check, input.Place, part, refusals);
        var (minutes, again) = ReadFix(input, facts, refusals);
        List<EncodedPhoto> photos = [.. input.Encoded];
        if (input.Photos.Count > MostPhotos)
            refusals.Add(Refusals.PhotosTooMany(MostPhotos));
        foreach (var photo in input.Photos.Take(MostPhotos))
        {
            var encoded = Photos.Encode(photo);
            if (encoded.Done)
                photos.Add(encoded.Value!);
            else
                refusals.AddRange(encoded.Refusals);
        }

        if (refusals.Count > 0)
            return Outcome<DefectRow>.Refused(refusals);

        var hours = DefectService.LastHours(facts);
        var row = new DefectRow
        {
            MachineId = facts.Machine.Id,
            Place = place.Key,
            PlaceName = place.Name,
            Words = words,
            Grade = grade,
            FoundGrade = grade,
            Safety = safety,
            Part = on!.Value,
            By = actor.Name,
            At = writes.Now,
            On = today,
            LifeHours = hours,
            LimitHours = limit.Hours,
            LimitOn = limit.On,
            ClockFrom = writes.Now,
            WalkId = input.WalkId,
            CheckCode = check?.Code ?? "",
            Code = input.Code ?? "",
            RepeatOf = await EarlierAt(facts.Machine.Id, place.Key, hours, today, ct),
        };
        db.Defects.Add(row);
        await db.SaveChangesAsync(ct);
        var answer = input.WalkId is { } walkId && check is not null ? await AnswerOf(walkId, check.Code, ct) : "";
        book.Note(row, facts.Machine.Unit, DefectAct.Found, words, actor, to: grade, walkId: input.WalkId, answer: answer);
        AddPhotos(row.Id, photos, actor);
        if (!string.IsNullOrWhiteSpace(input.Fixed))
        {
            row.State = grade == DefectGrade.Stop ? DefectState.Repaired : DefectState.Closed;
            row.RepairedBy = actor.Name;
            row.RepairedAt = writes.Now;
            row.RepairedHours = hours;
            row.RepairWords = input.Fixed.Trim();
            row.RepairMinutes = minutes;
            row.RepairParts = string.IsNullOrWhiteSpace(input.Parts) ? null : input.Parts.Trim();
            row.LookAgainHours = again is { } more ? hours + more : null;
            book.Note(row, facts.Machine.Unit, DefectAct.Repaired, row.RepairWords, actor);
        }

        return await book.Saved(row, ct);
    }

    /// <summary>The grade at least: of the list, of what was found, of the part and of the words, the highest.</summary>
    private async Task<(SafetyPart Safety, DefectGrade Least)> Floor(
        DefectInput input,
        WalkCheck? check,
        MachinePart on,
        string words,
        CancellationToken ct
    )
    {
        var spoken = check is null ? MachineParts.Floor(on, words) : MachineParts.Said(words).FirstOrDefault();
        var least = spoken?.Least ?? DefectGrade.Watch;
        if (check is null)
            return (spoken!.Safety, least);
        var safety = check.Safety != SafetyPart.None ? check.Safety : spoken?.Safety ?? SafetyPart.None;
        var judged =
            input.WalkId is { } id
            && await WalkContext.Load(db, id, ct) is { } walk
            && walk.Checks.FirstOrDefault(x => x.Code == check.Code) is { } asked
                ? walk.ResultOf(asked)?.Grade ?? DefectGrade.Watch
                : DefectGrade.Watch;
        var usual = check.Faults.FirstOrDefault(x => words.StartsWith(x.Words, StringComparison.OrdinalIgnoreCase));
        return (safety, new[] { least, judged, usual?.Least ?? DefectGrade.Watch, DefectRules.GradeOf(check.Grade, safety) }.Max());
    }

    private async Task<string> AnswerOf(long walkId, string check, CancellationToken ct) =>
        await db.WalkAnswers.Where(x => x.WalkId == walkId && x.Code == check).Select(x => x.Answer).FirstOrDefaultAsync(ct) ?? "";

    internal void AddPhotos(long defectId, IEnumerable<EncodedPhoto> photos, Actor actor)
    {
        foreach (var photo in photos)
        {
            db.DefectPhotos.Add(
                new()
                {
                    DefectId = defectId,
                    At = writes.Now,
                    By = actor.Name,
                    Width = photo.Width,
                    Height = photo.Height,
                    Bytes = new() { Whole = photo.Whole, Small = photo.Small },
                }
            );
        }
    }

    private static (string Key, string Name) PlaceOf(
        MachineFacts facts,
        Core.Walk.CheckList? list,
        Core.Walk.WalkCheck? check,
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
        var name = facts.Machine.Program.Compartments.Find(x => x.Code == place)?.Name
            ?? list?.Stations.FirstOrDefault(x => x.Code == place)?.Name;
        if (name is null)
        {
            refusals.Add(Refusals.NoSuchPlace("place"));
            return ("", "");
        }

        return (place + tail, part.Length > 0 ? $"{name}: {part}" : name);
    }

    private static (int? Minutes, MeterHours? Again) ReadFix(DefectInput input, MachineFacts facts, List<Refusal> refusals)
    {
        var minutes = Typed.Whole(input.Minutes, "minutes", 0, RepairDefect.MostMinutes, refusals);
        MeterHours? again = null;

        if (!string.IsNullOrWhiteSpace(input.LookAgainHours))
        {
            if (HoursInput.Read("lookAgainHours", input.LookAgainHours, out var hours) is { } fault)
                refusals.Add(fault);
            else
                again = hours;
        }

        return (minutes, again);
    }

    private async Task<long?> EarlierAt(int machineId, string place, MeterHours hours, DateOnly today, CancellationToken ct)
    {
        var last = await db
            .Defects.AsNoTracking()
            .Where(x => x.MachineId == machineId && x.Place == place && x.State != DefectState.Voided)
            .OrderByDescending(x => x.At)
            .ThenByDescending(x => x.Id)
            .FirstOrDefaultAsync(ct);
        if (last is null)
            return null;
        var on = last.RepairedAt is { } at ? DateOnly.FromDateTime(at.UtcDateTime) : last.On;
        return DefectRules.IsRepeat((last.RepairedHours ?? last.LifeHours), on, hours, today) ? last.Id : null;
    }

    private static string Slug(string words) =>
        string.Join('-', words.ToLowerInvariant().Split([' ', ',', '.', ':', ';'], StringSplitOptions.RemoveEmptyEntries));
}
