using System.Text;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Nippers.Web.Text;

namespace Nippers.Web.Hosting;

/// <summary>A form that was refused stands on its page as it was sent: no page has to think of each of its fields.</summary>
internal sealed class RefusedForms : IAsyncResultFilter
{
    public async Task OnResultExecutionAsync(ResultExecutingContext context, ResultExecutionDelegate next)
    {
        var (request, answer) = (context.HttpContext.Request, context.HttpContext.Response);
        if (
            context.Result is not PageResult
            || answer.StatusCode != StatusCodes.Status422UnprocessableEntity
            || !HttpMethods.IsPost(request.Method)
            || !request.HasFormContentType
        )
        {
            await next();
            return;
        }

        var to = answer.Body;
        using var held = new MemoryStream();
        answer.Body = held;
        try
        {
            await next();
        }
        finally
        {
            answer.Body = to;
        }

        var html = Encoding.UTF8.GetString(held.GetBuffer(), 0, (int)held.Length);
        var form = await request.ReadFormAsync(context.HttpContext.RequestAborted);
        var filled = SentForm.Refill(html, request.PathBase + request.Path + request.QueryString, form);
        await answer.Body.WriteAsync(Encoding.UTF8.GetBytes(filled), context.HttpContext.RequestAborted);
    }
}
