using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Feeds;
using Nippers.Data.Queries;

namespace Nippers.App.Feeds;

/// <summary>A fault code that a feed told of, as it is shown.</summary>
/// <param name="Row">The code.</param>
/// <param name="Unit">Its machine.</param>
/// <param name="Words">What it says, in English or as somebody wrote it.</param>
/// <param name="Zone">Zone of the machine's site.</param>
public sealed record FeedCodeLine(FeedCodeRow Row, string Unit, string Words, TimeZoneInfo Zone)
{
    /// <summary>Nobody has looked at it.</summary>
    public bool Waits => Row is { DefectId: null, LookedAt: null };
}

/// <summary>
/// Fault codes that feeds tell of: one that appears proposes a defect, one that stops a machine is a stop at once, and one that goes
/// closes nothing.
/// </summary>
/// <remarks>Rules 15.</remarks>
public sealed class FeedCodes(NippersDb db, UnitOfWork writes, ReportDefect report, DefectService book)
{
    private const int ShownDays = 90;
    private const int Most = 200;

    // A code that comes and goes with each bump is one line a day in a defect's history.
    private static readonly TimeSpan SaidAgainAfter = TimeSpan.FromDays(1);
    private static readonly Actor Itself = new(FeedIntake.Name, Roles.Technician);

    /// <summary>Takes the codes that are active on a machine, in the caller's turn. The same list twice changes nothing.</summary>
    /// <param name="machineId">The machine.</param>
    /// <param name="active">All codes that are active.</param>
    /// <param name="at">When they were.</param>
    /// <param name="ct">Cancels.</param>
    internal async Task Take(int machineId, IReadOnlyCollection<FaultCode> active, DateTimeOffset at, CancellationToken ct)
    {
        var names = active.Select(x => x.ToString()).ToList();
        var rows = await db
            .FeedCodes.Where(x => x.MachineId == machineId && (x.GoneAt == null || names.Contains(x.Code)))
            .OrderBy(x => x.Id)
            .ToListAsync(ct);
        var ids = rows.Select(x => x.DefectId).OfType<long>().Distinct().ToList();
        var defects =
            ids.Count > 0 ? await db.Defects.Include(x => x.Machine).Where(x => ids.Contains(x.Id)).ToDictionaryAsync(x => x.Id, ct) : [];
        var machine = new Lazy<Task<MachineFacts?>>(async () =>
            (await db.FactsOf([machineId], writes.Now, ct)).SingleOrDefault(x => !x.Machine.Retired)
        );
        foreach (var code in active)
        {
            var last = rows.LastOrDefault(x => x.Code == code.ToString());
            var defect = last?.DefectId is { } id ? defects.GetValueOrDefault(id) : null;
            if (last is { GoneAt: null })
            {
                // It outlives its repair: what was done did not end it.
                if (defect is not { State: DefectState.Closed } || !((defect.ReturnedAt ?? defect.RepairedAt) < at))
                    continue;
                (last.GoneAt, last.GoneHours) = (at, defect.RepairedHours ?? last.LifeHours);
            }
            else if (last is not null && (defect?.Stands ?? last is { DefectId: null, LookedAt: null }))
            {
                (last.GoneAt, last.GoneHours) = (null, null);
                last.Times++;
                if (defect is not null)
                    await Again(defect, code, ct);
                continue;
            }

            if (await machine.Value is { } facts)
                await Appear(facts, code, last, at, ct);
        }

        foreach (var row in rows.Where(x => x.GoneAt is null && !names.Contains(x.Code)))
        {
            row.GoneAt = at;
            row.GoneHours = await machine.Value is { } facts ? DefectService.LastHours(facts) : row.LifeHours;
            if (row.DefectId is { } id && defects.GetValueOrDefault(id) is { Stands: true } defect)
                await Say(defect, DefectAct.Said, $"The feed tells of code {row.Code} no longer. That closes nothing.", ct);
        }

        await db.SaveChangesAsync(ct);
    }

    private async Task Appear(MachineFacts facts, FaultCode code, FeedCodeRow? last, DateTimeOffset at, CancellationToken ct)
    {
        var life = DefectService.LastHours(facts);
        var own = await OwnMeaning(facts.Machine.Id, code, ct);
        var stop = CodeMeanings.StopOf(code, await db.StopSpns(ct), own);
        var row = db
            .FeedCodes.Add(
                new()
                {
                    MachineId = facts.Machine.Id,
                    Code = code.ToString(),
                    Since = at,
                    LifeHours = life,
                    RepeatOf = last is not null && IsRepeat(last, life) ? last.Id : null,
                }
            )
            .Entity;
        if (await Standing(facts.Machine.Id, code, ct) is { } standing)
        {
            row.DefectId = standing.Id;

            // What two people have graded down stays so: they knew the code.
            if (stop != CodeStop.None && standing.Grade < DefectGrade.Stop && standing.FoundGrade < DefectGrade.Stop)
            {
                var from = standing.Grade;
                DefectLook.Hold(standing, DefectGrade.Stop, life, LocalDay.Of(writes.Now, facts.Zone), writes.Now);
                book.Note(standing, facts.Machine.Unit, DefectAct.GradedUp, Told(code, stop, own), Itself, from, DefectGrade.Stop);
                await book.Saved(standing, ct);
            }
            else
                await Again(standing, code, ct);
            return;
        }

        if (stop == CodeStop.None)
            return;
        var input = Input(facts.Machine.Unit, code) with
        {
            On = CodeMeanings.PartOf(code, own),
            Words = CodeMeanings.Words(code, own),
            Grade = DefectGrade.Stop,
        };

        // Where that was refused it waits to be looked at, like any other.
        if (await report.Add(input, Itself, ct) is not { Value: { } defect })
            return;
        row.DefectId = defect.Id;
        book.Note(defect, facts.Machine.Unit, DefectAct.Said, Told(code, stop, own), Itself);
    }

    private static bool IsRepeat(FeedCodeRow last, MeterHours life) =>
        life.Tenths - (last.GoneHours ?? last.LifeHours).Tenths <= DefectRules.RepeatHours * 10;

    private static DefectInput Input(string unit, FaultCode code) =>
        new()
        {
            Unit = unit,
            Part = code is { Spn: { } spn, Fmi: { } fmi }
                ? string.Create(CultureInfo.InvariantCulture, $"SPN {spn} FMI {fmi}")
                : code.ToString(),
            Code = code.ToString(),
        };

    private static string Told(FaultCode code) => $"The feed tells of code {code}.";

    private static string Told(FaultCode code, CodeStop why, string? own) =>
        why switch
        {
            CodeStop.Public => $"The feed tells of code {code}. Its number stops every machine until a technician has looked.",
            CodeStop.Listed => $"The feed tells of code {code}. Planners have named its number among those that stop a machine.",
            CodeStop.Own => $"The feed tells of code {code}. It stops this machine, on which it was said to mean: {own}",
            _ => Told(code),
        };

    private async Task<DefectRow?> Standing(int machineId, FaultCode code, CancellationToken ct) =>
        (
            await db
                .Defects.Include(x => x.Machine)
                .Where(x => x.MachineId == machineId && x.Code != "" && (x.State == DefectState.Open || x.State == DefectState.Repaired))
                .OrderByDescending(x => x.Grade)
                .ToListAsync(ct)
        ).Find(x => FaultCode.ParseAll(x.Code).Contains(code));

    private Task<string?> OwnMeaning(int machineId, FaultCode code, CancellationToken ct)
    {
        var name = code.ToString();
        return db.MachineCodes.Where(x => x.MachineId == machineId && x.Code == name).Select(x => x.Meaning).FirstOrDefaultAsync(ct);
    }

    /// <summary>A code that came again, or was found by a person before: a repair that waits to be released did not end it.</summary>
    private async Task Again(DefectRow defect, FaultCode code, CancellationToken ct)
    {
        if (defect.State == DefectState.Repaired)
        {
            defect.State = DefectState.Open;
            book.Note(defect, defect.Machine.Unit, DefectAct.Reopened, Told(code), Itself);
            await book.Saved(defect, ct);
            return;
        }

        await Say(defect, DefectAct.SeenAgain, Told(code), ct);
    }

    private async Task Say(DefectRow defect, DefectAct act, string words, CancellationToken ct)
    {
        var since = writes.Now - SaidAgainAfter;
        var said = db.DefectEvents.Where(x => x.DefectId == defect.Id && x.By == FeedIntake.Name && x.At > since);
        if (await said.AnyAsync(x => x.Act == act && x.Words == words, ct))
            return;
        book.Note(defect, defect.Machine.Unit, act, words, Itself);
        defect.Version++;
    }

    /// <summary>Writes a proposed code down as a defect.</summary>
    /// <param name="id">The code.</param>
    /// <param name="input">What is said of it; its machine, place and code are its own.</param>
    /// <param name="actor">Who looked.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<DefectRow>> Write(long id, DefectInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var body = new
                {
                    what = "feedCode",
                    id,
                    input,
                };
                if (await writes.AgainById(actor, input.Key, body, x => db.Defects.SingleAsync(d => d.Id == x, ct), ct) is { } again)
                    return again;
                var (row, refused) = await Waiting(id, actor, ct);
                if (row is null || FaultCode.Parse(row.Code) is not { } code)
                    return Outcome<DefectRow>.Refused(refused ?? Refusals.ChangedMeanwhile());
                var unit = await db.Machines.Where(x => x.Id == row.MachineId).Select(x => x.Unit).SingleAsync(ct);
                var own = Input(unit, code);
                var outcome = await report.Add(
                    input with
                    {
                        Unit = unit,
                        Part = own.Part,
                        Code = own.Code,
                        ChoosesGrade = true,
                    },
                    actor,
                    ct
                );
                if (!outcome.Done)
                    return outcome;
                row.DefectId = outcome.Value!.Id;
                row.Version++;
                writes.Remember(actor, input.Key, outcome.Value.Id.ToString(CultureInfo.InvariantCulture));
                return outcome;
            },
            ct
        );

    /// <summary>Says that somebody has looked, and that there is nothing to write down.</summary>
    /// <param name="id">The code.</param>
    /// <param name="words">What they saw.</param>
    /// <param name="actor">Who looked.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<FeedCodeRow>> Looked(long id, string? words, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var (row, refused) = await Waiting(id, actor, ct);
                if (row is null)
                    return Outcome<FeedCodeRow>.Refused(refused!);
                var refusals = new List<Refusal>();
                var said = Typed.Words(words, "looked", Typed.LongestWords, refusals, needed: true);
                if (refusals.Count > 0)
                    return Outcome<FeedCodeRow>.Refused(refusals);
                (row.LookedBy, row.LookedAt, row.LookedWords) = (actor.Name, writes.Now, said);
                row.Version++;
                writes.Audit(actor, "feed.looked", row.Code, row.MachineId, null, new { row.Since, words = said });
                return Outcome<FeedCodeRow>.Of(row);
            },
            ct
        );

    private async Task<(FeedCodeRow? Row, Refusal? Refused)> Waiting(long id, Actor actor, CancellationToken ct)
    {
        if (actor.Role == Roles.Operator)
            return (null, Refusals.TechnicianNeeded());
        var row = await db.FeedCodes.SingleOrDefaultAsync(x => x.Id == id, ct);
        return row is { DefectId: null, LookedAt: null } ? (row, null) : (null, Refusals.ChangedMeanwhile());
    }

    /// <summary>How many codes nobody has looked at.</summary>
    public Task<int> Unseen(CancellationToken ct) => db.FeedCodes.CountAsync(x => x.DefectId == null && x.LookedAt == null, ct);

    /// <summary>Codes that a machine's page shows: active ones, and those that nobody has looked at.</summary>
    public Task<IReadOnlyList<FeedCodeLine>> Of(int machineId, CancellationToken ct) =>
        Lines(db.FeedCodes.Where(x => x.MachineId == machineId && (x.GoneAt == null || (x.DefectId == null && x.LookedAt == null))), ct);

    /// <summary>Codes of the last months, those first that nobody has looked at.</summary>
    /// <param name="unit">Those of one machine; null for all.</param>
    /// <param name="ct">Cancels.</param>
    public Task<IReadOnlyList<FeedCodeLine>> All(string? unit, CancellationToken ct)
    {
        var since = writes.Now.AddDays(-ShownDays);
        var rows = db.FeedCodes.Where(x => x.Since >= since || x.GoneAt == null || (x.DefectId == null && x.LookedAt == null));
        if (!string.IsNullOrEmpty(unit))
            rows = rows.Where(x => db.Machines.Any(m => m.Id == x.MachineId && m.Unit == unit));
        return Lines(rows, ct);
    }

    /// <summary>One code; null when there is none.</summary>
    public async Task<FeedCodeLine?> One(long id, CancellationToken ct) =>
        (await Lines(db.FeedCodes.Where(x => x.Id == id), ct)) is [var line, ..] ? line : null;

    private async Task<IReadOnlyList<FeedCodeLine>> Lines(IQueryable<FeedCodeRow> rows, CancellationToken ct) =>
        [
            .. (
                await rows.AsNoTracking()
                    .OrderByDescending(x => x.DefectId == null && x.LookedAt == null)
                    .ThenByDescending(x => x.GoneAt == null)
                    .ThenByDescending(x => x.Since)
                    .ThenByDescending(x => x.Id)
                    .Take(Most)
                    .Join(
                        db.Machines,
                        x => x.MachineId,
                        x => x.Id,
                        (code, machine) =>
                            new
                            {
                                code,
                                machine.Unit,
                                machine.Site.TimeZone,
                                Own = db
                                    .MachineCodes.Where(m => m.MachineId == code.MachineId && m.Code == code.Code)
                                    .Select(m => m.Meaning)
                                    .FirstOrDefault(),
                            }
                    )
                    .ToListAsync(ct)
            ).Select(x => new FeedCodeLine(
                x.code,
                x.Unit,
                FaultCode.Parse(x.code.Code) is { } code ? CodeMeanings.Words(code, x.Own) : x.code.Code,
                TimeZoneInfo.FindSystemTimeZoneById(x.TimeZone)
            )),
        ];
}
