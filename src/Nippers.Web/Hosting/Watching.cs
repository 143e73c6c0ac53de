using System.Diagnostics.Metrics;
using System.Globalization;
using Nippers.App;
using OpenTelemetry.Metrics;
using Serilog;
using Serilog.Events;
using Serilog.Formatting.Compact;

namespace Nippers.Web.Hosting;

/// <summary>Figures and a log for whoever watches the installation. Neither says anything of the fleet or its people.</summary>
internal static class Watching
{
    /// <summary>The address of the figures.</summary>
    public const string Path = "/metrics";

    private static readonly object Asked = new();

    // Turns to write are meant to last some milliseconds, and nobody to wait for half a second.
    private static readonly double[] Seconds = [0.001, 0.0025, 0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 15];

    /// <summary>Gathers figures, where that was asked for at the start.</summary>
    public static void AddFigures(this IServiceCollection services, WebSettings settings)
    {
        if (!settings.Metrics)
            return;
        services.AddSingleton<FileMeter>();
        services
            .AddOpenTelemetry()
            .WithMetrics(metrics =>
                metrics
                    .AddMeter(WriteMeter.Name, FileMeter.Name)
                    .AddView("nippers.write.*", new ExplicitBucketHistogramConfiguration { Boundaries = Seconds })
                    .AddAspNetCoreInstrumentation()
                    .AddRuntimeInstrumentation()
                    .AddPrometheusExporter(x => x.ScrapeEndpointPath = Path)
            );
    }

    /// <summary>Maps their address, to anybody who reaches it: it is for the machine's own network.</summary>
    public static void MapFigures(this WebApplication app, WebSettings settings)
    {
        if (!settings.Metrics)
            return;
        _ = app.Services.GetRequiredService<FileMeter>();
        app.MapPrometheusScrapingEndpoint(Path).AllowAnonymous();
    }

    /// <summary>
    /// Says what is logged and how. Addresses hold units and names, so a request is told by the pattern of its address; statements of
    /// the database are told without their values.
    /// </summary>
    public static void Configure(LoggerConfiguration log, WebSettings settings)
    {
        // SQLite rebuilds tables outside of a transaction; whoever starts a new database can do nothing about that warning.
        log.MinimumLevel.Warning()
            .MinimumLevel.Override("Nippers", LogEventLevel.Information)
            .MinimumLevel.Override("Microsoft.EntityFrameworkCore.Migrations", LogEventLevel.Error);
        if (settings.LogTo is { } to)
            log.Enrich.With<NoAddresses>().WriteTo.Sink(new LineSink(to));
        else if (!settings.Quiet)
            log.WriteTo.Console(standardErrorFromLevel: LogEventLevel.Verbose, formatProvider: CultureInfo.InvariantCulture);
    }

    /// <summary>Logs a line for each request, where lines for a program were asked for.</summary>
    public static void UseRequestLines(this WebApplication app, WebSettings settings)
    {
        if (settings.LogTo is null)
            return;
        var log = app.Services.GetRequiredService<ILoggerFactory>().CreateLogger("Nippers.Request");
        app.Use(
            async (context, next) =>
            {
                var began = TimeProvider.System.GetTimestamp();
                try
                {
                    await next(context);
                }
                finally
                {
                    var took = TimeProvider.System.GetElapsedTime(began).TotalMilliseconds;
                    var route = (context.Items[Asked] as RouteEndpoint)?.RoutePattern.RawText ?? "";
                    log.Answered(context.Request.Method, route, context.Response.StatusCode, Math.Round(took, 1));
                }
            }
        );
    }

    /// <summary>Remembers what was asked for first: a page of words may take its place.</summary>
    public static void UseAsked(this WebApplication app, WebSettings settings)
    {
        if (settings.LogTo is null)
            return;
        app.Use(
            (context, next) =>
            {
                context.Items.TryAdd(Asked, context.GetEndpoint());
                return next();
            }
        );
    }

    /// <summary>Takes out of a line what the framework adds to it: an address may hold a unit, a name or a code.</summary>
    private sealed class NoAddresses : Serilog.Core.ILogEventEnricher
    {
        public void Enrich(LogEvent logEvent, Serilog.Core.ILogEventPropertyFactory propertyFactory)
        {
            foreach (var name in (string[])["RequestPath", "Path", "QueryString", "ActionName", "ConnectionId", "Uri", "Referer"])
                logEvent.RemovePropertyIfPresent(name);
        }
    }

    private sealed class LineSink(TextWriter to) : Serilog.Core.ILogEventSink
    {
        private static readonly CompactJsonFormatter Lines = new();
        private readonly Lock _one = new();

        public void Emit(LogEvent logEvent)
        {
            lock (_one)
                Lines.Format(logEvent, to);
        }
    }
}

/// <summary>How large the database is, and what room is left.</summary>
internal sealed class FileMeter : IDisposable
{
    /// <summary>Name under which the figures are gathered.</summary>
    public const string Name = "Nippers.File";

    private readonly Meter _meter = new(Name);

    public FileMeter(WebSettings settings)
    {
        var file = new FileInfo(settings.DatabaseFile);
        _meter.CreateObservableGauge("nippers.database.size", () => Length(file.FullName), "By", "The database's file.");
        _meter.CreateObservableGauge("nippers.database.log", () => Length(file.FullName + "-wal"), "By", "What is not yet written back.");
        _meter.CreateObservableGauge(
            "nippers.disk.free",
            () => new DriveInfo(file.DirectoryName!).AvailableFreeSpace,
            "By",
            "Room where the database stands."
        );
    }

    public void Dispose() => _meter.Dispose();

    private static long Length(string file) => File.Exists(file) ? new FileInfo(file).Length : 0;
}

internal static partial class RequestLines
{
    [LoggerMessage(Level = LogLevel.Information, Message = "{Method} {Route} answered {Status} in {Milliseconds} ms")]
    public static partial void Answered(
        this Microsoft.Extensions.Logging.ILogger log,
        string method,
        string route,
        int status,
        double milliseconds
    );
}
