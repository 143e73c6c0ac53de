using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Machines;
using Nippers.App.Programs;
using Nippers.Data.Fleet;
using Nippers.Views.Text;

namespace Nippers.Web.Pages.Machines;

/// <summary>Brings a machine in, new or used.</summary>
public sealed class NewModel(MachineList list, SaveMachine save, TimeProvider clock, Words words) : MachineFormPage(list, save, words)
{
    public Task OnGet(CancellationToken ct) =>
        Show(
            new MachineInput
            {
                CommissionedOn = clock.GetUtcNow().ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
                CommissionedHours = "0.0",
                PlannedHoursPerDay = "5",
                Program = StarterPrograms.CodeOf(MachineKind.Of("crawler-excavator")),
            },
            ct
        );

    public Task<IActionResult> OnPost([FromForm] MachinePost post, CancellationToken ct) => Save(post.ToInput(null), ct);
}
