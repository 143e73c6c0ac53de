using System.Text.Json;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Nippers.App.Languages;
using Nippers.Views.Text;

namespace Nippers.Web.Pages.Phone;

/// <summary>
/// An empty page that a phone keeps: without a network it is filled from what the phone holds. It says nothing of anybody, and is the
/// same for all.
/// </summary>
public sealed class ShellModel : PageModel
{
    private static readonly string[] Said =
    [
        "Phone.Title",
        "Phone.NoNetwork",
        "Phone.Opening",
        "Nav.Skip",
        "Lost.Network",
        "Outbox.One",
        "Outbox.Other",
        "Outbox.Refused",
        "Outbox.Leave",
    ];

    /// <summary>Its words in all languages, as JSON that may stand in a page: who holds the phone is not known while it is kept.</summary>
    public string InEveryLanguage(Words words)
    {
        var mine = AllLanguages.Current;
        var all = AllLanguages.All.ToDictionary(
            x => x.Code,
            x =>
            {
                AllLanguages.Use(x);
                return Said.ToDictionary(key => key, key => words[key]);
            }
        );
        AllLanguages.Use(mine);
        return JsonSerializer.Serialize(all);
    }
}
