using Microsoft.AspNetCore.Components;
using Microsoft.AspNetCore.Components.Web;
using Microsoft.Extensions.Logging.Abstractions;

namespace Nippers.Views.Walks;

/// <summary>Writes parts of a screen as HTML, for a page of the server and for a phone alike.</summary>
public static class ScreenHtml
{
    private static readonly IServiceProvider NoServices = new Nobody();

    /// <summary>A part as HTML.</summary>
    /// <typeparam name="TPart">The part.</typeparam>
    /// <typeparam name="TModel">What it shows.</typeparam>
    public static async Task<string> Of<TPart, TModel>(Screen screen, TModel model)
        where TPart : ScreenPart<TModel>
    {
        await using var renderer = new HtmlRenderer(NoServices, NullLoggerFactory.Instance);
        var given = ParameterView.FromDictionary(
            new Dictionary<string, object?> { [nameof(ScreenPart<TModel>.Model)] = model, [nameof(ScreenPart<TModel>.Screen)] = screen }
        );
        return await renderer.Dispatcher.InvokeAsync(async () => (await renderer.RenderComponentAsync<TPart>(given)).ToHtmlString());
    }

    /// <summary>Parts ask nobody for anything: what they show is given to them.</summary>
    private sealed class Nobody : IServiceProvider
    {
        public object? GetService(Type serviceType) => null;
    }
}
