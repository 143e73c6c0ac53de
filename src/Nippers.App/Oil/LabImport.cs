using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Exchange;
using Nippers.Data;
using Nippers.Data.Oil;
using Nippers.Formats.Lab;

namespace Nippers.App.Oil;

/// <summary>A row of a laboratory's file and what it will do.</summary>
/// <param name="Row">The row.</param>
/// <param name="Match">What becomes of it; null for a row that can't be read.</param>
/// <param name="Unit">The machine of its sample.</param>
public sealed record LabImportRow(LabCsvRow Row, MatchedResult? Match, string? Unit);

/// <summary>A laboratory's file before it is taken in.</summary>
/// <param name="Fault">What is wrong with the whole file; null when it can be read.</param>
/// <param name="Columns">How its columns are read.</param>
/// <param name="Remembered">The mapping is that of an earlier file of the laboratory.</param>
/// <param name="Rows">Its rows.</param>
/// <param name="DecimalCommas">Its numbers are read with decimal commas.</param>
public sealed record LabImportPreview(
    Refusal? Fault,
    LabRow Lab,
    IReadOnlyList<LabColumn> Columns,
    bool Remembered,
    IReadOnlyList<LabImportRow> Rows,
    bool DecimalCommas = false
)
{
    public int Count(ResultFate fate) => Rows.Count(x => x.Match?.Fate == fate);

    /// <summary>Rows that can't be read; they are left out and told.</summary>
    public int Unreadable => Rows.Count(x => x.Match is null);

    public bool CanApply => Fault is null && Rows.Any(x => x.Match is { Fate: not ResultFate.Unchanged });
}

/// <summary>What came of a file.</summary>
public sealed record AppliedResults(int Matched, int Corrections, int Unchanged, int Unmatched, int Unreadable);

/// <summary>
/// Results from a laboratory's CSV: columns mapped once and remembered, every row shown before it counts, repeats harmless.
/// </summary>
public sealed class LabImport(NippersDb db, UnitOfWork writes, TakeResults results, ReadingsImport drafts)
{
    /// <summary>Largest file taken, bytes.</summary>
    public const int LargestFile = 4 << 20;

    private const int MostRows = 5000;

    /// <summary>Keeps an uploaded text until it is applied.</summary>
    public Task<string> SaveDraft(string fileName, string text, Actor actor, CancellationToken ct) =>
        drafts.SaveDraft(fileName, text, actor, ct);

    /// <summary>Says row by row what a file would do.</summary>
    /// <param name="labId">The laboratory it came from.</param>
    /// <param name="draftId">The draft.</param>
    /// <param name="columns">How to read it; null: as remembered, else as guessed.</param>
    /// <param name="actor">Whose draft.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<Outcome<LabImportPreview>> Preview(
        int? labId,
        string draftId,
        IReadOnlyList<LabColumn>? columns,
        Actor actor,
        CancellationToken ct
    )
    {
        var lab = await db.Labs.AsNoTracking().SingleOrDefaultAsync(x => x.Id == labId, ct);
        if (lab is null)
            return Outcome<LabImportPreview>.Refused(Refusals.LabNeeded());
        var draft = await drafts.Draft(draftId, actor, ct);
        if (draft is null)
            return Outcome<LabImportPreview>.Refused(Refusals.DraftGone());
        return Outcome<LabImportPreview>.Of(await Preview(lab, draft.Text, columns, ct));
    }

    /// <summary>Takes a file in as it was shown, and remembers its mapping.</summary>
    public Task<Outcome<AppliedResults>> Apply(
        int? labId,
        string draftId,
        IReadOnlyList<LabColumn> columns,
        Actor actor,
        CancellationToken ct
    ) =>
        writes.Run(
            async () =>
            {
                var lab = await db.Labs.SingleOrDefaultAsync(x => x.Id == labId, ct);
                if (lab is null)
                    return Outcome<AppliedResults>.Refused(Refusals.LabNeeded());
                var draft = await drafts.Draft(draftId, actor, ct);
                if (draft is null)
                    return Outcome<AppliedResults>.Refused(Refusals.DraftGone());
                var preview = await Preview(lab, draft.Text, columns, ct);
                if (preview.Fault is { } fault)
                    return Outcome<AppliedResults>.Refused(fault);
                lab.Columns = JsonSerializer.Serialize(columns);
                lab.Version++;
                var origin = new ResultOrigin(ReportSource.File, lab.Id, actor.Name);
                var fates = new List<ResultFate>();
                foreach (var row in preview.Rows.Where(x => x.Match is not null))
                {
                    fates.Add((await results.Keep(row.Row.Result, origin, ct)).Fate);
                    results.LetGo();
                }

                writes.Audit(
                    actor,
                    "results.import",
                    lab.Name,
                    null,
                    null,
                    new
                    {
                        file = draft.FileName,
                        rows = fates.Count,
                        preview.Unreadable,
                    }
                );
                return Outcome<AppliedResults>.Of(
                    new(
                        fates.Count(x => x == ResultFate.Matched),
                        fates.Count(x => x == ResultFate.Correction),
                        fates.Count(x => x == ResultFate.Unchanged),
                        fates.Count(x => x == ResultFate.Unmatched),
                        preview.Unreadable
                    )
                );
            },
            ct
        );

    private async Task<LabImportPreview> Preview(LabRow lab, string text, IReadOnlyList<LabColumn>? columns, CancellationToken ct)
    {
        var file = LabCsv.Cut(text);
        if (file.Fault is { } fault)
            return new(new("file", fault, file.Detail), lab, [], false, []);
        if (file.Rows.Count > MostRows)
            return new(Refusals.TooManyRows(MostRows), lab, [], false, []);
        var kept = lab.Columns.Length > 0 ? JsonSerializer.Deserialize<List<LabColumn>>(lab.Columns)! : null;
        var known = kept is not null && kept.Count(x => x.Field.Length > 0 && file.Header.Contains(x.Header)) >= FewestKnown;
        var used = columns
            ?? (known ? [.. file.Header.Select(x => kept!.Find(y => y.Header == x) ?? new(x, "", ""))] : LabCsv.Guess(file.Header));
        if (!used.Any(x => x.Field == "bottle"))
            return new(Refusals.NoBottleColumn(), lab, used, known, []);
        if (used.Where(x => x.Field.Length > 0).GroupBy(x => x.Field).FirstOrDefault(x => x.Count() > 1) is { } twice)
            return new(Refusals.ColumnTwice(twice.Select(x => x.Header).ToList()), lab, used, known, []);
        var rows = new List<LabImportRow>();
        var seen = new HashSet<string>(StringComparer.Ordinal);
        foreach (var row in LabCsv.Read(file, used))
        {
            if (row.Fault is not null and not "labOilHours" and not "labNoBottle")
            {
                rows.Add(new(row, null, null));
                continue;
            }

            // A bottle that stands twice in a file: the second line would silently correct the first.
            if (row.Result.Bottle.Length > 0 && !seen.Add(Bottles.ReadMark(row.Result.Bottle).Mark))
            {
                rows.Add(new(row with { Fault = "labTwice", Detail = row.Result.Bottle }, null, null));
                continue;
            }

            var match = await results.Match(row.Result, ct);
            var unit = match.SampleId is { } id
                ? await db.Samples.WithVoided().Where(x => x.Id == id).Select(x => x.Machine.Unit).SingleAsync(ct)
                : null;
            rows.Add(new(row, match, unit));
        }

        return new(null, lab, used, known, rows, file.DecimalCommas);
    }

    /// <summary>Columns of a remembered mapping that a file must have to be of the same laboratory.</summary>
    private const int FewestKnown = 3;
}
