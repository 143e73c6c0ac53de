using Microsoft.AspNetCore.Mvc;
using Nippers.App.Languages;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Languages;

/// <summary>Words of a fleet's own lists and programs in another language: what lacks them, and entering them.</summary>
public sealed class IndexModel(PhraseBook book, Words words) : NippersPage
{
    private const int PerPage = 40;

    /// <summary>The language that words are entered in.</summary>
    public Language Language { get; private set; } = Language.English;

    /// <summary>The texts of this page of them.</summary>
    public IReadOnlyList<OwnText> Texts { get; private set; } = [];

    /// <summary>How many texts lack this language.</summary>
    public int Lacking { get; private set; }

    /// <summary>How many pages of texts there are.</summary>
    public int Pages { get; private set; }

    /// <summary>Which of them this is, from one.</summary>
    [BindProperty(SupportsGet = true)]
    public int At { get; set; } = 1;

    public async Task<IActionResult> OnGet(string code, CancellationToken ct) => await Load(code, ct) ? Page() : NotFound();

    public async Task<IActionResult> OnPost(string code, List<string> text, List<string?> said, CancellationToken ct)
    {
        if (!await Load(code, ct))
            return NotFound();
        var phrases = text.Zip(said).ToList();
        var outcome = await book.Save(code, phrases, Actor, ct);
        if (outcome.Done)
            return Done($"/languages/{code}?at={At}", words.Plural("Phrase.Saved", outcome.Value!.Count));
        Refuse(outcome.Refusals);
        Texts = [.. phrases.Select(x => new OwnText(x.First, Texts.FirstOrDefault(t => t.Text == x.First)?.Where ?? "", x.Second ?? ""))];
        return Page();
    }

    private async Task<bool> Load(string code, CancellationToken ct)
    {
        if (AllLanguages.All.FirstOrDefault(x => x.Code == code) is not { } language)
            return false;
        Language = language;
        var all = await book.Texts(language, ct);
        Lacking = all.Count(x => x.Said.Length == 0);
        Pages = Math.Max(1, (all.Count + PerPage - 1) / PerPage);
        At = Math.Clamp(At, 1, Pages);
        Texts = [.. all.Skip((At - 1) * PerPage).Take(PerPage)];
        return true;
    }
}
