using System.Globalization;
using System.Text.Json;
using Nippers.Core.Oil;
using Nippers.Formats.Lab;

namespace Nippers.StandIns;

/// <summary>How the laboratory feels: for trying what Nippers does with one that does not answer well.</summary>
public enum LabMood
{
    Well,
    Down,
    Slow,
    Half,
    Rubbish,
}

/// <summary>How the stand-in laboratory is started.</summary>
/// <param name="Port">Port on this machine; 0 takes a free one.</param>
/// <param name="Delay">Until results are ready.</param>
/// <param name="Seed">Another seed gives other figures.</param>
/// <param name="OneIn">One compartment in so many has a trouble by itself.</param>
/// <param name="Faults">Troubles by <c>unit:compartment</c>.</param>
public sealed record LabSettings(int Port, TimeSpan Delay, int Seed, int OneIn, IReadOnlyDictionary<string, OilFault> Faults);

/// <summary>A small laboratory: takes lists of samples and, after a while, gives results that the wear model made.</summary>
public sealed class LabServer(LabSettings settings, TimeProvider clock)
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);
    private static readonly TimeSpan SlowBy = TimeSpan.FromSeconds(40);
    private readonly Lock _lock = new();
    private readonly List<(DateTimeOffset Ready, LabResult Result)> _results = [];
    private readonly HashSet<string> _bottles = new(StringComparer.Ordinal);

    /// <summary>How it feels.</summary>
    public LabMood Mood { get; set; }

    /// <summary>Builds the server; it listens on this machine alone.</summary>
    public WebApplication Create()
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.WebHost.UseUrls($"http://127.0.0.1:{settings.Port.ToString(CultureInfo.InvariantCulture)}");
        builder.Logging.ClearProviders();
        var app = builder.Build();
        app.Use(
            async (context, next) =>
            {
                if (!context.Request.Path.StartsWithSegments("/lab") || context.Request.Path.StartsWithSegments("/lab/v1/mood"))
                    await next(context);
                else if (Mood == LabMood.Down)
                    context.Response.StatusCode = StatusCodes.Status503ServiceUnavailable;
                else
                {
                    if (Mood == LabMood.Slow)
                        await Task.Delay(SlowBy, context.RequestAborted);
                    await next(context);
                }
            }
        );
        app.MapPost("/lab/v1/orders", Take);
        app.MapGet("/lab/v1/results", (long after) =>
            Results.Text(Mood == LabMood.Rubbish ? "<html>Back soon</html>" : Answer(after), "application/json")
        );
        app.MapGet("/lab/v1/results.csv", (long after) => Results.Text(Csv(after), "text/csv"));
        app.MapPost("/lab/v1/mood/{mood}", (LabMood mood) =>
        {
            Mood = mood;
            return Results.NoContent();
        });
        app.MapGet("/", () =>
            Results.Text(
                "A stand-in laboratory for Nippers. POST /lab/v1/orders, GET /lab/v1/results?after=0, GET /lab/v1/results.csv?after=0, POST /lab/v1/mood/{well|down|slow|half|rubbish}"
            )
        );
        return app;
    }

    private async Task<IResult> Take(HttpRequest request)
    {
        using var reader = new StreamReader(request.Body);
        if (LabMessages.ReadOrder(await reader.ReadToEndAsync(request.HttpContext.RequestAborted)) is not { } order)
            return Results.BadRequest();
        lock (_lock)
        {
            foreach (var line in order.Samples.Where(x => _bottles.Add(x.Bottle)))
            {
                var fault = settings.Faults.TryGetValue($"{line.Unit}:{line.Compartment}", out var given)
                    ? given
                    : WearModel.SeededFault(line.Unit, line.Compartment, settings.Seed, settings.OneIn);
                _results.Add((clock.GetUtcNow() + settings.Delay, WearModel.Report(line, fault, 1, settings.Seed)));
            }
        }

        return Results.Json(new { accepted = order.Samples.Count }, statusCode: StatusCodes.Status202Accepted);
    }

    private List<(long Number, LabResult Result)> Ready(long after)
    {
        lock (_lock)
        {
            var now = clock.GetUtcNow();
            return
            [
                .. _results
                    .Select((x, i) => (Number: i + 1L, x.Ready, x.Result))
                    .Where(x => x.Number > after && x.Ready <= now)
                    .Select(x => (x.Number, x.Result)),
            ];
        }
    }

    private string Answer(long after)
    {
        var ready = Ready(after);
        var text = JsonSerializer.Serialize(
            new
            {
                results = ready.Select(x => new
                {
                    x.Result.Bottle,
                    x.Result.LabNumber,
                    x.Result.Unit,
                    x.Result.Compartment,
                    x.Result.MachineHours,
                    x.Result.OilHours,
                    figures = x.Result.Figures,
                    x.Result.Iso,
                    x.Result.Comment,
                }),
                cursor = ready.Count > 0 ? ready[^1].Number : after,
            },
            Json
        );
        return Mood == LabMood.Half ? text[..(text.Length / 2)] : text;
    }

    /// <summary>The same as a file, with headings and units of its own.</summary>
    private string Csv(long after)
    {
        var lines = new List<string>
        {
            "Sample ID,Lab No,Unit No,Compartment,Hours,Hours on oil,"
                + string.Join(',', Measurands.Reported.Select(Heading))
                + ",Glycol,ISO 4406,Remarks",
        };
        foreach (var (_, result) in Ready(after))
        {
            lines.Add(
                string.Join(
                    ',',
                    new[]
                    {
                        result.Bottle,
                        result.LabNumber,
                        result.Unit,
                        result.Compartment,
                        result.MachineHours?.ToString(CultureInfo.InvariantCulture) ?? "",
                        result.OilHours?.ToString(CultureInfo.InvariantCulture) ?? "",
                    }
                        .Concat(Measurands.Reported.Select(x => result.Figures.GetValueOrDefault(x.Code(), "")))
                        .Append(result.Figures.GetValueOrDefault("glycol", ""))
                        .Append(result.Iso)
                        .Append($"\"{result.Comment}\"")
                )
            );
        }

        return string.Join("\r\n", lines) + "\r\n";
    }

    private static string Heading(Measurand measurand) =>
        measurand switch
        {
            Measurand.V40 => "Visc 40C cSt",
            Measurand.V100 => "Visc 100C cSt",
            Measurand.Pq => "PQ index",
            Measurand.Water or Measurand.Fuel or Measurand.Soot => $"{measurand} %",
            Measurand.Oxidation or Measurand.Nitration => $"{measurand} A/cm",
            Measurand.Tan => "TAN mg KOH/g",
            Measurand.Tbn => "TBN mg KOH/g",
            _ => $"{measurand} ppm",
        };
}
