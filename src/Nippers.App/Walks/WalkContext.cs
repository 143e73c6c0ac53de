using System.Collections.Immutable;
using System.Diagnostics.CodeAnalysis;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.People;
using Nippers.Data.Queries;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>A walk with the list it is walked by, the machine's own limits, and the answers so far.</summary>
public sealed class WalkContext
{
    // A fill or top-up this many hours back still explains oil above the mark.
    private static readonly MeterHours ExplainHours = new(500);

    private static readonly ILookup<string, GreaseMemory> NoGrease = GreaseMemory.Of([]);

    // A fault this many days back keeps a check from being said OK with the rest.
    private const int PastDays = 30;

    /// <summary>A walk of which everything is known.</summary>
    /// <param name="row">The walk with its machine and site.</param>
    /// <param name="list">The list at the walk's version.</param>
    /// <param name="own">What the machine's own manual says, by check code.</param>
    public WalkContext(WalkRow row, CheckList list, IReadOnlyDictionary<string, MachineCheck> own)
    {
        (Row, List, Own) = (row, list, own);
        var byCode = list.Checks.ToDictionary(x => x.Code, StringComparer.Ordinal);
        Checks =
        [
            .. WalkChecks
                .Codes(row, list)
                .Where(byCode.ContainsKey)
                .Select(x => CheckLimits.Apply(byCode[x], own.GetValueOrDefault(x)?.ToLimits())),
        ];
        Steps = WalkRoute.Steps(list, Checks);
    }

    [SetsRequiredMembers]
    private WalkContext(WalkContext like)
    {
        (Row, List, Own, Checks, Steps) = (like.Row, like.List, like.Own, like.Checks, like.Steps);
        (Rows, Answers, Defects, LookAgain, Filled) = (like.Rows, like.Answers, like.Defects, like.LookAgain, like.Filled);
        (ToppedUp, Facts, SpokenOf, Later) = (like.ToppedUp, like.Facts, like.SpokenOf, like.Later);
        (Last, LastOn, Lately, Found) = (like.Last, like.LastOn, like.Lately, like.Found);
        (Grease, Codes, StopSpns, ListName) = (like.Grease, like.Codes, like.StopSpns, like.ListName);
    }

    public WalkRow Row { get; }

    public CheckList List { get; }

    /// <summary>Name of its list.</summary>
    public required string ListName { get; init; }

    /// <summary>Its checks with the machine's own limits, in the order of the walk.</summary>
    public ImmutableArray<WalkCheck> Checks { get; }

    public ImmutableArray<WalkStep> Steps { get; }

    /// <summary>What the machine's own manual says, by check code.</summary>
    public IReadOnlyDictionary<string, MachineCheck> Own { get; }

    /// <summary>Answer rows of an open walk, by code; ticks of steps too.</summary>
    public required IReadOnlyDictionary<string, WalkAnswerRow> Rows { get; init; }

    /// <summary>Answers by check code.</summary>
    public required IReadOnlyDictionary<string, CheckAnswer> Answers { get; init; }

    /// <summary>Defects that stand against the machine.</summary>
    public required IReadOnlyList<DefectRow> Defects { get; init; }

    /// <summary>Fixes to be looked at again.</summary>
    public required IReadOnlyList<DefectRow> LookAgain { get; init; }

    /// <summary>Compartments with a top-up or change in the last hours.</summary>
    public required IReadOnlySet<string> Filled { get; init; }

    /// <summary>Compartments that were topped up so lately that a second time asks why.</summary>
    public required IReadOnlySet<string> ToppedUp { get; init; }

    /// <summary>What stands against the machine beside its defects.</summary>
    public required RunFacts Facts { get; init; }

    /// <summary>Defects of which something was said on this walk: as before, worse, or found again.</summary>
    public required IReadOnlySet<long> SpokenOf { get; init; }

    /// <summary>Checks of this walk that a technician made later.</summary>
    public required IReadOnlyList<LaterCheckRow> Later { get; init; }

    /// <summary>Codes that are open, graded defects; a defect that stops the machine makes none known.</summary>
    private HashSet<FaultCode> KnownCodes =>
        _knownCodes ??= [.. Defects.Where(x => x.Grade != DefectGrade.Stop).SelectMany(x => FaultCode.ParseAll(x.Code))];

    private HashSet<FaultCode>? _knownCodes;

    /// <summary>May the machine run, by its defects, an open card, and what is known of its walks.</summary>
    public RunAnswer Answer => Facts.Answer(Defects.Select(x => x.Clock));

    /// <summary>
    /// The machine is out of service, or an answer of this walk has put it there: no key, no start, no movement any more.
    /// </summary>
    public bool StopFound => _stopFound ??= FindsStop();

    private bool? _stopFound;

    private bool FindsStop() =>
        !Row.Late
        && Row.State == WalkState.Open
        && (
            Answer.RunStatus == RunStatus.OutOfService
            || Checks.Any(x => ResultOf(x) is { Outcome: CheckOutcome.Fault, Grade: DefectGrade.Stop } && !IsHeldAsItWas(x))
        );

    /// <summary>
    /// What is wrong at a check is an open defect, and was said to be it: then the defect's own grade says whether it stops.
    /// </summary>
    private bool IsHeldAsItWas(WalkCheck check) =>
        Answers.GetValueOrDefault(check.Code) is SeenAnswer && !FoundAt(check).Any() && Standing(check).Any(x => SpokenOf.Contains(x.Id));

    /// <summary>Whether a step has the key turned, the engine run or the machine moved.</summary>
    public bool Moves(WalkStep step) =>
        step.Engine != EngineState.Off
        || step.Kind is StepKind.Move or StepKind.Leave
        || List.Postures.Select(x => x.Code).ToList().IndexOf(step.Posture) > 0;

    /// <summary>Whether a step is not asked for because a stop was found.</summary>
    public bool IsForbidden(WalkStep step) => StopFound && (Moves(step) || step.Kind == StepKind.Release);

    /// <summary>Whether a check is not asked for because a stop was found.</summary>
    public bool IsForbidden(WalkCheck check) => StopFound && Steps.FirstOrDefault(x => x.Checks.Contains(check)) is { } step && Moves(step);

    /// <summary>Safety-critical checks that nobody has made: the machine does not run until somebody has.</summary>
    public IEnumerable<WalkCheck> NotChecked =>
        Checks.Where(x =>
            x.IsSafetyCritical
            && (Row.State == WalkState.Open || Row.NotChecked > 0)
            && Later.All(y => y.CheckCode != x.Code)
            && (
                !Answers.TryGetValue(x.Code, out var answer)
                || answer is LeftOutAnswer { NotFitted: false }
                || ResultOf(x) is { Outcome: CheckOutcome.Unfinished or CheckOutcome.NotUsed }
            )
        );

    private CheckContext Around(WalkCheck check) =>
        new()
        {
            KnownCodes = KnownCodes,
            StopSpns = StopSpns,
            Meanings = Meanings,
            Explained = Filled.Contains(check.Compartment),
            ToppedUpBefore = ToppedUp.Contains(check.Compartment),
            Slope = Row.Ground == Ground.Slope,
            WetBrakes = Row.Machine.OptionWords.Contains("brakes=wet"),
        };

    /// <summary>Answers of the last walk, by check code: what stood here last time.</summary>
    public IReadOnlyDictionary<string, CheckAnswer> LastTime => Last.Value;

    /// <summary>The same, unpacked when somebody looks.</summary>
    public required Lazy<Dictionary<string, CheckAnswer>> Last { private get; init; }

    /// <summary>No walk before this one.</summary>
    public static Lazy<Dictionary<string, CheckAnswer>> NoLast => new(() => new(StringComparer.Ordinal));

    /// <summary>Day of the last walk; null when there was none.</summary>
    public required DateOnly? LastOn { get; init; }

    /// <summary>Checks that failed in the last days, with what was found there, newest first.</summary>
    public required ILookup<string, DefectRow> Lately { get; init; }

    /// <summary>Fittings that refused grease lately, by check code.</summary>
    public required ILookup<string, GreaseMemory> Grease { get; init; }

    /// <summary>What codes of this machine's display mean, by code, as somebody said on this walk or before it.</summary>
    public IReadOnlyDictionary<string, string> Meanings => _meanings ??= SaidOfCodes();

    private Dictionary<string, string>? _meanings;

    private Dictionary<string, string> SaidOfCodes()
    {
        var all = Codes.ToDictionary(x => x.Code, x => x.Meaning, StringComparer.Ordinal);
        foreach (var said in Answers.Values.OfType<CodesAnswer>().Where(x => x is { Meaning: not null, Codes.Length: 1 }))
            all[said.Codes[0].ToString()] = said.Meaning!;
        return all;
    }

    /// <summary>The same as they were before this walk.</summary>
    public required IReadOnlyList<MachineCode> Codes { get; init; }

    /// <summary>Parameter numbers that stop a machine besides those that Nippers knows.</summary>
    public required IReadOnlySet<int> StopSpns { get; init; }

    /// <summary>
    /// The one check of this walk of which a photo is asked, by chance: what is asked of anybody some time is no mistrust. Null on late
    /// sheets, and where nothing is looked at.
    /// </summary>
    public WalkCheck? PhotoAsked
    {
        get
        {
            var looks = Row.Late ? [] : Checks.Where(x => x is { Kind: CheckKind.Look, Engine: EngineState.Off }).ToList();
            return looks.Count > 0 ? looks[Row.Batch.Aggregate(17, (sum, x) => (sum * 31 + x) % 65_521) % looks.Count] : null;
        }
    }

    /// <summary>Whether a photo is still asked of a check: it was found right, and nobody has taken one.</summary>
    public bool AsksPhoto(WalkCheck check) =>
        Row.State == WalkState.Open
        && PhotoAsked?.Code == check.Code
        && Answers.GetValueOrDefault(check.Code) is SeenAnswer { Ok: true }
        && !IsTicked(SaveAnswer.PhotoStep);

    /// <summary>
    /// When the engine was stopped: the evening before, when it stands as it was parked, or when it was locked out, as the tick says; null
    /// while it was not.
    /// </summary>
    public DateTimeOffset? StoppedAt =>
        Row.ParkedAt is { } parked ? parked
        : Rows.TryGetValue(SaveAnswer.StepPrefix + "isolate", out var row) && row.Answer.Length > 0 ? row.At
        : null;

    /// <summary>Whether a check may be said OK with the rest of its station.</summary>
    public bool MayBeSaidAtOnce(WalkCheck check) =>
        check is { Kind: CheckKind.Look, IsSafetyCritical: false, AsksTick: false }
        && !Answers.ContainsKey(check.Code)
        && !IsForbidden(check)
        && !Standing(check).Any()
        && !Lately[check.Code].Any();

    /// <summary>What an answer to a check comes to on this walk.</summary>
    public CheckResult Judge(WalkCheck check, CheckAnswer answer) => CheckJudge.Judge(check, answer, Around(check));

    /// <summary>Open defects that an earlier walk, or somebody, found at a check.</summary>
    public IEnumerable<DefectRow> Standing(WalkCheck check) => Defects.Where(x => x.CheckCode == check.Code && x.WalkId != Row.Id);

    public bool IsTicked(string step) => Rows.TryGetValue(SaveAnswer.StepPrefix + step, out var row) && row.Answer.Length > 0;

    /// <summary>What an answer comes to; null when there is none yet.</summary>
    public CheckResult? ResultOf(WalkCheck check) => Answers.TryGetValue(check.Code, out var answer) ? Judge(check, answer) : null;

    /// <summary>Whether a check's answer is whole: given, and no point of it left.</summary>
    public bool IsDone(WalkCheck check) => ResultOf(check) is { Outcome: not CheckOutcome.Unfinished };

    public bool IsDone(WalkStep step) => step.Kind == StepKind.Station ? step.Checks.All(IsDone) : IsTicked(step.Code);

    /// <summary>Defects found on this walk at a check.</summary>
    public IEnumerable<DefectRow> FoundAt(WalkCheck check) => Found.Where(x => x.CheckCode == check.Code);

    /// <summary>Defects found on this walk, those fixed on the spot too.</summary>
    public required IReadOnlyList<DefectRow> Found { get; init; }

    /// <summary>Checks that fail and have no defect written for them yet.</summary>
    public IEnumerable<WalkCheck> FaultsWithoutDefect =>
        Checks.Where(x =>
            ResultOf(x) is { Outcome: CheckOutcome.Fault }
            && !FoundAt(x).Any(d => d.State != DefectState.Voided)
            && !Standing(x).Any(d => SpokenOf.Contains(d.Id))
        );

    /// <summary>The same walk with an answer more: all else of it stands.</summary>
    /// <param name="row">The row of the answer, or of a ticked step.</param>
    public WalkContext With(WalkAnswerRow row)
    {
        var rows = new Dictionary<string, WalkAnswerRow>(Rows, StringComparer.Ordinal) { [row.Code] = row };
        var answers = new Dictionary<string, CheckAnswer>(Answers, StringComparer.Ordinal);
        if (!row.Code.StartsWith(SaveAnswer.StepPrefix, StringComparison.Ordinal))
            answers[row.Code] = PackedAnswers.ReadOne(row.Answer);
        return new(this) { Rows = rows, Answers = answers };
    }

    /// <summary>Loads a walk; null when there is none.</summary>
    public static async Task<WalkContext?> Load(NippersDb db, long id, CancellationToken ct)
    {
        var found = await db
            .Walks.Where(x => x.Id == id)
            .Select(x => new
            {
                Row = x,
                x.Machine,
                x.Machine.Site,
                ListName = x.Version.List.Name,
                StopSpns = db.Installations.Max(i => i.StopSpns),
            })
            .SingleOrDefaultAsync(ct);
        if (found is null)
            return null;
        var row = found.Row;
        var list = await db.BodyOf(row.VersionId, ct);
        var own = await db.ChecksOf(row.MachineId, ct);
        var rows =
            row.State == WalkState.Open
                ? await db.WalkAnswers.AsNoTracking().Where(x => x.WalkId == id).ToDictionaryAsync(x => x.Code, StringComparer.Ordinal, ct)
                : [];
        var answers =
            row.State == WalkState.Open || row.Answers.Length == 0
                ? rows.Where(x => !x.Key.StartsWith(SaveAnswer.StepPrefix, StringComparison.Ordinal))
                    .ToDictionary(x => x.Key, x => PackedAnswers.ReadOne(x.Value.Answer), StringComparer.Ordinal)
                : PackedAnswers.Unpack(WalkChecks.Codes(row, list), row.Answers);
        var explains = row.LifeHours - ExplainHours;
        var topUps = await db
            .TopUps.Where(x => x.MachineId == row.MachineId && x.LifeHours >= explains)
            .Select(x => new
            {
                x.Compartment,
                x.LifeHours,
                x.WalkId,
            })
            .ToListAsync(ct);
        var changed = await db
            .Completions.Where(x => x.MachineId == row.MachineId && x.LifeHours >= explains)
            .Join(
                db.ProgramItems.Where(i => i.ProgramId == row.Machine.ProgramId && i.EveryHours > new MeterHours(500)),
                c => c.ItemCode,
                i => i.Code,
                (c, i) => i.Compartment
            )
            .Distinct()
            .ToListAsync(ct);
        var lately = row.LifeHours - MeterHours.Of(CheckContext.AgainHours);
        var last = await db
            .Walks.Where(x => x.MachineId == row.MachineId && x.State == WalkState.Finished && x.Round == WalkRound.Whole && x.Id != id)
            .Where(x => x.On <= row.On)
            .OrderByDescending(x => x.On)
            .ThenByDescending(x => x.Id)
            .Select(x => new
            {
                x.On,
                x.VersionId,
                x.Checks,
                x.Answers,
            })
            .FirstOrDefaultAsync(ct);
        var lastList = last is null ? null : await db.BodyOf(last.VersionId, ct);
        var since = row.On.AddDays(-PastDays);

        // All that is asked of the machine's defects, in one question.
        var defects = await db
            .Defects.AsNoTracking()
            .Where(x => x.MachineId == row.MachineId && x.State != DefectState.Voided)
            .Where(x =>
                x.State == DefectState.Open
                || x.State == DefectState.Repaired
                || x.WalkId == id
                || x.LookAgainHours != null
                || (x.CheckCode != "" && x.On >= since)
            )
            .OrderBy(x => x.Id)
            .ToListAsync(ct);
        var asked = row.Checks.Split(' ').ToHashSet(StringComparer.Ordinal);
        var greased = row.State == WalkState.Open ? list.Checks.Where(x => x.Kind == CheckKind.Grease && asked.Contains(x.Code)) : [];
        return new(row, list, own)
        {
            Grease = (await db.GreaseOf([row.MachineId], greased, row.On, ct)).GetValueOrDefault(row.MachineId) ?? NoGrease,
            Codes = [.. (await db.CodesOf([row.MachineId], ct))[row.MachineId]],
            StopSpns = Installation.Spns(found.StopSpns),
            ListName = found.ListName,
            ToppedUp = topUps
                .Where(x => x.LifeHours >= lately && x.LifeHours <= row.LifeHours && x.WalkId != row.Id)
                .Select(x => x.Compartment)
                .ToHashSet(StringComparer.Ordinal),
            Last = last is null ? NoLast : new(() => PackedAnswers.Unpack(WalkChecks.Codes(last.Checks, lastList!), last.Answers)),
            LastOn = last?.On,
            Lately = defects
                .Where(x => x.CheckCode.Length > 0 && x.On >= since && x.WalkId != id)
                .OrderByDescending(x => x.Id)
                .ToLookup(x => x.CheckCode, StringComparer.Ordinal),
            Facts = await db.RunFactsOf(row.MachineId, ct),
            SpokenOf = (await db.DefectEvents.Where(x => x.WalkId == id).Select(x => x.DefectId).Distinct().ToListAsync(ct)).ToHashSet(),
            Later = row.State == WalkState.Open ? [] : await db.LaterChecks.AsNoTracking().Where(x => x.WalkId == id).ToListAsync(ct),
            Rows = rows,
            Answers = answers,
            Defects = [.. defects.Where(x => x.Stands).OrderByDescending(x => x.Grade).ThenBy(x => x.LimitHours).ThenBy(x => x.Id)],
            LookAgain = [.. defects.Where(x => x.State == DefectState.Closed && x.LookAgainHours <= row.LifeHours)],
            Found = [.. defects.Where(x => x.WalkId == id)],
            Filled = topUps.Select(x => x.Compartment).Concat(changed).ToHashSet(StringComparer.Ordinal),
        };
    }
}
