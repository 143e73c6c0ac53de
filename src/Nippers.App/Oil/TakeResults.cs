using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Oil;
using Nippers.Formats.Lab;

namespace Nippers.App.Oil;

/// <summary>What became of a result.</summary>
public enum ResultFate
{
    /// <summary>Taken: its sample is to be judged.</summary>
    Matched,

    /// <summary>The same figures were there already.</summary>
    Unchanged,

    /// <summary>Other figures than before: both are kept, the new ones count.</summary>
    Correction,

    /// <summary>Belongs to no bottle that was taken; kept aside.</summary>
    Unmatched,
}

/// <summary>A result and what becomes of it.</summary>
/// <param name="Result">The result.</param>
/// <param name="Fate">What becomes of it.</param>
/// <param name="Why">Unmatched: a code of a refusal.</param>
/// <param name="SampleId">The sample it belongs to.</param>
public sealed record MatchedResult(LabResult Result, ResultFate Fate, string? Why = null, long? SampleId = null);

/// <summary>Where results come from.</summary>
public sealed record ResultOrigin(ReportSource Source, int? LabId, string By);

/// <summary>Takes results in: finds their bottles, keeps corrections with what they correct, and sets aside what belongs to none.</summary>
public sealed class TakeResults(NippersDb db, UnitOfWork writes, JudgeSample judge)
{
    /// <summary>Says what would become of a result. Changes nothing.</summary>
    public async Task<MatchedResult> Match(LabResult result, CancellationToken ct) => (await Find(result, byHand: false, ct)).Match;

    /// <summary>Types in what a letter says.</summary>
    public Task<Outcome<SampleRow>> ByHand(
        long sampleId,
        IReadOnlyDictionary<string, string?> typed,
        string? iso,
        string? comment,
        string? labNumber,
        Actor actor,
        CancellationToken ct
    ) =>
        writes.Run(
            async () =>
            {
                var sample = await db.Samples.Include(x => x.Machine).SingleOrDefaultAsync(x => x.Id == sampleId, ct);
                if (sample is null)
                    return Outcome<SampleRow>.Refused(Refusals.NoSuchSample());
                var refusals = new List<Refusal>();
                var figures = new Dictionary<string, string>(StringComparer.Ordinal);
                foreach (var (code, text) in typed)
                {
                    if (Core.Oil.Measurands.Parse(code) is not { } measurand)
                        continue;
                    var (figure, fault) = LabFigure.Read(text, measurand);
                    if (fault is not null)
                        refusals.Add(new(code, fault));
                    else if (figure is not null)
                        figures[code] = figure.ToString();
                }

                var code4406 = Core.Oil.Iso4406Code.Parse(iso)?.ToString() ?? "";
                if (!string.IsNullOrWhiteSpace(iso) && code4406.Length == 0)
                    refusals.Add(Refusals.LabIso("iso"));
                var words = Typed.Words(comment, "comment", LongestComment, refusals);
                var number = Typed.Words(labNumber, "labNumber", 40, refusals);
                if (refusals.Count == 0 && figures.Count == 0 && code4406.Length == 0)
                    refusals.Add(Refusals.LabNothing());
                if (refusals.Count > 0)
                    return Outcome<SampleRow>.Refused(refusals);
                await Keep(
                    new(sample.Bottle, figures)
                    {
                        Iso = code4406,
                        Comment = words,
                        LabNumber = number,
                    },
                    new(ReportSource.Hand, sample.LabId, actor.Name),
                    ct
                );
                return Outcome<SampleRow>.Of(sample);
            },
            ct
        );

    /// <summary>Gives a result that was kept aside to a sample.</summary>
    public Task<Outcome<SampleRow>> Give(long looseId, string? bottle, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var loose = await db.UnmatchedResults.SingleOrDefaultAsync(x => x.Id == looseId && x.SettledAt == null, ct);
                if (loose is null)
                    return Outcome<SampleRow>.Refused(Refusals.LooseGone());
                var (mark, fault) = Bottles.ReadMark(bottle ?? "");
                if (string.IsNullOrWhiteSpace(bottle))
                    return Outcome<SampleRow>.Refused(Refusals.Needed($"bottle-{looseId}"));
                if (fault is not null)
                    return Outcome<SampleRow>.Refused($"bottle-{looseId}", fault, mark);
                var sample = await db.Samples.Include(x => x.Machine).SingleOrDefaultAsync(x => x.Bottle == mark, ct);
                if (sample is null)
                    return Outcome<SampleRow>.Refused(Refusals.BottleUnknown($"bottle-{looseId}", mark));
                var result = JsonSerializer.Deserialize<LabResult>(loose.Result)! with
                {
                    Bottle = sample.Bottle,
                    Unit = "",
                    Compartment = "",
                    OilHours = null,
                };
                if (result.Fault is { } broken)
                    return Outcome<SampleRow>.Refused($"bottle-{looseId}", broken);
                await Keep(result, new(ReportSource.Hand, loose.LabId, actor.Name), ct);
                (loose.SettledAt, loose.SettledBy, loose.SampleId) = (writes.Now, actor.Name, sample.Id);
                writes.Audit(actor, "result.give", loose.Bottle, sample.MachineId, null, new { to = sample.Bottle });
                return Outcome<SampleRow>.Of(sample);
            },
            ct
        );

    /// <summary>Puts a result away that belongs to nobody here.</summary>
    public Task<Outcome<UnmatchedResultRow>> PutAway(long looseId, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var loose = await db.UnmatchedResults.SingleOrDefaultAsync(x => x.Id == looseId && x.SettledAt == null, ct);
                if (loose is null)
                    return Outcome<UnmatchedResultRow>.Refused(Refusals.LooseGone());
                (loose.SettledAt, loose.SettledBy) = (writes.Now, actor.Name);
                writes.Audit(actor, "result.putAway", loose.Bottle, null, null, null);
                return Outcome<UnmatchedResultRow>.Of(loose);
            },
            ct
        );

    /// <summary>Takes a result in, inside the caller's transaction.</summary>
    internal async Task<MatchedResult> Keep(LabResult result, ResultOrigin origin, CancellationToken ct)
    {
        var (match, sample, before) = await Find(result, origin.Source == ReportSource.Hand, ct);
        switch (match.Fate)
        {
            case ResultFate.Unmatched:
                await SetAside(result, match.Why!, origin, ct);
                break;
            case ResultFate.Matched or ResultFate.Correction:
                if (before is not null)
                    before.ReplacedAt = writes.Now;
                var report = new ReportRow
                {
                    SampleId = sample!.Id,
                    ReceivedAt = writes.Now,
                    Source = origin.Source,
                    LabId = origin.LabId,
                    By = origin.By,
                    LabNumber = result.LabNumber,
                    Figures = OilCase.WriteFigures(result.Figures),
                    Iso = result.Iso,
                    Comment = result.Comment,
                };
                db.Reports.Add(report);
                sample.State = SampleState.Reported;
                sample.ReportedAt = writes.Now;
                sample.LabId ??= origin.LabId;
                sample.Version++;
                await judge.Judge(sample, report, ct);
                writes.Audit(
                    new(origin.By, Roles.Technician),
                    match.Fate == ResultFate.Correction ? "result.correct" : "result.take",
                    TakeSample.Subject(sample.Machine.Unit, sample),
                    sample.MachineId,
                    before is null ? null : new { before.Figures },
                    new { report.Figures, sample.Advised }
                );
                await db.SaveChangesAsync(ct);
                await SendSamples.Settle(db, sample.ConsignmentId, ct);
                await judge.After(sample, ct);
                break;
        }

        return match;
    }

    /// <summary>
    /// Lets go of what was kept, laboratories aside: of thousands that come at once each would else be looked through again at
    /// every next one.
    /// </summary>
    internal void LetGo()
    {
        foreach (var entry in db.ChangeTracker.Entries().Where(x => x is { State: EntityState.Unchanged, Entity: not LabRow }).ToList())
            entry.State = EntityState.Detached;
    }

    /// <summary>Keeps a result aside; the same one twice is one.</summary>
    internal async Task SetAside(LabResult result, string why, ResultOrigin origin, CancellationToken ct)
    {
        var text = JsonSerializer.Serialize(result);
        var digest = Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes($"{origin.LabId}:{text}")));
        if (db.UnmatchedResults.Local.Any(x => x.Digest == digest) || await db.UnmatchedResults.AnyAsync(x => x.Digest == digest, ct))
            return;
        db.UnmatchedResults.Add(
            new()
            {
                LabId = origin.LabId,
                ReceivedAt = writes.Now,
                Bottle = result.Bottle,
                Why = why,
                Result = text,
                Digest = digest,
            }
        );
    }

    private const int LongestComment = 2000;

    private async Task<(MatchedResult Match, SampleRow? Sample, ReportRow? Before)> Find(
        LabResult result,
        bool byHand,
        CancellationToken ct
    )
    {
        if (result.Fault is { } fault)
            return (new(result, ResultFate.Unmatched, fault), null, null);
        var (mark, _) = Bottles.ReadMark(result.Bottle);
        var sample = await db.Samples.Include(x => x.Machine).FirstOrDefaultAsync(x => x.Bottle == mark, ct);
        if (sample is null)
        {
            var given = await db.Bottles.AnyAsync(x => x.Code == mark, ct);
            return (new(result, ResultFate.Unmatched, given ? "bottleEmpty" : "bottleUnknown"), null, null);
        }

        if (result.Unit.Length > 0 && !string.Equals(result.Unit, sample.Machine.Unit, StringComparison.OrdinalIgnoreCase))
            return (new(result, ResultFate.Unmatched, "labOtherUnit"), null, null);
        var reports = await db.Reports.Where(x => x.SampleId == sample.Id).ToListAsync(ct);
        var before = reports.Find(x => x.ReplacedAt is null);

        // What was corrected since comes again when an old file is taken in once more; a person may well go back to it.
        var known = (byHand ? reports.Where(x => x == before) : reports).Any(x =>
            x.Figures == OilCase.WriteFigures(result.Figures) && x.Iso == result.Iso
        );
        var fate =
            before is null ? ResultFate.Matched
            : known ? ResultFate.Unchanged
            : ResultFate.Correction;
        return (new(result, fate, null, sample.Id), sample, before);
    }
}
