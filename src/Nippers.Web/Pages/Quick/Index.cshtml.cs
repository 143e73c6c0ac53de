using Microsoft.AspNetCore.Mvc;
using Nippers.App.Quick;
using Nippers.Core.Quick;
using Nippers.Web.Hosting;
using Nippers.Web.Pages.Machines;
using Nippers.Web.Text;

namespace Nippers.Web.Pages.Quick;

/// <summary>The quick line: says what it understood before Enter, and does it after.</summary>
public sealed class IndexModel(QuickRun quick, Words words) : NippersPage
{
    public string? Line { get; private set; }

    public QuickReading? Reading { get; private set; }

    public async Task<IActionResult> OnGet(string? line, CancellationToken ct)
    {
        Line = line;
        Reading = await quick.Preview(line, ct);
        return IsHtmx ? Part("_QuickPreview", Reading) : Page();
    }

    public async Task<IActionResult> OnPost(string? line, CancellationToken ct)
    {
        Line = line;
        Reading = await quick.Preview(line, ct);
        switch (Reading.Command)
        {
            case QuickCommand.OpenDue:
                return LocalRedirect("/?standing=due");
            case QuickCommand.OpenMachine open when Reading.UnitKnown:
                return LocalRedirect(MachineUrls.One(open.Unit));
            case QuickCommand.LogHours log when Reading.UnitKnown:
                var outcome = await quick.Log(log, Key, Actor, ct);
                if (outcome.Done) return Done(MachineUrls.One(log.Unit), LoggedWords.Of(outcome.Value!, log.Unit, words), LoggedWords.Undo(outcome.Value!, log.Unit));
                break;
        }

        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
