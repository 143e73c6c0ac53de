using System.Collections.Immutable;

namespace Nippers.Core.Jobs;

/// <summary>What is taken along besides parts and fluids.</summary>
public enum Gear
{
    /// <summary>Padlock and tag of each person.</summary>
    LockAndTag,

    /// <summary>Chocks.</summary>
    Chocks,

    /// <summary>Stands rated for the machine.</summary>
    Stands,

    /// <summary>Rags.</summary>
    Rags,

    /// <summary>Spill kit.</summary>
    SpillKit,

    /// <summary>Filter wrench.</summary>
    FilterWrench,

    /// <summary>Torque tool with the sockets.</summary>
    TorqueTool,

    /// <summary>Clean funnel or filling hose.</summary>
    Funnel,

    /// <summary>Vacuum pump and new tubes.</summary>
    PumpAndTubes,

    /// <summary>Labels for the bottles.</summary>
    Labels,

    /// <summary>Grease and gun.</summary>
    GreaseGun,

    /// <summary>Coolant test strips or gauge.</summary>
    TestStrips,

    /// <summary>Volt meter.</summary>
    VoltMeter,

    /// <summary>Rule and rod.</summary>
    Rule,

    /// <summary>Light and a piece of card.</summary>
    LightAndCard,

    /// <summary>Gauge for tyres.</summary>
    TyreGauge,

    /// <summary>Feeler gauges.</summary>
    FeelerGauge,

    /// <summary>Blocks rated for the machine, to let it down onto.</summary>
    Blocks,

    /// <summary>Gloves against cuts, glasses.</summary>
    CutGloves,

    /// <summary>Soap water for leaks of gas and air.</summary>
    SoapSpray,

    /// <summary>Tester of insulation.</summary>
    InsulationTester,

    /// <summary>Kit for charging struts and accumulators.</summary>
    ChargingKit,

    /// <summary>A known load.</summary>
    TestLoad,

    /// <summary>Gauge and watch for air pressure.</summary>
    AirGauge,
}

/// <summary>A vessel to take along, and how often it is emptied on the way.</summary>
/// <param name="Name">Its name; empty when the workshop has none of that stream.</param>
/// <param name="Litres">What it holds.</param>
/// <param name="Stream">What runs into it first.</param>
/// <param name="Emptied">Times that it is emptied before the card is over.</param>
public sealed record TakeVessel(string Name, double? Litres, string Stream, int Emptied);

/// <summary>What to take along to a card, from its steps and from nothing else.</summary>
/// <remarks>Rules 5.</remarks>
public static class JobGear
{
    /// <summary>Gear of a card, each once.</summary>
    public static ImmutableArray<Gear> Of(ImmutableArray<JobStep> steps) => [.. steps.SelectMany(Of).Distinct().Order()];

    /// <summary>Vessels of a card's drains.</summary>
    public static ImmutableArray<TakeVessel> Vessels(ImmutableArray<JobStep> steps) =>
        [
            .. steps
                .Where(x => x.Opens.Length > 0)
                .GroupBy(x => x.Vessel.Length > 0 ? x.Vessel : "?" + x.Stream)
                .Select(x => new TakeVessel(
                    x.First().Vessel,
                    x.First().VesselLitres,
                    x.First().Stream,
                    steps.Count(y => y.Between == CardBetween.Empty && y.Vessel == x.Key)
                )),
        ];

    private static IEnumerable<Gear> Of(JobStep step)
    {
        if (step.Between == CardBetween.Isolate)
            return [Gear.LockAndTag, Gear.Chocks];
        if (step.Posture is "on-stands" or "hung-left" or "hung-right")
            return [Gear.Stands, Gear.Rule];
        if (step.Opens.Length > 0)
            return [Gear.Rags, Gear.SpillKit];
        return step.Input switch
        {
            InputKind.Filter when !step.Paper => [Gear.FilterWrench, Gear.Rags],
            InputKind.Plug => [Gear.TorqueTool],
            InputKind.Fill => [Gear.Funnel],
            InputKind.Bottle => step.State == MachineState.Running ? [Gear.Labels, Gear.Rags] : [Gear.Labels, Gear.PumpAndTubes, Gear.Rags],
            InputKind.Count => [Gear.GreaseGun, Gear.Rags],
            InputKind.Coolant => [Gear.TestStrips],
            InputKind.Volts => [Gear.VoltMeter],
            InputKind.BeforeAfter => [Gear.Rule],
            InputKind.Measured when step.Code.Contains(".torque", StringComparison.Ordinal) => [Gear.TorqueTool],
            InputKind.Measured => [Gear.Rule],
            InputKind.Pressure => [Gear.LightAndCard],
            _ => Worded(step),
        };
    }

    // What a step of these words needs is in its code: greasing by look, torques, measuring.
    private static Gear[] Worded(JobStep step) =>
        step.Code.Split('.')[^1] switch
        {
            "grease-all" or "grease-here" => [Gear.GreaseGun, Gear.Rags],
            "torque" => [Gear.TorqueTool],
            "measure" or "measure-cold" => [Gear.Rule],
            "leaks" or "look-after" => [Gear.LightAndCard],
            _ => [],
        };
}
