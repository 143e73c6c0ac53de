using Microsoft.AspNetCore.Mvc;
using Nippers.App.Oil;
using Nippers.Core.Oil;
using Nippers.Web.Drawing;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>The oil of a compartment on one line of time.</summary>
public sealed class OilModel(SampleViews views) : NippersPage
{
    /// <summary>A row of the table behind the drawing.</summary>
    public sealed record Row(double Hours, DateOnly? On, SamplePoint? Sample, OilEvent? Event);

    public CompartmentPage Oil { get; private set; } = null!;

    public Measurand Tine { get; private set; }

    /// <summary>Measurands that there are values of.</summary>
    public IReadOnlyList<Measurand> Tines { get; private set; } = [];

    public IEnumerable<Row> Rows =>
        Oil
            .Samples.Select(x => new Row(x.Hours, x.On, x, null))
            .Concat(Oil.Events.Select(x => new Row(x.Hours, x.On, null, x)))
            .OrderByDescending(x => x.Hours);

    public async Task<IActionResult> OnGet(string unit, [FromQuery] string? c, [FromQuery] string? tine, CancellationToken ct)
    {
        if (c is null || await views.Compartment(unit, c, ct) is not { } page)
            return NotFound();
        Oil = page;
        Tines = [.. Rake.Order.Where(x => x != Measurand.Glycol && page.Samples.Any(s => s.Values[x] is not null))];
        Tine =
            Measurands.Parse(tine) is { } known && Tines.Contains(known) ? known
            : Tines.Count > 0 ? Tines[0]
            : Measurand.Fe;
        return Page();
    }
}
