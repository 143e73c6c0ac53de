using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Programs;
using Nippers.Core.Hours;
using Nippers.Data.Programs;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Programs;

/// <summary>How a compartment of a program is drained and filled, and with what by outside temperature.</summary>
public sealed class CompartmentModel(ChangeProgram change, ProgramViews views, Words words) : NippersPage
{
    public ServiceProgram Program { get; private set; } = null!;

    public ProgramCompartment Compartment { get; private set; } = null!;

    public string? DrainMinutes { get; private set; }

    public string? SettleMinutes { get; private set; }

    public string? Fluids { get; private set; }

    public string? DrainStep { get; private set; }

    public string? DrainCap { get; private set; }

    public string? DrainFluids { get; private set; }

    public IReadOnlyCollection<string> Traits { get; private set; } = [];

    public int Version { get; private set; }

    public async Task<IActionResult> OnGet(string code, [FromQuery] string c, CancellationToken ct)
    {
        if (!await Load(code, c, ct))
            return NotFound();
        Version = Program.Version;
        (DrainMinutes, SettleMinutes, Fluids) = (
            Compartment.DrainMinutes.ToString(CultureInfo.InvariantCulture),
            Compartment.SettleMinutes.ToString(CultureInfo.InvariantCulture),
            Compartment.Fluids
        );
        (DrainStep, DrainCap, DrainFluids) = (Hours(Compartment.DrainStepHours), Hours(Compartment.DrainCapHours), Compartment.DrainFluids);
        Traits = Compartment.Traits.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        return Page();
    }

    public async Task<IActionResult> OnPost(
        [FromRoute] string code,
        [FromQuery] string c,
        string? drainMinutes,
        string? settleMinutes,
        string? fluids,
        string? drainStep,
        string? drainCap,
        string? drainFluids,
        string[] traits,
        int version,
        CancellationToken ct
    )
    {
        if (!await Load(code, c, ct))
            return NotFound();
        (DrainMinutes, SettleMinutes, Fluids, Traits, Version) = (drainMinutes, settleMinutes, fluids, traits, version);
        (DrainStep, DrainCap, DrainFluids) = (drainStep, drainCap, drainFluids);
        var outcome = await change.SaveCompartment(
            new(code, version, c, drainMinutes, settleMinutes, fluids, traits)
            {
                DrainStep = drainStep,
                DrainCap = drainCap,
                DrainFluids = drainFluids,
            },
            Actor,
            ct
        );
        if (outcome.Done)
            return Done($"/programs/{code}", words["Compartment.Saved", Compartment.Name]);
        Refuse(outcome.Refusals);
        return Page();
    }

    private static string? Hours(MeterHours? hours) => hours?.Value.ToString(CultureInfo.InvariantCulture);

    private async Task<bool> Load(string code, string c, CancellationToken ct)
    {
        if (await views.One(code, ct) is not { } found || found.Program.Compartments.Find(x => x.Code == c) is not { } compartment)
            return false;
        (Program, Compartment) = (found.Program, compartment);
        return true;
    }
}
