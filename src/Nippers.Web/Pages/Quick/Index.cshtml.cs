using Microsoft.AspNetCore.Mvc;
using Nippers.App.Quick;
using Nippers.Core.Defects;
using Nippers.Core.Quick;
using Nippers.Views.Text;
using Nippers.Web.Hosting;
using Nippers.Web.Pages.Machines;

namespace Nippers.Web.Pages.Quick;

/// <summary>The quick line: says what it understood before Enter, and does it after.</summary>
public sealed class IndexModel(QuickRun quick, Words words) : NippersPage
{
    public string? Line { get; private set; }

    public QuickReading? Reading { get; private set; }

    /// <summary>Nothing is wrong with the line but that nobody has tapped what the defect is on.</summary>
    public bool AsksPart { get; private set; }

    public async Task<IActionResult> OnGet(string? line, CancellationToken ct)
    {
        Line = line;
        Reading = await quick.Preview(line, ct);
        return IsHtmx ? Part("_QuickPreview", Reading) : Page();
    }

    public async Task<IActionResult> OnPost(string? line, MachinePart? on, CancellationToken ct)
    {
        Line = line;
        Reading = await quick.Preview(line, ct);
        switch (Reading.Command)
        {
            case QuickCommand.OpenDue:
                return LocalRedirect("/?standing=due");
            case QuickCommand.OpenMachine open when Reading.UnitKnown:
                return LocalRedirect(MachineUrls.One(open.Unit));
            case QuickCommand.OpenBottle bottle when Reading.Bottle is null:
                return LocalRedirect($"/samples/find?code={Uri.EscapeDataString(bottle.Code)}");
            case QuickCommand.LogHours log when Reading.UnitKnown:
                var outcome = await quick.Log(log, Key, Actor, ct);
                Refuse(outcome.Refusals);
                if (outcome.Done)
                    return Done(
                        MachineUrls.One(log.Unit),
                        LoggedWords.Of(outcome.Value!, log.Unit, words),
                        LoggedWords.Undo(outcome.Value!, log.Unit)
                    );
                break;
            case QuickCommand.ReportDefect defect when Reading.UnitKnown:
                var reported = await quick.Report(defect, on, Key, Actor, ct);
                Refuse(reported.Refusals);
                AsksPart = reported.Refusals.Count > 0 && reported.Refusals.All(x => x.Code == App.Refusals.PartNeeded().Code);
                if (reported.Done)
                    return Done(
                        $"/defects/{reported.Value!.Id}",
                        words["Defect.Reported", defect.Unit],
                        $"/defects/{reported.Value.Id}?handler=void"
                    );
                break;
            case QuickCommand.TopUp topUp when Reading.UnitKnown:
                var kept = await quick.TopUp(topUp, Key, Actor, ct);
                Refuse(kept.Refusals);
                if (kept.Done)
                    return Done(
                        MachineUrls.One(topUp.Unit),
                        words["Quick.ToppedUp", words.Volume(kept.Value!.Litres), kept.Value.Compartment, topUp.Unit],
                        MachineUrls.One(topUp.Unit, $"top-ups/{kept.Value.Id}/void")
                    );
                break;
        }

        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
