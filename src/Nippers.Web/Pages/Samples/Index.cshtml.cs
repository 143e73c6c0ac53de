using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Oil;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Samples;

/// <summary>The tray: samples to take, taken, at the laboratory, late, to judge and judged.</summary>
public sealed class IndexModel(SampleQueues views, Bottles bottles, SendSamples send, LabOutbox courier, TakeResults results, Words words)
    : NippersPage
{
    protected override bool ChangesNeedWork => true;

    public Tray Tray { get; private set; } = null!;

    public async Task OnGet(
        [FromQuery] SampleQueue part,
        [FromQuery] string? site,
        [FromQuery] string? unit,
        [FromQuery(Name = "p")] int page,
        CancellationToken ct
    ) => Tray = await views.Load(new(part, site, unit, Math.Max(1, page)), ct);

    /// <summary>Gives codes to the chosen bottles and shows their labels.</summary>
    public async Task<IActionResult> OnPostPrepare(string[] wish, CancellationToken ct)
    {
        var wishes = wish.Select(x => x.Split('|', 2)).Where(x => x.Length == 2).Select(x => new BottleWish(x[0], x[1])).ToList();
        var outcome = await bottles.Prepare(wishes, Actor, ct);
        return outcome.Done
            ? Done(LabelsOf(outcome.Value!), words.Plural("Samples.Prepared", outcome.Value!.Count))
            : await Again(outcome.Refusals, SampleQueue.ToTake, ct);
    }

    public async Task<IActionResult> OnPostSend(long[] sample, int? lab, CancellationToken ct)
    {
        var outcome = await send.Run(sample, lab, Actor, ct);
        return outcome.Done
            ? Done(With(SampleQueue.AtLab, 1, null), words.Plural("Samples.SentDone", sample.Length))
            : await Again(outcome.Refusals, SampleQueue.Taken, ct);
    }

    /// <summary>Goes to the laboratories now, whatever the time of the next try.</summary>
    public async Task<IActionResult> OnPostRound([FromQuery] SampleQueue part, CancellationToken ct)
    {
        var taken = await courier.Round(atOnce: true, ct);
        return Done(With(part, 1, null), words.Plural("Labs.RoundDone", taken));
    }

    public async Task<IActionResult> OnPostGive([FromQuery] SampleQueue part, long loose, string? bottle, CancellationToken ct)
    {
        var outcome = await results.Give(loose, bottle, Actor, ct);
        return outcome.Done
            ? Done(SampleWords.One(outcome.Value!.Id), words["Unmatched.Given", outcome.Value.Bottle])
            : await Again(outcome.Refusals, part, ct);
    }

    public async Task<IActionResult> OnPostAway([FromQuery] SampleQueue part, long loose, CancellationToken ct)
    {
        var outcome = await results.PutAway(loose, Actor, ct);
        return outcome.Done ? Done(With(part, 1, null), words["Unmatched.PutAway"]) : await Again(outcome.Refusals, part, ct);
    }

    /// <summary>The tray with another part or page.</summary>
    public string With(SampleQueue part, int page = 1) => With(part, page, Tray);

    internal static string LabelsOf(IEnumerable<string> codes) =>
        "/samples/labels" + QueryString.Create(codes.Select(x => KeyValuePair.Create("code", (string?)x)));

    private static string With(SampleQueue part, int page, Tray? tray) =>
        "/samples"
        + QueryString.Create(
            new Dictionary<string, string?>
            {
                ["part"] = part.ToString(),
                ["site"] = tray?.Filter.Site,
                ["unit"] = tray?.Filter.Unit,
                ["p"] = page > 1 ? page.ToString(CultureInfo.InvariantCulture) : null,
            }.Where(x => !string.IsNullOrEmpty(x.Value))
        );

    private async Task<IActionResult> Again(IReadOnlyList<App.Refusal> refusals, SampleQueue part, CancellationToken ct)
    {
        Tray = await views.Load(new(part), ct);
        Refuse(refusals);
        return Page();
    }
}
