using Microsoft.AspNetCore.Mvc;
using Nippers.App.Defects;
using Nippers.App.Feeds;
using Nippers.Core.Defects;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Codes;

/// <summary>A code that a feed told of: somebody who has looked writes a defect down, or says that there is none.</summary>
public sealed class OneModel(FeedCodes codes, Words words) : NippersPage
{
    public FeedCodeLine Line { get; private set; } = null!;

    /// <summary>What was typed and refused, or what is proposed.</summary>
    public DefectInput Input { get; private set; } = null!;

    /// <summary>What was said of a look that was refused.</summary>
    public string? Looked { get; private set; }

    public Task<IActionResult> OnGet(long id, CancellationToken ct) => Show(id, null, ct);

    public async Task<IActionResult> OnPost(
        long id,
        MachinePart? on,
        [FromForm(Name = "words")] string? said,
        DefectGrade? grade,
        string? limitHours,
        string? limitDays,
        CancellationToken ct
    )
    {
        var input = new DefectInput
        {
            Unit = "",
            On = on,
            Words = said,
            Grade = grade,
            LimitHours = limitHours,
            LimitDays = limitDays,
            Key = Key,
        };
        var outcome = await codes.Write(id, input, Actor, ct);
        if (outcome.Done)
            return Done($"/defects/{outcome.Value!.Id}", words["Codes.Written", outcome.Value.Code]);
        Refuse(outcome.Refusals);
        return await Show(id, input, ct);
    }

    public async Task<IActionResult> OnPostLooked(long id, string? looked, CancellationToken ct)
    {
        var outcome = await codes.Looked(id, looked, Actor, ct);
        if (outcome.Done)
            return Done("/codes", words["Codes.LookedSaid", outcome.Value!.Code]);
        Refuse(outcome.Refusals);
        Looked = looked;
        return await Show(id, null, ct);
    }

    private async Task<IActionResult> Show(long id, DefectInput? typed, CancellationToken ct)
    {
        if (await codes.One(id, ct) is not { } line)
            return NotFound();
        Line = line;
        Input = typed ?? new() { Unit = line.Unit, Words = words.Say(line.Words) };
        return Page();
    }
}
