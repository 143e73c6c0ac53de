using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Nippers.Data.Queries;

namespace Nippers.Data.Programs;

/// <summary>
/// Programs with all that belongs to them as they were last read, one set for each database that is served. A program is a hundred rows
/// that change a few times a year, and every page of a machine needs them. What is kept is as new as the program's version, which is
/// asked each time; whoever saves a part of a program without counting its version is stopped.
/// </summary>
internal sealed class ProgramsKept
{
    private static readonly ConditionalWeakTable<DbContextOptions, ProgramsKept> All = [];

    private readonly ConcurrentDictionary<int, ServiceProgram> _kept = new();

    private sealed record ProgramVersion(int Id, int Version);

    private static readonly Func<NippersDb, List<int>, IAsyncEnumerable<ProgramVersion>> Versions = EF.CompileAsyncQuery(
        (NippersDb db, List<int> ids) =>
            db.Programs.AsNoTracking().Where(x => ids.Contains(x.Id)).Select(x => new ProgramVersion(x.Id, x.Version))
    );

    /// <summary>What is kept for a database.</summary>
    public static ProgramsKept For(DbContextOptions options) => All.GetOrCreateValue(options);

    /// <summary>Some programs, by id. They are shared: nobody changes what he gets here.</summary>
    public async Task<Dictionary<int, ServiceProgram>> Of(NippersDb db, IReadOnlyCollection<int> ids, CancellationToken ct)
    {
        // Asked before the rows: what is read after it is at least as new, and is read again once it turns out to be newer.
        var versions = await Versions(db, [.. ids]).ToListAsync(ct);
        var found = new Dictionary<int, ServiceProgram>(versions.Count);
        foreach (var program in versions)
        {
            if (_kept.TryGetValue(program.Id, out var kept) && kept.Version == program.Version)
                found.Add(program.Id, kept);
        }

        var missing = versions.Select(x => x.Id).Where(x => !found.ContainsKey(x)).ToList();
        if (missing.Count == 0)
            return found;
        foreach (var (id, program) in await db.ProgramsWithItems(missing, ct))
        {
            found.Add(id, program);

            // What a transaction has changed may be taken back, and its version given to another change.
            if (db.Database.CurrentTransaction is null)
                _kept[id] = program;
        }

        return found;
    }

    /// <summary>Stops whoever saves a part of a program and leaves its version as it was.</summary>
    internal sealed class Counting : SaveChangesInterceptor
    {
        public static readonly Counting Instance = new();

        public override ValueTask<InterceptionResult<int>> SavingChangesAsync(
            DbContextEventData eventData,
            InterceptionResult<int> result,
            CancellationToken cancellationToken = default
        )
        {
            if (eventData.Context is { } db)
            {
                var changed = db
                    .ChangeTracker.Entries()
                    .Where(x => x.State is EntityState.Added or EntityState.Modified or EntityState.Deleted)
                    .ToList();
                var counted = changed.Where(IsCounted).Select(x => ((ServiceProgram)x.Entity).Id).ToHashSet();
                if (changed.Select(ProgramOf).OfType<int>().FirstOrDefault(x => !counted.Contains(x)) is > 0 and var program)
                    throw new InvalidOperationException($"The version of program {program} was not counted.");
            }

            return new(result);
        }

        private static bool IsCounted(EntityEntry entry) =>
            entry.Entity is ServiceProgram
            && (entry.State != EntityState.Modified || entry.Property(nameof(ServiceProgram.Version)).IsModified);

        private static int? ProgramOf(EntityEntry entry) =>
            entry.Entity switch
            {
                ServiceProgram x => x.Id,
                ProgramItem x => x.ProgramId,
                ProgramCompartment x => x.ProgramId,
                _ => null,
            };
    }
}
