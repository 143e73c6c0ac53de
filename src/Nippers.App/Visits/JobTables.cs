using System.Collections.Immutable;
using Nippers.App.Kinds;
using Nippers.Core.Jobs;
using Nippers.Core.Walk;

namespace Nippers.App.Visits;

/// <summary>The tables that job cards are made from; they ship inside, Visits/Tables.</summary>
internal static class JobTables
{
    private sealed record StepLine(
        string Work,
        string Key,
        int Phase,
        InputKind Input,
        string Words,
        string Minutes,
        string Wait,
        string After,
        EngineState Engine,
        string Touches,
        string When,
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
                (JobPhase)x.Phase,
                x.Input,
                x.Words,
                x.Minutes,
                x.Wait,
                x.After,
                x.Engine,
                x.Touches,
                x.When,
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

    /// <summary>A caution by its code; empty for none.</summary>
    public static string Caution(string code) => code.Length == 0 ? "" : Cautions[code];
}
