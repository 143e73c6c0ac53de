using Microsoft.AspNetCore.Components;
using Microsoft.AspNetCore.Components.Web;
using Microsoft.Extensions.Logging.Abstractions;

namespace Nippers.Views.Walks;

/// <summary>Writes parts of a screen as HTML, for a page of the server and for a phone alike.</summary>
public static class ScreenHtml
{
    /// <summary>A part as HTML.</summary>
    /// <typeparam name="TPart">The part.</typeparam>
    /// <typeparam name="TModel">What it shows.</typeparam>
    public static async Task<string> Of<TPart, TModel>(Screen screen, TModel model)
        where TPart : ScreenPart<TModel>
    {
        await using var writer = new ScreenWriter();
        return await writer.Write<TPart, TModel>(screen, model);
    }
}

/// <summary>Writes parts of one screen as HTML, one after the other; a page of a hundred parts needs one of it and not a hundred.</summary>
public sealed class ScreenWriter : IAsyncDisposable
{
    private static readonly IServiceProvider NoServices = new Nobody();

    private readonly HtmlRenderer _renderer = new(NoServices, NullLoggerFactory.Instance);

    /// <summary>A part as HTML.</summary>
    /// <typeparam name="TPart">The part.</typeparam>
    /// <typeparam name="TModel">What it shows.</typeparam>
    public Task<string> Write<TPart, TModel>(Screen screen, TModel model)
        where TPart : ScreenPart<TModel>
    {
        var given = ParameterView.FromDictionary(
            new Dictionary<string, object?> { [nameof(ScreenPart<TModel>.Model)] = model, [nameof(ScreenPart<TModel>.Screen)] = screen }
        );
        return _renderer.Dispatcher.InvokeAsync(async () => (await _renderer.RenderComponentAsync<TPart>(given)).ToHtmlString());
    }

    /// <inheritdoc/>
    public ValueTask DisposeAsync() => _renderer.DisposeAsync();

    /// <summary>Parts ask nobody for anything: what they show is given to them.</summary>
    private sealed class Nobody : IServiceProvider
    {
        public object? GetService(Type serviceType) => null;
    }
}
