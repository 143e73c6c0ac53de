using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Readings;
using Nippers.App.Work;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Oil;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Oil;
using Nippers.Data.Programs;
using Nippers.Data.Queries;

namespace Nippers.App.Oil;

/// <summary>A coolant test, as entered.</summary>
public sealed record CoolantInput
{
    public bool Laboratory { get; init; }
    public string? On { get; init; }
    public string? Share { get; init; }
    public string? Freeze { get; init; }
    public string? Ph { get; init; }
    public Inhibitor? Inhibitor { get; init; }
    public string? Chloride { get; init; }
    public string? Sulphate { get; init; }
    public string? Wanted { get; init; }
    public string? Refill { get; init; }
    public string? Note { get; init; }
    public string? Key { get; init; }
}

/// <summary>A test with what it comes to.</summary>
public sealed record JudgedCoolant(CoolantTestRow Row, CoolantResult Result);

/// <summary>The coolant of a machine.</summary>
/// <param name="Place">Its compartment; null when the machine has none.</param>
/// <param name="VolumeLitres">Volume of the system; null when not entered.</param>
public sealed record CoolantPage(
    Machine Machine,
    ProgramCompartment? Place,
    double? VolumeLitres,
    IReadOnlyList<JudgedCoolant> Tests,
    DateOnly Today
);

/// <summary>Keeps coolant tests and says what follows from them.</summary>
/// <remarks>A test is also the work that the program asks for: it is recorded as done with it, and undone with it.</remarks>
public sealed class CoolantTests(NippersDb db, UnitOfWork writes, RecordWork work)
{
    /// <summary>Share that is wanted where nobody says otherwise, percent.</summary>
    internal const double UsualShare = 50;

    /// <summary>Share of what is filled in where nobody says otherwise: undiluted, percent.</summary>
    internal const double UsualRefill = 100;

    private const int Shown = 30;

    public async Task<CoolantPage?> Page(string unit, CancellationToken ct)
    {
        var facts = await db.FactsOf(unit, writes.Now, ct);
        if (facts is null)
            return null;
        var place = facts.Machine.Program.Compartments.Find(x => x.Kind == CompartmentKind.Cooling);
        var litres = place is null
            ? null
            : await db
                .MachineCompartments.Where(x => x.MachineId == facts.Machine.Id && x.Code == place.Code)
                .Select(x => x.CapacityLitres)
                .FirstOrDefaultAsync(ct);
        var rows = await db
            .CoolantTests.AsNoTracking()
            .Where(x => x.MachineId == facts.Machine.Id)
            .OrderByDescending(x => x.On)
            .ThenByDescending(x => x.At)
            .Take(Shown)
            .ToListAsync(ct);
        return new(
            facts.Machine,
            place,
            litres?.Value,
            [.. rows.Select(x => new JudgedCoolant(x, Judge(x, facts.Machine.Site.LowC, litres?.Value)))],
            LocalDay.Of(writes.Now, facts.Zone)
        );
    }

    internal static CoolantResult Judge(CoolantTestRow row, int? lowC, double? litres) =>
        CoolantJudge.Judge(
            new(row.SharePercent, row.FreezeC, row.Ph, row.Inhibitor, row.ChloridePpm, row.SulphatePpm),
            lowC,
            litres,
            row.WantedPercent,
            row.RefillPercent
        );

    public Task<Outcome<CoolantTestRow>> Keep(string unit, CoolantInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (
                    await writes.AgainById(
                        actor,
                        input.Key,
                        new { unit, input },
                        kept => db.CoolantTests.WithVoided().SingleAsync(x => x.Id == kept, ct),
                        ct
                    ) is
                    { } again
                )
                    return again;

                var facts = await db.FactsOf(unit, writes.Now, ct);
                if (facts is null)
                    return Outcome<CoolantTestRow>.Refused(Refusals.NoSuchUnit("", unit, Array.Empty<string>()));
                var refusals = new List<Refusal>();
                var today = LocalDay.Of(writes.Now, facts.Zone);
                var on = string.IsNullOrWhiteSpace(input.On) ? today : LocalTime.ParseDate(input.On);
                if (on is null)
                    refusals.Add(Refusals.NotADate("on"));
                else if (on > today)
                    refusals.Add(Refusals.DateInFuture("on"));
                var row = new CoolantTestRow
                {
                    MachineId = facts.Machine.Id,
                    On = on ?? today,
                    LifeHours = DefectService.LastHours(facts),
                    Laboratory = input.Laboratory,
                    SharePercent = Typed.Optional(input.Share, "share", 0, 100, refusals),
                    FreezeC = Typed.Temperature(input.Freeze, "freeze", -80, 10, refusals),
                    Ph = Typed.Optional(input.Ph, "ph", 0, 14, refusals),
                    Inhibitor = input.Inhibitor,
                    ChloridePpm = Typed.Optional(input.Chloride, "chloride", 0, 50_000, refusals),
                    SulphatePpm = Typed.Optional(input.Sulphate, "sulphate", 0, 50_000, refusals),
                    WantedPercent = Typed.Optional(input.Wanted, "wanted", 10, 70, refusals) ?? UsualShare,
                    RefillPercent = Typed.Optional(input.Refill, "refill", 0, 100, refusals) ?? UsualRefill,
                    Note = Typed.Words(input.Note, "note", 500, refusals),
                    By = actor.Name,
                    At = writes.Now,
                };
                if (
                    refusals.Count == 0
                    && row is { SharePercent: null, FreezeC: null, Ph: null, Inhibitor: null, ChloridePpm: null, SulphatePpm: null }
                )
                    refusals.Add(Refusals.CoolantNothing());
                if (refusals.Count > 0)
                    return Outcome<CoolantTestRow>.Refused(refusals);
                if (await Done(facts, row, actor, ct) is { } refused)
                    return Outcome<CoolantTestRow>.Refused(refused);
                db.CoolantTests.Add(row);
                await db.SaveChangesAsync(ct);
                writes.Remember(actor, input.Key, row.Id.ToString(System.Globalization.CultureInfo.InvariantCulture));
                writes.Audit(
                    actor,
                    "coolant.test",
                    unit,
                    row.MachineId,
                    null,
                    new
                    {
                        row.SharePercent,
                        row.FreezeC,
                        row.Ph,
                        row.Inhibitor,
                        row.ChloridePpm,
                        row.SulphatePpm,
                    }
                );
                return Outcome<CoolantTestRow>.Of(row);
            },
            ct
        );

    /// <summary>Takes a test back.</summary>
    public Task<Outcome<CoolantTestRow>> Void(string unit, long id, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db.CoolantTests.SingleOrDefaultAsync(
                    x => x.Id == id && db.Machines.Any(m => m.Id == x.MachineId && m.Unit == unit),
                    ct
                );
                if (row is null)
                    return Outcome<CoolantTestRow>.Refused(Refusals.CoolantGone());
                (row.VoidedAt, row.VoidedBy) = (writes.Now, actor.Name);
                var items = await db
                    .ProgramItems.Where(x =>
                        x.Work == ItemWork.Coolant && db.Machines.Any(m => m.Id == row.MachineId && m.ProgramId == x.ProgramId)
                    )
                    .Select(x => x.Code)
                    .ToListAsync(ct);
                foreach (
                    var done in await db
                        .Completions.Where(x => x.MachineId == row.MachineId && x.Batch == row.Batch && items.Contains(x.ItemCode))
                        .ToListAsync(ct)
                )
                {
                    (done.VoidedAt, done.VoidedBy) = (writes.Now, actor.Name);
                }

                writes.Audit(actor, "coolant.void", unit, row.MachineId, new { row.SharePercent, row.Ph }, null);
                await writes.RefreshStatus([row.MachineId], ct);
                return Outcome<CoolantTestRow>.Of(row);
            },
            ct
        );

    /// <summary>Records the test that the program asks for, at the hours of its day.</summary>
    private async Task<Refusal?> Done(MachineFacts facts, CoolantTestRow row, Actor actor, CancellationToken ct)
    {
        if (facts.Items.FirstOrDefault(x => x.Work == ItemWork.Coolant) is not { } item)
            return null;
        var (now, evening) = (writes.Now, LocalTime.StartOf(row.On.AddDays(1), facts.Zone));
        var until = evening < now ? evening : now;
        var then = until < now ? (await db.FactsOf(facts.Machine.Unit, evening, ct))! : facts;
        var last = then.Record.Readings.Where(x => x.At <= until).Select(x => (MeterHours?)x.Hours).LastOrDefault()
            ?? then.Record.CommissionedHours;
        var hours = (last - facts.Offsets.At(until)).ToString();
        var done = await work.Do(
            new(facts.Machine.Unit, [item.Code], hours, Formats.Iso.Day(row.On), row.Note, OfferedHours: hours),
            actor,
            ct
        );
        if (!done.Done)
            return done.Refusals[0].Field == "hours" ? done.Refusals[0] with { Field = "on" } : done.Refusals[0];
        (row.LifeHours, row.Batch) = (last, done.Value!.Batch);
        return null;
    }
}
