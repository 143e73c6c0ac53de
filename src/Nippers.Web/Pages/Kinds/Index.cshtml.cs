using Nippers.App.Kinds;
using Nippers.App.Languages;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Kinds;

/// <summary>The kinds of machines, each with its walk lists and programs.</summary>
public sealed class IndexModel(KindCatalog catalog, PhraseBook phrases) : NippersPage
{
    public IReadOnlyList<KindLine> Kinds { get; private set; } = [];

    /// <summary>Languages but the reader's, and how many texts of own lists and programs lack each; for planners.</summary>
    public IReadOnlyList<(Language Language, int Lacking)> Lacking { get; private set; } = [];

    public async Task OnGet(CancellationToken ct)
    {
        Kinds = await catalog.All(ct);
        if (!User.MayPlan())
            return;
        var lacking = new List<(Language, int)>();
        foreach (var language in AllLanguages.All.Where(x => x != AllLanguages.Current))
            lacking.Add((language, (await phrases.Texts(language, ct)).Count(x => x.Said.Length == 0)));
        Lacking = lacking;
    }
}
