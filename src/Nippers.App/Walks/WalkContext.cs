using System.Collections.Immutable;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Queries;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>A walk with the list it is walked by, the machine's own limits, and the answers so far.</summary>
public sealed class WalkContext
{
    // A fill or top-up this many hours back still explains oil above the mark.
    private static readonly MeterHours ExplainHours = new(500);

    // A fault this many days back keeps a check from being said OK with the rest.
    private const int PastDays = 30;

    private WalkContext(WalkRow row, CheckList list, ImmutableArray<WalkCheck> checks)
    {
        (Row, List, Checks) = (row, list, checks);
        Steps = WalkRoute.Steps(list, checks);
    }

    public WalkRow Row { get; }

    public CheckList List { get; }

    /// <summary>Its checks with the machine's own limits, in the order of the walk.</summary>
    public ImmutableArray<WalkCheck> Checks { get; }

    public ImmutableArray<WalkStep> Steps { get; }

    /// <summary>What the machine's own manual says, by check code.</summary>
    public required IReadOnlyDictionary<string, MachineCheck> Own { get; init; }

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

    /// <summary>Codes that are open, graded defects; one that stops the machine is never passed as known.</summary>
    private HashSet<FaultCode> KnownCodes =>
        [.. Defects.Where(x => x.Grade != DefectGrade.Stop).Select(x => FaultCode.Parse(x.Code)).OfType<FaultCode>()];

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
            || Checks.Any(x => ResultOf(x) is { Outcome: CheckOutcome.Fault, Grade: DefectGrade.Stop })
        );

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
            Explained = Filled.Contains(check.Compartment),
            ToppedUpBefore = ToppedUp.Contains(check.Compartment),
            Slope = Row.Ground == Ground.Slope,
            WetBrakes = Row.Machine.OptionWords.Contains("brakes=wet"),
        };

    /// <summary>Answers of the last walk, by check code: what stood here last time.</summary>
    public required IReadOnlyDictionary<string, CheckAnswer> LastTime { get; init; }

    /// <summary>Day of the last walk; null when there was none.</summary>
    public required DateOnly? LastOn { get; init; }

    /// <summary>Checks that failed in the last days, with what was found there, newest first.</summary>
    public required ILookup<string, DefectRow> Lately { get; init; }

    /// <summary>When the engine was stopped and locked out, as the tick says; null while it was not.</summary>
    public DateTimeOffset? StoppedAt =>
        Rows.TryGetValue(SaveAnswer.StepPrefix + "isolate", out var row) && row.Answer.Length > 0 ? row.At : null;

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

    /// <summary>Loads a walk; null when there is none.</summary>
    public static async Task<WalkContext?> Load(NippersDb db, long id, CancellationToken ct)
    {
        var row = await db
            .Walks.Include(x => x.Machine)
                .ThenInclude(x => x.Site)
            .Include(x => x.Version)
                .ThenInclude(x => x.List)
            .SingleOrDefaultAsync(x => x.Id == id, ct);
        if (row is null)
            return null;
        var list = row.Version.ToList();
        var own = await db.ChecksOf(row.MachineId, ct);
        var byCode = list.Checks.ToDictionary(x => x.Code, StringComparer.Ordinal);
        ImmutableArray<WalkCheck> checks =
        [
            .. WalkChecks
                .Codes(row, list)
                .Where(byCode.ContainsKey)
                .Select(x => CheckLimits.Apply(byCode[x], own.GetValueOrDefault(x)?.ToLimits())),
        ];
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
        var filled = await db
            .TopUps.Where(x => x.MachineId == row.MachineId && x.LifeHours >= explains)
            .Select(x => x.Compartment)
            .Union(
                db.Completions.Where(x => x.MachineId == row.MachineId && x.LifeHours >= explains)
                    .Join(
                        db.ProgramItems.Where(i => i.ProgramId == row.Machine.ProgramId && i.EveryHours > new MeterHours(500)),
                        c => c.ItemCode,
                        i => i.Code,
                        (c, i) => i.Compartment
                    )
            )
            .ToListAsync(ct);
        var lately = row.LifeHours - MeterHours.Of(CheckContext.AgainHours);
        var last = await db
            .Walks.AsNoTracking()
            .Include(x => x.Version)
            .Where(x => x.MachineId == row.MachineId && x.State == WalkState.Finished && x.Round == WalkRound.Whole && x.Id != id)
            .Where(x => x.On <= row.On)
            .OrderByDescending(x => x.On)
            .ThenByDescending(x => x.Id)
            .FirstOrDefaultAsync(ct);
        var since = row.On.AddDays(-PastDays);
        var past = await db
            .Defects.AsNoTracking()
            .Where(x => x.MachineId == row.MachineId && x.CheckCode != "" && x.On >= since && x.State != DefectState.Voided)
            .Where(x => x.WalkId == null || x.WalkId != id)
            .OrderByDescending(x => x.Id)
            .ToListAsync(ct);
        return new(row, list, checks)
        {
            ToppedUp = (
                await db
                    .TopUps.Where(x =>
                        x.MachineId == row.MachineId && x.LifeHours >= lately && x.LifeHours <= row.LifeHours && x.WalkId != row.Id
                    )
                    .Select(x => x.Compartment)
                    .ToListAsync(ct)
            ).ToHashSet(StringComparer.Ordinal),
            LastTime = last is null ? new() : PackedAnswers.Unpack(WalkChecks.Codes(last, last.Version.ToList()), last.Answers),
            LastOn = last?.On,
            Lately = past.ToLookup(x => x.CheckCode, StringComparer.Ordinal),
            Facts = await db.RunFactsOf(row.MachineId, ct),
            SpokenOf = (await db.DefectEvents.Where(x => x.WalkId == id).Select(x => x.DefectId).Distinct().ToListAsync(ct)).ToHashSet(),
            Later = await db.LaterChecks.AsNoTracking().Where(x => x.WalkId == id).ToListAsync(ct),
            Own = own,
            Rows = rows,
            Answers = answers,
            Defects = await db.OpenDefects(row.MachineId, ct),
            LookAgain = await db.LookAgain(row.MachineId, row.LifeHours, ct),
            Found = await db
                .Defects.AsNoTracking()
                .Where(x => x.WalkId == id && x.State != DefectState.Voided)
                .OrderBy(x => x.Id)
                .ToListAsync(ct),
            Filled = filled.ToHashSet(StringComparer.Ordinal),
        };
    }
}
