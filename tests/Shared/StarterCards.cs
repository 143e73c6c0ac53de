using System.Collections.Immutable;
using Nippers.App.Programs;
using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Core.Parts;
using Nippers.Core.Service;
using Nippers.Data.Programs;

namespace Nippers.Tests;

/// <summary>What the cards of starter programs are made from, tier by tier, on machines of several options.</summary>
internal static class StarterCards
{
    /// <summary>Tiers whose cards are made, hours.</summary>
    public static readonly int[] Tiers = [250, 500, 1000, 2000];

    /// <summary>Sets of options.</summary>
    public static readonly string[][] Options =
    [
        [],
        ["aftertreatment=none", "attachment=none"],
        [
            .. "aftertreatment=def attachment=breaker ac linkage=greased winch ripper stabilisers sway spray firesystem brakes=wet".Split(
                ' '
            ),
        ],
        ["gear=wheels", "boom=pads", "dust=water", "heat=electric"],
    ];

    /// <summary>What the card of a tier is made from.</summary>
    /// <param name="code">The program.</param>
    /// <param name="tier">All that comes round by so many hours.</param>
    /// <param name="set">Number of the options.</param>
    /// <param name="pump">How fuel is bled; null for what the options have.</param>
    public static JobInput Input(string code, int tier, int set, string? pump = null)
    {
        var options = Options[set];
        var program = StarterPrograms.All().Single(x => x.Code == code);
        var words = options.ToHashSet();
        var items = program
            .Items.Where(x => OptionRule.Holds(x.Needs, words) && Hours(x) is { } hours && hours >= 50 && tier % hours == 0)
            .ToList();
        if (tier == 2000)
            items.AddRange(program.Items.Where(x => x.Code == "coolant-change"));
        var covered = items.SelectMany(x => x.Covers.Split(' ')).ToHashSet();
        items.RemoveAll(x => covered.Contains(x.Code));
        return new()
        {
            Items =
            [
                .. items.Select(x => new JobItem(
                    x.Code,
                    x.Name,
                    x.Work,
                    x.Compartment,
                    x.Minutes,
                    x.Points,
                    x.Access,
                    x.Qualified,
                    x.Caution
                )),
            ],
            Places = program.Compartments.ToImmutableDictionary(
                x => x.Code,
                x => new JobPlace(x.Code, x.Name, x.Kind.ToString().ToLowerInvariant())
                {
                    Capacity = Litres(x),
                    FilterLitres = x.Code == "engine" ? 1.4 : 0,
                    BetweenMarks = x.Code == "engine" ? 3 : null,
                    DrainMinutes = x.DrainMinutes,
                    SettleMinutes = x.SettleMinutes,
                    Stream = x.Stream.Length > 0 ? x.Stream : "oil",
                    Traits = [.. x.Traits.Split(' ', StringSplitOptions.RemoveEmptyEntries)],
                    Hub = x.Traits.Contains("round", StringComparison.Ordinal) ? "6 3 12" : "",
                }
            ),
            Filters =
            [
                .. items
                    .Where(x => x.Work is ItemWork.Filter or ItemWork.Element || x.Code == "engine-oil")
                    .Select(x => new JobFilter(
                        x.Code + "-filter",
                        x.Name,
                        x.Code,
                        "TO1-100",
                        [],
                        new(100, 80, 70, "M20x1.5"),
                        PrefillRule.Dry,
                        TurnRule.OneTurn,
                        1.4
                    )),
            ],
            Machine = [.. options, code.Contains("mini", StringComparison.Ordinal) ? "sag=gap" : "sag=hang"],
            Bleed = new(pump ?? (set == 0 ? "Key-on pump" : "Hand pump"), "head", 20, 60, 3),
            Vessels =
            [
                new("Pan A", 30, "oil"),
                new("Pan B", 60, "oil"),
                new("Trolley", 250, "oil"),
                new("Tub", 40, "coolant"),
                new("Can", 25, "fuel"),
            ],
            Templates = JobTables.Steps,
            Accesses = JobTables.Accesses,
            Between = JobTables.Between,
            Moves = JobTables.Moves,
        };
    }

    // A truck's services by kilometres stand in the tier that they are driven in.
    private static double? Hours(ProgramItem item) =>
        item.EveryHours?.Value
        ?? item.EveryKm switch
        {
            null or < 10_000 => null,
            <= 15_000 => 250,
            <= 45_000 => 500,
            _ => 2000,
        };

    private static double Litres(ProgramCompartment place) =>
        place.Code switch
        {
            "engine" => 24.5,
            "hydraulic" => 190,
            "cooling" => 30,
            "transmission" => 42,
            _ => 6,
        };
}
