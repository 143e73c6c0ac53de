using System.Collections.Immutable;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Kinds;
using Nippers.Core.Fluids;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Parts;
using Nippers.Data.Programs;
using Nippers.Data.Queries;
using Nippers.Data.Visits;
using Nippers.Data.Walks;

namespace Nippers.App.Visits;

/// <summary>What a fluid of a compartment is, was and should be.</summary>
public sealed record FluidNeed(string Compartment, string Name, FluidChoice Choice, string InIt, double? Litres, string Stream);

/// <summary>What one item costs by itself.</summary>
/// <param name="Parts">Filters and elements, in money.</param>
/// <param name="Fluids">Fluids, in money.</param>
/// <param name="Minutes">Minutes of hands.</param>
/// <param name="Labour">Those minutes, in money.</param>
/// <param name="Lab">The laboratory's fee, in money.</param>
public sealed record ItemCost(double Parts, double Fluids, double Minutes, double Labour, double Lab = 0)
{
    public double Whole => Parts + Fluids + Labour + Lab;
}

/// <summary>A machine as visits see it: its compartments, filter positions, fluids and prices.</summary>
public sealed class ServiceSheet
{
    private readonly Dictionary<string, ProgramItem> _items;

    internal ServiceSheet(
        MachineFacts facts,
        ShopPage shop,
        IReadOnlyList<FilterPosition> positions,
        ILookup<int, string> alternates,
        IReadOnlyDictionary<string, double> marks,
        IReadOnlyDictionary<string, double> toppedUp,
        PastChanges past,
        IReadOnlyDictionary<string, (double? Low, double? High, double? Last)> measured,
        LearntMinutes learnt,
        SagMethod? sag
    )
    {
        (Facts, Shop, Positions, Alternates) = (facts, shop, positions, alternates);
        _items = facts.Items.ToDictionary(x => x.Code, StringComparer.Ordinal);
        var own = facts.Machine.Compartments.ToDictionary(x => x.Code, StringComparer.Ordinal);
        Fluids = facts
            .Machine.Program.Compartments.Where(x => x.Stream.Length > 0)
            .ToDictionary(
                x => x.Code,
                x => new FluidNeed(
                    x.Code,
                    x.Name,
                    FluidChoice.Of(
                        FluidRange.Parse(x.Fluids) ?? [],
                        own.GetValueOrDefault(x.Code)?.Fluid ?? "",
                        facts.Machine.Site.LowC,
                        facts.Machine.Site.HighC
                    ),
                    own.GetValueOrDefault(x.Code)?.Fluid ?? "",
                    own.GetValueOrDefault(x.Code)?.CapacityLitres?.Value,
                    x.Stream
                ),
                StringComparer.Ordinal
            );
        Input = new()
        {
            Items = [],
            Places = facts.Machine.Program.Compartments.ToImmutableDictionary(
                x => x.Code,
                x => Place(x, own.GetValueOrDefault(x.Code), marks, toppedUp, past)
            ),
            Filters = [.. positions.Select(ToFilter)],
            Machine =
            [
                .. facts.Machine.OptionWords,
                .. sag is { } method ? [$"sag={method.ToString().ToLowerInvariant()}"] : Array.Empty<string>(),
            ],
            Bleed =
                facts.Machine.BleedMethod.Length == 0
                    ? null
                    : new(
                        facts.Machine.BleedMethod,
                        facts.Machine.BleedPoints,
                        facts.Machine.CrankSeconds,
                        facts.Machine.RestSeconds,
                        facts.Machine.CrankRepeats
                    ),
            Vessels = shop.Vessels,
            Figures = JobTables
                .FiguresOf(facts.Machine.OptionWords)
                .Select(x =>
                {
                    var (low, high, last) = measured.GetValueOrDefault(x.Figure.Code);
                    return (x.Item, Figure: x.Figure with { Low = low, High = high, Last = last });
                })
                .ToLookup(x => x.Item, x => x.Figure),
            Templates = JobTables.Steps,
            Accesses = JobTables.Accesses,
            Between = JobTables.Between,
            Moves = JobTables.Moves,
            Learnt = learnt,
            Tops = past.Tops,
            OneAtATime = shop.Shop.OneAtATime,
            DrainHot = shop.Shop.DrainHot,
        };
    }

    public MachineFacts Facts { get; }

    public ShopPage Shop { get; }

    public IReadOnlyList<FilterPosition> Positions { get; }

    /// <summary>Numbers that may stand in, by part.</summary>
    public ILookup<int, string> Alternates { get; }

    /// <summary>Fluids by compartment.</summary>
    public IReadOnlyDictionary<string, FluidNeed> Fluids { get; }

    /// <summary>What a card of this machine is made from, without items yet.</summary>
    public JobInput Input { get; }

    /// <summary>An item of the program; null for what is none, a wear part for example.</summary>
    public ProgramItem? ItemOf(string code) => _items.GetValueOrDefault(code);

    /// <summary>Items that an item does with itself, on this machine.</summary>
    public IEnumerable<ProgramItem> CoveredBy(string code) =>
        _items.TryGetValue(code, out var item)
            ? item.Covers.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(x => _items.GetValueOrDefault(x)).OfType<ProgramItem>()
            : [];

    /// <summary>Items as a card takes them; what others cover is left to them.</summary>
    public ImmutableArray<JobItem> JobItems(IReadOnlyCollection<string> codes)
    {
        var covered = codes.SelectMany(CoveredBy).Select(x => x.Code).ToHashSet(StringComparer.Ordinal);
        return [.. Facts.Items.Where(x => codes.Contains(x.Code) && !covered.Contains(x.Code)).Select(ToJob)];
    }

    /// <summary>What an item costs by itself.</summary>
    public ItemCost CostOf(string code)
    {
        if (!_items.TryGetValue(code, out var item))
            return new(0, 0, 0, 0);
        var parts = Positions.Where(x => x.ItemCode == code).Select(x => x.Part?.Price ?? Money.Zero).Total().Value;
        var fluids =
            item.ChangesFluid && Fluids.TryGetValue(item.Compartment, out var need) ? Shop.PriceOf(need.Choice.Take, need.Litres ?? 0) : 0;
        var minutes = JobCardMaker.MinutesOf(ToJob(item), Input);
        return new(parts, fluids, minutes, Shop.Labour(minutes), item.Work == ItemWork.Sample ? Shop.Lab(1) : 0);
    }

    /// <summary>What hands alone cost, for what is no item of the program.</summary>
    /// <param name="minutes">Minutes of them.</param>
    public ItemCost CostOfHands(double minutes) => new(0, 0, minutes, Shop.Labour(minutes));

    private sealed record StandIn(int PartId, string Number);

    private sealed record ToppedUp(int MachineId, string Compartment, Litres Litres, MeterHours LifeHours);

    // Every page of visits asks these: what EF Core makes of a question at each request takes longer than small ones do.
    private static readonly Func<NippersDb, List<int>, IAsyncEnumerable<MachineCompartment>> CompartmentsOf = EF.CompileAsyncQuery(
        (NippersDb db, List<int> ids) =>
            db.MachineCompartments.AsNoTracking().Where(x => ids.Contains(x.MachineId)).OrderBy(x => x.Code).AsQueryable()
    );

    private static readonly Func<NippersDb, List<int>, IAsyncEnumerable<FilterPosition>> PositionsOf = EF.CompileAsyncQuery(
        (NippersDb db, List<int> ids) =>
            db.FilterPositions.AsNoTracking().Where(x => ids.Contains(x.MachineId)).Include(x => x.Part).OrderBy(x => x.Code).AsQueryable()
    );

    private static readonly Func<NippersDb, IAsyncEnumerable<StandIn>> StandIns = EF.CompileAsyncQuery(
        (NippersDb db) =>
            db.PartAlternates.AsNoTracking().Join(db.Parts, a => a.OtherId, p => p.Id, (a, p) => new StandIn(a.PartId, p.Number))
    );

    private static readonly Func<NippersDb, List<int>, IAsyncEnumerable<MachineCheck>> MarksOf = EF.CompileAsyncQuery(
        (NippersDb db, List<int> ids) =>
            db.MachineChecks.AsNoTracking().Where(x => ids.Contains(x.MachineId) && (x.MarkLitres != null || x.Method != null))
    );

    private static readonly Func<NippersDb, List<int>, IAsyncEnumerable<ToppedUp>> TopUpsOf = EF.CompileAsyncQuery(
        (NippersDb db, List<int> ids) =>
            db
                .TopUps.AsNoTracking()
                .Where(x => ids.Contains(x.MachineId))
                .Select(x => new ToppedUp(x.MachineId, x.Compartment, x.Litres, x.LifeHours))
    );

    private static readonly Func<NippersDb, List<int>, IAsyncEnumerable<StepMinutesRow>> LearntOf = EF.CompileAsyncQuery(
        (NippersDb db, List<int> ids) => db.StepMinutes.AsNoTracking().Where(x => ids.Contains(x.MachineId))
    );

    /// <summary>Loads machines as visits see them, in a number of queries that does not depend on how many.</summary>
    public static async Task<List<ServiceSheet>> Load(
        NippersDb db,
        WorkshopService book,
        IReadOnlyList<MachineFacts> machines,
        CancellationToken ct
    )
    {
        var ids = machines.Select(x => x.Machine.Id).ToList();
        var shop = await book.Load(ct);
        var compartments = (await CompartmentsOf(db, ids).ToListAsync(ct)).ToLookup(x => x.MachineId);
        var positions = (await PositionsOf(db, ids).ToListAsync(ct)).ToLookup(x => x.MachineId);
        var alternates = (await StandIns(db).ToListAsync(ct)).ToLookup(x => x.PartId, x => x.Number);
        var marks = (await MarksOf(db, ids).ToListAsync(ct)).ToLookup(x => x.MachineId);
        var ofKind = new Dictionary<MachineKind, SagMethod?>();
        var topUps = (await TopUpsOf(db, ids).ToListAsync(ct)).ToLookup(x => x.MachineId);
        var learnt = await LearntOf(db, ids).ToDictionaryAsync(x => x.MachineId, x => x.Steps, cancellationToken: ct);
        var sheets = new List<ServiceSheet>(machines.Count);
        foreach (var facts in machines)
        {
            facts.Machine.Compartments = [.. compartments[facts.Machine.Id]];
            var changed = facts
                .Machine.Program.Items.Where(x => x.ChangesFluid)
                .GroupBy(x => x.Compartment)
                .ToDictionary(
                    x => x.Key,
                    x => x.Max(item => facts.LastDone.GetValueOrDefault(item.Code)?.Hours ?? MeterHours.Zero),
                    StringComparer.Ordinal
                );
            var topped = topUps[facts.Machine.Id]
                .Where(x => x.LifeHours >= changed.GetValueOrDefault(x.Compartment))
                .GroupBy(x => x.Compartment)
                .ToDictionary(x => x.Key, x => x.Select(y => y.Litres).Total().Value, StringComparer.Ordinal);
            var past = machines.Count == 1 ? await PastChanges.Load(db, facts, [.. positions[facts.Machine.Id]], ct) : PastChanges.None;
            var litres = marks[facts.Machine.Id]
                .Where(x => x.MarkLitres is not null)
                .ToDictionary(x => x.CheckCode, x => x.MarkLitres!.Value.Value, StringComparer.Ordinal);
            var stick = litres.Count > 0 ? await Sticks(db, facts.Machine, litres, machines.Count == 1, ct) : [];
            var measured = machines.Count == 1 ? await Measured(db, facts.Machine, ct) : [];
            sheets.Add(
                new(
                    facts,
                    shop,
                    [.. positions[facts.Machine.Id]],
                    alternates,
                    stick,
                    topped,
                    past,
                    measured,
                    CardTimes.Read(learnt.GetValueOrDefault(facts.Machine.Id)),
                    marks[facts.Machine.Id].FirstOrDefault(x => x.Method is not null)?.Method
                        ?? await SagOf(db, facts.Machine.Kind, ofKind, ct)
                )
            );
        }

        return sheets;
    }

    /// <summary>Litres between the marks, by compartment. Only a card asks for them, so a list of machines does without.</summary>
    private static async Task<Dictionary<string, double>> Sticks(
        NippersDb db,
        Machine machine,
        Dictionary<string, double> byCheck,
        bool wanted,
        CancellationToken ct
    ) =>
        wanted && await db.ListOf(machine, ct) is { } list
            ? list.ToList()
                .Checks.Where(x => x.Compartment.Length > 0 && byCheck.ContainsKey(x.Code))
                .GroupBy(x => x.Compartment)
                .ToDictionary(x => x.Key, x => byCheck[x.First().Code], StringComparer.Ordinal)
            : [];

    /// <summary>Limits and last figures of what cards measure, by code. Only a card asks for them.</summary>
    private static async Task<Dictionary<string, (double? Low, double? High, double? Last)>> Measured(
        NippersDb db,
        Machine machine,
        CancellationToken ct
    )
    {
        var codes = JobTables.FiguresOf(machine.OptionWords).Select(x => x.Figure.Code).ToHashSet(StringComparer.Ordinal);
        var limits = await db.ChecksOf(machine.Id, ct);
        var last = await db.LastMeasuresOf(machine.Id, codes, ct);
        return codes.ToDictionary(
            x => x,
            x =>
                (
                    limits.GetValueOrDefault(x)?.Low,
                    limits.GetValueOrDefault(x)?.High,
                    last.TryGetValue(x, out var figure) ? figure : (double?)null
                ),
            StringComparer.Ordinal
        );
    }

    private JobFilter ToFilter(FilterPosition x) =>
        new(
            x.Code,
            x.Name,
            x.ItemCode,
            x.Part?.Number ?? "",
            x.PartId is { } id ? [.. Alternates[id].Order(StringComparer.Ordinal)] : [],
            x.Size,
            x.Prefill,
            x.Turn,
            x.Litres.Value
        );

    private JobPlace Place(
        ProgramCompartment x,
        MachineCompartment? own,
        IReadOnlyDictionary<string, double> marks,
        IReadOnlyDictionary<string, double> toppedUp,
        PastChanges past
    ) =>
        new(x.Code, x.Name, x.Kind.ToString().ToLowerInvariant())
        {
            Capacity = own?.CapacityLitres?.Value,
            FilterLitres = own?.FilterLitres.Value ?? 0,
            BetweenMarks = marks.TryGetValue(x.Code, out var litres) ? litres : null,
            Fluid = Fluids.GetValueOrDefault(x.Code)?.Choice.Take ?? "",
            Stream = x.Stream.Length > 0 ? x.Stream : "oil",
            DrainPoints = own?.DrainPoints ?? 1,
            DrainMinutes = x.DrainMinutes,
            SettleMinutes = x.SettleMinutes,
            PlugTorque = own?.PlugTorque ?? "",
            PressureSeconds = own?.PressureSeconds,
            Traits = [.. x.Traits.Split(' ', StringSplitOptions.RemoveEmptyEntries)],
            Hub = own?.Hub ?? "",
            ToppedUp = toppedUp.GetValueOrDefault(x.Code),
            Changes = past.Of(x.Code, own?.CapacityLitres?.Value, marks.TryGetValue(x.Code, out var between) ? between : null),
        };

    // How a track's sag is measured decides the position in which it is: what the machine's own manual says, else its kind.
    private static async Task<SagMethod?> SagOf(
        NippersDb db,
        MachineKind kind,
        Dictionary<MachineKind, SagMethod?> known,
        CancellationToken ct
    )
    {
        if (KindFolders.Find(kind)?.Facts.GetValueOrDefault("sag") is { } sag)
            return Enum.Parse<SagMethod>(sag);
        if (!known.TryGetValue(kind, out var method))
            known[kind] = method = await KindCatalog.SagOf(db, kind, ct);
        return method;
    }

    private static JobItem ToJob(ProgramItem x) =>
        new(x.Code, x.Name, x.Work, x.Compartment, x.Minutes, x.Points, x.Access, x.Qualified, x.Caution);
}
