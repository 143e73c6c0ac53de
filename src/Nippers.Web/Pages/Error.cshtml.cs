using System.Globalization;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Mvc;
using Nippers.Data;
using Nippers.Web.Hosting;
using Nippers.Web.Text;

namespace Nippers.Web.Pages;

/// <summary>
/// What is shown when a page is missing or something broke. What somebody had typed stands there still, to be sent again.
/// </summary>
[IgnoreAntiforgeryToken]
public sealed class ErrorModel(IAntiforgery antiforgery) : NippersPage
{
    /// <summary>Seconds after which a busy database is tried again.</summary>
    private const int Soon = 5;

    public int Status { get; private set; } = 500;

    /// <summary>What is wrong with file or disk; null when that is not it.</summary>
    public StorageFault? Storage { get; private set; }

    /// <summary>Where the form was sent that could not be kept; null for none.</summary>
    public string? SentTo { get; private set; }

    /// <summary>What stood in it.</summary>
    public IReadOnlyList<KeyValuePair<string, string>> Typed { get; private set; } = [];

    /// <summary>Files were sent with it: they have to be chosen again.</summary>
    public bool HadFiles { get; private set; }

    /// <summary>The form that was sent when the session was over, or from a page of another session; null for none.</summary>
    public HeldForm? Held { get; private set; }

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
        if (HttpContext.Features.Get<IStatusCodeReExecuteFeature>() is { } over)
        {
            if (!HeldForm.IsOurs(Request) || !await IsOfNoSession())
                return;

            // What a part of a page sent is answered with a whole one.
            (Response.Headers["HX-Retarget"], Response.Headers["HX-Reswap"]) = ("body", "innerHTML");
            var to = over.OriginalPathBase + over.OriginalPath + over.OriginalQueryString;
            Held = await HeldForm.Of(Request, to, HttpContext.RequestAborted);
            return;
        }

        if (HttpContext.Features.Get<IExceptionHandlerPathFeature>() is not { } broke)
            return;
        Storage = StorageFaults.Of(broke.Error);
        Response.StatusCode = Status = StatusOf(broke.Error);
        Say(Response);
        if (Storage is null || !HttpMethods.IsPost(Request.Method) || !Request.HasFormContentType)
            return;
        if (await HeldForm.Of(Request, broke.Path + Request.QueryString, HttpContext.RequestAborted) is not { } held)
            return;
        (SentTo, Typed, HadFiles) = (held.To, held.Fields, held.HadFiles);
    }

    // Nobody is signed in any more, or the form was opened by whoever was before: its token is not of this session.
    private async Task<bool> IsOfNoSession() =>
        Status == StatusCodes.Status401Unauthorized
        || (Status == StatusCodes.Status400BadRequest && !await antiforgery.IsRequestValidAsync(HttpContext));
}
