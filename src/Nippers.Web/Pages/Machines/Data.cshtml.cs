using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Units;
using Nippers.App.Visits;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>A compartment's data as the form posts them.</summary>
public sealed class CompartmentPost
{
    public string Code { get; set; } = "";
    public string? Capacity { get; set; }
    public string? Fluid { get; set; }
    public string? FilterLitres { get; set; }
    public string? DrainPoints { get; set; }
    public string? PlugTorque { get; set; }
    public string? PlugSeal { get; set; }
    public string? Socket { get; set; }
    public string? PressureSeconds { get; set; }
    public string? Hub { get; set; }

    public static CompartmentPost Of(CompartmentData data)
    {
        static string? Text(double? value) => value?.ToString(CultureInfo.InvariantCulture);
        var own = data.Own;
        return new()
        {
            Code = data.Compartment.Code,
            Capacity = Quantities.Typed(own?.CapacityLitres),
            Fluid = own?.Fluid,
            FilterLitres = own is { FilterLitres.Value: > 0 } ? Quantities.Typed(own.FilterLitres) : null,
            DrainPoints = own?.DrainPoints.ToString(CultureInfo.InvariantCulture),
            PlugTorque = own?.PlugTorque,
            PlugSeal = own?.PlugSeal,
            Socket = own?.Socket,
            PressureSeconds = Text(own?.PressureSeconds),
            Hub = own?.Hub,
        };
    }

    public CompartmentInput ToInput() =>
        new(Code, Capacity, Fluid, FilterLitres, DrainPoints, PlugTorque, PlugSeal, Socket, PressureSeconds, Hub);
}

/// <summary>
/// What a machine's own manual says for its service: capacities, fluids, plugs, bleeding. Nippers shows no figure that is not
/// entered here.
/// </summary>
public sealed class DataModel(MachineData data, Words words) : NippersPage
{
    public MachineDataPage Data { get; private set; } = null!;

    public List<CompartmentPost> Posts { get; private set; } = [];

    public string? BleedMethod { get; private set; }

    public string? BleedPoints { get; private set; }

    public string? CrankSeconds { get; private set; }

    public string? RestSeconds { get; private set; }

    public string? CrankRepeats { get; private set; }

    public async Task<IActionResult> OnGet(string unit, CancellationToken ct)
    {
        if (await data.Page(unit, ct) is not { } page)
            return NotFound();
        Data = page;
        Posts = [.. page.Compartments.Select(CompartmentPost.Of)];
        var m = page.Machine;
        string? Text(int value) => value == 0 ? null : value.ToString(CultureInfo.InvariantCulture);
        (BleedMethod, BleedPoints, CrankSeconds, RestSeconds, CrankRepeats) = (
            m.BleedMethod,
            m.BleedPoints,
            Text(m.CrankSeconds),
            Text(m.RestSeconds),
            Text(m.CrankRepeats)
        );
        return Page();
    }

    public async Task<IActionResult> OnPost(
        [FromRoute] string unit,
        List<CompartmentPost> c,
        string? bleedMethod,
        string? bleedPoints,
        string? crankSeconds,
        string? restSeconds,
        string? crankRepeats,
        CancellationToken ct
    )
    {
        var outcome = await data.Save(
            unit,
            new([.. c.Select(x => x.ToInput())], bleedMethod, bleedPoints, crankSeconds, restSeconds, crankRepeats),
            Actor,
            ct
        );
        if (outcome.Done)
            return Done(MachineUrls.One(unit, "data"), words["Data.Saved", unit]);
        if (await data.Page(unit, ct) is not { } page)
            return NotFound();
        (Data, Posts) = (page, c);
        (BleedMethod, BleedPoints, CrankSeconds, RestSeconds, CrankRepeats) = (
            bleedMethod,
            bleedPoints,
            crankSeconds,
            restSeconds,
            crankRepeats
        );
        Refuse(outcome.Refusals);
        return Page();
    }
}
