using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Core.Walk;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.WalkLists;

/// <summary>A position as it is posted.</summary>
public sealed class PositionPost
{
    public string? Code { get; set; }
    public string? Name { get; set; }
    public string? Words { get; set; }
    public string? After { get; set; }
    public string? Caution { get; set; }
}

/// <summary>Changes how a kind stands for its checks, and adds one more way.</summary>
public sealed class PositionsModel(ChangeWalkList lists, Words words) : NippersPage
{
    public WalkListPage List { get; private set; } = null!;

    public List<PositionPost> Positions { get; private set; } = [];

    public SagMethod? Sag { get; private set; }

    public bool KeyFirst { get; private set; }

    public int Version { get; private set; }

    public async Task<IActionResult> OnGet(string code, CancellationToken ct)
    {
        if (await lists.One(code, ct) is not { } list)
            return NotFound();
        (List, Version) = (list, list.List.Version);
        (Sag, KeyFirst) = (list.Body.Sag, list.Body.KeyFirst);
        Positions =
        [
            .. list.Body.Postures.Select(x => new PositionPost
            {
                Code = x.Code,
                Name = x.Name,
                Words = x.Words,
                After = x.After,
                Caution = x.Caution,
            }),
            new PositionPost(),
        ];
        return Page();
    }

    public async Task<IActionResult> OnPost(
        [FromRoute] string code,
        [FromForm(Name = "p")] List<PositionPost> posts,
        SagMethod? sag,
        bool keyFirst,
        int version,
        CancellationToken ct
    )
    {
        var outcome = await lists.SavePostures(
            code,
            version,
            [.. posts.Select(x => new PostureInput(x.Code, x.Name, x.Words, x.After, x.Caution))],
            sag,
            keyFirst,
            Actor,
            ct
        );
        if (outcome.Done)
            return Done("/walk-lists/" + code, words["WalkLists.PositionsSaved"]);
        if (await lists.One(code, ct) is not { } list)
            return NotFound();
        (List, Positions, Sag, KeyFirst, Version) = (list, posts, sag, keyFirst, version);
        Refuse(outcome.Refusals);
        return Page();
    }
}
