using System.Collections.Immutable;
using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Machines;
using Nippers.App.Work;
using Nippers.Core.Hours;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>Records work: ticks what was done, when, and at which hours.</summary>
public sealed class WorkModel(RecordWork record, MachineView view, Words words) : NippersPage
{
    public MachineStand Machine { get; private set; } = null!;

    public IReadOnlySet<string> Items { get; private set; } = new HashSet<string>();

    public string? Hours { get; private set; }

    public string? On { get; private set; }

    public string? Note { get; private set; }

    public string? Offered { get; private set; }

    public long Seen { get; private set; }

    public bool AskConfirm { get; private set; }

    public ImmutableArray<MeterHours> DidYouMean { get; private set; } = [];

    public async Task<IActionResult> OnGet(string unit, [FromQuery] string[] item, CancellationToken ct)
    {
        if (await view.Stand(unit, ct) is not { } machine)
            return NotFound();
        Machine = machine;
        Items = item.ToHashSet(StringComparer.Ordinal);
        Hours = Offered = MeterHours.Of(Math.Max(0, machine.Shows(machine.Now.Hours))).ToString();
        On = machine.Now.Today.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        Seen = machine.NewestCompletion;
        return Page();
    }

    public async Task<IActionResult> OnPost(
        string unit,
        string[] items,
        string? hours,
        string? on,
        string? note,
        string? offered,
        long seen,
        bool confirmed,
        CancellationToken ct
    )
    {
        var outcome = await record.Run(new(unit, items, hours, on, note, seen, offered, confirmed, Key), Actor, ct);
        if (outcome.Done)
        {
            var early = outcome.Value!.Moves.FirstOrDefault(x => x.After.TooEarlyBy is not null && x.After.DueHours == x.Before.DueHours);
            var said = early is null
                ? words.Plural("Work.Done", items.Length, unit)
                : words[
                    "Work.TooEarly",
                    early.ItemName,
                    Words.Distance(early.After.TooEarlyBy!.Value),
                    Words.Whole(early.After.DueHours!.Value)
                ];
            return Done(MachineUrls.One(unit), said, MachineUrls.One(unit, "void-work") + "?batch=" + outcome.Value.Batch);
        }

        if (await view.Stand(unit, ct) is not { } machine)
            return NotFound();
        (Machine, Hours, On, Note, Offered, Seen) = (machine, hours, on, note, offered, seen);
        Items = items.ToHashSet(StringComparer.Ordinal);
        DidYouMean = outcome.Value?.Judgement?.DidYouMean ?? [];
        AskConfirm = outcome.Refusals.Any(x => x.Code == "unusualHours");
        Refuse(outcome.Refusals, machine.Zone);

        // Somebody was quicker: what they did is on the page now, and may be recorded again on purpose.
        if (outcome.Refusals.Any(x => x.Code == "doneMeanwhile"))
            Seen = machine.NewestCompletion;
        return Page();
    }
}
