using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Oil;
using Nippers.Core.Hours;
using Nippers.Core.Oil;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>Takes one sample: how it is drawn, and what is written down of it.</summary>
public sealed class TakeModel(SampleViews views, TakeSample take, Words words) : NippersPage
{
    public DrawPage Draws { get; private set; } = null!;

    public DrawLine Line { get; private set; } = null!;

    public string? Bottle { get; private set; }

    public string? Hours { get; private set; }

    public string? Offered { get; private set; }

    public string? On { get; private set; }

    public DrawMethod? Method { get; private set; }

    public DrawState? Engine { get; private set; }

    public string? AddedLitres { get; private set; }

    public bool DrawnWrong { get; private set; }

    public string? Note { get; private set; }

    public bool AskConfirm { get; private set; }

    /// <summary>Steps that are told for a method.</summary>
    public static int StepsOf(DrawMethod method) => method == DrawMethod.DrainStream ? 4 : 5;

    public async Task<IActionResult> OnGet(string unit, [FromQuery] string? item, [FromQuery] string? bottle, CancellationToken ct)
    {
        if (!await Load(unit, item, ct))
            return NotFound();
        Bottle = bottle ?? Line.Bottle;
        Hours = Offered = MeterHours.Of(Draws.HoursShown).ToString();
        On = Draws.Today.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        Method = Line.Place.Method;
        return Page();
    }

    public async Task<IActionResult> OnPost(
        string unit,
        [FromQuery] string? item,
        string? bottle,
        string? hours,
        string? offered,
        string? on,
        bool confirmed,
        DrawMethod? method,
        DrawState? engine,
        string? addedLitres,
        bool drawnWrong,
        string? note,
        CancellationToken ct
    )
    {
        if (!await Load(unit, item, ct))
            return NotFound();
        var outcome = await take.Run(
            new()
            {
                Unit = unit,
                Item = item!,
                Hours = hours,
                OfferedHours = offered,
                DateText = on,
                Confirmed = confirmed,
                Bottle = bottle,
                Method = method,
                Engine = engine,
                AddedLitres = addedLitres,
                DrawnWrong = drawnWrong,
                Note = note,
                Key = Key,
            },
            Actor,
            ct
        );
        if (outcome.Done)
            return Done(
                SampleWords.One(outcome.Value!.Id),
                words["Draw.Taken", outcome.Value.Bottle, Words.Hours(outcome.Value.LifeHours.Value)]
            );
        (Bottle, Hours, Offered, On, Method, Engine, AddedLitres, DrawnWrong, Note) = (
            bottle,
            hours,
            offered,
            on,
            method,
            engine,
            addedLitres,
            drawnWrong,
            note
        );
        AskConfirm = outcome.Refusals.Any(x => x.Code == "unusualHours");
        Refuse(outcome.Refusals);
        return Page();
    }

    private async Task<bool> Load(string unit, string? item, CancellationToken ct)
    {
        if (await views.Draws(unit, ct) is not { } draws || draws.Lines.FirstOrDefault(x => x.Place.Item.Code == item) is not { } line)
            return false;
        (Draws, Line) = (draws, line);
        return true;
    }
}
