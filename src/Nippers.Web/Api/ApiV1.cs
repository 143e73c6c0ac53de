using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.OpenApi;
using Nippers.App;
using Nippers.App.Feeds;
using Nippers.App.Machines;
using Nippers.App.Readings;
using Nippers.App.Today;
using Nippers.Core;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using Nippers.Core.Service;
using Nippers.Data.People;
using Nippers.Data.Records;
using Nippers.Formats.Feeds;
using Nippers.Views.Text;
using Nippers.Web.Hosting;
using Nippers.Web.Text;

namespace Nippers.Web.Api;

/// <summary>A machine.</summary>
public sealed record ApiMachine(
    string Unit,
    string Kind,
    string Make,
    string Model,
    string Serial,
    string Site,
    double LifeHoursNow,
    double MeterHoursNow,
    bool Estimate,
    double HoursPerDay,
    bool Parked,
    [property: JsonPropertyName("standing")] string Status,
    int Unconfirmed
);

/// <summary>An item and how it stands. Hours are life hours.</summary>
public sealed record ApiDue(
    string Item,
    string Name,
    string Compartment,
    [property: JsonPropertyName("standing")] string Status,
    string? Reason,
    double? DueHours,
    DateOnly? DueOn,
    DateOnly? Early,
    DateOnly? Typical,
    DateOnly? Late,
    double? HoursLeft,
    int? DaysLeft,
    double? Used,
    [property: JsonPropertyName("school")] string IntervalBasis
);

/// <summary>A machine's due list.</summary>
public sealed record ApiDueList(string Unit, double LifeHoursNow, IReadOnlyList<ApiDue> Items);

/// <summary>A reading.</summary>
public sealed record ApiReading(long Id, DateTimeOffset At, double Hours, double LifeHours, string State, string By);

/// <summary>A page of readings, newest first.</summary>
public sealed record ApiReadings(IReadOnlyList<ApiReading> Readings, long? NextBefore);

/// <summary>A reading to log; without <c>at</c> it is now.</summary>
public sealed record ApiLogReading([property: JsonRequired] double? Hours, DateTimeOffset? At);

/// <summary>A reading of an odometer to log.</summary>
/// <param name="Km">What it shows, km.</param>
/// <param name="At">When; left out: now.</param>
/// <param name="Confirmed">It really shows a figure that is unusual.</param>
public sealed record ApiLogOdometer([property: JsonRequired] double? Km, DateTimeOffset? At, bool Confirmed = false);

/// <summary>A machine's own report, as it was taken.</summary>
/// <param name="Hours">Hours by the report.</param>
/// <param name="At">For when they hold.</param>
/// <param name="Offset">What has to be added for life hours; null while too few readings of the dash were near a report.</param>
/// <param name="Pairs">How many readings that rests on.</param>
/// <param name="Away">What does not fit: nothing, dash, leap.</param>
public sealed record ApiTelemetry(double? Hours, DateTimeOffset? At, double? Offset, int Pairs, string Away);

/// <summary>A reading of an odometer that was kept. Km is what it showed.</summary>
public sealed record ApiOdometer(long Id, DateTimeOffset At, double Km, string By);

/// <summary>What came of it: <c>accepted</c>, <c>unconfirmed</c> or <c>unchanged</c>.</summary>
public sealed record ApiLogged(long? Id, string State, string Code, IReadOnlyList<double> DidYouMean);

/// <summary>The HTTP API, version 1.</summary>
public static class ApiV1
{
    private const int MostMachines = 200;

    public static void AddNippersApi(this IServiceCollection services)
    {
        services.ConfigureHttpJsonOptions(x =>
        {
            x.SerializerOptions.Converters.Add(
                new JsonStringEnumConverter(System.Text.Json.JsonNamingPolicy.CamelCase, allowIntegerValues: false)
            );
            x.SerializerOptions.Converters.Add(new Years.DateConverter());
            x.SerializerOptions.Converters.Add(new Years.InstantConverter());
            x.SerializerOptions.RespectNullableAnnotations = true;
            x.SerializerOptions.DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull;
            x.SerializerOptions.NumberHandling = JsonNumberHandling.Strict;
        });
        services.AddSingleton<ApiDescription>();
        services.AddOpenApi(ApiDescription.Name, options => options.AddDocumentTransformer(
                (document, _, _) =>
                {
                    document.Info.Title = "Nippers";
                    document.Info.Version = "v1";
                    document.Info.Description =
                        "Machines, what is due on them, meter readings, walks and defects. Hours are service-meter hours with one decimal; life hours go on when a meter is replaced.";
                    document.Servers = [];
                    document.Components ??= new();
                    document.Components.SecuritySchemes = new Dictionary<string, IOpenApiSecurityScheme>
                    {
                        ["token"] = new OpenApiSecurityScheme
                        {
                            Type = SecuritySchemeType.Http,
                            Scheme = "bearer",
                            Description =
                                "A token made in Settings. It may read, log hours, send walks and defects, or keep samples, each apart, until its day.",
                        },
                    };
                    document.Security = [new OpenApiSecurityRequirement { [new OpenApiSecuritySchemeReference("token", document)] = [] }];
                    return Task.CompletedTask;
                }
            ));
    }

    public static void MapNippersApi(this WebApplication app)
    {
        app.MapDescription();
        var api = app.MapGroup("/api/v1")
            .WithTags("v1")
            .DisableAntiforgery()
            .ProducesProblem(StatusCodes.Status401Unauthorized)
            .ProducesProblem(StatusCodes.Status403Forbidden)
            .ProducesProblem(StatusCodes.Status429TooManyRequests);
        var read = api.MapGroup("").RequireAuthorization(Policies.Api(TokenScopes.Read));
        read.MapGet("/machines", Machines).WithName("machines").WithSummary("Machines of the fleet, the most pressing first.");
        read.MapGet("/machines/{unit}", Machine)
            .WithName("machine")
            .WithSummary("One machine.")
            .ProducesProblem(StatusCodes.Status404NotFound);
        read.MapGet("/machines/{unit}/due", Due)
            .WithName("due")
            .WithSummary("What is due on a machine, the most pressing first.")
            .ProducesProblem(StatusCodes.Status404NotFound);
        read.MapGet("/machines/{unit}/readings", Readings)
            .WithName("readings")
            .WithSummary("Readings, newest first.")
            .ProducesProblem(StatusCodes.Status404NotFound);
        ApiWalks.MapWalks(api, read);
        ApiVisits.MapVisits(read);
        ApiSamples.MapSamples(api, read);
        api.MapPost("/machines/{unit}/readings", Log)
            .RequireAuthorization(Policies.Api(TokenScopes.Hours))
            .WithName("logReading")
            .WithSummary("Logs a reading. An Idempotency-Key header makes a repeat harmless.")
            .ProducesProblem(StatusCodes.Status404NotFound)
            .ProducesProblem(StatusCodes.Status422UnprocessableEntity);
        api.MapPost("/machines/{unit}/telemetry", Telemetry)
            .RequireAuthorization(Policies.Api(TokenScopes.Hours))
            .WithName("tellTelemetry")
            .WithSummary("Takes what a machine reports by itself, in the shape of a feed's equipment. The same report twice is one.")
            .Produces<ApiTelemetry>()
            .ProducesProblem(StatusCodes.Status404NotFound)
            .ProducesProblem(StatusCodes.Status422UnprocessableEntity);
        api.MapPost("/machines/{unit}/odometer", Drive)
            .RequireAuthorization(Policies.Api(TokenScopes.Hours))
            .WithName("logOdometer")
            .WithSummary("Logs what an odometer shows. An Idempotency-Key header makes a repeat harmless.")
            .Produces<ApiOdometer>()
            .ProducesProblem(StatusCodes.Status404NotFound)
            .ProducesProblem(StatusCodes.Status422UnprocessableEntity);
    }

    private static async Task<IResult> Telemetry(
        string unit,
        System.Text.Json.JsonElement body,
        FeedBook book,
        UnitNames units,
        Words words,
        CancellationToken ct
    )
    {
        var (report, fault) = FeedMessages.ReadOne(body.GetRawText());
        if (report is null)
            return Problem(
                words,
                StatusCodes.Status422UnprocessableEntity,
                fault switch
                {
                    "feedFigure" => Refusals.FeedFigure(),
                    "feedCodes" => Refusals.FeedCodes(),
                    _ => Refusals.FeedShape(),
                }
            );
        var outcome = await book.Tell(unit, report, ct);
        if (outcome.Refusals.Any(x => x.Code == "noSuchUnit"))
            return await NoUnit(unit, units, words, ct);
        if (!outcome.Done)
            return Problem(words, StatusCodes.Status422UnprocessableEntity, outcome.Refusals[0]);
        var row = outcome.Value!;
        return TypedResults.Ok(new ApiTelemetry(row.Hours, row.HoursAt, row.OffsetHours, row.Pairs, WireName.Of(row.Away)));
    }

    private static async Task<IResult> Drive(
        string unit,
        ApiLogOdometer body,
        LogOdometer log,
        UnitNames units,
        Words words,
        HttpContext context,
        CancellationToken ct
    )
    {
        var outcome = await log.Run(
            new(unit, body.Km?.ToString(System.Globalization.CultureInfo.InvariantCulture), null, body.Confirmed, Key(context), body.At),
            context.User.Actor(),
            ct
        );
        if (outcome.Refusals.Any(x => x.Code == "noSuchUnit"))
            return await NoUnit(unit, units, words, ct);
        return outcome.Done
            ? TypedResults.Ok(new ApiOdometer(outcome.Value!.Id, outcome.Value.At, outcome.Value.KmTenths / 10.0, outcome.Value.By))
            : Problem(words, StatusOf(outcome.Refusals[0], unitInPath: true), outcome.Refusals[0]);
    }

    private static async Task<IResult> Machines(
        TodayView view,
        Words words,
        [FromQuery] string? site,
        [FromQuery] string? standing,
        [FromQuery] int? page,
        CancellationToken ct
    )
    {
        DueStatus? wanted = null;
        if (standing is not null)
        {
            if (WireName.Parse<DueStatus>(standing) is not { } parsed)
                return Problem(words, StatusCodes.Status400BadRequest, Refusals.NoSuchStanding(standing));
            wanted = parsed;
        }

        var found = await view.Run(new(site, Status: wanted, Page: page ?? 1), ct);
        return TypedResults.Ok(
            found
                .Machines.Take(MostMachines)
                .Select(x => Of(x.Unit, x.Kind.Wire, x.Make, x.Model, "", x.Site, x.Now, x.OffsetHours, x.Status, x.Unconfirmed))
                .ToList()
        );
    }

    private static async Task<IResult> Machine(string unit, MachineView view, UnitNames units, Words words, CancellationToken ct)
    {
        if (await view.Stand(unit, ct) is not { } x)
            return await NoUnit(unit, units, words, ct);
        return TypedResults.Ok(
            Of(
                x.Machine.Unit,
                x.Machine.Kind.Wire,
                x.Machine.Make,
                x.Machine.Model,
                x.Machine.Serial,
                x.Machine.Site.Name,
                x.Now,
                x.OffsetHours,
                x.Groups.FirstOrDefault()?.Status ?? DueStatus.NotDue,
                x.Unconfirmed
            )
        );
    }

    private static async Task<IResult> Due(string unit, MachineView view, UnitNames units, Words words, CancellationToken ct)
    {
        if (await view.Stand(unit, ct) is not { } machine)
            return await NoUnit(unit, units, words, ct);
        return TypedResults.Ok(
            new ApiDueList(
                machine.Machine.Unit,
                Math.Round(machine.Now.Hours, 2),
                [
                    .. machine
                        .Items.Concat(machine.Daily)
                        .Select(x => new ApiDue(
                            x.Item.Code,
                            x.Item.Name,
                            x.Item.Compartment,
                            WireName.Of(x.Status.Status),
                            x.Status.NoRecord ? "noRecord" : null,
                            x.Status.DueHours,
                            x.Status.DueOn,
                            x.Status.Projected?.Early,
                            x.Status.Projected?.Typical,
                            x.Status.Projected?.Late,
                            x.Status.HoursLeft,
                            x.Status.DaysLeft,
                            x.Status.Used,
                            WireName.Of(x.Status.Point.IntervalBasis)
                        )),
                ]
            )
        );
    }

    private static async Task<IResult> Readings(
        string unit,
        ReadingFeed feed,
        UnitNames units,
        Words words,
        [FromQuery] long? before,
        CancellationToken ct
    )
    {
        if (await feed.Run(unit, UrlInstant.Read(before), ct) is not { } rows)
            return await NoUnit(unit, units, words, ct);
        return TypedResults.Ok(
            new ApiReadings(
                [.. rows.Select(x => new ApiReading(x.Id, x.At, x.ShownHours.Value, x.LifeHours.Value, WireName.Of(x.State), x.By))],
                rows.Count == ReadingFeed.Most ? UrlInstant.Write(rows[^1].At) : null
            )
        );
    }

    private static async Task<IResult> Log(
        string unit,
        ApiLogReading body,
        LogReading log,
        ReadingFeed feed,
        UnitNames units,
        Words words,
        HttpContext context,
        CancellationToken ct
    )
    {
        if (MeterHours.TryOf(body.Hours ?? -1, out var hours) is var fault && fault != HoursFault.None)
            return Problem(words, StatusCodes.Status422UnprocessableEntity, new("hours", "hours" + fault, MeterHours.Max));
        var outcome = await log.Run(
            new(unit, hours.ToString(), Source: ReadingSource.Api, Key: Key(context), At: body.At),
            context.User.Actor(),
            ct
        );
        if (outcome.Refusals.Any(x => x.Field == "unit"))
            return await NoUnit(unit, units, words, ct);
        if (!outcome.Done)
            return Problem(words, StatusOf(outcome.Refusals[0], unitInPath: true), outcome.Refusals[0], outcome.Value?.Judgement);

        var id = outcome.Value!.ReadingId;
        var state = id is null ? "unchanged" : WireName.Of(await feed.StateOf(id.Value, ct));
        var logged = new ApiLogged(
            id,
            state,
            WireName.Of(outcome.Value.Judgement?.Code ?? ReadingCode.Duplicate),
            Offers(outcome.Value.Judgement)
        );
        return outcome.Value.Repeat || id is null
            ? TypedResults.Ok(logged)
            : TypedResults.Created($"/api/v1/machines/{Uri.EscapeDataString(unit)}/readings", logged);
    }

    private static List<double> Offers(Judgement? judgement) => judgement is null ? [] : [.. judgement.DidYouMean.Select(x => x.Value)];

    private static ApiMachine Of(
        string unit,
        string kind,
        string make,
        string model,
        string serial,
        string site,
        MachineNow now,
        MeterHours offset,
        DueStatus standing,
        int unconfirmed
    ) =>
        new(
            unit,
            kind,
            make,
            model,
            serial,
            site,
            Math.Round(now.Hours, 2),
            Math.Round(now.Hours - offset.Value, 2),
            now.Use.IsEstimate(now.Now),
            Math.Round(now.Use.HoursPerDay, 3),
            now.Use.ParkedAt(now.Now),
            WireName.Of(standing),
            unconfirmed
        );

    private static async Task<IResult> NoUnit(string unit, UnitNames units, Words words, CancellationToken ct)
    {
        return Problem(words, StatusCodes.Status404NotFound, await units.Unknown(unit, ct));
    }

    /// <summary>The key that makes a repeat harmless; null for none.</summary>
    internal static string? Key(HttpContext context) =>
        context.Request.Headers["Idempotency-Key"].ToString() is { Length: > 0 } key ? key : null;

    /// <summary>The status of a refusal: a repeat that is none is a conflict.</summary>
    /// <param name="refusal">The refusal.</param>
    /// <param name="unitInPath">The machine is part of the address: one that is not here is an address that is not.</param>
    internal static int StatusOf(Refusal refusal, bool unitInPath) =>
        refusal.Code switch
        {
            "noSuchUnit" when unitInPath => StatusCodes.Status404NotFound,
            "keyUsed" => StatusCodes.Status409Conflict,
            "keyTooLong" => StatusCodes.Status400BadRequest,
            _ => StatusCodes.Status422UnprocessableEntity,
        };

    internal static Microsoft.AspNetCore.Http.HttpResults.ProblemHttpResult Problem(
        Words words,
        int status,
        Refusal refusal,
        Judgement? judgement = null
    )
    {
        var more = new Dictionary<string, object?> { ["code"] = refusal.Code, ["field"] = refusal.Field };
        if (judgement is { DidYouMean.Length: > 0 })
            more["didYouMean"] = Offers(judgement);
        return TypedResults.Problem(words.Refused(refusal), statusCode: status, title: words["Api.Refused"], extensions: more);
    }
}
