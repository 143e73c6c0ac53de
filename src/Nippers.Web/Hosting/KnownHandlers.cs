using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Nippers.Web.Hosting;

/// <summary>A form that a page has no use for is answered as an address that is not there; drawing the page for it would break.</summary>
internal sealed class KnownHandlers : IPageFilter
{
    public void OnPageHandlerSelected(PageHandlerSelectedContext context) { }

    public void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        var method = context.HttpContext.Request.Method;
        if (context.HandlerMethod is null && !HttpMethods.IsGet(method) && !HttpMethods.IsHead(method))
            context.Result = new NotFoundResult();
    }

    public void OnPageHandlerExecuted(PageHandlerExecutedContext context) { }
}
