using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Oil;
using Nippers.Core.Oil;
using Nippers.Data.Oil;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>Coolant of a machine: tests, what they come to, and what follows.</summary>
public sealed class CoolantModel(CoolantTests tests, Words words) : NippersPage
{
    protected override bool ChangesNeedWork => true;

    public CoolantPage Coolant { get; private set; } = null!;

    public CoolantInput Input { get; private set; } = new() { Wanted = "50", Refill = "100" };

    public async Task<IActionResult> OnGet(string unit, CancellationToken ct)
    {
        if (!await Load(unit, ct))
            return NotFound();
        Input = Input with { On = Coolant.Today.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture) };
        return Page();
    }

    public async Task<IActionResult> OnPost(
        string unit,
        bool laboratory,
        string? on,
        string? share,
        string? freeze,
        string? ph,
        Inhibitor? inhibitor,
        string? chloride,
        string? sulphate,
        string? wanted,
        string? refill,
        string? note,
        CancellationToken ct
    )
    {
        Input = new()
        {
            Laboratory = laboratory,
            On = on,
            Share = share,
            Freeze = freeze,
            Ph = ph,
            Inhibitor = inhibitor,
            Chloride = chloride,
            Sulphate = sulphate,
            Wanted = wanted,
            Refill = refill,
            Note = note,
            Key = Key,
        };
        var outcome = await tests.Keep(unit, Input, Actor, ct);
        if (outcome.Done)
            return Done(MachineUrls.One(unit, "coolant"), words["Coolant.Saved"]);
        if (!await Load(unit, ct))
            return NotFound();
        Refuse(outcome.Refusals);
        return Page();
    }

    public async Task<IActionResult> OnPostVoid(string unit, long test, CancellationToken ct)
    {
        var outcome = await tests.Void(unit, test, Actor, ct);
        if (outcome.Done)
            return Done(MachineUrls.One(unit, "coolant"), words["Coolant.Voided"]);
        if (!await Load(unit, ct))
            return NotFound();
        Refuse(outcome.Refusals);
        return Page();
    }

    /// <summary>What a test measured, with its unit.</summary>
    public static IEnumerable<(CoolantMeasure Measure, string Text)> Figures(CoolantTestRow row, CoolantResult result, Words words)
    {
        if (row.SharePercent is { } share)
            yield return (CoolantMeasure.Share, words["Coolant.Percent", Words.Whole(share)]);
        if (result.FreezeC is { } freeze)
            yield return (
                CoolantMeasure.Freeze,
                words[row.FreezeC is null ? "Coolant.FreezeFrom" : "Coolant.FreezeAt", words.Temperature(freeze)]
            );
        if (row.Ph is { } ph)
            yield return (CoolantMeasure.Ph, Words.Whole(ph));
        if (row.Inhibitor is { } inhibitor)
            yield return (CoolantMeasure.Inhibitor, words.Of(inhibitor));
        if (row.ChloridePpm is { } chloride)
            yield return (CoolantMeasure.Chloride, words["Figure.With", Words.Whole(chloride), "ppm"]);
        if (row.SulphatePpm is { } sulphate)
            yield return (CoolantMeasure.Sulphate, words["Figure.With", Words.Whole(sulphate), "ppm"]);
    }

    private async Task<bool> Load(string unit, CancellationToken ct)
    {
        if (await tests.Page(unit, ct) is not { } page)
            return false;
        Coolant = page;
        return true;
    }
}
