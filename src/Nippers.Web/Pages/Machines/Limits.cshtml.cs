using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Core.Walk;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>What this machine's manual, tyres or setup say of its checks.</summary>
public sealed class LimitsModel(MachineLimits limits, Words words) : NippersPage
{
    public string Unit { get; private set; } = "";

    public IReadOnlyList<LimitLine> Lines { get; private set; } = [];

    public LimitInput? Typed { get; private set; }

    public async Task<IActionResult> OnGet(string unit, CancellationToken ct) => await Load(unit, ct) ? Page() : NotFound();

    public async Task<IActionResult> OnPost(
        string unit,
        string check,
        string? low,
        string? watchBelow,
        string? high,
        [FromForm(Name = "new")] string? asNew,
        string? newAt,
        string? markLitres,
        SagMethod? method,
        string? note,
        CancellationToken ct
    )
    {
        Typed = new(check ?? "", low, watchBelow, high, asNew, newAt, markLitres, method, note);
        var outcome = await limits.Save(unit, Typed, Actor, ct);
        if (!await Load(unit, ct))
            return NotFound();
        if (outcome.Done)
            return Done(MachineUrls.One(unit, "limits"), words["Limits.Saved", outcome.Value!.Name]);
        Refuse(outcome.Refusals);
        return Page();
    }

    private async Task<bool> Load(string unit, CancellationToken ct)
    {
        if (await limits.Run(unit, ct) is not { } lines)
            return false;
        (Unit, Lines) = (unit, lines);
        return true;
    }
}
