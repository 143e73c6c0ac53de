using Microsoft.AspNetCore.Mvc;
using Nippers.App.People;
using Nippers.Formats.Csv;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Settings;

/// <summary>Who changed what, and when; as a page and as a file.</summary>
public sealed class AuditModel(AuditView view) : NippersPage
{
    [BindProperty(SupportsGet = true)]
    public AuditFilter Filter { get; set; } = new();

    public AuditPage Found { get; private set; } = null!;

    /// <summary>The filter as part of an address.</summary>
    public string Query(long? before = null) =>
        QueryString
            .Create(
                new Dictionary<string, string?>
                {
                    ["filter.who"] = Filter.Who,
                    ["filter.group"] = Filter.Group,
                    ["filter.of"] = Filter.Of,
                    ["filter.from"] = Filter.From,
                    ["filter.to"] = Filter.To,
                    ["filter.before"] = before?.ToString(System.Globalization.CultureInfo.InvariantCulture),
                }
            )
            .ToUriComponent();

    public async Task OnGet(CancellationToken ct)
    {
        Found = await view.Page(Filter, ct);
        Refuse(Found.Refusals);
    }

    public Task<IActionResult> OnGetCsv(CancellationToken ct) => Csv("audit.csv", to => RecordCsv.Write(to, view.Csv(Filter), ct));
}
