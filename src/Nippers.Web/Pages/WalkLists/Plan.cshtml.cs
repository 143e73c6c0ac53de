using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.WalkLists;

/// <summary>Changes the stations and the plan of a list, line by line.</summary>
public sealed class PlanModel(ChangeWalkList lists, Words words) : NippersPage
{
    public WalkListPage List { get; private set; } = null!;

    public string? Name { get; private set; }

    public string? Stations { get; private set; }

    public string? Parts { get; private set; }

    public string? Places { get; private set; }

    public int Version { get; private set; }

    public async Task<IActionResult> OnGet(string code, CancellationToken ct)
    {
        if (await lists.One(code, ct) is not { } list)
            return NotFound();
        (List, Name, Version) = (list, list.List.Name, list.List.Version);
        Stations = string.Join(
            '\n',
            list.Body.Stations.Select(x => string.Create(CultureInfo.InvariantCulture, $"{x.Code};{x.Name};{x.X};{x.Y};{x.Height}"))
        );
        Parts = string.Join(
            '\n',
            list.Body.Parts.Select(x =>
                string.Create(CultureInfo.InvariantCulture, $"{x.Shape};{x.X};{x.Y};{x.Width};{x.Height};{x.Angle}")
            )
        );
        if (!list.Body.Places.IsDefault)
            Places = string.Join(
                '\n',
                list.Body.Places.Select(x => string.Create(CultureInfo.InvariantCulture, $"{x.Compartment};{x.X};{x.Y}"))
            );
        return Page();
    }

    public async Task<IActionResult> OnPost(
        [FromRoute] string code,
        string? name,
        string? stations,
        string? parts,
        string? places,
        int version,
        CancellationToken ct
    )
    {
        var outcome = await lists.SavePlan(code, version, name, stations, parts, places, Actor, ct);
        if (outcome.Done)
            return Done("/walk-lists/" + code, words["WalkLists.PlanSaved", name]);
        if (await lists.One(code, ct) is not { } list)
            return NotFound();
        (List, Name, Stations, Parts, Places, Version) = (list, name, stations, parts, places, version);
        Refuse(outcome.Refusals);
        return Page();
    }
}
