using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Oil;
using Nippers.Core.Defects;
using Nippers.Core.Jobs;
using Nippers.Core.Parts;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Parts;
using Nippers.Data.Visits;
using Nippers.Data.Walks;

namespace Nippers.App.Visits;

/// <summary>An answer to a step as it was typed and tapped.</summary>
public sealed record StepInput
{
    public string Code { get; init; } = "";
    public bool Done { get; init; }

    /// <summary>Level: percent of the way from low to high.</summary>
    public string? Level { get; init; }
    public string? Litres { get; init; }
    public FluidLook? Look { get; init; }
    public MetalFinding? Metal { get; init; }
    public DrainAmount? Water { get; init; }
    public string? Count { get; init; }
    public List<string?> Figures { get; init; } = [];
    public string? Part { get; init; }
    public string? Make { get; init; }
    public string? LengthMm { get; init; }
    public string? OuterMm { get; init; }
    public string? SealMm { get; init; }
    public string? Thread { get; init; }
    public bool SealOff { get; init; }
    public bool SeatWiped { get; init; }
    public bool SealNew { get; init; }
    public bool Turned { get; init; }
    public bool Written { get; init; }
    public bool Prefilled { get; init; }
    public List<string> Home { get; init; } = [];
    public string? Reason { get; init; }
    public string? Fault { get; init; }
    public DefectGrade? FaultGrade { get; init; }
    public string? Name { get; init; }
    public string? Mark { get; init; }
    public string? Note { get; init; }

    /// <summary>A part that the catalogue does not hold is fitted all the same.</summary>
    public bool NotInCatalogue { get; init; }
    public IReadOnlyList<byte[]> Photos { get; init; } = [];

    /// <summary>Revision that the person had on the screen; 0 for none.</summary>
    public int Revision { get; init; }

    /// <summary>The form filled in from what is kept, and from what the catalogue says belongs here.</summary>
    public static StepInput Of(JobStep step, StepAnswer? answer, int revision) =>
        answer is null
            ? new() { Part = step.Part, Revision = revision }
            : new()
            {
                Done = answer.Done,
                Level = Text(answer.Level * 100),
                Litres = Text(answer.Litres),
                Look = answer.Look,
                Metal = answer.Metal,
                Water = answer.Water,
                Count = answer.Count?.ToString(System.Globalization.CultureInfo.InvariantCulture),
                Figures = [.. answer.Figures?.Select(x => Text(x)) ?? []],
                Part = answer.Part,
                Make = answer.Make,
                LengthMm = Text(answer.Size?.LengthMm),
                OuterMm = Text(answer.Size?.OuterMm),
                SealMm = Text(answer.Size?.SealMm),
                Thread = answer.Size?.Thread,
                SealOff = answer.SealOff,
                SeatWiped = answer.SeatWiped,
                SealNew = answer.SealNew,
                Turned = answer.Turned,
                Written = answer.Written,
                Prefilled = answer.Prefilled,
                Home = [.. answer.Home],
                Reason = answer.Reason,
                Fault = answer.Fault,
                Name = answer.Name,
                Mark = answer.Mark,
                Note = answer.Note,
                Revision = revision,
            };

    private static string? Text(double? value) => value?.ToString("0.###", CultureInfo.InvariantCulture);
}

/// <summary>An answer that was kept, and what it came to.</summary>
/// <param name="Step">The step.</param>
/// <param name="Result">What it came to; the step is done only when it was accepted.</param>
/// <param name="DefectId">The defect that came of it; null for none.</param>
public sealed record SavedStep(JobStep Step, StepResult Result, long? DefectId);

/// <summary>Keeps one answer of an open card. What it reveals becomes a defect at once; a filter that does not fit is filed.</summary>
public sealed class SaveStep(NippersDb db, UnitOfWork writes, ReportDefect report)
{
    private const int LongestWords = 500;
    private const double MostLitres = 10_000;
    private const double MostFigure = 10_000;
    private const double MostShare = 100;

    private sealed record RemarkLine(StepRemark Remark, DefectGrade Grade, string Part, string Words);

    private static readonly Dictionary<StepRemark, RemarkLine> Lines = Tables
        .Read<RemarkLine>("Visits.remarks")
        .ToDictionary(x => x.Remark);

    public Task<Outcome<SavedStep>> Run(long visitId, StepInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var job = await JobContext.Load(db, visitId, ct);
                if (job is null)
                    return Outcome<SavedStep>.Refused("", "noSuchVisit");
                return await Keep(job, input, actor, ct);
            },
            ct
        );

    private async Task<Outcome<SavedStep>> Keep(JobContext job, StepInput input, Actor actor, CancellationToken ct)
    {
        if (!job.IsOpen)
            return Outcome<SavedStep>.Refused("", "cardNotOpen");
        if (job.StepOf(input.Code) is not { } step)
            return Outcome<SavedStep>.Refused("", "noSuchStep");
        if (job.State.IsLeft(step))
            return Outcome<SavedStep>.Refused("", "itemLeft", job.NameOf(step.Item));
        if (job.State.BlockedBy(step) is { Length: > 0 } first)
            return Outcome<SavedStep>.Refused("", "stepBlocked", first.Select(x => x.Words).ToList());

        var refusals = new List<Refusal>();
        var answer = Read(step, input, refusals);
        if (step.Input == InputKind.Filter && refusals.Count == 0)
            answer = await WithCatalogue(step, input, answer, refusals, ct);
        if (step.Input == InputKind.Bottle && answer.Mark is { } written)
        {
            var (read, slip) = Bottles.ReadMark(written);
            if (slip is not null)
                refusals.Add(new("mark", slip, written));
            answer = answer with { Mark = read };
        }

        if (
            step.Input == InputKind.Bottle
            && answer.Mark is { } mark
            && await db.Samples.AnyAsync(x => x.Bottle == mark && x.VoidedMs == null, ct)
        )
            refusals.Add(new("mark", "bottleTaken", mark));
        var photos = new List<EncodedPhoto>();
        if (input.Photos.Count > ReportDefect.MostPhotos)
            refusals.Add(new("photo", "photosTooMany", ReportDefect.MostPhotos));
        foreach (var photo in input.Photos.Take(ReportDefect.MostPhotos))
        {
            var encoded = Photos.Encode(photo);
            if (encoded.Done)
                photos.Add(encoded.Value!);
            else
                refusals.AddRange(encoded.Refusals);
        }

        if (refusals.Count > 0)
            return Outcome<SavedStep>.Refused(refusals);
        var row = await db.Steps.FindAsync([job.Row.Id, step.Code], ct);
        var text = JsonSerializer.Serialize(answer, ListJson.Options);
        if (row is not null && row.Revision != input.Revision && row.Answer != text)
            return Outcome<SavedStep>.Refused("", "answeredMeanwhile", row.By);

        var result = StepJudge.Judge(
            step,
            answer,
            step.Input == InputKind.Touched ? job.State.TouchedBefore(step) : null,
            job.State.FilledBefore(step)
        );
        if (result.Remarks.Contains(StepRemark.TooMuch))
            return Outcome<SavedStep>.Refused(
                step.Input == InputKind.Plug ? "count" : "litres",
                "litresTooMuch",
                step.Capacity ?? StepJudge.MostLitres
            );
        var again = row is not null && row.Answer == text;
        if (row is null)
            db.Steps.Add(
                row = new()
                {
                    VisitId = job.Row.Id,
                    Code = step.Code,
                    By = actor.Name,
                    Answer = text,
                }
            );
        (row.Answer, row.By, row.AtMs) = (text, actor.Name, again ? row.AtMs : writes.NowMs);
        row.Revision++;
        foreach (var photo in photos)
        {
            db.StepPhotos.Add(
                new()
                {
                    VisitId = job.Row.Id,
                    Code = step.Code,
                    By = actor.Name,
                    AtMs = writes.NowMs,
                    Width = photo.Width,
                    Height = photo.Height,
                    Whole = photo.Whole,
                    Small = photo.Small,
                }
            );
        }

        if (
            !again
            && result.Remarks.Any(x => x is StepRemark.FitLength or StepRemark.FitOuter or StepRemark.FitSeal or StepRemark.FitThread)
        )
            FileWrongPart(job, step, answer, result, actor);
        await db.SaveChangesAsync(ct);
        if (!result.MakesDefect || !await NeedsDefect(row, ct))
            return Outcome<SavedStep>.Of(new(step, result, row.DefectId));

        var outcome = await report.Add(ToDefect(job, step, answer, result, input, photos), actor, ct);
        if (!outcome.Done)
            return Outcome<SavedStep>.Refused(outcome.Refusals);
        row.DefectId = outcome.Value!.Id;
        return Outcome<SavedStep>.Of(new(step, result, row.DefectId));
    }

    /// <summary>An answer that is put right does not report the same thing twice.</summary>
    private async Task<bool> NeedsDefect(StepRow row, CancellationToken ct) =>
        row.DefectId is not { } id || !await db.Defects.AnyAsync(x => x.Id == id && x.State != Data.Defects.DefectState.Voided, ct);

    private static DefectInput ToDefect(
        JobContext job,
        JobStep step,
        StepAnswer answer,
        StepResult result,
        StepInput input,
        List<EncodedPhoto> photos
    )
    {
        var line = result
            .Remarks.Where(Lines.ContainsKey)
            .Select(x => Lines[x])
            .MaxBy(x => x.Remark == StepRemark.Metal && step.MetalStops ? DefectGrade.Stop : x.Grade)!;
        var grade = line.Remark switch
        {
            StepRemark.Metal when step.MetalStops => DefectGrade.Stop,
            StepRemark.Fault => input.FaultGrade ?? line.Grade,
            _ => line.Grade,
        };
        var words = string.Format(
            CultureInfo.InvariantCulture,
            line.Words,
            answer.Litres ?? answer.Figures?.FirstOrDefault(),
            step.Litres ?? step.Seconds,
            answer.Look?.ToString().ToLowerInvariant(),
            answer.Metal?.ToString().ToLowerInvariant(),
            answer.Figures is { Length: > 0 } figures ? figures.Min() : 0,
            answer.Fault
        );
        return new()
        {
            Unit = job.Row.Machine.Unit,
            Place = step.Compartment,
            Part = line.Part.Length > 0 ? line.Part : step.Item,
            Words = words,
            Grade = grade,
            LimitHours = grade == DefectGrade.Limit ? UsualLimit.Hours : null,
            LimitDays = grade == DefectGrade.Limit ? UsualLimit.Days : null,
            Encoded = photos,
        };
    }

    private void FileWrongPart(JobContext job, JobStep step, StepAnswer answer, StepResult result, Actor actor) =>
        db.FilterLog.Add(
            new()
            {
                MachineId = job.Row.MachineId,
                Position = step.Position,
                PositionName = step.Words,
                State = FilterLogState.Refused,
                Part = answer.Part ?? "",
                Make = answer.Make ?? "",
                On = job.Row.On,
                LifeTenths = job.Row.LifeTenths,
                By = actor.Name,
                EnteredMs = writes.NowMs,
                VisitId = job.Row.Id,
                Words = string.Join(", ", result.Remarks.Select(x => Difference(x, step.Size, answer.Size!)).Where(x => x.Length > 0)),
                Batch = "",
            }
        );

    private static string Difference(StepRemark remark, FilterSize place, FilterSize filter) =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"{remark switch
            {
                StepRemark.FitLength => $"{filter.LengthMm} / {place.LengthMm} mm",
                StepRemark.FitOuter => $"Ø {filter.OuterMm} / {place.OuterMm} mm",
                StepRemark.FitSeal => $"Ø {filter.SealMm} / {place.SealMm} mm",
                StepRemark.FitThread => $"{filter.Thread} / {place.Thread}",
                _ => "",
            }}"
        );

    /// <summary>
    /// Takes what the catalogue knows of the part, and asks about one that it does not know or that nobody lists for this place.
    /// </summary>
    private async Task<StepAnswer> WithCatalogue(
        JobStep step,
        StepInput input,
        StepAnswer answer,
        List<Refusal> refusals,
        CancellationToken ct
    )
    {
        if (answer.Part is not { } number)
            return answer;
        var part = await db.Parts.AsNoTracking().SingleOrDefaultAsync(x => x.Number == number, ct);
        if (part is null)
        {
            if (!input.NotInCatalogue)
                refusals.Add(new("part", "partUnknown", number));
            return answer;
        }

        if (step.Part.Length > 0 && number != step.Part && !step.Alternates.Contains(number) && string.IsNullOrWhiteSpace(answer.Reason))
            refusals.Add(new("reason", "partNotListed", number, step.Part));
        var size = answer.Size ?? new();
        return answer with
        {
            Make = string.IsNullOrEmpty(answer.Make) ? part.Make : answer.Make,
            Size = new(
                size.LengthMm ?? part.LengthMm,
                size.OuterMm ?? part.OuterMm,
                size.SealMm ?? part.SealMm,
                size.Thread.Length > 0 ? size.Thread : part.Thread
            ),
        };
    }

    /// <summary>Turns what was typed into an answer, or says beside which field it can't.</summary>
    private static StepAnswer Read(JobStep step, StepInput input, List<Refusal> refusals)
    {
        string? Words(string? text, string field) =>
            Typed.Words(text, field, LongestWords, refusals) is { Length: > 0 } words ? words : null;
        // A figure keeps its place: one that is missing before another is asked for, never filled by its neighbour.
        var given = input.Figures.ToList().FindLastIndex(x => !string.IsNullOrWhiteSpace(x)) + 1;
        ImmutableArray<double> figures =
        [
            .. input
                .Figures.Take(given)
                .Select(
                    (x, i) => Typed.Number(x, $"figure{i + 1}", 0, step.Input == InputKind.Coolant ? MostShare : MostFigure, refusals) ?? 0
                ),
        ];
        return new()
        {
            Done = input.Done,
            Level = Typed.Optional(input.Level, "level", -50, 200, refusals) / 100,
            Litres = Typed.Optional(input.Litres, "litres", 0, MostLitres, refusals),
            Look = input.Look,
            Metal = input.Metal,
            Water = input.Water,
            Count = Typed.Whole(input.Count, "count", 0, 500, refusals),
            Figures = figures.Length > 0 ? figures : null,
            Part = Words(input.Part, "part")?.ToUpperInvariant(),
            Make = Words(input.Make, "make"),
            Size =
                step.Input == InputKind.Filter
                    ? new(
                        Typed.Optional(input.LengthMm, "lengthMm", 1, 2000, refusals),
                        Typed.Optional(input.OuterMm, "outerMm", 1, 1000, refusals),
                        Typed.Optional(input.SealMm, "sealMm", 1, 1000, refusals),
                        Words(input.Thread, "thread") ?? ""
                    )
                    : null,
            SealOff = input.SealOff,
            SeatWiped = input.SeatWiped,
            SealNew = input.SealNew,
            Turned = input.Turned,
            Written = input.Written,
            Prefilled = input.Prefilled,
            Home = [.. input.Home],
            Reason = Words(input.Reason, "reason"),
            Fault = Words(input.Fault, "fault"),
            Name = Words(input.Name, "name"),
            Mark = Words(input.Mark, "mark")?.ToUpperInvariant(),
            Note = Words(input.Note, "note"),
        };
    }
}

/// <summary>Leaves an item of a card undone, with a reason; it stays due and joins the next visit.</summary>
public sealed class LeaveItem(NippersDb db, UnitOfWork writes)
{
    /// <summary>Reasons that are offered.</summary>
    public static IReadOnlyList<string> Reasons { get; } = ["wrongPart", "noTime", "weather", "other"];

    public Task<Outcome<Nothing>> Run(long visitId, string item, string? reason, string? words, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var job = await JobContext.Load(db, visitId, ct);
                if (job is null)
                    return Outcome<Nothing>.Refused("", "noSuchVisit");
                if (!job.IsOpen)
                    return Outcome<Nothing>.Refused("", "cardNotOpen");
                var row = job.Row.Items.Find(x => x.ItemCode == item);
                if (row is null)
                    return Outcome<Nothing>.Refused("", "noSuchItem", item);
                var refusals = new List<Refusal>();
                if (!Reasons.Contains(reason))
                    refusals.Add(new("leaveReason", "reasonNeeded"));
                var said = Typed.Words(words, "leaveWords", 300, refusals, needed: reason == "other");
                if (!job.State.CanLeave(item))
                    refusals.Add(new("", "itemStandsOpen", job.NameOf(item)));
                if (refusals.Count > 0)
                    return Outcome<Nothing>.Refused(refusals);
                (row.State, row.Reason, row.ReasonWords) = (VisitItemState.Left, reason, said);
                writes.Audit(
                    actor,
                    "visit.leave",
                    PlanVisit.Subject(job.Row.Machine.Unit, visitId),
                    job.Row.MachineId,
                    null,
                    new
                    {
                        item,
                        reason,
                        words = said,
                    }
                );
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Takes an item up again that had been left.</summary>
    public Task<Outcome<Nothing>> TakeUp(long visitId, string item, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db.VisitItems.SingleOrDefaultAsync(
                    x => x.VisitId == visitId && x.ItemCode == item && db.Visits.Any(v => v.Id == visitId && v.State == VisitState.Open),
                    ct
                );
                if (row is null)
                    return Outcome<Nothing>.Refused("", "cardNotOpen");
                (row.State, row.Reason, row.ReasonWords) = (VisitItemState.Planned, null, null);
                writes.Audit(
                    actor,
                    "visit.takeUp",
                    string.Create(CultureInfo.InvariantCulture, $"visit {visitId}"),
                    null,
                    null,
                    new { item }
                );
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );
}
