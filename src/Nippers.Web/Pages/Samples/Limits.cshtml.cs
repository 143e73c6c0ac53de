using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Oil;
using Nippers.Core.Oil;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Samples;

/// <summary>Limits by kind of place, or of one compartment. What verdicts would change is shown before they are kept.</summary>
public sealed class LimitsModel(OilLimits limits, Words words) : NippersPage
{
    private Dictionary<string, string?> _typed = [];

    public LimitsPage Limits { get; private set; } = null!;

    public LimitsPreview? Preview { get; private set; }

    public string? Target { get; private set; }

    public string? Value(string which, Measurand measurand) => _typed.GetValueOrDefault($"{which}-{measurand.Code()}");

    public async Task<IActionResult> OnGet([FromQuery] OilKind kind, [FromQuery] string? unit, [FromQuery] string? c, CancellationToken ct)
    {
        if (!await Load(kind, unit, c, ct))
            return NotFound();
        foreach (var row in Limits.Entered.Where(x => x.Target.Length == 0))
        {
            _typed["watch-" + row.Measurand] = row.Watch.ToString(CultureInfo.InvariantCulture);
            _typed["act-" + row.Measurand] = row.Act.ToString(CultureInfo.InvariantCulture);
        }

        Target = Limits.Entered.FirstOrDefault(x => x.Target.Length > 0)?.Target;
        return Page();
    }

    public Task<IActionResult> OnPostPreview(
        [FromQuery] OilKind kind,
        [FromQuery] string? unit,
        [FromQuery] string? c,
        CancellationToken ct
    ) => Change(kind, unit, c, input => limits.Preview(input, ct), keep: false, ct);

    public Task<IActionResult> OnPostSave(
        [FromQuery] OilKind kind,
        [FromQuery] string? unit,
        [FromQuery] string? c,
        CancellationToken ct
    ) => Change(kind, unit, c, input => limits.Save(input, Actor, ct), keep: true, ct);

    public string Here(string handler) =>
        Limits.Unit is { } unit
            ? $"/samples/limits?handler={handler}&unit={Uri.EscapeDataString(unit)}&c={Uri.EscapeDataString(Limits.Compartment!)}"
            : $"/samples/limits?handler={handler}&kind={Limits.Kind}";

    private async Task<IActionResult> Change(
        OilKind kind,
        string? unit,
        string? c,
        Func<LimitsInput, Task<App.Outcome<LimitsPreview>>> run,
        bool keep,
        CancellationToken ct
    )
    {
        if (!User.MayPlan())
            return Forbid();
        if (!await Load(kind, unit, c, ct))
            return NotFound();
        var form = await Request.ReadFormAsync(ct);
        _typed = form
            .Keys.Where(x => x.StartsWith("watch-", StringComparison.Ordinal) || x.StartsWith("act-", StringComparison.Ordinal))
            .ToDictionary(x => x, x => (string?)form[x], StringComparer.Ordinal);
        Target = form["target"];
        var outcome = await run(
            new(
                Limits.Kind,
                unit,
                c,
                [.. Measurands.Limited.Select(x => new LimitInput(x.Code(), Value("watch", x), Value("act", x)))],
                Target
            )
        );
        if (!outcome.Done)
            Refuse(outcome.Refusals);
        else if (keep)
            return Done(
                Here("").Replace("handler=&", "", StringComparison.Ordinal),
                words.Plural("OilLimits.Saved", outcome.Value!.Changed.Count)
            );
        else
            Preview = outcome.Value;
        return Page();
    }

    private async Task<bool> Load(OilKind kind, string? unit, string? compartment, CancellationToken ct)
    {
        if (await limits.Page(kind, unit, compartment, ct) is not { } page)
            return false;
        Limits = page;
        return true;
    }
}
