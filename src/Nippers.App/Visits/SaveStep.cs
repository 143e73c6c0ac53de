using System.Collections.Immutable;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Oil;
using Nippers.Core.Defects;
using Nippers.Core.Fluids;
using Nippers.Core.Jobs;
using Nippers.Core.Parts;
using Nippers.Data;
using Nippers.Data.Parts;
using Nippers.Data.Visits;

namespace Nippers.App.Visits;

/// <summary>Reads an answer for a step out of what came in, with what is wrong among the refusals.</summary>
public delegate StepAnswer StepReader(JobStep step, List<Refusal> refusals);

/// <summary>An answer that came in.</summary>
/// <param name="Code">Code of the step.</param>
/// <param name="Read">Gives the answer.</param>
/// <param name="Revision">Revision that the person had on the screen; 0 for none.</param>
public sealed record StepInput(string Code, StepReader Read, int Revision = 0)
{
    /// <summary>An answer that is one already.</summary>
    public StepInput(string code, StepAnswer answer, int revision = 0)
        : this(code, (_, _) => answer, revision) { }

    /// <summary>An answer as it was typed.</summary>
    public StepInput(string code, TypedFields typed, int revision = 0)
        : this(code, (step, refusals) => StepForm.Read(step, typed, refusals), revision)
    {
        NotInCatalogue = typed.Has("notInCatalogue");
    }

    /// <summary>A part that the catalogue does not hold is fitted all the same.</summary>
    public bool NotInCatalogue { get; init; }

    /// <summary>It comes from a paper card.</summary>
    public bool Paper { get; init; }

    /// <summary>Pictures as they were sent.</summary>
    public IReadOnlyList<byte[]> Photos { get; init; } = [];
}

/// <summary>An answer that was kept, and what it came to.</summary>
/// <param name="Step">The step.</param>
/// <param name="Result">What it came to; the step is done only when it was accepted.</param>
/// <param name="DefectId">The defect that came of it; null for none.</param>
public sealed record SavedStep(JobStep Step, StepResult Result, long? DefectId);

/// <summary>Keeps one answer of an open card. What it reveals becomes a defect at once; a filter that does not fit is filed.</summary>
public sealed class SaveStep(NippersDb db, UnitOfWork writes, ReportDefect report)
{
    private sealed record RemarkLine(StepRemark Remark, DefectGrade Grade, string Part, string Words);

    private static readonly Dictionary<StepRemark, RemarkLine> Lines = Tables
        .Read<RemarkLine>("Visits.remarks")
        .ToDictionary(x => x.Remark);

    /// <summary>Keeps an answer.</summary>
    public Task<Outcome<SavedStep>> Run(long visitId, StepInput input, Actor actor, CancellationToken ct) =>
        Run(visitId, input, [], TypedFields.None, actor, ct);

    /// <summary>
    /// Keeps an answer, and what was done with it in one go: a run in the cab, the looks of one lockout. What of that can't be kept
    /// stays the next step.
    /// </summary>
    /// <param name="visitId">The visit.</param>
    /// <param name="input">The answer.</param>
    /// <param name="go">Codes of the other steps, in order.</param>
    /// <param name="typed">The form that they were answered with.</param>
    /// <param name="actor">Who gave it.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<SavedStep>> Run(
        long visitId,
        StepInput input,
        IEnumerable<string> go,
        TypedFields typed,
        Actor actor,
        CancellationToken ct
    ) =>
        writes.Run(
            async () =>
            {
                var job = await JobContext.Load(db, visitId, ct);
                if (job is null)
                    return Outcome<SavedStep>.Refused(Refusals.NoSuchVisit());
                var saved = await Keep(job, input, actor, ct);
                foreach (var more in saved is { Done: true, Value.Result.Accepted: true } ? go : [])
                {
                    job = (await JobContext.Load(db, visitId, ct))!;
                    if (!(await Keep(job, new(more, typed), actor, ct)).Done)
                        break;
                }

                return saved;
            },
            ct
        );

    /// <summary>Keeps an answer that depends on how the card stands in its turn; null when that asks for none.</summary>
    /// <param name="visitId">The visit.</param>
    /// <param name="answer">The answer to the card as it stands; null for none.</param>
    /// <param name="actor">Who gave it.</param>
    /// <param name="ct">Cancels.</param>
    internal async Task<Outcome<SavedStep>?> Run(long visitId, Func<JobContext, StepInput?> answer, Actor actor, CancellationToken ct)
    {
        var asked = false;
        var outcome = await writes.Run(
            async () =>
            {
                if (await JobContext.Load(db, visitId, ct) is not { } job || answer(job) is not { } input)
                    return Outcome<SavedStep>.Refused(Refusals.NoSuchStep());
                asked = true;
                return await Keep(job, input, actor, ct);
            },
            ct
        );
        return asked ? outcome : null;
    }

    private async Task<Outcome<SavedStep>> Keep(JobContext job, StepInput input, Actor actor, CancellationToken ct)
    {
        if (job.StepOf(input.Code) is not { } step)
            return Outcome<SavedStep>.Refused(job.IsOpen ? Refusals.NoSuchStep() : Refusals.CardNotOpen());
        if (job.Closed(step) is { } closed)
            return Outcome<SavedStep>.Refused(closed);

        var refusals = new List<Refusal>();
        var answer = job.Read(step, input.Read, writes.Now, actor, refusals);
        if (answer is FilterAnswer filter && refusals.Count == 0)
            answer = await WithCatalogue(step, input, filter, refusals, ct);
        if (answer is BottleAnswer { Bottle: { } written } bottle)
            answer = await Marked(job.Row.Id, step, bottle, written, refusals, ct);
        var photos = new List<EncodedPhoto>();
        if (input.Photos.Count > ReportDefect.MostPhotos)
            refusals.Add(Refusals.PhotosTooMany(ReportDefect.MostPhotos));
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
        var text = JobContext.WriteAnswer(answer);
        if (row is not null && row.Revision != input.Revision && row.Answer != text)
            return Outcome<SavedStep>.Refused(Refusals.AnsweredMeanwhile(row.By));

        var judged = job.Judge(step, answer);
        if (judged.Value is not { } result)
            return Outcome<SavedStep>.Refused(judged.Refusals);
        var again = row is not null && row.Answer == text;
        if (!again)
            writes.Audit(
                actor,
                "visit.step",
                PlanVisit.Subject(job.Row.Machine.Unit, job.Row.Id),
                // Sixty a card: they stand under the card, not in the machine's short history.
                null,
                row is null ? null : new { step = step.Code, answer = row.Answer },
                new { step = step.Code, answer = text }
            );
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
        (row.Answer, row.By, row.At) = (text, actor.Name, again ? row.At : writes.Now);
        row.Paper = input.Paper;
        row.Revision++;
        foreach (var photo in photos)
        {
            db.StepPhotos.Add(
                new()
                {
                    VisitId = job.Row.Id,
                    Code = step.Code,
                    By = actor.Name,
                    At = writes.Now,
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
            FileWrongPart(job, step, (FilterAnswer)answer, result, actor);
        if (StepJudge.Stops(answer, result))
            job.Rewrite(job.StoppedAt(step));

        // Whoever locks it out holds it until the locks are handed over.
        var newHolder = step.Between == CardBetween.Isolate && result.Accepted && !again && job.Holder != actor.Name;
        if (newHolder)
            (job.Row.HeldBy, job.Row.HandedTo, job.Row.HandedWords) = (actor.Name, null, "");

        var rows = new Dictionary<string, StepRow>(job.Rows, StringComparer.Ordinal) { [step.Code] = row };
        var turned = JobContext.KeepOff(job.Row, rows);
        await db.SaveChangesAsync(ct);
        if (newHolder || turned)
            await writes.RefreshStatus([job.Row.MachineId], ct);
        if (!result.MakesDefect || !await NeedsDefect(row, ct))
            return Outcome<SavedStep>.Of(new(step, result, row.DefectId));

        var outcome = await report.Add(ToDefect(job, step, answer, result, photos), actor, ct);
        if (!outcome.Done)
            return Outcome<SavedStep>.Refused(outcome.Refusals);
        row.DefectId = outcome.Value!.Id;
        return Outcome<SavedStep>.Of(new(step, result, row.DefectId));
    }

    /// <summary>An answer that is put right does not report the same thing twice.</summary>
    private async Task<bool> NeedsDefect(StepRow row, CancellationToken ct) =>
        row.DefectId is not { } id || !await db.Defects.AnyAsync(x => x.Id == id && x.State != Data.Defects.DefectState.Voided, ct);

    private static DefectInput ToDefect(JobContext job, JobStep step, StepAnswer answer, StepResult result, List<EncodedPhoto> photos)
    {
        var line = result
            .Remarks.Where(Lines.ContainsKey)
            .Select(x => Lines[x])
            .MaxBy(x => x.Remark == StepRemark.Metal && step.MetalStops ? DefectGrade.Stop : x.Grade)!;
        var grade = line.Remark switch
        {
            StepRemark.Metal when step.MetalStops => DefectGrade.Stop,
            StepRemark.Fault => (answer as IFaultAnswer)?.Grade ?? line.Grade,
            _ => line.Grade,
        };
        var words = string.Format(
            CultureInfo.InvariantCulture,
            line.Words,
            (answer as ILitresAnswer)?.Litres ?? (answer as PressureAnswer)?.Seconds,
            Expected(job, step, answer) ?? step.Litres ?? step.Seconds,
            (answer as ILookAnswer)?.Look?.ToString().ToLowerInvariant(),
            (answer as IMetalAnswer)?.Metal?.ToString().ToLowerInvariant(),
            answer is VoltsAnswer { Volts: { Length: > 0 } volts } ? volts.Min() : 0,
            (answer as IFaultAnswer)?.Fault,
            answer is MeasuredAnswer measured ? Outside(step, measured) : null
        );
        return new()
        {
            Unit = job.Row.Machine.Unit,
            PartBySaying = true,
            Place = step.Compartment,
            Part = line.Part.Length > 0 ? line.Part : step.Item,
            Words = words,
            Grade = grade,
            LimitHours = grade == DefectGrade.Limit ? UsualLimit.Hours : null,
            LimitDays = grade == DefectGrade.Limit ? UsualLimit.Days : null,
            Encoded = photos,
        };
    }

    private static string Outside(JobStep step, MeasuredAnswer answer) =>
        string.Join(
            ", ",
            step.Figures.Zip(answer.Figures)
                .Where(x => x.Second is { } figure && x.First.IsOutside(figure))
                .Select(x => string.Create(CultureInfo.InvariantCulture, $"{x.First.Name} {x.Second} {x.First.Unit}").TrimEnd())
        );

    /// <summary>Litres that should have come out of a compartment as its level was found; null where nobody knows.</summary>
    private static double? Expected(JobContext job, JobStep step, StepAnswer answer) =>
        answer is DrainedAnswer drained && job.State.ChangeBefore(step) is { } change
            ? (double?)FluidBalance.Of(StepJudge.With(change, step, drained)).ExpectedOut
            : null;

    private void FileWrongPart(JobContext job, JobStep step, FilterAnswer answer, StepResult result, Actor actor) =>
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
                LifeHours = job.Row.LifeHours,
                By = actor.Name,
                EnteredAt = writes.Now,
                VisitId = job.Row.Id,
                Words = string.Join(", ", result.Remarks.Select(x => Difference(x, step.Size, answer.Size)).Where(x => x.Length > 0)),
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
    private async Task<FilterAnswer> WithCatalogue(
        JobStep step,
        StepInput input,
        FilterAnswer answer,
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
                refusals.Add(Refusals.PartUnknown("part", number));
            return answer;
        }

        return Known(step, answer, part.Make, part.Size, refusals);
    }

    /// <summary>An answer with what is known of its part, and what is asked about one that nobody lists for this place.</summary>
    internal static FilterAnswer Known(JobStep step, FilterAnswer answer, string make, FilterSize part, List<Refusal> refusals)
    {
        if (
            step.Part.Length > 0
            && answer.Part != step.Part
            && !step.Alternates.Contains(answer.Part ?? "")
            && string.IsNullOrWhiteSpace(answer.Reason)
        )
            refusals.Add(Refusals.PartNotListed(answer.Part ?? "", step.Part));
        var size = answer.Size;
        return answer with
        {
            Make = string.IsNullOrEmpty(answer.Make) ? make : answer.Make,
            Size = new(
                size.LengthMm ?? part.LengthMm,
                size.OuterMm ?? part.OuterMm,
                size.SealMm ?? part.SealMm,
                size.Thread.Length > 0 ? size.Thread : part.Thread
            ),
        };
    }

    /// <summary>A bottle's code as it is kept, or what is wrong with it: one bottle stands on one step, of any card.</summary>
    private async Task<BottleAnswer> Marked(
        long visit,
        JobStep step,
        BottleAnswer answer,
        string written,
        List<Refusal> refusals,
        CancellationToken ct
    )
    {
        var (mark, slip) = Bottles.ReadMark(written);
        if (slip is not null)
            refusals.Add(new("mark", slip, written));
        else if (
            await db.Samples.AnyAsync(x => x.Bottle == mark && x.VisitId != visit, ct) || await StandsElsewhere(visit, step.Code, mark, ct)
        )
            refusals.Add(Refusals.BottleTaken("mark", mark));
        return answer with { Bottle = mark };
    }

    /// <summary>Whether another step of an open card has the bottle; what is closed stands among the samples.</summary>
    private async Task<bool> StandsElsewhere(long visit, string code, string mark, CancellationToken ct)
    {
        var answers = await db
            .Steps.Where(x => x.Answer.Contains(mark) && !(x.VisitId == visit && x.Code == code))
            .Where(x => db.Visits.Any(v => v.Id == x.VisitId && v.State == VisitState.Open))
            .Select(x => x.Answer)
            .ToListAsync(ct);
        return answers.Exists(x => JobContext.ReadAnswer(x) is BottleAnswer { Bottle: { } taken } && taken == mark);
    }
}

/// <summary>Leaves an item of a card undone, with a reason; it stays due and joins the next visit.</summary>
public sealed class LeaveItem(NippersDb db, UnitOfWork writes, OpenCard cards)
{
    /// <summary>Reasons that are offered.</summary>
    public static IReadOnlyList<string> Reasons { get; } = ["wrongPart", "noTime", "weather", "other"];

    /// <summary>Reason of what is left because the card is closed while the machine stays locked out; not offered by itself.</summary>
    public const string LockedOut = "lockedOut";

    /// <summary>What is given as off when nothing is.</summary>
    public const string NothingOff = "-";

    /// <summary>Leaves it.</summary>
    /// <param name="visitId">The visit.</param>
    /// <param name="item">Code of the item.</param>
    /// <param name="reason">One of those offered.</param>
    /// <param name="words">Words beside it.</param>
    /// <param name="off">
    /// What of it is off or open though nobody recorded it; <see cref="NothingOff"/> for nothing. Asked where something may be.
    /// </param>
    /// <param name="actor">Who leaves it.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<Nothing>> Run(
        long visitId,
        string item,
        string? reason,
        string? words,
        IReadOnlyList<string>? off,
        Actor actor,
        CancellationToken ct
    ) =>
        writes.Run(
            async () =>
            {
                var job = await JobContext.Load(db, visitId, ct);
                if (job is null)
                    return Outcome<Nothing>.Refused(Refusals.NoSuchVisit());
                if (!job.IsOpen)
                    return Outcome<Nothing>.Refused(Refusals.CardNotOpen());
                var row = job.Row.Items.Find(x => x.ItemCode == item);
                if (row is null)
                    return Outcome<Nothing>.Refused(Refusals.NoSuchItem("", item));
                var refusals = new List<Refusal>();
                if (!Reasons.Contains(reason))
                    refusals.Add(Refusals.ReasonNeeded("leaveReason"));
                var said = Typed.Words(words, "leaveWords", 300, refusals, needed: reason == "other");
                var may = job.State.MayBeOff(item);
                var things = may.Where(x => off?.Contains(x) == true).ToImmutableArray();
                if (!may.IsEmpty && things.IsEmpty && off?.Contains(NothingOff) != true)
                    refusals.Add(Refusals.LeaveOff("leaveOff", may));
                if (job.Card.Steps.FirstOrDefault(x => x.Item == item && x.Opens.Length > 0 && things.Contains(x.Touches)) is { } drain)
                    refusals.Add(Refusals.RecordFirst("leaveOff", drain.Words));
                if (refusals.Count > 0)
                    return Outcome<Nothing>.Refused(refusals);
                (row.State, row.Reason, row.ReasonWords) = (VisitItemState.Left, reason, said);

                // What it opened has to be shut before anything starts, without the filter that was to do it.
                var splice = new CardSplice(job.Card.Steps, JobTables.Between);
                foreach (var circuit in job.State.StandsOpen(item).ToList())
                    splice.CloseInstead(
                        circuit,
                        item,
                        job.State.IsOpen,
                        string.Format(CultureInfo.InvariantCulture, JobTables.Closing.Words, job.NameOf(item)),
                        JobTables.Closing.Parts[0]
                    );
                if (!things.IsEmpty)
                    splice.PutBack(
                        item,
                        things,
                        job.State.IsOpen,
                        string.Format(CultureInfo.InvariantCulture, JobTables.PutBack.Words, job.NameOf(item)),
                        JobTables.PutBack.Caution,
                        job.State.Now
                    );
                job.Rewrite(splice.Steps);
                if (JobContext.KeepOff(job.Row, job.Rows))
                    await writes.RefreshStatus([job.Row.MachineId], ct);
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
                        off = things,
                    }
                );
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Takes an item up again that had been left; where the machine is no more as it was, with steps of its own.</summary>
    public Task<Outcome<Nothing>> TakeUp(long visitId, string item, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db.VisitItems.SingleOrDefaultAsync(
                    x => x.VisitId == visitId && x.ItemCode == item && db.Visits.Any(v => v.Id == visitId && v.State == VisitState.Open),
                    ct
                );
                if (row is null || await JobContext.Load(db, visitId, ct) is not { } job)
                    return Outcome<Nothing>.Refused(Refusals.CardNotOpen());
                if (job.PassedOf(item))
                {
                    var added = await cards.AddWithin(job, item, actor, ct);
                    return added.Done ? Outcome<Nothing>.Of(Nothing.Special) : Outcome<Nothing>.Refused(added.Refusals);
                }

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
