using System.Globalization;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;
using Nippers.Data;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages;

/// <summary>
/// What is shown when a page is missing or something broke. What somebody had typed stands there still, to be sent again.
/// </summary>
[IgnoreAntiforgeryToken]
public sealed class ErrorModel : NippersPage
{
    /// <summary>Seconds after which a busy database is tried again.</summary>
    private const int Soon = 5;

    private const int LongestShown = 400;

    private static readonly string[] Secret = ["password", "current", "token"];

    public int Status { get; private set; } = 500;

    /// <summary>What is wrong with file or disk; null when that is not it.</summary>
    public StorageFault? Storage { get; private set; }

    /// <summary>Where the form was sent that could not be kept; null for none.</summary>
    public string? SentTo { get; private set; }

    /// <summary>What stood in it.</summary>
    public IReadOnlyList<KeyValuePair<string, string>> Typed { get; private set; } = [];

    /// <summary>What of it people typed, for them to read.</summary>
    public IEnumerable<string> Readable =>
        Typed
            .Where(x => !x.Key.StartsWith('_') && x.Key != "key")
            .Select(x => x.Value)
            .Where(x => x.Length is > 0 and <= LongestShown)
            .Distinct();

    /// <summary>Files were sent with it: they have to be chosen again.</summary>
    public bool HadFiles { get; private set; }

    public Task OnGet(int? status) => Show(status);

    public Task OnPost(int? status) => Show(status);

    /// <summary>The status with which a fault is answered.</summary>
    public static int StatusOf(Exception fault) =>
        StorageFaults.Of(fault) switch
        {
            // What was sent was cut off, or was larger than its address takes.
            null when fault.GetBaseException() is BadHttpRequestException bad => bad.StatusCode,
            StorageFault.Busy => StatusCodes.Status503ServiceUnavailable,
            StorageFault.Full => StatusCodes.Status507InsufficientStorage,
            _ => StatusCodes.Status500InternalServerError,
        };

    /// <summary>Says when a busy database is worth another try.</summary>
    public static void Say(HttpResponse response)
    {
        if (response.StatusCode == StatusCodes.Status503ServiceUnavailable)
            response.Headers.RetryAfter = Soon.ToString(CultureInfo.InvariantCulture);
    }

    private async Task Show(int? status)
    {
        Status = status ?? 500;
        if (HttpContext.Features.Get<IExceptionHandlerPathFeature>() is not { } broke)
            return;
        Storage = StorageFaults.Of(broke.Error);
        Response.StatusCode = Status = StatusOf(broke.Error);
        Say(Response);
        if (Storage is null || !HttpMethods.IsPost(Request.Method) || !Request.HasFormContentType)
            return;
        var form = await Request.ReadFormAsync(HttpContext.RequestAborted);

        // A password is written into no page, not even its own person's: it is typed once more.
        if (Secret.Any(form.ContainsKey))
            return;
        SentTo = broke.Path + Request.QueryString;
        Typed = [.. form.SelectMany(x => x.Value, (x, value) => KeyValuePair.Create(x.Key, value ?? ""))];
        HadFiles = form.Files.Count > 0;
    }
}
