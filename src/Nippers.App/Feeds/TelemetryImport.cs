using Microsoft.EntityFrameworkCore;
using Nippers.App.Today;
using Nippers.Core.Quick;
using Nippers.Data;
using Nippers.Formats.Csv;
using Nippers.Formats.Feeds;

namespace Nippers.App.Feeds;

/// <summary>A line of a file and what stands against it.</summary>
/// <param name="Line">Line in the file, the header being 1.</param>
/// <param name="Unit">The machine, as it was written.</param>
/// <param name="Refusal">What is wrong.</param>
public sealed record TelemetryRefusal(int Line, string Unit, Refusal Refusal);

/// <summary>What came of a file.</summary>
/// <param name="Fault">What is wrong with the whole file; null when it can be read.</param>
/// <param name="Refused">Lines that are wrong: while there is one, nothing of the file is taken.</param>
/// <param name="Taken">Lines that told something new.</param>
/// <param name="Old">Lines that are no newer than what was known.</param>
/// <param name="Doubted">Machines whose hours are not believed now, with the code of why.</param>
public sealed record TelemetryTaken(
    Refusal? Fault,
    IReadOnlyList<TelemetryRefusal> Refused,
    int Taken,
    int Old,
    IReadOnlyList<(string Unit, string Fault)> Doubted
)
{
    /// <summary>The file was taken.</summary>
    public bool Done => Fault is null && Refused.Count == 0;
}

/// <summary>
/// What machines say of themselves, from a file: held against what is known first, and taken only when no line is wrong. The same file
/// twice changes nothing.
/// </summary>
public sealed class TelemetryImport(NippersDb db, UnitOfWork writes, FeedIntake intake)
{
    /// <summary>Largest file taken, bytes.</summary>
    public const int LargestFile = 2 << 20;

    /// <summary>Takes a file.</summary>
    /// <param name="fileName">Its name, for the record.</param>
    /// <param name="text">What it holds.</param>
    /// <param name="actor">Who brings it.</param>
    /// <param name="ct">Cancels.</param>
    /// <exception cref="DatabaseBusyException">Not all of it could be written: the same file again goes on from there.</exception>
    public async Task<TelemetryTaken> Run(string fileName, string text, Actor actor, CancellationToken ct)
    {
        var file = TelemetryCsv.Read(text);
        if (file.Fault is { } fault)
            return new(new("file", fault, file.Detail, TelemetryCsv.Header), [], 0, 0, []);
        var machines = await db
            .Machines.Where(x => !x.Retired)
            .Select(x => new
            {
                x.Id,
                x.Unit,
                ByFeed = db.FeedMachines.Any(f => f.MachineId == x.Id && f.FeedId != null),
            })
            .ToDictionaryAsync(x => x.Unit, StringComparer.Ordinal, ct);
        var units = await db.Units(ct);
        var refused = new List<TelemetryRefusal>();
        var rows = new List<(int MachineId, string Unit, FeedReport Report)>();
        foreach (var row in file.Rows)
        {
            Refusal? wrong = null;
            if (QuickLine.Match(row.Unit, units) is not { } unit)
                wrong = Refusals.NoSuchUnitOrNear("unit", row.Unit, NearestNames.Of(row.Unit, units));
            else if (row.Report is not { } report)
                wrong = new(row.Field, row.Fault!, row.Field);
            else if (machines[unit].ByFeed)
                wrong = Refusals.HasFeed(unit);
            else if (report.Hours!.Value.At > writes.Now + FeedIntake.ClockSlack)
                wrong = Refusals.FeedFuture();
            else
                rows.Add((machines[unit].Id, unit, report));
            if (wrong is not null)
                refused.Add(new(row.Line, row.Unit, wrong));
        }

        return refused.Count > 0 ? new(null, refused, 0, 0, []) : await Take(fileName, rows, actor, ct);
    }

    private async Task<TelemetryTaken> Take(
        string fileName,
        List<(int MachineId, string Unit, FeedReport Report)> rows,
        Actor actor,
        CancellationToken ct
    )
    {
        var (taken, old) = (0, 0);
        var doubted = new Dictionary<string, string>(StringComparer.Ordinal);

        // Line by line in turns: one that comes again does no harm, and nobody waits for a large file.
        var kept = await writes.InTurns(
            [.. rows.OrderBy(x => x.Report.Hours!.Value.At)],
            async one =>
            {
                var row = await db.FeedMachines.SingleOrDefaultAsync(x => x.MachineId == one.MachineId, ct);
                row ??= db.FeedMachines.Add(new() { Equipment = one.Unit, MachineId = one.MachineId }).Entity;
                if (one.Report.Hours!.Value.At <= row.HoursAt)
                {
                    old++;
                    return;
                }

                await intake.Take(row, one.Report, ct);
                taken++;
                if (row.LastFault.Length > 0 || row.Away != Data.Feeds.FeedAway.Nothing)
                    doubted[one.Unit] = row.LastFault.Length > 0 ? row.LastFault : "feedAway";
                else
                    doubted.Remove(one.Unit);
            },
            ct
        );
        if (kept < rows.Count)
            throw new DatabaseBusyException();
        if (taken > 0)
            await writes.Run(
                () =>
                {
                    writes.Audit(actor, "feed.import", fileName, null, null, new { taken, old });
                    return Task.FromResult(Outcome<Nothing>.Of(Nothing.Special));
                },
                ct
            );
        return new(null, [], taken, old, [.. doubted.Select(x => (x.Key, x.Value))]);
    }
}
