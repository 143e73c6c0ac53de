using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Statuses;
using Nippers.Data;
using Nippers.Data.Queries;
using Nippers.Data.Records;

namespace Nippers.App;

/// <summary>Runs what changes the database: one immediate transaction, audit rows and standing rows in it, or nothing.</summary>
public sealed class UnitOfWork(NippersDb db, StatusKeeper standings, WriteGate gate, TimeProvider clock)
{
    /// <summary>Longest key, characters.</summary>
    public const int LongestKey = 100;

    private static readonly JsonSerializerOptions AuditJson = new()
    {
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
    };

    // SQLite's codes for a second row where there may be one.
    private const int TwiceUnique = 2067;
    private const int TwiceKey = 1555;

    // A row may take some milliseconds: machine and judgement are read for each.
    private const int RowsInATurn = 20;
    private static readonly TimeSpan TurnLasts = TimeSpan.FromMilliseconds(100);

    private readonly Dictionary<string, string> _prints = new(StringComparer.Ordinal);
    private DateTimeOffset? _doneAt;
    private (Actor Actor, string Key)? _once;

    /// <summary>
    /// Now, to the millisecond: what is kept is the same when it is read again. For what was done on a phone, when it was done.
    /// </summary>
    public DateTimeOffset Now => DateTimeOffset.FromUnixTimeMilliseconds((_doneAt ?? clock.GetUtcNow()).ToUnixTimeMilliseconds());

    /// <summary>Remembers the next change that is made under a key, so that a repeat can be known.</summary>
    public void Once(Actor actor, string key) => _once = (actor, key);

    /// <summary>Keeps what follows as done at an instant that is not later than now.</summary>
    public void DoneAt(DateTimeOffset at) => _doneAt = at < clock.GetUtcNow() ? at : clock.GetUtcNow();

    /// <summary>Runs a change. A refusal rolls everything back.</summary>
    /// <param name="change">The change.</param>
    /// <param name="ct">Cancels.</param>
    /// <param name="readBefore">
    /// The caller has read before its turn came, to hold up others the less, and looks itself whether that still holds.
    /// </param>
    public Task<Outcome<T>> Run<T>(Func<Task<Outcome<T>>> change, CancellationToken ct, bool readBefore = false)
        where T : class => gate.OnWriter(asked => InTurn(change, readBefore, asked, ct), ct);

    private async Task<Outcome<T>> InTurn<T>(Func<Task<Outcome<T>>> change, bool readBefore, long asked, CancellationToken ct)
        where T : class
    {
        using var turn = await gate.Enter(ct, asked);

        // What this context read before its turn came may have changed since: nothing is judged, or written back, by it.
        if (!readBefore && !db.ChangeTracker.HasChanges())
            db.ChangeTracker.Clear();
        await using var transaction = await db.Database.BeginTransactionAsync(ct);
        Outcome<T> outcome;
        try
        {
            outcome = await change();
        }
        catch (DbUpdateException fault) when (fault.InnerException is SqliteException { SqliteExtendedErrorCode: TwiceUnique or TwiceKey })
        {
            // What may be there once is there already, by somebody else or by the same form.
            await transaction.RollbackAsync(ct);
            db.ChangeTracker.Clear();
            return Outcome<T>.Refused(Refusals.ChangedMeanwhile());
        }

        if (!outcome.Done)
        {
            await transaction.RollbackAsync(ct);
            db.ChangeTracker.Clear();
            return outcome;
        }

        if (_once is var (actor, key) && !db.WriteKeys.Local.Any(x => x.Key == Full(actor, key)))
        {
            // The same form came twice at once, and the other was first.
            if (await Known(actor, key, ct) is not null)
            {
                await transaction.RollbackAsync(ct);
                db.ChangeTracker.Clear();
                return Outcome<T>.Refused(Refusals.AlreadyDone());
            }

            Remember(actor, key, "");
        }

        _once = null;
        try
        {
            await db.SaveChangesAsync(ct);
        }
        catch (DbUpdateException fault)
            when (fault is DbUpdateConcurrencyException
                || fault.InnerException is SqliteException { SqliteExtendedErrorCode: TwiceUnique or TwiceKey }
            )
        {
            await transaction.RollbackAsync(ct);
            db.ChangeTracker.Clear();
            return Outcome<T>.Refused(Refusals.ChangedMeanwhile());
        }

        await transaction.CommitAsync(ct);
        return outcome;
    }

    /// <summary>
    /// Makes a change row by row where each row stands for itself and one that comes again does no harm: in turns so short that
    /// nobody waits long for the next, each of them kept or not.
    /// </summary>
    /// <param name="rows">The rows.</param>
    /// <param name="each">Takes one.</param>
    /// <param name="ct">Cancels.</param>
    /// <returns>How many were taken: fewer than there are when a turn did not come in time or was refused.</returns>
    /// <exception cref="DatabaseBusyException">Not even the first turn came.</exception>
    public async Task<int> InTurns<T>(IReadOnlyList<T> rows, Func<T, Task> each, CancellationToken ct)
    {
        var taken = 0;
        while (taken < rows.Count)
        {
            var next = taken;
            try
            {
                var turn = await Run(
                    async () =>
                    {
                        var began = Stopwatch.GetTimestamp();
                        while (next < rows.Count && next - taken < RowsInATurn && Stopwatch.GetElapsedTime(began) < TurnLasts)
                            await each(rows[next++]);
                        return Outcome<string>.Of("");
                    },
                    ct
                );
                if (!turn.Done)
                    return taken;
            }
            catch (DatabaseBusyException) when (taken > 0)
            {
                return taken;
            }

            taken = next;
        }

        return taken;
    }

    /// <summary>The answer to a write under a key that came before; null when it is new or there is no key.</summary>
    /// <param name="actor">Who writes: keys are each person's own.</param>
    /// <param name="key">The key.</param>
    /// <param name="body">All that is asked for now. Under a key that stands for something else it is refused, never dropped.</param>
    /// <param name="kept">What the earlier one had come to, from what was remembered of it.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<Outcome<T>?> Again<T>(Actor actor, string? key, object body, Func<string, Task<T>> kept, CancellationToken ct)
        where T : class
    {
        if (string.IsNullOrWhiteSpace(key))
            return null;
        if (key.Trim().Length > LongestKey)
            return Outcome<T>.Refused(Refusals.KeyTooLong(LongestKey));
        var full = Full(actor, key);
        var print = _prints[full] = BodyPrint.Of(body);
        var row = await db.WriteKeys.AsNoTracking().SingleOrDefaultAsync(x => x.Key == full, ct);
        return row is null ? null
            : row.Print != print ? Outcome<T>.Refused(Refusals.KeyUsed())
            : Outcome<T>.Of(await kept(row.Outcome));
    }

    /// <summary>The same where the number of a row was remembered.</summary>
    public Task<Outcome<T>?> AgainById<T>(Actor actor, string? key, object body, Func<long, Task<T>> kept, CancellationToken ct)
        where T : class => Again(actor, key, body, x => kept(long.Parse(x, CultureInfo.InvariantCulture)), ct);

    /// <summary>What an earlier write under this key came to, whatever it asked for; null when there was none.</summary>
    public async Task<string?> Known(Actor actor, string key, CancellationToken ct)
    {
        var full = Full(actor, key);
        return await db.WriteKeys.Where(x => x.Key == full).Select(x => x.Outcome).SingleOrDefaultAsync(ct);
    }

    /// <summary>Remembers what a write under this key came to.</summary>
    public void Remember(Actor actor, string? key, string outcome)
    {
        if (!string.IsNullOrWhiteSpace(key))
            db.WriteKeys.Add(
                new()
                {
                    Key = Full(actor, key),
                    At = Now,
                    Outcome = outcome,
                    Print = _prints.GetValueOrDefault(Full(actor, key)),
                }
            );
    }

    /// <summary>Adds the audit row of a change.</summary>
    public void Audit(Actor actor, string what, string subject, int? machineId, object? before, object? after) =>
        db.Audit.Add(
            new AuditRow
            {
                At = Now,
                Who = actor.Name,
                What = what,
                Subject = subject,
                MachineId = machineId,
                Before = before is null ? null : JsonSerializer.Serialize(before, AuditJson),
                After = after is null ? null : JsonSerializer.Serialize(after, AuditJson),
            }
        );

    /// <summary>
    /// Saves what was changed so far and derives the machines' standing anew, still inside the transaction: as of now, also for what
    /// a phone did hours ago.
    /// </summary>
    public async Task RefreshStatus(IReadOnlyCollection<int> machineIds, CancellationToken ct)
    {
        await db.SaveChangesAsync(ct);
        await standings.Refresh(machineIds, clock.GetUtcNow(), ct);
    }

    /// <summary>The same for one machine whose facts the caller has, with what it has just changed: they are not read again.</summary>
    public async Task RefreshStatus(MachineFacts changed, CancellationToken ct)
    {
        await db.SaveChangesAsync(ct);

        // Facts of the hour in which a phone did it are not those of now.
        var known = _doneAt is null ? changed : null;
        await standings.Refresh([changed.Machine.Id], clock.GetUtcNow(), ct, known: known);
    }

    private static string Full(Actor actor, string key) => $"{actor.Name}:{key.Trim()}";
}
