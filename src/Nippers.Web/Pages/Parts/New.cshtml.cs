using Microsoft.AspNetCore.Mvc;
using Nippers.App.Parts;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Parts;

/// <summary>Adds a part to the catalogue.</summary>
public sealed class NewModel(PartCatalog book, Words words) : NippersPage
{
    public PartPost Post { get; private set; } = new();

    public void OnGet([FromQuery] string? number) => Post.Number = number;

    public async Task<IActionResult> OnPost([FromForm(Name = "post")] PartPost post, CancellationToken ct)
    {
        var outcome = await book.Save(post.ToInput(null), Actor, ct);
        if (outcome.Done)
            return Done($"/parts/{Uri.EscapeDataString(outcome.Value!.Number)}", words["Part.Saved", outcome.Value.Number]);
        Post = post;
        Refuse(outcome.Refusals);
        return Page();
    }
}

/// <summary>Changes a part of the catalogue.</summary>
public sealed class EditModel(PartCatalog book, PartViews views, Words words) : NippersPage
{
    public PartPost Post { get; private set; } = new();

    public string Number { get; private set; } = "";

    public async Task<IActionResult> OnGet(string number, CancellationToken ct)
    {
        if (await views.Part(number, ct) is not { } part)
            return NotFound();
        (Number, Post) = (number, PartPost.Of(part.Line.Part));
        return Page();
    }

    public async Task<IActionResult> OnPost([FromRoute] string number, [FromForm(Name = "post")] PartPost post, CancellationToken ct)
    {
        var outcome = await book.Save(post.ToInput(number), Actor, ct);
        if (outcome.Done)
            return Done($"/parts/{Uri.EscapeDataString(number)}", words["Part.Saved", number]);
        (Number, Post) = (number, post);
        Refuse(outcome.Refusals);
        return Page();
    }
}
