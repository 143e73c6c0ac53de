using Microsoft.AspNetCore.Mvc;
using Nippers.App.Machines;
using Nippers.Views.Text;

namespace Nippers.Web.Pages.Machines;

/// <summary>Changes what is known of a machine.</summary>
public sealed class EditModel(MachineList list, SaveMachine save, Words words) : MachineFormPage(list, save, words)
{
    private readonly MachineList _list = list;

    public async Task<IActionResult> OnGet([FromRoute(Name = "unit")] string oldUnit, CancellationToken ct)
    {
        if (await _list.ForEdit(oldUnit, ct) is not { } found)
            return NotFound();
        await Show(found.Input, ct);
        return Page();
    }

    public Task<IActionResult> OnPost([FromRoute(Name = "unit")] string oldUnit, [FromForm] MachinePost post, CancellationToken ct) =>
        Save(post.ToInput(oldUnit), ct);
}
