using System.Collections.Immutable;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Jobs;
using Nippers.Data;
using Nippers.Data.Visits;
using Nippers.Data.Walks;

namespace Nippers.App.Visits;

/// <summary>A visit with its card and what was answered so far.</summary>
public sealed class JobContext
{
    private JobContext(VisitRow row, KeptCard card, JobState state) => (Row, Card, State) = (row, card, state);

    public VisitRow Row { get; }

    public KeptCard Card { get; }

    public JobState State { get; }

    /// <summary>What the tables say.</summary>
    public CardRules Rules { get; private init; } = null!;

    /// <summary>Answers as rows, by step code.</summary>
    public required IReadOnlyDictionary<string, StepRow> Rows { get; init; }

    /// <summary>Photos by step code: their numbers.</summary>
    public required ILookup<string, long> Photos { get; init; }

    /// <summary>The program was changed after the card was made from it.</summary>
    public required bool ProgramChanged { get; init; }

    public bool IsOpen => Row.State == VisitState.Open;

    /// <summary>Whose lock is on it: who locked it out last, or took it over. Null on a card from before that was kept.</summary>
    public string? Holder => Row.HeldBy;

    public JobStep? StepOf(string code) => Card.Steps.FirstOrDefault(x => x.Code == code);

    /// <summary>Share of the card that is done, 0 to 1.</summary>
    public double Share =>
        Card.Steps.Length == 0 ? 1 : Card.Steps.Count(x => State.IsDone(x) || State.IsLeft(x)) / (double)Card.Steps.Length;

    public string NameOf(string item) => Card.Names.GetValueOrDefault(item, item);

    /// <summary>Whether an item that was left would come back into a state in which the machine is no more.</summary>
    public bool PassedOf(string item)
    {
        var at = Card.Steps.ToList().FindLastIndex(x => x.IsBoundary && State.IsDone(x));
        return Card.Steps.Take(Math.Max(0, at)).Any(x => x.Item == item && !State.IsDone(x));
    }

    /// <summary>Keeps the card with other steps; those that are new are planned where the next one after them stands.</summary>
    internal void Rewrite(ImmutableArray<JobStep> steps)
    {
        if (steps.Length == Card.Steps.Length && steps.SequenceEqual(Card.Steps))
            return;
        var times = Card.Order.ToDictionary(x => x.Code, StringComparer.Ordinal);
        var order = new List<OrderedStep>(steps.Length);
        var at = 0.0;
        foreach (var step in steps)
        {
            var placed = times.TryGetValue(step.Code, out var known) ? known : new OrderedStep(step.Code, at, at);
            at = Math.Max(at, placed.Start);
            order.Add(placed);
        }

        Row.Card = CardMaking.Write(Card with { Steps = steps, Order = [.. order] });
        Row.Version++;
    }

    /// <summary>
    /// What stands against an answer before it is kept, as far as that can be said without asking anybody: of the card, of the
    /// clock, of whose lock it is. A phone without a network says the same.
    /// </summary>
    /// <param name="step">The step.</param>
    /// <param name="answer">The answer.</param>
    /// <param name="now">When it was given.</param>
    /// <param name="actor">Who gave it.</param>
    public IEnumerable<Refusal> Against(JobStep step, StepAnswer answer, DateTimeOffset now, Actor actor)
    {
        foreach (var refusal in StepRules.Of(step, answer))
            yield return refusal;
        if (!Rows.ContainsKey(step.Code) && State.TrueFrom(step) is { } over && over > now && WhyOf(answer) is null)
            yield return Refusals.TooEarly(answer is IReasonAnswer ? "reason" : "note", MinutesTo(over, now));
        if (step.Between == CardBetween.Release && Holder is { } holder && holder != actor.Name)
            yield return Refusals.LockOfAnother(holder);
        if (State.CoolFrom(step, Rules.CoolDown) is { } cool && cool > now && !State.IsDone(step))
            yield return Refusals.CoolantHot(MinutesTo(cool, now));
        if (step.Besides.Length > 0 && Rows.TryGetValue(step.Besides, out var first) && first.By == actor.Name)
            yield return Refusals.SecondPerson(first.By);
    }

    private const int MostNamed = 3;

    /// <summary>Why a step can't be answered at all by now; null when it can.</summary>
    public Refusal? Closed(JobStep step) =>
        !IsOpen ? Refusals.CardNotOpen()
        : State.IsLeft(step) ? Refusals.ItemLeft(NameOf(step.Item))
        : State.BlockedBy(step) is { Length: > 0 } blocking ? Refusals.StepBlocked(blocking.Select(x => x.Words).Take(MostNamed).ToList())
        : null;

    /// <summary>Reads an answer, with all that stands against it among the refusals; the first of each field counts.</summary>
    /// <param name="step">The step.</param>
    /// <param name="read">Gives the answer.</param>
    /// <param name="at">When it was given.</param>
    /// <param name="actor">Who gave it.</param>
    /// <param name="refusals">What is wrong with it.</param>
    internal StepAnswer Read(JobStep step, StepReader read, DateTimeOffset at, Actor actor, List<Refusal> refusals)
    {
        var answer = read(step, refusals);
        foreach (var refusal in Against(step, answer, at, actor))
        {
            if (refusal.Field.Length == 0 || !refusals.Exists(x => x.Field == refusal.Field))
                refusals.Add(refusal);
        }

        return answer;
    }

    /// <summary>What an answer comes to; refused when more came in or out than there is room for.</summary>
    public Outcome<StepResult> Judge(JobStep step, StepAnswer answer)
    {
        var result = StepJudge.Judge(
            step,
            answer,
            step.Input == InputKind.Touched ? State.TouchedBefore(step) : null,
            State.FilledBefore(step),
            State.ChangeBefore(step)
        );
        return result.Remarks.Contains(StepRemark.TooMuch)
            ? Outcome<StepResult>.Refused(
                Refusals.LitresTooMuch(step.Input == InputKind.Plug ? "count" : "litres", step.Capacity ?? StepJudge.MostLitres)
            )
            : Outcome<StepResult>.Of(result);
    }

    /// <summary>The card's steps after a finding that stops it.</summary>
    internal ImmutableArray<JobStep> StoppedAt(JobStep step)
    {
        var splice = new CardSplice(Card.Steps, Rules.Between);
        splice.StopAt(
            step,
            x => x.Code != step.Code && State.IsOpen(x),
            Rules.Rule("why").Words,
            Rules.Rule("released").Words,
            State.IsBehind(step) ? State.Now : null
        );
        return splice.Steps;
    }

    /// <summary>Keeps what is off or open now on the visit, for everybody who asks about the machine.</summary>
    /// <param name="row">The visit, its card as it is kept from now on, and what of it was left.</param>
    /// <param name="answers">Its answers by step.</param>
    /// <returns>Whether it has changed.</returns>
    internal static bool KeepOff(VisitRow row, IReadOnlyDictionary<string, StepRow> answers)
    {
        var left = row.Items.Where(x => x.State == VisitItemState.Left).Select(x => x.ItemCode).ToHashSet(StringComparer.Ordinal);
        var off = string.Join('\n', Of(row, CardMaking.Read(row.Card), answers, left).State.OpenNow);
        if (row.StandsOpen == off)
            return false;
        row.StandsOpen = off;
        return true;
    }

    private static int MinutesTo(DateTimeOffset then, DateTimeOffset now) => (int)Math.Ceiling((then - now).TotalMinutes);

    private static string? WhyOf(StepAnswer answer) =>
        answer is IReasonAnswer { Reason: { } reason } && !string.IsNullOrWhiteSpace(reason) ? reason
        : string.IsNullOrWhiteSpace(answer.Note) ? null
        : answer.Note;

    /// <summary>A card with what was answered of it, put together from what the caller has.</summary>
    public static JobContext Of(
        VisitRow row,
        KeptCard card,
        IReadOnlyDictionary<string, StepRow> rows,
        IReadOnlySet<string> left,
        CardRules? rules = null
    ) =>
        new(
            row,
            card,
            new(
                card.Steps,
                rows.ToDictionary(x => x.Key, x => ReadAnswer(x.Value.Answer), StringComparer.Ordinal),
                rows.ToDictionary(x => x.Key, x => x.Value.At, StringComparer.Ordinal),
                left,
                row.CameWarm ? row.OpenedAt : null
            )
        )
        {
            Rules = rules ?? CardRules.Shipped,
            Rows = rows,
            Photos = Array.Empty<(string Code, long Id)>().ToLookup(x => x.Code, x => x.Id),
            ProgramChanged = false,
        };

    private sealed record PhotoOf(string Code, long Id);

    // Apart, or a card of a hundred steps would come once with each of its items.
    private static readonly Func<NippersDb, long, CancellationToken, Task<VisitRow?>> VisitOf = EF.CompileAsyncQuery(
        (NippersDb db, long id, CancellationToken _) =>
            db
                .Visits.AsSplitQuery()
                .Include(x => x.Machine)
                    .ThenInclude(x => x.Site)
                .Include(x => x.Machine)
                    .ThenInclude(x => x.Program)
                .Include(x => x.Items)
                .SingleOrDefault(x => x.Id == id)
    );

    private static readonly Func<NippersDb, long, IAsyncEnumerable<StepRow>> StepsOf = EF.CompileAsyncQuery(
        (NippersDb db, long id) => db.Steps.AsNoTracking().Where(x => x.VisitId == id)
    );

    private static readonly Func<NippersDb, long, IAsyncEnumerable<PhotoOf>> PhotosOf = EF.CompileAsyncQuery(
        (NippersDb db, long id) => db.StepPhotos.Where(x => x.VisitId == id).OrderBy(x => x.Id).Select(x => new PhotoOf(x.Code, x.Id))
    );

    /// <summary>Loads a visit that has a card; null when there is none.</summary>
    public static async Task<JobContext?> Load(NippersDb db, long id, CancellationToken ct)
    {
        var row = await VisitOf(db, id, ct);
        if (row is null || row.Card.Length == 0)
            return null;
        var card = CardMaking.Read(row.Card);
        var rows = await StepsOf(db, id).ToDictionaryAsync(x => x.Code, StringComparer.Ordinal, ct);
        var photos = await PhotosOf(db, id).ToListAsync(ct);
        var left = row.Items.Where(x => x.State == VisitItemState.Left).Select(x => x.ItemCode).ToHashSet(StringComparer.Ordinal);
        var job = Of(row, card, rows, left);
        return new(row, card, job.State)
        {
            Rules = job.Rules,
            Rows = rows,
            Photos = photos.ToLookup(x => x.Code, x => x.Id),
            ProgramChanged = row.Machine.Program.Version != row.ProgramVersion,
        };
    }

    /// <summary>Reads an answer as it is kept.</summary>
    /// <exception cref="JsonException">The text is none.</exception>
    public static StepAnswer ReadAnswer(string text) => ListJson.ReadKind<StepAnswer>(text);

    /// <summary>An answer as it is kept.</summary>
    public static string WriteAnswer(StepAnswer answer) => JsonSerializer.Serialize(answer, ListJson.Options);
}
