using System.Threading.RateLimiting;
using Microsoft.AspNetCore.Http.Features;

namespace Nippers.Web.Hosting;

/// <summary>How often somebody may ask, and how much they may send.</summary>
internal static class Limits
{
    /// <summary>Largest fleet file, bytes.</summary>
    public const long LargestFile = 512L << 20;

    // A form, or an answer of a phone, without pictures.
    private const long Form = 2L << 20;

    // Six pictures of a telephone, as large as they come, and the words with them.
    private const long Pictures = 130L << 20;

    // Readings of a year, or the file of a laboratory.
    private const long Table = 34L << 20;

    // Where somebody could try words or codes one after the other.
    private static readonly string[] GuessedAt = ["/sign-in", "/setup", "/reset", "/password"];

    // First parts of addresses that take more than a form.
    private static readonly (string Path, long Bytes)[] Larger =
    [
        ("/exchange/fleet", LargestFile),
        ("/exchange/readings", Table),
        ("/samples/import", Table),
        ("/phone/entries", Pictures),
        ("/walks", Pictures),
        ("/visits", Pictures),
        ("/defects", Pictures),
    ];

    /// <summary>The most that an address takes, bytes.</summary>
    public static long LargestBody(PathString path) =>
        Larger.Where(x => path.StartsWithSegments(x.Path, StringComparison.OrdinalIgnoreCase)).Select(x => (long?)x.Bytes).FirstOrDefault()
        ?? Form;

    /// <summary>Refuses what is too large before it is read; what does not say how large it is, as soon as it is.</summary>
    public static void UseBodyLimits(this IApplicationBuilder app) =>
        app.Use(
            (context, next) =>
            {
                var most = LargestBody(context.Request.Path);
                if (context.Request.ContentLength > most)
                {
                    context.Response.StatusCode = StatusCodes.Status413PayloadTooLarge;
                    return Task.CompletedTask;
                }

                if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } size)
                    size.MaxRequestBodySize = most;
                return next(context);
            }
        );

    /// <summary>Limits tries at words and codes by address, and calls of the interface by address and by token, known or not.</summary>
    public static void AddLimits(this IServiceCollection services, WebSettings settings) =>
        services.AddRateLimiter(options =>
        {
            options.RejectionStatusCode = StatusCodes.Status429TooManyRequests;
            options.OnRejected = (rejected, _) =>
            {
                rejected.HttpContext.Response.Headers.RetryAfter = "60";
                return ValueTask.CompletedTask;
            };
            options.GlobalLimiter = PartitionedRateLimiter.CreateChained(
                PartitionedRateLimiter.Create<HttpContext, string>(context =>
                {
                    var path = context.Request.Path;
                    if (HttpMethods.IsPost(context.Request.Method) && GuessedAt.Any(x => path.StartsWithSegments(x)))
                        return PerMinute("sign-in", Address(context), settings.SignInsPerMinute);

                    // An address may hold several programs; one that tries tokens is slowed all the same.
                    return path.StartsWithSegments("/api")
                        ? PerMinute("api-from", Address(context), settings.ApiCallsPerMinute * AddressToToken)
                        : RateLimitPartition.GetNoLimiter("");
                }),
                PartitionedRateLimiter.Create<HttpContext, string>(context =>
                    context.Request.Path.StartsWithSegments("/api")
                        ? PerMinute("api", Token(context), settings.ApiCallsPerMinute)
                        : RateLimitPartition.GetNoLimiter("")
                )
            );
        });

    // What the token is, however it is written: blanks and capitals of its word do not make another of it.
    private static string Token(HttpContext context) =>
        string.Join(' ', context.Request.Headers.Authorization.ToString().Split(' ', StringSplitOptions.RemoveEmptyEntries).Skip(1));

    private static string Address(HttpContext context) => context.Connection.RemoteIpAddress?.ToString() ?? "";

    private const int AddressToToken = 4;

    private static RateLimitPartition<string> PerMinute(string what, string who, int limit) =>
        RateLimitPartition.GetFixedWindowLimiter($"{what}:{who}", _ => new FixedWindowRateLimiterOptions
        {
            PermitLimit = limit,
            Window = TimeSpan.FromMinutes(1),
        });
}
