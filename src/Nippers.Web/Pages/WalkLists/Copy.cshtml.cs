using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.WalkLists;

/// <summary>Makes an own list from another, for its kind or for a kind that is added.</summary>
public sealed class CopyModel(ChangeWalkList lists, Words words) : NippersPage
{
    public WalkListPage List { get; private set; } = null!;

    public string? NewCode { get; private set; }

    public string? NewName { get; private set; }

    public bool OtherKind { get; private set; }

    public async Task<IActionResult> OnGet(string code, CancellationToken ct)
    {
        if (await lists.One(code, ct) is not { } list)
            return NotFound();
        List = list;
        return Page();
    }

    public async Task<IActionResult> OnPost(
        [FromRoute] string code,
        [FromForm(Name = "code")] string? newCode,
        [FromForm(Name = "name")] string? newName,
        bool otherKind,
        CancellationToken ct
    )
    {
        var outcome = await lists.Copy(code, newCode, newName, otherKind, Actor, ct);
        if (outcome.Done)
            return Done("/walk-lists/" + outcome.Value!.Code, words["WalkLists.Copied", newName]);
        if (await lists.One(code, ct) is not { } list)
            return NotFound();
        (List, NewCode, NewName, OtherKind) = (list, newCode, newName, otherKind);
        Refuse(outcome.Refusals);
        return Page();
    }
}
