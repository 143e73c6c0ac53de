using Microsoft.EntityFrameworkCore;
using Nippers.App.Visits;
using Nippers.Core.Fluids;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Programs;
using Nippers.Data.Queries;

namespace Nippers.App.Programs;

/// <summary>The numbers of a program, as entered.</summary>
public sealed record ProgramSettingsInput(
    string? Name,
    IntervalBasis IntervalBasis,
    string? CreditPercent,
    string? WindowPercent,
    string? LeastWindowHours,
    string? ComingDays
);

/// <summary>An item, as entered.</summary>
public sealed record ProgramItemInput
{
    /// <summary>Code of the item that is changed; null for a new one.</summary>
    public string? OldCode { get; init; }
    public string? Code { get; init; }
    public string? Name { get; init; }
    public string? Compartment { get; init; }
    public string? EveryHours { get; init; }
    public string? EveryMonths { get; init; }

    /// <summary>Kilometres.</summary>
    public string? EveryKm { get; init; }
    public string? FirstAtHours { get; init; }
    public bool Once { get; init; }
    public DutyFactor DutyFactor { get; init; } = DutyFactor.Whole;
    public bool Strict { get; init; }
    public IntervalBasis? IntervalBasis { get; init; }
    public string? Needs { get; init; }
    public string? Points { get; init; }
    public bool Qualified { get; init; }
    public string? Caution { get; init; }
    public bool Off { get; init; }
    public ItemWork Work { get; init; }
    public string? Minutes { get; init; }
    public string? Covers { get; init; }
    public string? Access { get; init; }
}

/// <summary>A change of a program: its numbers, or one item.</summary>
public sealed record ProgramChangeInput(string Program, int Version, ProgramSettingsInput? Settings, ProgramItemInput? Item);

/// <summary>A change of how a compartment is drained and filled, as entered.</summary>
public sealed record CompartmentChange(
    string Program,
    int Version,
    string Compartment,
    string? DrainMinutes,
    string? SettleMinutes,
    string? Fluids,
    IReadOnlyCollection<string> Traits
)
{
    /// <summary>By how much analysis may lengthen the interval between oil changes, and up to where, hours; both or neither.</summary>
    public string? DrainStep { get; init; }
    public string? DrainCap { get; init; }

    /// <summary>Fluids approved for it, parted by semicolons.</summary>
    public string? DrainFluids { get; init; }
}

/// <summary>How one item of one machine would move. Null where the item is not on the machine.</summary>
public sealed record ProgramMove(string Unit, string ItemCode, string ItemName, ItemStatus? Before, ItemStatus? After);

/// <summary>What a change of a program would do.</summary>
public sealed record ProgramPreview(int Machines, IReadOnlyList<ProgramMove> Moves);

/// <summary>Shows which dues a change of a program moves, and makes it.</summary>
public sealed class ChangeProgram(NippersDb db, UnitOfWork writes)
{
    private const int LongestName = 120;
    private const int LongestText = 400;
    private const int LongestMonths = 240;
    private const int MostPoints = 200;

    /// <summary>Longest interval, kilometres.</summary>
    public const int MostKm = 500_000;
    private const int MostMinutes = 2000;

    /// <summary>What the change would move; nothing is kept.</summary>
    public async Task<Outcome<ProgramPreview>> Preview(ProgramChangeInput input, CancellationToken ct)
    {
        var id = await db.Programs.Where(x => x.Code == input.Program).Select(x => (int?)x.Id).SingleOrDefaultAsync(ct);
        if (id is null)
            return Outcome<ProgramPreview>.Refused(Refusals.NoSuchProgram(""));
        var changed = (await db.ProgramsWithItems([id.Value], ct)).Values.Single();
        if (changed.Version != input.Version)
            return Outcome<ProgramPreview>.Refused(Refusals.ChangedMeanwhile());
        var refusals = Apply(changed, input);
        if (refusals.Count > 0)
            return Outcome<ProgramPreview>.Refused(refusals);

        var now = writes.Now;
        var ids = await db.Machines.Where(x => x.ProgramId == id && !x.Retired).OrderBy(x => x.Unit).Select(x => x.Id).ToListAsync(ct);
        var moves = new List<ProgramMove>();
        foreach (var facts in (await db.FactsOf(ids, now, ct)).OrderBy(x => x.Machine.Unit, StringComparer.Ordinal))
        {
            var at = new MachineNow(UsePerDay.Estimate(facts.Record, now), now, facts.Zone);
            var before = Stand(facts, at, facts.Machine.Program);
            var after = Stand(facts, at, changed);
            foreach (var code in before.Keys.Union(after.Keys, StringComparer.Ordinal))
            {
                var (old, next) = (before.GetValueOrDefault(code), after.GetValueOrDefault(code));
                if (old?.DueHours == next?.DueHours && old?.DueOn == next?.DueOn && old?.Status == next?.Status)
                    continue;
                var name = (changed.Items.Find(x => x.Code == code) ?? facts.Machine.Program.Items.Find(x => x.Code == code))!.Name;
                moves.Add(new(facts.Machine.Unit, code, name, old, next));
            }
        }

        return Outcome<ProgramPreview>.Of(new(ids.Count, moves));
    }

    /// <summary>Makes the change; every machine on the program stands anew in the same transaction.</summary>
    public Task<Outcome<ServiceProgram>> Save(ProgramChangeInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var program = await db
                    .Programs.Include(x => x.Items)
                    .Include(x => x.Compartments)
                    .AsSplitQuery()
                    .SingleOrDefaultAsync(x => x.Code == input.Program, ct);
                if (program is null)
                    return Outcome<ServiceProgram>.Refused(Refusals.NoSuchProgram(""));
                if (program.Version != input.Version)
                    return Outcome<ServiceProgram>.Refused(Refusals.ChangedMeanwhile());
                var code = input.Item?.OldCode;
                object before =
                    input.Item is null ? Describe(program)
                    : program.Items.Find(x => x.Code == code) is { } item ? Describe(item)
                    : "new item";
                var refusals = Apply(program, input);
                if (refusals.Count > 0)
                    return Outcome<ServiceProgram>.Refused(refusals);

                program.Version++;
                writes.Audit(
                    actor,
                    "program.change",
                    program.Code,
                    null,
                    before,
                    input.Item is null ? Describe(program) : Describe(program.Items.Find(x => x.Code == input.Item.Code!.Trim())!)
                );
                await writes.RefreshStatus(await db.Machines.Where(x => x.ProgramId == program.Id).Select(x => x.Id).ToListAsync(ct), ct);
                return Outcome<ServiceProgram>.Of(program);
            },
            ct
        );

    /// <summary>Changes how a compartment of a program is drained, filled and with what. Dues do not move by it.</summary>
    public Task<Outcome<ServiceProgram>> SaveCompartment(CompartmentChange input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var program = await db.Programs.Include(x => x.Compartments).SingleOrDefaultAsync(x => x.Code == input.Program, ct);
                if (program?.Compartments.Find(x => x.Code == input.Compartment) is not { } compartment)
                    return Outcome<ServiceProgram>.Refused(Refusals.NoSuchCompartment(""));
                if (program.Version != input.Version)
                    return Outcome<ServiceProgram>.Refused(Refusals.ChangedMeanwhile());
                var refusals = new List<Refusal>();
                var drain = Typed.Whole(input.DrainMinutes, "drainMinutes", 0, 600, refusals) ?? 0;
                var settle = Typed.Whole(input.SettleMinutes, "settleMinutes", 0, 600, refusals) ?? 0;
                var fluids = Typed.Words(input.Fluids, "fluids", LongestText, refusals);
                if (FluidRange.Parse(fluids) is null)
                    refusals.Add(Refusals.FluidRanges());
                var step = Typed.Hours(input.DrainStep, "drainStep", refusals);
                var cap = Typed.Hours(input.DrainCap, "drainCap", refusals);
                var approved = Typed.Words(input.DrainFluids, "drainFluids", LongestText, refusals);
                if (step is null != cap is null)
                    refusals.Add(Refusals.DrainBoth(step is null ? "drainStep" : "drainCap"));
                else if (step is { Tenths: 0 })
                    refusals.Add(Refusals.AboveZero("drainStep"));
                else if (
                    cap is { } top
                    && await db.ProgramItems.AnyAsync(
                        x =>
                            x.ProgramId == program.Id
                            && x.Compartment == compartment.Code
                            && x.Work == ItemWork.Fluid
                            && x.EveryHours >= top,
                        ct
                    )
                )
                    refusals.Add(Refusals.DrainCap());
                if (input.Traits.Except(CompartmentTraits).Any())
                    refusals.Add(Refusals.NoSuchOption("traits", input.Traits.Except(CompartmentTraits).First()));
                if (refusals.Count > 0)
                    return Outcome<ServiceProgram>.Refused(refusals);
                var before = new
                {
                    compartment.Fluids,
                    compartment.Traits,
                    compartment.DrainMinutes,
                    compartment.SettleMinutes,
                };
                (compartment.DrainMinutes, compartment.SettleMinutes, compartment.Fluids) = (drain, settle, fluids);
                (compartment.DrainStepHours, compartment.DrainCapHours, compartment.DrainFluids) = (step, cap, approved);
                compartment.Traits = string.Join(' ', CompartmentTraits.Where(input.Traits.Contains));
                program.Version++;
                writes.Audit(
                    actor,
                    "program.compartment",
                    $"{program.Code}: {compartment.Code}",
                    null,
                    before,
                    new
                    {
                        compartment.Fluids,
                        compartment.Traits,
                        drain,
                        settle,
                        step = step?.Value,
                        cap = cap?.Value,
                        approved,
                    }
                );
                return Outcome<ServiceProgram>.Of(program);
            },
            ct
        );

    /// <summary>What can be said of how a compartment is drained and filled.</summary>
    public static IReadOnlyList<string> CompartmentTraits { get; } = ["round", "levelplug", "thick", "slow", "liveport", "warmlevel"];

    /// <summary>Makes an own program from another, which stays as it is.</summary>
    public Task<Outcome<ServiceProgram>> Copy(string from, string? newCode, string? newName, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (!await db.Programs.AnyAsync(x => x.Code == from, ct))
                    return Outcome<ServiceProgram>.Refused(Refusals.NoSuchProgram(""));
                var code = (newCode ?? "").Trim();
                var refusals = new List<Refusal>();
                if (!Typed.IsCode(code))
                    refusals.Add(Refusals.CodeShape());
                else if (await db.Programs.AnyAsync(x => x.Code == code, ct))
                    refusals.Add(Refusals.CodeTaken("code", code));
                var name = Typed.Words(newName, "name", LongestName, refusals, needed: true);
                if (refusals.Count > 0)
                    return Outcome<ServiceProgram>.Refused(refusals);

                var source = await Copied(db, from, code, name, null, ct);
                db.Programs.Add(source);
                writes.Audit(actor, "program.copy", code, null, new { from }, Describe(source));
                return Outcome<ServiceProgram>.Of(source);
            },
            ct
        );

    /// <summary>A copy of a program, not yet kept.</summary>
    /// <param name="db">The database.</param>
    /// <param name="from">Code of the program that is copied.</param>
    /// <param name="code">Code of the copy.</param>
    /// <param name="name">Its name.</param>
    /// <param name="kind">Its kind; null for that of the program copied.</param>
    /// <param name="ct">Gives up.</param>
    internal static async Task<ServiceProgram> Copied(
        NippersDb db,
        string from,
        string code,
        string name,
        MachineKind? kind,
        CancellationToken ct
    )
    {
        var copy = await db
            .Programs.AsNoTracking()
            .Include(x => x.Items)
            .Include(x => x.Compartments)
            .AsSplitQuery()
            .SingleAsync(x => x.Code == from, ct);
        copy.Id = 0;
        copy.Code = code;
        copy.Name = name;
        copy.Kind = kind ?? copy.Kind;
        copy.Starter = false;
        copy.Version = 1;
        copy.Items.ForEach(x => (x.Id, x.ProgramId) = (0, 0));
        copy.Compartments.ForEach(x => (x.Id, x.ProgramId) = (0, 0));
        return copy;
    }

    private static Dictionary<string, ItemStatus> Stand(MachineFacts facts, MachineNow at, ServiceProgram program)
    {
        var options = facts.Machine.OptionWords;
        return program
            .Items.Where(x => !x.Off && OptionRule.Holds(x.Needs, options))
            .ToDictionary(x => x.Code, x => at.Stand(facts.Due(x, program.ForDue()), program.ComingDays), StringComparer.Ordinal);
    }

    private static List<Refusal> Apply(ServiceProgram program, ProgramChangeInput input)
    {
        var refusals = new List<Refusal>();
        if (input.Settings is { } settings)
            Apply(program, settings, refusals);
        if (input.Item is { } item)
            Apply(program, item, refusals);
        return refusals;
    }

    private static void Apply(ServiceProgram program, ProgramSettingsInput input, List<Refusal> refusals)
    {
        program.Name = Typed.Words(input.Name, "name", LongestName, refusals, needed: true);
        program.IntervalBasis = input.IntervalBasis;
        program.CreditPercent = Typed.Whole(input.CreditPercent, "creditPercent", 0, 50, refusals) ?? program.CreditPercent;
        program.WindowPercent = Typed.Whole(input.WindowPercent, "windowPercent", 0, 50, refusals) ?? program.WindowPercent;
        program.ComingDays = Typed.Whole(input.ComingDays, "comingDays", 1, 365, refusals) ?? program.ComingDays;
        program.LeastWindowHours = Typed.Hours(input.LeastWindowHours, "leastWindowHours", refusals) ?? MeterHours.Zero;
    }

    private static void Apply(ServiceProgram program, ProgramItemInput input, List<Refusal> refusals)
    {
        var code = (input.Code ?? "").Trim();
        var item = input.OldCode is null ? null : program.Items.Find(x => x.Code == input.OldCode);
        if (input.OldCode is not null && item is null)
            refusals.Add(Refusals.NoSuchItem("code", input.OldCode));
        if (!Typed.IsCode(code))
            refusals.Add(Refusals.CodeShape());
        else if (input.OldCode is not null && code != input.OldCode)
            refusals.Add(Refusals.CodeFixed("code"));
        else if (input.OldCode is null && program.Items.Exists(x => x.Code == code))
            refusals.Add(Refusals.CodeTaken("code", code));
        Typed.Words(input.Name, "name", LongestName, refusals, needed: true);
        if (!program.Compartments.Exists(x => x.Code == input.Compartment))
            refusals.Add(Refusals.NoSuchCompartment("compartment"));
        if (input.Caution?.Length > LongestText)
            refusals.Add(Refusals.TooLong("caution", LongestText));

        var every = Typed.Hours(input.EveryHours, "everyHours", refusals);
        var first = Typed.Hours(input.FirstAtHours, "firstAtHours", refusals);
        var months = Typed.Whole(input.EveryMonths, "everyMonths", 1, LongestMonths, refusals);
        var km = Typed.Whole(input.EveryKm, "everyKm", 1, MostKm, refusals);
        var points = Typed.Whole(input.Points, "points", 0, MostPoints, refusals);
        var minutes = Typed.Whole(input.Minutes, "minutes", 0, MostMinutes, refusals);
        var covers = (input.Covers ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries).Distinct().ToList();
        foreach (var covered in covers.Where(x => x == code || !program.Items.Exists(y => y.Code == x)))
            refusals.Add(Refusals.NoSuchItem("covers", covered));
        if (input.Access is { Length: > 0 } access && !JobTables.Accesses.Any(x => x.Code == access))
            refusals.Add(Refusals.NoSuchAccess());
        if (every is { Tenths: 0 })
            refusals.Add(Refusals.AboveZero("everyHours"));
        if (first is { Tenths: 0 })
            refusals.Add(Refusals.AboveZero("firstAtHours"));
        if (input.Once && first is null)
            refusals.Add(Refusals.OnceNeedsFirst());
        else if (every is null && months is null && km is null && first is null && refusals.Count == 0)
            refusals.Add(Refusals.IntervalNeeded());
        foreach (var word in (input.Needs ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries))
        {
            if (!MachineOptions.Knows(word.TrimStart('!')))
                refusals.Add(Refusals.NoSuchOption("needs", word));
        }

        if (refusals.Count > 0)
            return;
        if (item is null)
        {
            item = new ProgramItem
            {
                Code = code,
                Name = "",
                Compartment = "",
                ProgramId = program.Id,
                Position = program.Items.Count == 0 ? 1 : program.Items.Max(x => x.Position) + 1,
            };
            program.Items.Add(item);
        }

        item.Name = input.Name!.Trim();
        item.Compartment = input.Compartment!;
        item.EveryHours = every;
        item.EveryMonths = months;
        item.EveryKm = km;
        item.FirstAtHours = first;
        item.Once = input.Once;
        item.DutyFactor = input.DutyFactor;
        item.Strict = input.Strict;
        item.IntervalBasis = input.IntervalBasis;
        item.Needs = string.Join(' ', (input.Needs ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries));
        item.Points = points ?? 0;
        item.Qualified = input.Qualified;
        item.Caution = input.Caution?.Trim() ?? "";
        item.Off = input.Off;
        item.Work = input.Work;
        item.Minutes = minutes ?? 0;
        item.Covers = string.Join(' ', covers);
        item.Access = input.Access ?? "";
    }

    private static object Describe(ServiceProgram program) =>
        new
        {
            program.Code,
            program.Name,
            program.IntervalBasis,
            program.CreditPercent,
            program.WindowPercent,
            program.LeastWindowHours,
            program.ComingDays,
        };

    private static object Describe(ProgramItem item) =>
        new
        {
            item.Code,
            item.Name,
            item.Compartment,
            item.EveryHours,
            item.EveryMonths,
            item.EveryKm,
            item.FirstAtHours,
            item.Once,
            item.DutyFactor,
            item.Strict,
            item.IntervalBasis,
            item.Needs,
            item.Points,
            item.Qualified,
            item.Off,
            item.Work,
            item.Minutes,
            item.Covers,
            item.Access,
        };
}
