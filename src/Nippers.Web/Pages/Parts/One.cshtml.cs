using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.Parts;
using Nippers.Data.Parts;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Parts;

/// <summary>A part: its shelves and moves, what may stand in for it and who says so, where it goes, and where it did not fit.</summary>
public sealed class OneModel(PartViews views, PartCatalog book, Words words) : NippersPage
{
    protected override bool ChangesNeedWork => true;

    public PartPage Part { get; private set; } = null!;

    public async Task<IActionResult> OnGet(string number, CancellationToken ct)
    {
        if (await views.Part(number, ct) is not { } part)
            return NotFound();
        Part = part;
        return Page();
    }

    public async Task<IActionResult> OnPostMove(
        [FromRoute] string number,
        string? site,
        StockMoveKind kind,
        string? quantity,
        string? note,
        string? key,
        CancellationToken ct
    )
    {
        if (!ModelState.IsValid)
            return BadRequest();
        return await Act(number, await book.Move(number, site, kind, quantity, note, key, Actor, ct), "Part.Moved", ct);
    }

    public async Task<IActionResult> OnPostOrder(
        [FromRoute] string number,
        string? orderSite,
        string? ordered,
        string? expected,
        CancellationToken ct
    ) => await Act(number, await book.Order(number, orderSite, ordered, expected, Actor, ct), "Part.Ordered", ct);

    public async Task<IActionResult> OnPostCame([FromRoute] string number, long order, CancellationToken ct) =>
        await Act(number, await book.EndOrder(number, order, true, Actor, ct), "Part.Moved", ct);

    public async Task<IActionResult> OnPostOrderOut([FromRoute] string number, long order, CancellationToken ct) =>
        await Act(number, await book.EndOrder(number, order, false, Actor, ct), "Part.OrderGone", ct);

    public async Task<IActionResult> OnPostAlternate([FromRoute] string number, string? other, string? saysWho, CancellationToken ct) =>
        await Act(number, await book.Interchange(number, other, saysWho, Actor, ct), "Part.AlternateKept", ct);

    public async Task<IActionResult> OnPostNoAlternate([FromRoute] string number, string other, CancellationToken ct) =>
        await Act(number, await book.NoInterchange(number, other, Actor, ct), "Part.AlternateGone", ct);

    private async Task<IActionResult> Act<T>(string number, Outcome<T> outcome, string said, CancellationToken ct)
        where T : class
    {
        if (outcome.Done)
            return Done($"/parts/{Uri.EscapeDataString(number)}", words[said]);
        if (await views.Part(number, ct) is not { } part)
            return NotFound();
        Part = part;
        Refuse(outcome.Refusals);
        return Page();
    }
}
