using Microsoft.AspNetCore.Mvc;
using Nippers.App.Machines;
using Nippers.App.Work;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>Declares baselines for items without a record, on somebody's word.</summary>
public sealed class BaselineModel(DeclareBaseline declare, MachineView view, Words words) : NippersPage
{
    public MachineStand Machine { get; private set; } = null!;

    public IReadOnlySet<string> Items { get; private set; } = new HashSet<string>();

    public string? Hours { get; private set; }

    public string? On { get; private set; }

    public string? SaidBy { get; private set; }

    public string? Note { get; private set; }

    /// <summary>Every item may be chosen when none is without a record.</summary>
    public bool All => !Machine.Items.Any(x => x.Status.NoRecord);

    public async Task<IActionResult> OnGet(string unit, [FromQuery] string[] item, CancellationToken ct)
    {
        if (await view.Stand(unit, ct) is not { } machine)
            return NotFound();
        Machine = machine;
        Items = item.ToHashSet(StringComparer.Ordinal);
        return Page();
    }

    public async Task<IActionResult> OnPost(
        string unit,
        string[] items,
        string? hours,
        string? on,
        string? saidBy,
        string? note,
        CancellationToken ct
    )
    {
        var outcome = await declare.Run(new(unit, items, hours, on, saidBy, note, Key), Actor, ct);
        if (outcome.Done)
            return Done(MachineUrls.One(unit), words.Plural("Baseline.Done", items.Length, unit));
        if (await view.Stand(unit, ct) is not { } machine)
            return NotFound();
        (Machine, Hours, On, SaidBy, Note) = (machine, hours, on, saidBy, note);
        Items = items.ToHashSet(StringComparer.Ordinal);
        Refuse(outcome.Refusals, machine.Zone);
        return Page();
    }
}
