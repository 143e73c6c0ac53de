using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Readings;
using Nippers.App.Units;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.Data;

namespace Nippers.App.Phones;

/// <summary>An entry that was taken.</summary>
/// <param name="WalkId">The walk that it belongs to; null for none.</param>
/// <param name="Repeat">It had been taken before.</param>
public sealed record TakenEntry(long? WalkId, bool Repeat = false);

/// <summary>
/// Takes what was done on a phone without a network, by the use cases of the pages, at the time at which it was done. A repeat
/// changes nothing; what can't be taken is said, and stays on the phone.
/// </summary>
/// <remarks>Rules 12.</remarks>
public sealed class TakeEntry(
    NippersDb db,
    UnitOfWork writes,
    StartWalk start,
    SaveAnswer save,
    FinishWalk finish,
    ReportDefect report,
    DefectNotes notes,
    LogReading log,
    LogTopUp topUp,
    LeaveMachine leave,
    SaveStep step
)
{
    private const string BatchKey = "batch:";

    /// <summary>Takes an entry.</summary>
    /// <param name="entry">The entry.</param>
    /// <param name="photos">Photos that belong to it.</param>
    /// <param name="actor">Who did it, and sends it.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<Outcome<TakenEntry>> Run(PhoneEntry entry, IReadOnlyList<byte[]> photos, Actor actor, CancellationToken ct)
    {
        using var units = PersonUnits.As(entry.Units);
        var walkId = await WalkOf(entry, actor, ct);
        if (await writes.Known(actor, entry.Key, ct) is not null)
            return Outcome<TakenEntry>.Of(new(walkId, Repeat: true));
        writes.DoneAt(entry.Corrected);
        writes.Once(actor, entry.Key);
        var typed = entry.Typed;
        if (
            entry.Kind
                is not (EntryKind.Start or EntryKind.Hours or EntryKind.Defect or EntryKind.TopUp or EntryKind.Evening or EntryKind.Step)
            && walkId is null
        )
            return Outcome<TakenEntry>.Refused(Refusals.NoSuchWalk());
        var refused = entry.Kind switch
        {
            EntryKind.Start => await Start(entry, actor, ct),
            EntryKind.Answer => await Answer(walkId!.Value, typed, actor, ct),
            EntryKind.AllOk => (await save.AllOk(walkId!.Value, entry.Step, actor, ct)).Refusals,
            EntryKind.Tick => (await save.Tick(walkId!.Value, entry.Step, typed.Has("done"), actor, ct)).Refusals,
            EntryKind.Again => await Again(walkId!.Value, typed, actor, ct),
            EntryKind.Told => await DefectOf(typed, actor, ct) is { } told
                ? (await notes.Told(told, typed["whom"], actor, ct)).Refusals
                : [Refusals.NoSuchDefect()],
            EntryKind.Fault or EntryKind.Defect => (
                await report.Run(PhoneBook.Reported(entry, walkId) with { Photos = photos }, actor, ct)
            ).Refusals,
            EntryKind.Finish => (await finish.Run(walkId!.Value, new(typed["leftOut"], typed["note"]), actor, ct)).Refusals,
            EntryKind.Hours => (await log.Run(new(entry.Unit, typed["hours"], Key: entry.Key, At: writes.Now), actor, ct)).Refusals,
            EntryKind.Photo => (
                await save.Photo(walkId!.Value, typed["check"] ?? "", photos.Count > 0 ? photos[0] : null, actor, ct)
            ).Refusals,
            EntryKind.Evening => (await leave.Run(entry.Unit, typed, actor, ct)).Refusals,
            EntryKind.Step => await Step(entry, photos, actor, ct),
            EntryKind.TopUp => (await topUp.Run(entry.Unit, typed["litres"], typed["compartment"], entry.Key, actor, ct)).Refusals,
        };
        if (refused.Any(x => x.Code == Refusals.AlreadyDone().Code))
            return Outcome<TakenEntry>.Of(new(walkId, Repeat: true));
        return refused.Count > 0
            ? Outcome<TakenEntry>.Refused(refused)
            : Outcome<TakenEntry>.Of(new(walkId ?? await WalkOf(entry, actor, ct)));
    }

    private async Task<IReadOnlyList<Refusal>> Start(PhoneEntry entry, Actor actor, CancellationToken ct) =>
        (
            await writes.Run(
                async () =>
                {
                    var begun = await start.Begin(StartWalkInput.Of(entry.Unit, entry.Typed) with { Batch = entry.Walk }, actor, ct);
                    if (begun.Done)
                        writes.Remember(actor, BatchKey + entry.Walk, begun.Value!.WalkId.ToString(CultureInfo.InvariantCulture));
                    return begun;
                },
                ct
            )
        ).Refusals;

    /// <summary>A step of a card. One that is kept and not done is no refusal: it stands on the card as what it is.</summary>
    private async Task<IReadOnlyList<Refusal>> Step(PhoneEntry entry, IReadOnlyList<byte[]> photos, Actor actor, CancellationToken ct)
    {
        // Anybody's phone sends entries; a card is worked by who may work on machines.
        if (actor.Role == Roles.Operator)
            return [Refusals.TechnicianNeeded()];
        var typed = entry.Typed;
        if (!long.TryParse(typed["visit"], CultureInfo.InvariantCulture, out var visit))
            return [Refusals.NoSuchVisit()];
        _ = int.TryParse(typed["revision"], CultureInfo.InvariantCulture, out var revision);
        var input = new StepInput(entry.Step, typed, revision) { Photos = photos };
        return (await step.Run(visit, input, typed.All("go").OfType<string>().Skip(1), typed, actor, ct)).Refusals;
    }

    private async Task<IReadOnlyList<Refusal>> Answer(long walkId, TypedFields typed, Actor actor, CancellationToken ct) =>
        (await save.Run(walkId, new AnswerInput(typed["check"] ?? "", typed) { LaterCounts = true }, actor, ct)).Refusals;

    private async Task<IReadOnlyList<Refusal>> Again(long walkId, TypedFields typed, Actor actor, CancellationToken ct) =>
        typed.Pick<Again>("again") is { } again && await DefectOf(typed, actor, ct) is { } id
            ? (await notes.LookedAgain(id, walkId, again, typed["note"], actor, ct)).Refusals
            : [Refusals.NoSuchDefect()];

    /// <summary>The walk of an entry: the one that the server began under its name, or the one that it joined.</summary>
    private async Task<long?> WalkOf(PhoneEntry entry, Actor actor, CancellationToken ct)
    {
        if (entry.Walk.Length == 0)
            return null;
        if (await db.Walks.Where(x => x.Batch == entry.Walk).Select(x => (long?)x.Id).SingleOrDefaultAsync(ct) is { } own)
            return own;
        return await writes.Known(actor, BatchKey + entry.Walk, ct) is { } joined ? long.Parse(joined, CultureInfo.InvariantCulture) : null;
    }

    /// <summary>The defect that a form speaks of; one that the phone made is known by the entry that made it.</summary>
    private async Task<long?> DefectOf(TypedFields typed, Actor actor, CancellationToken ct)
    {
        var text = typed["defectKey"] is { } key ? await writes.Known(actor, key, ct) : typed["defect"];
        return long.TryParse(text, CultureInfo.InvariantCulture, out var id) ? id : null;
    }
}
