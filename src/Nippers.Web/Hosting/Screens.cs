using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc.Rendering;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Nippers.Views.Text;
using Nippers.Views.Walks;
using Nippers.Web.Text;

namespace Nippers.Web.Hosting;

/// <summary>Shows on pages the parts that phones show too.</summary>
public static class Screens
{
    /// <summary>A part of the screen.</summary>
    /// <typeparam name="TPart">The part.</typeparam>
    /// <typeparam name="TModel">What it shows.</typeparam>
    public static async Task<IHtmlContent> Shown<TPart, TModel>(this IHtmlHelper html, TModel model)
        where TPart : ScreenPart<TModel>
    {
        var http = html.ViewContext.HttpContext;
        if (http.Items[typeof(ScreenWriter)] is not ScreenWriter writer)
        {
            http.Items[typeof(ScreenWriter)] = writer = new();
            http.Response.RegisterForDisposeAsync(writer);
        }

        return new HtmlString(await writer.Write<TPart, TModel>(Of(http, html.ViewData), model));
    }

    /// <summary>What the parts of a page know.</summary>
    public static Screen Of(HttpContext http, ViewDataDictionary data)
    {
        var token = http.RequestServices.GetRequiredService<IAntiforgery>().GetAndStoreTokens(http);
        var refused = data[Refused.Key] as Refused;
        return new(
            http.RequestServices.GetRequiredService<Words>(),
            http.User.Identity?.IsAuthenticated == true ? http.User.Actor().Name : "",
            http.User.MayWork()
        )
        {
            Refusals = refused?.All ?? [],
            Zone = refused?.Zone,
            Token = (token.FormFieldName, token.RequestToken!),
            Fault = data[nameof(FaultForm)] as FaultForm,
        };
    }
}
