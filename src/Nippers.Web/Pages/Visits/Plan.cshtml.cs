using Microsoft.AspNetCore.Mvc;
using Nippers.App.Visits;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Visits;

/// <summary>Ticks a visit together: items in and out, the date, and what that costs at once.</summary>
public sealed class PlanModel(PlanVisit plan, VisitViews views, Words words) : NippersPage
{
    // A form with nothing ticked means nothing; a bare address means the proposal.
    private static readonly string[] Nothing = [""];

    public VisitDraft Draft { get; private set; } = null!;

    public string Unit { get; private set; } = "";

    /// <summary>The visit that is changed; null for a new one.</summary>
    public long? Visit { get; private set; }

    public int Version { get; private set; }

    public string? On { get; private set; }

    public string? Note { get; private set; }

    public string? Quote { get; private set; }

    /// <summary>The machine is brought to the workshop.</summary>
    public bool Hauled { get; private set; }

    /// <summary>Two people are needed.</summary>
    public bool TwoPeople { get; private set; }

    public IReadOnlyCollection<string> Chosen { get; private set; } = [];

    /// <summary>The day whose figures are shown where no visit can be made on the one typed; null where they are its own.</summary>
    public DateOnly? FiguresOf { get; private set; }

    /// <summary>No visit can be made of what is chosen, on no day.</summary>
    public bool NoFigures { get; private set; }

    public async Task<IActionResult> OnGet(
        [FromRoute] string unit,
        [FromQuery] string? on,
        [FromQuery] long? visit,
        [FromQuery] string[] items,
        [FromQuery] string? note,
        [FromQuery] string? quote,
        [FromQuery] bool hauled,
        [FromQuery] bool twoPeople,
        [FromQuery] bool chosen,
        [FromQuery] int version,
        CancellationToken ct
    )
    {
        (Unit, Visit, Note, Quote, Hauled, TwoPeople, Version) = (unit, visit, note, quote, hauled, twoPeople, version);
        if (visit is { } id && !chosen)
        {
            if (await views.Planned(id, ct) is not { } planned || planned.Visit.Machine.Unit != unit)
                return NotFound();
            (items, Note, Version) = ([.. await views.ItemsOf(planned.Visit, ct)], planned.Visit.Note, planned.Visit.Version);
            (Hauled, TwoPeople) = (planned.Visit.Hauled, planned.Visit.TwoPeople);
            Quote = planned.Visit.Quote is { } offer ? offer.Value.ToString(System.Globalization.CultureInfo.InvariantCulture) : null;
            on ??= planned.Missed ? null : planned.Visit.On.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);
        }

        var input = new PlanInput(unit, on, chosen && items.Length == 0 ? Nothing : items, Hauled: Hauled, TwoPeople: TwoPeople);
        return !await Show(input, ct) ? NotFound()
            : IsHtmx ? Part("_VisitDraft", this)
            : Page();
    }

    public async Task<IActionResult> OnPost(
        [FromRoute] string unit,
        string? on,
        long? visit,
        string[] items,
        string? note,
        string? quote,
        bool hauled,
        bool twoPeople,
        int version,
        CancellationToken ct
    )
    {
        (Unit, Visit, On, Note, Quote, Hauled, TwoPeople, Version) = (unit, visit, on, note, quote, hauled, twoPeople, version);
        var input = new PlanInput(unit, on, items, note, quote, version, hauled, twoPeople);
        var saved = await plan.Save(visit, input, Actor, ct);
        if (saved.Done)
            return Done(VisitUrls.One(saved.Value!.Id), words["Visit.Saved", unit, words.Date(saved.Value.On)]);
        if (!await Show(input, ct))
            return NotFound();
        Refuse(saved.Refusals);
        return Page();
    }

    /// <summary>
    /// Shows what was chosen on its day. Where no visit can be made of it, what was chosen stays ticked, with another day's figures or
    /// none, until the day or the choice is another.
    /// </summary>
    /// <returns>Whether there is such a machine.</returns>
    private async Task<bool> Show(PlanInput input, CancellationToken ct)
    {
        var outcome = await plan.Draft(input, ct);
        var draft = outcome.Value ?? (await plan.Draft(input with { On = null }, ct)).Value;
        if (outcome.Value is null)
            (FiguresOf, NoFigures) = (draft?.Visit.On, draft is null);
        draft ??= (await plan.Draft(input with { On = null, Items = Nothing }, ct)).Value;
        if (draft is null)
            return false;
        Draft = draft;
        On = outcome.Done ? draft.Visit.On.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture) : input.On;
        Chosen = [.. input.Items, .. draft.Visit.Items.Select(x => x.Candidate.Code)];
        Refuse(outcome.Refusals);
        return true;
    }
}
