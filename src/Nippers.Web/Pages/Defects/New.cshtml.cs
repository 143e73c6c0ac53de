using Microsoft.AspNetCore.Mvc;
using Nippers.App.Defects;
using Nippers.App.Machines;
using Nippers.Core.Defects;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Defects;

/// <summary>Reports a defect on a machine, from anywhere.</summary>
public sealed class NewModel(DefectViews views, MachineList machines, ReportDefect report, Words words) : NippersPage
{
    public DefectInput Input { get; private set; } = null!;

    public DefectPlaces? Places { get; private set; }

    public IReadOnlyList<string> Units { get; private set; } = [];

    public Task OnGet([FromQuery] string? unit, [FromQuery(Name = "words")] string? said, CancellationToken ct) =>
        Show(new() { Unit = unit ?? "", Words = said }, ct);

    public async Task<IActionResult> OnPost(
        string? unit,
        string? place,
        string? part,
        MachinePart? on,
        [FromForm(Name = "words")] string? said,
        DefectGrade? grade,
        string? limitHours,
        string? limitDays,
        List<IFormFile>? photo,
        CancellationToken ct
    )
    {
        var input = new DefectInput
        {
            Unit = unit ?? "",
            Place = place,
            Part = part,
            Words = said,
            On = on,
            Grade = grade,
            ChoosesGrade = true,
            LimitHours = limitHours,
            LimitDays = limitDays,
            Photos = await PhotoUploads.Read(photo, ct),
            Key = Key,
        };
        var outcome = await report.Run(input, Actor, ct);
        if (outcome.Done)
            return Done($"/defects/{outcome.Value!.Id}", words["Defect.Reported", unit]);
        await Show(input, ct);
        Refuse(outcome.Refusals);
        return Page();
    }

    private async Task Show(DefectInput input, CancellationToken ct)
    {
        Input = input;
        Units = await machines.Units(ct);
        Places = input.Unit.Length > 0 ? await views.Places(input.Unit, ct) : null;
    }
}
