using Nippers.Core.Jobs;

namespace Nippers.Core.Tests;

/// <summary>What is taken along comes from a card's steps.</summary>
public sealed class JobGearTests
{
    private static JobStep Step(InputKind input, string code = "a.x") =>
        new()
        {
            Code = code,
            Input = input,
            Words = "",
            State = MachineState.Isolated,
        };

    public static TheoryData<JobStep, string> Steps() =>
        new()
        {
            { Step(InputKind.Tick) with { Between = CardBetween.Isolate }, "LockAndTag Chocks" },
            { Step(InputKind.Tick) with { Between = CardBetween.Start }, "" },
            { Step(InputKind.Tick) with { Opens = "a", Vessel = "Pan", Stream = "oil" }, "Rags SpillKit" },
            { Step(InputKind.Filter), "Rags FilterWrench" },
            { Step(InputKind.Filter) with { Paper = true }, "" },
            { Step(InputKind.Plug), "TorqueTool" },
            { Step(InputKind.Fill), "Funnel" },
            { Step(InputKind.Bottle), "Rags PumpAndTubes Labels" },
            { Step(InputKind.Bottle) with { State = MachineState.Running }, "Rags Labels" },
            { Step(InputKind.Count), "Rags GreaseGun" },
            { Step(InputKind.Look, "a.grease-all"), "Rags GreaseGun" },
            { Step(InputKind.Look, "a.torque"), "TorqueTool" },
            { Step(InputKind.Look, "a.measure"), "Rule" },
            { Step(InputKind.Look, "a.check"), "" },
            { Step(InputKind.Coolant), "TestStrips" },
            { Step(InputKind.Volts), "VoltMeter" },
            { Step(InputKind.BeforeAfter) with { Posture = "hung-left" }, "Stands Rule" },
            { Step(InputKind.Pressure), "LightAndCard" },
        };

    [Theory]
    [MemberData(nameof(Steps))]
    public void A_step_asks_for_its_gear(JobStep step, string gear) => Assert.Equal(gear, string.Join(' ', JobGear.Of([step, step])));

    [Fact]
    public void Each_vessel_is_taken_once_with_how_often_it_is_emptied()
    {
        JobStep Drain(string circuit, string vessel, string stream) =>
            Step(InputKind.Tick, circuit + ".drain") with
            {
                Opens = circuit,
                Vessel = vessel,
                VesselLitres = 30,
                Stream = stream,
            };
        var found = JobGear.Vessels([
            Drain("a", "Pan", "oil"),
            Step(InputKind.Tick, "between.empty-Pan") with
            {
                Between = CardBetween.Empty,
                Vessel = "Pan",
            },
            Drain("b", "Pan", "oil"),
            Drain("c", "", "fuel"),
        ]);

        Assert.Equal([new TakeVessel("Pan", 30, "oil", 1), new TakeVessel("", 30, "fuel", 0)], found);
    }
}
