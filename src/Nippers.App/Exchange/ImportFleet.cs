using Microsoft.EntityFrameworkCore;
using Nippers.App.Standings;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Programs;
using Nippers.Data.Records;
using Nippers.Formats.Fleet;

namespace Nippers.App.Exchange;

/// <summary>What an import brought.</summary>
public sealed record ImportedFleet(int Sites, int Programs, int Machines, long Readings, long Completions);

/// <summary>
/// Brings a fleet file in: all of it or nothing. Sites and programs that stand already are kept when they are the
/// same; a unit that stands already is refused.
/// </summary>
public sealed class ImportFleet(NippersDb db, Writes writes, StandingKeeper standings)
{
    private const int ReportEvery = 50_000;

    public async Task<Outcome<ImportedFleet>> Run(Stream from, Actor actor, IProgress<JobProgress>? progress, CancellationToken ct)
    {
        try
        {
            return await writes.Run(
                async () =>
                {
                    var import = new Import(db, progress, ct);
                    await import.Run(new FleetReader(from));
                    writes.Audit(actor, "fleet.import", "fleet", null, null, import.Counts);
                    await db.SaveChangesAsync(ct);
                    await standings.Refresh(import.MachineIds, writes.Now, ct);
                    return Outcome<ImportedFleet>.Of(import.Counts);
                },
                ct);
        }
        catch (FleetFaultException fault)
        {
            // The transaction went with the exception; nothing was kept.
            db.ChangeTracker.Clear();
            return Outcome<ImportedFleet>.Refused("file", fault.Code, [.. fault.Args]);
        }
    }

    private sealed class Import(NippersDb db, IProgress<JobProgress>? progress, CancellationToken ct)
    {
        private readonly Dictionary<string, int> _sites = new(StringComparer.Ordinal);
        private readonly Dictionary<string, (int Id, HashSet<string> Items)> _programs = new(StringComparer.Ordinal);
        private readonly Dictionary<string, (int Id, HashSet<string> Items)> _machines = new(StringComparer.Ordinal);
        private readonly Dictionary<string, (long AtMs, int Life)> _last = new(StringComparer.Ordinal);
        private BulkRows? _readings;
        private BulkRows? _completions;
        private long _readingCount;
        private long _completionCount;

        public IReadOnlyCollection<int> MachineIds => [.. _machines.Values.Select(x => x.Id)];

        public ImportedFleet Counts => new(_sites.Count, _programs.Count, _machines.Count, _readingCount, _completionCount);

        public async Task Run(FleetReader reader)
        {
            try
            {
                while (reader.TryRead(out var record))
                {
                    ct.ThrowIfCancellationRequested();
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
                    }
                }
            }
            finally
            {
                _readings?.Dispose();
                _completions?.Dispose();
            }
        }

        private async Task Take(FleetSite record, string place)
        {
            if (!TimeZoneInfo.TryFindSystemTimeZoneById(record.TimeZone, out _)) throw new FleetFaultException("fleetBadField", place, "timeZone");
            var site = await db.Sites.SingleOrDefaultAsync(x => x.Name == record.Name, ct);
            if (site is null)
            {
                site = db.Sites.Add(new Site { Name = record.Name, TimeZone = record.TimeZone }).Entity;
                await db.SaveChangesAsync(ct);
            }

            if (!_sites.TryAdd(record.Name, site.Id)) throw new FleetFaultException("fleetTwice", place, record.Name);
        }

        private async Task Take(FleetProgram record, string place)
        {
            var row = FleetMapping.ToRow(record, place);
            if (row.Items.Select(x => x.Code).Distinct().Count() != row.Items.Count) throw new FleetFaultException("fleetTwice", place, "items");
            var kept = await db.Programs.AsNoTracking().AsSplitQuery().Include(x => x.Items).Include(x => x.Compartments).SingleOrDefaultAsync(x => x.Code == record.Code, ct);
            if (kept is null)
            {
                db.Programs.Add(row);
                await db.SaveChangesAsync(ct);
                kept = row;
            }
            else if (!Same(kept, row))
            {
                throw new FleetFaultException("fleetProgramDiffers", place, record.Code);
            }

            if (!_programs.TryAdd(record.Code, (kept.Id, row.Items.Select(x => x.Code).ToHashSet(StringComparer.Ordinal)))) throw new FleetFaultException("fleetTwice", place, record.Code);
        }

        private static bool Same(ServiceProgram a, ServiceProgram b) =>
            System.Text.Json.JsonSerializer.Serialize(FleetMapping.ToRecord(a)) == System.Text.Json.JsonSerializer.Serialize(FleetMapping.ToRecord(b));

        private async Task Take(FleetMachine record, string place)
        {
            if (!_sites.TryGetValue(record.Site, out var site)) throw new FleetFaultException("fleetBadField", place, "site");
            if (!_programs.TryGetValue(record.Program, out var program)) throw new FleetFaultException("fleetBadField", place, "program");
            if (_machines.ContainsKey(record.Unit)) throw new FleetFaultException("fleetTwice", place, record.Unit);
            if (await db.Machines.AnyAsync(x => x.Unit == record.Unit, ct)) throw new FleetFaultException("fleetUnitTaken", place, record.Unit);
            var machine = FleetMapping.ToRow(record, site, program.Id, place);
            db.Machines.Add(machine);
            await db.SaveChangesAsync(ct);
            db.Parked.AddRange(record.Parked.Select(x => FleetMapping.ToRow(x, machine.Id, place)));
            db.MeterChanges.AddRange(record.MeterChanges.Select(x => FleetMapping.ToRow(x, machine.Id, place)));
            await db.SaveChangesAsync(ct);
            db.ChangeTracker.Clear();
            _machines.Add(record.Unit, (machine.Id, program.Items));
        }

        private void Take(FleetReading record, string place)
        {
            if (!_machines.TryGetValue(record.Unit, out var machine)) throw new FleetFaultException("fleetNoUnit", place, record.Unit);
            var at = FleetMapping.Instant(record.At, place, "at");
            var life = FleetMapping.Tenths(record.LifeHours, place, "lifeHours");
            var state = FleetMapping.Parse<ReadingState>(record.State, place, "state");
            if (state == ReadingState.Accepted)
            {
                if (_last.TryGetValue(record.Unit, out var last) && (at < last.AtMs || life < last.Life)) throw new FleetFaultException("fleetBackward", place, record.Unit);
                _last[record.Unit] = (at, life);
            }

            _readings ??= new(db, "Readings", "MachineId", "AtMs", "ShownTenths", "LifeTenths", "State", "Source", "By", "EnteredMs", "DecidedBy", "Reason");
            _readings.Add(
                machine.Id, at, FleetMapping.Tenths(record.Hours, place, "hours"), life, (int)state, (int)FleetMapping.Parse<ReadingSource>(record.Source, place, "source"),
                record.By, FleetMapping.Instant(record.Entered, place, "entered"), record.DecidedBy, record.Reason);
            if (++_readingCount % ReportEvery == 0) progress?.Report(new("readings", _readingCount));
        }

        private void Take(FleetCompletion record, string place)
        {
            if (!_machines.TryGetValue(record.Unit, out var machine)) throw new FleetFaultException("fleetNoUnit", place, record.Unit);
            if (!machine.Items.Contains(record.Item)) throw new FleetFaultException("fleetNoItem", place, record.Item);
            _completions ??= new(
                db, "Completions", "MachineId", "ItemCode", "Kind", "DoneOn", "LifeTenths", "ShownTenths", "Note", "By", "SaidBy", "EnteredMs", "Batch", "VoidedMs", "VoidedBy", "VoidReason");
            _completions.Add(
                machine.Id, record.Item, (int)FleetMapping.Parse<CompletionKind>(record.Kind, place, "kind"), Formats.Iso.Day(FleetMapping.Day(record.On, place, "on")),
                FleetMapping.Tenths(record.LifeHours, place, "lifeHours"), FleetMapping.Tenths(record.Hours, place, "hours"), record.Note ?? "", record.By, record.SaidBy,
                FleetMapping.Instant(record.Entered, place, "entered"), record.Batch,
                record.VoidedAt is { } at ? FleetMapping.Instant(at, place, "voidedAt") : null, record.VoidedBy, record.VoidReason);
            if (++_completionCount % ReportEvery == 0) progress?.Report(new("completions", _completionCount));
        }
    }
}
