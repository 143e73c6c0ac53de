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
/// <param name="Left">Rows that were not taken, for too much else was written: the same file again takes them.</param>
public sealed record AppliedResults(int Matched, int Corrections, int Unchanged, int Unmatched, int Unreadable, int Left = 0);

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

    /// <summary>
    /// Takes a file in as it was shown, and remembers its mapping. Each row is a result of its own: they are taken in turns, and what
    /// was taken stays when the rest was not; the same file again takes the rest.
    /// </summary>
    public async Task<Outcome<AppliedResults>> Apply(
        int? labId,
        string draftId,
        IReadOnlyList<LabColumn> columns,
        Actor actor,
        CancellationToken ct
    )
    {
        // Thousands of rows are read and matched before anybody's turn to write is taken; each is matched once more in its own.
        var before = await Preview(labId, draftId, columns, actor, ct);
        if (!before.Done)
            return Outcome<AppliedResults>.Refused(before.Refusals);
        var preview = before.Value!;
        if (preview.Fault is { } fault)
            return Outcome<AppliedResults>.Refused(fault);
        var rows = preview.Rows.Where(x => x.Match is not null).ToList();
        var origin = new ResultOrigin(ReportSource.File, preview.Lab.Id, actor.Name);
        var fates = new List<ResultFate>();
        var taken = await writes.InTurns(
            rows,
            async row =>
            {
                fates.Add((await results.Keep(row.Row.Result, origin, ct)).Fate);
                results.LetGo();
            },
            ct
        );
        return await writes.Run(
            async () =>
            {
                var lab = await db.Labs.SingleOrDefaultAsync(x => x.Id == labId, ct);
                if (lab is not null)
                    (lab.Columns, lab.Version) = (JsonSerializer.Serialize(columns), lab.Version + 1);
                var draft = await drafts.Draft(draftId, actor, ct);
                writes.Audit(
                    actor,
                    "results.import",
                    preview.Lab.Name,
                    null,
                    null,
                    new
                    {
                        file = draft?.FileName,
                        rows = taken,
                        preview.Unreadable,
                        left = rows.Count - taken,
                    }
                );
                return Outcome<AppliedResults>.Of(
                    new(
                        Count(ResultFate.Matched),
                        Count(ResultFate.Correction),
                        Count(ResultFate.Unchanged),
                        Count(ResultFate.Unmatched),
                        preview.Unreadable,
                        rows.Count - taken
                    )
                );
            },
            ct
        );

        // A turn that was not kept had begun to count.
        int Count(ResultFate fate) => fates.Take(taken).Count(x => x == fate);
    }

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
