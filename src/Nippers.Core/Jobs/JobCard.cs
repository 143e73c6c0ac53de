using System.Collections.Immutable;
using System.Globalization;
using Nippers.Core.Fluids;
using Nippers.Core.Parts;

namespace Nippers.Core.Jobs;

/// <summary>An item of a visit, as a card is made from it.</summary>
/// <param name="Code">Its code.</param>
/// <param name="Name">Its name.</param>
/// <param name="Work">What kind of work it is.</param>
/// <param name="Compartment">Compartment it is done to.</param>
/// <param name="Minutes">Minutes of its main step.</param>
/// <param name="Points">How many points; 0 when not counted.</param>
/// <param name="Access">What must be open for it.</param>
/// <param name="Qualified">Only by people qualified for it.</param>
/// <param name="Caution">Its caution.</param>
public sealed record JobItem(
    string Code,
    string Name,
    ItemWork Work,
    string Compartment,
    double Minutes,
    int Points = 0,
    string Access = "",
    bool Qualified = false,
    string Caution = ""
);

/// <summary>A compartment of the machine, as its data say.</summary>
/// <param name="Code">Its code.</param>
/// <param name="Name">Its name.</param>
/// <param name="Kind">Word of its kind, for example <c>engine</c>.</param>
public sealed record JobPlace(string Code, string Name, string Kind)
{
    /// <summary>Litres with filter; null when nobody entered it.</summary>
    public double? Capacity { get; init; }

    /// <summary>Litres its filters hold.</summary>
    public double FilterLitres { get; init; }

    /// <summary>Litres between the marks of its stick.</summary>
    public double? BetweenMarks { get; init; }

    /// <summary>The fluid that goes in.</summary>
    public string Fluid { get; init; } = "";

    /// <summary>Waste stream.</summary>
    public string Stream { get; init; } = "oil";

    /// <summary>Drain plugs.</summary>
    public int DrainPoints { get; init; } = 1;

    /// <summary>Minutes until it has run out.</summary>
    public double DrainMinutes { get; init; } = 15;

    /// <summary>Minutes until it has settled after the run.</summary>
    public double SettleMinutes { get; init; }

    /// <summary>Torque of the plug, as the manual writes it.</summary>
    public string PlugTorque { get; init; } = "";

    /// <summary>Longest seconds to oil pressure.</summary>
    public double? PressureSeconds { get; init; }

    /// <summary>More words that hold for it: round, levelplug, thick, slow, liveport, warmlevel.</summary>
    public ImmutableArray<string> Traits { get; init; } = [];

    /// <summary>Plug positions of a hub as clock hours: drain, level, fill.</summary>
    public string Hub { get; init; } = "";

    /// <summary>Litres topped up since the last change.</summary>
    public double ToppedUp { get; init; }

    /// <summary>Its last changes, oldest first.</summary>
    public ImmutableArray<PastChange> Changes { get; init; } = [];
}

/// <summary>A filter position that an item changes.</summary>
public sealed record JobFilter(
    string Code,
    string Name,
    string Item,
    string Part,
    ImmutableArray<string> Alternates,
    FilterSize Size,
    PrefillRule Prefill,
    TurnRule Turn,
    double Litres = 0
);

/// <summary>A vessel to drain into.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Litres">What it holds.</param>
/// <param name="Stream">The waste stream it is kept for.</param>
public sealed record Vessel(string Name, double Litres, string Stream);

/// <summary>How fuel is bled on this machine.</summary>
/// <param name="Method">Hand pump or key-on pump, as its data say.</param>
/// <param name="Points">Bleed points in order.</param>
/// <param name="CrankSeconds">Longest crank.</param>
/// <param name="RestSeconds">Rest between cranks.</param>
/// <param name="Repeats">How often it may be repeated.</param>
public sealed record FuelBleed(string Method, string Points, int CrankSeconds, int RestSeconds, int Repeats);

/// <summary>A defect that the visit repairs.</summary>
public sealed record JobDefect(long Id, string Words, string Compartment, string Caution = "");

/// <summary>How something is opened for work and shut again.</summary>
/// <param name="Code">Its word.</param>
/// <param name="Open">What is done to open it.</param>
/// <param name="Shut">What is done to shut it.</param>
/// <param name="OpenMinutes">Minutes to open.</param>
/// <param name="ShutMinutes">Minutes to shut.</param>
/// <param name="BeforeStart">Shut before the engine starts: someone sits in it, or it would fall.</param>
/// <param name="Caution">The caution that belongs to it.</param>
public sealed record AccessRule(
    string Code,
    string Open,
    string Shut,
    double OpenMinutes,
    double ShutMinutes,
    bool BeforeStart,
    string Caution
)
{
    /// <summary>Whole minutes to open.</summary>
    public int OpenWhole => (int)Math.Ceiling(OpenMinutes);

    /// <summary>Whole minutes to shut.</summary>
    public int ShutWhole => (int)Math.Ceiling(ShutMinutes);
}

/// <summary>A line of the table that steps are made from.</summary>
/// <param name="Work">Kind of work that brings it; <c>card</c> for the card's own.</param>
/// <param name="Key">What is done, one word.</param>
/// <param name="State">The state in which it is done; null when that does not matter.</param>
/// <param name="Heat">Cold, Warm, nothing, or <c>{hot}</c> for warm where the shop drains warm.</param>
/// <param name="Input">What is entered.</param>
/// <param name="Words">What is done, with names in braces.</param>
/// <param name="Minutes">Minutes of hands; a number or a name in braces.</param>
/// <param name="Wait">Minutes that pass by themselves.</param>
/// <param name="After">Keys of the same item, codes of the card, or groups (<c>@isolated</c>) that come before.</param>
/// <param name="More">Circuits, position and place in the card, as <see cref="StepTraits"/>.</param>
/// <param name="Touches">What it opens or takes off.</param>
/// <param name="When">Words that must hold, as in <see cref="Service.OptionRule"/>.</param>
/// <param name="Parts">What it consists of, each ticked.</param>
/// <param name="Caution">Its caution; empty: that of the item.</param>
/// <param name="Why">Words under it.</param>
public sealed record StepTemplate(
    string Work,
    string Key,
    MachineState? State,
    string Heat,
    InputKind Input,
    string Words,
    string Minutes,
    string Wait,
    string After,
    StepTraits More,
    string Touches,
    string When,
    ImmutableArray<string> Parts,
    string Caution,
    string Why
);

/// <summary>What a step does to circuits, and where on the card it may stand.</summary>
/// <param name="Opens">Circuit that it opens; <c>own</c> is that of its item, empty is none.</param>
/// <param name="Shuts">Circuit that it shuts.</param>
/// <param name="Fills">Circuit that it fills.</param>
/// <param name="Litres">Litres that come out where the compartment does not say; null for none.</param>
/// <param name="Position">How the machine stands for it; <c>mark</c> is the mark of its own hub.</param>
/// <param name="Still">Nothing runs during its wait.</param>
/// <param name="AsFound">Before anything is opened.</param>
/// <param name="Late">After the first run that follows a fill.</param>
/// <param name="Cool">Opens the coolant: by the clock and by a hand.</param>
/// <param name="BeforeRun">The level without which nothing is started.</param>
/// <param name="Paper">A paper element: nothing is screwed on or oiled.</param>
/// <param name="Access">The card's own step needs open what its items need open.</param>
public sealed record StepTraits(
    string Opens = "",
    string Shuts = "",
    string Fills = "",
    double? Litres = null,
    string Position = "",
    bool Still = false,
    bool AsFound = false,
    bool Late = false,
    bool Cool = false,
    bool BeforeRun = false,
    bool Paper = false,
    bool Access = false
)
{
    /// <summary>Reads them: words, some with a value after an equals sign.</summary>
    /// <exception cref="FormatException">A word that is none.</exception>
    public static StepTraits Parse(string text) =>
        text.Split(' ', StringSplitOptions.RemoveEmptyEntries)
            .Select(x => x.Split('=', 2))
            .Aggregate(new StepTraits(), (all, x) => x[0] switch
                {
                    "drain" => all with { Opens = x[1] },
                    "shut" => all with { Shuts = x[1] },
                    "fill" => all with { Fills = x[1] },
                    "litres" => all with { Litres = double.Parse(x[1], CultureInfo.InvariantCulture) },
                    "posture" => all with { Position = x[1] },
                    "still" => all with { Still = true },
                    "asfound" => all with { AsFound = true },
                    "late" => all with { Late = true },
                    "cool" => all with { Cool = true },
                    "beforerun" => all with { BeforeRun = true },
                    "paper" => all with { Paper = true },
                    "access" => all with { Access = true },
                    _ => throw new FormatException($"no step has the word '{x[0]}'"),
                });
}

/// <summary>What the card puts between steps: locking out, starting, driving.</summary>
/// <param name="Code">Its word, as <see cref="CardSequencer"/> has it.</param>
/// <param name="Words">What is done.</param>
/// <param name="Minutes">Minutes of it.</param>
/// <param name="Parts">What it consists of, each ticked.</param>
/// <param name="Caution">Its caution.</param>
public sealed record BetweenRule(string Code, string Words, int Minutes, ImmutableArray<string> Parts, string Caution);

/// <summary>A position that a machine is driven into for some steps.</summary>
/// <param name="Code">Its word; <c>mark</c> stands for the mark of every hub.</param>
/// <param name="Words">What is done to come there.</param>
/// <param name="Hangs">Something hangs on hydraulics then: nobody locks it out like that.</param>
/// <param name="Parts">What it consists of, each ticked.</param>
/// <param name="Caution">Its caution.</param>
public sealed record MoveRule(string Code, string Words, bool Hangs, ImmutableArray<string> Parts, string Caution);

/// <summary>What a card is made from.</summary>
public sealed record JobInput
{
    /// <summary>Items of the visit that are done.</summary>
    public required ImmutableArray<JobItem> Items { get; init; }

    /// <summary>Compartments by code.</summary>
    public required ImmutableDictionary<string, JobPlace> Places { get; init; }

    /// <summary>Filter positions.</summary>
    public ImmutableArray<JobFilter> Filters { get; init; } = [];

    /// <summary>Defects to repair.</summary>
    public ImmutableArray<JobDefect> Defects { get; init; } = [];

    /// <summary>Words of the machine: its options.</summary>
    public HashSet<string> Machine { get; init; } = [];

    /// <summary>How fuel is bled; null when nobody entered it.</summary>
    public FuelBleed? Bleed { get; init; }

    /// <summary>Vessels of the workshop.</summary>
    public ImmutableArray<Vessel> Vessels { get; init; } = [];

    /// <summary>The table of steps.</summary>
    public required ImmutableArray<StepTemplate> Templates { get; init; }

    /// <summary>How things are opened.</summary>
    public ImmutableArray<AccessRule> Accesses { get; init; } = [];

    /// <summary>What lies between steps.</summary>
    public required ImmutableArray<BetweenRule> Between { get; init; }

    /// <summary>Positions that it is driven into.</summary>
    public ImmutableArray<MoveRule> Moves { get; init; } = [];

    /// <summary>Figures that items ask for, by item.</summary>
    public ILookup<string, AskedFigure> Figures { get; init; } = Array.Empty<AskedFigure>().ToLookup(_ => "");

    /// <summary>Minutes that steps took on this machine.</summary>
    public LearntMinutes Learnt { get; init; } = LearntMinutes.None;

    /// <summary>Litres that usually go in after a filter alone, by step; what is not known goes by the filter's volume.</summary>
    public IReadOnlyDictionary<string, double> Tops { get; init; } = ImmutableDictionary<string, double>.Empty;

    /// <summary>How warm the machine comes.</summary>
    public StepHeat Heat { get; init; }

    /// <summary>Codes that steps of the same card have already, when work is added to it.</summary>
    public ImmutableHashSet<string> Taken { get; init; } = [];

    /// <summary>One compartment, one filter at a time.</summary>
    public bool OneAtATime { get; init; }

    /// <summary>Oil is drained hot.</summary>
    public bool DrainHot { get; init; } = true;
}

/// <summary>A job card: steps in the order in which hands reach them, with what lies between.</summary>
/// <param name="Steps">The steps.</param>
/// <param name="Order">Their planned times, minutes from the start.</param>
/// <param name="Hands">Minutes of hands.</param>
/// <param name="Elapsed">Minutes until it is over.</param>
/// <param name="Lockouts">How often it is locked out.</param>
public sealed record JobCard(ImmutableArray<JobStep> Steps, ImmutableArray<PlacedStep> Order, int Hands, int Elapsed, int Lockouts)
{
    /// <summary>Minutes that it would take one after another, each wait waited out.</summary>
    public int OneAfterAnother => (int)Steps.Sum(x => x.Minutes + x.Wait);
}

/// <summary>Makes a job card of a visit's items.</summary>
/// <remarks>Rules 5. What steps there are stands in a table; here they are put to this machine, and the order is searched.</remarks>
public static class JobCardMaker
{
    private const string Card = "card";
    private const string Defect = "defect";
    private const string Own = "own";
    private const string Mark = "mark";

    /// <summary>Minutes that a card gives the repair of a defect: how long it takes nobody knows before it is begun.</summary>
    public const int DefectMinutes = 20;

    // A vessel that nobody has: whoever drains brings one.
    private const decimal NoVesselLitres = 1_000_000;

    /// <summary>Makes a card.</summary>
    /// <param name="input">What it is made from.</param>
    /// <param name="order">Who finds its order; null: it is searched for, as quickly as for a page.</param>
    /// <exception cref="CardImpossibleException">No order satisfies its steps, or there are more than one card holds.</exception>
    public static JobCard Make(JobInput input, Func<CardCase, CardSequence>? order = null)
    {
        var steps = Sketch(input);
        if (steps.Count == 0)
            return new([], [], 0, 0, 0);
        if (steps.Count > CardTable.MostSteps)
            throw new CardImpossibleException($"more than {CardTable.MostSteps} steps");
        var given = CaseOf(input, steps);
        var sequence = order is null ? CardSequencer.Of(given, CardSequencer.Quick) : order(given);
        return new CardWriter(input, steps, sequence).Write();
    }

    /// <summary>The steps of a card before they are in order, as the search takes them.</summary>
    public static CardCase CaseOf(JobInput input) => CaseOf(input, Sketch(input));

    /// <summary>Minutes of hands that an item takes by itself, what must be opened for it apart.</summary>
    public static double MinutesOf(JobItem item, JobInput input)
    {
        var place = input.Places.GetValueOrDefault(item.Compartment);
        return LinesOf(item, input, ItemWords(item, input))
            .Sum(line =>
                line.Input == InputKind.Filter
                    ? input.Filters.Where(x => x.Item == item.Code).Sum(x => MinutesOf(line, item.Code, item, place, x, input).Minutes)
                    : MinutesOf(line, item.Code, item, place, null, input).Minutes
            );
    }

    private static List<JobStep> Sketch(JobInput input) => Assign(Linked(Drafts(input)), input.Vessels);

    // Where a look at what was opened has to go under the machine, the pan stays down for it.
    private static Draft Under(Draft draft, List<Draft> all) =>
        draft.More.Access && all.Exists(x => x.Step is { Access: UnderAccess, Input: not InputKind.Look })
            ? draft with
            {
                Step = draft.Step with { Access = UnderAccess },
            }
            : draft;

    /// <summary>A step, and the line of the table that it comes from.</summary>
    private sealed record Draft(JobStep Step, StepTraits More, ImmutableArray<string> After, bool Engine);

    private static List<Draft> Drafts(JobInput input)
    {
        var drafts = new List<Draft>();
        foreach (var item in input.Items)
            drafts.AddRange(ItemSteps(item, input, ItemWords(item, input)));
        foreach (var defect in input.Defects)
        {
            var step = new JobStep
            {
                Code = $"{Defect}-{defect.Id}.repair",
                State = MachineState.Isolated,
                Input = InputKind.Look,
                Words = defect.Words,
                Minutes = DefectMinutes,
                Compartment = defect.Compartment,
                Caution = defect.Caution,
                Defect = defect.Id,
            };
            drafts.Add(new(step, new(), [], false));
        }

        if (drafts.Count == 0)
            return drafts;
        var words = CardWords(input, drafts);
        drafts.AddRange(
            input
                .Templates.Where(x => x.Work == Card && Service.OptionRule.Holds(x.When, input.Machine, words))
                .Select(x => Under(Fill(x, Card, null, null, null, input), drafts))
                .ToList()
        );
        return drafts;
    }

    // What holds for an item beside what holds for its machine.
    private static HashSet<string> ItemWords(JobItem item, JobInput input)
    {
        var words = new HashSet<string>(input.Machine.Comparer) { "item=" + item.Code };
        if (input.Places.TryGetValue(item.Compartment, out var place))
        {
            words.Add(place.Kind);
            words.UnionWith(place.Traits);
            if (place.Capacity is not null)
                words.Add("capacity");
            if (place.SettleMinutes > 0)
                words.Add("settles");
            if (place.BetweenMarks is not null)
                words.Add("stick");
        }

        if (input.Items.Any(x => x.Compartment == item.Compartment && x.Work == ItemWork.Fluid))
            words.Add("withfluid");
        if (input.Filters.Any(x => x.Item == item.Code))
            words.Add("filters");
        if (item.Points > 0)
            words.Add("points");
        if (input.Figures.Contains(item.Code))
            words.Add("figures");
        return words;
    }

    // What holds for the card beside what holds for its machine.
    private static HashSet<string> CardWords(JobInput input, List<Draft> drafts)
    {
        var words = new HashSet<string>(input.Machine.Comparer);
        bool Any(Func<JobStep, bool> what) => drafts.Exists(x => what(x.Step));
        string Kind(JobStep step) => input.Places.TryGetValue(step.Compartment, out var place) ? place.Kind : "";
        bool Changed(string kind) => Any(x => x.Input is InputKind.Drained or InputKind.Filter && Kind(x) == kind);
        var screwed = drafts.Exists(x => x.Step.Input == InputKind.Filter && !x.More.Paper);
        if (Any(x => x.Opens.Length > 0) || screwed)
            words.Add("opens");
        foreach (var kind in new[] { "engine", "hydraulic", "transmission", "cooling", "fuel", "gear" })
        {
            if (Changed(kind) && (kind != "gear" || Any(x => x.Opens.Length > 0 && Kind(x) == kind && x.Posture.Length == 0)))
                words.Add("runs");
        }

        if (Changed("engine"))
            words.Add("engineopen");
        if (Changed("hydraulic"))
            words.Add("hydraulicopen");
        if (
            Any(x => x.Input == InputKind.Filter && Kind(x) == "fuel")
            || drafts.Exists(x => x.After.Contains("card.fuel-off") && Kind(x.Step) == "fuel")
        )
            words.UnionWith(["fuelopen", "runs", "opens"]);
        if (Any(x => x.Input is InputKind.Drained or InputKind.Filter))
            words.Add("waste");
        if (Any(x => x.Input == InputKind.Filter))
            words.Add("filters");
        if (!input.Taken.IsEmpty)
            words.Add("added");
        if (input.Bleed is not null)
            words.Add("bleed");
        if (input.Bleed is { Method: var method } && HandWords.Any(x => method.Contains(x, StringComparison.OrdinalIgnoreCase)))
            words.Add("handpump");
        return words;
    }

    // How it is primed is typed by a planner, in the language of the shop.
    private static readonly string[] HandWords = ["hand", "mano"];

    private static IEnumerable<StepTemplate> LinesOf(JobItem item, JobInput input, HashSet<string> words)
    {
        var work = item.Work.ToString();
        foreach (var line in input.Templates)
        {
            if (line.Work == work && Service.OptionRule.Holds(line.When, input.Machine, words))
                yield return line;
        }
    }

    /// <summary>The code of a step, its minutes as its table has them and as they were learnt.</summary>
    private static (string Code, int Table, double Minutes) MinutesOf(
        StepTemplate line,
        string owner,
        JobItem? item,
        JobPlace? place,
        JobFilter? filter,
        JobInput input
    )
    {
        var code = filter is null ? $"{owner}.{line.Key}" : $"{owner}.{line.Key}-{filter.Code}";
        var table = Minutes(line.Minutes, item, place);
        return (code, table, input.Learnt.Of(code, table));
    }

    private static IEnumerable<Draft> ItemSteps(JobItem item, JobInput input, HashSet<string> words)
    {
        var place = input.Places.GetValueOrDefault(item.Compartment);
        foreach (var line in LinesOf(item, input, words))
        {
            if (line.Input == InputKind.Filter)
            {
                // One after the other, and the last one shuts what was opened for them.
                var filters = input.Filters.Where(x => x.Item == item.Code).ToList();
                for (var i = 0; i < filters.Count; i++)
                {
                    var draft = Fill(line, item.Code, item, place, filters[i], input);
                    yield return draft with
                    {
                        Step = i == filters.Count - 1 ? draft.Step : draft.Step with { Shuts = "" },
                        After = i == 0 ? draft.After : draft.After.Add($"{item.Code}.{line.Key}-{filters[i - 1].Code}"),
                    };
                }
            }
            else
            {
                yield return Fill(line, item.Code, item, place, null, input);
            }
        }
    }

    private static Draft Fill(StepTemplate line, string owner, JobItem? item, JobPlace? place, JobFilter? filter, JobInput input)
    {
        var more = line.More;
        var change =
            item?.Work == ItemWork.Fluid && line.Input is InputKind.Drained or InputKind.Fill or InputKind.Level && line.Key != "found"
                ? ChangeOf(place, owner, input)
                : null;
        var filtered = input.Filters.Where(x => x.Item == owner).Sum(x => x.Litres);
        var outside = change is null ? filtered : (double)change.FilterLitres;
        var residue = change is null ? 0 : (double)FluidBalance.ResidueOf(change.Capacity, change.History);
        var litres = line.Input switch
        {
            InputKind.Drained when line.Key == "lower" => filtered,
            InputKind.Fill when line.Key == "top" => input.Tops.TryGetValue($"{owner}.top", out var usual) ? usual : filtered,
            InputKind.Drained when more.Litres is null && line.Key == "drained" => place?.Capacity - outside - residue,
            InputKind.Fill => place?.Capacity - place?.FilterLitres - residue,
            InputKind.Level when line.Key == "recheck" && item?.Work == ItemWork.Fluid => place?.FilterLitres,
            _ => null,
        };
        string Circuit(string word) => word == Own ? owner : word;
        var words = new WordsOf(item, place, filter, input.Bleed);
        var wait = Minutes(line.Wait, item, place);
        var opens = Circuit(more.Opens);
        var (code, table, minutes) = MinutesOf(line, owner, item, place, filter, input);
        var step = new JobStep
        {
            Code = code,
            State = line.State,
            Heat = line.Heat switch
            {
                "{hot}" => input.DrainHot ? StepHeat.Warm : null,
                "" => null,
                _ => Enum.Parse<StepHeat>(line.Heat),
            },
            Still = more.Still,
            Opens = opens,
            Shuts = Circuit(more.Shuts),
            Fills = Circuit(more.Fills),
            Room = opens.Length == 0 ? null : more.Litres ?? (line.Key == "lower" ? filtered : place?.Capacity),
            Cool = more.Cool,
            BeforeRun = more.BeforeRun,
            Parts = line.Parts,
            TickEach = more.Cool,
            Input = line.Input,
            Words = words.Put(line.Words),
            Item = item?.Code ?? "",
            Compartment = item?.Compartment ?? "",
            Minutes = minutes,
            Table = minutes == table ? null : table,
            Wait = wait,
            Access = line.State == MachineState.Isolated && more.Position.Length == 0 ? item?.Access ?? "" : "",
            Posture = more.Position == Mark ? $"{Mark}:{item?.Compartment}" : more.Position,
            Caution = line.Caution.Length > 0 ? line.Caution : item?.Caution ?? "",
            Touches = words.Put(line.Touches),
            Qualified = item?.Qualified ?? false,
            Litres = litres,
            Capacity = place?.Capacity,
            Change = change,
            Sealed = place?.Traits.Contains("round") ?? false,
            Fluid = line.Input is InputKind.Fill or InputKind.Level ? place?.Fluid ?? "" : "",
            Stream = opens.Length > 0 || line.Input == InputKind.Drained ? place?.Stream ?? (opens.Length > 0 ? opens : "oil") : "",
            Points = line.Input switch
            {
                InputKind.Plug => place?.DrainPoints ?? 1,
                InputKind.Count or InputKind.Volts => item?.Points ?? 0,
                _ => 0,
            },
            BetweenMarks = line.Input == InputKind.Level ? place?.BetweenMarks : null,
            Torque = line.Input == InputKind.Plug ? place?.PlugTorque ?? "" : "",
            Seconds =
                line.Input == InputKind.Pressure ? input.Places.Values.FirstOrDefault(x => x.Kind == "engine")?.PressureSeconds : null,
            Position = filter?.Code ?? "",
            Figures = line.Input == InputKind.Measured ? [.. input.Figures[owner]] : [],
            Size = filter?.Size ?? new(),
            Part = filter?.Part ?? "",
            Alternates = filter?.Alternates ?? [],
            Prefill = filter?.Prefill ?? PrefillRule.Dry,
            Turn = filter?.Turn ?? TurnRule.None,
            Paper = more.Paper,
            Hub = more.Position == Mark ? place?.Hub ?? "" : "",
            Why = words.Put(line.Why),
            MetalStops =
                line.Input is InputKind.Magnet or InputKind.Filter or InputKind.Drained
                && place is { } p
                && (p.Kind == "engine" || p.Traits.Contains("round")),
        };
        return new(
            step,
            more,
            [
                .. line
                    .After.Split(' ', StringSplitOptions.RemoveEmptyEntries)
                    .Select(x => x[0] == '@' || x.Contains('.', StringComparison.Ordinal) ? x : $"{owner}.{x}"),
            ],
            place?.Kind == "engine"
        );
    }

    private static int Minutes(string text, JobItem? item, JobPlace? place) =>
        (int)
            Math.Ceiling(
                text switch
                {
                    "" => 0,
                    "{minutes}" => item?.Minutes ?? 0,
                    "{drain}" => place?.DrainMinutes ?? 0,
                    "{settle}" => place?.SettleMinutes ?? 0,
                    _ => double.Parse(text, CultureInfo.InvariantCulture),
                }
            );

    /// <summary>Puts names into words.</summary>
    private sealed class WordsOf(JobItem? item, JobPlace? place, JobFilter? filter, FuelBleed? bleed)
    {
        public string Put(string words) =>
            words.Contains('{', StringComparison.Ordinal)
                ? words
                    .Replace("{item}", item?.Name, StringComparison.Ordinal)
                    .Replace("{place}", place?.Name ?? item?.Name, StringComparison.Ordinal)
                    .Replace("{filter}", filter?.Name, StringComparison.Ordinal)
                    .Replace("{bleed}", bleed is null ? "" : $"{bleed.Method}: {bleed.Points}", StringComparison.Ordinal)
                    .Replace("{crank}", Number(bleed?.CrankSeconds), StringComparison.Ordinal)
                    .Replace("{rest}", Number(bleed?.RestSeconds), StringComparison.Ordinal)
                    .Replace("{repeats}", Number(bleed?.Repeats), StringComparison.Ordinal)
                : words;

        private static string? Number(int? figure) => figure?.ToString(CultureInfo.InvariantCulture);
    }

    /// <summary>What a change is held against, where capacity and stick are known.</summary>
    private static ChangeFacts? ChangeOf(JobPlace? place, string owner, JobInput input)
    {
        if (place is not { Capacity: { } capacity and > 0, BetweenMarks: { } marks and > 0 })
            return null;
        static decimal Litres(double litres) => Math.Round((decimal)litres, 3);
        var filters = input.Filters.Where(x => x.Item == owner).ToList();
        var known = filters.Sum(x => x.Litres);
        var outside =
            filters.Count == 0 ? 0
            : known > 0 ? known
            : place.FilterLitres;
        return new(Litres(capacity), Litres(marks), Litres(Math.Min(outside, capacity)), Litres(place.ToppedUp), place.Changes);
    }

    /// <summary>Every step with the steps that come before it, those of the rules too: as found before opened, cold before warm.</summary>
    private static List<JobStep> Linked(List<Draft> drafts)
    {
        var codes = drafts.Select(x => x.Step.Code).ToHashSet(StringComparer.Ordinal);
        List<string> Of(Func<Draft, bool> which) => [.. drafts.Where(which).Select(x => x.Step.Code)];
        var groups = new Dictionary<string, List<string>>(StringComparer.Ordinal)
        {
            ["@isolated"] = Of(x => x.Step.State == MachineState.Isolated && x.Step.Code != "card.tools"),
            ["@opened"] = Of(Opened),
            ["@fuel"] = Of(x => x.After.Contains("card.fuel-off") && !x.Step.Code.StartsWith("card.", StringComparison.Ordinal)),
            ["@waste"] = Of(x => x.Step.Input is InputKind.Drained or InputKind.Filter),
        };
        var found = Of(x => x.More.AsFound);
        var run = Of(x => x.Step.Code == "card.leaks");
        var warmDrains = Of(x => x.Step.Opens.Length > 0 && x.Step is { Heat: StepHeat.Warm, Posture: "" });
        var clean = Of(x => x.Step.Code == "card.clean");
        IEnumerable<string> Before(Draft draft)
        {
            var step = draft.Step;
            foreach (var code in draft.After)
            {
                if (groups.TryGetValue(code, out var group))
                    foreach (var one in group)
                        yield return one;
                else if (codes.Contains(code))
                    yield return code;
                else if (code.EndsWith(".filter", StringComparison.Ordinal))
                    foreach (var one in Of(x => x.Step.Code.StartsWith(code + "-", StringComparison.Ordinal)))
                        yield return one;
            }

            if (step.Code != "card.walkround" && codes.Contains("card.walkround"))
                yield return "card.walkround";

            // As it was found, before anything is opened: what runs first, levels and samples of the same compartment.
            if (Opened(draft) || step.Opens.Length > 0)
            {
                foreach (var one in found.Concat(clean))
                    yield return one;
            }

            if (step.Opens.Length > 0 && step.Compartment.Length > 0)
            {
                foreach (
                    var one in Of(x =>
                        x.Step.Compartment == step.Compartment
                        && x.Step.Item != step.Item
                        && (
                            x.Step.Input == InputKind.Bottle
                            || (x.Step.Input == InputKind.Level && x.Step.Code.Contains(".level", StringComparison.Ordinal))
                        )
                    )
                )
                    yield return one;
            }

            // What is new in the engine runs first while somebody looks, not on the way to a hub's mark.
            if (draft.More.Late || step.Posture.Length > 0)
            {
                foreach (var one in run)
                    yield return one;
            }

            // Nobody warms up what is drained next on an oil that was just filled, or on fuel lines full of air.
            if (step.Code is "card.fuel-off" || (step.Input == InputKind.Fill && draft.Engine))
            {
                foreach (var one in warmDrains.Where(x => !x.StartsWith(step.Item + ".", StringComparison.Ordinal)))
                    yield return one;
            }
        }

        return
        [
            .. drafts.Select(x =>
                x.Step with
                {
                    After = [.. Before(x).Where(code => code != x.Step.Code).Distinct(StringComparer.Ordinal)],
                }
            ),
        ];
    }

    // What the next start depends on: filled, shut, fitted, read.
    private static bool Opened(Draft draft) =>
        draft.Step is { State: MachineState.Isolated, Posture: "" }
        && !draft.More.Late
        && (
            draft.Step.Input is InputKind.Fill or InputKind.Plug or InputKind.Drained or InputKind.Magnet
            || (draft.Step.Input == InputKind.Filter && !draft.More.Paper)
            || draft.Step.Shuts.Length > 0
            || draft.More.BeforeRun
        );

    /// <summary>
    /// Gives every drain its vessel: the smallest free one of its stream that may be left alone, else the largest, in turn.
    /// </summary>
    private static List<JobStep> Assign(List<JobStep> steps, ImmutableArray<Vessel> vessels)
    {
        var free = vessels.ToList();
        foreach (var i in Enumerable.Range(0, steps.Count).Where(i => steps[i].Opens.Length > 0).OrderByDescending(i => steps[i].Room ?? 0))
        {
            var step = steps[i];
            var needed = (step.Room ?? 0) * JobStep.VesselReserve;
            var vessel = free.Where(x => x.Stream == step.Stream && x.Litres >= needed).MinBy(x => x.Litres)
                ?? vessels.Where(x => x.Stream == step.Stream && x.Litres >= needed).MinBy(x => x.Litres)
                ?? vessels.Where(x => x.Stream == step.Stream).MaxBy(x => x.Litres);
            if (vessel is null)
                continue;
            free.Remove(vessel);
            steps[i] = step with { Vessel = vessel.Name, VesselLitres = vessel.Litres };
            if (steps[i].Attended)
                steps[i] = steps[i] with { Minutes = step.TableMinutes + step.Wait, Table = null, Wait = 0 };
        }

        return steps;
    }

    private static CardCase CaseOf(JobInput input, List<JobStep> steps)
    {
        int Of(string code) => MinutesOf(input, code);
        static string? Named(string word) => word.Length == 0 ? null : word;
        return new()
        {
            Steps =
            [
                .. steps.Select(x => new CardStep
                {
                    Code = x.Code,
                    Hands = (int)x.Minutes,
                    Wait = (int)x.Wait,
                    State = x.State,
                    Heat = x.Heat,
                    Posture = Named(x.Posture),
                    Access = Named(x.Access),
                    After = x.After,
                    Drain = x.Opens.Length == 0 ? null : new(x.Opens, Room(x), VesselOf(x), x.Stream),
                    Shut = Named(x.Shuts),
                    Fill = Named(x.Fills),
                    Still = x.Still,
                }),
            ],
            Accesses =
            [
                .. steps
                    .Select(x => x.Access)
                    .Where(x => x.Length > 0)
                    .Distinct(StringComparer.Ordinal)
                    .Select(x => AccessOf(input, x))
                    .Select(x => new CardAccess(
                        x.Code,
                        input.Learnt.Of(StepTimes.KeyOf(CardBetween.Open, x.Code), x.OpenWhole),
                        input.Learnt.Of(StepTimes.KeyOf(CardBetween.Shut, x.Code), x.ShutWhole),
                        x.BeforeStart
                    )),
            ],
            Vessels =
            [
                .. steps
                    .Where(x => x.Opens.Length > 0)
                    .Select(x => new CardVessel(VesselOf(x), x.VesselLitres is { } litres ? (decimal)litres : NoVesselLitres))
                    .DistinctBy(x => x.Code),
            ],
            Minutes = new(
                Of("isolate"),
                Of("release"),
                Of("start"),
                Of("stop"),
                Of("clear"),
                Of("warmUp"),
                Of("coolDown"),
                Of("warmLasts"),
                Of("move"),
                Of("empty")
            ),
            OneAtATime = input.OneAtATime,
            Heat = input.Heat,
            Hanging = [.. input.Moves.Where(x => x.Hangs).Select(x => x.Code)],
        };
    }

    /// <summary>Minutes of something that lies between, as this machine's past has them; times of the machine are not learnt.</summary>
    private static int MinutesOf(JobInput input, string code)
    {
        var table = input.Between.FirstOrDefault(x => x.Code == code)?.Minutes ?? 0;
        return
            Enum.TryParse<CardBetween>(code, ignoreCase: true, out var between)
            && between is not (CardBetween.WarmUp or CardBetween.CoolDown)
            ? input.Learnt.Of(StepTimes.KeyOf(between), table)
            : table;
    }

    private const string UnderAccess = "belly-pan";

    private static string VesselOf(JobStep step) => step.Vessel.Length > 0 ? step.Vessel : "?" + step.Stream;

    private static decimal Room(JobStep step) => Math.Round((decimal)(step.Room ?? 0), 3);

    internal static AccessRule AccessOf(JobInput input, string code) =>
        input.Accesses.FirstOrDefault(x => x.Code == code) ?? new(code, code, code, 0, 0, false, "");
}
