using System.Globalization;
using System.Security.Cryptography;
using System.Text.Json;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Programs;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Service;
using Nippers.Data.Programs;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Programs;

/// <summary>An item as its form posts it.</summary>
public sealed class ItemPost
{
    public int Version { get; set; }
    public string? ItemCode { get; set; }
    public string? Name { get; set; }
    public string? Compartment { get; set; }
    public string? EveryHours { get; set; }
    public string? EveryMonths { get; set; }
    public string? EveryKm { get; set; }
    public string? FirstAtHours { get; set; }
    public bool Once { get; set; }
    public DutyFactor DutyFactor { get; set; } = DutyFactor.Whole;
    public IntervalBasis? IntervalBasis { get; set; }
    public string? Points { get; set; }
    public string? Needs { get; set; }
    public bool Strict { get; set; }
    public bool Qualified { get; set; }
    public string? Caution { get; set; }
    public bool Off { get; set; }
    public ItemWork Work { get; set; }
    public string? Minutes { get; set; }
    public string? Covers { get; set; }
    public string? Access { get; set; }

    public ProgramItemInput ToInput(string? oldCode) =>
        new()
        {
            OldCode = oldCode,
            Code = ItemCode,
            Name = Name,
            Compartment = Compartment,
            EveryHours = EveryHours,
            EveryMonths = EveryMonths,
            EveryKm = EveryKm,
            FirstAtHours = FirstAtHours,
            Once = Once,
            DutyFactor = DutyFactor,
            IntervalBasis = IntervalBasis,
            Points = Points,
            Needs = Needs,
            Strict = Strict,
            Qualified = Qualified,
            Caution = Caution,
            Off = Off,
            Work = Work,
            Minutes = Minutes,
            Covers = Covers,
            Access = Access,
        };
}

/// <summary>Shows a program's change before it is made: what both program forms share.</summary>
public abstract class ProgramChangePage(ChangeProgram change, ProgramViews views, Words words) : NippersPage
{
    public ServiceProgram Program { get; private set; } = null!;

    public ProgramPreview? Preview { get; private set; }

    /// <summary>Stands for the change that the preview shows; a save must bring it back.</summary>
    public string PreviewOf { get; private set; } = "";

    [BindProperty(Name = "previewed")]
    public string? Previewed { get; set; }

    protected async Task<bool> Load(string code, CancellationToken ct)
    {
        if (await views.One(code, ct) is not { } found)
            return false;
        Program = found.Program;
        return true;
    }

    protected async Task<IActionResult> PreviewOrSave(string code, ProgramChangeInput input, bool save, CancellationToken ct)
    {
        if (!await Load(code, ct))
            return NotFound();

        // Only what was shown is saved: fields changed after the preview are shown again first.
        PreviewOf = Convert.ToHexStringLower(SHA256.HashData(JsonSerializer.SerializeToUtf8Bytes(input)));
        if (save && Previewed == PreviewOf)
        {
            var saved = await change.Save(input, Actor, ct);
            if (saved.Done)
                return Done($"/programs/{code}", words["Program.Saved", saved.Value!.Name]);
            Refuse(saved.Refusals);
            return Page();
        }

        var preview = await change.Preview(input, ct);
        Preview = preview.Value;
        Refuse(preview.Refusals);
        return Page();
    }
}

/// <summary>Adds or changes an item of a program; shows first which dues move.</summary>
public sealed class ItemModel(ChangeProgram change, ProgramViews views, Words words) : ProgramChangePage(change, views, words)
{
    /// <summary>What may have to be opened.</summary>
    public static IReadOnlyList<string> Accesses => Nippers.App.Visits.VisitViews.Accesses;

    public string? OldCode { get; private set; }

    public ItemPost Post { get; private set; } = new();

    public async Task<IActionResult> OnGet(string code, [FromQuery] string? item, CancellationToken ct)
    {
        if (!await Load(code, ct))
            return NotFound();
        Post.Version = Program.Version;
        if (item is null)
            return Page();
        if (Program.Items.Find(x => x.Code == item) is not { } found)
            return NotFound();
        OldCode = item;
        Post = new()
        {
            Version = Program.Version,
            ItemCode = found.Code,
            Name = found.Name,
            Compartment = found.Compartment,
            EveryHours = Text(found.EveryHours),
            EveryMonths = found.EveryMonths?.ToString(CultureInfo.InvariantCulture),
            EveryKm = found.EveryKm?.ToString(CultureInfo.InvariantCulture),
            FirstAtHours = Text(found.FirstAtHours),
            Once = found.Once,
            DutyFactor = found.DutyFactor,
            IntervalBasis = found.IntervalBasis,
            Points = found.Points.ToString(CultureInfo.InvariantCulture),
            Needs = found.Needs,
            Strict = found.Strict,
            Qualified = found.Qualified,
            Caution = found.Caution,
            Off = found.Off,
            Work = found.Work,
            Minutes = found.Minutes.ToString(CultureInfo.InvariantCulture),
            Covers = found.Covers,
            Access = found.Access,
        };
        return Page();
    }

    public Task<IActionResult> OnPostPreview(string code, [FromForm] ItemPost post, [FromForm] string? oldCode, CancellationToken ct) =>
        Take(code, post, oldCode, false, ct);

    public Task<IActionResult> OnPost(string code, [FromForm] ItemPost post, [FromForm] string? oldCode, CancellationToken ct) =>
        Take(code, post, oldCode, true, ct);

    private Task<IActionResult> Take(string code, ItemPost post, string? oldCode, bool save, CancellationToken ct)
    {
        (Post, OldCode) = (post, string.IsNullOrEmpty(oldCode) ? null : oldCode);
        return PreviewOrSave(code, new(code, post.Version, null, post.ToInput(OldCode)), save, ct);
    }

    private static string? Text(MeterHours? hours) => hours is { } t ? t.ToString() : null;
}
