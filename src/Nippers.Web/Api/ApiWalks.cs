using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.Defects;
using Nippers.App.Exchange;
using Nippers.App.Walks;
using Nippers.Core;
using Nippers.Core.Defects;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.People;
using Nippers.Data.Walks;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Api;

/// <summary>
/// An answer to a check: <c>{"check": "horn", "answer": {"kind": "seen", "ok": true}}</c>. Members that stand beside the check
/// itself, without a kind, are read too.
/// </summary>
public sealed record ApiAnswer
{
    [JsonRequired]
    public string Check { get; init; } = "";

    /// <summary>The answer; <c>kind</c> says of which kind.</summary>
    public JsonElement? Answer { get; init; }

    /// <summary>Members beside the check.</summary>
    [JsonExtensionData]
    public IDictionary<string, JsonElement>? Flat { get; init; }

    internal AnswerInput ToInput()
    {
        try
        {
            return Answer is { } answer
                ? new(Check, PackedAnswers.ReadOne(answer.GetRawText()))
                : new(Check, FlatAnswer.Read(Flat).ToForm());
        }
        catch (JsonException)
        {
            return new(Check, (check, refusals) =>
            {
                refusals.Add(Refusals.AnswerUnfit(check.Name));
                return null;
            });
        }
    }
}

/// <summary>A defect to report; on a walk it names its check.</summary>
public sealed record ApiNewDefect
{
    [JsonRequired]
    public string Words { get; init; } = "";
    public string? Check { get; init; }
    public string? Place { get; init; }
    public string? Part { get; init; }

    /// <summary>What it is on; without it the words decide, and what speaks for the graver part counts.</summary>
    public MachinePart? On { get; init; }
    public DefectGrade? Grade { get; init; }
    public double? LimitHours { get; init; }
    public int? LimitDays { get; init; }
    public string? Fixed { get; init; }
    public int? Minutes { get; init; }
    public double? LookAgainHours { get; init; }

    internal DefectInput ToInput(string unit, string? key) =>
        new()
        {
            Unit = unit,
            Words = Words,
            Check = Check,
            Place = Place,
            Part = Part,
            On = On,
            PartBySaying = true,
            Grade = Grade,
            LimitHours = LimitHours?.ToString(CultureInfo.InvariantCulture),
            LimitDays = LimitDays?.ToString(CultureInfo.InvariantCulture),
            Fixed = Fixed,
            Minutes = Minutes?.ToString(CultureInfo.InvariantCulture),
            LookAgainHours = LookAgainHours?.ToString(CultureInfo.InvariantCulture),
            Key = key,
        };
}

/// <summary>A whole walk to take in.</summary>
public sealed record ApiNewWalk
{
    [JsonRequired]
    public double? Hours { get; init; }

    /// <summary>What its odometer shows, km; left out where it has none, or nobody read it.</summary>
    public double? Km { get; init; }

    /// <summary>The day of a paper sheet; without it the walk is of now.</summary>
    public DateOnly? LateOn { get; init; }
    public WalkRound Round { get; init; }
    public Weather Weather { get; init; }
    public Ground Ground { get; init; }
    public bool KnowsStopped { get; init; }
    public IReadOnlyList<ApiAnswer> Answers { get; init; } = [];
    public IReadOnlyList<ApiNewDefect> Defects { get; init; } = [];

    /// <summary>Why the checks without an answer were left out.</summary>
    public string? LeftOut { get; init; }
    public string? Note { get; init; }
}

/// <summary>A walk that was kept. Hours are what the meter showed.</summary>
public sealed record ApiWalk(
    long Id,
    DateOnly On,
    string State,
    string Round,
    string StartedBy,
    double Hours,
    int Checks,
    int Answered,
    int Faults,
    int LeftOut,
    double? SecondsACheck,
    bool TooQuick,
    [property: JsonPropertyName("verdict")] string? RunStatus,
    double? UntilLifeHours,
    DateOnly? UntilOn
);

/// <summary>A defect. Hours are life hours.</summary>
public sealed record ApiDefect(
    long Id,
    string Unit,
    string Place,
    string Words,
    string Grade,
    string State,
    string By,
    DateOnly On,
    double LifeHours,
    double? LimitLifeHours,
    DateOnly? LimitOn,
    long? RepeatOf
);

/// <summary>Walks and defects in the HTTP API.</summary>
public static class ApiWalks
{
    public static void MapWalks(RouteGroupBuilder api, RouteGroupBuilder read)
    {
        read.MapGet("/machines/{unit}/walks", Walks)
            .WithName("walks")
            .WithSummary("Walks of a machine, newest first.")
            .ProducesProblem(StatusCodes.Status404NotFound);
        api.MapPost("/machines/{unit}/walks", Submit)
            .RequireAuthorization(Policies.Api(TokenScopes.Walks))
            .WithName("submitWalk")
            .WithSummary("Takes a whole walk in, all of it or nothing. An Idempotency-Key header makes a repeat harmless.")
            .ProducesProblem(StatusCodes.Status422UnprocessableEntity);
        read.MapGet("/defects", Defects)
            .WithName("defects")
            .WithSummary("Open defects, the gravest and soonest first; closed=true for closed ones.");
        api.MapPost("/machines/{unit}/defects", Report)
            .RequireAuthorization(Policies.Api(TokenScopes.Walks))
            .WithName("reportDefect")
            .WithSummary("Reports a defect. An Idempotency-Key header makes a repeat harmless.")
            .ProducesProblem(StatusCodes.Status422UnprocessableEntity);
    }

    private static async Task<IResult> Walks(string unit, WalkFeed feed, Words words, [FromQuery] long? before, CancellationToken ct) =>
        await feed.Run(unit, before, ct) is { } rows
            ? TypedResults.Ok(rows.Select(Of).ToList())
            : ApiV1.Problem(words, StatusCodes.Status404NotFound, Refusals.NoSuchUnit("unit", unit, []));

    private static async Task<IResult> Submit(
        string unit,
        ApiNewWalk body,
        SubmitWalk submit,
        Words words,
        HttpContext context,
        CancellationToken ct
    )
    {
        // Their types say that there are no nulls in these lists; what came says otherwise at times.
        if (body.Answers.Any(x => x is null) || body.Defects.Any(x => x is null))
            return ApiV1.Problem(words, StatusCodes.Status400BadRequest, Refusals.Needed("answers"));
        var outcome = await submit.Run(
            new(
                new()
                {
                    Unit = unit,
                    Hours = body.Hours?.ToString(CultureInfo.InvariantCulture),
                    Km = body.Km?.ToString(CultureInfo.InvariantCulture),
                    LateOn = body.LateOn?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
                    Round = body.Round,
                    Weather = body.Weather,
                    Ground = body.Ground,
                    KnowsStopped = body.KnowsStopped,
                    Key = ApiV1.Key(context),
                },
                [.. body.Answers.Select(x => x.ToInput())],
                [.. body.Defects.Select(x => x.ToInput(unit, null))],
                new(body.LeftOut, body.Note)
            )
            {
                AnswersAsSent = JsonSerializer.Serialize(body.Answers),
            },
            context.User.Actor(),
            ct
        );
        if (!outcome.Done)
            return ApiV1.Problem(words, ApiV1.StatusOf(outcome.Refusals[0], unitInPath: true), outcome.Refusals[0]);
        return TypedResults.Created($"/walks/{outcome.Value!.Id}", Of(outcome.Value));
    }

    private static async Task<IResult> Defects(
        DefectViews views,
        [FromQuery] string? unit,
        [FromQuery] string? site,
        [FromQuery] bool? closed,
        [FromQuery] int? page,
        CancellationToken ct
    )
    {
        var list = await views.List(new(site, null, unit, null, closed ?? false, page ?? 1), ct);
        return TypedResults.Ok(list.Lines.Select(x => Of(x.Defect, x.Unit)).ToList());
    }

    private static async Task<IResult> Report(
        string unit,
        ApiNewDefect body,
        ReportDefect report,
        Words words,
        HttpContext context,
        CancellationToken ct
    )
    {
        var outcome = await report.Run(body.ToInput(unit, ApiV1.Key(context)), context.User.Actor(), ct);
        if (!outcome.Done)
            return ApiV1.Problem(words, ApiV1.StatusOf(outcome.Refusals[0], unitInPath: true), outcome.Refusals[0]);
        return TypedResults.Created($"/defects/{outcome.Value!.Id}", Of(outcome.Value, unit));
    }

    private static ApiWalk Of(WalkRow x) =>
        new(
            x.Id,
            x.On,
            WireName.Of(x.State),
            WireName.Of(x.Round),
            x.StartedBy,
            x.ShownHours.Value,
            x.Due,
            x.Answered,
            x.Faults,
            x.LeftOut,
            x.Took is { } took && Pace.SecondsACheck(took, x.Answered) is { } pace ? Math.Round(pace, 1) : null,
            x.TooQuick,
            x.RunStatus is { } verdict ? WireName.Of(verdict) : null,
            x.UntilHours?.Value,
            x.UntilOn
        );

    private static ApiDefect Of(DefectRow x, string unit) =>
        new(
            x.Id,
            unit,
            x.PlaceName,
            x.Words,
            WireName.Of(x.Grade),
            WireName.Of(x.State),
            x.By,
            x.On,
            x.LifeHours.Value,
            x.LimitHours?.Value,
            x.LimitOn,
            x.RepeatOf
        );
}
