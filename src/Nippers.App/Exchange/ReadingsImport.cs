using System.Collections.Immutable;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Machines;
using Nippers.App.Readings;
using Nippers.App.Today;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using Nippers.Core.Quick;
using Nippers.Data;
using Nippers.Data.Queries;
using Nippers.Data.Records;
using Nippers.Formats.Csv;

namespace Nippers.App.Exchange;

/// <summary>What a row of a file will do.</summary>
public enum ImportAction
{
    /// <summary>Kept.</summary>
    Accept,

    /// <summary>Kept, but unconfirmed: it is unusual.</summary>
    KeepUnconfirmed,

    /// <summary>Already there.</summary>
    Unchanged,

    /// <summary>Refused; nothing of the file can be applied until it is mended.</summary>
    Refuse,
}

/// <summary>A row and what it will do.</summary>
public sealed record ImportRow(
    ReadingsCsvRow Row,
    ImportAction Action,
    Refusal? Refusal,
    ImmutableArray<MeterHours> DidYouMean,
    string? Unit = null,
    DateTimeOffset At = default,
    MeterHours Shown = default,
    MeterHours OffsetHours = default
);

/// <summary>A file, row by row.</summary>
/// <param name="Fault">What is wrong with the whole file; null when it can be read.</param>
/// <param name="Rows">All rows in the order of the file.</param>
/// <param name="Odometers">They are kilometres of odometers.</param>
public sealed record ImportPreview(Refusal? Fault, IReadOnlyList<ImportRow> Rows, bool Odometers = false)
{
    public int Count(ImportAction action) => Rows.Count(x => x.Action == action);

    /// <summary>All or nothing: one refused row holds the file back.</summary>
    public bool CanApply => Fault is null && Rows.Count > 0 && Rows.All(x => x.Action != ImportAction.Refuse);
}

/// <summary>What was applied.</summary>
public sealed record AppliedImport(int Accepted, int Unconfirmed, int Unchanged);

/// <summary>Readings from a CSV: shown row by row first, then all or nothing. The same file twice changes nothing.</summary>
public sealed class ReadingsImport(NippersDb db, UnitOfWork writes)
{
    /// <summary>Largest file taken, bytes.</summary>
    public const int LargestFile = 8 << 20;

    /// <summary>Drafts that nobody applied go after this.</summary>
    private static readonly TimeSpan KeepDrafts = TimeSpan.FromDays(2);

    /// <summary>Keeps an uploaded text until it is applied.</summary>
    public async Task<string> SaveDraft(string fileName, string text, Actor actor, CancellationToken ct)
    {
        var old = writes.Now - KeepDrafts;
        await db.ImportDrafts.Where(x => x.At < old).ExecuteDeleteAsync(ct);
        var draft = new ImportDraft
        {
            Id = Guid.NewGuid().ToString("N"),
            By = actor.Name,
            At = writes.Now,
            FileName = fileName,
            Text = text,
        };
        db.ImportDrafts.Add(draft);
        await db.SaveChangesAsync(ct);
        return draft.Id;
    }

    /// <summary>The draft that somebody uploaded.</summary>
    public Task<ImportDraft?> Draft(string id, Actor actor, CancellationToken ct) =>
        db.ImportDrafts.AsNoTracking().SingleOrDefaultAsync(x => x.Id == id && x.By == actor.Name, ct);

    /// <summary>Says row by row what a text would do.</summary>
    public async Task<ImportPreview> Preview(string text, CancellationToken ct)
    {
        var file = ReadingsCsv.Read(text);
        if (file.Fault is { } fault)
            return new(new("file", fault, file.Detail, ReadingsCsv.Header), []);

        var units = await db.Units(ct);
        var near = new Dictionary<string, IReadOnlyList<string>>(StringComparer.Ordinal);
        var results = new ImportRow[file.Rows.Count];
        var byUnit = new Dictionary<string, List<int>>(StringComparer.Ordinal);
        for (var i = 0; i < file.Rows.Count; i++)
        {
            var row = file.Rows[i];
            if (QuickLine.Match(row.Unit, units) is { } unit)
            {
                if (!byUnit.TryGetValue(unit, out var list))
                    byUnit[unit] = list = [];
                list.Add(i);
                continue;
            }

            if (!near.TryGetValue(row.Unit, out var names))
                near[row.Unit] = names = NearestNames.Of(row.Unit, units);
            results[i] = new(row, ImportAction.Refuse, Refusals.NoSuchUnitOrNear("unit", row.Unit, names), []);
        }

        foreach (var (unit, indexes) in byUnit)
            await JudgeUnit(unit, indexes, file, results, ct);
        return new(null, results, file.Odometers);
    }

    /// <summary>Applies a draft: everything, or nothing and why.</summary>
    public async Task<Outcome<AppliedImport>> Apply(string draftId, Actor actor, CancellationToken ct)
    {
        var draft = await Draft(draftId, actor, ct);
        if (draft is null)
            return Outcome<AppliedImport>.Refused(Refusals.DraftGone());

        // A large file is judged before anybody's turn to write is taken, and anew only when something was written since that it
        // could have been judged by.
        var seen = await Stand(ct);
        var early = await Preview(draft.Text, ct);
        return await writes.Run(
            async () =>
            {
                var preview = seen == await Stand(ct) ? early : await Preview(draft.Text, ct);
                if (!preview.CanApply)
                    return Outcome<AppliedImport>.Refused(Refusals.ImportRefused(preview.Count(ImportAction.Refuse)));

                var kept = preview.Rows.Where(x => x.Action is ImportAction.Accept or ImportAction.KeepUnconfirmed).ToList();
                var ids = await db.Machines.Where(x => !x.Retired).ToDictionaryAsync(x => x.Unit, x => x.Id, ct);
                if (preview.Odometers)
                {
                    foreach (var row in kept)
                    {
                        db.OdometerReadings.Add(
                            new()
                            {
                                MachineId = ids[row.Unit!],
                                At = row.At,
                                KmTenths = row.Shown.Tenths,
                                By = actor.Name,
                                EnteredAt = writes.Now,
                            }
                        );
                    }

                    await db.SaveChangesAsync(ct);
                }
                else
                {
                    using var readings = new BulkRows<ReadingRow>(db);
                    foreach (var row in kept)
                    {
                        readings.Add(
                            new ReadingRow
                            {
                                MachineId = ids[row.Unit!],
                                At = row.At,
                                ShownHours = row.Shown,
                                LifeHours = row.Shown + row.OffsetHours,
                                State = row.Action == ImportAction.Accept ? ReadingState.Accepted : ReadingState.Unconfirmed,
                                Source = ReadingSource.Csv,
                                By = actor.Name,
                                EnteredAt = writes.Now,
                            }
                        );
                    }
                }

                foreach (var unit in kept.GroupBy(x => x.Unit!))
                {
                    writes.Audit(
                        actor,
                        preview.Odometers ? "odometer.import" : "readings.import",
                        unit.Key,
                        ids[unit.Key],
                        null,
                        preview.Odometers
                            ? (object)
                                new
                                {
                                    file = draft.FileName,
                                    odometer = unit.Select(x => new { at = Formats.Iso.Instant(x.At), km = x.Shown.Value }),
                                }
                            : new
                            {
                                file = draft.FileName,
                                readings = unit.Select(x => new { at = Formats.Iso.Instant(x.At), hours = x.Shown.Value }),
                            }
                    );
                }

                await writes.RefreshStatus([.. kept.Select(x => ids[x.Unit!]).Distinct()], ct);
                return Outcome<AppliedImport>.Of(
                    new(
                        preview.Count(ImportAction.Accept),
                        preview.Count(ImportAction.KeepUnconfirmed),
                        preview.Count(ImportAction.Unchanged)
                    )
                );
            },
            ct
        );
    }

    /// <summary>All that is audited, and so whatever a file of readings is judged by, up to the newest.</summary>
    private async Task<long> Stand(CancellationToken ct) => await db.Audit.MaxAsync(x => (long?)x.Id, ct) ?? 0;

    /// <summary>Judges the rows of one unit in the order of time, each accepted one standing for the next.</summary>
    private async Task JudgeUnit(string unit, List<int> indexes, ReadingsCsvFile file, ImportRow[] results, CancellationToken ct)
    {
        var (now, rows) = (writes.Now, file.Rows);
        var zone = TimeZoneInfo.FindSystemTimeZoneById(
            await db.Machines.Where(x => x.Unit == unit).Select(x => x.Site.TimeZone).SingleAsync(ct)
        );
        var entered = new List<(int Index, DateTimeOffset At, MeterHours Shown)>();
        foreach (var i in indexes)
        {
            var at = ReadAt(rows[i].At, zone);
            if (at is null)
                results[i] = new(rows[i], ImportAction.Refuse, Refusals.NotATime("at"), [], unit);
            else if (Read(rows[i].Hours, file.Odometers, out var shown) is { } fault)
                results[i] = new(rows[i], ImportAction.Refuse, fault, [], unit);
            else
                entered.Add((i, at.Value, shown));
        }

        if (entered.Count == 0)
            return;
        var first = entered.Min(x => x.At);
        var earliest = first < now ? first : now;
        var facts = (await db.FactsOf(unit, earliest, ct))!;
        if (file.Odometers)
        {
            JudgeOdometer(facts, entered, rows, results);
            return;
        }

        var seen = (
            await db
                .Readings.Where(x => x.MachineId == facts.Machine.Id && x.State != ReadingState.Accepted)
                .Select(x => new { x.At, x.ShownHours })
                .ToListAsync(ct)
        )
            .Select(x => (x.At, x.ShownHours))
            .ToHashSet();
        var record = facts.Record;
        foreach (var (i, at, shown) in entered.OrderBy(x => x.At).ThenBy(x => x.Shown))
        {
            var offset = facts.Offsets.At(at);
            if (LocalDay.Of(at, zone) < facts.Machine.CommissionedOn)
            {
                results[i] = new(rows[i], ImportAction.Refuse, Refusals.BeforeCommissioning("at", facts.Machine.CommissionedOn), [], unit);
                continue;
            }

            var judgement = ReadingJudge.Judge(record, at, shown, now, offset);
            var refusal = LogReading.Words(judgement, shown, offset);
            var action =
                refusal is not null ? ImportAction.Refuse
                : judgement.Code == ReadingCode.Duplicate || !seen.Add((at, shown)) ? ImportAction.Unchanged
                : judgement.Code == ReadingCode.Check ? ImportAction.KeepUnconfirmed
                : ImportAction.Accept;
            results[i] = new(rows[i], action, refusal, judgement.DidYouMean, unit, at, shown, offset);
            if (action == ImportAction.Accept)
                record = record with { Readings = Insert(record.Readings, new(at, (shown + offset))) };
        }
    }

    private static Refusal? Read(string text, bool odometer, out MeterHours shown)
    {
        if (!odometer)
            return HoursInput.Read("hours", text, out shown);
        var refusals = new List<Refusal>();
        shown = Typed.Number(text, "km", 0, SaveMachine.MostKm, refusals) is { } km ? MeterHours.Of(km) : default;
        return refusals.Count > 0 ? refusals[0] : null;
    }

    // Nobody sits before a file to say that an odometer really shows so: what is unusual is typed by hand.
    private void JudgeOdometer(
        MachineFacts facts,
        List<(int Index, DateTimeOffset At, MeterHours Shown)> entered,
        IReadOnlyList<ReadingsCsvRow> rows,
        ImportRow[] results
    )
    {
        var unit = facts.Machine.Unit;
        var odometer = facts.Odometer;
        foreach (var (i, at, shown) in entered.OrderBy(x => x.At).ThenBy(x => x.Shown))
        {
            var refusals = new List<Refusal>();
            if (odometer is null)
                refusals.Add(Refusals.NoOdometer(unit));
            var read = odometer is null ? null : LogOdometer.Validate(facts, odometer, shown, at, writes.Now, confirmed: false, refusals);
            var action =
                read is null ? ImportAction.Refuse
                : read.Judged.Code == ReadingCode.Duplicate ? ImportAction.Unchanged
                : ImportAction.Accept;
            results[i] = new(rows[i], action, refusals.FirstOrDefault(), [], unit, at, shown);
            if (action == ImportAction.Accept)
                odometer = odometer! with { Record = odometer.Record with { Readings = Insert(odometer.Record.Readings, new(at, shown)) } };
        }
    }

    private static ImmutableArray<Reading> Insert(ImmutableArray<Reading> readings, Reading reading)
    {
        var at = readings.BinarySearch(reading);
        return readings.Insert(at < 0 ? ~at : at, reading);
    }

    /// <summary>An instant with its offset, or a time at the site.</summary>
    private static DateTimeOffset? ReadAt(string text, TimeZoneInfo zone)
    {
        if (LocalTime.Parse(text, zone) is { } local)
            return local;
        return
            text.Length > 16
            && DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var at)
            && Years.Hold(at)
            ? at.ToUniversalTime()
            : null;
    }
}
