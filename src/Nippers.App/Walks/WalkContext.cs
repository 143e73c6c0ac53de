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

    public IReadOnlySet<FaultCode> KnownCodes => Defects.Select(x => FaultCode.Parse(x.Code)).OfType<FaultCode>().ToHashSet();

    public RunAnswer Answer => RunAnswer.Of(Defects.Select(x => x.Clock));

    public bool Explained(WalkCheck check) => Filled.Contains(check.Compartment);

    public bool IsTicked(string step) => Rows.TryGetValue(SaveAnswer.StepPrefix + step, out var row) && row.Answer.Length > 0;

    /// <summary>What an answer comes to; null when there is none yet.</summary>
    public CheckResult? ResultOf(WalkCheck check) =>
        Answers.TryGetValue(check.Code, out var answer) ? CheckJudge.Judge(check, answer, KnownCodes, Explained(check)) : null;

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
            && !Defects.Any(d => d.CheckCode == x.Code)
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
        var since = row.LifeHours - ExplainHours;
        var filled = await db
            .TopUps.Where(x => x.MachineId == row.MachineId && x.LifeHours >= since)
            .Select(x => x.Compartment)
            .Union(
                db.Completions.Where(x => x.MachineId == row.MachineId && x.LifeHours >= since)
                    .Join(
                        db.ProgramItems.Where(i => i.ProgramId == row.Machine.ProgramId && i.EveryHours > new MeterHours(500)),
                        c => c.ItemCode,
                        i => i.Code,
                        (c, i) => i.Compartment
                    )
            )
            .ToListAsync(ct);
        return new(row, list, checks)
        {
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
