using System.Globalization;
using System.IO.Compression;
using System.Text.Json;
using Nippers.App;
using Nippers.App.Phones;
using Nippers.Data.Walks;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Phones;

/// <summary>What the script on a phone asks: what it holds, a walk to go on with, and what it did meanwhile.</summary>
/// <remarks>Rules 12.</remarks>
public static class PhoneApi
{
    /// <summary>First part of the addresses.</summary>
    public const string Root = "/phone";

    /// <summary>
    /// Header that only our own script can send: a form of another site can't, and a script of another site would have to ask first.
    /// </summary>
    public const string Header = "X-Nippers-Phone";

    /// <summary>Header with the key under which a form of a walk is kept on the phone too.</summary>
    public const string KeyHeader = "X-Nippers-Key";

    // The server's clock, ms: the phone compares its own with it whenever they meet.
    private const string NowHeader = "X-Nippers-Now";

    // Clocks that no phone has, and that no date could be reckoned with.
    private const int LongestName = 64;
    private const int FirstYear = 2000;
    private const int LastYear = 2200;
    private static readonly TimeSpan MostAhead = TimeSpan.FromDays(36_500);

    private const int LargestEntry = 256 * 1024;

    /// <summary>Maps the addresses.</summary>
    public static void MapPhone(this WebApplication app)
    {
        var phone = app.MapGroup(Root).RequireAuthorization(Policies.Log).ExcludeFromDescription();
        phone.MapGet("/kit", Kit);
        phone.MapGet("/walks/{id:long}", Walk);
        phone.MapGet("/cards/{id:long}", Card);
        phone.MapPost("/entries", Take).DisableAntiforgery();
    }

    /// <summary>Remembers the key of a form that a phone keeps too, so that it can be sent again without harm.</summary>
    public static IApplicationBuilder UsePhoneKeys(this IApplicationBuilder app) =>
        app.Use(
            (context, next) =>
            {
                if (
                    context.Request.Headers[KeyHeader].ToString() is { Length: > 0 and <= 64 } key
                    && context.User.Identity?.IsAuthenticated == true
                )
                    context.RequestServices.GetRequiredService<UnitOfWork>().Once(context.User.Actor(), key);
                return next();
            }
        );

    private static async Task Kit(HttpContext http, PhoneKits kits, CancellationToken ct) =>
        await Write(http, await kits.All(http.User.MayWork(), ct), ct);

    private static async Task Walk(long id, HttpContext http, PhoneKits kits, CancellationToken ct)
    {
        if (await kits.Walk(id, ct) is not var (walk, lists))
        {
            http.Response.StatusCode = StatusCodes.Status404NotFound;
            return;
        }

        await Write(http, new { walk, lists }, ct);
    }

    private static async Task Card(long id, HttpContext http, PhoneKits kits, CancellationToken ct)
    {
        // A card that lay on an operator's phone would be worked there without a network.
        if (!http.User.MayWork() || await kits.Card(id, ct) is not { } card)
        {
            http.Response.StatusCode = StatusCodes.Status404NotFound;
            return;
        }

        await Write(http, card, ct);
    }

    private static async Task<IResult> Take(HttpContext http, TakeEntry take, Words words, CancellationToken ct)
    {
        if (!http.Request.Headers.ContainsKey(Header) || !http.Request.HasFormContentType)
            return Results.BadRequest();
        var form = await http.Request.ReadFormAsync(ct);
        if (form["entry"].ToString() is not { Length: > 0 and <= LargestEntry } text)
            return Results.BadRequest();
        PhoneEntry? entry;
        try
        {
            entry = JsonSerializer.Deserialize<PhoneEntry>(text, ListJson.Options);
        }
        catch (JsonException)
        {
            return Results.BadRequest();
        }

        if (entry is not { Key: not null, Walk: not null, Step: not null, Unit: not null, Fields: not null } || !Enum.IsDefined(entry.Kind))
            return Results.BadRequest();

        // Names that the phone made: none is blank, and only a walk may have none.
        if (!IsName(entry.Key) || (entry.Walk.Length > 0 && !IsName(entry.Walk)) || entry.Step.Length > LongestName)
            return Results.BadRequest();
        if (entry.At.Year is < FirstYear or > LastYear || Math.Abs(entry.AheadMs) > MostAhead.TotalMilliseconds)
            return Results.BadRequest();
        var photos = await PhotoUploads.Read([.. form.Files.GetFiles("photo")], ct);
        var outcome = await take.Run(entry, photos, http.User.Actor(), ct);
        return outcome.Done
            ? Results.Json(new { done = true, walk = outcome.Value!.WalkId })
            : Results.Json(
                new { done = false, refused = outcome.Refusals.Select(x => words.Refused(x)).Distinct() },
                statusCode: StatusCodes.Status422UnprocessableEntity
            );
    }

    private static bool IsName(string text) => text.Length is > 0 and <= LongestName && !text.Any(char.IsWhiteSpace);

    /// <summary>JSON, packed where the browser takes it: a fleet's walks are much of the same.</summary>
    private static async Task Write<T>(HttpContext http, T value, CancellationToken ct)
    {
        http.Response.ContentType = "application/json; charset=utf-8";
        http.Response.Headers.CacheControl = "no-store";
        var now = http.RequestServices.GetRequiredService<TimeProvider>().GetUtcNow();
        http.Response.Headers[NowHeader] = now.ToUnixTimeMilliseconds().ToString(CultureInfo.InvariantCulture);
        if (!http.Request.Headers.AcceptEncoding.ToString().Contains("br", StringComparison.Ordinal))
        {
            await JsonSerializer.SerializeAsync(http.Response.Body, value, ListJson.Options, ct);
            return;
        }

        http.Response.Headers.ContentEncoding = "br";
        http.Response.Headers.Vary = "Accept-Encoding";
        await using var packed = new BrotliStream(http.Response.Body, CompressionLevel.Fastest);
        await JsonSerializer.SerializeAsync(packed, value, ListJson.Options, ct);
    }
}
