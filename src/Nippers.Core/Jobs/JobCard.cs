using System.Collections.Immutable;
using Nippers.Core.Fluids;

namespace Nippers.Core.Jobs;

/// <summary>An item of a visit, as a card is made from it.</summary>
/// <param name="Code">Its code.</param>
/// <param name="Name">Its name.</param>
/// <param name="Work">What kind of work it is.</param>
/// <param name="Compartment">Compartment it is done to.</param>
/// <param name="Minutes">Minutes of its main step.</param>
/// <param name="Points">How many points; 0 when not counted.</param>
/// <param name="Access">What must be open for it.</param>
/// <param name="Posture">How the machine must stand.</param>
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
    string Posture = "",
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
    Parts.FilterSize Size,
    Parts.PrefillRule Prefill,
    Parts.TurnRule Turn,
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
);

/// <summary>A line of the table that steps are made from.</summary>
/// <param name="Work">Kind of work that brings it; <c>card</c> for the card's own.</param>
/// <param name="Key">What is done, one word.</param>
/// <param name="Phase">Its phase.</param>
/// <param name="Input">What is entered.</param>
/// <param name="Words">What is done, with names in braces.</param>
/// <param name="Minutes">Minutes of hands; a number or a name in braces.</param>
/// <param name="Wait">Minutes that pass by themselves.</param>
/// <param name="After">Keys of the same item, or codes of the card, that come before.</param>
/// <param name="Engine">Engine state.</param>
/// <param name="Touches">What it opens or takes off.</param>
/// <param name="When">Words that must hold, as in <see cref="Service.OptionRule"/>.</param>
/// <param name="Caution">Its caution; empty: that of the item.</param>
/// <param name="Why">Words under it.</param>
public sealed record StepTemplate(
    string Work,
    string Key,
    JobPhase Phase,
    InputKind Input,
    string Words,
    string Minutes,
    string Wait,
    string After,
    Walk.EngineState Engine,
    string Touches,
    string When,
    string Caution,
    string Why
);

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
    public ImmutableHashSet<string> Machine { get; init; } = [];

    /// <summary>How fuel is bled; null when nobody entered it.</summary>
    public FuelBleed? Bleed { get; init; }

    /// <summary>Vessels of the workshop.</summary>
    public ImmutableArray<Vessel> Vessels { get; init; } = [];

    /// <summary>The table of steps.</summary>
    public required ImmutableArray<StepTemplate> Templates { get; init; }

    /// <summary>How things are opened.</summary>
    public ImmutableArray<AccessRule> Accesses { get; init; } = [];

    /// <summary>One compartment, one filter at a time.</summary>
    public bool OneAtATime { get; init; }

    /// <summary>Oil is drained hot.</summary>
    public bool DrainHot { get; init; } = true;
}

/// <summary>A job card: steps in the order in which hands reach them.</summary>
/// <param name="Steps">The steps.</param>
/// <param name="Order">Their times.</param>
public sealed record JobCard(ImmutableArray<JobStep> Steps, JobOrder Order);

/// <summary>Makes a job card of a visit's items.</summary>
/// <remarks>Rules 5. What steps there are stands in a table; here they are put to this machine.</remarks>
public static class JobCardMaker
{
    private const string Card = "card";
    private const string Defect = "defect";
    private const double DefectMinutes = 20;

    // The stop after the look with the engine running.
    private const string LastStop = "card.stop-again";

    /// <summary>Makes a card.</summary>
    public static JobCard Make(JobInput input)
    {
        var steps = Assign(Link(Steps(input)), input.Vessels);
        var shared = steps
            .Where(x => x.Vessel.Length > 0)
            .GroupBy(x => x.Vessel)
            .Where(x => x.Count() > 1)
            .Select(x => x.Key)
            .ToHashSet(StringComparer.Ordinal);
        var order = JobOrder.Of([.. steps.Select(x => x.ForOrder(shared.Contains(x.Vessel)))], input.OneAtATime);
        var byCode = steps.ToDictionary(x => x.Code, StringComparer.Ordinal);
        return new([.. order.Order.Select(x => byCode[x.Code])], order);
    }

    /// <summary>Minutes of hands that an item takes by itself, what must be opened for it apart.</summary>
    public static double MinutesOf(JobItem item, JobInput input) => ItemSteps(item, input, ItemWords(item, input)).Sum(x => x.Minutes);

    private static List<JobStep> Steps(JobInput input)
    {
        var steps = new List<JobStep>();
        string? round = null;
        foreach (var item in input.Items)
        {
            var own = ItemSteps(item, input, ItemWords(item, input)).ToList();
            var turning = own.Where(x => x.Phase == JobPhase.Rounds).ToList();
            if (turning.Count > 0)
            {
                // Hub after hub: the machine can stand at one mark at a time.
                if (round is not null)
                    own[own.IndexOf(turning[0])] = turning[0] with { After = turning[0].After.Add(round) };
                round = turning[^1].Code;
            }

            steps.AddRange(own);
        }

        foreach (var defect in input.Defects)
        {
            steps.Add(
                new()
                {
                    Code = $"{Defect}-{defect.Id}.repair",
                    Phase = JobPhase.Meanwhile,
                    Input = InputKind.Look,
                    Words = defect.Words,
                    Minutes = DefectMinutes,
                    Compartment = defect.Compartment,
                    Caution = defect.Caution,
                    Defect = defect.Id,
                }
            );
        }

        var words = CardWords(input, steps);
        steps.AddRange(
            input
                .Templates.Where(x => x.Work == Card && Service.OptionRule.Holds(x.When, words))
                .Select(x => Fill(x, Card, null, null, null, input))
        );
        AddAccess(input, steps);
        return steps;
    }

    private static HashSet<string> ItemWords(JobItem item, JobInput input)
    {
        var words = input.Machine.ToHashSet(StringComparer.Ordinal);
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
        if (input.Bleed is not null)
            words.Add("bleed");
        return words;
    }

    private static HashSet<string> CardWords(JobInput input, List<JobStep> steps)
    {
        var words = input.Machine.ToHashSet(StringComparer.Ordinal);
        bool Any(Func<JobStep, bool> what) => steps.Exists(x => what(x));
        var drains = Any(x => x.Input == InputKind.Drained);
        var opens = drains || Any(x => x.Input is InputKind.Filter or InputKind.Magnet);
        if (Any(x => x.Phase == JobPhase.Run) || drains && input.DrainHot)
            words.Add("runs");
        if (drains && input.DrainHot)
            words.Add("hot");
        if (opens)
            words.Add("opens");
        if (opens || Any(x => x.Touches.Length > 0))
            words.Add("starts");
        if (Any(x => x.Input is InputKind.Drained or InputKind.Filter && Kind(input, x) == "engine"))
            words.Add("engineopen");
        if (Any(x => x.Input is InputKind.Drained or InputKind.Filter && Kind(input, x) == "hydraulic"))
            words.Add("hydraulicopen");
        if (Any(x => x.Input == InputKind.Filter && Kind(input, x) == "fuel"))
            words.Add("fuelopen");
        if (drains || Any(x => x.Input == InputKind.Filter))
            words.Add("waste");
        if (Any(x => x.Input == InputKind.Filter))
            words.Add("filters");
        if (Any(x => x.Input == InputKind.Plug))
            words.Add("plugs");
        if (input.Bleed is not null)
            words.Add("bleed");
        return words;
    }

    private static string Kind(JobInput input, JobStep step) => input.Places.TryGetValue(step.Compartment, out var place) ? place.Kind : "";

    private static IEnumerable<JobStep> ItemSteps(JobItem item, JobInput input, HashSet<string> words)
    {
        var place = input.Places.GetValueOrDefault(item.Compartment);
        foreach (var line in input.Templates.Where(x => x.Work == item.Work.ToString() && Service.OptionRule.Holds(x.When, words)))
        {
            if (line.Input == InputKind.Filter)
            {
                foreach (var filter in input.Filters.Where(x => x.Item == item.Code))
                    yield return Fill(line, item.Code, item, place, filter, input);
            }
            else
            {
                yield return Fill(line, item.Code, item, place, null, input);
            }
        }
    }

    private static JobStep Fill(StepTemplate line, string owner, JobItem? item, JobPlace? place, JobFilter? filter, JobInput input)
    {
        var change =
            item?.Work == ItemWork.Fluid && line.Input is InputKind.Drained or InputKind.Fill or InputKind.Level && line.Key != "found"
                ? ChangeOf(place, owner, input)
                : null;
        var outside = change is null ? input.Filters.Where(x => x.Item == owner).Sum(x => x.Litres) : (double)change.FilterLitres;
        var residue = change is null ? 0 : (double)FluidBalance.ResidueOf(change.Capacity, change.History);
        var litres = line.Input switch
        {
            InputKind.Drained when line.Key == "lower" => input.Filters.Where(x => x.Item == owner).Sum(x => x.Litres),
            InputKind.Fill when line.Key == "top" => input.Filters.Where(x => x.Item == owner).Sum(x => x.Litres),
            InputKind.Drained => place?.Capacity - outside - residue,
            InputKind.Fill => place?.Capacity - place?.FilterLitres - residue,
            InputKind.Level when line.Key == "recheck" => place?.FilterLitres,
            InputKind.Tick when line.Key is "drain" or "lower" => place?.Capacity,
            _ => null,
        };
        string Put(string words) =>
            words
                .Replace("{item}", item?.Name, StringComparison.Ordinal)
                .Replace("{place}", place?.Name ?? item?.Name, StringComparison.Ordinal)
                .Replace("{filter}", filter?.Name, StringComparison.Ordinal)
                .Replace("{bleed}", input.Bleed is { } bleed ? $"{bleed.Method}: {bleed.Points}" : "", StringComparison.Ordinal)
                .Replace(
                    "{crank}",
                    input.Bleed?.CrankSeconds.ToString(System.Globalization.CultureInfo.InvariantCulture),
                    StringComparison.Ordinal
                )
                .Replace(
                    "{rest}",
                    input.Bleed?.RestSeconds.ToString(System.Globalization.CultureInfo.InvariantCulture),
                    StringComparison.Ordinal
                )
                .Replace(
                    "{repeats}",
                    input.Bleed?.Repeats.ToString(System.Globalization.CultureInfo.InvariantCulture),
                    StringComparison.Ordinal
                );
        double Minutes(string text) =>
            text switch
            {
                "" => 0,
                "{minutes}" => item?.Minutes ?? 0,
                "{drain}" => place?.DrainMinutes ?? 0,
                "{settle}" => place?.SettleMinutes ?? 0,
                _ => double.Parse(text, System.Globalization.CultureInfo.InvariantCulture),
            };
        var drains = line.Key == "drain";
        return new()
        {
            Code =
                owner == Card ? $"{Card}.{line.Key}"
                : filter is null ? $"{owner}.{line.Key}"
                : $"{owner}.{line.Key}-{filter.Code}",
            Phase = line.Phase,
            Input = line.Input,
            Words = Put(line.Words),
            Item = item?.Code ?? "",
            Compartment = item?.Compartment ?? "",
            Minutes = Minutes(line.Minutes),
            Wait = Minutes(line.Wait),
            After =
            [
                .. line
                    .After.Split(' ', StringSplitOptions.RemoveEmptyEntries)
                    .Select(x => x.Contains('.', StringComparison.Ordinal) ? x : $"{owner}.{x}"),
            ],
            Access = line.Phase is JobPhase.Settle or JobPhase.Close ? "" : item?.Access ?? "",
            Posture = item?.Posture ?? "",
            Engine = line.Engine,
            Caution = line.Caution.Length > 0 ? line.Caution : item?.Caution ?? "",
            Touches = Put(line.Touches),
            Qualified = item?.Qualified ?? false,
            Litres = litres,
            Capacity = place?.Capacity,
            Change = change,
            Sealed = place?.Traits.Contains("round") ?? false,
            Fluid = line.Input is InputKind.Fill or InputKind.Level ? place?.Fluid ?? "" : "",
            Stream = drains || line.Input == InputKind.Drained ? place?.Stream ?? "" : "",
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
            Size = filter?.Size ?? new(),
            Part = filter?.Part ?? "",
            Alternates = filter?.Alternates ?? [],
            Prefill = filter?.Prefill ?? Parts.PrefillRule.Dry,
            Turn = filter?.Turn ?? Parts.TurnRule.None,
            Hub = drains || line.Key == "mark" || line.Key == "fill" ? place?.Hub ?? "" : "",
            Why = Put(line.Why),
            MetalStops =
                line.Input is InputKind.Magnet or InputKind.Filter or InputKind.Drained
                && place is { } p
                && (p.Kind == "engine" || p.Traits.Contains("round")),
        };
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

    /// <summary>Whatever several steps need open is opened once and shut once.</summary>
    private static void AddAccess(JobInput input, List<JobStep> steps)
    {
        var drives = steps.Exists(x => x.Phase == JobPhase.Rounds);
        foreach (var access in steps.Select(x => x.Access).Where(x => x.Length > 0).Distinct().Order(StringComparer.Ordinal).ToList())
        {
            var rule = input.Accesses.FirstOrDefault(x => x.Code == access) ?? new(access, access, access, 0, 0, false, "");
            var users = steps.Where(x => x.Access == access).ToList();
            var open = $"{Card}.open-{access}";

            // What is tilted or raised is shut before anyone starts; the rest stays open for the look after the start, and is
            // shut then when the machine is driven afterwards.
            var shut =
                rule.BeforeStart ? JobPhase.Refill
                : drives ? JobPhase.Start
                : JobPhase.Close;
            var early = users.Where(x => x.Phase <= shut).Select(x => x.Code).ToHashSet(StringComparer.Ordinal);
            for (var i = 0; i < steps.Count; i++)
            {
                if (steps[i].Access != access)
                    continue;
                steps[i] = early.Contains(steps[i].Code)
                    ? steps[i] with
                    {
                        After = steps[i].After.Add(open),
                    }
                    : steps[i] with
                    {
                        Access = "",
                    };
            }

            if (early.Count == 0)
                continue;
            steps.Add(
                new()
                {
                    Code = open,
                    Phase = users.Min(x => x.Phase),
                    Input = InputKind.Tick,
                    Words = rule.Open,
                    Minutes = rule.OpenMinutes,
                    Access = access,
                    Caution = rule.Caution,
                }
            );
            steps.Add(
                new()
                {
                    Code = $"{Card}.shut-{access}",
                    Phase = shut,
                    Input = InputKind.Tick,
                    Words = rule.Shut,
                    Minutes = rule.ShutMinutes,
                    Access = access,
                    After = shut == JobPhase.Start ? [.. early, LastStop] : [.. early],
                    Caution = rule.Caution,
                }
            );
        }
    }

    /// <summary>Drops what comes after steps that this card has not, and has every item wait for the isolation of the card.</summary>
    private static List<JobStep> Link(List<JobStep> steps)
    {
        var codes = steps.Select(x => x.Code).ToHashSet(StringComparer.Ordinal);
        return
        [
            .. steps.Select(step =>
                step with
                {
                    After =
                    [
                        .. step
                            .After.SelectMany(code =>
                                code.EndsWith(".filter", StringComparison.Ordinal)
                                    ? codes.Where(x => x.StartsWith(code + "-", StringComparison.Ordinal)).Order(StringComparer.Ordinal)
                                : codes.Contains(code) ? [code]
                                : Enumerable.Empty<string>()
                            )
                            .Where(code => code != step.Code)
                            .Distinct(StringComparer.Ordinal),
                    ],
                }
            ),
        ];
    }

    /// <summary>
    /// Gives every drain its vessel: the smallest free one of its stream that may be left alone, else the largest, in turn.
    /// </summary>
    private static List<JobStep> Assign(List<JobStep> steps, ImmutableArray<Vessel> vessels)
    {
        var free = vessels.ToList();
        foreach (
            var i in Enumerable
                .Range(0, steps.Count)
                .Where(i => steps[i].Input == InputKind.Tick && steps[i].Stream.Length > 0)
                .OrderByDescending(i => steps[i].Litres ?? 0)
        )
        {
            var step = steps[i];
            var needed = (step.Litres ?? 0) * OrderStep.VesselReserve;
            var vessel = free.Where(x => x.Stream == step.Stream && x.Litres >= needed).MinBy(x => x.Litres)
                ?? vessels.Where(x => x.Stream == step.Stream && x.Litres >= needed).MinBy(x => x.Litres)
                ?? vessels.Where(x => x.Stream == step.Stream).MaxBy(x => x.Litres);
            if (vessel is null)
                continue;
            free.Remove(vessel);
            steps[i] = step with { Vessel = vessel.Name, VesselLitres = vessel.Litres };
        }

        return steps;
    }
}
