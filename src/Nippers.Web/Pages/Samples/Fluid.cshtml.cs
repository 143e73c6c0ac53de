using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Oil;
using Nippers.Core.Oil;
using Nippers.Data.Oil;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Samples;

/// <summary>Figures of one oil when new.</summary>
public sealed class FluidModel(NewOils oils, Words words) : NippersPage
{
    private static readonly string[] Plain = ["grade", "family", "viscosity", "tbn", "tan", "oxidation"];
    private Dictionary<string, string?> _values = [];

    public FluidPage Fluid { get; private set; } = null!;

    public int Version { get; private set; }

    public NewOilSource Source { get; private set; }

    public string? Value(string field) => _values.GetValueOrDefault(field);

    public async Task<IActionResult> OnGet([FromQuery] string name, CancellationToken ct)
    {
        if (await oils.One(name, ct) is not { } fluid)
            return NotFound();
        Fluid = fluid;
        if (fluid.Row is not { } row)
            return Page();
        static string? Text(double? value) => value?.ToString(CultureInfo.InvariantCulture);
        _values = new()
        {
            ["grade"] = row.Grade,
            ["family"] = row.Family,
            ["viscosity"] = Text(row.Viscosity),
            ["tbn"] = Text(row.Tbn),
            ["tan"] = Text(row.Tan),
            ["oxidation"] = Text(row.Oxidation),
        };
        foreach (var (measurand, value) in OilCase.ReadValues(row.Additives).All)
            _values[measurand.Code()] = Text(value);
        (Version, Source) = (row.Version, row.Source);
        return Page();
    }

    public async Task<IActionResult> OnPost([FromQuery] string name, int version, NewOilSource source, CancellationToken ct)
    {
        if (await oils.One(name, ct) is not { } fluid)
            return NotFound();
        (Fluid, Version, Source) = (fluid, version, source);
        var form = await Request.ReadFormAsync(ct);
        _values = Plain
            .Concat(Measurands.Additives.Select(x => x.Code()))
            .ToDictionary(x => x, x => (string?)form[x], StringComparer.Ordinal);
        var outcome = await oils.Save(
            name,
            new(
                version,
                Value("grade"),
                Value("family"),
                Value("viscosity"),
                Value("tbn"),
                Value("tan"),
                Value("oxidation"),
                _values,
                source
            ),
            Actor,
            ct
        );
        if (outcome.Done)
            return Done("/samples/fluids", words["NewOils.Saved", name]);
        Refuse(outcome.Refusals);
        return Page();
    }
}
