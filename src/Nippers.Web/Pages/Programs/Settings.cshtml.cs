using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Programs;
using Nippers.Core.Service;
using Nippers.Views.Text;

namespace Nippers.Web.Pages.Programs;

/// <summary>The numbers of a program as its form posts them.</summary>
public sealed class SettingsPost
{
    public int Version { get; set; }
    public string? Name { get; set; }
    public IntervalBasis IntervalBasis { get; set; }
    public string? CreditPercent { get; set; }
    public string? WindowPercent { get; set; }
    public string? LeastWindowHours { get; set; }
    public string? ComingDays { get; set; }
}

/// <summary>Changes a program's school, credit and windows; shows first which dues move.</summary>
public sealed class SettingsModel(ChangeProgram change, ProgramViews views, Words words) : ProgramChangePage(change, views, words)
{
    public SettingsPost Post { get; private set; } = new();

    public async Task<IActionResult> OnGet(string code, CancellationToken ct)
    {
        if (!await Load(code, ct))
            return NotFound();
        Post = new()
        {
            Version = Program.Version,
            Name = Program.Name,
            IntervalBasis = Program.IntervalBasis,
            CreditPercent = Program.CreditPercent.ToString(CultureInfo.InvariantCulture),
            WindowPercent = Program.WindowPercent.ToString(CultureInfo.InvariantCulture),
            LeastWindowHours = Program.LeastWindowHours.ToString(),
            ComingDays = Program.ComingDays.ToString(CultureInfo.InvariantCulture),
        };
        return Page();
    }

    public Task<IActionResult> OnPostPreview(string code, [FromForm] SettingsPost post, CancellationToken ct) =>
        Take(code, post, false, ct);

    public Task<IActionResult> OnPost(string code, [FromForm] SettingsPost post, CancellationToken ct) => Take(code, post, true, ct);

    private Task<IActionResult> Take(string code, SettingsPost post, bool save, CancellationToken ct)
    {
        Post = post;
        return PreviewOrSave(
            code,
            new(
                code,
                post.Version,
                new(post.Name, post.IntervalBasis, post.CreditPercent, post.WindowPercent, post.LeastWindowHours, post.ComingDays),
                null
            ),
            save,
            ct
        );
    }
}
