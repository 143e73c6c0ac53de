using System.Collections.Immutable;
using Nippers.App.Kinds;
using Nippers.Core.Jobs;
using Nippers.Core.Service;

namespace Nippers.App.Visits;

/// <summary>The tables that job cards are made from; they ship inside, Visits/Tables.</summary>
internal static class JobTables
{
    private sealed record StepLine(
        string Work,
        string Key,
        string State,
        string Heat,
        InputKind Input,
        string Words,
        string Minutes,
        string Wait,
        string After,
        string More,
        string Touches,
        string When,
        string Parts,
        string Caution,
        string Why
    );

    private sealed record AccessLine(
        string Code,
        string Open,
        string Shut,
        double OpenMinutes,
        double ShutMinutes,
        string BeforeStart,
        string Caution
    );

    private sealed record BetweenLine(string Code, string Words, int Minutes, string Parts, string Caution);

    private sealed record MoveLine(string Code, string Words, string Hangs, string Parts, string Caution);

    private sealed record FigureLine(string Item, string Code, string Name, string Unit, string Needs);

    private sealed record GearLine(string Item, string Gear);

    private sealed record CautionLine(string Code, string Text);

    private static readonly Dictionary<string, string> Cautions = KindFolders
        .SharedRows<CautionLine>("cautions")
        .ToDictionary(x => x.Code, x => x.Text, StringComparer.Ordinal);

    /// <summary>What steps there are.</summary>
    public static ImmutableArray<StepTemplate> Steps { get; } =
    [
        .. Tables
            .Read<StepLine>("Visits.steps")
            .Select(x => new StepTemplate(
                x.Work,
                x.Key,
                x.State.Length == 0 ? null : Enum.Parse<MachineState>(x.State),
                x.Heat,
                x.Input,
                x.Words,
                x.Minutes,
                x.Wait,
                x.After,
                StepTraits.Parse(x.More),
                x.Touches,
                x.When,
                Parts(x.Parts),
                Caution(x.Caution),
                x.Why
            )),
    ];

    /// <summary>What may have to be opened, and how.</summary>
    public static ImmutableArray<AccessRule> Accesses { get; } =
    [
        .. Tables
            .Read<AccessLine>("Visits.access")
            .Select(x => new AccessRule(x.Code, x.Open, x.Shut, x.OpenMinutes, x.ShutMinutes, x.BeforeStart == "yes", Caution(x.Caution))),
    ];

    /// <summary>What the card puts between steps.</summary>
    public static ImmutableArray<BetweenRule> Between { get; } =
    [
        .. Tables
            .Read<BetweenLine>("Visits.between")
            .Select(x => new BetweenRule(x.Code, x.Words, x.Minutes, Parts(x.Parts), Caution(x.Caution))),
    ];

    /// <summary>Positions that a machine is driven into.</summary>
    public static ImmutableArray<MoveRule> Moves { get; } =
    [
        .. Tables
            .Read<MoveLine>("Visits.moves")
            .Select(x => new MoveRule(x.Code, x.Words, x.Hangs == "yes", Parts(x.Parts), Caution(x.Caution))),
    ];

    /// <summary>The step that shuts what an item left open; {0} is the item.</summary>
    public static BetweenRule Closing { get; } = Between.Single(x => x.Code == "closing");

    /// <summary>Figures that items ask for, on a machine of some words.</summary>
    public static IEnumerable<(string Item, AskedFigure Figure)> FiguresOf(IReadOnlySet<string> machine) =>
        FigureLines.Where(x => OptionRule.Holds(x.Needs, machine)).Select(x => (x.Item, new AskedFigure(x.Code, x.Name, x.Unit)));

    private static readonly ImmutableArray<FigureLine> FigureLines = [.. Tables.Read<FigureLine>("Visits.figures")];

    private static readonly ILookup<string, Gear> Gears = Tables
        .Read<GearLine>("Visits.gear")
        .SelectMany(x => x.Gear.Split(' ').Select(y => (x.Item, Gear: Enum.Parse<Gear>(y))))
        .ToLookup(x => x.Item, x => x.Gear, StringComparer.Ordinal);

    /// <summary>What an item needs beside what its steps say.</summary>
    public static IEnumerable<Gear> GearOf(string item) => Gears[item];

    /// <summary>Items that gear is listed for.</summary>
    public static IEnumerable<string> WithGear => Gears.Select(x => x.Key);

    /// <summary>The step that puts back what an item that is left had taken off; {0} is the item.</summary>
    public static BetweenRule PutBack { get; } = Between.Single(x => x.Code == "putBack");

    /// <summary>The defect of a card that is closed while it is locked out; {0} is who, {1} what is open, {2} why.</summary>
    public static BetweenRule LockedOut { get; } = Between.Single(x => x.Code == "lockedOut");

    /// <summary>A caution by its code; empty for none.</summary>
    public static string Caution(string code) => code.Length == 0 ? "" : Cautions[code];

    private static ImmutableArray<string> Parts(string parts) => [.. parts.Split('|', StringSplitOptions.RemoveEmptyEntries)];
}
