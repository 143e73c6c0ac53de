using System.Text;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Nippers.App;
using Nippers.Views.Walks;
using Nippers.Web.Text;

namespace Nippers.Web.Hosting;

/// <summary>What every page has: who is there, what was refused, and a word after something was done.</summary>
public abstract class NippersPage : PageModel
{
    private const string FlashKey = "flash";
    private const string UndoKey = "flash-undo";

    public Actor Actor => User.Actor();

    /// <summary>Refusals to show beside their fields.</summary>
    public IReadOnlyList<Refusal> Refusals { get; private set; } = [];

    public bool IsHtmx => Request.Headers.ContainsKey("HX-Request");

    /// <summary>Makes repeats of a form harmless.</summary>
    [BindProperty(Name = "key")]
    public string? Key { get; set; }

    /// <summary>Whether everyone may look at the page and only technicians may change what it shows.</summary>
    protected virtual bool ChangesNeedWork => false;

    public override void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        if (ChangesNeedWork && HttpMethods.IsPost(Request.Method) && !User.MayWork())
            context.Result = Forbid();
        base.OnPageHandlerExecuting(context);
    }

    public override void OnPageHandlerExecuted(PageHandlerExecutedContext context)
    {
        if (!ViewData.ContainsKey(Refused.Key))
            ViewData[Refused.Key] = new Refused(Refusals, null);
        base.OnPageHandlerExecuted(context);
    }

    /// <summary>Keeps refusals for the page and says so in the status.</summary>
    protected void Refuse(IReadOnlyList<Refusal> refusals, TimeZoneInfo? zone = null)
    {
        Refusals = refusals;
        ViewData[Refused.Key] = new Refused(refusals, zone);
        if (refusals.Count > 0)
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
    }

    /// <summary>Goes to a page with a word on what was done, and perhaps its undo.</summary>
    protected IActionResult Done(string url, string flash, string? undo = null)
    {
        TempData[FlashKey] = flash;
        if (undo is not null)
            TempData[UndoKey] = undo;
        if (!IsHtmx)
            return LocalRedirect(url);
        Response.Headers["HX-Redirect"] = url;
        return new EmptyResult();
    }

    /// <summary>A part of a page, with the page's refusals.</summary>
    protected PartialViewResult Part<T>(string name, T model) =>
        new()
        {
            ViewName = name,
            ViewData = new ViewDataDictionary<T>(ViewData, model),
            TempData = TempData,
            StatusCode = Response.StatusCode,
        };

    /// <summary>A part of the screen that phones show too, with the page's refusals.</summary>
    protected async Task<IActionResult> Shown<TPart, TModel>(TModel model)
        where TPart : ScreenPart<TModel> =>
        new ContentResult
        {
            Content = await ScreenHtml.Of<TPart, TModel>(Screens.Of(HttpContext, ViewData), model),
            ContentType = "text/html; charset=utf-8",
            StatusCode = Response.StatusCode,
        };

    /// <summary>A CSV file, written as it is read.</summary>
    protected async Task<IActionResult> Csv(string fileName, Func<TextWriter, Task> write)
    {
        Response.ContentType = "text/csv; charset=utf-8";
        Response.Headers.ContentDisposition = $"attachment; filename={fileName}";
        await using var writer = new StreamWriter(Response.Body, new UTF8Encoding(false));
        await write(writer);
        return new EmptyResult();
    }

    /// <summary>The text of an uploaded file; null when it was refused, which is said beside its field.</summary>
    /// <param name="file">The file.</param>
    /// <param name="largest">Largest that is taken, bytes.</param>
    /// <param name="ct">Cancels.</param>
    protected async Task<string?> ReadText(IFormFile? file, int largest, CancellationToken ct)
    {
        if (file is null || file.Length == 0 || file.Length > largest)
        {
            Refuse([
                new(
                    "file",
                    file is null ? "fileNeeded"
                        : file.Length == 0 ? "csvEmpty"
                        : "fileTooLarge",
                    largest >> 20
                ),
            ]);
            return null;
        }

        using var reader = new StreamReader(file.OpenReadStream(), new UTF8Encoding(false, throwOnInvalidBytes: true));
        try
        {
            return await reader.ReadToEndAsync(ct);
        }
        catch (DecoderFallbackException)
        {
            Refuse([new("file", "notUtf8")]);
            return null;
        }
    }

    /// <summary>Only addresses of this application; else the fallback.</summary>
    protected string Back(string? url, string fallback) => url is not null && Url.IsLocalUrl(url) ? url : fallback;

    public static (string? Flash, string? Undo) TakeFlash(ITempDataDictionary data) => (data[FlashKey] as string, data[UndoKey] as string);

    public static string NewKey() => Screen.NewKey();
}
