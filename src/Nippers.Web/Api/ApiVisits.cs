using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.Exchange;
using Nippers.App.Visits;
using Nippers.Views.Text;

namespace Nippers.Web.Api;

/// <summary>An item of a proposed visit.</summary>
/// <param name="DaysEarly">Negative when late.</param>
/// <param name="CoveredBy">Name of the item that does it; null when it is done for itself.</param>
public sealed record ApiProposedItem(string Code, string Name, int DaysEarly, string? CoveredBy);

/// <summary>A visit that Nippers proposes. Money is in the workshop's currency.</summary>
public sealed record ApiProposedVisit(
    DateOnly On,
    double? NameHours,
    IReadOnlyList<ApiProposedItem> Items,
    double Minutes,
    double Parts,
    double Fluids,
    double Labour,
    double CallOut,
    double LifeThrownAway,
    double Laboratory,
    double Downtime
);

/// <summary>Visits, filter log, shelves and waste in the HTTP API.</summary>
public static class ApiVisits
{
    public static void MapVisits(RouteGroupBuilder read)
    {
        read.MapGet("/visits", (ExportVisits export, [FromQuery] string? unit) => TypedResults.Ok(export.Visits(unit)))
            .WithName("visits")
            .WithSummary("Visits by machine and date, of one unit or of all.");
        read.MapGet("/machines/{unit}/proposals", Proposals)
            .WithName("proposals")
            .WithSummary("Visits proposed over the horizon.")
            .ProducesProblem(StatusCodes.Status404NotFound);
        read.MapGet("/filters", (ExportVisits export, [FromQuery] string? unit) => TypedResults.Ok(export.Filters(unit)))
            .WithName("filters")
            .WithSummary("The filter log, of one unit or of all.");
        read.MapGet("/stock", (ExportVisits export) => TypedResults.Ok(export.Stock()))
            .WithName("stock")
            .WithSummary("What is on the shelves.");
        read.MapGet("/waste", (ExportVisits export) => TypedResults.Ok(export.Waste())).WithName("waste").WithSummary("The waste log.");
    }

    private static async Task<IResult> Proposals(string unit, VisitProposals proposals, Words words, CancellationToken ct) =>
        await proposals.Of(unit, ct) is { } found
            ? TypedResults.Ok(
                found
                    .Visits.Select(x => new ApiProposedVisit(
                        x.On,
                        x.NameHours,
                        [.. x.Items.Select(i => new ApiProposedItem(i.Candidate.Code, i.Candidate.Name, i.Early, i.CoveredBy))],
                        x.Money.Minutes,
                        x.Money.Parts,
                        x.Money.Fluids,
                        x.Money.Labour,
                        x.Money.CallOut,
                        Math.Round(x.Money.Waste, 2),
                        x.Money.Lab,
                        Math.Round(x.Money.Downtime, 2)
                    ))
                    .ToList()
            )
            : ApiV1.Problem(words, StatusCodes.Status404NotFound, Refusals.NoSuchUnit("unit", unit, []));
}
