using Microsoft.AspNetCore.Mvc;
using Nippers.App.Parts;
using Nippers.App.Units;
using Nippers.Core.Parts;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>A filter position as its form posts it.</summary>
public sealed class PositionPost
{
    public string? Code { get; set; }
    public string? Name { get; set; }
    public string? Item { get; set; }
    public string? Part { get; set; }
    public string? LengthMm { get; set; }
    public string? OuterMm { get; set; }
    public string? SealMm { get; set; }
    public string? Thread { get; set; }
    public string? Litres { get; set; }
    public PrefillRule Prefill { get; set; }
    public TurnRule Turn { get; set; }
}

/// <summary>Enters or changes a filter position.</summary>
public sealed class PositionModel(PartViews views, PartCatalog book, Words words) : NippersPage
{
    public string Unit { get; private set; } = "";

    public PositionChoices Choices { get; private set; } = null!;

    public string? OldCode { get; private set; }

    public PositionPost Post { get; private set; } = new();

    public async Task<IActionResult> OnGet(string unit, [FromQuery] string? code, CancellationToken ct)
    {
        if (await views.Choices(unit, ct) is not { } choices)
            return NotFound();
        (Unit, Choices) = (unit, choices);
        if (code is null)
            return Page();
        if (await views.Filters(unit, 1, ct) is not { } sheet)
            return NotFound();
        if (sheet.Positions.FirstOrDefault(x => x.Position.Code == code)?.Position is not { } p)
            return NotFound();
        OldCode = code;
        Post = new()
        {
            Code = p.Code,
            Name = p.Name,
            Item = p.ItemCode,
            Part = p.Part?.Number,
            LengthMm = Quantities.TypedLength(p.LengthMm),
            OuterMm = Quantities.TypedLength(p.OuterMm),
            SealMm = Quantities.TypedLength(p.SealMm),
            Thread = p.Thread,
            Litres = Quantities.Typed(p.Litres),
            Prefill = p.Prefill,
            Turn = p.Turn,
        };
        return Page();
    }

    public async Task<IActionResult> OnPost(
        [FromRoute] string unit,
        [FromForm(Name = "post")] PositionPost post,
        string? oldCode,
        CancellationToken ct
    )
    {
        (Post, OldCode) = (post, string.IsNullOrEmpty(oldCode) ? null : oldCode);
        var outcome = await book.SavePosition(
            unit,
            new()
            {
                OldCode = OldCode,
                Code = post.Code,
                Name = post.Name,
                Item = post.Item,
                Part = post.Part,
                LengthMm = post.LengthMm,
                OuterMm = post.OuterMm,
                SealMm = post.SealMm,
                Thread = post.Thread,
                Litres = post.Litres,
                Prefill = post.Prefill,
                Turn = post.Turn,
            },
            Actor,
            ct
        );
        if (outcome.Done)
            return Done(MachineUrls.One(unit, "filters"), words["Filters.PositionSaved", outcome.Value!.Name]);
        if (await views.Choices(unit, ct) is not { } choices)
            return NotFound();
        (Unit, Choices) = (unit, choices);
        Refuse(outcome.Refusals);
        return Page();
    }

    public async Task<IActionResult> OnPostRemove([FromRoute] string unit, string oldCode, CancellationToken ct)
    {
        var outcome = await book.RemovePosition(unit, oldCode, Actor, ct);
        return outcome.Done ? Done(MachineUrls.One(unit, "filters"), words["Filters.PositionRemoved"]) : NotFound();
    }
}
