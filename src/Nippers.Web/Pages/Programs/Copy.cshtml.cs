using Microsoft.AspNetCore.Mvc;
using Nippers.App.Programs;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Programs;

/// <summary>Makes an own program from another.</summary>
public sealed class CopyModel(ChangeProgram change, ProgramViews views, Words words) : NippersPage
{
    public string Source { get; private set; } = "";

    public string? Name { get; private set; }

    public string? NewCode { get; private set; }

    public async Task<IActionResult> OnGet(string code, CancellationToken ct)
    {
        if (await views.One(code, ct) is not { } found)
            return NotFound();
        Source = found.Program.Name;
        return Page();
    }

    public async Task<IActionResult> OnPost(string code, string? name, string? newCode, CancellationToken ct)
    {
        (Name, NewCode) = (name, newCode);
        var outcome = await change.Copy(code, newCode, name, Actor, ct);
        if (outcome.Done)
            return Done($"/programs/{outcome.Value!.Code}", words["Program.Copied", outcome.Value.Name]);
        if (await views.One(code, ct) is not { } found)
            return NotFound();
        Source = found.Program.Name;
        Refuse(outcome.Refusals);
        return Page();
    }
}
