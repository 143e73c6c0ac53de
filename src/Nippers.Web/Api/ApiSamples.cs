using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.Oil;
using Nippers.Core.Oil;
using Nippers.Data.Oil;
using Nippers.Data.People;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Api;

/// <summary>A sample. Hours are life hours.</summary>
/// <param name="Figures">As reported: short name of the measurand to a number or, below detection, a text such as &lt;1.</param>
public sealed record ApiSample(
    string Bottle,
    string Unit,
    string Compartment,
    string Item,
    OilKind Kind,
    SampleState State,
    DateOnly On,
    double MachineHours,
    double? OilHours,
    double AddedLitres,
    string Fluid,
    string Grade,
    Assessment? Advised,
    [property: JsonPropertyName("verdict")] Assessment? Assessment,
    string? SignedBy,
    IReadOnlyDictionary<string, string>? Figures = null,
    string? Iso = null
);

/// <summary>A judged sample: grades, findings and patterns with their evidence.</summary>
public sealed record ApiJudgement(
    ApiSample Sample,
    IReadOnlyDictionary<string, double> Values,
    IReadOnlyDictionary<string, int> Grades,
    IReadOnlyList<string> Findings,
    IReadOnlyList<ApiPattern> Patterns,
    SampleDoubts Doubts
);

/// <summary>A pattern that holds.</summary>
public sealed record ApiPattern(string Code, IReadOnlyList<string> Evidence, Sureness Sure);

/// <summary>A sample to keep.</summary>
/// <param name="Bottle">Empty: a new code is given out.</param>
public sealed record ApiTakeSample(
    string Unit,
    string Item,
    double Hours,
    DrawMethod Method,
    DrawState Engine,
    string? Bottle = null,
    double? AddedLitres = null,
    bool DrawnWrong = false,
    string? Note = null,
    DateOnly? On = null
);

/// <summary>A limit that counts.</summary>
public sealed record ApiLimit(string Measurand, double Watch, double Act, LimitSource Source, int Values);

/// <summary>Samples and limits in the HTTP API.</summary>
public static class ApiSamples
{
    private const int Most = 500;

    public static void MapSamples(RouteGroupBuilder api, RouteGroupBuilder read)
    {
        read.MapGet("/samples", List)
            .WithName("samples")
            .WithSummary("Samples, the newest first, at most 500; of one unit, or of one state.");
        read.MapGet("/samples/{bottle}", One)
            .WithName("sample")
            .WithSummary("One sample with its judgement.")
            .ProducesProblem(StatusCodes.Status404NotFound);
        read.MapGet("/oil-limits", Limits)
            .WithName("oilLimits")
            .WithSummary("Limits that count: of a kind of place, or of a compartment of a machine.")
            .ProducesProblem(StatusCodes.Status404NotFound);
        api.MapPost("/samples", Take)
            .RequireAuthorization(Policies.Api(TokenScopes.Results))
            .WithName("takeSample")
            .WithSummary("Keeps a sample that was taken. Needs a technician's token.")
            .ProducesProblem(StatusCodes.Status403Forbidden)
            .ProducesProblem(StatusCodes.Status422UnprocessableEntity);
    }

    private static async Task<IResult> List(
        SampleQueues tray,
        Words words,
        [FromQuery] string? unit,
        [FromQuery] string? state,
        CancellationToken ct
    )
    {
        SampleState? wanted = null;
        if (state is not null)
        {
            if (!Enum.TryParse<SampleState>(state, ignoreCase: true, out var parsed) || !Enum.IsDefined(parsed))
                return ApiV1.Problem(words, StatusCodes.Status400BadRequest, Refusals.NoSuchState(state));
            wanted = parsed;
        }

        return TypedResults.Ok((await tray.Newest(unit, wanted, Most, ct)).Select(x => ToSample(x.Sample, x.Unit, null)).ToList());
    }

    private static async Task<IResult> One(string bottle, SampleQueues tray, SampleViews views, Words words, CancellationToken ct)
    {
        var (sample, _, _) = await tray.Find(bottle, ct);
        if (sample is null || await views.One(sample.Id, ct) is not { } page)
            return ApiV1.Problem(words, StatusCodes.Status404NotFound, Refusals.BottleUnknown("bottle", bottle));
        var judgement = page.Judgement;
        return TypedResults.Ok(
            new ApiJudgement(
                ToSample(page.Sample, page.Machine.Unit, page.Report),
                judgement?.Values.All.ToDictionary(x => x.Measurand.Code(), x => x.Value) ?? [],
                judgement
                    ?.Grades.Select((x, i) => (Code: ((Measurand)i).Code(), Grade: x))
                    .Where(x => x.Grade is not null)
                    .ToDictionary(x => x.Code, x => x.Grade!.Value)
                    ?? [],
                judgement?.Findings.Select(x => x.ToString()).ToList() ?? [],
                judgement?.Patterns.Select(x => new ApiPattern(x.Code, [.. x.Evidence.Select(e => e.Code())], x.Sure)).ToList() ?? [],
                judgement?.Doubts ?? SampleDoubts.None
            )
        );
    }

    private static async Task<IResult> Limits(
        OilLimits limits,
        Words words,
        [FromQuery] string? kind,
        [FromQuery] string? unit,
        [FromQuery] string? compartment,
        CancellationToken ct
    )
    {
        var wanted = OilKind.Engine;
        if (kind is not null && (!Enum.TryParse(kind, ignoreCase: true, out wanted) || !Enum.IsDefined(wanted)))
            return ApiV1.Problem(words, StatusCodes.Status400BadRequest, Refusals.NoSuchKind(kind));
        return await limits.Page(wanted, unit, compartment, ct) is { } page
            ? TypedResults.Ok(
                page.Set.All.Select(x => new ApiLimit(x.Measurand.Code(), x.Limit.Watch, x.Limit.Act, x.Limit.Source, x.Limit.Values))
                    .ToList()
            )
            : ApiV1.Problem(words, StatusCodes.Status404NotFound, Refusals.NoSuchCompartment("compartment"));
    }

    private static async Task<IResult> Take(ApiTakeSample body, TakeSample take, HttpContext http, Words words, CancellationToken ct)
    {
        if (!http.User.MayWork())
            return ApiV1.Problem(words, StatusCodes.Status403Forbidden, Refusals.TechnicianNeeded());
        static string? Text(double? number) => number?.ToString(System.Globalization.CultureInfo.InvariantCulture);
        var outcome = await take.Run(
            new()
            {
                Unit = body.Unit,
                Item = body.Item,
                Hours = Text(body.Hours),
                DateText = body.On is { } on ? Formats.Iso.Day(on) : null,
                Bottle = body.Bottle,
                Method = body.Method,
                Engine = body.Engine,
                AddedLitres = Text(body.AddedLitres),
                DrawnWrong = body.DrawnWrong,
                Note = body.Note,
                Key = ApiV1.Key(http),
            },
            http.User.Actor(),
            ct
        );
        return outcome.Done
            ? TypedResults.Ok(ToSample(outcome.Value!, body.Unit, null))
            : ApiV1.Problem(words, ApiV1.StatusOf(outcome.Refusals[0], unitInPath: false), outcome.Refusals[0]);
    }

    private static ApiSample ToSample(SampleRow x, string unit, ReportRow? report) =>
        new(
            x.Bottle,
            unit,
            x.Compartment,
            x.ItemCode,
            x.Kind,
            x.State,
            x.On,
            x.LifeHours.Value,
            x.OilHours?.Value,
            x.AddedLitres.Value,
            x.Fluid,
            x.Grade,
            x.Advised,
            x.SignedAs,
            x.SignedBy,
            report is null ? null : OilCase.ReadFigures(report.Figures),
            report is { Iso.Length: > 0 } ? report.Iso : null
        );
}
