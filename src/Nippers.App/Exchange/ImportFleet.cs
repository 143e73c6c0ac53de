using System.Text.Json;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Languages;
using Nippers.App.Statuses;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Parts;
using Nippers.Data.Programs;
using Nippers.Data.Records;
using Nippers.Data.Walks;
using Nippers.Formats.Fleet;

namespace Nippers.App.Exchange;

/// <summary>What an import brought.</summary>
public sealed record ImportedFleet(
    int Sites,
    int Programs,
    int Machines,
    long Readings,
    long Completions,
    long Walks = 0,
    long Defects = 0,
    int Parts = 0,
    long Visits = 0,
    long Samples = 0
);

/// <summary>
/// Brings a fleet file in: all of it or nothing. Sites and programs that stand already are kept when they are the
/// same; a unit that stands already is refused.
/// </summary>
public sealed partial class ImportFleet(NippersDb db, UnitOfWork writes, StatusKeeper standings, PhrasesKept phrases)
{
    private const int ReportEvery = 50_000;

    // SQLite's code for a row that the tables do not take.
    private const int ConstraintFailed = 19;

    public async Task<Outcome<ImportedFleet>> Run(Stream from, Actor actor, IProgress<JobProgress>? progress, CancellationToken ct)
    {
        var reader = new FleetAhead(new(from));
        try
        {
            reader.Read(ct);
            return await writes.Run(
                async () =>
                {
                    var import = new Import(db, progress, ct);
                    try
                    {
                        await import.Run(reader);
                        writes.Audit(actor, "fleet.import", "fleet", null, null, import.Counts);
                        await db.SaveChangesAsync(ct);
                    }
                    catch (Exception thrown) when (FaultOf(thrown, reader) is { } fault)
                    {
                        // Here, where it is known that the file is at fault, and nobody who was quicker.
                        throw fault;
                    }

                    foreach (var machine in import.WithCards)
                        await CardTimes.Refresh(db, machine, ct);
                    await standings.Refresh(import.MachineIds, writes.Now, ct, raise: false);
                    return Outcome<ImportedFleet>.Of(import.Counts);
                },
                ct
            );
        }
        catch (FleetFaultException fault)
        {
            // The transaction went with the exception; nothing was kept.
            db.ChangeTracker.Clear();
            return Outcome<ImportedFleet>.Refused("file", fault.Code, [.. fault.Args]);
        }
        finally
        {
            phrases.Forget();
        }
    }

    /// <summary>What is wrong with the file; null where that was said already, or the fault is not the file's.</summary>
    private static FleetFaultException? FaultOf(Exception thrown, FleetAhead reader) =>
        thrown switch
        {
            // A walk list or an answer inside a record.
            JsonException fault => new("fleetBadRecord", reader.Place, fault.Message),

            // Two of what there may be one of, or a name that nothing has: whatever the mapping lets through, the tables do not.
            _ when Clashes(thrown) => new("fleetClash", reader.Place),
            _ => null,
        };

    private static bool Clashes(Exception fault) =>
        (fault as SqliteException ?? fault.InnerException as SqliteException)?.SqliteErrorCode == ConstraintFailed;

    private sealed partial class Import(NippersDb db, IProgress<JobProgress>? progress, CancellationToken ct)
    {
        private readonly HashSet<(string Language, string Text)> _phrases = [];
        private readonly Dictionary<string, int> _sites = new(StringComparer.Ordinal);
        private readonly Dictionary<string, (int Id, HashSet<string> Items)> _programs = new(StringComparer.Ordinal);
        private readonly Dictionary<string, (int Id, HashSet<string> Items)> _machines = new(StringComparer.Ordinal);
        private readonly Dictionary<string, (DateTimeOffset At, MeterHours Life)> _last = new(StringComparer.Ordinal);
        private BulkRows<ReadingRow>? _readings;
        private BulkRows<CompletionRow>? _completions;
        private readonly Dictionary<string, (int Id, Dictionary<int, (int Id, CheckList Body)> Versions)> _lists = new(
            StringComparer.Ordinal
        );
        private readonly List<long> _walkIds = [];
        private readonly List<long> _defectIds = [];
        private readonly List<long> _visitIds = [];
        private readonly Dictionary<string, int> _parts = new(StringComparer.Ordinal);
        private readonly Dictionary<Type, IDisposable> _bulk = [];
        private readonly Dictionary<(int Version, string Codes), string> _packed = [];
        private long _nextWalk;
        private bool _old;
        private long _readingCount;
        private long _completionCount;

        /// <summary>Machines of which the file holds closed cards.</summary>
        public HashSet<int> WithCards { get; } = [];

        public IReadOnlyCollection<int> MachineIds => [.. _machines.Values.Select(x => x.Id)];

        public ImportedFleet Counts =>
            new(
                _sites.Count,
                _programs.Count,
                _machines.Count,
                _readingCount,
                _completionCount,
                _walkIds.Count,
                _defectIds.Count,
                _parts.Count,
                _visitIds.Count,
                _sampleIds.Count
            );

        public async Task Run(FleetAhead reader)
        {
            try
            {
                while (reader.TryRead(out var record))
                {
                    ct.ThrowIfCancellationRequested();
                    _old = reader.Version < FleetSections.ClosedAnswers;
                    switch (record)
                    {
                        case FleetSite x:
                            await Take(x, reader.Place);
                            break;
                        case FleetProgram x:
                            await Take(x, reader.Place);
                            break;
                        case FleetMachine x:
                            await Take(x, reader.Place);
                            break;
                        case FleetReading x:
                            Take(x, reader.Place);
                            break;
                        case FleetCompletion x:
                            Take(x, reader.Place);
                            break;
                        case FleetWalkList x:
                            await Take(x, reader.Place);
                            break;
                        case FleetWalk x:
                            await Take(x, reader.Place);
                            break;
                        case FleetTopUp x:
                            Take(x, reader.Place);
                            break;
                        case FleetDefect x:
                            await Take(x, reader.Place);
                            break;
                        case FleetFeedCode x:
                            await Take(x, reader.Place);
                            break;
                        case FleetShop x:
                            await Take(x, reader.Place);
                            break;
                        case FleetPhrase x:
                            await Take(x, reader.Place);
                            break;
                        case FleetPart x:
                            await Take(x, reader.Place);
                            break;
                        case FleetAlternate x:
                            await Take(x, reader.Place);
                            break;
                        case FleetVisit x:
                            await Take(x, reader.Place);
                            break;
                        case FleetFilterLog x:
                            db.FilterLog.Add(
                                FleetMapping.ToRow(x, MachineOf(x.Unit, reader.Place), VisitOf(x.Visit, reader.Place), reader.Place)
                            );
                            break;
                        case FleetStock x:
                            Take(x, reader.Place);
                            break;
                        case FleetWaste x:
                            Take(x, reader.Place);
                            break;
                        case FleetOnBoard x:
                            Take(x, reader.Place);
                            break;
                        default:
                            await TakeOil(record, reader.Place);
                            break;
                    }
                }
            }
            finally
            {
                _readings?.Dispose();
                _completions?.Dispose();
                foreach (var rows in _bulk.Values)
                    rows.Dispose();
            }
        }

        /// <summary>A file may come from anywhere: its pictures are looked at like uploads.</summary>
        private static EncodedPhoto Picture(byte[] whole, byte[] small, string place, string field) =>
            Photos.Take(whole, small).Value ?? throw new FleetFaultException("fleetBadField", place, field);

        private async Task Take(FleetSite record, string place)
        {
            if (!TimeZoneInfo.TryFindSystemTimeZoneById(record.TimeZone, out _))
                throw new FleetFaultException("fleetBadField", place, "timeZone");
            var site = await db.Sites.SingleOrDefaultAsync(x => x.Name == record.Name, ct);
            if (site is null)
            {
                site = db.Sites.Add(new Site { Name = record.Name, TimeZone = record.TimeZone }).Entity;
                FleetMapping.SetWorking(site, record, place);
                await db.SaveChangesAsync(ct);
            }

            if (!_sites.TryAdd(record.Name, site.Id))
                throw new FleetFaultException("fleetTwice", place, record.Name);
        }

        private async Task Take(FleetProgram record, string place)
        {
            var row = FleetMapping.ToRow(record, place);
            if (row.Items.Select(x => x.Code).Distinct().Count() != row.Items.Count)
                throw new FleetFaultException("fleetTwice", place, "items");
            var kept = await db
                .Programs.AsNoTracking()
                .AsSplitQuery()
                .Include(x => x.Items)
                .Include(x => x.Compartments)
                .SingleOrDefaultAsync(x => x.Code == record.Code, ct);
            if (kept is not null && !Same(kept, row))
            {
                // A starter that no machine follows gives way to the fleet's own wording of it.
                if (!kept.Starter || await db.Machines.AnyAsync(x => x.ProgramId == kept.Id, ct))
                    throw new FleetFaultException("fleetProgramDiffers", place, record.Code);
                db.Programs.Remove(await db.Programs.SingleAsync(x => x.Id == kept.Id, ct));
                await db.SaveChangesAsync(ct);
                kept = null;
            }

            if (kept is null)
            {
                db.Programs.Add(row);
                await db.SaveChangesAsync(ct);
                kept = row;
            }

            if (!_programs.TryAdd(record.Code, (kept.Id, row.Items.Select(x => x.Code).ToHashSet(StringComparer.Ordinal))))
                throw new FleetFaultException("fleetTwice", place, record.Code);
        }

        private static bool Same(ServiceProgram a, ServiceProgram b) =>
            System.Text.Json.JsonSerializer.Serialize(FleetMapping.ToRecord(a))
            == System.Text.Json.JsonSerializer.Serialize(FleetMapping.ToRecord(b));

        private async Task Take(FleetMachine record, string place)
        {
            if (!_sites.TryGetValue(record.Site, out var site))
                throw new FleetFaultException("fleetBadField", place, "site");
            if (!_programs.TryGetValue(record.Program, out var program))
                throw new FleetFaultException("fleetBadField", place, "program");
            if (_machines.ContainsKey(record.Unit))
                throw new FleetFaultException("fleetTwice", place, record.Unit);
            if (await db.Machines.AnyAsync(x => x.Unit == record.Unit, ct))
                throw new FleetFaultException("fleetUnitTaken", place, record.Unit);
            var machine = FleetMapping.ToRow(record, site, program.Id, place);
            if (record.WalkList is { } code)
                machine.WalkListId = _lists.TryGetValue(code, out var list)
                    ? list.Id
                    : throw new FleetFaultException("fleetBadField", place, "walkList");
            db.Machines.Add(machine);
            await db.SaveChangesAsync(ct);
            db.Parked.AddRange(record.Parked.Select(x => FleetMapping.ToRow(x, machine.Id, place)));
            db.Parkings.AddRange((record.Parkings ?? []).Select(x => FleetMapping.ToRow(x, machine.Id, place)));
            db.OdometerReadings.AddRange((record.Odometer ?? []).Select(x => FleetMapping.ToRow(x, machine.Id, place)));
            db.MachineCodes.AddRange((record.Codes ?? []).Select(x => FleetMapping.ToRow(x, machine.Id, place)));
            db.MachineChecks.AddRange((record.Limits ?? []).Select(x => FleetMapping.ToRow(x, machine.Id, place)));
            foreach (var position in record.Positions ?? [])
            {
                if (!program.Items.Contains(position.Item))
                    throw new FleetFaultException("fleetNoItem", place, position.Item);
                db.FilterPositions.Add(
                    FleetMapping.ToRow(position, machine.Id, position.Part is { } number ? PartOf(number, place) : null, place)
                );
            }

            db.MeterChanges.AddRange(record.MeterChanges.Select(x => FleetMapping.ToRow(x, machine.Id, place)));
            await db.SaveChangesAsync(ct);
            db.ChangeTracker.Clear();
            _machines.Add(record.Unit, (machine.Id, program.Items));
        }

        private void Take(FleetReading record, string place)
        {
            if (!_machines.TryGetValue(record.Unit, out var machine))
                throw new FleetFaultException("fleetNoUnit", place, record.Unit);
            var at = FleetMapping.Instant(record.At, place, "at");
            var life = FleetMapping.Hours(record.LifeHours, place, "lifeHours");
            var state = FleetMapping.Parse<ReadingState>(record.State, place, "state");
            if (state == ReadingState.Accepted)
            {
                if (_last.TryGetValue(record.Unit, out var last) && (at < last.At || life < last.Life))
                    throw new FleetFaultException("fleetBackward", place, record.Unit);
                _last[record.Unit] = (at, life);
            }

            _readings ??= new(db);
            _readings.Add(
                new()
                {
                    MachineId = machine.Id,
                    At = at,
                    ShownHours = FleetMapping.Hours(record.Hours, place, "hours"),
                    LifeHours = life,
                    State = state,
                    Source = FleetMapping.Parse<ReadingSource>(record.Source, place, "source"),
                    By = record.By,
                    EnteredAt = FleetMapping.Instant(record.Entered, place, "entered"),
                    DecidedBy = record.DecidedBy,
                    Reason = record.Reason,
                }
            );
            if (++_readingCount % ReportEvery == 0)
                progress?.Report(new("readings", _readingCount));
        }

        private void Take(FleetCompletion record, string place)
        {
            if (!_machines.TryGetValue(record.Unit, out var machine))
                throw new FleetFaultException("fleetNoUnit", place, record.Unit);
            if (!machine.Items.Contains(record.Item))
                throw new FleetFaultException("fleetNoItem", place, record.Item);
            _completions ??= new(db);
            _completions.Add(
                new()
                {
                    MachineId = machine.Id,
                    ItemCode = record.Item,
                    Kind = FleetMapping.Parse<CompletionKind>(record.Kind, place, "kind"),
                    DoneOn = FleetMapping.Day(record.On, place, "on"),
                    LifeHours = FleetMapping.Hours(record.LifeHours, place, "lifeHours"),
                    ShownHours = FleetMapping.Hours(record.Hours, place, "hours"),
                    Note = record.Note ?? "",
                    By = record.By,
                    SaidBy = record.SaidBy,
                    EnteredAt = FleetMapping.Instant(record.Entered, place, "entered"),
                    Batch = record.Batch,
                    VoidedAt = record.VoidedAt is { } at ? FleetMapping.Instant(at, place, "voidedAt") : null,
                    VoidedBy = record.VoidedBy,
                    VoidReason = record.VoidReason,
                }
            );
            if (++_completionCount % ReportEvery == 0)
                progress?.Report(new("completions", _completionCount));
        }

        private async Task Take(FleetWalkList record, string place)
        {
            var (list, versions) = FleetMapping.ToRows(record, place);
            var kept = await db
                .WalkListVersions.AsNoTracking()
                .Include(x => x.List)
                .Where(x => x.List.Code == record.Code)
                .OrderBy(x => x.Version)
                .ToListAsync(ct);
            var same =
                kept.Select(x => (x.Version, x.Body)).SequenceEqual(versions.Select(x => (x.Version, x.Body)).OrderBy(x => x.Version))
                && kept.TrueForAll(x => x.List.Name == list.Name && x.List.Kind == list.Kind);
            if (kept.Count > 0 && !same)
            {
                // A starter that nobody walked by gives way to the list that the fleet's walks were walked by: Nippers may word
                // its starters otherwise one day, and an older file is still read.
                var id = kept[0].ListId;
                if (!kept[0].List.Starter || await db.Walks.AnyAsync(x => x.Version.ListId == id, ct))
                    throw new FleetFaultException("fleetListDiffers", place, record.Code);
                await db.WalkListVersions.Where(x => x.ListId == id).ExecuteDeleteAsync(ct);
                await db.WalkLists.Where(x => x.Id == id).ExecuteDeleteAsync(ct);
                kept = [];
            }

            if (kept.Count == 0)
            {
                db.WalkListVersions.AddRange(versions);
                await db.SaveChangesAsync(ct);
                kept = versions;
            }

            if (!_lists.TryAdd(record.Code, (kept[0].ListId, kept.ToDictionary(x => x.Version, x => (x.Id, x.ToList())))))
                throw new FleetFaultException("fleetTwice", place, record.Code);
            db.ChangeTracker.Clear();
        }

        private BulkRows<T> Bulk<T>()
            where T : class => (BulkRows<T>)(_bulk.TryGetValue(typeof(T), out var rows) ? rows : _bulk[typeof(T)] = new BulkRows<T>(db));

        private async Task Take(FleetWalk record, string place)
        {
            if (!_machines.TryGetValue(record.Unit, out var machine))
                throw new FleetFaultException("fleetNoUnit", place, record.Unit);
            if (!_lists.TryGetValue(record.List, out var list) || !list.Versions.TryGetValue(record.ListVersion, out var version))
                throw new FleetFaultException("fleetBadField", place, "listVersion");
            if (_nextWalk == 0)
                _nextWalk = (await db.Walks.MaxAsync(x => (long?)x.Id, ct) ?? 0) + 1;
            var id = _nextWalk++;
            _walkIds.Add(id);
            var on = FleetMapping.Day(record.On, place, "on");
            var (started, life) = (
                FleetMapping.Instant(record.Started, place, "started"),
                FleetMapping.Hours(record.LifeHours, place, "lifeHours")
            );
            var state = FleetMapping.Parse<WalkState>(record.State, place, "state");
            var answers = record.Answers?.GetRawText() ?? "";
            try
            {
                if (_old)
                    answers = OldAnswers.Packed(answers);
                foreach (var (code, answer) in PackedAnswers.Unpack([.. record.Checks], answers))
                    MustFit(version.Body, code, answer);
            }
            catch (System.Text.Json.JsonException)
            {
                throw new FleetFaultException("fleetBadField", place, "answers");
            }

            Bulk<WalkRow>()
                .Add(
                    new()
                    {
                        Id = id,
                        MachineId = machine.Id,
                        VersionId = version.Id,
                        Round = FleetMapping.Parse<WalkRound>(record.Round, place, "round"),
                        State = state,
                        On = on,
                        StartedAt = started,
                        FinishedAt = record.Finished is { } finished ? FleetMapping.Instant(finished, place, "finished") : null,
                        StartedBy = record.StartedBy,
                        FinishedBy = record.FinishedBy,
                        Late = record.Late == true,
                        LifeHours = life,
                        ShownHours = FleetMapping.Hours(record.Hours, place, "hours"),
                        Weather = FleetMapping.Parse<Weather>(record.Weather, place, "weather"),
                        Ground = FleetMapping.Parse<Ground>(record.Ground, place, "ground"),
                        Checks =
                            state == WalkState.Open ? string.Join(' ', record.Checks) : Packed(version.Id, version.Body, record.Checks),
                        Due = record.Checks.Count,
                        Answered = record.Answered,
                        Faults = record.Faults,
                        LeftOut = record.LeftOut,
                        NotChecked = record.NotChecked ?? 0,
                        HonestSeconds = record.HonestSeconds ?? 0,
                        ParkedAt = record.ParkedAt is { } parked ? FleetMapping.Instant(parked, place, "parkedAt") : null,
                        Answers = answers,
                        Note = record.Note ?? "",
                        Batch = record.Batch,
                        RunStatus = record.Verdict is { } verdict ? FleetMapping.Parse<RunStatus>(verdict, place, "verdict") : null,
                        UntilHours = record.UntilHours is { } until ? FleetMapping.Hours(until, place, "untilHours") : null,
                        UntilOn = record.UntilOn is { } untilOn ? FleetMapping.Day(untilOn, place, "untilOn") : null,
                        VoidedAt = record.VoidedAt is { } voided ? FleetMapping.Instant(voided, place, "voidedAt") : null,
                        VoidedBy = record.VoidedBy,
                        VoidReason = record.VoidReason,
                    }
                );
            foreach (var later in record.Later ?? [])
            {
                Bulk<LaterCheckRow>()
                    .Add(
                        new()
                        {
                            WalkId = id,
                            CheckCode = later.Check,
                            By = later.By,
                            At = FleetMapping.Instant(later.At, place, "later.at"),
                            Words = later.Words ?? "",
                        }
                    );
            }

            foreach (var photo in record.Photos ?? [])
            {
                var taken = Picture(photo.Whole, photo.Small, place, "photos");
                Bulk<WalkPhoto>()
                    .Add(
                        new()
                        {
                            WalkId = id,
                            CheckCode = photo.Check,
                            At = FleetMapping.Instant(photo.At, place, "photos.at"),
                            By = photo.By,
                            Width = taken.Width,
                            Height = taken.Height,
                            Whole = taken.Whole,
                            Small = taken.Small,
                        }
                    );
            }

            foreach (var measure in record.Measures ?? [])
            {
                Bulk<MeasureRow>()
                    .Add(
                        new()
                        {
                            MachineId = machine.Id,
                            CheckCode = measure.Check,
                            Value = measure.Value,
                            At = started,
                            On = on,
                            LifeHours = life,
                            WalkId = id,
                            Used = measure.Unused != true,
                        }
                    );
            }

            foreach (var code in record.Done ?? [])
            {
                Bulk<CheckDoneRow>()
                    .Add(
                        new()
                        {
                            WalkId = id,
                            CheckCode = code,
                            MachineId = machine.Id,
                            LifeHours = life,
                            Voided = state == WalkState.Voided,
                        }
                    );
            }

            foreach (var open in record.Open ?? [])
            {
                Bulk<WalkAnswerRow>()
                    .Add(
                        new()
                        {
                            WalkId = id,
                            Code = open.Code,
                            Revision = open.Revision,
                            By = open.By,
                            At = FleetMapping.Instant(open.At, place, "open.at"),
                            Answer = OpenAnswer(version.Body, open, place),
                        }
                    );
            }

            if (_walkIds.Count % ReportEvery == 0)
                progress?.Report(new("walks", _walkIds.Count));
        }

        private void Take(FleetTopUp record, string place)
        {
            if (!_machines.TryGetValue(record.Unit, out var machine))
                throw new FleetFaultException("fleetNoUnit", place, record.Unit);
            if (record.Litres is not (> 0 and <= 1000))
                throw new FleetFaultException("fleetBadField", place, "litres");
            Bulk<TopUpRow>()
                .Add(
                    new()
                    {
                        MachineId = machine.Id,
                        Compartment = record.Compartment,
                        Litres = new Litres(record.Litres),
                        At = FleetMapping.Instant(record.At, place, "at"),
                        LifeHours = FleetMapping.Hours(record.LifeHours, place, "lifeHours"),
                        WalkId = Number(record.Walk, _walkIds, place, "walk"),
                        By = record.By,
                        VoidedAt = record.VoidedAt is { } voided ? FleetMapping.Instant(voided, place, "voidedAt") : null,
                        VoidedBy = record.VoidedBy,
                    }
                );
        }

        private async Task Take(FleetDefect record, string place)
        {
            if (!_machines.TryGetValue(record.Unit, out var machine))
                throw new FleetFaultException("fleetNoUnit", place, record.Unit);
            var row = FleetMapping.ToRow(record, machine.Id, place);
            row.WalkId = Number(record.Walk, _walkIds, place, "walk");
            row.RepeatOf = Number(record.RepeatOf, _defectIds, place, "repeatOf");
            db.Defects.Add(row);
            await db.SaveChangesAsync(ct);
            _defectIds.Add(row.Id);
            foreach (var x in record.Events)
            {
                var line = FleetMapping.ToRow(x, row.Id, place);
                line.WalkId = Number(x.Walk, _walkIds, place, "events.walk");
                db.DefectEvents.Add(line);
            }

            db.Stoppages.AddRange(
                record.Stoppages.Select(x => new Stoppage
                {
                    MachineId = machine.Id,
                    DefectId = row.Id,
                    From = FleetMapping.Instant(x.From, place, "stoppages.from"),
                    To = x.To is { } to ? FleetMapping.Instant(to, place, "stoppages.to") : null,
                    Contact = x.Contact ?? "",
                    SentAt = x.Sent is { } sent ? FleetMapping.Instant(sent, place, "stoppages.sent") : null,
                    AcknowledgedBy = x.AcknowledgedBy,
                    AcknowledgedAt = x.Acknowledged is { } seen ? FleetMapping.Instant(seen, place, "stoppages.acknowledged") : null,
                })
            );
            foreach (var photo in record.Photos)
            {
                var taken = Picture(photo.Whole, photo.Small, place, "photos");
                db.DefectPhotos.Add(
                    new()
                    {
                        DefectId = row.Id,
                        At = FleetMapping.Instant(photo.At, place, "photos.at"),
                        By = photo.By,
                        Width = taken.Width,
                        Height = taken.Height,
                        Bytes = new() { Whole = taken.Whole, Small = taken.Small },
                    }
                );
            }

            await db.SaveChangesAsync(ct);
            db.ChangeTracker.Clear();
        }

        private int MachineOf(string unit, string place) =>
            _machines.TryGetValue(unit, out var machine) ? machine.Id : throw new FleetFaultException("fleetNoUnit", place, unit);

        private long? VisitOf(long? number, string place) => Number(number, _visitIds, place, "visit");

        private int PartOf(string number, string place) =>
            _parts.TryGetValue(number, out var id) ? id : throw new FleetFaultException("fleetBadField", place, "part");

        private async Task Take(FleetShop record, string place)
        {
            // A workshop that has its settings keeps them.
            if (await db.Shop.AnyAsync(ct))
                return;
            db.Shop.Add(FleetMapping.ToRow(record, place));
            db.Fluids.AddRange(
                record.Fluids.Select(x => new Data.Parts.FluidRow
                {
                    Name = x.Name,
                    PerLitre = FleetMapping.Money(x.PerLitre, place, "fluids.perLitre"),
                })
            );
            await db.SaveChangesAsync(ct);
        }

        // What is said here already stays: a kind that is read in brings words, it does not change them.
        private async Task Take(FleetPhrase record, string place)
        {
            if (record.Language.Length is 0 or > 8 || record.Text.Length == 0 || record.Said.Length is 0 or > PhraseBook.LongestText)
                throw new FleetFaultException("fleetBadField", place, "said");
            if (!_phrases.Add((record.Language, record.Text)))
                throw new FleetFaultException("fleetTwice", place, record.Text);
            if (await db.Phrases.AnyAsync(x => x.Language == record.Language && x.Text == record.Text, ct))
                return;
            db.Phrases.Add(
                new()
                {
                    Language = record.Language,
                    Text = record.Text,
                    Said = record.Said,
                }
            );
            await db.SaveChangesAsync(ct);
        }

        private async Task Take(FleetPart record, string place)
        {
            var row = await db.Parts.AsNoTracking().SingleOrDefaultAsync(x => x.Number == record.Number, ct);
            if (row is null)
            {
                row = FleetMapping.ToRow(record, place);
                db.Parts.Add(row);
                await db.SaveChangesAsync(ct);
            }

            if (!_parts.TryAdd(record.Number, row.Id))
                throw new FleetFaultException("fleetTwice", place, record.Number);
        }

        private async Task Take(FleetAlternate record, string place)
        {
            var (part, other) = (PartOf(record.Part, place), PartOf(record.Other, place));
            if (await db.PartAlternates.AnyAsync(x => x.PartId == part && x.OtherId == other, ct))
                return;
            db.PartAlternates.Add(
                new()
                {
                    PartId = part,
                    OtherId = other,
                    SaysWho = record.SaysWho,
                    By = record.By,
                    On = FleetMapping.Day(record.On, place, "on"),
                }
            );
            await db.SaveChangesAsync(ct);
        }

        /// <summary>An answer that its check can't have would stop every page that shows the walk.</summary>
        private static void MustFit(CheckList list, string code, CheckAnswer answer)
        {
            if (answer is not SeenAnswer && list.Checks.FirstOrDefault(x => x.Code == code) is { } check && !CheckJudge.Fits(check, answer))
                throw new System.Text.Json.JsonException("answer of another kind");
        }

        /// <summary>An answer of an open walk as it is kept; ticks of steps are words.</summary>
        private string OpenAnswer(CheckList list, FleetOpenAnswer open, string place)
        {
            if (open.Code.StartsWith(SaveAnswer.StepPrefix, StringComparison.Ordinal))
                return open.Answer;
            try
            {
                var answer = _old ? OldAnswers.Check(open.Answer) : open.Answer;
                MustFit(list, open.Code, PackedAnswers.ReadOne(answer));
                return answer;
            }
            catch (System.Text.Json.JsonException)
            {
                throw new FleetFaultException("fleetBadField", place, "open.answer");
            }
        }

        private async Task Take(FleetVisit record, string place)
        {
            var row = FleetMapping.ToRow(record, MachineOf(record.Unit, place), place);
            db.Visits.Add(row);
            await db.SaveChangesAsync(ct);
            _visitIds.Add(row.Id);
            db.VisitDefects.AddRange(
                record.Defects.Select(x => new Data.Visits.VisitDefect
                {
                    VisitId = row.Id,
                    DefectId = Number(x, _defectIds, place, "defects")!.Value,
                })
            );
            db.VanLines.AddRange(
                (record.Van ?? []).Select(x => new Data.Visits.VanLine
                {
                    VisitId = row.Id,
                    Line = x.Line,
                    Words = x.Words,
                    Returns = x.Returns == true,
                    InBy = x.InBy,
                    InAt = FleetMapping.Instant(x.In, place, "van.in"),
                    OutBy = x.OutBy,
                    OutAt = x.Out is { } back ? FleetMapping.Instant(back, place, "van.out") : null,
                })
            );
            var card = row.Card.Length > 0 ? CardMaking.Read(row.Card) : null;
            var asked = card?.Steps.ToDictionary(x => x.Code, StringComparer.Ordinal) ?? [];
            var answers = new Dictionary<string, (StepAnswer, DateTimeOffset)>(StringComparer.Ordinal);
            foreach (var step in record.Steps ?? [])
            {
                var answer = FleetMapping.ToRow(step, row.Id, asked.GetValueOrDefault(step.Code), _old, place);
                answer.DefectId = Number(step.Defect, _defectIds, place, "steps.defect");
                db.Steps.Add(answer);
                answers[answer.Code] = (JobContext.ReadAnswer(answer.Answer), answer.At);
                foreach (var photo in step.Photos ?? [])
                {
                    var taken = Picture(photo.Whole, photo.Small, place, "steps.photos");
                    db.StepPhotos.Add(
                        new()
                        {
                            VisitId = row.Id,
                            Code = step.Code,
                            By = photo.By,
                            At = FleetMapping.Instant(photo.At, place, "steps.photos.at"),
                            Width = taken.Width,
                            Height = taken.Height,
                            Whole = taken.Whole,
                            Small = taken.Small,
                        }
                    );
                }
            }

            if (card is not null && row.State == Data.Visits.VisitState.Closed)
            {
                db.Measures.AddRange(CardFigures.Of(row, card, answers));
                WithCards.Add(row.MachineId);
            }

            if (card is not null && row.State == Data.Visits.VisitState.Open)
            {
                var rows = db.ChangeTracker.Entries<Data.Visits.StepRow>().Select(x => x.Entity).Where(x => x.VisitId == row.Id);
                JobContext.KeepOff(row, rows.ToDictionary(x => x.Code, StringComparer.Ordinal));
            }

            await db.SaveChangesAsync(ct);
            db.ChangeTracker.Clear();
        }

        private void Take(FleetStock record, string place) =>
            Bulk<StockMove>()
                .Add(
                    new()
                    {
                        PartId = PartOf(record.Part, place),
                        SiteId = _sites.TryGetValue(record.Site, out var site)
                            ? site
                            : throw new FleetFaultException("fleetBadField", place, "site"),
                        Quantity = record.Quantity,
                        Kind = FleetMapping.Parse<Data.Parts.StockMoveKind>(record.Kind, place, "kind"),
                        At = FleetMapping.Instant(record.At, place, "at"),
                        By = record.By,
                        Note = record.Note ?? "",
                        VisitId = VisitOf(record.Visit, place),
                    }
                );

        private void Take(FleetWaste record, string place) =>
            Bulk<WasteRow>()
                .Add(
                    new()
                    {
                        On = FleetMapping.Day(record.On, place, "on"),
                        Stream = Parts.PartCatalog.WasteStreams.Contains(record.Stream)
                            ? record.Stream
                            : throw new FleetFaultException("fleetBadField", place, "stream"),
                        Amount = record.Amount,
                        Place = record.Place,
                        MachineId = record.Unit is { } unit ? MachineOf(unit, place) : null,
                        VisitId = VisitOf(record.Visit, place),
                        By = record.By,
                        EnteredAt = FleetMapping.Instant(record.Entered, place, "entered"),
                        Batch = record.Batch ?? "",
                        VoidedAt = Instant(record.VoidedAt, place),
                        VoidedBy = record.VoidedBy,
                    }
                );

        private void Take(FleetOnBoard record, string place) =>
            Bulk<OnBoardRow>()
                .Add(
                    new()
                    {
                        MachineId = MachineOf(record.Unit, place),
                        Compartment = record.Compartment,
                        Fluid = record.Fluid,
                        Litres = new Litres(record.Litres),
                        On = FleetMapping.Day(record.On, place, "on"),
                        LifeHours = FleetMapping.Hours(record.LifeHours, place, "lifeHours"),
                        VisitId = VisitOf(record.Visit, place),
                        Batch = record.Batch,
                        VoidedAt = Instant(record.VoidedAt, place),
                    }
                );

        private static DateTimeOffset? Instant(string? instant, string place) =>
            instant is { } text ? FleetMapping.Instant(text, place, "voidedAt") : null;

        /// <summary>The short form of a walk's checks; most walks of a list share a few sets.</summary>
        private string Packed(int version, CheckList body, IReadOnlyList<string> codes)
        {
            var key = (version, string.Join(' ', codes));
            return _packed.TryGetValue(key, out var packed) ? packed : _packed[key] = WalkChecks.Pack(codes, body);
        }

        private static long? Number(long? number, List<long> ids, string place, string field) =>
            number is not { } n ? null
            : n >= 1 && n <= ids.Count ? ids[(int)n - 1]
            : throw new FleetFaultException("fleetBadField", place, field);
    }
}
